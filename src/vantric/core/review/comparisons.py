"""Findings over two-way tables, comparisons and trends: sides or strata that cannot be compared as they are."""

from __future__ import annotations

from datetime import date
from typing import TYPE_CHECKING

import numpy as np

from vantric.core.messages.message import Remark, Written, p_words
from vantric.core.numbers.number_format import counted, listed, percent_text, quoted
from vantric.core.review.finding import Finding, note, warning
from vantric.core.review.tally import review_tally
from vantric.core.statistics.sample import sample_of
from vantric.core.statistics.significance_tests import chi_square
from vantric.core.statistics.strata import strata_of
from vantric.errors import RankError

if TYPE_CHECKING:
    from vantric.core.counts.comparison import Comparison
    from vantric.core.counts.crosstab import Crosstab
    from vantric.core.statistics import Trend

#: Sides over periods whose lengths differ more cannot be compared by counts.
_UNEVEN = 1.5
#: Shorter periods differ by weekdays alone.
_FEWEST_DAYS = 7


def review_comparison(comparison: Comparison) -> list[Finding]:
    """Return what is risky in a comparison and in the tallies under it."""
    under = [finding for table in (comparison.before, comparison.after) for finding in review_tally(table.tally)]
    unlike = _unlike_periods(comparison)
    return [*dict.fromkeys(under), *unlike, *([] if unlike else _uneven(comparison))]


def _unlike_periods(comparison: Comparison) -> list[Finding]:
    """Tell sides whose dates span unlike times: a quarter has three times the records of a month."""
    if comparison.exposures is not None:
        return []
    before, after = (_days(table.tally.origin.days) for table in (comparison.before, comparison.after))
    if before is None or after is None:
        return []
    if max(before, after) <= _UNEVEN * min(before, after) or max(before, after) < _FEWEST_DAYS:
        return []
    return [
        warning(
            "unlike-periods",
            message=Remark(
                "the two sides are of unlike periods: {} spans {}, {} {}; frequencies compare the time as well",
                comparison.before_name,
                Written(counted(before, "day")),
                comparison.after_name,
                Written(counted(after, "day")),
            ),
            fix="compare periods of one length, percents, or rates (per=)",
            where=comparison.before.origin.by or "labels",
        )
    ]


def _days(days: tuple[str, str] | None) -> int | None:
    if days is None:
        return None
    first, last = (date.fromisoformat(day[:10]) for day in days)
    return (last - first).days + 1


def _uneven(comparison: Comparison) -> list[Finding]:
    """Tell totals that differ so much that frequencies compare the amount of work, not the trouble in it."""
    before, after = comparison.before.total, comparison.after.total
    if comparison.exposures is not None or max(before, after) <= _UNEVEN * min(before, after):
        return []
    return [
        note(
            "uneven-totals",
            message="the two totals differ by half or more: a change in frequency may be a change in the work done",
            fix="compare percents, or add an exposure column (per=) and compare rates",
            where=comparison.before.origin.by or "labels",
        )
    ]


def review_trends(trend: Trend) -> list[Finding]:
    """Return what is risky in trends: what is of the tally under them, partial periods among it."""
    return review_tally(trend.tally)


_ALPHA = 0.01  # of missing shares: looked at in every table
_POINTS = 5.0  # percentage points, below which a difference changes no share much
_MOST = 3
#: Beyond so many strata the tests of all pairs say nothing.
_MOST_STRATA = 400


def review_strata(table: Crosstab) -> list[Finding]:
    """Return what is risky in comparing the strata of a two-way table."""
    return [*_missing(table), *_turned(table)]


def _missing(table: Crosstab) -> list[Finding]:
    """Tell labels that are missing in some strata more than in others: their mixes do not compare."""
    if not table.column_missing or not 2 <= len(table.columns) <= _MOST_STRATA:
        return []
    lacking = np.array([float(missing.frequency) for missing in table.column_missing])
    there = table.column_totals.floats()
    both = lacking + there
    filled = both > 0
    if lacking.sum() == 0 or filled.sum() < 2:
        return []
    shares = 100 * lacking[filled] / both[filled]
    names = [name for name, has in zip(table.columns, filled, strict=True) if has]
    if np.ptp(shares) < _POINTS:
        return []
    try:
        sample = sample_of(table.tally())
    except RankError:  # too small or too wide for a test: nothing is said
        return []
    counts = np.stack([lacking[filled], there[filled]]) * (sample.effective / sample.total)
    p = chi_square(counts, np.random.default_rng(1))[1]
    if p > _ALPHA:
        return []
    less, more = (
        Remark("{} of {}", Written(percent_text(float(shares[index]), decimals=0)), quoted(names[index : index + 1]))
        for index in (int(shares.argmin()), int(shares.argmax()))
    )
    return [
        warning(
            "missing-by-stratum",
            message=f"labels are missing in {more} and in {less} ({p_words(p)}): the parts do not compare",
            fix="find out what the missing ones are, or count them (missing=category) before you compare the parts",
            where=table.split,
        )
    ]


def _turned(table: Crosstab) -> list[Finding]:
    """Tell a category that leads overall and not in a stratum, significantly."""
    if len(table.columns) > _MOST_STRATA:
        return []
    try:
        strata = strata_of(table)
    except RankError:  # too small or too wide for a test: nothing is said
        return []
    if strata is None or not strata.reversals:
        return []
    texts = [f"{quoted([reversal.first_there])} in {quoted([reversal.stratum])}" for reversal in strata.reversals]
    return [
        warning(
            "stratum-reversal",
            message=f"{quoted([strata.reversals[0].first])} leads overall, but not in every part: "
            f"{listed(texts, most=_MOST)} (statistically significant)",
            fix="name the vital few of each part, not of the whole alone",
            where=table.split,
        )
    ]
