"""What the simulations draw: true shares, records, tallies of them."""

from __future__ import annotations

import numpy as np

from vantric.core.counts.provenance import Missing, Provenance
from vantric.core.counts.tally import Moments, Tally
from vantric.core.counts.tally import single as spread_of_single
from vantric.core.numbers.amounts import Amounts
from vantric.core.statistics.ranks import rank_ranges
from vantric.core.statistics.sample import Sample

SHAPES = ("even", "Zipf", "one dominant", "half rare", "empty")
NOMINAL = 0.95


def shares(shape: str, size: int) -> np.ndarray:
    """Return true shares."""
    if shape == "even":
        found = np.ones(size)
    elif shape == "Zipf":
        found = 1 / np.arange(1, size + 1)
    elif shape == "one dominant":
        found = np.array([9.0 * max(size - 1, 1), *np.ones(size - 1)])
    elif shape == "half rare":
        found = np.where(np.arange(size) < (size + 1) // 2, 1.0, 0.01)
    else:
        found = np.where(np.arange(size) < max(1, size // 2), 1.0, 0.0)
    return found / found.sum()


def plain(counts: np.ndarray) -> Sample:
    """Return counts of single records as a sample."""
    total = float(counts.sum())
    every = np.ones(len(counts))
    return Sample(counts.astype(np.float64), total * every, every, total, total, "records")


def true_ranks(truth: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return the first and the last rank that equal truths may have."""
    above = (truth[None, :] > truth[:, None] * (1 + 1e-12)).sum(axis=1)
    below = (truth[None, :] < truth[:, None] * (1 - 1e-12)).sum(axis=1)
    return 1 + above, len(truth) - below


def ranks_hold(sample: Sample, truth: np.ndarray) -> bool:
    """Whether no range of ranks lies wholly beside the true ones."""
    order = np.argsort(-sample.values, kind="stable")
    first, last = rank_ranges(sample.take(order))
    low, high = true_ranks(truth[order])
    return bool(np.all((first <= high) & (last >= low)))


def drawn_sizes(kind: str, number: int, rng: np.random.Generator) -> np.ndarray:
    """Return how many pieces records stand for."""
    if kind == "2 to 10":
        return rng.integers(2, 11, number)
    return rng.geometric(1 / float(kind), number)


def clustered_tally(labels: np.ndarray, pieces: np.ndarray, size: int) -> Tally:
    """Return the tally of records that stand for several pieces."""
    names = tuple(f"c{at}" for at in range(size))
    sums = np.bincount(labels, pieces, size)
    squares, records = np.bincount(labels, pieces.astype(float) ** 2, size), np.bincount(labels, minlength=size)
    moments = {n: Moments(int(r), float(s), float(s)) for n, r, s in zip(names, records, squares, strict=True)}
    return Tally(
        names,
        Amounts.of(sums.astype(np.int64)),
        Missing(),
        Provenance(count="pieces"),
        spread=spread_of_single(moments),
    )
