"""From a chart to its plan."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from vantric.core.axes import ScalePair
from vantric.core.charting.categorylabels import set_labels
from vantric.core.charting.chart import Bars, Chart, Line
from vantric.core.charting.cutmark import cut_rules, cut_text
from vantric.core.charting.furniture import Ticks, axis_rules, axis_texts, foot, gutters, head
from vantric.core.charting.legend import Legend, legend
from vantric.core.charting.lettering import Pen, Sizes
from vantric.core.charting.measure import Measure, table_measure
from vantric.core.charting.places import Places
from vantric.core.charting.plan import Box, PathMark, Plan, PointMarks, RectMarks, TextMark
from vantric.core.charting.valuelabels import bar_labels, point_labels
from vantric.errors import ChartError

_BAR_SHARE = 0.8  # of a category's slot
_SMALLEST_FRAME = 60.0


def make_plan(chart: Chart, size: tuple[float, float] = (1280, 800), measure: Measure = table_measure) -> Plan:
    """Resolve every position of a chart.

    Parameters
    ----------
    chart
        What is wanted: bars on the primary axis, a line on the secondary.
    size
        Width and height of the picture in pixels.
    measure
        Tells how wide text is; a fixed table by default, the renderer's own when drawing.

    Returns
    -------
    Plan

    Raises
    ------
    ChartError
        If the picture is too small for the chart.
    """
    desk = _Desk(chart, size, Sizes.of(*size), Pen(measure), chart.scales())
    sheet = _lay_out(desk, remark="")
    placed = _place_labels(desk, sheet)
    if placed is None and chart.cut:  # no room beside the marks: what is cut stands in the legend's row
        sheet = _lay_out(desk, remark=chart.cut.text)
        placed = _place_labels(desk, sheet, with_cut_text=False)
    return _assemble(desk, sheet, placed or _Placed((), 0))


@dataclass(frozen=True)
class _Desk:
    """What every step of the planning needs."""

    chart: Chart
    size: tuple[float, float]
    sizes: Sizes
    pen: Pen
    scales: ScalePair

    @property
    def bars(self) -> Bars | None:
        return next((series for series in self.chart.series if isinstance(series, Bars)), None)

    @property
    def line(self) -> Line | None:
        return next((series for series in self.chart.series if isinstance(series, Line)), None)


@dataclass(frozen=True)
class _Sheet:
    """The page laid out: margins, frame, and the marks inside it."""

    frame: Box
    slot: float
    centres: NDArray[np.float64]
    texts: tuple[TextMark, ...]
    rules: tuple[PathMark, ...]
    legend: Legend
    bars: RectMarks
    path: PathMark
    points: PointMarks


@dataclass(frozen=True)
class _Placed:
    """The labels that found a place, and how many did not."""

    texts: tuple[TextMark, ...]
    left_out: int


def _lay_out(desk: _Desk, *, remark: str) -> _Sheet:
    """Set head, legend, foot and axes around the frame that they leave, and the marks into it."""
    chart, sizes, pen = desk.chart, desk.sizes, desk.pen
    width, height = desk.size
    ticks = Ticks.of(chart, desk.scales)
    left_gutter, right_gutter = gutters(chart, ticks, sizes, pen)
    left, right = left_gutter, width - right_gutter
    if right - left < _SMALLEST_FRAME:
        raise _too_small(desk)
    slot = (right - left) / len(chart.categories)
    centres = np.asarray(left + slot * (np.arange(len(chart.categories)) + 0.5), dtype=np.float64)
    head_texts, below_head = head(chart, width - 2 * sizes.px(24), height - sizes.px(18), sizes.px(24), sizes, pen)
    key = legend(chart, left, right, below_head - sizes.px(10), sizes, pen, extra=remark)
    labels = set_labels(chart.categories, centres, slot, height, sizes, pen)
    foot_texts, above_foot = foot(chart, left, right, sizes, pen)
    gap = sizes.px(8)
    frame = Box(left, above_foot + labels.height + 1.5 * gap, right, key.bottom - gap)
    if frame.height < _SMALLEST_FRAME:
        raise _too_small(desk)
    texts = [
        *head_texts,
        *axis_texts(chart, desk.scales, ticks, frame, desk.size, sizes, pen),
        *labels.marks(centres, frame.bottom - gap, sizes.label, pen),
        *foot_texts,
        *key.texts,
    ]
    rules = axis_rules(chart, desk.scales, frame, sizes)
    bars, path, points = _marks(desk, frame, centres, slot)
    return _Sheet(frame, slot, centres, tuple(texts), tuple(rules), key, bars, path, points)


def _too_small(desk: _Desk) -> ChartError:
    width, height = desk.size
    return ChartError(f"a picture of {width:.0f} x {height:.0f} is too small for this chart; give it more room")


def _marks(
    desk: _Desk, frame: Box, centres: NDArray[np.float64], slot: float
) -> tuple[RectMarks, PathMark, PointMarks]:
    """Turn values into rectangles and points inside the frame."""
    edges, roles = np.empty((0, 4)), []
    if desk.bars:
        heights = desk.scales.primary.fraction(desk.bars.values) * frame.height
        half = np.full(len(centres), slot * _BAR_SHARE / 2)
        bottom = np.full(len(centres), frame.bottom)
        edges = np.column_stack((centres - half, bottom, centres + half, bottom + heights))
        strong = desk.bars.strong
        roles = ["bar" if strong is None else "strong" if n < strong else "quiet" for n in range(len(centres))]
    xs, ys = np.empty(0), np.empty(0)
    if desk.line:
        xs, ys = centres, frame.bottom + desk.scales.secondary.fraction(desk.line.values) * frame.height
    radius = min(desk.sizes.px(5), 0.3 * slot)
    return RectMarks(edges, tuple(roles)), PathMark(xs, ys, "line"), PointMarks(xs, ys, radius, "point")


def _place_labels(desk: _Desk, sheet: _Sheet, *, with_cut_text: bool = True) -> _Placed | None:
    """Place the cut-off's text, then the labels of bars and points; None if the cut-off's text finds no place."""
    places = _taken(sheet)
    texts: list[TextMark] = []
    cut = desk.chart.cut
    if cut:
        level = _level(desk, sheet, cut.value)
        for line in cut_rules(cut, level, sheet.path.xs, sheet.path.ys, sheet.frame):
            places.take_segment(*line.xs[:1], *line.ys[:1], *line.xs[1:], *line.ys[1:])
        if with_cut_text:
            text = cut_text(cut, level, sheet.path.xs, sheet.path.ys, sheet.frame, places, desk.pen, desk.sizes)
            if text is None:
                return None
            texts.append(text)
    wanted = 0
    if desk.bars and desk.bars.labels:
        roles, labels = sheet.bars.roles, desk.bars.labels
        texts += bar_labels(labels, sheet.bars.edges, roles, sheet.slot, places, desk.pen, desk.sizes)
        wanted += sum(map(bool, labels))
    if desk.line and desk.line.labels:
        points, labels = sheet.points, desk.line.labels
        telling = (0, cut.count - 1 if cut else 0, len(labels) - 1)
        texts += point_labels(
            labels, points.xs, points.ys, points.radius, sheet.slot, places, desk.pen, desk.sizes, first=telling
        )
        wanted += sum(map(bool, labels))
    return _Placed(tuple(texts), wanted - len(texts) + (1 if cut and with_cut_text else 0))


def _taken(sheet: _Sheet) -> Places:
    """Return the frame with everything in it that a label must not cover."""
    frame, radius = sheet.frame, sheet.points.radius
    places = Places(Box(frame.left + 2, frame.bottom + 1, frame.right, frame.top))
    for number, edge in enumerate(sheet.bars.edges.tolist()):
        places.take(Box(*edge), owner=number)
    points = list(zip(sheet.path.xs.tolist(), sheet.path.ys.tolist(), strict=True))
    for x, y in points:
        places.take(Box(x - radius - 1, y - radius - 1, x + radius + 1, y + radius + 1))
    for start, end in pairwise(points):
        places.take_segment(*start, *end)
    return places


def _level(desk: _Desk, sheet: _Sheet, value: float) -> float:
    return sheet.frame.bottom + float(desk.scales.secondary.fraction(value)) * sheet.frame.height


def _assemble(desk: _Desk, sheet: _Sheet, placed: _Placed) -> Plan:
    chart, rules = desk.chart, sheet.rules
    if chart.cut:
        level = _level(desk, sheet, chart.cut.value)
        rules = (*rules, *cut_rules(chart.cut, level, sheet.path.xs, sheet.path.ys, sheet.frame))
    return Plan(
        size=desk.size,
        frame=sheet.frame,
        scales=desk.scales,
        centres=sheet.centres,
        bars=sheet.bars,
        path=sheet.path,
        points=sheet.points,
        rules=rules,
        swatches=sheet.legend.rects,
        swatch_paths=sheet.legend.paths,
        swatch_points=sheet.legend.points,
        texts=(*sheet.texts, *placed.texts),
        left_out=placed.left_out,
        clear=_clear(placed.texts),
        title=chart.title,
        description=chart.description,
    )


def _clear(texts: tuple[TextMark, ...]) -> NDArray[np.float64]:
    """Return where the grid is wiped out behind labels, so that no line runs through a number."""
    boxes = [mark.box for mark in texts if not mark.role.startswith("on-")]
    return np.array(boxes, dtype=np.float64).reshape(-1, 4)
