"""The tails of the hypergeometric distribution, which Fisher's exact test adds up."""

from __future__ import annotations

import numpy as np

from vantric.core.numbers.arrays_part import Floats

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
    pairs = [_tails(*given) for given in zip(*(one.tolist() for one in each), strict=True)]
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

        given = total, marked, drawn
        return float(hypergeom.cdf(hit, *given)), float(hypergeom.sf(hit - 1, *given))
    steps = np.arange(first, last)
    ratios = np.log(marked - steps) + np.log(drawn - steps) - np.log(steps + 1)
    ratios -= np.log(total - marked - drawn + steps + 1)
    logs = np.concatenate([[0.0], np.cumsum(ratios)])
    weights = np.exp(logs - logs.max())
    whole, at = weights.sum(), int(hit - first)
    lower = weights[: at + 1].sum() / whole if at >= 0 else 0.0
    upper = weights[max(at, 0) :].sum() / whole if at < len(weights) else 0.0
    return float(min(1.0, lower)), float(min(1.0, upper))
