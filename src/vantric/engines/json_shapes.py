"""JSON in other shapes than a list of objects: columns, rows under a header, records within an object."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from vantric.engines.text_files import TempFiles, first_text, whole_text

#: Bytes of a file that is looked into.
_LARGEST = 64_000_000


def as_records(path: Path, source_name: str, temp_files: TempFiles) -> Path:
    """Return a JSON file as one of a list of objects; the file itself if it is one, or an object a line."""
    head = first_text(path, source_name)
    text = head[0].lstrip("\ufeff \r\n\t") if head else ""
    is_plain = text.startswith("[") and text[1:].lstrip().startswith("{")
    if is_plain or not text.startswith(("[", "{")) or path.stat().st_size > _LARGEST:
        return path
    try:
        content = json.loads(whole_text(path, source_name))
    except ValueError:  # an object a line, or what the engine says is broken
        return path
    records = _records(content)
    if records is None:
        return path
    target = temp_files.new_path(".json")
    target.write_text(json.dumps(records, ensure_ascii=False), encoding="utf-8")
    return target


def _records(content: Any) -> list[dict[str, Any]] | None:
    if isinstance(content, list):
        return _under_header(content)
    within = [value for value in content.values() if _is_records(value)]
    if len(within) == 1:
        return list(within[0])
    columns = {name: value for name, value in content.items() if isinstance(value, list)}
    if columns and len(columns) == len(content) and len({len(column) for column in columns.values()}) == 1:
        return [dict(zip(columns, row, strict=True)) for row in zip(*columns.values(), strict=True)]
    nested = [rows for value in content.values() if isinstance(value, list) and (rows := _under_header(value))]
    return nested[0] if len(nested) == 1 else None


def _is_records(value: Any) -> bool:
    return isinstance(value, list) and bool(value) and all(isinstance(item, dict) for item in value)


def _under_header(rows: list[Any]) -> list[dict[str, Any]] | None:
    """Return lists of cells as records, the first list being their names."""
    if len(rows) < 2 or not all(isinstance(row, list) for row in rows):
        return None
    header, width = rows[0], len(rows[0])
    if not all(isinstance(name, str) for name in header) or any(len(row) != width for row in rows):
        return None
    return [dict(zip(header, row, strict=True)) for row in rows[1:]]
