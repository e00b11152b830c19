"""Numbers of all statements: p-values, chances, coefficients, with no more digits than they bear."""

from __future__ import annotations

import math
from dataclasses import dataclass

from vantric.core.messages.formatter import Argument, Formatter
from vantric.core.messages.message import Message, Written

#: Smaller p-values are said to be smaller.
_TINY = 0.001


def p_words(p: float) -> str:
    """Return a p-value with no more digits than it bears: ``"p = 0.03"``, ``"p < 0.001"``."""
    if p < _TINY:
        return f"p < {_TINY}"
    if p >= 0.995:
        return "p = 1"
    return f"p = {p:.3f}" if p < 0.0995 else f"p = {p:.2f}"


@dataclass(frozen=True)
class PValue(Argument):
    """A p-value, as `p_words` writes it."""

    p: float

    def text_in(self, formatter: Formatter) -> str:
        """Return the p-value with the marks of the formatter."""
        sign, _, number = p_words(self.p).rpartition(" ")
        return f"{sign} {formatter.number(number)}"


def chance_text(chance: float) -> Message:
    """Return a chance in whole percent, which never says certain or impossible."""
    if chance >= 0.995:
        return Message("over", percent=Written("99%"))
    if chance < 0.005:
        return Message("under", percent=Written("1%"))
    return Message("percent only", percent=Written(f"{100 * chance:.0f}%"))


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
