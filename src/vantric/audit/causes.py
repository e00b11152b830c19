"""What slip explains wrong cells: another base, another row; the likely one first, each cell for one cause."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator, Sequence
from fractions import Fraction
from itertools import accumulate
from typing import NamedTuple

from vantric.audit.sheets import SheetColumnCells, SplitRows, TotalRow
from vantric.base.lazily import dataclass
from vantric.core.numbers.number_format import digits_text, number_text, one_line

_ROUNDED_BADLY = Fraction(3)  # times half of the last digit
_FEWEST = 2  # cells that a slip must explain, where it is not one of a single cell


@dataclass(frozen=True)
class Slip:
    """One way of going wrong.

    Attributes
    ----------
    words
        What was done: ``"divided by a sum that includes the Total row"``.
    fix
        What to do instead.
    says
        Returns what a row would say for it; None where it says nothing of that row.
    single
        Whether one cell is enough for it.
    times
        How many times a cell is taken, and with it what it is rounded by.
    vague
        Whether it explains anything: it is taken where no other explains half of the cells.
    near
        Returns nearly what `says` does, in a tenth of the time; None where it is not needed.
    """

    words: str
    fix: str
    says: Callable[[int], Fraction | None]
    single: bool = False
    times: Fraction = Fraction(1)
    vague: bool = False
    near: Callable[[int], float] | None = None


@dataclass(frozen=True)
class Cause:
    """Cells that are wrong for one reason; `words` are empty where none is known."""

    words: str
    fix: str
    places: tuple[int, ...]


def causes(column: SheetColumnCells, wrong: Sequence[int], slips: Iterable[Slip], plain: str) -> list[Cause]:
    """Return the causes of wrong cells.

    Parameters
    ----------
    column
    wrong
        The places of the cells.
    slips
        The likelier first: of slips that explain equally many cells the first is taken.
    plain
        The fix of cells that no slip explains.
    """
    failed = {index for index in wrong if (cell := column.cells[index]) is not None and cell.value is None}
    left = [index for index in wrong if index not in failed]
    causes = [Cause(_failure(column, sorted(failed)), plain, tuple(sorted(failed)))] if failed else []
    possible = [_explained(slip, column, left) for slip in slips] if left else []
    while left:
        possible = [item for item in possible if item.exactly]
        fitting = [item for item in possible if len(item.about) >= (1 if item.slip.single else _FEWEST)]
        if not fitting:
            break
        named = [item for item in fitting if not item.slip.vague and 2 * len(item.about) >= len(left)]
        best = max(named or fitting, key=lambda item: (len(item.about), len(item.exactly)))
        causes.append(Cause(best.slip.words, best.slip.fix, tuple(best.about)))
        done = set(best.about)
        left = [index for index in left if index not in done]
        possible = [item.without(done) for item in possible]
    if left:
        causes.append(Cause("", plain, tuple(left)))
    return causes


class _Explained(NamedTuple):
    """What a slip explains: the cells it says exactly, and with those that may be rounded the other way."""

    slip: Slip
    exactly: list[int]
    about: list[int]

    def without(self, done: set[int]) -> _Explained:
        """Return what is left without some cells."""
        exactly, about = ([index for index in cells if index not in done] for cells in (self.exactly, self.about))
        return _Explained(self.slip, exactly, about)


def _failure(column: SheetColumnCells, places: Sequence[int]) -> str:
    """Return why cells hold no number, as far as what they show tells."""
    names = {cell.text for place in places if (cell := column.cells[place]) is not None}
    if names == {"#DIV/0!"}:
        return "divided by an empty cell: the base was not fixed when the formula was copied"
    return "its formula fails" if all(text.startswith("#") for text in names) else "it is not a number"


def _explained(slip: Slip, column: SheetColumnCells, wrong: Sequence[int]) -> _Explained:
    exactly = _cells_of(slip, column, wrong)
    alone = slip.single or slip.vague or not exactly
    return _Explained(slip, exactly, exactly if alone else _cells_of(slip, column, wrong, times=_ROUNDED_BADLY))


def _cells_of(
    slip: Slip, column: SheetColumnCells, wrong: Sequence[int], *, times: Fraction = Fraction(1)
) -> list[int]:
    times *= slip.times
    nearly = float(times)

    def explains(index: int) -> bool:
        clear = None if slip.near is None else column.is_near(index, slip.near(index), nearly)
        if clear is not None:
            return clear
        value = slip.says(index)
        if value is None or (slip.single and abs(value) <= column.slack(index)):  # zero tells nothing
            return False
        return column.is_right(index, value, times=times)

    return [index for index in wrong if explains(index)]


COMMON = "divided by about "  # what begins the words of a base that all wrong cells agree on and nothing explains
_MOST_ROWS = 200  # of a sheet whose rows are each tried as the one that was left out, or as the base


def base_slips(
    parted: SplitRows, amounts: Sequence[Fraction], column: SheetColumnCells, wrong: Sequence[int], base: Fraction
) -> list[Slip]:
    """Return the slips of a column of percents.

    Parameters
    ----------
    parted
    amounts
        What each cell is a percent of the base of: the frequency of its row, or the running sum.
    column, wrong
        The column, and which of its cells are wrong.
    base
        What they should be divided by.
    """
    fix = f"divide by {_amount(base)}, the sum of the rows of categories"
    bases: dict[Fraction, str] = {}
    for by, words in _named(parted):
        if by and by != base:
            bases.setdefault(by, words)  # of equal ones the likelier
    scaled = [column.scale * amount for amount in amounts]
    floats = [float(amount) for amount in scaled]
    slips = [_of_one_base(words, fix, (scaled, floats), by) for by, words in bases.items()]
    slips += [Slip(words, fix, _divided(amounts, column.scale, by)) for by, words in _drifting(parted)]
    slips += _sorted_in(parted, amounts, column.scale, fix)
    slips += _of_other_rows([column.scale * amount / base for amount in amounts] if base else [])
    common = _common_base(amounts, column, wrong)
    if common is not None:
        words = f"{COMMON}{digits_text(float(common), digits=4)}, not by {_amount(base)}"
        slips.append(Slip(words, fix, _divided(amounts, column.scale, lambda _: common), vague=True))
    return [*slips, *_scales(amounts, column, base)]


def _of_one_base(words: str, fix: str, amounts: tuple[Sequence[Fraction], Sequence[float]], base: Fraction) -> Slip:
    """Return a slip of amounts, exact and as floats, that are all divided by one number."""
    (scaled, floats), divisor = amounts, float(base) or math.nan
    return Slip(words, fix, lambda index: scaled[index] / base, near=lambda index: floats[index] / divisor)


def _amount(value: Fraction) -> str:
    return number_text(int(value) if value.denominator == 1 else float(value))


def _divided(
    amounts: Sequence[Fraction], scale: Fraction, by: Callable[[int], Fraction | None]
) -> Callable[[int], Fraction | None]:
    def says(index: int) -> Fraction | None:
        base = by(index)
        return scale * amounts[index] / base if base else None

    return says


def _sorted_in(parted: SplitRows, amounts: Sequence[Fraction], scale: Fraction, fix: str) -> Iterator[Slip]:
    """Yield running sums that begin with a Total row at the top, as a part of the base as well."""
    for total in parted.totals:
        top = total.row.count or Fraction()
        if total.kind == "total" and total.before == 0 and top:
            sums = [amount + top for amount in amounts]
            words = f"divided by a sum that includes the {_row(total)}"
            yield Slip(words, fix, _divided(sums, scale, lambda _, base=parted.whole + top: base))  # type: ignore[misc]


def _named(parted: SplitRows) -> Iterator[tuple[Fraction, str]]:
    """Yield what people divide by, and how to say so; the likelier first."""
    whole = parted.whole
    totals = [total_row for total_row in parted.totals if total_row.kind == "total"]
    if not parted.totals:
        yield 2 * whole, "divided by a sum that includes the Total row"
    for total in totals:
        yield whole + _count(total), f"divided by a sum that includes the {_row(total)}"
    yield from _with_subtotals(parted, totals)
    for total in totals:
        if total.row.count != whole:
            yield _count(total), f"divided by the {_row(total)}, which is not the sum of the rows"
    counts = [row.count or Fraction() for row in parted.body]
    yield max(counts), "divided by the largest row, not by the sum"
    yield Fraction(len(counts)), "divided by the number of rows"
    if len(counts) <= _MOST_ROWS:
        yield from _with_a_row_less(parted, counts)


def _with_subtotals(parted: SplitRows, totals: Sequence[TotalRow]) -> Iterator[tuple[Fraction, str]]:
    subtotals = [total_row for total_row in parted.totals if total_row.kind == "subtotal"]
    if not subtotals:
        return
    inner = sum(map(_count, subtotals), Fraction())
    which = _row(subtotals[0]) if len(subtotals) == 1 else "rows of subtotals"
    yield parted.whole + inner, f"divided by a sum that includes the {which}"
    for total in totals:
        yield parted.whole + inner + _count(total), "divided by a sum that includes the rows of totals and subtotals"
    for total in subtotals if len(subtotals) <= _MOST_ROWS else (subtotals[0], subtotals[-1]):
        yield parted.whole + _count(total), f"divided by a sum that includes the {_row(total)}"
        yield _count(total), f"divided by the {_row(total)}, not by the total"


def _with_a_row_less(parted: SplitRows, counts: Sequence[Fraction]) -> Iterator[tuple[Fraction, str]]:
    whole = parted.whole
    for row in parted.body:
        yield whole - (row.count or 0), f"divided by a sum without the row '{one_line(row.label, longest=30)}'"
    for number, part in enumerate(accumulate(counts), start=1):
        yield part, f"divided by the sum of the first {number} rows only"
        yield whole - part, f"divided by a sum without the first {number} rows"
    for row in parted.body:
        yield whole + (row.count or 0), f"divided by a sum that has the row '{one_line(row.label, longest=30)}' twice"


def _count(total: TotalRow) -> Fraction:
    return total.row.count or Fraction()


def _of_other_rows(right: Sequence[Fraction]) -> Iterator[Slip]:
    """Yield cells of a column that was moved or sorted apart from the others."""
    fix = "sort and move all columns of the table together"
    falling = sorted(right, reverse=True)
    rising = falling[::-1]
    below, above = [*right[1:], None], [None, *right[:-1]]
    yield Slip("of the row below: the column was moved up by a row", fix, lambda index: below[index])
    yield Slip("of the row above: the column was moved down by a row", fix, lambda index: above[index])
    for values in (falling, rising):
        yield Slip("of another row: the column was sorted apart from the others", fix, values.__getitem__)


def _row(total: TotalRow) -> str:
    return f"row '{one_line(total.row.label, longest=30)}'"


def _drifting(parted: SplitRows) -> Iterator[tuple[Callable[[int], Fraction | None], str]]:
    """Yield bases that move on from row to row: a range or a cell that was not fixed when the formula was copied."""
    counts = [row.count or Fraction() for row in parted.body]
    whole = sum(counts, Fraction())
    before = [Fraction(), *accumulate(counts)]
    stated = next(
        (total.row.count for total in parted.totals if total.kind == "total" and total.before == len(counts)), None
    )
    words = "divided by a base that drifts: the range was not fixed, and moves down with each row"
    yield (lambda index: whole - before[index]), words
    if stated is not None:
        yield (lambda index: whole - before[index] + (stated or 0) if index else whole), words
    yield (lambda index: before[index + 1]), "divided by the running sum, not by the total"
    yield (lambda index: counts[index - 1] if index else None), "divided by the row before, not by the total"
    yield (
        (lambda index: counts[index + 1] if index + 1 < len(counts) else None),
        "divided by the row below, not by the total",
    )


def _common_base(amounts: Sequence[Fraction], column: SheetColumnCells, wrong: Sequence[int]) -> Fraction | None:
    """Return the base that all wrong cells agree on, as far as they are rounded; None if there is none."""
    low, high = Fraction(0), None
    used = 0
    for index in wrong:
        cell = column.cells[index]
        if cell is None or cell.value is None or not amounts[index]:
            continue
        slack = column.slack(index)
        if cell.value + slack <= 0:
            return None
        used += 1
        low = max(low, column.scale * amounts[index] / (cell.value + slack))
        if cell.value > slack:
            above = column.scale * amounts[index] / (cell.value - slack)
            high = above if high is None else min(high, above)
    if used < 3 or high is None or low > high:
        return None
    return (low + high) / 2


def _scales(amounts: Sequence[Fraction], column: SheetColumnCells, base: Fraction) -> Iterator[Slip]:
    other = "a share of 1 among percents" if column.scale == 100 else "a percent among shares of 1"
    for factor, words in (
        (Fraction(1, 100) if column.scale == 100 else Fraction(100), f"written as {other}"),
        (Fraction(100), "100 times too large"),
        (Fraction(1, 100), "100 times too small"),
        (Fraction(10), "10 times too large"),
        (Fraction(1, 10), "10 times too small"),
    ):
        says = _divided(amounts, column.scale * factor, lambda _: base)
        yield Slip(words, "write all cells of the column in one way", says, single=True, times=factor)
