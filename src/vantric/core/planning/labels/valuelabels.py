"""The numbers at bars: those of a series share one form; each gets a place of its own or none."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial

from vantric.core.numbers.arrays import Floats
from vantric.core.planning.labels.barforms import Candidate, Form, Spot, forms_of
from vantric.core.planning.labels.leaders import Placed, led, shifted
from vantric.core.planning.labels.places import Places
from vantric.core.planning.lettering import Pen, Sizes, figure_height, middle_drop
from vantric.core.planning.measure import FIGURE_ASCENT
from vantric.core.planning.plan import Box, TextMark

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
    other_forms
        Whether a label that finds no place in the form of the others may have another one.
    ends
        Where the interval of each bar ends: numbers beyond a bar are beyond that.
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
    other_forms: bool = False
    ends: Sequence[float] = ()
    behind: Sequence[Sequence[tuple[Box, object, str]]] = ()

    def order(self) -> list[int]:
        """Return the numbers of the bars in the order in which they choose."""
        rest = [] if self.alone else range(len(self.labels))
        return list(dict.fromkeys((*self.first, *rest)))


def bar_labels(
    wanted: Labeled, places: Places, pen: Pen, sizes: Sizes, *, horizontal: bool, leaders: bool = False
) -> list[Placed]:
    """Place a label at each bar, all in the one form that serves most of them.

    Where bars are closer than even turned labels could, only the first bars get one: others could not be stated apart.
    With `leaders`, labels that find no place at their bars are led to them by a thin line.
    """
    size = sizes.value
    if horizontal:  # letters may be a little smaller where bars are low
        size *= min(1.0, max(_SMALLEST, 0.94 * wanted.pitch / figure_height(size)))
    crowded = wanted.pitch < figure_height(size) - 1e-6
    spots = _spots(wanted, size, sizes.px(5), pen, crowded=crowded)
    if not spots:
        return []
    room = wanted.pitch - sizes.px(3)
    turned = not horizontal and not crowded and max(spot.width for spot in spots.values()) > room
    forms = forms_of(
        horizontal=horizontal, within=wanted.within, turned=turned, only=wanted.only, inside_first=wanted.inside[1],
        may_inside=wanted.inside[0],
    )  # fmt: skip
    found = _best(forms, spots, wanted, places, sizes, horizontal=horizontal)
    for number, spot in spots.items() if wanted.other_forms else ():
        for form in forms:
            if number not in found:
                found |= _placed(form, {number: spot}, wanted, places, sizes, horizontal=horizontal)
    for number, spot in spots.items() if leaders else ():
        if number not in found:
            led_to = _led(spot, _is_down(wanted, number), wanted, places, sizes, horizontal=horizontal)
            if led_to:
                found[number] = led_to
    return [replace(one, number=number) for number, one in found.items()]


def _spots(wanted: Labeled, size: float, gap: float, pen: Pen, *, crowded: bool) -> dict[int, Spot]:
    """Return the bars that want a number, in the order in which they choose."""
    edges = wanted.edges.tolist()
    found = {}
    for number in wanted.order():
        if not wanted.labels[number] or (crowded and number and number not in wanted.first):
            continue
        reach = max((bar.right for bar, *_ in wanted.behind[number]), default=0.0) if wanted.behind else 0.0
        owner, role = wanted.owners[number], wanted.roles[number]
        end = wanted.ends[number] if wanted.ends else -math.inf
        found[number] = Spot(wanted.labels[number], Box(*edges[number]), role, owner, size, gap, pen, reach, end)
    return found


def _is_down(wanted: Labeled, number: int) -> bool:
    return bool(wanted.down) and wanted.down[number]


def _best(
    forms: Sequence[Form], spots: Mapping[int, Spot], wanted: Labeled, places: Places, sizes: Sizes, *, horizontal: bool
) -> dict[int, Placed]:
    """Place the labels in the form in which most find a place, the first of those."""
    most: tuple[int, Form | None] = (-1, None)
    for form in forms:
        moment = places.now()
        found = _placed(form, spots, wanted, places, sizes, horizontal=horizontal)
        if len(found) == len(spots):
            return found
        places.back_to(moment)
        if len(found) > most[0]:
            most = len(found), form
    return {} if most[1] is None else _placed(most[1], spots, wanted, places, sizes, horizontal=horizontal)


def _placed(
    form: Form, spots: Mapping[int, Spot], wanted: Labeled, places: Places, sizes: Sizes, *, horizontal: bool
) -> dict[int, Placed]:
    """Place labels in one form; those that find no place are left out."""
    found = {}
    for number, spot in spots.items():
        candidates = list(form(spot))
        if _is_down(wanted, number):
            candidates = [(_mirrored(mark, spot.bar, horizontal=horizontal), holder) for mark, holder in candidates]
        chosen = places.first_free(((mark.box, holder) for mark, holder in candidates), apart=sizes.px(2))
        over = None if chosen is not None else _over_behind(candidates, wanted, number, places)
        if chosen is not None or over is not None:
            found[number] = Placed(over or candidates[chosen or 0][0])
    return found


def _led(spot: Spot, down: bool, wanted: Labeled, places: Places, sizes: Sizes, *, horizontal: bool) -> Placed | None:
    """Place a label apart from its bar, with a line that leads to it."""
    far = _far(spot.label, spot.bar, spot.size, sizes.px(5), spot.pen, horizontal=horizontal, within=wanted.within)
    marks = (_mirrored(mark, spot.bar, horizontal=horizontal) if down else mark for mark in far)
    end = partial(_end, spot.bar, horizontal=horizontal, down=down, within=wanted.within)
    return led(places, marks, end, apart=sizes.px(2))


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
