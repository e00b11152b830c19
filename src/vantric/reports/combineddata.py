"""What a combination chart is drawn of, as data, as cells and as the content of a file."""

from __future__ import annotations

import textwrap
from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from vantric.core.charting import Chart
from vantric.core.charting.wording import PLAIN_WORDING
from vantric.core.counting import Measures
from vantric.core.numbers.shown import counted, distinct_lines, number_texts, one_line, percent_text
from vantric.core.reviewing import Finding
from vantric.reports.cells import Cells
from vantric.reports.documents import Document
from vantric.reports.grid import grid_lines
from vantric.reports.local import PLAIN, Local
from vantric.reports.table import Column, Table, whole
from vantric.reports.scalesdata import scale_object


def combined_object(
    found: Measures, chart: Chart | None, findings: Sequence[Finding], relations: Sequence[str] = ()
) -> dict[str, Any]:
    """Return the JSON object of measures and of how they are drawn; a missing value is null."""
    drawn = {one.name: one for one in chart.series} if chart else {}
    shares = dict(_percents(found, chart))
    series = []
    for name, values, unit in zip(found.names, found.values, units_of(found), strict=True):
        one = drawn.get(name)
        said = {"kind": one.kind, "axis": one.axis, "unit": unit or None} if one else {}
        plain = {"values": [None if value is None else whole(value) for value in values]}
        percents = {"percents": [None if value != value else value for value in shares[name]]} if name in shares else {}
        series.append({"name": name, **said, **plain, **percents})
    axes = _axes_object(chart) if chart else {}
    return {
        "format": "vantric/combination",
        "version": 1,
        "source": found.origin.source,
        "where": found.origin.where,
        "x": found.by,
        "period": found.period,
        "input_rows": found.origin.input_rows,
        "missing": found.missing,
        **axes,
        **({"sentence": found.about} if found.about else {}),
        "categories": list(found.categories),
        "series": series,
        **({"relations": list(relations)} if relations else {}),
        "findings": [finding.to_dict() for finding in findings],
    }


def _axes_object(chart: Chart) -> dict[str, Any]:
    """Return how the axes are aligned, and the scale of each as it is drawn; the secondary is null if there is none."""
    pair, two = chart.scales, chart.secondary_axis
    secondary = scale_object(pair.secondary) if two else None
    return {
        "policy": pair.policy,
        "coverage": list(pair.coverage),
        "primary": scale_object(pair.primary),
        "secondary": secondary,
    }


def units_of(found: Measures) -> tuple[str, ...]:
    """Return what each measure is in; empty where nothing says it."""
    return found.units or ("",) * len(found.names)


def _percents(found: Measures, chart: Chart | None) -> list[tuple[str, Sequence[float]]]:
    """Return the measures that are drawn in percent of a base, with these percents."""
    units = dict(zip(found.names, units_of(found), strict=True))
    series = chart.series if chart else ()
    return [(one.name, one.values) for one in series if one.unit == "%" and units.get(one.name, "%") != "%"]


def combined_rows(found: Measures) -> tuple[list[str], list[list[Any]]]:
    """Return head and rows as plain values: a row a category, a column a series."""
    columns = [[None if value is None else whole(value) for value in values] for values in found.values]
    rows = [[label, *values] for label, *values in zip(found.categories, *columns, strict=True)]
    return [found.by, *found.names], rows


def combined_cells(found: Measures, chart: Chart | None) -> Cells:
    """Return the cells as people read them, the units in the head; a dash where nothing is known.

    Behind measures that are drawn in percent are these percents.
    """
    columns, titled = [], []
    for name, values, unit in zip(found.names, found.values, units_of(found), strict=True):
        texts = iter(number_texts([value for value in values if value is not None], most_decimals=4))
        columns.append(["–" if value is None else next(texts) for value in values])
        titled.append(PLAIN_WORDING.titled(name, unit))
    for name, shares in _percents(found, chart):
        columns.append([percent_text(value).removesuffix(" %") if value == value else "–" for value in shares])
        titled.append(f"{name} (%)")
    names = distinct_lines(found.categories)
    head = (one_line(found.by), *distinct_lines(titled))
    return Cells(head, tuple(zip(names, *columns, strict=True)), (), frozenset({0}))


def combined_notes(found: Measures) -> list[str]:
    """Return the base and where it comes from."""
    base = counted(found.origin.input_rows - found.missing, "record")
    if found.missing:
        base += f", {counted(found.missing, 'record')} without {found.origin.without_words()} left out"
    return [note for note in (base, found.origin.note()) if note]


def combined_view(
    found: Measures, chart: Chart, relations: Sequence[str] = (), *, width: int, local: Local = PLAIN
) -> list[str]:
    """Return the measures as lines for a terminal."""
    cells = combined_cells(found, chart).localized(local)
    stated = [line for note in combined_notes(found) for line in textwrap.wrap(note, width, subsequent_indent="  ")]
    said = textwrap.wrap(chart.description[:1].upper() + chart.description[1:], width)
    said += [line for one in relations for line in ("", *textwrap.wrap(one, width))]
    return [one_line(chart.title), *stated, "", *grid_lines(cells.head, cells.rows, width=width), "", *said]


def combined_document(
    found: Measures, chart: Chart | None, findings: Sequence[Finding], relations: Sequence[str] = ()
) -> Document:
    """Return the measures as a document; `chart` is how they are drawn, if they are."""
    title = (one_line(chart.title) if chart else "") or f"By {one_line(found.by)}"
    notes = combined_notes(found)
    return Document(
        title=title, rows=lambda: combined_rows(found),
        data=lambda: combined_object(found, chart, findings, relations), cells=lambda: combined_cells(found, chart),
        caption=notes[0], notes=(*notes[1:], *relations),
        tables=lambda local: [_table(found, chart, (*notes, *relations)).in_language(local)],
    )  # fmt: skip


def _table(found: Measures, chart: Chart | None, notes: tuple[str, ...]) -> Table:
    head, rows = combined_rows(found)
    data = (Column("", [row[at] for row in rows], key=name) for at, name in enumerate(head))
    return replace(combined_cells(found, chart).table(), data=tuple(data), notes=notes)
