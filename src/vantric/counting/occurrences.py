"""What one record is, for every command: a lot, a row, or each occurrence of a sheet whose counts came added up."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from vantric.core.counts.relabeling import Relabeling
from vantric.core.counts.tally import Repeats, Spread, joined, spread_of_lots
from vantric.core.numbers.amounts import Raw
from vantric.core.numbers.parsing import parse_amount
from vantric.counting.cells import LabelCell, split_cells, spread_over
from vantric.errors import VantricError
from vantric.reading.headings import is_blank, label_text
from vantric.reading.records import Records
from vantric.reading.settings import CountSettings

#: Rows, beyond which nobody has added up what they hold.
_LONGEST_SHEET = 5_000
#: Cells of a sheet by which its columns are of_lot against each other.
_MOST_CELLS = 200_000


def is_sheet(records: Records, keys: Sequence[str], counting: CountSettings, labels: Iterable[tuple[Any, int]]) -> bool:
    """Whether counts came added up, so that the occurrences are the records.

    Parameters
    ----------
    records
        Without their totals.
    keys
        The columns of the labels.
    counting
        What is counted; `rows` and `lot` decide by themselves.
    labels
        Each label, None if it is missing, and how many records it has.

    Notes
    -----
    A table with one row a label; or one of two labels at least in which no label has two rows that are alike in all
    other columns, and at least two thirds of label x other columns are filled. Of simulated logs of lots at most 1% are
    taken for sheets.
    """
    if counting.rows is not None:
        return counting.rows == "totals"
    if counting.by_columns or counting.unique or counting.added:
        return True
    if counting.lot or not (counting.count or counting.weight):
        return False
    rows = [number for label, number in labels if not is_blank(label)]
    if len(rows) < 2:
        return False
    if sum(rows) == len(rows):
        return True
    # Without asking for all columns: at most as many rows as the fullest label has columns times labels.
    if counting.weight or sum(rows) > _LONGEST_SHEET or 3 * sum(rows) < 2 * len(rows) * max(rows):
        return False
    others = [name for name in records.names() if name not in (*keys, counting.count)]
    groups = [group for group in records.groups([*keys, *others]) if not is_blank(group[0])]
    cells = {(*map(label_text, group[: len(keys)]), *group[len(keys) : -1]) for group in groups}
    filled = len(cells) == len(groups) and all(int(group[-1]) == 1 for group in groups)
    return filled and 3 * len(cells) >= 2 * len(rows) * len({cell[len(keys) :] for cell in cells})


def repeats_of(records: Records, counting: CountSettings, rename: Relabeling, rows: int) -> Repeats | None:
    """Return the counts of a sheet by its columns, or by what else tells its rows apart; None if there is one only."""
    if counting.by_columns:
        return _by_row(records, counting.by_columns, rename)
    if counting.added:
        parts = [
            (label_text(value), column, amount)
            for column in counting.added
            for value, _, amount in records.sums([str(counting.by)], column, free=True)
        ]
        return _table(parts, rename, "")
    if counting.unique or counting.count is None:
        return None
    by, count = str(counting.by), str(counting.count)
    others = [name for name in records.names() if name not in (by, count)]
    if not others or rows > _LONGEST_SHEET:
        return None
    cells = records.sums([by, *others], count)
    varying = [name for place, name in enumerate(others, 1) if len({cell[place] for cell in cells}) > 1]
    return _table(
        ((label_text(cell[0]), cell[1:-2], cell[-1]) for cell in cells), rename, varying[0] if len(varying) == 1 else ""
    )


def agreeing(repeats: Repeats | None, amounts: Mapping[str, Any]) -> Repeats | None:
    """Return counts by column if they add up to what was counted; else they were read otherwise, and nothing."""
    if repeats is None:
        return None
    sums = {label: math.fsum(row) for label, row in repeats.counts.items()}
    fine = all(math.isclose(sums.get(label, 0.0), float(amount)) for label, amount in amounts.items())
    return repeats if fine else None


def _table(cells: Iterable[tuple[str | None, Any, Raw]], rename: Relabeling, over: str) -> Repeats | None:
    """Return label x column of labels as they are renamed."""
    values: dict[str, dict[Any, float]] = {}
    columns: dict[Any, None] = {}
    for label, column, amount in cells:
        columns[column] = None
        if label is not None and label.strip():
            row = values.setdefault(rename(label), {})
            row[column] = row.get(column, 0.0) + float(amount)
    if len(columns) < 2 or len(values) * len(columns) > _MOST_CELLS:
        return None
    return Repeats(over, {label: tuple(row.get(column, 0.0) for column in columns) for label, row in values.items()})


def _by_row(records: Records, columns: tuple[str, ...], rename: Relabeling) -> Repeats | None:
    """Return the counts of columns that are categories, row by row; None where the source has no rows in order."""
    values: dict[str, list[float]] = {}
    for column in columns:
        try:
            row = [float(parse_amount(value)) if not is_blank(value) else 0.0 for _, value in _cells(records, column)]
        except (VantricError, ValueError):  # a check mark
            return None
        before = values.get(rename(column), [0.0] * len(row))
        if len(before) != len(row) or len(row) * len(columns) > _MOST_CELLS:
            return None
        values[rename(column)] = [sum(pair) for pair in zip(before, row, strict=True)]
    others = [name for name in records.names() if name not in columns]
    repeats = Repeats(others[0] if len(others) == 1 else "", {label: tuple(row) for label, row in values.items()})
    return repeats if repeats.columns > 1 else None


def _cells(records: Records, column: str) -> list[tuple[str, Any]]:
    return list(records.values_in_order(column, numbers=True))


def spread_by_lot(groups: Iterable[tuple[Any, ...]], counting: CountSettings, rename: Relabeling) -> Spread:
    """Return how amounts are spread over lots; a record without a lot is one by itself.

    Parameters
    ----------
    groups
        (label, lot, records, count, amount, squares) for every combination of the two.
    """
    alone: list[LabelCell] = []
    lots: dict[str, dict[str | None, float]] = {}
    for value, lot, rows, count, amount, squares in groups:
        cell, name = LabelCell(label_text(value), rows, count, amount, squares), label_text(lot)
        if name is None or not name.strip():
            alone.append(cell)
            continue
        of_lot = lots.setdefault(name, {})
        for part in split_cells([cell], counting.separator):
            label = None if is_blank(part.label) else rename(str(part.label))
            of_lot[label] = of_lot.get(label, 0.0) + float(part.amount)
    return joined([spread_of_lots(lots.values()), spread_over(alone, counting, rename)])
