"""Whether frequencies or rates change over the periods, category by category, with the chart of each."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any, Unpack

import numpy as np

from vantric.core.counts.ordering import Measured
from vantric.core.numbers.number_format import counted, digits_text, ends_texts, listed, number_text, one_line
from vantric.core.results import TableResult
from vantric.core.statistics.phrases import named, p_words
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
        Whether it rises or falls; None where that cannot be said.
    p_adjusted
        Of no trend, with the other categories in mind; None where nothing is said.
    """

    category: str
    counts: tuple[float, ...]
    chart: ControlChart
    slope: Slope | None
    p_adjusted: float | None = None

    @property
    def beyond_chance(self) -> bool:
        """Whether it rises or falls beyond chance."""
        return self.p_adjusted is not None and self.p_adjusted <= _ALPHA


@dataclass(frozen=True, eq=False, repr=False)
class Trend(TableResult):
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
        Why no trend can be said; else empty.
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
        """The categories that rise or fall beyond chance, the surest first."""
        return tuple(sorted((row for row in self.rows if row.beyond_chance), key=lambda row: row.p_adjusted or 0.0))

    def sentence(self) -> str:
        """Return which categories have a trend, which signals there are, and what must be said with it."""
        return _words(self)

    def chart(self, **options: Unpack[TrendChartOptions]) -> PanelChart:
        """Return small lines, a panel a category: center line, limits of chance, signals, marked dates."""
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


def _words(trend: Trend) -> str:
    """Return which categories have a trend, the signals, partial periods, and what the records count as."""
    parts = [_trends(trend), _signals(trend), _partial(trend), _basis_sentence(trend), trend.counted]
    return ". ".join(f"{part[:1].upper()}{part[1:]}" for part in parts if part) + "."


def _trends(trend: Trend) -> str:
    whole = sum(point.whole for point in trend.rows[0].chart.points)
    over = f"over {counted(whole, trend.period if whole == len(trend.periods) else f'whole {trend.period}')}"
    # Too few periods: say why, rather than nothing.
    if trend.reason:
        return f"whether there is a trend cannot be said: {trend.reason}"
    tested = [row for row in trend.rows if row.slope is not None]
    beyond = trend.beyond
    if not beyond:
        what = f"{named(tested[0].category)} has no trend" if len(tested) == 1 else "no category has a trend"
        return f"{over}, {what} beyond chance"
    text = listed([_change(row, trend.period) for row in beyond], most=_MOST)
    return f"{over}, beyond chance: {text}{'' if len(beyond) == len(tested) else '; no other has a trend'}"


def _change(row: CategoryTrend, period: str) -> str:
    slope = row.slope
    assert slope is not None
    assert row.p_adjusted is not None
    # The slope is too steep for an interval, though the test is sure.
    if slope.change is None or slope.low is None or slope.high is None:
        return f"{named(row.category)} changes ({p_words(row.p_adjusted)})"
    verb = "rises" if slope.change > 1 else "falls"
    # In percent a period, without a sign: the verb says which way.
    ends = sorted(abs(100 * (value - 1)) for value in (slope.low, slope.high))
    low, high = ends_texts(ends[0], ends[1], digits=2)
    return (
        f"{named(row.category)} {verb} by {digits_text(abs(100 * (slope.change - 1)), digits=2)} % a {period} "
        f"(95 % interval {low} to {high} %, {p_words(row.p_adjusted)})"
    )


def _signals(trend: Trend) -> str:
    texts = []
    for row in trend.rows:
        beyond = [trend.periods[index] for index, rule in row.chart.signals if rule == BEYOND]
        runs = [trend.periods[index] for index, rule in row.chart.signals if rule != BEYOND]
        parts = [f"{listed(beyond, most=_MOST)} beyond the limits of chance"] if beyond else []
        parts += [f"nine or more in a row on one side up to {runs[-1]}"] if runs else []
        if parts:
            texts.append(f"{named(row.category)}: {', '.join(parts)}")
    if texts:
        return f"signals: {'; '.join(texts)}"
    charted = any(row.chart.center is not None for row in trend.rows)
    return "no period is beyond the limits of chance" if charted else ""


def _partial(trend: Trend) -> str:
    if not trend.partial:
        return ""
    verb = "is a partial period" if len(trend.partial) == 1 else "are partial periods"
    out = " and left out of trend and limits" if trend.measure == "frequency" else ""
    return f"{listed([one_line(label) for label in trend.partial])} {verb}{out}"


def _basis_sentence(trend: Trend) -> str:
    if trend.measure != "frequency":
        return ""
    return f"what each {trend.period} was counted in is not known: with it (per) rates could be compared"


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
        If nothing can be said: amounts that came added up, an exposure that is not above zero where something was
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
    few = f"{counted(number, f'whole {table.period}')} {'is' if number == 1 else 'are'} too few: four are needed"
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
    return f"{unit} per {number_text(units)} {of}".replace("per 1 ", "per ") if measure == "rate" else unit


def adjusted(rows: Sequence[CategoryTrend]) -> list[CategoryTrend]:
    """Return rows with their p-values adjusted for having been looked at together (Benjamini and Hochberg 1995)."""
    tested = sorted(((row.slope.p, number) for number, row in enumerate(rows) if row.slope is not None), reverse=True)
    trends, least = list(rows), 1.0
    for place, (p, index) in enumerate(tested):
        # Step-up: no p-value is larger than one further up.
        least = min(least, p * len(tested) / (len(tested) - place))
        trends[index] = replace(rows[index], p_adjusted=least)
    return trends
