"""The page laid out: head, legend, axes and foot around the frame that they leave."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from vantric.core.axes import Scale, ScalePair
from vantric.core.charts.chart import Chart
from vantric.core.charts.series import FROM_ZERO
from vantric.core.layout.category_labels import (
    MONTHS,
    CategoryLabels,
    PeriodLabels,
    SideLabels,
    set_labels,
    set_period_labels,
    set_side_labels,
    side_period_labels,
)
from vantric.core.layout.legend import Legend, ends_width, legend, legend_width
from vantric.core.layout.plan import Box, LeftOut, PathMark, TextMark
from vantric.core.layout.text_layout import ASCENT, DESCENT, Sizes, TextWriter, line_height, text_height
from vantric.core.layout.titles import PlotArea, head, note_line, rule, title_beside, title_under
from vantric.core.numbers.number_format import NumberStyle, with_unit
from vantric.errors import ChartError


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

    def widest(self, sizes: Sizes, writer: TextWriter) -> float:
        """Return the width of the widest text."""
        ticks = (writer.width(text, sizes.label) for text in self.texts)
        marked = (writer.width(text, sizes.label, bold=True) for _, text, _ in self.special)
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
    # Whole floats as integers, so that no tick is written 650.0.
    ticks = [int(tick) if tick == int(tick) and abs(tick) < 1e15 else tick for tick in scale.ticks]
    if scale.kind == "log":  # each in its own decimals: of several decades the smallest has many
        texts = tuple(with_unit(style.amounts([tick], most_decimals=9)[0], unit) for tick in ticks)
    else:
        texts = tuple(with_unit(text, unit) for text in style.amounts(ticks, most_decimals=9))
    return ValueAxis(scale, texts, special, primary)


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
        mark = _text(axis, field, value, text, "tick", sizes, writer)
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
    size, gap, bold = sizes.label, sizes.px(9), role != "tick"
    position, frame = float(field.up(axis.scale.fraction(value))), field.frame
    if field.horizontal:
        y = frame.bottom - gap - ASCENT * size if axis.primary else frame.top + gap + DESCENT * size
        return writer.line(text, position, y, size, role, ha="center", bold=bold)
    if axis.primary:
        return writer.middle(text, frame.left - gap, position, size, role, ha="right", bold=bold)
    return writer.middle(text, frame.right + gap, position, size, role, bold=bold)


def axis_rules(
    chart: Chart, axes: tuple[ValueAxis, ValueAxis | None], hidden: list[bool], field: PlotArea, sizes: Sizes
) -> list[PathMark]:
    """Return the one grid, the lines of all axes, their ticks and the total's, and zero where values are below it.

    Ticks of the primary whose labels are hidden are not drawn.
    """
    primary, secondary = axes
    tick, rules = sizes.px(5), []
    leading = {"primary": primary, "secondary": secondary or primary}.get(chart.grid_side)
    if leading:
        # The grid line at the lower end would lie on the axis.
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
    # Drawn last, over the feet of the bars.
    rules.append(rule(left, bottom, right, bottom, "axis"))
    if secondary:
        rules.append(
            rule(left, top, right, top, "axis") if field.horizontal else rule(right, bottom, right, top, "axis")
        )
    return rules


def _zeros(chart: Chart, axes: tuple[ValueAxis, ValueAxis | None], field: PlotArea) -> list[PathMark]:
    """Return the line on which bars are where some of them hang down."""
    marks: dict[float, PathMark] = {}
    # Two zeros of one height are one line.
    for axis in axes:
        if axis and axis.scale.kind == "linear" and axis.scale.lower < 0 < axis.scale.upper:
            share = round(float(axis.scale.fraction(0.0)), 9)
            if any(series.kind in FROM_ZERO and series.secondary != axis.primary for series in chart.series):
                marks.setdefault(share, _across(field, axis, 0.0, "zero"))
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


#: Pixels between the axes, below which no chart is left.
_SMALLEST_FRAME = 60.0
_AT_END = 0.97  # of the axis: a tick beyond it writes its number over the end


@dataclass(frozen=True)
class LayoutContext:
    """What every step of the planning needs."""

    chart: Chart
    size: tuple[float, float]
    sizes: Sizes
    pen: TextWriter
    scales: ScalePair


@dataclass(frozen=True)
class FrameLayout:
    """The page without the marks."""

    field: PlotArea
    texts: tuple[TextMark, ...]
    rules: tuple[PathMark, ...]
    legend: Legend
    missing: tuple[LeftOut, ...] = ()


@dataclass(frozen=True)
class _Margins:
    """What is taken on each side of the frame."""

    left: float
    right: float
    bottom: float
    top: float
    after: float = 0.0


def lay_out(context: LayoutContext, *, remark: str = "") -> FrameLayout:
    """Set everything around the frame; `remark` is what found no place beside the marks.

    Raises
    ------
    ChartError
        If the picture is too small.
    """
    chart, sizes, writer = context.chart, context.sizes, context.pen
    width, height = context.size
    axes = value_axes(chart, context.scales)
    margin = sizes.px(24)
    # From the outside inward: each step takes its part of what is left.
    heads, below_head = head(chart, width - 2 * margin, height - sizes.px(18), margin, sizes, writer)
    notes, above_note = note_line(chart, width, sizes, writer)
    column = chart.legend in ("left", "right")
    beside = _beside(context)
    left, right = (beside, 0.0) if chart.legend == "left" else (0.0, beside)
    room = _Margins(margin + left, margin + right, above_note, height - below_head + sizes.px(10))
    room = _horizontal_room(context, axes, room) if chart.horizontal else _upright_room(context, axes, room)
    _check(context, room)
    key = _legend(context, room, remark, below_head, column=column)
    # The legend needs a width to be wrapped in, and its height decides where it begins: so it is laid out twice.
    if chart.legend == "below":
        room = replace(room, bottom=room.bottom + key.height + (sizes.px(8) if key.height else 0))
        key = _legend(context, room, remark, above_note + key.height + sizes.px(2), column=False)
    elif not column:
        room = replace(room, top=room.top + key.height + (sizes.px(8) if key.height else 0))
    if chart.horizontal:
        room, labels = _with_side_labels(context, room)
        field = _field(context, room)
        marks = labels.marks(field.centers(), field.frame.left - sizes.px(9), writer)
        stride = labels.stride
    else:
        # Names at the ends of lines stand right of the frame.
        room = replace(room, after=ends_width(chart, width, sizes, writer))
        flat = _labels(context, room) if chart.category_labels else None
        under = flat.height + 1.5 * sizes.px(8) if flat else 0.0
        room = replace(room, bottom=room.bottom + under)
        field = _field(context, room)
        marks = flat.marks(field.centers(), field.frame.bottom - sizes.px(8), writer) if flat else []
        stride = flat.stride if isinstance(flat, CategoryLabels) else 1
    written, hidden = axis_texts(axes[0], field, sizes, writer)
    other = axis_texts(axes[1], field, sizes, writer)[0] if axes[1] else []
    titles = _titles(context, field, above_note + (key.height + sizes.px(8) if chart.legend == "below" else 0), axes)
    texts = (*heads, *written, *other, *titles, *marks, *notes, *key.texts)
    # Thinned labels are reported by name; of periods everybody can tell them.
    lacking = tuple(name for place, name in enumerate(chart.categories) if place % stride)
    missing: tuple[LeftOut, ...] = (
        (LeftOut("", lacking),) if lacking and chart.category_labels and not chart.period else ()
    )
    missing += (LeftOut("legend", key.left_out),) if key.left_out else ()
    return FrameLayout(field, texts, tuple(axis_rules(chart, axes, hidden, field, sizes)), key, missing)


def _upright_room(context: LayoutContext, axes: tuple[ValueAxis, ValueAxis | None], room: _Margins) -> _Margins:
    """Add the value axes to the left and right, and the title of the category axis below."""
    sizes, writer, chart = context.sizes, context.pen, context.chart
    title = text_height(sizes.axis_title) + sizes.px(12)
    ticks = sizes.px(8 - 6)
    left = room.left + ticks + axes[0].widest(sizes, writer) + (title if chart.primary_title else sizes.px(6))
    right = room.right
    if axes[1]:
        right += ticks + axes[1].widest(sizes, writer) + (title if chart.secondary_title else sizes.px(6))
    below = line_height(sizes.axis_title) + sizes.px(4) if chart.category_title else 0.0
    return replace(room, left=left, right=right, bottom=room.bottom + below)


def _horizontal_room(context: LayoutContext, axes: tuple[ValueAxis, ValueAxis | None], room: _Margins) -> _Margins:
    """Add the value axes below and above, and the title of the category axis to the left."""
    sizes, writer, chart = context.sizes, context.pen, context.chart
    ticks = sizes.px(9) + text_height(sizes.label)
    title = line_height(sizes.axis_title) + sizes.px(4)
    bottom = room.bottom + ticks + sizes.px(4) + (title if chart.primary_title else 0.0)
    top = room.top + (ticks + (title if chart.secondary_title else 0.0) if axes[1] else 0.0)
    left = room.left + (text_height(sizes.axis_title) + sizes.px(4) if chart.category_title else 0.0)
    widest = max(axis.widest(sizes, writer) for axis in axes if axis)
    at_end = any(axis.scale.fraction(axis.scale.ticks[-1:]) > _AT_END for axis in axes if axis)
    # The last number is centered at its tick and may reach over the end of the axis.
    beyond = widest / 2 + (sizes.px(6) if at_end else -sizes.px(10))
    right = max(room.right, beyond)
    return _Margins(left, right, bottom, top)


def _with_side_labels(context: LayoutContext, room: _Margins) -> tuple[_Margins, SideLabels]:
    sizes = context.sizes
    slot = (context.size[1] - room.top - room.bottom) / len(context.chart.categories)
    if slot <= 0:
        raise _too_small(context)
    chart = context.chart
    names: Sequence[str] = chart.categories
    if chart.period:
        names = side_period_labels(names, chart.period, chart.months or MONTHS)
    if not chart.category_labels:
        return room, SideLabels(((),) * len(names), 1, 0.0, sizes.label)
    labels = set_side_labels(names, slot, context.size[0], sizes, context.pen)
    return replace(room, left=room.left + labels.width + sizes.px(9)), labels


def _labels(context: LayoutContext, room: _Margins) -> CategoryLabels | PeriodLabels:
    width, height = context.size
    chart = context.chart
    slot = (width - room.left - room.right - room.after) / len(chart.categories)
    if chart.period:
        return set_period_labels(
            chart.categories, chart.period, chart.months or MONTHS, slot, context.sizes, context.pen
        )
    centers = np.asarray(room.left + slot * (np.arange(len(context.chart.categories)) + 0.5), dtype=np.float64)
    return set_labels(context.chart.categories, centers, slot, height, context.sizes, context.pen)


def _beside(context: LayoutContext) -> float:
    """Return the width of a legend beside the frame, with its margin."""
    if context.chart.legend not in ("left", "right"):
        return 0.0
    return legend_width(context.chart, context.size[0], context.sizes, context.pen) + context.sizes.px(24)


def _legend(context: LayoutContext, room: _Margins, remark: str, top: float, *, column: bool) -> Legend:
    width, sizes, margin = context.size[0], context.sizes, context.sizes.px(24)
    if column:
        beside = _beside(context)
        left = margin if context.chart.legend == "left" else width - beside
        right, y = left + beside - margin, top - sizes.px(10)
        return legend(context.chart, left, right, y, sizes, context.pen, extra=remark, column=True, bottom=room.bottom)
    gap = 0.0 if context.chart.legend == "below" else sizes.px(10)
    start = margin if context.chart.horizontal else room.left
    return legend(context.chart, start, width - room.right, top - gap, sizes, context.pen, extra=remark)


def _titles(
    context: LayoutContext, field: PlotArea, above_note: float, axes: tuple[ValueAxis, ValueAxis | None]
) -> list[TextMark]:
    """Return the titles of the three axes."""
    chart, sizes, writer, frame = context.chart, context.sizes, context.pen, field.frame
    inset, beside = sizes.px(18) + ASCENT * sizes.axis_title, _beside(context)
    left = inset + (beside if chart.legend == "left" else 0.0)
    if chart.horizontal:
        ticks = sizes.px(9) + text_height(sizes.label)
        titles = title_under(chart.primary_title, frame.left, frame.right, above_note, sizes, writer)
        titles += title_beside(chart.category_title, left, frame.bottom, frame.top, sizes, writer, rotation=90.0)
        if axes[1]:
            over = frame.top + ticks + sizes.px(3)
            titles += title_under(chart.secondary_title, frame.left, frame.right, over, sizes, writer)
        return titles
    titles = title_under(chart.category_title, frame.left, frame.right, above_note, sizes, writer)
    titles += title_beside(chart.primary_title, left, frame.bottom, frame.top, sizes, writer, rotation=90.0)
    if axes[1]:
        x = context.size[0] - inset - (beside if chart.legend == "right" else 0.0)
        titles += title_beside(chart.secondary_title, x, frame.bottom, frame.top, sizes, writer, rotation=270.0)
    return titles


def _field(context: LayoutContext, room: _Margins) -> PlotArea:
    _check(context, room)
    width, height = context.size
    frame = Box(room.left, room.bottom, width - room.right, height - room.top)
    return PlotArea(frame, len(context.chart.categories), context.chart.horizontal, room.after)


def _check(context: LayoutContext, room: _Margins) -> None:
    width, height = context.size
    if (
        width - room.left - room.right - room.after < _SMALLEST_FRAME
        or height - room.top - room.bottom < _SMALLEST_FRAME
    ):
        raise _too_small(context)


def _too_small(context: LayoutContext) -> ChartError:
    width, height = context.size
    return ChartError(f"a picture of {width:.0f} x {height:.0f} is too small for this chart; give it more room")
