"""Charting: what is wanted of a chart."""

from vantric.core.charting.chart import Chart, CutMark, Reference
from vantric.core.charting.panels import PanelChart
from vantric.core.charting.series import KINDS, Area, Bars, Line, Points, Series, Stems, Steps
from vantric.core.charting.wish import Wish
from vantric.core.charting.wording import WORDS, Wording

__all__ = [
    "KINDS",
    "WORDS",
    "Area",
    "Bars",
    "Chart",
    "CutMark",
    "Line",
    "PanelChart",
    "Points",
    "Reference",
    "Series",
    "Stems",
    "Steps",
    "Wish",
    "Wording",
]
