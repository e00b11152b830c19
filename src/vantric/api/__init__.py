"""The public functions and results."""

from vantric.api.chart import Chart, PanelChart
from vantric.api.comparison import Comparison
from vantric.api.counts import Crosstab, Measures, Tally
from vantric.api.functions import (
    aggregate,
    category_colours,
    compare,
    crosstab,
    pareto,
    pareto_chart,
    review,
    tally,
)
from vantric.api.table import ParetoTable
from vantric.core.charting import WORDS
from vantric.core.reviewing import Finding

__all__ = [
    "WORDS",
    "Chart",
    "Comparison",
    "Crosstab",
    "Finding",
    "Measures",
    "PanelChart",
    "ParetoTable",
    "Tally",
    "aggregate",
    "category_colours",
    "compare",
    "crosstab",
    "pareto",
    "pareto_chart",
    "review",
    "tally",
]
