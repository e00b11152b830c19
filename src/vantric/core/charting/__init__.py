"""Charting: what is wanted of a chart, before any position is computed.

In come series (`series`), references and the options of each kind of chart (`options`); `chart.Chart` holds them
together, with scales, titles and labels as texts, and `panels.PanelChart` sets several side by side. `wording` holds
the fixed words. `barplaces` says which bars share a place, which scales and labels need to know too. Start with
`chart`.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from vantric.loading import on_first_use

if TYPE_CHECKING:
    from vantric.core.charting.chart import Chart, CutMark, PanelChart
    from vantric.core.charting.options import CombinationLook, Look, ParetoLook, TableLook, TallyLook
    from vantric.core.charting.references import Reference
    from vantric.core.charting.series import KINDS, Area, Bars, Line, Points, Series, Stems, Steps
    from vantric.core.charting.wording import WORDS, Wording

__all__ = [
    "KINDS",
    "WORDS",
    "Area",
    "Bars",
    "Chart",
    "CombinationLook",
    "CutMark",
    "Line",
    "Look",
    "PanelChart",
    "ParetoLook",
    "Points",
    "Reference",
    "Series",
    "Stems",
    "Steps",
    "TableLook",
    "TallyLook",
    "Wording",
]
__getattr__ = on_first_use(
    __name__,
    {
        "Area": "series",
        "Bars": "series",
        "Chart": "chart",
        "CombinationLook": "options",
        "CutMark": "chart",
        "KINDS": "series",
        "Line": "series",
        "Look": "options",
        "PanelChart": "chart",
        "ParetoLook": "options",
        "Points": "series",
        "Reference": "references",
        "Series": "series",
        "Stems": "series",
        "Steps": "series",
        "TableLook": "options",
        "TallyLook": "options",
        "WORDS": "wording",
        "Wording": "wording",
    },
)
