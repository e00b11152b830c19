"""What a frame can be asked, whichever library it is of."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from vantric.reading.records import Group

#: A column as the engine sees it: an expression of the library's own, with ``*``, ``-`` and ``+``.
Column = Any
Kind = Literal["whole", "exact", "real", "text", "mixed", "truth", "other"]
Result = Literal["rows", "valid", "sum", "least", "most"]


@dataclass(frozen=True)
class ColumnType:
    """What a column holds.

    Attributes
    ----------
    kind
        Integers, decimals, binary floats, text, values of any kind, truths, or others.
    digits, scale
        Of decimals: how many digits in all, and how many of them after the point.
    wide
        Whether integers may pass 64 bits with a sign.
    """

    kind: Kind
    digits: int = 0
    scale: int = 0
    wide: bool = False


class Table(ABC):
    """A frame whose columns can be computed with and grouped.

    Attributes
    ----------
    names
        Of the columns, as the user knows them.
    types
        Name -> what the column holds.
    complains
        Whether the engine raises an error where a value does not fit, which is then no failure of its own; else the
        result is missing or saturated there.
    apart
        Whether extremes of whole columns are told quickest by an aggregation of their own.
    compensates
        Whether sums of floats by keys are compensated for what each addition rounds.
    """

    names: tuple[str, ...]
    types: Mapping[str, ColumnType]
    complains = True
    apart = True
    compensates = False

    @abstractmethod
    def column(self, name: str) -> Column:
        """Return a column."""

    @abstractmethod
    def whole(self, column: Column) -> Column:
        """Return integers of any width as such of 64 bits."""

    @abstractmethod
    def real(self, column: Column, *, clean: bool = False) -> Column:
        """Return numbers as 64-bit floats; NaN as missing if they are to be `clean`."""

    @abstractmethod
    def floor(self, column: Column) -> Column:
        """Return floats as the integers below them, of 64 bits; what is beyond these is some integer."""

    @abstractmethod
    def halves(self, column: Column) -> tuple[Column, Column]:
        """Return integers as (x // 2**32, x % 2**32)."""

    @abstractmethod
    def decimal(self, column: Column, digits: int, scale: int) -> Column:
        """Return integers or decimals as decimals of so many digits; an error, now or later, if the library cannot."""

    def times(self, one: Column, other: Column) -> Column:
        """Return a product; beyond 64 bits it is missing, another number, or an error."""
        return one * other

    def refer(self, name: str, column: Column) -> Column:
        """Return a column that is made in an earlier step of an aggregation, by the name it has there."""
        return column

    @abstractmethod
    def type_of(self, column: Column) -> ColumnType:
        """Return what a computed column holds."""

    @abstractmethod
    def grouped(
        self, keys: Sequence[str], made: Sequence[Mapping[str, Column]], results: Sequence[tuple[Result, str]]
    ) -> list[Group]:
        """Return (value of each key, each result) for every combination of values, missing ones too.

        Parameters
        ----------
        keys
            Names of columns, all different; without any there is one group.
        made
            Name -> computed column, step by step: those of a step may refer to those before.
        results
            What is wanted of which computed column; ``"rows"`` is of none.
        """

    @abstractmethod
    def head(self, rows: int) -> list[Group]:
        """Return the first records."""

    @abstractmethod
    def units(self, keys: Sequence[str], unit: str) -> list[Group]:
        """Return (value of each key, number of different texts, records without one) for every combination."""

    @abstractmethod
    def without_codes(self, codes: Sequence[str]) -> Table:
        """Return the frame with codes in its columns of text as missing."""

    @abstractmethod
    def without_label(self, column: str, value: Any) -> Table:
        """Return the frame without the records that have a value in a column."""

    #: Whether the records have an order; what is below is asked of such frames only.
    ordered = False

    def rows(self) -> int:
        """Return the number of records."""
        raise NotImplementedError

    def records(self, names: Sequence[str]) -> Iterable[Group]:
        """Return the values of some columns, record by record."""
        raise NotImplementedError

    def filled_down(self, names: Sequence[str]) -> Table:
        """Return the frame with each missing value of some columns taken from the record before."""
        raise NotImplementedError

    def without(self, places: Sequence[int]) -> Table:
        """Return the frame without the records of some numbers, counted from 0."""
        raise NotImplementedError

    def levels(self, column: str) -> list[Any] | None:
        """Return the categories of a column that have an order of their own; None if it has none."""
        raise NotImplementedError

    def different(self, column: str) -> list[Any]:
        """Return the different values of a column in the order of their first records."""
        raise NotImplementedError
