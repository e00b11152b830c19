"""The numbers at points: on the side where a rising line never is, or wherever a line leaves room."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, replace

from vantric.core.planning.labels.leaders import Placed, led, shifted
from vantric.core.planning.labels.places import Places, shows_ends
from vantric.core.planning.lettering import Pen, Sizes, figure_height, middle_drop
from vantric.core.planning.measure import FIGURE_ASCENT, FIGURE_DESCENT
from vantric.core.planning.plan import Box, PointMarks, TextMark

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


def _first(
    marks: Iterable[TextMark], places: Places, seen: list[TextMark], owner: object = None
) -> TextMark | None:  # fmt: skip
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
        sizes.value, sizes.px(3), wanted.points.radius, wanted.labels[number], wanted.role,
    )  # fmt: skip
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
        sizes.value, sizes.px(3), wanted.points.radius, wanted.labels[number], wanted.role,
    )  # fmt: skip
    x, y = float(wanted.points.xs[number]), float(wanted.points.ys[number])
    right = x + radius + 1.5 * gap
    yield pen.line(label, right, y - middle_drop(size) + 0.25 * size, size, role, figures=True)
    yield pen.line(label, right, y + gap, size, role, figures=True)
    left = x - radius - 1.5 * gap
    yield pen.line(label, left, y - middle_drop(size) - 0.25 * size, size, role, ha="right", figures=True)
    if telling:
        yield pen.line(label, x, y + radius + 2 * gap, size, role, ha="right", figures=True)
        yield pen.line(label, x, y - radius - 2 * gap - FIGURE_ASCENT * size, size, role, ha="right", figures=True)
