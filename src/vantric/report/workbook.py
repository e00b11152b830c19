"""Tables as workbooks (Office Open XML, ISO/IEC 29500) through openpyxl: numbers as numbers, text never a formula."""

from __future__ import annotations

import io
import re
from collections.abc import Sequence
from datetime import datetime
from typing import Any, NamedTuple
from zipfile import ZIP_DEFLATED, ZipFile, ZipInfo

from vantric.cleaning import markup
from vantric.errors import TargetError

_WIDEST, _ROWS, _LONGEST = 60, 1_048_575, 32_767
_PERCENT, _WHOLE, _PART = "0.0", "#,##0", "#,##0.######"
_ESCAPE = re.compile("_(?=x[0-9A-Fa-f]{4}_)")
_WRITTEN = re.compile(rb"(<dcterms:modified[^>]*>)[^<]*")
_MADE = datetime(2000, 1, 1)  # the same table gives the same workbook


class Sheet(NamedTuple):
    """A sheet: its name, its head, its rows as plain values, and which columns hold percents."""

    name: str
    head: Sequence[str]
    rows: Sequence[Sequence[Any]]
    percents: frozenset[str] = frozenset()


def workbook(sheets: Sequence[Sheet], notes: Sequence[str]) -> bytes:
    """Return sheets as a workbook, the notes on a sheet of their own behind them.

    Raises
    ------
    TargetError
        If a sheet has more rows than a workbook can hold.
    """
    from openpyxl import Workbook
    from openpyxl.styles import Font

    book = Workbook()
    for empty in book.worksheets:
        book.remove(empty)
    book.properties.creator, book.properties.created, book.properties.modified = "Vantric", _MADE, _MADE
    for sheet in (*sheets, Sheet("About", ("note",), [(note,) for note in notes])):
        if len(sheet.rows) > _ROWS:
            raise TargetError(f"a workbook holds {_ROWS:,} rows, and the table has {len(sheet.rows):,}: write a .csv")
        page = book.create_sheet(_name(sheet.name, book.sheetnames))
        for number, name in enumerate(sheet.head, 1):
            _fill(page.cell(1, number), name, "General")
            page.cell(1, number).font = Font(bold=True)
        for line, row in enumerate(sheet.rows, 2):
            for number, (name, value) in enumerate(zip(sheet.head, row, strict=True), 1):
                _fill(page.cell(line, number), value, _format(value, name in sheet.percents))
        page.freeze_panes = "A2"
        for number, name in enumerate(sheet.head, 1):
            texts = [row[number - 1] for row in sheet.rows if isinstance(row[number - 1], str)]
            width = max(10, len(name) + 2, *(len(text) + 2 for text in texts))
            page.column_dimensions[page.cell(1, number).column_letter].width = min(_WIDEST, width)
    out = io.BytesIO()
    book.save(out)
    return alike(out.getvalue())


def _fill(cell: Any, value: Any, form: str) -> None:
    """Put a value into a cell: text as text, whatever it begins with, and integers beyond doubles as text too."""
    if isinstance(value, int) and not isinstance(value, bool) and abs(value) > 2**53:
        value = str(value)
    if isinstance(value, str):
        cell.value = _text(value)
        cell.data_type = "s"
        cell.quotePrefix = True
    else:
        cell.value = value
        cell.number_format = form


def _text(value: str) -> str:
    """Return a text as a cell can hold it: what reads like an escape of the format stands for itself."""
    return _ESCAPE.sub("_x005F_", markup(value)[:_LONGEST]).replace("\r", "_x000D_")


def alike(content: bytes) -> bytes:
    """Return a workbook without the time it was written at: the same table gives the same bytes."""
    out = io.BytesIO()
    with ZipFile(io.BytesIO(content)) as old, ZipFile(out, "w", ZIP_DEFLATED) as new:
        for name in old.namelist():
            part = old.read(name)
            if name == "docProps/core.xml":
                part = _WRITTEN.sub(rb"\g<1>" + f"{_MADE.isoformat()}Z".encode(), part)
            new.writestr(ZipInfo(name, _MADE.timetuple()[:6]), part, ZIP_DEFLATED)
    return out.getvalue()


def _format(value: Any, percent: bool) -> str:
    if percent:
        return _PERCENT
    return _WHOLE if isinstance(value, int) else _PART


def _name(wanted: str, taken: Sequence[str]) -> str:
    """Return a name that a workbook takes: 31 signs, none of those it keeps for itself, none twice."""
    plain = "".join("_" if sign in "[]:*?/\\'" or not sign.isprintable() else sign for sign in wanted).strip()
    plain = plain[:31] or "Sheet"
    name, number = plain, 2
    while name.casefold() in {other.casefold() for other in taken}:
        name = f"{plain[: 28 - len(str(number))]} ({number})"
        number += 1
    return name
