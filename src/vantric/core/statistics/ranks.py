"""Which ranks each category may have, and whether the first is the first."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from vantric.core.statistics.sample import Sample

Floats = NDArray[np.float64]
Ints = NDArray[np.intp]
_TABLE = 1000  # categories, up to which every pair is worked out where pairs differ in more than their counts
_ROUNDS = 64
T = TypeVar("T")


def rank_ranges(sample: Sample, level: float = 0.95) -> tuple[Ints, Ints]:
    """Return between which ranks each category may be, all at once with a chance of at least `level`.

    Parameters
    ----------
    sample
        Of k categories, the largest first.
    level
        The chance that all ranges hold.

    Returns
    -------
    first, last : ndarray of int, shape (k,)
        1 is the largest.

    Notes
    -----
    For all ordered pairs the one-sided exact test of the two counts, given their sum; S. Holm's correction (Scand. J.
    Statist. 6, 1979). A category's first rank is one more than the number of those significantly above it: M. Klein,
    T. Wright and J. Wieczorek, JRSS A 183, 2020; D. Mohamad, J. Goeman and E. van Zwet, Biometrics 78, 2022. Of
    records that stand for several occurrences, the counts of a pair are divided by their sum of squares over their
    sum. Of rates, the exposures divide the sum (J. Przyborowski and H. Wilenski, Biometrika 31, 1940).
    """
    size = len(sample.values)
    if size < 2:
        return np.ones(size, dtype=np.intp), np.ones(size, dtype=np.intp)
    plain = sample.exposure is None and np.ptp(sample.design) == 0
    if not plain and size <= _TABLE:
        return _by_table(sample, level)
    if not plain and sample.exposure is not None:
        return np.ones(size, dtype=np.intp), np.full(size, size, dtype=np.intp)
    return _by_counts(sample.values / float(sample.design.max()), level)


def _by_counts(counts: Floats, level: float) -> tuple[Ints, Ints]:
    """Bisect over the different counts: below how many a count is significantly above all that are lower."""
    size = len(counts)
    different, inverse, times = np.unique(counts, return_inverse=True, return_counts=True)
    below = np.cumsum(times)  # categories with that count or a lower one

    def rejected(threshold: float) -> Ints:
        """Return for each different count how many of the lower different counts it is significantly above."""
        low, high = np.zeros(len(different), dtype=np.intp), np.arange(len(different), dtype=np.intp)
        while np.any(low < high):
            middle = (low + high + 1) // 2
            fine = binomial_tail(different, different[np.maximum(middle - 1, 0)]) <= threshold
            low = np.where((low < high) & fine, middle, low)
            high = np.where((low < high) & ~fine, middle - 1, high)
        return low

    def found(threshold: float) -> tuple[int, Ints]:
        under = rejected(threshold)
        return int((np.where(under > 0, below[under - 1], 0) * times).sum()), under

    under = _holm(size, level, found)
    lower = np.where(under > 0, below[under - 1], 0)
    reach = np.searchsorted(under, np.arange(1, len(different) + 1), side="left")  # first count above a given one
    over = size - np.where(reach > 0, np.append(below, size)[np.maximum(reach - 1, 0)], 0)
    return (1 + over[inverse]).astype(np.intp), (size - lower[inverse]).astype(np.intp)


def _by_table(sample: Sample, level: float) -> tuple[Ints, Ints]:
    """Work out every pair at once."""
    values, design = sample.values, sample.design
    squares = values * design
    sums = values[:, None] + values[None, :]
    scale = np.where(sums > 0, sums / np.maximum(squares[:, None] + squares[None, :], 1e-300), 0.0)
    a, b = values[:, None] * scale, values[None, :] * scale
    if sample.exposure is None:
        half: Floats | float = 0.5
        above = values[:, None] > values[None, :]
    else:
        half = sample.exposure[:, None] / (sample.exposure[:, None] + sample.exposure[None, :])
        rate = values / sample.exposure
        above = rate[:, None] > rate[None, :]
    chances = np.where(above, binomial_tail(a, b, half), 1.0)

    def found(threshold: float) -> tuple[int, NDArray[np.bool_]]:
        hit = chances <= threshold
        return int(hit.sum()), hit

    hit = _holm(len(values), level, found)
    return 1 + hit.sum(axis=0), len(values) - hit.sum(axis=1)


def _holm(size: int, level: float, found: Callable[[float], tuple[int, T]]) -> T:
    """Return what is rejected when each round's threshold is shared by the pairs that are still open."""
    pairs, rejected = size * (size - 1), 0
    for _ in range(_ROUNDS):
        number, hit = found((1 - level) / max(pairs - rejected, 1))
        if number <= rejected:
            return hit
        rejected = number
    return hit


def binomial_tail(a: Floats, b: Floats, half: Floats | float = 0.5) -> Floats:
    """Return the chance of a or more out of a + b, each with the chance `half`; 1 where a is not above zero."""
    from scipy.special import betainc

    some = a > 0
    return np.asarray(np.where(some, betainc(np.where(some, a, 1.0), np.where(some, b + 1, 1.0), half), 1.0))


def first_against_second(sample: Sample) -> float:
    """Return the p-value of the first against the second of a sample, the largest first.

    Notes
    -----
    Twice the one-sided exact test of the two, with no correction for having looked which is first: K. Hung and W.
    Fithian, "Rank verification for exponential families", Ann. Statist. 47, 2019.
    """
    if len(sample.values) < 2:
        return 1.0
    a, b = sample.values[0], sample.values[1]
    squares = a * sample.design[0] + b * sample.design[1]
    scale = (a + b) / squares if squares else 1.0
    half = 0.5
    if sample.exposure is not None:
        half = float(sample.exposure[0] / (sample.exposure[0] + sample.exposure[1]))
    return min(1.0, 2 * float(binomial_tail(np.array(a * scale), np.array(b * scale), half)))
