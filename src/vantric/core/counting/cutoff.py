"""Where the vital few end."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from vantric.core.numbers.amounts import FLOAT_TOLERANCE, Amounts, Number
from vantric.errors import RankError


@dataclass(frozen=True)
class Cutoff:
    """A decided cut-off.

    Attributes
    ----------
    percent
        The cut-off asked for.
    rule
        ``"reach"``: the fewest leading categories whose cumulative percent is at least `percent`.
    count
        How many categories belong to the vital few.
    categories
        Their names, ranked.
    cumulative_percent
        What they make up of the total, in percent.
    tied
        Categories outside that tie in frequency with the last one inside.
    """

    percent: Number
    rule: str
    count: int
    categories: tuple[str, ...]
    cumulative_percent: float
    tied: tuple[str, ...] = ()


def cut_percent(cut: object) -> Number:
    """Return a cut-off as a plain number between 0 and 100, or raise `RankError`."""
    try:
        percent = float(str(cut))
    except ValueError:
        raise RankError(f"a cut-off is a number between 0 and 100, such as 80; '{cut}' is not") from None
    if isinstance(cut, bool) or not 0 < percent < 100:
        raise RankError(f"a cut-off lies between 0 and 100 percent, such as 80; {cut} does not")
    return int(percent) if percent.is_integer() else percent


def reach_count(cumulative: Amounts, total_units: Number, percent: Number) -> int:
    """Return the fewest leading categories whose cumulative percent is at least `percent`.

    Integers and decimals are compared exactly (the percent as the decimal that was typed); floats within 1e-9 of
    the total.
    """
    if cumulative.exact:
        needed = Fraction(repr(percent)) * int(total_units) / 100
        threshold: Number = -(-needed.numerator // needed.denominator)
    else:
        threshold = (percent / 100 - FLOAT_TOLERANCE) * total_units
    return int(np.searchsorted(cumulative.units, threshold, side="left")) + 1
