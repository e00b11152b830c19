"""Measures worked out from sums of columns: ratios, growth, differences, shares and running sums."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from fractions import Fraction
from itertools import accumulate

from vantric.core.numbers.amounts import Number

#: Measures of two columns -> the sign between these.
OF_TWO = {"ratio": "/", "percent": "/", "growth": "/", "difference": "-"}
#: Measures of one column that need all categories, in their order.
OF_ALL = ("share", "running", "running-share")
#: Measures in percent.
IN_PERCENT = ("percent", "growth", "share", "running-share")
#: Measures that have a base, without which there is no value.
WITH_BASE = ("ratio", "percent", "growth", "share", "running-share")

#: A sum of each category; None where it has no number.
Sums = Sequence[Fraction | None]


def operands(rest: str, kind: str, known: Sequence[str] = ()) -> tuple[str, str] | None:
    """Return the two columns of a measure, which may hold the sign between them; None if there are not two.

    Parameters
    ----------
    rest
        What is behind the measure's colon: ``"rejected/fired"``.
    kind
        The measure.
    known
        The columns of the source, where they are known: they say which sign parts the two.
    """
    sign = OF_TWO[kind]
    parts = rest.split(sign)
    pairs = [(sign.join(parts[:at]).strip(), sign.join(parts[at:]).strip()) for at in range(1, len(parts))]
    pairs = [pair for pair in pairs if all(pair)]
    fitting = [pair for pair in pairs if pair[0] in known and pair[1] in known]
    return next(iter(fitting or pairs), None)


def derived(kind: str, one: Sums, other: Sums = ()) -> list[Number | None]:
    """Return a measure of each category; None where a number or the base is missing, or the base is zero."""
    if kind in OF_ALL:
        return _whole(kind, one)
    work = _TWO[kind]
    return [
        None if left is None or right is None or (kind in WITH_BASE and not right) else _derived_number(work(left, right), kind)
        for left, right in zip(one, other, strict=True)
    ]


_TWO: Mapping[str, Callable[[Fraction, Fraction], Fraction]] = {
    "ratio": lambda upper, lower: upper / lower,
    "percent": lambda upper, lower: 100 * upper / lower,
    "growth": lambda new, old: 100 * (new - old) / abs(old),
    "difference": lambda one, other: one - other,
}


def _whole(kind: str, sums: Sums) -> list[Number | None]:
    """Return shares of the total, or running sums; a missing value is a gap, and the sum goes on behind it."""
    plain = [value or Fraction() for value in sums]
    total = sum(plain, Fraction())
    if kind != "running" and not total:
        return [None] * len(sums)
    found = plain if kind == "share" else list(accumulate(plain))
    scaled = found if kind == "running" else [100 * value / total for value in found]
    return [None if known is None else _derived_number(value, kind) for value, known in zip(scaled, sums, strict=True)]


def _derived_number(value: Fraction, kind: str) -> Number:
    if kind in ("difference", "running") and value.denominator == 1:
        return int(value)
    return float(value)
