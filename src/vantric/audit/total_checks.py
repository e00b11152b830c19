"""What the rows of totals should say, and where the running sums should end."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction

from vantric.audit.sheets import (
    Kind,
    Shares,
    SheetCell,
    SheetColumnCells,
    SheetRow,
    SheetTable,
    SplitRows,
    TotalRow,
    decimals_of,
)
from vantric.base.lazily import cached_property, dataclass
from vantric.core.numbers.number_format import digits_text, listed, number_text, one_line
from vantric.core.review.finding import Finding, WrongCell, error, warning

#: Of 100%: what rounding alone does to the last of a running sum.
ROUNDED = Fraction(6, 1000)


@dataclass(frozen=True)
class ExpectedColumn:
    """What a column should say of the rows of categories: `right` is `amounts` over `base`, in the column's scale."""

    kind: Kind
    name: str
    column: SheetColumnCells
    shares: Shares

    @property
    def amounts(self) -> tuple[Fraction, ...]:
        """What the shares are of."""
        return self.shares.amounts

    @property
    def base(self) -> Fraction:
        """What 1 is."""
        return self.shares.base

    @cached_property
    def right(self) -> tuple[Fraction, ...]:
        """What each cell should say."""
        return tuple(self.column.scale * amount / self.base for amount in self.amounts)

    def nearly(self, index: int) -> bool:
        """Whether a cell is off by no more than rounding does."""
        cell = self.column.cells[index]
        near = ROUNDED * self.column.scale
        return cell is not None and cell.value is not None and abs(cell.value - self.right[index]) <= near

    @cached_property
    def wrong(self) -> tuple[int, ...]:
        """The places of wrong cells."""
        places = range(len(self.amounts))
        return tuple(index for index in places if not self.shares.is_said(self.column, index, self.column.scale))


def cell_of(row: SheetRow, table: SheetTable, kind: Kind, expected: Fraction) -> WrongCell:
    """Return a cell of a row with what it says and what it should be."""
    cell = row.cell(kind) or SheetCell(row.place, "")
    says = cell.text if cell.value is None else digits_text(float(cell.value))
    label = one_line(row.label, longest=40)
    decimals, should = decimals_of(cell.text), digits_text(float(expected), digits=4)
    if decimals > len(should.partition(".")[2]):  # a cell of three decimals is off by what two do not show
        should = number_text(float(round(expected, decimals)), most_decimals=decimals)
    return WrongCell(cell.place, label, table.name(kind), says, should)


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
    findings = []
    for total in parted.totals:
        count = total.row.count
        if count is None or count == 0 or abs(count - total.wanted) <= _NOISE * abs(total.wanted):
            continue
        says, should = digits_text(float(count)), digits_text(float(total.wanted))
        findings.append(
            error(
                "wrong-total",
                message=f"{table.where}{named(total.row)}: the {total.kind} says {says} and should be {should}: it is "
                "not the sum of its rows",
                fix="add the rows up again",
                where=f"{total.row.place}, the {total.kind}",
                cells=[WrongCell(total.row.place, one_line(total.row.label, longest=40), FREQUENCY, says, should)],
            )
        )
    return findings


def _is_of_that_base(total: SheetColumnCells, value: Fraction, expected_column: ExpectedColumn) -> bool:
    """Whether the percent of a total is of the base that the rows' percents are of, which is another than their sum."""
    cells = [cell.value for cell in expected_column.column.cells if cell is not None and cell.value is not None]
    if expected_column.kind != "percent":
        return False
    share = sum(cells, Fraction()) / expected_column.column.scale
    return total.is_right(0, value * share, times=Fraction(len(cells)))


def total_findings(
    table: SheetTable, parted: SplitRows, expected_column: ExpectedColumn, before: list[Finding]
) -> list[Finding]:
    """Check what the rows of totals say of percents and running sums; where all are of a wrong base, they join them."""
    findings = []
    for total in parted.totals:
        cell = total.row.cell(expected_column.kind)
        if cell is None or cell.value is None:
            continue
        value = of_total(total, expected_column)
        column = replace(expected_column.column, cells=(cell,))
        if value is None or column.is_right(0, value) or cell.value == 0:  # zero: as good as blank
            continue
        if any(other.code == "other-base" for other in before) and _is_of_that_base(column, value, expected_column):
            continue
        wrong_cell = cell_of(total.row, table, expected_column.kind, value)
        same = next(
            (index for index, other in enumerate(before) if other.code == "wrong-percent" and len(other.cells) > 1),
            None,
        )
        if expected_column.kind == "percent" and same is not None:
            before[same] = replace(before[same], cells=(*before[same].cells, wrong_cell))
            continue
        small = abs(cell.value - value) <= ROUNDED * expected_column.column.scale and expected_column.kind != "running"
        make = warning if small else error
        why = ": it adds up rounded percents" if small else ""
        findings.append(
            make(
                "not-ending-at-100"
                if small
                else "wrong-percent"
                if expected_column.kind == "percent"
                else "wrong-cumulative",
                message=f"{table.where}{named(total.row)}: {table.heading(expected_column.kind)} "
                f"says {wrong_cell.says} and should be {wrong_cell.should}{why}",
                fix="divide the total by itself"
                if expected_column.kind == "percent"
                else "leave it blank, or repeat the last running sum",
                where=f"{total.row.place}, {table.heading(expected_column.kind)}",
                cells=[wrong_cell],
            )
        )
    return findings


def blanks(table: SheetTable, parted: SplitRows, column: ExpectedColumn) -> list[Finding]:
    """Tell cells that are blank where their column has a number in most rows."""
    rows = [(row, place) for place, row in enumerate(parted.body) if row.cell(column.kind) is None and row.count]
    if not rows or 2 * len(rows) > len(parted.body):
        return []
    heading = table.heading(column.kind)
    return [
        warning(
            "blank-cell",
            message=f"{table.where}{heading} is blank in {listed([named(row) for row, _ in rows], most=3)}",
            fix="work it out as in the other rows",
            where=f"{rows[0][0].place}, {heading}",
            cells=[cell_of(row, table, column.kind, column.right[place]) for row, place in rows],
        )
    ]


def of_total(total: TotalRow, column: ExpectedColumn) -> Fraction | None:
    """Return what a row of totals should say in a column; None where it need not say anything."""
    if column.kind == "percent":
        return column.column.scale * total.wanted / column.base
    if total.kind == "subtotal" or total.before == 0:
        return column.right[total.before - 1] if 0 < total.before <= len(column.right) else None
    return column.right[-1]


def end_findings(
    table: SheetTable, parted: SplitRows, expected: Sequence[ExpectedColumn], before: Sequence[Finding]
) -> list[Finding]:
    """Tell a last cumulative percent that is nearly 100: it adds up rounded percents."""
    expected_column = next((column for column in expected if column.kind == "cumulative"), None)
    last = parted.body[-1]
    cell = last.cumulative
    if (
        expected_column is None
        or cell is None
        or cell.value is None
        or expected_column.right[-1] != expected_column.column.scale
    ):
        return []
    wrong_cell = cell_of(last, table, "cumulative", expected_column.right[-1])
    has_finding = any(
        (wrong_cell.place, wrong_cell.column) == (wrong.place, wrong.column)
        for finding in before
        for wrong in finding.cells
    )
    exact = abs(cell.value - expected_column.column.scale) <= Fraction(1, 10**9) * expected_column.column.scale
    if exact or has_finding:
        return []
    return [
        warning(
            "not-ending-at-100",
            message=f"{table.where}the last cumulative percent says {digits_text(float(cell.value))}, and the last is "
            f"always {expected_column.column.scale}",
            fix="work it out from the frequencies, not from rounded percents",
            where=f"{last.place}, {table.heading('cumulative')}",
            cells=[wrong_cell],
        )
    ]
