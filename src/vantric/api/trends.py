"""``vantric.trend``: categories over calendar periods."""

from __future__ import annotations

from dataclasses import dataclass, fields
from typing import TYPE_CHECKING, Any, Unpack

from vantric.api.chartsof import chart_of_trends
from vantric.api.drawables import PanelChart
from vantric.api.frames import frame_of
from vantric.api.recipe import Recipe
from vantric.api.verbs import TableResult
from vantric.core import inference
from vantric.core.charting.options import TrendLook
from vantric.core.reviewing import Finding, review_trends
from vantric.options import split_options
from vantric.options.showing import shows
from vantric.reports.trenddata import trend_document, trend_rows
from vantric.sources.options import Counting, Opening, Trending
from vantric.sources.tallying.trending import trends_in

if TYPE_CHECKING:
    from vantric.api.keywords import TrendChartOptions, TrendOptions
    from vantric.reports.documents import Document
    from vantric.reports.sections import Section


@dataclass(frozen=True, eq=False, repr=False)
class Trend(TableResult, inference.Trends):
    """Categories over calendar periods; made by `vantric.trend`."""

    @classmethod
    def of(cls, found: inference.Trends, recipe: Recipe | None = None) -> Trend:
        """Return the public form of trends."""
        return cls(**{field.name: getattr(found, field.name) for field in fields(found)})._made_by(recipe)

    def _document(self, **how: Any) -> Document:
        return trend_document(self, self._reviewed())

    def _section(self) -> Section:
        from vantric.api.handing.sections import trend_section

        return trend_section(self, TrendLook(), self._reviewed())

    def _sources(self) -> list[str]:
        return [self.tally.origin.source] if self.tally.origin.source else []

    def _key(self) -> tuple[Any, ...]:
        return self.by, self.split, self.period, self.periods, self.partial, self.measure, self.exposures, self.rows

    def __eq__(self, other: object) -> bool:
        return self._key() == other._key() if isinstance(other, Trend) else NotImplemented

    def __hash__(self) -> int:
        return hash(self._key())

    def __repr__(self) -> str:
        return f"<Trend of {len(self.rows)} categories over {len(self.periods)} periods: {self.tally.base()}>"

    def review(self) -> list[Finding]:
        """Return what is wrong or risky, each with its fix."""
        return review_trends(self)

    def to_frame(self) -> Any:
        """Return a row a category and period as a frame."""
        head, rows = trend_rows(self)
        return frame_of(head, rows, like=self._recipe and self._recipe.source)

    @shows(TrendLook)
    def chart(self, **options: Unpack[TrendChartOptions]) -> PanelChart:
        """Return small lines, a panel a category: center line, limits of chance, signals, marked dates."""
        [look] = split_options(options, TrendLook)
        from vantric.api.handing.sections import trend_section as told

        recipe = self._recipe and self._recipe.with_parts(chart=look)
        return PanelChart.of(
            chart_of_trends(self, look), recipe, lambda chart: told(self, look, self._reviewed(), chart=chart)
        )


@shows(Counting, Opening, Trending)
def trend(data: Any, by: str | None = None, **options: Unpack[TrendOptions]) -> Trend:
    """Say which categories rise or fall over calendar periods, and draw them with limits of chance.

    Parameters
    ----------
    data, by
        As for `tally`; data that have columns, one of them with dates (`date`).

    Returns
    -------
    Trend
        Its `rows` have a category each: its `chart` with center line, limits and signals, its `slope` and whether that
        is `beyond_chance`. `sentence()` says it in words; docs/certainty.md has the methods.

    Raises
    ------
    VantricError
        As for `tally`; and if no column of dates is named, or rates have no exposure.

    Examples
    --------
    >>> import vantric as vt
    >>> log = {"defect": ["Pinhole"] * 8, "date": [f"2026-0{month}-15" for month in (1, 2, 2, 3, 3, 4, 4, 4)]}
    >>> vt.trend(log, "defect", date="date").sentence().partition(".")[0]
    'Over 4 months, “Pinhole” has no trend beyond chance'
    """
    counted, opening, wanted = split_options({**options, "by": by}, Counting, Opening, Trending)
    found = trends_in(data, wanted, counted, opening)
    return Trend.of(found, Recipe("trend", data, opening, {"counting": counted, "trend": wanted}))
