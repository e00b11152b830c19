"""Causes: what slip explains wrong cells, the likely one first, each cell for one cause only."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from fractions import Fraction

from vantric.core.reviewing.sheets.columns import Column

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
    """

    words: str
    fix: str
    says: Callable[[int], Fraction | None]
    single: bool = False
    times: Fraction = Fraction(1)


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
        explained = [(slip, [at for at in left if _explains(slip, column, at)]) for slip in known]
        fitting = [(slip, places) for slip, places in explained if len(places) >= (1 if slip.single else _FEWEST)]
        if not fitting:
            break
        slip, places = max(fitting, key=lambda one: len(one[1]))
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


def _explains(slip: Slip, column: Column, at: int) -> bool:
    value = slip.says(at)
    if value is None or (slip.single and abs(value) <= column.slack(at)):  # zero tells nothing
        return False
    return column.is_right(at, value, times=slip.times)
