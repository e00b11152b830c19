"""The numbers at bars: each gets a place of its own or none."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import partial

from vantric.core.numbers.arrays import Floats
from vantric.core.planning.labels.leaders import Placed, led, shifted
from vantric.core.planning.labels.places import Places
from vantric.core.planning.lettering import Pen, Sizes, figure_height, middle_drop
from vantric.core.planning.measure import ASCENT, DESCENT, FIGURE_ASCENT, FIGURE_DESCENT
from vantric.core.planning.plan import Box, TextMark

#: A label's mark, and the owner of what it may be on.
Candidate = tuple[TextMark, object]
_SMALLEST = 0.75  # of the usual letters


@dataclass(frozen=True)
class Labeled:
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
        Whether labels may be inside, and whether that is the place wanted.
    down
        Whether each bar hangs down, as negative ones do; none if empty.
    within
        Whether labels are in the middle of their bars: those of a stack.
    only
        The one place that is wanted: ``"above"``, ``"below"`` (at the foot), ``"beside"``; empty for the best.
    first
        Numbers of the bars that matter most: they choose first.
    alone
        Whether only those get a label.
    behind
        (bar, owner, role) of what is behind each bar: a label may be there over its own bar.
    """

    labels: Sequence[str]
    edges: Floats
    roles: Sequence[str]
    owners: Sequence[object]
    pitch: float
    inside: tuple[bool, bool] = (True, False)
    down: Sequence[bool] = ()
    within: bool = False
    only: str = ""
    first: tuple[int, ...] = ()
    alone: bool = False
    behind: Sequence[Sequence[tuple[Box, object, str]]] = ()

    def order(self) -> list[int]:
        """Return the numbers of the bars in the order in which they choose."""
        rest = [] if self.alone else range(len(self.labels))
        return list(dict.fromkeys((*self.first, *rest)))


def bar_labels(
    wanted: Labeled, places: Places, pen: Pen, sizes: Sizes, *, horizontal: bool, leaders: bool = False
) -> list[Placed]:
    """Place a label at each bar: beyond its end, inside it, or beside it; turned vertical where bars are narrow.

    Where bars are closer than even such labels could, only the first bars get one: others could not be stated apart.
    With `leaders`, labels that find no place beside their bars are led to them by a thin line.
    """
    size = sizes.value
    if horizontal:  # letters may be a little smaller where bars are low
        size *= min(1.0, max(_SMALLEST, 0.94 * wanted.pitch / figure_height(size)))
    crowded = wanted.pitch < figure_height(size) - 1e-6
    widest = max((pen.width(label, size) for label in wanted.labels), default=0.0)
    turned = not horizontal and widest > wanted.pitch - sizes.px(3) and not crowded
    options = _horizontal_options if horizontal else _turned_options if turned else _level_options
    if wanted.within:
        options = _within_options
    placed = []
    edges = wanted.edges.tolist()
    for number in wanted.order():
        label, owner = wanted.labels[number], wanted.owners[number]
        if not label or (crowded and number and number not in wanted.first):
            continue
        bar, down = Box(*edges[number]), bool(wanted.down) and wanted.down[number]
        found = options(label, bar, wanted.roles[number], owner, size, sizes.px(5), pen)
        if down:
            found = ((_mirrored(mark, bar, horizontal=horizontal), holder) for mark, holder in found)
        candidates = list(_wished(found, wanted, bar))
        chosen = places.first_free(((mark.box, holder) for mark, holder in candidates), apart=sizes.px(2))
        over = None if chosen is not None else _over_behind(candidates, wanted, number, places)
        if chosen is not None:
            placed.append(Placed(candidates[chosen][0]))
        elif over is not None:
            placed.append(Placed(over))
        elif leaders:
            far = _far(label, bar, size, sizes.px(5), pen, horizontal=horizontal, within=wanted.within)
            marks = (_mirrored(mark, bar, horizontal=horizontal) if down else mark for mark in far)
            end = partial(_end, bar, horizontal=horizontal, down=down, within=wanted.within)
            found_far = led(places, marks, end, apart=sizes.px(2))
            placed += [found_far] if found_far else []
    return placed


def _wished(candidates: Iterable[Candidate], wanted: Labeled, bar: Box) -> Iterator[Candidate]:
    """Put the places inside first where they are wanted, or leave out what is not wanted."""
    found = list(candidates)
    within = [one for one in found if one[0].role.startswith("on-")]
    beyond = [one for one in found if one not in within]
    if wanted.only:
        sides = [one for one in beyond if not bar.left <= (one[0].box.left + one[0].box.right) / 2 <= bar.right]
        kept = {"above": [one for one in beyond if one not in sides], "beside": sides, "below": within}
        yield from kept[wanted.only]
    elif not wanted.inside[0]:
        yield from beyond
    elif wanted.inside[1]:
        yield from (*within, *beyond)
    else:
        yield from found


def _over_behind(
    candidates: Sequence[Candidate], wanted: Labeled, number: int, places: Places
) -> TextMark | None:  # fmt: skip
    """Return a label over its bar that is on the bar behind, in the ink for that; None if none can."""
    for bar, owner, role in wanted.behind[number] if wanted.behind else ():
        for mark, holder in candidates:
            if holder is None and mark.box.within(bar) and places.free(mark.box, owner):
                places.take_label(mark.box)
                return replace(mark, role=f"on-{role}")
    return None


def _mirrored(mark: TextMark, bar: Box, *, horizontal: bool) -> TextMark:
    """Return a label of a bar that hangs down: where it would be if the bar stood, turned over."""
    if horizontal:
        return shifted(mark, bar.left + bar.right - mark.box.right - mark.box.left, 0.0)
    return shifted(mark, 0.0, bar.bottom + bar.top - mark.box.top - mark.box.bottom)


def _end(bar: Box, label: Box, *, horizontal: bool, down: bool, within: bool) -> tuple[float, float]:
    """Return the point of a bar to which a label is led."""
    x, y = (bar.left + bar.right) / 2, (bar.bottom + bar.top) / 2
    if within:
        return (x, bar.top if label.bottom > y else bar.bottom) if horizontal else (bar.right, y)
    if horizontal:
        return (bar.left if down else bar.right), y
    return x, (bar.bottom if down else bar.top)


def _far(
    label: str, bar: Box, size: float, gap: float, pen: Pen, *, horizontal: bool, within: bool
) -> Iterator[TextMark]:  # fmt: skip
    """Yield places farther from a bar."""
    x, y = (bar.left + bar.right) / 2, (bar.bottom + bar.top) / 2
    if within and horizontal:  # in steps: each leader passes behind the label of the part before
        for row in range(16):
            rise = (0.9 + 1.35 * row) * size
            under = bar.bottom - rise - FIGURE_ASCENT * size
            for level in (bar.top + rise, under):
                yield pen.line(label, x - 3.0, level, size, "value", ha="right", figures=True)
        return
    for away in (1.3, 2.2, 3.2, 4.4, 6.0):
        reach = away * size
        if within:
            for rise in (0.0, 1.0, -1.0, 2.0, -2.0):
                yield pen.line(
                    label, bar.right + reach, y + rise * size - middle_drop(size), size, "value", figures=True
                )
        elif horizontal:
            for rise in (0.0, 1.1, -1.1):
                at = y + rise * size - middle_drop(size)
                yield pen.line(label, bar.right + gap + reach, at, size, "value", figures=True)
        else:
            for aside in (0.0, 1.5, -1.5, 3.0, -3.0):
                at = bar.top + gap + reach
                yield pen.line(label, x + aside * size, at, size, "value", ha="center", figures=True)


def _within_options(
    label: str, bar: Box, role: str, owner: object, size: float, gap: float, pen: Pen
) -> Iterator[Candidate]:
    """Yield the places in the middle of a part of a stack."""
    width, role = pen.width(label, size), f"on-{role}"
    x, y = (bar.left + bar.right) / 2, (bar.bottom + bar.top) / 2
    figures = not any(map(str.isalpha, label))
    above, below = (FIGURE_ASCENT, FIGURE_DESCENT) if figures else (ASCENT, DESCENT)
    high, drop = (above + below) * size, (above - below) / 2 * size
    if width + 0.6 * gap <= bar.width and high <= bar.height:
        yield pen.line(label, x, y - drop, size, role, ha="center", figures=figures), owner
    if high <= bar.width and width + 0.6 * gap <= bar.height:
        yield pen.line(label, x + drop, y, size, role, ha="center", rotation=90.0, figures=figures), owner


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
        vertical = pen.line(
            label, baseline, bar.top - 1.8 * gap, size, f"on-{role}", ha="right", rotation=90.0, figures=True
        )
        yield vertical, owner
    foot = bar.bottom + gap + FIGURE_DESCENT * size
    if width <= bar.width - 0.4 * gap and foot + (FIGURE_ASCENT + 1) * size <= bar.top:
        yield pen.line(label, middle, foot, size, f"on-{role}", ha="center", figures=True), owner
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


def _horizontal_options(
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
