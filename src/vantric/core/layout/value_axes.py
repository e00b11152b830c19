"""The value axes as they are written: their numbers, ticks, grid lines and the names of limits among them."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from typing import TypeAlias

import numpy as np

from vantric.base.lazily import dataclass
from vantric.core.axes import Scale, ScalePair
from vantric.core.charts.chart import Chart
from vantric.core.charts.references import Reference
from vantric.core.charts.series import FROM_ZERO
from vantric.core.layout.plan import Box, PathMark, TextMark, point_role
from vantric.core.layout.text_layout import ASCENT, DESCENT, Sizes, TextWriter
from vantric.core.layout.titles import PlotArea, rule
from vantric.core.numbers.number_format import NumberStyle, with_unit

#: Where the break of an axis turns, in pixels of a 1280 x 800 picture: up along the axis, and aside.
_BREAK = ((0.0, 0.0), (3.0, 0.0), (5.0, -4.0), (9.0, 4.0), (11.0, 0.0), (15.0, 0.0))
_LONGEST_AT_AXIS = 12  # characters of the name of a limit that stands among the numbers of its axis


@dataclass(frozen=True)
class ValueAxis:
    """One value axis as it is written.

    Attributes
    ----------
    scale
        Its limits and ticks.
    texts
        What is at the ticks.
    special
        (value, text, role) of what is marked beside them: the total, the cutoffs.
    primary
        Whether it is to the left, or under a horizontal chart; else on the other side.
    role
        What its numbers are: those of one line have its color.
    """

    scale: Scale
    texts: tuple[str, ...]
    special: tuple[tuple[float, str, str], ...]
    primary: bool
    role: str = "tick"

    def widest(self, sizes: Sizes, writer: TextWriter) -> float:
        """Return the width of the widest text."""
        ticks = (writer.width(text, sizes.tick) for text in self.texts)
        marked = (writer.width(text, sizes.tick, bold=True) for _, text, _ in self.special)
        return max([*ticks, *marked], default=0.0)


#: Values that are marked at an axis, with their texts and roles.
_Special: TypeAlias = tuple[tuple[float, str, str], ...]


def value_axes(chart: Chart, scales: ScalePair) -> tuple[ValueAxis, ValueAxis | None]:
    """Return the axes of a chart; the secondary is None if it is not drawn."""
    total: _Special = ((chart.total, chart.total_text, "total"),) if chart.total_text else ()
    total += tuple((item.level, item.text, "reference-text") for item in at_axis(chart, "primary"))
    cuts = tuple((cut.value, cut.level_text, "cut-text") for cut in chart.cuts)
    if not chart.secondary_axis:
        return _axis(scales.primary, chart.style, chart.primary_unit, (*total, *cuts), primary=True), None
    limits = tuple((item.level, item.text, "reference-text") for item in at_axis(chart, "secondary"))
    secondary = _axis(scales.secondary, chart.secondary_style, chart.secondary_unit, (*cuts, *limits), primary=False)
    return (
        _axis(scales.primary, chart.style, chart.primary_unit, total, primary=True),
        replace(secondary, role=_secondary_role(chart)),
    )


def at_axis(chart: Chart, axis: str) -> list[Reference]:
    """Return the references that are named at their axis: those of a vertical chart whose names are short."""
    if chart.horizontal:
        return []
    return [
        item
        for item in chart.references
        if item.axis == axis and item.upto is None and item.text and len(item.text) <= _LONGEST_AT_AXIS
    ]


def _secondary_role(chart: Chart) -> str:
    """Return what the numbers of the secondary axis are: those of one line have its color."""
    if chart.is_cumulative:
        return "axis-line"
    own = [series for series in chart.series if series.secondary]
    lines = len(own) == 1 and own[0].kind not in ("bars", "area")
    return point_role(own[0].role, "-value") if lines else "tick"


def _axis(
    scale: Scale, style: NumberStyle, unit: str, special: tuple[tuple[float, str, str], ...], *, primary: bool
) -> ValueAxis:
    texts = tick_texts(scale.ticks, style, unit, is_log=scale.kind == "log")
    return ValueAxis(scale, texts, special, primary)


def shown_ticks(axis: ValueAxis, texts: Iterable[TextMark]) -> dict[float, str]:
    """Return what a plan writes at an axis: a tick that gave way to a marked value is not there."""
    there = {(mark.text, mark.role) for mark in texts}
    plain = ((value, text, axis.role) for value, text in zip(axis.scale.ticks, axis.texts, strict=True))
    return {value: text for value, text, role in (*plain, *axis.special) if (text, role) in there}


def tick_texts(values: Iterable[float], style: NumberStyle, unit: str, *, is_log: bool) -> tuple[str, ...]:
    """Return what is written at the ticks of an axis."""
    # Whole floats as integers, so that no tick is written 650.0.
    ticks = [int(tick) if tick == int(tick) and abs(tick) < 1e15 else tick for tick in values]
    if is_log:  # each in its own decimals: of several decades the smallest has many
        return tuple(with_unit(style.amounts([tick], most_decimals=9)[0], unit) for tick in ticks)
    return tuple(with_unit(text, unit) for text in _numbers(ticks, style))


def _numbers(ticks: list[float], style: NumberStyle) -> list[str]:
    """Return the numbers at ticks: in thousands or more where that loses nothing."""
    exact = style.amounts(ticks, most_decimals=9)
    short = style.short(ticks)
    return short if len(set(short)) == len(short) and style.is_exact(ticks) else exact


def axis_texts(axis: ValueAxis, field: PlotArea, sizes: Sizes, writer: TextWriter) -> tuple[list[TextMark], list[bool]]:
    """Return what is written at an axis, and which ticks gave way to something marked, or to a neighbor."""
    # Total and cutoffs come first: an ordinary tick gives way to them.
    special = [_text(axis, field, value, text, role, sizes, writer) for value, text, role in axis.special]
    text_marks: list[TextMark] = []
    for mark in special:
        if not any(_near(mark.box, other.box, field, sizes) for other in text_marks):
            text_marks.append(mark)
    hidden = []
    for value, text in zip(axis.scale.ticks, axis.texts, strict=True):
        mark = _text(axis, field, value, text, axis.role, sizes, writer)
        hidden.append(any(_near(mark.box, other.box, field, sizes) for other in text_marks))
        if not hidden[-1]:
            text_marks.append(mark)
    return text_marks, hidden


def _near(box: Box, other: Box, field: PlotArea, sizes: Sizes) -> bool:
    apart = sizes.px(6) if field.horizontal else 0.0
    return Box(box.left - apart, box.bottom, box.right + apart, box.top).overlaps(other)


def _text(
    axis: ValueAxis, field: PlotArea, value: float, text: str, role: str, sizes: Sizes, writer: TextWriter
) -> TextMark:
    size, gap, bold = sizes.tick, sizes.px(7), role in ("total", "cut-text", "reference-text")
    position, frame = float(field.up(axis.scale.fraction(value))), field.frame
    if field.horizontal:
        y = frame.bottom - gap - ASCENT * size if axis.primary else frame.top + gap + DESCENT * size
        return writer.line(text, position, y, size, role, ha="center", bold=bold)
    if axis.primary:
        return writer.middle(text, frame.left - gap - sizes.px(2), position, size, role, ha="right", bold=bold)
    return writer.middle(text, frame.right + gap, position, size, role, bold=bold)


def axis_rules(
    chart: Chart, axes: tuple[ValueAxis, ValueAxis | None], hidden: list[bool], field: PlotArea, sizes: Sizes
) -> list[PathMark]:
    """Return the one grid, the ticks of the other axis, the baseline, and zero where values are below it.

    Ticks of the primary whose labels are hidden are not drawn.
    """
    primary, secondary = axes
    tick, rules = sizes.px(4), []
    leading = {"primary": primary, "secondary": secondary or primary}.get(chart.grid_side)
    if leading:
        # The grid line at the lower end would lie on the baseline.
        ticks = (value for value in leading.scale.ticks if value > leading.scale.lower)
        rules += [_across(field, leading, value, "grid") for value in ticks]
    rules += _zeros(chart, axes, field)
    shared = chart.scales.shared_ticks and leading is not None
    if secondary and leading is not secondary and not shared:
        rules += [_tick(field, secondary, value, tick, "axis") for value in secondary.scale.ticks]
    if leading is not primary and not shared:
        rules += [
            _tick(field, primary, value, tick, "axis")
            for value, hide in zip(primary.scale.ticks, hidden, strict=True)
            if not hide
        ]
    for axis in (primary, secondary):
        rules += [_tick(field, axis, value, 0.75 * tick, "axis") for value in axis.scale.minor] if axis else []
    if chart.total_text:
        rules.append(_tick(field, primary, chart.total, tick, "total-tick"))
    if secondary and _is_broken(secondary.scale):
        rules.append(_break(chart, field, sizes))
    left, bottom, right, top = field.frame
    if chart.has_neutral:
        return rules
    # Drawn last, over the feet of the bars.
    rules.append(
        rule(left, bottom, left, top, "baseline") if field.horizontal else rule(left, bottom, right, bottom, "baseline")
    )
    return rules


def _is_broken(scale: Scale) -> bool:
    """Return whether an axis leaves out what is between zero and its lower end."""
    return scale.kind == "linear" and scale.lower > 0


def _break(chart: Chart, field: PlotArea, sizes: Sizes) -> PathMark:
    """Return the break at the foot of a secondary axis that starts above zero, in the color of its one line."""
    own = [series for series in chart.series if series.secondary]
    role = own[0].role if len(own) == 1 and own[0].kind not in FROM_ZERO else "axis"
    along, aside = (np.array([sizes.px(turn[part]) for turn in _BREAK]) for part in (0, 1))
    left, bottom, right, top = field.frame
    xs, ys = (left + along, top + aside) if field.horizontal else (right + aside, bottom + along)
    return PathMark(xs, ys, role, width=1.2)


def _zeros(chart: Chart, axes: tuple[ValueAxis, ValueAxis | None], field: PlotArea) -> list[PathMark]:
    """Return the line on which bars are where some of them hang down, and that of no difference."""
    marks: dict[float, PathMark] = {}
    # Two zeros of one height are one line.
    for axis in axes:
        neutral = 1.0 if axis and axis.scale.kind == "log" and chart.has_neutral else 0.0
        if axis and (axis.scale.kind == "linear" or neutral) and axis.scale.lower < neutral < axis.scale.upper:
            share = round(float(axis.scale.fraction(neutral)), 9)
            own = [series for series in chart.series if series.secondary != axis.primary]
            if any(series.kind in FROM_ZERO or series.spreads for series in own):
                marks.setdefault(share, _across(field, axis, neutral, "zero"))
    return list(marks.values())


def _across(field: PlotArea, axis: ValueAxis, value: float, role: str) -> PathMark:
    position, frame = float(field.up(axis.scale.fraction(value))), field.frame
    return (
        rule(position, frame.bottom, position, frame.top, role)
        if field.horizontal
        else rule(frame.left, position, frame.right, position, role)
    )


def _tick(field: PlotArea, axis: ValueAxis, value: float, length: float, role: str) -> PathMark:
    position, frame = float(field.up(axis.scale.fraction(value))), field.frame
    if field.horizontal:
        start, end = (frame.bottom - length, frame.bottom) if axis.primary else (frame.top, frame.top + length)
        return rule(position, start, position, end, role)
    start, end = (frame.left - length, frame.left) if axis.primary else (frame.right, frame.right + length)
    return rule(start, position, end, position, role)
