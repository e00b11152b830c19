"""Whether frequencies or rates change over the periods, category by category, with the chart of each."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import TYPE_CHECKING, Any, Unpack

import numpy as np

from vantric.base.lazily import dataclass
from vantric.core.counts.ordering import Measured
from vantric.core.counts.provenance import named_unit
from vantric.core.messages.message import Day, Joined, Label, List, Message, PValue, Written, interval, labels
from vantric.core.numbers.number_format import digits_text, ends_texts, one_line
from vantric.core.results import Rows, TableResult
from vantric.core.statistics.control_charts import FEWEST_FOR_LIMITS, ControlChart, Mask, control_chart
from vantric.core.statistics.sample import sample_of
from vantric.core.statistics.trend_tests import FEWEST, PeriodChange, changes_over
from vantric.errors import RankError, unknown

if TYPE_CHECKING:
    from vantric.core.charts import PanelChart
    from vantric.core.counts.crosstab import Crosstab
    from vantric.core.counts.tally import Tally
    from vantric.core.statistics.sample import Floats
    from vantric.typing import TrendChartOptions

#: Categories that the sentence names one by one, and in a list.
_MOST, _MOST_UNCHANGED = 3, 4
#: Periods of a season; years have none.
SEASONS = {"month": 12, "quarter": 4, "week": 52, "day": 7}
#: Fewer points than this are said to be fewer.
_LEAST_EXPECTED = 0.1


@dataclass(frozen=True)
class CategoryTrend:
    """One category over the periods.

    Attributes
    ----------
    category
    counts : tuple of float, one a period
    chart
        Its values, center line, limits and signals.
    change
        Whether it changes, and in what shape; None where that cannot be said.
    divisors
        What each period was counted in, in the unit of its values.
    """

    category: str
    counts: tuple[float, ...]
    chart: ControlChart
    change: PeriodChange | None
    divisors: tuple[float, ...]

    @property
    def p_adjusted(self) -> float | None:
        """The p-value of no change, with the other categories in mind; None where nothing is said."""
        return None if self.change is None else self.change.p_adjusted

    @property
    def beyond_chance(self) -> bool:
        """Whether it changed significantly."""
        return self.change is not None and self.change.significant

    def means(self, since: int) -> tuple[float, float]:
        """Return the mean of the whole periods before a place, and of those from there on."""
        whole = [place for place, point in enumerate(self.chart.points) if point.whole and point.value is not None]
        sides = ([place for place in whole if place < since], [place for place in whole if place >= since])
        before, after = (
            sum(self.counts[place] for place in side) / sum(self.divisors[place] for place in side) for side in sides
        )
        return before, after


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
        Why no trend can be said; else empty.
    baseline
        The first and the last period that center lines and limits are of; empty for all.
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
    baseline: tuple[str, ...] = ()

    _kind = "trend"

    @property
    def beyond(self) -> tuple[CategoryTrend, ...]:
        """The categories that changed significantly, the surest first."""
        return tuple(sorted((row for row in self.rows if row.beyond_chance), key=lambda row: row.p_adjusted or 0.0))

    def sentence(self) -> Joined:
        """Return which categories changed, which signals there are, and what must be said with it."""
        return Joined([*_changes(self), *_signals(self), *_partial(self), *_basis(self), self.counted])

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


def _changes(trend: Trend) -> list[Message]:
    """Return which categories changed, in what shape, and which did not as far as these data show."""
    # Too few periods: say why, rather than nothing.
    if trend.reason:
        return [Message("trend unknown", reason=trend.reason)]
    tested = [row for row in trend.rows if row.change is not None]
    if not tested:
        return [Message("trend unknown", reason=Message("nothing varies"))]
    number = sum(point.whole for point in trend.rows[0].chart.points)
    every = "" if number == len(trend.periods) else "whole "
    over = Message(f"{every}periods, {trend.period}", count=number)
    named, drifting = trend.beyond, [row for row in tested if row.change and row.change.shape == "drift"]
    others = [row.category for row in tested if row not in named and row not in drifting]
    season = _season(trend, tested, over)
    if not named and not drifting:
        if len(tested) == 1:
            return [Message("no change of one", periods=over, label=Label(tested[0].category)), *season]
        return [Message("no change of any", periods=over, tested=len(tested)), *season]
    more = len(named) - _MOST
    lead = Message("changed over time", count=len(named), tested=len(tested), periods=over)
    if len(tested) == 1 and named:
        lead = Message("changed over time, one tested", label=Label(named[0].category), periods=over)
    return [
        lead,
        *(_change(trend, row) for row in named[:_MOST]),
        *([Message("more changed", count=more)] if more > 0 else []),
        *([_drift([row.category for row in drifting])] if drifting else []),
        *([Message("no change in", labels=labels(others, most=_MOST_UNCHANGED))] if others else []),
        *season,
    ]


def _drift(names: list[str]) -> Message:
    return Message("drifts", labels=labels(names, most=_MOST_UNCHANGED), count=len(names))


def _season(trend: Trend, tested: Sequence[CategoryTrend], over: Message) -> list[Message]:
    """Return what is to be known of seasons: that they were taken away, or cannot be told from a change."""
    if trend.period not in SEASONS:
        return []
    if any(row.change is not None and row.change.seasonal for row in tested):
        return [Message(f"season removed, {trend.period}")]
    return [Message("no season of days" if trend.period == "day" else "no season of a year", periods=over)]


def _change(trend: Trend, row: CategoryTrend) -> Message:
    change = row.change
    assert change is not None
    arguments = {"label": Label(row.category), "p": PValue(change.p_adjusted)}
    if change.shape == "steady" and change.slope is not None:
        # In percent a period, without a sign: the verb says which way.
        factor, *ends = change.slope
        low, high = ends_texts(*sorted(abs(100 * (value - 1)) for value in ends), digits=2)
        return Message(
            "rose steadily" if factor > 1 else "fell steadily",
            percent=Written(f"{digits_text(abs(100 * (factor - 1)), digits=2)}%"),
            period=Message(f"period {trend.period}"),
            range=interval(low, f"{high}%"),
            **arguments,
        )
    if change.shape == "step" and change.step is not None:
        before, since = (_average(trend, text) for text in ends_texts(*row.means(change.since), digits=3))
        return Message(
            "changed in a step",
            before=before,
            since=since,
            last=Day(one_line(trend.periods[change.since - 1])),
            ratio=Written(digits_text(change.step[0], digits=2)),
            range=interval(*ends_texts(*change.step[1:], digits=2)),
            **arguments,
        )
    return Message(f"changed, {change.shape}", **arguments)


def _average(trend: Trend, text: str) -> Message:
    """Return the mean of some periods in words: ``"30 a month"``, ``"12.1%"``, ``"1.2 records per 100 pieces"``."""
    value = Written(text)
    if trend.measure == "percent":
        return Message("percent of it", value=value)
    if trend.measure == "rate":
        return Message("value of unit", value=value, unit=named_unit(trend.unit))
    return Message("value a period", value=value, period=Message(f"period {trend.period}"))


def _signals(trend: Trend) -> list[Message]:
    """Return which points are outside the control limits, of how many, and how many chance alone would put there."""
    charted = [row for row in trend.rows if row.chart.center is not None]
    if not charted:
        return []
    number = sum(point.whole and point.value is not None for row in charted for point in row.chart.points)
    where = [
        Message("signals of", label=Label(row.category), periods=_periods([trend.periods[place] for place in places]))
        for row in charted
        if (places := [place for place, _ in row.chart.signals])
    ]
    count, expected = sum(len(row.chart.signals) for row in charted), sum(row.chart.expected for row in charted)
    by_chance = (
        Message("about so many", number=Written(f"{expected:,.1f}"))
        if expected >= _LEAST_EXPECTED
        else Message("fewer than", number=Written(f"{_LEAST_EXPECTED}"))
    )
    limits = (
        Message("outside limits", count=count, points=number, where=Joined(where[:_MOST], "; "), expected=by_chance)
        if count
        else Message("none outside limits", count=number, expected=by_chance)
    )
    left_out = sum(len(row.chart.left_out) for row in charted)
    return [
        limits,
        *([Message("left out of center", count=left_out)] if left_out else []),
        *([Message("baseline", first=Day(trend.baseline[0]), last=Day(trend.baseline[1]))] if trend.baseline else []),
    ]


def _periods(names: Sequence[str]) -> List:
    return List(tuple(Day(one_line(name)) for name in names), _MOST)


def _partial(trend: Trend) -> list[Message]:
    if not trend.partial:
        return []
    kind = "partial periods left out" if trend.measure == "frequency" else "partial periods"
    return [Message(kind, count=len(trend.partial), periods=_periods(trend.partial))]


def _basis(trend: Trend) -> list[Message]:
    return [Message("no exposure")] if trend.measure == "frequency" else []


def trends_of(
    table: Crosstab,
    categories: Sequence[str],
    *,
    measure: Measured = "frequency",
    exposures: Sequence[float] | None = None,
    units: float = 1.0,
    of: str = "",
    baseline: Sequence[str] = (),
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
    baseline
        The first and the last period that center lines and limits are of; an empty label for the end of the periods.
    start
        What the random tables begin with.

    Raises
    ------
    RankError
        If nothing can be said: amounts that came added up, an exposure that is not above zero where something was
        counted.

    Notes
    -----
    The change: `changes_over`, of all categories at once. The chart: `control_chart`. Records that stand for several
    occurrences: counts divided by the sum of squares over the sum.
    """
    tally = table.tally()
    sample = sample_of(replace(tally, repeats=None))  # how much periods differ is what is tested
    basis = _divisors(table, measure, exposures)
    # A period that has not ended yet has too few counts, but not too low a rate.
    whole = np.array([label not in table.partial or measure != "frequency" for label in table.columns])
    whole &= basis > 0
    first, last, in_baseline = _baseline(table, baseline, whole)
    design_of = dict(zip(tally.categories, sample.design.tolist(), strict=True))
    designs, scale = [design_of[name] for name in categories], _scale(measure, units)
    counts = [np.array([float(value) for value in table.sum_of([table.categories.index(name)])]) for name in categories]
    charts, changes = _charts_and_changes(
        counts, designs, basis, whole, in_baseline, (measure == "percent", scale, SEASONS.get(table.period, 1), start)
    )
    divisors = tuple((basis / scale).tolist())
    rows = [
        CategoryTrend(name, tuple(series.tolist()), chart, change, divisors)
        for name, series, chart, change in zip(categories, counts, charts, changes, strict=True)
    ]
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
        tuple(rows),
        sample.words(tally.origin) if sample.clustered else "",
        tally,
        "" if number >= FEWEST else few,
        () if in_baseline is None else (first, last),
    )


def _charts_and_changes(
    counts: Sequence[Floats],
    designs: Sequence[float],
    basis: Floats,
    whole: Mask,
    in_baseline: Mask | None,
    how: tuple[bool, float, int, int],
) -> tuple[list[ControlChart], list[PeriodChange | None]]:
    """Return the chart and the change of each category, in independent records: see `sample`."""
    percent, scale, season, start = how
    pairs = list(zip(counts, designs, strict=True))
    charts = [
        control_chart(series, basis, whole, scale=scale, percent=percent, design=design, baseline=in_baseline)
        for series, design in pairs
    ]
    # Of shares the records of a period are as few as those of the category; an exposure is what it is.
    bases = [basis / (design if percent else 1.0) for design in designs]
    independent = [series / design for series, design in pairs]
    return charts, changes_over(independent, bases, whole, season=season, percent=percent, start=start)


def _baseline(table: Crosstab, baseline: Sequence[str], whole: Mask) -> tuple[str, str, Mask | None]:
    """Return the first and the last period of the baseline, and which periods are in it; None for no baseline."""
    if not any(baseline):
        return "", "", None
    for label in filter(None, baseline):
        if label not in table.columns:
            raise unknown(RankError, f"there is no period '{label}'", label, table.columns)
    first, last = baseline[0] or table.columns[0], baseline[-1] or table.columns[-1]
    ends = table.columns.index(first), table.columns.index(last)
    in_baseline = whole & (np.arange(len(table.columns)) >= ends[0]) & (np.arange(len(table.columns)) <= ends[1])
    if int(in_baseline.sum()) < FEWEST_FOR_LIMITS:
        raise RankError(f"{first} to {last} are too few whole periods for a baseline: {FEWEST_FOR_LIMITS} are needed")
    return first, last, in_baseline


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
