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
    "Tally": "vantric.api.counts",
    "aggregate": "vantric.api.functions",
    "category_colours": "vantric.api.functions",
    "compare": "vantric.api.functions",
    "crosstab": "vantric.api.functions",
    "pareto": "vantric.api.functions",
    "pareto_chart": "vantric.api.functions",
    "review": "vantric.api.functions",
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


def __getattr__(name: str) -> Any:
    """Load a name from its file when it is first asked for."""
    home = _HOMES.get(name)
    if home is None:
        raise AttributeError(f"module '{__name__}' has no attribute '{name}'")
    return getattr(importlib.import_module(home), name)
