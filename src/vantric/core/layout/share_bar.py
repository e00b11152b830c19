"""A bar of shares laid out: its parts named, and its tail drawn again, wider, with leaders to what is narrow."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from itertools import pairwise
from typing import TYPE_CHECKING

import numpy as np

from vantric.core.charts.chart import Chart
from vantric.core.layout.axis_heads import brackets, class_heads, class_size, class_texts
from vantric.core.layout.frame import LayoutContext, SizeLack
from vantric.core.layout.plan import RIM, AreaMark, Box, LeftOut, PathMark, Plan, RectMarks, TextMark, is_pale
from vantric.core.layout.text_layout import ASCENT, DESCENT, Sizes, TextWriter, line_height, wrapped
from vantric.core.layout.titles import PlotArea, head, note_line, rule
from vantric.core.numbers.number_format import text_line

if TYPE_CHECKING:
    from vantric.core.numbers.amounts import Floats

#: Shares of the height that is free: of the bar, what is between it and its tail, and the tail.
_BAR, _BETWEEN, _TAIL = 0.30, 0.17, 0.20
_ALONE = 0.62  # of the height: a bar without a tail
#: At most so high, in pixels of a 1280 x 800 picture.
_MOST_BAR, _MOST_BETWEEN, _MOST_TAIL, _MOST_ALONE = 170.0, 106.0, 112.0, 380.0
_LEAST = 110.0  # pixels of height, below which nothing can be read
_MOST_LINES = 3  # of a name in its part
_LARGE = 1.4  # bodies: a percent where there is room
_PAD, _NARROW_PAD = 10.0, 4.0  # pixels between the edges of a part and its text
_LEADER, _ELBOW = 1.5, 8.0  # bodies from row to row; pixels
_PARTED = 3.0  # pixels of a part: a narrower one has no line beside it
_BEHIND = -20  # a level: what is behind the bars


@dataclass(frozen=True)
class _Part:
    """One part of a bar with its text: what it is called, its percent, where it is, and what it is in the theme."""

    name: str
    percent: str
    box: Box
    role: str

    @property
    def bold(self) -> bool:
        """Whether it stands out."""
        return self.role.partition(":")[0] == "strong"


@dataclass
class _Texts:
    """The texts that are set, their leaders, and the names that found no place."""

    marks: list[TextMark] = field(default_factory=list)
    leaders: list[PathMark] = field(default_factory=list)
    missing: list[str] = field(default_factory=list)


def share_plan(context: LayoutContext) -> Plan:
    """Resolve every position of a bar of shares.

    Raises
    ------
    ChartError
        If the picture is too small.
    """
    chart, sizes, writer = context.chart, context.sizes, context.pen
    (width, height), margin = context.size, sizes.margin
    heads, top = head(chart, width - 2 * margin, height - margin + sizes.px(4), margin, sizes, writer)
    notes, bottom = note_line(chart, width, sizes, writer)
    row = line_height(class_size(sizes)) + sizes.px(12) if chart.classes else sizes.px(10)
    titled = line_height(sizes.tick) + sizes.px(4) if chart.primary_title else 0.0
    free = top - row - bottom - sizes.px(8)
    if free < _LEAST or width - 2 * margin < _LEAST:
        raise SizeLack(context.size, (_LEAST - (width - 2 * margin), _LEAST - free)).error()
    bar, tail = _boxes(chart, Box(margin, bottom + titled, width - margin, top - row), sizes)
    parts = _parts(chart, bar)
    again = _tail_parts(chart, parts, tail) if tail is not None else []
    texts = _Texts()
    lowest = (tail or bar).bottom
    floor = bottom + titled
    if chart.tail is not None:
        leading = _write(parts[: chart.tail.start], texts, context)
        texts.missing += [part.name for part in _turn(leading, texts, context)]
    waiting = _write(again or parts, texts, context, small=bool(again))
    if len(waiting) * _LEADER * sizes.body > lowest - floor:  # not all can be led to
        waiting = _turn(waiting, texts, context)
    _lead(waiting, texts, context, floor)
    base = _base(chart, texts, lowest, sizes, writer)
    classes, rules = _classes(context, bar)
    edges = np.array([part.box for part in parts])
    more = _again(chart, parts, again, bar, tail, context) if tail is not None else _Again()
    return Plan(
        size=context.size,
        frame=Box(bar.left, lowest, bar.right, bar.top),
        scales=chart.scales,
        centers=np.array([(bar.bottom + bar.top) / 2]),
        bars=RectMarks(edges, tuple(part.role for part in parts), (0,) * len(parts), _patterns(chart)),
        paths=(),
        point_sets=(),
        rules=(*rules, *_partings([*parts, *again]), *more.lines, *texts.leaders),
        swatches=RectMarks(np.array([part.box for part in again]).reshape(-1, 4), tuple(part.role for part in again)),
        swatch_paths=(),
        swatch_points=(),
        swatch_areas=more.areas,
        texts=(*heads, *notes, *classes, *more.texts, *texts.marks, *base),
        left_out=len(texts.missing),
        missing=(LeftOut("", tuple(texts.missing)),) if texts.missing else (),
        rims=_rims([*parts, *again], sizes),
        title=chart.title,
        description=chart.formatter.text(chart.description),
        horizontal=True,
    )


def _boxes(chart: Chart, room: Box, sizes: Sizes) -> tuple[Box, Box | None]:
    """Return where the bar is, and its tail beneath it."""
    high = room.height
    if chart.tail is None:
        return Box(room.left, room.top - min(_ALONE * high, sizes.px(_MOST_ALONE)), room.right, room.top), None
    bar = Box(room.left, room.top - min(_BAR * high, sizes.px(_MOST_BAR)), room.right, room.top)
    between = max(min(_BETWEEN * high, sizes.px(_MOST_BETWEEN)), line_height(sizes.body) + sizes.px(10))
    top = bar.bottom - between
    return bar, Box(room.left, top - min(_TAIL * high, sizes.px(_MOST_TAIL)), room.right, top)


def _parts(chart: Chart, bar: Box) -> list[_Part]:
    """Return the parts of the bar, which is as long as the whole."""
    ends = np.cumsum([series.values[0] for series in chart.bars])
    xs = bar.left + bar.width * chart.scales.primary.fraction(np.concatenate(([0.0], ends)))
    return [
        _Part(
            series.name,
            series.texts[0] if series.texts else "",
            Box(float(left), bar.bottom, float(right), bar.top),
            series.roles()[0],
        )
        for series, left, right in zip(chart.bars, xs[:-1], xs[1:], strict=True)
    ]


def _tail_parts(chart: Chart, parts: Sequence[_Part], tail: Box) -> list[_Part]:
    """Return the parts of the tail as they are drawn again: as wide as the whole bar."""
    own = parts[chart.tail.start :] if chart.tail else []
    start = own[0].box.left
    factor = tail.width / (own[-1].box.right - start)

    def moved(x: float) -> float:
        return tail.left + factor * (x - start)

    return [replace(part, box=Box(moved(part.box.left), tail.bottom, moved(part.box.right), tail.top)) for part in own]


def _write(parts: Sequence[_Part], texts: _Texts, context: LayoutContext, *, small: bool = False) -> list[_Part]:
    """Write names and percents into the parts that hold them, and return the others."""
    waiting = []
    for part in parts:
        marks = _inside(part, context, small=small)
        texts.marks += marks
        waiting += [part] if part.percent and not marks else []
    return waiting


def _turn(parts: Sequence[_Part], texts: _Texts, context: LayoutContext) -> list[_Part]:
    """Write names and percents upward into the parts that are high enough, and return the others."""
    waiting = []
    for part in parts:
        marks = _upward(part, context)
        texts.marks += marks
        waiting += [] if marks else [part]
    return waiting


def _inside(part: _Part, context: LayoutContext, *, small: bool) -> list[TextMark]:
    """Return the name from the upper left corner of a part and the percent at its foot; nothing if they do not fit."""
    sizes, writer, box = context.sizes, context.pen, part.box
    pad = sizes.px(_PAD if box.width > sizes.px(6 * _PAD) else _NARROW_PAD)
    room, size, role = box.width - 2 * pad, sizes.body, f"on-{part.role}"
    name = text_line(part.name)
    lines = wrapped(name, size, part.bold, room, writer.measure) if part.percent else None
    if lines is None or len(lines) > _MOST_LINES or writer.width(part.percent, size, bold=True) > room:
        return []
    large = size if small or writer.width(part.percent, _LARGE * size, bold=True) > room else _LARGE * size
    high = len(lines) * line_height(size) + line_height(large)
    if high + 1.2 * pad > box.height:
        return _in_one_line(part, context, name, pad)
    x, y = box.left + pad, box.top - 0.8 * pad - ASCENT * size
    marks = [
        writer.line(line, x, y - row * line_height(size), size, role, bold=part.bold) for row, line in enumerate(lines)
    ]
    foot = box.bottom + 0.8 * pad + DESCENT * large
    return [*marks, writer.line(part.percent, x, foot, large, role, bold=True)]


def _in_one_line(part: _Part, context: LayoutContext, name: str, pad: float) -> list[TextMark]:
    """Return name and percent beside each other in a bar that is low; nothing if they do not fit."""
    writer, box, size = context.pen, part.box, context.sizes.body
    text = f"{name} {part.percent}"
    if writer.width(text, size, bold=part.bold) > box.width - 2 * pad or line_height(size) > box.height:
        return []
    middle = (box.bottom + box.top) / 2
    return [writer.middle(text, box.left + pad, middle, size, f"on-{part.role}", bold=part.bold)]


def _upward(part: _Part, context: LayoutContext) -> list[TextMark]:
    """Return name and percent in one line that is read upward; nothing if it does not fit."""
    writer, box, size = context.pen, part.box, context.sizes.body
    text = f"{text_line(part.name)} {part.percent}"
    long = writer.width(text, size, bold=part.bold)
    if not part.percent or box.width < line_height(size) or long > box.height - 2 * _NARROW_PAD:
        return []
    x, y = (box.left + box.right) / 2 + 0.35 * size, (box.bottom + box.top) / 2
    return [writer.line(text, x, y, size, f"on-{part.role}", ha="center", bold=part.bold, rotation=90.0)]


def _lead(parts: Sequence[_Part], texts: _Texts, context: LayoutContext, floor: float) -> None:
    """Lead to the names of parts below their bar, from the left to the right, each a row lower."""
    sizes, size = context.sizes, context.sizes.body
    middles = [(part.box.left + part.box.right) / 2 for part in parts]
    row = 0
    for part, x, after in zip(parts, middles, [*middles, context.size[0] - sizes.margin][1:], strict=True):
        y = part.box.bottom - sizes.px(6) - (row + 0.5) * _LEADER * size
        marks = _led(part, x, y, context, after)
        if not marks or y - 0.5 * _LEADER * size < floor:
            texts.missing.append(part.name)
            continue
        row += 1
        texts.marks += marks
        near = x - 0.75 * sizes.px(_ELBOW) * (1 if marks[0].box.right < x else -1)
        texts.leaders.append(PathMark(np.array([x, x, near]), np.array([part.box.bottom, y, y]), "leader"))


def _meets(box: Box, other: Box) -> bool:
    return box.bottom < other.top and other.bottom < box.top


def _led(part: _Part, x: float, y: float, context: LayoutContext, after: float) -> list[TextMark]:
    """Return a name with its percent to the left of the end of its leader, or to the right if no leader is there."""
    sizes, writer = context.sizes, context.pen
    size, elbow = sizes.body, sizes.px(_ELBOW)
    name = text_line(part.name)
    ends = writer.width(part.percent, size, bold=True) + sizes.px(4)
    long = writer.width(name, size) + ends
    if x - elbow - long >= sizes.margin:
        end = x - elbow
    elif x + elbow + long < after:
        end = x + elbow + long
    else:
        return []
    return [
        writer.middle(name, end - ends, y, size, "value", ha="right"),
        writer.middle(part.percent, end, y, size, "value", ha="right", bold=True),
    ]


def _base(chart: Chart, texts: _Texts, lowest: float, sizes: Sizes, writer: TextWriter) -> list[TextMark]:
    """Return what the percents are of, below the lowest bar and all that is led to."""
    if not chart.primary_title:
        return []
    low = min([lowest, *(mark.box.bottom for mark in texts.marks)])
    text, size = text_line(chart.primary_title), sizes.tick
    return [writer.line(text, sizes.margin, low - sizes.px(6) - ASCENT * size, size, "tick")]


def _classes(context: LayoutContext, bar: Box) -> tuple[list[TextMark], list[PathMark]]:
    """Return the classes of the parts with their brackets above the bar."""
    chart, sizes, writer = context.chart, context.sizes, context.pen
    if not chart.classes:
        return [], []
    shares = np.concatenate(([0.0], np.cumsum([series.values[0] for series in chart.bars])))
    area = _SharesArea(bar, len(chart.bars), ends=shares / shares[-1])
    heads = class_heads(chart.classes, area, bar.left, bar.right, sizes, writer)
    marks = class_texts(heads or [], bar.top + sizes.px(12) + DESCENT * class_size(sizes), sizes, writer)
    return marks, brackets(chart.classes, area, sizes)


@dataclass(frozen=True)
class _SharesArea(PlotArea):
    """A field on which places are where the parts of a bar end, in place of equal slots."""

    ends: Floats = field(default_factory=lambda: np.zeros(1))

    def along(self, places: Floats | float) -> Floats:
        """Return where the ends of parts are, counted from 0."""
        return self.frame.left + self.frame.width * self.ends[np.asarray(places, dtype=np.intp)]


@dataclass(frozen=True)
class _Again:
    """What leads from a bar to its tail."""

    areas: tuple[AreaMark, ...] = ()
    lines: tuple[PathMark, ...] = ()
    texts: tuple[TextMark, ...] = ()


def _again(
    chart: Chart, parts: Sequence[_Part], again: Sequence[_Part], bar: Box, tail: Box, context: LayoutContext
) -> _Again:
    sizes, writer = context.sizes, context.pen
    start = parts[-len(again)].box.left
    xs = np.array([start, bar.right, tail.right, tail.left])
    ys = np.array([bar.bottom, bar.bottom, tail.top, tail.top])
    lines = (
        rule(start, bar.bottom, tail.left, tail.top, "leader"),
        rule(bar.right, bar.bottom, tail.right, tail.top, "leader"),
    )
    text, size = chart.tail.text if chart.tail else "", sizes.body
    end, low = tail.right - sizes.px(_PAD), tail.top + sizes.px(7)
    label = writer.line(text, end, low, size, "class-text", ha="right", bold=True)
    return _Again((AreaMark(xs, ys, "wash", _BEHIND),), lines, (label,))


def _partings(parts: Sequence[_Part]) -> list[PathMark]:
    """Return the lines between parts that are wide enough for one."""
    return [
        rule(part.box.left, part.box.bottom, part.box.left, part.box.top, "parting")
        for before, part in pairwise(parts)
        if _meets(before.box, part.box) and min(before.box.width, part.box.width) >= _PARTED
    ]


def _rims(parts: Sequence[_Part], sizes: Sizes) -> RectMarks:
    """Return the upper edges of pale parts."""
    pale = [part for part in parts if is_pale(part.role)]
    edges = [(part.box.left, part.box.top - sizes.px(RIM), part.box.right, part.box.top) for part in pale]
    return RectMarks(np.array(edges).reshape(-1, 4), tuple(f"rim-{part.role}" for part in pale), (0,) * len(pale))


def _patterns(chart: Chart) -> tuple[str, ...]:
    return tuple(series.pattern or "" for series in chart.bars)
