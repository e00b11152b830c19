"""What a combination chart is drawn of, and a pair of scales: as data, tables, sentences and lines."""

from __future__ import annotations

import textwrap
from collections.abc import Sequence
from dataclasses import replace
from functools import partial
from typing import Any

from vantric.core.axes import Scale, ScalePair
from vantric.core.charts import Chart
from vantric.core.charts.references import Reference
from vantric.core.charts.series import Series
from vantric.core.composition.series_labels import value_texts
from vantric.core.counts import Measures
from vantric.core.messages.formatter import PLAIN, Formatter
from vantric.core.messages.message import Day, Joined, Message, Percent, Range, Shown, Written, interval
from vantric.core.numbers.number_format import CLOCK_UNITS, digits_text, distinct_lines, headed, number_texts, one_line
from vantric.core.review import Finding, review_scales
from vantric.tables.table import (
    Column,
    Table,
    amounts_in,
    as_integer,
    grid_lines,
    kind_of,
    numbers,
    percents,
    text_table,
    wrapped,
)

_LONGEST = 40  # characters of a category in a sentence
_MOST = 12  # series that are described


def chart_sentence(chart: Chart) -> Joined:
    """Return each series with its kind, its axis, and its lowest and highest value with their categories."""
    first, last = (one_line(chart.categories[place], longest=_LONGEST) for place in (0, -1))
    categories = Message("categories", count=len(chart.categories))
    span = (
        Message("from to", first=Day(first), last=Day(last)) if chart.period else Message("in", categories=categories)
    )
    sentences = [sentence for series in chart.series[:_MOST] for sentence in _series(chart, series)]
    if len(chart.series) > _MOST:
        sentences.append(Message("more series", count=len(chart.series) - _MOST))
    return Joined([*sentences, *(_reference(chart, reference) for reference in chart.references), span])


def _series(chart: Chart, series: Series) -> list[Message]:
    style = series.style or (chart.secondary_style if series.secondary else chart.style)
    texts = value_texts(series.values, style, percent=series.unit == "%")
    there = [place for place, value in enumerate(series.values) if value == value]
    named: dict[str, Any] = {"kind": Message(f"kind {series.kind}"), "name": one_line(series.name, longest=60)}
    name = Message(f"series, {series.axis or 'primary'}" if chart.secondary_axis else "series named", **named)
    if not there:
        return [Message("no values", series=name)]
    low, high = (end(there, key=lambda place: series.values[place]) for end in (min, max))
    unit = CLOCK_UNITS.get(series.unit, one_line(series.unit))
    unit = f" {unit}" if unit and unit != "%" else ""
    gaps = len(series.values) - len(there)
    missing = [Message("values missing", count=gaps)] if gaps else []
    if series.values[low] == series.values[high]:
        return [Message("one value", series=name, value=f"{texts[low]}{unit}"), *missing]
    ends = {"low": f"{texts[low]}{unit}", "high": f"{texts[high]}{unit}"}
    places = (Day(one_line(chart.categories[index], longest=_LONGEST)) for index in (low, high))
    return [
        Message("lowest to highest", series=name, **ends, **dict(zip(("first", "last"), places, strict=True))),
        *missing,
    ]


def _reference(chart: Chart, reference: Reference) -> Message:
    style = chart.secondary_style if reference.axis == "secondary" else chart.style
    values = [style.amount(int(end) if end == int(end) else end) for end in dict.fromkeys(reference.ends)]
    name = one_line(reference.text) or Message("a line" if reference.upto is None else "a band")
    return Message("reference", name=name, value=values[0] if len(values) == 1 else Shown(Range(*values)))


def scales_object(pair: ScalePair) -> dict[str, Any]:
    """Return the JSON object of the contract, and the map between two linear sides."""
    stated = {
        "format": "vantric/scales",
        "version": 1,
        "policy": pair.policy,
        "primary": scale_object(pair.primary),
        "secondary": scale_object(pair.secondary),
        "coverage": list(pair.coverage),
        "shared_ticks": pair.shared_ticks,
        "findings": [finding.to_dict() for finding in review_scales(pair)],
    }
    if {pair.primary.kind, pair.secondary.kind} == {"linear"}:
        stated["map"] = dict(zip(("primary_per_secondary", "primary_at_zero"), _map(pair), strict=True))
    return stated


def scale_object(scale: Scale) -> dict[str, Any]:
    """Return one scale: its limits, its step and its ticks."""
    return {
        "lower": as_integer(scale.lower),
        "upper": as_integer(scale.upper),
        "step": as_integer(scale.step),
        "kind": scale.kind,
        "ticks": [as_integer(tick) for tick in scale.ticks],
    }


def _map(pair: ScalePair) -> tuple[float, float]:
    """Return what one unit of the secondary is in the primary, and what the primary reads at its zero."""
    scale, other = pair.primary, pair.secondary
    per = (scale.upper - scale.lower) / (other.upper - other.lower)
    return per, scale.lower - per * other.lower


def scales_lines(pair: ScalePair) -> list[str]:
    """Return a pair of scales as lines for a terminal: limits, ticks, coverage, and the map between the sides."""
    lines: list[str] = [Message("scales", policy=pair.policy), ""]
    sides = ((Message("primary"), pair.primary), (Message("secondary"), pair.secondary))
    for (name, scale), covered in zip(sides, pair.coverage, strict=True):
        ticks = number_texts([as_integer(tick) for tick in scale.ticks], most_decimals=9)
        text = Message("limits and data", limits=_limits(scale), share=Percent(100 * covered))
        lines += [f"{name:9}  {text}", f"{'':9}  {Message('ticks are', ticks='  '.join(ticks))}"]
    return [*lines, "", *scales_words(pair)]


def scales_words(pair: ScalePair) -> list[str]:
    """Return what the two scales promise, in words."""
    lines: list[str] = [_grid_words(pair)]
    if {pair.primary.kind, pair.secondary.kind} == {"linear"}:
        per, zero = (Written(digits_text(value + 0.0)) for value in _map(pair))
        lines.append(Message("map of scales", per=per, zero=zero))
    return lines


def scales_table(pair: ScalePair) -> Table:
    """Return the two sides as people read them: limits, step and ticks; as data a row a tick."""
    sides = (("primary", pair.primary), ("secondary", pair.secondary))
    rows = [
        (
            Message(name),
            _limits(scale),
            scale.kind,
            "  ".join(number_texts([as_integer(tick) for tick in scale.ticks], most_decimals=9)),
        )
        for name, scale in sides
    ]
    ticks = [(name, tick, float(scale.fraction(tick))) for name, scale in sides for tick in scale.ticks]
    side, tick, height = zip(*ticks, strict=True) if ticks else ((), (), ())
    data = (Column("", side, key="side"), Column("", tick, key="tick"), Column("", height, key="height", as_is=True))
    heads = tuple(map(Message, ("axis", "axis limits", "axis kind", "ticks")))
    table = text_table(heads, rows, left=(0, 2, 3), caption=Message("scales", policy=pair.policy))
    return replace(table, data=data, notes=tuple(scales_words(pair)))


def _grid_words(pair: ScalePair) -> Message:
    if pair.policy == "common":
        return Message("one scale")
    return Message("grids meet" if pair.shared_ticks else "grids do not meet")


def _limits(scale: Scale) -> Message:
    ends = interval(digits_text(scale.lower), digits_text(scale.upper))
    return Message("log limits" if scale.kind == "log" else "linear limits", limits=ends)


def combined_object(
    measures: Measures, chart: Chart | None, findings: Sequence[Finding], relations: Sequence[str] = ()
) -> dict[str, Any]:
    """Return the JSON object of measures and of how they are drawn; a missing value is null."""
    drawn = {entry.name: entry for entry in chart.series} if chart else {}
    shares = dict(_percents(measures, chart))
    series = []
    for name, values, unit in zip(measures.names, measures.values, units_of(measures), strict=True):
        item = drawn.get(name)
        drawn_as = {"kind": item.kind, "axis": item.axis, "unit": unit or None} if item else {}
        plain = {"values": [None if value is None else as_integer(value) for value in values]}
        percents = {"percents": [None if value != value else value for value in shares[name]]} if name in shares else {}
        series.append({"name": name, **drawn_as, **plain, **percents})
    axes = _axes_object(chart) if chart else {}
    return {
        "format": "vantric/combination",
        "version": 1,
        "source": measures.origin.source,
        "where": measures.origin.where,
        "x": measures.by,
        "period": measures.period,
        "input_rows": measures.origin.input_rows,
        "missing": measures.missing,
        **axes,
        **({"sentence": measures.about} if measures.about else {}),
        "categories": list(measures.categories),
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


def units_of(measures: Measures) -> tuple[str, ...]:
    """Return what each measure is in; empty where nothing says it."""
    return measures.units or ("",) * len(measures.names)


def _percents(measures: Measures, chart: Chart | None) -> list[tuple[str, Sequence[float]]]:
    """Return the measures that are drawn in percent of a base, with these percents."""
    units = dict(zip(measures.names, units_of(measures), strict=True))
    series = chart.series if chart else ()
    return [(item.name, item.values) for item in series if item.unit == "%" and units.get(item.name, "%") != "%"]


def combined_table(measures: Measures, chart: Chart | None, relations: Sequence[str] = ()) -> Table:
    """Return measures, the units in the head; behind those that are drawn in percent are these percents."""
    names = distinct_lines(measures.categories)
    columns, titled = [], []
    for name, values, unit in zip(measures.names, measures.values, units_of(measures), strict=True):
        columns.append(Column("", values, amounts_in(unit) or partial(numbers, most_decimals=4)))
        titled.append(PLAIN.titled(name, unit))
    for name, shares in _percents(measures, chart):
        columns.append(Column("", [None if value != value else value for value in shares], _bare_percents))
        titled.append(f"{name} (%)")
    labels = Column(one_line(measures.by), names, names, "text")
    titled_columns = (
        replace(column, label=title) for column, title in zip(columns, distinct_lines(titled), strict=True)
    )
    data = [Column("", values, key=name) for name, values in zip(measures.names, measures.values, strict=True)]
    notes = combined_notes(measures)
    return Table(
        (labels, *titled_columns),
        (Column("", measures.categories, key=measures.by), *data),
        keyed=0,
        labels=tuple(names),
        caption=notes[0],
        notes=(*notes, *relations),
    )


def _bare_percents(values: Sequence[Any]) -> list[str]:
    return [text.removesuffix("%") for text in percents(values)]


def series_table(chart: Chart, subject: str = "") -> Table:
    """Return the series of a chart: a row a category, a column a series."""
    labels = distinct_lines(chart.categories)
    columns = [Column(headed(subject) or one_line(chart.category_title) or Message("category"), labels, labels, "text")]
    heads = distinct_lines(
        [f"{item.name} ({item.unit})" if item.unit and item.unit != item.name else item.name for item in chart.series]
    )
    for name, series in zip(heads, chart.series, strict=True):
        style = series.style or (chart.secondary_style if series.secondary else chart.style)
        values = [
            None if value != value else as_integer(value) if abs(value) < 2**53 else value for value in series.values
        ]
        texts = numbers(values, most_decimals=4)
        kind = kind_of([value for value in values if value is not None])
        columns.append(Column(name, values, texts, kind, prefix=style.prefix, suffix=style.suffix))
    return Table(tuple(columns), keyed=0, labels=tuple(chart.categories))


def combined_notes(measures: Measures) -> list[str]:
    """Return the base and where it comes from."""
    number = measures.origin.input_rows - measures.missing
    base: str = Message("counted", number=number, unit=Message("records", count=number))
    if measures.missing:
        base = Joined((base, Message("without", number=measures.missing, label=measures.origin.blank())), ", ")
    return [note for note in (base, measures.origin.note()) if note]


def combined_view(
    measures: Measures, chart: Chart, relations: Sequence[str] = (), *, width: int, local: Formatter = PLAIN
) -> list[str]:
    """Return the measures as lines for a terminal."""
    table = combined_table(measures, chart).in_language(local)
    stated = wrapped(combined_notes(measures), width, local)
    texts = textwrap.wrap(local.text(chart.description), width)
    texts += [line for relation in relations for line in ("", *textwrap.wrap(local.text(relation), width))]
    return [one_line(chart.title), *stated, "", *grid_lines(table.heads(), table.shown_rows(), width=width), "", *texts]
