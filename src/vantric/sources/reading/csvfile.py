"""The shape of a CSV file, found from its first lines: delimiter, column names, decimal sign."""

from __future__ import annotations

import csv
import io
import re
from collections import Counter
from dataclasses import dataclass

from vantric.errors import SourceError

_DELIMITERS = (",", ";", "\t", "|")
#: A sign that no text uses parts the columns of a file that has only one.
_NO_DELIMITER = "\x1f"
_SAMPLE = 50
_FIELD_LIMIT = 1 << 24
_COMMA_NUMBER = re.compile(r"\s*[+-]?[0-9]+,[0-9]+\s*")


@dataclass(frozen=True)
class CsvShape:
    """What is needed to read a CSV file without guessing again.

    Attributes
    ----------
    delimiter
    columns
        In the file's order; a column without a name is called by its number.
    comma_columns
        Columns whose numbers have a decimal comma.
    """

    delimiter: str
    columns: tuple[str, ...]
    comma_columns: frozenset[str] = frozenset()


def csv_shape(head: str, shown: str) -> CsvShape:
    """Tell the shape of a file from its beginning.

    Raises
    ------
    SourceError
        If there is nothing, or two columns have one name.
    """
    if not head.strip():
        raise SourceError(f"'{shown}' is empty: it needs a header line and records below it")
    best = max(_DELIMITERS, key=lambda sign: _evidence(head, sign))
    delimiter = best if len(_rows(head, best, 1)[0]) > 1 else _NO_DELIMITER
    rows = _rows(head, delimiter, _SAMPLE)
    if not rows[0]:
        raise SourceError(f"'{shown}' has no header that can be read: its first line is too long; is it a table?")
    columns = tuple(name.strip() or f"column {place}" for place, name in enumerate(rows[0], 1))
    numbers = Counter(columns)
    twice = next((name for name in columns if numbers[name] > 1), None)
    if twice is not None:
        raise SourceError(f"'{shown}' has two columns named '{twice}'; rename one of them")
    return CsvShape(delimiter, columns, _comma_columns(columns, rows[1:]) if delimiter != "," else frozenset())


def _comma_columns(columns: tuple[str, ...], rows: list[list[str]]) -> frozenset[str]:
    """Return the columns in which numbers with a decimal comma are, and none with a point."""
    found = set()
    for place, name in enumerate(columns):
        cells = [row[place] for row in rows if len(row) > place and row[place].strip()]
        if any(_COMMA_NUMBER.fullmatch(cell) for cell in cells) and not any("." in cell for cell in cells):
            found.add(name)
    return frozenset(found)


def _evidence(head: str, delimiter: str) -> tuple[bool, int]:
    """Return how well a delimiter explains the first lines: whether every row fits the header, and the columns."""
    rows = _rows(head, delimiter, _SAMPLE)
    width = len(rows[0])
    complete = rows if len(rows) == _SAMPLE else rows[:-1] or rows
    return width > 1 and all(len(row) == width for row in complete if row), width


def _rows(head: str, delimiter: str, most: int) -> list[list[str]]:
    reader = csv.reader(io.StringIO(head, newline=None), delimiter=delimiter)
    rows: list[list[str]] = []
    csv_limit = csv.field_size_limit()
    try:
        csv.field_size_limit(_FIELD_LIMIT)
        for row in reader:
            rows.append(row)
            if len(rows) == most:
                break
    except csv.Error:
        pass  # what was read before the fault is enough to tell the shape; the engine names the fault
    finally:
        csv.field_size_limit(csv_limit)
    return rows or [[]]
