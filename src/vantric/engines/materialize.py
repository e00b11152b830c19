"""Data in memory of whatever kind, in a form that has named columns: a mapping, or a frame that narwhals knows."""

from __future__ import annotations

import importlib.util
import os
from collections.abc import Mapping, Sequence
from numbers import Number
from typing import Any

from vantric.errors import SourceError


def materialized(data: Any) -> Any:
    """Return data with named columns where they have them in another form; all other data as they are.

    Records as mappings or named tuples, structured arrays, frames of pandas whose labels are in the index or whose
    headings have several levels, and whatever streams Arrow data.

    Raises
    ------
    SourceError
        If it takes a library that is not installed.
    """
    if isinstance(data, str | os.PathLike):
        return data
    if isinstance(data, list | tuple) and data and all(isinstance(item, Mapping) for item in data):
        return _of_mappings(data)
    if isinstance(data, list | tuple) and data and all(hasattr(item, "_fields") for item in data):
        return _of_mappings([item._asdict() for item in data])
    home = _home(data)
    if home == "numpy" and data.dtype.names:  # a structured array
        return {name: data[name].tolist() for name in data.dtype.names}
    if home == "pandas" and hasattr(type(data), "columns"):
        return _of_pandas(data)
    if home == "pyarrow":
        return _of_arrow(data)
    if home == "polars" and hasattr(data, "collect") and _is_old_polars():
        return data.collect()
    if hasattr(data, "__arrow_c_stream__") and home not in _KNOWN:
        return _of_stream(data)
    return data


def _is_old_polars() -> bool:
    """Whether plans of Polars add some products up wrongly, as they did before its version 2; frames never did."""
    import polars

    return polars.__version__.startswith(("0.", "1."))


_MOST_ROWS = 2_000_000  # of a data set that is taken into memory, where its records have an order


def _home(data: Any) -> str:
    """Return the library of data: asked of its type, for a frame may take any name for that of a column."""
    return type(data).__module__.partition(".")[0]


#: Libraries whose frames and series are known as they are.
_KNOWN = frozenset(
    {
        "pandas",
        "polars",
        "pyarrow",
        "duckdb",
        "narwhals",
        "modin",
        "cudf",
        "dask",
        "ibis",
        "pyspark",
        "sqlframe",
        "vantric",
    }
)


def _of_mappings(rows: Sequence[Mapping[Any, Any]]) -> dict[str, list[Any]]:
    names = dict.fromkeys(str(name) for row in rows for name in row)
    texts = [{str(name): value for name, value in row.items()} for row in rows]
    return {name: [row.get(name) for row in texts] for name in names}


def _of_pandas(frame: Any) -> Any:
    """Return a frame with its index as columns, where that has names or labels, and with headings of one level."""
    import pandas

    if isinstance(frame.columns, pandas.MultiIndex):
        frame = frame.copy(deep=False)
        frame.columns = [" ".join(str(part) for part in name if str(part)).strip() for name in frame.columns]
    index = frame.index
    plain = isinstance(index, pandas.RangeIndex) or (index.names == [None] and index.inferred_type == "integer")
    if plain and index.names == [None]:
        return frame
    values = [name for name in index.names if name is not None and name in frame.columns]
    if values:
        return frame.reset_index(drop=True)
    frame = frame.reset_index()
    frame.columns = [str(name) for name in frame.columns]
    frame.columns.name = None
    return frame


def given_pairs(data: Any) -> list[tuple[Any, Any]] | None:
    """Return labels with their counts where data are a list of such pairs; None for any other data."""
    if not isinstance(data, list | tuple) or not data or not all(map(_is_pair, data)):
        return None
    return [(label, count) for label, count in data]


def _is_pair(item: Any) -> bool:
    if not isinstance(item, list | tuple) or len(item) != 2 or hasattr(item, "_fields"):
        return False
    label, count = item
    if isinstance(count, bool) or isinstance(label, list | tuple):
        return False
    return isinstance(count, Number)


def ready_counts(series: Any) -> list[tuple[Any, Any]] | None:
    """Return labels with their counts of a series of pandas that holds counts by label; None if it holds labels itself.

    Counts by label are what ``value_counts()`` and ``groupby(...).size()`` return: numbers whose index is text, or
    has a name.
    """
    if not is_pandas_series(series) or series.index.nlevels > 1:
        return None
    index = series.index
    if getattr(series.dtype, "kind", "") not in ("i", "u", "f"):
        return None
    labeled = index.inferred_type in {"string", "mixed", "categorical"} or index.name is not None
    return list(zip(index.tolist(), series.tolist(), strict=True)) if labeled else None


def is_pandas_series(data: Any) -> bool:
    """Whether data are a series of pandas."""
    return _home(data) == "pandas" and not hasattr(type(data), "columns") and hasattr(type(data), "index")


def counts_by_levels(series: Any) -> Any:
    """Return a series of counts whose index has several levels as a frame; the counts are called ``count``."""
    return series.rename(series.name or "count").reset_index()


def _of_arrow(data: Any) -> Any:
    import pyarrow
    import pyarrow.dataset

    if isinstance(data, pyarrow.RecordBatch):
        return pyarrow.Table.from_batches([data])
    if isinstance(data, pyarrow.RecordBatchReader):
        return data.read_all()
    if isinstance(data, pyarrow.dataset.Dataset) and data.count_rows() > _MOST_ROWS:
        import duckdb

        return duckdb.from_arrow(data)  # it is read piece by piece, and only the columns that are asked for
    if hasattr(data, "to_table"):  # a data set, or a scanner of one
        return data.to_table()
    return data


def _of_stream(data: Any) -> Any:
    for library in ("pyarrow", "polars"):
        if importlib.util.find_spec(library) is not None:
            if library == "pyarrow":
                import pyarrow

                return pyarrow.table(data)
            import polars

            return polars.DataFrame(data)
    raise SourceError(f"reading {type(data).__name__} needs PyArrow or Polars: install one of them")
