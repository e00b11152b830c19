"""Tallies, two-way tables and measures that users hold: they turn into frames and data and show themselves."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields
from pathlib import Path
from typing import TYPE_CHECKING, Any, Unpack

from vantric.api.chart import Chart
from vantric.api.chartoptions import TallyChartOptions, read_tally_wish
from vantric.api.charts import tallied_chart
from vantric.api.comparison import Comparison
from vantric.api.saving import save_table
from vantric.core import counting
from vantric.core.counting.crosstab import Base
from vantric.core.reviewing import review_tally
from vantric.options import read_options
from vantric.report import tallydata

if TYPE_CHECKING:
    import pandas as pd


@dataclass(frozen=True, eq=False, repr=False)
class Tally(counting.Tally):
    """Categories and how often each occurred; made by `vantric.tally`."""

    @classmethod
    def of(cls, tally: counting.Tally) -> Tally:
        """Return the public form of a counted tally."""
        return cls(**{field.name: getattr(tally, field.name) for field in fields(tally)})

    def to_frame(self, percent_of: str | None = None) -> pd.DataFrame:
        """Return category, frequency and percent as a pandas DataFrame, the most frequent first.

        Where cells hold several labels, percents are of ``"mentions"``, or on request of ``"records"``.
        """
        import pandas as pd

        head, rows = tallydata.tally_rows(self, percent_of)
        return pd.DataFrame(rows, columns=list(head))

    def to_dict(self) -> dict[str, Any]:
        """Return the object that ``vantric tally --format json`` prints."""
        return tallydata.tally_object(self, review_tally(self))

    def save(self, path: str | Path) -> Path:
        """Write the tally by the path's ending: ``.csv``, ``.json``, ``.xlsx``, ``.md`` or ``.html``."""
        from vantric.report.tablefile import tally_file

        return save_table(path, lambda kind: tally_file(self, kind, review_tally(self)), self.origin)

    def chart(self, **options: Unpack[TallyChartOptions]) -> Chart:
        """Return the bars of the tally, the most frequent first, or its shares as one strip.

        Parameters
        ----------
        values : str
            ``"frequency"`` or ``"percent"``; the axis says which.
        strip : bool
            One bar to 100 %, every part with its name and percent.
        labels, label_place
            See `vantric.Bars`.
        **options
            How it looks, as for `vantric.pareto_chart`.
        """
        return Chart.of(tallied_chart(self, read_tally_wish(read_options(options, TallyChartOptions))))

    def _repr_html_(self) -> str:
        from vantric.report.paretohtml import plain_html

        return plain_html(*tallydata.tally_cells(self), caption=self.base())


@dataclass(frozen=True, eq=False, repr=False)
class Crosstab(counting.Crosstab):
    """Frequencies of every pair of a category and a label of the split; made by `vantric.crosstab`."""

    @classmethod
    def of(cls, table: counting.Crosstab) -> Crosstab:
        """Return the public form of a counted table."""
        return cls(**{field.name: getattr(table, field.name) for field in fields(table)})

    def transposed(self) -> Crosstab:
        """Return the table with categories and split exchanged."""
        return Crosstab.of(super().transposed())

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
        sides = self.column(before), self.column(after)
        exposures = None if per is None else (per[0], per[1])
        found = counting.compare(*sides, names=(before, after), exposures=exposures, units=per_units, of=per_name)
        return Comparison.of(found)

    def to_frame(self, percent_of: Base | None = None) -> pd.DataFrame:
        """Return frequencies, or percents of a base, as a pandas DataFrame: a row a category, a column a label."""
        import pandas as pd

        cells = self.frequencies() if percent_of is None else self.percents(percent_of)
        return pd.DataFrame(cells, index=pd.Index(self.categories, name=self.origin.by), columns=list(self.columns))

    def to_dict(self, percent_of: Base = "all") -> dict[str, Any]:
        """Return the object that ``vantric tally --split ... --format json`` prints."""
        return tallydata.crosstab_object(self, percent_of, review_tally(self.tally()))

    def save(self, path: str | Path, percent_of: Base | None = None) -> Path:
        """Write the table by the path's ending: ``.csv``, ``.json``, ``.xlsx``, ``.md`` or ``.html``."""
        from vantric.report.tablefile import tally_file

        return save_table(
            path, lambda kind: tally_file(self, kind, review_tally(self.tally()), percent_of), self.tally().origin
        )

    def chart(self, **options: Unpack[TallyChartOptions]) -> Chart:
        """Return the bars of the table: a place a row, a series a column.

        Parameters
        ----------
        values : str
            ``"frequency"``, or ``"percent"`` of `percent_of`: ``"row"``, ``"column"`` or ``"all"``.
        together : str
            ``"grouped"`` (with a `gap`), ``"stacked"`` (`totals` are written over them), ``"percent"``: stacked to
            100 %, or ``"overlaid"``.
        transpose : bool
            Whether rows and columns are exchanged.
        labels, label_place
            See `vantric.Bars`.
        **options
            How it looks, as for `vantric.pareto_chart`.
        """
        return Chart.of(tallied_chart(self, read_tally_wish(read_options(options, TallyChartOptions))))

    def _repr_html_(self) -> str:
        from vantric.report.paretohtml import plain_html

        return plain_html(*tallydata.crosstab_cells(self, None), caption=self.tally().base())


@dataclass(frozen=True, eq=False, repr=False)
class Measures(counting.Measures):
    """Values by category or calendar period; made by `vantric.aggregate`."""

    @classmethod
    def of(cls, measures: counting.Measures) -> Measures:
        """Return the public form of worked-out measures."""
        return cls(**{field.name: getattr(measures, field.name) for field in fields(measures)})

    def to_frame(self) -> pd.DataFrame:
        """Return a row a category or period, a column a measure; what is missing is NaN."""
        import pandas as pd

        columns = dict(zip(self.names, map(list, self.values), strict=True))
        return pd.DataFrame(columns, index=pd.Index(self.categories, name=self.by))
