"""Where the vital few end, and how many missing labels could move that."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from fractions import Fraction
from itertools import pairwise
from typing import TYPE_CHECKING, Any

from vantric.core.numbers.amounts import FLOAT_TOLERANCE, Amounts, Number
from vantric.core.numbers.caching import cached_property
from vantric.core.numbers.label_order import in_label_order
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


_NOTHING = Fraction(0)


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
    C. F. Manski, "Partial identification of probability distributions", 2003: the worst case over all that is missing.
    The vital few change if one outside overtakes the last inside, if the leading ones without the last reach the cutoff
    alone, or if they no longer reach it.
    """
    cut = table.cutoff
    if cut is None or table.pinned or table.origin.per or table.arranged is not None:
        return None
    amounts = table.tally.frequency
    step = Fraction(1) if amounts.exact and amounts.scale == 0 else _NOTHING
    least = min(_candidates(_Leading.of(table, cut), cut, step))
    if step:
        return math.ceil(least)
    return float(least / 10**amounts.scale)


@dataclass(frozen=True)
class _Leading:
    """What there is to know of the ranked frequencies: all, those inside, and the ones beside two boundaries.

    Attributes
    ----------
    total, inside
        Of all, and of the leading ones that the rule takes in.
    few, size
        How many these are, and how many there are.
    last, after
        The last of these, and the first behind them; zero where there is none.
    taken, beyond
        The last that counts as vital, those of a tie too, and the first that does not.
    first_of_level
        Whether one outside as frequent as the last vital one would stand before it.
    """

    total: Fraction
    inside: Fraction
    few: int
    size: int
    last: Fraction
    after: Fraction
    taken: Fraction
    beyond: Fraction
    first_of_level: bool

    @classmethod
    def of(cls, table: ParetoTable, cut: Cutoff) -> _Leading:
        """Look them up; the table may have many rows."""
        amounts, ranked = table.tally.frequency, table.ranked
        # Ties that were taken in are not needed to reach the cutoff.
        few = cut.count - (cut.tied_count if cut.ties_included else 0)

        def at(place: int) -> Fraction:
            return (
                Fraction(amounts.take(ranked[place : place + 1]).plain()[0]) if 0 <= place < len(ranked) else _NOTHING
            )

        names, beyond = table.tally.categories, at(cut.count)
        level = True  # a label that was never seen may stand anywhere
        if cut.count and beyond:
            inside, rival = (names[int(ranked[place])] for place in (cut.count - 1, cut.count))
            level = in_label_order({inside, rival})[0] != inside
        return cls(
            Fraction(amounts.total_units),
            Fraction(amounts.take(ranked[:few]).total_units) if few else _NOTHING,
            few,
            len(ranked),
            at(few - 1),
            at(few),
            at(cut.count - 1),
            beyond,
            level,
        )


def _candidates(leading: _Leading, cut: Cutoff, step: Fraction) -> list[Fraction]:
    """Return amounts each of which changes the vital few, the least of all among them."""
    share = Fraction(repr(cut.percent)) / 100
    least = _overtaken(leading, cut, step)
    if cut.rule == "reach":
        if leading.few > 1:
            least.append((share * leading.total - leading.inside + leading.last) / (1 - share))
        least.append(_above(leading.inside / share - leading.total, step))
    else:
        if leading.few:
            least.append(_above((share * leading.total - leading.inside) / (1 - share), step))
        if leading.few < leading.size:
            least.append((leading.inside + leading.after) / share - leading.total)
    return [max(value, step) for value in least]


def _overtaken(leading: _Leading, cut: Cutoff, step: Fraction) -> list[Fraction]:
    """Return what takes one outside past the last inside, or out of its tie."""
    if not cut.count:
        return []
    gap = leading.taken - leading.beyond
    if cut.ties_included:  # level is enough to be taken in; and what is taken in by a tie falls out with it
        return [gap, *([step] if cut.tied_count else [])]
    return [gap + (_NOTHING if leading.first_of_level else step)]


def _above(bound: Fraction, step: Fraction) -> Fraction:
    """Return the least amount above a bound."""
    return bound if not step else Fraction(math.floor(bound) + 1)
