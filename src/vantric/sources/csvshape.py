"""The shape of a CSV file, told from its first lines: delimiter and column names."""

from __future__ import annotations

import codecs
import csv
import io
from dataclasses import dataclass
from pathlib import Path

from vantric.errors import SourceError

_DELIMITERS = (",", ";", "\t", "|")
#: A sign that no text uses parts the columns of a file that has only one.
_NO_DELIMITER = "\x1f"
_FIRST_BYTES = 1 << 18


@dataclass(frozen=True)
class CsvShape:
    """What is needed to read a CSV file without guessing again."""

    delimiter: str
    columns: tuple[str, ...]


def csv_shape(path: Path, shown: str) -> CsvShape:
    """Tell the delimiter and the columns of a file from its header and the lines below.

    Raises
    ------
    SourceError
        If the file is not there, is a folder, is empty, or is not UTF-8 text.
    """
    head = _decoded(_first_bytes(path, shown), shown)
    if not head.strip():
        raise SourceError(f"'{shown}' is empty: it needs a header line and records below it")
    best = max(_DELIMITERS, key=lambda sign: _evidence(head, sign))
    delimiter = best if len(_rows(head, best, 1)[0]) > 1 else _NO_DELIMITER
    header = _rows(head, delimiter, 1)[0]
    columns = tuple(name.strip() or f"column {place}" for place, name in enumerate(header, 1))
    twice = next((name for name in columns if columns.count(name) > 1), None)
    if twice is not None:
        raise SourceError(f"'{shown}' has two columns named '{twice}'; rename one of them")
    return CsvShape(delimiter, columns)


def _first_bytes(path: Path, shown: str) -> bytes:
    try:
        with path.open("rb") as file:
            return file.read(_FIRST_BYTES)
    except FileNotFoundError:
        raise SourceError(f"there is no file '{shown}'") from None
    except IsADirectoryError:
        raise SourceError(f"'{shown}' is a folder; give a file") from None
    except OSError as error:
        raise SourceError(f"cannot read '{shown}': {error.strerror}") from None


def _decoded(head: bytes, shown: str) -> str:
    if head.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)):
        raise SourceError(f"'{shown}' is UTF-16 text; save it as UTF-8")
    try:  # the last sign may be cut in two
        return codecs.getincrementaldecoder("utf-8-sig")().decode(head)
    except UnicodeDecodeError as error:
        line = head[: error.start].count(b"\n") + 1
        raise SourceError(f"'{shown}', line {line}: the bytes are not UTF-8 text; save it as UTF-8") from None


def _evidence(head: str, delimiter: str) -> tuple[bool, int]:
    """Return how well a delimiter explains the first lines: whether every row fits the header, and the columns."""
    rows = _rows(head, delimiter, 50)
    width = len(rows[0])
    complete = rows[:-1] if len(head) >= _FIRST_BYTES // 2 else rows
    return width > 1 and all(len(row) == width for row in complete if row), width


def _rows(head: str, delimiter: str, most: int) -> list[list[str]]:
    reader = csv.reader(io.StringIO(head, newline=None), delimiter=delimiter)
    rows: list[list[str]] = []
    csv_limit = csv.field_size_limit()
    try:
        csv.field_size_limit(_FIRST_BYTES)
        for row in reader:
            rows.append(row)
            if len(rows) == most:
                break
    except csv.Error:
        pass  # what was read before the fault is enough to tell the shape; the engine names the fault
    finally:
        csv.field_size_limit(csv_limit)
    return rows or [[]]
