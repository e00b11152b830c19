"""Findings over a tally."""

from __future__ import annotations

from vantric.core.counting.relabel import same_spelling
from vantric.core.counting.tally import Tally
from vantric.core.numbers.shown import distinct_lines, quoted
from vantric.core.reviewing.finding import Finding


def review_tally(tally: Tally) -> list[Finding]:
    """Return what is risky in a tally, and what was done on the way to it."""
    return [*_similar_labels(tally), *_remarks(tally)]


def _remarks(tally: Tally) -> list[Finding]:
    where = tally.origin.by or "labels"
    return [
        Finding(code=remark.code, severity="note", message=remark.message, mend="", where=where)
        for remark in tally.origin.remarks
    ]


def _similar_labels(tally: Tally) -> list[Finding]:
    """Find labels that differ only in case, blanks or Unicode form: one category counted as several."""
    spellings: dict[str, list[str]] = {}
    for label in tally.categories:
        spellings.setdefault(same_spelling(label), []).append(label)
    groups = [sorted(labels) for labels in spellings.values() if len(labels) > 1]
    if not groups:
        return []
    groups.sort()
    shown = "; ".join(quoted(distinct_lines(group)) for group in groups[:3])
    more = f"; and {len(groups) - 3} more such groups" if len(groups) > 3 else ""
    return [
        Finding(
            code="similar-labels",
            severity="warning",
            message=f"labels that differ only in case or blanks are counted apart: {shown}{more}",
            mend="give them one spelling in the source, if they mean the same",
            where=tally.origin.by or "labels",
        )
    ]
