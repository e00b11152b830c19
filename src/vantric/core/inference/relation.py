"""Whether two series go together."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from vantric.core.numbers.shown import one_line
from vantric.errors import RankError

_FEW = 10  # pairs, below which a relation says little
_TREND = 0.7  # of the correlation of a series with its own order


@dataclass(frozen=True)
class Relation:
    """Whether two series go together.

    Attributes
    ----------
    n
        Pairs that have both values.
    pearson, spearman
        The correlation of the values, and of their ranks; None where one series does not vary.
    pearson_interval, spearman_interval
        At `level`; None with fewer than four pairs.
    caution
        What must be said with it; empty if nothing.
    """

    n: int
    pearson: float | None
    spearman: float | None
    pearson_interval: tuple[float, float] | None
    spearman_interval: tuple[float, float] | None
    level: float
    caution: str
    names: tuple[str, str]

    def sentence(self) -> str:
        """Return the relation in one sentence, with what must be said with it."""
        one, other = (one_line(name, longest=40) for name in self.names)
        if self.pearson is None or self.spearman is None:
            return f"“{one}” and “{other}” cannot be related: one of them does not vary over {self.n} pairs."
        text = f"Over {self.n} pairs “{one}” and “{other}” have a Pearson correlation of {self.pearson:.2f}"
        if self.pearson_interval:
            low, high = self.pearson_interval
            text += f" ({100 * self.level:g} % interval {low:.2f} to {high:.2f})"
        text += f" and a Spearman correlation of {self.spearman:.2f}"
        return f"{text}{'; ' + self.caution if self.caution else ''}."


def relation_of(
    one: Sequence[float], other: Sequence[float], *, names: tuple[str, str], level: float = 0.95, in_time: bool = False
) -> Relation:
    """Relate two series, pair by pair; pairs that lack a value are passed over.

    Parameters
    ----------
    one, other
        As long as each other; NaN where a value is missing.
    names
        What they are called.
    level
        Of the intervals.
    in_time
        Whether the pairs follow each other in time.

    Raises
    ------
    RankError
        If the series are not of one length or there are fewer than three pairs.

    Notes
    -----
    Intervals by R. A. Fisher's transformation (Metron 1, 1921); for ranks with the variance of E. C. Fieller, H. O.
    Hartley and E. S. Pearson (Biometrika 44, 1957): 1.06 / (n - 3).
    """
    if len(one) != len(other):
        raise RankError(f"the two series have {len(one)} and {len(other)} values: give as many of each")
    x, y = np.asarray(one, dtype=np.float64), np.asarray(other, dtype=np.float64)
    both = ~(np.isnan(x) | np.isnan(y))
    places, x, y = np.flatnonzero(both), x[both], y[both]
    n = len(x)
    if n < 3:
        raise RankError(f"{n} pairs that have both values say nothing: give three or more")
    if np.ptp(x) == 0 or np.ptp(y) == 0:
        return Relation(n, None, None, None, None, level, "", names)
    from scipy import stats

    pearson, spearman = float(stats.pearsonr(x, y)[0]), float(stats.spearmanr(x, y)[0])
    caution = []
    if n < _FEW:
        caution.append(f"{n} pairs are few: the true relation may be quite another")
    trends = [abs(float(stats.spearmanr(places, values)[0])) for values in (x, y)]
    if in_time and min(trends) >= _TREND:
        caution.append("both run with time, and two trends always seem related; relate their changes instead")
    caution.append("a relation does not show a cause")
    return Relation(
        n, pearson, spearman, _interval(pearson, n, 1.0, level), _interval(spearman, n, 1.06, level), level,
        "; ".join(caution), names,
    )  # fmt: skip


def _interval(value: float, n: int, variance: float, level: float) -> tuple[float, float] | None:
    if n < 4:
        return None
    from scipy import stats

    near = min(max(value, -1 + 1e-12), 1 - 1e-12)
    half = float(stats.norm.ppf((1 + level) / 2)) * math.sqrt(variance / (n - 3))
    return math.tanh(math.atanh(near) - half), math.tanh(math.atanh(near) + half)
