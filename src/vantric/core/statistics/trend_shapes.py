"""Whether a change over the periods is a steady one, one step, or no more than a drift."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal, Protocol

import numpy as np

from vantric.base.lazily import dataclass

if TYPE_CHECKING:
    from vantric.core.statistics.sample import Floats

Shape = Literal["steady", "step", "either", "neither", "drift", "none"]
#: An estimate and the ends of its interval, on the log scale.
Estimate = tuple[float, float, float]
_ALPHA = 0.05
#: Drift is looked for where the counts vary more than counts do.
_VARY = 0.1
#: The steepest change over all periods on the log scale; Newton's steps, and halvings of an interval.
_STEEPEST, _STEPS, _CLOSE, _HALVINGS = 20.0, 40, 1e-9, 36
_LEAST_MEAN = 1e-9
#: A column of which so little is left beside a design says nothing; a value this near to another is as large.
_NOTHING_LEFT, _NEAR = 1e-6, 1e-9
#: Correlations of neighbors that are tried, up to what a random walk looks like.
_GRID = np.array([*np.arange(0, 0.9, 0.1), 0.9, 0.95, 0.98])
#: Periods, beyond which the sums over all pairs of them have reached their limits.
_LONG = 150


class Contrasts(Protocol):
    """What is used here of the contrasts of a row of periods: see `trend_tests.Plan`."""

    percent: bool
    time: Floats
    base: Floats
    out: Floats
    contrasts: Floats
    step_columns: Floats
    df: int
    largest_beside: Floats
    studentized_beside: Floats

    def free(self, rate: float) -> float:
        """Return the variance of a count over its mean."""

    def unit(self, columns: Floats) -> Floats:
        """Return weighted columns of length 1, at right angles to the base."""


@dataclass(frozen=True)
class ShapeTest:
    """The shape of a change.

    Attributes
    ----------
    shape
        As if it were significant.
    slope, step
        The logarithms of the factor from one period to the next, and of that of the mean since the step.
    root
        How far the estimate of the shape is from no change, in its standard deviations: the root of the ratio of
        likelihoods.
    """

    shape: Shape
    slope: Estimate
    step: Estimate
    root: float


class _Fit:
    """A log-linear Poisson model of one column beside the seasons, whose means it has in closed form."""

    def __init__(self, y: Floats, e: Floats, column: Floats, base: Floats, free: float) -> None:
        self.y, self.e, self.base, self.free = y, e, base, free
        self.length = float(np.ptp(column)) or 1.0
        self.x = (column - column.min()) / self.length
        self.totals = base.T @ y
        self.beta = self._largest()
        self.mean = np.maximum(self._means(np.array([self.beta]))[0], _LEAST_MEAN)
        self.weights = np.sqrt(self.mean / free)
        self.design = np.linalg.qr(np.column_stack([base, self.x]) * self.weights[:, None])[0]
        residuals = (y - self.mean) / np.sqrt(self.mean * free)
        self.left = residuals - self.design @ (self.design.T @ residuals)
        self.squares = float(self.left @ self.left)

    def _means(self, beta: Floats) -> Floats:
        """Return the fitted counts for slopes, a row each."""
        shapes = self.e * np.exp(beta[:, None] * self.x)
        return np.asarray(shapes * ((self.totals / np.maximum(shapes @ self.base, 1e-300)) @ self.base.T))

    def _likelihood(self, beta: Floats) -> Floats:
        means = np.log(np.maximum(self._means(beta), 1e-300))
        return np.asarray((np.where(self.y > 0, means, 0.0) * self.y).sum(axis=1))

    def _largest(self) -> float:
        # Newton's steps, short enough not to jump off where a side has no counts at all.
        beta = 0.0
        for _ in range(_STEPS):
            mean = self._means(np.array([beta]))[0]
            moment = self.base.T @ (mean * self.x)
            information = float(mean @ self.x**2) - float((moment**2 / np.maximum(self.totals, 1e-300)).sum())
            if information < 1e-12:
                break
            step = float(np.clip(float(self.x @ (self.y - mean)) / information, -2.0, 2.0))
            beta = float(np.clip(beta + step, -_STEEPEST, _STEEPEST))
            if abs(step) < _CLOSE or abs(beta) == _STEEPEST:
                break
        return beta

    def added(self, columns: Floats, spare: int) -> tuple[float, float]:
        """Return the largest of what columns add to what is fitted, and the dispersion that it leaves, at least 1."""
        largest = float(np.abs(self.left @ unit_beside(self.design, columns * self.weights[:, None])).max())
        return largest, max(1.0, (self.squares - largest**2) / spare)

    def estimate(self, dispersion: float, far: float) -> tuple[Estimate, float]:
        """Return the estimate with the ends that are `far` away by their likelihood, and how far no change is.

        Venzon and Moolgavkar's profile likelihood (Appl. Statist. 37, 1988), divided by the dispersion.
        """
        top = float(self._likelihood(np.array([self.beta]))[0])
        scale = self.free * dispersion
        drop = far**2 * scale / 2
        inside, outside = np.full(2, self.beta), np.array([-_STEEPEST, _STEEPEST])
        for _ in range(_HALVINGS):
            middle = (inside + outside) / 2
            is_inside = top - self._likelihood(middle) <= drop
            inside, outside = np.where(is_inside, middle, inside), np.where(is_inside, outside, middle)
        root = np.sqrt(max(2 * (top - float(self._likelihood(np.zeros(1))[0])) / scale, 0.0))
        low, high = ((inside + outside) / 2).tolist()
        return (self.beta / self.length, low / self.length, high / self.length), float(root)


def fitted_shape(plan: Contrasts, y: Floats, e: Floats, z: Floats, step: int, far: float) -> ShapeTest:
    """Return the shape of a change.

    Parameters
    ----------
    plan
        The contrasts.
    y, e : ndarray of float, shape (m,)
        Counts and their basis.
    z : ndarray of float, shape (m,)
        The standardized counts.
    step
        The place of the best step.
    far
        How many standard deviations the ends of intervals are away.

    Notes
    -----
    Each of slope and step is tested for what it adds to the other (G. E. Mizon and J.-F. Richard, Econometrica 54,
    1986), the steps all at once (D. W. K. Andrews, Econometrica 61, 1993), at 5% each. A drift: the residuals vary more
    than counts do, and the contrast is no longer significant if the excess is that of a first-order autoregression.
    """
    from scipy.special import chdtrc, ndtr, stdtr

    free = plan.free(float(y.sum() / e.sum()))
    is_since = (np.arange(len(y)) >= step).astype(np.float64)
    fits = {"steady": _Fit(y, e, plan.time, plan.base, free), "step": _Fit(y, e, is_since, plan.base, free)}
    spare = max(plan.df - 2, 1)
    steps, wide = fits["steady"].added(plan.step_columns, spare)
    p_steps = upper(plan.largest_beside if wide == 1 else plan.studentized_beside, steps / np.sqrt(wide))
    slope, wide = fits["step"].added(plan.time[:, None], spare)
    p_slope = 2 * float(ndtr(-slope) if wide == 1 else stdtr(spare, -slope / np.sqrt(wide)))
    best = min(fits, key=lambda name: fits[name].squares)
    shape = _shape(p_steps, p_slope)
    if float(chdtrc(plan.df - 1, fits[best].squares)) <= _VARY:
        contrast = plan.contrasts[:, 0] if best == "steady" else plan.unit(is_since[:, None])[:, 0]
        if drift_p(fits[best].left, float(abs(z @ contrast)), contrast, plan.out, plan.df - 1) > _ALPHA:
            shape = "drift"
    estimates = {name: fit.estimate(max(1.0, fit.squares / (plan.df - 1)), far) for name, fit in fits.items()}
    roots = {name: root for name, (_, root) in estimates.items()}
    return ShapeTest(shape, estimates["steady"][0], estimates["step"][0], roots.get(shape, max(roots.values())))


def _shape(p_steps: float, p_slope: float) -> Shape:
    if p_steps > _ALPHA >= p_slope:
        return "steady"
    if p_slope > _ALPHA >= p_steps:
        return "step"
    return "either" if min(p_steps, p_slope) > _ALPHA else "neither"


def drift_p(left: Floats, value: float, contrast: Floats, out: Floats, df: int) -> float:
    """Return the p-value of a contrast if what varies beyond counts is an autoregression of first order.

    Parameters
    ----------
    left : ndarray of float, shape (m,)
        Residuals beside the contrast and the base, in standard deviations of counts.
    value
        The size of the contrast.
    contrast, out : ndarray of float, shapes (m,) and (m, g)
        The contrast and the base, of unit length.
    df
        Degrees of freedom of the residuals.

    Notes
    -----
    The correlation of neighbors is what the residuals show, corrected for what the fit takes away, plus one standard
    error; the contrast is then a t value with the degrees of freedom of F. E. Satterthwaite (Biometrics 2, 1946).
    """
    from scipy.special import stdtr

    size, dispersion = len(left), float(left @ left) / df
    if dispersion <= 1:
        return 0.0
    neighbors = float(left[1:] @ left[:-1]) / float(left @ left)
    sums = np.array([_sums(rho, contrast, out, size, df) for rho in _GRID])
    # What varies beyond counts is spread over the trace that the fit leaves of an autoregression.
    excess = (dispersion - 1) * df / sums[:, 0]
    shown_by_rho = np.maximum.accumulate((sums[0, 1] + excess * sums[:, 1]) / (df * dispersion))
    rho = float(np.interp(neighbors + 1 / np.sqrt(size), shown_by_rho, _GRID))
    trace, _, spread, traces = (float(np.interp(rho, _GRID, sums[:, column])) for column in range(4))
    scale = (dispersion - 1) * df / trace
    freedom = max((df + scale * trace) ** 2 / (df + 2 * scale * trace + scale**2 * traces), 1.0)
    return 2 * float(stdtr(freedom, -value / np.sqrt(1 + scale * spread)))


def _sums(rho: float, contrast: Floats, out: Floats, size: int, df: int) -> tuple[float, float, float, float]:
    """Return of an autoregression: its trace beside the fit, that of neighbors, its variance of the contrast, squares.

    Of long series what they come to without the fit.
    """
    if size > _LONG:
        spread = (1 + rho) / (1 - rho)
        return float(df), rho * df, spread, df * (1 + rho**2) / (1 - rho**2)
    fitted = np.column_stack([out, contrast])
    beside = np.eye(size) - fitted @ fitted.T
    near = (np.eye(size, k=1) + np.eye(size, k=-1)) / 2
    row = rho ** np.arange(size)
    related = row[np.abs(np.subtract.outer(np.arange(size), np.arange(size)))]
    product = beside @ related
    trace, neighbors = float(np.trace(product)), float(np.sum((product @ beside) * near))
    return trace, neighbors, float(contrast @ related @ contrast), float(np.sum(product * product.T))


def unit_beside(design: Floats, columns: Floats) -> Floats:
    """Return columns at right angles to a design, scaled to length 1; zero where nothing is left of one."""
    left = columns - design @ (design.T @ columns)
    length = np.linalg.norm(left, axis=0)
    some = length > _NOTHING_LEFT * np.linalg.norm(columns, axis=0)
    return np.where(some, left / np.where(some, length, 1.0), 0.0)


def upper(reference: Floats, value: float) -> float:
    """Return the share of an ordered reference that is at least a value, which is one of them."""
    number = len(reference)
    return float(1 + number - np.searchsorted(reference, value * (1 - _NEAR))) / (number + 1)
