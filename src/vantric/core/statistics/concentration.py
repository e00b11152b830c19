"""How concentrated frequencies are: the effective number of categories, and the Gini coefficient."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from vantric.base.lazily import dataclass
from vantric.core.messages.message import Joined, Message, Written, coefficient, interval, level_text
from vantric.core.numbers.number_format import number_text
from vantric.core.results import DataResult
from vantric.core.statistics.sample import sample_of, share_intervals
from vantric.errors import RankError

if TYPE_CHECKING:
    from vantric.core.counts.pareto_table import ParetoTable
    from vantric.core.statistics.sample import Floats

#: Halvings after which a bisection is as exact as a float.
_HALVINGS = 60


@dataclass(frozen=True)
class Concentration(DataResult):
    """How concentrated the frequencies of a table are.

    Attributes
    ----------
    categories
        How many there are, those of frequency zero too.
    effective, effective_interval
        As many equally frequent categories would be as concentrated: one over the sum of the squared shares.
    gini, gini_interval
        From 0, all equally frequent, to nearly 1, all in one.
    level
    counted
        How much the records tell, in words; empty for plain records.
    """

    categories: int
    effective: float
    effective_interval: tuple[float, float]
    gini: float
    gini_interval: tuple[float, float]
    level: float
    counted: str

    _kind = "concentration"

    def sentence(self) -> Joined:
        """Return the concentration in words."""
        if self.categories == 1:
            return Joined([Message("all in one")])
        level, (low, high) = level_text(self.level), self.effective_interval
        return Joined(
            [
                Message(
                    "concentrated as",
                    number=self.categories,
                    effective=Written(number_text(round(self.effective, 1))),
                    level=level,
                    range=interval(f"{low:.1f}", f"{high:.1f}"),
                ),
                Message(
                    "gini",
                    gini=Written(coefficient(self.gini)),
                    level=level,
                    range=interval(*map(coefficient, self.gini_interval)),
                ),
                self.counted,
            ]
        )


def concentration_of(table: ParetoTable, *, level: float = 0.95) -> Concentration:
    """Work out how concentrated the frequencies of a table are.

    Parameters
    ----------
    table
        Of frequencies, not of rates.
    level
        The chance, at least, that an interval holds its number.

    Raises
    ------
    RankError
        For rates, amounts that came added up, a level that is none.

    Notes
    -----
    M. O. Hill, "Diversity and evenness", Ecology 54, 1973, of order 2; C. Gini, "Variabilita e mutabilita", 1912. The
    intervals are the least and the most that shares within their simultaneous intervals (`share_intervals`) allow: the
    most even ones, and the least even ones (A. W. Marshall and I. Olkin, "Inequalities: theory of majorization", 1979).
    They hold more often than they say, where those from resampled tables hold less often.
    """
    if not 0 < level < 1:
        raise RankError(f"a level is between 0 and 1, such as 0.95, not {level}")
    if table.origin.per:
        raise RankError("concentration is of frequencies: rates have no total that they are shares of")
    sample = sample_of(table.tally, level)
    sample = sample.take(np.argsort(-sample.values, kind="stable"))
    low, high = share_intervals(sample, level)
    shares = sample.values / sample.total
    even, uneven = _most_even(low, high), _least_even(low, high)
    return Concentration(
        len(shares),
        _effective(shares),
        (_effective(uneven), _effective(even)),
        _gini(shares),
        (_gini(even), _gini(uneven)),
        level,
        sample.words(table.origin),
    )


def _most_even(low: Floats, high: Floats) -> Floats:
    """Return the shares within limits that are as level as can be: one level, cut at the limits."""
    below, above = 0.0, 1.0
    for _ in range(_HALVINGS):
        middle = (below + above) / 2
        below, above = (below, middle) if np.clip(middle, low, high).sum() >= 1 else (middle, above)
    return np.asarray(np.clip(above, low, high))


def _least_even(low: Floats, high: Floats) -> Floats:
    """Return the shares within limits that are as unlike as can be: the first as high as they may."""
    left = 1 - float(low.sum())
    room = high - low
    before = np.concatenate([[0.0], np.cumsum(room)[:-1]])
    return np.asarray(low + np.clip(left - before, 0.0, room))


def _effective(shares: Floats) -> float:
    return float(1 / (shares**2).sum())


def _gini(shares: Floats) -> float:
    size = len(shares)
    weights = 2 * np.arange(1, size + 1) - size - 1
    return max(0.0, float((np.sort(shares) * weights).sum() / size))
