"""Blocks of cells that belong together: side by side, or a row of names above a blank one."""

from __future__ import annotations

from collections.abc import Sequence

from vantric.core.counting.labels.totalwords import is_strong
from vantric.sources.reading.grid import Block, Grid
from vantric.sources.reading.headers import cells_of, filled
from vantric.sources.reading.headings import is_data, one_line_name

_HEADER_ROWS = 100  # of a block, where wanted names are looked for
_GAP = 3  # rows between a header and its records


def joined_blocks(grid: Grid, parts: Sequence[Block], wanted: Sequence[str]) -> list[Block]:
    """Join blocks side by side whose rows are the same, or that hold the wanted names together."""
    found: list[Block] = []
    for part in parts:
        before = found[-1] if found else None
        if before is not None and _is_header_apart(grid, before, part):
            found[-1] = Block(before.top, part.bottom, before.left, part.right)
            continue
        if before is not None and before.right < part.left and part.top <= before.bottom:
            whole = Block(min(before.top, part.top), max(before.bottom, part.bottom), before.left, part.right)
            if _is_one(grid, before, part, whole, wanted):
                found[-1] = whole
                continue
        found.append(part)
    return found


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


def is_remark(cell: object) -> bool:
    """Whether a cell introduces what is beside it, as in "Source: inspection"; a total does not."""
    return isinstance(cell, str) and cell.strip().endswith(":") and not is_strong(cell)
