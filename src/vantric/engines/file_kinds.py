"""What a file is by its first bytes, and JSON in other shapes than a list of objects."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from vantric.engines.text_files import PACKED, TempFiles, first_text, whole_text
from vantric.errors import SourceError

_OLD_WORKBOOK = b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1"
_ARCHIVE = b"PK\x03\x04"
#: What the first bytes say -> what the file is, and what to do.
_BEGINNINGS = (
    (b"%PDF", "a PDF", "export its table as CSV"),
    (b"PAR1", "a Parquet file", "rename it to end in .parquet"),
    (b"\x1f\x8b", "packed with gzip", "rename it to end in .csv.gz"),
    (b"SQLite format 3", "an SQLite database", "name it as sqlite:///PATH, with a table"),
    (b"\x89PNG", "a picture", "give the table itself"),
    (b"\xff\xd8\xff", "a picture", "give the table itself"),
)


def check_kind(path: Path, source_name: str, *, is_workbook: bool) -> None:
    """Raise `SourceError` if a file is no text, or no workbook, though its name says so.

    Parameters
    ----------
    path, source_name
        The file, and what messages call it.
    is_workbook
        Whether its name says that it is a workbook.
    """
    if path.suffix.casefold() in PACKED:  # what is in it is looked at when it is unpacked
        return
    try:
        with path.open("rb") as file:
            head = file.read(512)
    except OSError:  # whoever reads it says so
        return
    what, fix = _kind(path, head, is_workbook=is_workbook)
    if what:
        named = path.suffix.casefold() == ".xls" and "(.xls)" in what
        raise SourceError(f"'{source_name}' is {what}{'' if named else ' under another name'}; {fix}")


def _kind(path: Path, head: bytes, *, is_workbook: bool) -> tuple[str, str]:
    if head.startswith(_OLD_WORKBOOK):
        is_old = not is_workbook or path.suffix.casefold() == ".xls" or _is_old_workbook(path)
        return ("an old workbook (.xls)", "save it as .xlsx") if is_old else ("", "")
    if head.startswith(_ARCHIVE):
        return ("", "") if is_workbook else _archive(path)
    match = next(((what, fix) for start, what, fix in _BEGINNINGS if head.startswith(start)), ("", ""))
    if match[0] or not is_workbook:
        return match
    text = head.decode("utf-8", "replace").lstrip("\ufeff \r\n\t").casefold()
    if text.startswith(("<html", "<!doctype html", "<table")):
        return "a web page (HTML)", "open it in the program that made it, and save it as .xlsx"
    if text.startswith("<?xml"):
        return "an XML file", "open it in the program that made it, and save it as .xlsx"
    return ("a text file", "rename it to end in .csv") if head and b"\0" not in head else ("", "")


def _is_old_workbook(path: Path) -> bool:
    """Whether a container holds an old workbook, and no encrypted one."""
    with path.open("rb") as file:
        return "Workbook".encode("utf-16-le") in file.read(1 << 20)


def _archive(path: Path) -> tuple[str, str]:
    import zipfile

    try:
        with zipfile.ZipFile(path) as archive:
            names = archive.namelist()
    except zipfile.BadZipFile:
        return "a ZIP archive", "unpack it"
    if any(name.startswith("xl/") for name in names):
        return "a workbook (.xlsx)", "rename it to end in .xlsx"
    is_document = "content.xml" in names
    return ("a workbook (.ods)", "rename it to end in .ods") if is_document else ("a ZIP archive", "unpack it")


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
    plain = json.dumps(records, ensure_ascii=False)
    target.write_text(plain, encoding="utf-8")
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
