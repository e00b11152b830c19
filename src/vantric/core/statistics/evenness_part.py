"""Whether there are vital few at all: against categories that are all equally likely."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from vantric.core.statistics.sample import Sample

Floats = NDArray[np.float64]
_SMALL = 5.0  # expected count, below which the chi-square distribution does not hold
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
    ratio = float(((counts - expected) ** 2).sum()) / expected / degrees
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
    statistic = float(((counts - expected) ** 2 / expected).sum())
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
    kept = tables[order[int((1 - level) * draws) :]]
    return kept.min(axis=0) / total, kept.max(axis=0) / total


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
    found = np.empty_like(tables)
    np.put_along_axis(found, order, np.minimum(end + 1, draws - start), axis=0)
    return found
