"""Reviewing: what is wrong or risky in counts, tables and charts, and how to fix it.

In comes a tally, a Pareto table, a comparison, a chart, a pair of scales, or the rows of a sheet made elsewhere; out
goes a list of `Finding`, each with a code, a severity, a message and the fix. One file for each kind of result; start
with `tally` and `pareto`. `labels` looks at names (totals among them, near misses), `axes` and `drawnseries` at what a
chart draws. Nothing here changes what it reviews.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from vantric.loading import on_first_use

if TYPE_CHECKING:
    from vantric.core.reviewing.books.charts import review_drawn
    from vantric.core.reviewing.books.drawn import DrawnChart
    from vantric.core.reviewing.chart import review_chart, review_scales
    from vantric.core.reviewing.comparison import review_comparison
    from vantric.core.reviewing.finding import Finding, WrongCell, remarked
    from vantric.core.reviewing.labels import total_asked
    from vantric.core.reviewing.pareto import review_pareto
    from vantric.core.reviewing.sheets.checking import Correction, check_sheet, checked
    from vantric.core.reviewing.sheets.table import SheetCell, SheetRow, SheetTable
    from vantric.core.reviewing.strata import review_strata
    from vantric.core.reviewing.tally import review_tally
    from vantric.core.reviewing.trend import review_trends

__all__ = [
    "Correction",
    "DrawnChart",
    "Finding",
    "SheetCell",
    "SheetRow",
    "SheetTable",
    "WrongCell",
    "check_sheet",
    "checked",
    "remarked",
    "review_chart",
    "review_comparison",
    "review_drawn",
    "review_pareto",
    "review_scales",
    "review_strata",
    "review_tally",
    "review_trends",
    "total_asked",
]
__getattr__ = on_first_use(
    __name__,
    {
        "Finding": "finding",
        "WrongCell": "finding",
        "remarked": "finding",
        "SheetCell": "sheets.table",
        "SheetRow": "sheets.table",
        "SheetTable": "sheets.table",
        "Correction": "sheets.checking",
        "check_sheet": "sheets.checking",
        "checked": "sheets.checking",
        "review_chart": "chart",
        "review_comparison": "comparison",
        "review_drawn": "books.charts",
        "DrawnChart": "books.drawn",
        "review_pareto": "pareto",
        "review_scales": "chart",
        "review_strata": "strata",
        "review_tally": "tally",
        "review_trends": "trend",
        "total_asked": "labels",
    },
)
