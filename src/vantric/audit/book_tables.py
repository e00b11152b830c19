"""The cells of a finished workbook, formulas worked out where no result was saved, and its tables of percents."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import field, replace
from decimal import Decimal, InvalidOperation
from fractions import Fraction
from pathlib import Path
from typing import Any

from vantric.audit.column_roles import find_columns, section_starts, stated_numbers
from vantric.audit.formulas import FormulaError, FormulaResults, Place
from vantric.audit.relations import StatedSheet
from vantric.audit.sheet_rows import ColumnCells, labeled_sheet, numbers_of, sheet_table
from vantric.audit.sheets import SheetTable
from vantric.base.lazily import dataclass
from vantric.engines.text_files import open_bytes
from vantric.engines.workbook_cells import record_function
from vantric.engines.workbook_guard import check_workbook
from vantric.errors import SourceError
from vantric.reading.grid import Grid, range_of
from vantric.reading.headings import is_blank, letters
from vantric.reading.table_layout import TableLayout, find_table

#: Cells of a workbook that are held at once: some 200 MB.
_MOST_CELLS = 2_000_000
_MOST_SHEETS = 2_000
#: Bytes of all texts of a workbook together.
_MOST_BYTES = 50_000_000


@dataclass(frozen=True)
class BookCell:
    """One cell.

    Attributes
    ----------
    value
        What it shows: the saved result of its formula, or the one that was worked out.
    formula
        Its formula; empty if its value is typed.
    percent
        Whether it is shown as a percent.
    """

    value: Any
    formula: str = ""
    percent: bool = False


@dataclass(frozen=True)
class BookSheet:
    """One sheet.

    Attributes
    ----------
    name
    cells
        (row, column) from 1 -> cell; only those that hold something.
    merged
        (top, left, bottom, right), from 0.
    hidden
        Rows that are not shown, from 0.
    """

    name: str
    cells: Mapping[tuple[int, int], BookCell]
    merged: tuple[tuple[int, int, int, int], ...] = ()
    hidden: frozenset[int] = frozenset()

    def first_of(self, row: int, column: int) -> tuple[int, int]:
        """Return the first of the merged cells that a cell is one of; itself where it is none."""
        for top, left, bottom, right in self.merged:
            if top < row <= bottom + 1 and left < column <= right + 1:
                return top + 1, left + 1
        return row, column

    def cropped(self, cells: str) -> BookSheet:
        """Return the sheet with nothing outside a range."""
        top, bottom, left, right = range_of(cells)
        inside = {
            (row, column): cell
            for (row, column), cell in self.cells.items()
            if top <= row - 1 <= bottom and left <= column - 1 <= right
        }
        return replace(self, cells=inside)

    @property
    def rows(self) -> int:
        """The number of its last row that holds something."""
        return max((row for row, _ in self.cells), default=0)


@dataclass(frozen=True)
class Book:
    """A workbook.

    Attributes
    ----------
    shown
        What messages call it.
    sheets
    names
        Defined names -> what they refer to.
    native
        The workbook as its reader holds it, with its charts.
    unread
        Formulas that could not be worked out and have no saved result: where, and why.
    """

    shown: str
    sheets: tuple[BookSheet, ...]
    names: Mapping[str, str]
    native: Any
    unread: tuple[str, ...] = ()
    _by_name: Mapping[str, BookSheet] = field(default_factory=dict)

    def sheet(self, name: str) -> BookSheet | None:
        """Return a sheet; None if there is none of that name."""
        return self._by_name.get(name)

    def value(self, place: Place) -> Any:
        """Return what a cell shows."""
        sheet = self.sheet(place[0])
        cell = None if sheet is None else sheet.cells.get(place[1:])
        return None if cell is None else cell.value


def read_book(path: Path, source_name: str) -> Book:
    """Return a workbook with its formulas and their results.

    Raises
    ------
    SourceError
        If it cannot be read, or is larger than a sheet that people make by hand.
    """
    open_bytes(path, source_name).close()
    check_workbook(path, source_name)
    if path.stat().st_size > _MOST_BYTES:
        raise SourceError(
            f"'{source_name}' is larger than {_MOST_BYTES // 1_000_000} MB; review the sheet alone, as .csv"
        )
    native = _loaded(path, source_name, data_only=False)
    if len(native.worksheets) > _MOST_SHEETS:
        raise SourceError(
            f"'{source_name}' has more than {_MOST_SHEETS:,} sheets; review a copy that holds those in question"
        )
    if sum(sheet.max_row * sheet.max_column for sheet in native.worksheets) > _MOST_CELLS:
        raise SourceError(f"'{source_name}' has more than {_MOST_CELLS:,} cells; review the sheet alone, as .csv")
    raw = _raw(native)
    shown_by = {}
    if any(isinstance(value, str) and value.startswith("=") for value in raw.values()):
        shown_by = _raw(_loaded(path, source_name, data_only=True))
    rows: dict[str, int] = {}
    for name, row_number, _ in raw:
        rows[name] = max(rows.get(name, 0), row_number)
    worked = FormulaResults(raw.get, shown_by.get, lambda name: rows.get(name, 0))
    sheets, unread = [], []
    for sheet in native.worksheets:
        cells, failed = _cells(sheet, worked)
        unread += failed
        hidden = frozenset(number - 1 for number, row_dimension in sheet.row_dimensions.items() if row_dimension.hidden)
        merged = tuple(
            (item.min_row - 1, item.min_col - 1, item.max_row - 1, item.max_col - 1)
            for item in sheet.merged_cells.ranges
        )
        sheets.append(BookSheet(sheet.title, cells, merged, hidden))
    names = {name: str(defined_name.attr_text or "") for name, defined_name in native.defined_names.items()}
    return Book(
        source_name, tuple(sheets), names, native, tuple(unread), {book_sheet.name: book_sheet for book_sheet in sheets}
    )


def _raw(native: Any) -> dict[Place, Any]:
    """Return what each cell holds, of a formula over several cells its text."""
    return {
        (sheet.title, cell.row, cell.column): getattr(cell.value, "text", cell.value)
        for sheet in native.worksheets
        for row in sheet.iter_rows()
        for cell in row
        if cell.value is not None
    }


def _loaded(path: Path, source_name: str, *, data_only: bool) -> Any:
    import openpyxl

    try:
        with path.open("rb") as file:  # its reader leaves a file open that it cannot read
            return openpyxl.load_workbook(file, data_only=data_only)
    except Exception as error:  # whatever its reader stumbles over
        reason = str(error).splitlines()[0][:100] if str(error) else type(error).__name__
        raise SourceError(
            f"'{source_name}' is not a workbook that can be reviewed ({reason}); save it as .xlsx"
        ) from None


def _cells(sheet: Any, worked: FormulaResults) -> tuple[dict[tuple[int, int], BookCell], list[str]]:
    cells: dict[tuple[int, int], BookCell] = {}
    failed = []
    for row in sheet.iter_rows():
        for cell in row:
            if cell.value is None:
                continue
            value = text = getattr(cell.value, "text", cell.value)
            formula = text if isinstance(text, str) and text.startswith("=") else ""
            try:
                if formula:
                    value = worked.value((sheet.title, cell.row, cell.column))
            except FormulaError as error:
                value = str(error) if str(error).startswith("#") else None
                if value is None:
                    failed.append(f"{sheet.title}!{cell.coordinate} ({formula[:40]} {error})")
            cells[cell.row, cell.column] = BookCell(value, formula, "%" in str(cell.number_format or ""))
    return cells, failed


#: Tables of one sheet that are checked; a sheet of more is a form, not a table.
_MOST_TABLES = 12
_NEARBY = 8  # rows above and below a table, in which a base may be stated


@dataclass(frozen=True)
class BookTable:
    """A table of a sheet.

    Attributes
    ----------
    table
        Its rows as they are checked; without any where there are no percents or running sums.
    stated
        The same with all of its columns, whose relations are checked; None where labels repeat.
    sheet
        The name of its sheet.
    rows, columns
        The rows of its body, and kind of column -> its place; from 1.
    log
        Of a table in which labels repeat: the heading of each column of text, and its labels.
    """

    table: SheetTable
    stated: StatedSheet | None
    sheet: str
    rows: tuple[int, ...]
    columns: tuple[tuple[str, int], ...]
    log: tuple[tuple[str, tuple[str, ...]], ...] = ()

    def place(self, kind: str, name: str) -> tuple[int, int] | None:
        """Return the row and the column of a cell by its kind and the place of its row: ``"row 5"``."""
        column = dict(self.columns).get(kind)
        row = name.rpartition(" ")[2]
        return None if column is None or not row.isdigit() else (int(row), column)


def book_tables(sheet: BookSheet, where: str) -> list[BookTable]:
    """Return every table of a sheet in which there is something to check."""
    tables = []
    for layout in _layouts(sheet):
        table = _table(sheet, layout, where)
        if table is not None:
            tables.append(table)
    return tables


def _layouts(sheet: BookSheet) -> Iterator[TableLayout]:
    rows = max((row for row, _ in sheet.cells), default=0)
    width = max((column for _, column in sheet.cells), default=0)
    cells: list[list[Any]] = [[None] * width for _ in range(rows)]
    for (row, column), cell in sheet.cells.items():
        cells[row - 1][column - 1] = cell.value
    for _ in range(_MOST_TABLES):
        grid = Grid(cells, f"sheet '{sheet.name}'", merged=sheet.merged, hidden=sheet.hidden)
        try:
            layout = find_table(grid)
        except SourceError:  # a block without a header is no table to check
            return
        yield layout
        for row in (*layout.header, *layout.body):
            for column in layout.columns:
                cells[row][column] = None
        if not layout.body or not any(value is not None for line in cells for value in line):
            return


def _table(sheet: BookSheet, layout: TableLayout, where: str) -> BookTable | None:
    rows = [row + 1 for row in layout.body]
    places = [column + 1 for column in layout.columns]
    columns = [_column(sheet, name, column, rows) for name, column in zip(layout.names, places, strict=True)]
    sheet_columns = [
        cells.seen(percents=_in_percent(sheet, column, rows)) for cells, column in zip(columns, places, strict=True)
    ]
    texts = [f"row {row}" for row in rows]

    lettered = [letters(column - 1) for column in places]

    def place(row: int, column: int) -> str:
        return f"{lettered[column]}{rows[row]}"

    starts = section_starts(texts, layout.remarks)
    stated_columns = labeled_sheet(
        sheet_columns, [cells.raw for cells in columns], texts, starts, where=f"{where}: " if where else "", cell=place
    )
    found_columns = find_columns(sheet_columns)
    if found_columns is None:
        if stated_columns is None:
            log = tuple((column.name, column.texts) for column in sheet_columns if column.is_text)
            return BookTable(SheetTable((), where), None, sheet.name, tuple(rows), (), log) if log else None
        return BookTable(SheetTable((), where, stated_columns.by), stated_columns, sheet.name, tuple(rows), ())
    counts = columns[found_columns.count]
    if any(isinstance(cell, str) for cell in counts.raw):  # of two readings of its texts the whole one is taken
        values = numbers_of(counts.raw, heading=counts.name, whole=True)
        columns[found_columns.count] = ColumnCells(counts.name, counts.raw, values)

    def why(row: int, column: int) -> str:
        return _cell(sheet, rows[row], places[column]).formula

    def adds(row: int, column: int) -> bool:
        return record_function(why(row, column), rows[row] - 1, places[column] - 1) == "SUM"

    table = sheet_table(columns, found_columns, texts, starts, where=where, place=place, why=why, adds=adds)
    stated = (*stated_numbers(sheet_columns, found_columns), *_beside(sheet, rows, layout))
    kinds = (
        ("count", found_columns.count),
        ("percent", found_columns.percent),
        ("cumulative", found_columns.cumulative),
        ("running", found_columns.running),
    )
    named = tuple((kind, places[index]) for kind, index in kinds if index is not None)
    table = replace(table, stated=tuple(dict.fromkeys(stated)))
    return BookTable(table, stated_columns, sheet.name, tuple(rows), named)


def _cell(sheet: BookSheet, row: int, column: int) -> BookCell:
    """Return a cell; of merged ones the text in their first."""
    cell = sheet.cells.get((row, column))
    if cell is None:
        top, left = sheet.first_of(row, column)
        cell = sheet.cells.get((top, left), BookCell(None))
        cell = cell if isinstance(cell.value, str) else BookCell(None)
    return cell


def _column(sheet: BookSheet, name: str, column: int, rows: Sequence[int]) -> ColumnCells:
    """Return a column; what is shown as a percent is what it shows: 0.106 is 10.6."""
    raw = [_shown(_cell(sheet, row, column)) for row in rows]
    return ColumnCells(name, raw, numbers_of(raw, heading=name))


def _shown(cell: BookCell) -> Any:
    if not cell.percent or isinstance(cell.value, bool) or not isinstance(cell.value, int | float):
        return cell.value
    try:
        return f"{Decimal(repr(cell.value)).scaleb(2):f}%"
    except (InvalidOperation, ValueError):  # a format that is not understood shows the value itself
        return cell.value


def _in_percent(sheet: BookSheet, column: int, rows: Sequence[int]) -> bool:
    cells = [cell for row in rows if isinstance((cell := _cell(sheet, row, column)).value, int | float)]
    return bool(cells) and sum(cell.percent for cell in cells) * 2 > len(cells)


def _beside(sheet: BookSheet, rows: Sequence[int], layout: TableLayout) -> list[Fraction]:
    """Return whole numbers that stand above or below a table: units that were inspected, perhaps."""
    first, last = min((*layout.header, *layout.body)) + 1, max(rows)
    values = []
    for (row, _), cell in sheet.cells.items():
        near = first - _NEARBY <= row < first or last < row <= last + _NEARBY
        if (
            near
            and isinstance(cell.value, int | float)
            and not isinstance(cell.value, bool)
            and not is_blank(cell.value)
        ):
            values += [value for value in numbers_of([cell.value]) if value is not None and value > 1]
    return values
