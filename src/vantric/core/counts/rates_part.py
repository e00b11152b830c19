"""Frequencies divided by what they happened in: pieces inspected, hours run."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace

from vantric.core.counts.tally import MISSING_LABEL, Tally
from vantric.core.numbers.amounts import Amounts, Number
from vantric.core.numbers.number_format import number_text, quoted
from vantric.errors import AmountError, CountError

Exposure = Number | Mapping[str, Number]


def rated(tally: Tally, exposure: Exposure, *, units: Number = 1, of: str = "unit") -> Tally:
    """Turn the frequencies of a tally into rates; the counts stay beside them.

    Parameters
    ----------
    tally
        What was counted.
    exposure
        What it was counted in: one number for all categories, or one a category.
    units
        The rate is per so many: 1, 100, 1000000.
    of
        What the exposure is, such as ``"pieces"``.

    Raises
    ------
    CountError
        If an exposure is missing, zero, negative or not finite: which category it is.
    """
    if not _fine(units):
        raise CountError(f"a rate is per a number above zero, such as 100; {units} is not")
    if isinstance(exposure, Mapping):
        shares = _each(tally, exposure, of)
    elif _fine(exposure):
        shares = [exposure] * len(tally.categories)
    else:
        raise CountError(f"rates are per a number of {of} above zero; {exposure} is not")
    try:
        values = [frequency * units / share for frequency, share in zip(tally.frequency.values(), shares, strict=True)]
        rates = Amounts.of([float(value) for value in values])
    except (OverflowError, AmountError):
        raise CountError(f"a rate is out of range: a frequency is divided by too small a number of {of}") from None
    words = f"per {singular(of)}" if units == 1 else f"per {number_text(units)} {of}"
    return replace(
        tally,
        frequency=rates,
        counts=tally.plain_counts,
        exposure=Amounts.of(shares),
        origin=replace(tally.origin, per=words),
    )


def singular(noun: str) -> str:
    """Return one of what an English column name says in the plural: "pieces" is a piece."""
    return noun[:-1] if noun.endswith("s") and not noun.endswith(("ss", "us", "is")) else noun


def _fine(number: object) -> bool:
    plain = isinstance(number, int | float) and not isinstance(number, bool)
    return plain and math.isfinite(number) and number > 0  # type: ignore[arg-type, operator]


def _each(tally: Tally, exposure: Mapping[str, Number], of: str) -> list[Number]:
    lacking = [name for name in tally.categories if name not in exposure and name != MISSING_LABEL]
    if lacking:
        raise CountError(f"there is no number of {of} for {quoted(lacking)}; give one a category")
    wrong = [name for name in tally.categories if not _fine(exposure.get(name, 0))]
    if wrong:
        raise CountError(f"the number of {of} for {quoted(wrong)} is not above zero: there is no rate")
    return [exposure[name] for name in tally.categories]
