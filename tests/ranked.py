"""Pareto tables of ready tallies."""

from typing import Any

from vantric.core.counts import ParetoTable, Tally
from vantric.core.counts.ordering import RankSettings
from vantric.core.counts.pareto import pareto as table_of


def pareto(tally: Tally, *, strata: Any = None, **options: Any) -> ParetoTable:
    """Return the core's table of a tally."""
    return table_of(tally, RankSettings(**options), strata=strata)
