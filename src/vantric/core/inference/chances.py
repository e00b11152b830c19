"""The chance of each category to be among the vital few, and how many records would settle which they are."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from vantric.core.inference.sample import Sample

Floats = NDArray[np.float64]
_MOST_CELLS = 5_000_000
_PRIOR = 0.5
_EVEN = 1e-12
_SETTLED, _SETTLING, _MOST_SETTLING = 0.95, 400, 1_000
_MOST_RECORDS, _SETTLING_CELLS = 2**40, 40_000


def draws_for(size: int, most: int = 10_000) -> int:
    """Return how often shares of so many categories are drawn."""
    return max(100, min(most, _MOST_CELLS // size))


def vital_chances(
    sample: Sample, cut: float, rule: str, rng: np.random.Generator, *, most: int = 10_000
) -> Floats:  # fmt: skip
    """Return the chance of each category to be one of the vital few.

    Parameters
    ----------
    sample
        Of k categories, the largest first.
    cut
        The cutoff in percent.
    rule
        ``"reach"`` or ``"within"``.
    rng
        Where the draws come from.
    most
        How many draws at most.

    Returns
    -------
    ndarray of float, shape (k,)
        Equal frequencies have equal chances.

    Notes
    -----
    Shares are drawn from their posterior under H. Jeffreys' prior (Proc. R. Soc. A 186, 1946): Dirichlet, 1/2 for each
    category; rates from gamma, 1/2. In a draw a category is vital if its share is at least the one at which the
    descending sum reaches the cutoff.
    """
    size = len(sample.values)
    draws = draws_for(size, most)
    if sample.exposure is None:
        shares = rng.standard_gamma(sample.alike() + _PRIOR, size=(draws, size))
    else:
        shares = rng.standard_gamma(sample.independent() + _PRIOR, size=(draws, size))
        shares *= sample.design / sample.exposure
    inside = shares >= last_inside(shares, cut, rule)[:, None]
    return _averaged(inside.mean(axis=0), sample)


def last_inside(shares: Floats, cut: float, rule: str) -> Floats:
    """Return in each draw the smallest share that is inside the cutoff; above all where none is."""
    ordered = np.sort(shares, axis=1)[:, ::-1]
    running = np.cumsum(ordered, axis=1)
    limit = cut / 100 * running[:, -1:]
    if rule == "reach":
        inside = (running < limit * (1 - _EVEN)).sum(axis=1) + 1
    else:
        inside = (running <= limit * (1 + _EVEN)).sum(axis=1)
    inside = np.minimum(inside, shares.shape[1])
    last = ordered[np.arange(len(ordered)), np.maximum(inside - 1, 0)]
    return np.where(inside > 0, last, np.inf)


def _averaged(chances: Floats, sample: Sample) -> Floats:
    """Return chances averaged over categories of which exactly the same is known."""
    known = np.stack([sample.values, sample.design, *([] if sample.exposure is None else [sample.exposure])], axis=1)
    if sample.exposure is None:
        known = known[:, :1]
    _, inverse = np.unique(known, axis=0, return_inverse=True)
    inverse = inverse.reshape(-1)
    return np.asarray(np.bincount(inverse, chances)[inverse] / np.bincount(inverse)[inverse])


def settling_records(sample: Sample, cut: float, rule: str, seed: int) -> int | None:
    """Return how many records like these would name the same vital few with a chance of 95 %; None if none would.

    Parameters
    ----------
    sample
        Of k categories, the largest first; its shares are taken for the true ones.
    cut, rule
        The cutoff.
    seed
        What the draws begin with; the same for every number of records that is tried.

    Notes
    -----
    Tables are drawn from a multinomial with the observed shares; the number is doubled until 95 of 100 tables agree,
    and then bisected to within a tenth. Records that stand for several occurrences are counted as they come.
    """
    if sample.exposure is not None or len(sample.values) > _MOST_SETTLING or sample.effective > _MOST_RECORDS:
        return None
    shares = sample.values / sample.total
    vital = _vital(shares[None, :], cut, rule)[0]
    if len(np.unique(shares[vital])) and np.any(np.isin(shares[vital], shares[~vital])):
        return None  # a tie at the cutoff stays one
    inside = float(shares[vital].sum())
    least = float(shares[vital].min()) if vital.any() else 0.0
    gaps = (inside - cut / 100, inside - least - cut / 100)
    if min(map(abs, gaps)) < 1e-9:
        return None  # the sum is on the cutoff itself

    draws = max(_SETTLING // 2, min(_SETTLING, _SETTLING_CELLS // len(shares)))

    def agreed(records: int) -> bool:
        tables = np.random.default_rng(seed).multinomial(records, shares, size=draws).astype(np.float64)
        same = (_vital(tables, cut, rule) == vital).all(axis=1)
        return bool(same.mean() >= _SETTLED)

    most = max(2, int(sample.effective))
    while not agreed(most):
        most *= 2
        if most > _MOST_RECORDS:
            return None
    least_known = most // 2 if most > sample.effective else 1
    while most - least_known > max(1, most // 10):
        middle = (most + least_known) // 2
        most, least_known = (middle, least_known) if agreed(middle) else (most, middle)
    return round(most * sample.records / sample.effective)


def _vital(tables: Floats, cut: float, rule: str) -> NDArray[np.bool_]:
    return np.asarray(tables >= last_inside(tables, cut, rule)[:, None])
