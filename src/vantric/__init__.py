"""Vantric: from category counts to Pareto tables and charts whose two axes agree.

>>> import vantric as vt
>>> table = vt.pareto({"Pinhole": 88, "Warping": 61, "Edge chip": 44, "Scratch": 38})
>>> table.cutoff.count
3

The public names are loaded on first use, so that importing the package costs next to nothing.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

__version__ = "0.1.0"

if TYPE_CHECKING:
    from vantric.api import (
        WORDS,
        Area,
        Bars,
        Chart,
        Comparison,
        Crosstab,
        Finding,
        Line,
        Measures,
        NumberStyle,
        PanelChart,
        ParetoTable,
        Points,
        Reference,
        Scale,
        ScalePair,
        Stems,
        Steps,
        Suggestion,
        Tally,
        aggregate,
        align,
        category_colors,
        combine,
        compare,
        crosstab,
        gap,
        pareto,
        pareto_chart,
        read_chart,
        relate,
        review,
        suggest_axes,
        tally,
    )
    from vantric.errors import VantricError

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
    "VantricError",
    "__version__",
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
    """Load a public name from its room when it is first asked for."""
    if name not in __all__:
        raise AttributeError(f"module 'vantric' has no attribute '{name}'")
    import importlib

    home = "vantric.errors" if name == "VantricError" else "vantric.api"
    value = getattr(importlib.import_module(home), name)
    globals()[name] = value
    return value


def __dir__() -> list[str]:
    """Return the public names, loaded or not."""
    return sorted(__all__)
