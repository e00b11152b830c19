"""Which rows of a sheet are totals, and what each of them should add up."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from vantric.audit.sheets import SheetRow
from vantric.core.counts.total_labels import is_loose, is_mean, is_strong

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
    marked = _totals(rows)
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
        if (
            not sub
            and not outer
            and since not in (0, whole)
            and row.count != whole
            and abs((row.count or 0) - since) < abs((row.count or 0) - whole)
        ):
            sub = True  # a subtotal that does not add up
        totals.append(
            TotalRow(row, "subtotal" if sub else "total", since if sub else whole, not sub and not outer, before)
        )
        since = Fraction()
    return Parted(body, tuple(totals))


def _totals(rows: Sequence[SheetRow]) -> set[int]:
    """Return the places of rows that are called totals, and of those that may be and add up the others."""
    if len(rows) < _FEWEST:
        return set()
    strong = [is_strong(row.label) for row in rows]
    plain = [Fraction() if told else row.count or Fraction() for row, told in zip(rows, strong, strict=True)]
    every, plain_rows = sum(plain, Fraction()), len(rows) - sum(strong)
    found: set[int] = set()
    since, number = Fraction(), 0  # of the rows since the total before
    for at, row in enumerate(rows):
        if strong[at]:
            found.add(at)
            since, number = Fraction(), 0
            continue
        last = at == len(rows) - 1
        if _adds_up(row, every - plain[at], plain_rows - 1, last=last) or (
            _is_called_so(row, last=last) and (row.adds or (number > 1 and row.count == since))
        ):
            found.add(at)
        since, number = since + plain[at], number + 1
    return found


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
