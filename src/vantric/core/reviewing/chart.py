"""Findings over a chart of series."""

from __future__ import annotations

from typing import TYPE_CHECKING

from vantric.core.reviewing.finding import Finding
from vantric.core.reviewing.scales import review_scales

if TYPE_CHECKING:
    from vantric.core.charting import Chart

_FROM_ZERO = ("bars", "area", "stems")


def review_chart(chart: Chart) -> list[Finding]:
    """Return what is risky in a chart, and what was decided for the user."""
    found = review_scales(chart.scales)
    for side in ("primary", "secondary"):
        scale = chart.scales.primary if side == "primary" else chart.scales.secondary
        standing = [one for one in chart.series if one.kind in _FROM_ZERO and one.secondary == (side == "secondary")]
        if standing and scale.kind == "linear" and not scale.lower <= 0 <= scale.upper:
            found.append(
                Finding(
                    code="bars-without-zero",
                    severity="warning",
                    message=f"the {side} axis runs from {scale.lower:g}, and {standing[0].kind} stand on it: their "
                    "lengths do not compare",
                    mend="include zero, or draw a line or points",
                    where=f"{side} axis",
                )
            )
    found += [
        Finding(code=remark.code, severity="note", message=remark.message, mend="", where="chart")
        for remark in chart.remarks
    ]
    return found
