"""Two series side by side: by how much they differ, and whether they go together."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from vantric.core.numbers.shown import number_text, one_line
from vantric.errors import RankError

_FEW = 10  # pairs, below which a relation says little
_TREND = 0.7  # of the correlation of a series with its own order


@dataclass(frozen=True)
class GapRow:
    """One category of a gap.

    Attributes
    ----------
    category, planned, achieved
        What was to be, and what was.
    difference
        Achieved less planned.
    percent
        Achieved in percent of planned; None where nothing was planned.
    share
        Of the sum of all differences, without their signs, in percent.
    """

    category: str
    planned: float
    achieved: float
    difference: float
    percent: float | None
    share: float


@dataclass(frozen=True)
class Gap:
    """Planned and achieved, the largest difference first.

    Attributes
    ----------
    rows
        A row a category that has both values.
    names
        What the two are called.
    missing
        Categories that lack one of the two.
    """

    rows: tuple[GapRow, ...]
    names: tuple[str, str]
    missing: tuple[str, ...] = ()

    def sentence(self) -> str:
        """Return the largest difference in one sentence, with the lowest percent beside it where that is another."""
        first = self.rows[0]
        planned, achieved = (one_line(name, longest=40) for name in self.names)
        base = f"{number_text(first.achieved)} {achieved} of {number_text(first.planned)} {planned}"
        said = f"The largest difference is {number_text(first.difference)} at “{one_line(first.category)}”: {base}"
        lowest = min(
            (row for row in self.rows if row.percent is not None), key=lambda row: row.percent or 0.0, default=first
        )
        if lowest.category != first.category and lowest.percent is not None:
            said += (
                f"; the lowest percent, {lowest.percent:.1f} % at “{one_line(lowest.category)}”, is a difference of "
                f"{number_text(lowest.difference)} only"
            )
        return said + "."


def gap_of(
    categories: Sequence[str], planned: Sequence[float], achieved: Sequence[float], names: tuple[str, str]
) -> Gap:  # fmt: skip
    """Return the differences of two series, ranked by their size and not by the percent alone.

    Raises
    ------
    RankError
        If the series are not of one length, or no category has both values.
    """
    if not len(categories) == len(planned) == len(achieved):
        raise RankError(
            f"{len(categories)} categories, {len(planned)} planned and {len(achieved)} achieved: give one of each"
        )
    both = [
        (name, float(p), float(a))
        for name, p, a in zip(categories, planned, achieved, strict=True)
        if p == p and a == a
    ]
    if not both:
        raise RankError("no category has both values: there is nothing to compare")
    whole = math.fsum(abs(a - p) for _, p, a in both)
    rows = [
        GapRow(name, p, a, a - p, 100 * a / p if p else None, 100 * abs(a - p) / whole if whole else 0.0)
        for name, p, a in both
    ]
    held = {name for name, *_ in both}
    missing = tuple(name for name in categories if name not in held)
    return Gap(tuple(sorted(rows, key=lambda row: -abs(row.difference))), names, missing)


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
