"""What a chart file describes: the result, its chart and recipe, and what is handed over of it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from functools import cache
from typing import Any, TypeAlias

from vantric.api.chartsof import (
    chart_of_comparison,
    chart_of_measures,
    chart_of_scales,
    chart_of_series,
    chart_of_trends,
)
from vantric.api.combinations import Combination
from vantric.api.kinds import NAMES, kind_named
from vantric.api.reach import Reach
from vantric.api.recipe import Recipe
from vantric.chartfile.model import ChartFile, SeriesEntry
from vantric.core import charting
from vantric.core.axes import Scaling, align
from vantric.core.charting import KINDS
from vantric.core.charting.options import Look
from vantric.core.reviewing import (
    Finding,
    review_chart,
    review_comparison,
    review_scales,
    review_trends,
)
from vantric.core.reviewing.finding import note
from vantric.errors import ChartFileError
from vantric.options import known_options
from vantric.reports.documents import Plain
from vantric.reports.sections import Section
from vantric.sources.tallying.comparing import set_beside
from vantric.sources.tallying.trending import trends_in

Drawn: TypeAlias = charting.Chart | charting.PanelChart
_NO_LOOK: Mapping[str, Any] = {}


@dataclass(frozen=True, kw_only=True)
class Made:
    """What a file describes.

    Attributes
    ----------
    result
        The table, comparison, tally, trends, measures or scales; None of series that the file holds itself.
    chart
    recipe
    findings
        Returns what the review says of the result.
    told
        Returns what is handed over of the chart.
    """

    chart: Drawn
    recipe: Recipe
    told: Callable[[Any], Section]
    result: Any = None
    findings: Callable[[], tuple[Finding, ...]] = tuple

    def reviewed(self) -> tuple[Finding, ...]:
        """Return what the review says of the result and of the chart."""
        drawn = () if isinstance(self.chart, charting.PanelChart) else review_chart(self.chart)
        return tuple(dict.fromkeys([*self.recipe.notes, *self.findings(), *drawn]))

    def section(self) -> Section:
        """Return what is handed over."""
        return self.told(self.chart)


def made_of_file(found: ChartFile, reach: Reach, look: Mapping[str, Any] = _NO_LOOK) -> Made:
    """Return what a file describes.

    Parameters
    ----------
    found
        What the file says.
    reach
        Where it is, and what it may read.
    look
        Options of the look in place of the file's own.

    Raises
    ------
    VantricError
        As the function that makes such a chart.
    """
    if reach.source is not None and found.kind in ("scales", "series"):
        raise ChartFileError("this chart holds its numbers itself: leave the other source out")
    made: Made = _MAKERS[found.kind](found, reach, _look(found, look))
    notes = tuple(note("old-chart-file", message=said, fix="save the chart again", where="") for said in found.notes)
    return made if not notes else replace(made, recipe=replace(made.recipe, notes=notes))


def _look(found: ChartFile, look: Mapping[str, Any]) -> Any:
    """Return the look of the file with options in place of its own."""
    own = found.parts.get("chart")
    if own is None:
        return Look(**look) if look else None
    merged = {name: {**getattr(own, name), **look[name]} for name in ("words", "colors") if name in look}
    return replace(own, **{**look, **merged}) if look else own


def _counted(found: ChartFile, reach: Reach, look: Any, *sections: str) -> Recipe:
    data, opening = reach.data(found.parts["data"])
    parts = {name: found.parts[name] for name in sections}
    return Recipe(
        found.kind,
        data,
        opening.for_file(),
        {**parts, "counting": reach.counting(found.parts["counting"]), "chart": look},
    )


def _of_kind(found: ChartFile, reach: Reach, look: Any) -> Made:
    kind = kind_named(found.kind)
    data, opening = reach.data(found.parts["data"])
    parts = {name: found.parts[name] for name in kind.options}
    parts |= {"counting": reach.counting(found.parts["counting"]), "chart": look}
    result = kind.make(data, opening, parts)
    said = cache(lambda: tuple(kind.review(result)))
    return Made(
        result=result, chart=kind.chart(result, look), recipe=Recipe(kind.name, data, opening.for_file(), parts),
        findings=said, told=lambda chart: kind.section(result, look, said(), chart=chart),
    )  # fmt: skip


def _compare(found: ChartFile, reach: Reach, look: Any) -> Made:
    from vantric.api.handing.sections import comparison_section

    data, opening = reach.data(found.parts["data"])
    sides = data if isinstance(data, tuple) else (data,)
    table = set_beside(sides, found.parts["sides"], reach.counting(found.parts["counting"]), opening)
    said = cache(lambda: tuple(review_comparison(table)))
    return Made(
        result=table, chart=chart_of_comparison(table, look), recipe=_counted(found, reach, look, "sides"),
        findings=said, told=lambda chart: comparison_section(table, look, said(), chart=chart),
    )  # fmt: skip


def _trend(found: ChartFile, reach: Reach, look: Any) -> Made:
    from vantric.api.handing.sections import trend_section

    data, opening = reach.data(found.parts["data"])
    trends = trends_in(data, found.parts["trend"], reach.counting(found.parts["counting"]), opening)
    said = cache(lambda: tuple(review_trends(trends)))
    return Made(
        result=trends, chart=chart_of_trends(trends, look), recipe=_counted(found, reach, look, "trend"),
        findings=said, told=lambda chart: trend_section(trends, look, said(), chart=chart),
    )  # fmt: skip


def _combine(found: ChartFile, reach: Reach, look: Any) -> Made:
    from vantric.api.handing.sections import measures_section

    data, opening = reach.data(found.parts["data"])
    options = {one.what: dict(one.options) for one in found.series}
    second = tuple(one.what for one in found.series if options[one.what].pop("axis", None) == "secondary")
    wanted = tuple((one.kind, one.what) for one in found.series)
    axis = found.parts["combine"]
    combination = Combination(axis, () if axis.sides else wanted, second, options)
    measures, series, section = combination.work_out(data, opening, look)
    recipe = Recipe("combine", data, opening.for_file(), {"combine": section, "chart": look})
    drawn = chart_of_measures(measures, series, look)
    return Made(
        result=measures, chart=drawn, recipe=recipe,
        told=lambda chart: measures_section(measures, chart, review_chart(chart)),
    )  # fmt: skip


def _series(found: ChartFile, reach: Reach, look: Any) -> Made:
    from vantric.api.handing.sections import chart_section

    series = [KINDS[one.kind](one.what, one.values, **one.options) for one in found.series]
    period = found.parts["given"].period
    given = {
        "categories": found.categories,
        **({"period": period} if period else {}),
        "series": list(map(_entry, found.series)),
    }
    recipe = Recipe("series", parts={"given": given, "chart": look})
    return Made(
        chart=chart_of_series(found.categories, series, look, period), recipe=recipe,
        told=lambda chart: chart_section(chart, review_chart(chart)),
    )  # fmt: skip


def _entry(one: SeriesEntry) -> Plain:
    values = ["" if value is None else value for value in one.values]
    return {"kind": one.kind, "name": one.what, "values": values, **one.options}


def _scales(found: ChartFile, reach: Reach, look: Any) -> Made:
    from vantric.api.handing.sections import scales_section

    ranges = found.parts["scales"]
    scaling = Scaling(**{name: getattr(ranges, name) for name in known_options(Scaling)})
    pair = align(ranges.primary, ranges.secondary, scaling)
    given = {"primary": ranges.primary, "secondary": ranges.secondary, **scaling.changed()}
    said = cache(lambda: tuple(review_scales(pair)))
    return Made(
        result=pair, chart=chart_of_scales(pair, look), recipe=Recipe("scales", parts={"scales": given}),
        told=lambda chart: scales_section(pair, said(), chart=chart),
    )  # fmt: skip


_MAKERS: Mapping[str, Any] = {
    **dict.fromkeys(NAMES, _of_kind), "compare": _compare, "combine": _combine, "trend": _trend, "series": _series,
    "scales": _scales,
}  # fmt: skip
