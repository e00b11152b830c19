"""Charting: what is wanted (chart) and where everything stands (plan)."""

from vantric.core.charting.chart import Bars, Chart, CutMark, Line
from vantric.core.charting.paretochart import cut_words, pareto_chart
from vantric.core.charting.plan import Box, Plan, TextMark
from vantric.core.charting.planner import make_plan

__all__ = ["Bars", "Box", "Chart", "CutMark", "Line", "Plan", "TextMark", "cut_words", "make_plan", "pareto_chart"]
