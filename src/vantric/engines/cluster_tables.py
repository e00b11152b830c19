"""Frames of Dask through Dask's own functions: narwhals gives Dask up to a package of its own."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

import narwhals as nw

from vantric.engines.anytable_part import MOST, type_named
from vantric.engines.frame_table import Column, ColumnType, Result, Table
from vantric.reading.records import Group

_HALF = 2**32
_RESULTS: dict[Result, str] = {"valid": "count", "sum": "sum", "least": "min", "most": "max"}


class DaskTable(Table):
    """A frame of Dask: partitions of pandas.

    Parameters
    ----------
    frame
        As the user handed it over; it is told by narwhals.
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
        found = column.astype("Float64").astype("float64") if _may_miss(column) else column.astype("float64")
        return found

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
        self, keys: Sequence[str], made: Sequence[Mapping[str, Column]], results: Sequence[tuple[Result, str]]
    ) -> list[Group]:
        """Group in the partitions, and put their groups together; see `Table.grouped`."""
        frame = self._frame
        plain = [f"k{place}" for place in range(len(keys))]
        columns = {own: self.column(key) for own, key in zip(plain, keys, strict=True)}
        every = {name: column for step in made for name, column in step.items()}
        frame = frame.assign(**{"one": 1, **columns, **every})[["one", *columns, *every]]
        wanted: dict[str, list[str]] = {"one": ["sum"]}
        for kind, name in results:
            if kind != "rows":
                wanted.setdefault(name, []).append(_RESULTS[kind])
        if not plain:
            frame, plain = frame.assign(k0=0), ["k0"]
        found = frame.groupby(plain, dropna=False, observed=True).agg(wanted).compute()
        if not len(found) and not keys:
            return [tuple(0 if kind in ("rows", "valid") else None for kind, _ in results)]
        places = [("one", "sum") if kind == "rows" else (name, _RESULTS[kind]) for kind, name in results]
        labels = [_plain(found.index.get_level_values(at)) for at in range(len(keys))]
        return list(zip(*labels, *(_plain(found[place]) for place in places), strict=True))

    def head(self, rows: int) -> list[Group]:
        """Return the first records."""
        return list(self._frame.head(rows, npartitions=-1).itertuples(index=False, name=None))

    def units(self, keys: Sequence[str], unit: str) -> list[Group]:
        """Count different texts; the pairs of keys and units come over."""
        found: dict[Group, list[int]] = {}
        for *labels, value, rows in self.grouped([*keys, unit], [], [("rows", "")]):
            heap = found.setdefault(tuple(labels), [0, 0])
            blank = value is None or value != value or not str(value).strip()
            heap[1 if blank else 0] += rows if blank else 1
        return [(*labels, *heap) for labels, heap in found.items()]

    def without_codes(self, codes: Sequence[str]) -> Table:
        """Return the frame with codes as missing; see `Table.without_codes`."""
        named = [own for name, own in self._own.items() if self.types[name].kind in ("text", "mixed")]
        masked = {own: self._frame[own].mask(self._frame[own].isin(list(codes)), None) for own in named}
        return DaskTable(self._frame.assign(**masked))

    def without_label(self, column: str, value: Any) -> Table:
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
