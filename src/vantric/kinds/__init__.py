"""Kinds of results, one row each: all that commands, chart files, reports and the public functions ask of one.

In comes a name; out goes the `Kind` that makes such a result of a source, reviews, tells, draws and writes it. Start
with `kind.Kind`; `tally` and `pareto` are two of them. `recipe` is how a result can be made again, `access_policy`
what a file may read, `appearance` readies a chart for its renderer, `frames` makes data frames.
"""

from __future__ import annotations

import importlib
from functools import cache
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from vantric.kinds.kind import Kind

#: Name of a kind -> the module that holds it, and its name there; loaded when it is first asked for.
NAMES = {
    "tally": ("tally", "KIND"),
    "pareto": ("pareto", "KIND"),
    "compare": ("compare", "KIND"),
    "trend": ("trend", "KIND"),
    "measures": ("combine", "MEASURES"),
    "combine": ("combine", "KIND"),
    "series": ("charts", "SERIES"),
    "scales": ("scales", "KIND"),
    "chart": ("charts", "KIND"),
    "report": ("vantric.api.reports", "KIND"),
    "review": ("vantric.api.reviews", "KIND"),
    "certainty": ("statements", "CERTAINTY"),
    "concentration": ("statements", "CONCENTRATION"),
    "relation": ("statements", "RELATION"),
    "gap": ("statements", "GAP"),
    "columns": ("statements", "COLUMNS"),
}


@cache
def kind_named(name: str) -> Kind:
    """Return a kind by its name."""
    module, row = NAMES[name]
    kind: Kind = getattr(importlib.import_module(module if "." in module else f"{__name__}.{module}"), row)
    return kind
