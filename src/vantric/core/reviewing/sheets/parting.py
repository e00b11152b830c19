"""Which rows of a sheet are totals, and what each of them should add up."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from vantric.core.counting.labels.totalwords import is_loose, is_mean, is_strong
from vantric.core.reviewing.sheets.table import SheetRow

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
class Parted:
    """The rows of categories, and those of totals."""

    body: tuple[SheetRow, ...]
    totals: tuple[TotalRow, ...]

    @property
    def whole(self) -> Fraction:
        """The sum of all rows of categories."""
        return sum((row.count or Fraction() for row in self.body), Fraction())


def part(rows: Sequence[SheetRow]) -> Parted:
    """Tell rows of totals by what they are called and by what they add up; rows of means are neither."""
    rows = [row for row in rows if row.count is not None and not is_mean(row.label)]
    marked = {at for at, row in enumerate(rows) if _is_total(rows, at)}
    body = tuple(row for at, row in enumerate(rows) if at not in marked)
    if not body:
        return Parted(tuple(rows), ())
    whole = sum((row.count or Fraction() for row in body), Fraction())
    totals, since, before = [], Fraction(), 0
    for at, row in enumerate(rows):
        if at not in marked:
            since, before = since + (row.count or 0), before + 1
            continue
        sub = row.count == since != whole and bool(since)
        outer = before in (0, len(body))
        if not sub and not outer and since not in (0, whole) and row.count != whole and abs(
            (row.count or 0) - since
        ) < abs((row.count or 0) - whole):  # fmt: skip
            sub = True  # a subtotal that does not add up
        totals.append(
            TotalRow(row, "subtotal" if sub else "total", since if sub else whole, not sub and not outer, before)
        )
        since = Fraction()
    return Parted(body, tuple(totals))


def _is_total(rows: Sequence[SheetRow], at: int) -> bool:
    row = rows[at]
    if len(rows) < _FEWEST:
        return False
    if is_strong(row.label):
        return True
    last = at == len(rows) - 1
    others = [
        other.count or Fraction() for place, other in enumerate(rows) if place != at and not is_strong(other.label)
    ]
    whole = sum(others, Fraction())
    since = sum((other.count or Fraction() for other in _since(rows, at)), Fraction())
    adds = row.adds or (len(others) > 1 and row.count == whole) or (len(_since(rows, at)) > 1 and row.count == since)
    if not row.label.strip():
        return last and (adds or row.percent is None)
    if not is_loose(row.label):
        return False
    return adds or (last and len(others) > 2 and abs((row.count or 0) - whole) <= whole * _NEAR)


def _since(rows: Sequence[SheetRow], at: int) -> list[SheetRow]:
    """Return the rows above one since the total before it."""
    found: list[SheetRow] = []
    for row in reversed(rows[:at]):
        if is_strong(row.label):
            break
        found.append(row)
    return found
