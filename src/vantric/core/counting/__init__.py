"""Counting: tallies, two-way tables, Pareto tables and their cutoffs, comparisons, measures.

In come labels and exact amounts; out go frozen results. Start with `tally.Tally`, categories with their frequencies,
and `paretomaking.pareto`, which ranks (`ranking`, `ordering`), cumulates and cuts off (`cutoff`), and folds (`folding`)
into a `paretotable.ParetoTable`. `options` holds what can be asked of it. A tally does without NumPy, a table does not:
names are loaded on first use.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from vantric.loading import on_first_use

if TYPE_CHECKING:
    from vantric.core.counting.comparison import Change, Comparison, compare
    from vantric.core.counting.crosstab import Crosstab
    from vantric.core.counting.cutoff import Cutoff
    from vantric.core.counting.gap import Gap, GapRow, gap_of
    from vantric.core.counting.measures import Measures
    from vantric.core.counting.origin import Missing, Origin, Remark
    from vantric.core.counting.paretomaking import pareto
    from vantric.core.counting.paretotable import ParetoTable, Rest, Row
    from vantric.core.counting.relabel import Relabeling, relabeling
    from vantric.core.counting.tally import Tally

__all__ = [
    "Change",
    "Comparison",
    "Crosstab",
    "Cutoff",
    "Gap",
    "GapRow",
    "Measures",
    "Missing",
    "Origin",
    "ParetoTable",
    "Relabeling",
    "Remark",
    "Rest",
    "Row",
    "Tally",
    "compare",
    "gap_of",
    "pareto",
    "relabeling",
]
__getattr__ = on_first_use(
    __name__,
    {
        "Change": "comparison",
        "Comparison": "comparison",
        "Crosstab": "crosstab",
        "Cutoff": "cutoff",
        "Gap": "gap",
        "GapRow": "gap",
        "Measures": "measures",
        "Missing": "origin",
        "Origin": "origin",
        "ParetoTable": "paretotable",
        "Relabeling": "relabel",
        "Remark": "origin",
        "Rest": "paretotable",
        "Row": "paretotable",
        "Tally": "tally",
        "compare": "comparison",
        "gap_of": "gap",
        "pareto": "paretomaking",
        "relabeling": "relabel",
    },
)
