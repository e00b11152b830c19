"""Two empty axes, to look at their alignment."""

from __future__ import annotations

from vantric.core.axes import ScalePair
from vantric.core.charts.chart import Chart


def scales_chart(pair: ScalePair, *, description: str = "") -> Chart:
    """Return the chart of a pair of scales without anything between them."""
    covered = " and ".join(f"{100 * share:.0f} %" for share in pair.coverage)
    return Chart(
        categories=("",),
        series=(),
        scales=pair,
        title=f"Two axes, policy {pair.policy}",
        subtitle=f"The data of the primary and the secondary side cover {covered} of the height",
        primary_title="Primary",
        secondary_title="Secondary",
        legend="none",
        category_labels=False,
        description=description,
    )
