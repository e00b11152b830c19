"""How sure a ranking is: intervals of the shares, ranges of the ranks, chances to be one of the vital few."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from vantric.core.inference import resampling
from vantric.core.inference.intervals import share_intervals
from vantric.core.numbers.shown import listed, one_line
from vantric.errors import RankError

if TYPE_CHECKING:
    from vantric.core.counting.paretotable import ParetoTable

_MOST = 2**50  # records, beyond which counts no longer fit beside the number of their category
_MOST_CELLS = 50_000_000
_SURE = 0.95


@dataclass(frozen=True)
class CertaintyRow:
    """What is known of one category.

    Attributes
    ----------
    category
        Its label.
    percent, low, high
        Its percent, and the simultaneous interval around it.
    rank, lowest_rank, highest_rank
        Its rank, and between which ranks it may be: 1 is the most frequent.
    chance
        That it is one of the vital few, from 0 to 1; None where the table has no cutoff.
    even_low, even_high
        Between which percents the bar of this rank would be if all categories were equally likely.
    """

    category: str
    percent: float
    low: float
    high: float
    rank: int
    lowest_rank: int
    highest_rank: int
    chance: float | None
    even_low: float
    even_high: float


@dataclass(frozen=True)
class Certainty:
    """How sure the ranking of a table is.

    Attributes
    ----------
    rows
        A row a category, the most frequent first.
    level
        Of all intervals and ranges.
    resamples, start
        How often the table was drawn again, and what the random numbers began with.
    records
        The base.
    """

    rows: tuple[CertaintyRow, ...]
    level: float
    resamples: int
    start: int
    records: int

    def sentence(self) -> str:
        """Return what can be said in one sentence."""
        said = [row for row in self.rows if row.chance is not None]
        level = f"{100 * self.level:g} %"
        apart = self.rows[0].lowest_rank == self.rows[0].highest_rank
        first = one_line(self.rows[0].category, longest=40)
        text = (
            f"“{first}” is the most frequent with {level} certainty"
            if apart
            else f"the first rank is not sure: {self._first()}"
        )
        sure = [row for row in said if (row.chance or 0) >= _SURE]
        open_ = [row for row in said if 1 - _SURE < (row.chance or 0) < _SURE]
        if said:
            named = listed(
                [f"“{one_line(row.category, longest=30)}” ({100 * (row.chance or 0):.0f} %)" for row in open_], most=4
            )
            text += f"; {len(sure)} of {len(said)} categories are vital in at least 95 % of the tables drawn again"
            text += f", and it is open for {named}" if open_ else ""
        return f"{text[:1].upper()}{text[1:]}."

    def _first(self) -> str:
        rivals = [row for row in self.rows if row.lowest_rank == 1]
        return listed([f"“{one_line(row.category, longest=30)}”" for row in rivals], most=4) + " may each be first"


def certainty_of(
    table: ParetoTable, *, level: float = 0.95, resamples: int = 10_000, start: int = 1
) -> Certainty:  # fmt: skip
    """Work out how sure the ranking of a table of counts is.

    Parameters
    ----------
    table
        Of counts, in the order of frequency or any other; folded categories are taken one by one.
    level
        The chance that all intervals of shares hold at once, and that a rank is in its range; above 0 and below 1.
    resamples
        How often the table is drawn again with the observed shares.
    start
        What the random numbers begin with: the same gives the same.

    Raises
    ------
    RankError
        For a table of weights or rates, which is no count of independent records; or for options out of range.

    Notes
    -----
    Shares: `share_intervals`. Ranks and chances: the parametric bootstrap (`drawn_again`). Both take the records as
    independent of each other: where one cause makes many records at once the truth is less sure.
    """
    if not 0 < level < 1:
        raise RankError(f"a level of certainty is between 0 and 1, such as 0.95, not {level}")
    if resamples < 100:
        raise RankError(f"a ranking is drawn again at least 100 times, not {resamples}")
    tally = table.tally
    values = tally.frequency.values()
    if tally.counts is not None or any(not isinstance(value, int) for value in values):
        raise RankError("how sure a ranking is can be said of counts of records only, not of weights or rates")
    if tally.total > _MOST:
        raise RankError(f"more than {_MOST:,} records: nothing about their ranking is uncertain")
    order = sorted(range(len(values)), key=lambda at: -values[at])
    counts = np.array([values[at] for at in order], dtype=np.int64)
    if resamples * len(counts) > _MOST_CELLS:
        raise RankError(
            f"{len(counts):,} categories drawn {resamples:,} times do not fit: fold the small ones, or draw less"
        )
    rng = np.random.default_rng(start)
    ordered, owners = resampling.sorted_with_owner(resampling.drawn_again(counts, resamples, rng))
    ranges = resampling.rank_ranges(resampling.rank_counts(owners), level)
    cut, total = table.cutoff, int(counts.sum())
    chances = resampling.vital_chances(ordered, owners, float(cut.percent), cut.rule) if cut else None
    low, high = share_intervals(counts, level)
    even = resampling.even_band(total, len(counts), resamples, level, rng)
    rows = tuple(
        CertaintyRow(
            category=tally.categories[at],
            percent=100 * values[at] / total,
            low=100 * float(low[place]),
            high=100 * float(high[place]),
            rank=place + 1,
            lowest_rank=int(ranges[0][place]),
            highest_rank=int(ranges[1][place]),
            chance=None if chances is None else float(chances[place]),
            even_low=100 * float(even[0][place]) / total,
            even_high=100 * float(even[1][place]) / total,
        )
        for place, at in enumerate(order)
    )
    return Certainty(rows, level, resamples, start, total)
