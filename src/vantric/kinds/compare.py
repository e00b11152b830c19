"""Comparisons: before and after."""

from __future__ import annotations

from dataclasses import replace
from functools import cache
from typing import Any

from vantric.core import composition
from vantric.core.charts.settings import ComparisonChartSettings
from vantric.core.counts import Comparison
from vantric.core.review import review_comparison
from vantric.counting.ranking import compare_sources
from vantric.kinds.appearance import rows_that_fit, with_drawable_look, with_orientation
from vantric.kinds.kind import Kind, Parts
from vantric.kinds.recipe import notes_of
from vantric.options.signatures import shows
from vantric.output.sections import ChartView, Section
from vantric.reading.settings import ComparisonSettings, CountSettings, ReadSettings
from vantric.tables.comparison import (
    PERCENTS,
    changes_known,
    comparison_object,
    comparison_sentence,
    comparison_table,
    comparison_view,
)


def make(data: Any, opening: ReadSettings, parts: Parts) -> Comparison:
    """Return the comparison of two sources, or of two parts of one."""
    sources = data if isinstance(data, (tuple, list)) else (data,)
    return compare_sources(sources, parts["sides"], parts["counting"], opening)


def chart(comparison: Comparison, look: ComparisonChartSettings) -> Any:
    """Return its chart, the significant changes standing out."""
    # The share of the only category cannot change.
    changes = None if len(comparison) == 1 and comparison.exposures is None else changes_known(comparison)
    text, look = comparison_sentence(comparison), with_drawable_look(look)
    drawn: Any
    if look.has_bars:
        beyond = None if changes is None else {row.category for row in changes.beyond}
        drawn = composition.comparison_chart(comparison, look, description=text, beyond=beyond)
    else:
        drawn = composition.dumbbell_chart(comparison, look, description=text, changes=changes)
        rows = rows_that_fit(drawn, look, len(changes.beyond) if changes else 0)
        drawn = drawn if rows is None else composition.with_rows(drawn, comparison, look, rows)
    return with_orientation(drawn, look)


def _native(comparison: Comparison, look: ComparisonChartSettings) -> Any:
    """Return the chart for programs that draw no intervals at points: pairs of bars."""
    return chart(comparison, replace(look, form="bars"))


def section(comparison: Comparison, look: ComparisonChartSettings, findings: Any, *, chart: Any = None) -> Section:
    """Return what is handed over of it."""
    drawn = cache(lambda: KIND.chart(comparison, look) if chart is None else chart)
    sides = list(dict.fromkeys([*notes_of(comparison.before), *notes_of(comparison.after)]))
    return Section(
        kind="compare",
        title=drawn().title,
        sentence=comparison_sentence(comparison),
        base=comparison.base(),
        views=lambda: (ChartView("values", drawn(), native=lambda: _native(comparison, look)),),
        grids=cache(lambda: (comparison_table(comparison),)),
        findings=tuple(findings),
        notes=tuple(sides),
    ).in_language(look.formatter.bare())


def _sources(comparison: Comparison) -> list[str]:
    return [side.origin.source for side in (comparison.before, comparison.after) if side.origin.source]


shows(ComparisonChartSettings)(Comparison.chart)

KIND = Kind(
    name="compare",
    options={"counting": CountSettings, "sides": ComparisonSettings, "chart": ComparisonChartSettings},
    make=make,
    origin=lambda result: result.before.origin,
    review=review_comparison,
    sentence=comparison_sentence,
    tables=lambda comparison, *_: (comparison_table(comparison),),
    data=lambda comparison, look, findings: comparison_object(comparison, findings),
    view=lambda comparison, look, *, width, **_: comparison_view(comparison, width=width, local=look.formatter.bare()),
    chart=chart,
    section=section,
    sources=_sources,
    floats=tuple(PERCENTS),
)
