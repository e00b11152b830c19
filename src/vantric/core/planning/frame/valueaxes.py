"""The two value axes: their ticks, what is marked beside them, their lines and the grid."""

from __future__ import annotations

from dataclasses import dataclass

from vantric.core.axes import Scale, ScalePair
from vantric.core.charting.chart import Chart
from vantric.core.charting.series import FROM_ZERO
from vantric.core.numbers.style import NumberStyle, with_unit
from vantric.core.planning.frame.field import Field
from vantric.core.planning.frame.furniture import rule
from vantric.core.planning.lettering import Pen, Sizes
from vantric.core.planning.measure import ASCENT, DESCENT
from vantric.core.planning.plan import Box, PathMark, TextMark


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
    """

    scale: Scale
    texts: tuple[str, ...]
    special: tuple[tuple[float, str, str], ...]
    primary: bool

    def widest(self, sizes: Sizes, pen: Pen) -> float:
        """Return the width of the widest text."""
        ticks = (pen.width(text, sizes.label) for text in self.texts)
        marked = (pen.width(text, sizes.label, bold=True) for _, text, _ in self.special)
        return max([*ticks, *marked], default=0.0)


def value_axes(chart: Chart, scales: ScalePair) -> tuple[ValueAxis, ValueAxis | None]:
    """Return the axes of a chart; the secondary is None if it is not drawn."""
    total = ((chart.total, chart.total_text, "total"),) if chart.total_text else ()
    cuts = tuple((cut.value, cut.level_text, "cut-text") for cut in chart.cuts)
    if not chart.secondary_axis:
        return _axis(scales.primary, chart.style, chart.primary_unit, (*total, *cuts), primary=True), None
    return (
        _axis(scales.primary, chart.style, chart.primary_unit, total, primary=True),
        _axis(scales.secondary, chart.secondary_style, chart.secondary_unit, cuts, primary=False),
    )


def _axis(
    scale: Scale, style: NumberStyle, unit: str, special: tuple[tuple[float, str, str], ...], *, primary: bool
) -> ValueAxis:
    ticks = [int(tick) if tick == int(tick) and abs(tick) < 1e15 else tick for tick in scale.ticks]
    if scale.kind == "log":  # each in its own decimals: of several decades the smallest has many
        texts = tuple(with_unit(style.amounts([tick], most_decimals=9)[0], unit) for tick in ticks)
    else:
        texts = tuple(with_unit(text, unit) for text in style.amounts(ticks, most_decimals=9))
    return ValueAxis(scale, texts, special, primary)


def axis_texts(axis: ValueAxis, field: Field, sizes: Sizes, pen: Pen) -> tuple[list[TextMark], list[bool]]:
    """Return what is written at an axis, and which ticks gave way to something marked, or to a neighbor."""
    special = [_text(axis, field, value, text, role, sizes, pen) for value, text, role in axis.special]
    kept: list[TextMark] = []
    for mark in special:
        if not any(_near(mark.box, other.box, field, sizes) for other in kept):
            kept.append(mark)
    hidden = []
    for value, text in zip(axis.scale.ticks, axis.texts, strict=True):
        mark = _text(axis, field, value, text, "tick", sizes, pen)
        hidden.append(any(_near(mark.box, other.box, field, sizes) for other in kept))
        if not hidden[-1]:
            kept.append(mark)
    return kept, hidden


def _near(one: Box, other: Box, field: Field, sizes: Sizes) -> bool:
    apart = sizes.px(6) if field.horizontal else 0.0
    return Box(one.left - apart, one.bottom, one.right + apart, one.top).overlaps(other)


def _text(axis: ValueAxis, field: Field, value: float, text: str, role: str, sizes: Sizes, pen: Pen) -> TextMark:
    size, gap, bold = sizes.label, sizes.px(9), role != "tick"
    at, frame = float(field.up(axis.scale.fraction(value))), field.frame
    if field.horizontal:
        y = frame.bottom - gap - ASCENT * size if axis.primary else frame.top + gap + DESCENT * size
        return pen.line(text, at, y, size, role, ha="center", bold=bold)
    if axis.primary:
        return pen.middle(text, frame.left - gap, at, size, role, ha="right", bold=bold)
    return pen.middle(text, frame.right + gap, at, size, role, bold=bold)


def axis_rules(
    chart: Chart, axes: tuple[ValueAxis, ValueAxis | None], hidden: list[bool], field: Field, sizes: Sizes
) -> list[PathMark]:
    """Return the one grid, the lines of all axes, their ticks and the total's, and zero where values are below it.

    Ticks of the primary whose labels are hidden are not drawn.
    """
    primary, secondary = axes
    tick, rules = sizes.px(5), []
    leading = {"primary": primary, "secondary": secondary or primary}.get(chart.grid_side)
    if leading:
        ticks = (value for value in leading.scale.ticks if value > leading.scale.lower)
        rules += [_across(field, leading, value, "grid") for value in ticks]
    rules += _zeros(chart, axes, field)
    if secondary:
        rules += [_tick(field, secondary, value, tick, "axis") for value in secondary.scale.ticks]
    rules += [
        _tick(field, primary, value, tick, "axis")
        for value, hide in zip(primary.scale.ticks, hidden, strict=True)
        if not hide
    ]
    for axis in (primary, secondary):
        rules += [_tick(field, axis, value, 0.55 * tick, "axis") for value in axis.scale.minor] if axis else []
    if chart.total_text:
        rules.append(_tick(field, primary, chart.total, 1.4 * tick, "total-tick"))
    left, bottom, right, top = field.frame
    rules.append(rule(left, bottom, left, top, "axis"))
    rules.append(rule(left, bottom, right, bottom, "axis"))
    if secondary:
        rules.append(
            rule(left, top, right, top, "axis") if field.horizontal else rule(right, bottom, right, top, "axis")
        )
    return rules


def _zeros(chart: Chart, axes: tuple[ValueAxis, ValueAxis | None], field: Field) -> list[PathMark]:
    """Return the line on which bars are where some of them hang down."""
    found: dict[float, PathMark] = {}
    for axis in axes:
        if axis and axis.scale.kind == "linear" and axis.scale.lower < 0 < axis.scale.upper:
            share = round(float(axis.scale.fraction(0.0)), 9)
            if any(one.kind in FROM_ZERO and one.secondary != axis.primary for one in chart.series):
                found.setdefault(share, _across(field, axis, 0.0, "zero"))
    return list(found.values())


def _across(field: Field, axis: ValueAxis, value: float, role: str) -> PathMark:
    at, frame = float(field.up(axis.scale.fraction(value))), field.frame
    return (
        rule(at, frame.bottom, at, frame.top, role) if field.horizontal else rule(frame.left, at, frame.right, at, role)
    )


def _tick(field: Field, axis: ValueAxis, value: float, length: float, role: str) -> PathMark:
    at, frame = float(field.up(axis.scale.fraction(value))), field.frame
    if field.horizontal:
        start, end = (frame.bottom - length, frame.bottom) if axis.primary else (frame.top, frame.top + length)
        return rule(at, start, at, end, role)
    start, end = (frame.left - length, frame.left) if axis.primary else (frame.right, frame.right + length)
    return rule(start, at, end, at, role)
