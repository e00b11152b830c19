"""Charting: what is wanted of a chart, before any position is computed.

In come series (`series`), references and the options of each kind of chart (`options`); `chart.Chart` holds them
together, with scales, titles and labels as texts, and `panels.PanelChart` sets several side by side. `wording` holds
the fixed words. `barplaces` says which bars share a place, which scales and labels need to know too. Start with
`chart`.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from vantric.base.lazy_names import on_first_use

if TYPE_CHECKING:
    from vantric.core.charts.chart import Chart, CutMark, PanelChart
    from vantric.core.charts.references import Reference
    from vantric.core.charts.series import KINDS, Area, Bars, Line, Points, Series, Stems, Steps
    from vantric.core.charts.settings import (
        ChartSettings,
        CombinationChartSettings,
        ParetoChartSettings,
        TableChartSettings,
        TallyChartSettings,
    )
    from vantric.core.charts.wording import WORDS, Wording

__all__ = [
    "KINDS",
    "WORDS",
    "Area",
    "Bars",
    "Chart",
    "ChartSettings",
    "CombinationChartSettings",
    "CutMark",
    "Line",
    "PanelChart",
    "ParetoChartSettings",
    "Points",
    "Reference",
    "Series",
    "Stems",
    "Steps",
    "TableChartSettings",
    "TallyChartSettings",
    "Wording",
]
__getattr__ = on_first_use(
    __name__,
    {
        "Area": "series",
        "Bars": "series",
        "Chart": "chart",
        "CombinationChartSettings": "settings",
        "CutMark": "chart",
        "KINDS": "series",
        "Line": "series",
        "ChartSettings": "settings",
        "PanelChart": "chart",
        "ParetoChartSettings": "settings",
        "Points": "series",
        "Reference": "references",
        "Series": "series",
        "Stems": "series",
        "Steps": "series",
        "TableChartSettings": "settings",
        "TallyChartSettings": "settings",
        "WORDS": "wording",
        "Wording": "wording",
    },
)
