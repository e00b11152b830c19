"""Findings over a tally."""

from __future__ import annotations

from dataclasses import replace

from vantric.core.counting.tally import Tally
from vantric.core.numbers.shown import number_text, percent_text
from vantric.core.reviewing.amounts import mixed_values, one_record, percents_as_counts
from vantric.core.reviewing.finding import Finding, remarked, warning
from vantric.core.reviewing.labels import nothing_first, numbers_as_labels, several_labels, total_labels
from vantric.core.reviewing.spelling import near_labels, similar_labels

_FEWEST_MISSING = 8  # records; of fewer it counts only that they are more than half
_MUCH_MISSING, _SOME_MISSING = 0.25, 0.1  # of all records; the lesser where they outnumber every category


def review_tally(tally: Tally) -> list[Finding]:
    """Return what is risky in a tally, and what was done on the way to it."""
    nothing, said = _one_cause(nothing_first(tally), _remarks(tally))
    return [
        *total_labels(tally),
        *similar_labels(tally),
        *near_labels(tally),
        *numbers_as_labels(tally),
        *several_labels(tally),
        *nothing,
        *_more_missing(tally),
        *percents_as_counts(tally),
        *mixed_values(tally),
        *one_record(tally),
        *said,
    ]


def _one_cause(nothing: list[Finding], said: list[Finding]) -> tuple[list[Finding], list[Finding]]:
    """Return what is said of a label that names no cause once: reading may have asked whether it means missing."""
    codes = [one for one in said if one.code == "missing-code"]
    if not codes or not nothing or nothing[0].code != "unknown-first":
        return nothing, said
    first = nothing[0].message
    more = f"{codes[0].message} {first[:1].upper()}{first[1:]}"
    return [], [replace(one, message=more) if one is codes[0] else one for one in said]


def _more_missing(tally: Tally) -> list[Finding]:
    """Tell labels that are missing in so many records that their kinds could be another ranking."""
    lacking, there = float(tally.missing.records), float(tally.records)
    if not tally.categories or not lacking:
        return []
    share = lacking / (lacking + there)
    largest = max(map(float, tally.plain_counts.values()))
    much = share >= _MUCH_MISSING or (share >= _SOME_MISSING and lacking > largest)
    if lacking <= there and (not much or lacking < _FEWEST_MISSING):
        return []
    only = "only " if lacking > there else ""
    return [
        warning(
            "more-missing",
            message=f"{number_text(tally.missing.records)} records lack {tally.origin.without_words()} "
            f"({percent_text(100 * share, decimals=0)}), and {only}{number_text(tally.records)} have one",
            fix="say so wherever the percents are shown, or find out what the missing ones are",
            where=tally.origin.by or "labels",
        )
    ]


def _remarks(tally: Tally) -> list[Finding]:
    where = tally.origin.by or "labels"
    return [remarked(remark, where) for remark in tally.origin.remarks]
