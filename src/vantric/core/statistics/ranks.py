"""Which ranks each category may have, whether the first is the first, and whether there are vital few at all."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, TypeVar

import numpy as np
from numpy.typing import NDArray

from vantric.core.statistics.sample import Sample
from vantric.core.statistics.significance_tests import pearson

if TYPE_CHECKING:
    from vantric.core.statistics.sample import Floats

_SMALL = 5.0  # expected count, below which the chi-square distribution does not hold
#: Draws of the test of evenness, and what may be held at once.
_MOST_DRAWS, _MOST_CELLS = 9_999, 5_000_000
_BAND, _FEWEST_BAND, _MOST_BAND_CELLS = 1_500, 1_000, 150_000  # tables of the band
_FAR = 6.0  # standard deviations
_MOST_BAND = 1_000  # categories
_MOST_RECORDS = 2.0**53  # beyond which there is nothing left to chance


@dataclass(frozen=True)
class Evenness:
    """Whether all categories may be equally likely.

    Attributes
    ----------
    statistic, degrees
        Chi-square, and its degrees of freedom.
    p
        The chance of one as large or larger, if all categories are equally likely.
    simulated
        Whether `p` is from tables drawn at random, since some expected counts are small.
    """

    statistic: float
    degrees: int
    p: float
    simulated: bool


def surely_uneven(sample: Sample) -> bool:
    """Whether the p-value is so small that there is no need to work it out.

    Notes
    -----
    E. B. Wilson and M. M. Hilferty, PNAS 17, 1931: the cube root of chi-square is nearly normal.
    """
    counts = sample.alike()
    degrees = len(counts) - 1
    expected = float(counts.sum()) / len(counts)
    if degrees < 1 or sample.exposure is not None or expected < _SMALL:
        return False
    ratio = pearson(counts, expected) / degrees
    part = 2 / (9 * degrees)
    return bool(np.cbrt(ratio) - (1 - part) > _FAR * part**0.5)


def evenness_of(sample: Sample, rng: np.random.Generator) -> Evenness:
    """Test whether all categories are equally likely; of rates, whether all rates are the same.

    Notes
    -----
    K. Pearson, Philosophical Magazine 50, 1900; by tables drawn at random where an expected count is below 5 (A. C. A.
    Hope, JRSS B 30, 1968). Of records that stand for several occurrences, with the effective number of records (J. N.
    K. Rao and A. J. Scott, Ann. Statist. 12, 1984).
    """
    counts = sample.alike()
    total, size = float(counts.sum()), len(counts)
    weights = np.full(size, 1 / size) if sample.exposure is None else sample.exposure / sample.exposure.sum()
    expected = total * weights
    statistic = pearson(counts, expected)
    if size < 2:
        return Evenness(0.0, 0, 1.0, False)
    if float(expected.min()) >= _SMALL:
        from scipy.special import chdtrc

        return Evenness(statistic, size - 1, float(chdtrc(size - 1, statistic)), False)
    draws = max(99, min(_MOST_DRAWS, _MOST_CELLS // size))
    tables = rng.multinomial(max(1, round(total)), weights, size=draws)
    drawn = ((tables - expected) ** 2 / expected).sum(axis=1)
    p = (1 + int((drawn >= statistic * (1 - 1e-9)).sum())) / (draws + 1)
    return Evenness(statistic, size - 1, p, True)


def even_band(sample: Sample, level: float, rng: np.random.Generator) -> tuple[Floats, Floats] | None:
    """Return between which shares all ranked bars would be, at once, if all categories were equally likely.

    Returns
    -------
    low, high : ndarray of float, shape (k,), or None
        The largest bar first; None of more than a thousand categories, or of rates.

    Notes
    -----
    The extreme rank length: M. Myllymaki, T. Mrkvicka, P. Grabarnik, H. Seijo and U. Hahn, JRSS B 79, 2017.
    """
    size = len(sample.values)
    if size > _MOST_BAND or sample.exposure is not None or sample.effective > _MOST_RECORDS:
        return None
    total = max(1, round(sample.effective))
    draws = max(_FEWEST_BAND, min(_BAND, _MOST_BAND_CELLS // size))
    tables = np.sort(rng.multinomial(total, np.full(size, 1 / size), size=draws), axis=1)[:, ::-1]
    rows = [row.tobytes() for row in np.sort(_outlying(tables), axis=1).astype(">u2")]
    order = sorted(range(draws), key=rows.__getitem__)
    typical = tables[order[int((1 - level) * draws) :]]
    return typical.min(axis=0) / total, typical.max(axis=0) / total


def _outlying(tables: NDArray[np.int64]) -> NDArray[np.int64]:
    """Return for each number of a column how many of the column are as far out on its side, itself too."""
    draws, size = tables.shape
    order = np.argsort(tables, axis=0, kind="stable")
    ranked = np.take_along_axis(tables, order, axis=0)
    first = np.concatenate([np.ones((1, size), dtype=bool), ranked[1:] != ranked[:-1]])
    places = np.arange(draws)[:, None]
    start = np.maximum.accumulate(np.where(first, places, 0), axis=0)
    ends = np.concatenate([first[1:], np.ones((1, size), dtype=bool)])
    end = np.minimum.accumulate(np.where(ends, places, draws)[::-1], axis=0)[::-1]
    lengths = np.empty_like(tables)
    np.put_along_axis(lengths, order, np.minimum(end + 1, draws - start), axis=0)
    return lengths


Ints = NDArray[np.intp]
_TABLE = 1000  # categories, up to which every pair is worked out where pairs differ in more than their counts
#: Rounds of Holm's iteration; it ends much sooner.
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
    T. Wright and J. Wieczorek, JRSS A 183, 2020; D. Al Mohamad, J. Goeman and E. van Zwet, Biometrics 78, 2022. Of
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


def _holm(size: int, level: float, step: Callable[[float], tuple[int, T]]) -> T:
    """Return what is rejected when each round's threshold is shared by the pairs that are still open."""
    pairs, rejected = size * (size - 1), 0
    for _ in range(_ROUNDS):
        number, hit = step((1 - level) / max(pairs - rejected, 1))
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
