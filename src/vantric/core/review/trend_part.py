"""Findings over trends."""

from __future__ import annotations

from typing import TYPE_CHECKING

from vantric.core.review.finding import Finding
from vantric.core.review.tally import review_tally

if TYPE_CHECKING:
    from vantric.core.statistics import Trend


def review_trends(found: Trend) -> list[Finding]:
    """Return what is risky in trends: what is of the tally under them, partial periods among it."""
    return review_tally(found.tally)
