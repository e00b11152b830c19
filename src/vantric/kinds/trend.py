"""Trends: categories over calendar periods."""

from __future__ import annotations

from functools import cache
from typing import Any

from vantric.core import composition
from vantric.core.charts.settings import TrendChartSettings
from vantric.core.review import review_trends
from vantric.core.statistics import Trend
from vantric.counting.trends import trends_in
from vantric.kinds.appearance import with_drawable_look
from vantric.kinds.kind import Kind, Parts
from vantric.kinds.recipe import notes_of
from vantric.options.signatures import shows
from vantric.output.sections import ChartView, Section
from vantric.reading.settings import CountSettings, ReadSettings, TrendSettings
from vantric.tables.statements import trend_object, trend_table, trend_view


def make(data: Any, opening: ReadSettings, parts: Parts) -> Trend:
    """Return the trends of a source."""
    return trends_in(data, parts["trend"], parts["counting"], opening)


def chart(trend: Trend, look: TrendChartSettings) -> Any:
    """Return its small lines."""
    return composition.trend_panels(trend, with_drawable_look(look), description=trend.sentence())


def section(trend: Trend, look: TrendChartSettings, findings: Any, *, chart: Any = None) -> Section:
    """Return what is handed over of it."""
    drawn = cache(lambda: KIND.chart(trend, look) if chart is None else chart)
    return Section(
        kind="trend",
        title=drawn().title,
        sentence=trend.sentence(),
        base=trend.tally.base(),
        views=lambda: (ChartView("values", drawn()),),
        grids=cache(lambda: (trend_table(trend),)),
        findings=tuple(findings),
        notes=notes_of(trend.tally, [trend.tally.origin.note()]),
    ).in_language(look.formatter.bare())


shows(TrendChartSettings)(Trend.chart)

KIND = Kind(
    name="trend",
    options={"counting": CountSettings, "trend": TrendSettings, "chart": TrendChartSettings},
    make=make,
    origin=lambda result: result.tally.origin,
    review=review_trends,
    tables=lambda trend, *_: (trend_table(trend),),
    data=lambda trend, look, findings: trend_object(trend, findings),
    view=lambda trend, look, *, width, **_: trend_view(trend, width=width, local=look.formatter.bare()),
    chart=chart,
    section=section,
)
