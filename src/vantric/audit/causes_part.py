"""Causes: what slip explains wrong cells, the likely one first, each cell for one cause only."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from fractions import Fraction

from vantric.audit.columns_part import Column

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
    """

    words: str
    fix: str
    says: Callable[[int], Fraction | None]
    single: bool = False
    times: Fraction = Fraction(1)
    vague: bool = False


@dataclass(frozen=True)
class Cause:
    """Cells that are wrong for one reason; `words` are empty where none is known."""

    words: str
    fix: str
    places: tuple[int, ...]


def causes(column: Column, wrong: Sequence[int], slips: Iterable[Slip], plain: str) -> list[Cause]:
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
    known = list(slips)
    failed = tuple(at for at in wrong if (cell := column.cells[at]) is not None and cell.value is None)
    left = [at for at in wrong if at not in failed]
    found = [Cause(_failure(column, failed), plain, failed)] if failed else []
    while left:
        explained = [(slip, *_explained(slip, column, left)) for slip in known]
        fitting = [one for one in explained if one[2] and len(one[1]) >= (1 if one[0].single else _FEWEST)]
        if not fitting:
            break
        named = [one for one in fitting if not one[0].vague and 2 * len(one[1]) >= len(left)]
        slip, places, _ = max(named or fitting, key=lambda one: (len(one[1]), one[2]))
        found.append(Cause(slip.words, slip.fix, tuple(places)))
        left = [at for at in left if at not in places]
    if left:
        found.append(Cause("", plain, tuple(left)))
    return found


def _failure(column: Column, places: Sequence[int]) -> str:
    """Return why cells hold no number, as far as what they show tells."""
    shown = {cell.text for at in places if (cell := column.cells[at]) is not None}
    if shown == {"#DIV/0!"}:
        return "divided by an empty cell: the base was not fixed when the formula was copied"
    return "its formula fails" if all(text.startswith("#") for text in shown) else "it is not a number"


def _explained(slip: Slip, column: Column, wrong: Sequence[int]) -> tuple[list[int], int]:
    """Return the cells that a slip explains, and how many exactly: others may be rounded the other way."""
    exactly = [at for at in wrong if _explains(slip, column, at)]
    if slip.single or slip.vague or not exactly:
        return exactly, len(exactly)
    return [at for at in wrong if _explains(slip, column, at, times=_ROUNDED_BADLY)], len(exactly)


def _explains(slip: Slip, column: Column, at: int, *, times: Fraction = Fraction(1)) -> bool:
    value = slip.says(at)
    if value is None or (slip.single and abs(value) <= column.slack(at)):  # zero tells nothing
        return False
    return column.is_right(at, value, times=slip.times * times)
