"""The public functions and results."""

from vantric.api.chart import Chart
from vantric.api.counts import Crosstab, Measures, Tally
from vantric.api.functions import aggregate, crosstab, pareto, pareto_chart, review, tally
from vantric.api.table import ParetoTable
from vantric.core.reviewing import Finding

__all__ = [
    "Chart",
    "Crosstab",
    "Finding",
    "Measures",
    "ParetoTable",
    "Tally",
    "aggregate",
    "crosstab",
    "pareto",
    "pareto_chart",
    "review",
    "tally",
]
