"""What a chart file describes: the chart, its recipe, and the table under it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from vantric.api.chartsof import (
    chart_of_comparison,
    chart_of_measures,
    chart_of_scales,
    chart_of_series,
    chart_of_table,
    chart_of_tally,
    chart_of_trends,
)
from vantric.api.combinations import Combination
from vantric.api.reach import Reach
from vantric.api.recipe import Recipe
from vantric.chartfile.model import ChartFile, SeriesEntry
from vantric.core import charting
from vantric.core.axes import Scaling, align
from vantric.core.charting import KINDS
from vantric.core.charting.options import Look
from vantric.core.inference import Trends
from vantric.core.reviewing.finding import note
from vantric.errors import ChartFileError
from vantric.options import known_options
from vantric.report.documents import Plain
from vantric.sources import crossed, gather
from vantric.sources.tallying.comparing import set_beside
from vantric.sources.tallying.ranking import rank
from vantric.sources.tallying.trending import trends_in

Drawn = charting.Chart | charting.PanelChart
_NO_LOOK: Mapping[str, Any] = {}


def chart_of_file(found: ChartFile, reach: Reach, look: Mapping[str, Any] = _NO_LOOK) -> tuple[Drawn, Recipe]:
    """Return the chart that a file describes, and the recipe of it.

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
    chart, recipe = _MAKERS[found.kind](found, reach, _look(found, look))
    notes = tuple(note("old-chart-file", message=said, fix="save the chart again", where="") for said in found.notes)
    return chart, recipe if not notes else replace(recipe, notes=notes)


def _look(found: ChartFile, look: Mapping[str, Any]) -> Any:
    """Return the look of the file with options in place of its own."""
    own = found.parts.get("chart")
    if own is None:
        return Look(**look) if look else None
    merged = {name: {**getattr(own, name), **look[name]} for name in ("words", "colors") if name in look}
    return replace(own, **{**look, **merged}) if look else own


def table_of_file(found: ChartFile, reach: Reach) -> Any:
    """Return the Pareto table or the comparison under a chart file; None under other charts."""
    if found.kind not in ("pareto", "compare"):
        return None
    data, opening = reach.data(found.parts["data"])
    counting = reach.counting(found.parts["counting"])
    if found.kind == "compare":
        return set_beside(_several(data), found.parts["sides"], counting, opening)
    return rank(data, found.parts["analysis"], counting, opening)


def _several(data: Any) -> tuple[Any, ...]:
    return data if isinstance(data, tuple) else (data,)


def _counted(found: ChartFile, reach: Reach, look: Any, *sections: str) -> Recipe:
    data, opening = reach.data(found.parts["data"])
    parts = {name: found.parts[name] for name in sections}
    return Recipe(
        found.kind,
        data,
        opening.for_file(),
        {**parts, "counting": reach.counting(found.parts["counting"]), "chart": look},
    )


def _pareto(found: ChartFile, reach: Reach, look: Any) -> tuple[Drawn, Recipe]:
    return chart_of_table(table_of_file(found, reach), look), _counted(found, reach, look, "analysis")


def _compare(found: ChartFile, reach: Reach, look: Any) -> tuple[Drawn, Recipe]:
    return chart_of_comparison(table_of_file(found, reach), look), _counted(found, reach, look, "sides")


def trends_of_file(found: ChartFile, reach: Reach) -> Trends:
    """Return the trends under a chart file of such."""
    data, opening = reach.data(found.parts["data"])
    return trends_in(data, found.parts["trend"], reach.counting(found.parts["counting"]), opening)


def _trend(found: ChartFile, reach: Reach, look: Any) -> tuple[Drawn, Recipe]:
    return chart_of_trends(trends_of_file(found, reach), look), _counted(found, reach, look, "trend")


def _tally(found: ChartFile, reach: Reach, look: Any) -> tuple[Drawn, Recipe]:
    data, opening = reach.data(found.parts["data"])
    counting, crossing = reach.counting(found.parts["counting"]), found.parts["crossing"]
    counting = replace(counting, in_order=look.order == "given")
    two_way = crossing.split is not None or crossing.split_columns
    counted = crossed(data, counting, opening, crossing) if two_way else gather(data, counting, opening)
    return chart_of_tally(counted, look), _counted(found, reach, look, "crossing")


def _combine(found: ChartFile, reach: Reach, look: Any) -> tuple[Drawn, Recipe]:
    data, opening = reach.data(found.parts["data"])
    options = {one.what: dict(one.options) for one in found.series}
    second = tuple(one.what for one in found.series if options[one.what].pop("axis", None) == "secondary")
    wanted = tuple((one.kind, one.what) for one in found.series)
    axis = found.parts["combine"]
    combination = Combination(axis, () if axis.sides else wanted, second, options)
    measures, series, section = combination.work_out(data, opening, look)
    recipe = Recipe("combine", data, opening.for_file(), {"combine": section, "chart": look})
    return chart_of_measures(measures, series, look), recipe


def _series(found: ChartFile, reach: Reach, look: Any) -> tuple[Drawn, Recipe]:
    series = [KINDS[one.kind](one.what, one.values, **one.options) for one in found.series]
    period = found.parts["given"].period
    given = {
        "categories": found.categories,
        **({"period": period} if period else {}),
        "series": list(map(_entry, found.series)),
    }
    return chart_of_series(found.categories, series, look, period), Recipe(
        "series", parts={"given": given, "chart": look}
    )


def _entry(one: SeriesEntry) -> Plain:
    values = ["" if value is None else value for value in one.values]
    return {"kind": one.kind, "name": one.what, "values": values, **one.options}


def _scales(found: ChartFile, reach: Reach, look: Any) -> tuple[Drawn, Recipe]:
    ranges = found.parts["scales"]
    scaling = Scaling(**{name: getattr(ranges, name) for name in known_options(Scaling)})
    pair = align(ranges.primary, ranges.secondary, scaling)
    said = {"primary": ranges.primary, "secondary": ranges.secondary, **scaling.changed()}
    return chart_of_scales(pair, look), Recipe("scales", parts={"scales": said})


_MAKERS: Mapping[str, Any] = {
    "pareto": _pareto, "compare": _compare, "tally": _tally, "combine": _combine, "trend": _trend, "series": _series,
    "scales": _scales,
}  # fmt: skip
