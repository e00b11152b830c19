"""The comparison that users hold: it draws, shows and saves itself and turns into frames and data."""

from __future__ import annotations

from dataclasses import dataclass, fields
from pathlib import Path
from typing import TYPE_CHECKING, Any, Unpack

from vantric.api.chart import Chart
from vantric.api.chartoptions import ChartOptions, read_wish
from vantric.api.saving import save_table
from vantric.core import composing, counting
from vantric.core.reviewing import review_comparison
from vantric.options import read_options
from vantric.report.comparisondata import PERCENTS, comparison_object, comparison_rows
from vantric.report.comparisonsentence import comparison_sentence

if TYPE_CHECKING:
    import pandas as pd


@dataclass(frozen=True, eq=False, repr=False)
class Comparison(counting.Comparison):
    """Two tallies side by side; made by `vantric.compare` and `Crosstab.compare`."""

    @classmethod
    def of(cls, found: counting.Comparison) -> Comparison:
        """Return the public form of a comparison."""
        return cls(**{field.name: getattr(found, field.name) for field in fields(found)})

    def chart(self, **options: Unpack[ChartOptions]) -> Chart:
        """Return the chart: paired bars, each side in percent of its own total, with both cumulative lines.

        Parameters
        ----------
        **options
            How it looks, as for `vantric.pareto_chart`.
        """
        wish = read_wish(read_options(options, ChartOptions))
        return Chart.of(composing.comparison_chart(self, wish, description=comparison_sentence(self)))

    def to_frame(self) -> pd.DataFrame:
        """Return a row a category as a pandas DataFrame."""
        import pandas as pd

        head, rows = comparison_rows(self)
        floats = dict.fromkeys(PERCENTS, "float64")
        return pd.DataFrame(rows, columns=head).astype(floats)

    def to_dict(self) -> dict[str, Any]:
        """Return the object that ``vantric compare --format json`` prints."""
        return comparison_object(self, review_comparison(self))

    def sentence(self) -> str:
        """Return what changed in one sentence that can be read out."""
        return comparison_sentence(self)

    def save(self, path: str | Path) -> Path:
        """Write the comparison by the path's ending: ``.csv``, ``.json``, ``.xlsx``, ``.md`` or ``.html``."""
        from vantric.report.tablefile import comparison_file

        return save_table(
            path,
            lambda kind: comparison_file(self, kind, review_comparison(self)),
            self.before.origin,
            self.after.origin,
        )

    def _repr_html_(self) -> str:
        from vantric.report.comparisondata import comparison_cells
        from vantric.report.paretohtml import table_html

        return table_html(comparison_cells(self), caption=comparison_sentence(self))
