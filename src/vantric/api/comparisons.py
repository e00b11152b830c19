"""The comparison that users hold."""

from __future__ import annotations

from dataclasses import dataclass, fields
from typing import TYPE_CHECKING, Any, Unpack

from vantric.api.chartsof import chart_of_comparison
from vantric.api.drawables import Chart
from vantric.api.frames import frame_of
from vantric.api.recipe import Recipe
from vantric.api.verbs import TableResult
from vantric.core import counting
from vantric.core.charting.options import TableLook
from vantric.options import split_options
from vantric.options.showing import shows
from vantric.reports.comparisondata import PERCENTS, comparison_rows
from vantric.reports.comparisonsentence import comparison_sentence
from vantric.reports.tablefile import comparison_document

if TYPE_CHECKING:
    from vantric.api.keywords import ComparisonChartOptions
    from vantric.reports.documents import Document
    from vantric.reports.sections import Section


@dataclass(frozen=True, eq=False, repr=False)
class Comparison(TableResult, counting.Comparison):
    """Two tallies side by side; made by `vantric.compare` and `Crosstab.compare`."""

    @classmethod
    def of(cls, found: counting.Comparison, recipe: Recipe | None = None) -> Comparison:
        """Return the public form of a comparison."""
        return cls(**{field.name: getattr(found, field.name) for field in fields(found)})._made_by(recipe)

    def _document(self, **how: Any) -> Document:
        return comparison_document(self, self._reviewed())

    def _section(self) -> Section:
        from vantric.api.handing.sections import comparison_section

        return comparison_section(self, TableLook(), self._reviewed())

    def _sources(self) -> list[str]:
        return [side.origin.source for side in (self.before, self.after) if side.origin.source]

    def sentence(self) -> str:
        """Return what changed in one sentence that can be read out."""
        return comparison_sentence(self)

    def to_frame(self) -> Any:
        """Return a row a category as a frame."""
        head, rows = comparison_rows(self)
        source = self._recipe.source if self._recipe else None
        return frame_of(head, rows, like=source[0] if isinstance(source, tuple) else source, floats=PERCENTS)

    @shows(TableLook)
    def chart(self, **options: Unpack[ComparisonChartOptions]) -> Chart:
        """Return the chart: paired bars, each side in percent of its own total, with both cumulative lines."""
        [look] = split_options(options, TableLook)
        recipe = self._recipe and self._recipe.with_parts(chart=look)
        from vantric.api.handing.sections import comparison_section as told

        return Chart.of(
            chart_of_comparison(self, look), recipe, lambda chart: told(self, look, self._reviewed(), chart=chart)
        )
