"""Results as data frames: of the kind the caller's data came as, else of whichever library is installed."""

from __future__ import annotations

import importlib.util
import sys
from collections.abc import Collection, Sequence
from typing import Any

from vantric.errors import MissingExtraError

#: In the order in which they are tried where the caller's data came as no frame.
_LIBRARIES = ("pandas", "polars", "pyarrow")


def frame_of(
    head: Sequence[str],
    rows: Sequence[Sequence[Any]],
    *,
    like: str | None = None,
    floats: Collection[str] = (),
    index: str = "",
) -> Any:
    """Return head and rows as a frame.

    Parameters
    ----------
    head, rows
        The names of the columns, and the rows as plain values.
    like
        The library that the data of the result came in; a frame of it is returned.
    floats
        Columns of floats, those without a value too.
    index
        The column that becomes the index of a pandas frame; other libraries have none.

    Raises
    ------
    MissingExtraError
        If no library of frames is installed.
    """
    library = _library(like)
    columns = {name: [row[number] for row in rows] for number, name in enumerate(head)}
    columns = {name: _typed(values, name in floats) for name, values in columns.items()}
    if library == "polars":
        import polars

        return polars.DataFrame(columns, strict=False)
    if library == "pyarrow":
        import pyarrow

        return pyarrow.table(columns)
    import pandas

    frame = pandas.DataFrame(columns, columns=list(columns))
    frame = frame.astype(dict.fromkeys((name for name in head if name in floats), "float64"))
    return frame.set_index(index) if index else frame


def _typed(values: list[Any], is_float: bool) -> list[Any]:
    """Return the values of a column in one type: whole numbers beside floats become floats."""
    numbers = [value for value in values if isinstance(value, (int, float)) and not isinstance(value, bool)]
    mixed = any(isinstance(value, float) for value in numbers) and any(isinstance(value, int) for value in numbers)
    if not (is_float or mixed):
        return values
    return [float(value) if isinstance(value, int) else value for value in values]


def _library(home: str | None) -> str:
    if home in _LIBRARIES and home in sys.modules:
        return home
    for name in _LIBRARIES:
        try:
            if importlib.util.find_spec(name) is not None:
                return name
        except (ImportError, ValueError):  # it is there, and cannot be loaded
            continue
    raise MissingExtraError(
        "a frame needs a library of frames: install vantric[pandas], or Polars or PyArrow; to_dict() needs none"
    )
