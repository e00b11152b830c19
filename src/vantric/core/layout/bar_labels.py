"""The numbers at bars, in one form per series: upright, turned, inside, beside; each has a place of its own or none."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import replace
from functools import partial
from typing import TYPE_CHECKING

from vantric.base.lazily import dataclass
from vantric.core.layout.label_places import PlacedLabel, TakenPlaces, end_of, mirrored, place_with_leader
from vantric.core.layout.plan import Box, Side, TextMark
from vantric.core.layout.text_layout import (
    ASCENT,
    DESCENT,
    FIGURE_ASCENT,
    FIGURE_DESCENT,
    Sizes,
    TextWriter,
    figure_height,
    middle_drop,
)

if TYPE_CHECKING:
    from vantric.core.numbers.amounts import Floats

#: A label's mark, and the owner of what it may be on.
Candidate = tuple[TextMark, object]


@dataclass(frozen=True)
class LabelTarget:
    """One bar that wants a number: the text, the bar, what it is, who owns its place, and how it is written.

    `reach` is where the farthest of the bars ends that it is in front of, `end` where its interval does.
    """

    label: str
    bar: Box
    role: str
    owner: object
    size: float
    gap: float
    pen: TextWriter
    reach: float = -math.inf
    end: float = -math.inf

    @property
    def bold(self) -> bool:
        """Whether the number is that of a bar that stands out."""
        return self.role.partition(":")[0] == "strong"

    def line(self, x: float, y: float, *, role: str = "", ha: Side = "left", turned: bool = False) -> TextMark:
        """Return the number as a line of figures."""
        own, rotation = role or ("value-quiet" if self.role == "quiet" else "value"), 90.0 if turned else 0.0
        return self.pen.line(self.label, x, y, self.size, own, ha=ha, bold=self.bold, rotation=rotation, figures=True)

    @property
    def width(self) -> float:
        """The width of the number."""
        return self.pen.width(self.label, self.size, bold=self.bold)

    @property
    def middle(self) -> float:
        """The middle of the bar along x."""
        return (self.bar.left + self.bar.right) / 2

    @property
    def turned_base(self) -> float:
        """Where the baseline of a turned number is."""
        return self.middle + (FIGURE_ASCENT - FIGURE_DESCENT) / 2 * self.size


#: Yields the places of a number at its bar, the best first.
LabelPlacement = Callable[[LabelTarget], Iterator[Candidate]]


def above(target: LabelTarget) -> Iterator[Candidate]:
    """Yield the place over a bar."""
    y = max(target.bar.top, target.end) + target.gap + FIGURE_DESCENT * target.size
    yield target.line(target.middle, y, ha="center"), None


_RISES = (1.1, 2.2, 3.3)  # letters above the usual place


def above_or_aside(target: LabelTarget) -> Iterator[Candidate]:
    """Yield the places over a stack: a line that passes there may push its number a little aside."""
    yield from above(target)
    gap = target.gap
    x, y = target.middle, max(target.bar.top, target.end) + gap + FIGURE_DESCENT * target.size
    yield target.line(x - 1.6 * gap, y, ha="right"), None
    yield target.line(x - 0.4 * gap, y + gap, ha="right"), None
    for rise in _RISES:  # into the fork of a line that has its lowest point here
        yield target.line(x, y + rise * target.size, ha="center"), None


def inside(target: LabelTarget) -> Iterator[Candidate]:
    """Yield the place under the upper end of a bar."""
    y = target.bar.top - 1.8 * target.gap - FIGURE_ASCENT * target.size
    lowest = target.bar.bottom + FIGURE_DESCENT * target.size + 0.4 * target.gap
    if target.width <= target.bar.width - 0.4 * target.gap and y >= lowest:
        yield target.line(target.middle, y, role=f"on-{target.role}", ha="center"), target.owner


def above_or_inside(target: LabelTarget) -> Iterator[Candidate]:
    """Yield the place over a bar, then the one in it: what is in the way of one number moves that one alone."""
    yield from above(target)
    yield from inside(target)


def foot(target: LabelTarget) -> Iterator[Candidate]:
    """Yield the place at the foot of a bar."""
    y = target.bar.bottom + target.gap + FIGURE_DESCENT * target.size
    if target.width <= target.bar.width - 0.4 * target.gap and y + (FIGURE_ASCENT + 1) * target.size <= target.bar.top:
        yield target.line(target.middle, y, role=f"on-{target.role}", ha="center"), target.owner


def beside(target: LabelTarget) -> Iterator[Candidate]:
    """Yield the places to the left and right of a bar's upper end."""
    y = target.bar.top - 1.8 * target.gap - FIGURE_ASCENT * target.size
    yield target.line(target.bar.left - target.gap, y, ha="right"), None
    yield target.line(target.bar.right + target.gap, y), None


def turned_above(target: LabelTarget) -> Iterator[Candidate]:
    """Yield the place over a narrow bar, the number turned."""
    yield target.line(target.turned_base, max(target.bar.top, target.end) + target.gap, turned=True), None


def turned_inside(target: LabelTarget) -> Iterator[Candidate]:
    """Yield the place inside a narrow bar, the number turned."""
    if figure_height(target.size) <= target.bar.width and target.width + 3 * target.gap <= target.bar.height:
        y = target.bar.top - 1.8 * target.gap
        yield target.line(target.turned_base, y, role=f"on-{target.role}", ha="right", turned=True), target.owner


def beyond(target: LabelTarget) -> Iterator[Candidate]:
    """Yield the place behind the end of a horizontal bar."""
    baseline = (target.bar.bottom + target.bar.top) / 2 - middle_drop(target.size)
    yield target.line(max(target.bar.right, target.end) + target.gap, baseline), None


def beyond_all(target: LabelTarget) -> Iterator[Candidate]:
    """Yield the place behind the end of a horizontal bar and of all bars that it is in front of."""
    baseline = (target.bar.bottom + target.bar.top) / 2 - middle_drop(target.size)
    yield target.line(max(target.bar.right, target.reach) + target.gap, baseline), None


def before_end(target: LabelTarget) -> Iterator[Candidate]:
    """Yield the place inside a horizontal bar, before its end."""
    yield from _in_row(target, target.bar.right - 1.8 * target.gap, "right")


def after_foot(target: LabelTarget) -> Iterator[Candidate]:
    """Yield the place inside a horizontal bar, at its foot."""
    yield from _in_row(target, target.bar.left + 1.8 * target.gap, "left")


def _in_row(target: LabelTarget, x: float, ha: Side) -> Iterator[Candidate]:
    if target.width + 3 * target.gap <= target.bar.width and figure_height(target.size) <= target.bar.height:
        baseline = (target.bar.bottom + target.bar.top) / 2 - middle_drop(target.size)
        yield target.line(x, baseline, role=f"on-{target.role}", ha=ha), target.owner


def _first_of(first: LabelPlacement, other: LabelPlacement) -> LabelPlacement:
    """Return the form of numbers that have the one place where it is wide and high enough, else the other."""

    def either(target: LabelTarget) -> Iterator[Candidate]:
        pairs = list(first(target))
        yield from pairs or other(target)

    return either


#: Where in a part of a stack a number may be, as shares of what is left beside it: the middle first.
_PARTS = (0.5, 0.86, 0.14)


def middle_level(target: LabelTarget) -> Iterator[Candidate]:
    """Yield the places in a part of a stack: the middle, or beside what is in front of it."""
    above_, below = _reach(target)
    high, bar = (above_ + below) * target.size, target.bar
    wide = target.width + 0.6 * target.gap
    if wide > bar.width or high > bar.height:
        return
    for across in _PARTS:
        for up in _PARTS:
            x = bar.left + wide / 2 + across * (bar.width - wide)
            y = bar.bottom + below * target.size + up * (bar.height - high)
            yield _part(target, x, y, turned=False), target.owner


def middle_turned(target: LabelTarget) -> Iterator[Candidate]:
    """Yield the places in a narrow part of a stack, the number turned."""
    above_, below = _reach(target)
    high, bar = (above_ + below) * target.size, target.bar
    long = target.width + 0.6 * target.gap
    if high > bar.width or long > bar.height:
        return
    for across in _PARTS:
        for up in _PARTS:
            x = bar.left + above_ * target.size + across * (bar.width - high)
            y = bar.bottom + long / 2 + up * (bar.height - long)
            yield _part(target, x, y, turned=True), target.owner


def _reach(target: LabelTarget) -> tuple[float, float]:
    figures = not any(map(str.isalpha, target.label))
    return (FIGURE_ASCENT, FIGURE_DESCENT) if figures else (ASCENT, DESCENT)


def _part(target: LabelTarget, x: float, y: float, *, turned: bool) -> TextMark:
    figures = not any(map(str.isalpha, target.label))
    return target.pen.line(
        target.label,
        x,
        y,
        target.size,
        f"on-{target.role}",
        ha="center",
        rotation=90.0 if turned else 0.0,
        figures=figures,
    )


def forms_of(
    *, horizontal: bool, within: bool, turned: bool, only: str, inside_first: bool, may_inside: bool, feet: bool = False
) -> Sequence[LabelPlacement]:
    """Return the forms that the numbers of a series may have, the best first.

    Parameters
    ----------
    horizontal
        Whether the bars are.
    within
        Whether they are parts of stacks.
    turned
        Whether level numbers are wider than their bars' room.
    only
        The one place that is wanted: ``"above"``, ``"below"`` (at the foot), ``"beside"``; empty for the best.
    inside_first, may_inside
        Whether numbers are wanted inside, and whether they may be.
    feet
        Whether lines run over the bars: numbers are at their feet then, if they can be.
    """
    if within:
        return [foot, middle_level, middle_turned] if feet and not horizontal else [middle_level, middle_turned]
    if horizontal:
        outer, inner = [beyond], [before_end]
        wished = {"above": [beyond], "below": [after_foot], "beside": [beyond_all]}
    elif turned:
        outer, inner = [turned_above, above], [turned_inside]
        wished = {"above": outer, "below": [foot, turned_inside], "beside": [beside]}
    else:
        outer, inner = [above, turned_above], [inside, turned_inside]
        wished = {"above": outer, "below": [foot, turned_inside], "beside": [beside]}
    if only:
        return wished[only]
    if feet and not inside_first:
        return [*wished["below"], *outer, *inner]
    if not may_inside:
        return outer if horizontal else [above_or_aside, turned_above]
    if inside_first:  # wanted inside: those of low bars are beyond them
        return [_first_of(inner[0], outer[0]), *inner[1:], *outer[1:]]
    if horizontal:
        return [*outer, *inner]
    level = [] if turned else [above_or_inside]
    return [outer[0], inner[0], *level, outer[1], *inner[1:], *([] if turned else [foot])]


_SMALLEST = 0.75  # of the usual letters


@dataclass(frozen=True)
class LabeledBars:
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
    other_forms
        Whether a label that finds no place in the form of the others may have another one.
    ends
        Where the interval of each bar ends: numbers beyond a bar are beyond that.
    feet
        Whether numbers are wanted at the feet of the bars, as lines run over these.
    behind
        (bar, owner, role) of what is behind each bar: a label may be there over its own bar.
    first_inside
        Whether the number of the first bar is inside it, as a line begins at its end.
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
    other_forms: bool = False
    ends: Sequence[float] = ()
    feet: bool = False
    behind: Sequence[Sequence[tuple[Box, object, str]]] = ()
    first_inside: bool = False

    def order(self) -> list[int]:
        """Return the numbers of the bars in the order in which they choose."""
        rest = [] if self.alone else range(len(self.labels))
        return list(dict.fromkeys((*self.first, *rest)))


def bar_labels(
    bars: LabeledBars, places: TakenPlaces, writer: TextWriter, sizes: Sizes, *, horizontal: bool, leaders: bool = False
) -> list[PlacedLabel]:
    """Place a label at each bar, all in the one form that serves most of them.

    Where bars are closer than even turned labels could, only the first bars get one: others could not be stated apart.
    With `leaders`, labels that find no place at their bars are led to them by a thin line.
    """
    size = sizes.value
    if horizontal:  # letters may be a little smaller where bars are low
        size *= min(1.0, max(_SMALLEST, 0.94 * bars.pitch / figure_height(size)))
    crowded = bars.pitch < figure_height(size) - 1e-6
    targets = _spots(bars, size, sizes.px(5), writer, crowded=crowded)
    if not targets:
        return []
    room = bars.pitch - sizes.px(3)
    turned = not horizontal and not crowded and max(spot.width for spot in targets.values()) > room
    placements = forms_of(
        horizontal=horizontal,
        within=bars.within,
        turned=turned,
        only=bars.only,
        inside_first=bars.inside[1],
        may_inside=bars.inside[0],
        feet=bars.feet,
    )
    placed_labels: dict[int, PlacedLabel] = {}
    if bars.first_inside and 0 in targets:
        first = before_end if horizontal else inside
        placed_labels = _placed(first, {0: targets[0]}, bars, places, sizes, horizontal=horizontal)
    others = {number: target for number, target in targets.items() if number not in placed_labels}
    placed_labels |= _best(placements, others, bars, places, sizes, horizontal=horizontal)
    for number, target in targets.items() if bars.other_forms else ():
        for placement in placements:
            if number not in placed_labels:
                placed_labels |= _placed(placement, {number: target}, bars, places, sizes, horizontal=horizontal)
    for number, target in targets.items() if leaders else ():
        if number not in placed_labels:
            led_to = _led(target, _is_down(bars, number), bars, places, sizes, horizontal=horizontal)
            if led_to:
                placed_labels[number] = led_to
    return [replace(placed_label, number=number) for number, placed_label in placed_labels.items()]


def _spots(bars: LabeledBars, size: float, gap: float, writer: TextWriter, *, crowded: bool) -> dict[int, LabelTarget]:
    """Return the bars that want a number, in the order in which they choose."""
    edges = bars.edges.tolist()
    targets = {}
    for number in bars.order():
        if not bars.labels[number] or (crowded and number and number not in bars.first):
            continue
        reach = max((bar.right for bar, *_ in bars.behind[number]), default=0.0) if bars.behind else 0.0
        owner, role = bars.owners[number], bars.roles[number]
        end = bars.ends[number] if bars.ends else -math.inf
        targets[number] = LabelTarget(
            bars.labels[number], Box(*edges[number]), role, owner, size, gap, writer, reach, end
        )
    return targets


def _is_down(bars: LabeledBars, number: int) -> bool:
    return bool(bars.down) and bars.down[number]


def _best(
    placements: Sequence[LabelPlacement],
    targets: Mapping[int, LabelTarget],
    bars: LabeledBars,
    places: TakenPlaces,
    sizes: Sizes,
    *,
    horizontal: bool,
) -> dict[int, PlacedLabel]:
    """Place the labels in the form in which most find a place, the first of those."""
    most: tuple[int, LabelPlacement | None] = (-1, None)
    for placement in placements:
        moment = places.now()
        placed_labels = _placed(placement, targets, bars, places, sizes, horizontal=horizontal)
        if len(placed_labels) == len(targets):
            return placed_labels
        places.back_to(moment)
        if len(placed_labels) > most[0]:
            most = len(placed_labels), placement
    return {} if most[1] is None else _placed(most[1], targets, bars, places, sizes, horizontal=horizontal)


def _placed(
    placement: LabelPlacement,
    targets: Mapping[int, LabelTarget],
    bars: LabeledBars,
    places: TakenPlaces,
    sizes: Sizes,
    *,
    horizontal: bool,
) -> dict[int, PlacedLabel]:
    """Place labels in one form; those that find no place are left out."""
    placed_labels = {}
    for number, target in targets.items():
        candidates = list(placement(target))
        if _is_down(bars, number):
            candidates = [(mirrored(mark, target.bar, horizontal=horizontal), holder) for mark, holder in candidates]
        index = places.first_free(((mark.box, holder) for mark, holder in candidates), apart=sizes.px(2))
        over = None if index is not None else _over_behind(candidates, bars, number, places)
        if index is not None or over is not None:
            placed_labels[number] = PlacedLabel(over or candidates[index or 0][0])
    return placed_labels


def _led(
    target: LabelTarget, down: bool, bars: LabeledBars, places: TakenPlaces, sizes: Sizes, *, horizontal: bool
) -> PlacedLabel | None:
    """Place a label apart from its bar, with a line that leads to it."""
    far = _far(
        target.label, target.bar, target.size, sizes.px(5), target.pen, horizontal=horizontal, within=bars.within
    )
    marks = (mirrored(mark, target.bar, horizontal=horizontal) if down else mark for mark in far)
    end = partial(end_of, target.bar, horizontal=horizontal, down=down, within=bars.within)
    return place_with_leader(places, marks, end, apart=sizes.px(2))


def _over_behind(
    candidates: Sequence[Candidate], bars: LabeledBars, number: int, places: TakenPlaces
) -> TextMark | None:
    """Return a label over its bar that is on the bar behind, in the ink for that; None if none can."""
    for bar, owner, role in bars.behind[number] if bars.behind else ():
        for mark, holder in candidates:
            if holder is None and mark.box.within(bar) and places.free(mark.box, owner):
                places.take_label(mark.box)
                return mark._replace(role=f"on-{role}")
    return None


def _far(
    label: str, bar: Box, size: float, gap: float, writer: TextWriter, *, horizontal: bool, within: bool
) -> Iterator[TextMark]:
    """Yield places farther from a bar."""
    x, y = (bar.left + bar.right) / 2, (bar.bottom + bar.top) / 2
    if within and horizontal:  # in steps: each leader passes behind the label of the part before
        for row in range(16):
            rise = (0.9 + 1.35 * row) * size
            under = bar.bottom - rise - FIGURE_ASCENT * size
            for level in (bar.top + rise, under):
                yield writer.line(label, x - 3.0, level, size, "value", ha="right", figures=True)
        return
    for away in (1.3, 2.2, 3.2, 4.4, 6.0):
        reach = away * size
        if within:
            for rise in (0.0, 1.0, -1.0, 2.0, -2.0):
                yield writer.line(
                    label, bar.right + reach, y + rise * size - middle_drop(size), size, "value", figures=True
                )
        elif horizontal:
            for rise in (0.0, 1.1, -1.1):
                position = y + rise * size - middle_drop(size)
                yield writer.line(label, bar.right + gap + reach, position, size, "value", figures=True)
        else:
            for aside in (0.0, 1.5, -1.5, 3.0, -3.0):
                position = bar.top + gap + reach
                yield writer.line(label, x + aside * size, position, size, "value", ha="center", figures=True)
