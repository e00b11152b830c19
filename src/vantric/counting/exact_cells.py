"""Cells as exact amounts, and names that the user gives for rows, columns and sheets."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from vantric.core.totals.row_sums import Cell, exact_cell
from vantric.reading.headings import is_blank, same_name
from vantric.reading.records import Records
from vantric.reading.settings import CellRules


def amounts_in(records: Records, name: str, cells: Sequence[Any], *, counted: bool) -> list[Cell]:
    """Return the cells of a column as exact amounts; what is an amount in words adds up to nothing.

    Raises
    ------
    AmountError
        If the column has no reading.
    """
    is_plain = False
    if any(isinstance(cell, str) and not is_blank(cell) for cell in cells):
        is_plain = records.number_reading(name, counted=counted).is_plain
    amounts: dict[Any, Cell] = {}  # most cells of a long table are alike
    for cell in cells:
        if (type(cell), cell) not in amounts:
            digits = is_plain and isinstance(cell, str) and cell.isascii() and cell.isdigit()
            amounts[type(cell), cell] = int(cell) if digits else _amount(records, name, cell, counted=counted)
    return [amounts[type(cell), cell] for cell in cells]


def _amount(records: Records, name: str, cell: Any, *, counted: bool) -> Cell:
    try:
        number = None if is_blank(cell) else records.number(name, cell, counted=counted)
    except ValueError:
        return None
    return exact_cell(float(number) if isinstance(number, float) else number)


def is_named(label: str, rules: CellRules) -> bool:
    """Whether the user leaves out what has a label."""
    return any(same_name(label, name) for name in rules.leave_out)
