"""Findings over trends."""

from __future__ import annotations

from typing import TYPE_CHECKING

from vantric.core.reviewing.finding import Finding
from vantric.core.reviewing.tally import review_tally

if TYPE_CHECKING:
    from vantric.core.inference import Trend


def review_trends(found: Trend) -> list[Finding]:
    """Return what is risky in trends: what is of the tally under them, partial periods among it."""
    return review_tally(found.tally)
