"""Sheets of workbooks: the table is found under its title rows and above its Total row."""

from __future__ import annotations

import csv
import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction
from pathlib import Path
from typing import Any

from vantric.core.counting.remark import Remark
from vantric.core.numbers.parsing import parse_number
from vantric.core.numbers.shown import counted
from vantric.errors import SourceError, unknown
from vantric.sources.engines.parts import Part, csv_part
from vantric.sources.engines.plaintext import Workshop, open_bytes
from vantric.sources.engines.workbookguard import check_workbook
from vantric.sources.reading.csvfile import CsvShape
from vantric.sources.reading.labels import label_text
from vantric.sources.reading.records import is_blank
from vantric.sources.stopping import stoppable

#: A label that says its row adds up the others.
_TOTAL = re.compile(r"\s*(grand\s+|sub-?|overall\s+)?(total|sum|totals|all)\b.*|\s*Σ\s*", re.IGNORECASE)
_HEADER_ROWS = 100  # where a header is looked for
_ROW = "vantric:row"
_SHAPE_COMMA = ","

Row = list[Any]


def sheet_part(
    path: Path, shown: str, sheet: str | None, wanted: Sequence[str], workshop: Workshop, until: float | None = None
) -> tuple[Part, list[Remark]]:
    """Write a sheet's table as text that the engine reads, each record with its row in the sheet."""
    open_bytes(path, shown).close()
    name, rows = stoppable(lambda: _read(path, shown, sheet), lambda: None, until)
    place = f"'{shown}', sheet '{name}'"
    head = _header_row(rows, wanted)
    if head is None:
        raise SourceError(f"{place} holds no table: it needs a header row and records below it")
    names = _column_names(rows[head], place)
    body, remarks = _body(rows, head, len(names), place)
    target = workshop.new_path(".csv")
    with target.open("w", encoding="utf-8", newline="") as file:
        writer = csv.writer(file, quoting=csv.QUOTE_ALL, lineterminator="\n")
        writer.writerow([_ROW, *names])
        for number in body:
            cells = rows[number][: len(names)]
            cells += [None] * (len(names) - len(cells))
            writer.writerow([number + 1, *(label_text(cell) or "" for cell in cells)])
    part = csv_part(target, f"{shown}, sheet {name}", CsvShape(_SHAPE_COMMA, (_ROW, *names)))
    columns = {column: sql for column, sql in part.columns.items() if column != _ROW}
    return replace(part, columns=columns, row_column=f"{part.columns[_ROW]}::BIGINT"), remarks


def _read(path: Path, shown: str, sheet: str | None) -> tuple[str, list[Row]]:
    """Return the name and the rows of a sheet: the one asked for, or the first that holds something."""
    from python_calamine import CalamineError, CalamineWorkbook

    check_workbook(path, shown)
    try:
        book = CalamineWorkbook.from_path(str(path))
        names = book.sheet_names
        if sheet is not None and sheet not in names:
            raise unknown(SourceError, f"'{shown}' has no sheet '{sheet}'", sheet, names, label="its sheets are")
        for name in [sheet] if sheet is not None else names:
            rows = book.get_sheet_by_name(name).to_python(skip_empty_area=False)
            if rows or sheet is not None:
                return name, rows
    except (CalamineError, OSError, ValueError) as error:
        reason = str(error).splitlines()[0] if str(error) else type(error).__name__
        if "assword" in reason or "ncrypt" in reason or _is_encrypted(path):
            raise SourceError(f"'{shown}' is protected with a password; save it without one") from None
        raise SourceError(f"'{shown}' is not a workbook that can be read ({reason}); save it again") from None
    except BaseException as error:
        if type(error).__name__ != "PanicException":
            raise
        raise SourceError(f"'{shown}' is not a workbook that can be read; save it again") from None
    raise SourceError(f"'{shown}' is empty: every sheet is")


def _is_encrypted(path: Path) -> bool:
    """Whether a file is the container that encrypted workbooks come in."""
    with path.open("rb") as file:
        return file.read(8) == b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1"


def _filled(row: Row) -> list[Any]:
    return [cell for cell in row if not is_blank(cell)]


def _header_row(rows: Sequence[Row], wanted: Sequence[str]) -> int | None:
    """Find the header: the first row that holds the wanted names, else the first as wide as the table, all text."""
    top = range(min(len(rows), _HEADER_ROWS))
    for number in top if wanted else ():
        if {str(cell).strip() for cell in _filled(rows[number])}.issuperset(wanted):
            return number
    widths = sorted(len(_filled(row)) for row in rows[:1000] if _filled(row))
    if not widths:
        return None
    usual = widths[len(widths) // 2]
    for number in top:
        cells = _filled(rows[number])
        if (
            len(cells) >= max(1, 0.75 * usual)
            and (usual == 1 or len(cells) > 1)
            and all(isinstance(c, str) for c in cells)
        ):
            return number
    return None


def _column_names(header: Row, place: str) -> list[str]:
    last = max(number for number, cell in enumerate(header) if not is_blank(cell))
    names = [(label_text(cell) or "").strip() or f"column {n}" for n, cell in enumerate(header[: last + 1], 1)]
    numbers = Counter(names)
    twice = next((name for name in names if numbers[name] > 1), None)
    if twice is not None:
        raise SourceError(f"{place} has two columns named '{twice}'; rename one of them")
    return names


def _body(rows: Sequence[Row], head: int, width: int, place: str) -> tuple[list[int], list[Remark]]:
    """Return the numbers of the record rows, and what there is to say of the others."""
    filled = [number for number in range(head + 1, len(rows)) if _filled(rows[number][:width])]
    remarks: list[Remark] = []
    total = next((n for n in reversed(filled) if _is_total(rows, filled, n, width)), None)
    if total is not None:
        below = [number for number in filled if number > total]
        label = label_text(_filled(rows[total])[0])
        more = f", and {counted(len(below), 'row')} below it" if below else ""
        remarks.append(
            Remark("total-row", f"{place}: row {total + 1} ('{label}') adds up the others and is left out{more}")
        )
        return [number for number in filled if number < total], remarks
    notes = _notes(rows, filled, width)
    if notes:
        rest = counted(len(notes), "row")
        remarks.append(
            Remark("notes-below", f"{place}: {rest} of notes below the table, from row {notes[0] + 1}, left out")
        )
    return [number for number in filled if number not in set(notes)], remarks


def _is_total(rows: Sequence[Row], filled: Sequence[int], number: int, width: int) -> bool:
    """Whether a row says that it is the total, and one of its numbers is the sum of those above."""
    cells = rows[number][:width]
    label = next((cell for cell in cells if not is_blank(cell)), None)
    if not isinstance(label, str) or not _TOTAL.fullmatch(label):
        return False
    above = [n for n in filled if n < number]
    return bool(above) and any(_adds_up(rows, above, column, cell) for column, cell in enumerate(cells))


def _adds_up(rows: Sequence[Row], above: Sequence[int], column: int, cell: Any) -> bool:
    if isinstance(cell, str) or is_blank(cell) or isinstance(cell, bool):
        return False
    try:
        parts = [Fraction(parse_number(c)) for n in above for c in rows[n][column : column + 1] if not is_blank(c)]
        stated = Fraction(parse_number(cell))
    except ValueError:
        return False
    return bool(parts) and abs(sum(parts) - stated) <= abs(stated) * Fraction(1, 10**9)


def _notes(rows: Sequence[Row], filled: Sequence[int], width: int) -> list[int]:
    """Return the rows at the end that are below a gap and fill one cell where records fill several."""
    for place in range(len(filled) - 1, 0, -1):
        if width < 2 or len(_filled(rows[filled[place]][:width])) > 1:
            return []
        if filled[place] - filled[place - 1] > 1:
            return list(filled[place:])
    return []
