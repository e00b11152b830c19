"""Reviewing: what is wrong or risky in counts, tables and charts, and the mend."""

from vantric.core.reviewing.chart import review_chart
from vantric.core.reviewing.comparison import review_comparison
from vantric.core.reviewing.finding import Finding
from vantric.core.reviewing.pareto import review_pareto
from vantric.core.reviewing.scales import review_scales
from vantric.core.reviewing.sheet import SheetRow, check_sheet
from vantric.core.reviewing.tally import review_tally

__all__ = [
    "Finding",
    "SheetRow",
    "check_sheet",
    "review_chart",
    "review_comparison",
    "review_pareto",
    "review_scales",
    "review_tally",
]
