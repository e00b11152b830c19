"""Measures by category or calendar period, and frequencies divided by what they happened in."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace
from typing import TYPE_CHECKING, Any, Unpack

from vantric.base.lazily import dataclass
from vantric.core.counts.provenance import Provenance
from vantric.core.counts.tally import MISSING_LABEL, Tally
from vantric.core.messages.message import Message
from vantric.core.numbers.amounts import Amounts, Number
from vantric.core.numbers.number_format import quoted
from vantric.core.results import TableResult
from vantric.errors import AmountError, CountError, RankError

if TYPE_CHECKING:
    from vantric.core.charts import Chart
    from vantric.typing import MeasuresChartOptions

#: One number for all categories, or one each.
Exposure = Number | Mapping[str, Number]


def rated(tally: Tally, exposure: Exposure, *, units: Number = 1, of: str = "unit") -> Tally:
    """Turn the frequencies of a tally into rates; the counts stay beside them.

    Parameters
    ----------
    tally
        What was counted.
    exposure
        What it was counted in: one number for all categories, or one a category.
    units
        The rate is per so many: 1, 100, 1000000.
    of
        What the exposure is, such as ``"pieces"``.

    Raises
    ------
    CountError
        If an exposure is missing, zero, negative or not finite: which category it is.
    """
    if not _fine(units):
        raise CountError(f"a rate is per a number above zero, such as 100; {units} is not")
    if isinstance(exposure, Mapping):
        shares = _each(tally, exposure, of)
    elif _fine(exposure):
        shares = [exposure] * len(tally.categories)
    else:
        raise CountError(f"rates are per a number of {of} above zero; {exposure} is not")
    try:
        values = [frequency * units / share for frequency, share in zip(tally.frequency.values(), shares, strict=True)]
        rates = Amounts.of([float(value) for value in values])
    except (OverflowError, AmountError):
        raise CountError(f"a rate is out of range: a frequency is divided by too small a number of {of}") from None
    return replace(
        tally,
        frequency=rates,
        counts=tally.plain_counts,
        exposure=Amounts.of(shares),
        origin=replace(tally.origin, per=per_text(units, of)),
    )


def per_text(units: float, of: str) -> Message:
    """Return what rates are per: ``"per piece"``, ``"per 1,000 pieces"``."""
    return Message("per one", of=singular(of)) if units == 1 else Message("per", number=units, of=of)


def singular(noun: str) -> str:
    """Return one of what an English column name says in the plural: "pieces" is a piece."""
    return noun[:-1] if noun.endswith("s") and not noun.endswith(("ss", "us", "is")) else noun


def _fine(number: object) -> bool:
    plain = isinstance(number, int | float) and not isinstance(number, bool)
    return plain and math.isfinite(number) and number > 0  # type: ignore[arg-type, operator]


def _each(tally: Tally, exposure: Mapping[str, Number], of: str) -> list[Number]:
    lacking = [name for name in tally.categories if name not in exposure and name != MISSING_LABEL]
    if lacking:
        raise CountError(f"there is no number of {of} for {quoted(lacking)}; give one a category")
    wrong = [name for name in tally.categories if not _fine(exposure.get(name, 0))]
    if wrong:
        raise CountError(f"the number of {of} for {quoted(wrong)} is not above zero: there is no rate")
    return [exposure[name] for name in tally.categories]


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
    origin: Provenance
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
        chart: Chart = self._of_kind().public_chart(self, **options)
        return chart

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
