"""The tables that are handed over: one a kind of result, with values as they are and as people read them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

from vantric.core.numbers.shown import distinct_lines, headed, number_texts, one_line, percent_text
from vantric.reports.local import Fixed
from vantric.reports.table import NOTHING, Column, Kind, Table, kind_of

if TYPE_CHECKING:
    from vantric.core.charting import Chart
    from vantric.core.counting import Comparison
    from vantric.reports.documents import Document


def series_grid(chart: Chart, subject: str = "") -> Table:
    """Return the series of a chart: a row a category, a column a series."""
    labels = distinct_lines(chart.categories)
    columns = [Column(headed(subject) or one_line(chart.category_title) or Fixed("Category"), labels, labels, "text")]
    heads = distinct_lines([f"{one.name} ({one.unit})" if one.unit and one.unit != one.name else one.name
                            for one in chart.series])  # fmt: skip
    for name, one in zip(heads, chart.series, strict=True):
        style = one.style or (chart.secondary_style if one.secondary else chart.style)
        values = [_known(value) for value in one.values]
        there = [_whole(value) for value in values if value is not None]
        texts = iter(number_texts(there, most_decimals=4))
        columns.append(Column(name, [None if value is None else _whole(value) for value in values],
                              [NOTHING if value is None else style.signed(next(texts)) for value in values],
                              kind_of(there), prefix=style.prefix, suffix=style.suffix))  # fmt: skip
    return Table(tuple(columns), keyed=0, labels=tuple(chart.categories))


def comparison_grid(found: Comparison) -> Table:
    """Return a comparison: the cells as they are shown over the exact values."""
    from vantric.reports.comparisondata import comparison_cells, comparison_rows

    cells = comparison_cells(found)
    head, rows = comparison_rows(found)
    exact = {name: [row[at] for row in rows] for at, name in enumerate(head)}
    named = ["category", "before", "after", "change", "before_percent", "after_percent", "percent_points", "", "share"]
    columns, total = [], cells.total or ("",) * len(cells.head)
    for at, name in enumerate(cells.head):
        texts = [row[at] for row in cells.rows]
        values = exact.get(named[at] if at < len(named) else "", texts)
        percent = at in (4, 5, 8)
        kind: Kind = "text" if at == 0 else "percent" if percent else kind_of(values)
        columns.append(Column(name, values, texts, kind, total=total[at]))
    return Table(tuple(columns), keyed=0, labels=tuple(distinct_lines(found.categories)))


def document_grid(document: Document) -> Table:
    """Return any other result as it is read; what is shown as a number is one."""
    if document.cells is None:
        return _plain_grid(document)
    cells = document.cells()
    columns, total = [], cells.total or ("",) * len(cells.head)
    for at, name in enumerate(cells.head):
        texts = [row[at] for row in cells.rows]
        numbers = [shown_number(text) for text in texts]
        unread = [text for one, text in zip(numbers, texts, strict=True) if one is None and text not in ("", NOTHING)]
        if at in cells.left or unread:
            columns.append(Column(name, texts, texts, "text", total=total[at]))
            continue
        percent = any(text.endswith(" %") for text in texts)
        kind: Kind = "percent" if percent else kind_of(numbers)
        columns.append(Column(name, numbers, texts, kind, total=total[at]))
    return Table(tuple(columns), keyed=0, labels=tuple(row[0] for row in cells.rows))


def _plain_grid(document: Document) -> Table:
    assert document.rows is not None
    head, rows = document.rows()
    columns = []
    for at, name in enumerate(head):
        values = [row[at] for row in rows]
        kind: Kind = "percent" if name in document.percents else kind_of(values)
        columns.append(Column(headed(name), values, _texts(values, kind), kind))
    return Table(tuple(columns), keyed=0, labels=tuple(str(row[0]) for row in rows))


def shown_number(text: str) -> Any:
    """Return the number that a shown text is; None if it is none."""
    plain = text.removesuffix(" %").replace(",", "").replace("−", "-")
    try:
        value = float(plain)
    except ValueError:
        return None
    return int(value) if plain.lstrip("+-").isdigit() else value


def _texts(values: Sequence[Any], kind: Kind) -> list[str]:
    if kind == "percent":
        return [NOTHING if one is None else percent_text(one) for one in values]
    if kind == "text":
        return ["" if one is None else one_line(str(one)) for one in values]
    shown = iter(number_texts([one for one in values if one is not None]))
    return [NOTHING if one is None else next(shown) for one in values]


def _whole(value: float) -> Any:
    return int(value) if float(value).is_integer() and abs(value) < 2**53 else value


def _known(value: Any) -> Any:
    """Return a value, None for what is not a number."""
    return None if isinstance(value, float) and value != value else value
