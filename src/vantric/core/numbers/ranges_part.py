"""Numbers and ranges as people write them: ``0:650``."""

from __future__ import annotations

import math

from vantric.errors import OptionError


def read_number(text: str) -> float:
    """Return a finite number, or raise `OptionError`."""
    try:
        found = float(text)
    except ValueError:
        found = math.nan
    if not math.isfinite(found):
        raise OptionError(f"'{text.strip()}' is not a number; write it as 600 or 4.5", value=text)
    return int(found) if found.is_integer() and "." not in text else found


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
