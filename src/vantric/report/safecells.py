"""CSV and text cells that no spreadsheet runs as a formula."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence
from typing import Any

#: What spreadsheets take for the start of a formula, in their full-width forms too.
_STARTS = ("=", "+", "-", "@", "\t", "\r", "\n", "＝", "＋", "－", "＠")


def safe_text(value: Any) -> Any:
    """Return a text cell behind an apostrophe if a spreadsheet would run it; anything else as it is.

    The apostrophe is what spreadsheets themselves put before such a text, as OWASP advises against CSV injection.
    """
    return f"'{value}" if isinstance(value, str) and value.startswith(_STARTS) else value


def csv_text(head: Sequence[str], rows: Iterable[Sequence[Any]]) -> str:
    """Return rows as CSV (RFC 4180, with plain line ends), made safe."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(map(safe_text, head))
    writer.writerows(map(safe_text, row) for row in rows)
    return out.getvalue()
