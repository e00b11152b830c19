"""Two series in time: whether their changes go together, beyond trend and season."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from typing import Any, get_args

import numpy as np

from vantric.base.lazily import compiled, dataclass
from vantric.core.numbers.label_order import calendar_keys, is_turned, month_words, plain_word
from vantric.core.numbers.periods import Period, period_kind, period_start

#: Period -> how many make a season.
_SEASONS: dict[str, int] = {"day": 7, "week": 52, "month": 12, "quarter": 4, "year": 1}
_CYCLES = 3  # seasons that must have been seen, to tell a season from chance
_GROWING = 5  # and to tell one that changes over the years from a relation
#: A season is taken to change with time where both series have such a p-value.
_CHANGES = 0.3
#: What a season of each period is called.
_NAMES = {"day": "weeks", "week": "years", "month": "years", "quarter": "years"}
_FEWEST = 6.0  # changes that count
#: Lags beyond which autocorrelations are no longer added up.
_MOST_LAGS = 500
#: A series that varies by less has nothing to go together with.
_FLAT = 1e-9
#: A year as a label.
_YEAR = compiled(r"(1[89]|20|21)\d\d")


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
    Of each series the differences are taken, and their means by season (three years or more) and linear trend removed,
    and where the seasons of both change with time (an F test of season x time at 0.3), that too, of five years or more;
    where they change in yet another way (season x time squared, or changes that are still like those a season before),
    nothing is said. The ranks of what is left are correlated. Each series is correlated with itself too, so that n
    changes count as (n - season - 1) / max(1, 1 + 2 sum (1 - k/n) r_x(k) r_y(k)), k up to n / 4 (M. S. Bartlett, JRSS
    98, 1935; B. J. Pyper and R. M. Peterman, Can. J. Fish. Aquat. Sci. 55, 1998); p by Student's t. The same of the
    logarithms of a series that is above zero throughout: the larger p of the two counts, since a season in percent is
    one and the same on the one scale only, and a straight line on the other. Simulated: docs/certainty.md.
    """
    if period is None:
        return TimedRelation(0, 0.0, None, None, "", "it is not known how far apart the values are: name the period")
    pairs = [(first, other)]
    logs = tuple(_leveled(values) for values in pairs[0])
    if any(log is not values for log, values in zip(logs, pairs[0], strict=True)):
        pairs.append((logs[0], logs[1]))
    answers = [_of_changes(np.diff(left), np.diff(right), period) for left, right in pairs]
    final = [
        answer for answer in answers if answer.reason and (answer.p is None or answer.reason not in _seasonal(period))
    ]
    if final or all(answer.reason for answer in answers):
        refused = (final or answers)[0]
        return replace(refused, correlation=None, p=None)
    # What one scale cannot take away the other one may, but the first is not silent: both must be related.
    return replace(max(answers, key=lambda answer: answer.p or 0.0), reason="")


def _of_changes(x: np.ndarray, y: np.ndarray, period: Period) -> TimedRelation:
    """Return what the changes of two series on one scale say."""
    valid = ~(np.isnan(x) | np.isnan(y))
    season = _SEASONS[period]
    n = int(valid.sum())
    unknown = TimedRelation(n, 0.0, None, None, period)
    if season > 1 and n < _CYCLES * season - 1:
        few = f"they may share a season, and {_CYCLES} {_NAMES[period]} are needed to tell it from a relation"
        return replace(unknown, reason=few)
    places, series = np.flatnonzero(valid), (x[valid], y[valid])
    design, trouble = _removed(series, places, season)
    left = [_without(values, design) for values in series]
    if any(float(np.abs(rest).max(initial=0.0)) == 0.0 for rest in left):
        return replace(unknown, reason="without trend and season one of them does not vary")
    a, b = (_ranked(values) for values in left)
    if trouble is None and season > 1 and min(_season_left(rest, places, season) for rest in (a, b)) > 0:
        trouble = _LEFT
    reason = "" if trouble is None else _seasonal(period)[trouble]
    effective = (n - int(np.linalg.matrix_rank(design))) / _stretch(a, b)
    if effective < _FEWEST:
        return replace(unknown, effective=max(effective, 0.0), reason=reason or f"{n} changes are too few")
    value = float(a @ b) / math.sqrt(float(a @ a) * float(b @ b))
    return TimedRelation(n, effective, value, _p(value, effective), period, reason)


def _leveled(values: np.ndarray) -> np.ndarray:
    """Return the logarithms of a series that is above zero throughout: a season in percent is the same every year."""
    return np.log(values) if np.all(values[~np.isnan(values)] > 0) else values


#: Places of the reasons below.
_TOO_SHORT, _UNRULY, _LEFT = range(3)


def _seasonal(period: Period) -> tuple[str, str, str]:
    """Return the reasons why seasons cannot be taken away on one scale; on another they may be."""
    return (
        f"their seasons change, and {_GROWING} {_NAMES.get(period, 'years')} are needed to tell that from a relation",
        "their seasons change in a way that cannot be taken away",
        "a season is left in both that cannot be taken away",
    )


def _removed(series: tuple[np.ndarray, np.ndarray], places: np.ndarray, season: int) -> tuple[np.ndarray, int | None]:
    """Return what is removed: a mean a season and a trend, and what changes with time; or why that cannot be known."""
    n = len(places)
    means = (places[:, None] % season == np.arange(season)[None]).astype(np.float64)
    trend = ((places - places.mean()) / max(n, 1))[:, None]
    plain = np.column_stack([means, trend])
    if season < 2 or n <= 2 * season + 6:
        return plain, None
    with_time = np.column_stack([plain, means * trend])
    if not _both_have(series, plain, with_time):
        return plain, None
    if n < _GROWING * season - 1:
        return with_time, _TOO_SHORT
    if n > 3 * season + 6 and _both_have(series, with_time, np.column_stack([with_time, means * trend**2])):
        return with_time, _UNRULY
    return with_time, None


def _both_have(series: tuple[np.ndarray, np.ndarray], less: np.ndarray, more: np.ndarray) -> bool:
    """Whether both series may have what a wider design has and a narrower one lacks: an F test."""
    from scipy.special import fdtrc

    ranks = [int(np.linalg.matrix_rank(design)) for design in (less, more)]
    added, spare = ranks[1] - ranks[0], len(less) - ranks[1]
    if added < 1 or spare < 1:
        return False
    for values in series:
        narrow, wide = (float(_without(values, design) @ _without(values, design)) for design in (less, more))
        ratio = max(narrow - wide, 0.0) / added / max(wide / spare, 1e-300)
        if float(fdtrc(added, spare, ratio)) > _CHANGES:
            return False
    return True


def _season_left(values: np.ndarray, places: np.ndarray, season: int) -> float:
    """Return by how much a series is like itself a season before, beyond what chance makes; zero or less if not."""
    full = np.full(int(places[-1]) + 1, np.nan)
    full[places] = values
    products = full[season:] * full[:-season]
    pairs = int((~np.isnan(products)).sum())
    if not pairs:
        return 0.0
    return float(np.nansum(products)) / float(values @ values) - 1 / math.sqrt(pairs)


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


def follows_itself(values: np.ndarray) -> float:
    """Return the p-value of rows that are no more like the row before than any other; small if they follow in time.

    Notes
    -----
    The rank correlation with the row before (A. Wald and J. Wolfowitz, Ann. Math. Statist. 14, 1943), by the normal
    distribution.
    """
    from scipy.special import ndtr

    ranks = _ranked(values)
    likeness = float(ranks[1:] @ ranks[:-1]) / float(ranks @ ranks)
    return float(ndtr(-(likeness + 1 / len(ranks)) * math.sqrt(len(ranks))))


def is_sorted(values: np.ndarray) -> bool:
    """Whether rows stand in the order of a series: then it follows itself for that reason."""
    steps = np.diff(values)
    return bool(np.all(steps >= 0) or np.all(steps <= 0))


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
