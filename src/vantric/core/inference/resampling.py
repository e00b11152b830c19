"""Drawing a table of counts again and again: where each rank is, and how often a category is vital."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

_SHORT = 31  # bits
Ints = NDArray[np.integer[Any]]
Floats = NDArray[np.floating[Any]]


def drawn_again(counts: Ints, resamples: int, rng: np.random.Generator) -> Ints:
    """Return tables drawn with the observed shares: ndarray of int, shape (resamples, k).

    The parametric bootstrap of a multinomial: B. Efron and R. J. Tibshirani, "An Introduction to the Bootstrap", 1993.
    """
    total = int(counts.sum())
    return rng.multinomial(total, counts / total, size=resamples)


def sorted_with_owner(tables: Ints) -> tuple[Ints, Ints]:
    """Return each table in descending order and which category is at each rank; ties in the order given.

    The number of the category rides in the low bits of its count, so that one plain sort does both.
    """
    size = tables.shape[1]
    bits = max(1, (size - 1).bit_length())
    small = int(tables[0].sum()).bit_length() + bits < _SHORT
    kind = np.int32 if small else np.int64
    keys = (tables.astype(kind) << bits) + (size - 1 - np.arange(size, dtype=kind))
    keys = np.sort(keys, axis=1)[:, ::-1]
    return keys >> bits, size - 1 - (keys & ((1 << bits) - 1))


def rank_counts(owners: Ints) -> Ints:
    """Return how often each category had each rank: ndarray of int, shape (k, k), a row a category."""
    size = owners.shape[1]
    flat = owners * size + np.arange(size)
    return np.bincount(flat.ravel(), minlength=size * size).reshape(size, size)


def rank_ranges(ranks: Ints, level: float) -> tuple[Ints, Ints]:
    """Return for each category the ranks between which it lay with a chance of `level`, equally cut at both ends."""
    share = np.cumsum(ranks, axis=1) / ranks.sum(axis=1, keepdims=True)
    tail = (1 - level) / 2
    return 1 + np.argmax(share > tail, axis=1), 1 + np.argmax(share >= 1 - tail - 1e-12, axis=1)


def vital_chances(ordered: Ints, owners: Ints, cut: float, rule: str) -> Floats:
    """Return how often each category is inside the cutoff: ndarray of float, shape (k,)."""
    resamples, size = owners.shape
    running = np.cumsum(ordered, axis=1)
    limit = cut / 100 * running[:, -1:]
    inside = (running <= limit * (1 + 1e-12)).sum(axis=1)
    if rule == "reach":
        inside = np.minimum((running < limit * (1 - 1e-12)).sum(axis=1) + 1, size)
    among = np.arange(size) < inside[:, None]
    return np.asarray(np.bincount(owners[among], minlength=size) / resamples)


def even_band(total: int, size: int, resamples: int, level: float, rng: np.random.Generator) -> tuple[Floats, Floats]:
    """Return between which counts each ranked bar would be if all categories were equally likely."""
    tables = np.sort(rng.multinomial(total, np.full(size, 1 / size), size=resamples), axis=1)[:, ::-1]
    tail = (1 - level) / 2
    low, high = np.quantile(tables, (tail, 1 - tail), axis=0)
    return np.asarray(low), np.asarray(high)
