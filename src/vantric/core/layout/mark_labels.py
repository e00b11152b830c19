"""The numbers at points, and the names at the ends of lines."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from vantric.core.charts.chart import Chart
from vantric.core.charts.series import Series
from vantric.core.layout.label_places import Placed, Places, led, shifted, shows_ends
from vantric.core.layout.legend import END_LEAD, at_end
from vantric.core.layout.lettering_part import Pen, Sizes, figure_height, line_height, middle_drop
from vantric.core.layout.plan import Box, PathMark, PointMarks, TextMark, point_role
from vantric.core.layout.text_layout import FIGURE_ASCENT, FIGURE_DESCENT, fitted
from vantric.core.layout.titles import Field, rule
from vantric.core.numbers.number_format import readable


@dataclass(frozen=True)
class LineEnds:
    """Placed names, the lines that lead to those that had to move, and the names for which there is no room."""

    texts: tuple[TextMark, ...]
    leaders: tuple[PathMark, ...]
    left_out: tuple[str, ...] = ()


def line_ends(chart: Chart, field: Field, sizes: Sizes, pen: Pen) -> LineEnds:
    """Set the name of each line behind its last point; names that would touch are moved apart."""
    named = [one for one in chart.marked if at_end(one)] if chart.legend == "ends" else []
    if not named:
        return LineEnds((), ())
    size, frame = sizes.label, field.frame
    most = max(1, int(frame.height / line_height(size)))
    named, left_out = named[:most], tuple(one.name for one in named[most:])
    last = [float(field.up(chart.scale_of(one).fraction(_last(one)))) for one in named]
    order = sorted(range(len(named)), key=lambda at: last[at])
    half = line_height(size) / 2
    heights = spread([last[at] for at in order], 2 * half, frame.bottom + half, frame.top - half)
    texts, leaders = [], []
    x = frame.right - field.after + sizes.px(END_LEAD)
    for at, y in zip(order, heights, strict=True):
        one = named[at]
        name = fitted(readable(one.name), size, True, frame.right - x - sizes.px(4), pen.measure)
        role = point_role(one.role, "-value")
        texts.append(pen.line(name, x, y - middle_drop(size), size, role, bold=True))
        if abs(y - last[at]) > half / 2:
            start = float(field.along(_last_place(one) + (1.0 if one.kind == "steps" else 0.5)))
            leaders.append(rule(start + sizes.px(6), last[at], x - sizes.px(3), y, "leader"))
    return LineEnds(tuple(texts), tuple(leaders), left_out)


def _last_place(series: Series) -> int:
    return max(place for place, value in enumerate(series.values) if value == value)


def _last(series: Series) -> float:
    return series.values[_last_place(series)]


def spread(wished: Sequence[float], apart: float, low: float, high: float) -> list[float]:
    """Move ascending places as little as can be until they are `apart`, within `low` and `high` where they fit.

    The sum of the squared moves is least: pools of adjacent violators, R. E. Barlow et al., "Statistical Inference
    under Order Restrictions", 1972.
    """
    pools: list[tuple[float, int]] = []  # mean of the shifted options, and how many
    for number, place in enumerate(wished):
        mean, count = place - number * apart, 1
        while pools and pools[-1][0] > mean:
            before, held = pools.pop()
            mean, count = (before * held + mean * count) / (held + count), held + count
        pools.append((mean, count))
    found = np.repeat([mean for mean, _ in pools], [count for _, count in pools])
    room = max(high - (len(wished) - 1) * apart, low)
    return list((np.clip(found, low, room) + apart * np.arange(len(wished))).tolist())


_REACHES = (1.2, 2.1, 3.2, 4.6)  # of a leader, in letters


@dataclass(frozen=True)
class Pointed:
    """Points with a number each.

    Attributes
    ----------
    labels
        One a point; an empty one is left out.
    points
        Each is taken in the places already.
    pitch
        Distance of two points along the category axis.
    first
        Numbers of the points that matter most: they choose first.
    role
        What the labels are.
    rising
        Whether the line never falls: then one side of it is always free.
    only
        The one place that is wanted: ``"above"``, ``"below"``, ``"beside"``; empty for the best.
    alone
        Whether only the first points get a label.
    under
        (bar, its owner) of each bar behind a point: a label may be on it, on a plate of its own.
    """

    labels: Sequence[str]
    points: PointMarks
    pitch: float
    first: tuple[int, ...] = ()
    role: str = "point-value"
    rising: bool = True
    only: str = ""
    alone: bool = False
    under: Sequence[Sequence[tuple[Box, object]]] = ()


def point_labels(
    wanted: Pointed, places: Places, pen: Pen, sizes: Sizes, *, horizontal: bool, leaders: bool = False
) -> list[Placed]:
    """Place a label at each point beside it; where points are closer than figures are high, at the first ones only.

    With `leaders`, labels that find no place beside their points are led to them by a thin line.
    """
    size = sizes.value
    telling = list(dict.fromkeys(wanted.first))
    crowded = wanted.pitch < figure_height(size)
    others = [] if crowded or wanted.alone else [n for n in range(len(wanted.labels)) if n not in set(telling)]
    options: Callable[..., Iterator[TextMark]] = _around
    if wanted.rising:
        options = _beside_horizontal if horizontal else _above
    placed = []
    for number in (*telling, *others):
        if not wanted.labels[number]:
            continue
        marks: list[TextMark] = []
        owner: object = None
        chosen = _first(options(wanted, number, pen, sizes, telling=number in telling), places, marks)
        if chosen is None and wanted.under:
            bars = [bar for bar, _ in wanted.under[number]]
            owner = frozenset(one for _, one in wanted.under[number])
            chosen = _first(
                (mark for mark in marks if shows_ends(mark.box, bars, horizontal=horizontal)), places, [], owner
            )
        if chosen is not None:
            places.take_label(chosen.box, apart=sizes.px(5))
            placed.append(Placed(chosen, plate=owner is not None, number=number))
        elif leaders:
            anchor = _anchor(wanted, number)
            found = led(places, _far(wanted, number, pen, sizes), lambda _, at=anchor: at, apart=sizes.px(3))  # type: ignore[misc]
            placed += [replace(found, number=number)] if found else []
    return placed


def _first(marks: Iterable[TextMark], places: Places, seen: list[TextMark], owner: object = None) -> TextMark | None:
    """Return the first label in a free place; those before it are added to `seen`."""
    for mark in marks:
        if places.free(mark.box, owner):
            return mark
        seen.append(mark)
    return None


def _anchor(wanted: Pointed, number: int) -> tuple[float, float]:
    return float(wanted.points.xs[number]), float(wanted.points.ys[number])


def _around(wanted: Pointed, number: int, pen: Pen, sizes: Sizes, *, telling: bool) -> Iterator[TextMark]:
    """Yield the places around a point: over a peak, under a valley, then beside it."""
    size, gap = sizes.value, sizes.px(3)
    radius = max(wanted.points.radius, sizes.px(1.5))
    x, y = _anchor(wanted, number)
    label = pen.line(wanted.labels[number], x, y, size, wanted.role, ha="center", figures=True)
    over, under = radius + gap + FIGURE_DESCENT * size, -radius - gap - FIGURE_ASCENT * size
    levels = [over, under] if _is_peak(wanted, number) else [under, over]
    if wanted.only in ("above", "below"):
        levels = [over if wanted.only == "above" else under]
    half = label.box.width / 2
    if wanted.only != "beside":
        for level in levels:
            for aside in (0.0, 0.5, -0.5, 0.9, -0.9):
                yield shifted(label, aside * half, level)
    if wanted.only in ("", "beside"):
        out = half + radius + 1.5 * gap
        for rise in (0.0, 0.45, -0.45):
            level = rise * size - middle_drop(size)
            yield shifted(label, out, level)
            yield shifted(label, -out, level)


def _is_peak(wanted: Pointed, number: int) -> bool:
    """Whether a point is above the middle of its neighbors: its label then is over it."""
    ys = wanted.points.ys
    near = [float(ys[at]) for at in (number - 1, number + 1) if 0 <= at < len(ys)]
    near = [y for y in near if not math.isnan(y)]
    return not near or float(ys[number]) >= sum(near) / len(near)


def _far(wanted: Pointed, number: int, pen: Pen, sizes: Sizes) -> Iterator[TextMark]:
    """Yield places farther from a point, near ones first."""
    size, (x, y) = sizes.value, _anchor(wanted, number)
    label = pen.line(wanted.labels[number], x, y, size, wanted.role, ha="center", figures=True)
    up = _is_peak(wanted, number)
    for reach in _REACHES:
        for side in (1, -1) if up else (-1, 1):
            level = side * (reach + 0.5) * size - middle_drop(size)
            for aside in (0.0, 1.4, -1.4, 2.8, -2.8):
                yield shifted(label, aside * size, level)


def _above(wanted: Pointed, number: int, pen: Pen, sizes: Sizes, *, telling: bool) -> Iterator[TextMark]:
    size, gap, radius, label, role = (
        sizes.value,
        sizes.px(3),
        wanted.points.radius,
        wanted.labels[number],
        wanted.role,
    )
    x, y = float(wanted.points.xs[number]), float(wanted.points.ys[number])
    baseline = y + radius + gap + FIGURE_DESCENT * size
    yield pen.line(label, x + 0.5 * radius, baseline, size, role, ha="right", figures=True)
    yield pen.line(label, x, baseline, size, role, ha="center", figures=True)
    yield pen.line(label, x - radius - gap, y + 0.2 * size, size, role, ha="right", figures=True)
    if telling:
        yield pen.line(label, x + radius + gap, y - middle_drop(size) - 0.3 * size, size, role, figures=True)
        for rise in (1.1, 2.0):
            yield pen.line(label, x, baseline + rise * size, size, role, ha="center", figures=True)
        beside = x + wanted.pitch / 2 + gap
        yield pen.line(label, beside, y - middle_drop(size), size, role, figures=True)
        yield pen.line(label, beside, y + 2 * gap, size, role, figures=True)


def _beside_horizontal(wanted: Pointed, number: int, pen: Pen, sizes: Sizes, *, telling: bool) -> Iterator[TextMark]:
    size, gap, radius, label, role = (
        sizes.value,
        sizes.px(3),
        wanted.points.radius,
        wanted.labels[number],
        wanted.role,
    )
    x, y = float(wanted.points.xs[number]), float(wanted.points.ys[number])
    right = x + radius + 1.5 * gap
    yield pen.line(label, right, y - middle_drop(size) + 0.25 * size, size, role, figures=True)
    yield pen.line(label, right, y + gap, size, role, figures=True)
    left = x - radius - 1.5 * gap
    yield pen.line(label, left, y - middle_drop(size) - 0.25 * size, size, role, ha="right", figures=True)
    if telling:
        yield pen.line(label, x, y + radius + 2 * gap, size, role, ha="right", figures=True)
        yield pen.line(label, x, y - radius - 2 * gap - FIGURE_ASCENT * size, size, role, ha="right", figures=True)
