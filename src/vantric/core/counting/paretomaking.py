"""From a tally to its Pareto table."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import TYPE_CHECKING

from vantric.core.counting.cutoff import DEFAULT_CUT, check_rule, cuts_in
from vantric.core.counting.folding import REST_LABEL, check_folding, folded_places
from vantric.core.counting.ordering import Order, order_name, ordered_places, with_listed
from vantric.core.counting.paretotable import ParetoTable
from vantric.core.counting.ranking import ranking
from vantric.core.counting.tally import Tally, check_rankable, without_zeros
from vantric.core.numbers.amounts import Number

if TYPE_CHECKING:
    from vantric.core.counting.crosstab import Crosstab


def pareto(
    tally: Tally,
    *,
    cut: object = DEFAULT_CUT,
    rule: str = "reach",
    ties: str = "exclude",
    order: Order = "frequency",
    keep: int | None = None,
    fold_below: Number | None = None,
    rest_label: str = REST_LABEL,
    last: Sequence[str] = (),
    drop_zero: bool = False,
    strata: Crosstab | None = None,
) -> ParetoTable:
    """Rank and cumulate a tally and decide its cutoffs.

    Parameters
    ----------
    tally
        What was counted.
    cut
        One cutoff in percent or several, ascending, between 0 and 100; None for a table without one. If not given,
        80 in the order of frequency and none in any other.
    rule
        ``"reach"`` or ``"within"``; see `Cutoff`.
    ties
        Whether categories that tie with the last one inside a cutoff are taken in: ``"exclude"`` or ``"include"``.
    order
        ``"frequency"``, ``"given"``, ``"label"``, or every category in order.
    keep, fold_below, rest_label
        What is folded into the rest: all but so many categories, or those below a percent.
    last
        Categories pinned to the end.
    drop_zero
        Whether categories of frequency zero are left out.
    strata
        The frequencies by a second column, of which the tally holds the totals.

    Returns
    -------
    ParetoTable

    Raises
    ------
    RankError
        If nothing has a label, all frequencies are zero, or a wish cannot be met; the message says which.

    Notes
    -----
    See J. M. Juran, "Universals in management planning and controlling", The Management Review, November 1954, for the
    ranking and the vital few; H. F. Dickie, "ABC inventory analysis shoots for dollars not pennies", Factory
    Management and Maintenance 109(7), 1951, for classes by several cutoffs.
    """
    last = (last,) if isinstance(last, str) else tuple(last)
    name = order_name(order)
    cuts = cuts_in(cut, name)
    check_rule(rule, ties)
    check_folding(keep, fold_below, rest_label)
    check_rankable(tally)
    counted_tally = without_zeros(tally) if drop_zero else with_listed(tally, order)
    if drop_zero and name == "listed":
        order = [label for label in order if label in set(counted_tally.categories)]
    found = ranking(counted_tally.frequency, counted_tally.categories)
    plain = name == "frequency" and not last
    table = ParetoTable(
        counted_tally, found, None if plain else ordered_places(counted_tally, order, found.order, last), name, cuts,
        rule, ties, rest_label=rest_label, pinned=len(last), strata=strata,
    )  # fmt: skip
    if keep is None and fold_below is None:
        return table
    vital = table.cutoff.categories if table.cutoff else ()
    folded = folded_places(
        counted_tally, found.order, keep=keep, fold_below=fold_below, pinned=last, vital=vital, rest_label=rest_label
    )
    return replace(table, folded=folded)
