"""A sheet as it is: its rows, which of them are totals of which, and what their cells say when rounded."""

from __future__ import annotations

import math
from collections.abc import Sequence
from fractions import Fraction
from functools import lru_cache
from typing import Literal, TypeAlias

from vantric.base.lazily import cached_property, compiled, dataclass
from vantric.core.totals.label_kinds import is_loose, is_mean, is_strong

#: What a checked column holds: percents, cumulative percents, cumulative frequencies.
Kind: TypeAlias = Literal["percent", "cumulative", "running"]
#: What a column without a heading is called in messages.
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
    borrowed
        Whether its label is that of its group, since it has none of its own.
    """

    place: str
    label: str
    count: Fraction | None
    percent: SheetCell | None = None
    cumulative: SheetCell | None = None
    running: SheetCell | None = None
    adds: bool = False
    group: tuple[str, ...] = ()
    borrowed: bool = False

    def cell(self, kind: Kind) -> SheetCell | None:
        """Return the cell of a column."""
        cell: SheetCell | None = getattr(self, kind)
        return cell


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


#: With fewer rows a sum of the others is chance: 1 + 2 = 3.
_FEWEST = 3
_NEAR = Fraction(1, 4)  # of the sum of the others: a row of a weak word that is as near was meant as their total


@dataclass(frozen=True)
class TotalRow:
    """A row that adds up others.

    Attributes
    ----------
    row
    kind
        The total of all rows, or of those since the total before it.
    wanted
        What it should be.
    amid
        Whether it stands among the rows that it adds up.
    before
        How many rows of categories stand before it.
    """

    row: SheetRow
    kind: Literal["total", "subtotal"]
    wanted: Fraction
    amid: bool
    before: int


@dataclass(frozen=True)
class SplitRows:
    """The rows of categories, and those of totals."""

    body: tuple[SheetRow, ...]
    totals: tuple[TotalRow, ...]

    @cached_property
    def whole(self) -> Fraction:
        """The sum of all rows of categories."""
        return Fraction(sum(quick([row.count or Fraction() for row in self.body])))


def quick(values: Sequence[Fraction]) -> Sequence[Fraction]:
    """Return exact numbers in the form that adds up the quickest: integers, if all are whole."""
    if all(value.denominator == 1 for value in values):
        return [value.numerator for value in values]  # type: ignore[misc]
    return values


def split_rows(rows: Sequence[SheetRow]) -> SplitRows:
    """Tell rows of totals by what they are called and by what they add up; rows of means are neither."""
    rows = [row for row in rows if row.count is not None and not is_mean(row.label)]
    groups = group_totals([row.borrowed for row in rows], [row.count for row in rows], [row.label for row in rows])
    marked = _totals(rows) | set(groups)
    body = tuple(row for number, row in enumerate(rows) if number not in marked)
    if not body:
        return SplitRows(tuple(rows), ())
    whole = Fraction(sum(quick([row.count or Fraction() for row in body])))
    counts = quick([row.count or Fraction() for row in rows])
    totals, since, before = [], Fraction(), 0
    for index, row in enumerate(rows):
        if index not in marked:
            since, before = since + counts[index] if since else counts[index], before + 1
            continue
        if index in groups:
            kind: Literal["total", "subtotal"] = "total" if groups[index] == whole else "subtotal"
            totals.append(TotalRow(row, kind, groups[index], amid=False, before=before))
            since = Fraction()
            continue
        sub = row.count == since != whole and bool(since)
        outer = before in (0, len(body))
        if (
            not sub
            and not outer
            and since not in (0, whole)
            and row.count != whole
            and abs((row.count or 0) - since) < abs((row.count or 0) - whole)
        ):
            sub = True  # a subtotal that does not add up
        totals.append(
            TotalRow(
                row, "subtotal" if sub else "total", Fraction(since) if sub else whole, not sub and not outer, before
            )
        )
        since = Fraction()
    return SplitRows(body, tuple(totals))


def group_totals(
    borrowed: Sequence[bool], counts: Sequence[Fraction | None], labels: Sequence[str]
) -> dict[int, Fraction]:
    """Return what rows without a label of their own should be as totals of their group: of the rows above, or below.

    They are totals if half of them at least are right; they stand under their rows, or over them. The last may be the
    total of all.
    """
    places = [place for place, is_borrowed in enumerate(borrowed) if is_borrowed]
    ends = [place for place, label in enumerate(labels) if borrowed[place] or is_strong(label)] if places else []
    if not places or 2 * len(places) > len(borrowed):
        return {}
    number_of = {place: number for number, place in enumerate(ends)}
    plain = [Fraction() if place in number_of else count or Fraction() for place, count in enumerate(counts)]
    best: tuple[int, dict[int, Fraction]] = (0, {})
    for bounds in ([-1, *ends], [*ends, len(plain)]):  # the rows above, or those below
        sums = {}
        for place in places:
            rows = plain[bounds[number_of[place]] + 1 : bounds[number_of[place] + 1]]
            sums[place] = sum(rows if any(rows) else plain, Fraction())
        right = sum(counts[place] == sums[place] for place in places)
        best = max(best, (right, sums), key=lambda item: item[0])
    return best[1] if 2 * best[0] >= len(places) else {}


def _totals(rows: Sequence[SheetRow]) -> set[int]:
    """Return the places of rows that are called totals, and of those that may be and add up the others."""
    if len(rows) < _FEWEST:
        return set()
    strong = [is_strong(row.label) for row in rows]
    counts = zip(rows, strong, strict=True)
    plain = quick([Fraction() if is_total else row.count or Fraction() for row, is_total in counts])
    every, plain_rows = Fraction(sum(plain)), len(rows) - sum(strong)
    totals: set[int] = set()
    since, number = Fraction(), 0  # of the rows since the total before
    for index, row in enumerate(rows):
        if strong[index]:
            totals.add(index)
            since, number = Fraction(), 0
            continue
        last = index == len(rows) - 1
        if _adds_up(row, every - plain[index], plain_rows - 1, last=last) or (
            _is_called_so(row, last=last) and (row.adds or (number > 1 and row.count == since))
        ):
            totals.add(index)
            since, number = Fraction(), 0
            continue
        since, number = since + plain[index], number + 1
    return totals


def _is_called_so(row: SheetRow, *, last: bool) -> bool:
    return is_loose(row.label) or (last and not row.label.strip())


def _adds_up(row: SheetRow, whole: Fraction, others: int, *, last: bool) -> bool:
    """Whether a row of a weak word, or without a label at the end, is the sum of all others, or was meant as it."""
    if not _is_called_so(row, last=last):
        return False
    if not row.label.strip():
        return row.percent is None or (others > 1 and row.count == whole)
    near = last and others > _FEWEST - 1 and abs((row.count or 0) - whole) <= whole * _NEAR
    return near or (others > 1 and row.count == whole)


#: The decimals that a cell shows, whatever mark divides them.
_DECIMALS = compiled(r"[.,](\d+)\D*$")
#: Values saved by other programs are off by their floats.
_FLOAT_NOISE = Fraction(1, 10**9)


@dataclass(frozen=True)
class SheetColumnCells:
    """A column of cells, one a row.

    Attributes
    ----------
    cells
        None where a cell is empty.
    scale
        What all is: 100, 1 or, of frequencies, the unit.
    """

    cells: tuple[SheetCell | None, ...]
    scale: Fraction = Fraction(1)

    @cached_property
    def _floats(self) -> tuple[tuple[float, float] | None, ...]:
        """The number of each cell and half of its last digit; None where there is none."""
        return tuple(
            None if cell is None or cell.value is None else (float(cell.value), 0.5 * 10.0 ** -_decimals(cell))
            for cell in self.cells
        )

    def is_near(self, index: int, expected: float, times: float = 1.0) -> bool | None:
        """Whether a cell says a value, as far as floats tell: nearly always, at a tenth of the time; else None."""
        number = self._floats[index]
        if number is None:
            return None
        over = abs(number[0] - expected) - number[1] * max(times, 1.0)
        return over < 0 if abs(over) > 2e-9 * max(1.0, abs(expected)) else None

    def slack(self, index: int) -> Fraction:
        """Return half of the last digit of a cell."""
        cell = self.cells[index]
        return Fraction(1, 2 * 10 ** (_decimals(cell) if cell is not None else 0))

    def is_right(self, index: int, expected: Fraction, *, times: Fraction = Fraction(1)) -> bool:
        """Whether a cell says a value, rounded as far as it is written; of one that is taken several times, with it."""
        cell = self.cells[index]
        if cell is None or (cell.value is None and not cell.text):  # blank, or not known
            return True
        if cell.value is None:
            return False
        clear = self.is_near(index, _nearly(expected), float(times))
        if clear is not None:
            return clear
        noise = _FLOAT_NOISE * max(Fraction(1), abs(expected))
        return abs(cell.value - expected) <= self.slack(index) * max(times, Fraction(1)) + noise


def _nearly(number: Fraction) -> float:
    """Return a number as a float; one beyond floats is near nothing."""
    try:
        return float(number)
    except OverflowError:
        return math.nan


@dataclass(frozen=True)
class Shares:
    """What the cells of a column should be, as shares of 1: amounts over their base."""

    amounts: tuple[Fraction, ...]
    base: Fraction

    @cached_property
    def floats(self) -> tuple[float, ...]:
        """The shares as floats."""
        base = float(self.base) or math.nan  # too small for a float: then nothing is near, and all is compared exactly
        return tuple(float(amount) / base for amount in self.amounts)

    def is_said(self, column: SheetColumnCells, index: int, scale: Fraction) -> bool:
        """Whether a cell says its share in a scale."""
        clear = column.is_near(index, float(scale) * self.floats[index])
        return column.is_right(index, scale * self.amounts[index] / self.base) if clear is None else clear


def scaled(column: SheetColumnCells, shares: Shares) -> SheetColumnCells:
    """Return a column with its scale, decided for all of its cells: the one that makes more of them right."""
    if any(cell is not None and cell.text.rstrip().endswith("%") for cell in column.cells):
        return SheetColumnCells(column.cells, Fraction(100))
    fits = []
    for scale in (Fraction(100), Fraction(1)):
        right = sum(
            shares.is_said(column, index, scale)
            for index, share in enumerate(shares.floats)
            if (cell := column.cells[index]) is not None and int(scale) * share > 10.0 ** -_decimals(cell)
        )
        fits.append((right, scale))
    if fits[0][0] == fits[1][0]:
        values = [abs(cell.value) for cell in column.cells if cell is not None and cell.value is not None]
        small = (
            bool(values) and max(values) <= Fraction(3, 2) and sum(values) <= Fraction(5, 2) * max(1, len(values) // 2)
        )
        return SheetColumnCells(column.cells, Fraction(1 if small else 100))
    return SheetColumnCells(column.cells, max(fits)[1])


def _decimals(cell: SheetCell) -> int:
    digits = decimals_of(cell.text)
    if digits == 3 and cell.value is not None and cell.value >= 1000 and cell.value.denominator == 1:
        return 0  # a mark of thousands
    return digits


@lru_cache(maxsize=4096)
def decimals_of(text: str) -> int:
    """Return how many decimals a number is written with; of one with an exponent, as many as it takes."""
    plain = text.strip().rstrip("%‰ \u00a0\u202f")
    mantissa, _, exponent = plain.lower().partition("e")
    match = _DECIMALS.search(mantissa)
    digits = len(match[1]) if match else 0
    if exponent.lstrip("+-").isdigit():
        return max(0, digits - int(exponent[:4]))
    return digits
