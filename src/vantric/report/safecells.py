"""CSV and text cells that no spreadsheet runs as a formula."""

from __future__ import annotations

import csv
import io
import unicodedata
from collections.abc import Iterable, Sequence
from typing import Any

#: What spreadsheets take for the start of a formula, in their full-width forms too.
_STARTS = ("=", "+", "-", "@", "\t", "\r", "\n", "＝", "＋", "－", "＠")

#: Kinds of leading signs that a spreadsheet may pass over, beside blanks: controls and formats.
_UNSEEN = ("Cc", "Cf")


def safe_text(value: Any) -> Any:
    """Return a text cell behind an apostrophe if a spreadsheet would run it; anything else as it is.

    The apostrophe is what spreadsheets themselves put before such a text, as OWASP advises against CSV injection.
    """
    if not isinstance(value, str) or value[:1].isalnum():
        return value
    seen = next((sign for sign in value if not (sign.isspace() or unicodedata.category(sign) in _UNSEEN)), "")
    return f"'{value}" if value.startswith(_STARTS) or seen in _STARTS else value


def csv_text(head: Sequence[str], rows: Iterable[Sequence[Any]]) -> str:
    """Return rows as CSV (RFC 4180, with plain line ends), made safe."""
    out = io.StringIO()
    plain = csv.writer(out, lineterminator="\n")
    in_quotes = csv.writer(out, lineterminator="\n", quoting=csv.QUOTE_ALL)
    for row in (head, *rows):
        cells = [safe_text(cell) for cell in row]
        lone = any(isinstance(cell, str) and "\r" in cell for cell in cells)  # a line end to many readers
        (in_quotes if lone else plain).writerow(cells)
    return out.getvalue()
