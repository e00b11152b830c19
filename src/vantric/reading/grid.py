"""A grid of cells, and the blocks of filled cells in it."""

from __future__ import annotations

import dataclasses
from collections.abc import Mapping, Sequence
from dataclasses import field, replace
from typing import TYPE_CHECKING, Any

from vantric.base.lazily import compiled, dataclass
from vantric.errors import SourceError
from vantric.reading.headings import is_blank, letters

if TYPE_CHECKING:
    from vantric.engines.workbook_cells import CellStyle
    from vantric.reading.number_style import FormatText

Row = Sequence[Any]
#: ``A1:C9``, as sheets write it.
_RANGE = compiled(r"\$?([A-Za-z]{1,3})\$?([0-9]{1,7}):\$?([A-Za-z]{1,3})\$?([0-9]{1,7})")


@dataclass(frozen=True)
class Grid:
    """The cells of a sheet or a text file.

    Attributes
    ----------
    rows
        Cell by cell, from the first row and column of the sheet.
    place
        What messages call it.
    unit
        ``"row"`` or ``"line"``.
    merged
        (first row, first column, last row, last column) of cells that are one, from 0.
    hidden
        Rows that are not shown, from 0.
    numbers
        Row -> the number that people know it by, where that is not its place.
    """

    rows: Sequence[Row]
    place: str
    unit: str = "row"
    merged: tuple[tuple[int, int, int, int], ...] = ()
    hidden: frozenset[int] = frozenset()
    numbers: Mapping[int, int] = field(default_factory=dict)

    def number(self, row: int) -> int:
        """Return the number of a row as people know it."""
        return self.numbers.get(row, row + 1)

    def cell(self, row: int, column: int) -> Any:
        """Return a cell; None outside."""
        cells = self.rows[row]
        return cells[column] if column < len(cells) else None

    def span(self, block: Block) -> str:
        """Return a block as a range: ``A3:K9``; of a text file its lines."""
        first, last = self.number(block.top), self.number(block.bottom)
        if self.unit == "line":
            return f"lines {first} to {last}"
        return f"{letters(block.left)}{first}:{letters(block.right)}{last}"

    def cropped(self, cells: str) -> Grid:
        """Return the grid with everything outside a range blank."""
        first, last, left, right = range_of(cells)
        if first >= len(self.rows):
            raise SourceError(f"{self.place} has {len(self.rows)} rows: there is nothing at cells {cells}")
        rows = [
            [cell if left <= index <= right else None for index, cell in enumerate(row)]
            if first <= number <= last
            else []
            for number, row in enumerate(self.rows)
        ]
        return replace(self, rows=rows)

    def spread(self) -> Grid:
        """Return the grid with the value of merged cells in each of them."""
        if not self.merged:
            return self
        rows = [list(row) for row in self.rows]
        for top, left, bottom, right in self.merged:
            value = self.cell(top, left) if top < len(rows) else None
            if is_blank(value):
                continue
            for number in range(top, min(bottom, len(rows) - 1) + 1):
                row = rows[number]
                row.extend([None] * (right + 1 - len(row)))
                for column in range(left, right + 1):
                    row[column] = value
        return replace(self, rows=rows)


def range_of(cells: str) -> tuple[int, int, int, int]:
    """Return (first row, last row, first column, last column), from 0, of a range such as ``A3:K9``."""
    match = _RANGE.fullmatch(cells.strip())
    if not match:
        raise SourceError(f"cells is a range such as A3:K9, not '{cells}'")
    columns = sorted((column_place(match[1]), column_place(match[3])))
    rows = sorted((int(match[2]) - 1, int(match[4]) - 1))
    if rows[0] < 0:
        raise SourceError(f"cells is a range such as A3:K9, not '{cells}': rows are counted from 1")
    return rows[0], rows[1], columns[0], columns[1]


def column_place(name: str) -> int:
    """Return the place of a column, from 0, that a sheet calls by letters."""
    number = 0
    for letter in name.upper():
        number = number * 26 + ord(letter) - 64
    return number - 1


@dataclass(frozen=True)
class Block:
    """Rows and columns that are filled side by side; the ends belong to it."""

    top: int
    bottom: int
    left: int
    right: int

    @property
    def cells(self) -> str:
        """The block as the range that the option ``cells`` takes."""
        return f"{letters(self.left)}{self.top + 1}:{letters(self.right)}{self.bottom + 1}"


def blocks(grid: Grid) -> list[Block]:
    """Return the blocks of a grid: between blank rows, and within these between blank columns, in reading order."""
    masks = [_mask(row) for row in grid.rows]
    for top, left, bottom, right in grid.merged:  # a merged cell is filled as far as it reaches
        for number in range(top, min(bottom, len(masks) - 1) + 1):
            if top < len(masks) and masks[top] >> left & 1 and right - left < _WIDE_MERGE:
                masks[number] |= ((1 << (right - left + 1)) - 1) << left
    blocks: list[Block] = []
    start: int | None = None
    for number, mask in enumerate([*masks, 0]):
        if mask and start is None:
            start = number
        elif not mask and start is not None:
            blocks.extend(_bands(masks, start, number - 1))
            start = None
    return blocks


_WIDE_MERGE = 400  # columns: beyond, it is a banner


def _mask(row: Row) -> int:
    mask = 0
    for place, cell in enumerate(row):
        if not is_blank(cell):
            mask |= 1 << place
    return mask


def _bands(masks: Sequence[int], top: int, bottom: int) -> list[Block]:
    whole = 0
    for mask in set(masks[top : bottom + 1]):
        whole |= mask
    blocks = []
    left = None
    for column in range(whole.bit_length() + 1):
        filled = whole >> column & 1
        if filled and left is None:
            left = column
        elif not filled and left is not None:
            band = ((1 << (column - left)) - 1) << left
            rows = [number for number in range(top, bottom + 1) if masks[number] & band]
            blocks.append(Block(rows[0], rows[-1], left, column - 1))
            left = None
    return blocks


#: Of a cell: its row and its column, from 0.
Cell = tuple[int, int]


@dataclasses.dataclass
class WorkbookDetails:
    """What one sheet says beside its values; places are (row, column) from 0.

    Attributes
    ----------
    merged
        (top, left, bottom, right) of cells that are one.
    hidden
        Rows that are not shown.
    shown
        What is seen around the numbers of cells.
    errors
        The failures that cells show: ``"#DIV/0!"``.
    uncalculated
        Formulas whose results were never saved.
    functions
        Cells worked out from others of their column -> the function: ``"SUM"``.
    bold, struck, unseen
        Cells in bold, crossed out, and white on white.
    indents
        How far the text of a cell is indented.
    outlines
        The level of a row in the outline.
    hidden_columns
        Columns that are not shown.
    """

    merged: list[tuple[int, int, int, int]] = field(default_factory=list)
    hidden: set[int] = field(default_factory=set)
    shown: dict[Cell, FormatText] = field(default_factory=dict)
    errors: dict[Cell, str] = field(default_factory=dict)
    uncalculated: dict[Cell, str] = field(default_factory=dict)
    functions: dict[Cell, str] = field(default_factory=dict)
    bold: set[Cell] = field(default_factory=set)
    struck: set[Cell] = field(default_factory=set)
    unseen: set[Cell] = field(default_factory=set)
    indents: dict[Cell, int] = field(default_factory=dict)
    outlines: dict[int, int] = field(default_factory=dict)
    hidden_columns: set[int] = field(default_factory=set)

    def style(self, place: Cell, style: CellStyle) -> None:
        """Take what the style of a cell says."""
        if style.format_text is not None:
            self.shown[place] = style.format_text
        for places, applies in (
            (self.bold, style.is_bold),
            (self.struck, style.is_struck),
            (self.unseen, style.is_unseen),
        ):
            if applies:
                places.add(place)
        if style.indent:
            self.indents[place] = style.indent
