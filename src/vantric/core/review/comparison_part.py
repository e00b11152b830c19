"""Findings over a comparison."""

from __future__ import annotations

from datetime import date
from typing import TYPE_CHECKING

from vantric.core.numbers.number_format import counted
from vantric.core.review.finding import Finding, note, warning
from vantric.core.review.tally import review_tally

if TYPE_CHECKING:
    from vantric.core.counts.comparison import Comparison

_UNEVEN = 1.5
_FEWEST_DAYS = 7


def review_comparison(found: Comparison) -> list[Finding]:
    """Return what is risky in a comparison and in the tallies under it."""
    under = [finding for table in (found.before, found.after) for finding in review_tally(table.tally)]
    unlike = _unlike_periods(found)
    return [*dict.fromkeys(under), *unlike, *([] if unlike else _uneven(found))]


def _unlike_periods(found: Comparison) -> list[Finding]:
    """Tell sides whose dates span unlike times: a quarter has three times the records of a month."""
    if found.exposures is not None:
        return []
    before, after = (_days(table.tally.origin.days) for table in (found.before, found.after))
    if before is None or after is None:
        return []
    if max(before, after) <= _UNEVEN * min(before, after) or max(before, after) < _FEWEST_DAYS:
        return []
    return [
        warning(
            "unlike-periods",
            message=f"the two sides are of unlike periods: {found.before_name} spans {counted(before, 'day')}, "
            f"{found.after_name} {counted(after, 'day')}; frequencies compare the time as well",
            fix="compare periods of one length, percents, or rates (per=, --per)",
            where=found.before.origin.by or "labels",
        )
    ]


def _days(days: tuple[str, str] | None) -> int | None:
    if days is None:
        return None
    first, last = (date.fromisoformat(day[:10]) for day in days)
    return (last - first).days + 1


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
