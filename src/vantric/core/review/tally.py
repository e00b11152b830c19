"""Findings over a tally."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

from vantric.core.counts.relabeling import is_missing_code
from vantric.core.counts.tally import Moments, Tally
from vantric.core.messages.message import Percent, Remark, Written
from vantric.core.numbers.amounts import Number
from vantric.core.numbers.number_format import counted, decimals_of, one_line, percent_text
from vantric.core.review.finding import Finding, is_measured, note, remarked, says_percent, warning
from vantric.core.review.labels import (
    good_as_defect,
    nothing_first,
    numbers_as_labels,
    several_labels,
    test_entries,
    total_labels,
)
from vantric.core.review.spellings import near_labels, similar_labels

_FEWEST, _FEWEST_PLAIN = 3, 4  # categories; of whole numbers whose column does not say percent
_NEAR = 1.1  # bounds so near that their record is named by about what it holds
_LEAST_SHARE, _TIMES_MEAN = 1 / 3, 4.0  # of all that one record holds, and how many records of mean size that are


def _heading(tally: Tally) -> str:
    return (tally.origin.weight or tally.origin.count or "").replace("_", " ")


def percents_as_counts(tally: Tally) -> list[Finding]:
    """Find frequencies that are percents or shares: they add up to 100 or to 1 as rounded numbers do."""
    values, heading = tally.frequency.values(), _heading(tally)
    named = says_percent(heading)
    if len(values) < _FEWEST or tally.origin.per or (is_measured(heading) and not named):
        return []
    near = any(abs(float(tally.total) - whole) <= 2 * whole / 100 for whole in (100, 1))
    whole = _whole_of(values) if near else None
    if whole is None or not _seem_percents(tally, values, named=named):
        return []
    what = "percents" if whole == 100 else "shares of 1"
    make = warning if named or any(value != int(value) for value in values) else note
    return [
        make(
            "percents-as-counts",
            message=Remark("the frequencies add up to {}: {}, not counts?", round(float(tally.total), 4), what),
            fix="give the counts: a percent without its base cannot be checked, and says nothing of how sure it is",
            where=heading or tally.origin.by or "frequencies",
        )
    ]


def _whole_of(values: Sequence[Number]) -> int | None:
    """Return 100 or 1 if numbers add up to it as far as they are rounded; else None."""
    decimals = max(map(decimals_of, values))
    slack = len(values) * 0.5 * 10.0**-decimals if decimals else 2.0
    total = math.fsum(map(float, values))
    if abs(total - 100) <= min(slack, 0.6) + 1e-6 or (not decimals and abs(total - 100) <= slack):
        return 100
    return 1 if decimals and abs(total - 1) <= min(slack, 0.006) + 1e-6 else None


def _seem_percents(tally: Tally, values: Sequence[Number], *, named: bool) -> bool:
    if named or any(value != int(value) for value in values):
        return True
    ready = tally.origin.ready and len(values) >= _FEWEST_PLAIN
    return ready and tally.total == 100 and any(value % 5 for value in values)  # 60, 20, 20 are counts as well


def mixed_values(tally: Tally) -> list[Finding]:
    """Find shares such as 0.38 among counts such as 88.

    Measures such as hours may well be 88 and 0.5: those that the heading names so, that are quarters or tenths, or of
    which any is a fraction above one.
    """
    heading = _heading(tally)
    whole = set(map(type, tally.frequency.values())) == {int}
    if whole or tally.origin.per or is_measured(heading):
        return []
    values = [value for value in tally.frequency.values() if value]
    shares = [value for value in values if value != int(value)]
    counts = [value for value in values if value == int(value)]
    if min(len(shares), len(counts)) < 2 or max(shares) >= 1 or min(counts) < 10:
        return []
    if all(math.isclose(value * 20, round(value * 20), abs_tol=1e-9) for value in shares):
        return []
    return [
        warning(
            "mixed-values",
            message=Remark("{} is among counts such as {}: shares mixed with counts?", shares[0], counts[0]),
            fix="give the counts of all categories",
            where=heading or tally.origin.by or "frequencies",
        )
    ]


def one_record(tally: Tally) -> list[Finding]:
    """Find a record that holds a third of everything or more: the ranking is that of this record.

    Of each category the sum and the sum of the squares are known, whose ratio the largest record is not below.
    """
    spread, total = tally.spread, float(tally.total)
    if spread is None or tally.origin.ready or tally.origin.per or total <= 0 or not math.isfinite(spread.whole):
        return []
    amounts = {
        label: spread.of(label).squares / float(value) for label, value in tally.as_dict().items() if float(value) > 0
    }
    name = max(amounts, key=amounts.__getitem__, default="")
    least = amounts.get(name, 0.0)
    share = least / total
    if share < _LEAST_SHARE or share * spread.records < _TIMES_MEAN:
        return []
    most = _at_most(spread.of(name), float(tally.as_dict()[name]))
    near = most <= _NEAR * least
    number = min(most, total) if near else least
    words = "" if math.isclose(least, most, rel_tol=1e-9) else "about " if near else "at least "
    unit = tally.origin.amount_unit
    return [
        warning(
            "one-record",
            message=Remark(
                "one record of '{}' holds {}{} of all {} ({} of {} in {}): the ranking is that of this record",
                one_line(name, longest=40),
                words,
                Written(percent_text(100 * number / total, decimals=0)),
                unit,
                round(number, 2),
                round(total, 2),
                Written(counted(spread.records, "record")),
            ),
            fix="check that record; if it is right, show it apart and rank the others",
            where=tally.origin.weight or tally.origin.count or tally.origin.by or "frequencies",
        )
    ]


def _at_most(moments: Moments, whole: float) -> float:
    """Return what the largest record is not above: the others together hold the rest, evenly at best."""
    others = moments.records - 1
    if others < 1:
        return math.sqrt(moments.squares)
    # m^2 + (whole - m)^2 / others = squares, solved for the larger m
    a, b, c = 1 + 1 / others, -2 * whole / others, whole * whole / others - moments.squares
    return (-b + math.sqrt(max(b * b - 4 * a * c, 0.0))) / (2 * a)


_FEWEST_MISSING = 8  # records; of fewer it counts only that they are more than half
_MUCH_MISSING, _SOME_MISSING = 0.25, 0.1  # of all records; the lesser where they outnumber every category


def review_tally(tally: Tally) -> list[Finding]:
    """Return what is risky in a tally, and what was done on the way to it."""
    good = good_as_defect(tally)
    nothing, findings = _one_cause(nothing_first(tally), _remarks(tally))
    codes = list(filter(is_missing_code, tally.categories)) if good else []
    if len(codes) == 1 and f"'{codes[0]}'" in good[0].message:  # 'none': that nothing was wrong says more
        findings = [finding for finding in findings if finding.code != "missing-code"]
    return [
        *total_labels(tally),
        *similar_labels(tally),
        *near_labels(tally),
        *numbers_as_labels(tally),
        *several_labels(tally),
        *good,
        *test_entries(tally),
        *nothing,
        *_more_missing(tally),
        *percents_as_counts(tally),
        *mixed_values(tally),
        *one_record(tally),
        *findings,
    ]


def _one_cause(nothing: list[Finding], findings: list[Finding]) -> tuple[list[Finding], list[Finding]]:
    """Return what is said of a label that names no cause once: reading may have asked whether it means missing."""
    codes = [finding for finding in findings if finding.code == "missing-code"]
    if not codes or not nothing or nothing[0].code != "unknown-first":
        return nothing, findings
    first = nothing[0].message
    more = f"{codes[0].message} {first[:1].upper()}{first[1:]}"
    return [], [replace(finding, message=more) if finding is codes[0] else finding for finding in findings]


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
            message=Remark(
                f"{{}} records have a blank {{}} ({{}}), and {only}{{}} have one",
                *(tally.missing.records, tally.origin.blank(), Percent(100 * share, decimals=0), tally.records),
            ),
            fix="say so wherever the percents are shown, or find out what the missing ones are",
            where=tally.origin.by or "labels",
        )
    ]


def _remarks(tally: Tally) -> list[Finding]:
    where = tally.origin.by or "labels"
    return [remarked(remark, where) for remark in tally.origin.remarks]
