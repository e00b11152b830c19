"""A scale for one side by itself, linear or log."""

from __future__ import annotations

import math
from fractions import Fraction

from vantric.core.axes.scale import MOST_TICKS, Scale, as_float, nice_step, ticks_between, typed
from vantric.core.axes.side import Side

_FEW_DECADES = 3.0


def limits_of(side: Side, headroom: float) -> tuple[float, float]:
    """Return the limits of one side: what is fixed, else the data with headroom; in decades on a log side."""
    below, above = (headroom if free else 0.0 for free in side.free_ends())
    low = side.low if side.fixed[0] is None else side.fixed[0]
    high = side.high if side.fixed[1] is None else side.fixed[1]
    height = (high / 2 - low / 2) / (1 - below - above) * 2
    return low - below * height, high + above * height


def single_scale(side: Side, headroom: float, *, whole: bool = False) -> Scale:
    """Return a scale for one side: nice steps, or decades with 2 and 5 between them where there are few.

    Parameters
    ----------
    side
        The range and what is wanted of it.
    headroom
        Share of the height left free beyond each data end that is neither zero nor fixed.
    whole
        Whether only whole steps make sense.
    """
    lower, upper = limits_of(side, headroom)
    if side.log:
        return log_scale(lower, upper)
    bottom, top = typed(lower), typed(upper)
    step = nice_step(bottom, top, whole=whole)
    return Scale(lower, upper, ticks_between(bottom, top, step), as_float(step))


def log_scale(lower: float, upper: float) -> Scale:
    """Return a log scale between two powers of ten, given as decades.

    Several decades: ticks at each, or at every k-th where there are many; few: at 1, 2 and 5; less than one: the nice
    steps of a linear axis, at their places on this one.
    """
    low, high = 10**lower, 10**upper
    decades = upper - lower
    first, last = math.floor(lower), math.ceil(upper)
    if decades >= _FEW_DECADES:
        every = max(1, math.ceil(decades / MOST_TICKS))
        exponents = [power for power in range(first, last + 1) if power % every == 0]
        ticks = _inside([float(f"1e{power}") for power in exponents], low, high)
        minor = [float(f"{m}e{power}") for power in range(first, last + 1) for m in (2, 5)] if every == 1 else []
        return Scale(low, high, ticks, float(every), "log", _inside(minor, low, high))
    fine = [float(f"{m}e{power}") for power in range(first - 1, last + 1) for m in (1, 2, 5)]
    ticks = _inside(fine, low, high)
    if len(ticks) < 3:
        bottom, top = Fraction(repr(low)), Fraction(repr(high))
        ticks = ticks_between(bottom, top, nice_step(bottom, top))
    return Scale(low, high, ticks, 0.0, "log")


def _inside(values: list[float], low: float, high: float) -> tuple[float, ...]:
    slack = 1e-12
    return tuple(value for value in values if low * (1 - slack) <= value <= high * (1 + slack))
