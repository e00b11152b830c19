"""``vantric.review``."""

from __future__ import annotations

from collections.abc import Sequence

from vantric.core import charting, counting
from vantric.core.axes import ScalePair
from vantric.core.reviewing import Finding, review_chart, review_comparison, review_pareto, review_scales, review_tally
from vantric.errors import VantricError


def review(
    result: counting.Tally | counting.ParetoTable | counting.Comparison | ScalePair | charting.Chart,
    *,
    ignore: Sequence[str] = (),
) -> list[Finding]:
    """Return what is wrong or risky in a tally, a Pareto table, a comparison, a chart or two scales, and the fix.

    Parameters
    ----------
    result
        What is reviewed; it is never changed.
    ignore
        Codes of findings that are not wanted.

    Returns
    -------
    list of Finding
        Each with `code`, `severity` (error, warning or note), `message`, `fix` and `where`.
    """
    return [finding for finding in _review(result) if finding.code not in ignore]


def _review(result: object) -> list[Finding]:
    if isinstance(result, counting.ParetoTable):
        return review_pareto(result)
    if isinstance(result, counting.Comparison):
        return review_comparison(result)
    if isinstance(result, ScalePair):
        return review_scales(result)
    if isinstance(result, counting.Tally):
        return review_tally(result)
    if isinstance(result, charting.Chart):
        return review_chart(result)
    raise VantricError(
        f"cannot review {type(result).__name__}: give a tally, a Pareto table, a comparison, a chart or two scales"
    )
