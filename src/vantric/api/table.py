"""The Pareto table that users hold: it shows itself and turns into frames and data."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from vantric.core import counting
from vantric.core.reviewing import review_pareto
from vantric.report.paretodata import COLUMNS, pareto_object
from vantric.report.sentence import pareto_sentence

if TYPE_CHECKING:
    import pandas as pd


class ParetoTable(counting.ParetoTable):
    """A Pareto table; made by `vantric.pareto`.

    See `vantric.core.counting.ParetoTable` for its columns. Each of its `rows` has `rank`, `category`, `frequency`,
    `count`, `percent`, `cumulative_frequency`, `cumulative_percent` and `abc`.
    """

    @classmethod
    def of(cls, table: counting.ParetoTable) -> ParetoTable:
        """Return the public form of a computed table."""
        return cls(table.tally, table.order, table.tie_starts, table.cutoffs)

    def to_frame(self) -> pd.DataFrame:
        """Return the rows as a pandas DataFrame, in the columns of the contract, percents unrounded."""
        import pandas as pd

        return pd.DataFrame({name: [getattr(row, name) for row in self.rows] for name in COLUMNS})

    def to_dict(self) -> dict[str, Any]:
        """Return the object that ``vantric pareto --format json`` prints."""
        return pareto_object(self, review_pareto(self))

    def sentence(self) -> str:
        """Return what the table shows in one sentence that can be read out."""
        return pareto_sentence(self)

    def _repr_html_(self) -> str:
        from vantric.report.paretohtml import pareto_html

        return pareto_html(self)
