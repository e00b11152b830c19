"""Calendar periods: which one a day belongs to, and all from the first to the last."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from datetime import date, datetime, timedelta
from itertools import islice
from typing import Literal, TypeAlias, get_args

from vantric.base.lazily import compiled

#: Periods from the first to the last: of more, one of the two is a slip.
_MOST = 50_000
Period: TypeAlias = Literal["day", "week", "month", "quarter", "year"]
PERIODS: tuple[str, ...] = get_args(Period)
#: A day, with or without a time behind.
_ISO = compiled(r"(\d{4})-(\d{1,2})(?:-(\d{1,2})(?:[ T]\d{1,2}:\d{2}.*)?)?")


def parse_day(value: object) -> date:
    """Return the day of a date, a time, or their ISO 8601 text; a month alone is its first day.

    Raises
    ------
    ValueError
        With the reason as its message ("is not a date: '31.12.26' ...").
    """
    if isinstance(value, datetime):
        return value.date()
    if isinstance(value, date):
        return value
    match = _ISO.fullmatch(str(value).strip())
    if match:
        try:
            return date(int(match[1]), int(match[2]), int(match[3] or 1))
        except ValueError:  # the next form may fit
            pass
    raise ValueError(f"is not a date: '{str(value)[:40]}'; write dates as 2026-12-31")


def period_label(day: date, period: str) -> str:
    """Return the period of a day: ``2026-01-05``, ``2026-W02`` (ISO 8601), ``2026-01``, ``2026-Q1`` or ``2026``."""
    if period == "day":
        return day.isoformat()
    if period == "week":
        year, week, _ = day.isocalendar()
        return f"{year:04d}-W{week:02d}"
    if period == "month":
        return f"{day.year:04d}-{day.month:02d}"
    return f"{day.year:04d}-Q{(day.month + 2) // 3}" if period == "quarter" else f"{day.year:04d}"


#: A period as the code writes it.
_LABEL = compiled(r"(\d{4})(?:-(\d{2})(?:-(\d{2}))?|-W(\d{2})|-Q([1-4]))?")


def period_start(label: str) -> date:
    """Return the first day of a period written as `period_label` writes it.

    Raises
    ------
    ValueError
        If it is none.
    """
    match = _LABEL.fullmatch(label)
    if not match:
        raise ValueError(f"is not a period: '{label[:40]}'")
    year, month, day, week, quarter = (int(part or 0) for part in match.groups())
    if week:
        return date.fromisocalendar(year, week, 1)
    return date(year, month or 3 * (quarter or 1) - 2, day or 1)


def period_kind(labels: Iterable[str]) -> str:
    """Return the kind of period that all labels are; empty if they are none, or bare years: numbers like others."""
    kinds = set()
    for label in labels:
        match = _LABEL.fullmatch(label)
        try:
            period_start(label)
        except ValueError:  # no day of the calendar: it has no period
            return ""
        _, month, day, week, quarter = match.groups() if match else (None,) * 5
        kinds.add("day" if day else "month" if month else "week" if week else "quarter" if quarter else "")
    return kinds.pop() if len(kinds) == 1 else ""


def period_labels(first: date, last: date, period: str) -> Iterator[str]:
    """Yield every period from that of the first day to that of the last, none left out."""
    day: date | None = first
    text = ""
    while day is not None and day <= last:
        label = period_label(day, period)
        if label != text:
            yield label
            text = label
        day = _onward(day, period)
    if period_label(last, period) != text:
        yield period_label(last, period)


def every_period(first: date, last: date, period: str) -> list[str]:
    """Return all of `period_labels`.

    Raises
    ------
    ValueError
        With the reason as its message, if there are more than a chart or a table has: a year is mistyped.
    """
    texts = list(islice(period_labels(first, last, period), _MOST + 1))
    if len(texts) > _MOST:
        raise ValueError(f"from {first} to {last} there are more than {_MOST:,} {period}s; take a longer period")
    return texts


def _onward(day: date, period: str) -> date | None:
    """Return a later day, in the next period at the latest; None where the calendar ends, with the year 9999."""
    try:
        if period in {"day", "week"}:
            return day + timedelta(days=1 if period == "day" else 7)
        return (day.replace(day=1) + timedelta(days=32)).replace(day=1)
    except OverflowError:  # after the year 9999 there is nothing
        return None
