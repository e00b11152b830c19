"""Intervals that hold all shares, or all rates, at once."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np

from vantric.core.statistics.sample import Sample

if TYPE_CHECKING:
    from vantric.core.statistics.sample import Floats

#: Sums of weights are off by their floats.
_NEAR = 1e-9
_FAR = 10.0  # standard errors: beyond any level that is asked for


def share_intervals(sample: Sample, level: float = 0.95) -> tuple[Floats, Floats]:
    """Return intervals that hold all shares at once, with a chance of at least `level`.

    Parameters
    ----------
    sample
        Of k categories that were fixed beforehand.
    level
        The chance, from above 0 to below 1.

    Returns
    -------
    low, high : ndarray of float, shape (k,)
        Shares from 0 to 1.

    Notes
    -----
    C. J. Clopper and E. S. Pearson, Biometrika 26, 1934, for each share, at the level that Bonferroni's inequality
    asks for; of records that stand for several occurrences, with the effective size (`sample_of`).
    """
    sizes = sample.sizes
    return binomial_limits(sample.values / sample.total * sizes, sizes, 1 - (1 - level) / len(sizes))


def binomial_limits(hits: Any, trials: Any, level: float) -> tuple[Floats, Floats]:
    """Return the exact limits of a share, hits of trials: C. J. Clopper and E. S. Pearson, Biometrika 26, 1934."""
    from scipy.special import betaincinv

    x, n = np.broadcast_arrays(np.asarray(hits, dtype=np.float64), np.asarray(trials, dtype=np.float64))
    tail = (1 - level) / 2
    none, all_ = x <= 0, x >= n * (1 - _NEAR)
    low = np.where(none, 0.0, betaincinv(np.where(none, 1.0, x), np.where(none, 1.0, n - x + 1), tail))
    high = np.where(all_, 1.0, betaincinv(np.where(all_, 1.0, x + 1), np.where(all_, 1.0, n - x), 1 - tail))
    return _wide(low, x, n, -1.0), _wide(high, x, n, 1.0)


def _wide(limit: Floats, x: Floats, n: Floats, side: float) -> Floats:
    """Return limits with those of so many trials that the quantile has no digits left: ten standard errors away."""
    lost = ~np.isfinite(limit)
    if not lost.any():
        return limit
    share = np.divide(x, n, out=np.zeros_like(x), where=n > 0)
    away = share + side * _FAR * np.sqrt(share * (1 - share) / np.maximum(n, 1.0))
    return np.where(lost, np.clip(away, 0.0, 1.0), limit)


def rate_intervals(sample: Sample, level: float = 0.95) -> tuple[Floats, Floats]:
    """Return intervals that hold all rates at once, per one of the exposure.

    Notes
    -----
    F. Garwood, Biometrika 28, 1936, at the level that Bonferroni's inequality asks for; of records that stand for
    several occurrences, each count divided by the sum of the squares over the sum.
    """
    from scipy.special import gammaincinv

    assert sample.exposure is not None
    counts = sample.independent()
    tail = (1 - level) / (2 * len(counts))
    some = counts > 0
    low = np.where(some, gammaincinv(np.where(some, counts, 1.0), tail), 0.0)
    high = gammaincinv(counts + 1, 1 - tail)
    scale = sample.design / sample.exposure
    return low * scale, high * scale
