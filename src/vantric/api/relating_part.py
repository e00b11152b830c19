"""``vantric.gap`` and ``vantric.relate``: two series side by side."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from vantric.core.charts.series import Points
from vantric.core.counts.gap import Gap, gap_of
from vantric.core.numbers.periods import Period
from vantric.core.statistics import Relation, relation_of
from vantric.errors import RankError


def gap(
    planned: Any,
    achieved: Any,
    *,
    categories: Sequence[str] | None = None,
    names: Sequence[str] = ("planned", "achieved"),
) -> Gap:
    """Set planned and achieved side by side, the largest difference first.

    Parameters
    ----------
    planned, achieved
        Numbers, None or NaN where one is missing; or mappings of category to number.
    categories
        What the numbers are of; not for mappings.
    names
        What the two are called.

    Returns
    -------
    Gap
        Its `rows` have `category`, `planned`, `achieved`, `difference`, `percent` (achieved of planned, with its base
        beside it) and `share` of all differences. `sentence()` says the largest.

    Raises
    ------
    RankError
        If the two do not fit together, or no category has both values.
    """
    if isinstance(planned, Mapping) != isinstance(achieved, Mapping):
        raise RankError("give planned and achieved in one form: two mappings, or two lists with categories")
    if isinstance(planned, Mapping):
        labels = list(dict.fromkeys((*planned, *achieved)))
        planned, achieved = ([side.get(label) for label in labels] for side in (planned, achieved))
    else:
        labels = list(categories) if categories is not None else [str(n) for n, _ in enumerate(planned, start=1)]
    first, second = names
    sides = _values(planned, first), _values(achieved, second)
    return gap_of([str(label) for label in labels], *sides, (first, second))


def relate(
    one: Any,
    other: Any,
    *,
    names: Sequence[str] = ("the one", "the other"),
    level: float = 0.95,
    in_time: bool = False,
    period: Period | None = None,
) -> Relation:
    """Say whether two series go together, and how sure that is.

    Parameters
    ----------
    one, other
        As many numbers each, pair by pair; None or NaN where one is missing.
    names
        What they are called.
    level
        Of the intervals.
    in_time
        Whether the pairs follow each other in time: then their changes are related, since two trends, and two series
        of one season, always seem related.
    period
        How far apart they are in time: ``"day"``, ``"week"``, ``"month"``, ``"quarter"`` or ``"year"``; implies
        `in_time`.

    Returns
    -------
    Relation
        Its `verdict` (``"related"``, ``"not shown"`` or ``"cannot be said"``) with `p`; `n`, `pearson` and `spearman`
        with their intervals; and the `caution` that must be said with them. docs/certainty.md has the methods.

    Raises
    ------
    RankError
        If they are not as many, or fewer than three pairs have both values.
    """
    first, second = names
    return relation_of(
        _values(one, first),
        _values(other, second),
        names=(first, second),
        level=level,
        in_time=in_time,
        period=period,
    )


def _values(values: Any, name: str) -> tuple[float, ...]:
    return Points(name, values).values
