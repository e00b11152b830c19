"""What a file is by its first bytes, where its name says another thing."""

from __future__ import annotations

import zipfile
from pathlib import Path

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
        is_encrypted = is_workbook and not _is_old_workbook(path)
        return ("", "") if is_encrypted else ("an old workbook (.xls)", "save it as .xlsx")
    if head.startswith(_ARCHIVE):
        return ("", "") if is_workbook else _archive(path)
    found = next(((what, fix) for start, what, fix in _BEGINNINGS if head.startswith(start)), ("", ""))
    if found[0] or not is_workbook:
        return found
    text = head.decode("utf-8", "replace").lstrip("\ufeff \r\n\t").casefold()
    if text.startswith(("<html", "<!doctype html", "<table")):
        return "a web page (HTML)", "open it in the program that made it, and save it as .xlsx"
    if text.startswith("<?xml"):
        return "an XML file", "open it in the program that made it, and save it as .xlsx"
    return ("a text file", "rename it to end in .csv") if head and b"\0" not in head else ("", "")


def _is_old_workbook(path: Path) -> bool:
    """Whether a container holds an old workbook, and no encrypted one."""
    with path.open("rb") as file:
        return "EncryptedPackage".encode("utf-16-le") not in file.read(1 << 20)


def _archive(path: Path) -> tuple[str, str]:
    try:
        with zipfile.ZipFile(path) as archive:
            names = archive.namelist()
    except zipfile.BadZipFile:
        return "a ZIP archive", "unpack it"
    if any(name.startswith("xl/") for name in names):
        return "a workbook (.xlsx)", "rename it to end in .xlsx"
    is_document = "content.xml" in names
    return ("a workbook (.ods)", "rename it to end in .ods") if is_document else ("a ZIP archive", "unpack it")
