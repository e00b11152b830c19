"""Counts as they are read: checked one by one, multiplied exactly."""

from __future__ import annotations

import math
from collections.abc import Iterable
from decimal import Context, Decimal

from vantric.core.numbers.amounts import Raw
from vantric.core.numbers.parsing import parse_amount
from vantric.errors import AmountError


def checked(value: object, place: str) -> Raw:
    """Return a count that can be added up, or raise `AmountError` naming its place ("record 3")."""
    try:
        return parse_amount(value)
    except ValueError as reason:
        raise bad_amount(place, str(reason)) from None


def bad_amount(
    place: str, reason: str, way_on: str = "", *, free: bool = False, asks: Iterable[tuple[str, object]] = ()
) -> AmountError:
    """Return the error for a count that does not exist, or for a value, free to be negative, that is not a number.

    Parameters
    ----------
    place, reason
        Where, and what is wrong there.
    way_on
        How to fix it, where there is more to say than that a number is wanted.
    asks
        The answers between which the user can choose, as in `VantricError`.
    """
    what, wanted = ("value", "a number") if free else ("count", "a number of zero or more")
    fix = way_on or f"give {wanted}"
    return AmountError(f"{place}: the {what} {reason}; {fix}", hint=fix, asks=asks)


def times(amount: Raw, records: int) -> Raw:
    """Return amount x records, exact for integers and for Decimals of any length."""
    if not isinstance(amount, Decimal):
        return amount * records
    digits = len(amount.as_tuple().digits) + len(str(records))
    return Context(prec=digits).multiply(amount, Decimal(records))


def square(amount: Raw) -> float:
    """Return the square of an amount as a float; infinity beyond what one holds."""
    try:
        return float(amount) * float(amount)
    except OverflowError:
        return math.inf


def product(one: Raw, other: Raw) -> Raw:
    """Return one amount x another: exact for integers and Decimals of any length, a float if one is."""
    if isinstance(one, float) or isinstance(other, float):
        return float(one) * float(other)
    if isinstance(one, int) and isinstance(other, int):
        return one * other
    digits = sum(len(Decimal(amount).as_tuple().digits) for amount in (one, other))
    return Context(prec=max(digits, 1)).multiply(Decimal(one), Decimal(other))
