"""How a column, or the product of two, is added up exactly in an engine that has 64-bit integers and floats.

Integers are added up as they are, or in two halves of 32 bits. Decimals are added up as decimals, if the engine's
product has all their digits. Floats are rounded to multiples of 2**-k, whose sum is exact in 53 bits (or as integers in
63), and what the rounding left is added up beside: it is too small for its own rounding to show. The extremes of the
columns tell whether a strategy is right; if it is not, the next one is taken.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import field
from decimal import Decimal
from fractions import Fraction
from typing import Any

from vantric.base.lazily import dataclass
from vantric.core.numbers.amounts import Raw
from vantric.engines.frame_table import Column, ColumnType, FrameTable


class InexactError(Exception):
    """The engine's sum is not what was asked for."""


@dataclass(frozen=True)
class ValueRange:
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

    def joined(self, other: ValueRange) -> ValueRange:
        """Return the span of both."""
        ends = [
            end for value_range in (self, other) for end in (value_range.least, value_range.most) if end is not None
        ]
        return ValueRange(self.valid + other.valid, min(ends, default=None), max(ends, default=None))


@dataclass(frozen=True)
class SumStrategy:
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


def cut(table: FrameTable, number: Column, powers: tuple[int, ...]) -> SumStrategy:
    """Return floats cut into integers of some powers of two, and what remains."""
    parts: list[tuple[Fraction | int, Column]] = []
    for power in powers:
        integers = table.floor(number * 2.0**power)
        parts.append((Fraction(2) ** -power, integers))
        number = number - table.real(integers) * 2.0**-power
    steps = [Fraction(2) ** -power for power in powers]
    return SumStrategy(tuple(parts), number, kind="cut", step=steps[0], rest_step=steps[-1])


def in_halves(table: FrameTable, terms: list[tuple[int, Column]]) -> SumStrategy:
    """Return integers, each with what it counts for, in halves of 32 bits."""
    parts: list[tuple[Fraction | int, Column]] = []
    for factor, column in terms:
        upper, lower = table.halves(column)
        parts += [(factor * 2**32, upper), (factor, lower)]
    return SumStrategy(tuple(parts), kind="halves")


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


#: Bits of a 64-bit integer without its sign.
_BITS = 63
#: Half a unit in the last place of 1.0.
_EPSILON = 2.0**-53
_MOST_ERROR = 2e-13  # of a sum of floats, relative
#: Bits of a float's mantissa.
_FLOAT_BITS = 53
_FIRST_POWER = 10  # bits after the point where nothing is known of the floats: sums up to 2**41 are exact
_MORE = 30  # bits after those of the first integers, of the second ones
_DIGITS = 38  # of decimals, in every engine
#: Beyond it 2**k or 2**-k leave the floats.
_LARGEST_POWER = 900


@dataclass(frozen=True)
class Addition:
    """A sum that is wanted, of one column or of the products of two.

    Attributes
    ----------
    columns
    types
        What they hold.
    squares
        Whether the sum of the squares is wanted beside.
    added
        Whether the sum is wanted, and not only what the columns hold.
    name
        What its columns are called in the aggregation: ``"n0"`` its number, ``"p0"`` what is added up first.
    """

    columns: tuple[str, ...]
    types: tuple[ColumnType, ...] = field(repr=False)
    squares: bool = False
    added: bool = True
    name: str = "0"

    @property
    def kind(self) -> str:
        """Return what is added up: floats if one column has them, else decimals, else integers."""
        kinds = {column_type.kind for column_type in self.types}
        return "real" if "real" in kinds else "exact" if "exact" in kinds else "whole"

    def number(self, table: FrameTable, *, clean: bool) -> Column:
        """Return what is added up as 64-bit floats: a column of the aggregation."""
        return table.refer(f"n{self.name}", self.made_number(table, clean=clean))

    def made_number(self, table: FrameTable, *, clean: bool) -> Column:
        """Return how the number is made."""
        values = [
            table.real(table.column(name), clean=clean and of.kind == "real")
            for name, of in zip(self.columns, self.types, strict=True)
        ]
        return values[0] if len(values) == 1 else values[0] * values[1]

    def first_strategy(self, table: FrameTable, *, clean: bool = False) -> SumStrategy | None:
        """Return the quickest way where nothing is known of the columns; None if their extremes must be known first."""
        if self.kind == "real":
            return self._steps(table, _FIRST_POWER, clean=clean)
        return self._exactly(table) if self.kind == "exact" else self._plainly(table)

    def known_strategy(
        self, table: FrameTable, spans: Mapping[str, ValueRange], rows: int, *, grouped: bool, clean: bool
    ) -> SumStrategy | None:
        """Return the quickest way that is right for columns of some extremes; None if there is none.

        Parameters
        ----------
        table
        spans
            Of the columns in all records.
        rows
            How many records a group may have.
        grouped
            Whether there are keys.
        clean
            Whether NaN is missing.
        """
        sizes = [spans[name].size for name in self.columns]
        most = math.prod(sizes) * rows
        if self.kind == "exact":
            return self._exactly(table) or self._fitting(table, sizes, rows)
        if self.kind == "whole":
            return self._plainly(table) if most < 2**_BITS else self._halved(table, sizes, rows)
        if table.compensates and grouped and all((spans[name].least or 0) >= 0 for name in self.columns):
            return SumStrategy((), self.number(table, clean=clean), kind="whole floats")
        power = _FLOAT_BITS - 3 - bits_of(Fraction(most))
        return self._steps(table, power, clean=clean) if abs(power) <= _LARGEST_POWER else None

    def next_strategy(
        self, table: FrameTable, spans: Mapping[str, ValueRange], rows: int, *, clean: bool
    ) -> SumStrategy | None:
        """Return the way that is right where the quickest one is not; None if there is none."""
        sizes = [spans[name].size for name in self.columns]
        if self.kind == "exact":
            return self._fitting(table, sizes, rows)
        if self.kind == "whole":
            return self._halved(table, sizes, rows)
        power = _BITS - 2 - bits_of(Fraction(math.prod(sizes) * rows))
        if abs(power) > _LARGEST_POWER or rows.bit_length() + _MORE >= _BITS:
            return None
        return cut(table, self.number(table, clean=clean), (power, power + _MORE))

    def _steps(self, table: FrameTable, power: int, *, clean: bool) -> SumStrategy:
        """Return floats rounded to multiples of 2**-power, by adding and taking away what has no digits below that."""
        number = self.number(table, clean=clean)
        shift = 1.5 * 2.0 ** (_FLOAT_BITS - 1 - power)
        rounded = (number + shift) - shift
        step = Fraction(2) ** -power
        rest = number - table.refer(f"p{self.name}_0", rounded)
        return SumStrategy(((1, rounded),), rest, kind="steps", step=step, rest_step=step / 2)

    def _plainly(self, table: FrameTable) -> SumStrategy:
        whole = [table.whole(table.column(name)) for name in self.columns]
        return SumStrategy(((1, whole[0] if len(whole) == 1 else table.times(*whole)),))

    def _exactly(self, table: FrameTable) -> SumStrategy | None:
        column = table.column(self.columns[0])
        if len(self.columns) == 2:
            column = table.times(column, table.column(self.columns[1]))
            if not self._keeps(table, column):
                return None
        return SumStrategy(((1, column),), kind="exact")

    def _keeps(self, table: FrameTable, product: Column) -> bool:
        """Whether a product of decimals has all their digits after the point."""
        column_type = table.type_of(product)
        return column_type.kind == "exact" and column_type.scale == sum(item.scale for item in self.types)

    def _fitting(self, table: FrameTable, sizes: list[Fraction], rows: int) -> SumStrategy | None:
        """Return decimals of no more digits than they need, so that the product has room for all of them."""
        digits = [len(str(int(size))) + column_type.scale for size, column_type in zip(sizes, self.types, strict=True)]
        if sum(digits) + 1 + len(str(rows)) > _DIGITS:
            return None
        columns = [
            table.decimal(table.column(name), most, column_type.scale)
            for name, most, column_type in zip(self.columns, digits, self.types, strict=True)
        ]
        product = columns[0] if len(columns) == 1 else table.times(*columns)
        return SumStrategy(((1, product),), kind="exact") if len(columns) == 1 or self._keeps(table, product) else None

    def _halved(self, table: FrameTable, sizes: list[Fraction], rows: int) -> SumStrategy | None:
        if rows.bit_length() > 31:
            return None
        columns = [table.column(name) for name in self.columns]
        if len(columns) == 1:
            wide = self.types[0].wide
            return in_halves(table, [(1, columns[0] if wide and sizes[0] >= 2**63 else table.whole(columns[0]))])
        if max(sizes) >= 2**63:
            return None
        small, large = sorted(zip(sizes, columns, strict=True), key=lambda pair: pair[0])
        item, other = table.whole(small[1]), table.whole(large[1])
        if sizes[0] * sizes[1] < 2**63:
            return in_halves(table, [(1, table.times(item, other))])
        if small[0] >= 2**31:
            return None
        upper, lower = table.halves(other)
        return in_halves(table, [(2**32, table.times(item, upper)), (1, table.times(item, lower))])

    def total(
        self, strategy: SumStrategy, sums: list[Any], rest: Any, spans: Mapping[str, ValueRange], rows: int
    ) -> Raw:
        """Return the exact sum of a group.

        Raises
        ------
        InexactError
            If the extremes do not promise that it is.
        """
        mine = [spans[name] for name in self.columns]
        if not all(value_range.valid for value_range in mine):
            return 0.0 if self.kind == "real" else 0
        if self.kind == "real":
            return self._real(strategy, sums, rest, mine, rows)
        most = math.prod(value_range.size for value_range in mine) * rows
        if strategy.kind == "exact":
            digits = sum(column_type.scale for column_type in self.types)
            if most * 10**digits >= 10**_DIGITS or not isinstance(sums[0], Decimal | int):
                raise InexactError
            return sums[0]
        if strategy.kind == "whole" and most >= 2**_BITS:
            raise InexactError
        return int(sum(factor * whole_of(own) for (factor, _), own in zip(strategy.parts, sums, strict=True)))

    def _real(self, strategy: SumStrategy, sums: list[Any], rest: Any, mine: list[ValueRange], rows: int) -> float:
        if rest is None or not math.isfinite(rest) or not all(value_range.finite for value_range in mine):
            raise InexactError
        if strategy.kind == "whole floats":
            return float(rest)
        bits = _FLOAT_BITS - 2 if strategy.kind == "steps" else _BITS - 1
        if math.prod(value_range.size for value_range in mine) * rows >= strategy.step * 2**bits:
            raise InexactError
        if strategy.kind == "steps":
            whole = sum(map(Fraction, sums), Fraction())
        else:
            parts = zip(strategy.parts, sums, strict=True)
            whole = sum((Fraction(factor) * whole_of(own) for (factor, _), own in parts), Fraction())
        total = whole + Fraction(rest)
        if not total and not rest and all((value_range.least or 0) >= 0 for value_range in mine):
            return 0.0  # of numbers that are not negative: all of them are zero
        left = min(
            rows * strategy.rest_step, abs(Fraction(rest)) if strategy.kind == "cut" else rows * strategy.rest_step
        )
        if rows * _EPSILON * left > _MOST_ERROR * abs(total):
            raise InexactError
        return float(total)
