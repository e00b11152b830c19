"""The one door: whatever the user hands over is opened as records; a file that several results read is opened once."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any, TypeVar

from vantric.base.safe_files import reason_of
from vantric.base.safe_text import is_cluster, is_url, masked
from vantric.base.stopping import in_time
from vantric.engines.materialize import materialized
from vantric.errors import SourceError, VantricError, is_own_fault
from vantric.reading.records import Records
from vantric.reading.settings import ReadSettings, check_columns

if TYPE_CHECKING:
    from vantric.engines.files import FileRecords

T = TypeVar("T")


class SharedFile(str):
    """The name of a file that stays open until it is closed: each way of opening it is opened once.

    Conditions are put on the open records. Where the table that is found without knowing which columns are wanted lacks
    one of these, the file is opened for them.
    """

    _open: dict[tuple[ReadSettings, tuple[str, ...], bool], FileRecords]

    def __init__(self, _: str) -> None:
        super().__init__()
        self._open = {}

    def work(self, opening: ReadSettings, column_names: Sequence[str], work: Callable[[FileRecords], T]) -> T:
        """Do some work on the records that meet a condition."""
        from vantric.engines.text_files import UndecodableError

        try:
            return work(self._records(opening, column_names, anew=False).under(opening))
        except UndecodableError:  # not UTF-8 after all: it is read once more, recoded
            if self == "-":
                raise
            self.close()
            return work(self._records(opening, column_names, anew=True).under(opening))

    def _records(self, opening: ReadSettings, column_names: Sequence[str], *, anew: bool) -> FileRecords:
        records = self._opened(opening, (), anew=anew)
        if all(name in records.names() for name in column_names):
            return records
        return self._opened(opening, tuple(dict.fromkeys(column_names)), anew=anew)

    def _opened(self, opening: ReadSettings, column_names: tuple[str, ...], *, anew: bool) -> FileRecords:
        from vantric.engines.files import open_file

        plain, conditioned = replace(opening, where=None), opening.where is not None
        key = plain, column_names, conditioned
        if key not in self._open:
            self._open[key] = open_file(str(self), plain, column_names, anew=anew, in_engine=conditioned)
        return self._open[key]

    def close(self) -> None:
        """Let go of the file."""
        for records in self._open.values():
            records.close()
        self._open.clear()


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


def is_frame(data: object) -> bool:
    """Whether narwhals may understand it; NumPy arrays and plain lists are iterables of labels."""
    if isinstance(data, list | tuple | set | frozenset | Iterator | Mapping):
        return False
    return any(hasattr(type(data), name) for name in _FRAME_MARKS)


def is_database(data: object) -> bool:
    """Whether a source is the URL of a database, or of a cluster."""
    return isinstance(data, str) and is_url(data)


def with_records(data: Any, opening: ReadSettings, column_names: Sequence[str], work: Callable[[Records], T]) -> T:
    """Open a source, do some work on its records, and close it whatever happens.

    Parameters
    ----------
    data
        A path, a pattern of paths, ``"-"``, the URL of a database, a frame, or a mapping of name to column.
    opening
        How it is opened.
    column_names
        Columns that will be asked for.
    work
        What is done.

    Raises
    ------
    SourceError, ColumnError
        If it cannot be opened or lacks a column, or if its time is over.
    """
    return in_time(lambda: _with_records(data, opening, column_names, work), opening.timeout)


def _with_records(data: Any, opening: ReadSettings, column_names: Sequence[str], work: Callable[[Records], T]) -> T:
    if is_database(data):
        return _done(_open(data, opening, column_names), work)
    if isinstance(data, SharedFile) and not opening.allow_functions:
        return data.work(opening, column_names, work)
    if not isinstance(data, str | Path):
        return _of_memory(materialized(data), opening, column_names, work)
    return _with_file(data, opening, column_names, work)


def _with_file(data: str | Path, opening: ReadSettings, column_names: Sequence[str], work: Callable[[Records], T]) -> T:
    from vantric.engines.files import open_file
    from vantric.engines.text_files import UndecodableError

    try:
        return _done(open_file(data, opening, column_names), work)
    except UndecodableError:  # not UTF-8 after all: it is read once more, recoded
        if str(data) == "-":
            raise
        return _done(open_file(data, opening, column_names, anew=True), work)
    except OSError as error:  # no room in the folder for what must be written to be read
        place = f" ({error.filename})" if error.filename else ""
        raise SourceError(f"cannot read '{masked(data)}': {reason_of(error)}{place}") from None


def _of_memory(data: Any, opening: ReadSettings, column_names: Sequence[str], work: Callable[[Records], T]) -> T:
    """Work on the records of a mapping or a frame; what its library complains of becomes one line."""
    try:
        return _done(_open(data, opening, column_names), work)
    except VantricError:  # our own errors are said already, all else is the library's
        raise
    except Exception as error:  # every library has exceptions of its own
        if is_own_fault(error):
            raise
        from vantric.engines.spark_session import in_one_line

        reason = in_one_line(error) or " ".join(str(error).split())[:300] or type(error).__name__
        raise SourceError(f"the {type(data).__name__} cannot be read: {reason}") from error


def _done(records: Records, work: Callable[[Records], T]) -> T:
    try:
        return work(records)
    finally:
        records.close()


#: What the web is addressed by: it is not read, so that nothing is fetched that the user has not seen.
_WEB = ("http://", "https://", "ftp://", "sftp://")


def _open(data: Any, opening: ReadSettings, column_names: Sequence[str]) -> Records:
    if isinstance(data, str) and data.casefold().startswith(_WEB):
        address = masked(data)
        raise SourceError(
            f"'{address}' is on the web, which is not read: fetch it, as in curl -LO '{address}', and give the file"
        )
    if is_database(data) and is_cluster(data):
        from vantric.engines.clusters import open_cluster

        return open_cluster(data, opening, column_names)
    if is_database(data):
        from vantric.engines.databases import open_database

        return open_database(str(data), opening, column_names)
    text = opening.asked()
    if text == "where" and opening.where:
        condition = opening.where.strip()
        raise SourceError(
            f"where= is for files and databases: choose the rows of a frame before, as in data.query({condition!r}) of "
            "pandas"
        )
    if text:
        raise SourceError(f"{text}= is for files and databases; filter or choose the data before you hand them over")
    records: Records
    if isinstance(data, Mapping):
        from vantric.engines.plain_records import PlainRecords

        records, place = PlainRecords(data, opening.rules()), "the mapping"
    else:
        from vantric.engines.frame_libraries import table_of
        from vantric.engines.frame_records import FrameRecords

        records, place = FrameRecords(table_of(data), opening.rules()), "the frame"
    check_columns(column_names, records.names(), place)
    return records
