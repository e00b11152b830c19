"""What a combination chart shows, in words."""

from __future__ import annotations

from vantric.core.charts import Chart, Series
from vantric.core.composition.series_labels import value_texts
from vantric.core.numbers.number_format import counted, one_line


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
