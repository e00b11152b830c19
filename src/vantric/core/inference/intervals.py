"""Simultaneous intervals for the shares of a whole."""

from __future__ import annotations

from statistics import NormalDist
from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.floating[Any]]


def share_intervals(counts: NDArray[np.int64], level: float = 0.95) -> tuple[Floats, Floats]:
    """Return intervals that hold all shares of a multinomial at once, with a chance of at least about `level`.

    Parameters
    ----------
    counts : ndarray of int, shape (k,)
        How often each category occurred; their sum is above zero.
    level
        The chance, from above 0 to below 1.

    Returns
    -------
    low, high : ndarray of float, shape (k,)
        Shares from 0 to 1.

    Notes
    -----
    L. A. Goodman, "On simultaneous confidence intervals for multinomial proportions", Technometrics 7(2), 1965:
    Wilson's interval (E. B. Wilson, JASA 22, 1927) of each share, at the level that Bonferroni's inequality asks for.
    """
    total, size = int(counts.sum()), len(counts)
    if size == 1:
        return np.ones(1), np.ones(1)
    z = NormalDist().inv_cdf(1 - (1 - level) / (2 * size))
    observed, quantile = counts.astype(np.float64), z * z
    half = np.sqrt(quantile * (quantile + 4 * observed * (total - observed) / total))
    low = (quantile + 2 * observed - half) / (2 * (total + quantile))
    high = (quantile + 2 * observed + half) / (2 * (total + quantile))
    return np.clip(low, 0.0, 1.0), np.clip(high, 0.0, 1.0)
