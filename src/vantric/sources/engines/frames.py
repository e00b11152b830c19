"""Frames of any library that narwhals speaks for, grouped in their own engine."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from typing import Any

import narwhals as nw
import narwhals.exceptions

from vantric.core.counting.remark import Remark
from vantric.core.numbers.amounts import LARGEST
from vantric.errors import SourceError
from vantric.sources.options import CellRules
from vantric.sources.reading.records import Group, PlacedRow, Records, total_in

_INT64_MAX = 2**63 - 1
_FLOAT_MAX = 2**53  # integers that are floats as they are: beyond, Arrow refuses to make them such
_MOST_TEXTS = 12  # columns of text in which a total may say that it is one
_N, _C, _V, _S = "vantric: n", "vantric: c", "vantric: v", "vantric: s"


def from_native(data: Any) -> Any:
    """Return the narwhals view of a frame or series, or raise `SourceError`."""
    try:
        return nw.from_native(data, allow_series=True)
    except TypeError:
        raise SourceError(
            f"cannot count {type(data).__name__}: give a path, a frame, a mapping or an iterable of labels"
        ) from None
    except nw.exceptions.NarwhalsError as error:  # such as two columns of one name
        raise SourceError(f"the {type(data).__name__} cannot be read: {' '.join(str(error).split())}") from error


def is_series(view: Any) -> bool:
    """Whether a narwhals view is of a series."""
    return isinstance(view, nw.Series)


class FrameRecords(Records):
    """The records of a frame."""

    def __init__(self, view: Any, rules: CellRules | None = None) -> None:
        self.rules = rules or CellRules()
        self._frame = view
        native = view.to_native()
        names = list(native.columns) if hasattr(native, "fetchall") else []  # a relation may name two columns alike
        twice = next((name for name, times in Counter(names).items() if times > 1), None)
        if twice is not None:
            raise SourceError(f"the frame has two columns named '{twice}'; rename one of them")
        self._schema = view.collect_schema()
        self._frame = self._as_said(view)

    def _as_said(self, view: Any) -> Any:
        """Return the frame with codes that mean missing as missing, and with labels that are filled down."""
        texts = [name for name, kind in self._schema.items() if kind in (nw.String, nw.Object, nw.Categorical)]
        if self.rules.na:
            codes = list(dict.fromkeys(one for code in self.rules.na for one in (code, code.strip())))
            view = view.with_columns(
                nw.when(~nw.col(name).cast(nw.String).is_in(codes)).then(nw.col(name)).alias(name) for name in texts
            )  # fmt: skip
        known = [name for name in self.rules.fill_down if name in self._schema.names()]
        if known and not isinstance(view, nw.DataFrame):
            raise SourceError("fill_down needs records in an order: a lazy frame has none; collect it first")
        return view.with_columns(nw.col(name).fill_null(strategy="forward") for name in known) if known else view

    def rows_in_order(self, columns: Sequence[str], most: int) -> list[list[PlacedRow]] | None:
        """Return all records of a frame that has an order."""
        if not isinstance(self._frame, nw.DataFrame) or len(self._frame) > most:
            return None
        others = [name for name, kind in self._schema.items() if name not in columns and kind in (nw.String, nw.Object)]
        rows = self._frame.select(*columns, *others[:_MOST_TEXTS]).iter_rows() if columns else iter(())
        width = len(columns)
        return [[PlacedRow(at, f"record {at + 1}", row[:width], total_in(row[width:])) for at, row in enumerate(rows)]]

    def is_short(self, most: int) -> bool:
        """Whether there are no more records than that."""
        return isinstance(self._frame, nw.DataFrame) and len(self._frame) <= most

    def without(self, places: Sequence[Sequence[Any]], remark: Remark) -> FrameRecords:
        """Return the records without those in some places."""
        found = self._left(remark)
        numbered = self._frame.with_row_index(_N)
        found.__dict__["_frame"] = numbered.filter(~nw.col(_N).is_in(list(places[0]))).drop(_N)
        return found  # type: ignore[return-value]

    def without_label(self, column: str, value: Any, remark: Remark) -> FrameRecords:
        """Return the records without those that have a value in a column."""
        found = self._left(remark)
        found.__dict__["_frame"] = self._frame.filter((nw.col(column) != value) | nw.col(column).is_null())
        return found  # type: ignore[return-value]

    @property
    def place(self) -> str:
        """Return what messages call the source."""
        return "the frame"

    def names(self) -> tuple[str, ...]:
        """Return the names of the columns."""
        return tuple(self._schema.names())

    def head(self, rows: int) -> list[Group]:
        """Return the first records."""
        return _rows(self._frame.head(rows))

    def _groups(self, keys: Sequence[str]) -> list[Group]:
        if not keys:
            return _rows(self._frame.select(nw.len().alias(_N)))
        return _grouped(self._frame.select(*keys), keys, nw.len().alias(_N))

    def sums(
        self, keys: Sequence[str], amount: str, *, free: bool = False, counted: bool = True, squares: bool = False
    ) -> list[Group]:
        """Add up in the engine where no sum can pass 64 bits and every amount is one; else here, exactly.

        Floats are added up as 64-bit floats; decimals and text always here, one group a different number.
        """
        kind = self._schema[amount]
        if kind.is_integer() and self._small_enough(amount, free=free, squares=squares):
            return self._engine_sums(keys, nw.col(amount).cast(nw.Int64), squares=squares)
        if kind.is_float() and self._finite(amount, free=free):
            return self._engine_sums(keys, nw.col(amount).cast(nw.Float64), squares=squares)
        return self._sums_here(keys, amount, free=free, counted=counted, squares=squares)

    def _small_enough(self, amount: str, *, free: bool, squares: bool = False) -> bool:
        column = nw.col(amount)
        low, high, rows, gaps = self._one(column.min(), column.max(), nw.len(), column.null_count())
        if low is None or (not free and (gaps or low < 0)):
            return False
        most = max(abs(int(low)), abs(int(high)))
        return most * int(rows) <= _INT64_MAX and (not squares or most <= _FLOAT_MAX)

    def _finite(self, amount: str, *, free: bool) -> bool:
        column = nw.col(amount)
        low, high, gaps, nans = self._one(column.min(), column.max(), column.null_count(), column.is_nan().any())
        if low is None or nans or (not free and (gaps or low < 0)):
            return False
        return bool(low >= -LARGEST and high <= LARGEST)

    def _engine_sums(self, keys: Sequence[str], column: Any, *, squares: bool) -> list[Group]:
        different = list(dict.fromkeys(keys))
        chosen = [nw.col(key).alias(f"{_N} {place}") for place, key in enumerate(different)]
        squared = [_square(column)] if squares else []
        frame = self._frame.select(*chosen, column.alias(_V), *squared)
        results = (nw.col(_V).count().alias(_N), *(nw.col(name).sum() for name in (_V, _S)[: 1 + squares]))
        if not different:
            return _rows(frame.select(*results))
        found = _grouped(frame, [f"{_N} {place}" for place in range(len(different))], *results)
        places = [different.index(key) for key in keys]
        return [(*(group[place] for place in places), *group[len(different) :]) for group in found]

    def values_in_order(self, column: str, *, numbers: bool = False) -> Iterable[tuple[str, Any]]:
        """Yield the values of a frame that has an order."""
        if not isinstance(self._frame, nw.DataFrame):
            return ()
        return ((f"record {number}", value) for number, value in enumerate(self._frame[column], 1))

    def first_values(self, column: str) -> Sequence[Any] | None:
        """Return the levels of an ordered column, or its values in the order of their first records.

        A lazy frame has no order of records.
        """
        if not isinstance(self._frame, nw.DataFrame):
            return None
        series = self._frame[column]
        levels = _levels(series)
        return levels if levels is not None else list(series.unique(maintain_order=True).to_list())

    def products(self, keys: Sequence[str], count: str, weight: str) -> list[Group]:
        """Multiply and add up in the engine where no sum can pass 64 bits; else here, exactly."""
        kinds = [self._schema[name] for name in (count, weight)]
        if not all(kind.is_integer() for kind in kinds) or not self._small_products(count, weight):
            return self._products_here(keys, count, weight)
        chosen = [nw.col(key).alias(f"{_N} {place}") for place, key in enumerate(keys)]
        one, other = (nw.col(name).cast(nw.Int64) for name in (count, weight))
        frame = self._frame.select(*chosen, one.alias(_C), (one * other).alias(_V), _square(one * other))
        results = (nw.len().alias(_N), nw.col(_C).sum(), nw.col(_V).sum(), nw.col(_S).sum())
        return _grouped(frame, [f"{_N} {place}" for place in range(len(keys))], *results)

    def _small_products(self, count: str, weight: str) -> bool:
        if not all(self._small_enough(name, free=False) for name in (count, weight)):
            return False
        one, other, rows = self._one(nw.col(count).max(), nw.col(weight).max(), nw.len())
        return int(one) * int(other) * int(rows) <= _INT64_MAX and int(one) * int(other) <= _FLOAT_MAX

    def _one(self, *results: Any) -> tuple[Any, ...]:
        named = [result.alias(f"{_V} {place}") for place, result in enumerate(results)]
        return _rows(self._frame.select(*named))[0]


def _square(column: Any) -> Any:
    """Return the square of a column as a float."""
    return (column.cast(nw.Float64) * column.cast(nw.Float64)).alias(_S)


def _levels(series: Any) -> list[Any] | None:
    """Return the categories of a column that have an order of their own: an ordered categorical, an enumeration."""
    native = series.to_native()
    if isinstance(series.dtype, nw.Enum):
        levels = getattr(native.dtype, "categories", None)
        return list(levels) if levels is not None else None
    categorical: Any = getattr(native, "cat", None)
    return list(categorical.categories) if getattr(categorical, "ordered", False) else None


def _grouped(frame: Any, keys: Sequence[str], *results: Any) -> list[Group]:
    try:
        return _rows(frame.group_by(*keys, drop_null_keys=False).agg(*results))
    except TypeError as error:
        raise SourceError(f"column '{keys[0]}' holds what cannot be counted: {error}") from None


def _rows(frame: Any) -> list[Group]:
    """Return a small result as tuples; a DuckDB relation hands its integers over unnarrowed."""
    native = frame.to_native()
    if hasattr(native, "fetchall"):
        return list(native.fetchall())
    eager = frame.collect() if isinstance(frame, nw.LazyFrame) else frame
    return list(eager.iter_rows())
