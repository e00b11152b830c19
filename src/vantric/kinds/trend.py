"""Trends: categories over calendar periods."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache
from typing import Any

from vantric.core import composition
from vantric.core.charts.settings import TrendChartSettings
from vantric.core.review import review_trends
from vantric.core.statistics import Trend
from vantric.counting.trends import trends_in
from vantric.kinds.appearance import with_drawable_look
from vantric.kinds.kind import Kind, Parts, local_of
from vantric.kinds.recipe import base_of, notes_of, upper_first
from vantric.options.signatures import shows
from vantric.output.sections import ChartView, Section
from vantric.reading.settings import CountSettings, ReadSettings, TrendSettings
from vantric.tables.localize import Localizer
from vantric.tables.statements import trend_object, trend_table, trend_view
from vantric.tables.table import Table


def make(data: Any, opening: ReadSettings, parts: Parts) -> Trend:
    """Return the trends of a source."""
    return trends_in(data, parts["trend"], parts["counting"], opening)


def tables(trend: Trend, look: TrendChartSettings, local: Localizer) -> Sequence[Table]:
    """Return its table."""
    return (trend_table(trend),)


def data(trend: Trend, look: TrendChartSettings, findings: Any) -> dict[str, Any]:
    """Return its JSON object."""
    return trend_object(trend, findings)


def view(trend: Trend, look: TrendChartSettings, *, width: int, **_: Any) -> list[str]:
    """Return it for a terminal."""
    return trend_view(trend, width=width, local=local_of(look))


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
        base=upper_first(base_of(trend.tally, look)),
        views=lambda: (ChartView("values", drawn()),),
        grids=cache(lambda: (trend_table(trend),)),
        findings=tuple(findings),
        notes=notes_of(trend.tally, [trend.tally.origin.note()]),
    ).in_language(Localizer.of(look.wording))


shows(TrendChartSettings)(Trend.chart)

KIND = Kind(
    name="trend",
    options={"counting": CountSettings, "trend": TrendSettings, "chart": TrendChartSettings},
    make=make,
    origin=lambda result: result.tally.origin,
    review=review_trends,
    tables=tables,
    data=data,
    view=view,
    chart=chart,
    section=section,
)
