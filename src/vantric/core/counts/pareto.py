"""From a tally to its Pareto table, and tallies in the order that is wanted with their small categories folded."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from vantric.core.counts.cutoff import cuts_in
from vantric.core.counts.ordering import (
    REST_LABEL,
    Order,
    RankSettings,
    folded_places,
    order_name,
    ordered_places,
    with_listed,
)
from vantric.core.counts.pareto_table import ParetoTable
from vantric.core.counts.ranking import ranked_places, ranking
from vantric.core.counts.tally import Tally, check_rankable, without_zeros
from vantric.core.numbers.amounts import Amounts
from vantric.errors import RankError

if TYPE_CHECKING:
    import numpy as np

    from vantric.core.counts.crosstab import Crosstab

_PLAIN = RankSettings()


def pareto(tally: Tally, wanted: RankSettings = _PLAIN, *, strata: Crosstab | None = None) -> ParetoTable:
    """Rank and accumulate a tally and decide its cutoffs.

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
    amounts = ranking(counted_tally.frequency, counted_tally.categories)
    plain = name == "frequency" and not last
    table = ParetoTable(
        counted_tally,
        amounts,
        None if plain else ordered_places(counted_tally, order, amounts.order, last),
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
        amounts.order,
        keep=wanted.keep,
        fold_below=wanted.fold_below,
        pinned=last,
        vital=vital,
        rest_label=wanted.rest_label,
    )
    return replace(table, folded=folded.tolist())


def arranged(tally: Tally, order: Order | None, keep: int | None, rest_label: str = REST_LABEL) -> Tally:
    """Return a tally in the order that is wanted, all but the most frequent categories in one, which is last.

    Parameters
    ----------
    order
        As of a Pareto table; None for descending frequency.
    keep
        How many categories keep their names; None for all.

    Raises
    ------
    RankError
        If the order misses a category, or the source has none; if rates are to be folded.
    """
    if order is None and keep is None:
        return tally
    import numpy as np

    full = with_listed(tally, order or "frequency")
    ranked = np.array(ranked_places(full.frequency, full.categories), dtype=np.intp)
    places = ordered_places(full, order or "frequency", ranked)
    gone = _folded(full, ranked, keep, rest_label)
    place = places[~np.isin(places, gone)]
    names = tuple(full.categories[position] for position in place.tolist())

    def amounts(amounts: Amounts | None) -> Amounts | None:
        if amounts is None:
            return None
        own = amounts.take(place)
        return own.joined(amounts.take(gone).total) if len(gone) else own

    frequency, exposure = amounts(full.frequency), full.exposure
    assert frequency is not None
    return replace(
        full,
        categories=(*names, rest_label) if len(gone) else names,
        frequency=frequency,
        counts=amounts(full.counts),
        exposure=None if exposure is None else exposure.take(place),
        arranged=True,
    )


def _folded(tally: Tally, ranked: np.ndarray, keep: int | None, rest_label: str) -> np.ndarray:
    if keep is None or keep >= len(tally.categories):
        import numpy as np

        return np.empty(0, dtype=np.intp)
    if tally.exposure is not None:
        raise RankError("rates are not folded: a rate of several categories needs their exposures; leave keep out")
    return folded_places(tally, ranked, keep=keep, fold_below=None, rest_label=rest_label)


def arranged_rows(table: Crosstab, order: Order | None, keep: int | None, rest_label: str = REST_LABEL) -> Crosstab:
    """Return a two-way table with its rows in the order of their totals, or another; small rows in one, the last."""
    if order is None and keep is None:
        return table
    import numpy as np

    rows = arranged(table.tally(), order, keep, rest_label)
    places = {label: place for place, label in enumerate(table.categories)}
    named = [places[label] for label in rows.categories if label in places and not (keep and label == rest_label)]
    gone = [place for place in range(len(table.categories)) if place not in set(named)] if keep else []
    width = len(table.columns)

    def cells(amounts: Amounts | None) -> Amounts | None:
        if amounts is None:
            return None
        grid = amounts.units.reshape(-1, width)
        parts = [grid[named], *([grid[gone].sum(axis=0, keepdims=True)] if gone else [])]
        return Amounts(np.concatenate(parts).ravel(), amounts.scale)

    frequency = cells(table.frequency)
    assert frequency is not None
    names = tuple(table.categories[place] for place in named)
    return replace(
        table, categories=(*names, rest_label) if gone else names, frequency=frequency, counts=cells(table.counts)
    )
