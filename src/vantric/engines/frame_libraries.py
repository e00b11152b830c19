"""From a frame of any library to what it can be asked; the library is told by narwhals."""

from __future__ import annotations

from collections import Counter
from typing import Any

import narwhals as nw
import narwhals.exceptions
from narwhals.dependencies import is_dask_dataframe

from vantric.engines.anytable_part import AnyTable
from vantric.engines.frame_table import Table
from vantric.errors import SourceError


def table_of(data: Any) -> Table:
    """Return a frame as a table, or raise `SourceError`."""
    if is_dask_dataframe(data):
        from vantric.engines.cluster_tables import DaskTable

        return DaskTable(data)
    view = from_native(data)
    if view.implementation.is_duckdb():  # a relation may name two columns alike
        names = Counter(view.to_native().columns)
        twice = next((name for name, times in names.items() if times > 1), None)
        if twice is not None:
            raise SourceError(f"the frame has two columns named '{twice}'; rename one of them")
    if view.implementation.is_pyspark() or view.implementation.is_pyspark_connect():
        from vantric.engines.sparktable_part import SparkTable

        return SparkTable(view)
    if view.implementation.is_pyarrow() and isinstance(view, nw.DataFrame):
        from vantric.engines.arrowtable_part import ArrowTable

        return ArrowTable(view)
    if view.implementation.is_duckdb():
        from vantric.engines.ducktable_part import DuckTable

        return DuckTable(view)
    if view.implementation.is_sqlframe():
        return AnyTable(view, _plain_names(view))
    return AnyTable(view)


def _plain_names(view: Any) -> list[str]:
    """Return the names of SQLFrame's columns without the marks that some of them have around them."""
    names = [name.strip("`") for name in view.columns]
    if "*" in names:
        raise SourceError("the frame does not know its columns: name them in its query in place of *")
    return names


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


def framed_series(data: Any, label: str) -> tuple[Any, str | None] | None:
    """Return a series as a frame of one column of that name, and its own name; None if it is no series."""
    if is_dask_dataframe(data):
        return None
    if type(data).__module__.partition(".")[0] == "dask" and hasattr(data, "to_frame"):
        return data.to_frame(label), data.name if isinstance(data.name, str) else None
    view = from_native(data)
    if not isinstance(view, nw.Series):
        return None
    name = view.name if view.name and isinstance(view.name, str) else None
    return view.alias(label).to_frame().to_native(), name
