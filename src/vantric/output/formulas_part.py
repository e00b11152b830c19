"""The formulas of a live Pareto table: ranks, sums, percents and the cutoff follow from the counts alone.

Only functions of the open standard OpenDocument 1.3, part 4 (OpenFormula, small group), which every reader knows.
Ties stand in the order of the typed rows, which is the natural order of the labels.
"""

from __future__ import annotations

from dataclasses import dataclass

from vantric.output.workbook_sheets import place

#: Where things are on the sheet of the table, counted from zero.
CUT_ROW, HEAD_ROW, FIRST = 2, 4, 5
RANK, LABEL, FREQUENCY, PERCENT, RUNNING, RUNNING_PERCENT, CLASS = range(7)
_LONGEST_UNIT = 60
TYPED_FIRST = 3  # first row of the typed counts
TYPED_LABEL, TYPED_VALUE, TYPED_RANK, BESIDE = range(4)


@dataclass(frozen=True)
class Layout:
    """What formulas need to know of a table.

    Attributes
    ----------
    counts
        The name of the sheet of counts.
    ranked
        How many leading rows are in the order of their frequency; those behind stay where they are.
    rows
        How many there are in all.
    ordered
        Whether the rows are ranked at all.
    cuts
        How many cutoffs there are.
    rule, include
        As in a Pareto table.
    held
        Whether the last row is the rest, which has no class.
    slack
        Within which share of the total a running sum meets a cutoff.
    """

    counts: str
    ranked: int
    rows: int
    ordered: bool
    cuts: int
    rule: str
    include: bool
    held: bool
    slack: float

    @property
    def total(self) -> str:
        """The cell of the total."""
        return place(FIRST + self.rows, FREQUENCY, fixed=True)

    def typed(self, column: int, first: int = 0, last: int | None = None) -> str:
        """Return cells of the sheet of counts."""
        end = self.ranked - 1 if last is None else last
        cells = [place(TYPED_FIRST + row, column, fixed=True) for row in (first, end)]
        return f"'{self.counts}'!{cells[0]}:{cells[1]}"

    def one(self, column: int, row: int) -> str:
        """Return one cell of the sheet of counts."""
        return f"'{self.counts}'!{place(TYPED_FIRST + row, column)}"


def rank(layout: Layout, row: int) -> str:
    """Return the rank of a typed count: how many are larger, and equal ones above it; nothing for an empty cell."""
    own, first = place(TYPED_FIRST + row, TYPED_VALUE), place(TYPED_FIRST, TYPED_VALUE, fixed=True)
    last = place(TYPED_FIRST + layout.ranked - 1, TYPED_VALUE, fixed=True)
    above = place(TYPED_FIRST + row, TYPED_VALUE)
    return f'=IFERROR(RANK({own},{first}:{last})+COUNTIF({first}:{above},{own})-1,"")'


def rank_here(layout: Layout, row: int) -> str:
    """Return the rank of a row of a table that is not in the order of its frequency; equal ones have one rank."""
    last = FIRST + layout.rows - layout.held - 1
    rows = f"{place(FIRST, FREQUENCY, fixed=True)}:{place(last, FREQUENCY, fixed=True)}"
    return f"=RANK({place(FIRST + row, FREQUENCY)},{rows})"


def looked_up(layout: Layout, row: int, column: int, otherwise: str, *, key: str = "") -> str:
    """Return what is typed for the category of a rank; of a row that stays, what is typed for it.

    `key` is in front of the cell of the rank on another sheet than that of the table.
    """
    if not layout.ordered or row >= layout.ranked:
        return f"={layout.one(column, row)}"
    at = f"MATCH({key}{place(FIRST + row, RANK)},{layout.typed(TYPED_RANK)},0)"
    return f"=IFERROR(INDEX({layout.typed(column)},{at}),{otherwise})"


def percent(layout: Layout, row: int, of: int) -> str:
    """Return the share of a cell of a row in the total; nothing where nothing is counted."""
    return f'=IF({layout.total}=0,"",{place(FIRST + row, of)}/{layout.total})'


def running(row: int) -> str:
    """Return the running sum of a row."""
    own = place(FIRST + row, FREQUENCY)
    return f"={place(FIRST + row - 1, RUNNING)}+{own}" if row else f"={own}"


def classes(layout: Layout, row: int) -> str:
    """Return the class of a row: A for the vital few, B, C ... beyond each cutoff."""
    if layout.held and row == layout.rows - 1:
        return '=""'
    found = f'"{chr(65 + layout.cuts)}"'
    for at in reversed(range(layout.cuts)):
        found = f'IF({_inside(layout, row, at)},"{chr(65 + at)}",{found})'
    return f'=IF({layout.total}=0,"",{found})'


def _inside(layout: Layout, row: int, at: int) -> str:
    cut, slack = place(CUT_ROW, 1 + at, fixed=True), f"{layout.slack:.0E}".replace("E-0", "E-")
    if layout.rule == "within":
        meets = f"{place(FIRST + row, RUNNING)}<=({cut}+{slack})*{layout.total}"
    else:
        before = place(FIRST + row - 1, RUNNING) if row else "0"
        meets = f"{before}<({cut}-{slack})*{layout.total}"
    if not layout.include or not row or row >= layout.ranked:
        return meets
    tied = f"{place(FIRST + row, FREQUENCY)}={place(FIRST + row - 1, FREQUENCY)}"
    return f'OR({meets},AND({tied},{place(FIRST + row - 1, CLASS)}="{chr(65 + at)}"))'


def headline(layout: Layout, size: int, unit: str, decimals: int) -> str:
    """Return what the table shows, in words that follow its cells; a text in a formula has at most 255 signs."""
    shares, last = place(FIRST, CLASS, fixed=True), place(FIRST + layout.rows - 1, CLASS, fixed=True)
    first, end = place(FIRST, FREQUENCY, fixed=True), place(FIRST + layout.rows - 1, FREQUENCY, fixed=True)
    part = f'SUMIF({shares}:{last},"A",{first}:{end})/{layout.total}'
    text = f'IF(AND({part}<1-1E-12,ROUND({part},3)=1),"more than 99.9",ROUND(100*{part},1))'
    quoted = unit[:_LONGEST_UNIT].replace('"', '""')
    return (
        f'=IF({layout.total}=0,"Nothing is counted",COUNTIF({shares}:{last},"A")&" of {size} '
        f'{"category" if size == 1 else "categories"}: "&{text}&" % of "&ROUND({layout.total},{decimals})&" {quoted}")'
    )
