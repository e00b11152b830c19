"""What a combination chart is drawn of, as data, as cells and as the content of a file."""

from __future__ import annotations

import textwrap
from collections.abc import Sequence
from dataclasses import replace
from functools import partial
from typing import Any

from vantric.core.charts import Chart
from vantric.core.charts.wording import PLAIN_WORDING
from vantric.core.counts import Measures
from vantric.core.numbers.number_format import counted, distinct_lines, headed, one_line
from vantric.core.review import Finding
from vantric.tables.grid_part import grid_lines
from vantric.tables.localize import PLAIN, Fixed, Local
from vantric.tables.scalesdata_part import scale_object
from vantric.tables.table import Column, Table, kind_of, numbers, percents, whole


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


def combined_table(found: Measures, chart: Chart | None, relations: Sequence[str] = ()) -> Table:
    """Return measures, the units in the head; behind those that are drawn in percent are these percents."""
    names = distinct_lines(found.categories)
    columns, titled = [], []
    for name, values, unit in zip(found.names, found.values, units_of(found), strict=True):
        columns.append(Column("", values, partial(numbers, most_decimals=4)))
        titled.append(PLAIN_WORDING.titled(name, unit))
    for name, shares in _percents(found, chart):
        columns.append(Column("", [None if value != value else value for value in shares], _bare_percents))
        titled.append(f"{name} (%)")
    labels = Column(one_line(found.by), names, names, "text")
    shown = (replace(one, label=title) for one, title in zip(columns, distinct_lines(titled), strict=True))
    data = [Column("", values, key=name) for name, values in zip(found.names, found.values, strict=True)]
    notes = combined_notes(found)
    return Table(
        (labels, *shown),
        (Column("", found.categories, key=found.by), *data),
        keyed=0,
        labels=tuple(names),
        caption=notes[0],
        notes=(*notes, *relations),
    )


def _bare_percents(values: Sequence[Any]) -> list[str]:
    return [text.removesuffix(" %") for text in percents(values)]


def series_table(chart: Chart, subject: str = "") -> Table:
    """Return the series of a chart: a row a category, a column a series."""
    labels = distinct_lines(chart.categories)
    columns = [Column(headed(subject) or one_line(chart.category_title) or Fixed("Category"), labels, labels, "text")]
    heads = distinct_lines(
        [f"{one.name} ({one.unit})" if one.unit and one.unit != one.name else one.name for one in chart.series]
    )
    for name, one in zip(heads, chart.series, strict=True):
        style = one.style or (chart.secondary_style if one.secondary else chart.style)
        values = [None if value != value else whole(value) if abs(value) < 2**53 else value for value in one.values]
        texts = numbers(values, most_decimals=4)
        if chart.language == "en":  # another language writes them in its own way
            texts = [text if value is None else style.signed(text) for value, text in zip(values, texts, strict=True)]
        kind = kind_of([value for value in values if value is not None])
        columns.append(Column(name, values, texts, kind, prefix=style.prefix, suffix=style.suffix))
    return Table(tuple(columns), keyed=0, labels=tuple(chart.categories))


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
    shown = combined_table(found, chart).in_language(local)
    stated = [line for note in combined_notes(found) for line in textwrap.wrap(note, width, subsequent_indent="  ")]
    said = textwrap.wrap(chart.description[:1].upper() + chart.description[1:], width)
    said += [line for one in relations for line in ("", *textwrap.wrap(one, width))]
    return [one_line(chart.title), *stated, "", *grid_lines(shown.heads(), shown.shown_rows(), width=width), "", *said]
