"""Records that hold the same in their cell: one label or several, and how their amounts are spread over the records."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import NamedTuple

from vantric.core.counts.relabeling import Relabeling
from vantric.core.counts.tally import Part, Spread, spread_of
from vantric.core.numbers.amounts import Raw
from vantric.reading.settings import Counting


class Cell(NamedTuple):
    """A label or None, its records, what their counts and their counts times weights add up to, and the squares."""

    label: str | None
    rows: int
    counted: Raw
    amount: Raw
    squares: float


def split_cells(cells: Iterable[Cell], separator: str | None) -> Iterable[Cell]:
    """Yield a cell for each label in it; a label that a cell names twice counts once."""
    for cell in cells:
        if cell.label is None or separator is None:
            yield cell
            continue
        labels = list(dict.fromkeys(filter(None, (piece.strip() for piece in cell.label.split(separator)))))
        if not labels:
            yield cell._replace(label=None)
        for piece in labels:
            yield cell._replace(label=piece)


def came_ready(counting: Counting, cells: Sequence[Cell]) -> bool:
    """Whether counts came added up: a record a category or cell of a table, or columns that are categories."""
    if counting.by_columns or counting.unique or counting.added:
        return True
    return bool(counting.count or counting.weight) and len(cells) > 1 and all(cell.rows == 1 for cell in cells)


def unequal(counting: Counting, cells: Sequence[Cell]) -> bool:
    """Whether records may stand for several occurrences, or have several labels."""
    several = counting.count or counting.weight or counting.separator is not None
    return bool(several) and not came_ready(counting, cells)


def spread_over(cells: Iterable[Cell], counting: Counting, rename: Relabeling) -> Spread:
    """Return how the amounts of cells, each with all of its labels under their new names, are spread over records."""
    parts = []
    for cell in cells:
        labels = [one.label for one in split_cells([cell], counting.separator)]
        named = tuple(None if label is None else rename(label) for label in labels)
        parts.append(Part(named, cell.rows, cell.squares))
    return spread_of(parts)
