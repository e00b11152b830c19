"""Where bars stand within a category: beside each other, in stacks, or one in front of the other."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from vantric.core.charting.chart import Chart
from vantric.core.charting.plan import Floats

BAR_SHARE = 0.8  # of a category's slot; bars touch where points stand at their edges
_NARROWER = 0.6  # of the bar behind


@dataclass(frozen=True, eq=False)
class BarPlace:
    """Where a series of bars stands.

    Attributes
    ----------
    start, width
        Within a category's slot, which is 1 wide.
    low, high : ndarray of shape (n,)
        Between which values each bar stands; NaN where its value is missing.
    stack
        The number of its stack; None for a bar of its own.
    front
        How far in front it stands.
    """

    start: float
    width: float
    low: Floats
    high: Floats
    stack: int | None = None
    front: int = 0


def bar_places(chart: Chart) -> list[BarPlace]:
    """Return where each series of bars stands, in the order of the series.

    Bars of one stack share a place: positive values upward, negative ones downward. Bars on different axes never do.
    """
    bars = chart.bars
    keys = [_key(chart, number) for number in range(len(bars))]
    order = list(dict.fromkeys(keys))
    share = 1.0 if chart.points == "edge" else BAR_SHARE
    width = share / (len(order) + chart.gap * (len(order) - 1)) if order else share
    stacks = [key for key in order if chart.together != "overlaid" and keys.count(key) > 1]
    bases: dict[object, tuple[Floats, Floats]] = {}
    places = []
    for number, (one, key) in enumerate(zip(bars, keys, strict=True)):
        at = order.index(key)
        start = (1 - share) / 2 + at * width * (1 + chart.gap)
        own = one.width if one.width is not None else _NARROWER**number if chart.together == "overlaid" else 1.0
        values = np.array(one.values, dtype=np.float64)
        below = np.zeros(len(values))
        if key in stacks:
            up, down = bases.setdefault(key, (np.zeros(len(values)), np.zeros(len(values))))
            below = np.where(values < 0, down, up)
            plain = np.nan_to_num(values)
            bases[key] = up + np.maximum(plain, 0), down + np.minimum(plain, 0)
        low, high = np.where(np.isnan(values), np.nan, below), below + values
        stack = stacks.index(key) if key in stacks else None
        places.append(BarPlace(start + width * (1 - own) / 2, width * own, low, high, stack, _front(chart, number)))
    return places


def _key(chart: Chart, number: int) -> object:
    """Return what bars share that share a place."""
    one = chart.bars[number]
    if chart.together == "overlaid":
        return "all"
    if one.stack or chart.together in ("stacked", "percent"):
        return one.secondary, one.stack
    return number


def _front(chart: Chart, number: int) -> int:
    return number if chart.together == "overlaid" else 0
