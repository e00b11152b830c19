"""Whether counts change over the periods: the slope and every step of each category, with seasons taken away."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from vantric.base.lazily import dataclass
from vantric.core.statistics.control_charts import Mask
from vantric.core.statistics.trend_shapes import Estimate, Shape, fitted_shape, unit_beside, upper

if TYPE_CHECKING:
    from vantric.core.statistics.sample import Floats

#: Whole periods, below which nothing is said of a change.
FEWEST = 8
_ALPHA = 0.05
#: Contrasts of steps, at most: of long series they are as good as all.
_MOST_STEPS = 20
#: Normal draws, and permutations of the periods; more of many categories, fewer of very long series.
_DRAWS, _ORDERS, _DRAWS_EACH, _ORDERS_EACH, _MOST_CELLS = 2_999, 999, 100, 40, 5_000_000
#: Periods, below which the spread around a change is hardly known.
_FEW_PERIODS = 12
#: Mean count of a period, below which tables are drawn.
_SPARSE = 5.0
#: Further tests are made of what may still be significant; pooled overdispersion is suspected early.
_MAYBE, _SUSPECTED = 0.1, 0.2
_NEAR = 1e-9


@dataclass(frozen=True)
class PeriodChange:
    """How a category changes over the periods.

    Attributes
    ----------
    p, p_adjusted
        Of no change; and with the other categories in mind (Bonferroni).
    shape
        ``"steady"``, ``"step"``, ``"either"`` or ``"neither"`` of what is significant, ``"drift"`` of what cannot be
        told from a drift, ``"none"`` of the rest.
    slope
        By which factor it changes from one period to the next, and its interval, which holds no change unless that is
        significant; None of another shape than a steady one.
    step
        The same of the mean since a step over that before it; None of another shape.
    since
        The place of the first period after the step.
    dispersion
        By how much the counts differ more around the change than independent ones would; at least 1.
    periods
        How many it is of.
    seasonal
        Whether the means of the seasons were taken away.
    """

    p: float
    p_adjusted: float
    shape: Shape
    slope: Estimate | None
    step: Estimate | None
    since: int
    dispersion: float
    periods: int
    seasonal: bool

    @property
    def significant(self) -> bool:
        """Whether the category changed, which no drift explains."""
        return self.p_adjusted <= _ALPHA and self.shape not in ("none", "drift")


def changes_over(
    counts: Sequence[Floats],
    bases: Sequence[Floats],
    whole: Mask,
    *,
    season: int = 1,
    percent: bool = False,
    start: int = 1,
) -> list[PeriodChange | None]:
    """Test whether categories change over the periods.

    Parameters
    ----------
    counts, bases : sequences of ndarray of float, shape (m,)
        Of each category: independent occurrences, and what they are counted in. Bases of one table are multiples of
        each other.
    whole : ndarray of bool, shape (m,)
        Which periods are looked at; the time is the place.
    season
        Periods of a season, whose means are taken away where two seasons are there; 1 for none.
    percent
        Whether counts are among their basis, as a share of it.
    start
        What the random numbers begin with.

    Returns
    -------
    list of PeriodChange or None
        None of fewer than eight periods, or where nothing was counted.

    Notes
    -----
    With z = (y - e r) / sqrt(e r) the largest of the contrasts with a slope and with at most 20 steps; p is the largest
    of those that the null gives by normal draws, by draws with the spread estimated (where the counts vary more), by
    tables drawn at random (where they are few), and by permuted periods (where they vary more), within the periods of
    a season once its means are taken away. Of all categories by Bonferroni, since an interval goes with each.
    """
    places = np.flatnonzero(whole)
    if len(places) < FEWEST:
        return [None] * len(counts)
    y = [series[whole] for series in counts]
    e = [basis[whole] for basis in bases]
    tested = [index for index, (series, basis) in enumerate(zip(y, e, strict=True)) if _varies(series, basis, percent)]
    if not tested:
        return [None] * len(counts)
    seasons = season if season > 1 and places[-1] - places[0] + 1 >= 2 * season else 1
    plan = Plan(places, e[0], seasons, percent=percent, tests=len(tested), start=start)
    wide = plan.overdispersed([y[index] for index in tested], [e[index] for index in tested])
    changes: list[PeriodChange | None] = [None] * len(counts)
    for index in tested:
        changes[index] = plan.change(y[index], e[index], wide=wide)
    return changes


def _varies(y: Floats, e: Floats, percent: bool) -> bool:
    return float(y.sum()) > 0 and not (percent and bool(np.all(y >= e)))


class Plan:
    """The contrasts of a row of periods, and how large they are where nothing changes; shared by its categories.

    Attributes
    ----------
    weights, time : ndarray of float, shape (m,)
        The square root of the basis, scaled to a mean square of 1, and the centered time.
    base : ndarray of float, shape (m, g)
        Ones for the periods of each season; a column of ones without seasons.
    contrasts : ndarray of float, shape (m, c)
        The slope, then the steps: of unit length, and at right angles to the base.
    """

    def __init__(
        self, places: NDArray[np.intp], basis: Floats, seasons: int, *, percent: bool, tests: int, start: int
    ) -> None:
        size = len(places)
        self.places, self.seasons, self.percent, self.tests = places, seasons, percent, tests
        self.weights = np.sqrt(basis / basis.mean())
        self.time = places - places.mean()
        of_season = (places[:, None] % seasons == np.arange(seasons)[None]).astype(np.float64)
        self.base = of_season[:, of_season.any(axis=0)]
        self.out = np.linalg.qr(self.weights[:, None] * self.base)[0]
        self.df = size - self.out.shape[1]
        side = max(2, size // 8)
        self.every_step = np.arange(side, size - side + 1)
        few = np.unique(np.linspace(0, len(self.every_step) - 1, _MOST_STEPS).round().astype(int))
        self.steps = self.every_step[few] if len(self.every_step) > _MOST_STEPS else self.every_step
        self.step_columns = self.steps_at(self.steps)
        self.contrasts = self.unit(np.column_stack([self.time, self.step_columns]))
        self.rng = np.random.default_rng(start)
        self._draw(size)
        self.orders: NDArray[np.intp] | None = None
        self.drawn: dict[int, Floats] = {}

    def steps_at(self, steps: NDArray[np.intp]) -> Floats:
        """Return a column a step: 0 before it, 1 since."""
        return (np.arange(len(self.places))[:, None] >= steps[None]).astype(np.float64)

    def unit(self, columns: Floats) -> Floats:
        """Return weighted columns without their part in the base, scaled to length 1; zero where nothing is left."""
        return unit_beside(self.out, columns * self.weights[:, None])

    def _draw(self, size: int) -> None:
        """Draw what the contrasts are where nothing changes: largest of all, and largest beside the slope."""
        number = max(_DRAWS, _DRAWS_EACH * self.tests)
        noise = self.rng.standard_normal((max(_ORDERS, min(number, _MOST_CELLS // size)), size))
        noise -= (noise @ self.out) @ self.out.T
        squares, slope = (noise**2).sum(axis=1), self.contrasts[:, 0]
        # What a step adds to a slope is that part of it which is at right angles to the slope.
        beside = self.contrasts[:, 1:] - np.outer(slope, slope @ self.contrasts[:, 1:])
        length = np.linalg.norm(beside, axis=0)
        beside = np.where(length > 0.05, beside / np.maximum(length, 1e-12), 0.0)
        self.largest, self.studentized = _references(noise @ self.contrasts, squares, self.df - 1)
        rest = squares - (noise @ slope) ** 2
        self.largest_beside, self.studentized_beside = _references(noise @ beside, rest, max(self.df - 2, 1))

    def quantile(self, alpha: float) -> float:
        """Return what the largest contrast exceeds with that chance."""
        number = len(self.largest)
        return float(np.interp(1 - alpha, np.arange(1, number + 1) / (number + 1), self.largest))

    def standardized(self, y: Floats, e: Floats) -> Floats:
        """Return counts as deviations from one rate, in its standard deviations, without the means of the seasons."""
        rate = float(y.sum() / e.sum())
        z = (y - e * rate) / np.sqrt(e * rate * self.free(rate))
        return np.asarray(z - self.out @ (self.out.T @ z))

    def free(self, rate: float) -> float:
        """Return the variance of a count over its mean."""
        return max(1 - rate, 1e-9) if self.percent else 1.0

    def overdispersed(self, counts: Sequence[Floats], bases: Sequence[Floats]) -> bool:
        """Whether all categories together vary more than counts do around their largest contrast."""
        from scipy.special import chdtrc

        total = 0.0
        for y, e in zip(counts, bases, strict=True):
            z = self.standardized(y, e)
            total += float(z @ z) - float(((z @ self.contrasts) ** 2).max())
        return float(chdtrc(len(counts) * (self.df - 1), total)) <= _SUSPECTED

    def change(self, y: Floats, e: Floats, *, wide: bool) -> PeriodChange:
        """Return how a category changes; `wide` if the categories together vary more than counts do."""
        z = self.standardized(y, e)
        values = z @ self.contrasts
        best = int(np.abs(values).argmax())
        left = z - values[best] * self.contrasts[:, best]
        dispersion = float(left @ left) / max(self.df - 1, 1)
        p = self._p(z, float(abs(values[best])), dispersion, y, e, wide=wide)
        every = np.abs(z @ self.unit(self.steps_at(self.every_step)))
        step = int(self.every_step[int(every.argmax())])
        fit = fitted_shape(self, y, e, z, step, self.quantile(_ALPHA / self.tests))
        p = max(p, upper(self.largest, fit.root))
        shape = fit.shape if p <= _ALPHA / self.tests else "none"
        return PeriodChange(
            p,
            min(1.0, self.tests * p),
            shape,
            _factors(fit.slope, holds_none=shape == "none") if shape in ("steady", "none") else None,
            _factors(fit.step) if shape == "step" else None,
            int(self.places[step]),
            max(1.0, dispersion),
            len(self.places),
            self.seasons > 1,
        )

    def _p(self, z: Floats, largest: float, dispersion: float, y: Floats, e: Floats, *, wide: bool) -> float:
        """Return the p-value of no change: the largest of all that apply."""
        # The largest of several p-values is one whatever the counts are: each is right for some that others are not.
        wide = wide or dispersion > 1
        p = upper(self.largest, largest)
        if wide or len(z) < _FEW_PERIODS:
            p = max(p, upper(self.studentized, largest / np.sqrt(max(dispersion, 1e-9))))
        if p <= _MAYBE and float(y.mean()) < _SPARSE:
            p = max(p, upper(self._tables(y, e), largest))
        if p <= _MAYBE and wide:
            again = np.abs(z[self._orders()] @ self.contrasts).max(axis=1)
            p = max(p, (1 + int((again >= largest * (1 - _NEAR)).sum())) / (len(again) + 1))
        return p

    def _orders(self) -> NDArray[np.intp]:
        """Return random orders of the periods, each within its season."""
        if self.orders is None:
            size = len(self.places)
            number = max(_ORDERS, min(_ORDERS_EACH * self.tests, _MOST_CELLS // (size * self.contrasts.shape[1])))
            phase = self.places % self.seasons
            orders = np.empty((number, size), dtype=np.intp)
            orders[:, np.argsort(phase, kind="stable")] = np.argsort(self.rng.random((number, size)) + 2 * phase)
            self.orders = orders
        return self.orders

    def _tables(self, y: Floats, e: Floats) -> Floats:
        """Return the largest contrast of tables drawn at random with the same total, in order."""
        total, number = round(float(y.sum())), max(_ORDERS, 2 * len(self.largest) // 3)
        if total not in self.drawn:
            rate = max(total, 1) / float(e.sum())
            if self.percent:
                sizes = np.maximum(np.round(e), 1).astype(np.int64)
                total_ = min(max(total, 1), int(sizes.sum()))
                tables = self.rng.multivariate_hypergeometric(sizes, total_, size=number, method="marginals")
            else:
                tables = self.rng.multinomial(max(total, 1), e / e.sum(), size=number)
            deviations = (tables - e * rate) / np.sqrt(e * rate * self.free(rate))
            deviations = deviations - (deviations @ self.out) @ self.out.T
            largest = np.sort(np.abs(deviations @ self.contrasts).max(axis=1))
            if self.percent:  # the bases of categories differ
                return largest
            self.drawn[total] = largest
        return self.drawn[total]


def _references(values: Floats, squares: Floats, df: int) -> tuple[Floats, Floats]:
    """Return the largest of each row of contrasts, in order, and the same over the spread that it leaves."""
    largest = np.abs(values).max(axis=1)
    left = np.sqrt(np.maximum(squares - largest**2, 1e-12) / max(df, 1))
    return np.sort(largest), np.sort(largest / left)


def _factors(estimate: Estimate, *, holds_none: bool = False) -> Estimate:
    """Return an estimate and its ends as factors; if it is to hold no change, its ends reach there."""
    value, low, high = estimate
    if holds_none:
        low, high = min(low, 0.0), max(high, 0.0)
    return float(np.exp(value)), float(np.exp(low)), float(np.exp(high))
