"""What the user says of a source: how to open it, and what to count in it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from time import monotonic

from vantric.errors import ColumnError, SourceError, nearest, unknown_column

_LONGEST = 1e7  # seconds
_LEAST_MEMORY, _MOST_MEMORY = 64, 1_000_000  # MB
_MISSING = ("exclude", "category")


@dataclass(frozen=True)
class Limits:
    """What reading may take.

    Attributes
    ----------
    memory
        Of the engine that reads files, in MB; what is larger spills to disk.
    until
        When its time is over, by `time.monotonic`; None if it may take as long as it takes.
    """

    memory: int = 320
    until: float | None = None


@dataclass(frozen=True)
class Opening:
    """How a source is opened.

    Attributes
    ----------
    where
        A standard SQL condition that records must meet; for files, sheets and databases.
    sheet
        The sheet of a workbook; the first that holds something if not given.
    table, query
        What is read of a database: a table, or the result of a query.
    timeout
        How many seconds reading may take.
    memory
        How many MB the engine that reads files may take before it spills to disk.
    allow_functions
        Whether a condition on a file may call any function of the engine; the file is then read in a process of its
        own, whose memory and time are bounded.
    """

    where: str | None = None
    sheet: str | None = None
    table: str | None = None
    query: str | None = None
    timeout: float | None = None
    memory: int | None = None
    allow_functions: bool = False

    def __post_init__(self) -> None:
        if self.timeout is not None and not 0 < self.timeout < _LONGEST:
            raise SourceError(f"timeout is a number of seconds, more than 0, not {self.timeout}")
        if self.memory is not None and not _LEAST_MEMORY <= self.memory <= _MOST_MEMORY:
            raise SourceError(f"memory is a number of MB, at least {_LEAST_MEMORY}, not {self.memory}")

    def asked(self) -> str | None:
        """Return the first option that is given, or None."""
        return next((name for name, value in vars(self).items() if value not in (None, False)), None)

    def limits(self) -> Limits:
        """Return the limits of a reading that begins now."""
        until = None if self.timeout is None else monotonic() + self.timeout
        return Limits(until=until) if self.memory is None else Limits(self.memory, until)

    def kept(self) -> dict[str, str]:
        """Return what says which records are read, and may stand in a chart file: not what reading may take."""
        said = {name: getattr(self, name) for name in ("where", "sheet", "table", "query")}
        return {name: value for name, value in said.items() if value is not None}


@dataclass(frozen=True)
class Counting:
    """What is counted.

    Attributes
    ----------
    by
        The column of labels.
    count
        The column that says how many occurrences a record stands for.
    by_columns
        Columns that are categories themselves, as in a check sheet: their numbers are added up.
    separator
        Parts several labels in one cell.
    unique
        A column of units: each different unit counts once in a category, however many records it has there.
    merge_spellings
        Whether labels that differ only in case, blanks or Unicode form become one.
    families
        Label -> family, or the path of a file that says so.
    weight
        The column that says what one occurrence weighs.
    missing
        Whether records without a label are left out (``"exclude"``) or counted as "(missing)" (``"category"``).
    in_order
        Whether the order of the first records is wanted.
    dates
        A column of dates: the first and the last are told.
    """

    by: str | None = None
    count: str | None = None
    by_columns: tuple[str, ...] = ()
    separator: str | None = None
    unique: str | None = None
    merge_spellings: bool = False
    families: Mapping[str, str] | str | Path | None = None
    weight: str | None = None
    missing: str = "exclude"
    in_order: bool = False
    dates: str | None = None

    def __post_init__(self) -> None:
        if self.missing not in _MISSING:
            raise ColumnError(
                f"'{self.missing}' is no way with missing labels{nearest(self.missing, _MISSING)}; there are: "
                f"{', '.join(_MISSING)}"
            )
        if self.weight and (self.by_columns or self.unique):
            raise ColumnError("a weight is for records: leave by_columns and unique out")
        if self.by_columns and (self.by or self.count or self.separator or self.unique):
            raise ColumnError("by_columns names the categories itself: leave by, count, separator and unique out")
        if self.unique and self.count:
            raise ColumnError("unique counts units and count adds up occurrences: give one of them")
        if self.separator is not None and not self.separator.strip():
            raise ColumnError("the separator between labels is a sign such as ';', not a blank")

    def columns(self, *more: str | None) -> list[str]:
        """Return the columns that must be there."""
        named = (self.by, self.count, self.weight, *self.by_columns, self.unique, self.dates, *more)
        return [name for name in named if name is not None]


def check_columns(wanted: Sequence[str], known: Sequence[str], where: str) -> None:
    """Raise `ColumnError` for the first wanted column that is not known."""
    for name in wanted:
        if name not in known:
            raise unknown_column(name, known, where)
