"""Whether counts rise or fall over the periods: a log-linear Poisson trend."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from vantric.core.statistics.permuting_part import permutation_p

Floats = NDArray[np.float64]
Mask = NDArray[np.bool_]
_FEWEST_FOR_SLOPE = 4  # periods
_SMALL = 200.0  # counts in all, up to which tables are drawn
_DRAWS, _MOST_CELLS = 9_999, 5_000_000
_MOST_PERMUTED = 400  # periods: of more, Student's t is as good
_STEPS, _CLOSE, _STEEPEST = 50, 1e-10, 20.0


@dataclass(frozen=True)
class Slope:
    """A trend.

    Attributes
    ----------
    change, low, high
        By which factor it changes from one period to the next, and the interval of 95 %; None if it cannot be fitted.
    p
        Of no trend.
    dispersion
        By how much the counts differ more around the trend than independent ones would; at least 1.
    periods
        How many the trend is of.
    """

    change: float | None
    low: float | None
    high: float | None
    p: float
    dispersion: float
    periods: int


def slope_of(counts: Floats, basis: Floats, whole: Mask, *, percent: bool, start: int = 1) -> Slope | None:
    """Test whether counts rise or fall over the periods.

    Parameters
    ----------
    counts, basis : ndarray of float, shape (m,)
        Independent occurrences, and what they are counted in; the time is the place.
    whole : ndarray of bool, shape (m,)
        Which periods are looked at.
    percent
        Whether counts are among their basis, as a share of it.
    start
        What the random counts begin with.

    Returns
    -------
    Slope or None
        None of fewer than four periods, or where nothing was counted.

    Notes
    -----
    The score test of the trend given the total (P. Armitage, Biometrics 11, 1955); its variance times the Pearson
    dispersion around the fitted trend where that is above 1, and then against Student's t (P. McCullagh and J. A.
    Nelder, "Generalized Linear Models", 1989), and not below what the periods in any other order say; of few counts,
    not below what tables drawn at random say.
    """
    time, y, e = np.flatnonzero(whole).astype(np.float64), counts[whole], basis[whole]
    total = float(y.sum())
    if len(time) < _FEWEST_FOR_SLOPE or total <= 0:
        return None
    time = time - float((e * time).sum() / e.sum())
    rate = total / float(e.sum())
    free = max(1 - rate, 1e-9) if percent else 1.0
    score = float((time * y).sum())
    size = float(np.sqrt(rate * free * (e * time**2).sum()))
    if size == 0:
        return None
    fitted, beta, error = _fit(y, e, time)
    spread = np.maximum(fitted * (1 - fitted / e if percent else 1.0), 1e-9)
    dispersion = max(1.0, float(((y - fitted) ** 2 / spread).sum()) / (len(time) - 2))
    p, quantile = _p(abs(score) / size, dispersion, len(time) - 2)
    if dispersion > 1 and len(time) <= _MOST_PERMUTED:
        p = max(p, permutation_p(time, y / e))
    if total <= _SMALL:
        p = max(p, _drawn(time, e, total, abs(score), start))
    if error is None or beta is None:
        return Slope(None, None, None, p, dispersion, len(time))
    half = quantile * error * float(np.sqrt(dispersion))
    low, high = (min(beta - half, 0.0), max(beta + half, 0.0)) if p > 0.05 else (beta - half, beta + half)
    ends = [float(np.exp(np.clip(one, -_STEEPEST, _STEEPEST))) for one in (beta, low, high)]
    return Slope(ends[0], ends[1], ends[2], p, dispersion, len(time))


def _p(z: float, dispersion: float, degrees: int) -> tuple[float, float]:
    """Return the two-sided p-value, and the quantile for an interval of 95 %."""
    from scipy.special import ndtr, ndtri, stdtr, stdtrit

    if dispersion <= 1:
        return 2 * float(ndtr(-z)), float(ndtri(0.975))
    return 2 * float(stdtr(degrees, -z / np.sqrt(dispersion))), float(stdtrit(degrees, 0.975))


def _drawn(time: Floats, e: Floats, total: float, score: float, start: int) -> float:
    draws = max(999, min(_DRAWS, _MOST_CELLS // len(time)))
    tables = np.random.default_rng(start).multinomial(max(1, round(total)), e / e.sum(), size=draws)
    scores = np.abs(tables @ time)
    return float(1 + (scores >= score * (1 - 1e-9)).sum()) / (draws + 1)


def _fit(y: Floats, e: Floats, time: Floats) -> tuple[Floats, float | None, float | None]:
    """Return fitted counts, slope and its standard error, by Newton's method; without a slope where there is none."""
    level, beta = float(np.log(y.sum() / e.sum())), 0.0
    for _ in range(_STEPS):
        fitted = e * np.exp(np.clip(level + beta * time, -700, 700))
        information = np.array(
            [[fitted.sum(), (fitted * time).sum()], [(fitted * time).sum(), (fitted * time**2).sum()]]
        )
        score = np.array([(y - fitted).sum(), ((y - fitted) * time).sum()])
        try:
            step = np.linalg.solve(information, score)
        except np.linalg.LinAlgError:
            return e * y.sum() / e.sum(), None, None
        size = float(np.abs(step).max())
        step = step / max(1.0, size)
        level, beta = level + float(step[0]), beta + float(step[1])
        if size < _CLOSE:
            break
    if abs(beta) > _STEEPEST or not np.isfinite(beta):
        return e * y.sum() / e.sum(), None, None
    fitted = e * np.exp(level + beta * time)
    variance = np.linalg.inv(information)[1, 1]
    return fitted, beta, float(np.sqrt(max(variance, 0.0)))
