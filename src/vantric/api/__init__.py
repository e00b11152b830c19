"""The public functions and results, loaded on first use: a table needs nothing of what draws."""

from __future__ import annotations

import importlib
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
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
    from vantric.core.axes import Scale, ScalePair, Suggestion, align, suggest_axes
    from vantric.core.charting import WORDS
    from vantric.core.reviewing import Finding

_HOMES = {
    "WORDS": "vantric.core.charting",
    "Chart": "vantric.api.chart",
    "Comparison": "vantric.api.comparison",
    "Crosstab": "vantric.api.counts",
    "Finding": "vantric.core.reviewing",
    "Measures": "vantric.api.counts",
    "PanelChart": "vantric.api.chart",
    "ParetoTable": "vantric.api.table",
    "Scale": "vantric.core.axes",
    "ScalePair": "vantric.core.axes",
    "Suggestion": "vantric.core.axes",
    "Tally": "vantric.api.counts",
    "aggregate": "vantric.api.functions",
    "align": "vantric.core.axes",
    "category_colours": "vantric.api.functions",
    "compare": "vantric.api.functions",
    "crosstab": "vantric.api.functions",
    "pareto": "vantric.api.functions",
    "pareto_chart": "vantric.api.functions",
    "review": "vantric.api.functions",
    "suggest_axes": "vantric.core.axes",
    "tally": "vantric.api.functions",
}

__all__ = [
    "WORDS",
    "Chart",
    "Comparison",
    "Crosstab",
    "Finding",
    "Measures",
    "PanelChart",
    "ParetoTable",
    "Scale",
    "ScalePair",
    "Suggestion",
    "Tally",
    "aggregate",
    "align",
    "category_colours",
    "compare",
    "crosstab",
    "pareto",
    "pareto_chart",
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
