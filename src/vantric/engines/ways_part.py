"""What is asked of an engine for one exact sum: its columns, and what the extremes of a column say."""

from __future__ import annotations

import math
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from vantric.engines.frame_table import Column, Table


class InexactError(Exception):
    """The engine's sum is not what was asked for."""


@dataclass(frozen=True)
class Span:
    """What a column holds in a group, or in all: how many values, the least and the most of them."""

    valid: int = 0
    least: Any = None
    most: Any = None

    @property
    def size(self) -> Fraction:
        """Return the largest absolute value."""
        return max((abs(Fraction(end)) for end in (self.least, self.most) if end is not None), default=Fraction())

    @property
    def finite(self) -> bool:
        """Whether there is no NaN or infinity, as far as the extremes tell."""
        return all(end is None or math.isfinite(end) for end in (self.least, self.most))

    def joined(self, other: Span) -> Span:
        """Return the span of both."""
        ends = [end for one in (self, other) for end in (one.least, one.most) if end is not None]
        return Span(self.valid + other.valid, min(ends, default=None), max(ends, default=None))


@dataclass(frozen=True)
class Way:
    """What is added up in the engine for one sum.

    Attributes
    ----------
    parts
        (what it counts for, column) of each sum of integers, decimals, or floats that are multiples of `step`.
    rest
        Floats that are added up as they are.
    kind
        Of the parts: ``"whole"``, ``"halves"``, ``"exact"``, ``"steps"`` (floats), ``"cut"`` (floats as integers), or
        ``"whole floats"`` where the engine compensates its sums itself.
    step
        What the first parts of floats are multiples of.
    rest_step
        What remains of each float is smaller than this.
    """

    parts: tuple[tuple[Fraction | int, Column], ...]
    rest: Column | None = None
    kind: str = "whole"
    step: Fraction = Fraction(1)
    rest_step: Fraction = Fraction()


def cut(table: Table, number: Column, powers: tuple[int, ...]) -> Way:
    """Return floats cut into integers of some powers of two, and what remains."""
    parts: list[tuple[Fraction | int, Column]] = []
    for power in powers:
        integers = table.floor(number * 2.0**power)
        parts.append((Fraction(2) ** -power, integers))
        number = number - table.real(integers) * 2.0**-power
    steps = [Fraction(2) ** -power for power in powers]
    return Way(tuple(parts), number, kind="cut", step=steps[0], rest_step=steps[-1])


def in_halves(table: Table, terms: list[tuple[int, Column]]) -> Way:
    """Return integers, each with what it counts for, in halves of 32 bits."""
    parts: list[tuple[Fraction | int, Column]] = []
    for factor, column in terms:
        upper, lower = table.halves(column)
        parts += [(factor * 2**32, upper), (factor, lower)]
    return Way(tuple(parts), kind="halves")


def bits_of(size: Fraction) -> int:
    """Return the least n with size <= 2**n."""
    if not size:
        return 0
    return math.ceil(size).bit_length() if size >= 1 else -(math.floor(1 / size).bit_length() - 1)


def whole_of(value: Any) -> int:
    """Return a sum of integers as such.

    Raises
    ------
    InexactError
        If it is missing, or a float that may have lost some of it.
    """
    if value is None or (isinstance(value, float) and not (value.is_integer() and abs(value) < 2**53)):
        raise InexactError
    return int(value)
