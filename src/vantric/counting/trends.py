"""A source becomes trends: counted by category and calendar period, divided by what each period was counted in."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from vantric.core.counts.crosstab import Crosstab
from vantric.core.counts.ordering import RankSettings
from vantric.core.numbers.amounts import Amounts, Raw
from vantric.counting.count_records import cross, crossed
from vantric.counting.exposures import as_number
from vantric.counting.repeated_records import ONCE, is_once, taken_once
from vantric.engines.materialize import materialized
from vantric.engines.opening import with_records
from vantric.errors import ColumnError, unknown
from vantric.reading.dates import period_of
from vantric.reading.records import Records
from vantric.reading.settings import CountSettings, CrosstabSettings, ReadSettings, TrendSettings, check_columns

if TYPE_CHECKING:  # with NumPy and SciPy, after the reading
    from vantric.core.statistics import Trend

_MOST = 12  # categories, where none is named


def trends_in(data: Any, settings: TrendSettings, counting: CountSettings, opening: ReadSettings) -> Trend:
    """Read, count by category and period, and work out the trends.

    Raises
    ------
    VantricError
        If the data cannot be read or counted, or no trend can be worked out.
    """
    from vantric.core.statistics import trends_of

    if settings.split_columns:
        return _over_columns(data, settings, counting, opening)
    if counting.date is None:
        raise ColumnError("a trend is over a column of dates: name it with date")
    if counting.by is None:
        raise ColumnError("a trend is of the labels of a column: name it with by")
    data = materialized(data)  # what can be read once is read twice
    table = cross(data, counting, opening, split=counting.date, period=settings.period)
    measure = settings.measure or ("frequency" if settings.per is None else "rate")
    exposures, of = _exposures(data, table, settings, counting.date, opening)
    return trends_of(
        table,
        _categories(table, settings),
        measure=measure,
        exposures=exposures,
        units=float(settings.per_units),
        of=settings.per_name or of,
        baseline=settings.baseline,
    )


def _over_columns(data: Any, settings: TrendSettings, counting: CountSettings, opening: ReadSettings) -> Trend:
    """Return the trends over columns that are periods, in the order of the sheet."""
    from vantric.core.statistics import trends_of

    if counting.date is not None or isinstance(settings.per, str):
        raise ColumnError("split_columns are the periods, and hold the counts: leave date, and a column for per, out")
    table = crossed(data, counting, opening, CrosstabSettings(split_columns=settings.split_columns))
    table = replace(table, period=settings.period)
    measure = settings.measure or ("frequency" if settings.per is None else "rate")
    exposures, of = _exposures(data, table, settings, "", opening)
    units, of = float(settings.per_units), settings.per_name or of
    categories = _categories(table, settings)
    return trends_of(
        table, categories, measure=measure, exposures=exposures, units=units, of=of, baseline=settings.baseline
    )


def _categories(table: Crosstab, settings: TrendSettings) -> tuple[str, ...]:
    """Return the categories that are named, else the vital few."""
    for name in settings.categories:
        if name not in table.categories:
            raise unknown(ColumnError, f"'{table.origin.by}' has no '{name}'", name, table.categories)
    if settings.categories:
        return tuple(dict.fromkeys(settings.categories))
    from vantric.core.counts.pareto import pareto

    cut = pareto(table.tally(), RankSettings(cut=80)).cutoff
    return cut.categories[:_MOST] if cut else table.categories[:_MOST]


def _exposures(
    data: Any, table: Crosstab, settings: TrendSettings, date: str, opening: ReadSettings
) -> tuple[tuple[float, ...] | None, str]:
    """Return what each period was counted in, and what that is called."""
    per = settings.per
    if per is None:
        return None, ""
    if isinstance(per, Mapping):
        lacking = [label for label in table.columns if label not in per]
        if lacking:
            raise ColumnError(f"there is no exposure for {lacking[0]}; give one a period")
        return tuple(float(per[label]) for label in table.columns), "units"
    number = as_number(per)
    if number is not None:
        return (float(number),) * len(table.columns), "units"
    if data == "-":
        raise ColumnError("standard input can be read once only: rates per a column need a file")
    column = str(per)
    sums = with_records(
        data,
        opening,
        [date, column.removeprefix(ONCE)],
        lambda records: _summed(records, date, column, settings.period),
    )
    return tuple(float(Amounts.of(sums.get(label, [])).total) for label in table.columns), column.removeprefix(ONCE)


def _summed(records: Records, date: str, per: str, period: str) -> dict[str | None, list[Raw]]:
    """Add a column up by period, over all records, those without a label too."""
    named = period_of(records, date, period)
    heaps: dict[str | None, list[Raw]] = {}
    if is_once(per, records.names()):
        values, _ = taken_once(records, date, per.removeprefix(ONCE))
        for day, amount in values.items():
            heaps.setdefault(named(day), []).append(amount)
        return heaps
    check_columns([per], records.names(), records.place)
    for day, _, amount in records.sums([date], per):
        heaps.setdefault(named(day), []).append(amount)
    return heaps
