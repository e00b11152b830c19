"""What the rows of totals say, and where the running sums end.

What a column of a sheet should say, and its wrong cells.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from vantric.audit.sheets import Kind, SheetCell, SheetColumnCells, SheetRow, SheetTable, SplitRows, TotalRow
from vantric.core.numbers.number_format import digits_text, listed, one_line
from vantric.core.review.finding import Finding, WrongCell, error, warning

#: Of 100 %: what rounding alone does to the last of a running sum.
ROUNDED = Fraction(6, 1000)


@dataclass(frozen=True)
class ExpectedColumn:
    """What a column should say of the rows of categories: `right` is `amounts` over `base`, in the column's scale."""

    kind: Kind
    name: str
    column: SheetColumnCells
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


_NOISE = Fraction(1, 10**9)  # of sums that a spreadsheet works out
#: What the column of frequencies is called in a table of wrong cells.
FREQUENCY = "frequency"


def misplaced(table: SheetTable, parted: SplitRows) -> list[Finding]:
    """Find rows of totals among those that they add up."""
    return [
        error(
            "total-as-category",
            message=f"{table.where}{named(total.row)} stands among the rows of categories: it was sorted with them, "
            "and a running sum or a chart over the rows counts it",
            fix="put the Total row below the table, and sort the rows of categories alone",
            where=total.row.place,
        )
        for total in parted.totals
        if total.amid
    ]


def wrong_totals(table: SheetTable, parted: SplitRows) -> list[Finding]:
    """Find rows of totals that are not the sum of their rows."""
    found = []
    for total in parted.totals:
        said = total.row.count
        if said is None or said == 0 or abs(said - total.wanted) <= _NOISE * abs(total.wanted):
            continue
        says, should = digits_text(float(said)), digits_text(float(total.wanted))
        found.append(
            error(
                "wrong-total",
                message=f"{table.where}{named(total.row)}: the {total.kind} says {says} and should be {should}: it is "
                "not the sum of its rows",
                fix="add the rows up again",
                where=f"{total.row.place}, the {total.kind}",
                cells=[WrongCell(total.row.place, one_line(total.row.label, longest=40), FREQUENCY, says, should)],
            )
        )
    return found


def totals_say(table: SheetTable, parted: SplitRows, one: ExpectedColumn, before: list[Finding]) -> list[Finding]:
    """Check what the rows of totals say of percents and running sums; where all are of a wrong base, they join them."""
    found = []
    for total in parted.totals:
        cell = total.row.cell(one.kind)
        if cell is None or cell.value is None:
            continue
        wanted = of_total(total, one)
        column = replace(one.column, cells=(cell,))
        if wanted is None or column.is_right(0, wanted) or cell.value == 0:  # zero: as good as blank
            continue
        made = cell_of(total.row, table, one.kind, wanted)
        same = next(
            (at for at, other in enumerate(before) if other.code == "wrong-percent" and len(other.cells) > 1), None
        )
        if one.kind == "percent" and same is not None:
            before[same] = replace(before[same], cells=(*before[same].cells, made))
            continue
        small = abs(cell.value - wanted) <= ROUNDED * one.column.scale and one.kind != "running"
        make = warning if small else error
        why = ": it adds up rounded percents" if small else ""
        found.append(
            make(
                "not-ending-at-100" if small else "wrong-percent" if one.kind == "percent" else "wrong-cumulative",
                message=f"{table.where}{named(total.row)}: {table.heading(one.kind)} says {made.says} and should be "
                f"{made.should}{why}",
                fix="divide the total by itself"
                if one.kind == "percent"
                else "leave it blank, or repeat the last running sum",
                where=f"{total.row.place}, {table.heading(one.kind)}",
                cells=[made],
            )
        )
    return found


def blanks(table: SheetTable, parted: SplitRows, one: ExpectedColumn) -> list[Finding]:
    """Tell cells that are blank where their column has a number in most rows."""
    pairs = zip(parted.body, one.right, strict=True)
    rows = [(row, right) for row, right in pairs if row.cell(one.kind) is None and row.count]
    if not rows or 2 * len(rows) > len(parted.body):
        return []
    heading = table.heading(one.kind)
    return [
        warning(
            "blank-cell",
            message=f"{table.where}{heading} is blank in {listed([named(row) for row, _ in rows], most=3)}",
            fix="work it out as in the other rows",
            where=f"{rows[0][0].place}, {heading}",
            cells=[cell_of(row, table, one.kind, right) for row, right in rows],
        )
    ]


def of_total(total: TotalRow, one: ExpectedColumn) -> Fraction | None:
    """Return what a row of totals should say in a column; None where it need not say anything."""
    if one.kind == "percent":
        return one.column.scale * total.wanted / one.base
    if total.kind == "subtotal" or total.before == 0:
        return one.right[total.before - 1] if 0 < total.before <= len(one.right) else None
    return one.right[-1]


def ends(
    table: SheetTable, parted: SplitRows, wanted: Sequence[ExpectedColumn], before: Sequence[Finding]
) -> list[Finding]:
    """Tell a last cumulative percent that is nearly 100: it adds up rounded percents."""
    one = next((column for column in wanted if column.kind == "cumulative"), None)
    last = parted.body[-1]
    cell = last.cumulative
    if one is None or cell is None or cell.value is None or one.right[-1] != one.column.scale:
        return []
    made = cell_of(last, table, "cumulative", one.right[-1])
    told = any(
        (made.place, made.column) == (wrong.place, wrong.column) for finding in before for wrong in finding.cells
    )
    exact = abs(cell.value - one.column.scale) <= Fraction(1, 10**9) * one.column.scale
    if exact or told:
        return []
    return [
        warning(
            "not-ending-at-100",
            message=f"{table.where}the last cumulative percent says {digits_text(float(cell.value))}, and the last is "
            f"always {one.column.scale}",
            fix="work it out from the frequencies, not from rounded percents",
            where=f"{last.place}, {table.heading('cumulative')}",
            cells=[made],
        )
    ]
