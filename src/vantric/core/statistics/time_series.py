"""Two series in time: whether their changes go together, beyond trend and season."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, get_args

import numpy as np

from vantric.core.numbers.label_order import calendar_keys, is_turned, month_words, plain_word
from vantric.core.numbers.periods import Period, period_kind, period_start

#: Period -> how many make a season.
_SEASONS: dict[str, int] = {"day": 7, "week": 52, "month": 12, "quarter": 4, "year": 1}
_CYCLES = 3  # seasons that must have been seen, to tell a season from chance
#: What a season of each period is called.
_NAMES = {"day": "weeks", "week": "years", "month": "years", "quarter": "years"}
_FEWEST = 6.0  # changes that count
#: Lags beyond which autocorrelations are no longer added up.
_MOST_LAGS = 500
#: A series that varies by less has nothing to go together with.
_FLAT = 1e-9
#: A year as a label.
_YEAR = re.compile(r"(1[89]|20|21)\d\d")


@dataclass(frozen=True)
class TimedRelation:
    """What the changes of two series say.

    Attributes
    ----------
    changes
        How many changes from one period to the next both series have.
    effective
        How many independent ones tell as much.
    correlation
        Of the ranks of the changes, without their trend and season; None if it cannot be said.
    p
        Of none.
    period
    reason
        Why it cannot be said; else empty.
    """

    changes: int
    effective: float
    correlation: float | None
    p: float | None
    period: str
    reason: str = ""


def time_of(labels: Sequence[str]) -> tuple[Period, list[int]] | None:
    """Return the period that labels are, and their places in the order of time; None if they are not in time.

    Months and weekdays by name, ISO 8601 periods and days, and years are in time, whether or not somebody says so.
    """
    kind = period_kind(labels)
    if kind in get_args(Period):
        period: Any = kind
        return period, sorted(range(len(labels)), key=lambda index: period_start(labels[index]))
    keys = calendar_keys(labels)
    if keys is not None:
        named: Period = "month" if any(word in month_words() for word in plain_word(labels[0]).split()) else "day"
        order = list(range(len(labels))) if is_turned(keys) else sorted(range(len(labels)), key=keys.__getitem__)
        return named, order
    if len(labels) > 1 and all(_YEAR.fullmatch(label.strip()) for label in labels):
        return "year", sorted(range(len(labels)), key=lambda index: int(labels[index]))
    return None


def timed_relation(first: np.ndarray, other: np.ndarray, period: Period | None) -> TimedRelation:
    """Relate the changes of two series from one period to the next.

    Parameters
    ----------
    first, other : ndarray of shape (n,)
        NaN where a value is missing.
    period
        How far apart the values are; None if it is not known.

    Notes
    -----
    Of each series the differences are taken, and their means by season (three years or more) and linear trend removed;
    the ranks of what is left are correlated. Each series is correlated with itself too, so that n changes count as (n -
    season - 1) / max(1, 1 + 2 sum (1 - k/n) r_x(k) r_y(k)), k up to n / 4 (M. S. Bartlett, JRSS 98, 1935; B. J. Pyper
    and R. M. Peterman, Can. J. Fish. Aquat. Sci. 55, 1998); p by Student's t. Simulated: docs/certainty.md.
    """
    if period is None:
        return TimedRelation(0, 0.0, None, None, "", "it is not known how far apart the values are: name the period")
    x, y = np.diff(first), np.diff(other)
    valid = ~(np.isnan(x) | np.isnan(y))
    season = _SEASONS[period]
    n = int(valid.sum())
    if season > 1 and n < _CYCLES * season - 1:
        return TimedRelation(
            n,
            0.0,
            None,
            None,
            period,
            f"they may share a season, and {_CYCLES} {_NAMES[period]} are needed to tell it from a relation",
        )
    places = np.flatnonzero(valid)
    design = _design(places, season)
    left = [_without(values[valid], design) for values in (x, y)]
    if any(float(np.abs(draws).max(initial=0.0)) == 0.0 for draws in left):
        return TimedRelation(n, 0.0, None, None, period, "without trend and season one of them does not vary")
    a, b = (_ranked(values) for values in left)
    effective = (n - design.shape[1]) / _stretch(a, b)
    if effective < _FEWEST:
        return TimedRelation(n, max(effective, 0.0), None, None, period, f"{n} changes are too few")
    value = float(a @ b) / math.sqrt(float(a @ a) * float(b @ b))
    return TimedRelation(n, effective, value, _p(value, effective), period)


def _design(places: np.ndarray, season: int) -> np.ndarray:
    """Return what is removed: a mean a season, and a trend."""
    means = np.zeros((len(places), season))
    means[np.arange(len(places)), places % season] = 1.0
    trend = (places - places.mean()) / max(len(places), 1)
    return np.column_stack([means, trend])


def _without(values: np.ndarray, design: np.ndarray) -> np.ndarray:
    """Return what is left of values, zero where that is noise of the arithmetic."""
    size = float(np.abs(values).max(initial=0.0))
    if size == 0.0:
        return values
    scaled = values / size
    coefficients, *_ = np.linalg.lstsq(design, scaled, rcond=None)
    left = scaled - design @ coefficients
    return np.where(np.abs(left) > _FLAT, left, 0.0)


def _ranked(values: np.ndarray) -> np.ndarray:
    _, inverse, times = np.unique(values, return_inverse=True, return_counts=True)
    last = np.cumsum(times)
    ranks = (last - (times - 1) / 2)[inverse]
    return np.asarray(ranks - ranks.mean())


def _stretch(a: np.ndarray, b: np.ndarray) -> float:
    """Return by how much the likeness of each series to itself shrinks their number."""
    n = len(a)
    own = [
        [float(series[k:] @ series[:-k]) / float(series @ series) for k in range(1, min(n // 4, _MOST_LAGS) + 1)]
        for series in (a, b)
    ]
    likeness = math.fsum((1 - k / n) * r * s for k, (r, s) in enumerate(zip(*own, strict=True), start=1))
    return max(1.0, 1 + 2 * likeness)


def _p(value: float, effective: float) -> float:
    from scipy.special import stdtr

    size = max(1 - value**2, 1e-12)
    return 2 * float(stdtr(effective - 2, -abs(value) * math.sqrt((effective - 2) / size)))
