"""The tables of a sheet of a workbook that hold percents or running sums beside frequencies."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal, InvalidOperation
from fractions import Fraction
from typing import Any

from vantric.audit.book_tables import BookCell, BookSheet
from vantric.audit.column_roles import SheetColumn, find_columns, stated_numbers
from vantric.audit.numbers_part import numbers_of
from vantric.audit.sheets import SheetTable
from vantric.audit.table_part import Cells, sheet_table
from vantric.engines.sheetdetails_part import SUM
from vantric.errors import SourceError
from vantric.reading.blanks_part import is_blank
from vantric.reading.grid import Grid
from vantric.reading.headings import letters
from vantric.reading.table_layout import Layout, find_table

_MOST_TABLES = 12
_NEARBY = 8  # rows above and below a table, in which a base may be stated


@dataclass(frozen=True)
class BookTable:
    """A table of a sheet.

    Attributes
    ----------
    table
        Its rows as they are checked.
    sheet
        The name of its sheet.
    rows, columns
        The rows of its body, and kind of column -> its place; from 1.
    """

    table: SheetTable
    sheet: str
    rows: tuple[int, ...]
    columns: tuple[tuple[str, int], ...]

    def place(self, kind: str, name: str) -> tuple[int, int] | None:
        """Return the row and the column of a cell by its kind and the place of its row: ``"row 5"``."""
        column = dict(self.columns).get(kind)
        row = name.rpartition(" ")[2]
        return None if column is None or not row.isdigit() else (int(row), column)


def book_tables(sheet: BookSheet, where: str) -> list[BookTable]:
    """Return every table of a sheet in which there is something to check."""
    found = []
    for layout in _layouts(sheet):
        made = _table(sheet, layout, where)
        if made is not None:
            found.append(made)
    return found


def _layouts(sheet: BookSheet) -> Iterator[Layout]:
    rows = max((row for row, _ in sheet.cells), default=0)
    width = max((column for _, column in sheet.cells), default=0)
    cells: list[list[Any]] = [[None] * width for _ in range(rows)]
    for (row, column), cell in sheet.cells.items():
        cells[row - 1][column - 1] = cell.value
    for _ in range(_MOST_TABLES):
        grid = Grid(cells, f"sheet '{sheet.name}'", merged=sheet.merged, hidden=sheet.hidden)
        try:
            layout = find_table(grid)
        except SourceError:
            return
        yield layout
        for row in (*layout.header, *layout.body):
            for column in layout.columns:
                cells[row][column] = None
        if not layout.body:
            return


def _table(sheet: BookSheet, layout: Layout, where: str) -> BookTable | None:
    rows = [row + 1 for row in layout.body]
    places = [column + 1 for column in layout.columns]
    columns = [_column(sheet, name, column, rows) for name, column in zip(layout.names, places, strict=True)]
    seen = [
        SheetColumn(
            one.name,
            tuple(one.values),
            tuple(one.text(at) for at in range(len(rows))),
            _in_percent(sheet, column, rows),
        )
        for one, column in zip(columns, places, strict=True)
    ]
    found = find_columns(seen)
    if found is None:
        return None
    columns[found.count] = _column(sheet, layout.names[found.count], places[found.count], rows, whole=True)

    def place(row: int, column: int) -> str:
        return f"{letters(places[column] - 1)}{rows[row]}"

    def why(row: int, column: int) -> str:
        return _cell(sheet, rows[row], places[column]).formula

    def adds(row: int, column: int) -> bool:
        return bool(SUM.match(why(row, column)))

    made = sheet_table(columns, found, [f"row {row}" for row in rows], where=where, place=place, why=why, adds=adds)
    stated = (*stated_numbers(seen, found), *_beside(sheet, rows, layout))
    kinds = (
        ("count", found.count),
        ("percent", found.percent),
        ("cumulative", found.cumulative),
        ("running", found.running),
    )
    named = tuple((kind, places[at]) for kind, at in kinds if at is not None)
    return BookTable(replace(made, stated=tuple(dict.fromkeys(stated))), sheet.name, tuple(rows), named)


def _cell(sheet: BookSheet, row: int, column: int) -> BookCell:
    """Return a cell; of merged ones the text in their first."""
    found = sheet.cells.get((row, column))
    if found is None:
        top, left = sheet.first_of(row, column)
        found = sheet.cells.get((top, left), BookCell(None))
        found = found if isinstance(found.value, str) else BookCell(None)
    return found


def _column(sheet: BookSheet, name: str, column: int, rows: Sequence[int], *, whole: bool = False) -> Cells:
    """Return a column; what is shown as a percent is what it shows: 0.106 is 10.6."""
    raw = [_shown(_cell(sheet, row, column)) for row in rows]
    return Cells(name, raw, numbers_of(raw, heading=name, whole=whole))


def _shown(cell: BookCell) -> Any:
    if not cell.percent or isinstance(cell.value, bool) or not isinstance(cell.value, int | float):
        return cell.value
    try:
        return f"{Decimal(repr(cell.value)).scaleb(2):f}%"
    except (InvalidOperation, ValueError):
        return cell.value


def _in_percent(sheet: BookSheet, column: int, rows: Sequence[int]) -> bool:
    held = [cell for row in rows if isinstance((cell := _cell(sheet, row, column)).value, int | float)]
    return bool(held) and sum(cell.percent for cell in held) * 2 > len(held)


def _beside(sheet: BookSheet, rows: Sequence[int], layout: Layout) -> list[Fraction]:
    """Return whole numbers that stand above or below a table: units that were inspected, perhaps."""
    first, last = min((*layout.header, *layout.body)) + 1, max(rows)
    found = []
    for (row, _), cell in sheet.cells.items():
        near = first - _NEARBY <= row < first or last < row <= last + _NEARBY
        if (
            near
            and isinstance(cell.value, int | float)
            and not isinstance(cell.value, bool)
            and not is_blank(cell.value)
        ):
            found += [value for value in numbers_of([cell.value]) if value is not None and value > 1]
    return found
