"""The Pareto table that users hold."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Unpack

from vantric.api.certainties import Certainty, Concentration
from vantric.api.chartsof import chart_of_table
from vantric.api.drawables import Chart, PanelChart, public_chart
from vantric.api.frames import frame_of
from vantric.api.recipe import Recipe
from vantric.api.verbs import TableResult
from vantric.core import counting
from vantric.core.charting.options import ParetoLook
from vantric.options import split_options
from vantric.options.showing import shows
from vantric.reports.paretodata import pareto_rows
from vantric.reports.sentence import pareto_sentence
from vantric.reports.tablefile import pareto_document

if TYPE_CHECKING:
    from vantric.api.keywords import ParetoTableChartOptions
    from vantric.core.counting import Cutoff
    from vantric.reports.documents import Document
    from vantric.reports.sections import Section


@dataclass(frozen=True, eq=False, repr=False)
class ParetoTable(TableResult, counting.ParetoTable):
    """A Pareto table; made by `vantric.pareto`.

    See `vantric.core.counting.ParetoTable` for its columns. Each of its `rows` has `rank`, `category`, `frequency`,
    `count`, `percent`, `cumulative_frequency`, `cumulative_percent` and `abc`; `rest` holds what was folded, `strata`
    the two-way table of a split, `within` the tables of a drill-down.
    """

    _inner = frozenset({"of", "arranged", "cuts", "folded", "in_rows", "named", "order", "pinned", "ranked", "ranking",
                        "rest_label", "rule", "tie_starts", "tied_after", "ties_rule"})  # fmt: skip

    @classmethod
    def of(cls, table: counting.ParetoTable, recipe: Recipe | None = None) -> ParetoTable:
        """Return the public form of a computed table, with what it has worked out already."""
        made = object.__new__(cls)
        vars(made).update(vars(table), within=tuple((name, cls.of(inner)) for name, inner in table.within))
        return made._made_by(recipe)

    def _document(self, **how: Any) -> Document:
        return pareto_document(self, self._reviewed(), **how)

    def _section(self) -> Section:
        from vantric.api.handing.paretosections import pareto_section

        return pareto_section(self, ParetoLook(), self._reviewed())

    def _sources(self) -> list[str]:
        return [self.origin.source] if self.origin.source else []

    if TYPE_CHECKING:  # there is none under cut=None or in an order other than frequency; else no cast is needed

        @property
        def cutoff(self) -> Cutoff | Any:
            """The first cutoff, or None."""

    def certainty(self, *, level: float = 0.95, resamples: int = 10_000, start: int = 1) -> Certainty:
        """Return how sure the ranking of the table is.

        Parameters
        ----------
        level
            The chance that all intervals hold at once, and that all ranges of ranks do.
        resamples
            How often shares are drawn for the chances, at most.
        start
            What the random numbers begin with: the same gives the same, with the same NumPy.

        Returns
        -------
        Certainty
            Its `rows` have `low` and `high` around the percent (C. J. Clopper and E. S. Pearson, 1934, for all
            categories at once) or around the rate (F. Garwood, 1936), `lowest_rank` and `highest_rank`, the `chance`
            to be one of the vital few, and `even_low` and `even_high`: where the bar of this rank would be if all
            categories were equally likely. `first_p`, `evenness`, `settled`, `needed` and `effective` say whether the
            first is the first, whether there are vital few at all, and how many records it would take.
            `sentence()` says it in words; docs/certainty.md has every method.

        Raises
        ------
        RankError
            For weights that came added up, one row a category: which records they are made of is not known.
        """
        from vantric.core.inference import certainty_of

        return Certainty.of(certainty_of(self, level=level, resamples=resamples, start=start))

    def concentration(self, *, level: float = 0.95) -> Concentration:
        """Return how concentrated the frequencies are: the effective number of categories, and Gini, with intervals.

        Parameters
        ----------
        level
            The chance, at least, that an interval holds its number.

        Raises
        ------
        RankError
            For rates, and for weights that came added up.
        """
        from vantric.core.inference import concentration_of

        return Concentration.of(concentration_of(self, level=level))

    def sentence(self) -> str:
        """Return what the table shows in one sentence that can be read out."""
        return pareto_sentence(self)

    def to_frame(self) -> Any:
        """Return the rows as a frame, in the columns of the contract, percents unrounded.

        Columns of the strata are behind them; the tables of a drill-down follow, named in the column `within`. The
        frame is of the library that the data came in, else of one that is installed.
        """
        head, rows = pareto_rows(self)
        floats = ("percent", "cumulative_percent")
        return frame_of(head, rows, like=self._recipe and self._recipe.source, floats=floats)

    @shows(ParetoLook)
    def chart(self, **options: Unpack[ParetoTableChartOptions]) -> Chart | PanelChart:
        """Return the Pareto chart of the table; see `vantric.pareto_chart`."""
        [look] = split_options(options, ParetoLook)
        recipe = self._recipe and self._recipe.with_parts(chart=look)
        from vantric.api.handing.paretosections import pareto_section as told

        return public_chart(
            chart_of_table(self, look), recipe, lambda chart: told(self, look, self._reviewed(), chart=chart)
        )

    def _repr_html_(self) -> str:
        from vantric.reports.paretohtml import pareto_html

        return pareto_html(self)
