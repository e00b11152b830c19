"""The cells of a finished workbook: values, formulas and formats, formulas worked out where no result was saved."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from vantric.audit.formulas import FormulaError, Results
from vantric.audit.references_part import Place
from vantric.engines.text_files import open_bytes
from vantric.engines.workbook_guard import check_workbook
from vantric.errors import SourceError

_MOST_CELLS = 2_000_000
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


def read_book(path: Path, shown: str) -> Book:
    """Return a workbook with its formulas and their results.

    Raises
    ------
    SourceError
        If it cannot be read, or is larger than a sheet that people make by hand.
    """
    open_bytes(path, shown).close()
    check_workbook(path, shown)
    if path.stat().st_size > _MOST_BYTES:
        raise SourceError(f"'{shown}' is larger than {_MOST_BYTES // 1_000_000} MB; review the sheet alone, as .csv")
    native = _loaded(path, shown, data_only=False)
    if sum(sheet.max_row * sheet.max_column for sheet in native.worksheets) > _MOST_CELLS:
        raise SourceError(f"'{shown}' has more than {_MOST_CELLS:,} cells; review the sheet alone, as .csv")
    raw = _raw(native)
    shown_by = {}
    if any(isinstance(value, str) and value.startswith("=") for value in raw.values()):
        shown_by = _raw(_loaded(path, shown, data_only=True))
    rows: dict[str, int] = {}
    for name, row_number, _ in raw:
        rows[name] = max(rows.get(name, 0), row_number)
    worked = Results(raw.get, shown_by.get, lambda name: rows.get(name, 0))
    sheets, unread = [], []
    for sheet in native.worksheets:
        cells, failed = _cells(sheet, worked)
        unread += failed
        hidden = frozenset(number - 1 for number, one in sheet.row_dimensions.items() if one.hidden)
        merged = tuple(
            (one.min_row - 1, one.min_col - 1, one.max_row - 1, one.max_col - 1) for one in sheet.merged_cells.ranges
        )
        sheets.append(BookSheet(sheet.title, cells, merged, hidden))
    names = {name: str(one.attr_text or "") for name, one in native.defined_names.items()}
    return Book(shown, tuple(sheets), names, native, tuple(unread), {one.name: one for one in sheets})


def _raw(native: Any) -> dict[Place, Any]:
    """Return what each cell holds, of a formula over several cells its text."""
    return {
        (sheet.title, cell.row, cell.column): getattr(cell.value, "text", cell.value)
        for sheet in native.worksheets
        for row in sheet.iter_rows()
        for cell in row
        if cell.value is not None
    }


def _loaded(path: Path, shown: str, *, data_only: bool) -> Any:
    import openpyxl

    try:
        with path.open("rb") as file:  # its reader leaves a file open that it cannot read
            return openpyxl.load_workbook(file, data_only=data_only)
    except Exception as error:  # whatever its reader stumbles over
        reason = str(error).splitlines()[0][:100] if str(error) else type(error).__name__
        raise SourceError(f"'{shown}' is not a workbook that can be reviewed ({reason}); save it as .xlsx") from None


def _cells(sheet: Any, worked: Results) -> tuple[dict[tuple[int, int], BookCell], list[str]]:
    cells: dict[tuple[int, int], BookCell] = {}
    failed = []
    for row in sheet.iter_rows():
        for cell in row:
            if cell.value is None:
                continue
            text = getattr(cell.value, "text", cell.value)
            formula = text if isinstance(text, str) and text.startswith("=") else ""
            try:
                value = worked.value((sheet.title, cell.row, cell.column))
            except FormulaError as error:
                value = str(error) if str(error).startswith("#") else None
                if value is None:
                    failed.append(f"{sheet.title}!{cell.coordinate} ({formula[:40]} {error})")
            cells[cell.row, cell.column] = BookCell(value, formula, "%" in str(cell.number_format or ""))
    return cells, failed
