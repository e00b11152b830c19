"""Where the vital few end."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from fractions import Fraction
from itertools import pairwise
from typing import Any

from vantric.core.numbers.amounts import FLOAT_TOLERANCE, Amounts, Number
from vantric.core.numbers.once import cached_property
from vantric.errors import RankError
from vantric.options.kinds import Unset

_MOST = 25  # cutoffs: the classes are letters
_DEFAULT = 80


class Default(Unset):
    """Stands for the cutoff that nobody asked for: 80 in the order of frequency, none in any other."""

    def __repr__(self) -> str:
        return "80, or none where the order has none"

    def __reduce__(self) -> str:
        """Return its name, so that a copy is the same."""
        return "DEFAULT_CUT"


DEFAULT_CUT = Default()


@dataclass(frozen=True, eq=False)
class Cutoff:
    """A decided cutoff.

    Attributes
    ----------
    percent
        The cutoff asked for.
    rule
        ``"reach"``: the fewest leading categories whose cumulative percent is at least `percent`; ``"within"``: the
        most whose cumulative percent is at most `percent`.
    count
        How many categories belong to the vital few.
    cumulative_percent
        What they make up of the total, in percent.
    crossing
        Where the cumulative line crosses the cutoff: the number of the category, from 1, at whose point it does, and
        the share of the way between two points behind the decimal sign. The line runs from the origin, as category 0.
    tied_count
        How many are `tied`.
    ties_included
        Whether those are inside.
    """

    percent: Number
    rule: str
    count: int
    cumulative_percent: float
    crossing: float
    tied_count: int
    ties_included: bool
    _labels: Callable[[int, int], tuple[str, ...]] = field(repr=False)

    @cached_property
    def categories(self) -> tuple[str, ...]:
        """The names of the vital few, ranked."""
        return self._labels(0, self.count)

    @cached_property
    def tied(self) -> tuple[str, ...]:
        """Categories outside that tie in frequency with the last one inside; or those taken in because they tie."""
        start = self.count - self.tied_count if self.ties_included else self.count
        return self._labels(start, start + self.tied_count)

    def _key(self) -> tuple[Any, ...]:
        return self.percent, self.rule, self.count, self.cumulative_percent, self.categories, self.tied

    def __eq__(self, other: object) -> bool:
        return self._key() == other._key() if isinstance(other, Cutoff) else NotImplemented

    def __hash__(self) -> int:
        return hash(self._key())


def cuts_in(cut: object, ordering: str) -> tuple[Number, ...]:
    """Return the cutoffs of a table in an order, or raise `RankError` for one that does not exist or cannot be.

    Parameters
    ----------
    cut
        As for `cut_percents`, or `DEFAULT_CUT`.
    ordering
        ``"frequency"``, or the name of another order.
    """
    if isinstance(cut, Default):
        return (_DEFAULT,) if ordering == "frequency" else ()
    percents = cut_percents(cut)
    if percents and ordering != "frequency":
        raise RankError(
            "a cutoff needs the categories in the order of their frequency: in another order the leading ones are not "
            "the vital few; leave the cutoff or the order out"
        )
    return percents


def cut_percents(cut: object) -> tuple[Number, ...]:
    """Return one cutoff or several as plain numbers, or raise `RankError`.

    Parameters
    ----------
    cut
        A number, several in ascending order, or their text: ``80``, ``(80, 95)``, ``"80,95"``; None for none.
    """
    if cut is None:
        return ()
    if isinstance(cut, str):
        wanted: list[Any] = [part.strip() for part in cut.split(",")]
    else:
        wanted = list(cut) if isinstance(cut, Iterable) else [cut]
    percents = tuple(cut_percent(one) for one in wanted)
    for lower, upper in pairwise(percents):
        if upper <= lower:
            raise RankError(f"cutoffs ascend, such as 80,95; {upper} is not above {lower}")
    if len(percents) > _MOST:
        raise RankError(f"{len(percents)} cutoffs are too many: give at most {_MOST}")
    return percents


def cut_percent(cut: object) -> Number:
    """Return a cutoff as a plain number between 0 and 100, or raise `RankError`."""
    try:
        percent = float(str(cut))
    except ValueError:
        raise RankError(f"a cutoff is a number between 0 and 100, such as 80; '{cut}' is not") from None
    if isinstance(cut, bool) or not 0 < percent < 100:
        raise RankError(f"a cutoff is a percent between 0 and 100, such as 80, not {cut}")
    if percent < 1:
        raise RankError(
            f"a cutoff of {cut} is less than 1 percent: write {percent * 100:g} if you mean {percent * 100:g} %"
        )
    return int(percent) if percent.is_integer() else percent


def leading_count(cumulative: Amounts, total_units: Number, percent: Number, rule: str = "reach") -> int:
    """Return how many leading categories a rule takes in.

    `reach`: the fewest whose cumulative percent is at least `percent`; `within`: the most whose cumulative percent is
    at most it, perhaps none. Integers and decimals are compared exactly (the percent as the decimal that was typed);
    floats within 1e-9 of the total.
    """
    import numpy as np

    reach = rule == "reach"
    if cumulative.exact:
        exact = _needed(total_units, percent)
        threshold: Number = -(-exact.numerator // exact.denominator) if reach else exact.__floor__()
    else:
        slack = -FLOAT_TOLERANCE if reach else FLOAT_TOLERANCE
        threshold = (percent / 100 + slack) * total_units
    if reach:
        return int(np.searchsorted(cumulative.units, threshold, side="left")) + 1
    return int(np.searchsorted(cumulative.units, threshold, side="right"))


def crossing_at(cumulative: Amounts, total_units: Number, percent: Number) -> float:
    """Return where the line through (0, 0) and the cumulative percents crosses a cutoff; see `Cutoff.crossing`."""
    after = leading_count(cumulative, total_units, percent)
    units = cumulative.units
    upper: Any = units[after - 1].item() if hasattr(units[after - 1], "item") else units[after - 1]
    lower: Any = 0
    if after > 1:
        lower = units[after - 2].item() if hasattr(units[after - 2], "item") else units[after - 2]
    if cumulative.exact:
        return after - 1 + float((_needed(total_units, percent) - lower) / (upper - lower))
    share = (percent / 100 * total_units - lower) / (upper - lower) if upper > lower else 1.0
    return after - 1 + min(1.0, max(0.0, share))


def _needed(total_units: Number, percent: Number) -> Fraction:
    return Fraction(repr(percent)) * int(total_units) / 100
