"""Reviewing: what is wrong or risky in counts, tables and charts, and the fix; each file is loaded on first use."""

from __future__ import annotations

import importlib
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from vantric.core.reviewing.chart import review_chart
    from vantric.core.reviewing.comparison import review_comparison
    from vantric.core.reviewing.finding import Finding
    from vantric.core.reviewing.pareto import review_pareto
    from vantric.core.reviewing.scales import review_scales
    from vantric.core.reviewing.sheet import SheetRow, check_sheet
    from vantric.core.reviewing.tally import review_tally

_HOMES = {
    "Finding": "finding",
    "SheetRow": "sheet",
    "check_sheet": "sheet",
    "review_chart": "chart",
    "review_comparison": "comparison",
    "review_pareto": "pareto",
    "review_scales": "scales",
    "review_tally": "tally",
}

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


def __getattr__(name: str) -> Any:
    """Load a name from its file when it is first asked for."""
    home = _HOMES.get(name)
    if home is None:
        raise AttributeError(f"module '{__name__}' has no attribute '{name}'")
    return getattr(importlib.import_module(f"{__name__}.{home}"), name)
