"""Statistics: how sure a statement is.

In comes a Pareto table, a comparison, a two-way table, or series of numbers; out goes a `Certainty`, `Changes`,
`Strata`, a `Trend`, a `Concentration` or a `Relation`, each with its sentence. Start with `sample`: it says how many
independent records tell as much as those that were read, and all methods begin there. `intervals`, `ranks`,
`significance_tests` and `trend_tests` hold the methods, each with its published source. docs/certainty.md is their
page, and bench/coverage.py their simulation.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from vantric.base.lazily import on_first_use

if TYPE_CHECKING:
    from vantric.core.statistics.certainty import Certainty, CertaintyRow, certainty_of
    from vantric.core.statistics.changes import CategoryChange, Changes, changes_of
    from vantric.core.statistics.concentration import Concentration, concentration_of
    from vantric.core.statistics.relation import Relation, relation_of, together
    from vantric.core.statistics.strata import Strata, strata_of
    from vantric.core.statistics.trends import CategoryTrend, Trend, trends_of

__getattr__ = on_first_use(
    __name__,
    {
        "certainty": "Certainty CertaintyRow certainty_of",
        "changes": "CategoryChange Changes changes_of",
        "concentration": "Concentration concentration_of",
        "relation": "Relation relation_of together",
        "strata": "Strata strata_of",
        "trends": "CategoryTrend Trend trends_of",
    },
)
