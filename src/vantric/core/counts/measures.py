"""Measures by category or by calendar period."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any, Unpack

from vantric.core.counts.provenance import Origin
from vantric.core.numbers.amounts import Number
from vantric.core.results import TableResult
from vantric.errors import RankError

if TYPE_CHECKING:
    from vantric.api.keywords import MeasuresChartOptions
    from vantric.core.charts import Chart


@dataclass(frozen=True)
class Measures(TableResult):
    """Values by category or calendar period; made by `vantric.aggregate`.

    Attributes
    ----------
    by, period
        The column of categories or dates, and the calendar period (None for categories).
    categories : tuple of str, length n
        Periods in order, none left out; categories in natural order.
    names : tuple of str
        What the measures are called.
    values : tuple of tuple of number or None, one a measure, each of length n
        None where there is nothing to measure.
    missing
        Records without a category or date.
    origin : Origin
    units : tuple of str
        What each measure is in, where its column says so; empty otherwise.
    about
        What they show, in a sentence, where one was worked out.
    """

    by: str
    period: str | None
    categories: tuple[str, ...]
    names: tuple[str, ...]
    values: tuple[tuple[Number | None, ...], ...]
    missing: int
    origin: Origin
    units: tuple[str, ...] = ()
    about: str = ""

    _kind = "measures"

    def __getitem__(self, name: str) -> tuple[Number | None, ...]:
        """Return the values of a measure."""
        return self.values[self.names.index(name)]

    def to_dict(self) -> dict[str, Any]:
        """Return the measures as plain data."""
        return {
            "format": "vantric/measures",
            "version": 1,
            "source": self.origin.source,
            "where": self.origin.where,
            "by": self.by,
            "period": self.period,
            "missing": self.missing,
            "categories": list(self.categories),
            "measures": {name: list(values) for name, values in zip(self.names, self.values, strict=True)},
        }

    def chart(self, **options: Unpack[MeasuresChartOptions]) -> Chart:
        """Return the chart of the measures: lines over periods, bars of categories; units and reach choose the axis.

        `vantric.combine` draws each measure as the options say.
        """
        made: Chart = self._of_kind().public_chart(self, **options)
        return made

    def transposed(self) -> Measures:
        """Return the measures as categories: their categories are the measures of each, all in one unit.

        Raises
        ------
        RankError
            If the measures are in several units.
        """
        units = tuple(dict.fromkeys(self.units))
        if len(units) > 1:
            raise RankError("measures in several units cannot be exchanged with categories: give them one unit")
        return replace(
            self,
            by="series",
            period=None,
            categories=self.names,
            names=self.categories,
            values=tuple(zip(*self.values, strict=True)),
            units=units * len(self.categories),
        )
