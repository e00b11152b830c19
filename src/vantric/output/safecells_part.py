"""CSV and text cells that no spreadsheet runs as a formula."""

from __future__ import annotations

import csv
import io
import re
import unicodedata
from collections.abc import Iterable, Sequence
from itertools import chain
from typing import Any

#: What spreadsheets take for the start of a formula, in their full-width forms too.
_STARTS = ("=", "+", "-", "@", "\t", "\r", "\n", "＝", "＋", "－", "＠")

_SIGNS = re.compile(r"[\"\r\n\0]")

#: Kinds of leading signs that a spreadsheet may pass over, beside blanks: controls and formats.
_UNSEEN = ("Cc", "Cf")


def safe_text(value: Any) -> Any:
    """Return a text cell behind an apostrophe if a spreadsheet would run it; anything else as it is.

    The apostrophe is what spreadsheets themselves put before such a text, as OWASP advises against CSV injection.
    """
    if not isinstance(value, str) or value[:1].isalnum():
        return value
    value = value.replace("\0", "\ufffd")
    seen = next((sign for sign in value if not (sign.isspace() or unicodedata.category(sign) in _UNSEEN)), "")
    return f"'{value}" if value.startswith(_STARTS) or seen in _STARTS else value


def csv_text(head: Sequence[str], rows: Iterable[Sequence[Any]]) -> str:
    """Return rows as CSV (RFC 4180, with plain line ends), made safe."""
    return "".join(_line([safe_text(cell) for cell in row]) for row in chain((head,), rows))


def _line(cells: list[Any]) -> str:
    """Return a line of CSV; the module of the standard library takes ten times as long for cells without a sign."""
    plain = ",".join(["" if cell is None else str(cell) for cell in cells])
    if plain and not _SIGNS.search(plain) and plain.count(",") == len(cells) - 1:
        return f"{plain}\n"
    out = io.StringIO()
    lone = "\r" in plain  # a line end to many readers
    csv.writer(out, lineterminator="\n", quoting=csv.QUOTE_ALL if lone else csv.QUOTE_MINIMAL).writerow(cells)
    return out.getvalue()
