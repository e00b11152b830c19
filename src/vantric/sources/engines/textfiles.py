"""Text files: a plain table is left to the engine, and one with titles, notes or other tables around it is found first."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from vantric.core.counting.remark import Remark
from vantric.core.numbers.shown import counted
from vantric.errors import SourceError
from vantric.sources.engines.parts import Part, csv_part
from vantric.sources.engines.plaintext import Workshop, as_utf8, first_text, last_text, whole_text
from vantric.sources.engines.tabletext import Found, table_part
from vantric.sources.options import Opening, plain_names
from vantric.sources.reading.csvfile import CsvShape, csv_shape, delimiter_of, numbered_rows
from vantric.sources.reading.grid import Grid
from vantric.sources.reading.headings import lettered
from vantric.sources.reading.layout import Layout, find_table

_LARGEST = 64_000_000  # bytes of a file that is read whole to find its table
_FIRST_ROWS = 1000


def text_part(
    path: Path, shown: str, opening: Opening, wanted: Sequence[str], workshop: Workshop, *, anew: bool
) -> tuple[Part, list[Remark]]:
    """Return a text file as a part: the engine reads it where it is a plain table.

    Parameters
    ----------
    path, shown
        The file, and what messages call it.
    opening
        How it is read.
    wanted
        Columns that will be asked for.
    workshop
        Where it is written again, if it must be.
    anew
        Whether it is no UTF-8, as the engine found.
    """
    wanted = plain_names(wanted)
    head, remarks = None if anew else first_text(path, shown), []
    if head is None:
        path, remark = as_utf8(path, shown, workshop)
        remarks.append(remark)
        head = first_text(path, shown) or ("", True)
    text, whole = head
    if not text.strip():
        csv_shape(text, shown)  # says that it is empty
    delimiter = delimiter_of(text)
    if opening.header is False and opening.cells is None and not whole:
        width = len(csv_shape(text, shown).columns)
        return csv_part(path, shown, CsvShape(delimiter, tuple(lettered(range(width))), header=False)), remarks
    found = numbered_rows(text if whole else _complete(text), delimiter)
    if found is None:  # an open quotation mark: the engine names its line
        return csv_part(path, shown, csv_shape(text, shown)), remarks
    rows, lines = found
    if opening.header is not False and opening.cells is None and (whole or _ends_plainly(path, shown, delimiter, rows)):
        shape = _plain_shape(rows if whole else rows[:_FIRST_ROWS], delimiter, shown, wanted)
        if shape is not None:
            return csv_part(path, shown, shape), remarks
    if not whole:
        if path.stat().st_size > _LARGEST:
            return csv_part(path, shown, csv_shape(text, shown)), remarks
        found = numbered_rows(whole_text(path, shown), delimiter)
        if found is None:
            return csv_part(path, shown, csv_shape(text, shown)), remarks
        rows, lines = found
    grid = Grid(rows, f"'{shown}'", "line", numbers=lines)
    if opening.cells is not None:
        grid = grid.cropped(opening.cells)
    layout = find_table(grid, wanted, header=opening.header)
    _check_widths(grid, layout)
    return table_part(Found(grid, layout), shown, workshop, delimiter=delimiter), [*remarks, *layout.remarks]


def _complete(text: str) -> str:
    """Return text without its last line, which may be cut."""
    return text[: text.rfind("\n") + 1] or text


def _plain_shape(
    rows: Sequence[Sequence[str]], delimiter: str, shown: str, wanted: Sequence[str]
) -> CsvShape | None:  # fmt: skip
    """Return the shape of a table that fills all lines, with its header in the first; None if it is not so plain."""
    first = next((at for at, row in enumerate(rows) if any(map(str.strip, row))), 0)
    width = len(rows[first])
    if first or any(len(row) != width for row in rows if row) or any(not any(map(str.strip, row)) for row in rows[:-1]):
        return None
    grid = Grid(rows, f"'{shown}'", "line")
    layout = find_table(grid, wanted)
    if layout.header != (0,) or layout.remarks or len(layout.body) < len([row for row in rows if row]) - 1:
        return None
    return CsvShape(delimiter, layout.names) if len(layout.names) == width else None


def _ends_plainly(path: Path, shown: str, delimiter: str, rows: Sequence[Sequence[str]]) -> bool:
    """Whether the last lines of a long file are records: none blank, none with a note."""
    width = len(rows[0])
    found = numbered_rows(last_text(path, shown), delimiter)
    if found is None:
        return True
    filled = [sum(bool(cell.strip()) for cell in row) for row in found[0]]
    return width < 2 or all(number > 1 for number in filled[:-1])


def _check_widths(grid: Grid, layout: Layout) -> None:
    """Raise `SourceError` for a record with more or fewer cells than the header: a sign between columns is missing."""
    width = len(grid.rows[layout.header[-1]]) if layout.header else None
    for row in layout.body if width is not None else ():
        cells = grid.rows[row]
        if len(cells) != width:
            raise SourceError(
                f"{grid.place}, line {grid.number(row)}: {counted(len(cells), 'column')} where the header has {width}; "
                "fix that line"
            )
