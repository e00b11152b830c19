"""Dates as people write them, read in one style for a whole column."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Any, Literal, TypeAlias

from vantric.base.lazily import compiled
from vantric.core.numbers.label_order import month_words, plain_word
from vantric.errors import OptionError

#: Which comes first where a date is written in numbers: the day or the month; None if that is not known.
Order: TypeAlias = Literal["day", "month", "year"] | None
#: A time behind a date: it is read and not counted by.
_TIME = r"(?:[T ,]\s*\d{1,2}[:.]\d{2}(?:[:.]\d{2}(?:[.,]\d+)?)?\s*(?:[AaPp]\.?[Mm]\.?)?\s*(?:Z|UTC|[+-]\d{2}:?\d{2})?)?"
#: A weekday before a date.
_WEEKDAY = r"(?:[^\W\d_]{2,12}\.?,?\s+)?"
#: 2026-03-04, 2026/3/4, 2026.3.4: one reading only.
_YEAR_FIRST = compiled(
    rf"(?P<y>\d{{4}})(?P<s>[-/.])(?P<m>\d{{1,2}})(?P=s)(?P<d>\d{{1,2}}){_TIME}|"
    r"(?P<y2>\d{4})[-/](?P<m2>\d{1,2})"
)
#: 20260304: only as such a year, or numbers would be dates.
_SOLID = compiled(r"(?P<y>(?:19|20)\d{2})(?P<m>0[1-9]|1[0-2])(?P<d>0[1-9]|[12]\d|3[01])")
#: 3/4/2026: day or month first, decided by the whole column.
_NUMBERS = compiled(rf"{_WEEKDAY}(?P<a>\d{{1,2}})(?P<s>[/.-])\s?(?P<b>\d{{1,2}})(?P=s)\s?(?P<y>\d{{4}}|\d{{2}}){_TIME}")
#: 3/2026.
_MONTH_YEAR = compiled(r"(?P<m>\d{1,2})[/.-](?P<y>\d{4})")
#: 4 March 2026, 4. März 26.
_DAY_NAME = compiled(
    rf"{_WEEKDAY}(?P<d>\d{{1,2}})\.?(?:st|nd|rd|th)?[\s./-]*(?:de\s+)?(?P<n>[^\W\d_]{{3,15}})\.?,?"
    rf"[\s./-]*(?:de\s+)?"
    rf"(?P<y>\d{{4}}|'?\d{{2}}){_TIME}"
)
#: March 4, 2026.
_NAME_DAY = compiled(
    rf"{_WEEKDAY}(?P<n>[^\W\d_]{{3,15}})\.?\s+(?P<d>\d{{1,2}})(?:st|nd|rd|th)?,?\s+(?P<y>\d{{4}}){_TIME}"
)
#: March 2026, Mar-26.
_NAME_YEAR = compiled(
    r"(?P<n>[^\W\d_]{3,15})\.?[\s./'-]*(?P<y>\d{4}|\d{2})|(?P<y2>\d{4})[\s./-]*(?P<n2>[^\W\d_]{3,15})\.?"
)
#: 2026-W10, as ISO 8601 numbers weeks.
_WEEK = compiled(r"(?P<y>\d{4})-?W(?P<w>0[1-9]|[1-4]\d|5[0-3])")
#: 2026 Q1, Q1/2026.
_QUARTER = compiled(
    r"(?P<y>\d{4})[\s/-]?(?:Q|T|K)(?P<q>[1-4])|(?:Q|T|K)(?P<q2>[1-4])[\s/'-]?(?P<y2>\d{4}|\d{2})"
    r"|(?P<q3>[1-4])(?:Q|T|K|\. ?Quartal)[\s/'-]?(?P<y3>\d{4}|\d{2})",
    re.IGNORECASE,
)
_WEEK_WORD = r"(?:KW|CW|WK|W|week|woche|semaine|sem\.?|semana|settimana|uke|vecka|uge|týden|tydzień)[\s.]*"
#: KW 12/2026, CW12 26, Week 12, 2026.
_WEEK_NAMED = compiled(
    rf"{_WEEK_WORD}"
    r"(?P<w>[1-9]|0[1-9]|[1-4]\d|5[0-3])[\s,/'.-]+(?P<y>\d{4}|\d{2})|(?P<y2>\d{4})[\s/-]*(?:KW|CW|WK)[\s.]*(?P<w2>\d{1,2})",
    re.IGNORECASE,
)
#: A week or a quarter of any year.
_WITHOUT_YEAR = compiled(rf"{_WEEK_WORD}\d{{1,2}}|(?:Q|T|K)[1-4]|[1-4](?:Q|T|K|\. ?Quartal)", re.IGNORECASE)
#: FY26, FY 2025/26, GJ 2026: named by the year in which it ends.
_YEAR_NAMED = compiled(
    r"(?:FY|GJ|year|jahr|année|año|anno)[\s'-]*(?:(?:\d{4}|\d{2})[/-])?(?P<y>\d{4}|\d{2})", re.IGNORECASE
)
#: Offsets of times from UTC.
ZONE = compiled(r"\d{1,2}:\d{2}(?::\d{2}(?:[.,]\d+)?)?\s*(?P<z>Z|UTC|[+-]\d{2}:?\d{2})\s*$")
#: How the parts of dates with a year of two digits stand, as ``read_dates`` takes it.
_LETTERED = compiled(
    r"(?P<first>dd?|mm?|yy)[/.\s-](?:dd?|mm?)[/.\s-](?:dd?|yy)|(?P<name>mmm[/.\s'-]?yy)", re.IGNORECASE
)
#: Chinese, Japanese and Korean dates.
_EAST = compiled(r"(?P<y>\d{4})\s*[年년]\s*(?P<m>\d{1,2})\s*[月월]\s*(?:(?P<d>\d{1,2})\s*[日일])?")


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
    either, fixed
        Whether month and day could be exchanged; else which of the two comes first.
    short
        The three numbers of a date whose year has two digits: any of them may be the year.
    number
        Of a month with two digits beside its name, these: a year, or a day.
    """

    year: int
    month: int
    day: int
    either: bool = False
    fixed: Order = None
    short: tuple[int, int, int] | None = None
    number: int | None = None

    def on(self, order: Order) -> date:
        """Return the day, its first number a day, a month or a year.

        Raises
        ------
        ValueError
            If there is no such day.
        """
        if self.short is not None and order is not None:
            first, second, third = self.short
            if order == "year":
                return date(_full_year(f"{first:02}"), second, third)
            day, month = (first, second) if order == "day" else (second, first)
            return date(_full_year(f"{third:02}"), month, day)
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
    if len(match["y"]) == 2 and len(match["a"]) == 2:
        return _short(first, second, int(match["y"]))
    if first > 12:
        date = _valid(year, second, first)
        return date and WrittenDate(date.year, date.month, date.day, fixed="day")
    if second > 12:
        date = _valid(year, first, second)
        return date and WrittenDate(date.year, date.month, date.day, fixed="month")
    return WrittenDate(year, second, first, either=True) if first and second else None


def _short(first: int, second: int, third: int) -> WrittenDate | None:
    """Return a date whose year has two digits, if it is one in any order."""
    written = WrittenDate(2000, 1, 1, short=(first, second, third))
    orders = _orders(written)
    if not orders:
        return None
    day = written.on(orders[0])
    return WrittenDate(day.year, day.month, day.day, len(orders) > 1, None, (first, second, third))


def _orders(written: WrittenDate) -> list[Order]:
    """Return the orders in which the numbers of a date make a day."""
    orders: list[Order] = []
    for order in ("day", "month", "year"):
        try:
            _ = written.on(order)
        except ValueError:
            continue
        orders.append(order)
    return orders


def _week(match: re.Match[str]) -> WrittenDate | None:
    try:
        words = match.groupdict()
        week, year = words["w"] or words["w2"], words["y"] or words["y2"]
        day = date.fromisocalendar(_full_year(year), int(week), 1)
    except ValueError:  # week 53 of a year that has 52
        return None
    return WrittenDate(day.year, day.month, day.day)


def _quarter(match: re.Match[str]) -> WrittenDate | None:
    year, quarter = (next(match[f"{name}{place}"] for place in ("", 2, 3) if match[f"{name}{place}"]) for name in "yq")
    return _valid(_full_year(year), 3 * int(quarter) - 2, 1)


def _year(match: re.Match[str]) -> WrittenDate | None:
    return _valid(_full_year(match["y"]), 1, 1)


def _named(match: re.Match[str]) -> WrittenDate | None:
    words = match.groupdict()
    month = month_words().get(plain_word(words["n"] or words.get("n2") or ""))
    if month is None:
        return None
    year = words["y"] or words.get("y2") or ""
    written = _valid(_full_year(year), month, int(words.get("d") or 1))
    if written is None or words.get("d") or len(year) != 2:
        return written
    return WrittenDate(written.year, month, 1, number=int(year))


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
    (_WEEK_NAMED, _week),
    (_QUARTER, _quarter),
    (_YEAR_NAMED, _year),
)


@dataclass
class _Gathered:
    """The dates of a column by how they are written.

    Attributes
    ----------
    fixed
        Order -> the first date that only that order fits.
    either
        The first date whose day and month could be exchanged.
    short, named
        Dates whose year has two digits, in numbers and beside the name of a month.
    typed
        Dates that are no text.
    """

    fixed: dict[str, str] = field(default_factory=dict)
    either: str = ""
    short: dict[str, WrittenDate] = field(default_factory=dict)
    named: dict[str, WrittenDate] = field(default_factory=dict)
    typed: list[date] = field(default_factory=list)


def _gathered(values: Iterable[Any]) -> _Gathered:
    gathered = _Gathered()
    for value in values:
        if isinstance(value, date):
            gathered.typed.append(value)
        written = read_date(value) if isinstance(value, str) else None
        if written is None:
            continue
        text = value.strip()
        if written.short is not None:
            gathered.short[text] = written
        elif written.fixed is not None:
            gathered.fixed.setdefault(written.fixed, text)
        elif written.either and written.day != written.month:
            gathered.either = gathered.either or text
        elif written.number is not None:
            gathered.named[text] = written
    return gathered


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
    gathered = _gathered(values)
    texts, either = gathered.fixed, gathered.either
    _check_turned(gathered.typed, texts)
    _check_named(gathered.named)
    if gathered.short and not texts and not either:
        return _short_order(gathered.short)
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


def _check_turned(typed: Sequence[date], texts: Mapping[str, str]) -> None:
    """Raise `AmbiguousDateError` for real dates beside text of an order in which half of them may have been turned."""
    if texts and typed and all(day.day <= _MONTHS for day in typed):
        text = next(iter(texts.values()))
        raise AmbiguousDateError(
            f"holds real dates beside '{text}' as text, and no real date has a day after the 12th: a program may have "
            "exchanged day and month where it could; read the source again, or say how dates are written with "
            "read_dates if the real ones are right",
            asks=[("read_dates", "31/12/2026" if "day" in texts else "12/31/2026")],
        )


_MONTHS = 12
#: Two digits beside the name of a month that are a recent year where every month has the same ones.
_RECENT = 20


def _check_named(named: Mapping[str, WrittenDate]) -> None:
    """Raise `AmbiguousDateError` for months with two digits that may be days."""
    numbers = {written.number or 0 for written in named.values()}
    same_year = len(numbers) == 1 and min(numbers) >= _RECENT
    if named and not same_year and max(numbers) <= 31 and min(numbers) > 0:
        raise AmbiguousDateError(
            f"holds '{next(iter(named))}': are the two digits a year or a day? say read_dates=\"mmm-yy\" if they are a "
            "year; write days with their year",
            asks=[("read_dates", "mmm-yy")],
        )


def _short_order(shorts: Mapping[str, WrittenDate]) -> Order:
    """Return the order of dates whose years have two digits: the only possible one, or that of dates close together."""
    orders = [order for order in ("day", "month", "year") if all(order in _orders(date) for date in shorts.values())]
    doubted: list[Order] = ["year"] if "year" in orders and len(orders) > 1 else []
    for order in [*doubted, *(order for order in ("day", "month") if doubted and order in orders)]:
        days = [written.on(order) for written in shorts.values()]
        # A column has more days than years: what is read otherwise stands in another order.
        if len({day.year for day in days}) > len({day.day for day in days}):
            orders.remove(order)  # type: ignore[arg-type]
    if len(orders) == 1:
        return orders[0]  # type: ignore[return-value]
    readings = {tuple(written.on(order) for written in shorts.values()) for order in orders}  # type: ignore[arg-type]
    if len(readings) == 1:
        return orders[0]  # type: ignore[return-value]
    forms = {"day": "dd-mm-yy", "month": "mm-dd-yy", "year": "yy-mm-dd"}
    listed = " or ".join(f'read_dates="{forms[order]}"' for order in orders)
    raise AmbiguousDateError(
        f"holds '{next(iter(shorts))}', and no date tells which of its numbers is the year, the month and the day; say "
        f"it with {listed or 'dates in one way'}",
        asks=[("read_dates", forms[order]) for order in orders],
    )


def read_order(example: str) -> Order:
    """Return which comes first in a date that the user wrote as an example.

    Raises
    ------
    OptionError
        If it is no date, or its day could be the month.
    """
    lettered = _LETTERED.fullmatch(example.strip())
    if lettered:
        first = (lettered["first"] or "y")[0].casefold()
        return {"d": "day", "m": "month", "y": "year"}[first]  # type: ignore[return-value]
    date = read_date(example)
    if date is not None and date.short is not None:
        day, month = (order for order in ("day", "month"))
        orders = _orders(date)
        if len(set(orders) & {day, month}) == 1:
            return next(order for order in orders if order in (day, month))
    if date is None:
        raise OptionError(f"read_dates is a date as an example, such as 31/12/2026, not '{example}'", value=example)
    if date.either:
        raise OptionError(
            f"read_dates: in '{example}' the first number could be the day or the month: write a last day of the year, "
            "31/12/2026 or 12/31/2026",
            value=example,
        )
    return date.fixed


def in_iso(condition: str, order: Order) -> str:
    """Return a condition whose dates, as the sheet writes them, are in the form that every engine reads.

    Parameters
    ----------
    condition
        Of SQL; what stands in quotation marks and is a date is written as ISO 8601 has it.
    order
        Of the column of dates.
    """

    def iso(match: re.Match[str]) -> str:
        written = read_date(match[1]) if _DATED.search(match[1]) else None
        try:
            return match[0] if written is None else f"'{written.on(order)}'"
        except ValueError:
            return match[0]

    return _QUOTED.sub(iso, condition)


_QUOTED = compiled(r"'([^']{6,30})'")
#: A date that ISO 8601 has not so.
_DATED = compiled(r"^(?!\d{4}-\d{2}-\d{2})(?=.*\d)")


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
    text = str(value).strip()[:40]
    if _WITHOUT_YEAR.fullmatch(text) or plain_word(text) in month_words():
        raise ValueError(f"has no year: '{text}'; write weeks as 2026-W09, months as 2026-03, quarters as 2026-Q1")
    raise ValueError(f"is not a date: '{text}'; write dates as 2026-12-31")
