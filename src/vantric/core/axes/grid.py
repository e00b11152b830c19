"""One grid for two axes: the best of all pairs of nice steps.

Each side is written in steps: a value v lies at v / step. The two sides share the places of their ticks when they
differ by a whole number of steps, and by none where zero stands on zero. So for every pair of steps the height is the
union of the two ranges, headroom added, and the coverage of a side is its own range over that height. All pairs are
compared at once.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from vantric.core.axes.scale import FEWEST_TICKS, MANTISSAS, MOST_TICKS, Scale, as_float, typed
from vantric.core.axes.side import Side
from vantric.errors import ScaleError

_CLOSE = 1e-9
_DECADES = (1, 2, 3, 4, 5, 6, 8, 10, 15, 20, 25, 30, 40, 50, 60, 80, 100)
_DECADE_STEPS = tuple((Fraction(decades), place) for place, decades in enumerate(_DECADES))
_DECADE_SIZES = np.array(_DECADES, dtype=np.float64)
Floats = NDArray[np.float64]


@dataclass(frozen=True)
class _Frame:
    """A side in steps, counted from a value that is a multiple of every step.

    Attributes
    ----------
    base
        That value: zero where the side holds zero.
    steps
        The candidates, with how simple each is.
    low, high, lower, upper
        The data's ends and the fixed limits, in each of the steps; None where a limit is free.
    """

    side: Side
    base: Fraction
    steps: tuple[tuple[Fraction, int], ...]
    low: Floats
    high: Floats
    lower: Floats | None
    upper: Floats | None


def grid_scales(primary: Side, secondary: Side, headroom: float) -> tuple[Scale, Scale, tuple[float, float]]:
    """Return two scales on one grid, and the coverage of each.

    Of all pairs of nice steps (1, 2, 2.5 or 5 times a power of ten; whole decades on a log side) that give 4 to 10
    ticks, it is the pair whose smaller coverage is largest; among equals the larger coverage decides, then fewer
    ticks, then simpler steps.

    Raises
    ------
    ScaleError
        If limits are fixed so that no grid serves both sides.
    """
    one, other = _framed(primary), _framed(secondary)
    found = _search(one, other, headroom)
    if found is None:
        raise ScaleError(_conflict(primary, secondary))
    first, second, shift, start, end = found
    scales = (
        _scale(one, first, start, end, 0),
        _scale(other, second, start, end, shift),
    )
    coverage = tuple(
        float((frame.high[at] - frame.low[at]) / (end - start)) for frame, at in ((one, first), (other, second))
    )
    return *scales, (coverage[0], coverage[1])


def _framed(side: Side) -> _Frame:
    ends = [end for end in side.fixed if end is not None]
    low, high = min([side.low, *ends]), max([side.high, *ends])
    base = Fraction(0)
    if side.log:
        steps, sizes = _DECADE_STEPS, _DECADE_SIZES
    else:
        span = high - low
        power = math.floor(math.log10(span))
        steps, sizes = _steps(power)
        coarse = int(np.searchsorted(sizes, span / (MOST_TICKS + 1)))  # finer ones give more ticks than ten
        steps, sizes = steps[coarse:], sizes[coarse:]
        if not side.zero and not low <= 0 <= high:
            unit = Fraction(10) ** (power + 2)
            base = math.floor(typed(low) / unit) * unit

    def in_steps(value: float | None) -> Floats | None:
        if value is None:
            return None
        away = value if not base else as_float(typed(value) - base)
        return np.asarray(away / sizes, dtype=np.float64)

    low_in, high_in = in_steps(side.low), in_steps(side.high)
    assert low_in is not None
    assert high_in is not None
    return _Frame(side, base, steps, low_in, high_in, *map(in_steps, side.fixed))


@lru_cache(maxsize=1024)
def _steps(power: int) -> tuple[tuple[tuple[Fraction, int], ...], Floats]:
    """Return the nice steps about a power of ten, ascending, with how simple each is; and as floats."""
    steps = tuple(
        (mantissa * Fraction(10) ** exponent, place)
        for exponent in (power - 1, power, power + 1)
        for place, mantissa in enumerate(MANTISSAS)
    )
    return steps, np.array([as_float(step) for step, _ in steps])


def _search(one: _Frame, other: _Frame, headroom: float) -> tuple[int, int, int, float, float] | None:
    """Return the places of both steps, the shift of the secondary, and where the height starts and ends, in steps."""
    a0, b0, a1, b1 = one.low[:, None], one.high[:, None], other.low[None, :], other.high[None, :]
    shifts = _shifts(one, other, headroom)
    a1, b1 = a1 - shifts, b1 - shifts
    low, high = np.minimum(a0, a1), np.maximum(b0, b1)
    free0, free1 = one.side.free_ends(), other.side.free_ends()
    lower = _known(one.lower, other.lower, shifts)
    upper = _known(one.upper, other.upper, shifts)
    below = 0.0 if lower is not None else _room(a0 <= low, a1 <= low, free0[0], free1[0], headroom)
    above = 0.0 if upper is not None else _room(b0 >= high, b1 >= high, free0[1], free1[1], headroom)
    bottom, top = low if lower is None else lower, high if upper is None else upper
    height = (top - bottom) / (1 - below - above)
    start, end = bottom - below * height, top + above * height
    slack = _CLOSE * np.abs(height) + 1e-12
    ticks = np.floor(end + slack) - np.ceil(start - slack) + 1
    fits = (ticks >= FEWEST_TICKS) & (ticks <= MOST_TICKS)
    if lower is not None or upper is not None:
        fits = fits & (start <= low + slack) & (end >= high - slack) & (height > 0)
        for own, their in ((one.lower, other.lower), (one.upper, other.upper)):
            if own is not None and their is not None:
                fits = fits & (np.abs(their[None, :] - shifts - own[:, None]) <= slack)
    if not fits.any():
        return None
    cover0, cover1 = (b0 - a0) / height, (b1 - a1) / height
    smaller = np.where(fits, np.minimum(cover0, cover1), -1.0)
    best = np.nonzero(smaller >= smaller.max() * (1 - 1e-12))
    larger = np.maximum(cover0, cover1)
    at = min(
        zip(*(axis.tolist() for axis in best), strict=True),
        key=lambda at: (
            -round(_at(larger, at), 12), _at(ticks, at), one.steps[at[1]][1] + other.steps[at[2]][1], at,
        ),
    )  # fmt: skip
    return at[1], at[2], int(_at(shifts, at)), _at(start, at), _at(end, at)


def _at(values: Floats, at: tuple[int, int, int]) -> float:
    """Return one value of an array that may lack an axis, or be of one element along it."""
    own = at[len(at) - values.ndim :]
    return float(values[tuple(place if size > 1 else 0 for place, size in zip(own, values.shape, strict=True))])


def _shifts(one: _Frame, other: _Frame, headroom: float) -> Floats:
    """Return the whole numbers of steps by which the secondary may be shifted: those that waste least height."""
    if one.side.zero and other.side.zero:
        return np.zeros((1, 1, 1))
    a0, b0, a1, b1 = one.low[:, None], one.high[:, None], other.low[None, :], other.high[None, :]
    centres = [(a1 + b1 - a0 - b0) / 2]
    for own, their, end in ((one.lower, other.lower, (a0, a1)), (one.upper, other.upper, (b0, b1))):
        if own is not None:
            centres.append(end[1] - own[:, None])
        if their is not None:
            centres.append(their[None, :] - end[0])
        if own is not None and their is not None:
            centres.append(their[None, :] - own[:, None])
    found = np.floor(np.stack(np.broadcast_arrays(*centres)))
    further = 0
    if headroom and not all((*one.side.free_ends(), *other.side.free_ends())):
        further = math.ceil(2 * headroom * MOST_TICKS)  # an end without headroom may stand outside and spare some
    return np.concatenate([found + more for more in range(-further, further + 2)])


def _known(own: Floats | None, their: Floats | None, shifts: Floats) -> Floats | None:
    """Return where a fixed limit lies, in the steps of the primary; None if it is free on both sides."""
    if own is not None:
        return own[:, None]
    return None if their is None else np.asarray(their[None, :] - shifts)


def _room(outer0: Any, outer1: Any, free0: bool, free1: bool, headroom: float) -> Any:
    """Return the share left free beyond the outer end: none where only ends without headroom lie there."""
    if free0 and free1:
        return headroom
    if not (free0 or free1):
        return 0.0
    return np.where(outer0 if free0 else outer1, headroom, 0.0)


def _scale(frame: _Frame, at: int, start: float, end: float, shift: int) -> Scale:
    """Write one side out in its own values; ticks are exact multiples of the step."""
    step = frame.steps[at][0]
    slack = _CLOSE * (end - start) + 1e-12
    first = shift + (int(frame.base / step) if frame.base else 0)
    places = range(math.ceil(start - slack) + first, math.floor(end + slack) + first + 1)
    size = as_float(step)
    limits = [as_float(frame.base) + size * (value + shift) for value in (start, end)]
    limits = [min(limits[0], frame.side.low), max(limits[1], frame.side.high)]  # by a rounding error
    fixed = [value if value is not None else limit for value, limit in zip(frame.side.fixed, limits, strict=True)]
    if frame.side.log:
        ticks = tuple(_power(place * step.numerator) for place in places)
        minor = tuple(m * tick for tick in ticks for m in (2.0, 5.0) if step == 1 and m * tick <= 10 ** fixed[1])
        return Scale(10 ** fixed[0], 10 ** fixed[1], ticks, size, "log", minor)
    up, down = step.numerator, step.denominator
    return Scale(fixed[0], fixed[1], tuple(place * up / down for place in places), size)


def _power(exponent: int) -> float:
    return float(f"1e{exponent}")


def _conflict(primary: Side, secondary: Side) -> str:
    """Say which two wishes no grid can meet."""
    fixed = [side for side in (primary, secondary) if side.fixed != (None, None)]
    if len(fixed) == 2:
        return (
            "the limits of the primary and of the secondary side conflict: no grid of nice steps serves both; leave an "
            "end of one side free, or take policy='separate'"
        )
    if len(fixed) == 1:
        other = "secondary" if fixed[0] is primary else "primary"
        return (
            f"the limits of the {fixed[0].name} side conflict with the range of the {other} side on one grid; leave an "
            "end free, or take policy='separate'"
        )
    return "no grid of nice steps serves both ranges; take policy='separate'"
