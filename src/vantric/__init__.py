"""Vantric: from category counts to Pareto tables and charts whose two axes agree.

>>> import vantric as vt
>>> table = vt.pareto({"Pinhole": 88, "Warping": 61, "Edge chip": 44, "Scratch": 38})
>>> table.cutoff.count
3

The public names are loaded on first use, so that importing the package costs next to nothing.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

__version__ = "0.2.0"

if TYPE_CHECKING:
    from vantric.api.charting import aggregate as aggregate
    from vantric.api.charting import category_colors as category_colors
    from vantric.api.charting import compare as compare
    from vantric.api.charting import crosstab as crosstab
    from vantric.api.charting import pareto as pareto
    from vantric.api.charting import pareto_chart as pareto_chart
    from vantric.api.charting import read_chart as read_chart
    from vantric.api.charting import tally as tally
    from vantric.api.combine_columns import combine as combine
    from vantric.api.keywords import AggregateOptions as AggregateOptions
    from vantric.api.keywords import ChartOptions as ChartOptions
    from vantric.api.keywords import CombineOptions as CombineOptions
    from vantric.api.keywords import ComparisonChartOptions as ComparisonChartOptions
    from vantric.api.keywords import MeasuresChartOptions as MeasuresChartOptions
    from vantric.api.keywords import ParetoChartOptions as ParetoChartOptions
    from vantric.api.keywords import ParetoOptions as ParetoOptions
    from vantric.api.keywords import ParetoTableChartOptions as ParetoTableChartOptions
    from vantric.api.keywords import ReadChartOptions as ReadChartOptions
    from vantric.api.keywords import ScalingOptions as ScalingOptions
    from vantric.api.keywords import TallyChartOptions as TallyChartOptions
    from vantric.api.keywords import TallyOptions as TallyOptions
    from vantric.api.keywords import TrendChartOptions as TrendChartOptions
    from vantric.api.keywords import TrendOptions as TrendOptions
    from vantric.api.relating import gap as gap
    from vantric.api.relating import relate as relate
    from vantric.api.reporting.reports import Report as Report
    from vantric.api.reporting.reports import report as report
    from vantric.api.reviews import review as review
    from vantric.api.scaling import align as align
    from vantric.api.trends import trend as trend
    from vantric.core.axes.aligning import ScalePair as ScalePair
    from vantric.core.axes.scale import Scale as Scale
    from vantric.core.axes.suggest import Suggestion as Suggestion
    from vantric.core.axes.suggest import suggest_axes as suggest_axes
    from vantric.core.charting.chart import Chart as Chart
    from vantric.core.charting.chart import PanelChart as PanelChart
    from vantric.core.charting.keywords import BarsOptions as BarsOptions
    from vantric.core.charting.keywords import LineOptions as LineOptions
    from vantric.core.charting.references import Mark as Mark
    from vantric.core.charting.references import Reference as Reference
    from vantric.core.charting.series import Area as Area
    from vantric.core.charting.series import Bars as Bars
    from vantric.core.charting.series import Line as Line
    from vantric.core.charting.series import Points as Points
    from vantric.core.charting.series import Stems as Stems
    from vantric.core.charting.series import Steps as Steps
    from vantric.core.charting.wording import WORDS as WORDS
    from vantric.core.counting.comparison import Comparison as Comparison
    from vantric.core.counting.crosstab import Crosstab as Crosstab
    from vantric.core.counting.gap import Gap as Gap
    from vantric.core.counting.measures import Measures as Measures
    from vantric.core.counting.paretotable import ParetoTable as ParetoTable
    from vantric.core.counting.tally import Tally as Tally
    from vantric.core.inference.certaintyresult import Certainty as Certainty
    from vantric.core.inference.concentration import Concentration as Concentration
    from vantric.core.inference.relationresult import Relation as Relation
    from vantric.core.inference.trendresult import Trend as Trend
    from vantric.core.numbers.style import NumberStyle as NumberStyle
    from vantric.core.reviewing.finding import Finding as Finding
    from vantric.errors import VantricError as VantricError

#: Public name -> the module it is in.
_HOMES = {
    "AggregateOptions": "api.keywords",
    "Area": "core.charting.series",
    "Bars": "core.charting.series",
    "BarsOptions": "core.charting.keywords",
    "Certainty": "core.inference.certaintyresult",
    "Chart": "core.charting.chart",
    "ChartOptions": "api.keywords",
    "CombineOptions": "api.keywords",
    "Comparison": "core.counting.comparison",
    "ComparisonChartOptions": "api.keywords",
    "Concentration": "core.inference.concentration",
    "Crosstab": "core.counting.crosstab",
    "Finding": "core.reviewing.finding",
    "Gap": "core.counting.gap",
    "Line": "core.charting.series",
    "LineOptions": "core.charting.keywords",
    "Mark": "core.charting.references",
    "Measures": "core.counting.measures",
    "MeasuresChartOptions": "api.keywords",
    "NumberStyle": "core.numbers.style",
    "PanelChart": "core.charting.chart",
    "ParetoChartOptions": "api.keywords",
    "ParetoOptions": "api.keywords",
    "ParetoTable": "core.counting.paretotable",
    "ParetoTableChartOptions": "api.keywords",
    "Points": "core.charting.series",
    "ReadChartOptions": "api.keywords",
    "Reference": "core.charting.references",
    "Relation": "core.inference.relationresult",
    "Scale": "core.axes.scale",
    "ScalePair": "core.axes.aligning",
    "Report": "api.reporting.reports",
    "ScalingOptions": "api.keywords",
    "Stems": "core.charting.series",
    "Steps": "core.charting.series",
    "Suggestion": "core.axes.suggest",
    "Tally": "core.counting.tally",
    "TallyChartOptions": "api.keywords",
    "TallyOptions": "api.keywords",
    "Trend": "core.inference.trendresult",
    "TrendChartOptions": "api.keywords",
    "TrendOptions": "api.keywords",
    "VantricError": "errors",
    "WORDS": "core.charting.wording",
    "aggregate": "api.charting",
    "align": "api.scaling",
    "category_colors": "api.charting",
    "combine": "api.combine_columns",
    "compare": "api.charting",
    "crosstab": "api.charting",
    "gap": "api.relating",
    "pareto": "api.charting",
    "pareto_chart": "api.charting",
    "read_chart": "api.charting",
    "relate": "api.relating",
    "report": "api.reporting.reports",
    "review": "api.reviews",
    "suggest_axes": "core.axes.suggest",
    "tally": "api.charting",
    "trend": "api.trends",
}
__all__ = ["__version__", *_HOMES]


def __getattr__(name: str) -> Any:
    """Load a public name from its room when it is first asked for."""
    if name not in _HOMES:
        raise AttributeError(f"module 'vantric' has no attribute '{name}'")
    import importlib

    value = getattr(importlib.import_module(f"vantric.{_HOMES[name]}"), name)
    if hasattr(value, "from_keywords"):  # a class of options says what they are
        importlib.import_module("vantric.options.showing").document(value)
    if getattr(value, "_kind", ""):  # a class of results says what the options of its chart are
        importlib.import_module("vantric.api.kinds").kind_named(value._kind)
    globals()[name] = value
    return value


def __dir__() -> list[str]:
    """Return the public names, loaded or not."""
    return sorted(__all__)
