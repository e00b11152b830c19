"""Where bars are within a category: beside each other, in stacks, or one in front of the other."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

import numpy as np

from vantric.base.lazily import dataclass
from vantric.core.charts.series import Bars

if TYPE_CHECKING:
    from vantric.core.numbers.amounts import Floats

BAR_SHARE = 0.76  # of a category's slot; bars touch where points are at their edges
_NARROWER = 0.6  # of the bar behind


@dataclass(frozen=True)
class Arrangement:
    """How series of bars share the place of a category.

    Attributes
    ----------
    together, secondary_together
        How those of either axis share it: ``"grouped"``, ``"stacked"``, ``"percent"`` or ``"overlaid"``.
    secondary_bars
        Whether those of the secondary axis are in ``"front"`` of the others, narrower, or ``"beside"`` them.
    gap
        Between two places, as a share of a bar's width.
    share
        Of a category's slot that its bars take.
    """

    together: str = "grouped"
    secondary_together: str = "grouped"
    secondary_bars: str = "front"
    gap: float = 0.0
    share: float = BAR_SHARE

    def mode(self, bars: Bars) -> str:
        """Return how a series shares its place with others of its axis."""
        return self.secondary_together if bars.secondary else self.together


@dataclass(frozen=True, eq=False)
class BarPlace:
    """Where a series of bars is.

    Attributes
    ----------
    start, width
        Within a category's slot, which is 1 wide.
    low, high : ndarray of shape (n,)
        Between which values each bar is; NaN where its value is missing.
    stack
        The number of its stack; None for a bar of its own.
    front
        How far in front it is.
    """

    start: float
    width: float
    low: Floats
    high: Floats
    stack: int | None = None
    front: int = 0

    def meets(self, other: BarPlace) -> bool:
        """Whether the two share some of the width of a category."""
        return self.start < other.start + other.width - 1e-9 and other.start < self.start + self.width - 1e-9


@dataclass(frozen=True)
class _Slot:
    """A place in a category: its middle, its width, and how far in front it is."""

    middle: float
    width: float
    front: int = 0


#: What bars share that are one on the other, and what those share that have one place.
_Heap = tuple[bool, object]


def bar_places(bars: Sequence[Bars], how: Arrangement) -> list[BarPlace]:
    """Return where each series of bars is, in the order of the series.

    Bars of one stack share a place: positive values upward, negative ones downward. Bars on different axes never do:
    those of the secondary axis are narrower and in front, or beside.
    """
    heaps = [_heap(bar, number, how) for number, bar in enumerate(bars)]
    depth = len({heap for heap in heaps if not heap[0]}) if how.together == "overlaid" else 1
    slots = _slots([_place(bar, heap, how) for bar, heap in zip(bars, heaps, strict=True)], how, depth)
    stacks = [heap for heap in dict.fromkeys(heaps) if heaps.count(heap) > 1]
    bases: dict[_Heap, tuple[Floats, Floats]] = {}
    places = []
    for number, (item, heap) in enumerate(zip(bars, heaps, strict=True)):
        slot = slots[number]
        overlaid = how.mode(item) == "overlaid"
        index = list(dict.fromkeys(key for key in heaps if key[0] == item.secondary)).index(heap) if overlaid else 0
        own = item.width if item.width is not None else _NARROWER**index
        values = np.array(item.values, dtype=np.float64)
        below = np.zeros(len(values))
        if heap in stacks:
            up, down = bases.setdefault(heap, (np.zeros(len(values)), np.zeros(len(values))))
            below = np.where(values < 0, down, up)
            plain = np.nan_to_num(values)
            bases[heap] = up + np.maximum(plain, 0), down + np.minimum(plain, 0)
        low, high = np.where(np.isnan(values), np.nan, below), below + values
        width, front = slot.width * own, slot.front + index
        stack = stacks.index(heap) if heap in stacks else None
        places.append(BarPlace(slot.middle - width / 2, width, low, high, stack, front))
    return places


def _heap(bars: Bars, number: int, how: Arrangement) -> _Heap:
    """Return what bars share that are one on the other."""
    stacked = bars.stack or how.mode(bars) in ("stacked", "percent")
    return bars.secondary, f"stack {bars.stack}" if stacked else number


def _place(bars: Bars, heap: _Heap, how: Arrangement) -> _Heap:
    """Return what bars share that have one place: overlaid ones have that of their axis."""
    return (bars.secondary, "all") if how.mode(bars) == "overlaid" else heap


def _slots(places: Sequence[_Heap], how: Arrangement, depth: int) -> list[_Slot]:
    """Return the place of each series; `depth` bars of the primary axis are one in front of the other."""
    order = list(dict.fromkeys(places))
    behind, before = ([key for key in order if key[0] == secondary] for secondary in (False, True))
    if not behind or not before or how.secondary_bars == "beside":
        slots = dict(zip(order, _beside(len(order), how), strict=True))
        return [slots[key] for key in places]
    slots = dict(zip(behind, _beside(len(behind), how), strict=True))
    most = min(slots[behind[0]].width, how.share / len(before))
    width = _NARROWER**depth * most  # each one behind is seen at its sides
    edge = (1 - how.share) / 2
    for index, key in enumerate(before):
        same = len(before) == len(behind)
        middle = slots[behind[index]].middle if same else edge + how.share * (index + 0.5) / len(before)
        slots[key] = _Slot(middle, width, len(places))
    return [slots[key] for key in places]


def _beside(count: int, how: Arrangement) -> list[_Slot]:
    width = how.share / (count + how.gap * (count - 1)) if count else how.share
    start = (1 - how.share) / 2 + width / 2
    return [_Slot(start + index * width * (1 + how.gap), width) for index in range(count)]
