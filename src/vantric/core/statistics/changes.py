"""What changed significantly between before and after: each category, the mix, and the total of rates."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal

import numpy as np

from vantric.core.counts.provenance import named_unit
from vantric.core.messages.message import List, Message, Written
from vantric.core.numbers.caching import remembered
from vantric.core.numbers.number_format import number_text
from vantric.core.statistics.intervals import binomial_limits
from vantric.core.statistics.sample import Sample, clustered_sample, rounded, sample_of
from vantric.core.statistics.significance_tests import chi_square, hypergeometric_tails
from vantric.errors import RankError

if TYPE_CHECKING:
    from vantric.core.counts.comparison import Comparison
    from vantric.core.counts.tally import Tally
    from vantric.core.statistics.sample import Floats

#: The level of all intervals.
_LEVEL = 0.95


@dataclass(frozen=True)
class CategoryChange:
    """How sure the change of one category is.

    Attributes
    ----------
    category
    estimate
        Of shares: the change in percentage points; of rates: after as a multiple of before, None if before is zero.
    low, high
        The interval around it, at once with those of all other categories; `high` is None where it has no end.
    p, p_adjusted
        Of no change; and times the number of categories.
    beyond_chance
        Whether test and interval both say so.
    """

    category: str
    estimate: float | None
    low: float
    high: float | None
    p: float
    p_adjusted: float
    beyond_chance: bool


@dataclass(frozen=True)
class Changes:
    """How sure the changes between two sides are.

    Attributes
    ----------
    measure
        ``"percent_points"`` of shares, or ``"rate_ratio"``.
    rows
        A row a category.
    mix_p
        The p-value of no change in the shares of all categories together.
    total
        Of rates: the change of all categories together, by itself; else None.
    level
        Of all intervals at once.
    counted
        How much the records tell, in words; empty for plain records.
    """

    measure: Literal["percent_points", "rate_ratio"]
    rows: tuple[CategoryChange, ...]
    mix_p: float
    total: CategoryChange | None
    level: float
    counted: str

    @property
    def beyond(self) -> tuple[CategoryChange, ...]:
        """The categories that changed significantly, the surest first."""
        return tuple(sorted((row for row in self.rows if row.beyond_chance), key=lambda row: row.p))

    @property
    def mix_differs(self) -> bool:
        """Whether the mix changed significantly."""
        return self.mix_p <= 1 - self.level


def changes_of(comparison: Comparison, *, level: float = _LEVEL, start: int = 1) -> Changes:
    """Return how sure the changes of a comparison are.

    Parameters
    ----------
    comparison
        Of counts, of occurrences or weights of records, or of rates.
    level
        Of all intervals at once.
    start
        What the random tables begin with.

    Raises
    ------
    RankError
        If nothing can be said, as for amounts that came added up.

    Notes
    -----
    Shares: R. A. Fisher's exact test (1934), p twice the smaller tail; the interval of R. G. Newcombe (Statistics in
    Medicine 17, 1998, method 10). Rates: the exact test of two Poisson counts given their sum (J. Przyborowski and H.
    Wilenski, Biometrika 31, 1940); the interval of the split by Clopper and Pearson, as a ratio. Both for all
    categories at once by Bonferroni; significant only if test and interval agree, else the interval is extended to no
    change. Records that stand for several occurrences: both sides divided by the pooled sum of squares over the sum.
    The mix: `chi_square`.
    """
    return remembered(comparison, f"_changes {level} {start}", lambda: _worked_out(comparison, level, start))


def _worked_out(comparison: Comparison, level: float, start: int) -> Changes:
    names = comparison.categories
    before, after = (_values(table.tally, names) for table in (comparison.before, comparison.after))
    if not before.sum() + after.sum():
        raise RankError("how sure a change is cannot be said: all frequencies are zero")
    pooled = _pooled(comparison, names, before + after)
    mix = _mix(before, after, pooled, np.random.default_rng(start))
    counted = _words(comparison, pooled, before, after)
    each = 1 - (1 - level) / len(names)
    if comparison.exposures is None:
        scale = pooled.sizes / pooled.total
        rows = _shares(names, before, after, scale, each)
        return Changes("percent_points", rows, mix, None, level, counted)
    exposures = tuple(map(float, comparison.exposures))
    rows = _rates(names, before / pooled.design, after / pooled.design, exposures, each)
    design = pooled.total / pooled.effective
    first, other = (np.array([side.sum() / design]) for side in (before, after))
    total = _rates(("",), first, other, exposures, level)[0]
    return Changes("rate_ratio", rows, mix, total, level, counted)


def _values(tally: Tally, names: tuple[str, ...]) -> Floats:
    """Return what was counted in each category of either side, not the rates."""
    amounts = tally.plain_counts if tally.exposure is not None and tally.origin.weight is None else tally.frequency
    values = amounts.floats()
    if tally.exposure is not None and tally.origin.weight is not None:
        values = values * tally.exposure.floats()
    value_of = dict(zip(tally.categories, values.tolist(), strict=True))
    return np.array([value_of.get(name, 0.0) for name in names])


def _pooled(comparison: Comparison, names: tuple[str, ...], values: Floats) -> Sample:
    """Return both sides together as one sample: how much a record weighs is the same on both."""
    from vantric.core.counts.tally import Moments, Spread, joined

    tallies = [table.tally for table in (comparison.before, comparison.after)]
    if not np.isfinite(values).all():
        raise RankError("how sure a change is cannot be said: a number is out of range")
    for tally in tallies:
        if tally.total:
            sample_of(tally)  # says why it cannot be said
    if all(tally.spread is None for tally in tallies):
        total, ready = float(values.sum()), any(tally.origin.ready for tally in tallies)
        every = np.ones(len(values))
        return Sample(values, total * every, every, total, total, "ready" if ready else "records")

    def spread(tally: Tally) -> Spread:
        if tally.spread is not None:
            return tally.spread
        counts = dict(zip(tally.categories, tally.plain_counts.values(), strict=True))
        return Spread(
            {n: Moments(int(c), float(c), float(c)) for n, c in counts.items()},
            int(tally.records),
            float(tally.records),
        )

    return clustered_sample(values, names, joined(map(spread, tallies)))


def _words(comparison: Comparison, pooled: Sample, before: Floats, after: Floats) -> str:
    unit = comparison.before.origin.amount_unit
    if not pooled.clustered or pooled.effective >= pooled.total:
        return pooled.words(unit)
    sums = [float(side.sum()) for side in (before, after)]
    amounts = [Written(number_text(each, most_decimals=0)) for each in sums]
    records = [Written(rounded(each * pooled.effective / pooled.total)) for each in sums]
    sides = List(tuple(amounts)), List(tuple(records))
    return Message("sides count as", amounts=sides[0], unit=named_unit(unit), records=sides[1])


def _shares(
    names: tuple[str, ...], before: Floats, after: Floats, scale: Floats, level: float
) -> tuple[CategoryChange, ...]:
    """Test every share, both sides scaled to independent records."""
    sums = before.sum(), after.sum()
    if not min(sums):
        raise RankError("how sure a change is cannot be said: one side has no records")
    trials = [np.maximum(1.0, np.floor(side * scale + 1e-9)) for side in sums]
    hits = [np.round(counts / side * tried) for counts, side, tried in zip((before, after), sums, trials, strict=True)]
    both = hits[0] + hits[1]
    lower, upper = hypergeometric_tails(hits[1], both, trials[1], trials[0] + trials[1])
    chances = np.minimum(1.0, 2 * np.minimum(lower, upper))
    shares = [counts / side for counts, side in zip((before, after), sums, strict=True)]
    change = shares[1] - shares[0]
    low, high = _newcombe(shares, [side * scale for side in sums], level)
    return _agreed(names, 100 * change, 100 * low, 100 * high, chances, 0.0, level)


def _newcombe(shares: list[Floats], trials: list[Floats], level: float) -> tuple[Floats, Floats]:
    """Return the limits of the second share less the first: square-and-add of E. B. Wilson's limits."""
    from scipy.special import ndtri

    z = float(ndtri((1 + level) / 2))
    ends = []
    for share, number in zip(shares, trials, strict=True):
        middle = 2 * number * share + z * z
        half = z * np.sqrt(z * z + 4 * number * share * (1 - share))
        ends.append(((middle - half) / (2 * (number + z * z)), (middle + half) / (2 * (number + z * z))))
    (low_1, high_1), (low_2, high_2) = ends
    change = shares[1] - shares[0]
    low = change - np.sqrt((shares[1] - low_2) ** 2 + (high_1 - shares[0]) ** 2)
    high = change + np.sqrt((high_2 - shares[1]) ** 2 + (shares[0] - low_1) ** 2)
    return np.clip(low, -1, 1), np.clip(high, -1, 1)


def _rates(
    names: tuple[str, ...], before: Floats, after: Floats, exposures: tuple[float, ...], level: float
) -> tuple[CategoryChange, ...]:
    """Test every rate by how its count is split over the two sides."""
    from scipy.special import betainc

    first, second = exposures
    even = second / (first + second)
    both = before + after
    some = np.maximum(after, 1e-12), np.maximum(before, 1e-12)
    upper = np.where(after > 0, betainc(some[0], before + 1, even), 1.0)
    lower = np.where(before > 0, betainc(some[1], after + 1, 1 - even), 1.0)
    chances = np.minimum(1.0, 2 * np.minimum(lower, upper))
    low, high = binomial_limits(after, both, level)
    low, high = np.where(both > 0, low, 0.0), np.where(both > 0, high, 1.0)
    with np.errstate(divide="ignore", invalid="ignore"):
        ratios = (after / second) / (before / first)
        low, high = (np.where(end < 1, end * first / ((1 - end) * second), np.inf) for end in (low, high))
    return _agreed(names, ratios, low, high, chances, 1.0, level)


def _agreed(
    names: tuple[str, ...], estimates: Floats, low: Floats, high: Floats, chances: Floats, same: float, level: float
) -> tuple[CategoryChange, ...]:
    """Return the rows; where test and interval do not agree, the interval is extended to no change."""
    # Bonferroni: as many tests as rows.
    adjusted = np.minimum(1.0, chances * len(names))
    beyond = (chances <= 1 - level) & ((low > same) | (high < same))
    # A verdict and an interval that contradict each other would be read as an error.
    low, high = np.where(beyond, low, np.minimum(low, same)), np.where(beyond, high, np.maximum(high, same))
    return tuple(
        CategoryChange(
            name,
            estimate if np.isfinite(estimate) else None,
            below,
            above if np.isfinite(above) else None,
            p,
            times,
            bool(sure),
        )
        for name, estimate, below, above, p, times, sure in zip(
            names,
            estimates.tolist(),
            low.tolist(),
            high.tolist(),
            chances.tolist(),
            adjusted.tolist(),
            beyond.tolist(),
            strict=True,
        )
    )


def _mix(before: Floats, after: Floats, pooled: Sample, rng: np.random.Generator) -> float:
    """Return the p-value of no change in all shares together."""
    # Records that stand for several occurrences count as fewer.
    scale = pooled.effective / pooled.total
    table = np.stack([before, after]) * scale
    # A category that neither side has says nothing.
    table = table[:, table.sum(axis=0) > 0]
    if table.shape[1] < 2 or not table.sum(axis=1).all():
        return 1.0
    return chi_square(table, rng)[1]
