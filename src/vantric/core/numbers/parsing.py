"""Numbers and ranges from text (``0:650``) and from the numbers of any library, exactly."""

from __future__ import annotations

import math
from decimal import Decimal, InvalidOperation

from vantric.core.numbers.amounts import LARGEST, LARGEST_EXPONENT, Raw
from vantric.errors import OptionError


def read_number(text: str) -> float:
    """Return a finite number, or raise `OptionError`."""
    try:
        number = float(text)
    except ValueError:  # refused below, as "nan" and "inf" are
        number = math.nan
    if not math.isfinite(number):
        raise OptionError(f"'{text.strip()}' is not a number; write it as 600 or 4.5", value=text)
    return int(number) if number.is_integer() and "." not in text else number


def read_range(text: str) -> tuple[float, float]:
    """Return the two numbers of ``0:650``, or raise `OptionError`."""
    low, high = read_limits(text)
    if low is None or high is None:
        raise _no_range(text)
    return low, high


def read_limits(text: str) -> tuple[float | None, float | None]:
    """Return the two numbers of ``0:650``; either may be left out, and is None then."""
    parts = text.split(":")
    try:
        low, high = (float(part) if part.strip() else None for part in parts)
    except ValueError:
        raise _no_range(text) from None
    return low, high


def _no_range(text: str) -> OptionError:
    return OptionError(f"a range is two numbers, such as 0:650; '{text}' is not", value=text)


def parse_amount(value: object) -> Raw:
    """Return a count or weight as an int, a float or a Decimal.

    Parameters
    ----------
    value
        A number of Python, NumPy or `decimal`, or its text (``"12"``, ``" 12.50 "``, ``"1e3"``).

    Raises
    ------
    ValueError
        With the reason as its message, ready to be behind the place ("is negative: -3").
    """
    number = parse_number(value)
    if number < 0:
        raise ValueError(f"is negative: {value}")
    return number


def parse_number(value: object) -> Raw:
    """Return a finite number of either sign; takes and raises as `parse_amount` does."""
    number = _as_number(value)
    if isinstance(number, float) and not math.isfinite(number):
        raise ValueError("is missing" if math.isnan(number) else f"is not finite: {number}")
    far = isinstance(number, Decimal) and number and abs(number.adjusted()) > LARGEST_EXPONENT
    if far or (not isinstance(number, Decimal) and abs(number) > LARGEST):
        raise ValueError(f"is out of range: {_quoted(value)}")
    return number


def _as_number(value: object) -> Raw:
    if hasattr(value, "item") and getattr(value, "shape", None) == ():  # a scalar of NumPy
        value = value.item()
    if isinstance(value, str):
        return _from_text(value)
    if isinstance(value, int | float):
        return int(value) if isinstance(value, bool) else value
    if isinstance(value, Decimal):
        if value.is_nan():
            raise ValueError("is missing")
        if value.is_infinite():
            raise ValueError(f"is not finite: {value}")
        return value
    if value is None or type(value).__name__ in {"NAType", "NaTType"}:
        raise ValueError("is missing")
    raise ValueError(f"is not a number: {_quoted(value)}")


def _from_text(text: str) -> Raw:
    plain = text.strip()
    if not plain:
        raise ValueError("is missing")
    try:
        if not plain.isascii() or "_" in plain:
            raise InvalidOperation
        number = Decimal(plain)
    except InvalidOperation:
        raise ValueError(f"is not a number: {_quoted(text)}") from None
    if not number.is_finite():
        raise ValueError(f"is not a number: {_quoted(text)}")
    return number


def _quoted(value: object) -> str:
    text = " ".join(str(value).split())
    return f"'{text[:40]}...'" if len(text) > 43 else f"'{text}'"
