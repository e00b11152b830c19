"""The one door: whatever the user hands over becomes a tally."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator, Mapping
from itertools import islice
from pathlib import Path
from typing import Any

from vantric.core.counting import Origin, Tally
from vantric.core.counting.tally import make_tally
from vantric.errors import ColumnError, SourceError, unknown_column
from vantric.sources.exact import checked
from vantric.sources.labels import label_text

#: What frames and series of every kind have, and plain iterables do not; asked of the type, so that nothing runs.
_FRAME_MARKS = (
    "__narwhals_dataframe__",
    "__narwhals_lazyframe__",
    "__narwhals_series__",
    "columns",
    "to_frame",
    "to_table",
    "chunks",
)


def gather(data: Any, by: str | None = None, *, count: str | None = None) -> Tally:
    """Return the tally of any data.

    Parameters
    ----------
    data
        A path of a CSV file; a frame or series that narwhals understands; a mapping of category to frequency or,
        with `by`, of name to column; an iterable of labels; or a Tally, which is returned as it is.
    by
        The column of labels. Not for data that are labels or counts already.
    count
        The column that says how many occurrences a record stands for.

    Raises
    ------
    SourceError, ColumnError, AmountError
        If the source cannot be read, lacks a column, or holds a count that is none.
    """
    if isinstance(data, Tally):
        _refuse_columns(by, count, "a tally")
        return data
    if isinstance(data, str | Path):
        return _from_path(data, by, count)
    if isinstance(data, Mapping):
        return _from_columns(data, by, count) if by is not None else _from_counts(data, count)
    if _is_frame(data):
        from vantric.sources.frames import tally_frame

        return tally_frame(data, by, count)
    if isinstance(data, Iterable) and not isinstance(data, bytes):
        _refuse_columns(by, count, "plain labels")
        return _from_labels(data)
    raise SourceError(f"cannot count {type(data).__name__}: give a path, a frame, a mapping or an iterable of labels")


def _refuse_columns(by: str | None, count: str | None, what: str) -> None:
    if by is not None or count is not None:
        asked = f"by='{by}'" if by is not None else f"count='{count}'"
        raise ColumnError(f"{what} have no columns: leave {asked} out, or give a table")


def _is_frame(data: object) -> bool:
    """Whether narwhals may understand it; NumPy arrays and plain lists are iterables of labels."""
    if isinstance(data, list | tuple | set | frozenset | Iterator):
        return False
    return any(hasattr(type(data), name) for name in _FRAME_MARKS)


def _from_path(data: str | Path, by: str | None, count: str | None) -> Tally:
    if by is None:
        raise ColumnError(f"say which column of '{data}' is counted: by='...'")
    from vantric.sources.files import tally_file

    return tally_file(Path(data), str(data), by, count)


def _from_counts(data: Mapping[Any, Any], count: str | None) -> Tally:
    """Take a mapping of category to frequency as it is."""
    _refuse_columns(None, count, "ready counts")
    groups = []
    for label, value in data.items():
        name = label_text(label)
        groups.append((name, checked(value, f"category '{name}'")))
    return make_tally(groups, Origin(input_rows=len(groups)))


def _from_labels(data: Iterable[Any]) -> Tally:
    tallied = Counter(label_text(label) for label in data)
    return make_tally(tallied.items(), Origin(input_rows=sum(tallied.values())))


def _from_columns(data: Mapping[Any, Any], by: str, count: str | None) -> Tally:
    """Count a mapping of name to column."""
    for name in filter(None, (by, count)):
        if name not in data:
            raise unknown_column(name, map(str, data), "the mapping")
    labels = [label_text(value) for value in data[by]]
    if count is None:
        tallied = Counter(labels)
        return make_tally(tallied.items(), Origin(by=by, input_rows=len(labels)))
    values = list(islice(iter(data[count]), len(labels) + 1))
    if len(values) != len(labels):
        raise SourceError(f"columns '{by}' and '{count}' differ in length: {len(labels)} and {len(values)}")
    amounts = [checked(value, f"column '{count}', record {n}") for n, value in enumerate(values, 1)]
    return make_tally(zip(labels, amounts, strict=True), Origin(by=by, count=count, input_rows=len(labels)))
