"""Labels of any kind as text."""

from __future__ import annotations

from datetime import date, datetime
from decimal import Decimal
from enum import Enum

from vantric.errors import SourceError


def label_text(value: object) -> str | None:
    """Return a label in plain form; None if it is missing.

    Whole floats lose their point (a column of numbers with a gap arrives as floats), and a time of midnight is a date.
    """
    if type(value) is str:
        return value
    if value is None or type(value).__name__ in {"NAType", "NaTType"}:
        return None
    if isinstance(value, Enum):
        return label_text(value.value)
    if isinstance(value, str):
        return str(value)
    if isinstance(value, list | tuple | dict | set | frozenset):
        raise SourceError(f"a label is text, a number or a date, not a {type(value).__name__}: {str(value)[:40]}")
    if hasattr(value, "item") and getattr(value, "shape", None) == ():
        value = value.item()
    if isinstance(value, float | Decimal):
        return None if value != value else str(value) if isinstance(value, Decimal) else _plain_float(value)
    if isinstance(value, date):
        return _plain_date(value)
    if isinstance(value, bytes):
        return value.decode("utf-8", "backslashreplace")
    return str(value)


def _plain_date(value: date) -> str:
    if not isinstance(value, datetime):
        return value.isoformat()
    midnight = (value.hour, value.minute, value.second, value.microsecond) == (0, 0, 0, 0)
    return value.date().isoformat() if midnight and value.tzinfo is None else value.isoformat(sep=" ")


def _plain_float(value: float) -> str:
    return str(int(value)) if value.is_integer() and abs(value) < 1e16 else repr(value)
