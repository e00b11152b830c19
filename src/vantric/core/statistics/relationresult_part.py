"""Whether two series go together, and how it is said."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from vantric.core.numbers.number_format import number_text
from vantric.core.results import DataResult
from vantric.core.statistics.phrases import coefficient, named, p_words
from vantric.core.statistics.sample import rounded
from vantric.core.statistics.time_series import Timed

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
        ``"related"`` beyond chance, ``"not shown"``, or ``"cannot be said"``.
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
    timed: Timed | None = None
    influence: tuple[int, float] | None = None

    _kind = "relation"

    def sentence(self) -> str:
        """Return the relation in one sentence, with what must be said with it."""
        return _words(self)


def _words(found: Relation) -> str:
    """Return whether two series go together, and what must be said with it."""
    pair = " and ".join(map(named, found.names))
    parts = [_said(found, pair), _influence(found), found.caution]
    return "; ".join(filter(None, parts)) + "."


def _said(found: Relation, pair: str) -> str:
    if found.verdict == "cannot be said":
        return f"Whether {pair} go together cannot be said: {found.reason}"
    if found.timed is not None:
        return _time_sentence(found, pair)
    assert found.spearman is not None
    numbers = f"Spearman correlation {coefficient(found.spearman)}{_interval_phrase(found)}"
    if found.verdict == "related":
        how = "together" if found.spearman > 0 else "against each other"
        return f"{pair} go {how} beyond chance ({_p(found)}): over {number_text(found.n)} pairs, {numbers}"
    return f"Over {number_text(found.n)} pairs no relation of {pair} is shown beyond chance ({_p(found)}; {numbers})"


def _time_sentence(found: Relation, pair: str) -> str:
    timed = found.timed
    assert timed is not None
    counted = f"{number_text(timed.changes)} changes count as about {rounded(timed.effective)}"
    numbers = f"correlation of their ranks {coefficient(timed.correlation or 0.0)}, {counted}"
    what = "trend" if timed.period == "year" else "trend and season"
    beyond = f"from {timed.period} to {timed.period}, beyond {what}"
    if found.verdict == "related":
        how = "together" if (timed.correlation or 0.0) > 0 else "against each other"
        return f"The changes of {pair} {beyond}, go {how} beyond chance ({_p(found)}; {numbers})"
    return f"No relation of the changes of {pair} {beyond}, is shown beyond chance ({_p(found)}; {numbers})"


def _p(found: Relation) -> str:
    assert found.p is not None
    assert found.p_adjusted is not None
    more = ", with the other pairs in mind" if found.p_adjusted > found.p * (1 + 1e-9) else ""
    return f"{p_words(found.p_adjusted)}{more}"


def _interval_phrase(found: Relation) -> str:
    if found.spearman_interval is None:
        exact = found.spearman is not None and abs(found.spearman) > 1 - _EXACT
        return ", every pair in the same order" if exact else ""
    low, high = found.spearman_interval
    return f", {100 * found.level:g} % interval {coefficient(low)} to {coefficient(high)}"


def _influence(found: Relation) -> str:
    if found.influence is None:
        return ""
    place, without = found.influence
    return f"it hangs on one pair, number {place}: without it the correlation is {coefficient(without)}"
