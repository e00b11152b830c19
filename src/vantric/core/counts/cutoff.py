"""Where the vital few end, and how many missing labels could move that."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Callable, Iterable, Iterator
from dataclasses import field
from fractions import Fraction
from itertools import pairwise
from typing import TYPE_CHECKING, Any

from vantric.base.lazily import cached_property, dataclass
from vantric.core.numbers.amounts import FLOAT_TOLERANCE, Amounts, Number
from vantric.core.numbers.label_order import natural_key
from vantric.errors import RankError
from vantric.options.option_types import Unset

if TYPE_CHECKING:
    from vantric.core.counts.pareto_table import ParetoTable


_MOST = 25  # cutoffs: the classes are letters
#: Percent: the usual cutoff of the trade.
_DEFAULT = 80


class DefaultCutoff(Unset):
    """Stands for the cutoff that nobody asked for: 80 in the order of frequency, none in any other."""

    def __repr__(self) -> str:
        return "80, or none where the order has none"

    def __reduce__(self) -> str:
        """Return its name, so that a copy is the same."""
        return "DEFAULT_CUT"


DEFAULT_CUT = DefaultCutoff()


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
    if isinstance(cut, DefaultCutoff):
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
        values: list[Any] = [part.strip() for part in cut.split(",")]
    else:
        values = list(cut) if isinstance(cut, Iterable) else [cut]
    percents = tuple(cut_percent(value) for value in values)
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
            f"a cutoff of {cut} is less than 1 percent: write {percent * 100:g} if you mean {percent * 100:g}%"
        )
    return int(percent) if percent.is_integer() else percent


def leading_count(cumulative: Amounts, total_units: Number, percent: Number, rule: str = "reach") -> int:
    """Return how many leading categories a rule takes in.

    `reach`: the fewest whose cumulative percent is at least `percent`; `within`: the most whose cumulative percent is
    at most it, perhaps none. Integers and decimals are compared exactly (the percent as the decimal that was typed);
    floats within 1e-9 of the total.
    """
    reach = rule == "reach"
    if cumulative.exact:
        exact = _needed(total_units, percent)
        threshold: Number = -(-exact.numerator // exact.denominator) if reach else exact.__floor__()
    else:
        slack = -FLOAT_TOLERANCE if reach else FLOAT_TOLERANCE
        threshold = (percent / 100 + slack) * total_units
    if isinstance(cumulative.held, list):
        return bisect_left(cumulative.held, threshold) + 1 if reach else bisect_right(cumulative.held, threshold)
    import numpy as np

    if reach:
        return int(np.searchsorted(cumulative.units, threshold, side="left")) + 1
    return int(np.searchsorted(cumulative.units, threshold, side="right"))


def crossing_at(cumulative: Amounts, total_units: Number, percent: Number) -> float:
    """Return where the line through (0, 0) and the cumulative percents crosses a cutoff; see `Cutoff.crossing`."""
    after = leading_count(cumulative, total_units, percent)
    units = cumulative.held if isinstance(cumulative.held, list) else cumulative.units
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


#: Units to the total of amounts that are floats, whose sums are known no better.
_FLOAT_UNITS = 10**12


def fewest_to_change(table: ParetoTable) -> Number | None:
    """Return the least frequency that, with labels of whatever kind, would change which categories are the vital few.

    Parameters
    ----------
    table
        In the order of frequency, with a cutoff.

    Returns
    -------
    int, float or None
        In the unit of the frequencies: whole where these are. None of a table without a cutoff, of rates, or with
        pinned categories.

    Notes
    -----
    The exact worst case over all that is missing (C. F. Manski, "Partial identification of probability distributions",
    2003), ties included. A category is vital if the sum of those before it is below the cutoff, under the rule
    ``"within"`` if that and its own are not above it; where ties are included, only what is more frequent is before it.
    So the vital few change by the least that has the last of them leave, or the first outside or a label that was never
    seen enter: of equal ones these need the least.
    """
    cut = table.cutoff
    if cut is None or table.pinned or table.origin.per or table.arranged is not None:
        return None
    amounts = table.tally.frequency
    ranked = amounts.take(table.ranking.places).plain()
    if amounts.exact:
        values, unit = [int(value) for value in ranked], 10**amounts.scale
    else:
        total = float(amounts.total_units)
        values, unit = [round(float(value) / total * _FLOAT_UNITS) for value in ranked], _FLOAT_UNITS / total
    names = [table.tally.categories[place] for place in table.ranking.places]
    # Whole units throughout: a bound that is off by one is wrong.
    share = Fraction(repr(cut.percent)) / 100
    ties = _Ties(names, table.ties_rule == "include")
    edge = _Edge(values, share.numerator, share.denominator, cut.rule == "reach", ties)
    least = min([*edge.leaving(cut.count - 1), *edge.entering(cut.count), *edge.entering(None)])
    return least if unit == 1 else least / unit


class _Ties:
    """Whether one label stands before another that is as frequent: by its order, or never where ties are included."""

    def __init__(self, names: list[str], are_included: bool) -> None:
        self._names, self._are_included = names, are_included

    def before(self, place: int, other: int) -> bool:
        """Whether the label of one rank stands before that of another."""
        if self._are_included:
            return False
        return natural_key(self._names[place]) < natural_key(self._names[other])

    @property
    def new_before(self) -> bool:
        """Whether a label that was never seen may stand before any other."""
        return not self._are_included


@dataclass(frozen=True)
class _Edge:
    """Ranked amounts in whole units, a cutoff of `p` in `q`, its rule, and how ties stand."""

    values: list[int]
    p: int
    q: int
    reach: bool
    ties: _Ties

    @cached_property
    def total(self) -> int:
        """The sum of all."""
        return sum(self.values)

    def leaving(self, last: int) -> Iterator[int]:
        """Yield amounts by which the last vital one leaves: the first so many of the others stand before it."""
        if last < 0:
            return
        own, cost, before = self.values[last], 0, 0
        for number, (value, more) in enumerate(self._others(last)):
            needed = self._to_leave(before, own)
            if number or not self.reach:
                yield max(cost, needed, 1)
            cost += max(0, own + more - value)
            before += value
            if cost >= needed > 0 and number > last + 1:
                return
        yield max(cost, self._to_leave(before, own), 1)

    def _others(self, last: int) -> Iterator[tuple[int, int]]:
        """Yield the others, the most frequent first, and what one that is as frequent lacks to stand before the last.

        Behind them stand two labels that were never seen.
        """
        level: list[tuple[int, int]] = []
        for place, value in enumerate(self.values):
            if level and value != level[0][0]:
                yield from sorted(level, key=lambda pair: pair[1])
                level = []
            if place != last:
                level.append((value, int(not self.ties.before(place, last))))
        yield from sorted(level, key=lambda pair: pair[1])
        yield from [(0, int(not self.ties.new_before))] * 2

    def _to_leave(self, before: int, own: int) -> int:
        """Return how much more must stand before one for it to be beyond the cutoff."""
        if self.reach:
            return -((self.q * before - self.p * self.total) // (self.q - self.p))
        return (self.p * self.total - self.q * (before + own)) // (self.q - self.p) + 1

    def entering(self, first: int | None) -> Iterator[int]:
        """Yield amounts by which one outside, or a label that was never seen, enters: it is raised to each level."""
        if first is not None and first >= len(self.values):
            return
        own = 0 if first is None else self.values[first]
        above, best = self.total - (0 if first is None else own), None
        # From its own level upward: at each more of the others are behind it.
        levels = sorted({max(own, int(first is None)), *self.values, *(value + 1 for value in self.values)})
        rising = sorted((value, place) for place, value in enumerate(self.values) if place != first)
        passed = 0
        for level in levels:
            if level < own or (first is None and not level):
                continue
            while passed < len(rising) and rising[passed][0] < level:
                above -= rising[passed][0]
                passed += 1
            raised = level - own
            # Higher levels cost more than what was found.
            if best is not None and raised >= best:
                return
            equal, behind = passed, 0
            while equal < len(rising) and rising[equal][0] == level:
                stands = first is not None and self.ties.before(rising[equal][1], first)
                behind += 0 if stands else level
                equal += 1
            least = max(raised, self._to_enter(above - behind, level, raised), 1)
            best = least if best is None else min(best, least)
            yield least

    def _to_enter(self, before: int, level: int, raised: int) -> int:
        """Return how much more there must be for one behind so much to be inside the cutoff."""
        if not self.reach:
            return -((self.p * self.total - self.q * (before + level)) // self.p)
        return raised if not before else (self.q * before - self.p * self.total) // self.p + 1
