"""What a chart file describes: the result, its chart and recipe, and what is handed over of it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from functools import cache
from typing import Any, TypeAlias

from vantric.core import charts
from vantric.core.charts.settings import Look
from vantric.core.review import Finding, review_chart
from vantric.core.review.finding import note
from vantric.errors import ChartFileError
from vantric.files.models import ChartFile
from vantric.kinds import kind_named
from vantric.kinds.access_policy import Reach
from vantric.kinds.kind import Told
from vantric.kinds.recipe import Recipe
from vantric.output.sections import Section
from vantric.reading.settings import Opening

Drawn: TypeAlias = charts.Chart | charts.PanelChart
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
    compared
        What the next report compares with; None if nothing is.
    """

    chart: Drawn
    recipe: Recipe
    told: Callable[[Any], Section]
    result: Any = None
    compared: Any = None
    findings: Callable[[], tuple[Finding, ...]] = tuple

    def reviewed(self) -> tuple[Finding, ...]:
        """Return what the review says of the result and of the chart."""
        drawn = () if isinstance(self.chart, charts.PanelChart) else review_chart(self.chart)
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
    made = _made(found, reach, _look(found, look))
    notes = tuple(note("old-chart-file", message=said, fix="save the chart again", where="") for said in found.notes)
    return made if not notes else replace(made, recipe=replace(made.recipe, notes=notes))


def _look(found: ChartFile, look: Mapping[str, Any]) -> Any:
    """Return the look of the file with options in place of its own."""
    own = found.parts.get("chart")
    if own is None:
        return Look(**look) if look else None
    merged = {name: {**getattr(own, name), **look[name]} for name in ("words", "colors") if name in look}
    return replace(own, **{**look, **merged}) if look else own


def _made(found: ChartFile, reach: Reach, look: Any) -> Made:
    kind = kind_named(found.kind)
    data, opening = reach.data(found.parts["data"]) if "data" in found.parts else (None, Opening())
    parts = {**kind.parts_of(kind, found), "chart": look}
    if "counting" in parts:
        parts["counting"] = reach.counting(parts["counting"])
    result = kind.make(data, opening, parts)
    drawn = kind.chart(result, kind.plain_look if look is None else look)
    recipe = Recipe(kind.name, data, opening.for_file(), kind.recipe_parts(result, parts))
    said = cache(lambda: tuple(kind.findings(result, look, drawn)))
    told = Told(kind.name, result, look)
    return Made(result=result, compared=kind.compared(result), chart=drawn, recipe=recipe, findings=said, told=told)
