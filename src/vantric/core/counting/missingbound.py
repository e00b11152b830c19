"""How many of the missing labels it would take to change the vital few: the worst case, exactly."""

from __future__ import annotations

import math
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
    units = [Fraction(value) for value in amounts.take(table.ranked).plain()]
    step = Fraction(1) if amounts.exact and amounts.scale == 0 else _NOTHING
    least = min(_candidates(table, cut, units, step))
    if step:
        return math.ceil(least)
    return float(least / 10**amounts.scale)


def _candidates(table: ParetoTable, cut: Cutoff, units: list[Fraction], step: Fraction) -> list[Fraction]:
    """Return amounts each of which changes the vital few, the least of all among them."""
    share, total = Fraction(repr(cut.percent)) / 100, sum(units, _NOTHING)
    few = cut.count - (cut.tied_count if cut.ties_included else 0)
    inside = sum(units[:few], _NOTHING)
    found = _overtaken(table, cut, units, step)
    if cut.rule == "reach":
        if few > 1:
            found.append((share * total - inside + units[few - 1]) / (1 - share))
        found.append(_above(inside / share - total, step))
    else:
        if few:
            found.append(_above((share * total - inside) / (1 - share), step))
        if few < len(units):
            found.append((inside + units[few]) / share - total)
    return [max(one, step) for one in found]


def _overtaken(table: ParetoTable, cut: Cutoff, units: list[Fraction], step: Fraction) -> list[Fraction]:
    """Return what takes one outside past the last inside, or out of its tie."""
    if not cut.count:
        return []
    last = units[cut.count - 1]
    next_ = units[cut.count] if cut.count < len(units) else _NOTHING
    if cut.ties_included:  # level is enough to be taken in; and what is taken in by a tie falls out with it
        return [last - next_, *([step] if cut.tied_count else [])]
    return [last - next_ + (_NOTHING if _first_of_level(table, cut, units, next_) else step)]


def _first_of_level(table: ParetoTable, cut: Cutoff, units: list[Fraction], level: Fraction) -> bool:
    """Whether one outside with that frequency is before the last inside in the order of labels; a new one may be."""
    names = table.tally.categories
    inside = names[int(table.ranked[cut.count - 1])]
    if level == _NOTHING:
        return True
    rivals = [names[int(table.ranked[at])] for at in range(cut.count, len(units)) if units[at] == level]
    return in_label_order({inside, *rivals})[0] != inside


def _above(bound: Fraction, step: Fraction) -> Fraction:
    """Return the least amount above a bound."""
    return bound if not step else Fraction(math.floor(bound) + 1)
