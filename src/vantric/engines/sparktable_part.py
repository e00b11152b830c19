"""Frames of Spark, classic and Connect, through Spark's own functions: what does not fit is missing there, no error."""

from __future__ import annotations

import importlib
from collections.abc import Callable, Mapping, Sequence
from typing import Any

from vantric.engines.anytable_part import MOST, AnyTable
from vantric.engines.frame_table import Column, ColumnType, Result
from vantric.reading.records import Group

_LOW = 0xFFFFFFFF


class SparkTable(AnyTable):
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
        shown = [
            self._functions.col(field.name).cast("timestamp_ntz").alias(field.name)
            if field.dataType.typeName() == "timestamp"
            else self._functions.col(field.name)
            for field in plain.schema.fields
        ]
        return nw.from_native(plain.select(*shown))

    def column(self, name: str) -> Column:
        """Return a column; see `Table.column`."""
        return self._functions.col(self._own[name])

    def whole(self, column: Column) -> Column:
        """Return integers of 64 bits, which all of Spark's fit."""
        return column.cast("bigint")

    def real(self, column: Column, *, clean: bool = False) -> Column:
        """Return 64-bit floats; see `Table.real`."""
        found = column.cast("double")
        return self._functions.when(~self._functions.isnan(found), found) if clean else found

    def floor(self, column: Column) -> Column:
        """Return the integers below; what is beyond is missing."""
        return self._functions.when(self._functions.abs(column) <= MOST, self._functions.floor(column))

    def halves(self, column: Column) -> tuple[Column, Column]:
        """Return both halves of an integer."""
        return self._functions.shiftright(column, 32), column.bitwiseAND(self._functions.lit(_LOW))

    def decimal(self, column: Column, digits: int, scale: int) -> Column:
        """Return decimals; see `Table.decimal`."""
        return column.cast(f"decimal({digits}, {scale})")

    def times(self, one: Column, other: Column) -> Column:
        """Return a product, missing where it is too large."""
        return self._functions.try_multiply(one, other)

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
        self, keys: Sequence[str], made: Sequence[Mapping[str, Column]], results: Sequence[tuple[Result, str]]
    ) -> list[Group]:
        """Group in Spark, in one job; see `Table.grouped`."""
        plain = [f"k{place}" for place in range(len(keys))]
        chosen = [self.column(key).alias(own) for key, own in zip(keys, plain, strict=True)]
        frame = self._frame.to_native()
        for at, step in enumerate(made or [{}]):
            own = [column.alias(name) for name, column in step.items()]
            frame = frame.select("*", *own) if at else frame.select(*chosen, *own) if chosen or own else frame
        wanted = [self._result(kind, name).alias(f"r{place}") for place, (kind, name) in enumerate(results)]
        return self._collected(frame.groupBy(*plain).agg(*wanted))

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
