"""What the cells of a column say, as far as they are rounded, and whether as percents or as shares of 1."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from vantric.audit.sheets import SheetCell

_DECIMALS = re.compile(r"[.,](\d+)\D*$")
_FLOAT_NOISE = Fraction(1, 10**9)


@dataclass(frozen=True)
class Column:
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

    def slack(self, at: int) -> Fraction:
        """Return half of the last digit of a cell."""
        cell = self.cells[at]
        return Fraction(1, 2 * 10 ** (_decimals(cell) if cell is not None else 0))

    def is_right(self, at: int, wanted: Fraction, *, times: Fraction = Fraction(1)) -> bool:
        """Whether a cell says a value, rounded as far as it is written; of one that is taken several times, with it."""
        cell = self.cells[at]
        if cell is None or (cell.value is None and not cell.text):  # blank, or not known
            return True
        noise = _FLOAT_NOISE * max(Fraction(1), abs(wanted))
        return cell.value is not None and abs(cell.value - wanted) <= self.slack(at) * max(times, Fraction(1)) + noise


def scaled(column: Column, wanted: Sequence[Fraction]) -> Column:
    """Return a column with its scale, decided for all of its cells: the one that makes more of them right.

    Parameters
    ----------
    column
    wanted
        What each cell should be as a share of 1.
    """
    if any(cell is not None and cell.text.rstrip().endswith("%") for cell in column.cells):
        return Column(column.cells, Fraction(100))
    fits = []
    for scale in (Fraction(100), Fraction(1)):
        right = sum(
            column.is_right(at, scale * share)
            for at, share in enumerate(wanted)
            if column.cells[at] is not None and scale * share > 2 * column.slack(at)
        )
        fits.append((right, scale))
    if fits[0][0] == fits[1][0]:
        said = [abs(cell.value) for cell in column.cells if cell is not None and cell.value is not None]
        small = bool(said) and max(said) <= Fraction(3, 2) and sum(said) <= Fraction(5, 2) * max(1, len(said) // 2)
        return Column(column.cells, Fraction(1 if small else 100))
    return Column(column.cells, max(fits)[1])


def _decimals(cell: SheetCell) -> int:
    digits = decimals_of(cell.text)
    thousands = cell.value is not None and cell.value >= 1000 and cell.value.denominator == 1
    return 0 if digits == 3 and thousands else digits


def decimals_of(text: str) -> int:
    """Return how many decimals a number is written with; of one with an exponent, as many as it takes."""
    plain = text.strip().rstrip("%‰ \u00a0\u202f")
    mantissa, _, exponent = plain.lower().partition("e")
    found = _DECIMALS.search(mantissa)
    digits = len(found[1]) if found else 0
    if exponent.lstrip("+-").isdigit():
        return max(0, digits - int(exponent[:4]))
    return digits
