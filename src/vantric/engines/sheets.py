"""Sheets of workbooks: which are read, and the table in each."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any

from vantric.base.lazily import dataclass
from vantric.base.stopping import stoppable
from vantric.core.counts.provenance import Note
from vantric.core.numbers.number_format import counted, listed, quoted
from vantric.engines.file_parts import Part
from vantric.engines.text_files import SHEET, FoundTable, TempFiles, open_bytes, table_part
from vantric.engines.workbook_details import DetailsReader
from vantric.engines.workbook_guard import check_workbook
from vantric.errors import SourceError, unknown, unknown_column
from vantric.reading.grid import Grid, WorkbookDetails
from vantric.reading.headings import same_name
from vantric.reading.number_style import read_style
from vantric.reading.records import RowMarks
from vantric.reading.settings import ReadSettings, plain_names
from vantric.reading.table_layout import TableLayout, find_table

_MOST_LOOKED_AT = 5_000_000  # bytes of a workbook whose other sheets are looked at for tables
#: ``--sheet *`` reads every sheet.
_ALL = ("*",)


@dataclass(frozen=True)
class _Sheet:
    """A sheet with its cells; `layout` is None if it holds no table, and `why` says so."""

    name: str
    grid: Grid
    details: WorkbookDetails
    layout: TableLayout | None
    why: SourceError | None = None


def sheet_parts(
    path: Path,
    source_name: str,
    opening: ReadSettings,
    column_names: Sequence[str],
    temp_files: TempFiles,
    until: float | None = None,
) -> tuple[list[Part], list[Note]]:
    """Write the tables of the chosen sheets as text that the engine reads, each record with its row in the sheet.

    Parameters
    ----------
    path, source_name
        The workbook, and what messages call it.
    opening
        Which sheets, which cells, and how they are read.
    column_names
        Columns that will be asked for.
    temp_files
        Where the tables are written.
    until
        When the time for it is over.
    """
    open_bytes(path, source_name).close()
    book = stoppable(lambda: _Book(path, source_name, opening, plain_names(column_names)), lambda: None, until)
    try:
        sheets = stoppable(book.chosen, lambda: None, until)
        others = stoppable(lambda: book.others(sheets), lambda: None, until)
    finally:
        book.close()
    several = len(sheets) > 1
    parts, remarks = [], []
    for sheet in sheets:
        assert sheet.layout is not None
        hidden, notes = _hidden(sheet, visible_only=opening.visible_only)
        layout = sheet.layout
        table = FoundTable(
            sheet.grid,
            layout,
            sheet.details,
            None if opening.read_numbers is None else read_style(opening.read_numbers),
        )
        label = f"{source_name}, sheet {sheet.name}"
        part = table_part(table, label, temp_files, sheet=sheet.name if several else None)
        parts.append(replace(part, hidden=hidden, sheet=sheet.name))
        remarks += [*layout.remarks, *notes, *_unseen(sheet, part.marks)]
    left = [sheet.name for sheet in book.left]
    remarks += [Note("left-out", f"'{source_name}': sheet '{name}' is left out, as leave_out says") for name in left]
    return parts, [*remarks, *others]


def _with_failures(grid: Grid, cells: dict[tuple[int, int], str]) -> Grid:
    """Return the grid with what failed cells show, and with formulas where no result was saved."""
    if not cells:
        return grid
    rows = [list(row) for row in grid.rows]
    for (row, column), text in cells.items():
        if row < len(rows):
            rows[row].extend([None] * (column + 1 - len(rows[row])))
            rows[row][column] = text
    return replace(grid, rows=rows)


def _hidden(sheet: _Sheet, *, visible_only: bool) -> tuple[tuple[int, ...], list[Note]]:
    """Return the rows that are left out since they are not shown, and what there is to say of them."""
    layout = sheet.layout
    assert layout is not None
    hidden = [row for row in layout.body if row in sheet.grid.hidden]
    if not hidden:
        return (), []
    number = counted(len(hidden), "hidden or filtered row")
    are = "is" if len(hidden) == 1 else "are"
    if visible_only:
        note = Note("hidden-rows", f"{sheet.grid.place}: {number} {are} left out")
        return tuple(sheet.grid.number(row) for row in hidden), [note]
    note = Note(
        "hidden-rows",
        f"{sheet.grid.place}: {number} {are} counted with the others; visible_only leaves out what is not shown",
    )
    return (), [note]


def _unseen(sheet: _Sheet, marks: RowMarks) -> list[Note]:
    """Return what there is to say of hidden columns, and of rows that are crossed out or white on white."""
    layout = sheet.layout
    assert layout is not None
    columns = zip(layout.names, layout.columns, strict=True)
    names = [name for name, column in columns if column in sheet.details.hidden_columns]
    notes = []
    if names:
        text = (
            f"{sheet.grid.place}: {quoted(names)} {'is a hidden column' if len(names) == 1 else 'are hidden columns'}"
        )
        notes.append(Note("hidden-columns", f"{text}, read like the others"))
    for rows, what in ((marks.struck, "crossed out"), (marks.unseen, "white on white")):
        if rows:
            where = listed([str(row) for row in sorted(rows)])
            number, are = counted(len(rows), "row"), "is" if len(rows) == 1 else "are"
            text = f"{sheet.grid.place}: {number} {are} {what} (row {where}), and {are} counted with the others"
            notes.append(Note("crossed-out", text, "warning", "leave them out by name with leave_out, or delete them"))
    return notes


class _Book:
    """The sheets of one workbook, each read once."""

    def __init__(self, path: Path, source_name: str, opening: ReadSettings, column_names: Sequence[str]) -> None:
        check_workbook(path, source_name)
        several = opening.sheet == _ALL or len(opening.sheet) > 1  # then the name of the sheet is a column as well
        self._path, self._shown, self._opening = path, source_name, opening
        self._wanted = [name for name in column_names if not (several and name == SHEET)]
        self._small = path.stat().st_size <= _MOST_LOOKED_AT
        self._read: dict[str, _Sheet | None] = {}
        self.left: list[_Sheet] = []
        self._details = DetailsReader(path)
        self._book = self._safely(lambda: _calamine().CalamineWorkbook.from_path(str(path)))
        self._names: list[str] = list(self._book.sheet_names)
        kinds = {item.name: item for item in self._book.sheets_metadata}
        self._seen = [name for name in self._names if _is_shown(kinds.get(name))]

    def close(self) -> None:
        """Let go of the file."""
        self._details.close()

    def chosen(self) -> list[_Sheet]:
        """Return the sheets that are read: those that are named, or the first with a table that has what is wanted."""
        sheet = self._opening.sheet
        for name in sheet if sheet != _ALL else ():
            if name not in self._names:
                message = f"'{self._shown}' has no sheet '{name}'"
                raise unknown(SourceError, message, name, self._names, label="its sheets are")
        if sheet == _ALL or len(sheet) > 1:
            return self._of_one_shape(self._seen if sheet == _ALL else sheet, every=sheet != _ALL)
        if sheet:
            return [self._with_table(sheet[0])]
        return [self._first()]

    def _first(self) -> _Sheet:
        sheets: list[_Sheet] = []
        for name in self._seen or self._names:
            sheet = self._sheet(name)
            if sheet is None or sheet.layout is None:
                continue
            sheets.append(sheet)
            fits = set(self._wanted) <= set(sheet.layout.names) if self._wanted else len(sheet.layout.names) > 1
            if fits:
                return sheet
        if not sheets:
            why = next((item.why for item in self._read.values() if item is not None and item.why is not None), None)
            raise why or SourceError(f"'{self._shown}' is empty: every sheet is")
        if len(sheets) == 1 or not self._wanted:
            return next((item for item in sheets if item.layout and len(item.layout.names) > 1), sheets[0])
        missing = next(name for name in self._wanted if name not in sheets[0].layout.names)  # type: ignore[union-attr]
        listed = "; ".join(
            f"'{item.name}' has {', '.join(item.layout.names[:6])}" for item in sheets[:4] if item.layout
        )
        raise type(unknown_column(missing, (), ""))(
            f"'{self._shown}': no sheet has the columns {quoted(list(self._wanted))}: {listed}",
            value=missing,
            known=[name for item in sheets if item.layout for name in item.layout.names],
        )

    def _with_table(self, name: str) -> _Sheet:
        sheet = self._sheet(name)
        if sheet is None:
            raise SourceError(f"'{self._shown}', sheet '{name}' is empty: it holds no table")
        if sheet.why is not None:
            with_tables = [item.name for other in self._names if (item := self._sheet(other)) and item.layout]
            more = f"; sheets with a table: {', '.join(with_tables)}" if with_tables else ""
            raise SourceError(f"{sheet.why}{more}")
        return sheet

    def _of_one_shape(self, names: Sequence[str], *, every: bool) -> list[_Sheet]:
        sheets = [sheet for name in names if (sheet := self._with_table(name) if every else self._sheet(name))]
        sheets = [sheet for sheet in sheets if sheet.layout is not None]
        self.left = [sheet for sheet in sheets if self._is_left_out(sheet)]
        sheets = [sheet for sheet in sheets if sheet not in self.left]
        sheets = self._under_same_names(sheets)
        fitting = [sheet for sheet in sheets if sheet.layout and set(self._wanted) <= set(sheet.layout.names)]
        if not fitting:
            return [self._first()]
        if every and len(fitting) < len(sheets):
            odd = next(sheet for sheet in sheets if sheet not in fitting)
            missing = next(name for name in self._wanted if odd.layout and name not in odd.layout.names)
            raise unknown_column(missing, odd.layout.names if odd.layout else (), odd.grid.place)
        if not self._wanted:
            fitting = [
                item
                for item in fitting
                if item.layout and fitting[0].layout and item.layout.names == fitting[0].layout.names
            ]
        return fitting

    def _is_left_out(self, sheet: _Sheet) -> bool:
        return any(same_name(sheet.name, name) for name in self._opening.leave_out)

    def _under_same_names(self, sheets: list[_Sheet]) -> list[_Sheet]:
        """Return sheets whose headings differ in case and blanks alone under the names of the first that has them.

        Raises
        ------
        SourceError
            If a sheet has as many columns, by other names: they may be the same.
        """
        first = next((sheet for sheet in sheets if sheet.layout and set(self._wanted) <= set(sheet.layout.names)), None)
        if first is None or first.layout is None or not self._wanted:
            return sheets
        names = first.layout.names
        alike = []
        for sheet in sheets:
            assert sheet.layout is not None
            own = sheet.layout.names
            if not set(self._wanted) <= set(own) and len(own) == len(names):
                if not all(same_name(name, other) for name, other in zip(names, own, strict=True)):
                    raise SourceError(
                        f"{sheet.grid.place} has the columns {quoted(list(own))} where '{first.name}' has "
                        f"{quoted(list(names))}: are they the same? give them the same names, or leave the sheet out "
                        f'with leave_out="{sheet.name}"',
                        asks=[("leave_out", sheet.name)],
                    )
                sheet = replace(sheet, layout=replace(sheet.layout, names=names))
            alike.append(sheet)
        return alike

    def others(self, sheets: Sequence[_Sheet]) -> list[Note]:
        """Return what there is to say of the sheets that are not read."""
        left = [name for name in self._seen if name not in {sheet.name for sheet in sheets}]
        if self._small:
            least = 1 if sheets[0].layout and len(sheets[0].layout.names) == 1 else 2  # a cover is no table
            left = [
                name for name in left if (item := self._sheet(name)) and item.layout and len(item.layout.names) >= least
            ]
        if len(sheets) > 1:
            names = quoted([sheet.name for sheet in sheets])
            more = f"; not {quoted(left)}" if left else ""
            return [Note("sheets-read", f"'{self._shown}': {len(sheets)} sheets are read together, {names}{more}")]
        if not left:
            return []
        which = "another sheet with a table" if len(left) == 1 else f"{len(left)} other sheets"
        return [
            Note(
                "other-sheets",
                f"'{self._shown}': the sheet '{sheets[0].name}' was read; there "
                f'{"is" if len(left) == 1 else "are"} {which}: {quoted(left)} (sheet="*" reads all of one shape)',
            )
        ]

    def _sheet(self, name: str) -> _Sheet | None:
        """Return a sheet; None if it is empty."""
        if name not in self._read:
            self._read[name] = self._look(name)
        return self._read[name]

    def _look(self, name: str) -> _Sheet | None:
        rows = self._safely(lambda: self._book.get_sheet_by_name(name).to_python(skip_empty_area=False))
        if not rows:
            return None
        details = self._details.of(name)
        grid = Grid(
            rows, f"'{self._shown}', sheet '{name}'", merged=tuple(details.merged), hidden=frozenset(details.hidden)
        )
        failed = {**details.uncalculated, **details.errors}
        grid = _with_failures(grid, failed)
        try:
            if self._opening.cells is not None:
                grid = grid.cropped(self._opening.cells)
            layout = find_table(grid, self._wanted, header=self._opening.header)
        except SourceError as error:  # another sheet may hold the table
            return _Sheet(name, grid, details, None, error)
        return _Sheet(name, grid.spread(), details, layout)

    def _safely(self, work: Any) -> Any:
        """Do what the reader of workbooks does, and say in one line what it cannot."""
        try:
            return work()
        except (_calamine().CalamineError, OSError, ValueError) as error:  # the reader's message without its trace
            reason = str(error).splitlines()[0] if str(error) else type(error).__name__
            if "assword" in reason or "ncrypt" in reason or _is_encrypted(self._path):
                raise SourceError(f"'{self._shown}' is protected with a password; save it without one") from None
            raise SourceError(f"'{self._shown}' is not a workbook that can be read ({reason}); save it again") from None
        except BaseException as error:  # a panic of the reader is no Exception
            if type(error).__name__ != "PanicException":
                raise
            raise SourceError(f"'{self._shown}' is not a workbook that can be read; save it again") from None


def _is_shown(sheet: Any) -> bool:
    """Whether a sheet is one of cells, and not hidden."""
    return sheet is None or (str(sheet.visible).endswith("Visible") and str(sheet.typ).endswith("WorkSheet"))


def _calamine() -> Any:
    import python_calamine

    return python_calamine


def _is_encrypted(path: Path) -> bool:
    """Whether a file is the container that encrypted workbooks come in."""
    with path.open("rb") as file:
        return file.read(8) == b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1"
