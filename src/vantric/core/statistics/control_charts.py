"""The attribute chart of one category: its center line, control limits, signals, and how many chance alone makes."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, TypeAlias

import numpy as np
from numpy.typing import NDArray

from vantric.base.lazily import dataclass
from vantric.core.statistics.significance_tests import hypergeometric_tails

if TYPE_CHECKING:
    from vantric.core.statistics.sample import Floats

Mask: TypeAlias = NDArray[np.bool_]
#: The share beyond each limit: that of a normal distribution beyond three standard deviations.
_TAIL = 0.00135
_RANGE = 1.128  # mean of the range of two normal values, in standard deviations
#: Periods, below which there are no limits.
FEWEST_FOR_LIMITS = 3
_ALPHA = 0.05  # of the test whether the values differ more than counts do
#: At most so many of the periods are left out of the center line.
_MOST_LEFT_OUT = 0.25
_NEAR = 1e-9  # relative: a value on a limit is within it
#: Steps from the normal quantile to the exact one.
_STEPS = 60
BEYOND = "beyond the limits"


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
    expected
        How many points chance alone puts beyond the limits.
    left_out
        The places of the points that are left out of the center line: they were furthest beyond the limits.
    """

    kind: str
    points: tuple[ChartPoint, ...]
    center: float | None
    dispersion_p: float | None = None
    widening: float = 1.0
    expected: float = 0.0
    left_out: tuple[int, ...] = ()

    @property
    def signals(self) -> tuple[tuple[int, str], ...]:
        """The place of each signal, and its rule."""
        return tuple((index, rule) for index, point in enumerate(self.points) for rule in point.signals)


@dataclass(frozen=True, eq=False)
class _Limits:
    """A center line and its limits, in independent records.

    `per` is the center per one of the basis, `scale` by how much the counts vary more than independent ones would.
    """

    per: float
    scale: float
    p: float | None
    low: Floats
    high: Floats


def control_chart(
    counts: Floats,
    basis: Floats,
    whole: Mask,
    *,
    scale: float = 1.0,
    percent: bool = False,
    design: float = 1.0,
    baseline: Mask | None = None,
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
    baseline : ndarray of bool, shape (m,), or None
        The periods that center line and limits are of; None for all that are whole, but those furthest outside.

    Notes
    -----
    The c, u and p chart (W. A. Shewhart, "Economic Control of Quality of Manufactured Product", 1931; ISO 7870-2) with
    probability limits: the exact quantiles of Poisson's or the binomial distribution at 0.00135, so that what is drawn
    decides. Where the values differ more than counts do (R. A. Fisher's index of dispersion, 1950) the limits are
    widened as D. B. Laney has it (Quality Engineering 14, 2002), never narrowed. The point furthest outside is left
    out of the center line, and the center worked out again, for at most a quarter of them (phase I: D. C. Montgomery,
    "Introduction to Statistical Quality Control"). How many points are beyond the limits by chance: the tails of each
    count given the sum of all.
    """
    kind = "p" if percent else "c" if np.ptp(basis) == 0 and scale == 1.0 else "u"
    with np.errstate(divide="ignore", invalid="ignore"):
        values = np.where(basis > 0, scale * counts / basis, np.nan)
    in_center = whole & (basis > 0) if baseline is None else baseline & whole & (basis > 0)
    if not counts[in_center].sum() > 0 or int(in_center.sum()) < FEWEST_FOR_LIMITS:
        return ControlChart(kind, _points(values, whole), None)
    y, e = counts / design, basis / (design if percent else 1.0)
    limits, in_center = _settled(y, e, in_center, percent=percent, fixed=baseline is not None)
    beyond = whole & _outside(y, limits)
    unit = scale * design
    with np.errstate(divide="ignore", invalid="ignore"):
        low, high = (np.where(basis > 0, unit * ends / basis, np.nan) for ends in (limits.low, limits.high))
    left_out = () if baseline is not None else tuple(np.flatnonzero(whole & (basis > 0) & ~in_center).tolist())
    return ControlChart(
        kind,
        _points(values, whole, low, high, beyond),
        scale * limits.per * (1.0 if percent else design),
        limits.p,
        float(np.sqrt(limits.scale)),
        _expected(y, e, whole & (basis > 0), in_center, limits, percent=percent),
        left_out,
    )


def _points(
    values: Floats, whole: Mask, low: Floats | None = None, high: Floats | None = None, beyond: Mask | None = None
) -> tuple[ChartPoint, ...]:
    return tuple(
        ChartPoint(
            _finite(value),
            None if low is None else _finite(low[index]),
            None if high is None else _finite(high[index]),
            bool(whole[index]),
            (BEYOND,) if beyond is not None and beyond[index] else (),
        )
        for index, value in enumerate(values.tolist())
    )


def _finite(value: float) -> float | None:
    return float(value) if np.isfinite(value) else None


def _settled(y: Floats, e: Floats, in_center: Mask, *, percent: bool, fixed: bool) -> tuple[_Limits, Mask]:
    """Return limits that are of the periods within them: the furthest outside goes first, then the next."""
    most = 0 if fixed else max(1, int(_MOST_LEFT_OUT * in_center.sum()))
    limits = _limits(y, e, in_center, percent=percent)
    for _ in range(most):
        # One at a time: the next may be outside only because this one has moved the center.
        outside = in_center & _outside(y, limits)
        if not outside.any() or int(in_center.sum()) <= FEWEST_FOR_LIMITS:
            break
        expected = e * limits.per
        away = np.abs(y - expected) / np.sqrt(np.maximum(expected, 1e-300))
        in_center = in_center.copy()
        in_center[int(np.where(outside, away, -1.0).argmax())] = False
        if not y[in_center].sum() > 0:
            break
        limits = _limits(y, e, in_center, percent=percent)
    return limits, in_center


def _outside(y: Floats, limits: _Limits) -> Mask:
    """Whether counts are beyond their limits, as both are drawn."""
    return np.asarray((y > limits.high * (1 + _NEAR)) | (y < limits.low * (1 - _NEAR)))


def _limits(y: Floats, e: Floats, in_center: Mask, *, percent: bool) -> _Limits:
    """Return the limits of the center of some periods, for all."""
    from scipy.special import chdtrc

    per = float(y[in_center].sum() / e[in_center].sum())
    free = max(1 - per, 1e-12) if percent else 1.0
    z = (y[in_center] - e[in_center] * per) / np.sqrt(np.maximum(e[in_center] * per * free, 1e-300))
    p = float(chdtrc(len(z) - 1, float(z @ z))) if len(z) >= FEWEST_FOR_LIMITS else None
    scale = max(1.0, (float(np.abs(np.diff(z)).mean()) / _RANGE) ** 2) if p is not None and p <= _ALPHA else 1.0
    low, high = exact_limits(e * per / scale, e / scale if percent else None)
    return _Limits(per, scale, p, low * scale, np.minimum(high * scale, e) if percent else high * scale)


def exact_limits(mean: Floats, trials: Floats | None = None) -> tuple[Floats, Floats]:
    """Return between which counts all but 0.00135 lie at each end.

    Parameters
    ----------
    mean : ndarray of float
        Of Poisson's distribution; with `trials` of the binomial one.
    trials : ndarray of float, or None
        Rounded to whole ones.
    """
    mean = np.maximum(mean, 1e-12)
    size = None if trials is None else np.maximum(np.round(trials), 1.0)
    share = None if size is None else np.minimum(mean / size, 1.0)
    sigma = np.sqrt(mean * (1.0 if share is None else 1 - share))
    # From three standard deviations it is a few steps to the exact count, whatever the mean.
    above, below = _tails(mean, size, share)
    high = _walked(np.floor(mean + 3 * sigma + 1), lambda count: above(count) <= _TAIL, up=True)
    low = _walked(np.ceil(mean - 3 * sigma - 1), lambda count: below(count) <= _TAIL, up=False)
    return low, high if size is None else np.minimum(high, size)


def _tails(
    mean: Floats, size: Floats | None, share: Floats | None
) -> tuple[Callable[[Floats], Floats], Callable[[Floats], Floats]]:
    """Return the chance of more than a count, and that of fewer."""
    from scipy.special import bdtr, bdtrc, pdtr, pdtrc

    if size is None:
        return (
            lambda count: pdtrc(np.maximum(count, 0), mean),
            lambda count: np.where(count > 0, pdtr(np.maximum(count - 1, 0), mean), 0.0),
        )
    whole = size.astype(np.int64)

    def over(count: Floats) -> Floats:
        return np.where(count >= size, 0.0, bdtrc(np.clip(count, 0, size), whole, share))

    return over, lambda count: np.where(count > 0, bdtr(np.clip(count - 1, 0, size), whole, share), 0.0)


def _walked(start: Floats, fine: Callable[[Floats], Mask], *, up: bool) -> Floats:
    """Return the count nearest to the middle that is fine: from a start near it, one by one."""
    away = 1.0 if up else -1.0
    count = np.maximum(start, 0.0)
    for _ in range(_STEPS):
        is_fine = fine(count)
        nearer = fine(np.maximum(count - away, 0.0)) & (count - away >= 0) & is_fine
        step = np.where(~is_fine, away, np.where(nearer, -away, 0.0))
        if not step.any():
            break
        count = np.maximum(count + step, 0.0)
    return count


def _expected(y: Floats, e: Floats, whole: Mask, in_center: Mask, limits: _Limits, *, percent: bool) -> float:
    """Return how many whole periods are beyond their limits by chance, given the sum of those in the center line."""
    from scipy.special import bdtr, bdtrc

    high = np.floor(limits.high[whole] / limits.scale * (1 + _NEAR))
    low = np.ceil(limits.low[whole] / limits.scale * (1 - _NEAR))
    of_center, total = in_center[whole], max(1.0, float(np.round(y[in_center].sum() / limits.scale)))
    mean = np.maximum(e[whole] * limits.per / limits.scale, 1e-12)
    if percent:
        trials = np.maximum(np.round(e / limits.scale), 1.0)
        every = np.maximum(trials[in_center].sum(), np.maximum(trials[whole], total))
        others = _tails(mean, trials[whole], np.minimum(mean / trials[whole], 1.0))
        below, _ = hypergeometric_tails(low - 1, np.full(len(low), total), trials[whole], every)
        _, above = hypergeometric_tails(high + 1, np.full(len(low), total), trials[whole], every)
    else:
        share, others = np.minimum(e[whole] / e[in_center].sum(), 1.0), _tails(mean, None, None)
        above = np.where(high >= total, 0.0, bdtrc(np.minimum(high, total), int(total), share))
        below = np.where(low > 0, bdtr(np.clip(low - 1, 0, total), int(total), share), 0.0)
    return float(np.where(of_center, above + below, others[0](high) + others[1](low)).sum())
