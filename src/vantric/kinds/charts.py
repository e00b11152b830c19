"""Charts themselves: composed, planned, drawn, written, shown in notebooks; charts of series given as numbers."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import replace
from functools import cache
from pathlib import Path
from typing import Any

from vantric.base.lazily import dataclass
from vantric.base.safe_files import CHART_FILES, HANDED, PICTURES, check_target, write_whole
from vantric.base.safe_text import Plain, json_text
from vantric.core import composition, layout
from vantric.core.charts import Chart, PanelChart
from vantric.core.charts.series import KINDS, Series
from vantric.core.charts.settings import AxisPeriod, CombinationChartSettings
from vantric.core.layout.text_layout import table_measure
from vantric.core.messages.message import Message
from vantric.core.review import Finding, review_chart
from vantric.errors import ChartError, OptionError, TargetError
from vantric.files.models import ChartFile, SeriesEntry
from vantric.kinds import kind_named
from vantric.kinds.appearance import with_drawable_look, with_hex_color, with_orientation
from vantric.kinds.frames import frame_of
from vantric.kinds.kind import Kind, Parts, save_content
from vantric.kinds.recipe import Recipe
from vantric.options import split_options
from vantric.options.signatures import shows
from vantric.output.pages import shipped
from vantric.output.sections import ChartView, Section
from vantric.output.writers import Content
from vantric.reading.settings import ReadSettings
from vantric.rendering.drawing_guards import DRAWING
from vantric.rendering.pictures import grammar, planned, texts_of
from vantric.rendering.svg import Embedded, svg_text
from vantric.rendering.themes import theme_named
from vantric.rendering.web_font import font_faces
from vantric.tables.combination import chart_sentence, series_table


@dataclass(frozen=True)
class GivenSeries:
    """Series, and the categories that they are of."""

    categories: tuple[Any, ...]
    series: tuple[Any, ...]
    period: str | None = None


def make(data: Any, opening: ReadSettings, parts: Parts) -> GivenSeries:
    """Return the series that the options hold."""
    part = parts["given"]
    series = [
        KINDS[item["kind"]](
            item["name"],
            [None if value == "" else value for value in item["values"]],
            **{name: value for name, value in item.items() if name not in ("kind", "name", "values")},
        )
        for item in part["series"]
    ]
    return GivenSeries(tuple(part["categories"]), tuple(series), part.get("period"))


def parts_of(kind: Kind, chart_file: ChartFile) -> Parts:
    """Return the categories and the series of a chart file, as it holds them."""
    period = chart_file.parts["given"].period
    parts = {
        "categories": chart_file.categories,
        **({"period": period} if period else {}),
        "series": list(map(_entry, chart_file.series)),
    }
    return {"given": parts}


def _entry(entry: SeriesEntry) -> dict[str, Any]:
    values = ["" if value is None else value for value in entry.values]
    return {"kind": entry.kind, "name": entry.what, "values": values, **entry.options}


def chart_of_series(
    categories: Iterable[Any], series: Iterable[Any], look: CombinationChartSettings, period: str | None = None
) -> Chart:
    """Return the chart of series that are given as numbers."""
    values = [with_hex_color(item) if isinstance(item, Series) else item for item in series]
    chart = composition.combination_chart(categories, values, with_drawable_look(look), period=period)
    return with_orientation(replace(chart, description=chart_sentence(chart)), look)


def chart_section(chart: Chart | PanelChart, findings: Any) -> Section:
    """Return a chart of series that were given as numbers as a section."""
    panels = chart.panels if isinstance(chart, PanelChart) else (chart,)
    titled = [replace(series_table(panel), title=panel.title if len(panels) > 1 else "") for panel in panels]
    return Section(
        kind="series",
        title=chart.title,
        sentence=chart.description,
        base=chart.subtitle,
        views=lambda: (ChartView("values", chart),),
        grids=lambda: tuple(titled),
        findings=tuple(findings),
        notes=((Message("note label"), chart.note),) if chart.note else (),
    ).in_language(panels[0].formatter)


SERIES = Kind(
    name="series",
    options={"given": AxisPeriod, "chart": CombinationChartSettings},
    make=make,
    origin=lambda result: None,
    sources=lambda result: [],
    drawn=True,
    parts_of=parts_of,
    chart=lambda result, look: chart_of_series(result.categories, result.series, look, result.period),
    section=lambda result, look, findings, *, chart=None: chart_section(chart, findings),
)


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
    labels = [label for panel in panels for label in panel.categories]
    keys = {label: index for index, label in enumerate(dict.fromkeys(labels), 1)}
    part = Embedded("vantric", keys, title=chart.title)
    svg = svg_text(chart, plan, theme_named(chart.theme), measure, chart.font, embedded=part)
    script = f"(() => {{{shipped('pointing.js')}\n{_START}}})();"
    return f'<div class="vantric-cell"><style>{_STYLE}</style><figure>{svg}</figure><script>{script}</script></div>'


def compose(categories: list[Any], series: list[Any], options: Any) -> tuple[Chart, Recipe]:
    """Return the chart of series under options, and how it can be made again."""
    look, axis = split_options(options, CombinationChartSettings, AxisPeriod)
    chart = chart_of_series(categories, series, look, axis.period)
    return chart, Recipe("series", parts={"given": _given(categories, series, axis.period), "chart": look})


def plan(chart: Any, size: tuple[float, float] | None, measure: Any) -> Any:
    """Return the chart with every position resolved."""
    make: Any = layout.make_panel_plan if isinstance(chart, PanelChart) else layout.make_plan
    return make(chart, size, measure or table_measure)


def review(chart: Chart | PanelChart) -> list[Finding]:
    """Return what is wrong or risky in a chart, or in any of its panels."""
    if isinstance(chart, PanelChart):
        findings = dict.fromkeys(finding for panel in chart.panels for finding in review_chart(panel))
        # What every panel measures stands once above them, in the subtitle.
        return [finding for finding in findings if not (chart.subtitle and finding.code == "untitled-axis")]
    return review_chart(chart)


def section(chart: Any, look: Any, findings: Any, **_: Any) -> Section:
    """Return the chart with its table and what the review says of it."""
    return chart_section(chart, chart.review())


def written(
    chart: Any, kind: str, *, slide_tables: bool = False, scale: float = 1.0, name: str = "chart", fonts: bool = False
) -> bytes:
    """Return a chart as a file of an ending holds it; an SVG as part of a page."""
    if kind == "svg":
        return page_svg(chart, name, fonts=fonts).encode()
    if kind in PICTURES:
        from vantric.rendering.pictures import picture

        return picture(chart, kind, scale=scale)
    if kind in HANDED:
        from vantric.output.writers import write_content

        return write_content(_content(chart, slide_tables=slide_tables), kind)
    source, recipe = chart._told, chart._recipe
    if kind == "json" and source is not None and (recipe is None or recipe.is_in_memory):
        return json_text(source.result.to_dict()).encode()
    return _chart_file(chart, Path(f"chart.{kind}"))


def _content(chart: Any, *, slide_tables: bool) -> Content:
    return Content(sections=cache(lambda: (chart._section(),)), slide_tables=slide_tables)


def _chart_file(chart: Any, target: Path) -> bytes:
    if chart._recipe is None:
        raise TargetError(f"cannot write the chart file '{target}': the chart was not made by a function of Vantric")
    content: bytes = chart._recipe.file(target)
    return content


def save(chart: Any, target: Path, kind: str, *, slide_tables: bool) -> Path:
    """Write a chart as a file of an ending."""
    check_target(target)
    if kind in HANDED:
        return save_content(target, lambda: _content(chart, slide_tables=slide_tables), _sources(chart), kind)
    if kind in PICTURES:
        from vantric.rendering.pictures import picture

        write_whole(target, picture(chart, kind))
        return target
    write_whole(target, _chart_file(chart, target))
    return target


def page_svg(chart: Chart | PanelChart, name: str, *, fonts: bool) -> str:
    """Return the picture of a chart as one element of a page, its ids beginning with a name."""
    if not re.fullmatch(r"[A-Za-z][\w-]*", name):
        raise OptionError(f"name is what ids begin with: a letter, then letters, digits, _ or -; not {name!r}")
    with DRAWING:
        measure, plan = planned(chart)
        faces = font_faces((mark.text, mark.bold) for mark in texts_of(plan)) if fonts else ""
        return svg_text(chart, plan, theme_named(chart.theme), measure, chart.font, name=name, faces=faces)


def _sources(chart: Any) -> list[str]:
    """Return the files it was made of, which saving must not replace."""
    source = chart._recipe.source if chart._recipe else None
    return [str(item) for item in (source if isinstance(source, tuple) else (source,)) if isinstance(item, str | Path)]


def with_options(chart: Any, options: dict[str, Any]) -> Any:
    """Return a chart that is made again with some options replaced."""
    source, recipe = chart._told, chart._recipe
    if source is not None:
        [look] = split_options({**source.look.changed(), **options}, type(source.look))
        kind = kind_named(source.kind)
        return kind.drawn_chart(source.result, look, recipe and recipe.with_parts(chart=look))
    if recipe is None or recipe.kind != "series":
        raise ChartError(
            "the chart was not made by a function of Vantric: replace its fields, with dataclasses.replace"
        )
    content = make(None, recipe.opening, recipe.parts)
    period = {"period": content.period} if content.period else {}
    changed = {**recipe.parts["chart"].changed(), **period, **options}
    again, recipe = compose(list(content.categories), list(content.series), changed)
    return again._made_by(recipe)


def draw(chart: Any, ax: Any, *, link: bool) -> Any:
    """Draw a chart into Matplotlib axes."""
    from vantric.rendering.drawing_guards import check_settings

    check_settings()
    from vantric.rendering.matplotlib_figure import draw_axes

    return draw_axes(chart, ax, link=link)


def figure(chart: Any) -> Any:
    """Return the whole picture as a Matplotlib figure."""
    from vantric.rendering.drawing_guards import check_settings

    check_settings()
    from vantric.rendering.matplotlib_figure import whole_figure

    return whole_figure(chart)


def notebook(chart: Any) -> tuple[Plain, Plain]:
    """Return what a notebook shows of a chart: a vector picture, or one of twice the pixels; and how large it is."""
    from vantric.rendering.pictures import picture

    bundle = {
        "text/html": cell_html(chart),
        "image/png": picture(chart, "png", scale=2.0),
        "text/plain": chart.description or repr(chart),
    }
    width, height = map(int, chart.size)
    return bundle, {"image/png": {"width": width, "height": height}}


def frame(chart: Chart) -> Any:
    """Return a row a category, a column a series as a frame."""
    rows = list(zip(chart.categories, *(series.values for series in chart.series), strict=True))
    names = [series.name for series in chart.series]
    return frame_of(["category", *names], rows, like=chart._recipe and chart._recipe.library, floats=names)


def _given(categories: list[Any], series: list[Series], period: str | None) -> Plain:
    """Return the categories and series as a chart file holds them."""
    from datetime import date

    from vantric.core.composition.categories import read_categories
    from vantric.options import plain_value

    plain = [plain_value(value) for value in categories]
    if period is None and all(isinstance(item, date) for item in plain):
        period = read_categories(plain).period
    entries = [
        {
            "kind": item.kind,
            "name": item.name,
            "values": ["" if value != value else value for value in item.values],
            **item.changed(),
        }
        for item in series
    ]
    return {"categories": plain, **({"period": period} if period else {}), "series": entries}


shows(CombinationChartSettings, AxisPeriod)(Chart)

KIND = Kind(
    name="chart",
    review=review,
    section=section,
    endings=tuple(dict.fromkeys((*PICTURES, *HANDED, *CHART_FILES))),
    verbs={
        "compose": compose,
        "plan": plan,
        "written": written,
        "save": save,
        "draw": draw,
        "figure": figure,
        "grammar": lambda chart: grammar(chart, planned(chart)[1]),
        "with": with_options,
        "notebook": notebook,
        "frame": frame,
    },
)
