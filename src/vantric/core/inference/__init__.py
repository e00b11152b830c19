"""Inference: how sure a statement is.

In comes a Pareto table, a comparison, a two-way table, or series of numbers; out goes a `Certainty` (`certainty_of`),
`Changes` (`changes_of`), `Strata` (`strata_of`), a `Trend` (`trends_of`), a `Concentration` or a `Relation`, each with
its sentence. `sample` says how many independent records tell as much as those that were read; all methods start there,
each with its published source. docs/certainty.md is their page, and bench/coverage.py their simulation.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from vantric.loading import on_first_use

if TYPE_CHECKING:
    from vantric.core.inference.certainty import certainty_of
    from vantric.core.inference.certaintyresult import Certainty, CertaintyRow
    from vantric.core.inference.changes import CategoryChange, Changes, changes_of
    from vantric.core.inference.concentration import Concentration, concentration_of
    from vantric.core.inference.relation import relation_of, together
    from vantric.core.inference.relationresult import Relation
    from vantric.core.inference.strata import Strata, strata_of
    from vantric.core.inference.trendresult import CategoryTrend, Trend
    from vantric.core.inference.trends import trends_of

__all__ = [
    "CategoryChange",
    "CategoryTrend",
    "Certainty",
    "CertaintyRow",
    "Changes",
    "Concentration",
    "Relation",
    "Strata",
    "Trend",
    "certainty_of",
    "changes_of",
    "concentration_of",
    "relation_of",
    "strata_of",
    "together",
    "trends_of",
]
__getattr__ = on_first_use(
    __name__,
    {
        "CategoryChange": "changes",
        "CategoryTrend": "trendresult",
        "Certainty": "certaintyresult",
        "CertaintyRow": "certaintyresult",
        "Changes": "changes",
        "Concentration": "concentration",
        "Relation": "relationresult",
        "Strata": "strata",
        "Trend": "trendresult",
        "certainty_of": "certainty",
        "changes_of": "changes",
        "concentration_of": "concentration",
        "relation_of": "relation",
        "strata_of": "strata",
        "together": "relation",
        "trends_of": "trends",
    },
)
