"""The attribute chart of counts over periods: center line, limits of chance, signals."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Mask = NDArray[np.bool_]
_SIGMAS = 3.0
_RANGE = 1.128  # mean of the range of two normal values, in standard deviations
_FEWEST_FOR_LIMITS = 3  # periods, below which there are no limits
_FEW = 5.0  # a period, below which three standard deviations are no limit of chance
_TAIL = 0.00135
_RUN = 9
_ALPHA = 0.05
BEYOND, RUN = "beyond the limits", "run of nine on one side"


@dataclass(frozen=True)
class Point:
    """One period of a chart.

    Attributes
    ----------
    value
        Frequency, rate or percent; None where there is no basis.
    lower, upper
        The limits of chance; None where there are none.
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
    points: tuple[Point, ...]
    center: float | None
    dispersion_p: float | None
    widening: float
    rough: bool

    @property
    def signals(self) -> tuple[tuple[int, str], ...]:
        """The place of each signal, and its rule."""
        return tuple((at, rule) for at, point in enumerate(self.points) for rule in point.signals)


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
            Point(_some(scale * value), None, None, bool(one)) for value, one in zip(values, whole, strict=True)
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
        Point(
            _some(scale * values[at]),
            _some(scale * low[at]),
            _some(scale * high[at]),
            bool(whole[at]),
            (*((BEYOND,) if beyond[at] else ()), *((RUN,) if run[at] else ())),
        )
        for at in range(len(values))
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
    found = np.zeros(len(values), dtype=bool)
    length, before = 0, 0.0
    for at, value in enumerate(values.tolist()):
        if not whole[at] or not np.isfinite(value):
            continue
        side = float(np.sign(value - center))
        length = length + 1 if side and side == before else (1 if side else 0)
        before = side
        found[at] = length >= _RUN
    return found
