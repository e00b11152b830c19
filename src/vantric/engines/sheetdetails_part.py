"""What a sheet says beside the values of its cells."""

from __future__ import annotations

import re
from dataclasses import dataclass, field

from vantric.reading.numberformats_part import Shown

Cell = tuple[int, int]
#: A formula that adds up cells.
SUM = re.compile(r"\s*=?\s*(of:=)?(SUM|SUBTOTAL|AGGREGATE|_xlfn\.AGGREGATE)\s*\(", re.IGNORECASE)


@dataclass
class Details:
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
    sums
        Cells with a formula that adds up others.
    """

    merged: list[tuple[int, int, int, int]] = field(default_factory=list)
    hidden: set[int] = field(default_factory=set)
    shown: dict[Cell, Shown] = field(default_factory=dict)
    errors: dict[Cell, str] = field(default_factory=dict)
    uncalculated: dict[Cell, str] = field(default_factory=dict)
    sums: set[Cell] = field(default_factory=set)
