"""A chart becomes the bytes of a picture, with its text alternative inside."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, TypeAlias

from vantric.base.safe_files import PICTURES
from vantric.base.safe_text import json_text
from vantric.core import layout
from vantric.core.charts import Chart, PanelChart
from vantric.core.layout.text_layout import TextMeasure, table_measure
from vantric.errors import ChartError, TargetError, unknown
from vantric.rendering.drawing_guards import Telling, check_settings, warn
from vantric.rendering.themes import theme_named
from vantric.rendering.web_font import picture_faces

if TYPE_CHECKING:
    from vantric.core.layout import PanelPlan, Plan
    from vantric.core.layout.plan import TextMark

Drawn: TypeAlias = Chart | PanelChart


def picture(chart: Drawn, kind: str, *, tell: Telling = warn, scale: float = 1.0) -> bytes:
    """Return a chart as a picture of its size.

    Parameters
    ----------
    chart
        What is wanted.
    kind
        ``"png"``, ``"svg"``, ``"pdf"`` or ``"vl.json"``. The same chart gives the same bytes.
    tell
        What hears of signs that no installed font has; they become placeholders. The text of an SVG is shown with the
        fonts of whoever looks at it.
    scale
        Pixels of a PNG for each pixel of the chart's size.

    Raises
    ------
    TargetError
        If the kind is another one.
    """
    return picture_and_plan(chart, kind, tell=tell, scale=scale)[0]


def picture_and_plan(
    chart: Drawn, kind: str, *, tell: Telling = warn, scale: float = 1.0
) -> tuple[bytes, Plan | PanelPlan]:
    """Return a chart as a picture, and the plan that was drawn: it knows what was left out."""
    if kind not in PICTURES:
        raise unknown(TargetError, f"'.{kind}' is not a kind of picture", kind, PICTURES, every=True)
    if kind == "svg":
        from vantric.rendering.svg import svg_text

        measure, plan = planned(chart)
        faces = "" if chart.font else picture_faces((mark.text, mark.bold) for mark in texts_of(plan))
        return svg_text(chart, plan, theme_named(chart.theme), measure, chart.font, faces=faces).encode(), plan
    if kind == "vl.json":
        _, plan = planned(chart)
        return json_text(grammar(chart, plan)).encode(), plan
    check_settings()
    from vantric.rendering.matplotlib_figure import draw_bytes

    return draw_bytes(chart, kind, tell, scale)


def grammar(chart: Drawn, plan: Plan | PanelPlan) -> dict[str, Any]:
    """Return a chart in the open grammar Vega-Lite; raise `ChartError` for several charts in one picture."""
    from vantric.rendering.open_grammar import grammar_of

    if isinstance(chart, PanelChart) or not isinstance(plan, layout.Plan):
        raise ChartError(
            "several charts in one picture are not written as .vl.json; take .svg, or one (chart.panels in Python)"
        )
    return grammar_of(chart, plan)


def texts_of(plan: Plan | PanelPlan) -> list[TextMark]:
    """Return every line of text of a picture."""
    inner = [] if isinstance(plan, layout.Plan) else [mark for _, item in plan.panels for mark in item.texts]
    return [*plan.texts, *inner]


def planned(chart: Drawn) -> tuple[TextMeasure, Plan | PanelPlan]:
    """Return the plan of a chart, measured without Matplotlib where the user names no font; and its measure."""
    measure: TextMeasure = table_measure
    if chart.font:
        check_settings()
        from vantric.rendering.fonts import families_for, linear_measure

        measure = linear_measure(families_for((), chart.font))
    if isinstance(chart, PanelChart):
        return measure, layout.make_panel_plan(chart, chart.size, measure)
    return measure, layout.make_plan(chart, chart.size, measure)
