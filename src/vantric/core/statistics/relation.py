"""Whether two series go together, pair by pair or in time through their changes, and how that is said."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from typing import Literal

import numpy as np

from vantric.base.lazily import dataclass
from vantric.core.messages.message import Joined, Label, Message, PValue, Written, coefficient, interval, level_text
from vantric.core.numbers.periods import PERIODS, Period
from vantric.core.results import DataResult
from vantric.core.statistics.sample import rounded
from vantric.core.statistics.significance_tests import permutation_p
from vantric.core.statistics.time_series import TimedRelation, follows_itself, is_sorted, timed_relation
from vantric.errors import RankError, unknown

#: A correlation this near to 1 is exact: its interval would be one point.
_EXACT = 1e-9

Verdict = Literal["related", "not shown", "cannot be said"]


@dataclass(frozen=True)
class Relation(DataResult):
    """Whether two series go together.

    Attributes
    ----------
    n
        Pairs that have both values.
    pearson, spearman
        The correlation of the values, and of their ranks; None where one series does not vary.
    pearson_interval, spearman_interval
        At `level`; None where there is none: of fewer than four pairs, of an exact relation, in time. That of Pearson
        describes the pairs and is no test.
    level
    caution
        What must be said with it; empty if nothing.
    names
    verdict
        ``"related"`` (statistically significant), ``"not shown"``, or ``"cannot be said"``.
    p, p_adjusted
        Of no relation; and corrected for the pairs of series that were looked at together. None where nothing is said.
    reason
        Why it cannot be said.
    timed
        In time: what the changes say; else None.
    influence
        The pair (from 1) without which the verdict or the sign would be another, and the correlation of ranks without
        it; None if there is none.
    """

    n: int
    pearson: float | None
    spearman: float | None
    pearson_interval: tuple[float, float] | None
    spearman_interval: tuple[float, float] | None
    level: float
    caution: str
    names: tuple[str, str]
    verdict: Verdict = "cannot be said"
    p: float | None = None
    p_adjusted: float | None = None
    reason: str = ""
    timed: TimedRelation | None = None
    influence: tuple[int, float] | None = None

    _kind = "relation"

    def sentence(self) -> Joined:
        """Return the relation, and what must be said with it."""
        return Joined([*_said(self), *_influence(self), *([Message("no cause")] if self.caution else [])])


def _said(relation: Relation) -> list[Message]:
    """Return whether two series go together, and by how much."""
    pair = dict(zip(("first", "second"), map(Label, relation.names), strict=True))
    if relation.verdict == "cannot be said":
        return [Message("relation unknown", reason=relation.reason, **pair)]
    if relation.timed is not None:
        return _in_time_said(relation, pair)
    assert relation.spearman is not None
    kind = _kind_of_relation(relation, relation.spearman)
    return [Message(kind, count=relation.n, p=_p(relation), **pair), _correlation_said(relation, relation.spearman)]


def _kind_of_relation(relation: Relation, size: float) -> str:
    if relation.verdict != "related":
        return "no relation"
    return "go together" if size > 0 else "go against"


def _correlation_said(relation: Relation, size: float) -> Message:
    value = Written(coefficient(size))
    if relation.spearman_interval is not None:
        level, ends = level_text(relation.level), interval(*map(coefficient, relation.spearman_interval))
        return Message("correlation with interval", value=value, level=level, range=ends)
    return Message("correlation exact", value=value)


def _in_time_said(relation: Relation, pair: dict[str, Label]) -> list[Message]:
    timed = relation.timed
    assert timed is not None
    size = timed.correlation or 0.0
    beyond = Message("beyond trend" if timed.period == "year" else "beyond trend and season")
    period = Message(f"period {timed.period}")
    return [
        Message(f"changes {_kind_of_relation(relation, size)}", period=period, beyond=beyond, p=_p(relation), **pair),
        Message(
            "correlation of changes",
            value=Written(coefficient(size)),
            count=timed.changes,
            effective=Written(rounded(timed.effective)),
        ),
    ]


def _p(relation: Relation) -> PValue | Message:
    assert relation.p is not None
    assert relation.p_adjusted is not None
    value = PValue(relation.p_adjusted)
    return Message("p of several", p=value) if relation.p_adjusted > relation.p * (1 + 1e-9) else value


def _influence(relation: Relation) -> list[Message]:
    if relation.influence is None:
        return []
    place, without = relation.influence
    return [Message("hangs on one pair", place=place, value=Written(coefficient(without)))]


_FEWEST = 6  # pairs, below which no permutation can be unlikely
#: The level of the verdict.
_ALPHA = 0.05
#: At this p-value of both, rows are taken to follow in time.
_ALIKE = 0.1
_FEWEST_LEFT, _MOST_LEFT = 8, 500  # pairs, among which one can count for much


def relation_of(
    values: Sequence[float],
    other: Sequence[float],
    *,
    names: tuple[str, str],
    level: float = 0.95,
    in_time: bool | None = None,
    period: Period | None = None,
) -> Relation:
    """Relate two series, pair by pair; pairs that lack a value are passed over.

    Parameters
    ----------
    values, other
        As long as each other; NaN where a value is missing.
    names
        What they are called.
    level
        Of the intervals.
    in_time
        Whether the pairs follow each other in time; None if that is not known.
    period
        How far apart they are then.

    Raises
    ------
    RankError
        If the series are not of one length, there are fewer than three pairs, or the level is none.

    Notes
    -----
    The verdict is a permutation test of the ranks (E. J. G. Pitman, JRSS suppl. 4, 1937). Intervals by R. A. Fisher's
    transformation (Metron 1, 1921); for ranks with the variance of D. G. Bonett and T. A. Wright (Psychometrika 65,
    2000) and a quantile of t. In time: `timed_relation`. Of pairs of which it is not known, nothing is said where the
    rows of both follow themselves (`follows_itself`) and stand in the order of neither.
    """
    if len(values) != len(other):
        raise RankError(f"the two series have {len(values)} and {len(other)} values: give as many of each")
    if not 0 < level < 1:
        raise RankError(f"a level is between 0 and 1, such as 0.95, not {level}")
    if period is not None and period not in PERIODS:
        raise unknown(RankError, f"'{period}' is not a period", period, PERIODS, every=True)
    x, y = np.asarray(values, dtype=np.float64), np.asarray(other, dtype=np.float64)
    both = ~(np.isnan(x) | np.isnan(y))
    a, b = x[both], y[both]
    n = len(a)
    if n < 3:
        raise RankError(f"{n} pairs that have both values say nothing: give three or more")
    if np.ptp(a) == 0 or np.ptp(b) == 0:
        return Relation(n, None, None, None, None, level, "", names, reason="one of them does not vary")
    pearson, spearman = _correlation(a, b), _correlation(_ranks(a), _ranks(b))
    plain = Relation(n, pearson, spearman, None, None, level, "", names)
    if in_time or period is not None:
        return _in_time(plain, x, y, period)
    normal, t = _quantiles(n, level)
    intervals = _interval(pearson, n, 1.0, normal), _interval(spearman, n, 1 + spearman**2 / 2, t)
    plain = replace(plain, pearson_interval=intervals[0], spearman_interval=intervals[1])
    if n < _FEWEST:
        return replace(plain, reason=f"{n} pairs are too few: no order of so few is statistically significant")
    if in_time is None and not (is_sorted(a) or is_sorted(b)) and max(map(follows_itself, (a, b))) <= _ALIKE:
        return replace(plain, reason=Message("rows are alike"))
    # The larger of the two, so that the verdict and the interval of 95% say the same.
    p = max(permutation_p(_ranks(a), _ranks(b)), _p_of_interval(spearman, n))
    relation = decided(replace(plain, p=p), 1.0)
    return _with_influence(relation, a, b, np.flatnonzero(both))


def decided(relation: Relation, factor: float) -> Relation:
    """Return a relation with its verdict, its p-value times what other pairs of series looked at beside it ask for."""
    if relation.p is None:
        return relation
    adjusted = min(1.0, relation.p * factor)
    interval = relation.spearman_interval
    related = adjusted <= _ALPHA
    if interval and not related:
        interval = min(interval[0], 0.0), max(interval[1], 0.0)
    caution = "; a relation does not show a cause" if related else ""
    return replace(
        relation,
        p_adjusted=adjusted,
        verdict="related" if related else "not shown",
        spearman_interval=interval,
        caution=caution.removeprefix("; "),
    )


def together(relations: Sequence[Relation]) -> list[Relation]:
    """Return relations that were looked at together, each decided with the others in mind.

    Notes
    -----
    S. Holm, Scand. J. Statist. 6, 1979.
    """
    order = sorted((relation.p, number) for number, relation in enumerate(relations) if relation.p is not None)
    adjusted: dict[int, float] = {}
    highest = 0.0
    for place, (p, index) in enumerate(order):
        highest = max(highest, min(1.0, p * (len(order) - place)))
        adjusted[index] = highest / p if p else 1.0
    return [
        decided(relation, adjusted[number]) if number in adjusted else relation
        for number, relation in enumerate(relations)
    ]


def _in_time(relation: Relation, x: np.ndarray, y: np.ndarray, period: Period | None) -> Relation:
    timed = timed_relation(x, y, period)
    if timed.reason:
        return replace(relation, timed=timed, reason=timed.reason)
    return decided(replace(relation, timed=timed, p=timed.p), 1.0)


def _with_influence(relation: Relation, a: np.ndarray, b: np.ndarray, places: np.ndarray) -> Relation:
    """Say which pair the verdict hangs on, if it hangs on one."""
    assert relation.spearman is not None
    n = len(a)
    if not _FEWEST_LEFT <= n <= _MOST_LEFT:
        return relation
    left = [_correlation(_ranks(np.delete(a, number)), _ranks(np.delete(b, number))) for number in range(n)]
    if relation.verdict == "related":
        chances = [_t_p(value, n - 1) for value in left]
        index = int(np.argmax(chances))
        hangs = chances[index] > _ALPHA or left[index] * relation.spearman < 0
    else:
        chances = [_t_p(value, n - 1) for value in left]
        index = int(np.argmin(chances))
        hangs = chances[index] <= _ALPHA / 5 and abs(left[index]) < 1 - _EXACT
    if not hangs:
        return relation
    return replace(relation, influence=(int(places[index]) + 1, left[index]))


def _t_p(value: float, n: int) -> float:
    from scipy.special import stdtr

    if n < 4 or math.isnan(value):
        return 1.0
    return 2 * float(stdtr(n - 2, -abs(value) * math.sqrt((n - 2) / max(1 - value**2, 1e-12))))


def _ranks(values: np.ndarray) -> np.ndarray:
    """Return the ranks of values, those of ties averaged."""
    _, inverse, times = np.unique(values, return_inverse=True, return_counts=True)
    last = np.cumsum(times)
    return np.asarray((last - (times - 1) / 2)[inverse])


def _correlation(x: np.ndarray, y: np.ndarray) -> float:
    """Return the product-moment correlation, whatever the magnitudes."""
    a, b = (item / max(float(np.abs(item).max()), 1e-300) for item in (x - x.mean(), y - y.mean()))
    size = math.sqrt(float(a @ a) * float(b @ b))
    return max(-1.0, min(1.0, float(a @ b) / size)) if size else math.nan


def _quantiles(n: int, level: float) -> tuple[float, float]:
    from scipy.special import ndtri, stdtrit

    return float(ndtri((1 + level) / 2)), float(stdtrit(n - 2, (1 + level) / 2))


def _p_of_interval(value: float, n: int) -> float:
    """Return the p-value at which the interval of a rank correlation would just hold none."""
    from scipy.special import stdtr

    if abs(value) > 1 - _EXACT:
        return 0.0
    return 2 * float(stdtr(n - 2, -abs(math.atanh(value)) / math.sqrt((1 + value**2 / 2) / (n - 3))))


def _interval(value: float, n: int, variance: float, quantile: float) -> tuple[float, float] | None:
    if n < 4 or abs(value) > 1 - _EXACT:
        return None
    half = quantile * math.sqrt(variance / (n - 3))
    return math.tanh(math.atanh(value) - half), math.tanh(math.atanh(value) + half)
