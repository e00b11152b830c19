"""A sheet as it is: rows with what their cells say."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from typing import Literal, TypeAlias

#: What a checked column holds: percents, cumulative percents, cumulative frequencies.
Kind: TypeAlias = Literal["percent", "cumulative", "running"]
_USUAL = {"percent": "the percent", "cumulative": "the cumulative percent", "running": "the cumulative frequency"}
KINDS: tuple[Kind, ...] = ("percent", "cumulative", "running")


@dataclass(frozen=True)
class SheetCell:
    """One cell.

    Attributes
    ----------
    place
        Where it is: ``"row 5"``, ``"D5"``.
    text
        As it is written: it tells how far its number is rounded.
    value
        Its number; None if it holds none, such as an error.
    why
        Its formula, if it has one: ``"=B5/B10"``.
    """

    place: str
    text: str
    value: Fraction | None = None
    why: str = ""


@dataclass(frozen=True)
class SheetRow:
    """One row of a sheet.

    Attributes
    ----------
    place
        Which one it is, in words: ``"row 5"``.
    label
        Its category.
    count
        Its frequency; None where it has none.
    percent, cumulative, running
        Its other cells; None where a cell is empty or there is no such column.
    adds
        Whether its frequency is a formula that adds up others.
    group
        What other columns of labels say: a kiln, beside defects.
    """

    place: str
    label: str
    count: Fraction | None
    percent: SheetCell | None = None
    cumulative: SheetCell | None = None
    running: SheetCell | None = None
    adds: bool = False
    group: tuple[str, ...] = ()

    def cell(self, kind: Kind) -> SheetCell | None:
        """Return the cell of a column."""
        found: SheetCell | None = getattr(self, kind)
        return found


@dataclass(frozen=True)
class SheetTable:
    """A table of a sheet.

    Attributes
    ----------
    rows
    where
        What messages call it; empty where it is clear.
    by
        The heading of its labels.
    headings
        Kind of column -> its heading.
    base
        What percents are of, if the user says so; None for the sum of the rows.
    stated
        Numbers that the sheet states beside the table, one of which percents may be of: units that were inspected.
    """

    rows: tuple[SheetRow, ...]
    where: str = ""
    by: str = ""
    headings: tuple[tuple[Kind, str], ...] = ()
    base: Fraction | None = None
    stated: tuple[Fraction, ...] = ()

    def has(self, kind: Kind) -> bool:
        """Whether any row has a cell of a kind."""
        return any(row.cell(kind) is not None for row in self.rows)

    def name(self, kind: Kind) -> str:
        """Return the heading of a column, or what it holds."""
        return dict(self.headings).get(kind) or _USUAL[kind].removeprefix("the ")

    def heading(self, kind: Kind) -> str:
        """Return what messages call a column."""
        named = dict(self.headings).get(kind)
        return f"'{named}'" if named else _USUAL[kind]
