"""Composition: results become charts.

In come a tally, a two-way table, a Pareto table, a comparison, trends, or series of values, with the settings of a
chart; out goes a `Chart`: series with their axis, scales, titles, labels and notes, but no position yet. One file for
each kind of result, and `panels` for several charts in one; `combination` makes the chart of plain series: start with
it. `value_scales` decides which series is on which axis and how the two agree, `categories` the category axis,
`series_labels` the texts at marks, `headlines` the message of the title.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from vantric.base.lazily import on_first_use

if TYPE_CHECKING:
    from vantric.core.composition.combination import combination_chart, scales_chart
    from vantric.core.composition.comparison import comparison_chart, dumbbell_chart, with_rows
    from vantric.core.composition.gap import gap_series, with_gap_rows
    from vantric.core.composition.headlines import gap_headline, table_headline
    from vantric.core.composition.panels import drill_panels, strata_panels
    from vantric.core.composition.pareto import BarIntervals, chart_note, chart_title, pareto_chart, with_sum_row
    from vantric.core.composition.tally import crosstab_chart, tally_chart
    from vantric.core.composition.trend import trend_panels

__getattr__ = on_first_use(
    __name__,
    {
        "combination": "combination_chart scales_chart",
        "comparison": "comparison_chart dumbbell_chart with_rows",
        "gap": "gap_series with_gap_rows",
        "headlines": "gap_headline table_headline",
        "panels": "drill_panels strata_panels",
        "pareto": "BarIntervals chart_note chart_title pareto_chart with_sum_row",
        "tally": "crosstab_chart tally_chart",
        "trend": "trend_panels",
    },
)
