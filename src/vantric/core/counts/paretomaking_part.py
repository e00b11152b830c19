"""From a tally to its Pareto table."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from vantric.core.counts.cutoff import cuts_in
from vantric.core.counts.folding_part import folded_places
from vantric.core.counts.options_part import Ranking
from vantric.core.counts.ordering import order_name, ordered_places, with_listed
from vantric.core.counts.pareto_table import ParetoTable
from vantric.core.counts.ranking import ranking
from vantric.core.counts.tally import Tally, check_rankable, without_zeros

if TYPE_CHECKING:
    from vantric.core.counts.crosstab import Crosstab

_PLAIN = Ranking()


def pareto(tally: Tally, wanted: Ranking = _PLAIN, *, strata: Crosstab | None = None) -> ParetoTable:
    """Rank and cumulate a tally and decide its cutoffs.

    Parameters
    ----------
    tally
        What was counted.
    wanted
        How it is ranked, cut off and folded.
    strata
        The frequencies by a second column, of which the tally holds the totals.

    Returns
    -------
    ParetoTable

    Raises
    ------
    RankError
        If nothing has a label, all frequencies are zero, or the options do not fit together; the message says which.

    Notes
    -----
    See J. M. Juran, "Universals in management planning and controlling", The Management Review, November 1954, for the
    ranking and the vital few; H. F. Dickie, "ABC inventory analysis shoots for dollars not pennies", Factory
    Management and Maintenance 109(7), 1951, for classes by several cutoffs.
    """
    order, last = wanted.order, wanted.last
    name = order_name(order)
    cuts = cuts_in(wanted.cut, name)
    check_rankable(tally)
    counted_tally = without_zeros(tally) if wanted.drop_zero else with_listed(tally, order)
    if wanted.drop_zero and name == "listed":
        order = tuple(label for label in order if label in set(counted_tally.categories))
    found = ranking(counted_tally.frequency, counted_tally.categories)
    plain = name == "frequency" and not last
    table = ParetoTable(
        counted_tally,
        found,
        None if plain else ordered_places(counted_tally, order, found.order, last),
        name,
        cuts,
        wanted.rule,
        wanted.ties,
        rest_label=wanted.rest_label,
        pinned=len(last),
        strata=strata,
    )
    if wanted.keep is None and wanted.fold_below is None:
        return table
    vital = table.cutoff.categories if table.cutoff else ()
    folded = folded_places(
        counted_tally,
        found.order,
        keep=wanted.keep,
        fold_below=wanted.fold_below,
        pinned=last,
        vital=vital,
        rest_label=wanted.rest_label,
    )
    return replace(table, folded=folded)
