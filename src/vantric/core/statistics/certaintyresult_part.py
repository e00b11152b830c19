"""What is known of a ranking, and how it is said."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

from vantric.core.numbers.number_format import listed, number_text
from vantric.core.results import DataResult
from vantric.core.statistics.evenness_part import Evenness
from vantric.core.statistics.phrases import chance_words, named, p_words
from vantric.core.statistics.sample import Basis, rounded

_LEVEL = 0.95
_SURE = 95  # percent: chances are known in whole ones


@dataclass(frozen=True)
class CertaintyRow:
    """What is known of one category.

    Attributes
    ----------
    category
        Its label.
    percent, low, high
        Its percent, and the interval around it, which holds at once with all others. Of a rate, `low` and `high` are
        rates.
    rank, lowest_rank, highest_rank
        Its rank, and between which ranks it may be: 1 is the most frequent.
    chance
        That it is one of the vital few, from 0 to 1; None where the table has no cutoff.
    even_low, even_high
        Between which percents the bar of this rank would be if all categories were equally likely; None of rates, and
        of more than a thousand categories.
    """

    category: str
    percent: float
    low: float
    high: float
    rank: int
    lowest_rank: int
    highest_rank: int
    chance: float | None
    even_low: float | None
    even_high: float | None


@dataclass(frozen=True)
class Certainty(DataResult):
    """How sure the ranking of a table is.

    Attributes
    ----------
    rows
        A row a category, the most frequent first.
    level
        Of all intervals and ranges.
    resamples, start
        How often shares were drawn for the chances, and what the random numbers began with.
    records
        How many records there are; occurrences where the counts came added up.
    measure
        What intervals are of: ``"percent"`` or ``"rate"``.
    basis
        ``"records"``: each occurrence is a record. ``"clustered"``: a record stands for several. ``"ready"``: the
        counts came added up, and each occurrence is taken for a record.
    effective
        How many independent records tell as much.
    counted
        The same in words; empty for plain records.
    first_p
        The p-value of the most frequent against the second; 1 for one category.
    vital
        How many categories, from the first, are the vital few; None without a cutoff.
    evenness
        The test whether all may be equally likely.
    needed
        How many records like these would name the same vital few with a chance of 95 %, where they are not settled;
        None where they are, or where no number would.
    rest
        Of folded categories together: low and high.
    declared
        Whether the categories were fixed beforehand; else the limits do not cover labels first found in these data.
    """

    rows: tuple[CertaintyRow, ...]
    level: float
    resamples: int
    start: int
    records: float
    measure: Literal["percent", "rate"]
    basis: Basis
    effective: float
    counted: str
    first_p: float
    vital: int | None
    evenness: Evenness
    needed: int | None
    rest: tuple[float, float] | None
    declared: bool

    _kind = "certainty"

    @property
    def first_is_sure(self) -> bool:
        """Whether the most frequent category is beyond chance more frequent than the second."""
        return self.first_p <= 1 - _LEVEL

    @property
    def settled(self) -> bool:
        """Whether every category is inside or outside the vital few with a chance of 95 %."""
        few = self.vital or 0
        pairs = ((row, place < few) for place, row in enumerate(self.rows) if row.chance is not None)
        return all(_percent(row) >= _SURE if inside else _percent(row) <= 100 - _SURE for row, inside in pairs)

    def to_frame(self) -> Any:
        """Return a row a category as a frame."""
        return self._of_kind().to_frame(self)

    def sentence(self) -> str:
        """Return what can be said, in words that can be read out."""
        return _words(self)


def _words(sure: Certainty) -> str:
    """Return what can be said of a ranking."""
    parts = [_nothing(sure)] if _nothing(sure) else [_first(sure), *_even(sure), *_vital_sentence(sure), *_needed(sure)]
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
    if sure.evenness.p <= 1 - _LEVEL:
        return []
    what = "have the same rate" if sure.measure == "rate" else "be equally likely"
    return [f"all categories may {what} (chi-square, {p_words(sure.evenness.p)}), so there may be no vital few"]


def _vital_sentence(sure: Certainty) -> list[str]:
    few = sure.vital
    if few is None:
        return []
    if not few:
        return ["no category stays within the cutoff"]
    inside = [row for row in sure.rows[:few] if _percent(row) >= _SURE]
    open_ = [row for row in sure.rows[:few] if _percent(row) < _SURE]
    outside = [row for row in sure.rows[few:] if _percent(row) > 100 - _SURE]
    if not open_ and not outside:
        if few == len(sure.rows):
            return [f"it takes {'both' if few == 2 else f'all {few}'} categories to reach the cutoff"]
        return ["the vital few are settled: each has a chance of at least 95 % to be one, any other at most 5 %"]
    parts = [f"{_how_many(len(inside), few)} a chance of at least 95 % to be vital"]
    if open_:
        parts.append(f"open inside: {_chances(open_)}")
    if outside:
        parts.append(f"open outside: {_chances(outside)}")
    return ["; ".join(parts)]


def _percent(row: CertaintyRow) -> int:
    return round(100 * (row.chance or 0.0))


def _how_many(inside: int, few: int) -> str:
    if inside == few:
        return "each of the vital few has" if few > 1 else "the vital one has"
    return f"{number_text(inside) if inside else 'none'} of the {few} vital few {'has' if inside < 2 else 'have'}"


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
