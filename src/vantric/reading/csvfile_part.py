"""The shape of a CSV file, found from its first lines: delimiter and column names."""

from __future__ import annotations

import csv
import io
from collections import Counter
from dataclasses import dataclass

from vantric.errors import SourceError
from vantric.reading.headings import apart, named

_DELIMITERS = (",", ";", "\t", "|")
#: A sign that no text uses parts the columns of a file that has only one.
_NO_DELIMITER = "\x1f"
_SAMPLED_LINES = 50
_FIELD_LIMIT = 1 << 24


@dataclass(frozen=True)
class CsvShape:
    """What is needed to read a CSV file without guessing again.

    Attributes
    ----------
    delimiter
    columns
        In the file's order; a column without a name is called by its number.
    header
        Whether the first line holds their names.
    """

    delimiter: str
    columns: tuple[str, ...]
    header: bool = True


def csv_shape(head: str, shown: str) -> CsvShape:
    """Tell the shape of a file from its beginning.

    Raises
    ------
    SourceError
        If there is nothing.
    """
    if not head.strip():
        raise SourceError(f"'{shown}' is empty: it needs a header line and records below it")
    delimiter = delimiter_of(head)
    rows = _rows(head, delimiter, _SAMPLED_LINES)
    if not rows[0]:
        raise SourceError(f"'{shown}' has no header that can be read: its first line is too long; is it a table?")
    columns = tuple(named(rows[0]))
    return CsvShape(delimiter, tuple(apart(columns)))


def delimiter_of(head: str) -> str:
    """Return the sign between the columns of a file; one that no text uses, if it has one column."""
    best = max(_DELIMITERS, key=lambda sign: _evidence(head, sign))
    return best if _evidence(head, best)[2] > 1 else _NO_DELIMITER


def _evidence(head: str, delimiter: str) -> tuple[bool, int, int]:
    """Return how well a delimiter explains the first lines: whether all fit the header, how many do, how wide."""
    rows = [row for row in _rows(head, delimiter, _SAMPLED_LINES) if row]
    if not rows:
        return False, 0, 0
    complete = rows if len(rows) == _SAMPLED_LINES else rows[:-1] or rows
    widths = Counter(len(row) for row in complete if len(row) > 1)
    if not widths:
        return False, 0, len(rows[0])
    width, alike = max(widths.items(), key=lambda one: (one[1], one[0]))
    every = len(rows[0]) > 1 and all(len(row) == len(rows[0]) for row in complete)
    if not every and not _is_run([row for row in complete if any(row)], width, delimiter):
        return False, 0, len(rows[0]) if delimiter == "," and len(rows[0]) > 1 else 0
    return every, alike, width


def _is_run(rows: list[list[str]], width: int, delimiter: str) -> bool:
    """Whether rows of a width stand together, as those of a table do, and not here and there, as commas in text do."""
    places = [place for place, row in enumerate(rows) if len(row) == width]
    together = places[-1] - places[0] + 1 == len(places) or len(rows[0]) == width
    if delimiter != ",":  # which no text has between its words: most rows have another one beside them
        beside = sum(place - 1 in places or place + 1 in places for place in places)
        together = 2 * beside > len(places)
    text = sum(rows[place][1].startswith(" ") for place in places) > len(places) / 2 and len(rows[0]) == 1
    return len(places) > 1 and together and not text


def numbered_rows(text: str, delimiter: str) -> tuple[list[list[str]], dict[int, int]] | None:
    """Return the rows of a text and the line of each, from 1, where it is another; None if a quotation mark is open."""
    rows: list[list[str]] = []
    lines: dict[int, int] = {}
    csv_limit = csv.field_size_limit()
    try:
        csv.field_size_limit(_FIELD_LIMIT)
        reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter, strict=True)
        before = 0
        for row in reader:
            if before != len(rows):
                lines[len(rows)] = before + 1
            rows.append(row)
            before = reader.line_num
    except csv.Error:
        return None
    finally:
        csv.field_size_limit(csv_limit)
    return rows, lines


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
