"""The header of a block of cells, one row of names or two, and the shape of a CSV file."""

from __future__ import annotations

import csv
import io
import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from vantric.base.lazily import dataclass
from vantric.errors import SourceError
from vantric.reading.grid import Block, Grid
from vantric.reading.headings import (
    distinct_names,
    is_blank,
    is_data,
    is_series_of_headings,
    is_unit,
    joined,
    names_of_columns,
    one_line_name,
    twice_named,
    unit_in,
)

#: In the order in which they are taken where two divide a file equally well.
_DELIMITERS = (",", ";", "\t", "|")
#: A sign that no text uses parts the columns of a file that has only one.
_NO_DELIMITER = "\x1f"
#: Lines by which the delimiter is recognized.
_SAMPLED_LINES = 50
#: Signs of one cell; the module `csv` stops far earlier.
_FIELD_LIMIT = 1 << 24


@dataclass(frozen=True)
class CsvShape:
    """What is needed to read a CSV file without guessing again.

    Attributes
    ----------
    delimiter
    columns
        In the file's order; a column without a name is called by its number.
    header
        Whether the first line holds their names.
    """

    delimiter: str
    columns: tuple[str, ...]
    header: bool = True


def csv_shape(head: str, source_name: str) -> CsvShape:
    """Tell the shape of a file from its beginning.

    Raises
    ------
    SourceError
        If there is nothing.
    """
    if not head.strip():
        raise SourceError(f"'{source_name}' is empty: it needs a header line and records below it")
    delimiter = delimiter_of(head)
    rows = _rows(head, delimiter, _SAMPLED_LINES)
    if not rows[0]:
        raise SourceError(f"'{source_name}' has no header that can be read: its first line is too long; is it a table?")
    columns = tuple(names_of_columns(rows[0]))
    return CsvShape(delimiter, tuple(distinct_names(columns)))


def delimiter_of(head: str) -> str:
    """Return the sign between the columns of a file; one that no text uses, if it has one column."""
    best = max(_DELIMITERS, key=lambda sign: _evidence(head, sign))
    return best if _evidence(head, best)[2] > 1 else _NO_DELIMITER


def _evidence(head: str, delimiter: str) -> tuple[bool, int, int]:
    """Return how well a delimiter explains the first lines: whether all fit the header, how many do, how wide."""
    rows = [row for row in _rows(head, delimiter, _SAMPLED_LINES) if row]
    if not rows:
        return False, 0, 0
    complete = rows if len(rows) == _SAMPLED_LINES else rows[:-1] or rows
    filled = [row for row in complete if any(row)]
    of_filled = {len(row) for row in filled}  # rows of nothing but delimiters say no width of their own
    widths = Counter(len(row) for row in complete if len(row) > 1 and len(row) in of_filled)
    if not widths:
        return False, 0, len(rows[0])
    width, alike = max(widths.items(), key=lambda pair: (pair[1], pair[0]))
    every = len(rows[0]) > 1 and all(len(row) == len(rows[0]) for row in complete)
    if not every and not _is_run(filled, width, delimiter):
        return False, 0, len(rows[0]) if delimiter == "," and len(rows[0]) > 1 else 0
    return every, alike, width


def _is_run(rows: list[list[str]], width: int, delimiter: str) -> bool:
    """Whether rows of a width stand together, as those of a table do, and not here and there, as commas in text do."""
    places = [place for place, row in enumerate(rows) if len(row) == width]
    together = places[-1] - places[0] + 1 == len(places) or len(rows[0]) == width
    if delimiter != ",":  # which no text has between its words: most rows have another one beside them
        beside = sum(place - 1 in places or place + 1 in places for place in places)
        together = 2 * beside > len(places)
    text = sum(rows[place][1].startswith(" ") for place in places) > len(places) / 2 and len(rows[0]) == 1
    return len(places) > 1 and together and not text


def is_well_quoted(text: str, delimiter: str) -> bool:
    """Whether every quotation mark of a text is around a whole cell, or doubled within one: all read it alike."""
    if '"' not in text:
        return True
    sign = re.escape(delimiter)
    cells: list[str] = re.findall(rf'(?:(?<=[\n{sign}])|\A)"(?:[^"]|"")*"(?=[\r\n{sign}]|\Z)', text)
    return sum(map(_marks, cells)) == _marks(text)


def _marks(text: str) -> int:
    return text.count('"')


def numbered_rows(text: str, delimiter: str) -> tuple[list[list[str]], dict[int, int]] | None:
    """Return the rows of a text and the line of each, from 1, where it is another; None if a quotation mark is open."""
    rows: list[list[str]] = []
    lines: dict[int, int] = {}
    csv_limit = csv.field_size_limit()
    try:
        csv.field_size_limit(_FIELD_LIMIT)
        reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter, strict=True)
        before = 0
        for row in reader:
            if before != len(rows):
                lines[len(rows)] = before + 1
            rows.append(row)
            before = reader.line_num
    except csv.Error:  # quotes that do not close: the engine says where
        return None
    finally:
        csv.field_size_limit(csv_limit)
    return rows, lines


def _rows(head: str, delimiter: str, most: int) -> list[list[str]]:
    reader = csv.reader(io.StringIO(head, newline=None), delimiter=delimiter)
    rows: list[list[str]] = []
    csv_limit = csv.field_size_limit()
    try:
        csv.field_size_limit(_FIELD_LIMIT)
        for row in reader:
            rows.append(row)
            if len(rows) == most:
                break
    except csv.Error:
        pass  # what was read before the fault is enough to tell the shape; the engine names the fault
    finally:
        csv.field_size_limit(csv_limit)
    return rows or [[]]


_HEADER_ROWS = 100  # of a block, where a header is looked for
#: Rows below a header that are looked at to tell whether it is one.
_SAMPLED_ROWS = 200
_FEW = 1 / 3  # of the cells of a header that may be numbers, such as the name 5S


@dataclass(frozen=True)
class HeaderBlock:
    """The header of a block.

    Attributes
    ----------
    rows
        One row or two; none where the columns have letters.
    left
        Its first column.
    names
    doubt
        Whether it reads like a record.
    """

    rows: tuple[int, ...]
    left: int
    names: tuple[str, ...]
    doubt: bool = False


def cells_of(grid: Grid, row: int, part: Block) -> list[Any]:
    """Return the cells of a row within a block."""
    return [grid.cell(row, column) for column in range(part.left, part.right + 1)]


def filled(cells: Sequence[Any]) -> list[Any]:
    """Return the cells that hold something."""
    return [cell for cell in cells if cell is not None and (type(cell) is int or not is_blank(cell))]


def heading_of(grid: Grid, part: Block, column_names: Sequence[str]) -> HeaderBlock | None:
    """Return the header of a block: the row that holds the wanted names, else the first that is wide and no data."""
    top = range(part.top, min(part.bottom, part.top + _HEADER_ROWS) + 1)
    heading = _wanted_heading(grid, part, top, column_names) if column_names else None
    if heading is not None:
        return heading
    widths = sorted(
        len(filled(cells_of(grid, row, part))) for row in range(part.top, min(part.bottom, part.top + 1000) + 1)
    )
    usual = widths[len(widths) // 2]
    for row in top:
        cells = cells_of(grid, row, part)
        values = filled(cells)
        if not values or len(values) < 0.5 * usual or _is_banner(grid, part, row):
            continue
        lone = _names_one_of_two(grid, part, row, usual)
        if usual > 1 and len(values) < 2 and not lone:
            continue
        below = _two_rows(grid, part, row)
        if below is not None:
            return below
        if (
            not lone
            and len(values) < 0.75 * usual
            and row < part.bottom
            and len(filled(cells_of(grid, row + 1, part))) >= len(values)
        ):
            continue
        return HeaderBlock((row,), part.left, tuple(names_of_columns(cells)), doubt=_like_data(grid, part, row))
    return None


def _wanted_heading(grid: Grid, part: Block, top: range, column_names: Sequence[str]) -> HeaderBlock | None:
    """Return the row, or the two or three rows, that hold the wanted names."""
    for row in top:
        if set(column_names) <= {one_line_name(cell) for cell in filled(cells_of(grid, row, part))}:
            return _upwards(grid, part, row, column_names)
    for row in top[:-1]:
        upper, lower = cells_of(grid, row, part), cells_of(grid, row + 1, part)
        for names in (joined(upper, lower), joined(_without_caption(upper, lower), lower)):
            units = cells_of(grid, row + 2, part) if row + 2 <= part.bottom else []
            if _is_units(units):
                heading = HeaderBlock((row, row + 1, row + 2), part.left, tuple(joined(names, units)))
                own_names = [base if (base := unit_in(name)[0]) in column_names else name for name in heading.names]
                if set(column_names) <= set(own_names):
                    return replace(heading, names=tuple(names_of_columns(own_names)))
            if set(column_names) <= set(names):
                return HeaderBlock((row, row + 1), part.left, tuple(names_of_columns(names)))
    return None


#: What a row of years or months is called, in the cell before them.
_CAPTIONS = frozenset(
    ("year", "jahr", "année", "año", "anno", "month", "monat", "mois", "mes", "quarter", "quartal", "period")
)


def _without_caption(upper: Sequence[Any], lower: Sequence[Any]) -> list[Any]:
    """Return the upper of two rows of headings without the word that says what it holds: "Year", above "Defect"."""
    first = next((place for place, cell in enumerate(upper) if not is_blank(cell)), None)
    cells = list(upper)
    if (
        first is not None
        and one_line_name(cells[first]).casefold().strip(":") in _CAPTIONS
        and not is_blank(lower[first])
    ):
        cells[first] = None
    return cells


def _is_units(cells: Sequence[Any]) -> bool:
    """Whether a row holds units alone."""
    texts = [one_line_name(cell) for cell in filled(cells)]
    return bool(texts) and all(is_unit(text.strip("()[] ")) for text in texts) and not any(map(is_data, filled(cells)))


def _names_one_of_two(grid: Grid, part: Block, row: int, usual: int) -> bool:
    """Whether the first row of two columns names the second one only, which holds numbers."""
    if usual != 2 or row != part.top or not is_blank(grid.cell(row, part.left)) or is_data(grid.cell(row, part.right)):
        return False
    below = filled(
        [grid.cell(number, part.right) for number in range(row + 1, min(part.bottom, row + _SAMPLED_ROWS) + 1)]
    )
    return bool(below) and all(map(is_data, below))


def _is_banner(grid: Grid, part: Block, row: int) -> bool:
    """Whether a row is one title that is merged over the table."""
    values = filled(cells_of(grid, row, part))
    return (
        len(values) > 1
        and len({str(cell) for cell in values}) == 1
        and any(top <= row <= bottom and right > left for top, left, bottom, right in grid.merged)
    )


def _upwards(grid: Grid, part: Block, row: int, column_names: Sequence[str] = ()) -> HeaderBlock:
    """Return the header of a row of known names; with the row above or below it, where names are needed twice."""
    names = names_of_columns(cells_of(grid, row, part))
    if row > part.top and twice_named(names):
        return HeaderBlock(
            (row - 1, row),
            part.left,
            tuple(names_of_columns(joined(cells_of(grid, row - 1, part), cells_of(grid, row, part)))),
        )
    if row < part.bottom:
        below = _two_rows(grid, part, row)
        if below is not None and len(set(below.names)) == len(below.names) and set(_units(below)) == set(names):
            bare = [unit_in(name)[0] for name in below.names]
            names_chosen = [
                base if base in column_names else name for base, name in zip(bare, below.names, strict=True)
            ]
            return replace(below, names=tuple(names_chosen))
    return HeaderBlock((row,), part.left, tuple(names), doubt=_like_data(grid, part, row))


def _units(heading: HeaderBlock) -> list[str]:
    return [unit_in(name)[0] for name in heading.names]


def _two_rows(grid: Grid, part: Block, row: int) -> HeaderBlock | None:
    """Return a header of two rows: a row of groups above one of names, or a row of names above one of units."""
    if row >= part.bottom:
        return None
    upper, lower = cells_of(grid, row, part), cells_of(grid, row + 1, part)
    below = range(row + 2, min(part.bottom, row + 1 + _SAMPLED_ROWS) + 1)
    numeric = [
        index
        for index in range(len(lower))
        if (cells := filled([grid.cell(number, part.left + index) for number in below]))
        and sum(map(is_data, cells)) > len(cells) / 2
    ]
    plain = [cell for cell in filled(lower) if not (isinstance(cell, str) and not is_data(cell))]
    if not filled(lower) or not below:
        return None
    texts = [one_line_name(cell) for cell in filled(lower)]
    over = all(index in numeric for index, cell in enumerate(lower) if not is_blank(cell))
    units = over and all(is_unit(text.strip("()[] ")) for text in texts) and not any(map(is_data, filled(upper)))
    spread = any(top == row and right > left for top, left, bottom, right in grid.merged)
    gaps = len(filled(upper)) < len(filled(lower)) or spread or twice_named([n for n in map(one_line_name, lower) if n])
    names = not plain and numeric and all(not is_blank(lower[index]) for index in numeric)
    series = bool(plain) and is_series_of_headings(lower) and gaps and spread
    if not (units and numeric) and not (names and gaps) and not series:
        return None
    return HeaderBlock((row, row + 1), part.left, tuple(names_of_columns(joined(upper, _own(grid, part, row, lower)))))


def _own(grid: Grid, part: Block, row: int, lower: Sequence[Any]) -> list[Any]:
    """Return the lower cells of two rows of headings; one that is merged with the cell above it is blank."""
    both = {
        column for top, left, bottom, right in grid.merged if top <= row < bottom for column in range(left, right + 1)
    }
    return [None if part.left + index in both else cell for index, cell in enumerate(lower)]


def _like_data(grid: Grid, part: Block, row: int) -> bool:
    """Whether a row of headings reads like a record: numbers over numbers, or labels that repeat below."""
    cells = cells_of(grid, row, part)
    if is_series_of_headings(cells):
        return False
    below = [
        number
        for number in range(row + 1, min(part.bottom, row + _SAMPLED_ROWS) + 1)
        if cells_of(grid, number, part) != cells
    ]  # a repeated header is no record
    index, alike, again = len(filled(cells)), 0, 0
    for place, cell in enumerate(cells):
        if is_blank(cell):
            continue
        column = filled([grid.cell(number, part.left + place) for number in below])
        if is_data(cell) and column and sum(map(is_data, column)) > len(column) / 2:
            alike += 1
        elif not is_data(cell) and any(item == cell for item in column):
            again += 1
    return index > 0 and (alike > _FEW * index or 0 < again < index or (again == index == 1))
