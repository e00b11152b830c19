"""Measures that users hold."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace
from typing import TYPE_CHECKING, Any, Unpack

from vantric.api.drawables import Chart, drawn_measures
from vantric.api.frames import frame_of
from vantric.api.recipe import Recipe
from vantric.api.verbs import TableResult
from vantric.core import counting
from vantric.core.charting import Bars, Line
from vantric.core.charting.options import CombinationLook
from vantric.options import split_options
from vantric.options.showing import shows
from vantric.reports.combineddata import combined_document

if TYPE_CHECKING:
    from vantric.api.keywords import MeasuresChartOptions
    from vantric.core.reviewing import Finding
    from vantric.reports.documents import Document, Plain
    from vantric.reports.sections import Section


@dataclass(frozen=True, eq=False, repr=False)
class Measures(TableResult, counting.Measures):
    """Values by category or calendar period; made by `vantric.aggregate`."""

    @classmethod
    def of(cls, measures: counting.Measures, recipe: Recipe | None = None) -> Measures:
        """Return the public form of measures."""
        return cls(**{field.name: getattr(measures, field.name) for field in fields(measures)})._made_by(recipe)

    def _document(self, **how: Any) -> Document:
        return replace(combined_document(self, None, ()), data=self.to_dict)

    def _section(self) -> Section:
        return self.chart()._section()

    def _sources(self) -> list[str]:
        return [self.origin.source] if self.origin.source else []

    def to_dict(self) -> Plain:
        """Return the measures as plain data."""
        return counting.Measures.to_dict(self)

    def review(self) -> list[Finding]:
        """Return what is wrong or risky in the chart of the measures."""
        return self.chart().review()

    def sentence(self) -> str:
        """Return what the measures show: the reach of each."""
        return self.chart().sentence()

    def to_frame(self) -> Any:
        """Return a row a category or period, a column a measure as a frame; what is missing is NaN."""
        rows = list(zip(self.categories, *self.values, strict=True))
        return frame_of([self.by, *self.names], rows, like=self._recipe and self._recipe.source, index=self.by)

    @shows(CombinationLook)
    def chart(self, **options: Unpack[MeasuresChartOptions]) -> Chart:
        """Return the chart of the measures: lines over periods, bars of categories; units and reach choose the axis.

        `vantric.combine` draws each measure as the options say.
        """
        [look] = split_options(options, CombinationLook)
        kind = Line if self.period else Bars
        series = [kind(name, values) for name, values in zip(self.names, self.values, strict=True)]
        return drawn_measures(self, series, look, self._drawn(kind.kind, look))

    def _drawn(self, kind: str, look: CombinationLook) -> Recipe | None:
        recipe = self._recipe
        if recipe is None:
            return None
        wanted = recipe.parts["combine"]
        return recipe.with_parts(
            combine={**wanted, "series": [{"kind": kind, **one} for one in wanted["series"]]}, chart=look
        )
