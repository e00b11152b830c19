"""The marks of the series inside the frame: bars, lines and steps, areas, stems and points."""

from __future__ import annotations

from dataclasses import field, replace
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from vantric.base.lazily import dataclass
from vantric.core.charts.chart import Chart
from vantric.core.charts.series import Bars, Points, Series
from vantric.core.layout.plan import RIM, AreaMark, Box, PathMark, PointMarks, RectMarks, is_pale, point_role
from vantric.core.layout.text_layout import Sizes
from vantric.core.layout.titles import PlotArea, rule

if TYPE_CHECKING:
    from vantric.core.numbers.amounts import Floats

_SMALL, _LARGE, _CUT_POINT = 2.8, 4.2, 5.3  # pixels of radius: of a cumulative line, of others, at a cutoff
_SMALLEST_POINT = 1.2  # pixels of radius: below it a line's points are not drawn
#: What is in front of what: lines in front of bars, areas behind all.
_FRONT = {"area": -20, "bars": 0, "stems": 20, "steps": 30, "line": 30, "points": 40}
#: Series of one kind keep their own order between two kinds.
_PER_ORDER = 100
_OVER = 0.5  # of a level: what is over a bar and under the next one


@dataclass(frozen=True)
class Marks:
    """What is drawn of the series.

    Attributes
    ----------
    bars : RectMarks of k x n rectangles
        Series after series; without extent where a value is missing.
    areas, paths
        Of lines, steps and areas, each broken where a value is missing.
    points : one a series that is no bars
        Where its values are; what is missing is nowhere (NaN).
    stems
        The thin lines that points are on.
    heaps : dict of stack -> ndarray of shape (n, 4)
        What each stack of bars covers.
    stacks
        The stack of each series of bars; None for bars of their own.
    partings
        Thin lines between bars that touch.
    whiskers
        The intervals of bars.
    rims
        The value ends of pale bars.
    drawn
        The points as they are drawn: hollow where they are within a limit, larger where a cutoff falls.
    """

    bars: RectMarks
    areas: tuple[AreaMark, ...]
    paths: tuple[PathMark, ...]
    points: tuple[PointMarks, ...]
    stems: tuple[PathMark, ...]
    heaps: dict[int, Floats]
    stacks: tuple[int | None, ...] = ()
    partings: tuple[PathMark, ...] = ()
    whiskers: tuple[PathMark, ...] = ()
    rims: RectMarks = field(default_factory=lambda: RectMarks(np.empty((0, 4)), ()))
    drawn: tuple[PointMarks, ...] = ()


def set_marks(chart: Chart, area: PlotArea, sizes: Sizes) -> Marks:
    """Turn the values of all series into marks."""
    bars, stacks = _bars(chart, area)
    areas: list[AreaMark] = []
    paths: list[PathMark] = []
    points: list[PointMarks] = []
    drawn: list[PointMarks] = []
    stems: list[PathMark] = []
    for number, series in enumerate(chart.series):
        if isinstance(series, Bars):
            continue
        shares = _shares(chart, series)
        point_marks = replace(_spots(chart, series, area, sizes, shares), series=number)
        points.append(point_marks)
        drawn += _drawn(chart, series, point_marks, sizes)
        if series.kind in ("line", "steps", "area"):
            paths += [replace(mark, series=number) for mark in _paths(chart, series, area, shares)]
        if series.kind == "area":
            areas += [replace(mark, series=number) for mark in _areas(chart, series, area, shares)]
        if series.kind == "stems":
            stems += [replace(mark, series=number) for mark in _stems(chart, series, area, point_marks)]
    areas += [*_bands(chart, area), *_ribbon(chart, area)]
    return Marks(
        bars,
        tuple(areas),
        tuple(paths),
        tuple(points),
        tuple(stems),
        _heaps(bars.edges, area.count, stacks),
        stacks,
        _partings(chart, bars.edges, area, stacks),
        tuple(_whiskers(chart, area)),
        _rims(chart, bars, area, sizes),
        tuple(drawn),
    )


def _rims(chart: Chart, bars: RectMarks, area: PlotArea, sizes: Sizes) -> RectMarks:
    """Return the value ends of pale bars: a bar that is shorter than its rim is all rim."""
    pale = [number for number, role in enumerate(bars.roles) if is_pale(role)]
    if not pale:
        return RectMarks(np.empty((0, 4)), ())
    down = np.concatenate([np.array(series.values) < 0 for series in chart.bars])[pale]
    edges = bars.edges[pale].copy()
    low, high = (0, 2) if area.horizontal else (1, 3)
    thick = np.minimum(sizes.px(RIM), edges[:, high] - edges[:, low])
    edges[:, low] = np.where(down, edges[:, low], edges[:, high] - thick)
    edges[:, high] = np.where(down, edges[:, low] + thick, edges[:, high])
    levels = tuple(bars.levels[number] for number in pale)
    return RectMarks(edges, tuple(f"rim-{bars.roles[number]}" for number in pale), levels)


def _drawn(chart: Chart, series: Series, points: PointMarks, sizes: Sizes) -> list[PointMarks]:
    """Return the points as they are drawn: within a limit hollow; larger at the last category inside a cutoff."""
    every = np.arange(len(points.xs))
    if isinstance(series, Points) and (chart.joined or chart.has_neutral):
        strong = np.isin(every, chart.strong_rows)
        sets = [
            _only(points, ~strong),
            *([replace(_only(points, strong), role="point-strong")] if strong.any() else []),
        ]
        return [replace(each, hollow=series.hollow) for each in sets]
    if chart.cuts and series.kind == "line" and series.secondary and points.radius:
        large = _at_cuts(chart, every)
        cut = replace(_only(points, large), radius=max(sizes.px(_CUT_POINT), points.radius))
        return [_only(points, ~large), *([cut] if large.any() else [])]
    limits = [item for item in chart.references if item.upto is None and (item.axis == "secondary") == series.secondary]
    alike = [item for item in chart.marked if item.secondary == series.secondary]
    if len(limits) != 1 or len(alike) != 1 or series.kind not in ("line", "points", "stems"):
        return [points]
    beyond = np.array(series.values) > limits[0].level
    return [replace(_only(points, ~beyond), hollow=True), _only(points, beyond)]


def _at_cuts(chart: Chart, every: NDArray[np.intp]) -> NDArray[np.bool_]:
    return np.isin(every, [cut.count - 1 for cut in chart.cuts if cut.count])


def _only(points: PointMarks, places: NDArray[np.bool_]) -> PointMarks:
    """Return the points of some categories; the others are nowhere."""
    return replace(points, xs=np.where(places, points.xs, np.nan), ys=np.where(places, points.ys, np.nan))


def front(series: Series, more: int = 0) -> int:
    """Return how far in front a series is: as the user says, else as its kind does."""
    return _PER_ORDER * series.layer + _FRONT[series.kind] + more


def _floor(chart: Chart, series: Series) -> float:
    """Return the share of the axis on which bars, areas and stems are: zero, or the axis' own floor."""
    return float(np.clip(chart.scale_of(series).fraction(0.0), 0.0, 1.0))


def _shares(chart: Chart, series: Series) -> Floats:
    return chart.scale_of(series).fraction(series.values)


def _bars(chart: Chart, field: PlotArea) -> tuple[RectMarks, tuple[int | None, ...]]:
    series = chart.bars
    if not series:
        return RectMarks(np.empty((0, 4)), ()), ()
    edges, roles, levels = [], [], []
    places = chart.bar_places(field.slot)
    for bars, place in zip(series, places, strict=True):
        scale = chart.scale_of(bars)
        starts = np.arange(field.count) + place.start
        ends = [np.clip(scale.fraction(values), 0.0, 1.0) for values in (place.low, place.high)]
        low, high = (np.where(np.isnan(end), _floor(chart, bars), end) for end in ends)
        edges.append(field.rects(starts, starts + place.width, np.minimum(low, high), np.maximum(low, high)))
        roles += bars.roles()
        levels += [front(bars, place.front)] * field.count
    patterns = tuple(item.pattern or "" for item in series for _ in range(field.count))
    return RectMarks(np.concatenate(edges), tuple(roles), tuple(levels), patterns), tuple(p.stack for p in places)


def _spots(chart: Chart, series: Series, field: PlotArea, sizes: Sizes, shares: Floats) -> PointMarks:
    """Return the points of a series; without radius where they are too near to be seen, or not wanted."""
    places = np.arange(field.count) + (1.0 if chart.line_at == "edge" else 0.5)
    inside = np.where((shares >= -1e-9) & (shares <= 1 + 1e-9), shares, np.nan)  # limits may cut values off
    xs, ys = field.points(places, inside)
    xs, ys = np.where(np.isnan(inside), np.nan, xs), np.where(np.isnan(inside), np.nan, ys)
    radius = min(sizes.px(_SMALL if chart.is_cumulative else _LARGE), 0.3 * field.slot)
    if series.kind in ("points", "stems"):
        radius = max(radius, sizes.px(2.0))
    if series.marker_size is not None:
        radius = sizes.px(series.marker_size) / 2
    bare = series.kind in ("area", "steps") and series.marker is None
    if series.marker == "none" or bare or radius < _SMALLEST_POINT:
        radius = 0.0
    return PointMarks(xs, ys, radius, point_role(series.role), series.marker or "", front(series, 5))


def _paths(chart: Chart, series: Series, field: PlotArea, shares: Floats) -> list[PathMark]:
    """Return the line of a series: broken where a value is missing, unless it is bridged."""
    marks = []
    for run in _runs(shares, series.bridge):
        if series.kind == "steps":
            places, heights = np.column_stack((run, run + 1.0)).ravel(), np.repeat(shares[run], 2)
        else:
            places, heights = run + (1.0 if chart.line_at == "edge" else 0.5), shares[run]
        if chart.line_at == "edge" and series.kind == "line" and run[0] == 0:
            zero = chart.scale_of(series).fraction(np.zeros(1))
            places, heights = np.concatenate(([0.0], places)), np.concatenate((zero, heights))
        xs, ys = field.points(places, np.clip(heights, -1.0, 2.0))
        line = PathMark(xs, ys, series.role, series.width, series.pattern or "", front(series))
        if len(xs) > 1 or series.kind == "line":
            marks.append(line)
    return marks


def _runs(shares: Floats, bridge: bool) -> list[NDArray[np.intp]]:
    """Return the numbers of the values that one line joins."""
    there = np.flatnonzero(np.isfinite(shares))
    if bridge or not len(there):
        return [there] if len(there) else []
    return np.split(there, np.flatnonzero(np.diff(there) > 1) + 1)


def _areas(chart: Chart, series: Series, field: PlotArea, shares: Floats) -> list[AreaMark]:
    marks = []
    low = _floor(chart, series)
    for run in _runs(shares, series.bridge):
        places = run + 0.5
        heights = np.clip(shares[run], 0.0, 1.0)
        if len(run) == 1:  # one value by itself is as wide as its category
            places, heights = np.array([run[0], run[0] + 1.0]), np.repeat(heights, 2)
        xs, ys = field.points(
            np.concatenate((places[:1], places, places[-1:])), np.concatenate(([low], heights, [low]))
        )
        marks.append(AreaMark(xs, ys, series.role, front(series)))
    return marks


def _stems(chart: Chart, series: Series, field: PlotArea, spots: PointMarks) -> list[PathMark]:
    floor = float(field.up(_floor(chart, series)))
    ends = zip(spots.xs.tolist(), spots.ys.tolist(), strict=True)
    return [
        PathMark(
            np.array([floor if field.horizontal else x, x]),
            np.array([y if field.horizontal else floor, y]),
            series.role,
            series.width or 2.0,
            series.pattern or "",
            front(series),
        )
        for x, y in ends
        if x == x and y == y
    ]


def _whiskers(chart: Chart, field: PlotArea) -> list[PathMark]:
    """Return the interval of each bar as a thin line with a short stroke at either end; that of a point has none."""
    marks = []
    for series in chart.marked:
        for index, (low, high) in enumerate(series.spreads):
            shares = np.clip(chart.scale_of(series).fraction(np.array([low, high])), 0.0, 1.0)
            xs, ys = field.points(np.array([index + 0.5, index + 0.5]), shares)
            if np.isfinite(shares).all():
                marks.append(PathMark(xs, ys, "interval-strong" if index in chart.strong_rows else "interval-quiet"))
    for bar, place in zip(chart.bars, chart.bar_places(field.slot), strict=True):
        middle, half = place.start + place.width / 2, min(place.width / 6, 0.06)
        for index, (low, high) in enumerate(bar.spreads):
            ends = np.clip(chart.scale_of(bar).fraction(np.array([low, high])), 0.0, 1.0)
            for across, along in (
                ([middle, middle], ends),
                ([middle - half, middle + half], ends[[0, 0]]),
                ([middle - half, middle + half], ends[[1, 1]]),
            ):
                xs, ys = field.points(index + np.array(across), along)
                marks.append(PathMark(xs, ys, "interval"))
    return marks


def _bands(chart: Chart, field: PlotArea) -> list[AreaMark]:
    """Return the band of each series that has one, in steps from category to category, behind the bars."""
    marks = []
    for bar in chart.bars:
        if bar.band:
            places = np.repeat(np.arange(field.count + 1.0), 2)[1:-1]
            low, high = (chart.scale_of(bar).fraction(np.repeat(ends, 2)) for ends in zip(*bar.band, strict=True))
            xs, ys = field.points(np.concatenate((places, places[::-1])), np.concatenate((low, high[::-1])))
            marks.append(AreaMark(xs, ys, "band", _FRONT["area"]))
    return marks


def _ribbon(chart: Chart, area: PlotArea) -> list[AreaMark]:
    """Return what is shaded between two values a category, behind everything of the series."""
    if not chart.ribbon:
        return []
    low, high = (chart.scales.primary.fraction(np.array(ends)) for ends in zip(*chart.ribbon, strict=True))
    marks = []
    for run in _runs(low, bridge=False):
        places = np.repeat(np.concatenate((run, run[-1:] + 1.0)), 2)[1:-1]
        bottom, top = (np.clip(np.repeat(ends[run], 2), 0.0, 1.0) for ends in (low, high))
        xs, ys = area.points(np.concatenate((places, places[::-1])), np.concatenate((bottom, top[::-1])))
        marks.append(AreaMark(xs, ys, "band", 2 * _FRONT["area"]))
    return marks


def _heaps(edges: Floats, count: int, stacks: tuple[int | None, ...]) -> dict[int, Floats]:
    outline_of: dict[int, Floats] = {}
    rects = edges.reshape(-1, count, 4) if len(edges) else edges
    for stack in dict.fromkeys(number for number in stacks if number is not None):
        members = rects[[number for number, index in enumerate(stacks) if index == stack]]
        outline_of[stack] = np.concatenate((members[:, :, :2].min(axis=0), members[:, :, 2:].max(axis=0)), axis=1)
    return outline_of


def _partings(chart: Chart, edges: Floats, field: PlotArea, stacks: tuple[int | None, ...]) -> tuple[PathMark, ...]:
    """Return thin lines between bars that touch: the parts of a stack, and neighbors where points are at the edges.

    Each is in front of its own bars and behind those that are in front of them.
    """
    marks: list[PathMark] = []
    numbers: set[int] = set()
    places = chart.bar_places(field.slot)
    for number, stack in enumerate(stacks):
        if stack is not None and stack in numbers:
            level = front(chart.bars[number], places[number].front) + _OVER
            marks += _between(chart.bars[number].values, edges[number * field.count :], field, level)
        elif stack is not None:
            numbers.add(stack)
    if chart.line_at == "edge" and len(edges):
        rects = edges.reshape(-1, field.count, 4)
        outlines = np.concatenate((rects[:, :, :2].min(axis=0), rects[:, :, 2:].max(axis=0)), axis=1)
        for (left, bottom, right, top), after in zip(outlines[:-1].tolist(), outlines[1:].tolist(), strict=True):
            if field.horizontal:
                marks.append(rule(left, bottom, max(right, after[2]), bottom, "parting"))
            else:
                marks.append(rule(right, bottom, right, max(top, after[3]), "parting"))
    return tuple(marks)


def _between(values: tuple[float, ...], edges: Floats, field: PlotArea, level: float) -> list[PathMark]:
    """Return a line at the foot of each bar that is on another; a negative one hangs from its upper end."""
    marks = []
    for value, (left, bottom, right, top) in zip(values, edges[: field.count].tolist(), strict=True):
        if right > left and top > bottom:
            if field.horizontal:
                x = right if value < 0 else left
                marks.append(rule(x, bottom, x, top, "parting", level=level))
            else:
                y = top if value < 0 else bottom
                marks.append(rule(left, y, right, y, "parting", level=level))
    return marks


def row_washes(chart: Chart, width: float, field: PlotArea) -> list[Box]:
    """Return what is behind the rows that stand out, across the whole picture."""
    half = field.slot / 2
    centers = field.centers()
    return [Box(0.0, float(centers[row]) - half, width, float(centers[row]) + half) for row in chart.strong_rows]


def joins(chart: Chart, field: PlotArea) -> list[PathMark]:
    """Return the line between the lowest and the highest point of each category."""
    if not chart.joined:
        return []
    marks, points = [], chart.marked
    shares = np.array([chart.scale_of(series).fraction(series.values) for series in points])
    for row in range(field.count):
        there = np.flatnonzero(np.isfinite(shares[:, row]))
        if len(there) < 2:
            continue
        role = "join-strong" if row in chart.strong_rows else "join"
        ends = shares[there, row]
        xs, ys = field.points(np.array([row + 0.5, row + 0.5]), np.array([ends.min(), ends.max()]))
        marks.append(PathMark(xs, ys, role, level=front(points[0], -1), category=row))
    return marks
