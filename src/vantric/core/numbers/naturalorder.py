"""The order a reader expects of labels: "2" before "10", upper and lower case together."""

from __future__ import annotations

import re

_DIGITS = re.compile(r"([0-9]+)")


def natural_key(label: str) -> tuple[tuple[str | tuple[int, str], ...], str]:
    """Return a sort key under which runs of digits compare as numbers and letters without case.

    The label itself stands last in the key, so that the order is total: labels that differ never tie.
    """
    parts = _DIGITS.split(label.casefold())  # text, digits, text, digits, ... so kinds never meet
    return tuple(_magnitude(part) if place % 2 else part for place, part in enumerate(parts)), label


def _magnitude(digits: str) -> tuple[int, str]:
    """Return what orders a run of digits by value without making an integer of ten thousand of them."""
    plain = digits.lstrip("0")
    return len(plain), plain
