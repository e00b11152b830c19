"""Frames and series of any library that narwhals speaks for, grouped in their own engine."""

from __future__ import annotations

from typing import Any

import narwhals as nw

from vantric.core.counting import Origin, Tally
from vantric.core.counting.tally import make_tally
from vantric.core.numbers.amounts import Raw, parse_amount
from vantric.errors import AmountError, ColumnError, SourceError, unknown_column
from vantric.sources.exact import bad_amount, times
from vantric.sources.labels import label_text

_INT64_MAX = 2**63 - 1
_N, _V = "vantric: n", "vantric: v"


def tally_frame(data: Any, by: str | None, count: str | None) -> Tally:
    """Count the labels of a frame's column, or of a series."""
    try:
        native = nw.from_native(data, allow_series=True)
    except TypeError:
        raise SourceError(
            f"cannot count {type(data).__name__}: give a path, a frame, a mapping or an iterable of labels"
        ) from None
    if isinstance(native, nw.Series):
        return _tally_series(native, by, count)
    columns = native.collect_schema().names()
    if by is None:
        raise ColumnError(f"say which column of the frame is counted: by='...'; its columns are: {', '.join(columns)}")
    for name in filter(None, (by, count)):
        if name not in columns:
            raise unknown_column(name, columns, "the frame")
    counted = _Frame(native, by, count)
    groups, rows = counted.records() if count is None else counted.sums(count)
    return make_tally(groups, Origin(by=by, count=count, input_rows=rows))


def _tally_series(series: Any, by: str | None, count: str | None) -> Tally:
    if by is not None or count is not None:
        raise ColumnError("a series has no columns: leave by and count out, or give the frame")
    if series.dtype.is_numeric() and _has_text_index(series.to_native()):
        raise SourceError(
            "this series holds numbers beside text, as ready counts do; give them as a mapping: series.to_dict()"
        )
    name = series.name if series.name and isinstance(series.name, str) else None
    frame = series.alias(_V).to_frame()
    groups, rows = _Frame(frame, _V, None).records()
    return make_tally(groups, Origin(by=name, input_rows=rows))


def _has_text_index(native: Any) -> bool:
    """Whether a pandas-like series is indexed by text: its numbers are then counts, its labels the index."""
    index = getattr(native, "index", None)
    kind = getattr(index, "inferred_type", "")
    return kind in {"string", "mixed", "categorical"}


class _Frame:
    """Asks a frame's own engine for groups."""

    def __init__(self, frame: Any, by: str, count: str | None) -> None:
        self._frame, self._by, self._count = frame, by, count

    def records(self) -> tuple[list[tuple[str | None, Raw]], int]:
        """Return (label, records) groups and the number of records."""
        groups = _grouped(self._frame.select(self._by), [self._by], nw.len().alias(_N))
        return [(label_text(label), int(records)) for label, records in groups], sum(int(n) for _, n in groups)

    def sums(self, count: str) -> tuple[list[tuple[str | None, Raw]], int]:
        """Return (label, sum of counts) groups and the number of records.

        Integers are added up by the engine where no sum can pass 64 bits, else here; floats as 64-bit floats; decimals
        and text here, one group a different number.
        """
        kind = self._frame.collect_schema()[count]
        if kind.is_integer() and self._small_enough(count):
            return self._engine_sums(nw.col(count).cast(nw.Int64))
        if kind.is_float() and self._finite(count):
            return self._engine_sums(nw.col(count).cast(nw.Float64))
        return self._exact_sums(count)

    def _small_enough(self, count: str) -> bool:
        column = nw.col(count)
        low, high, rows, gaps = self._one(column.min(), column.max(), nw.len(), column.null_count())
        return not gaps and low is not None and low >= 0 and int(high) * int(rows) <= _INT64_MAX

    def _finite(self, count: str) -> bool:
        column = nw.col(count)
        low, high, gaps, nans = self._one(column.min(), column.max(), column.null_count(), column.is_nan().any())
        return not gaps and not nans and low is not None and low >= 0 and high < float("inf")

    def _engine_sums(self, column: Any) -> tuple[list[tuple[str | None, Raw]], int]:
        frame = self._frame.select(nw.col(self._by), column.alias(_V))
        groups = _grouped(frame, [self._by], nw.len().alias(_N), nw.col(_V).sum())
        sums = [(label_text(label), parse_amount(total)) for label, _, total in groups]
        return sums, sum(int(records) for _, records, _ in groups)

    def _exact_sums(self, count: str) -> tuple[list[tuple[str | None, Raw]], int]:
        keys = list(dict.fromkeys((self._by, count)))
        groups = _grouped(self._frame.select(*keys), keys, nw.len().alias(_N))
        sums = []
        for label, *value, records in groups:
            try:
                sums.append((label_text(label), times(parse_amount(value[0] if value else label), int(records))))
            except ValueError as reason:
                raise self._wrong(count, label, str(reason)) from None
        return sums, sum(int(group[-1]) for group in groups)

    def _wrong(self, count: str, label: object, reason: str) -> AmountError:
        """Name the first record whose count is none; the category where the engine keeps no row order."""
        if isinstance(self._frame, nw.DataFrame):
            for record, value in enumerate(self._frame[count], 1):
                try:
                    parse_amount(value)
                except ValueError as first:
                    return bad_amount(f"column '{count}', record {record}", str(first))
        return bad_amount(f"column '{count}', a record of '{label_text(label)}'", reason)

    def _one(self, *results: Any) -> tuple[Any, ...]:
        named = [result.alias(f"{_V} {place}") for place, result in enumerate(results)]
        return _rows(self._frame.select(*named))[0]


def _grouped(frame: Any, keys: list[str], *results: Any) -> list[tuple[Any, ...]]:
    try:
        return _rows(frame.group_by(*keys, drop_null_keys=False).agg(*results))
    except TypeError as error:
        raise SourceError(f"column '{keys[0]}' holds what cannot be counted: {error}") from None


def _rows(frame: Any) -> list[tuple[Any, ...]]:
    """Return a small result as tuples; a DuckDB relation hands its integers over unnarrowed."""
    native = frame.to_native()
    if hasattr(native, "fetchall"):
        return list(native.fetchall())
    eager = frame.collect() if isinstance(frame, nw.LazyFrame) else frame
    return list(eager.iter_rows())
