"""Numbers and ranges as users write them on the command line."""

from __future__ import annotations

import math

from vantric.errors import ScaleError


def number(text: str) -> float:
    """Return a finite number, or raise `ScaleError`."""
    try:
        found = float(text)
    except ValueError:
        found = math.nan
    if not math.isfinite(found):
        raise ScaleError(f"'{text.strip()}' is no number; write it as 600 or 4.5")
    return found


def int_of(text: str) -> int:
    """Return a whole number, or raise `ScaleError`."""
    found = number(text)
    if found != int(found):
        raise ScaleError(f"'{text.strip()}' is no whole number; write it as 1 or -1")
    return int(found)


def span(text: str, *, open_ends: bool = False) -> tuple[float | None, float | None]:
    """Return the two numbers of ``0:650``; with `open_ends` either may be left out, and is None then."""
    parts = text.split(":")
    try:
        low, high = (float(part) if part.strip() else None for part in parts)
    except ValueError:
        raise ScaleError(f"a range is two numbers, such as 0:650; '{text}' is not") from None
    if not open_ends and (low is None or high is None):
        raise ScaleError(f"a range is two numbers, such as 0:650; '{text}' is not")
    return low, high
