"""One grid for two axes: the best of all pairs of nice steps.

Each side is written in steps: a value v is at v / step. The two sides share the places of their ticks when they
differ by a whole number of steps, and by none where zero is on zero. So for every pair of steps the height is the
union of the two ranges, headroom added, and the coverage of a side is its own range over that height.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from fractions import Fraction
from functools import lru_cache

from vantric.base.lazily import dataclass
from vantric.core.axes.scale import FEWEST_TICKS, MANTISSAS, MOST_TICKS, Scale, as_float, typed
from vantric.core.axes.side import Side
from vantric.errors import ScaleError

#: Places that differ by less, in steps, are one.
_CLOSE = 1e-9
#: Steps of a log side, in decades: the largest range of a float has 616.
_DECADES = (1, 2, 3, 4, 5, 6, 8, 10, 15, 20, 25, 30, 40, 50, 60, 80, 100)
#: A step with how simple it is (the smaller the better), and as a float.
_Step = tuple[Fraction, int, float]
_DECADE_STEPS = tuple((Fraction(decades), place, float(decades)) for place, decades in enumerate(_DECADES))


@dataclass(frozen=True)
class _StepFrame:
    """A side in steps, counted from a value that is a multiple of every step.

    Attributes
    ----------
    base
        That value: zero where the side holds zero.
    steps
        The candidates, ascending, each with how simple it is, and as a float.
    ends
        For each step the data's ends and the fixed limits in it, None where a limit is free.
    zeros
        For each step the place of a zero that the axis must not show; empty where there is none.
    """

    side: Side
    base: Fraction
    steps: tuple[_Step, ...]
    ends: tuple[tuple[float, float, float | None, float | None], ...]
    zeros: tuple[float, ...] = ()


@dataclass(frozen=True)
class _GridFit:
    """A pair of steps: their places, the shift of the secondary, and where the height starts and ends, in steps."""

    first: int
    second: int
    shift: int
    start: float
    end: float


def grid_scales(primary: Side, secondary: Side, headroom: float) -> tuple[Scale, Scale, tuple[float, float]]:
    """Return two scales on one grid, and the coverage of each.

    Of all pairs of nice steps (1, 2, 2.5 or 5 times a power of ten; whole decades on a log side) that give 4 to 10
    ticks, it is the pair whose smaller coverage is largest; among equals the larger coverage decides, then fewer
    ticks, then simpler steps. Where both sides show zero, zero and zero are one height; a linear side that does not
    include zero does not show it.

    Raises
    ------
    ScaleError
        If limits are fixed so that no grid serves both sides.
    """
    first, other = _framed(primary), _framed(secondary)
    fit = _search(first, other, headroom)
    if fit is None:
        raise ScaleError(_conflict(primary, secondary))
    height = fit.end - fit.start
    covered = [
        frame.ends[index][1] - frame.ends[index][0] for frame, index in ((first, fit.first), (other, fit.second))
    ]
    scales = _scale(first, fit.first, fit, 0), _scale(other, fit.second, fit, fit.shift)
    return *scales, (covered[0] / height, covered[1] / height)


def _framed(side: Side) -> _StepFrame:
    limits = [end for end in side.fixed if end is not None]
    low, high = min([side.low, *limits]), max([side.high, *limits])
    base = Fraction(0)
    if side.log:
        steps = _DECADE_STEPS
    else:
        power = math.floor(math.log10((high - low) / side.base))
        finest = (high - low) / (MOST_TICKS + 1)  # finer ones give more than ten ticks
        steps = tuple(step for step in _steps(power, side.base) if step[2] >= finest)
        if not side.zero and not low <= 0 <= high:
            unit = side.base * Fraction(10) ** (power + 2)
            base = math.floor(typed(low) / unit) * unit

    def away(end: float) -> float:
        return end if not base else as_float(typed(end) - base)

    low, high = away(side.low), away(side.high)
    lower, upper = (None if end is None else away(end) for end in side.fixed)
    ends = tuple(
        (low / size, high / size, None if lower is None else lower / size, None if upper is None else upper / size)
        for _, _, size in steps
    )
    zeros = () if side.log or side.zero else tuple(-float(base / step) for step, _, _ in steps)
    return _StepFrame(side, base, steps, ends, zeros)


@lru_cache(maxsize=1024)
def _steps(power: int, base: Fraction) -> tuple[_Step, ...]:
    """Return the nice steps about a power of ten of a base, ascending, each with how simple it is, and as a float."""
    pairs = [
        (base * mantissa * Fraction(10) ** exponent, place)
        for exponent in (power - 1, power, power + 1)
        for place, mantissa in enumerate(MANTISSAS)
    ]
    return tuple((step, place, as_float(step)) for step, place in pairs)


def _search(frame: _StepFrame, other: _StepFrame, headroom: float) -> _GridFit | None:
    """Return the best pair of steps; pairs whose lengths alone say that they cannot be better are passed over."""
    best: tuple[tuple[float, ...], _GridFit] | None = None
    ends = (*frame.side.free_ends(), *other.side.free_ends())
    lengths, least = [high - low for low, high, *_ in other.ends], 0.0
    for first, (a0, b0, l0, u0) in enumerate(frame.ends):
        length0 = b0 - a0
        for second, length1 in enumerate(lengths):
            if (length0 / length1 if length0 < length1 else length1 / length0) < least:
                continue
            a1, b1, l1, u1 = other.ends[second]
            fixed = (l0, u0, l1, u1)
            near = _near(frame.zeros, first, a0, b0) or _near(other.zeros, second, a1, b1)
            for shift in _shifts(frame, other, (a0, b0, a1, b1), fixed, headroom, near=near):
                own = (a0, b0, l0, u0)
                moved = (a1 - shift, b1 - shift, _less(l1, shift), _less(u1, shift))
                height = _laid(own, moved, ends, headroom)
                if height is None or not _clear(own, moved, ends, headroom, height):
                    continue
                if (frame.zeros and _holds(height, frame.zeros[first])) or (
                    other.zeros and _holds(height, other.zeros[second] - shift)
                ):
                    continue
                start, end, ticks = height
                covers = sorted((length0 / (end - start), length1 / (end - start)))
                simple = frame.steps[first][1] + other.steps[second][1]
                key = (-round(covers[0], 12), -round(covers[1], 12), ticks, simple)
                if best is None or key < best[0]:
                    best, least = (key, _GridFit(first, second, shift, start, end)), -key[0] - 1e-12
    return best[1] if best else None


def _near(zeros: tuple[float, ...], place: int, low: float, high: float) -> bool:
    """Whether the largest height about a range could hold the zero that it must not show."""
    return bool(zeros) and low - MOST_TICKS - 1 <= zeros[place] <= high + MOST_TICKS + 1


def _holds(height: tuple[float, float, int], place: float) -> bool:
    """Whether a place, in steps, is on the height."""
    start, end, _ = height
    slack = _CLOSE * (end - start) + 1e-12
    return start - slack <= place <= end + slack


def _less(end: float | None, shift: int) -> float | None:
    return None if end is None else end - shift


_Ends = tuple[float, float, float | None, float | None]


def _laid(own: _Ends, their: _Ends, free: tuple[bool, ...], headroom: float) -> tuple[float, float, int] | None:
    """Return start, end and ticks of the height that holds both ranges; None if they do not fit, or ticks are amiss.

    Parameters
    ----------
    own, their
        The data's ends and the fixed limits of both sides, in steps of the primary's count.
    free
        Whether each data end gets headroom: lower and upper of the one, then of the other.
    """
    low, high = min(own[0], their[0]), max(own[1], their[1])
    lower = own[2] if own[2] is not None else their[2]
    upper = own[3] if own[3] is not None else their[3]
    below = above = 0.0
    if lower is None and ((free[0] and own[0] <= low) or (free[2] and their[0] <= low)):
        below = headroom
    if upper is None and ((free[1] and own[1] >= high) or (free[3] and their[1] >= high)):
        above = headroom
    bottom, top = low if lower is None else lower, high if upper is None else upper
    height = (top - bottom) / (1 - below - above)
    start, end = bottom - below * height, top + above * height
    slack = _CLOSE * abs(height) + 1e-12
    ticks = math.floor(end + slack) - math.ceil(start - slack) + 1
    if not FEWEST_TICKS <= ticks <= MOST_TICKS or start > low + slack or end < high - slack or height <= 0:
        return None
    for value, other in ((own[2], their[2]), (own[3], their[3])):
        if value is not None and other is not None and abs(value - other) > slack:
            return None
    return start, end, ticks


def _clear(own: _Ends, their: _Ends, free: tuple[bool, ...], headroom: float, height: tuple[float, float, int]) -> bool:
    """Whether the free ends of a side stay clear of the limits that the other side fixes."""
    start, end, _ = height
    room = headroom * (end - start) * (1 - _CLOSE)
    lower, upper = own[2] is not None or their[2] is not None, own[3] is not None or their[3] is not None
    for index, side in ((0, own), (2, their)):
        if lower and free[index] and side[0] - start < room:
            return False
        if upper and free[index + 1] and end - side[1] < room:
            return False
    return True


def _shifts(
    frame: _StepFrame,
    other: _StepFrame,
    data: tuple[float, float, float, float],
    fixed: tuple[float | None, ...],
    headroom: float,
    *,
    near: bool,
) -> Iterable[int]:
    """Return the whole numbers of steps by which the secondary may be shifted: those that waste least height.

    With `near`, all that fit: the one that wastes least may show a zero that is not to be shown.
    """
    if frame.side.zero and other.side.zero:
        return (0,)
    a0, b0, a1, b1 = data
    l0, u0, l1, u1 = fixed
    centers = [(a1 + b1 - a0 - b0) / 2]
    for own, their, end0, end1 in ((l0, l1, a0, a1), (u0, u1, b0, b1)):
        if own is not None:
            centers.append(end1 - own)
        if their is not None:
            centers.append(their - end0)
        if own is not None and their is not None:
            centers.append(their - own)
    further = 0
    if headroom and not all((*frame.side.free_ends(), *other.side.free_ends())):
        further = math.ceil(2 * headroom * MOST_TICKS)  # an end without headroom may stand outside and spare some
    if near:
        further = MOST_TICKS + 1
    return {math.floor(center) + more for center in centers for more in range(-further, further + 2)}


def _scale(frame: _StepFrame, index: int, fit: _GridFit, shift: int) -> Scale:
    """Write one side out in its own values; ticks are exact multiples of the step."""
    step, side = frame.steps[index][0], frame.side
    slack = _CLOSE * (fit.end - fit.start) + 1e-12
    first = shift + (int(frame.base / step) if frame.base else 0)
    places = range(math.ceil(fit.start - slack) + first, math.floor(fit.end + slack) + first + 1)
    up, down = step.numerator, step.denominator
    base, size = as_float(frame.base), up / down
    limits = base + size * (fit.start + shift), base + size * (fit.end + shift)
    lower = side.fixed[0] if side.fixed[0] is not None else min(limits[0], side.low)  # by a rounding error
    upper = side.fixed[1] if side.fixed[1] is not None else max(limits[1], side.high)
    if not side.log:
        return Scale(lower, upper, tuple(place * up / down for place in places), size)
    ticks = tuple(float(f"1e{place * up}") for place in places)
    minor = tuple(m * tick for tick in ticks for m in (2.0, 5.0) if step == 1 and m * tick <= 10**upper)
    return Scale(10**lower, 10**upper, ticks, size, "log", minor)


def _conflict(primary: Side, secondary: Side) -> str:
    """Say which two options no grid can meet."""
    for side, other in ((primary, secondary), (secondary, primary)):
        if side.hidden:
            return (
                f"{side.name}_zero=False and the range of the {other.name} side conflict: every grid that serves both "
                f"shows zero on the {side.name} side; leave it out, or take policy='separate'"
            )
    fixed = [side for side in (primary, secondary) if side.fixed != (None, None)]
    if len(fixed) == 2:
        return (
            "the limits of the primary and of the secondary side conflict: no grid of nice steps serves both; leave an "
            "end of one side free, or take policy='separate'"
        )
    if len(fixed) == 1:
        other_name = "secondary" if fixed[0] is primary else "primary"
        return (
            f"the limits of the {fixed[0].name} side conflict with the range of the {other_name} side on one grid; "
            "leave an end free, or take policy='separate'"
        )
    return "no grid of nice steps serves both ranges; take policy='separate'"
