"""Where the table is in a grid: under title rows, above notes, beside other tables; and what its columns are called."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from vantric.core.counting.remark import Remark
from vantric.core.numbers.shown import counted, quoted
from vantric.errors import SourceError
from vantric.sources.reading.grid import Block, Grid, blocks
from vantric.sources.reading.headings import (
    is_data,
    is_series_of_headings,
    joined,
    lettered,
    named,
    one_line_name,
    twice_named,
)
from vantric.sources.reading.records import is_blank

_HEADER_ROWS = 100  # of a block, where a header is looked for
_SAMPLE = 200
_FEW = 1 / 3  # of the cells of a header that may be numbers, such as the name 5S
_MOST_NOTED = 3


@dataclass(frozen=True)
class Heading:
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


@dataclass(frozen=True)
class Layout:
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
    remarks: tuple[Remark, ...] = ()


@dataclass(frozen=True)
class _Table:
    block: Block
    heading: Heading


def find_table(grid: Grid, wanted: Sequence[str] = (), *, header: bool | None = None) -> Layout:
    """Find the table of a grid that has the wanted columns, or else the largest.

    Parameters
    ----------
    grid
    wanted
        Names of columns that will be asked for.
    header
        Whether its first row names the columns; None if that is to be seen.

    Raises
    ------
    SourceError
        If there is no table, two columns have one name, or two tables have the wanted columns.
    """
    parts = blocks(grid)
    filled = grid.spread()
    if header is False:
        return _without_header(filled, parts)
    tables = _tables(filled, parts, wanted)
    if not tables:
        raise SourceError(f"{grid.place} holds no table: it needs a header row and records below it")
    table = _chosen(filled, tables, wanted)
    return _laid_out(filled, table, [one for one in tables if one is not table], parts, header=header, wanted=wanted)


def _without_header(grid: Grid, parts: Sequence[Block]) -> Layout:
    if not parts:
        raise SourceError(f"{grid.place} holds no table: it needs records")
    widest = max(parts, key=lambda one: (one.bottom - one.top + 1) * (one.right - one.left + 1))
    same = [one for one in parts if (one.left, one.right) == (widest.left, widest.right)]
    columns = range(widest.left, widest.right + 1)
    body = [row for one in same for row in range(one.top, one.bottom + 1)]
    return Layout(tuple(lettered(columns)), tuple(columns), tuple(body), (), grid.span(widest))


def _tables(grid: Grid, parts: Sequence[Block], wanted: Sequence[str]) -> list[_Table]:
    """Return the blocks that have a header and records, side by side ones joined where they are one table."""
    found: list[_Table] = []
    for part in _joined_blocks(grid, parts, wanted):
        heading = _heading(grid, part, wanted)
        if heading is not None and (found_rows := part.bottom - max(heading.rows)) >= 0:
            follows = found and _goes_on(grid, found[-1], part)
            if not follows and (found_rows or len(parts) == 1 or set(wanted) <= set(heading.names)):
                found.append(_Table(part, heading))
    return found


def _joined_blocks(grid: Grid, parts: Sequence[Block], wanted: Sequence[str]) -> list[Block]:
    """Join blocks side by side whose rows are the same, or that hold the wanted names together."""
    found: list[Block] = []
    for part in parts:
        before = found[-1] if found else None
        if before is not None and before.right < part.left and part.top <= before.bottom:
            whole = Block(min(before.top, part.top), max(before.bottom, part.bottom), before.left, part.right)
            if _is_one(grid, before, part, whole, wanted):
                found[-1] = whole
                continue
        found.append(part)
    return found


def _is_one(grid: Grid, one: Block, other: Block, whole: Block, wanted: Sequence[str]) -> bool:
    names = [
        [name for at in range(part.left, part.right + 1) if (name := one_line_name(grid.cell(row, at)))]
        for part in (one, other) for row in (part.top,)
    ]  # fmt: skip
    if wanted:
        apart = any(set(wanted) <= set(_names_within(grid, part)) for part in (one, other))
        together = set(wanted) <= {*_names_within(grid, one), *_names_within(grid, other)}
        if apart or together:
            return together and not apart
    return (one.top, one.bottom) == (other.top, other.bottom) and not set(names[0]) & set(names[1])


def _names_within(grid: Grid, part: Block) -> set[str]:
    rows = range(part.top, min(part.bottom, part.top + _HEADER_ROWS) + 1)
    return {one_line_name(grid.cell(row, at)) for row in rows for at in range(part.left, part.right + 1)
            if isinstance(grid.cell(row, at), str)}  # fmt: skip


def _cells(grid: Grid, row: int, part: Block) -> list[Any]:
    return [grid.cell(row, column) for column in range(part.left, part.right + 1)]


def _filled(cells: Sequence[Any]) -> list[Any]:
    return [cell for cell in cells if not is_blank(cell)]


def _heading(grid: Grid, part: Block, wanted: Sequence[str]) -> Heading | None:
    """Return the header of a block: the row that holds the wanted names, else the first that is wide and no data."""
    top = range(part.top, min(part.bottom, part.top + _HEADER_ROWS) + 1)
    for row in top if wanted else ():
        if set(wanted) <= {one_line_name(cell) for cell in _filled(_cells(grid, row, part))}:
            return _upwards(grid, part, row)
    for row in top[:-1] if wanted else ():
        names = joined(_cells(grid, row, part), _cells(grid, row + 1, part))
        if set(wanted) <= set(names):
            return Heading((row, row + 1), part.left, tuple(named(names)))
    widths = sorted(len(_filled(_cells(grid, row, part))) for row in range(part.top, min(part.bottom, part.top + 1000) + 1))
    usual = widths[len(widths) // 2]
    for row in top:
        cells = _cells(grid, row, part)
        told = _filled(cells)
        if not told or len(told) < 0.5 * usual or (usual > 1 and len(told) < 2) or _is_banner(grid, part, row):
            continue
        below = _two_rows(grid, part, row)
        if below is not None:
            return below
        if len(told) < 0.75 * usual and row < part.bottom and len(_filled(_cells(grid, row + 1, part))) >= len(told):
            continue
        return Heading((row,), part.left, tuple(named(cells)), doubt=_like_data(grid, part, row))
    return None


def _is_banner(grid: Grid, part: Block, row: int) -> bool:
    """Whether a row is one title that is merged over the table."""
    told = _filled(_cells(grid, row, part))
    return len(told) > 1 and len({str(cell) for cell in told}) == 1 and any(
        top <= row <= bottom and right > left for top, left, bottom, right in grid.merged
    )


def _upwards(grid: Grid, part: Block, row: int) -> Heading:
    """Return the header of a row of known names; with the row above or below it, where names are needed twice."""
    names = named(_cells(grid, row, part))
    if row > part.top and twice_named(names):
        return Heading((row - 1, row), part.left, tuple(named(joined(_cells(grid, row - 1, part), _cells(grid, row, part)))))
    if row < part.bottom:
        below = _two_rows(grid, part, row)
        if below is not None and len(set(below.names)) == len(below.names) and set(_units(below)) == set(names):
            return below
    return Heading((row,), part.left, tuple(names))


def _units(heading: Heading) -> list[str]:
    from vantric.sources.reading.headings import unit_in

    return [unit_in(name)[0] for name in heading.names]


def _two_rows(grid: Grid, part: Block, row: int) -> Heading | None:
    """Return a header of two rows: a row of groups above one of names, or a row of names above one of units."""
    if row >= part.bottom:
        return None
    upper, lower = _cells(grid, row, part), _cells(grid, row + 1, part)
    below = range(row + 2, min(part.bottom, row + 1 + _SAMPLE) + 1)
    numeric = [
        at for at in range(len(lower))
        if (cells := _filled([grid.cell(number, part.left + at) for number in below]))
        and sum(map(is_data, cells)) > len(cells) / 2
    ]  # fmt: skip
    plain = [cell for cell in _filled(lower) if not (isinstance(cell, str) and not is_data(cell))]
    if not _filled(lower) or not below:
        return None
    from vantric.sources.reading.headings import is_unit

    told = [one_line_name(cell) for cell in _filled(lower)]
    over = all(at in numeric for at, cell in enumerate(lower) if not is_blank(cell))
    units = over and all(is_unit(text.strip("()[] ")) for text in told) and not any(map(is_data, _filled(upper)))
    spread = any(top == row and right > left for top, left, bottom, right in grid.merged)
    gaps = len(_filled(upper)) < len(_filled(lower)) or spread or twice_named([n for n in map(one_line_name, lower) if n])
    names = not plain and numeric and all(not is_blank(lower[at]) for at in numeric)
    series = bool(plain) and is_series_of_headings(lower) and gaps and spread
    if not (units and numeric) and not (names and gaps) and not series:
        return None
    return Heading((row, row + 1), part.left, tuple(named(joined(upper, _own(grid, part, row, lower)))))


def _own(grid: Grid, part: Block, row: int, lower: Sequence[Any]) -> list[Any]:
    """Return the lower cells of two rows of headings; one that is merged with the cell above it is blank."""
    both = {
        column for top, left, bottom, right in grid.merged if top <= row < bottom for column in range(left, right + 1)
    }
    return [None if part.left + at in both else cell for at, cell in enumerate(lower)]


def _like_data(grid: Grid, part: Block, row: int) -> bool:
    """Whether a row of headings reads like a record: numbers over numbers, or labels that come again below."""
    cells = _cells(grid, row, part)
    if is_series_of_headings(cells):
        return False
    below = range(row + 1, min(part.bottom, row + _SAMPLE) + 1)
    told, alike, again = len(_filled(cells)), 0, 0
    for at, cell in enumerate(cells):
        if is_blank(cell):
            continue
        column = _filled([grid.cell(number, part.left + at) for number in below])
        if is_data(cell) and column and sum(map(is_data, column)) > len(column) / 2:
            alike += 1
        elif not is_data(cell) and any(one == cell for one in column):
            again += 1
    return told > 0 and (alike > _FEW * told or 0 < again < told or (again == told == 1))


def _goes_on(grid: Grid, table: _Table, part: Block) -> bool:
    """Whether a block below a blank row continues the table above it: its first row is a record."""
    if part.left < table.block.left or part.right > table.block.right or part.top <= table.block.bottom:
        return False
    first = _cells(grid, part.top, table.block)
    told = _filled(first)
    if len(told) < 2:
        return table.block.left == table.block.right
    if part.top == part.bottom:
        return True  # a lone record: what is wrong with it is said when it is read
    if [one_line_name(cell) for cell in told] == [name for name in table.heading.names if name in map(one_line_name, told)]:
        return False
    above = range(max(table.heading.rows, default=table.block.top) + 1, table.block.bottom + 1)[:_SAMPLE]
    for at, cell in enumerate(first):
        column = _filled([grid.cell(number, table.block.left + at) for number in above])
        if not is_blank(cell) and column and sum(map(is_data, column)) > len(column) / 2 and not is_data(cell):
            return False
    numeric = any(is_data(cell) for cell in told)
    return numeric or not any(is_data(c) for number in above for c in _cells(grid, number, table.block))


def _chosen(grid: Grid, tables: Sequence[_Table], wanted: Sequence[str]) -> _Table:
    fitting = [one for one in tables if wanted and set(wanted) <= set(one.heading.names)]
    if len(fitting) > 1:
        places = " and ".join(grid.span(one.block) for one in fitting[:2])
        more = f" and {len(fitting) - 2} more" if len(fitting) > 2 else ""
        how = f'say which with cells, such as cells="{fitting[0].block.cells}"'
        raise SourceError(
            f"{grid.place} has {len(fitting)} tables with {quoted(list(wanted))}, at {places}{more}; {how}"
        )
    if fitting:
        return fitting[0]
    return max(tables, key=lambda one: (one.block.bottom - max(one.heading.rows)) * len(one.heading.names))


def _laid_out(
    grid: Grid, table: _Table, others: Sequence[_Table], parts: Sequence[Block], *, header: bool | None,
    wanted: Sequence[str],
) -> Layout:  # fmt: skip
    block, heading = table.block, table.heading
    names = list(heading.names)
    while names and names[-1] == f"column {len(names)}" and _is_empty(grid, block, heading, len(names) - 1):
        names.pop()
    twice = twice_named(names)
    if twice is not None:
        at = [number for number, name in enumerate(names) if name == twice]
        where = f"{grid.place} has two columns named '{twice}'"
        half = len(names) // 2
        if grid.unit == "row" and len(at) == 2 and names[:half] == names[at[1] : at[1] + half]:
            cut = replace(block, right=block.left + at[1] - 1, top=heading.rows[0])
            raise SourceError(f'{where}; if these are two tables side by side, say cells="{grid.span(cut)}"')
        raise SourceError(f"{where}; rename one of them")
    remarks: list[Remark] = []
    body = [row for row in range(max(heading.rows) + 1, block.bottom + 1)]
    last = block
    rest = [part for part in parts if part.top > block.bottom and part.left <= block.right and part.right >= block.left]
    notes: list[int] = []
    for part in rest:
        if any(part == other.block for other in others):
            break
        if _goes_on(grid, replace(table, block=replace(last, left=block.left, right=block.right)), part) and not notes:
            body += range(part.top, part.bottom + 1)
            last = replace(block, bottom=part.bottom)
        else:
            notes += range(part.top, part.bottom + 1)
    again = [row for row in body if _repeats(grid, block, heading, row)]
    width = len(names)
    body = [row for row in body if row not in set(again) and _filled(_cells(grid, row, block)[:width])]
    if again:
        remarks.append(Remark("header-again", f"{grid.place}: the header comes again in {_rows(grid, again)}; left out there"))
    if notes:
        number = counted(len(notes), grid.unit)
        remarks.append(
            Remark("notes-below", f"{grid.place}: {number} of notes below the table, from {grid.unit} "
                   f"{grid.number(notes[0])}, left out")
        )  # fmt: skip
    whole = replace(block, top=heading.rows[0], bottom=max([*body, block.bottom]))
    if others:
        listed = "; ".join(
            f"{grid.span(replace(one.block, top=one.heading.rows[0]))} ({', '.join(one.heading.names[:3])})"
            for one in others[:_MOST_NOTED]
        )
        remarks.append(
            Remark("other-tables", f"{grid.place}: the table at {grid.span(whole)} was read; there "
                   f"{'is another' if len(others) == 1 else f'are {len(others)} others'}: {listed}")
        )  # fmt: skip
    if heading.doubt and header is None and not set(wanted) & set(names):
        shown = quoted([name for name in names if not name.startswith("column ")][:3])
        remarks.append(
            Remark("header-like-data", f"{grid.place}: the first row reads like a record ({shown}), and was taken for "
                   "the names of the columns", "warning", "say header=False if the file has no header")
        )  # fmt: skip
    columns = tuple(range(block.left, block.left + width))
    return Layout(tuple(names), columns, tuple(body), heading.rows, grid.span(whole), tuple(remarks))


def _is_empty(grid: Grid, block: Block, heading: Heading, at: int) -> bool:
    rows = range(max(heading.rows) + 1, block.bottom + 1)
    return all(is_blank(grid.cell(row, block.left + at)) for row in rows)


def _repeats(grid: Grid, block: Block, heading: Heading, row: int) -> bool:
    last = heading.rows[-1]
    first = next(at for at in range(block.left, block.right + 1) if not is_blank(grid.cell(last, at)))
    if grid.cell(row, first) != grid.cell(last, first):
        return False
    return [one_line_name(cell) for cell in _cells(grid, row, block)] == [
        one_line_name(cell) for cell in _cells(grid, last, block)
    ]


def _rows(grid: Grid, rows: Sequence[int]) -> str:
    shown = ", ".join(str(grid.number(row)) for row in rows[:_MOST_NOTED])
    more = f" and {len(rows) - _MOST_NOTED} more" if len(rows) > _MOST_NOTED else ""
    return f"{grid.unit} {shown}{more}"
