"""The public functions and results."""

from vantric.api.chart import Chart
from vantric.api.functions import pareto, pareto_chart, review, tally
from vantric.api.table import ParetoTable
from vantric.core.counting import Tally
from vantric.core.reviewing import Finding

__all__ = ["Chart", "Finding", "ParetoTable", "Tally", "pareto", "pareto_chart", "review", "tally"]
