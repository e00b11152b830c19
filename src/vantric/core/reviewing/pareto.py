"""Findings over a Pareto table."""

from __future__ import annotations

from typing import TYPE_CHECKING

from vantric.core.numbers.shown import counted, quoted
from vantric.core.reviewing.finding import Finding
from vantric.core.reviewing.tally import review_tally

if TYPE_CHECKING:
    from vantric.core.counting.paretotable import ParetoTable


def review_pareto(table: ParetoTable) -> list[Finding]:
    """Return what is risky in a Pareto table and in the tally under it."""
    return [*review_tally(table.tally), *_tie_at_cutoff(table), *_ties(table)]


def _tie_at_cutoff(table: ParetoTable) -> list[Finding]:
    return [
        Finding(
            code="tie-at-cut-off",
            severity="warning",
            message=(
                f"the cut-off at {cut.percent} % divides a tie: {quoted(cut.categories[-1:])} is inside, "
                f"{quoted(cut.tied)} {'is' if len(cut.tied) == 1 else 'are'} just as frequent and outside"
            ),
            mend="name the tied categories when you present the vital few",
            where=f"cut-off {cut.percent} %",
        )
        for cut in table.cutoffs
        if cut.tied
    ]


def _ties(table: ParetoTable) -> list[Finding]:
    if not table.ties:
        return []
    shown = "; ".join(quoted(group) for group in table.ties[:3])
    more = f"; and {counted(len(table.ties) - 3, 'more group')}" if len(table.ties) > 3 else ""
    return [
        Finding(
            code="ties",
            severity="note",
            message=f"equally frequent: {shown}{more}",
            mend="their ranks say nothing: they stand in the natural order of their labels",
            where=table.origin.by or "labels",
        )
    ]
