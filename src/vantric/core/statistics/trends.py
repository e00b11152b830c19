"""Whether frequencies or rates change over the periods, category by category, with the chart of each."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any, Unpack

import numpy as np

from vantric.core.counts.ordering import Measured
from vantric.core.counts.provenance import named_unit
from vantric.core.messages.message import Day, Joined, Label, List, Message, PValue, Written, interval
from vantric.core.numbers.number_format import digits_text, ends_texts, one_line
from vantric.core.results import Rows, TableResult
from vantric.core.statistics.sample import sample_of
from vantric.core.statistics.trend_tests import BEYOND, ControlChart, Slope, control_chart, slope_of
from vantric.errors import RankError

if TYPE_CHECKING:
    from vantric.core.charts import PanelChart
    from vantric.core.counts.crosstab import Crosstab
    from vantric.core.counts.tally import Tally
    from vantric.core.statistics.sample import Floats
    from vantric.typing import TrendChartOptions

#: Categories that the sentence names.
_MOST = 3
#: The level, shared by all categories.
_ALPHA = 0.05


@dataclass(frozen=True)
class CategoryTrend:
    """One category over the periods.

    Attributes
    ----------
    category
    counts : tuple of float, one a period
    chart
        Its values, center line, limits and signals.
    slope
        Whether it rises or falls; None where that cannot be arguments.
    p_adjusted
        Of no trend, with the other categories in mind; None where nothing is arguments.
    """

    category: str
    counts: tuple[float, ...]
    chart: ControlChart
    slope: Slope | None
    p_adjusted: float | None = None

    @property
    def beyond_chance(self) -> bool:
        """Whether it rises or falls significantly."""
        return self.p_adjusted is not None and self.p_adjusted <= _ALPHA


@dataclass(frozen=True, eq=False, repr=False)
class Trend(Rows[CategoryTrend], TableResult):
    """Categories over calendar periods; made by `vantric.trend`.

    Attributes
    ----------
    by, split, period
        The column of categories, that of dates, and the calendar period.
    periods
        The labels of the periods, in order.
    partial
        The first and the last, where the records do not fill it: left out of tests, center lines and limits of
        frequencies.
    measure
        ``"frequency"``, ``"rate"`` or ``"percent"`` of the records of a period.
    unit
        What the values are in.
    exposures
        What each period was counted in; None if that is not known.
    rows
        A row a category, as they were named; the most frequent first if none was.
    counted
        How much the records tell, in words; empty for plain records.
    tally
        What was counted over all periods.
    reason
        Why no trend can be arguments; else empty.
    """

    by: str
    split: str
    period: str
    periods: tuple[str, ...]
    partial: tuple[str, ...]
    measure: Measured
    unit: str
    exposures: tuple[float, ...] | None
    rows: tuple[CategoryTrend, ...]
    counted: str
    tally: Tally
    reason: str = ""

    _kind = "trend"

    @property
    def beyond(self) -> tuple[CategoryTrend, ...]:
        """The categories that rise or fall significantly, the surest first."""
        return tuple(sorted((row for row in self.rows if row.beyond_chance), key=lambda row: row.p_adjusted or 0.0))

    def sentence(self) -> Joined:
        """Return which categories have a trend, which signals there are, and what must be arguments with it."""
        return Joined([*_trends(self), *_signals(self), *_partial(self), *_basis(self), self.counted])

    def chart(self, **options: Unpack[TrendChartOptions]) -> PanelChart:
        """Return small lines, a panel a category: center line, control limits, signals, marked dates."""
        chart: PanelChart = self._of_kind().public_chart(self, **options)
        return chart

    def _key(self) -> tuple[Any, ...]:
        return self.by, self.split, self.period, self.periods, self.partial, self.measure, self.exposures, self.rows

    def __eq__(self, other: object) -> bool:
        return self._key() == other._key() if isinstance(other, Trend) else NotImplemented

    def __hash__(self) -> int:
        return hash(self._key())

    def __repr__(self) -> str:
        return f"<Trend of {len(self.rows)} categories over {len(self.periods)} periods: {self.tally.base()}>"


def _trends(trend: Trend) -> list[Message]:
    # Too few periods: say why, rather than nothing.
    if trend.reason:
        return [Message("trend unknown", reason=trend.reason)]
    number = sum(point.whole for point in trend.rows[0].chart.points)
    every = "" if number == len(trend.periods) else "whole "
    over = Message(f"{every}periods, {trend.period}", count=number)
    tested, beyond = [row for row in trend.rows if row.slope is not None], trend.beyond
    if not beyond:
        if len(tested) == 1:
            return [Message("no trend of one", periods=over, label=Label(tested[0].category))]
        return [Message("no trend", periods=over)]
    more = len(beyond) - _MOST
    return [
        Message("trends", count=len(beyond), tested=len(tested), periods=over),
        *(_change(row, trend.period) for row in beyond[:_MOST]),
        *([Message("more trends", count=more)] if more > 0 else []),
    ]


def _change(row: CategoryTrend, period: str) -> Message:
    slope = row.slope
    assert slope is not None
    assert row.p_adjusted is not None
    arguments = {"label": Label(row.category), "p": PValue(row.p_adjusted)}
    # The slope is too steep for an interval, though the test is sure.
    if slope.change is None or slope.low is None or slope.high is None:
        return Message("changes", **arguments)
    # In percent a period, without a sign: the verb says which way.
    ends = sorted(abs(100 * (value - 1)) for value in (slope.low, slope.high))
    low, high = ends_texts(ends[0], ends[1], digits=2)
    return Message(
        "rises" if slope.change > 1 else "falls",
        percent=Written(f"{digits_text(abs(100 * (slope.change - 1)), digits=2)}%"),
        period=Message(f"period {period}"),
        range=interval(low, f"{high}%"),
        **arguments,
    )


def _signals(trend: Trend) -> list[Message]:
    sentences = []
    for row in trend.rows:
        beyond = [trend.periods[index] for index, rule in row.chart.signals if rule == BEYOND]
        runs = [trend.periods[index] for index, rule in row.chart.signals if rule != BEYOND]
        if beyond:
            sentences.append(Message("outside limits", label=Label(row.category), periods=_periods(beyond)))
        if runs:
            sentences.append(Message("nine in a row", label=Label(row.category), period=Day(runs[-1])))
    charted = any(row.chart.center is not None for row in trend.rows)
    return sentences or ([Message("none outside limits")] if charted else [])


def _periods(labels: Sequence[str]) -> List:
    return List(tuple(Day(one_line(label)) for label in labels), _MOST)


def _partial(trend: Trend) -> list[Message]:
    if not trend.partial:
        return []
    kind = "partial periods left out" if trend.measure == "frequency" else "partial periods"
    return [Message(kind, count=len(trend.partial), periods=_periods(trend.partial))]


def _basis(trend: Trend) -> list[Message]:
    return [Message("no exposure")] if trend.measure == "frequency" else []


#: Periods, below which no slope is fitted.
_FEWEST = 4


def trends_of(
    table: Crosstab,
    categories: Sequence[str],
    *,
    measure: Measured = "frequency",
    exposures: Sequence[float] | None = None,
    units: float = 1.0,
    of: str = "",
    start: int = 1,
) -> Trend:
    """Work out the trend of categories over the periods of a two-way table.

    Parameters
    ----------
    table
        Its columns are calendar periods, in order.
    categories
        Which ones.
    measure
        What is charted: the frequency, the rate per exposure, or the percent of the records of each period.
    exposures
        What each period was counted in; for rates.
    units, of
        Rates are per so many, of what.
    start
        What the random tables begin with.

    Raises
    ------
    RankError
        If nothing can be arguments: amounts that came added up, an exposure that is not above zero where something was
        counted.

    Notes
    -----
    The trend: the score test of a log-linear Poisson trend given the total, with the exposures (`slope_of`), for all
    categories by Y. Benjamini and Y. Hochberg (JRSS B 57, 1995). The chart: `control_chart`. Records that stand for
    several occurrences: counts divided by the sum of squares over the sum.
    """
    tally = table.tally()
    sample = sample_of(tally)
    design = dict(zip(tally.categories, sample.design.tolist(), strict=True))
    places = {name: place for place, name in enumerate(table.categories)}
    basis = _divisors(table, measure, exposures)
    # A period that has not ended yet has too few counts, but not too low a rate.
    whole = np.array([label not in table.partial or measure != "frequency" for label in table.columns])
    whole &= basis > 0
    rows = []
    for name in categories:
        counts = np.array([float(value) for value in table.sum_of([places[name]])])
        chart = control_chart(
            counts, basis, whole, scale=_scale(measure, units), percent=measure == "percent", design=design[name]
        )
        slope = slope_of(
            # As many independent records as tell as much: see `sample`.
            counts / design[name],
            basis / (design[name] if measure == "percent" else 1.0),
            whole,
            percent=measure == "percent",
            start=start,
        )
        rows.append(CategoryTrend(name, tuple(counts.tolist()), chart, slope))
    unit = _unit(tally.origin.amount_unit, measure, units, of)
    number = int(whole.sum())
    few = Message("too few periods", count=number, periods=Message(f"whole periods, {table.period}", count=number))
    return Trend(
        table.origin.by or "",
        table.split,
        table.period,
        table.columns,
        table.partial,
        measure,
        unit,
        tuple(basis.tolist()) if measure == "rate" else None,
        tuple(adjusted(rows)),
        sample.words(tally.origin.amount_unit),
        tally,
        "" if number >= _FEWEST else few,
    )


def _divisors(table: Crosstab, measure: Measured, exposures: Sequence[float] | None) -> Floats:
    """Return what each period's count is divided by."""
    if measure == "percent":
        return table.column_totals.floats()
    if measure == "frequency":
        return np.ones(len(table.columns))
    if exposures is None:
        raise RankError("rates need what each period was counted in: give per")
    divisors = np.array(exposures, dtype=np.float64)
    some = table.column_totals.floats() > 0
    wrong = [label for label, bad in zip(table.columns, some & ~(divisors > 0), strict=True) if bad]
    if wrong or not np.isfinite(divisors).all():
        where = f" in {wrong[0]}" if wrong else ""
        raise RankError(f"the exposure{where} is not a number above zero, though something was counted")
    return divisors


def _scale(measure: Measured, units: float) -> float:
    return 100.0 if measure == "percent" else units if measure == "rate" else 1.0


def _unit(unit: str, measure: Measured, units: float, of: str) -> str:
    if measure == "percent":
        return "%"
    if measure == "frequency":
        return unit
    return Message(
        "unit per", unit=named_unit(unit), per=Message("per", number=units, of=of) if units != 1 else f"per {of}"
    )


def adjusted(rows: Sequence[CategoryTrend]) -> list[CategoryTrend]:
    """Return rows with their p-values adjusted for having been looked at together (Benjamini and Hochberg 1995)."""
    tested = sorted(((row.slope.p, number) for number, row in enumerate(rows) if row.slope is not None), reverse=True)
    trends, least = list(rows), 1.0
    for place, (p, index) in enumerate(tested):
        # Step-up: no p-value is larger than one further up.
        least = min(least, p * len(tested) / (len(tested) - place))
        trends[index] = replace(rows[index], p_adjusted=least)
    return trends
