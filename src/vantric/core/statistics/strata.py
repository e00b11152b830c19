"""Whether strata differ: chi-square, the cells that stand out, and a lead that another stratum turns round."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np

from vantric.base.lazily import dataclass, remembered
from vantric.core.messages.message import Joined, Label, Message, Percent, PValue
from vantric.core.numbers.number_format import one_line
from vantric.core.statistics.ranks import binomial_tail
from vantric.core.statistics.sample import sample_of
from vantric.core.statistics.significance_tests import chi_square, expected_of
from vantric.errors import RankError

if TYPE_CHECKING:
    from vantric.core.counts.crosstab import Crosstab
    from vantric.core.statistics.sample import Floats

#: Expected counts below it are too small for a normal residual (Cochran 1954).
_SMALL = 5.0
#: The level, shared by all cells.
_ALPHA = 0.05
#: Cells that the sentence names.
_MOST_NAMED = 3
#: A wider table is not tested: its labels are keys.
_MOST_CELLS = 20_000


@dataclass(frozen=True)
class StandoutCell:
    """A cell that differs from what its row and column let expect.

    Attributes
    ----------
    category, stratum
    residual
        The adjusted residual: as many standard deviations above (or below) what was expected.
    p_adjusted
        Times the number of cells.
    percent, expected_percent
        Of the stratum; and of all.
    """

    category: str
    stratum: str
    residual: float
    p_adjusted: float
    percent: float
    expected_percent: float


@dataclass(frozen=True)
class Reversal:
    """In one stratum another category than that of the whole leads significantly."""

    first: str
    stratum: str
    first_there: str
    p_adjusted: float


@dataclass(frozen=True)
class Strata:
    """Whether the mix of categories is the same in all strata.

    Attributes
    ----------
    split
        The column.
    statistic, degrees, p, simulated
        Of the chi-square test; `simulated` where some expected counts are small.
    cells
        Those that stand out significantly, the furthest first; none where the strata do not differ.
    reversals
    counted
        How much the records tell, in words; empty for plain records.
    """

    split: str
    statistic: float
    degrees: int
    p: float
    simulated: bool
    cells: tuple[StandoutCell, ...]
    reversals: tuple[Reversal, ...]
    counted: str

    @property
    def differ(self) -> bool:
        """Whether the strata differ significantly."""
        return self.p <= _ALPHA

    def sentence(self) -> Joined:
        """Return whether the strata differ, and where."""
        split, p = Label(one_line(self.split)), PValue(self.p)
        if not self.differ:
            return Joined([Message("mix does not differ", split=split, p=p), self.counted])
        cells = [_stands(cell) for cell in self.cells[:_MOST_NAMED]]
        more = len(self.cells) - len(cells)
        cells += [Message("more cells", count=more)] if more else []
        turned = [
            Message("reversal", label=Label(turn.first), stratum=Label(turn.stratum), other=Label(turn.first_there))
            for turn in self.reversals[:_MOST_NAMED]
        ]
        stands = cells or [Message("no single cell")]
        return Joined([Message("mix differs", split=split, p=p), *stands, *turned, self.counted])


def _stands(cell: StandoutCell) -> Message:
    return Message(
        "more in stratum" if cell.residual > 0 else "fewer in stratum",
        stratum=Label(cell.stratum),
        label=Label(cell.category),
        share=Percent(cell.percent),
        overall=Percent(cell.expected_percent),
    )


def strata_of(table: Crosstab, *, start: int = 1) -> Strata | None:
    """Test whether the strata of a two-way table differ in their mix of categories.

    Returns
    -------
    Strata or None
        None where there are no two strata with two categories.

    Raises
    ------
    RankError
        If nothing can be said, as for amounts that came added up.

    Notes
    -----
    `chi_square`; cells by adjusted residuals (S. J. Haberman, Biometrics 29, 1973), Bonferroni over all. Records that
    stand for several occurrences: all counts divided by the sum of squares over the sum.
    """
    return remembered(table, f"_strata {start}", lambda: _tested(table, start))


def _tested(table: Crosstab, start: int) -> Strata | None:
    if len(table.categories) * len(table.columns) > _MOST_CELLS:
        raise RankError("the parts have too many cells to test; keep fewer categories, or divide into fewer parts")
    tally = table.tally()
    sample = sample_of(replace(tally, repeats=None))  # whether the columns differ is what is tested
    scale = sample.effective / sample.total
    values = np.array([[float(value) for value in row] for row in table.frequencies()])
    rows, columns = values.sum(axis=1) > 0, values.sum(axis=0) > 0
    counts = values[rows][:, columns] * scale
    if min(counts.shape) < 2:
        return None
    names = [name for name, row in zip(table.categories, rows, strict=True) if row]
    strata = [name for name, column in zip(table.columns, columns, strict=True) if column]
    statistic, p, simulated = chi_square(counts, np.random.default_rng(start))
    degrees = (counts.shape[0] - 1) * (counts.shape[1] - 1)
    cells, reversals = standing_out(counts, names, strata, p)
    return Strata(table.split, statistic, degrees, p, simulated, cells, reversals, sample.words(tally.origin))


def standing_out(
    counts: Floats, names: list[str], strata: list[str], p: float
) -> tuple[tuple[StandoutCell, ...], tuple[Reversal, ...]]:
    """Return the cells that stand out and the leads that turn round, where strata differ: else that would be chance."""
    return (_cells(counts, names, strata), _reversals(counts, names, strata)) if p <= _ALPHA else ((), ())


def _cells(counts: Floats, names: list[str], strata: list[str]) -> tuple[StandoutCell, ...]:
    from scipy.special import ndtr

    expected = expected_of(counts)
    total = counts.sum()
    row, column = counts.sum(axis=1, keepdims=True) / total, counts.sum(axis=0, keepdims=True) / total
    residuals = (counts - expected) / np.sqrt(np.maximum(expected * (1 - row) * (1 - column), 1e-300))
    adjusted = np.minimum(1.0, 2 * ndtr(-np.abs(residuals)) * counts.size)
    cells = [
        StandoutCell(
            names[r],
            strata[c],
            float(residuals[r, c]),
            float(adjusted[r, c]),
            100 * float(counts[r, c] / counts[:, c].sum()),
            100 * float(row[r, 0]),
        )
        for r, c in np.argwhere((adjusted <= _ALPHA) & (np.maximum(expected, counts) >= _SMALL)).tolist()
    ]
    return tuple(sorted(cells, key=lambda cell: (cell.p_adjusted, -abs(cell.residual), cell.category, cell.stratum)))


def _reversals(counts: Floats, names: list[str], strata: list[str]) -> tuple[Reversal, ...]:
    """Return the strata in which another category is before the first of all, significantly.

    There is a first of all only if its lead over the second is significant: of two that are about as frequent each
    leads somewhere.
    """
    sums = counts.sum(axis=1)
    if len(sums) < 2:
        return ()
    second, first = np.argsort(sums, kind="stable")[-2:].tolist()
    if sums[first] <= sums[second] or 2 * float(binomial_tail(sums[first], sums[second])) > _ALPHA:
        return ()
    reversals = []
    for index, stratum in enumerate(strata):
        there = int(counts[:, index].argmax())
        a, b = counts[there, index], counts[first, index]
        if there == first or a <= b:
            continue
        p = min(
            1.0, 2 * float(binomial_tail(np.array(a), np.array(b))) * len(strata) * (len(names) - 1)
        )  # any other might have led there
        if p <= _ALPHA:
            reversals.append(Reversal(names[first], stratum, names[there], p))
    return tuple(reversals)
