"""A chart in a notebook: the semantic SVG, which shows its values where scripts run, and stays where they do not."""

from __future__ import annotations

from vantric.core.charts import Chart, PanelChart
from vantric.output.pages import shipped
from vantric.rendering.pictures import planned
from vantric.rendering.svg import Embedded, svg_text
from vantric.rendering.themes import theme_named

_STYLE = (
    ".vantric-cell{position:relative;max-width:1280px}.vantric-cell figure{margin:0}"
    ".vantric-cell .chart{display:block;width:100%;height:auto}.vantric-cell .target{outline:none}"
    ".vantric-cell .target:focus-visible{stroke:currentColor;stroke-width:2}"
    ".vantric-cell .pointed [data-category]:not(.on):not(.target){opacity:.35}"
    ".vantric-cell .tip{position:absolute;z-index:2;max-width:24rem;padding:.4em .7em;background:#211a16;color:#f7f2ea;"
    "border-radius:4px;font:14px/1.4 system-ui,sans-serif;white-space:pre-line;pointer-events:none}"
    ".vantric-cell .tip::first-line{font-weight:700}.vantric-cell [hidden]{display:none}"
)
_START = (
    'for(const one of document.querySelectorAll(".vantric-cell:not([data-live])")){one.dataset.live="";pointing(one);}'
)


def cell_html(chart: Chart | PanelChart) -> str:
    """Return the picture of a chart as part of a page that others wrote: a notebook."""
    measure, plan = planned(chart)
    panels = chart.panels if isinstance(chart, PanelChart) else (chart,)
    labels = [label for one in panels for label in one.categories]
    keys = {label: at for at, label in enumerate(dict.fromkeys(labels), 1)}
    part = Embedded("vantric", keys, title=chart.title)
    svg = svg_text(chart, plan, theme_named(chart.theme), measure, chart.font, embedded=part)
    script = f"(() => {{{shipped('pointing.js')}\n{_START}}})();"
    return f'<div class="vantric-cell"><style>{_STYLE}</style><figure>{svg}</figure><script>{script}</script></div>'
