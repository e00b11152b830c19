"""Rows of a table as exact amounts, and whether one of them is what others add up to."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Sequence
from decimal import Decimal
from fractions import Fraction
from itertools import pairwise
from math import gcd, lcm, log10
from typing import Literal, TypeAlias

from vantric.base.lazily import cached_property, dataclass
from vantric.core.totals.label_kinds import STRONG_KINDS, LabelKind, kind_of, may_be_total

#: An exact amount; None where a cell holds none.
Amount: TypeAlias = int | Fraction
Cell: TypeAlias = Amount | None
#: What becomes of a row that is derived from others: left out, asked about, or counted with a warning.
Outcome: TypeAlias = Literal["out", "ask", "warn"]
#: No column says more than this many digits; a further one no more than half of that.
_MOST_DIGITS, _MOST_FURTHER = 4.0, 2.0
#: A difference of this part of a total is that of binary floats.
_FLOAT_NOISE = 10**12
#: Two columns whose quotient differs by no more are one and the same evidence.
_PROPORTIONAL = 0.02


@dataclass(frozen=True)
class CountedRow:
    """A row of a table of counts.

    Attributes
    ----------
    label
        None if it has none.
    amounts
        Of each counted column; None where there is no number.
    formula
        ``"SUM"``, ``"AVERAGE"`` ..., if a counted cell is a formula over records of its column; empty if not.
    is_bold, follows_blank
        Whether it is written in bold, and whether a blank row stands above it.
    indent, outline
        How far its label is indented, and its level in the outline of the sheet.
    beside
        What another column says that names a total, beside a label that names none.
    """

    label: str | None
    amounts: tuple[Cell, ...]
    formula: str = ""
    is_bold: bool = False
    follows_blank: bool = False
    indent: int = 0
    outline: int = 0
    beside: str | None = None


@dataclass(frozen=True)
class Verdict:
    """What a row, a column or a sheet is, if it is derived from others.

    Attributes
    ----------
    outcome
    kind
        ``"total"``, ``"subtotal"``, ``"formula"``, ``"statistic"``, ``"memo"``, ``"part"``, ``"forward"``, ``"group"``.
    reason
        A clause with the row as its subject: ``"adds up the others"``.
    """

    outcome: Outcome
    kind: str
    reason: str


def exact_cell(number: object) -> Cell:
    """Return a number as an exact amount, a float as it is written; None for what is no finite number."""
    if isinstance(number, int) and not isinstance(number, bool):
        return number
    if isinstance(number, float):
        number = Decimal(repr(number))
    if isinstance(number, Decimal):
        return Fraction(number) if number.is_finite() else None
    return number if isinstance(number, Fraction) else None


def in_units(columns: Sequence[Sequence[Cell]]) -> tuple[list[list[int | None]], int]:
    """Return the cells of columns as whole numbers, and how many of these are one."""
    denominators = {cell.denominator for column in columns for cell in column if cell is not None}
    scale = lcm(*denominators)
    if scale == 1:
        return [[None if cell is None else int(cell) for cell in column] for column in columns], 1
    return [[None if cell is None else int(cell * scale) for cell in column] for column in columns], scale


def unit_of(cells: Iterable[int | None]) -> int:
    """Return the greatest common divisor of whole numbers; 1 if there is none."""
    return gcd(*(cell for cell in cells if cell)) or 1


def digits_of(amount: int, unit: int) -> float:
    """Return how many digits an amount has in a unit: how unlikely it is that another amount equals it by chance."""
    return log10(max(1, abs(amount) // unit))


def agree(stated: int, total: int, parts: int, unit: int, scale: int, *, rounded: bool) -> bool:
    """Whether a stated total is a sum, within what the rounding of its parts can do; all in units of a scale."""
    if stated == total:
        return True
    if unit >= scale and not rounded:
        return False
    # Shares of binary floats differ in their last digit though they add up.
    return 2 * abs(stated - total) <= max((parts + 1) * min(unit, scale), abs(total) // _FLOAT_NOISE)


def is_ascending(amounts: Sequence[int]) -> bool:
    """Whether no amount is smaller than the one before."""
    return len(amounts) > 1 and all(after >= before for before, after in pairwise(amounts))


def is_descending(amounts: Sequence[int]) -> bool:
    """Whether no amount is larger than the one before."""
    return len(amounts) > 1 and all(after <= before for before, after in pairwise(amounts))


def has_single_labels(labels: Iterable[str | None]) -> bool:
    """Whether a label stands once, as that of a row does that is derived from others."""
    return any(number == 1 for number in Counter(labels).values())


class RunningSums:
    """What some rows add up to, column by column."""

    def __init__(self, width: int) -> None:
        self.rows = 0
        self.totals = [0] * width
        self.parts = [0] * width

    def add(self, amounts: Sequence[int | None], sign: int = 1) -> None:
        """Add a row, or take one away."""
        self.rows += sign
        for place, amount in enumerate(amounts):
            if amount:
                self.totals[place] += sign * amount
                self.parts[place] += sign


class RowTable:
    """The rows of a table, what their labels say, and the units of their columns; amounts are in units of a scale.

    Parameters
    ----------
    rows
        In their order.
    is_percent
        Whether the counted column holds percents.
    further
        Returns further columns of numbers, a cell a row; asked only where a row adds up in the counted ones.
    """

    def __init__(
        self,
        rows: Sequence[CountedRow],
        *,
        is_percent: bool = False,
        further: Callable[[], Sequence[Sequence[Cell]]] = lambda: (),
    ) -> None:
        self.rows, self.is_percent, self._further = rows, is_percent, further
        self.width = len(rows[0].amounts) if rows else 0
        self.columns, self.scale = in_units([[row.amounts[place] for row in rows] for place in range(self.width)])
        self.cells = list(zip(*self.columns, strict=True)) if self.width else [()] * len(rows)
        self.units = [unit_of(column) for column in self.columns]
        self.kinds: list[LabelKind] = [self._kind(row) for row in rows]
        self._texts = [None if row.label is None else " ".join(row.label.casefold().split()) for row in rows]
        self._times = Counter(self._texts)
        self._firsts = (
            self.columns[0]
            if self.width == 1
            else [next((cell for cell in cells if cell is not None), None) for cells in self.cells]
        )

    @property
    def is_marked(self) -> bool:
        """Whether a label, a formula or another column says anything of its row."""
        return any(self.kinds) or any(row.formula for row in self.rows)

    @property
    def has_single_labels(self) -> bool:
        """Whether a label stands once, as that of a row does that is derived from others."""
        return any(number == 1 for number in self._times.values())

    @cached_property
    def named_totals(self) -> int:
        """How many rows are named as totals."""
        return sum(kind in STRONG_KINDS for kind in self.kinds)

    @staticmethod
    def _kind(row: CountedRow) -> LabelKind:
        if row.beside is not None and (row.label is None or not may_be_total(row.label)):
            beside = kind_of(row.beside)
            return "total" if beside in STRONG_KINDS else kind_of(row.label)
        return kind_of(row.label)

    def times(self, place: int) -> int:
        """Return how many rows have the label of a row."""
        return self._times[self._texts[place]]

    def amount(self, place: int) -> int | None:
        """Return the first counted amount of a row; None if it has none."""
        return self._firsts[place]

    def amounts(self, places: Iterable[int]) -> list[int]:
        """Return the first counted amounts of rows that have any."""
        return [amount for place in places if (amount := self._firsts[place]) is not None]

    def sums_of(self, places: Iterable[int]) -> RunningSums:
        """Return what rows add up to."""
        sums = RunningSums(self.width)
        for place in places:
            sums.add(self.cells[place])
        return sums

    def equals(self, place: int, sums: RunningSums) -> bool:
        """Whether a row is the sum of others in every counted column in which it has an amount."""
        compared = False
        for column, stated in enumerate(self.cells[place]):
            total, parts = sums.totals[column], sums.parts[column]
            if not stated:
                if total and (stated is not None or self.width == 1):
                    return False
                continue
            if not agree(stated, total, parts, self.units[column], self.scale, rounded=self.is_percent):
                return False
            compared = True
        return compared

    def evidence(self, place: int, parts: Sequence[int]) -> float:
        """Return in how many digits a row that is the sum of others agrees, further columns of numbers too."""
        most = _MOST_DIGITS if self.width < 2 else _MOST_FURTHER
        digits = [
            min(most, digits_of(amount, unit))
            for amount, unit in zip(self.cells[place], self.units, strict=True)
            if amount
        ]
        for column, unit, scale in self._independent:
            amount, values = column[place], [cell for part in parts if (cell := column[part])]
            if amount and len(values) > 1 and agree(amount, sum(values), len(values), unit, scale, rounded=False):
                digits.append(min(_MOST_FURTHER, digits_of(amount, unit)))
        return sum(digits)

    @cached_property
    def further_columns(self) -> Sequence[Sequence[Cell]]:
        """Columns of numbers that are not counted."""
        return self._further()

    @cached_property
    def _independent(self) -> list[tuple[Sequence[int | None], int, int]]:
        """Further columns, with their units and scales, that are not proportional to the counted one or one before."""
        bases: list[Sequence[int | None]] = list(self.columns[:1])
        independent: list[tuple[Sequence[int | None], int, int]] = []
        for column in self.further_columns:
            [cells], scale = in_units([column])
            if not any(_is_proportional(cells, base) for base in bases):
                independent.append((cells, unit_of(cells), scale))
                bases.append(cells)
        return independent


def _is_proportional(column: Sequence[int | None], base: Sequence[int | None]) -> bool:
    ratios = [cell / other for cell, other in zip(column, base, strict=True) if cell and other]
    return len(ratios) > 1 and max(ratios) - min(ratios) <= _PROPORTIONAL * max(map(abs, ratios))
