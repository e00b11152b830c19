"""The forms of numbers at bars: each is one place and one direction, which all numbers of a series share."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from vantric.core.planning.lettering import Pen, figure_height, middle_drop
from vantric.core.planning.measure import ASCENT, DESCENT, FIGURE_ASCENT, FIGURE_DESCENT
from vantric.core.planning.plan import Box, TextMark

#: A label's mark, and the owner of what it may be on.
Candidate = tuple[TextMark, object]


@dataclass(frozen=True)
class Spot:
    """One bar that wants a number: the text, the bar, what it is, who owns its place, and how it is written.

    `reach` is where the farthest of the bars ends that it is in front of, `end` where its interval does.
    """

    label: str
    bar: Box
    role: str
    owner: object
    size: float
    gap: float
    pen: Pen
    reach: float = -math.inf
    end: float = -math.inf

    def line(self, x: float, y: float, *, role: str = "value", ha: str = "left", turned: bool = False) -> TextMark:
        """Return the number as a line of figures."""
        return self.pen.line(
            self.label, x, y, self.size, role, ha=ha, rotation=90.0 if turned else 0.0, figures=True  # type: ignore[arg-type]
        )  # fmt: skip

    @property
    def width(self) -> float:
        """The width of the number."""
        return self.pen.width(self.label, self.size)

    @property
    def middle(self) -> float:
        """The middle of the bar along x."""
        return (self.bar.left + self.bar.right) / 2

    @property
    def turned_base(self) -> float:
        """Where the baseline of a turned number is."""
        return self.middle + (FIGURE_ASCENT - FIGURE_DESCENT) / 2 * self.size


Form = Callable[[Spot], Iterator[Candidate]]


def above(spot: Spot) -> Iterator[Candidate]:
    """Yield the places over a bar: a line that passes there may push the number a little aside."""
    x, y, gap = spot.middle, max(spot.bar.top, spot.end) + spot.gap + FIGURE_DESCENT * spot.size, spot.gap
    yield spot.line(x, y, ha="center"), None
    yield spot.line(x - 1.6 * gap, y, ha="right"), None
    yield spot.line(x - 0.4 * gap, y + gap, ha="right"), None


def inside(spot: Spot) -> Iterator[Candidate]:
    """Yield the place under the upper end of a bar."""
    y = spot.bar.top - 1.8 * spot.gap - FIGURE_ASCENT * spot.size
    if (
        spot.width <= spot.bar.width - 0.4 * spot.gap
        and y - FIGURE_DESCENT * spot.size - 0.4 * spot.gap >= spot.bar.bottom
    ):
        yield spot.line(spot.middle, y, role=f"on-{spot.role}", ha="center"), spot.owner


def foot(spot: Spot) -> Iterator[Candidate]:
    """Yield the place at the foot of a bar."""
    y = spot.bar.bottom + spot.gap + FIGURE_DESCENT * spot.size
    if spot.width <= spot.bar.width - 0.4 * spot.gap and y + (FIGURE_ASCENT + 1) * spot.size <= spot.bar.top:
        yield spot.line(spot.middle, y, role=f"on-{spot.role}", ha="center"), spot.owner


def beside(spot: Spot) -> Iterator[Candidate]:
    """Yield the places to the left and right of a bar's upper end."""
    y = spot.bar.top - 1.8 * spot.gap - FIGURE_ASCENT * spot.size
    yield spot.line(spot.bar.left - spot.gap, y, ha="right"), None
    yield spot.line(spot.bar.right + spot.gap, y), None


def turned_above(spot: Spot) -> Iterator[Candidate]:
    """Yield the place over a narrow bar, the number turned."""
    yield spot.line(spot.turned_base, max(spot.bar.top, spot.end) + spot.gap, turned=True), None


def turned_inside(spot: Spot) -> Iterator[Candidate]:
    """Yield the place inside a narrow bar, the number turned."""
    if figure_height(spot.size) <= spot.bar.width and spot.width + 3 * spot.gap <= spot.bar.height:
        y = spot.bar.top - 1.8 * spot.gap
        yield spot.line(spot.turned_base, y, role=f"on-{spot.role}", ha="right", turned=True), spot.owner


def beyond(spot: Spot) -> Iterator[Candidate]:
    """Yield the places behind the end of a horizontal bar."""
    bar, gap, size = spot.bar, spot.gap, spot.size
    baseline = (bar.bottom + bar.top) / 2 - middle_drop(size)
    yield spot.line(max(bar.right, spot.end) + gap, baseline), None
    if bar.height < 1.4 * size:  # below would be beside the next bar
        return
    yield spot.line(bar.right + gap, bar.bottom + FIGURE_DESCENT * size), None
    below = bar.bottom - 0.4 * gap - FIGURE_ASCENT * size
    yield spot.line(bar.right + gap, below), None
    yield spot.line(bar.right - gap, below, ha="right"), None


def beyond_all(spot: Spot) -> Iterator[Candidate]:
    """Yield the place behind the end of a horizontal bar and of all bars that it is in front of."""
    baseline = (spot.bar.bottom + spot.bar.top) / 2 - middle_drop(spot.size)
    yield spot.line(max(spot.bar.right, spot.reach) + spot.gap, baseline), None


def before_end(spot: Spot) -> Iterator[Candidate]:
    """Yield the place inside a horizontal bar, before its end."""
    yield from _in_row(spot, spot.bar.right - 1.8 * spot.gap, "right")


def after_foot(spot: Spot) -> Iterator[Candidate]:
    """Yield the place inside a horizontal bar, at its foot."""
    yield from _in_row(spot, spot.bar.left + 1.8 * spot.gap, "left")


def _in_row(spot: Spot, x: float, ha: str) -> Iterator[Candidate]:
    if spot.width + 3 * spot.gap <= spot.bar.width and figure_height(spot.size) <= spot.bar.height:
        baseline = (spot.bar.bottom + spot.bar.top) / 2 - middle_drop(spot.size)
        yield spot.line(x, baseline, role=f"on-{spot.role}", ha=ha), spot.owner


def _first_of(one: Form, other: Form) -> Form:
    """Return the form of numbers that have the one place where it is wide and high enough, else the other."""

    def either(spot: Spot) -> Iterator[Candidate]:
        found = list(one(spot))
        yield from found or other(spot)

    return either


#: Where in a part of a stack a number may be, as shares of what is left beside it: the middle first.
_PARTS = (0.5, 0.86, 0.14)


def middle_level(spot: Spot) -> Iterator[Candidate]:
    """Yield the places in a part of a stack: the middle, or beside what is in front of it."""
    above_, below = _reach(spot)
    high, bar = (above_ + below) * spot.size, spot.bar
    wide = spot.width + 0.6 * spot.gap
    if wide > bar.width or high > bar.height:
        return
    for across in _PARTS:
        for up in _PARTS:
            x = bar.left + wide / 2 + across * (bar.width - wide)
            y = bar.bottom + below * spot.size + up * (bar.height - high)
            yield _part(spot, x, y, turned=False), spot.owner


def middle_turned(spot: Spot) -> Iterator[Candidate]:
    """Yield the places in a narrow part of a stack, the number turned."""
    above_, below = _reach(spot)
    high, bar = (above_ + below) * spot.size, spot.bar
    long = spot.width + 0.6 * spot.gap
    if high > bar.width or long > bar.height:
        return
    for across in _PARTS:
        for up in _PARTS:
            x = bar.left + above_ * spot.size + across * (bar.width - high)
            y = bar.bottom + long / 2 + up * (bar.height - long)
            yield _part(spot, x, y, turned=True), spot.owner


def _reach(spot: Spot) -> tuple[float, float]:
    figures = not any(map(str.isalpha, spot.label))
    return (FIGURE_ASCENT, FIGURE_DESCENT) if figures else (ASCENT, DESCENT)


def _part(spot: Spot, x: float, y: float, *, turned: bool) -> TextMark:
    figures = not any(map(str.isalpha, spot.label))
    return spot.pen.line(
        spot.label, x, y, spot.size, f"on-{spot.role}", ha="center", rotation=90.0 if turned else 0.0, figures=figures
    )


def forms_of(
    *, horizontal: bool, within: bool, turned: bool, only: str, inside_first: bool, may_inside: bool
) -> Sequence[Form]:
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
    """
    if within:
        return [middle_level, middle_turned]
    if horizontal:
        outer, inner, wished = (
            [beyond],
            [before_end],
            {"above": [beyond], "below": [after_foot], "beside": [beyond_all]},
        )
    elif turned:
        outer, inner = [turned_above, above], [turned_inside]
        wished = {"above": outer, "below": [foot, turned_inside], "beside": [beside]}
    else:
        outer, inner = [above, turned_above], [inside, turned_inside]
        wished = {"above": outer, "below": [foot, turned_inside], "beside": [beside]}
    if only:
        return wished[only]
    if not may_inside:
        return outer
    if inside_first:  # wanted inside: those of low bars are beyond them
        return [_first_of(inner[0], outer[0]), *inner[1:], *outer[1:]]
    if horizontal:
        return [*outer, *inner]
    return [outer[0], inner[0], outer[1], *inner[1:], *([] if turned else [foot])]
