"""The Pareto table that users hold: it shows itself, saves itself and turns into frames and data."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any

from vantric.api.saving import save_table
from vantric.core import counting
from vantric.core.reviewing import review_pareto
from vantric.report.paretodata import pareto_object, pareto_rows
from vantric.report.sentence import pareto_sentence

if TYPE_CHECKING:
    import pandas as pd

    from vantric.core.inference import Certainty


@dataclass(frozen=True, eq=False, repr=False)
class ParetoTable(counting.ParetoTable):
    """A Pareto table; made by `vantric.pareto`.

    See `vantric.core.counting.ParetoTable` for its columns. Each of its `rows` has `rank`, `category`, `frequency`,
    `count`, `percent`, `cumulative_frequency`, `cumulative_percent` and `abc`; `rest` holds what was folded, `strata`
    the two-way table of a split, `within` the tables of a drill-down.
    """

    @classmethod
    def of(cls, table: counting.ParetoTable) -> ParetoTable:
        """Return the public form of a computed table, with what it has worked out already."""
        made = object.__new__(cls)
        vars(made).update(vars(table), within=tuple((name, cls.of(inner)) for name, inner in table.within))
        return made

    def certainty(self, *, level: float = 0.95, resamples: int = 10_000, start: int = 1) -> Certainty:
        """Return how sure the ranking of a table of counts is.

        Parameters
        ----------
        level
            The chance that the intervals of all shares hold at once, and that a rank lies in its range.
        resamples
            How often the table is drawn again with the observed shares.
        start
            What the random numbers begin with: the same gives the same.

        Returns
        -------
        Certainty
            Its `rows` have `low` and `high` around the percent (Goodman's simultaneous intervals, 1965),
            `lowest_rank` and `highest_rank`, the `chance` to be one of the vital few, and `even_low` and `even_high`:
            where the bar of this rank would lie if all categories were equally likely. `sentence()` says it in words.

        Raises
        ------
        RankError
            For weights and rates.
        """
        from vantric.core.inference import certainty_of

        return certainty_of(self, level=level, resamples=resamples, start=start)

    def to_frame(self) -> pd.DataFrame:
        """Return the rows as a pandas DataFrame, in the columns of the contract, percents unrounded.

        Columns of the strata stand behind them; the tables of a drill-down follow, named in the column `within`.
        """
        import pandas as pd

        head, rows = pareto_rows(self)
        floats = dict.fromkeys(("percent", "cumulative_percent"), "float64")
        return pd.DataFrame(rows, columns=head).astype(floats)

    def to_dict(self) -> dict[str, Any]:
        """Return the object that ``vantric pareto --format json`` prints."""
        return pareto_object(self, review_pareto(self))

    def sentence(self) -> str:
        """Return what the table shows in one sentence that can be read out."""
        return pareto_sentence(self)

    def save(self, path: str | Path) -> Path:
        """Write the table by the path's ending: ``.csv``, ``.json``, ``.xlsx``, ``.md`` or ``.html``.

        A file that is there is replaced only by the complete new one. A label that a spreadsheet would run as a
        formula stands behind an apostrophe in ``.csv`` and as plain text in ``.xlsx``.

        Returns
        -------
        pathlib.Path
            The path written.

        Raises
        ------
        TargetError
            If the ending is another one or the place cannot be written.
        """
        from vantric.report.tablefile import pareto_file

        return save_table(path, lambda kind: pareto_file(self, kind, review_pareto(self)), self.origin)

    def _repr_html_(self) -> str:
        from vantric.report.paretohtml import pareto_html

        return pareto_html(self)
