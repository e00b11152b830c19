"""Tests that several methods share: chi-square, Fisher's hypergeometric tails, and permutations."""

from __future__ import annotations

from itertools import permutations
from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:
    from vantric.core.numbers.amounts import Floats


_WIDE, _MORE = 40.0, 60  # standard deviations and steps about the mode: beyond them nothing is left of a double
_MOST_TERMS = 4_000_000  # terms


def hypergeometric_tails(
    hits: Floats, marked: Floats, drawn: Floats | float, total: Floats | float
) -> tuple[Floats, Floats]:
    """Return the chance of at most, and of at least, so many marked ones among those drawn.

    Each probability is the one before it times a ratio of integers, and all are divided by their sum: so they are exact
    but for rounding, at any size, and nothing large is subtracted. `scipy.stats`, which takes a second to load, is
    asked only where there are millions of terms.

    Parameters
    ----------
    hits, marked : ndarray of shape (n,)
        Marked ones among those drawn, and in all; whole numbers.
    drawn, total
        How many are drawn, of how many; for all, or for each.
    """
    each = np.broadcast_arrays(hits, marked, drawn, total)
    pairs = [_tails(*values) for values in zip(*(margins.tolist() for margins in each), strict=True)]
    lower, upper = np.array(pairs, dtype=np.float64).reshape(-1, 2).T
    return lower, upper


def _tails(hit: float, marked: float, drawn: float, total: float) -> tuple[float, float]:
    share = marked / total if total else 0.0
    spread = np.sqrt(drawn * share * (1 - share) * (total - drawn) / max(total - 1, 1.0))
    mode, reach = np.floor((drawn + 1) * (marked + 1) / (total + 2)), np.floor(_WIDE * spread) + _MORE
    first = max(0.0, drawn + marked - total, mode - reach)
    last = min(drawn, marked, mode + reach)
    if last - first > _MOST_TERMS:
        from scipy.stats import hypergeom

        margins = total, marked, drawn
        return float(hypergeom.cdf(hit, *margins)), float(hypergeom.sf(hit - 1, *margins))
    steps = np.arange(first, last)
    ratios = np.log(marked - steps) + np.log(drawn - steps) - np.log(steps + 1)
    ratios -= np.log(total - marked - drawn + steps + 1)
    # Logarithms, scaled to the mode: nothing passes the range of a double.
    logs = np.concatenate([[0.0], np.cumsum(ratios)])
    weights = np.exp(logs - logs.max())
    whole, index = weights.sum(), int(hit - first)
    lower = weights[: index + 1].sum() / whole if index >= 0 else 0.0
    upper = weights[max(index, 0) :].sum() / whole if index < len(weights) else 0.0
    return float(min(1.0, lower)), float(min(1.0, upper))


#: Permutations: the smallest p-value is 1 in 10,000.
_DRAWS = 9_999
_EVERY = 8  # pairs, up to which all orders are taken
#: Numbers that are held at once.
_BLOCK = 2_000_000
#: A permuted statistic this near to the observed one is as large: floats are added up in another order.
_NEAR = 1e-9
_MOST_PERMUTED = 1_000  # pairs that are permuted
#: The same data give the same p-value.
_SEED = 1


def permutation_p(first: np.ndarray, other: np.ndarray) -> float:
    """Return the two-sided p-value of the sum of products of two series, whatever the order of the pairs.

    Parameters
    ----------
    first, other : ndarray of shape (n,)
        Ranks, or any numbers.

    Notes
    -----
    E. J. G. Pitman, "Significance tests which may be applied to samples from any populations II", JRSS suppl. 4, 1937;
    by orders drawn at random beyond eight pairs, and by Student's t beyond a thousand, where that is the same.
    """
    if len(first) > _MOST_PERMUTED:
        return _t_p(first, other)
    order = np.lexsort((other, first))
    x, y = first[order] - first.mean(), np.sort(other) - other.mean()
    value = abs(float(x @ (other[order] - other.mean())))
    least = value - _NEAR * max(value, float(np.abs(x) @ np.abs(y)))
    if len(x) <= _EVERY:
        sums = np.abs(np.array(list(permutations(y))) @ x)
        return float((sums >= least).mean())
    rng = np.random.default_rng(_SEED)
    block = max(1, _BLOCK // len(x))
    hits = left = 0
    left = _DRAWS
    while left:
        size = min(block, left)
        drawn = rng.permuted(np.broadcast_to(y, (size, len(y))), axis=1)
        hits += int((np.abs(drawn @ x) >= least).sum())
        left -= size
    return (1 + hits) / (_DRAWS + 1)


def _t_p(first: np.ndarray, other: np.ndarray) -> float:
    """Return the p-value of the correlation of many pairs."""
    from scipy.special import stdtr

    x, y = first - first.mean(), other - other.mean()
    size = float(np.sqrt((x @ x) * (y @ y)))
    value = float(x @ y) / size if size else 0.0
    degrees = len(x) - 2
    return 2 * float(stdtr(degrees, -abs(value) * np.sqrt(degrees / max(1 - value**2, 1e-12))))


_SMALL = 5.0  # expected count, below which the chi-square distribution does not hold
#: Tables that are drawn where expected counts are small; fewer for wide tables.
_MOST_DRAWS, _FEWEST_DRAWS, _MOST_CELLS = 9_999, 199, 1_000_000
_MOST_RECORDS = 5e8  # that NumPy deals out


def expected_of(counts: Floats) -> Floats:
    """Return what each cell would be if rows and columns had nothing to do with each other."""
    return np.asarray(counts.sum(axis=1, keepdims=True) * counts.sum(axis=0, keepdims=True) / counts.sum())


def pearson(counts: Floats, expected: Floats | float) -> float:
    """Return Pearson's statistic; roots are taken first, since huge counts have no square."""
    return float((((counts - expected) / np.sqrt(expected)) ** 2).sum())


def chi_square(counts: Floats, rng: np.random.Generator) -> tuple[float, float, bool]:
    """Return the statistic of independence, its p-value, and whether that is from tables drawn at random.

    Parameters
    ----------
    counts : ndarray of float, shape (r, c)
        Independent records, no row or column of zeros; r and c at least 2.
    rng
        Where the draws come from.

    Notes
    -----
    K. Pearson, Philosophical Magazine 50, 1900; where an expected count is below 5, by tables with the same margins
    drawn at random (W. M. Patefield, Applied Statistics 30, 1981).
    """
    expected = expected_of(counts)
    statistic = pearson(counts, expected)
    if float(expected.min()) >= _SMALL or counts.sum() > _MOST_RECORDS:
        from scipy.special import chdtrc

        return statistic, float(chdtrc((counts.shape[0] - 1) * (counts.shape[1] - 1), statistic)), False
    return statistic, _drawn_p(counts, statistic, rng), True


def _drawn_p(counts: Floats, statistic: float, rng: np.random.Generator) -> float:
    """Deal the records of the rows out to the columns at random, cell by cell."""
    turned = counts.T if counts.shape[0] < counts.shape[1] else counts
    rows = np.maximum(1, np.round(turned.sum(axis=1))).astype(np.int64)
    columns = np.maximum(1, np.round(turned.sum(axis=0))).astype(np.int64)
    largest = rows if rows.sum() < columns.sum() else columns  # rounding may part the two sums
    # The largest one bears the difference best.
    largest[int(largest.argmax())] += abs(int(rows.sum() - columns.sum()))
    draws = max(_FEWEST_DRAWS, min(_MOST_DRAWS, _MOST_CELLS // turned.size))
    expected = np.outer(rows, columns) / rows.sum()
    total = np.zeros(draws)
    left = np.broadcast_to(rows, (draws, len(rows))).copy()
    for index in range(len(columns) - 1):
        to_deal = np.full(draws, columns[index])
        after = left.sum(axis=1)
        for row in range(len(rows)):
            after = after - left[:, row]
            dealt = rng.hypergeometric(left[:, row], after, to_deal) if row < len(rows) - 1 else to_deal
            to_deal = to_deal - dealt
            left[:, row] -= dealt
            total += (dealt - expected[row, index]) ** 2 / expected[row, index]
    total += ((left - expected[:, -1]) ** 2 / expected[:, -1]).sum(axis=1)
    return (1 + int((total >= statistic * (1 - 1e-9)).sum())) / (draws + 1)
