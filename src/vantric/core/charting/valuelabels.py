"""The numbers at bars and points: each gets a place of its own or none."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass

from vantric.core.charting.lettering import Pen, Sizes, figure_height, middle_drop
from vantric.core.charting.measure import FIGURE_ASCENT, FIGURE_DESCENT
from vantric.core.charting.places import Places
from vantric.core.charting.plan import Box, Floats, PointMarks, TextMark

#: A label's mark, and the owner of what it may stand on.
Candidate = tuple[TextMark, object]
_SMALLEST = 0.75  # of the usual letters


@dataclass(frozen=True)
class Labelled:
    """Bars with a number each.

    Attributes
    ----------
    labels
        One a bar; an empty one is left out.
    edges : ndarray of shape (n, 4)
        Left, bottom, right and top; each is taken in the places with its owner.
    roles
        What each bar is; a label inside it gets the role ``"on-"`` + this.
    owners
        Who holds each bar's place.
    pitch
        Distance of two bars.
    inside
        Whether labels may stand inside, and whether that is the place wished for.
    """

    labels: Sequence[str]
    edges: Floats
    roles: Sequence[str]
    owners: Sequence[object]
    pitch: float
    inside: tuple[bool, bool] = (True, False)


def bar_labels(wanted: Labelled, places: Places, pen: Pen, sizes: Sizes, *, lying: bool) -> list[TextMark]:
    """Place a label at each bar: beyond its end, inside it, or beside it; turned upright where bars are narrow.

    Where bars stand closer than even such labels could, only the first bar gets one: others could not be told apart.
    """
    size = sizes.value
    if lying:  # letters may be a little smaller where bars are low
        size *= min(1.0, max(_SMALLEST, 0.94 * wanted.pitch / figure_height(size)))
    crowded = wanted.pitch < figure_height(size) - 1e-6
    widest = max((pen.width(label, size) for label in wanted.labels), default=0.0)
    turned = not lying and widest > wanted.pitch - sizes.px(3) and not crowded
    options = _lying_options if lying else _turned_options if turned else _level_options
    placed = []
    bars = zip(wanted.labels, wanted.edges.tolist(), wanted.roles, wanted.owners, strict=True)
    for number, (label, edge, role, owner) in enumerate(bars):
        if not label or (crowded and number):
            continue
        candidates = list(_wished(options(label, Box(*edge), role, owner, size, sizes.px(5), pen), wanted.inside))
        chosen = places.first_free(((mark.box, holder) for mark, holder in candidates), apart=sizes.px(2))
        if chosen is not None:
            placed.append(candidates[chosen][0])
    return placed


def _wished(candidates: Iterable[Candidate], inside: tuple[bool, bool]) -> Iterator[Candidate]:
    """Put the places inside first where they are wished for, or leave them out where they cannot be."""
    found = list(candidates)
    within = [one for one in found if one[0].role.startswith("on-")]
    if not inside[0]:
        found = [one for one in found if one not in within]
    elif inside[1]:
        found = [*within, *(one for one in found if one not in within)]
    yield from found


def _level_options(
    label: str, bar: Box, role: str, owner: object, size: float, gap: float, pen: Pen
) -> Iterator[Candidate]:
    middle = (bar.left + bar.right) / 2
    above = bar.top + gap + FIGURE_DESCENT * size
    inside = bar.top - 1.8 * gap - FIGURE_ASCENT * size
    width = pen.width(label, size)
    yield pen.line(label, middle, above, size, "value", ha="center", figures=True), None
    if width <= bar.width - 0.4 * gap and inside - FIGURE_DESCENT * size - 0.4 * gap >= bar.bottom:
        yield pen.line(label, middle, inside, size, f"on-{role}", ha="center", figures=True), owner
    yield pen.line(label, middle - 1.6 * gap, above, size, "value", ha="right", figures=True), None
    yield pen.line(label, middle - 0.4 * gap, above + gap, size, "value", ha="right", figures=True), None
    if figure_height(size) <= bar.width - 0.4 * gap and width + 3 * gap <= bar.height:
        baseline = middle + (FIGURE_ASCENT - FIGURE_DESCENT) / 2 * size
        upright = pen.line(
            label, baseline, bar.top - 1.8 * gap, size, f"on-{role}", ha="right", rotation=90.0, figures=True
        )
        yield upright, owner
    yield pen.line(label, bar.left - gap, inside, size, "value", ha="right", figures=True), None
    yield pen.line(label, bar.right + gap, inside, size, "value", figures=True), None


def _turned_options(
    label: str, bar: Box, role: str, owner: object, size: float, gap: float, pen: Pen
) -> Iterator[Candidate]:
    middle = (bar.left + bar.right) / 2
    baseline = middle + (FIGURE_ASCENT - FIGURE_DESCENT) / 2 * size
    length = pen.width(label, size)
    yield pen.line(label, baseline, bar.top + gap, size, "value", rotation=90.0, figures=True), None
    if figure_height(size) <= bar.width and length + 3 * gap <= bar.height:
        inside = bar.top - 1.8 * gap
        yield (
            pen.line(label, baseline, inside, size, f"on-{role}", ha="right", rotation=90.0, figures=True),
            owner,
        )


def _lying_options(
    label: str, bar: Box, role: str, owner: object, size: float, gap: float, pen: Pen
) -> Iterator[Candidate]:
    baseline = (bar.bottom + bar.top) / 2 - middle_drop(size)
    width = pen.width(label, size)
    yield pen.line(label, bar.right + gap, baseline, size, "value", figures=True), None
    if width + 3 * gap <= bar.width and figure_height(size) <= bar.height:
        inside = bar.right - 1.8 * gap
        yield pen.line(label, inside, baseline, size, f"on-{role}", ha="right", figures=True), owner
    if bar.height < 1.4 * size:  # below would be beside the next bar
        return
    low = bar.bottom + FIGURE_DESCENT * size
    yield pen.line(label, bar.right + gap, low, size, "value", figures=True), None
    below = bar.bottom - 0.4 * gap - FIGURE_ASCENT * size
    yield pen.line(label, bar.right + gap, below, size, "value", figures=True), None
    yield pen.line(label, bar.right - gap, below, size, "value", ha="right", figures=True), None


@dataclass(frozen=True)
class Pointed:
    """The points of a rising line with a number each.

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
    """

    labels: Sequence[str]
    points: PointMarks
    pitch: float
    first: tuple[int, ...] = ()
    role: str = "point-value"


def point_labels(wanted: Pointed, places: Places, pen: Pen, sizes: Sizes, *, lying: bool) -> list[TextMark]:
    """Place a label at each point of a rising line, on the side where the line never is; or else beside it.

    Where points stand closer than figures are high, only the first ones get a label.
    """
    size = sizes.value
    telling = list(dict.fromkeys(wanted.first))
    crowded = wanted.pitch < figure_height(size)
    others = [] if crowded else [n for n in range(len(wanted.labels)) if n not in telling]
    options: Callable[..., Iterator[TextMark]] = _beside_lying if lying else _above
    placed = []
    for number in (*telling, *others):
        if not wanted.labels[number]:
            continue
        candidates = list(options(wanted, number, pen, sizes, telling=number in telling))
        chosen = places.first_free(((mark.box, None) for mark in candidates), apart=sizes.px(5))
        if chosen is not None:
            placed.append(candidates[chosen])
    return placed


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


def _beside_lying(wanted: Pointed, number: int, pen: Pen, sizes: Sizes, *, telling: bool) -> Iterator[TextMark]:
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
