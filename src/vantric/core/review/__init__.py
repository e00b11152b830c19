"""Review: what is wrong or risky in counts, tables and charts, and how to fix it.

In comes a tally, a Pareto table, a comparison, a two-way table, a chart or a pair of scales; out goes a list of
`Finding`, each with a code of ``codes.toml``, a severity, a message and the fix. Start with `tally` and `pareto`;
`labels` looks at names, `spellings` at names that seem to be one (`error_patterns`), `chart` and `drawn_series` at
what a chart draws. Nothing here changes what it reviews; sheets made elsewhere are reviewed by `vantric.audit`.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from vantric.base.lazily import on_first_use

if TYPE_CHECKING:
    from vantric.core.review.chart import review_chart, review_scales
    from vantric.core.review.comparisons import review_comparison, review_strata, review_trends
    from vantric.core.review.finding import Finding, WrongCell, remarked
    from vantric.core.review.labels import total_asked
    from vantric.core.review.pareto import review_pareto
    from vantric.core.review.tally import review_tally

__getattr__ = on_first_use(
    __name__,
    {
        "chart": "review_chart review_scales",
        "comparisons": "review_comparison review_strata review_trends",
        "finding": "Finding WrongCell remarked",
        "labels": "total_asked",
        "pareto": "review_pareto",
        "tally": "review_tally",
    },
)
