"""Whether counts rise or fall over the periods (log-linear Poisson), and the attribute chart with its signals."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from vantric.core.statistics.significance_tests import permutation_p

if TYPE_CHECKING:
    from vantric.core.statistics.sample import Floats

Mask = NDArray[np.bool_]
#: Shewhart's limits: three standard deviations.
_SIGMAS = 3.0
_RANGE = 1.128  # mean of the range of two normal values, in standard deviations
_FEWEST_FOR_LIMITS = 3  # periods, below which there are no limits
_FEW = 5.0  # a period, below which three standard deviations are no control limit
#: The normal tail beyond three standard deviations.
_TAIL = 0.00135
#: Points in a row on one side of the center line (Nelson 1984).
_RUN = 9
#: The level of the slope's test.
_ALPHA = 0.05
BEYOND, RUN = "beyond the limits", "run of nine on one side"


@dataclass(frozen=True)
class ChartPoint:
    """One period of a chart.

    Attributes
    ----------
    value
        Frequency, rate or percent; None where there is no basis.
    lower, upper
        The control limits; None where there are none.
    whole
        Whether it counts: not of a partial period.
    signals
        The rules that it breaks.
    """

    value: float | None
    lower: float | None
    upper: float | None
    whole: bool
    signals: tuple[str, ...] = ()


@dataclass(frozen=True)
class ControlChart:
    """The chart of one category.

    Attributes
    ----------
    kind
        ``"c"`` of counts, ``"u"`` of rates, ``"p"`` of shares.
    points
        One a period.
    center
        The center line; None where nothing was counted.
    dispersion_p
        Of the test whether the values differ more than counts do; None where it cannot be made.
    widening
        By which the limits are wider than those of counts (Laney); 1 if the test does not ask for it.
    rough
        Whether fewer than five are counted in a period on average: exact limits decide on signals then too.
    """

    kind: str
    points: tuple[ChartPoint, ...]
    center: float | None
    dispersion_p: float | None
    widening: float
    rough: bool

    @property
    def signals(self) -> tuple[tuple[int, str], ...]:
        """The place of each signal, and its rule."""
        return tuple((index, rule) for index, point in enumerate(self.points) for rule in point.signals)


def control_chart(
    counts: Floats, basis: Floats, whole: Mask, *, scale: float = 1.0, percent: bool = False, design: float = 1.0
) -> ControlChart:
    """Return the attribute chart of counts.

    Parameters
    ----------
    counts, basis : ndarray of float, shape (m,)
        What was counted, and in what: ones for frequencies.
    whole : ndarray of bool, shape (m,)
        Which periods count.
    scale
        Values are this times counts over basis.
    percent
        Whether counts are shares of their basis.
    design
        How much one record stands for: the variance of counts is as many times larger.

    Notes
    -----
    W. A. Shewhart, "Economic Control of Quality of Manufactured Product", 1931; ISO 7870-2: the u and the p chart,
    three standard deviations. Where the values differ more than counts do (R. A. Fisher's index of dispersion, 1950)
    the limits are widened as D. B. Laney has it (Quality Engineering 14, 2002), never narrowed. Signals: beyond the
    limits, and nine in a row on one side (L. S. Nelson, J. Quality Technology 16, 1984).
    """
    kind = "p" if percent else "c" if np.ptp(basis) == 0 and scale == 1.0 else "u"
    with np.errstate(divide="ignore", invalid="ignore"):
        values = np.where(basis > 0, counts / basis, np.nan)
    total, in_all = float(counts[whole].sum()), float(basis[whole].sum())
    if not total or int(whole.sum()) < _FEWEST_FOR_LIMITS:
        points = tuple(
            ChartPoint(_some(scale * value), None, None, bool(item)) for value, item in zip(values, whole, strict=True)
        )
        return ControlChart(kind, points, None, None, 1.0, True)
    center = total / in_all
    free = max(1 - center, 0.0) if percent else 1.0
    with np.errstate(divide="ignore", invalid="ignore"):
        sigma = np.where(basis > 0, np.sqrt(center * free * design / basis), np.nan)
    p, widening = _dispersion(values[whole], center, sigma[whole])
    low = np.maximum(center - _SIGMAS * widening * sigma, 0.0)
    high = center + _SIGMAS * widening * sigma
    high = np.minimum(high, 1.0) if percent else high
    rough = total / int(whole.sum()) / design < _FEW
    beyond = whole & ((values > high) | (values < low))
    if rough and widening == 1.0:
        beyond &= _unlikely(counts / design, basis * center / design)
    run = np.zeros(len(values), dtype=bool) if rough else _runs(values, center, whole)
    points = tuple(
        ChartPoint(
            _some(scale * values[index]),
            _some(scale * low[index]),
            _some(scale * high[index]),
            bool(whole[index]),
            (*((BEYOND,) if beyond[index] else ()), *((RUN,) if run[index] else ())),
        )
        for index in range(len(values))
    )
    return ControlChart(kind, points, scale * center, p, widening, rough)


def _some(value: float) -> float | None:
    return float(value) if np.isfinite(value) else None


def _dispersion(values: Floats, center: float, sigma: Floats) -> tuple[float | None, float]:
    """Return the p-value of more spread than counts have, and how much wider limits must be then."""
    from scipy.special import chdtrc

    usable = sigma > 0
    if int(usable.sum()) < _FEWEST_FOR_LIMITS:
        return None, 1.0
    z = (values[usable] - center) / sigma[usable]
    p = float(chdtrc(len(z) - 1, float((z**2).sum())))
    if p > _ALPHA:
        return p, 1.0
    return p, max(1.0, float(np.abs(np.diff(z)).mean()) / _RANGE)


def _unlikely(counts: Floats, expected: Floats) -> Mask:
    """Whether counts are as unlikely as three standard deviations are of a normal value: exact tails of Poisson."""
    from scipy.special import pdtr, pdtrc

    some = np.maximum(expected, 1e-12)
    upper = np.where(counts > 0, pdtrc(np.maximum(np.ceil(counts - 1e-9) - 1, 0), some), 1.0)
    lower = pdtr(np.floor(counts + 1e-9), some)
    return np.asarray((upper <= _TAIL) | (lower <= _TAIL))


def _runs(values: Floats, center: float, whole: Mask) -> Mask:
    """Return the points that end nine or more in a row on one side of the center line."""
    in_run = np.zeros(len(values), dtype=bool)
    length, before = 0, 0.0
    for index, value in enumerate(values.tolist()):
        if not whole[index] or not np.isfinite(value):
            continue
        side = float(np.sign(value - center))
        length = length + 1 if side and side == before else (1 if side else 0)
        before = side
        in_run[index] = length >= _RUN
    return in_run


_FEWEST_FOR_SLOPE = 4  # periods
_SMALL = 200.0  # counts in all, up to which tables are drawn
#: Permutations of the slope, and numbers that are held at once.
_DRAWS, _MOST_CELLS = 9_999, 5_000_000
_MOST_PERMUTED = 400  # periods: of more, Student's t is as good
#: Newton's steps, when they have converged, and the steepest slope on the log scale.
_STEPS, _CLOSE, _STEEPEST = 50, 1e-10, 20.0


@dataclass(frozen=True)
class Slope:
    """A trend.

    Attributes
    ----------
    change, low, high
        By which factor it changes from one period to the next, and the interval of 95%; None if it cannot be fitted.
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
    dispersion = max(1.0, float((((y - fitted) / np.sqrt(spread)) ** 2).sum()) / (len(time) - 2))
    p, quantile = _p(abs(score) / size, dispersion, len(time) - 2)
    if dispersion > 1 and len(time) <= _MOST_PERMUTED:
        p = max(p, permutation_p(time, y / e))
    if total <= _SMALL:
        p = max(p, _drawn(time, e, total, abs(score), start))
    if error is None or beta is None:
        return Slope(None, None, None, p, dispersion, len(time))
    half = quantile * error * float(np.sqrt(dispersion))
    low, high = (min(beta - half, 0.0), max(beta + half, 0.0)) if p > 0.05 else (beta - half, beta + half)
    ends = [float(np.exp(np.clip(value, -_STEEPEST, _STEEPEST))) for value in (beta, low, high)]
    return Slope(ends[0], ends[1], ends[2], p, dispersion, len(time))


def _p(z: float, dispersion: float, degrees: int) -> tuple[float, float]:
    """Return the two-sided p-value, and the quantile for an interval of 95%."""
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
        except np.linalg.LinAlgError:  # no curvature: the fit stays where it began
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
