"""CSV and text cells that no spreadsheet runs as a formula."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence
from typing import Any

#: What spreadsheets take for the start of a formula, in their full-width forms too.
_STARTS = ("=", "+", "-", "@", "\t", "\r", "\n", "＝", "＋", "－", "＠")

#: Leading signs that a spreadsheet passes over: blanks and controls.
_UNSEEN = "".join(map(chr, (*range(33), *range(127, 161), 0xFEFF, 0x200B)))


def safe_text(value: Any) -> Any:
    """Return a text cell behind an apostrophe if a spreadsheet would run it; anything else as it is.

    The apostrophe is what spreadsheets themselves put before such a text, as OWASP advises against CSV injection.
    """
    if not isinstance(value, str):
        return value
    return f"'{value}" if value.startswith(_STARTS) or value.lstrip(_UNSEEN).startswith(_STARTS) else value


def csv_text(head: Sequence[str], rows: Iterable[Sequence[Any]]) -> str:
    """Return rows as CSV (RFC 4180, with plain line ends), made safe."""
    return "".join(_line(row) for row in (head, *rows))


def _line(row: Sequence[Any]) -> str:
    """Return one line; a carriage return in a cell is a line end to many readers, so such a cell is quoted."""
    out = io.StringIO()
    cells = [safe_text(cell) for cell in row]
    lone = any(isinstance(cell, str) and "\r" in cell for cell in cells)
    writer = csv.writer(out, lineterminator="\n", quoting=csv.QUOTE_ALL if lone else csv.QUOTE_MINIMAL)
    writer.writerow(cells)
    return out.getvalue()
