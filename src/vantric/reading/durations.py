"""Times and durations as quantities in minutes: ``3:20``, ``1h 20m``, ``1 d 2:30:00``; marks of check sheets."""

from __future__ import annotations

import re
from collections.abc import Sequence
from datetime import date, datetime, time, timedelta
from decimal import Decimal, localcontext

from vantric.base.lazily import compiled

#: How two numbers with a colon may be meant, as ``read_numbers`` takes it.
HOURS, MINUTES = "h:mm", "mm:ss"
#: Marks of a check sheet: what each is counted as.
MARKS = "x"
_MARKED = {
    **dict.fromkeys(
        ("x", "✓", "✔", "√", "☑", "☒", "✗", "✘", "true", "yes", "ja", "oui", "sí", "si", "wahr", "vrai"), 1
    ),
    **dict.fromkeys(("☐", "false", "no", "nein", "non", "falsch", "faux"), 0),
}
#: Letters say what each number is.
LETTERS = "1h 20m"
#: In which unit each style is written; all are held in minutes.
UNITS = {HOURS: "h:mm", LETTERS: "h:mm", MINUTES: "mm:ss"}
_TWO = compiled(r"\s*(-)?(\d{1,5}):([0-5]\d)\s*")
_THREE = compiled(
    r"\s*(-)?(?:(\d{1,4})\s*(?:d|days?|tage?|jours?|días?|\.)?,?\s+|(\d{1,4})\.)?(\d{1,5}):([0-5]\d):([0-5]\d(?:[.,]\d+)?)\s*"
)
_PIECE = compiled(
    r"(\d+(?:[.,]\d+)?)\s*(d|days?|tage?|jours?|h|hrs?|hours?|std\.?|stunden?|heures?|horas?|ore?|min\.?|mins|minutes?|minuten?"
    r"|minutos?|m|s|sec\.?|secs|seconds?|sek\.?|sekunden?)(?![^\W\d_])",
    re.IGNORECASE,
)
_ISO = compiled(r"\s*p(?:(\d+)d)?(?:t(?:(\d+)h)?(?:(\d+)m)?(?:(\d+(?:\.\d+)?)s)?)?\s*", re.IGNORECASE)
#: Headings that say how two numbers with a colon are meant.
_HEADED = (
    (
        re.compile(r"\b(?:h{1,2}:mm?|hours?|hrs?|h|std|stunden|heures|horas|ore)\b(?!:)|\bh{1,2}:mm?\b", re.IGNORECASE),
        HOURS,
    ),
    (re.compile(r"\b(?:mm?:ss|min|mins|minutes?|minuten|minutos?)\b", re.IGNORECASE), MINUTES),
)
#: Years before 1901 are how some programs save a duration of a day and more.
_FIRST_YEAR, _DAY_ZERO = 1901, datetime(1899, 12, 30)


def is_duration(text: str) -> bool:
    """Whether a cell is a time or a duration, however it is written."""
    return bool(_TWO.fullmatch(text) or _THREE.fullmatch(text) or _pieces(text) or _iso(text))


def is_odd_number(text: str) -> bool:
    """Whether a cell is no number as others are, and is counted all the same: a duration, a mark."""
    return is_duration(text) or is_mark(text)


def is_mark(text: str) -> bool:
    """Whether a cell is a mark of a check sheet."""
    return text.strip().casefold() in _MARKED


def clock_styles(cells: Sequence[str], heading: str = "") -> tuple[str, ...]:
    """Return how a column of times may be meant; several where it must be asked, nothing where it holds none.

    Parameters
    ----------
    cells
        Different texts that are not blank.
    heading
        Of the column: ``"Downtime (h:mm)"`` decides.
    """
    if cells and all(cell.strip().casefold() in _MARKED for cell in cells):
        return (MARKS,)
    if not cells or not all(map(is_duration, cells)):
        return ()
    if not any(":" in cell for cell in cells):
        letters = {_unit(unit) for cell in cells for _, unit in _PIECE.findall(cell)}
        return (LETTERS,) if len(letters) > 1 or any(map(_iso, cells)) else ()
    if not any(map(_TWO.fullmatch, cells)) or any(map(_THREE.fullmatch, cells)):
        return (HOURS,)
    return next(((style,) for form, style in _HEADED if form.search(heading)), (HOURS, MINUTES))


def minutes_of(text: str, style: str) -> Decimal:
    """Return a time or a duration in minutes.

    Raises
    ------
    ValueError
        If it is none.
    """
    if style == MARKS:
        if text.strip().casefold() not in _MARKED:
            raise ValueError(f"is not a mark: '{text.strip()[:40]}'")
        return Decimal(_MARKED[text.strip().casefold()])
    two, three, iso = _TWO.fullmatch(text), _THREE.fullmatch(text), _iso(text)
    if two:
        hours = Decimal(two[2]) * (60 if style != MINUTES else 1)
        return _signed(hours + (Decimal(two[3]) if style != MINUTES else _divided(Decimal(two[3]))), two[1])
    if three:
        days = Decimal(three[2] or three[3] or 0)
        seconds = Decimal(three[6].replace(",", "."))
        return _signed(days * 1440 + Decimal(three[4]) * 60 + Decimal(three[5]) + _divided(seconds), three[1])
    if iso:
        return iso[0] * 1440 + iso[1] * 60 + iso[2] + _divided(iso[3])
    pieces = _pieces(text)
    if not pieces:
        raise ValueError(f"is not a duration: '{text.strip()[:40]}'")
    return sum((_divided(number * _SECONDS[unit]) for number, unit in pieces), Decimal(0))


def minutes_in(value: timedelta | time | datetime) -> Decimal | None:
    """Return a time or a duration of a typed cell in minutes; None for a date."""
    if isinstance(value, datetime):
        if value.year >= _FIRST_YEAR:
            return None
        value = value.replace(tzinfo=None) - _DAY_ZERO
    if isinstance(value, time):
        value = timedelta(hours=value.hour, minutes=value.minute, seconds=value.second, microseconds=value.microsecond)
    return _divided(Decimal(value.days) * 86400 + value.seconds + Decimal(value.microseconds).scaleb(-6))


def is_clock(value: object) -> bool:
    """Whether a typed cell is a time or a duration."""
    is_time = isinstance(value, time | timedelta)
    return is_time or (isinstance(value, datetime) and isinstance(value, date) and value.year < _FIRST_YEAR)


_SECONDS = {"d": 86400, "h": 3600, "m": 60, "s": 1}
_FIRST_LETTERS = {"t": "d", "j": "d", "o": "h"}


def _unit(text: str) -> str:
    if text.casefold().startswith("st"):  # Stunden
        return "h"
    first = text[0].casefold()
    return _FIRST_LETTERS.get(first, first)


def _pieces(text: str) -> list[tuple[Decimal, str]]:
    """Return the numbers of a duration in letters, each with its unit; nothing if it is none."""
    matches = _PIECE.findall(text)
    if not matches or _PIECE.sub("", text).strip(" ,\u00a0"):
        return []
    units = [_unit(unit) for _, unit in matches]
    if units != sorted(set(units), key="dhms".index):
        return []
    return [(Decimal(number.replace(",", ".")), unit) for (number, _), unit in zip(matches, units, strict=True)]


def _iso(text: str) -> tuple[Decimal, Decimal, Decimal, Decimal] | None:
    match = _ISO.fullmatch(text)
    if match is None or not any(match.groups()):
        return None
    days, hours, minutes, seconds = (Decimal(part or 0) for part in match.groups())
    return days, hours, minutes, seconds


def _divided(seconds: Decimal) -> Decimal:
    """Return seconds in minutes, to a trillionth."""
    with localcontext() as context:
        context.prec = 40
        minutes = (seconds / 60).quantize(Decimal("1e-12")).normalize()
    return minutes if minutes.as_tuple().exponent < 0 else minutes.quantize(Decimal(1))  # type: ignore[operator]


def _signed(minutes: Decimal, sign: str | None) -> Decimal:
    return -minutes if sign else minutes
