"""Findings over a two-way table: labels missing more in some strata, leads that turn round."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from vantric.core.numbers.number_format import listed, percent_text, quoted
from vantric.core.review.finding import Finding, warning
from vantric.core.statistics.phrases import p_words
from vantric.core.statistics.sample import sample_of
from vantric.core.statistics.significance_tests import chi_square
from vantric.core.statistics.strata import strata_of
from vantric.errors import RankError

if TYPE_CHECKING:
    from vantric.core.counts.crosstab import Crosstab

_ALPHA = 0.01  # of missing shares: looked at in every table
_POINTS = 5.0  # percent points, below which a difference changes no share much
_MOST = 3
_MOST_STRATA = 400


def review_strata(table: Crosstab) -> list[Finding]:
    """Return what is risky in comparing the strata of a two-way table."""
    return [*_missing(table), *_turned(table)]


def _missing(table: Crosstab) -> list[Finding]:
    """Tell labels that are missing in some strata more than in others: their mixes do not compare."""
    if not table.column_missing or not 2 <= len(table.columns) <= _MOST_STRATA:
        return []
    lacking = np.array([float(one.frequency) for one in table.column_missing])
    there = table.column_totals.floats()
    both = lacking + there
    held = both > 0
    if lacking.sum() == 0 or held.sum() < 2:
        return []
    shares = 100 * lacking[held] / both[held]
    names = [name for name, has in zip(table.columns, held, strict=True) if has]
    if np.ptp(shares) < _POINTS:
        return []
    try:
        sample = sample_of(table.tally())
    except RankError:
        return []
    counts = np.stack([lacking[held], there[held]]) * (sample.effective / sample.total)
    p = chi_square(counts, np.random.default_rng(1))[1]
    if p > _ALPHA:
        return []
    less, more = (
        f"{percent_text(float(shares[at]), decimals=0)} of {quoted(names[at : at + 1])}"
        for at in (int(shares.argmin()), int(shares.argmax()))
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
    """Tell a category that leads overall and not in a stratum, beyond chance."""
    if len(table.columns) > _MOST_STRATA:
        return []
    try:
        strata = strata_of(table)
    except RankError:
        return []
    if strata is None or not strata.reversals:
        return []
    told = [f"{quoted([one.first_there])} in {quoted([one.stratum])}" for one in strata.reversals]
    return [
        warning(
            "stratum-reversal",
            message=f"{quoted([strata.reversals[0].first])} leads overall, but beyond chance "
            f"{listed(told, most=_MOST)}",
            fix="name the vital few of each part (--where, or --panels), not of the whole alone",
            where=table.split,
        )
    ]
