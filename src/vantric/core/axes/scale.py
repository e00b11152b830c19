"""One axis: its limits and its ticks."""

from __future__ import annotations

import math
from fractions import Fraction

import numpy as np
from numpy.typing import ArrayLike, NDArray

from vantric.base.lazily import dataclass
from vantric.errors import ScaleError

#: Nice steps are one of these times a power of ten.
MANTISSAS = (Fraction(1), Fraction(2), Fraction(5, 2), Fraction(5))
#: Fewer ticks cannot be read off, more cannot be told apart.
FEWEST_TICKS, BEST_TICKS, MOST_TICKS = 4, 6, 10
ONE = Fraction(1)
#: Steps for counts: nothing happens 2.5 times.
_WHOLE_MANTISSAS = (Fraction(1), Fraction(2), Fraction(5))


@dataclass(frozen=True)
class Scale:
    """One value axis.

    Attributes
    ----------
    lower, upper
        The limits, in data units; they need not be ticks.
    ticks
        Ascending, within the limits, each an exact decimal multiple of `step` rounded once to a float.
    step
        The distance of two ticks; on a log scale in decades, or 0 where ticks are at 1, 2 and 5 too.
    kind
        ``"linear"`` or ``"log"``.
    minor
        Places between the ticks of a log scale that are marked without a number.
    """

    lower: float
    upper: float
    ticks: tuple[float, ...]
    step: float
    kind: str = "linear"
    minor: tuple[float, ...] = ()

    def fraction(self, value: ArrayLike) -> NDArray[np.float64]:
        """Return where `value` is between the limits: 0 at `lower`, 1 at `upper`; of the shape of `value`.

        On a log scale what is not above zero is at minus infinity.
        """
        values = np.asarray(value, dtype=np.float64)
        lower, upper = self.lower, self.upper
        if self.kind == "log":
            with np.errstate(divide="ignore", invalid="ignore"):
                values = np.where(values > 0, np.log10(values), -np.inf)
            lower, upper = math.log10(lower), math.log10(upper)
        elif max(abs(lower), abs(upper)) > 1e300:  # their difference might pass the largest float
            values, lower, upper = values / 4, lower / 4, upper / 4
        return np.asarray((values - lower) / (upper - lower))


def linear_scale(
    low: float,
    high: float,
    *,
    upper: float | None = None,
    whole: bool = False,
    best: int = BEST_TICKS,
    base: Fraction = ONE,
) -> Scale:
    """Return a linear scale from `low` with nice ticks up to `high`.

    Parameters
    ----------
    low, high
        The range that gets ticks; `low` is the lower limit.
    upper
        The upper limit; `high` if not given. What is between is free height without ticks.
    whole
        Whether only whole steps make sense, as for a count of records.
    best
        About how many ticks are wanted, between 4 and 10.
    base
        What the nice steps are multiples of: 60 for times in minutes that are shown in hours.

    Raises
    ------
    ScaleError
        If a bound is not finite or `high` is not above `low`.
    """
    if not (math.isfinite(low) and math.isfinite(high)):
        raise ScaleError(f"an axis needs finite ends, not {low} and {high}")
    if high <= low:
        raise ScaleError(f"an axis runs upward: {high} is not above {low}")
    bottom, top = typed(low), typed(high)
    step = nice_step(bottom, top, whole=whole, best=best, base=base)
    return Scale(float(low), float(high if upper is None else upper), ticks_between(bottom, top, step), as_float(step))


def typed(value: float) -> Fraction:
    """Return a float as the decimal that was typed: 0.6, not what is just below it."""
    return Fraction(repr(float(value)))


def ticks_between(bottom: Fraction, top: Fraction, step: Fraction) -> tuple[float, ...]:
    """Return the multiples of a step from `bottom` to `top`, each rounded once to a float."""
    first, last = math.ceil(bottom / step), math.floor(top / step)
    return tuple(dict.fromkeys(as_float(step * place) for place in range(first, last + 1)))


def nice_step(
    low: Fraction, high: Fraction, *, whole: bool = False, best: int = BEST_TICKS, base: Fraction = ONE
) -> Fraction:
    """Return the step of 1, 2, 2.5 or 5 times a power of ten that puts nearest to `best` ticks into a range.

    It is that of `base`: 60 gives steps of hours to minutes.

    Steps that give fewer than 4 or more than 10 ticks are taken only if no other does; among equals the simpler
    mantissa wins. The approach follows J. Talbot, S. Lin and P. Hanrahan, "An extension of Wilkinson's algorithm
    for positioning tick labels on axes", IEEE TVCG 16(6), 2010, without its label terms.
    """
    low, high = low / base, high / base
    span = high - low
    power = magnitude(span)
    candidates = []
    for exponent in range(power - 2, power + 1):
        for simplicity, mantissa in enumerate(MANTISSAS):
            step = mantissa * Fraction(10) ** exponent
            if whole and (step < 1 or (step < 10 and mantissa not in _WHOLE_MANTISSAS)):
                continue
            ticks = math.floor(high / step) - math.ceil(low / step) + 1
            outside = max(0, FEWEST_TICKS - ticks, ticks - MOST_TICKS)
            candidates.append((outside, abs(ticks - best), simplicity, step))
    return base * min(candidates)[-1] if candidates else base


def magnitude(span: Fraction) -> int:
    """Return the power of ten of the first digit of a positive number."""
    power = len(str(span.numerator)) - len(str(span.denominator))
    return power if span >= Fraction(10) ** power else power - 1


def as_float(value: Fraction) -> float:
    """Return the float nearest to an exact value, with no negative zero."""
    return value.numerator / value.denominator if value else 0.0
