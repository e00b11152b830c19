"""A two-way table: categories by the labels of a second column."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from vantric.core.counting.ranking import rank_descending
from vantric.core.counting.tally import Missing, Origin, Tally, exact_sum
from vantric.core.numbers.amounts import Amounts, Number, Raw
from vantric.core.numbers.naturalorder import natural_key
from vantric.errors import RankError

Base = Literal["row", "column", "all"]


@dataclass(frozen=True, eq=False)
class Crosstab:
    """Frequencies of every pair of a category and a label of the split.

    Attributes
    ----------
    categories : tuple of str, length r
        In descending order of their totals, ties in natural label order.
    columns : tuple of str, length c
        The labels of the split, in natural order.
    frequency : Amounts of length r x c
        Row by row; zero for pairs that do not occur.
    split
        The column of the split.
    missing : Missing
        Records that lack either label.
    origin : Origin
    """

    categories: tuple[str, ...]
    columns: tuple[str, ...]
    frequency: Amounts
    split: str
    missing: Missing
    origin: Origin

    @cached_property
    def _units(self) -> NDArray[Any]:
        return self.frequency.units.reshape(len(self.categories), len(self.columns))

    @cached_property
    def row_totals(self) -> Amounts:
        """The total of each category; exact for integers and decimals."""
        return Amounts(self._units.sum(axis=1), self.frequency.scale)

    @cached_property
    def column_totals(self) -> Amounts:
        """The total of each label of the split."""
        return Amounts(self._units.sum(axis=0), self.frequency.scale)

    @property
    def total(self) -> Number:
        """Frequency of all valid records together."""
        return self.frequency.total

    def frequencies(self) -> list[list[Number]]:
        """Return the frequencies row by row."""
        values, width = self.frequency.values(), len(self.columns)
        return [values[place : place + width] for place in range(0, len(values), width)]

    def percents(self, of: Base = "all") -> NDArray[np.float64]:
        """Return the frequencies in percent.

        Parameters
        ----------
        of
            The base: each cell's ``"row"``, its ``"column"``, or ``"all"``.

        Returns
        -------
        ndarray of shape (r, c)
            NaN where the base is zero.
        """
        if of == "all":
            base: NDArray[Any] = np.array(self.frequency.total_units, dtype=object)
        else:
            base = self.row_totals.units[:, None] if of == "row" else self.column_totals.units[None, :]
        units, bases = np.broadcast_arrays(self._units.astype(object), base.astype(object))
        flat = [100 * unit / whole if whole else np.nan for unit, whole in zip(units.flat, bases.flat, strict=True)]
        return np.array(flat, dtype=np.float64).reshape(self._units.shape)

    def transposed(self) -> Crosstab:
        """Return the table with categories and split exchanged."""
        turned = replace(self.origin, by=self.split)
        cells = zip(self.categories, self.frequencies(), strict=True)
        groups = [(b, a, f) for a, row in cells for b, f in zip(self.columns, row, strict=True)]
        return make_crosstab(groups, self.missing, self.origin.by or "", turned)

    def tally(self) -> Tally:
        """Return the totals of the categories as a tally."""
        return Tally(self.categories, self.row_totals, self.missing, self.origin)

    def _key(self) -> tuple[Any, ...]:
        return self.categories, self.columns, tuple(self.frequency.values()), self.missing, self.split

    def __eq__(self, other: object) -> bool:
        return self._key() == other._key() if isinstance(other, Crosstab) else NotImplemented

    def __hash__(self) -> int:
        return hash(self._key())

    def __repr__(self) -> str:
        shape = f"{len(self.categories)} x {len(self.columns)}"
        return f"<Crosstab of {self.origin.by} by {self.split}, {shape}, {self.tally().base()}>"


def make_crosstab(
    groups: Iterable[tuple[str | None, str | None, Raw]], missing: Missing | None, split: str, origin: Origin
) -> Crosstab:
    """Return the two-way table of (category, label of the split, frequency) groups.

    Raises
    ------
    RankError
        If no record has both labels.
    """
    cells: dict[tuple[str, str], list[Raw]] = {}
    without: list[Raw] = []
    for category, label, amount in groups:
        if category is None or label is None or not category.strip() or not label.strip():
            without.append(amount)
        else:
            cells.setdefault((category, label), []).append(amount)
    if not cells:
        where = origin.source or "the data"
        raise RankError(f"{where}: no record has both '{origin.by}' and '{split}': there is nothing to count")
    columns = sorted({label for _, label in cells}, key=natural_key)
    names = sorted({category for category, _ in cells}, key=natural_key)
    sums = {pair: exact_sum(amounts) for pair, amounts in cells.items()}
    totals = Amounts.of(
        [exact_sum([sums[name, label] for label in columns if (name, label) in sums]) for name in names]
    )
    order, _ = rank_descending(totals, names)
    ranked = [names[place] for place in order.tolist()]
    frequency = Amounts.of([sums.get((name, label), 0) for name in ranked for label in columns])
    left_out = Amounts.of(without).total
    gone = missing if missing is not None else Missing(left_out, left_out)
    return Crosstab(tuple(ranked), tuple(columns), frequency, split, gone, origin)
