"""Sheets and workbooks with the right numbers in place of the wrong ones, each change marked and listed."""

from __future__ import annotations

import csv
import io
from collections.abc import Mapping, Sequence
from dataclasses import replace
from fractions import Fraction
from typing import Any

from vantric.audit.arithmetic import Correction
from vantric.audit.book_tables import Book, BookTable
from vantric.audit.relations import StatedSheet
from vantric.audit.sheet_rows import RawSheet, numbers_of
from vantric.base.safe_files import without_times
from vantric.core.numbers.number_format import digits_text
from vantric.output.markup import safe_text

#: The head of the list of changes that a repaired workbook holds.
_HEAD = ("Sheet", "Cell", "Category", "Column", "Was", "Is")
#: The name of the sheet that lists the changes.
_CHANGES = "Changes"
_FILL = "FFFFE08A"  # behind a changed cell
#: A repaired percent has the decimals of its column, at most so many.
_MOST_DECIMALS = 6


def repaired_csv(raw: RawSheet, corrections: Sequence[Correction]) -> bytes:
    """Return a sheet as CSV with the right numbers, and a last column that says what each row was."""
    name = _free("changes", raw.names)
    out = io.StringIO()
    writer = csv.writer(out, delimiter=raw.delimiter or ",", lineterminator="\n")
    writer.writerow([safe_text(cell) for cell in (*raw.names, name)])
    for row, place in zip(raw.rows, raw.places, strict=True):
        here = [item for item in corrections if item.row == place]
        cells = list(row)
        for correction in here:
            index = _column(raw, correction)
            cells[index] = written(correction.value, [_text(other[index]) for other in raw.rows])
        changed = "; ".join(f"{item.column} was {item.says}" for item in here)
        writer.writerow([safe_text(_text(cell)) for cell in (*cells, changed)])
    return out.getvalue().encode()


def repaired_sheet(raw: RawSheet, corrections: Sequence[Correction]) -> bytes:
    """Return a sheet as a workbook with the right numbers, the changed cells marked, and a sheet that lists them."""
    from openpyxl import Workbook

    book = Workbook()
    page = book.worksheets[0]
    page.title = "Repaired"
    page.append([_as_text(name) for name in raw.names])
    columns = [numbers_of([row[position] for row in raw.rows]) for position in range(len(raw.names))]
    for number, row in enumerate(raw.rows):
        values = [_plain(column[number]) for column in columns]
        page.append([_as_text(cell) if value is None else value for cell, value in zip(row, values, strict=True)])
    listed = []
    for correction in corrections:
        line, index = raw.places.index(correction.row) + 2, _column(raw, correction) + 1
        _mark(page.cell(line, index), correction)
        listed.append(("Repaired", page.cell(line, index).coordinate, correction))
    _list(book, listed)
    return _saved(book)


def repaired_book(book: Book, corrections: Mapping[int, Sequence[Correction]], tables: Sequence[BookTable]) -> bytes:
    """Return a workbook with the right numbers in place of the wrong ones; all else is as its reader holds it.

    Parameters
    ----------
    book
    corrections
        Place of a table among `tables` -> what its wrong cells should hold.
    tables
    """
    listed = []
    for number, correction in corrections.items():
        table = tables[number]
        page = book.native[table.sheet]
        for item in correction:
            place = table.place(item.kind, item.row)
            if place is None:
                continue
            cell = page.cell(*place)
            share = "%" in str(cell.number_format) and item.kind in ("percent", "cumulative")
            _mark(cell, item, Fraction(1, 100) if share and _in_hundreds(table, item) else Fraction(1))
            listed.append((table.sheet, cell.coordinate, item))
    _list(book.native, listed)
    return _saved(book.native)


def _in_hundreds(table: BookTable, correction: Correction) -> bool:
    """Whether a cell that is shown as a percent was read as what it shows: a hundred times what it holds."""
    cells = [row.cell(correction.kind) for row in table.table.rows]  # type: ignore[arg-type]
    return any(cell is not None and cell.text.endswith("%") for cell in cells)


def written(value: Fraction, others: Sequence[str]) -> str:
    """Return a number as the other cells of its column are written: their decimals, their decimal sign, their %."""
    texts = [text.strip() for text in others if text.strip()]
    sign = "," if sum("," in text for text in texts) > sum("." in text for text in texts) else "."
    plain = [text.rstrip("% \u00a0") for text in texts]
    decimals = max((len(text.rpartition(sign)[2]) for text in plain if sign in text), default=0)
    text = f"{float(round(value, min(decimals, _MOST_DECIMALS))):.{min(decimals, _MOST_DECIMALS)}f}"
    percent = sum(text.endswith("%") for text in texts) * 2 > len(texts)
    gap = " " if any(text.endswith(" %") for text in texts) else ""
    return text.replace(".", sign) + (f"{gap}%" if percent else "")


def _mark(cell: Any, correction: Correction, factor: Fraction = Fraction(1)) -> None:
    from openpyxl.comments import Comment
    from openpyxl.styles import PatternFill

    was = cell.value if isinstance(cell.value, str) and cell.value.startswith("=") else correction.says
    cell.value = _plain(correction.value * factor)
    cell.fill = PatternFill("solid", fgColor=_FILL)
    cell.comment = Comment(f"was {was}", "Vantric")


def _list(book: Any, listed: Sequence[tuple[str, str, Correction]]) -> None:
    """Add a sheet that lists every change."""
    page = book.create_sheet(_free(_CHANGES, book.sheetnames))
    page.append(_HEAD)
    for sheet, place, correction in listed:
        page.append(
            [
                _as_text(sheet),
                place,
                _as_text(correction.label),
                _as_text(correction.column),
                _as_text(correction.says),
                _plain(correction.value),
            ]
        )
    for letters, width in zip("ABCDEF", (16, 8, 28, 22, 14, 14), strict=True):
        page.column_dimensions[letters].width = width
    page.freeze_panes = "A2"


def change_lines(corrections: Sequence[Correction]) -> list[str]:
    """Return every change in a line."""
    return [
        f"{correction.place} ('{correction.label}'): {correction.column} {correction.says} "
        f"is now {digits_text(float(correction.value))}"
        for correction in corrections
    ]


def _column(raw: RawSheet, correction: Correction) -> int:
    return raw.names.index(dict(raw.columns)[correction.kind])


def _free(name: str, texts: Sequence[str]) -> str:
    number, text = 2, name
    while text in texts:
        text, number = f"{name} ({number})", number + 1
    return text


def _text(cell: Any) -> str:
    return "" if cell is None else cell if isinstance(cell, str) else repr(cell)


def _as_text(cell: Any) -> Any:
    """Return a cell as a workbook holds it; a text that would be run as a formula stays text."""
    return safe_text(cell) if isinstance(cell, str) else cell


def _plain(value: Fraction | None) -> int | float | None:
    if value is None:
        return None
    return int(value) if value.denominator == 1 and abs(value) < 2**53 else float(value)


def _saved(book: Any) -> bytes:
    out = io.BytesIO()
    book.save(out)
    return without_times(out.getvalue())


def corrected(sheet: StatedSheet, corrections: Sequence[Correction]) -> StatedSheet:
    """Return a sheet with what a repair would write, to see whether its relations still hold."""
    columns = []
    for place, column in enumerate(sheet.columns):
        changes = {correction.place: correction for correction in corrections if correction.column == column.name}
        values, texts = list(column.values), list(column.texts)
        for row in range(len(sheet.labels)):
            correction = changes.get(sheet.place(row, place)) or changes.get(sheet.places[row])
            if correction is not None:
                scale = 100 if column.percents and correction.value <= 1 < (values[row] or 0) else 1
                values[row], texts[row] = scale * correction.value, f"{float(scale * correction.value):.6g}"
        columns.append(replace(column, values=tuple(values), texts=tuple(texts)))
    return replace(sheet, columns=tuple(columns))
