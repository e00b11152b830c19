"""Areas of a workbook's chart that another one hides."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import combinations

from vantric.audit.drawn_charts import DrawnChart, DrawnSeries
from vantric.core.numbers.number_format import quoted
from vantric.core.review.finding import Finding, warning


def hidden_areas(chart: DrawnChart) -> list[Finding]:
    """Tell areas that a later one, which is drawn in front, covers wherever both are drawn."""
    areas = [series for series in chart.series if series.kind == "area" and not series.stacked]
    hidden = list(dict.fromkeys(behind.name for behind, front in combinations(areas, 2) if _covers(front, behind)))
    if not hidden:
        return []
    return [
        warning(
            "hidden-area",
            message=f"{chart.place}: {quoted(hidden)} {'is' if len(hidden) == 1 else 'are'} hidden behind another area",
            fix="draw the smaller area in front (name it last), or draw lines",
            where=chart.place,
        )
    ]


def _covers(front: DrawnSeries, behind: DrawnSeries) -> bool:
    if front.see_through or front.secondary != behind.secondary:
        return False  # on axes of their own heights are not those of the numbers
    both = _both(front.values, behind.values)
    return any(low > 0 for _, low in both) and all(high >= low >= 0 for high, low in both)


def _both(front: Sequence[float | None], behind: Sequence[float | None]) -> list[tuple[float, float]]:
    pairs = zip(front, behind, strict=False)
    return [(high, low) for high, low in pairs if high is not None and low is not None]
