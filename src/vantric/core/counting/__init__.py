"""Counting: tallies, two-way tables, Pareto tables and their cutoffs, measures.

Names are loaded on first use: a tally does without NumPy, a Pareto table does not.
"""

from __future__ import annotations

import importlib
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from vantric.core.counting.comparison import Change, Comparison, compare
    from vantric.core.counting.crosstab import Crosstab
    from vantric.core.counting.cutoff import Cutoff
    from vantric.core.counting.measures import Measures
    from vantric.core.counting.paretomaking import pareto
    from vantric.core.counting.paretorows import Rest, Row
    from vantric.core.counting.paretotable import ParetoTable
    from vantric.core.counting.relabel import Relabeling, relabeling
    from vantric.core.counting.remark import Remark
    from vantric.core.counting.tally import Missing, Origin, Tally

_HOMES = {
    "Change": "comparison",
    "Comparison": "comparison",
    "Crosstab": "crosstab",
    "Cutoff": "cutoff",
    "Measures": "measures",
    "Missing": "tally",
    "Origin": "tally",
    "ParetoTable": "paretotable",
    "Relabeling": "relabel",
    "Remark": "remark",
    "Rest": "paretorows",
    "Row": "paretorows",
    "Tally": "tally",
    "compare": "comparison",
    "pareto": "paretomaking",
    "relabeling": "relabel",
}

__all__ = [
    "Change",
    "Comparison",
    "Crosstab",
    "Cutoff",
    "Measures",
    "Missing",
    "Origin",
    "ParetoTable",
    "Relabeling",
    "Remark",
    "Rest",
    "Row",
    "Tally",
    "compare",
    "pareto",
    "relabeling",
]


def __getattr__(name: str) -> Any:
    """Load a name from its file when it is first asked for."""
    home = _HOMES.get(name)
    if home is None:
        raise AttributeError(f"module '{__name__}' has no attribute '{name}'")
    return getattr(importlib.import_module(f"{__name__}.{home}"), name)
