"""The marks of the series inside the frame: bars beside each other or stacked, lines and their points."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from vantric.core.axes import ScalePair
from vantric.core.charting.chart import Chart
from vantric.core.charting.field import Field
from vantric.core.charting.furniture import rule
from vantric.core.charting.lettering import Sizes
from vantric.core.charting.plan import Floats, PathMark, PointMarks, RectMarks, point_role

BAR_SHARE = 0.8  # of a category's slot; bars touch where points stand at their edges


@dataclass(frozen=True)
class Marks:
    """What is drawn of the series.

    Attributes
    ----------
    bars : RectMarks of k x n rectangles
        Series after series.
    paths, points
        One a line; the origin, where the line starts there, has no point.
    heaps : ndarray of shape (n, 4)
        What all bars of a category cover together.
    partings
        Thin lines between bars that touch.
    """

    bars: RectMarks
    paths: tuple[PathMark, ...]
    points: tuple[PointMarks, ...]
    heaps: Floats
    partings: tuple[PathMark, ...] = ()


def set_marks(chart: Chart, scales: ScalePair, field: Field, sizes: Sizes) -> Marks:
    """Turn the values of all series into marks."""
    bars = _bars(chart, scales, field)
    paths, points = [], []
    edge = chart.points == "edge"
    places = np.arange(field.count) + (1.0 if edge else 0.5)
    radius = min(sizes.px(5), 0.3 * field.slot)
    for line in chart.lines:
        xs, ys = field.points(places, scales.secondary.fraction(line.values))
        points.append(PointMarks(xs, ys, radius, point_role(line.role)))
        if edge:
            zero_x, zero_y = field.points(np.zeros(1), scales.secondary.fraction(np.zeros(1)))
            xs, ys = np.concatenate((zero_x, xs)), np.concatenate((zero_y, ys))
        paths.append(PathMark(xs, ys, line.role))
    partings = _partings(chart, bars.edges, field)
    return Marks(bars, tuple(paths), tuple(points), _heaps(bars.edges, field.count), partings)


def _bars(chart: Chart, scales: ScalePair, field: Field) -> RectMarks:
    series = chart.bars
    if not series:
        return RectMarks(np.empty((0, 4)), ())
    share = 1.0 if chart.points == "edge" else BAR_SHARE
    stacked = chart.together == "stacked"
    width = share if stacked else share / len(series)
    first = np.arange(field.count) + (1 - share) / 2
    base = np.zeros(field.count)
    edges, roles = [], []
    for number, one in enumerate(series):
        starts = first if stacked else first + number * width
        values = np.asarray(one.values, dtype=np.float64)
        low, high = scales.primary.fraction(base), scales.primary.fraction(base + values)
        edges.append(field.rects(starts, starts + width, low, high))
        roles += one.roles()
        base = base + values if stacked else base
    return RectMarks(np.concatenate(edges), tuple(roles))


def _heaps(edges: Floats, count: int) -> Floats:
    if not len(edges):
        return np.empty((0, 4))
    parts = edges.reshape(-1, count, 4)
    low, high = parts[:, :, :2].min(axis=0), parts[:, :, 2:].max(axis=0)
    return np.concatenate((low, high), axis=1)


def _partings(chart: Chart, edges: Floats, field: Field) -> tuple[PathMark, ...]:
    """Part the bars that touch: the parts of a stack, and neighbours whose points stand at their edges."""
    found = []
    if chart.together == "stacked":
        for left, bottom, right, top in edges[field.count :].tolist():
            if right > left and top > bottom:
                end = (left, top) if field.lying else (right, bottom)
                found.append(rule(left, bottom, *end, "parting"))
    if chart.points == "edge" and len(edges):
        heaps = _heaps(edges, field.count)
        for (left, bottom, right, top), after in zip(heaps[:-1].tolist(), heaps[1:].tolist(), strict=True):
            if field.lying:
                found.append(rule(left, bottom, max(right, after[2]), bottom, "parting"))
            else:
                found.append(rule(right, bottom, right, max(top, after[3]), "parting"))
    return tuple(found)
