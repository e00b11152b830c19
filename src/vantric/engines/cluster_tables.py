"""Frames of Dask and Spark through their own functions: narwhals cannot ask them exactly."""

from __future__ import annotations

import importlib
from collections.abc import Callable, Mapping, Sequence
from typing import Any

import narwhals as nw

from vantric.engines.frame_table import MOST, Column, ColumnType, FrameTable, NarwhalsTable, Result, type_named
from vantric.reading.records import Group

#: The lower half of a 64-bit integer.
_LOW = 0xFFFFFFFF


class SparkTable(NarwhalsTable):
    """A frame of Spark.

    Its columns are renamed by their places, for a name such as ``de.fect`` is a path there; and a time is what the
    session shows, whatever the time zone of this process.
    """

    complains = False
    apart = False

    def __init__(
        self, view: Any, names: Sequence[str] | None = None, *, run: Callable[[Callable[[], Any]], Any] | None = None
    ) -> None:
        self._run = run or _at_once
        connected = view.implementation.is_pyspark_connect()
        self._functions = importlib.import_module(f"pyspark.sql.{'connect.' if connected else ''}functions")
        if names is None:
            names, view = list(view.columns), self._by_place(view)
        super().__init__(view, names)

    def _with(self, frame: Any) -> SparkTable:
        return SparkTable(frame, self.names, run=self._run)

    def _by_place(self, view: Any) -> Any:
        import narwhals as nw

        native = view.to_native()
        plain = native.toDF(*(f"c{place}" for place in range(len(native.columns))))
        values = [
            self._functions.col(field.name).cast("timestamp_ntz").alias(field.name)
            if field.dataType.typeName() == "timestamp"
            else self._functions.col(field.name)
            for field in plain.schema.fields
        ]
        return nw.from_native(plain.select(*values))

    def column(self, name: str) -> Column:
        """Return a column; see `Table.column`."""
        return self._functions.col(self._own[name])

    def whole(self, column: Column) -> Column:
        """Return integers of 64 bits, which all of Spark's fit."""
        return column.cast("bigint")

    def real(self, column: Column, *, clean: bool = False) -> Column:
        """Return 64-bit floats; see `Table.real`."""
        number = column.cast("double")
        return self._functions.when(~self._functions.isnan(number), number) if clean else number

    def floor(self, column: Column) -> Column:
        """Return the integers below; what is beyond is missing."""
        return self._functions.when(self._functions.abs(column) <= MOST, self._functions.floor(column))

    def halves(self, column: Column) -> tuple[Column, Column]:
        """Return both halves of an integer."""
        return self._functions.shiftright(column, 32), column.bitwiseAND(self._functions.lit(_LOW))

    def decimal(self, column: Column, digits: int, scale: int) -> Column:
        """Return decimals; see `Table.decimal`."""
        return column.cast(f"decimal({digits}, {scale})")

    def times(self, item: Column, other: Column) -> Column:
        """Return a product, missing where it is too large."""
        return self._functions.try_multiply(item, other)

    def refer(self, name: str, column: Column) -> Column:
        """Return a column by its name; see `Table.refer`."""
        return self._functions.col(name)

    def type_of(self, column: Column) -> ColumnType:
        """Return what a computed column holds; nothing runs."""
        kind = self._run(lambda: self._frame.to_native().select(column.alias("x")).schema["x"].dataType)
        if kind.typeName() == "decimal":
            return ColumnType("exact", kind.precision, kind.scale)
        return ColumnType({"bigint": "whole", "double": "real"}.get(kind.simpleString(), "other"))  # type: ignore[arg-type]

    def grouped(
        self, keys: Sequence[str], contents: Sequence[Mapping[str, Column]], results: Sequence[tuple[Result, str]]
    ) -> list[Group]:
        """Group in Spark, in one job; see `Table.grouped`."""
        plain = [f"k{place}" for place in range(len(keys))]
        values = [self.column(key).alias(own) for key, own in zip(keys, plain, strict=True)]
        frame = self._frame.to_native()
        for index, step in enumerate(contents or [{}]):
            own = [column.alias(name) for name, column in step.items()]
            frame = frame.select("*", *own) if index else frame.select(*values, *own) if values or own else frame
        items = [self._result(kind, name).alias(f"r{place}") for place, (kind, name) in enumerate(results)]
        return self._collected(frame.groupBy(*plain).agg(*items))

    def _result(self, kind: Result, name: str) -> Column:
        f = self._functions
        if kind == "rows":
            return f.count(f.lit(1))
        return {"valid": f.count, "sum": f.try_sum, "least": f.min, "most": f.max}[kind](name)

    def _rows(self, frame: Any) -> list[Group]:
        return self._collected(frame.to_native())

    def _collected(self, native: Any) -> list[Group]:
        return [tuple(row) for row in self._run(native.collect)]


def _at_once(work: Callable[[], Any]) -> Any:
    return work()


#: What the upper half of a 64-bit integer counts.
_HALF = 2**32
_RESULTS: dict[Result, str] = {"valid": "count", "sum": "sum", "least": "min", "most": "max"}


class DaskTable(FrameTable):
    """A frame of Dask: partitions of pandas.

    Parameters
    ----------
    frame
        As the user handed it over; narwhals recognizes it.
    """

    apart = False

    def __init__(self, frame: Any) -> None:
        import pandas as pd

        self._frame = frame
        self.names = tuple(map(str, frame.columns))
        self._own = dict(zip(self.names, frame.columns, strict=True))
        empty = pd.DataFrame({name: pd.Series(dtype=kind) for name, kind in zip(self.names, frame.dtypes, strict=True)})
        schema = nw.from_native(empty).collect_schema()
        self.types = {name: type_named(schema[name]) for name in self.names}

    def column(self, name: str) -> Column:
        """Return a column; see `Table.column`."""
        return self._frame[self._own[name]]

    def whole(self, column: Column) -> Column:
        """Return integers of 64 bits; missing ones stay missing in a type that has them."""
        return column.astype("int64" if column.dtype.kind in "iu" and not _may_miss(column) else "Int64")

    def real(self, column: Column, *, clean: bool = False) -> Column:
        """Return 64-bit floats: NaN is what is missing there."""
        number = column.astype("Float64").astype("float64") if _may_miss(column) else column.astype("float64")
        return number

    def floor(self, column: Column) -> Column:
        """Return the integers below; see `Table.floor`."""
        return (column.fillna(0.0).clip(-MOST, MOST) // 1.0).astype("int64")

    def halves(self, column: Column) -> tuple[Column, Column]:
        """Return both halves of an integer."""
        low = column % _HALF
        return (column - low) // _HALF, low

    def decimal(self, column: Column, digits: int, scale: int) -> Column:
        """Return decimals of Arrow."""
        import pandas as pd
        import pyarrow as pa

        return column.astype(pd.ArrowDtype(pa.decimal128(digits, scale)))

    def type_of(self, column: Column) -> ColumnType:
        """Return what a computed column holds."""
        import pandas as pd

        return type_named(nw.from_native(pd.DataFrame({"x": pd.Series(dtype=column.dtype)})).collect_schema()["x"])

    def grouped(
        self, keys: Sequence[str], contents: Sequence[Mapping[str, Column]], results: Sequence[tuple[Result, str]]
    ) -> list[Group]:
        """Group in the partitions, and put their groups together; see `Table.grouped`."""
        frame = self._frame
        plain = [f"k{place}" for place in range(len(keys))]
        columns = {own: self.column(key) for own, key in zip(plain, keys, strict=True)}
        every = {name: column for step in contents for name, column in step.items()}
        frame = frame.assign(**{"one": 1, **columns, **every})[["one", *columns, *every]]
        values: dict[str, list[str]] = {"one": ["sum"]}
        for kind, name in results:
            if kind != "rows":
                values.setdefault(name, []).append(_RESULTS[kind])
        if not plain:
            frame, plain = frame.assign(k0=0), ["k0"]
        groups = frame.groupby(plain, dropna=False, observed=True).agg(values).compute()
        if not len(groups) and not keys:
            return [tuple(0 if kind in ("rows", "valid") else None for kind, _ in results)]
        places = [("one", "sum") if kind == "rows" else (name, _RESULTS[kind]) for kind, name in results]
        labels = [_plain(groups.index.get_level_values(index)) for index in range(len(keys))]
        return list(zip(*labels, *(_plain(groups[place]) for place in places), strict=True))

    def head(self, rows: int) -> list[Group]:
        """Return the first records."""
        return list(self._frame.head(rows, npartitions=-1).itertuples(index=False, name=None))

    def units(self, keys: Sequence[str], unit: str) -> list[Group]:
        """Count different texts; the pairs of keys and units come over."""
        values: dict[Group, list[int]] = {}
        for *labels, value, rows in self.grouped([*keys, unit], [], [("rows", "")]):
            heap = values.setdefault(tuple(labels), [0, 0])
            blank = value is None or value != value or not str(value).strip()
            heap[1 if blank else 0] += rows if blank else 1
        return [(*labels, *heap) for labels, heap in values.items()]

    def without_codes(self, codes: Sequence[str]) -> FrameTable:
        """Return the frame with codes as missing; see `Table.without_codes`."""
        named = [own for name, own in self._own.items() if self.types[name].kind in ("text", "mixed")]
        masked = {own: self._frame[own].mask(self._frame[own].isin(list(codes)), None) for own in named}
        return DaskTable(self._frame.assign(**masked))

    def without_label(self, column: str, value: Any) -> FrameTable:
        """Return the frame without a label; see `Table.without_label`."""
        own = self.column(column)
        return DaskTable(self._frame[(own != value) | own.isna()])


def _may_miss(column: Column) -> bool:
    """Whether a column is of a type in which integers may be missing."""
    return type(column.dtype).__module__.partition(".")[0] != "numpy"


def _plain(values: Any) -> list[Any]:
    """Return values as Python's own, what is missing as None."""
    missing = values.isna().tolist()
    return [None if gap else value for value, gap in zip(values.tolist(), missing, strict=True)]
