"""What a combination chart is drawn of, as data, as cells and as the content of a file.

What a combination chart shows, in words.

A pair of scales as data and as lines.
"""

from __future__ import annotations

import textwrap
from collections.abc import Sequence
from dataclasses import replace
from functools import partial
from typing import Any

from vantric.core.axes import Scale, ScalePair
from vantric.core.charts import Chart, Series
from vantric.core.charts.wording import PLAIN_WORDING
from vantric.core.composition.series_labels import value_texts
from vantric.core.counts import Measures
from vantric.core.numbers.number_format import counted, digits_text, distinct_lines, headed, number_texts, one_line
from vantric.core.review import Finding, review_scales
from vantric.tables.localize import PLAIN, FixedText, Localizer
from vantric.tables.table import Column, Table, as_integer, grid_lines, kind_of, numbers, percents, text_table


def chart_sentence(chart: Chart) -> str:
    """Return each series with its kind, its axis, and its lowest and highest value with their categories."""
    first, last = one_line(chart.categories[0], longest=40), one_line(chart.categories[-1], longest=40)
    span = (
        f"from {first} to {last}" if chart.period else "in " + counted(len(chart.categories), "category", "categories")
    )
    parts = [_series(chart, one) for one in chart.series[:12]]
    if len(chart.series) > 12:
        parts.append(f"{len(chart.series) - 12} series more")
    lines = [_reference(chart, number) for number in range(len(chart.references))]
    return f"{'; '.join([*parts, *lines])}; {span}."


def _series(chart: Chart, one: Series) -> str:
    style = one.style or (chart.secondary_style if one.secondary else chart.style)
    texts = value_texts(one.values, style, percent=one.unit == "%")
    there = [place for place, value in enumerate(one.values) if value == value]
    side = f" on the {one.axis} axis" if chart.secondary_axis else ""
    name = f"{one.kind} {one_line(one.name, longest=60)}{side}"
    if not there:
        return f"{name}: no values"
    low, high = (end(there, key=lambda place: one.values[place]) for end in (min, max))
    unit = f" {one_line(one.unit)}" if one.unit and one.unit != "%" else ""
    gaps = len(one.values) - len(there)
    missing = f", {counted(gaps, 'value')} missing" if gaps else ""
    if one.values[low] == one.values[high]:
        return f"{name}: {texts[low]}{unit}{missing}"
    ends = [f"{texts[at]}{unit} ({one_line(chart.categories[at], longest=40)})" for at in (low, high)]
    return f"{name}: {ends[0]} to {ends[1]}{missing}"


def _reference(chart: Chart, number: int) -> str:
    one = chart.references[number]
    style = chart.secondary_style if one.axis == "secondary" else chart.style
    low, high = one.ends
    values = [style.amount(int(end) if end == int(end) else end) for end in dict.fromkeys((low, high))]
    return f"{one_line(one.text) or ('line' if one.upto is None else 'band')} at {' to '.join(values)}"


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
    one, other = pair.primary, pair.secondary
    per = (one.upper - one.lower) / (other.upper - other.lower)
    return per, one.lower - per * other.lower


def scales_lines(pair: ScalePair) -> list[str]:
    """Return a pair of scales as lines for a terminal: limits, ticks, coverage, and the map between the sides."""
    lines = [f"Scales, policy {pair.policy}", ""]
    for name, scale, covered in zip(
        ("Primary", "Secondary"), (pair.primary, pair.secondary), pair.coverage, strict=True
    ):
        ticks = number_texts([as_integer(tick) for tick in scale.ticks], most_decimals=9)
        kind = " (log)" if scale.kind == "log" else ""
        limits = f"{_limit(scale.lower)} to {_limit(scale.upper)}{kind}"
        lines.append(f"{name:9}  {limits}, data over {100 * covered:.1f} % of it")
        lines.append(f"{'':9}  ticks: {'  '.join(ticks)}")
    return [*lines, "", *scales_words(pair)]


def scales_words(pair: ScalePair) -> list[str]:
    """Return what the two scales promise, in words."""
    lines = [_grid_words(pair)]
    if {pair.primary.kind, pair.secondary.kind} == {"linear"}:
        per, zero = _map(pair)
        lines.append(f"1 on the secondary side is {_short(per)} on the primary; its 0 is at {_short(zero)}.")
    return lines


def scales_table(pair: ScalePair) -> Table:
    """Return the two sides as people read them: limits, step and ticks; as data a row a tick."""
    sides = (("Primary", pair.primary), ("Secondary", pair.secondary))
    rows = [
        (
            name,
            f"{_limit(scale.lower)} to {_limit(scale.upper)}",
            scale.kind,
            "  ".join(number_texts([as_integer(tick) for tick in scale.ticks], most_decimals=9)),
        )
        for name, scale in sides
    ]
    ticks = [(name.lower(), tick, float(scale.fraction(tick))) for name, scale in sides for tick in scale.ticks]
    side, tick, height = zip(*ticks, strict=True) if ticks else ((), (), ())
    data = (Column("", side, key="side"), Column("", tick, key="tick"), Column("", height, key="height", as_is=True))
    shown = text_table(
        ("Axis", "Limits", "Kind", "Ticks"), rows, left=(0, 2, 3), caption=f"Scales, policy {pair.policy}"
    )
    return replace(shown, data=data, notes=tuple(scales_words(pair)))


def _grid_words(pair: ScalePair) -> str:
    if pair.policy == "common":
        return "One scale for both sides."
    if pair.shared_ticks:
        return "Every tick meets a tick of the other side: one grid serves both."
    return "The ticks of the two sides do not meet: draw the grid of one side only."


def _limit(value: float) -> str:
    return digits_text(value)


def _short(value: float) -> str:
    return digits_text(value + 0.0)


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
        plain = {"values": [None if value is None else as_integer(value) for value in values]}
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
    columns = [
        Column(headed(subject) or one_line(chart.category_title) or FixedText("Category"), labels, labels, "text")
    ]
    heads = distinct_lines(
        [f"{one.name} ({one.unit})" if one.unit and one.unit != one.name else one.name for one in chart.series]
    )
    for name, one in zip(heads, chart.series, strict=True):
        style = one.style or (chart.secondary_style if one.secondary else chart.style)
        values = [
            None if value != value else as_integer(value) if abs(value) < 2**53 else value for value in one.values
        ]
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
    found: Measures, chart: Chart, relations: Sequence[str] = (), *, width: int, local: Localizer = PLAIN
) -> list[str]:
    """Return the measures as lines for a terminal."""
    shown = combined_table(found, chart).in_language(local)
    stated = [line for note in combined_notes(found) for line in textwrap.wrap(note, width, subsequent_indent="  ")]
    said = textwrap.wrap(chart.description[:1].upper() + chart.description[1:], width)
    said += [line for one in relations for line in ("", *textwrap.wrap(one, width))]
    return [one_line(chart.title), *stated, "", *grid_lines(shown.heads(), shown.shown_rows(), width=width), "", *said]
