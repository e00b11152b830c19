"""What changed significantly between before and after: each category, the mix, and the total of rates."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from math import exp, lgamma, sqrt
from typing import TYPE_CHECKING, Literal

import numpy as np

from vantric.base.lazily import dataclass, remembered
from vantric.core.counts.provenance import named_unit
from vantric.core.messages.message import List, Message, Written
from vantric.core.numbers.number_format import number_text
from vantric.core.statistics.sample import Sample, binomial_limits, clustered_sample, occurrences, rounded, sample_of
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
        Of no change; and times the number of tests.
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
        Of rates: the change of all categories together; else None.
    family
        How many tests there are: one a category, and of several one of their total or their mix.
    could_be
        What could have been found, where that is to be said of what was not.
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
    family: int = 1
    could_be: Foresight | None = None

    @property
    def beyond(self) -> tuple[CategoryChange, ...]:
        """The categories that changed significantly, the surest first."""
        return tuple(sorted((row for row in self.rows if row.beyond_chance), key=lambda row: row.p))

    @property
    def mix_differs(self) -> bool:
        """Whether the mix changed significantly."""
        return self.mix_p * self.family <= 1 - self.level


@dataclass(frozen=True)
class Foresight:
    """What a comparison could have found, whatever it did find.

    Attributes
    ----------
    sides
        The independent records of either side.
    is_possible
        Whether any outcome could have been significant.
    category
        The most frequent one.
    change
        By how much it would have to differ to be found significant 4 times in 5: percentage points of a share, or a
        multiple of a rate. None if no change would do.
    """

    sides: tuple[float, float]
    is_possible: bool
    category: str
    change: float | None


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
    categories, and their total or their mix, at once by Bonferroni; significant only if test and interval agree, else
    the interval is extended to no change. Records that stand for several occurrences: both sides divided by the pooled
    sum of squares over the sum.
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
    family = len(names) + (len(names) > 1)
    each = 1 - (1 - level) / family
    design = pooled.total / pooled.effective
    sides = float(before.sum() / design), float(after.sum() / design)
    leader = int((before + after).argmax())
    if comparison.exposures is None:
        scale = pooled.sizes / pooled.total
        rows = _shares(names, before, after, scale, each)
        share = float(before[leader] / before.sum())
        could_be = Foresight(
            sides, _least_p(*sides) * family <= 1 - level, names[leader], findable_points(share, *sides, each)
        )
        return Changes("percent_points", rows, mix, None, level, counted, family, could_be)
    exposures = float(comparison.exposures[0]), float(comparison.exposures[1])
    rows = _rates(names, before / pooled.design, after / pooled.design, exposures, each)
    first, other = (np.array([side]) for side in sides)
    total = _rates(("",), first, other, exposures, each, family)[0]
    ratio = findable_ratio(float(before[leader]) / design, exposures, each)
    could_be = Foresight(sides, ratio is not None, names[leader], ratio)
    return Changes("rate_ratio", rows, mix, total, level, counted, family, could_be)


def _least_p(first: float, second: float) -> float:
    """Return the least p-value that any table of two sides could have: a category has all of one side and no other."""
    records = lgamma(first + second + 1) - lgamma(first + 1) - lgamma(second + 1)
    return min(1.0, 2 * exp(-records))


#: How often a change is found that "would have been found 4 times in 5".
_POWER = 0.8
_HALVINGS = 60


def findable_points(share: float, first: float, second: float, level: float) -> float | None:
    """Return the rise of a share in percentage points that is found significant 4 times in 5.

    Parameters
    ----------
    share
        Of one category before, from 0 to 1.
    first, second
        The independent records of either side.
    level
        Of the interval of one test.

    Notes
    -----
    The normal approximation with a correction for continuity (J. L. Fleiss, A. Tytun and H. K. Ury, Biometrics 36,
    1980). None where no rise would do.
    """
    from scipy.special import ndtri

    wide, often = float(ndtri((1 + level) / 2)), float(ndtri(_POWER))

    def is_enough(rise: float) -> bool:
        after = share + rise
        pooled = (first * share + second * after) / (first + second)
        by_chance = wide * sqrt(pooled * (1 - pooled) * (1 / first + 1 / second))
        around = often * sqrt(share * (1 - share) / first + after * (1 - after) / second)
        return rise >= by_chance + around + (1 / first + 1 / second) / 2

    if not is_enough(1 - share):
        return None
    return 100 * _least(is_enough, 0.0, 1 - share)


def findable_ratio(count: float, exposures: tuple[float, float], level: float) -> float | None:
    """Return as what multiple of before a rate of so many is found significant 4 times in 5; None if at no multiple."""
    from scipy.special import ndtri

    wide, often = float(ndtri((1 + level) / 2)), float(ndtri(_POWER))
    odds = exposures[1] / exposures[0]

    def is_enough(power: float) -> bool:
        ratio = exp(power)
        records, even, split = count * (1 + ratio * odds), odds / (1 + odds), ratio * odds / (1 + ratio * odds)
        needed = wide * sqrt(even * (1 - even) / records) + often * sqrt(split * (1 - split) / records)
        return split - even >= needed + 0.5 / records

    if not count or not is_enough(_MOST_TIMES):
        return None
    return exp(_least(is_enough, 0.0, _MOST_TIMES))


_MOST_TIMES = 9.0  # the logarithm of some 8,000


def _least(is_enough: Callable[[float], bool], low: float, high: float) -> float:
    """Return the least value at which something is so, between one where it is not and one where it is."""
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        low, high = (low, middle) if is_enough(middle) else (middle, high)
    return high


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
    if _are_sheets(tallies):
        return occurrences(values, names, [tally.repeats for tally in tallies if tally.repeats is not None])
    if all(tally.spread is None for tally in tallies):
        total, every = float(values.sum()), np.ones(len(values))
        return Sample(values, total * every, every, total, total, "records")

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


def _are_sheets(tallies: Sequence[Tally]) -> bool:
    """Whether both sides came added up; of a side of one category it is the other that tells."""

    def one_row_a_label(tally: Tally) -> bool:
        origin, spread = tally.origin, tally.spread
        asked = origin.lot or origin.rows
        return not asked and origin.weight is None and spread is not None and spread.records <= len(tally.categories)

    alone = [one_row_a_label(tally) for tally in tallies]
    if any(tally.origin.ready for tally in tallies):
        pairs = zip(tallies, alone, strict=True)
        return all(tally.origin.ready or tally.spread is None or is_alone for tally, is_alone in pairs)
    return all(alone) and len({name for tally in tallies for name in tally.categories}) > 1


def _words(comparison: Comparison, pooled: Sample, before: Floats, after: Floats) -> str:
    unit = comparison.before.origin.amount_unit
    if not pooled.clustered or pooled.effective >= pooled.records:
        return pooled.words(comparison.before.origin)
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
    names: tuple[str, ...],
    before: Floats,
    after: Floats,
    exposures: tuple[float, ...],
    level: float,
    family: int | None = None,
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
    return _agreed(names, ratios, low, high, chances, 1.0, level, family)


def _agreed(
    names: tuple[str, ...],
    estimates: Floats,
    low: Floats,
    high: Floats,
    chances: Floats,
    same: float,
    level: float,
    family: int | None = None,
) -> tuple[CategoryChange, ...]:
    """Return the rows; where test and interval do not agree, the interval is extended to no change."""
    # Bonferroni: as many tests as rows, and of several one of their total or mix.
    adjusted = np.minimum(1.0, chances * (family or len(names) + (len(names) > 1)))
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
