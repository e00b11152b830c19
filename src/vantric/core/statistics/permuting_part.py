"""A permutation test: how often pairs that are matched at random go together as well."""

from __future__ import annotations

from itertools import permutations

import numpy as np

_DRAWS = 9_999
_EVERY = 8  # pairs, up to which all orders are taken
_BLOCK = 2_000_000
_NEAR = 1e-9
_MOST_PERMUTED = 1_000  # pairs that are permuted
_SEED = 1


def permutation_p(one: np.ndarray, other: np.ndarray) -> float:
    """Return the two-sided p-value of the sum of products of two series, whatever the order of the pairs.

    Parameters
    ----------
    one, other : ndarray of shape (n,)
        Ranks, or any numbers.

    Notes
    -----
    E. J. G. Pitman, "Significance tests which may be applied to samples from any populations II", JRSS suppl. 4, 1937;
    by orders drawn at random beyond eight pairs, and by Student's t beyond a thousand, where that is the same.
    """
    if len(one) > _MOST_PERMUTED:
        return _t_p(one, other)
    order = np.lexsort((other, one))
    x, y = one[order] - one.mean(), np.sort(other) - other.mean()
    seen = abs(float(x @ (other[order] - other.mean())))
    least = seen - _NEAR * max(seen, float(np.abs(x) @ np.abs(y)))
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


def _t_p(one: np.ndarray, other: np.ndarray) -> float:
    """Return the p-value of the correlation of many pairs."""
    from scipy.special import stdtr

    x, y = one - one.mean(), other - other.mean()
    size = float(np.sqrt((x @ x) * (y @ y)))
    value = float(x @ y) / size if size else 0.0
    degrees = len(x) - 2
    return 2 * float(stdtr(degrees, -abs(value) * np.sqrt(degrees / max(1 - value**2, 1e-12))))
