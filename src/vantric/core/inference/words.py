"""How sure a ranking is, in words that can be read to someone without statistics."""

from __future__ import annotations

from typing import TYPE_CHECKING

from vantric.core.inference.sample import rounded
from vantric.core.numbers.shown import listed, one_line

if TYPE_CHECKING:
    from vantric.core.inference.certainty import Certainty, CertaintyRow

_SURE = 0.95
_LONGEST = 40
_TINY = 0.001


def p_words(p: float) -> str:
    """Return a p-value with no more digits than it bears: ``"p = 0.03"``, ``"p < 0.001"``."""
    if p < _TINY:
        return f"p < {_TINY}"
    if p >= 0.995:
        return "p = 1"
    return f"p = {p:.3f}" if p < 0.0995 else f"p = {p:.2f}"


def chance_words(chance: float) -> str:
    """Return a chance in whole percent, which never says certain or impossible."""
    if chance >= 0.995:
        return "over 99 %"
    return "under 1 %" if chance < 0.005 else f"{100 * chance:.0f} %"


def named(label: str) -> str:
    """Return a label as it is cited in a sentence."""
    return f"“{one_line(label, longest=_LONGEST)}”"


def certainty_words(sure: Certainty) -> str:
    """Return what can be said of a ranking."""
    parts = [_nothing(sure)] if _nothing(sure) else [_first(sure), *_even(sure), *_vital(sure), *_needed(sure)]
    said = "; ".join(part for part in parts if part)
    basis = [sure.counted, *_unseen(sure)]
    return ". ".join(f"{text[:1].upper()}{text[1:]}" for text in (said, *filter(None, basis))) + "."


def _nothing(sure: Certainty) -> str:
    if len(sure.rows) == 1:
        return f"there is one category, {named(sure.rows[0].category)}: nothing is ranked"
    if sure.records < 2 or sure.effective < 1.5:
        return "one record tells nothing of a ranking"
    return ""


def _first(sure: Certainty) -> str:
    first, second = sure.rows[0], sure.rows[1]
    most = "has the highest rate" if sure.measure == "rate" else "is the most frequent"
    if sure.first_is_sure:
        return (
            f"{named(first.category)} {most}, beyond chance ({p_words(sure.first_p)} against {named(second.category)})"
        )
    if first.percent == second.percent:
        tied = [row.category for row in sure.rows if row.percent == first.percent]
        same = "have the same rate" if sure.measure == "rate" else "are equally frequent"
        return f"which {most} is open: {listed([named(name) for name in tied], most=4)} {same}"
    return (
        f"which {most} is open: {named(first.category)} is before {named(second.category)} by no more than chance "
        f"may do ({p_words(sure.first_p)})"
    )


def _even(sure: Certainty) -> list[str]:
    if sure.evenness.p <= 1 - _SURE:
        return []
    what = "have the same rate" if sure.measure == "rate" else "be equally likely"
    return [f"all categories may {what} (chi-square, {p_words(sure.evenness.p)}), so there may be no vital few"]


def _vital(sure: Certainty) -> list[str]:
    few = sure.vital
    if few is None:
        return []
    if not few:
        return ["no category stays within the cutoff"]
    inside = [row for row in sure.rows[:few] if (row.chance or 0) >= _SURE]
    open_ = [row for row in sure.rows[:few] if (row.chance or 0) < _SURE]
    outside = [row for row in sure.rows[few:] if (row.chance or 0) > 1 - _SURE]
    if not open_ and not outside:
        if few == len(sure.rows):
            return [f"it takes all {few} categories to reach the cutoff"]
        return ["the vital few are settled: each has a chance of at least 95 % to be one, any other at most 5 %"]
    said = f"{len(inside)} of the {few} vital few" if few > 1 else "the vital one" if inside else "not even the first"
    has = "have" if len(inside) != 1 and few > 1 else "has"
    parts = [f"{said} {has} a chance of at least 95 % to be vital"]
    if open_:
        parts.append(f"open inside: {_chances(open_)}")
    if outside:
        parts.append(f"open outside: {_chances(outside)}")
    return ["; ".join(parts)]


def _chances(rows: list[CertaintyRow]) -> str:
    return listed([f"{named(row.category)} ({chance_words(row.chance or 0)})" for row in rows], most=4)


def _needed(sure: Certainty) -> list[str]:
    if sure.vital is None or sure.settled or not sure.vital:
        return []
    if sure.needed is None:
        if sure.measure == "rate" or len(sure.rows) > 1_000:
            return []
        return ["no number of records like these would settle them: two categories, or a sum and the cutoff, are level"]
    return [f"about {rounded(sure.needed)} records like these would name the same vital few with a chance of 95 %"]


def _unseen(sure: Certainty) -> list[str]:
    if sure.declared or len(sure.rows) < 2:
        return []
    return ["the limits hold for these categories; they do not cover labels first found in these data"]
