"""Charts themselves: composed of series, planned, drawn, written, shown in notebooks."""

from __future__ import annotations

from functools import cache
from pathlib import Path
from typing import Any

from vantric.base.safe_files import CHART_FILES, HANDED, PICTURES, check_target, write_whole
from vantric.base.safe_text import Plain
from vantric.core import charts, layout
from vantric.core.charts import Chart, PanelChart
from vantric.core.charts.settings import AxisPeriod, CombinationLook
from vantric.core.layout.text_layout import table_measure
from vantric.core.review import Finding, review_chart
from vantric.errors import TargetError
from vantric.kinds.frames import frame_of
from vantric.kinds.kind import Kind
from vantric.kinds.recipe import Recipe
from vantric.kinds.saving_part import ending, save_content
from vantric.kinds.series_part import chart_of_series, chart_section
from vantric.options import split_options
from vantric.options.signatures import shows
from vantric.output.sections import Section
from vantric.output.writers import Content


def compose(categories: list[Any], series: list[Any], options: Any) -> tuple[Chart, Recipe]:
    """Return the chart of series under options, and how it can be made again."""
    look, axis = split_options(options, CombinationLook, AxisPeriod)
    chart = chart_of_series(categories, series, look, axis.period)
    return chart, Recipe("series", parts={"given": _given(categories, series, axis.period), "chart": look})


def plan(chart: Any, size: tuple[float, float] | None, measure: Any) -> Any:
    """Return the chart with every position resolved."""
    make: Any = layout.make_panel_plan if isinstance(chart, PanelChart) else layout.make_plan
    return make(chart, size, measure or table_measure)


def review(chart: Chart | PanelChart) -> list[Finding]:
    """Return what is wrong or risky in a chart, or in any of its panels."""
    if isinstance(chart, PanelChart):
        return list(dict.fromkeys(finding for panel in chart.panels for finding in review_chart(panel)))
    return review_chart(chart)


def section(chart: Any, look: Any, findings: Any, **_: Any) -> Section:
    """Return the chart with its table and what the review says of it."""
    return chart_section(chart, chart.review())


def save(chart: Any, target: Path, *, slide_tables: bool) -> Path:
    """Write a chart by the path's ending."""
    kind = ending(target, (*PICTURES, *HANDED, *CHART_FILES))
    check_target(target)
    if kind in HANDED:
        content = Content(sections=cache(lambda: (chart._section(),)), slide_tables=slide_tables)
        return save_content(target, lambda: content, _sources(chart), HANDED)
    if kind in PICTURES:
        from vantric.rendering.pictures import picture

        write_whole(target, picture(chart, kind))
        return target
    if chart._recipe is None:
        raise TargetError(f"cannot write the chart file '{target}': the chart was not made by a function of Vantric")
    write_whole(target, chart._recipe.file(target))
    return target


def _sources(chart: Any) -> list[str]:
    """Return the files it was made of, which saving must not replace."""
    source = chart._recipe.source if chart._recipe else None
    return [str(one) for one in (source if isinstance(source, tuple) else (source,)) if isinstance(one, str | Path)]


def draw(chart: Any, ax: Any) -> Any:
    """Draw a chart with Matplotlib."""
    from vantric.rendering.render_warnings import check_settings

    check_settings()
    from vantric.rendering.matplotlib_figure import draw_figure

    return draw_figure(chart, ax=ax)


def notebook(chart: Any) -> Plain:
    """Return what a notebook shows of a chart."""
    from vantric.kinds.cell_part import cell_html
    from vantric.rendering.pictures import picture

    return {
        "text/html": cell_html(chart),
        "image/png": picture(chart, "png"),
        "text/plain": chart.description or repr(chart),
    }


def frame(chart: Chart) -> Any:
    """Return a row a category, a column a series as a frame."""
    rows = list(zip(chart.categories, *(one.values for one in chart.series), strict=True))
    names = [one.name for one in chart.series]
    return frame_of(["category", *names], rows, like=chart._recipe and chart._recipe.library, floats=names)


def _given(categories: list[Any], series: list[charts.Series], period: str | None) -> Plain:
    """Return the categories and series as a chart file holds them."""
    from datetime import date

    from vantric.core.composition.categories import read_categories
    from vantric.options import plain_value

    plain = [plain_value(value) for value in categories]
    if period is None and all(isinstance(one, date) for one in plain):
        period = read_categories(plain).period
    entries = [
        {
            "kind": one.kind,
            "name": one.name,
            "values": ["" if value != value else value for value in one.values],
            **one.changed(),
        }
        for one in series
    ]
    return {"categories": plain, **({"period": period} if period else {}), "series": entries}


shows(CombinationLook, AxisPeriod)(Chart)

KIND = Kind(
    name="chart",
    review=review,
    section=section,
    verbs={"compose": compose, "plan": plan, "save": save, "draw": draw, "notebook": notebook, "frame": frame},
)
