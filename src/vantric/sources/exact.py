"""Counts as they are read: checked one by one, multiplied exactly."""

from __future__ import annotations

from decimal import Context, Decimal

from vantric.core.numbers.amounts import Raw, parse_amount
from vantric.errors import AmountError


def checked(value: object, place: str) -> Raw:
    """Return a count that can be added up, or raise `AmountError` naming its place ("record 3")."""
    try:
        return parse_amount(value)
    except ValueError as reason:
        raise bad_amount(place, str(reason)) from None


def bad_amount(place: str, reason: str) -> AmountError:
    """Return the error for a count that is none."""
    return AmountError(f"{place}: the count {reason}; give a number of zero or more")


def times(amount: Raw, records: int) -> Raw:
    """Return amount x records, exact for integers and for Decimals of any length."""
    if not isinstance(amount, Decimal):
        return amount * records
    digits = len(amount.as_tuple().digits) + len(str(records))
    return Context(prec=digits).multiply(amount, Decimal(records))
