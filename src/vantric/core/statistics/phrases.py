"""Phrases of all statements: p-values, chances, labels, as they can be read to someone without statistics."""

from __future__ import annotations

import math

from vantric.core.numbers.number_format import one_line

#: A label in a sentence is cut beyond this.
_LONGEST = 40
#: Smaller p-values are said to be smaller.
_TINY = 0.001


def p_words(p: float) -> str:
    """Return a p-value with no more digits than it bears: ``"p = 0.03"``, ``"p < 0.001"``."""
    if p < _TINY:
        return f"p < {_TINY}"
    if p >= 0.995:
        return "p = 1"
    return f"p = {p:.3f}" if p < 0.0995 else f"p = {p:.2f}"


def chance_words(chance: float) -> str:
    """Return a chance in whole percent, which never says certain or impossible."""
    if chance >= 0.995:
        return "over 99 %"
    return "under 1 %" if chance < 0.005 else f"{100 * chance:.0f} %"


def named(label: str) -> str:
    """Return a label as it is cited in a sentence."""
    return f"“{one_line(label, longest=_LONGEST)}”"


def coefficient(value: float) -> str:
    """Return a number from -1 to 1 with two decimals; one that is not exact is never shown as 1."""
    if math.isnan(value):
        return "none"
    text = f"{value:.2f}"
    for more in (3, 4, 5):
        if abs(float(text)) < 1 or abs(value) == 1:
            break
        text = f"{value:.{more}f}"
    return text.replace("-0.00", "0.00") if float(text) == 0 else text
