"""The Pareto table: categories ranked, cumulated and cut off."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from vantric.core.counting.cutoff import Cutoff, cut_percent, reach_count
from vantric.core.counting.ranking import rank_descending
from vantric.core.counting.tally import Missing, Origin, Tally, check_rankable
from vantric.core.numbers.amounts import Amounts, Number


@dataclass(frozen=True, slots=True)
class Row:
    """One category of a Pareto table; `percent` and `cumulative_percent` are exact, not rounded."""

    rank: int
    category: str
    frequency: Number
    count: Number
    percent: float
    cumulative_frequency: Number
    cumulative_percent: float
    abc: str | None


@dataclass(frozen=True, eq=False)
class ParetoTable:
    """Categories in descending order of frequency, with running sums and the cut-off.

    Made by `pareto`. Columns are arrays, and rows are made when they are asked for.

    Attributes
    ----------
    tally : Tally
        What was counted.
    order : ndarray of shape (n,)
        Places of the ranked categories in the tally.
    tie_starts : ndarray of shape (r + 1,)
        Where the runs of equal frequency start in the ranked order.
    cutoffs : tuple of Cutoff
        The cut-offs, ascending; empty if none was asked for.
    """

    tally: Tally
    order: NDArray[np.intp]
    tie_starts: NDArray[np.intp]
    cutoffs: tuple[Cutoff, ...] = ()

    @cached_property
    def categories(self) -> tuple[str, ...]:
        """The categories, ranked."""
        return tuple(map(self.tally.categories.__getitem__, self.order.tolist()))

    @cached_property
    def frequency(self) -> Amounts:
        """Frequencies in ranked order."""
        return self.tally.frequency.take(self.order)

    @cached_property
    def cumulative(self) -> Amounts:
        """Cumulative frequencies; the last is exactly the total."""
        return self.frequency.cumulative()

    @cached_property
    def percents(self) -> NDArray[np.float64]:
        """Each frequency in percent of the total."""
        return self.frequency.percents(self.frequency.total_units)

    @cached_property
    def cumulative_percents(self) -> NDArray[np.float64]:
        """Cumulative percents; the last is exactly 100."""
        return self.cumulative.percents(self.frequency.total_units)

    @property
    def total(self) -> Number:
        """Frequency of all valid records together."""
        return self.tally.total

    @property
    def missing(self) -> Missing:
        """What was left out because it had no label."""
        return self.tally.missing

    @property
    def origin(self) -> Origin:
        """Where the counts come from."""
        return self.tally.origin

    @property
    def cutoff(self) -> Cutoff | None:
        """The first cut-off, or None."""
        return self.cutoffs[0] if self.cutoffs else None

    @cached_property
    def rows(self) -> tuple[Row, ...]:
        """The table row by row."""
        frequencies = self.frequency.values()
        columns = zip(
            range(1, len(self) + 1),
            self.categories,
            frequencies,
            frequencies,
            self.percents.tolist(),
            self.cumulative.values(),
            self.cumulative_percents.tolist(),
            self._classes(),
            strict=True,
        )
        return tuple(Row(*values) for values in columns)

    def _classes(self) -> list[str | None]:
        """Return A for the vital few and B for the useful many; None without a cut-off."""
        if self.cutoff is None:
            return [None] * len(self)
        return ["A" if place < self.cutoff.count else "B" for place in range(len(self))]

    @cached_property
    def ties(self) -> tuple[tuple[str, ...], ...]:
        """Groups of categories that tie in frequency; they stand in natural label order."""
        bounds = zip(self.tie_starts[:-1].tolist(), self.tie_starts[1:].tolist(), strict=True)
        return tuple(self.categories[start:end] for start, end in bounds if end - start > 1)

    def __len__(self) -> int:
        return len(self.order)

    def _key(self) -> tuple[Any, ...]:
        return self.categories, tuple(self.frequency.values()), self.missing, self.cutoffs

    def __eq__(self, other: object) -> bool:
        return self._key() == other._key() if isinstance(other, ParetoTable) else NotImplemented

    def __hash__(self) -> int:
        return hash(self._key())

    def __repr__(self) -> str:
        cut = self.cutoff
        few = f"; {cut.percent} % reached by {cut.count}" if cut else ""
        return (
            f"<ParetoTable of {len(self)} categories, {self.tally.base()}{few}: {', '.join(self.categories[:3])}, ...>"
        )


def pareto(tally: Tally, *, cut: Number | None = 80) -> ParetoTable:
    """Rank and cumulate a tally and decide its cut-off.

    Parameters
    ----------
    tally
        What was counted.
    cut
        The cut-off in percent, between 0 and 100; None for a table without one.

    Returns
    -------
    ParetoTable

    Raises
    ------
    RankError
        If nothing has a label, all frequencies are zero, or the cut-off is not between 0 and 100.

    Notes
    -----
    The rule `reach` takes the fewest leading categories whose cumulative percent is at least the cut-off; see
    J. M. Juran, "Universals in management planning and controlling", The Management Review, November 1954, for
    the ranking and the vital few.
    """
    percent = None if cut is None else cut_percent(cut)
    check_rankable(tally)
    order, starts = rank_descending(tally.frequency, tally.categories)
    table = ParetoTable(tally, order, starts)
    return table if percent is None else replace(table, cutoffs=(_decide(table, percent),))


def _decide(table: ParetoTable, percent: Number) -> Cutoff:
    count = reach_count(table.cumulative, table.frequency.total_units, percent)
    run_end = int(table.tie_starts[np.searchsorted(table.tie_starts, count, side="left")])
    return Cutoff(
        percent=percent,
        rule="reach",
        count=count,
        categories=table.categories[:count],
        cumulative_percent=float(table.cumulative_percents[count - 1]),
        tied=table.categories[count:run_end],
    )
