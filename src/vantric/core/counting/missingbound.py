"""How many of the missing labels it would take to change the vital few: the worst case, exactly."""

from __future__ import annotations

import math
from dataclasses import dataclass
from fractions import Fraction
from typing import TYPE_CHECKING

from vantric.core.numbers.amounts import Number
from vantric.core.numbers.calendarorder import in_label_order

if TYPE_CHECKING:
    from vantric.core.counting.cutoff import Cutoff
    from vantric.core.counting.paretotable import ParetoTable

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
            Fraction(amounts.total_units), Fraction(amounts.take(ranked[:few]).total_units) if few else _NOTHING, few,
            len(ranked), at(few - 1), at(few), at(cut.count - 1), beyond, level,
        )  # fmt: skip


def _candidates(found: _Leading, cut: Cutoff, step: Fraction) -> list[Fraction]:
    """Return amounts each of which changes the vital few, the least of all among them."""
    share = Fraction(repr(cut.percent)) / 100
    least = _overtaken(found, cut, step)
    if cut.rule == "reach":
        if found.few > 1:
            least.append((share * found.total - found.inside + found.last) / (1 - share))
        least.append(_above(found.inside / share - found.total, step))
    else:
        if found.few:
            least.append(_above((share * found.total - found.inside) / (1 - share), step))
        if found.few < found.size:
            least.append((found.inside + found.after) / share - found.total)
    return [max(one, step) for one in least]


def _overtaken(found: _Leading, cut: Cutoff, step: Fraction) -> list[Fraction]:
    """Return what takes one outside past the last inside, or out of its tie."""
    if not cut.count:
        return []
    gap = found.taken - found.beyond
    if cut.ties_included:  # level is enough to be taken in; and what is taken in by a tie falls out with it
        return [gap, *([step] if cut.tied_count else [])]
    return [gap + (_NOTHING if found.first_of_level else step)]


def _above(bound: Fraction, step: Fraction) -> Fraction:
    """Return the least amount above a bound."""
    return bound if not step else Fraction(math.floor(bound) + 1)
