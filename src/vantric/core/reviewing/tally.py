"""Findings over a tally."""

from __future__ import annotations

from vantric.core.counting.relabel import same_spelling
from vantric.core.counting.tally import Tally
from vantric.core.numbers.shown import distinct_lines, number_text, quoted
from vantric.core.reviewing.finding import Finding, remarked, warning
from vantric.core.reviewing.labels import near_labels, numbers_as_labels, several_labels, total_row


def review_tally(tally: Tally) -> list[Finding]:
    """Return what is risky in a tally, and what was done on the way to it."""
    return [
        *total_row(tally),
        *_similar_labels(tally),
        *near_labels(tally),
        *numbers_as_labels(tally),
        *several_labels(tally),
        *_more_missing(tally),
        *_percents(tally),
        *_mixed(tally),
        *_remarks(tally),
    ]


def _more_missing(tally: Tally) -> list[Finding]:
    if float(tally.missing.records) <= float(tally.records) or not tally.categories:
        return []
    return [
        warning(
            "more-missing",
            message=f"{number_text(tally.missing.records)} records lack {tally.origin.without_words()}, and only "
            f"{number_text(tally.records)} have one",
            fix="say so wherever the percents are shown, or find out what the missing ones are",
            where=tally.origin.by or "labels",
        )
    ]


def _mixed(tally: Tally) -> list[Finding]:
    """Tell shares such as 0.38 among counts such as 88."""
    if tally.origin.per or tally.origin.weight:
        return []
    values = [value for value in tally.frequency.values() if value]
    shares = [value for value in values if value != int(value)]
    counts = [value for value in values if value == int(value)]
    if min(len(shares), len(counts)) < 2 or max(shares) >= 1 or min(counts) < 10:
        return []
    return [
        warning(
            "mixed-values",
            message=f"{number_text(shares[0])} is among counts such as {number_text(counts[0])}: shares mixed with "
            "counts?",
            fix="give the counts of all categories",
            where=tally.origin.count or tally.origin.by or "frequencies",
        )
    ]


def _percents(tally: Tally) -> list[Finding]:
    """Tell frequencies that look like percents: they are a hundred together and no counts."""
    values = tally.frequency.values()
    if len(values) < 3 or tally.origin.per or all(isinstance(value, int) for value in values):
        return []
    if abs(float(tally.total) - 100) > 0.6:  # of percents rounded to one decimal
        return []
    return [
        warning(
            "percents-as-counts",
            message=f"the frequencies add up to {number_text(round(float(tally.total), 2))}: percents, not counts?",
            fix="give the counts: a percent without its base cannot be checked",
            where=tally.origin.count or tally.origin.by or "frequencies",
        )
    ]


def _remarks(tally: Tally) -> list[Finding]:
    where = tally.origin.by or "labels"
    return [remarked(remark, where) for remark in tally.origin.remarks]


def _similar_labels(tally: Tally) -> list[Finding]:
    """Find labels that differ only in case, blanks or Unicode form: one category counted as several."""
    first: dict[str, str] = {}
    again: dict[str, list[str]] = {}  # few: a list a label would take most of the time
    for label in tally.categories:
        spelling = same_spelling(label)
        before = first.setdefault(spelling, label)
        if before is not label:
            again.setdefault(spelling, [before]).append(label)
    groups = [sorted(labels) for labels in again.values()]
    if not groups:
        return []
    groups.sort()
    shown = "; ".join(quoted(distinct_lines(group)) for group in groups[:3])
    more = f"; and {len(groups) - 3} more such groups" if len(groups) > 3 else ""
    return [
        warning(
            "similar-labels",
            message=f"labels that differ only in case or blanks are counted separately: {shown}{more}",
            fix="give them one spelling in the source, if they mean the same",
            where=tally.origin.by or "labels",
        )
    ]
