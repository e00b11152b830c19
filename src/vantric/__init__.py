"""Vantric: from category counts to Pareto tables and charts whose two axes agree.

>>> import vantric as vt
>>> table = vt.pareto({"Pinhole": 88, "Warping": 61, "Edge chip": 44, "Scratch": 38})
>>> table.cutoff.count
3

The public names are loaded on first use, so that importing the package costs next to nothing. Public modules are this
one, `vantric.errors` and `vantric.typing`; all others are private and may move.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

__version__ = "0.2.0"

if TYPE_CHECKING:
    from vantric.api.charts import align as align
    from vantric.api.charts import combine as combine
    from vantric.api.counting import aggregate as aggregate
    from vantric.api.counting import category_colors as category_colors
    from vantric.api.counting import columns as columns
    from vantric.api.counting import compare as compare
    from vantric.api.counting import crosstab as crosstab
    from vantric.api.counting import gap as gap
    from vantric.api.counting import pareto as pareto
    from vantric.api.counting import pareto_chart as pareto_chart
    from vantric.api.counting import read_chart as read_chart
    from vantric.api.counting import relate as relate
    from vantric.api.counting import tally as tally
    from vantric.api.counting import trend as trend
    from vantric.api.reports import Report as Report
    from vantric.api.reports import report as report
    from vantric.api.reviews import review as review
    from vantric.core.axes.alignment import ScalePair as ScalePair
    from vantric.core.axes.scale import Scale as Scale
    from vantric.core.axes.suggestion import Suggestion as Suggestion
    from vantric.core.axes.suggestion import suggest_axes as suggest_axes
    from vantric.core.charts.chart import Chart as Chart
    from vantric.core.charts.chart import PanelChart as PanelChart
    from vantric.core.charts.references import Mark as Mark
    from vantric.core.charts.references import Reference as Reference
    from vantric.core.charts.series import Area as Area
    from vantric.core.charts.series import Bars as Bars
    from vantric.core.charts.series import Line as Line
    from vantric.core.charts.series import Points as Points
    from vantric.core.charts.series import Stems as Stems
    from vantric.core.charts.series import Steps as Steps
    from vantric.core.counts.comparison import Comparison as Comparison
    from vantric.core.counts.crosstab import Crosstab as Crosstab
    from vantric.core.counts.gap import Gap as Gap
    from vantric.core.counts.measures import Measures as Measures
    from vantric.core.counts.pareto_table import ParetoTable as ParetoTable
    from vantric.core.counts.tally import Tally as Tally
    from vantric.core.messages.languages import WORDS as WORDS
    from vantric.core.numbers.number_format import NumberStyle as NumberStyle
    from vantric.core.review.finding import Finding as Finding
    from vantric.core.statistics.certainty import Certainty as Certainty
    from vantric.core.statistics.concentration import Concentration as Concentration
    from vantric.core.statistics.relation import Relation as Relation
    from vantric.core.statistics.trends import Trend as Trend
    from vantric.errors import AmountError as AmountError
    from vantric.errors import ChartError as ChartError
    from vantric.errors import ChartFileError as ChartFileError
    from vantric.errors import ColumnError as ColumnError
    from vantric.errors import CountError as CountError
    from vantric.errors import LabelError as LabelError
    from vantric.errors import MissingExtraError as MissingExtraError
    from vantric.errors import OptionError as OptionError
    from vantric.errors import RankError as RankError
    from vantric.errors import ScaleError as ScaleError
    from vantric.errors import SourceError as SourceError
    from vantric.errors import TargetError as TargetError
    from vantric.errors import UnknownOptionError as UnknownOptionError
    from vantric.errors import VantricError as VantricError
    from vantric.rendering.web_font import font_css as font_css

#: Public name -> the module it is in.
_HOMES = {
    name: home
    for home, names in {
        "api.charts": "align combine",
        "api.counting": "aggregate category_colors columns compare crosstab gap pareto pareto_chart read_chart "
        "relate tally trend",
        "api.reports": "Report report",
        "api.reviews": "review",
        "core.axes.alignment": "ScalePair",
        "core.axes.scale": "Scale",
        "core.axes.suggestion": "Suggestion suggest_axes",
        "core.charts.chart": "Chart PanelChart",
        "core.charts.references": "Mark Reference",
        "core.charts.series": "Area Bars Line Points Stems Steps",
        "core.counts.comparison": "Comparison",
        "core.counts.crosstab": "Crosstab",
        "core.counts.gap": "Gap",
        "core.counts.measures": "Measures",
        "core.counts.pareto_table": "ParetoTable",
        "core.counts.tally": "Tally",
        "core.messages.languages": "WORDS",
        "core.numbers.number_format": "NumberStyle",
        "core.review.finding": "Finding",
        "core.statistics.certainty": "Certainty",
        "core.statistics.concentration": "Concentration",
        "core.statistics.relation": "Relation",
        "core.statistics.trends": "Trend",
        "errors": "AmountError ChartError ChartFileError ColumnError CountError LabelError MissingExtraError "
        "OptionError RankError ScaleError SourceError TargetError UnknownOptionError VantricError",
        "rendering.web_font": "font_css",
    }.items()
    for name in names.split()
}
__all__ = ["__version__", *_HOMES]


def __getattr__(name: str) -> Any:
    """Load a public name from its room when it is first asked for."""
    import importlib

    if name.endswith("Options"):  # their home until 0.3
        return getattr(importlib.import_module("vantric.typing"), name)
    if name not in _HOMES:
        raise AttributeError(f"module 'vantric' has no attribute '{name}'")
    value = getattr(importlib.import_module(f"vantric.{_HOMES[name]}"), name)
    if hasattr(value, "from_keywords"):  # a class of options says what they are
        importlib.import_module("vantric.options.signatures").document(value)
    if getattr(value, "_kind", ""):  # a class of results says what the options of its chart are
        importlib.import_module("vantric.kinds").kind_named(value._kind)
    globals()[name] = value
    return value


def __dir__() -> list[str]:
    """Return the public names, loaded or not."""
    return sorted(__all__)
