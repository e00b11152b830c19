"""Counts: tallies, two-way tables, Pareto tables and their cutoffs, comparisons, measures.

In come labels and exact amounts; out go frozen results. Start with `tally.Tally`, categories with their frequencies,
and `pareto.pareto`, which ranks (`ranking`), orders and folds (`ordering`) and cuts off (`cutoff`) into a
`pareto_table.ParetoTable`. `total_labels` knows totals by their words and sums, `relabeling` gives labels one name,
`provenance` holds where a result comes from and what was noted on the way. A tally does without NumPy, a table does
not: names are loaded on first use.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from vantric.base.lazily import on_first_use

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

__getattr__ = on_first_use(
    __name__,
    {
        "comparison": "Change Comparison compare",
        "crosstab": "Crosstab",
        "cutoff": "Cutoff",
        "gap": "Gap GapRow gap_of",
        "measures": "Measures",
        "pareto_table": "ParetoRow ParetoTable RestRow",
        "provenance": "Missing Note Provenance",
        "relabeling": "Relabeling",
        "tally": "Tally",
    },
)
