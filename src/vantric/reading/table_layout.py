"""Where the table is in a grid: under title rows, above notes, beside other tables; and what its columns are called."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from vantric.base.lazily import dataclass
from vantric.core.counts.provenance import Note
from vantric.core.numbers.number_format import counted, one_line, quoted
from vantric.core.totals.label_kinds import is_strong
from vantric.errors import SourceError
from vantric.reading.grid import Block, Grid, blocks
from vantric.reading.headers import HeaderBlock, cells_of, filled, heading_of
from vantric.reading.headings import distinct_names, is_blank, is_data, lettered_names, one_line_name, twice_named
from vantric.reading.page_lines import notes_on, page_lines

_HEADER_ROWS = 100  # of a block, where wanted names are looked for
_GAP = 3  # rows between a header and its records


def joined_blocks(grid: Grid, parts: Sequence[Block], column_names: Sequence[str]) -> list[Block]:
    """Join blocks side by side whose rows are the same, or that hold the wanted names together."""
    blocks: list[Block] = []
    for part in parts:
        before = blocks[-1] if blocks else None
        if before is not None and _is_header_apart(grid, before, part):
            blocks[-1] = Block(before.top, part.bottom, before.left, part.right)
            continue
        if before is not None and before.right < part.left and part.top <= before.bottom:
            whole = Block(min(before.top, part.top), max(before.bottom, part.bottom), before.left, part.right)
            if _is_one(grid, before, part, whole, column_names):
                blocks[-1] = whole
                continue
        blocks.append(part)
    return blocks


def _is_header_apart(grid: Grid, row: Block, part: Block) -> bool:
    """Whether a lone row of names stands above a blank one and the records under it."""
    if (
        row.top != row.bottom
        or not 0 < part.top - row.bottom <= _GAP
        or (row.left, row.right) != (part.left, part.right)
    ):
        return False
    names, first = cells_of(grid, row.top, row), cells_of(grid, part.top, part)
    return len(filled(names)) > 1 and not any(map(is_data, filled(names))) and any(map(is_data, filled(first)))


def _is_one(grid: Grid, block: Block, other: Block, whole: Block, column_names: Sequence[str]) -> bool:
    names = [
        [name for index in range(part.left, part.right + 1) if (name := one_line_name(grid.cell(row, index)))]
        for part in (block, other)
        for row in (part.top,)
    ]
    if column_names:
        apart = any(set(column_names) <= set(_names_within(grid, part)) for part in (block, other))
        together = set(column_names) <= {*_names_within(grid, block), *_names_within(grid, other)}
        if apart or together:
            return together and not apart
    return (block.top, block.bottom) == (other.top, other.bottom) and not set(names[0]) & set(names[1])


def _names_within(grid: Grid, part: Block) -> set[str]:
    rows = range(part.top, min(part.bottom, part.top + _HEADER_ROWS) + 1)
    return {
        one_line_name(grid.cell(row, index))
        for row in rows
        for index in range(part.left, part.right + 1)
        if isinstance(grid.cell(row, index), str)
    }


def is_remark(cell: object) -> bool:
    """Whether a cell introduces what is beside it, as in "Source: inspection"; a total does not."""
    return isinstance(cell, str) and cell.strip().endswith(":") and not is_strong(cell)


#: Rows that are looked at to tell tables apart.
_SAMPLE = 200
#: Tables that a note names.
_MOST_NOTED = 3


@dataclass(frozen=True)
class TableLayout:
    """A table in a grid.

    Attributes
    ----------
    names
    columns
        The place of each in the grid.
    body
        The rows of records.
    header
        The rows of headings.
    span
        Where it is, as a range.
    remarks
        What else the grid holds.
    """

    names: tuple[str, ...]
    columns: tuple[int, ...]
    body: tuple[int, ...]
    header: tuple[int, ...]
    span: str
    remarks: tuple[Note, ...] = ()


@dataclass(frozen=True)
class _Table:
    block: Block
    heading: HeaderBlock


def find_table(grid: Grid, column_names: Sequence[str] = (), *, header: bool | None = None) -> TableLayout:
    """Find the table of a grid that has the wanted columns, or else the largest.

    Parameters
    ----------
    grid
    column_names
        Names of columns that will be asked for.
    header
        Whether its first row names the columns; None if that is to be seen.

    Raises
    ------
    SourceError
        If there is no table, two columns have one name, or two tables have the wanted columns.
    """
    parts = blocks(grid)
    whole = grid.spread()
    if header is False:
        return _without_header(whole, parts)
    tables = _tables(whole, parts, column_names)
    if not tables:
        raise SourceError(f"{grid.place} holds no table: it needs a header row and records below it")
    table = _chosen(whole, tables, column_names)
    return _laid_out(
        whole, table, [item for item in tables if item is not table], parts, header=header, column_names=column_names
    )


def _without_header(grid: Grid, parts: Sequence[Block]) -> TableLayout:
    if not parts:
        raise SourceError(f"{grid.place} holds no table: it needs records")
    widest = max(parts, key=lambda block: (block.bottom - block.top + 1) * (block.right - block.left + 1))
    same = [part for part in parts if (part.left, part.right) == (widest.left, widest.right)]
    columns = range(widest.left, widest.right + 1)
    body = [row for block in same for row in range(block.top, block.bottom + 1)]
    return TableLayout(tuple(lettered_names(columns)), tuple(columns), tuple(body), (), grid.span(widest))


def _tables(grid: Grid, parts: Sequence[Block], column_names: Sequence[str]) -> list[_Table]:
    """Return the blocks that have a header and records, side by side ones joined where they are one table."""
    tables: list[_Table] = []
    for part in joined_blocks(grid, parts, column_names):
        if all(
            is_remark(values[0])
            for row in range(part.top, part.bottom + 1)
            if (values := filled(cells_of(grid, row, part)))
        ):
            continue
        heading = heading_of(grid, part, column_names)
        if heading is not None and (found_rows := part.bottom - max(heading.rows)) >= 0:
            follows = tables and _goes_on(grid, tables[-1], part)
            if not follows and (
                found_rows or len(parts) == 1 or (column_names and set(column_names) <= set(heading.names))
            ):
                tables.append(_Table(part, heading))
    return tables


def _goes_on(grid: Grid, table: _Table, part: Block) -> bool:
    """Whether a block below a blank row continues the table above it: its first wide row is a record."""
    block, heading = table.block, table.heading
    if part.left < block.left or part.right > block.right or part.top <= block.bottom:
        return False
    rows = {row: filled(cells_of(grid, row, block)) for row in range(part.top, part.bottom + 1)}
    top = next((row for row, values in rows.items() if len(values) > 1), None)
    if top is None:
        return block.left == block.right
    if all(is_remark(row[0]) for row in rows.values()):
        return False
    if part.top == part.bottom:
        return True  # a lone record: what is wrong with it is said when it is read
    names = [one_line_name(cell) for cell in rows[top]]
    if names == [name for name in heading.names if name in names]:
        return False
    above = range(max(heading.rows, default=block.top) + 1, block.bottom + 1)[:_SAMPLE]
    for index, cell in enumerate(cells_of(grid, top, block)):
        column = filled([grid.cell(number, block.left + index) for number in above])
        if not is_blank(cell) and column and sum(map(is_data, column)) > len(column) / 2 and not is_data(cell):
            below = filled([grid.cell(number, block.left + index) for number in range(top + 1, part.bottom + 1)])
            return not any(map(is_data, below))  # no numbers below either: they are wrong in both rows
    return any(map(is_data, rows[top])) or not any(is_data(c) for row in above for c in cells_of(grid, row, block))


def _chosen(grid: Grid, tables: Sequence[_Table], column_names: Sequence[str]) -> _Table:
    fitting = [table for table in tables if column_names and set(column_names) <= set(table.heading.names)]
    if len(fitting) > 1:
        places = " and ".join(grid.span(table.block) for table in fitting[:2])
        more = f" and {len(fitting) - 2} more" if len(fitting) > 2 else ""
        how = f'say which with cells, such as cells="{fitting[0].block.cells}"'
        raise SourceError(
            f"{grid.place} has {len(fitting)} tables with {quoted(list(column_names))}, at {places}{more}; {how}"
        )
    if fitting:
        return fitting[0]
    return max(tables, key=lambda table: (table.block.bottom - max(table.heading.rows)) * len(table.heading.names))


def _laid_out(
    grid: Grid,
    table: _Table,
    others: Sequence[_Table],
    parts: Sequence[Block],
    *,
    header: bool | None,
    column_names: Sequence[str],
) -> TableLayout:
    block, heading = table.block, table.heading
    names = list(heading.names)
    while names and names[-1] == f"column {len(names)}" and _is_empty(grid, block, heading, len(names) - 1):
        names.pop()
    width = len(names)
    first = {name: index for index, name in reversed(list(enumerate(names)))}
    numbers = [index for index in range(width) if not _is_copy(grid, block, heading, first[names[index]], index)]
    names = [names[index] for index in numbers]
    twice = twice_named(names)
    if twice is not None and twice in column_names:
        raise _twice(grid, block, heading, names)
    names = distinct_names(names)
    remarks: list[Note] = []
    body, notes = _below(grid, table, others, parts)
    if width == 1 and header is None and any(_repeats(grid, block, heading, row) for row in body):
        raise _name_or_record(grid, names[0])
    lines = page_lines(
        {row: cells_of(grid, row, block)[:width] for row in body}, cells_of(grid, heading.rows[-1], block)[:width]
    )
    lines |= {row: "header" for row in body if _repeats(grid, block, heading, row)}
    body = [row for row in body if row not in lines and filled(cells_of(grid, row, block)[:width])]
    remarks += notes_on(grid.place, grid.unit, lines, {row: grid.number(row) for row in lines})
    if notes:
        number = counted(len(notes), grid.unit)
        remarks.append(
            Note(
                "notes-below",
                f"{grid.place}: {number} of notes below the table, from {grid.unit} {grid.number(notes[0])}, left out",
            )
        )
    whole = replace(block, top=heading.rows[0], bottom=max([*body, block.bottom]))
    if others:
        remarks.append(_other_tables(grid, whole, others))
    if heading.doubt and header is None:
        remarks.append(_like_a_record(grid, names))
    columns = tuple(block.left + index for index in numbers)
    return TableLayout(tuple(names), columns, tuple(body), heading.rows, grid.span(whole), tuple(remarks))


def _name_or_record(grid: Grid, name: str) -> SourceError:
    return SourceError(
        f"{grid.place}: the first row, '{one_line(name, longest=40)}', is repeated below: does it name the "
        "column, or is it a record? say header=True if it is a name, header=False if it is a record",
        asks=[("header", False), ("header", True)],
    )


def _like_a_record(grid: Grid, names: Sequence[str]) -> Note:
    shown_names = quoted([name for name in names if not name.startswith("column ")][:3])
    return Note(
        "header-like-data",
        f"{grid.place}: the first row reads like a record ({shown_names}), and was taken for the names of the columns",
        "warning",
        "say header=False if the file has no header",
    )


def _below(grid: Grid, table: _Table, others: Sequence[_Table], parts: Sequence[Block]) -> tuple[list[int], list[int]]:
    """Return the rows of the table, those below a blank row too, and the rows of notes under it."""
    block = last = table.block
    body = list(range(max(table.heading.rows) + 1, block.bottom + 1))
    notes: list[int] = []
    for part in parts:
        if part.top <= block.bottom or part.left > block.right or part.right < block.left:
            continue
        if any(part == other.block for other in others):
            break
        if not notes and _goes_on(grid, replace(table, block=last), part):
            body += range(part.top, part.bottom + 1)
            last = replace(block, bottom=part.bottom)
        else:
            notes += range(part.top, part.bottom + 1)
    return body, notes


def _other_tables(grid: Grid, whole: Block, others: Sequence[_Table]) -> Note:
    listed = "; ".join(
        f"{grid.span(replace(other.block, top=other.heading.rows[0]))} ({', '.join(other.heading.names[:3])})"
        for other in others[:_MOST_NOTED]
    )
    more = "is another" if len(others) == 1 else f"are {len(others)} others"
    return Note("other-tables", f"{grid.place}: the table at {grid.span(whole)} was read; there {more}: {listed}")


def _is_copy(grid: Grid, block: Block, heading: HeaderBlock, first: int, index: int) -> bool:
    """Whether a column holds the same cells as the first one of its name, or none: both are one merged column."""
    if first == index:
        return False
    rows = range(max(heading.rows) + 1, block.bottom + 1)
    pairs = ((grid.cell(row, block.left + first), grid.cell(row, block.left + index)) for row in rows)
    return all(is_blank(other) or item == other for item, other in pairs)


def _twice(grid: Grid, block: Block, heading: HeaderBlock, names: Sequence[str]) -> SourceError:
    """Return the error for two columns of one name, of which one is asked for."""
    twice = twice_named(names)
    numbers = [number for number, name in enumerate(names) if name == twice]
    where = f"{grid.place} has two columns named '{twice}'"
    half = len(names) // 2
    if grid.unit == "row" and len(numbers) == 2 and names[:half] == names[numbers[1] : numbers[1] + half]:
        cut = replace(block, right=block.left + numbers[1] - 1, top=heading.rows[0])
        return SourceError(f'{where}; if these are two tables side by side, say cells="{cut.cells}"')
    return SourceError(f"{where}; rename one of them")


def _is_empty(grid: Grid, block: Block, heading: HeaderBlock, index: int) -> bool:
    rows = range(max(heading.rows) + 1, block.bottom + 1)
    return all(is_blank(grid.cell(row, block.left + index)) for row in rows)


def _repeats(grid: Grid, block: Block, heading: HeaderBlock, row: int) -> bool:
    last = heading.rows[-1]
    first = next(index for index in range(block.left, block.right + 1) if not is_blank(grid.cell(last, index)))
    if grid.cell(row, first) != grid.cell(last, first):
        return False
    return [one_line_name(cell) for cell in cells_of(grid, row, block)] == [
        one_line_name(cell) for cell in cells_of(grid, last, block)
    ]
