"""The public functions and results, loaded on first use: a table needs nothing of what draws."""

from __future__ import annotations

import importlib
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from vantric.api.chart import Chart, PanelChart
    from vantric.api.combinecharts import combine
    from vantric.api.comparison import Comparison
    from vantric.api.counts import Crosstab, Measures, Tally
    from vantric.api.functions import aggregate, category_colors, compare, crosstab, pareto, tally
    from vantric.api.paretocharts import pareto_chart, read_chart
    from vantric.api.relating import gap, relate
    from vantric.api.reviewer import review
    from vantric.api.table import ParetoTable
    from vantric.core.axes import Scale, ScalePair, Suggestion, align, suggest_axes
    from vantric.core.charting import WORDS, Area, Bars, Line, Points, Reference, Stems, Steps
    from vantric.core.numbers.style import NumberStyle
    from vantric.core.reviewing import Finding

_HOMES = {
    "WORDS": "vantric.core.charting",
    "Area": "vantric.core.charting",
    "Bars": "vantric.core.charting",
    "Chart": "vantric.api.chart",
    "Comparison": "vantric.api.comparison",
    "Crosstab": "vantric.api.counts",
    "Finding": "vantric.core.reviewing",
    "Line": "vantric.core.charting",
    "Measures": "vantric.api.counts",
    "NumberStyle": "vantric.core.numbers.style",
    "PanelChart": "vantric.api.chart",
    "ParetoTable": "vantric.api.table",
    "Points": "vantric.core.charting",
    "Reference": "vantric.core.charting",
    "Scale": "vantric.core.axes",
    "ScalePair": "vantric.core.axes",
    "Stems": "vantric.core.charting",
    "Steps": "vantric.core.charting",
    "Suggestion": "vantric.core.axes",
    "Tally": "vantric.api.counts",
    "aggregate": "vantric.api.functions",
    "align": "vantric.core.axes",
    "category_colors": "vantric.api.functions",
    "combine": "vantric.api.combinecharts",
    "compare": "vantric.api.functions",
    "crosstab": "vantric.api.functions",
    "gap": "vantric.api.relating",
    "pareto": "vantric.api.functions",
    "pareto_chart": "vantric.api.paretocharts",
    "read_chart": "vantric.api.paretocharts",
    "relate": "vantric.api.relating",
    "review": "vantric.api.reviewer",
    "suggest_axes": "vantric.core.axes",
    "tally": "vantric.api.functions",
}

__all__ = [
    "WORDS",
    "Area",
    "Bars",
    "Chart",
    "Comparison",
    "Crosstab",
    "Finding",
    "Line",
    "Measures",
    "NumberStyle",
    "PanelChart",
    "ParetoTable",
    "Points",
    "Reference",
    "Scale",
    "ScalePair",
    "Stems",
    "Steps",
    "Suggestion",
    "Tally",
    "aggregate",
    "align",
    "category_colors",
    "combine",
    "compare",
    "crosstab",
    "gap",
    "pareto",
    "pareto_chart",
    "read_chart",
    "relate",
    "review",
    "suggest_axes",
    "tally",
]


def __getattr__(name: str) -> Any:
    """Load a name from its file when it is first asked for."""
    home = _HOMES.get(name)
    if home is None:
        raise AttributeError(f"module '{__name__}' has no attribute '{name}'")
    return getattr(importlib.import_module(home), name)
