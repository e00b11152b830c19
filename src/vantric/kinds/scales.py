"""Two value axes that are scaled together."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from vantric.core import composition
from vantric.core.axes import ScalePair, Scaling, align
from vantric.core.charts.settings import ChartSettings
from vantric.core.messages.formatter import Formatter
from vantric.core.messages.message import Joined, Message
from vantric.core.review import review_scales
from vantric.files.models import ChartFile
from vantric.kinds.kind import Kind, Parts
from vantric.kinds.recipe import Recipe
from vantric.options import known_options
from vantric.output.sections import ChartView, Section
from vantric.reading.settings import ReadSettings
from vantric.tables.combination import scales_lines, scales_object, scales_table, scales_words
from vantric.tables.table import Table


def make(data: Any, opening: ReadSettings, parts: Parts) -> ScalePair:
    """Return the scales of two ranges."""
    words = dict(parts["scales"])
    ranges = words.pop("primary"), words.pop("secondary")
    return align(*ranges, Scaling(**words))


def parts_of(kind: Kind, chart_file: ChartFile) -> Parts:
    """Return the ranges and how they are scaled."""
    ranges = chart_file.parts["scales"]
    scaling = Scaling(**{name: getattr(ranges, name) for name in known_options(Scaling)})
    return {"scales": {"primary": ranges.primary, "secondary": ranges.secondary, **scaling.changed()}}


def tables(pair: ScalePair, look: ChartSettings, local: Formatter) -> Sequence[Table]:
    """Return limits and ticks."""
    return (scales_table(pair),)


def data(pair: ScalePair, look: ChartSettings, findings: Any) -> dict[str, Any]:
    """Return its JSON object."""
    return scales_object(pair)


def view(pair: ScalePair, look: ChartSettings, **_: Any) -> list[str]:
    """Return it for a terminal."""
    return scales_lines(pair)


def chart(pair: ScalePair, look: ChartSettings) -> Any:
    """Return the chart of two empty axes."""
    chart = composition.scales_chart(pair, description=Joined(scales_words(pair)))
    named = ("title", "subtitle", "category_title", "primary_title", "secondary_title")
    titles = {name: text for name in named if (text := getattr(look, name)) is not None}
    return replace(chart, **{**look.frame_settings(two=True), "legend": "none", **titles})


def section(pair: ScalePair, look: ChartSettings, findings: Any, *, chart: Any = None) -> Section:
    """Return what is handed over of it."""
    table = scales_table(pair)
    drawn = KIND.chart(pair, look) if chart is None else chart
    return Section(
        kind="scales",
        title=Message("scales", policy=pair.policy),
        sentence=Joined(table.notes),
        base=table.caption,
        views=lambda: (ChartView("values", drawn),),
        grids=lambda: (table,),
        findings=tuple(findings),
    )


def _public_chart(pair: ScalePair) -> Any:
    return KIND.drawn_chart(pair, ChartSettings(), pair._recipe)


KIND = Kind(
    name="scales",
    options={"scales": dict, "chart": ChartSettings},
    make=make,
    origin=lambda pair: None,
    sources=lambda pair: [],
    review=review_scales,
    sentence=lambda pair: Joined(scales_words(pair)),
    tables=tables,
    data=data,
    view=view,
    chart=chart,
    section=section,
    parts_of=parts_of,
    recipe_parts=lambda pair, parts: {"scales": parts["scales"]},
    verbs={"chart": _public_chart},
)


def scaled(primary: tuple[float, float], secondary: tuple[float, float], scaling: Scaling) -> ScalePair:
    """Return two scales, with how they can be made again."""
    parts = {"scales": {"primary": primary, "secondary": secondary, **scaling.changed()}}
    return make(None, ReadSettings(), parts)._made_by(Recipe("scales", parts=parts))
