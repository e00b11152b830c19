"""Counting: tallies, two-way tables, Pareto tables and their cut-offs, measures."""

from vantric.core.counting.crosstab import Crosstab
from vantric.core.counting.cutoff import Cutoff
from vantric.core.counting.measures import Measures
from vantric.core.counting.pareto import ParetoTable, Row, pareto
from vantric.core.counting.relabel import Relabelling, relabelling
from vantric.core.counting.remark import Remark
from vantric.core.counting.tally import Missing, Origin, Tally

__all__ = [
    "Crosstab",
    "Cutoff",
    "Measures",
    "Missing",
    "Origin",
    "ParetoTable",
    "Relabelling",
    "Remark",
    "Row",
    "Tally",
    "pareto",
    "relabelling",
]
