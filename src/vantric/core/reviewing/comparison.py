"""Findings over a comparison."""

from __future__ import annotations

from typing import TYPE_CHECKING

from vantric.core.reviewing.finding import Finding, note
from vantric.core.reviewing.tally import review_tally

if TYPE_CHECKING:
    from vantric.core.counting.comparison import Comparison

_UNEVEN = 1.5


def review_comparison(found: Comparison) -> list[Finding]:
    """Return what is risky in a comparison and in the tallies under it."""
    under = [finding for table in (found.before, found.after) for finding in review_tally(table.tally)]
    return [*dict.fromkeys(under), *_uneven(found)]


def _uneven(found: Comparison) -> list[Finding]:
    """Tell totals that differ so much that frequencies compare the amount of work, not the trouble in it."""
    before, after = found.before.total, found.after.total
    if found.exposures is not None or max(before, after) <= _UNEVEN * min(before, after):
        return []
    return [
        note(
            "uneven-totals",
            message="the two totals differ by half or more: a change in frequency may be a change in the work done",
            fix="compare percents, or give what each side was counted in (per=, --per) and compare rates",
            where=found.before.origin.by or "labels",
        )
    ]
