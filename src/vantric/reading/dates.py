"""Dates as people write them, read in one style for a whole column, and the calendar period each belongs to."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Any, Literal, TypeAlias

from vantric.core.counts.provenance import Note
from vantric.core.numbers.label_order import month_words, plain_word
from vantric.core.numbers.periods import PERIODS, every_period, period_label, period_start
from vantric.errors import OptionError, SourceError, unknown
from vantric.reading.headings import is_blank
from vantric.reading.records import Records

#: Which comes first where a date is written in numbers: the day or the month; None if that is not known.
Order: TypeAlias = Literal["day", "month"] | None
#: A time behind a date: it is read and not counted by.
_TIME = r"(?:[T ,]\s*\d{1,2}[:.]\d{2}(?:[:.]\d{2}(?:[.,]\d+)?)?\s*(?:[AaPp]\.?[Mm]\.?)?\s*(?:Z|UTC|[+-]\d{2}:?\d{2})?)?"
#: A weekday before a date.
_WEEKDAY = r"(?:[^\W\d_]{2,12}\.?,?\s+)?"
#: 2026-03-04, 2026/3/4, 2026.3.4: one reading only.
_YEAR_FIRST = re.compile(
    rf"(?P<y>\d{{4}})(?P<s>[-/.])(?P<m>\d{{1,2}})(?P=s)(?P<d>\d{{1,2}}){_TIME}|"
    r"(?P<y2>\d{4})[-/](?P<m2>\d{1,2})"
)
#: 20260304: only as such a year, or numbers would be dates.
_SOLID = re.compile(r"(?P<y>(?:19|20)\d{2})(?P<m>0[1-9]|1[0-2])(?P<d>0[1-9]|[12]\d|3[01])")
#: 3/4/2026: day or month first, decided by the whole column.
_NUMBERS = re.compile(
    rf"{_WEEKDAY}(?P<a>\d{{1,2}})(?P<s>[/.-])\s?(?P<b>\d{{1,2}})(?P=s)\s?(?P<y>\d{{4}}|\d{{2}}){_TIME}"
)
#: 3/2026.
_MONTH_YEAR = re.compile(r"(?P<m>\d{1,2})[/.-](?P<y>\d{4})")
#: 4 March 2026, 4. März 26.
_DAY_NAME = re.compile(
    rf"{_WEEKDAY}(?P<d>\d{{1,2}})\.?(?:st|nd|rd|th)?[\s./-]*(?:de\s+)?(?P<n>[^\W\d_]{{3,15}})\.?,?"
    rf"[\s./-]*(?:de\s+)?"
    rf"(?P<y>\d{{4}}|'?\d{{2}}){_TIME}"
)
#: March 4, 2026.
_NAME_DAY = re.compile(
    rf"{_WEEKDAY}(?P<n>[^\W\d_]{{3,15}})\.?\s+(?P<d>\d{{1,2}})(?:st|nd|rd|th)?,?\s+(?P<y>\d{{4}}){_TIME}"
)
#: March 2026, Mar-26.
_NAME_YEAR = re.compile(
    r"(?P<n>[^\W\d_]{3,15})\.?[\s./'-]*(?P<y>\d{4}|\d{2})|(?P<y2>\d{4})[\s./-]*(?P<n2>[^\W\d_]{3,15})\.?"
)
#: 2026-W10, as ISO 8601 numbers weeks.
_WEEK = re.compile(r"(?P<y>\d{4})-?W(?P<w>0[1-9]|[1-4]\d|5[0-3])")
#: 2026 Q1, Q1/2026.
_QUARTER = re.compile(r"(?P<y>\d{4})[\s/-]?Q(?P<q>[1-4])|Q(?P<q2>[1-4])[\s/-]?(?P<y2>\d{4})")
#: Chinese, Japanese and Korean dates.
_EAST = re.compile(r"(?P<y>\d{4})\s*[年년]\s*(?P<m>\d{1,2})\s*[月월]\s*(?:(?P<d>\d{1,2})\s*[日일])?")


class AmbiguousDateError(ValueError):
    """A column of dates could be of either order; `asks` are the answers between which the user can choose."""

    def __init__(self, message: str, *, asks: Iterable[tuple[str, object]] = ()) -> None:
        super().__init__(message)
        self.asks = tuple(asks)


@dataclass(frozen=True)
class WrittenDate:
    """A date as it is written.

    Attributes
    ----------
    year, month, day
        A month alone is its first day.
    order
        Which of the numbers comes first, if it is fixed; ``"either"`` if month and day could be exchanged.
    """

    year: int
    month: int
    day: int
    either: bool = False
    fixed: Order = None

    def on(self, order: Order) -> date:
        """Return the day, its first number a day or a month."""
        if self.either and order == "month":
            return date(self.year, self.day, self.month)
        return date(self.year, self.month, self.day)


def read_date(text: str) -> WrittenDate | None:
    """Return a date taken apart; None if it is none."""
    plain = " ".join(text.split())
    for form, read in _FORMS:
        match = form.fullmatch(plain)
        date = read(match) if match else None
        if date is not None:
            return date
    return None


def _full_year(text: str) -> int:
    number = int(text.strip("'"))
    return number if number > 99 else number + (2000 if number < 69 else 1900)


def _plain(match: re.Match[str]) -> WrittenDate | None:
    words = match.groupdict()
    return _valid(int(words["y"] or words["y2"]), int(words["m"] or words["m2"]), int(words.get("d") or 1))


def _numbers(match: re.Match[str]) -> WrittenDate | None:
    first, second, year = int(match["a"]), int(match["b"]), _full_year(match["y"])
    if match["s"] == ".":  # with points the day stands first, everywhere
        return _valid(year, second, first)
    if first > 12:
        date = _valid(year, second, first)
        return date and WrittenDate(date.year, date.month, date.day, fixed="day")
    if second > 12:
        date = _valid(year, first, second)
        return date and WrittenDate(date.year, date.month, date.day, fixed="month")
    return WrittenDate(year, second, first, either=True) if first and second else None


def _week(match: re.Match[str]) -> WrittenDate | None:
    try:
        day = date.fromisocalendar(int(match["y"]), int(match["w"]), 1)
    except ValueError:  # week 53 of a year that has 52
        return None
    return WrittenDate(day.year, day.month, day.day)


def _quarter(match: re.Match[str]) -> WrittenDate | None:
    return _valid(int(match["y"] or match["y2"]), 3 * int(match["q"] or match["q2"]) - 2, 1)


def _named(match: re.Match[str]) -> WrittenDate | None:
    words = match.groupdict()
    month = month_words().get(plain_word(words["n"] or words.get("n2") or ""))
    if month is None:
        return None
    return _valid(_full_year(words["y"] or words.get("y2") or ""), month, int(words.get("d") or 1))


def _valid(year: int, month: int, day: int) -> WrittenDate | None:
    try:
        date(year, month, day)
    except ValueError:  # 30 February: this style does not fit
        return None
    return WrittenDate(year, month, day)


_FORMS: tuple[tuple[re.Pattern[str], Callable[[re.Match[str]], WrittenDate | None]], ...] = (
    (_YEAR_FIRST, _plain),
    (_SOLID, _plain),
    (_NUMBERS, _numbers),
    (_MONTH_YEAR, _plain),
    (_DAY_NAME, _named),
    (_NAME_DAY, _named),
    (_NAME_YEAR, _named),
    (_EAST, _plain),
    (_WEEK, _week),
    (_QUARTER, _quarter),
)


def order_of(values: Iterable[Any], text: str | None) -> Order:
    """Return which comes first in a column of dates.

    Parameters
    ----------
    values
        Different cells; what is no date is passed over.
    text
        What the user says by example.

    Raises
    ------
    AmbiguousDateError
        If either could, or both do: its message shows cells.
    """
    if text is not None:
        return read_order(text)
    texts: dict[str, str] = {}
    either = ""
    for value in values:
        date = read_date(value) if isinstance(value, str) else None
        if date is None:
            continue
        if date.fixed is not None:
            texts.setdefault(date.fixed, value.strip())
        elif date.either and date.day != date.month:
            either = either or value.strip()
    if len(texts) > 1:
        raise AmbiguousDateError(
            f"holds '{texts['day']}' and '{texts['month']}': in one the day stands first, in the other the month; "
            "write all dates in one way"
        )
    if not texts and either:
        raise AmbiguousDateError(
            f"holds '{either}', and no date that tells whether the day or the month stands first; say it by example, "
            'read_dates="31/12/2026" or read_dates="12/31/2026"',
            asks=[("read_dates", "31/12/2026"), ("read_dates", "12/31/2026")],
        )
    return "day" if "day" in texts else "month" if texts else None


def read_order(example: str) -> Order:
    """Return which comes first in a date that the user wrote as an example.

    Raises
    ------
    OptionError
        If it is no date, or its day could be the month.
    """
    date = read_date(example)
    if date is None:
        raise OptionError(f"read_dates is a date as an example, such as 31/12/2026, not '{example}'", value=example)
    if date.either:
        raise OptionError(
            f"read_dates: in '{example}' the first number could be the day or the month: write a last day of the year, "
            "31/12/2026 or 12/31/2026",
            value=example,
        )
    return date.fixed


def day_of(value: Any, order: Order) -> date:
    """Return the day of a cell.

    Raises
    ------
    ValueError
        With the reason as its message.
    """
    if isinstance(value, datetime):
        return value.date()
    if isinstance(value, date):
        return value
    written_date = read_date(str(value))
    if written_date is not None:
        try:
            return written_date.on(order)
        except ValueError:  # no date in this style: the caller says so with its place
            pass
    raise ValueError(f"is not a date: '{str(value).strip()[:40]}'; write dates as 2026-12-31")


#: Programs write 9999-12-31 for "never".
_LAST_TOLD = date(9998, 1, 1)
_SLACK = 3  # days, such as a weekend and a holiday
#: Empty periods that a note lists.
_GAPS = 3


def check_period(period: str) -> None:
    """Raise `SourceError` for a calendar period that does not exist."""
    if period not in PERIODS:
        raise unknown(SourceError, f"'{period}' is not a period", period, PERIODS, every=True)


def period_of(records: Records, column: str, period: str) -> Callable[[Any], str | None]:
    """Return what tells the period of a value of a column; None for a missing one."""
    order = date_order(records, column)

    def stated(value: Any) -> str | None:
        if is_blank(value):
            return None
        try:
            return period_label(day_of(value, order), period)
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


def first_and_last(records: Records, column: str) -> tuple[date, date] | None:
    """Return the first and the last day of a column; None if it holds none."""
    try:
        return _ends(records, column)
    except LookupError:  # no record has a date
        return None


def partial_periods(records: Records, column: str, period: str) -> list[Note]:
    """Report a first or a last period whose days at one end have no record: its sums look smaller than they are."""
    try:
        ends = _ends(records, column) if period != "day" else None
    except (LookupError, SourceError):  # a note must not stop what it is about
        return []
    if ends is None:
        return []
    times = len(records.groups([column]))  # different days or times
    gap = (ends[1] - ends[0]).days / max(1, times - 1)
    sure = partial_ends(ends, period, gap=gap)
    return partial_remark(records, sure or partial_ends(ends, period), drawn=bool(sure))


def partial_remark(records: Records, pairs: Sequence[tuple[str, str]], *, drawn: bool = False) -> list[Note]:
    """Return what there is to say of periods that records do not fill; a warning where they are drawn like others."""
    if not pairs:
        return []
    text = "; ".join(words for _, words in pairs)
    verb = "it is" if len(pairs) == 1 else "they are"
    message = f"{records.place}: {text}: {verb} not complete"
    if not drawn:
        return [Note("partial-period", message)]
    return [Note("partial-period", message, "warning", "leave it out, or say so beside the chart")]


def partial_ends(ends: tuple[date, date] | None, period: str, *, gap: float = 0.0) -> list[tuple[str, str]]:
    """Return the first and the last period that records do not fill, each with where it begins or ends in words.

    Parameters
    ----------
    ends
        The first and the last day.
    period
    gap
        How many days usually lie between two days with records: three such gaps are no sign that any are missing.
    """
    if period == "day" or ends is None:
        return []
    first, last = ends
    start, end = period_start(period_label(first, period)), _last_day(last, period)
    if last == period_start(period_label(last, period)):  # dates that name the period only
        return []
    slack = max(_SLACK, (end - period_start(period_label(last, period))).days // 10, _GAPS * gap)
    pairs = []
    if (first - start).days > slack:
        label = period_label(first, period)
        pairs.append((label, f"the first {period}, {label}, begins with {first}"))
    if (end - last).days > slack:
        label = period_label(last, period)
        pairs.append((label, f"the last {period}, {label}, ends with {last}"))
    return pairs


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


def _ends(records: Records, column: str) -> tuple[date, date]:
    order = date_order(records, column)
    try:
        days = [day_of(value, order) for value, _ in records.groups([column]) if not is_blank(value)]
    except ValueError as reason:
        raise _wrong_date(records, column, str(reason), order) from None
    if not days:
        raise LookupError(column)
    return min(days), max(days)


def _wrong_date(records: Records, column: str, reason: str, order: Order) -> SourceError:
    for place, value in records.values_in_order(column, numbers=True):
        try:
            if not is_blank(value):
                day_of(value, order)
        except ValueError as first:
            return SourceError(f"{records.place}, {place}: column '{column}' {first}")
    return SourceError(f"{records.place}: column '{column}' {reason}")
