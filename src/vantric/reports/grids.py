"""The tables that are handed over: one a kind of result, with values as they are and as people read them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

from vantric.core.numbers.shown import distinct_lines, headed, number_texts, one_line, percent_text
from vantric.reports.cells import pareto_cells, row_names
from vantric.reports.local import Fixed
from vantric.reports.sections import Column, Grid, Kind

if TYPE_CHECKING:
    from vantric.core.charting import Chart
    from vantric.core.counting import Comparison, Crosstab, ParetoTable, Tally
    from vantric.core.inference import Certainty
    from vantric.reports.documents import Document

_NOTHING = "–"


def pareto_grids(table: ParetoTable, sure: Certainty | None = None) -> tuple[Grid, ...]:
    """Return the table with its intervals, if they are known, and the tables of a drill-down."""
    found = [pareto_grid(table, sure)]
    for name, inner in table.within:
        for grid in pareto_grids(inner):
            title = grid.title or f"{one_line(name)}: {one_line(inner.origin.by or '')}"
            found.append(Grid(**{**vars(grid), "title": title}))
    return tuple(found)


def pareto_grid(table: ParetoTable, sure: Certainty | None = None) -> Grid:
    """Return a Pareto table; the vital few are its strong rows, the rest is last."""
    cells = pareto_cells(table)
    values = _pareto_values(table)
    columns = [
        Column(name, values[at], [row[at] for row in cells.rows], _pareto_kind(name, values[at]))
        for at, name in enumerate(cells.head)
    ]
    total = list(cells.total)
    if sure is not None:
        columns += _interval_columns(table, sure)
        total += [""] * (len(columns) - len(total))
    inside = table.cutoff.count if table.cutoff else 0
    return Grid(
        tuple(columns), tuple(total), keyed=1, labels=tuple(distinct_lines(table.categories)),
        strong=min(inside, len(table)), last=bool(table.rest) + table.pinned,
    )  # fmt: skip


def _pareto_values(table: ParetoTable) -> list[Sequence[Any]]:
    """Return the values of the columns of `pareto_cells`, in their order."""
    rows = table.rows
    found: list[Sequence[Any]] = [[row.rank for row in rows], row_names(table), table.frequency.values()]
    if table.tally.counts is not None:
        found.append(table.counts.values())
    if table.strata is not None:
        parts = table.strata_rows()
        found += [[part[at] for part in parts] for at in range(len(table.strata.columns))]
    classes = [row.abc for row in rows]
    return [*found, table.percents.tolist(), table.cumulative.values(), table.cumulative_percents.tolist(), classes]


def _pareto_kind(name: str, values: Sequence[Any]) -> Kind:
    if name in ("Percent", "Cumulative percent"):
        return "percent"
    return "text" if name in ("Category", "Class") else kind_of(values)


def _interval_columns(table: ParetoTable, sure: Certainty) -> list[Column]:
    """Return the limits of each share, or rate, as two columns that a page shows with the intervals."""
    known = {row.category: (row.low, row.high) for row in sure.rows}
    if table.rest is not None and sure.rest is not None:
        known[table.rest.label] = sure.rest
    rates = sure.measure == "rate"
    found = []
    for at, name in enumerate(("Low", "High")):
        values = [known[label][at] if label in known else None for label in table.categories]
        shown = iter(number_texts([one for one in values if one is not None], most_decimals=4) if rates else ())
        texts = [_NOTHING if one is None else next(shown) if rates else percent_text(one) for one in values]
        found.append(Column(Fixed(f"{name}, {100 * sure.level:g} %"), values, texts, "number" if rates else "percent",
                            view="intervals"))  # fmt: skip
    return found


def tally_grid(tally: Tally, of: str | None = None) -> Grid:
    """Return a tally."""
    from vantric.reports.tallydata import tally_cells, tally_rows

    head, rows = tally_cells(tally, of)
    _, plain = tally_rows(tally, of)
    body, total = rows[:-1], rows[-1]
    columns = [
        Column(name, [row[at] for row in plain], [row[at] for row in body],
               "text" if not at else "percent" if name.startswith("Percent") else kind_of([row[at] for row in plain]))
        for at, name in enumerate(head)
    ]  # fmt: skip
    labels = [tally.categories[at] for at in tally.places()]
    return Grid(tuple(columns), tuple(total), keyed=0, labels=tuple(distinct_lines(labels)))


def crosstab_grid(table: Crosstab, of: Any = None) -> Grid:
    """Return a two-way table, as frequencies or as percents of a base, with its margins."""
    from vantric.reports.tallydata import crosstab_cells

    head, rows = crosstab_cells(table, of)
    body, total = rows[:-1], rows[-1]
    inner = table.frequencies() if of is None else table.percents(of).tolist()
    names = distinct_lines(table.categories)
    values: list[Sequence[Any]] = [names]
    values += [[_known(row[at]) for row in inner] for at in range(len(table.columns))]
    values.append(table.row_totals.values())
    kinds: list[Kind] = ["text", *(["percent"] * len(table.columns) if of else map(kind_of, values[1:-1])),
                         kind_of(values[-1])]  # fmt: skip
    columns = [
        Column(name, values[at], [row[at] for row in body], kinds[at]) for at, name in enumerate(head)
    ]  # fmt: skip
    return Grid(tuple(columns), tuple(total), keyed=0, labels=tuple(names))


def series_grid(chart: Chart, subject: str = "") -> Grid:
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
                              [_NOTHING if value is None else style.signed(next(texts)) for value in values],
                              kind_of(there), prefix=style.prefix, suffix=style.suffix))  # fmt: skip
    return Grid(tuple(columns), keyed=0, labels=tuple(chart.categories))


def comparison_grid(found: Comparison) -> Grid:
    """Return a comparison: the cells as they are shown over the exact values."""
    from vantric.reports.comparisondata import comparison_cells, comparison_rows

    cells = comparison_cells(found)
    head, rows = comparison_rows(found)
    exact = {name: [row[at] for row in rows] for at, name in enumerate(head)}
    named = ["category", "before", "after", "change", "before_percent", "after_percent", "percent_points", "", "share"]
    columns = []
    for at, name in enumerate(cells.head):
        texts = [row[at] for row in cells.rows]
        values = exact.get(named[at] if at < len(named) else "", texts)
        percent = at in (4, 5, 8)
        columns.append(Column(name, values, texts, "text" if at == 0 else "percent" if percent else kind_of(values)))
    return Grid(tuple(columns), cells.total, keyed=0, labels=tuple(distinct_lines(found.categories)))


def document_grid(document: Document) -> Grid:
    """Return any other result as it is read; what is shown as a number is one."""
    if document.cells is None:
        return _plain_grid(document)
    cells = document.cells()
    columns = []
    for at, name in enumerate(cells.head):
        texts = [row[at] for row in cells.rows]
        numbers = [shown_number(text) for text in texts]
        unread = [text for one, text in zip(numbers, texts, strict=True) if one is None and text not in ("", _NOTHING)]
        if at in cells.left or unread:
            columns.append(Column(name, texts, texts, "text"))
            continue
        percent = any(text.endswith(" %") for text in texts)
        columns.append(Column(name, numbers, texts, "percent" if percent else kind_of(numbers)))
    return Grid(tuple(columns), cells.total, keyed=0, labels=tuple(row[0] for row in cells.rows))


def _plain_grid(document: Document) -> Grid:
    head, rows = document.rows()
    columns = []
    for at, name in enumerate(head):
        values = [row[at] for row in rows]
        kind: Kind = "percent" if name in document.percents else kind_of(values)
        columns.append(Column(headed(name), values, _texts(values, kind), kind))
    return Grid(tuple(columns), keyed=0, labels=tuple(str(row[0]) for row in rows))


def shown_number(text: str) -> Any:
    """Return the number that a shown text is; None if it is none."""
    plain = text.removesuffix(" %").replace(",", "").replace("−", "-")
    try:
        value = float(plain)
    except ValueError:
        return None
    return int(value) if plain.lstrip("+-").isdigit() else value


def kind_of(values: Sequence[Any]) -> Kind:
    """Return what plain values are: text, whole numbers, or numbers."""
    there = [one for one in values if one is not None]
    if any(isinstance(one, (str, bool)) for one in there):
        return "text"
    return "whole" if all(isinstance(one, int) for one in there) else "number"


def _texts(values: Sequence[Any], kind: Kind) -> list[str]:
    if kind == "percent":
        return [_NOTHING if one is None else percent_text(one) for one in values]
    if kind == "text":
        return ["" if one is None else one_line(str(one)) for one in values]
    shown = iter(number_texts([one for one in values if one is not None]))
    return [_NOTHING if one is None else next(shown) for one in values]


def _whole(value: float) -> Any:
    return int(value) if float(value).is_integer() and abs(value) < 2**53 else value


def _known(value: Any) -> Any:
    """Return a value, None for what is not a number."""
    return None if isinstance(value, float) and value != value else value
