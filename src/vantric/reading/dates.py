"""The calendar periods of the dates of a column: which there are, which are partial, and what is wrong with a date."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import UTC, date, datetime, timedelta
from itertools import pairwise
from math import exp, lgamma
from typing import Any

from vantric.core.counts.provenance import Note
from vantric.core.numbers.periods import PERIODS, every_period, period_label, period_start
from vantric.errors import SourceError, unknown
from vantric.reading.headings import is_blank
from vantric.reading.records import Records
from vantric.reading.written_dates import ZONE, AmbiguousDateError, Order, day_of, order_of

#: Programs write 9999-12-31 for "never".
_LAST_TOLD = date(9998, 1, 1)
#: How unlikely a gap at an end is that is told, and how rare among the others.
_CHANCE, _SHARE = 0.01, 0.02


def check_period(period: str) -> None:
    """Raise `SourceError` for a calendar period that does not exist."""
    if period not in PERIODS:
        raise unknown(SourceError, f"'{period}' is not a period", period, PERIODS, every=True)


def period_of(records: Records, column: str, period: str) -> Callable[[Any], str | None]:
    """Return what tells the period of a value of a column; None for a missing one."""
    order = date_order(records, column)
    in_one_zone = _one_zone(records, column)

    def stated(value: Any) -> str | None:
        if is_blank(value):
            return None
        try:
            return period_label(day_of(in_one_zone(value), order), period)
        except ValueError as reason:
            raise _wrong_date(records, column, str(reason), order) from None

    return stated


def all_periods(records: Records, column: str, period: str) -> list[str]:
    """Return every period from that of the first record to that of the last."""
    return periods_between(records, column, _ends(records, column), period)


def periods_between(records: Records, column: str, ends: tuple[date, date], period: str) -> list[str]:
    """Return every period from that of the first day to that of the last."""
    try:
        return every_period(*ends, period)
    except ValueError as reason:
        raise SourceError(f"{records.place}: column '{column}': {reason}") from None


def days_of(records: Records, column: str) -> list[date]:
    """Return the days of a column that have a record, ascending; none if it holds no date."""
    order = date_order(records, column)
    in_one_zone = _one_zone(records, column)
    try:
        return sorted(
            {day_of(in_one_zone(value), order) for value, _ in records.groups([column]) if not is_blank(value)}
        )
    except ValueError as reason:
        raise _wrong_date(records, column, str(reason), order) from None


def partial_periods(records: Records, column: str, period: str) -> list[Note]:
    """Report a first or a last period whose days at one end have no record: its sums look smaller than they are."""
    try:
        ends = partial_ends(days_of(records, column), period)
    except SourceError:  # a note must not stop what it is about
        return []
    return partial_remark(records, ends, drawn=True)


def partial_remark(records: Records, pairs: Sequence[tuple[str, str]], *, drawn: bool = False) -> list[Note]:
    """Return what there is to say of periods that records do not fill; a warning where they are drawn like others."""
    if not pairs:
        return []
    message = f"{records.place}: {'; '.join(words for _, words in pairs)}"
    if not drawn:
        return [Note("partial-period", message)]
    return [Note("partial-period", message, "warning", "leave it out, or say so beside the chart")]


def partial_ends(days: Sequence[date], period: str) -> list[tuple[str, str]]:
    """Return the first and the last period that records do not fill, each with what is lacking in words.

    Parameters
    ----------
    days
        The days that have a record, ascending.
    period

    Notes
    -----
    Were the n days with a record any of the D days of all periods, a gap of g days at one end would be as long by a
    chance of C(D - g, n) / C(D, n). It is told if that is at most 1%, and no more than 2% of the gaps between two days,
    one added, are as long: a log of Mondays has long gaps everywhere.
    """
    if period == "day" or not days:
        return []
    first, last = days[0], days[-1]
    start, end = period_start(period_label(first, period)), _last_day(last, period)
    inner = [(later - day).days - 1 for day, later in pairwise(days)]
    whole = (end - start).days + 1
    ends = (
        ((first - start).days, period_label(first, period), f"no records before {first}"),
        ((end - last).days, period_label(last, period), f"no records after {last}"),
    )
    return [
        (label, f"{words}: {label} may be partial")
        for gap, label, words in ends
        if gap and _chance_of_gap(gap, len(days), whole) <= _CHANCE and _share_as_long(gap, inner) <= _SHARE
    ]


def _chance_of_gap(gap: int, count: int, whole: int) -> float:
    """Return the chance that none of so many days is among the last of all."""
    if whole - gap < count:
        return 0.0
    parts = (lgamma(whole - gap + 1), -lgamma(whole - gap - count + 1), -lgamma(whole + 1), lgamma(whole - count + 1))
    return exp(sum(parts))


def _share_as_long(gap: int, inner: Sequence[int]) -> float:
    return (1 + sum(length >= gap for length in inner)) / (1 + len(inner))


def _last_day(day: date, period: str) -> date:
    if day > _LAST_TOLD:
        return day
    later = next(
        (
            date
            for more in range(1, 400)
            if period_label(date := day + timedelta(days=more), period) != period_label(day, period)
        ),
        day,
    )
    return later - timedelta(days=1)


def first_and_last_day(records: Records, column: str) -> tuple[str, str] | None:
    """Return the first and the last day of a column as ISO 8601 has them; None if it holds none."""
    try:
        first, last = _ends(records, column)
    except LookupError:  # no record has a date
        return None
    return first.isoformat(), last.isoformat()


def date_order(records: Records, column: str) -> Order:
    """Return whether the day or the month stands first in a column of dates.

    Raises
    ------
    SourceError
        If its cells do not tell, and the user does not say.
    """
    try:
        return order_of((value for value, _ in records.groups([column])), records.rules.read_dates)
    except AmbiguousDateError as reason:
        raise SourceError(f"{records.place}: column '{column}' {reason}", asks=reason.asks) from None


def _one_zone(records: Records, column: str) -> Callable[[Any], Any]:
    """Return what brings times of several zones to one, with a note; others stay as they are."""
    zones = {
        match["z"] for value, _ in records.groups([column]) if isinstance(value, str) and (match := ZONE.search(value))
    }
    if len({"+00:00" if zone in ("Z", "UTC") else zone for zone in zones}) < 2:
        return lambda value: value
    text = f"{records.place}: times of '{column}' are of different zones ({', '.join(sorted(zones))}); read in UTC"
    records.remark(Note("time-zones", text))
    return _in_utc


def _in_utc(value: Any) -> Any:
    match = ZONE.search(value) if isinstance(value, str) else None
    if match is None:
        return value
    try:
        moment = datetime.fromisoformat(value.strip().replace(" UTC", "Z").replace("UTC", "Z"))
    except ValueError:
        return value
    return moment.astimezone(UTC).replace(tzinfo=None)


def _ends(records: Records, column: str) -> tuple[date, date]:
    days = days_of(records, column)
    if not days:
        raise LookupError(column)
    return days[0], days[-1]


def _wrong_date(records: Records, column: str, reason: str, order: Order) -> SourceError:
    for place, value in records.values_in_order(column, numbers=True):
        try:
            if not is_blank(value):
                day_of(value, order)
        except ValueError as first:
            return SourceError(f"{records.place}, {place}: column '{column}' {first}")
    return SourceError(f"{records.place}: column '{column}' {reason}")
