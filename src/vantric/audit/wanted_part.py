"""What a column of a sheet should say, and its wrong cells."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from vantric.audit.columns_part import Column
from vantric.audit.sheets import Kind, SheetCell, SheetRow, SheetTable
from vantric.core.numbers.number_format import digits_text, one_line
from vantric.core.review.finding import WrongCell

#: Of 100 %: what rounding alone does to the last of a running sum.
ROUNDED = Fraction(6, 1000)


@dataclass(frozen=True)
class Wanted:
    """What a column should say of the rows of categories: `right` is `amounts` over `base`, in the column's scale."""

    kind: Kind
    name: str
    column: Column
    right: tuple[Fraction, ...]
    amounts: tuple[Fraction, ...]
    base: Fraction

    def nearly(self, at: int) -> bool:
        """Whether a cell is off by no more than rounding does."""
        cell = self.column.cells[at]
        near = ROUNDED * self.column.scale
        return cell is not None and cell.value is not None and abs(cell.value - self.right[at]) <= near

    def wrong(self) -> list[int]:
        """Return the places of wrong cells."""
        return [at for at, wanted in enumerate(self.right) if not self.column.is_right(at, wanted)]


def cell_of(row: SheetRow, table: SheetTable, kind: Kind, wanted: Fraction) -> WrongCell:
    """Return a cell of a row with what it says and what it should be."""
    cell = row.cell(kind) or SheetCell(row.place, "")
    says = cell.text if cell.value is None else digits_text(float(cell.value))
    label = one_line(row.label, longest=40)
    return WrongCell(cell.place, label, table.name(kind), says, digits_text(float(wanted), digits=4))


def named(row: SheetRow) -> str:
    """Return a row with its label."""
    return f"{row.place} ('{one_line(row.label, longest=40)}')"
