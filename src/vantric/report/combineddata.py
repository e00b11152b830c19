"""What a combination chart is drawn of, as data, as cells and as the content of a file."""

from __future__ import annotations

import textwrap
from typing import Any

from vantric.core.charting import Chart
from vantric.core.counting import Measures
from vantric.core.numbers.shown import counted, distinct_lines, number_texts, one_line
from vantric.core.reviewing import Finding
from vantric.report.cells import Cells
from vantric.report.grid import grid_lines
from vantric.report.markdown import markdown_cell, markdown_table
from vantric.report.paretodata import whole
from vantric.report.safecells import csv_text
from vantric.report.tallydata import as_json


def combined_object(found: Measures, chart: Chart, findings: list[Finding]) -> dict[str, Any]:
    """Return the JSON object of measures and of how they are drawn; a missing value is null."""
    drawn = {one.name: one for one in chart.series}
    series = []
    for name, values in zip(found.names, found.values, strict=True):
        one = drawn.get(name)
        said = {"kind": one.kind, "axis": one.axis, "unit": one.unit or None} if one else {}
        series.append({"name": name, **said, "values": [None if value is None else whole(value) for value in values]})
    scales = chart.scales
    return {
        "format": "vantric/combination",
        "version": 1,
        "source": found.origin.source,
        "where": found.origin.where,
        "x": found.by,
        "period": found.period,
        "input_rows": found.origin.input_rows,
        "missing": found.missing,
        "policy": scales.policy,
        "coverage": list(scales.coverage),
        "categories": list(found.categories),
        "series": series,
        "findings": [finding.to_dict() for finding in findings],
    }


def combined_rows(found: Measures) -> tuple[list[str], list[list[Any]]]:
    """Return head and rows as plain values: a row a category, a column a series."""
    columns = [[None if value is None else whole(value) for value in values] for values in found.values]
    rows = [[label, *values] for label, *values in zip(found.categories, *columns, strict=True)]
    return [found.by, *found.names], rows


def combined_cells(found: Measures, chart: Chart) -> Cells:
    """Return the cells as people read them, the units in the head; a dash where nothing is known."""
    units = {one.name: one.unit for one in chart.series}
    columns = []
    for values in found.values:
        texts = iter(number_texts([value for value in values if value is not None], most_decimals=4))
        columns.append(["–" if value is None else next(texts) for value in values])
    names = distinct_lines(found.categories)
    titled = [f"{name} ({units[name]})" if units.get(name) else name for name in found.names]
    head = (one_line(found.by), *distinct_lines(titled))
    return Cells(head, tuple(zip(names, *columns, strict=True)), (), frozenset({0}))


def combined_notes(found: Measures) -> list[str]:
    """Return the base and where it comes from."""
    base = counted(found.origin.input_rows - found.missing, "record")
    if found.missing:
        base += f", {counted(found.missing, 'record')} without {found.origin.without_words()} left out"
    return [note for note in (base, found.origin.note()) if note]


def combined_view(found: Measures, chart: Chart, *, width: int) -> list[str]:
    """Return the measures as lines for a terminal."""
    cells = combined_cells(found, chart)
    told = [line for note in combined_notes(found) for line in textwrap.wrap(note, width, subsequent_indent="  ")]
    said = textwrap.wrap(chart.description[:1].upper() + chart.description[1:], width)
    return [one_line(chart.title), *told, "", *grid_lines(cells.head, cells.rows, width=width), "", *said]


def combined_file(found: Measures, chart: Chart, kind: str, findings: list[Finding]) -> bytes:
    """Return the measures as a ``csv``, ``json``, ``xlsx``, ``md`` or ``html`` file."""
    if kind == "json":
        return as_json(combined_object(found, chart, findings)).encode()
    if kind == "csv":
        return csv_text(*combined_rows(found)).encode("utf-8", "backslashreplace")
    notes, title = combined_notes(found), one_line(chart.title) or f"By {one_line(found.by)}"
    if kind == "xlsx":
        from vantric.report.workbook import Sheet, workbook

        return workbook([Sheet(f"By {one_line(found.by)}", *combined_rows(found), frozenset())], [title, *notes])
    cells = combined_cells(found, chart)
    if kind == "md":
        text = markdown_table(cells.head, cells.rows, left=cells.left)
        return (text + "".join(f"\n{markdown_cell(note)}\n" for note in notes)).encode("utf-8", "backslashreplace")
    from vantric.cleaning import escaped
    from vantric.report.paretohtml import page, table_html

    told = "".join(f'<p class="note">{escaped(note)}</p>' for note in notes[1:])
    table = table_html(cells, caption=notes[0])
    return page(title, [f"<h1>{escaped(title)}</h1>", table, told]).encode()
