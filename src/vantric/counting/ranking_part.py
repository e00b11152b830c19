"""A source becomes a Pareto table: counted, divided by an exposure or drilled down, ranked and cut off."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Any

from vantric.core.counts.tally import Tally
from vantric.counting.count_records import cross, gather
from vantric.engines.materialize import adopted
from vantric.reading.settings import Analysis, Counting, Opening

if TYPE_CHECKING:  # with NumPy, after the reading
    from vantric.core.counts import ParetoTable


def rank(data: Any, analysis: Analysis, counting: Counting, opening: Opening) -> ParetoTable:
    """Read, count, rank, cumulate and cut off.

    Raises
    ------
    VantricError
        If the data cannot be read or counted, or there is nothing to rank.
    """
    from vantric.core.counts.paretomaking_part import pareto

    given, data = data, adopted(data)  # what can be read once is read twice
    counting = replace(counting, in_order=counting.in_order or analysis.order == "given")
    if analysis.drill:
        return _drilled(data, analysis, counting, opening)
    if analysis.split:
        strata = cross(data, counting, opening, split=analysis.split, period=analysis.period)
        return pareto(strata.tally(), analysis, strata=strata)
    tally = gather(data, counting, opening, columns=data is not given)
    return pareto(tally if analysis.per is None else _rated(tally, data, analysis, counting, opening), analysis)


def _rated(tally: Tally, data: Any, analysis: Analysis, counting: Counting, opening: Opening) -> Tally:
    from vantric.core.counts.rates_part import rated
    from vantric.counting.exposures import exposure_of

    asked = replace(counting, by=counting.by or tally.origin.by)
    exposure, name, said = exposure_of(data, asked, opening, analysis.per)
    tally = replace(tally, origin=replace(tally.origin, remarks=(*tally.origin.remarks, *said)))
    return rated(tally, exposure, units=analysis.per_units, of=analysis.per_name or name)


def _drilled(data: Any, analysis: Analysis, counting: Counting, opening: Opening) -> ParetoTable:
    from vantric.core.counts.paretomaking_part import pareto
    from vantric.counting.ranking import drill_levels

    levels = drill_levels(data, analysis.drill, counting, opening)
    order = analysis.order if isinstance(analysis.order, str) else "frequency"
    below = replace(analysis, order=order, last=(), keep=None, fold_below=None)

    def at(path: tuple[str, ...]) -> ParetoTable:
        table = pareto(levels.tally_at(path), below if path else analysis)
        if len(path) + 1 == len(levels.columns):
            return table
        vital = table.cutoff.categories if table.cutoff else table.categories
        inner = [(name, (*path, name)) for name in vital]
        return replace(
            table, within=tuple((name, at(deeper)) for name, deeper in inner if levels.tally_at(deeper).categories)
        )

    return at(())
