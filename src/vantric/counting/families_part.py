"""Which family a label belongs to, from a file of two columns."""

from __future__ import annotations

import csv
import io
from pathlib import Path
from typing import Any

from vantric.base.regular_part import content_of, reason_of
from vantric.errors import SourceError
from vantric.reading.headings import label_text

_LARGEST = 200_000_000  # bytes


def read_families(path: Path) -> dict[str, str]:
    """Return label -> family of a CSV file with a header line, a JSON object or a TOML table.

    Raises
    ------
    SourceError
        If the file cannot be read, is none of these, or gives one label two families.
    """
    if path.suffix.casefold() == ".csv":
        return _from_csv(_text(path, "families"), path)
    return read_pairs(path, "families", "label and family in pairs")


def read_pairs(path: Path, what: str, needed: str) -> dict[str, str]:
    """Return the pairs of text of a TOML table or a JSON object, or raise `SourceError`.

    Parameters
    ----------
    path
        The file.
    what, needed
        What it should hold, and in which form, for the message.
    """
    import json
    import tomllib

    text, ending = _text(path, what), path.suffix.casefold()
    try:
        found: Any = tomllib.loads(text) if ending == ".toml" else json.loads(text)
    except RecursionError:
        raise SourceError(f"'{path}' is nested too deeply for {what}") from None
    except ValueError as error:
        raise SourceError(f"'{path}' is not valid {ending[1:].upper() or 'JSON'}: {error}") from None
    if isinstance(found, dict) and len(found) == 1 and isinstance(next(iter(found.values())), dict):
        found = next(iter(found.values()))  # a TOML table with a name
    if not isinstance(found, dict) or not all(isinstance(value, str) for value in found.values()):
        raise SourceError(f"'{path}' gives no {what}: it needs {needed}")
    return found


def _text(path: Path, what: str) -> str:
    try:
        return content_of(path, _LARGEST).decode("utf-8-sig")
    except FileNotFoundError:
        raise SourceError(f"there is no file '{path}' of {what}") from None
    except UnicodeDecodeError:
        raise SourceError(f"cannot read the {what} in '{path}': it is not in UTF-8; save it so") from None
    except (OSError, RuntimeError) as error:
        raise SourceError(f"cannot read the {what} in '{path}': {reason_of(error)}") from None


def _from_csv(text: str, path: Path) -> dict[str, str]:
    families: dict[str, str] = {}
    try:
        rows = list(csv.reader(io.StringIO(text, newline="")))
    except csv.Error as error:
        raise SourceError(f"'{path}': {error}; a label and its family are two short texts") from None
    for line, row in enumerate(rows, 1):
        if not row:
            continue
        if len(row) != 2:
            raise SourceError(f"'{path}', line {line}: {len(row)} columns; label and family are two")
        label, family = row[0], label_text(row[1].strip()) or ""
        if line == 1 or not family:
            continue
        if families.setdefault(label, family) != family:
            raise SourceError(f"'{path}', line {line}: '{label}' has two families, '{families[label]}' and '{family}'")
    return families
