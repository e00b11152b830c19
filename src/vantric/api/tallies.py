"""Tallies and two-way tables that users hold."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields, replace
from pathlib import Path
from typing import TYPE_CHECKING, Any, Unpack

from vantric.api.chartsof import chart_of_tally
from vantric.api.comparisons import Comparison
from vantric.api.drawables import Chart
from vantric.api.frames import frame_of
from vantric.api.recipe import Recipe
from vantric.api.saving import save_table
from vantric.api.verbs import TableResult
from vantric.core import counting
from vantric.core.charting.options import TallyLook
from vantric.core.counting.crosstab import Base
from vantric.core.reviewing import review_tally
from vantric.options import split_options
from vantric.options.showing import shows
from vantric.reports import tallydata
from vantric.reports.tablefile import tally_document
from vantric.sources.options import Crossing, Sides

if TYPE_CHECKING:
    from vantric.api.keywords import TallyChartOptions
    from vantric.reports.documents import Document, Plain
    from vantric.reports.sections import Section


@dataclass(frozen=True, eq=False, repr=False)
class Tally(TableResult, counting.Tally):
    """Categories and how often each occurred; made by `vantric.tally`."""

    _inner = frozenset({"of", "labeled_rows", "plain_counts", "arranged", "places"})

    @classmethod
    def of(cls, tally: counting.Tally, recipe: Recipe | None = None) -> Tally:
        """Return the public form of a counted tally."""
        return cls(**{field.name: getattr(tally, field.name) for field in fields(tally)})._made_by(recipe)

    def _document(self, **how: Any) -> Document:
        return tally_document(self, self._reviewed(), **how)

    def _sources(self) -> list[str]:
        return [self.origin.source] if self.origin.source else []

    def _section(self) -> Section:
        from vantric.api.handing.sections import tally_section

        return tally_section(self, TallyLook(), self._reviewed())

    def sentence(self) -> str:
        """Return the base, and the largest categories, in one sentence."""
        return tallydata.tally_sentence(self)

    def to_frame(self, percent_of: str | None = None) -> Any:
        """Return category, frequency and percent as a frame, the most frequent first.

        Where cells hold several labels, percents are of ``"mentions"``, or on request of ``"records"``. The frame is
        of the library that the data came in, else of one that is installed.
        """
        head, rows = tallydata.tally_rows(self, percent_of)
        return frame_of(head, rows, like=self._recipe and self._recipe.source, floats=("percent",))

    @shows(TallyLook)
    def chart(self, **options: Unpack[TallyChartOptions]) -> Chart:
        """Return the bars of the tally, the most frequent first, or its shares as one strip."""
        from vantric.api.handing.sections import tally_section as told

        [look] = split_options(options, TallyLook)
        recipe = self._recipe and self._recipe.with_parts(chart=look)
        return Chart.of(
            chart_of_tally(self, look), recipe, lambda chart: told(self, look, self._reviewed(), chart=chart)
        )


@dataclass(frozen=True, eq=False, repr=False)
class Crosstab(TableResult, counting.Crosstab):
    """Frequencies of every pair of a category and a label of the split; made by `vantric.crosstab`."""

    _inner = frozenset({"of", "sum_of"})

    @classmethod
    def of(cls, table: counting.Crosstab, recipe: Recipe | None = None) -> Crosstab:
        """Return the public form of a counted table."""
        return cls(**{field.name: getattr(table, field.name) for field in fields(table)})._made_by(recipe)

    def _document(self, **how: Any) -> Document:
        return tally_document(self, review_tally(self.tally()), **how)

    def _sources(self) -> list[str]:
        source = self.tally().origin.source
        return [source] if source else []

    def transposed(self) -> Crosstab:
        """Return the table with categories and split exchanged."""
        return Crosstab.of(super().transposed(), self._exchanged())

    def _exchanged(self) -> Recipe | None:
        """Return the recipe with the two columns exchanged, where both are plain columns."""
        recipe = self._recipe
        if recipe is None or recipe.parts["counting"].families is not None or recipe.parts["counting"].merge_spellings:
            return None
        plain = replace(recipe.parts["counting"], by=recipe.parts["crossing"].split)
        return recipe.with_parts(counting=plain, crossing=Crossing(split=self.origin.by))

    def compare(
        self,
        before: str,
        after: str,
        *,
        per: Sequence[float] | None = None,
        per_units: float = 1,
        per_name: str = "units",
    ) -> Comparison:
        """Set two columns side by side; see `vantric.compare`.

        Parameters
        ----------
        before, after
            Labels of the split.
        per
            What each was counted in, as two numbers: rates are compared then.
        per_units, per_name
            Rates are per so many, of what.
        """
        exposures = None if per is None else (per[0], per[1])
        found = counting.compare(
            self.column(before), self.column(after), names=(before, after), exposures=exposures, units=per_units,
            of=per_name,
        )  # fmt: skip
        return Comparison.of(found, self._compared(before, after, exposures, per_units, per_name))

    def _compared(self, before: str, after: str, per: Any, per_units: float, per_name: str) -> Recipe | None:
        recipe = self._recipe
        if recipe is None:
            return None
        sides = Sides(split=recipe.parts["crossing"].split, before=before, after=after, per=per, per_units=per_units,
                      per_name=None if per is None else per_name)  # fmt: skip
        return Recipe("compare", recipe.source, recipe.opening, {"counting": recipe.parts["counting"], "sides": sides})

    def to_frame(self, percent_of: Base | None = None) -> Any:
        """Return frequencies, or percents of a base, as a frame: a row a category, a column a label."""
        cells = self.frequencies() if percent_of is None else self.percents(percent_of).tolist()
        rows = [(name, *row) for name, row in zip(self.categories, cells, strict=True)]
        by = self.origin.by or "category"
        return frame_of([by, *self.columns], rows, like=self._recipe and self._recipe.source, index=by)

    def to_dict(self, percent_of: Base = "all") -> Plain:
        """Return the object that ``vantric tally --split ... --format json`` prints."""
        return self._document(of=percent_of).data()

    def save(self, path: str | Path, percent_of: Base | None = None, *, slide_tables: bool = False) -> Path:
        """Write the table by the path's ending; see `Tally.save`. `percent_of` is what its percents are of."""
        plain = self._document(of=percent_of)
        document = replace(plain, section=lambda: self._section(percent_of), slide_tables=slide_tables)
        return save_table(path, lambda: document, self._sources())

    def _section(self, of: Base | None = None) -> Section:
        from vantric.api.handing.sections import tally_section

        return tally_section(self, TallyLook(), self._reviewed(), of)

    @shows(TallyLook)
    def chart(self, **options: Unpack[TallyChartOptions]) -> Chart:
        """Return the bars of the table: a place a row, a series a column."""
        from vantric.api.handing.sections import tally_section as told

        [look] = split_options(options, TallyLook)
        recipe = self._recipe and self._recipe.with_parts(chart=look)
        return Chart.of(
            chart_of_tally(self, look), recipe, lambda chart: told(self, look, self._reviewed(), chart=chart)
        )
