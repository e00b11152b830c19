"""Findings over what the labels of a tally say: totals among them, measurements, several in one, a rest or nothing."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from fractions import Fraction

from vantric.base.lazily import compiled
from vantric.core.counts.relabeling import is_missing_code, is_rest
from vantric.core.counts.tally import MISSING_LABEL, Tally
from vantric.core.messages.message import Remark, Written
from vantric.core.numbers.amounts import Number
from vantric.core.numbers.number_format import one_line, percent_text, quoted
from vantric.core.review.error_patterns import slip_between
from vantric.core.review.finding import Finding, error, note, warning
from vantric.core.totals.derived_rows import derived_groups
from vantric.core.totals.label_kinds import is_loose, is_mean, is_strong, may_be_total
from vantric.core.totals.row_sums import CountedRow, exact_cell

_NUMBER = compiled(r"[+-]?\d+(?:[.,]\d+)?")
#: Labels of several decimals are measurements.
_PRECISE = compiled(r"[+-]?\d+[.,]\d{2,}")
#: Signs between several labels in a cell; the first ones hardly stand in a label.
_BETWEEN = (";", "|", "\n", ",", " / ", "/", " + ", "+", " & ", " and ")
#: Signs that are in a label only to divide it.
_ONLY_BETWEEN = (";", "|", "\n")
#: Labels that say "nothing wrong", which a ranking of faults would lead with.
_NONE = ("none", "nil", "(none)")
_LARGE = 0.25  # of all that a category without a cause has
_LONGEST_TOTAL = 8  # letters
#: Fewer numbers may be codes; more labels are not compared, or not even looked at.
_FEWEST_NUMBERS, _MOST_LABELS, _MANY_LABELS = 10, 3000, 50_000


def total_labels(tally: Tally) -> list[Finding]:
    """Find categories that are totals: by what they are called and by what they add up."""
    if len(tally.categories) < 2:
        return []
    amounts: Mapping[str, Number] = tally.as_dict()
    named = [label for label in _looked_at(tally) if _named_total(label)]
    if not named:
        return _by_arithmetic(tally, amounts)
    others = sum((Fraction(value) for label, value in amounts.items() if label not in named), Fraction())
    findings = []
    for label in named:
        value = Fraction(amounts[label])
        adds = (
            others > 0 and len(tally.categories) > len(named) + 1 and abs(value - others) <= others * Fraction(1, 10**9)
        )
        if adds:
            findings.append(_total(tally, label, "and it is the total of all others", sure=True))
        elif is_strong(label) or (
            is_loose(label) and others and abs(value - others) <= others / 10 and len(amounts) > 3
        ):
            findings.append(_total(tally, label, _no_sum(value, others), sure=False))
    return findings


def _by_arithmetic(tally: Tally, amounts: Mapping[str, Number]) -> list[Finding]:
    """Find a category of any name that is the sum of all others."""
    if len(amounts) > _MOST_LABELS:
        return []
    rows = [CountedRow(label, (exact_cell(amount),)) for label, amount in amounts.items()]
    verdicts = derived_groups(rows)
    return [
        _total(tally, str(rows[place].label), "and it is the sum of all others", sure=False)
        for place, verdict in verdicts.items()
        if verdict.outcome == "ask" and verdict.kind == "total"
    ]


def _named_total(label: str) -> bool:
    """Whether a label says that it is a total, or would without a slip: Totl."""
    if may_be_total(label):
        return not is_mean(label)
    first = label.split()[0] if label.strip() else ""
    return len(first) < _LONGEST_TOTAL and slip_between(first.casefold(), "total", 0.0) == "sure"


def _looked_at(tally: Tally) -> Sequence[str]:
    """Return the labels; of very many the most frequent, among which a total is."""
    if len(tally.categories) <= _MANY_LABELS:
        return tally.categories
    import numpy as np

    places = np.argpartition(-tally.frequency.floats(), _MOST_LABELS)[:_MOST_LABELS]
    return [tally.categories[place] for place in places.tolist()]


def total_asked(question: str) -> Finding:
    """Return the question whether a row is a total as a finding: it was counted as a category meanwhile."""
    what = question.partition(" say keep_totals")[0].rstrip(";:")
    return warning(
        "total-as-category",
        message=what,
        fix="leave that row out of the source (keep_totals=False), or count it (keep_totals=True)",
        where="labels",
    )


def _no_sum(value: Fraction, others: Fraction) -> str:
    return Remark("and reads as a total: it has {}, all others {}", float(value), float(others))


def _total(tally: Tally, label: str, why: str, *, sure: bool) -> Finding:
    make = error if sure or is_strong(label) else warning
    return make(
        "total-as-category",
        message=f"'{one_line(label, longest=40)}' is counted as a category, {why}",
        fix="leave that row out of the source (keep_totals=False): it is in the sum that every percent is divided by",
        where=tally.origin.by or "labels",
    )


def numbers_as_labels(tally: Tally) -> list[Finding]:
    """Find a column of measurements that is counted as if its values were categories.

    Measurements hardly ever repeat and have decimals; numbers that repeat are codes, clauses, classes.
    """
    labels = tally.categories
    if len(labels) < _FEWEST_NUMBERS or not all(_NUMBER.fullmatch(label.strip()) for label in labels):
        return []
    alone = 2 * len(labels) > float(tally.records)
    precise = 2 * sum(bool(_PRECISE.fullmatch(label.strip())) for label in labels) > len(labels)
    if not alone and not precise:
        return []
    make = warning if alone and precise else note
    return [
        make(
            "numbers-as-labels",
            message=f"all {len(labels)} categories are numbers, such as {quoted(labels[:3])}: measurements?",
            fix="count a column of labels, or put the numbers into classes first",
            where=tally.origin.by or "labels",
        )
    ]


def several_labels(tally: Tally) -> list[Finding]:
    """Find cells that seem to hold several labels, where no sign between them was named: "Leak; Jam"."""
    if len(tally.categories) > _MOST_LABELS:
        return []
    names = {label.strip().casefold() for label in tally.categories}
    for sign in _BETWEEN:
        pieces = {label: [piece.strip() for piece in label.split(sign)] for label in tally.categories if sign in label}
        several = {label: parts for label, parts in pieces.items() if len(parts) > 1 and all(parts)}
        if not several:
            continue
        parts = [part.casefold() for texts in several.values() for part in texts]
        first = {texts[0].casefold() for texts in several.values()}
        later = {part.casefold() for texts in several.values() for part in texts[1:]}
        loose = sign in _ONLY_BETWEEN  # "Crack, cooling" and "Crack, drying" are names of one family
        again = sum(
            part in names or (parts.count(part) > 1 and (loose or (part in first and part in later))) for part in parts
        )
        only = sign in _ONLY_BETWEEN and (again or len(several) > 1)
        if again * 2 >= len(parts) or only:
            return [
                warning(
                    "several-labels",
                    message=f"cells seem to hold several labels, such as {quoted(list(several)[:2])}, and each is "
                    "counted as one",
                    fix=f"name the delimiter between them: separator='{sign}'",
                    where=tally.origin.by or "labels",
                )
            ]
    return []


def nothing_first(tally: Tally) -> list[Finding]:
    """Find a most frequent category that names no cause: what is not known, or a rest of many."""
    if len(tally.categories) < 2 or len(tally.categories) > _MANY_LABELS or not tally.total:
        return []
    amounts = tally.as_dict()
    label = max(amounts, key=lambda item: amounts[item])
    large = [item for item, value in amounts.items() if float(value) >= _LARGE * float(tally.total) and _unknown(item)]
    first = "the most frequent category" if label in large or not large else "a frequent category"
    label = label if label in large or not large else large[0]
    share = Remark("{} of all", Written(percent_text(100 * float(amounts[label]) / float(tally.total), decimals=0)))
    where = tally.origin.by or "labels"
    text = one_line(label, longest=40)
    if _unknown(label):
        return [
            warning(
                "unknown-first",
                message=Remark("{}, '{}' ({}), says that nothing is known: it is no cause", first, text, share),
                fix=f'count it as missing (na="{text}"), and find out what these records are',
                where=where,
            )
        ]
    if is_rest(label) and first.startswith("the"):
        return [
            warning(
                "rest-first",
                message=Remark("the largest category, '{}' ({}), is a catch-all; not actionable", text, share),
                fix=f'count it by what it is made of, or put it last (last="{text}") and say how large it is',
                where=where,
            )
        ]
    return []


#: Labels that say that nothing is wrong, and those that somebody typed to try the form.
_GOOD = frozenset(
    (
        "ok",
        "o.k.",
        "okay",
        "good",
        "pass",
        "passed",
        "no defect",
        "no defects",
        "no fault",
        "no error",
        "none found",
        "i.o.",
        "io",
        "in ordnung",
        "gut",
        "kein fehler",
        "ohne befund",
        "conforme",
        "sans défaut",
        "bueno",
        "sin defecto",
        "nessun difetto",
        "goed",
        "良品",
        "合格",
    )
)
_OF_DEFECTS = compiled(
    r"defect|fault|error|failure|cause|reason|problem|complaint|issue|fehler|mangel|ursache|défaut|cause|defecto|difetto",
    re.IGNORECASE,
)
_TRIED = frozenset(
    (
        "test",
        "testing",
        "test entry",
        "testeintrag",
        "asdf",
        "asdfg",
        "qwerty",
        "qwertz",
        "foo",
        "bar",
        "dummy",
        "lorem ipsum",
        "xxx",
        "xyz",
        "aaa",
        "abc123",
        "prueba",
        "essai",
        "prova",
    )
)


def good_as_defect(tally: Tally) -> list[Finding]:
    """Find records without a defect among the defects: they are the most frequent, and no cause."""
    amounts = tally.as_dict()
    good = [label for label in amounts if label.strip().casefold() in _GOOD]
    if len(amounts) < 3 or len(good) != 1 or amounts[good[0]] < max(amounts.values()):
        return []
    if not _OF_DEFECTS.search(f"{tally.origin.by or ''} {good[0]}"):  # answers and results may well be good
        return []
    text = one_line(good[0], longest=40)
    share = Remark("{} of all", Written(percent_text(100 * float(amounts[good[0]]) / float(tally.total), decimals=0)))
    return [
        warning(
            "good-as-defect",
            message=Remark(
                "the most frequent category, '{}' ({}), says that nothing was wrong: it is no cause", text, share
            ),
            fix=f'count it as missing (na="{text}"), or rank the others alone',
            where=tally.origin.by or "labels",
        )
    ]


def test_entries(tally: Tally) -> list[Finding]:
    """Find labels that somebody typed to try the form."""
    tried = sorted((label for label in tally.categories if label.strip().casefold() in _TRIED), key=str.casefold)
    if not tried or len(tally.categories) - len(tried) < 2:
        return []
    where = tally.origin.by or "labels"
    return [
        warning(
            "test-entries",
            message=Remark(
                "somebody seems to have tried the form: {} of '{}' are no categories", quoted(tried[:4]), where
            ),
            fix=f'leave them out of the source, or say leave_out="{one_line(tried[0])}"',
            where=where,
        )
    ]


def _unknown(label: str) -> bool:
    """Whether a label says that nothing is known; "none" says that nothing was there."""
    return is_missing_code(label) and label != MISSING_LABEL and label.strip().casefold() not in _NONE
