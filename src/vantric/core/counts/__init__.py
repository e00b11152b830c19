"""Counts: tallies, two-way tables, Pareto tables and their cutoffs, comparisons, measures.

In come labels and exact amounts; out go frozen results. Start with `tally.Tally`, categories with their frequencies,
and `pareto.pareto`, which ranks (`ranking`), orders and folds (`ordering`) and cuts off (`cutoff`) into a
`pareto_table.ParetoTable`. `total_labels` knows totals by their words and sums, `relabeling` gives labels one name,
`provenance` holds where a result comes from and what was noted on the way. A tally does without NumPy, a table does
not: names are loaded on first use.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from vantric.base.lazy_names import on_first_use

if TYPE_CHECKING:
    from vantric.core.counts.comparison import Change, Comparison, compare
    from vantric.core.counts.crosstab import Crosstab
    from vantric.core.counts.cutoff import Cutoff
    from vantric.core.counts.gap import Gap, GapRow, gap_of
    from vantric.core.counts.measures import Measures
    from vantric.core.counts.pareto_table import ParetoRow, ParetoTable, RestRow
    from vantric.core.counts.provenance import Missing, Note, Provenance
    from vantric.core.counts.relabeling import Relabeling
    from vantric.core.counts.tally import Tally

__all__ = [
    "Change",
    "Comparison",
    "Crosstab",
    "Cutoff",
    "Gap",
    "GapRow",
    "Measures",
    "Missing",
    "Note",
    "ParetoRow",
    "ParetoTable",
    "Provenance",
    "Relabeling",
    "RestRow",
    "Tally",
    "compare",
    "gap_of",
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
        "Missing": "provenance",
        "Provenance": "provenance",
        "ParetoTable": "pareto_table",
        "Relabeling": "relabeling",
        "Note": "provenance",
        "RestRow": "pareto_table",
        "ParetoRow": "pareto_table",
        "Tally": "tally",
        "compare": "comparison",
        "gap_of": "gap",
    },
)
