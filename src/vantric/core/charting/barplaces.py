"""Where bars are within a category: beside each other, in stacks, or one in front of the other."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from vantric.core.charting.series import Bars
from vantric.core.numbers.arrays import Floats

BAR_SHARE = 0.8  # of a category's slot; bars touch where points are at their edges
_NARROWER = 0.6  # of the bar behind


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


def bar_places(
    bars: Sequence[Bars], *, together: str = "grouped", gap: float = 0.0, share: float = BAR_SHARE
) -> list[BarPlace]:
    """Return where each series of bars is, in the order of the series.

    Bars of one stack share a place: positive values upward, negative ones downward. Bars on different axes never do.

    Parameters
    ----------
    bars
        The series.
    together
        ``"grouped"``, ``"stacked"``, ``"percent"`` or ``"overlaid"``.
    gap
        Between two places, as a share of a bar's width.
    share
        Of a category's slot that its bars take.
    """
    keys = [_key(one, number, together) for number, one in enumerate(bars)]
    order = list(dict.fromkeys(keys))
    width = share / (len(order) + gap * (len(order) - 1)) if order else share
    stacks = [key for key in order if together != "overlaid" and keys.count(key) > 1]
    bases: dict[object, tuple[Floats, Floats]] = {}
    places = []
    for number, (one, key) in enumerate(zip(bars, keys, strict=True)):
        start = (1 - share) / 2 + order.index(key) * width * (1 + gap)
        own = one.width if one.width is not None else _NARROWER**number if together == "overlaid" else 1.0
        values = np.array(one.values, dtype=np.float64)
        below = np.zeros(len(values))
        if key in stacks:
            up, down = bases.setdefault(key, (np.zeros(len(values)), np.zeros(len(values))))
            below = np.where(values < 0, down, up)
            plain = np.nan_to_num(values)
            bases[key] = up + np.maximum(plain, 0), down + np.minimum(plain, 0)
        low, high = np.where(np.isnan(values), np.nan, below), below + values
        stack = stacks.index(key) if key in stacks else None
        in_front = number if together == "overlaid" else 0
        places.append(BarPlace(start + width * (1 - own) / 2, width * own, low, high, stack, in_front))
    return places


def _key(one: Bars, number: int, together: str) -> object:
    """Return what bars share that share a place."""
    if together == "overlaid":
        return "all"
    return (one.secondary, one.stack) if one.stack or together in ("stacked", "percent") else number
