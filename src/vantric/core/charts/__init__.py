"""Charts: what is wanted of a chart, before any position is computed.

In come series (`series`), references and dates (`references`) and the settings of each kind of chart (`settings`);
`chart.Chart` holds them together with scales, titles and labels as texts. `wording` holds the fixed words, `languages`
reads those of other languages from ``words/``, and `bar_places` says which bars share a place, which scales and labels
need to know too. Start with `chart`.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from vantric.base.lazy_names import on_first_use

if TYPE_CHECKING:
    from vantric.core.charts.chart import Chart, CutMark, PanelChart
    from vantric.core.charts.references import Reference
    from vantric.core.charts.settings import (
        ChartSettings,
        CombinationChartSettings,
        ParetoChartSettings,
        TableChartSettings,
        TallyChartSettings,
    )
    from vantric.core.charts.wording import WORDS, Wording

__all__ = [
    "WORDS",
    "Chart",
    "ChartSettings",
    "CombinationChartSettings",
    "CutMark",
    "PanelChart",
    "ParetoChartSettings",
    "Reference",
    "TableChartSettings",
    "TallyChartSettings",
    "Wording",
]
__getattr__ = on_first_use(
    __name__,
    {
        "Chart": "chart",
        "CombinationChartSettings": "settings",
        "CutMark": "chart",
        "ChartSettings": "settings",
        "PanelChart": "chart",
        "ParetoChartSettings": "settings",
        "Reference": "references",
        "TableChartSettings": "settings",
        "TallyChartSettings": "settings",
        "WORDS": "wording",
        "Wording": "wording",
    },
)
