"""Charting: what is wanted (chart) and where everything stands (plan)."""

from vantric.core.charting.chart import Chart, CutMark, Reference
from vantric.core.charting.combination import CombinationWish, combination_chart
from vantric.core.charting.comparisonchart import comparison_chart
from vantric.core.charting.panelcharts import drill_panels, strata_panels
from vantric.core.charting.panels import PanelChart, PanelPlan, make_panel_plan
from vantric.core.charting.paretochart import chart_note, cut_words, pareto_chart
from vantric.core.charting.plan import Box, Plan, TextMark
from vantric.core.charting.planner import make_plan
from vantric.core.charting.scaleschart import scales_chart
from vantric.core.charting.series import KINDS, Area, Bars, Line, Points, Series, Stems, Steps
from vantric.core.charting.tallycharts import TallyWish, crosstab_chart, tally_chart
from vantric.core.charting.valuescales import ScaleWish
from vantric.core.charting.wish import Wish
from vantric.core.charting.wording import WORDS, Wording

__all__ = [
    "KINDS",
    "WORDS",
    "Area",
    "Bars",
    "Box",
    "Chart",
    "CombinationWish",
    "CutMark",
    "Line",
    "PanelChart",
    "PanelPlan",
    "Plan",
    "Points",
    "Reference",
    "ScaleWish",
    "Series",
    "Stems",
    "Steps",
    "TallyWish",
    "TextMark",
    "Wish",
    "Wording",
    "chart_note",
    "combination_chart",
    "comparison_chart",
    "crosstab_chart",
    "cut_words",
    "drill_panels",
    "make_panel_plan",
    "make_plan",
    "pareto_chart",
    "scales_chart",
    "strata_panels",
    "tally_chart",
]
