"""From a comparison to its chart: paired bars, each side in percent of its own total or as rates."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import replace
from itertools import accumulate
from typing import Any

from vantric.core.axes import common
from vantric.core.charts.chart import Chart
from vantric.core.charts.references import worked_out
from vantric.core.charts.series import Bars, Line, composed
from vantric.core.charts.settings import TableChartSettings
from vantric.core.composition.headlines import comparison_headline
from vantric.core.counts.comparison import Comparison
from vantric.core.numbers.number_format import digits_text, distinct_lines, one_line, readable, rounded
from vantric.errors import ChartError

_PLAIN = TableChartSettings()


def comparison_chart(
    comparison: Comparison,
    look: TableChartSettings = _PLAIN,
    *,
    description: str = "",
    beyond: Collection[str] | None = None,
) -> Chart:
    """Return the chart of a comparison.

    Bars are in pairs in the order of before, and both cumulative lines on the one scale of the bars. The categories
    that changed `beyond` chance stand out; None where that is not known.

    Raises
    ------
    ChartError
        If the points are to be at the edges of the bars: a pair has no edge of its own.
    """
    if look.line_at == "edge":
        raise ChartError("in a comparison points are over the bars: remove line_at='edge'")
    say, style, rates = look.formatter.say, look.style, comparison.exposures is not None
    names, sides = side_values(comparison)
    running = say("cumulative rate") if rates else say("cumulative percent")
    tops = [float(table.total) if rates else 100.0 for table in (comparison.before, comparison.after)]
    look.check_labels(names)
    look.check_colors([*names, *(f"{running}, {name}" for name in names)])
    bars, lines = [], []
    for number, (name, values, top) in enumerate(zip(names, sides, tops, strict=True)):
        own = look.colors.get(name, "")
        standing_out = _standing_out(comparison, name, beyond, look) if number and not own else {}
        texts = side_texts(values, look, rates=rates) if look.labels_of(name) != "none" else ()
        role, colors = ("quiet", "strong")[number], (own,) * len(values) if own else ()
        bars.append(composed(Bars, name, tuple(values), texts, role=role, colors=colors, **standing_out))
        lines.append(_running_line(f"{running}, {name}", ("line-2", "line")[number], values, top, look))
    references = worked_out(look.references, bars, look.average_text)
    return Chart(
        categories=tuple(distinct_lines(comparison.categories)),
        series=(*bars, *(lines if look.cumulative != "none" else ())),
        scales=common(max([_highest(look, tops, sides), *(item.ends[1] for item in references)])),
        references=references,
        primary_unit="" if rates else style.percent_unit,
        secondary_axis=False,
        description=description,
        **comparison_heads(comparison, look, beyond),
        **look.looks(),
    )


def comparison_heads(
    comparison: Comparison, look: TableChartSettings, beyond: Collection[str] | None
) -> dict[str, Any]:
    """Return what is written around the chart of a comparison: its message, what is measured, where it comes from."""
    _ = look.moments(comparison.categories, None)
    origin, rates = comparison.before.origin, comparison.exposures is not None
    message = "" if look.neutral_title or look.title is not None else comparison_headline(comparison, beyond, look)
    plain = _title(comparison, readable(origin.by or ""), look)
    base, say = look.formatter.text(comparison.base()), look.formatter.say
    per = (
        say("with unit", name=say("rate"), unit=look.formatter.text(origin.unit_text())) if rates else say("own total")
    )
    return {
        "title": _own(look.title, message or plain),
        "subtitle": _own(look.subtitle, ". ".join(filter(None, (plain if message else "", base)))),
        "note": _note(comparison, look),
        "category_title": look.category_title or "",
        "primary_title": _own(look.primary_title, per),
    }


def _running_line(title: str, role: str, values: Sequence[float], top: float, look: TableChartSettings) -> Line:
    sums = [min(value, top) for value in accumulate(values)]
    color = look.colors.get(title)
    # The last point is the total itself: sums of rounded shares could end a hair below it.
    return composed(Line, title, (*sums[:-1], top), role=f"{role}:{color}" if color else role)


def side_texts(values: Sequence[float], look: TableChartSettings, *, rates: bool) -> tuple[str, ...]:
    """Return what is written at the values of a side; nothing at zero."""
    style = look.style
    written = [style.signed(digits_text(rounded(value))) if rates else style.percents(value) for value in values]
    return tuple(label if value else "" for label, value in zip(written, values, strict=True))


def side_values(comparison: Comparison) -> tuple[list[str], list[list[float]]]:
    """Return what the sides are called, and the rates of each, or the percents of its own total."""
    rates = comparison.exposures is not None
    names = distinct_lines([comparison.before_name, comparison.after_name])
    return names, [
        [float(row.before) if rates else row.before_percent for row in comparison.rows],
        [float(row.after) if rates else row.after_percent for row in comparison.rows],
    ]


def _standing_out(
    comparison: Comparison, name: str, beyond: Collection[str] | None, look: TableChartSettings
) -> dict[str, Any]:
    """Return which bars of after stand out, and how the legend says so."""
    if beyond is None:
        return {}
    return {
        "strong": tuple(index for index, category in enumerate(comparison.categories) if category in beyond),
        "strong_name": look.formatter.say("beyond chance", name=name),
        "quiet_name": look.formatter.say("within chance", name=name),
        "quiet_role": "pale-2",
    }


def _highest(look: TableChartSettings, tops: list[float], sides: list[list[float]]) -> float:
    """Return what the scale must reach: the totals, or without lines the tallest bar."""
    return max(tops) if look.cumulative != "none" else max(map(max, sides))


def _title(comparison: Comparison, subject: str, look: TableChartSettings) -> str:
    subject = look.noun or subject
    named = subject[:1].upper() + subject[1:] or look.formatter.say("frequency")
    before, after = one_line(comparison.before_name), one_line(comparison.after_name)
    return look.formatter.say("before and after", subject=named, before=before, after=after)


def _note(comparison: Comparison, look: TableChartSettings) -> str:
    if not isinstance(look.note, bool):
        return look.note
    if not look.note:
        return ""
    notes = [
        look.formatter.text(replace(table.origin, within=None).note())
        for table in (comparison.before, comparison.after)
    ]
    return "; ".join(dict.fromkeys(part for note in notes for part in note.split("; ") if part))


def _own(wished: str | None, plain: str) -> str:
    return plain if wished is None else wished
