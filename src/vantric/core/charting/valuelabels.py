"""The numbers at bars and points: each gets a place of its own or none."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

import numpy as np
from numpy.typing import NDArray

from vantric.core.charting.lettering import Pen, Sizes, figure_height, middle_drop
from vantric.core.charting.measure import FIGURE_ASCENT, FIGURE_DESCENT
from vantric.core.charting.places import Places
from vantric.core.charting.plan import Box, TextMark


def bar_labels(
    labels: Sequence[str], edges: NDArray[np.float64], roles: Sequence[str], slot: float, places: Places, pen: Pen,
    sizes: Sizes,
) -> list[TextMark]:  # fmt: skip
    """Place a label at each bar: above it, inside its top, or beside it; turned upright where bars are narrow.

    Where bars stand closer than even upright labels could, only the first bar gets one: others could not be told
    apart.

    Parameters
    ----------
    labels
        One a bar; an empty one is left out.
    edges : ndarray of shape (n, 4)
        Left, bottom, right and top of the bars; each is taken in `places` with its number as owner.
    roles
        What each bar is; a label inside it gets the role ``"on-"`` + this.
    slot
        Distance of two bars.
    """
    size = sizes.value
    widest = max((pen.width(label, size) for label in labels), default=0.0)
    crowded = slot < figure_height(size)
    turned = widest > slot - sizes.px(3) and not crowded
    placed = []
    for number, (label, edge, role) in enumerate(zip(labels, edges.tolist(), roles, strict=True)):
        if not label or (crowded and number):
            continue
        bar = Box(*edge)
        options = _turned_options if turned else _level_options
        candidates = list(options(label, bar, role, number, size, sizes.px(5), pen))
        chosen = places.first_free(((mark.box, owner) for mark, owner in candidates), apart=sizes.px(2))
        if chosen is not None:
            placed.append(candidates[chosen][0])
    return placed


def _level_options(
    label: str, bar: Box, role: str, number: int, size: float, gap: float, pen: Pen
) -> Iterable[tuple[TextMark, object]]:
    middle = (bar.left + bar.right) / 2
    above = bar.top + gap + FIGURE_DESCENT * size
    inside = bar.top - 1.8 * gap - FIGURE_ASCENT * size
    width = pen.width(label, size)
    yield pen.line(label, middle, above, size, "value", ha="center", figures=True), None
    if width <= bar.width - 0.4 * gap and inside - FIGURE_DESCENT * size - 0.4 * gap >= bar.bottom:
        yield pen.line(label, middle, inside, size, f"on-{role}", ha="center", figures=True), number
    yield pen.line(label, middle - 1.6 * gap, above, size, "value", ha="right", figures=True), None
    if figure_height(size) <= bar.width - 0.4 * gap and width + 3 * gap <= bar.height:
        baseline = middle + (FIGURE_ASCENT - FIGURE_DESCENT) / 2 * size
        upright = pen.line(
            label, baseline, bar.top - 1.8 * gap, size, f"on-{role}", ha="right", rotation=90.0, figures=True
        )
        yield upright, number
    yield pen.line(label, bar.left - gap, inside, size, "value", ha="right", figures=True), None
    yield pen.line(label, bar.right + gap, inside, size, "value", figures=True), None


def _turned_options(
    label: str, bar: Box, role: str, number: int, size: float, gap: float, pen: Pen
) -> Iterable[tuple[TextMark, object]]:
    middle = (bar.left + bar.right) / 2
    baseline = middle + (FIGURE_ASCENT - FIGURE_DESCENT) / 2 * size
    length = pen.width(label, size)
    yield pen.line(label, baseline, bar.top + gap, size, "value", rotation=90.0, figures=True), None
    if figure_height(size) <= bar.width and length + 3 * gap <= bar.height:
        role_inside = f"on-{role}"
        yield (
            pen.line(label, baseline, bar.top - 1.8 * gap, size, role_inside, ha="right", rotation=90.0, figures=True),
            number,
        )


def point_labels(
    labels: Sequence[str], xs: NDArray[np.float64], ys: NDArray[np.float64], radius: float, slot: float,
    places: Places, pen: Pen, sizes: Sizes, *, first: Iterable[int] = (),
) -> list[TextMark]:  # fmt: skip
    """Place a label at each point of a rising line.

    It stands to the upper left of its point, where the line never is; or above it; or beside it. Where points stand
    closer than figures are high, only the `first` ones get a label.

    Parameters
    ----------
    labels
        One a point; an empty one is left out.
    xs, ys : ndarray of shape (n,)
        The points; each is taken in `places` already.
    radius
        Of their markers.
    slot
        Distance of two points along x.
    first
        Numbers of the points that matter most: they choose first.
    """
    size = sizes.value
    gap = sizes.px(3)
    telling = list(dict.fromkeys(first))
    others = [] if slot < figure_height(size) else [n for n in range(len(labels)) if n not in telling]
    placed = []
    for number in (*telling, *others):
        if not labels[number]:
            continue
        x, y = float(xs[number]), float(ys[number])
        baseline = y + radius + gap + FIGURE_DESCENT * size
        candidates = [
            pen.line(labels[number], x + 0.5 * radius, baseline, size, "point-value", ha="right", figures=True),
            pen.line(labels[number], x, baseline, size, "point-value", ha="center", figures=True),
            pen.line(labels[number], x - radius - gap, y + 0.2 * size, size, "point-value", ha="right", figures=True),
        ]
        if number in telling:
            middle = y - middle_drop(size)
            beside = x + slot / 2 + gap
            candidates.append(pen.line(labels[number], beside, middle, size, "point-value", figures=True))
            candidates.append(pen.line(labels[number], beside, y + 2 * gap, size, "point-value", figures=True))
        chosen = places.first_free(((mark.box, None) for mark in candidates), apart=sizes.px(5))
        if chosen is not None:
            placed.append(candidates[chosen])
    return placed
