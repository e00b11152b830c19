"""The order a reader expects of labels: "2" before "10", upper and lower case together."""

from __future__ import annotations

import re
from typing import Any

_DIGITS = re.compile(r"([0-9]+)")


def natural_key(label: str) -> tuple[tuple[str | tuple[int, str], ...], str]:
    """Return a sort key under which runs of digits compare as numbers and letters without case.

    The label itself stands last in the key, so that the order is total: labels that differ never tie.
    """
    parts: list[Any] = _DIGITS.split(label.casefold())  # text, digits, text, digits, ... so kinds never meet
    if len(parts) > 1:
        parts[1::2] = map(_magnitude, parts[1::2])
    return tuple(parts), label


def _magnitude(digits: str) -> tuple[int, str]:
    """Return what orders a run of digits by value without making an integer of ten thousand of them."""
    plain = digits.lstrip("0")
    return len(plain), plain
