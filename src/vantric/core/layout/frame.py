"""The page laid out: head, legend, axes and foot around the frame that they leave."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from vantric.base.lazily import dataclass
from vantric.core.axes import ScalePair
from vantric.core.charts.chart import Chart
from vantric.core.layout.axis_heads import (
    ClassHead,
    HeadPart,
    brackets,
    class_heads,
    class_texts,
    column_texts,
    columns_width,
    head_parts,
    parts_width,
    set_parts,
    side_texts,
    side_width,
)
from vantric.core.layout.category_labels import (
    MONTHS,
    MOST_BESIDE,
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
from vantric.core.layout.text_layout import ASCENT, DESCENT, Sizes, TextWriter, fitted, line_height, text_height
from vantric.core.layout.titles import PlotArea, head, note_line, rule, title_under
from vantric.core.layout.value_axes import ValueAxis, axis_rules, axis_texts, value_axes
from vantric.core.numbers.number_format import one_line, text_line
from vantric.errors import ChartError

#: Pixels between the axes, below which no chart is left.
_SMALLEST_FRAME = 60.0
_AT_END = 0.97  # of the axis: a tick beyond it writes its number over the end


@dataclass(frozen=True)
class SizeLack:
    """A picture of a size lacks so many pixels along x and y."""

    size: tuple[float, float]
    lacks: tuple[float, float]

    def error(self) -> ChartError:
        """Return the error that says so; the size that would do is in tens."""
        enough = " x ".join(
            f"{10 * math.ceil((length + max(lack, 0.0)) / 10) + (10 if lack > 0 else 0):.0f}"
            for length, lack in zip(self.size, self.lacks, strict=True)
        )
        small = f"{self.size[0]:.0f} x {self.size[1]:.0f}"
        message = f"a picture of {small} is too small for this chart; {enough} would do, or fewer categories"
        return ChartError(message, value=self)

    def of_whole(self, size: tuple[float, float], room: tuple[float, float]) -> SizeLack:
        """Return what a picture of a size lacks, in whose room there are parts of this size in rows and columns."""
        lacks = [
            max(lack, 0.0) * max(1, round(length / part))
            for lack, length, part in zip(self.lacks, room, self.size, strict=True)
        ]
        return SizeLack(size, (lacks[0], lacks[1]))


@dataclass(frozen=True)
class LayoutContext:
    """What every step of the planning needs."""

    chart: Chart
    size: tuple[float, float]
    sizes: Sizes
    pen: TextWriter
    scales: ScalePair
    margins: tuple[float, float] = (0.0, 0.0)


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
    margin = sizes.margin
    # From the outside inward: each step takes its part of what is left.
    heads, below_head = head(chart, width - 2 * margin, height - margin + sizes.px(4), margin, sizes, writer)
    notes, above_note = note_line(chart, width, sizes, writer)
    column = chart.legend in ("left", "right")
    beside = _beside(context)
    left, right = (beside, 0.0) if chart.legend == "left" else (0.0, beside)
    room = _Margins(margin + left, margin + right, above_note, height - below_head)
    room = _side_room(context, axes, room)
    parts = _head_parts(context, room)
    listed = chart.legend == "below" or (chart.legend == "above" and parts is None)
    key = Legend.nothing()
    if listed or column or remark:
        key = _legend(context, room, remark, below_head, column=column)
    # The legend needs a width to be wrapped in, and its height decides where it begins: so it is laid out twice.
    if chart.legend == "below":
        room = replace(room, bottom=room.bottom + key.height + (sizes.px(8) if key.height else 0))
        key = _legend(context, room, remark, above_note + key.height + sizes.px(2), column=False)
    elif not column and key.texts:
        room = replace(room, top=room.top + key.height + sizes.px(2))
    if parts is None:
        parts = head_parts(replace(chart, legend="none"))
    room, above = _heads_room(context, room, parts)
    room = replace(room, top=max(room.top, context.margins[0]), bottom=max(room.bottom, context.margins[1]))
    _check(context, room)
    if chart.horizontal:
        room, labels = _with_side_labels(context, room)
        field = _field(context, room)
        marks = labels.marks(field.centers(), field.frame.left - sizes.px(8), writer, _written(chart))
        stride = labels.stride
    else:
        flat = _labels(context, room) if chart.category_labels else None
        under = flat.height + sizes.px(8) if flat else 0.0
        room = replace(room, bottom=room.bottom + under)
        field = _field(context, room)
        marks = flat.marks(field.centers(), field.frame.bottom - sizes.px(6), writer, _written(chart)) if flat else []
        stride = flat.stride if isinstance(flat, CategoryLabels) else 1
    written, hidden = axis_texts(axes[0], field, sizes, writer)
    other = axis_texts(axes[1], field, sizes, writer)[0] if axes[1] else []
    titles = _titles(context, field, above_note + (key.height + sizes.px(8) if chart.legend == "below" else 0))
    first = min((mark.box.left for mark in written), default=field.frame.left)
    named = _head_marks(context, field, parts, above, first)
    texts = (*heads, *written, *other, *titles, *marks, *notes, *key.texts, *named.texts)
    rules = [*axis_rules(chart, axes, hidden, field, sizes), *_class_rules(chart, field, sizes, margin, width)]
    return FrameLayout(field, texts, tuple(rules), key.joined(named), _left_out(chart, stride, key))


def _left_out(chart: Chart, stride: int, key: Legend) -> tuple[LeftOut, ...]:
    """Return what has no text: thinned labels by name, save periods, which everybody can tell; and the legend's."""
    lacking = tuple(name for place, name in enumerate(chart.categories) if place % stride)
    thinned = (LeftOut("", lacking),) if lacking and chart.category_labels and not chart.period else ()
    return (*thinned, *((LeftOut("legend", key.left_out),) if key.left_out else ()))


def _written(chart: Chart) -> tuple[tuple[str, bool], ...]:
    """Return the role of each category's name, and whether it is bold: the vital few stand out; empty for all alike."""
    if chart.strong_rows:
        strong = set(chart.strong_rows)
        return tuple(("class-name", True) if n in strong else ("category", False) for n in range(len(chart.categories)))
    if not chart.classes:
        return ()
    few = {place for mark in chart.classes if mark.rank == 1 for place in range(mark.start, mark.end)}
    rest = {place for mark in chart.classes if not mark.rank for place in range(mark.start, mark.end)}
    return tuple(
        ("category-quiet" if place in rest else "category", place in few and chart.horizontal)
        for place in range(len(chart.categories))
    )


def _side_room(context: LayoutContext, axes: tuple[ValueAxis, ValueAxis | None], room: _Margins) -> _Margins:
    """Add what stands to the left and right of the frame, and below it: the value axes, names at the line ends."""
    sizes, writer, chart = context.sizes, context.pen, context.chart
    under = line_height(sizes.axis_title) + sizes.px(4) if chart.category_title and not chart.horizontal else 0.0
    if not chart.horizontal:
        left = room.left + axes[0].widest(sizes, writer) + sizes.px(9)
        right = room.right + (axes[1].widest(sizes, writer) + sizes.px(7) if axes[1] else 0.0)
        after = ends_width(chart, context.size[0], sizes, writer)
        return replace(room, left=left, right=right, bottom=room.bottom + under, after=after)
    bottom = room.bottom + sizes.px(9) + text_height(sizes.tick)
    if not _beside_ticks(context, axes):
        bottom += line_height(sizes.tick)
    widest = max(axis.widest(sizes, writer) for axis in axes if axis)
    at_end = any(axis.scale.fraction(axis.scale.ticks[-1:]) > _AT_END for axis in axes if axis) or chart.total_text
    # The last number is centered at its tick and may reach over the end of the axis.
    beyond = widest / 2 + (sizes.px(4) if at_end else -sizes.px(10))
    side = side_width(chart, sizes, writer) + columns_width(chart, context.size[0], sizes, writer)
    return replace(room, right=max(room.right + side, beyond), bottom=bottom)


def _beside_ticks(context: LayoutContext, axes: tuple[ValueAxis, ValueAxis | None]) -> bool:
    """Whether the title of the lower axis of a horizontal chart has room beside its first number."""
    chart, sizes, writer = context.chart, context.sizes, context.pen
    if not chart.primary_title:
        return True
    names = [one_line(name, longest=80) for name in chart.categories] if chart.category_labels else [""]
    widest = max(writer.width(name, sizes.label) for name in names)
    room = min(widest, MOST_BESIDE * context.size[0]) - sizes.px(8) - writer.width(axes[0].texts[0], sizes.tick) / 2
    return writer.width(text_line(chart.primary_title), sizes.tick, bold=True) <= room


def _between(context: LayoutContext) -> tuple[float, float]:
    """Return where names above the axes may be: between the margins, beside a legend in a column."""
    margin, beside, place = context.sizes.margin, _beside(context), context.chart.legend
    left, right = (beside if place == "left" else 0.0), (beside if place == "right" else 0.0)
    return margin + left, context.size[0] - margin - right


_Parts = tuple[list[HeadPart], list[HeadPart]]


def _head_parts(context: LayoutContext, room: _Margins) -> _Parts | None:
    """Return the names above the axes; None if they do not fit into a row, and a legend must say what is what."""
    chart, sizes, writer = context.chart, context.sizes, context.pen
    parts = head_parts(chart)
    widths = [parts_width(side, sizes, writer) for side in parts]
    free = (
        context.size[0] - room.left - room.right - 2 * sizes.margin
        if chart.horizontal
        else context.size[0] - 2 * sizes.margin
    )
    if chart.legend != "above":
        return parts
    fits = max(widths) <= free if chart.horizontal else sum(widths) + sizes.px(40) <= free
    return parts if fits else None


@dataclass(frozen=True)
class _Above:
    """What is written above the frame of a vertical chart, and how high: rows of names and of classes."""

    names: float = 0.0
    classes: float = 0.0
    heads: tuple[ClassHead, ...] = ()


def _heads_room(context: LayoutContext, room: _Margins, parts: _Parts) -> tuple[_Margins, _Above]:
    """Add the rows above the frame: names of axes, classes, and the numbers of a horizontal secondary axis."""
    chart, sizes, writer = context.chart, context.sizes, context.pen
    height, row = context.size[1], 1.45 * sizes.axis_title
    y = height - room.top
    y -= sizes.px(10)
    if chart.horizontal:
        names = 0.0
        if _upper(parts):
            y -= ASCENT * sizes.axis_title
            names = y
            y -= DESCENT * sizes.axis_title + sizes.px(4)
        if chart.secondary_axis:
            y -= text_height(sizes.tick) + sizes.px(7)
        return replace(room, top=height - y + sizes.px(2)), _Above(names)
    left, right = _between(context)
    frame = Box(room.left, 0.0, context.size[0] - room.right, 1.0)
    field = PlotArea(frame, len(chart.categories), False, room.after)
    heads, rows = None, 0
    if chart.classes:
        start = left + parts_width(parts[0], sizes, writer) + sizes.px(16) if parts[0] else room.left
        end = right - parts_width(parts[1], sizes, writer) - sizes.px(16) if parts[1] else right
        heads = class_heads(chart.classes, field, max(start, room.left), end, sizes, writer)
        if heads is None:
            rows, heads = 1, class_heads(chart.classes, field, room.left, right, sizes, writer)
    names = y - ASCENT * sizes.axis_title if parts[0] or parts[1] or chart.classes else 0.0
    classes = names - rows * row
    y = (classes if names else y) - sizes.px(19 if chart.classes else 13)
    return replace(room, top=height - y), _Above(names, classes, tuple(heads or ()))


def _head_marks(context: LayoutContext, field: PlotArea, parts: _Parts, above: _Above, first: float) -> Legend:
    """Return the names above the axes where they are; `first` is where the numbers of the lower axis begin."""
    chart, sizes, writer, frame = context.chart, context.sizes, context.pen, field.frame
    left, right = _between(context)
    if chart.horizontal:
        key = Legend.nothing()
        upper = _upper(parts)
        if upper:
            key = set_parts(upper, frame.left, right, above.names, sizes, writer)
        named = [part for part in parts[0] if part not in upper]
        fits = _beside_ticks(context, value_axes(chart, context.scales))
        text = " ".join(part.text for part in named)
        end = min(first - sizes.px(6), frame.left - sizes.px(8)) if fits else None
        texts = _foot_title(text, field, sizes, writer, end) if named else []
        side = [
            *side_texts(chart, field, sizes, writer),
            *column_texts(chart, context.size[0], field, sizes, writer),
        ]
        return key.joined(Legend.of_texts((*texts, *side)))
    gap, widths = sizes.px(16), [parts_width(side, sizes, writer) for side in parts]
    # Where both are too long, the right one has half of the row at least.
    start = right - min(widths[1], max(right - left - widths[0] - gap, (right - left - gap) / 2)) if parts[1] else right
    key = set_parts(parts[0], left, start - gap if parts[1] else right, above.names, sizes, writer)
    if parts[1]:
        key = key.joined(set_parts(parts[1], start, right, above.names, sizes, writer))
    return key.joined(Legend.of_texts(tuple(class_texts(above.heads, above.classes, sizes, writer))))


def _upper(parts: _Parts) -> list[HeadPart]:
    """Return what stands above a horizontal chart: the name of the upper axis, and whatever has a sample."""
    return [*parts[1], *(part for part in parts[0] if part.entry is not None)]


def _foot_title(text: str, field: PlotArea, sizes: Sizes, writer: TextWriter, end: float | None) -> list[TextMark]:
    """Return the title of the lower axis of a horizontal chart: before its first number, to `end`, or below them."""
    size, frame = sizes.tick, field.frame
    y = frame.bottom - sizes.px(7) - ASCENT * size
    if end is not None:
        return [writer.line(text, end, y, size, "axis-title", ha="right", bold=True)]
    line = fitted(text_line(text), size, True, frame.right - frame.left, writer.measure)
    return [writer.line(line, frame.left, y - line_height(size), size, "axis-title", bold=True)]


def _class_rules(chart: Chart, field: PlotArea, sizes: Sizes, margin: float, width: float) -> list[PathMark]:
    """Return the brackets of classes; beside horizontal bars a line parts them."""
    marks = brackets(chart.classes, field, sizes)
    if field.horizontal:
        for mark in chart.classes[1:]:
            y = float(field.along(mark.start))
            marks.append(rule(margin, y, width - margin, y, "row"))
    return marks


def _with_side_labels(context: LayoutContext, room: _Margins) -> tuple[_Margins, SideLabels]:
    sizes = context.sizes
    slot = (context.size[1] - room.top - room.bottom) / len(context.chart.categories)
    if slot <= 0:
        raise SizeLack(context.size, (0.0, _SMALLEST_FRAME)).error()
    chart = context.chart
    names: Sequence[str] = chart.categories
    if chart.period:
        names = side_period_labels(names, chart.period, chart.months or MONTHS)
    if not chart.category_labels:
        return room, SideLabels(((),) * len(names), 1, 0.0, sizes.label)
    labels = set_side_labels(
        names, slot, context.size[0], sizes, context.pen, bold=bool(chart.classes or chart.strong_rows)
    )
    return replace(room, left=room.left + labels.width + sizes.px(8)), labels


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
    return legend_width(context.chart, context.size[0], context.sizes, context.pen) + context.sizes.margin


def _legend(context: LayoutContext, room: _Margins, remark: str, top: float, *, column: bool) -> Legend:
    width, sizes, margin = context.size[0], context.sizes, context.sizes.margin
    if column:
        beside = _beside(context)
        left = margin if context.chart.legend == "left" else width - beside
        right, y = left + beside - margin, top - sizes.px(10)
        return legend(context.chart, left, right, y, sizes, context.pen, extra=remark, column=True, bottom=room.bottom)
    gap = 0.0 if context.chart.legend == "below" else sizes.px(10)
    start = margin if context.chart.horizontal else room.left
    return legend(context.chart, start, width - room.right, top - gap, sizes, context.pen, extra=remark)


def _titles(context: LayoutContext, field: PlotArea, above_note: float) -> list[TextMark]:
    """Return the title of the category axis."""
    chart, sizes, writer, frame = context.chart, context.sizes, context.pen, field.frame
    if not chart.horizontal:
        return title_under(chart.category_title, frame.left, frame.right, above_note, sizes, writer)
    if not chart.category_title:
        return []
    y = frame.top + sizes.px(7)
    text = fitted(text_line(chart.category_title), sizes.axis_title, True, frame.left - sizes.margin, writer.measure)
    return [writer.line(text, frame.left - sizes.px(8), y, sizes.axis_title, "axis-title", ha="right", bold=True)]


def _field(context: LayoutContext, room: _Margins) -> PlotArea:
    _check(context, room)
    width, height = context.size
    frame = Box(room.left, room.bottom, width - room.right, height - room.top)
    return PlotArea(frame, len(context.chart.categories), context.chart.horizontal, room.after)


def _check(context: LayoutContext, room: _Margins) -> None:
    width, height = context.size
    lacks = (
        _SMALLEST_FRAME - (width - room.left - room.right - room.after),
        _SMALLEST_FRAME - (height - room.top - room.bottom),
    )
    if max(lacks) > 0:
        raise SizeLack(context.size, lacks).error()
