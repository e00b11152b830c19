"""Charts: what is wanted of a chart, before any position is computed.

In come series (`series`), references and dates (`references`) and the settings of each kind of chart (`settings`);
`chart.Chart` holds them together with scales, titles and labels as texts, and `bar_places` says which bars share a
place, which scales and labels need to know too. Start with `chart`.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from vantric.base.lazily import on_first_use

if TYPE_CHECKING:
    from vantric.core.charts.chart import Chart, CutMark, PanelChart
    from vantric.core.charts.references import Reference
    from vantric.core.charts.settings import (
        ChartSettings,
        CombinationChartSettings,
        ComparisonChartSettings,
        ParetoChartSettings,
        TableChartSettings,
        TallyChartSettings,
    )

__getattr__ = on_first_use(
    __name__,
    {
        "chart": "Chart CutMark PanelChart",
        "references": "Reference",
        "settings": "ChartSettings CombinationChartSettings ComparisonChartSettings ParetoChartSettings "
        "TableChartSettings TallyChartSettings",
    },
)
