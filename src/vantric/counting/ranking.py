"""Drill-down: the tally of one column, and within each of its labels that of the next."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Any

from vantric.core.counts.relabeling import Relabeling, relabeling
from vantric.core.counts.tally import Tally
from vantric.core.numbers.amounts import Raw
from vantric.core.numbers.number_format import one_line
from vantric.counting.cells import Cell, came_ready, spread_over, unequal
from vantric.counting.ranges_part import resolved
from vantric.counting.tallies import (
    Groups,
    finished_tally,
    first_labels,
    frequencies,
    grouped,
    looked_at,
    naming,
    origin_of,
    seen_labels,
)
from vantric.counting.total_rows import without_totals
from vantric.engines.opening import with_records
from vantric.errors import ColumnError
from vantric.reading.headings import label_text
from vantric.reading.records import Records
from vantric.reading.settings import Counting, Opening

FAMILY = "family"


@dataclass(frozen=True)
class _Cell:
    labels: tuple[str | None, ...]
    rows: int
    counted: Raw
    amount: Raw
    squares: float


@dataclass(frozen=True)
class Levels:
    """The records grouped by every column of a drill-down.

    Attributes
    ----------
    columns
        From the widest to the narrowest.
    tally_at
        ``tally_at(path)``: the tally of the column below the labels chosen so far; of the first for ``()``.
    """

    columns: tuple[str, ...]
    tally_at: Callable[[tuple[str, ...]], Tally]


def drill_levels(data: Any, columns: Sequence[str], counting: Counting, opening: Opening) -> Levels:
    """Group any data that have columns for a drill-down.

    With families, a first column ``"family"`` that the data lack is the family of the second column's labels.
    """
    names = tuple(columns)
    if len(names) < 2 or len(set(names)) < len(names):
        raise ColumnError("a drill-down names two columns or more, each once, from the widest to the narrowest")
    if counting.by or counting.by_columns or counting.unique or counting.separator:
        raise ColumnError("drill names the columns itself: leave by, by_columns, unique and separator out")
    by_family = counting.families is not None and names[0] == FAMILY
    keys = list(names[1:] if by_family else names)
    stated = replace(counting, by=keys[0])
    wanted = [*stated.columns(), *keys]

    def work(records: Records) -> Levels:
        asked = resolved(stated, records)
        looked = replace(looked_at(asked), by=keys[0])

        def labels(found: Levels) -> list[str | None]:
            return seen_labels(found.tally_at(()), asked)

        return without_totals(
            records, looked, lambda left: _levels(left, keys, asked, names, by_family=by_family), labels
        )

    return with_records(data, opening, list(dict.fromkeys(wanted)), work)


def _levels(
    records: Records, keys: list[str], counting: Counting, names: tuple[str, ...], *, by_family: bool
) -> Levels:
    cells = [
        _Cell(tuple(map(label_text, values)), rows, count, amount, squares)
        for *values, rows, count, amount, squares in grouped(records, keys, counting)
    ]
    remarks = list(records.remarks)
    if by_family:
        cells, more = _with_family(cells, counting)
        remarks += more.remarks
    elif counting.merge_spellings or counting.families is not None:
        cells, more = _renamed(cells, counting)
        remarks += more.remarks
    origin = origin_of(records, counting, sum(cell.rows for cell in cells), remarks)
    seconds = replace(counting, families=None, in_order=False)

    def tally_at(path: tuple[str, ...]) -> Tally:
        here = [cell for cell in cells if cell.labels[: len(path)] == path]
        level = len(path)
        groups: Groups = [(cell.labels[level], cell.counted, cell.amount) for cell in here]
        within = [f"{name} is {one_line(label)}" for name, label in zip(names, path, strict=False)]
        about = replace(
            origin,
            by=names[level],
            within=" and ".join(within) or None,
            input_rows=sum(cell.rows for cell in here),
            grouped=by_family and not level,
            remarks=tuple(remarks) if not level else (),
        )
        order = first_labels((label for label, *_ in groups), Relabeling({})) if counting.in_order else None
        plain = [Cell(cell.labels[level], cell.rows, cell.counted, cell.amount, cell.squares) for cell in here]
        about = replace(about, ready=came_ready(seconds, plain))
        spread = spread_over(plain, seconds, Relabeling({})) if unequal(seconds, plain) else None
        return finished_tally(groups, about, seconds, order, spread)

    return Levels(names, tally_at)


def _with_family(cells: list[_Cell], counting: Counting) -> tuple[list[_Cell], Relabeling]:
    """Put the family of the first label before it; where spellings are merged, the labels are merged too."""
    cells, merged = _renamed(cells, replace(counting, families=None)) if counting.merge_spellings else (cells, None)
    amounts = frequencies((cell.labels[0], cell.amount) for cell in cells)
    families = relabeling(amounts, merge_spellings=False, families=naming(counting)["families"])
    placed = [
        replace(cell, labels=(None if cell.labels[0] is None else families(cell.labels[0]), *cell.labels))
        for cell in cells
    ]
    said = (*(merged.remarks if merged else ()), *families.remarks)
    return placed, Relabeling({}, said)


def _renamed(cells: list[_Cell], counting: Counting) -> tuple[list[_Cell], Relabeling]:
    """Give the labels of the last column their new names."""
    rename = relabeling(frequencies((cell.labels[-1], cell.amount) for cell in cells), **naming(counting))
    named = [
        replace(cell, labels=(*cell.labels[:-1], None if cell.labels[-1] is None else rename(cell.labels[-1])))
        for cell in cells
    ]
    return named, rename
