"""Findings over a chart of series."""

from __future__ import annotations

from typing import TYPE_CHECKING

from vantric.core.reviewing.axes import review_axes
from vantric.core.reviewing.drawnseries import review_marks
from vantric.core.reviewing.finding import Finding, remarked
from vantric.core.reviewing.scales import review_scales
from vantric.core.reviewing.units import marks_on_wrong_axis, several_units

if TYPE_CHECKING:
    from vantric.core.charting import Chart


def review_chart(chart: Chart) -> list[Finding]:
    """Return what is risky in a chart, and what was decided for the user."""
    said = [remarked(remark, "chart") for remark in chart.remarks]
    clipped = review_scales(chart.scales)[: None if chart.secondary_axis else 1]
    units = [*several_units(chart), *marks_on_wrong_axis(chart)]
    return [*clipped, *review_axes(chart), *units, *review_marks(chart), *said]
