"""Counting: tallies, Pareto tables and their cut-offs."""

from vantric.core.counting.cutoff import Cutoff
from vantric.core.counting.pareto import ParetoTable, Row, pareto
from vantric.core.counting.relabel import Relabelling, relabelling
from vantric.core.counting.remark import Remark
from vantric.core.counting.tally import Missing, Origin, Tally

__all__ = [
    "Cutoff",
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
