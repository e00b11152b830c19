"""The chi-square test of a two-way table: rows and columns have nothing to do with each other."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
_SMALL = 5.0  # expected count, below which the chi-square distribution does not hold
_MOST_DRAWS, _FEWEST_DRAWS, _MOST_CELLS = 9_999, 199, 1_000_000
_MOST_RECORDS = 5e8  # that NumPy deals out


def expected_of(counts: Floats) -> Floats:
    """Return what each cell would be if rows and columns had nothing to do with each other."""
    return np.asarray(counts.sum(axis=1, keepdims=True) * counts.sum(axis=0, keepdims=True) / counts.sum())


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
    statistic = float(((counts - expected) ** 2 / expected).sum())
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
    largest[int(largest.argmax())] += abs(int(rows.sum() - columns.sum()))
    draws = max(_FEWEST_DRAWS, min(_MOST_DRAWS, _MOST_CELLS // turned.size))
    expected = np.outer(rows, columns) / rows.sum()
    total = np.zeros(draws)
    left = np.broadcast_to(rows, (draws, len(rows))).copy()
    for at in range(len(columns) - 1):
        wanted = np.full(draws, columns[at])
        after = left.sum(axis=1)
        for row in range(len(rows)):
            after = after - left[:, row]
            taken = rng.hypergeometric(left[:, row], after, wanted) if row < len(rows) - 1 else wanted
            wanted = wanted - taken
            left[:, row] -= taken
            total += (taken - expected[row, at]) ** 2 / expected[row, at]
    total += ((left - expected[:, -1]) ** 2 / expected[:, -1]).sum(axis=1)
    return (1 + int((total >= statistic * (1 - 1e-9)).sum())) / (draws + 1)
