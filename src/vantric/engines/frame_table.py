"""What a frame can be asked, whichever library it is of, and how narwhals answers."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Iterable, Mapping, Sequence
from typing import Any, Literal

import narwhals as nw

from vantric.base.lazily import dataclass
from vantric.errors import SourceError
from vantric.reading.headings import BETWEEN
from vantric.reading.records import Group

#: A column as the engine sees it: an expression of the library's own, with ``*``, ``-`` and ``+``.
Column = Any
#: What a column holds: integers, decimals, floats, ...
Kind = Literal["whole", "exact", "real", "text", "mixed", "truth", "other"]
#: What is asked of a column within a group.
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


class FrameTable(ABC):
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
        Whether extremes of whole columns are found quickest by an aggregation of their own.
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

    def times(self, item: Column, other: Column) -> Column:
        """Return a product; beyond 64 bits it is missing, another number, or an error."""
        return item * other

    def refer(self, name: str, column: Column) -> Column:
        """Return a column that is made in an earlier step of an aggregation, by the name it has there."""
        return column

    @abstractmethod
    def type_of(self, column: Column) -> ColumnType:
        """Return what a computed column holds."""

    @abstractmethod
    def grouped(
        self, keys: Sequence[str], columns: Sequence[Mapping[str, Column]], results: Sequence[tuple[Result, str]]
    ) -> list[Group]:
        """Return (value of each key, each result) for every combination of values, missing ones too.

        Parameters
        ----------
        keys
            Names of columns, all different; without any there is one group.
        columns
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
    def without_codes(self, codes: Sequence[str]) -> FrameTable:
        """Return the frame with codes in its columns of text as missing."""

    def with_pairs(self, columns: Sequence[str], name: str) -> FrameTable:
        """Return the frame with a column of that name that joins the labels of several; missing where one is."""
        raise SourceError("labels of several columns cannot be joined in this kind of frame; name one column")

    @abstractmethod
    def without_label(self, column: str, value: Any) -> FrameTable:
        """Return the frame without the records that have a value in a column."""

    def with_dittos(self, column: str, marks: Sequence[str]) -> FrameTable:
        """Return the frame with marks in a column of text as the label above them."""
        raise NotImplementedError

    #: Whether the records have an order; what is below is asked of such frames only.
    ordered = False

    def rows(self) -> int:
        """Return the number of records."""
        raise NotImplementedError

    def records(self, names: Sequence[str]) -> Iterable[Group]:
        """Return the values of some columns, record by record."""
        raise NotImplementedError

    def filled_down(self, names: Sequence[str]) -> FrameTable:
        """Return the frame with each missing value of some columns taken from the record before."""
        raise NotImplementedError

    def without(self, places: Sequence[int]) -> FrameTable:
        """Return the frame without the records of some numbers, counted from 0."""
        raise NotImplementedError

    def levels(self, column: str) -> list[Any] | None:
        """Return the categories of a column that have an order of their own; None if it has none."""
        raise NotImplementedError

    def different(self, column: str) -> list[Any]:
        """Return the different values of a column in the order of their first records."""
        raise NotImplementedError


#: What the upper half of a 64-bit integer counts.
_HALF = 2**32
#: Floats beyond are no integers of 64 bits with room for a sum: the extremes of the column tell that there are such.
MOST = 2.0**62
#: The name of the column of places, which no source has.
_AT = "vantric: at"


def type_named(kind: Any) -> ColumnType:
    """Return what a column of a type of narwhals holds."""
    if kind.is_integer():
        return ColumnType("whole", wide=kind in (nw.UInt64, nw.Int128, nw.UInt128))
    if kind.is_float():
        return ColumnType("real")
    if kind == nw.Decimal:
        return ColumnType("exact", getattr(kind, "precision", 38), getattr(kind, "scale", 0))
    if kind in (nw.String, nw.Categorical, nw.Enum):
        return ColumnType("text")
    return ColumnType("mixed" if kind == nw.Object else "truth" if kind == nw.Boolean else "other")


class NarwhalsTable(FrameTable):
    """A frame that narwhals speaks for.

    Parameters
    ----------
    view
        The frame as narwhals sees it.
    names
        What the user calls its columns, if it does not call them so itself.
    """

    def __init__(self, view: Any, names: Sequence[str] | None = None) -> None:
        self._frame = view
        self._schema = view.collect_schema()
        own = self._schema.names()
        self.names = tuple(map(str, own if names is None else names))
        self._own = dict(zip(self.names, own, strict=True))
        self.types = {name: type_named(self._schema[of]) for name, of in self._own.items()}
        self.ordered = isinstance(view, nw.DataFrame)
        self.compensates = view.implementation.is_pandas()
        self._gaps = view.implementation.is_pandas_like()  # NaN is what is missing there

    def _with(self, frame: Any) -> NarwhalsTable:
        return type(self)(frame, self.names)

    def column(self, name: str) -> Column:
        """Return a column; see `Table.column`."""
        return self._col(name)

    def _col(self, name: str) -> Any:
        """Return a column as narwhals has it, whatever the algebra of the engine is."""
        return nw.col(self._own[name])

    def whole(self, column: Column) -> Column:
        """Return integers of 64 bits; see `Table.whole`."""
        return column.cast(nw.Int64)

    def real(self, column: Column, *, clean: bool = False) -> Column:
        """Return 64-bit floats; see `Table.real`."""
        number = column.cast(nw.Float64)
        return nw.when(~number.is_nan()).then(number) if clean else number

    def floor(self, column: Column) -> Column:
        """Return the integers below; see `Table.floor`."""
        column = column.fill_null(0.0) if self._gaps else column
        return column.clip(-MOST, MOST).floor().cast(nw.Int64)

    def halves(self, column: Column) -> tuple[Column, Column]:
        """Return both halves; what is left of the upper one is a float that holds it exactly."""
        low = column % _HALF
        return ((column - low).cast(nw.Float64) * (1.0 / _HALF)).cast(nw.Int64), low

    def decimal(self, column: Column, digits: int, scale: int) -> Column:
        """Return decimals; see `Table.decimal`."""
        return column.cast(nw.Decimal(digits, scale))

    def refer(self, name: str, column: Column) -> Column:
        """Return a column by its name; see `Table.refer`."""
        return nw.col(name)

    def type_of(self, column: Column) -> ColumnType:
        """Return what a column holds; see `Table.type_of`."""
        frame = self._frame.head(0) if self.ordered else self._frame
        return type_named(frame.select(column.alias(_AT)).collect_schema()[_AT])

    def grouped(
        self, keys: Sequence[str], contents: Sequence[Mapping[str, Column]], results: Sequence[tuple[Result, str]]
    ) -> list[Group]:
        """Group in the engine; see `Table.grouped`."""
        values = [_result(kind, name).alias(f"r{place}") for place, (kind, name) in enumerate(results)]
        if not keys and not any(contents):
            return self._rows(self._frame.select(*values))
        frame = self._staged(keys, contents)
        if not keys:
            return self._rows(frame.select(*values))
        plain = [f"k{place}" for place in range(len(keys))]
        return self._rows(frame.group_by(*plain, drop_null_keys=False).agg(*values))

    def _staged(self, keys: Sequence[str], contents: Sequence[Mapping[str, Column]]) -> Any:
        """Return a frame of the keys, as k0, k1 ..., and of what is computed, step by step."""
        frame = self._frame.lazy() if self.ordered and self._frame.implementation.is_polars() else self._frame
        values = [self._col(key).alias(f"k{place}") for place, key in enumerate(keys)]
        for index, step in enumerate(contents or [{}]):
            own = [column.alias(name) for name, column in step.items()]
            frame = frame.with_columns(*own) if index else frame.select(*values, *own)
        return frame

    def head(self, rows: int) -> list[Group]:
        """Return the first records."""
        return self._rows(self._frame.head(rows))

    def _rows(self, frame: Any) -> list[Group]:
        """Return a small result as tuples; a DuckDB relation hands its integers over unnarrowed."""
        native = frame.to_native()
        if frame.implementation.is_duckdb():
            return list(native.fetchall())
        if frame.implementation.is_spark_like():
            return [tuple(row) for row in native.collect()]
        eager = frame.collect() if isinstance(frame, nw.LazyFrame) else frame
        return list(eager.iter_rows())

    def units(self, keys: Sequence[str], unit: str) -> list[Group]:
        """Count different texts in the engine; see `Table.units`."""
        plain = [f"k{place}" for place in range(len(keys))]
        values = [self._col(key).alias(own) for key, own in zip(keys, plain, strict=True)]
        text = self._col(unit).cast(nw.String)
        blank = (text.is_null() | (text.str.strip_chars() == "")).alias("blank")
        pairs = self._frame.select(*values, text.alias("u"), blank)
        pairs = pairs.group_by(*plain, "u", "blank", drop_null_keys=False).agg(nw.len().alias("n"))
        with_unit, without = (
            nw.when(~nw.col("blank")).then(1).otherwise(0).alias("one"),
            nw.when(nw.col("blank")).then(nw.col("n")).otherwise(0).alias("without"),
        )
        counted = pairs.select(*plain, with_unit, without)
        pair = (nw.col("one").sum(), nw.col("without").sum())
        if not plain:
            return self._rows(counted.select(*pair))
        return self._rows(counted.group_by(*plain, drop_null_keys=False).agg(*pair))

    def without_codes(self, codes: Sequence[str]) -> FrameTable:
        """Return the frame with codes as missing; see `Table.without_codes`."""
        return self._with(
            self._frame.select(
                nw.when(~nw.col(own).cast(nw.String).is_in(list(codes))).then(nw.col(own)).alias(own)
                if self.types[name].kind in ("text", "mixed")
                else nw.col(own)
                for name, own in self._own.items()
            )
        )

    def with_pairs(self, columns: Sequence[str], name: str) -> FrameTable:
        """Return the frame with pairs; see `Table.with_pairs`."""
        texts = [nw.col(self._own[column]).cast(nw.String) for column in columns]
        blank = nw.any_horizontal(*(text.str.strip_chars() == "" for text in texts), ignore_nulls=True)
        joined = nw.concat_str(*texts, separator=BETWEEN)
        frame = self._frame.with_columns(nw.when(~blank).then(joined).alias(name))
        return type(self)(frame, (*self.names, name))

    def without_label(self, column: str, value: Any) -> FrameTable:
        """Return the frame without a label; see `Table.without_label`."""
        own = self._col(column)
        return self._with(self._frame.filter((own != value) | own.is_null()))

    def with_dittos(self, column: str, marks: Sequence[str]) -> FrameTable:
        """Return the frame with marks as the label above them; see `Table.with_dittos`."""
        text = self._col(column).cast(nw.String)
        is_mark = text.str.strip_chars().str.to_lowercase().is_in(list(marks)).fill_null(value=False)
        above = nw.when(~is_mark).then(text.fill_null("")).fill_null(strategy="forward")
        return self._with(self._frame.with_columns(above.fill_null(text).alias(self._own[column])))

    def rows(self) -> int:
        """Return the number of records."""
        return len(self._frame)

    def records(self, names: Sequence[str]) -> Iterable[Group]:
        """Return values record by record; see `Table.records`."""
        records: Iterable[Group] = self._frame.select(*map(self._col, names)).iter_rows() if names else ()
        return records

    def filled_down(self, names: Sequence[str]) -> FrameTable:
        """Return the frame filled down; see `Table.filled_down`."""
        return self._with(self._frame.with_columns(self._col(name).fill_null(strategy="forward") for name in names))

    def without(self, places: Sequence[int]) -> FrameTable:
        """Return the frame without records; see `Table.without`."""
        return self._with(self._frame.with_row_index(_AT).filter(~nw.col(_AT).is_in(list(places))).drop(_AT))

    def levels(self, column: str) -> list[Any] | None:
        """Return the levels of an ordered categorical, or of an enumeration."""
        series = self._frame[self._own[column]]
        native = series.to_native()
        if isinstance(series.dtype, nw.Enum):
            levels = getattr(native.dtype, "categories", None)
            return list(levels) if levels is not None else None
        categorical: Any = getattr(native, "cat", None)
        return list(categorical.categories) if getattr(categorical, "ordered", False) else None

    def different(self, column: str) -> list[Any]:
        """Return different values in the order of their first records."""
        return list(self._frame[self._own[column]].unique(maintain_order=True).to_list())


def _result(kind: Result, name: str) -> Any:
    if kind == "rows":
        return nw.len()
    column = nw.col(name)
    return {"valid": column.count, "sum": column.sum, "least": column.min, "most": column.max}[kind]()
