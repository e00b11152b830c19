"""Findings over a Pareto table."""

from __future__ import annotations

from fractions import Fraction
from math import cbrt
from typing import TYPE_CHECKING

from vantric.core.messages.message import Remark, Written, p_words
from vantric.core.numbers.number_format import counted, listed, one_line, quoted
from vantric.core.review.finding import Finding, note, warning
from vantric.core.review.tally import review_tally
from vantric.errors import RankError

if TYPE_CHECKING:
    from vantric.core.counts.pareto_table import ParetoTable


_FEWEST_FLAT, _FEWEST_RULE = 3, 6  # categories, below which a profile has no shape, and a cutoff no alternative
_EXPECTED = 5  # records a category, below which too few were seen to tell
#: The level of the tests that findings are made of.
_ALPHA = 0.05
#: Beyond so many categories the ranks of rates are not worked out for a note.
_MANY_RATES = 200
_LARGE = 10.0  # percent
_FAR = 6.5  # standard deviations: beyond what `surely_uneven` takes for sure
_FEW_RECORDS, _SMALL_BASE, _FEWEST_ROWS = 10, 20, 5  # records, and categories
_MOST_TIES = 3
_MANY = 60  # bars whose labels still are beside each other


def review_pareto(table: ParetoTable) -> list[Finding]:
    """Return what is risky in a Pareto table and in the tally under it."""
    findings = review_tally(table.tally)
    if any(finding.code == "counts-beside" for finding in findings):
        return findings  # whatever else is said of equal counts follows from it
    return [
        *findings,
        *_flat(table),
        *_rates_unsure(table),
        *_strata(table),
        *_rest_above_vital(table),
        *_small_base(table),
        *_few_records(table),
        *_by_the_rule(table),
        *_tie_at_cutoff(table),
        *_ties(table),
        *_rank_by_count(table),
        *_sum_of_rates(table),
        *_many_categories(table),
    ]


def _strata(table: ParetoTable) -> list[Finding]:
    if table.strata is None:
        return []
    from vantric.core.review.comparisons import review_strata  # its tests are loaded for a split only

    return review_strata(table.strata)


def _flat(table: ParetoTable) -> list[Finding]:
    """Tell a profile that chance alone would make of categories that are all equally likely."""
    if table.cutoff is None or table.size < _FEWEST_FLAT or table.origin.per:
        return []
    if _is_plainly_uneven(table):
        return []
    import numpy as np

    from vantric.core.statistics.ranks import evenness_of, surely_uneven
    from vantric.core.statistics.sample import sample_of

    try:
        sample = sample_of(table.tally)
    except RankError:  # too few records for a test: nothing is said
        return []
    if surely_uneven(sample) or sample.effective < _SMALL_BASE:  # of fewer, no result is expected
        return []
    even = evenness_of(sample, np.random.default_rng(1))
    if even.p <= _ALPHA:
        return []
    many = sample.effective >= _EXPECTED * table.size
    kind = warning if many else note
    return [
        kind(
            "flat-profile",
            message=f"there may be no vital few: {table.size} equally likely categories would differ as much by chance "
            f"(chi-square, {p_words(even.p)})",
            fix="look for another column to count by, or weigh the records by cost or time (weight=)"
            if many
            else "wait for more records before you name the vital few",
            where=table.origin.by or "labels",
        )
    ]


def _is_plainly_uneven(table: ParetoTable) -> bool:
    """Whether a few counts of plain records are so uneven that no test is needed; see `surely_uneven`."""
    tally = table.tally
    if not table.ranking.is_short or tally.spread is not None or tally.origin.ready or tally.origin.quantity:
        return False
    values, size = tally.frequency.values(), table.size
    expected = float(tally.total) / size
    if expected < _EXPECTED or not tally.frequency.exact or tally.frequency.scale:
        return False
    ratio = sum((value - expected) ** 2 for value in values) / expected / (size - 1)
    part = 2 / (9 * (size - 1))
    return bool(cbrt(ratio) - (1 - part) > _FAR * part**0.5)


def _rates_unsure(table: ParetoTable) -> list[Finding]:
    """Tell a ranking by rate whose first places chance alone may have made."""
    if not table.origin.per or not 2 <= table.size <= _MANY_RATES:
        return []
    from vantric.core.statistics.ranks import rank_ranges
    from vantric.core.statistics.sample import sample_of

    try:
        sample = sample_of(table.tally).take(table.ranked)
    except RankError:  # too few records for a test: nothing is said
        return []
    _, last = rank_ranges(sample)
    if last[0] == 1:
        return []
    names = [table.tally.categories[place] for place in table.ranked[: int(last[0])].tolist()]
    first, worst = quoted(names[:1]), int(last[0])
    return [
        warning(
            "unsure-rates",
            message=f"the ranking by rate is not sure: {first} has the highest rate, and may by chance be "
            f"anything up to rank {worst} of {table.size}",
            fix="show the intervals, and do not act on a rank that they do not bear",
            where=table.origin.by or "labels",
        )
    ]


def _rest_above_vital(table: ParetoTable) -> list[Finding]:
    rest, cut = table.rest, table.cutoff
    if rest is None or cut is None or not cut.count:
        return []
    value, least = (
        float(table.frequency.values()[-1]),
        float(table.frequency.values()[min(cut.count, len(table) - 1) - 1]),
    )
    if value <= least:
        return []
    return [
        warning(
            "rest-above-vital",
            message=Remark("“{}” ({}) is larger than a vital category ({})", one_line(rest.label), value, least),
            fix="keep more categories (keep=), or say what is in the rest",
            where=table.origin.by or "labels",
        )
    ]


def _small_base(table: ParetoTable) -> list[Finding]:
    """Tell percents of so few records that each is several points: a warning where they are hardly any."""
    records = float(table.tally.records)
    weighed = table.origin.weight or table.origin.per
    few = records < _FEW_RECORDS and 2 * records < 3 * table.size and table.size > 2
    if weighed or not 0 < records < _SMALL_BASE or not (few or table.size >= _FEWEST_ROWS):
        return []
    make = warning if few else note
    return [
        make(
            "small-base",
            message=Remark(
                "the percents are of {} records: one of them is {} percentage points",
                table.tally.records,
                Written(f"{100 / records:.0f}"),
            ),
            fix="show the counts, or wait for more records",
            where=table.origin.by or "labels",
        )
    ]


def _few_records(table: ParetoTable) -> list[Finding]:
    """Tell a cutoff that one record more would move."""
    cut = table.cutoff
    whole = table.tally.counts is None and set(map(type, table.frequency.values())) == {int}
    if (
        cut is None
        or not whole
        or cut.tied_count
        or table.rest is not None
        or cut.rule != "reach"
        or not 0 < cut.count < table.size
    ):
        return []
    values, total = table.frequency.values(), int(table.total)
    inside = int(sum(values[: cut.count]))
    share = Fraction(str(cut.percent)) / 100
    grows = inside < share * (total + 1)  # one record more elsewhere
    shrinks = inside - values[cut.count - 1] + 1 >= share * (total + 1)  # one more among the first
    if not (grows or shrinks):
        return []
    return [
        note(
            "few-records",
            message=Remark("of {} records, one more could change how many categories reach {}%", total, cut.percent),
            fix="do not draw the line between the last category inside and the first outside",
            where=f"cutoff {cut.percent}%",
        )
    ]


def _by_the_rule(table: ParetoTable) -> list[Finding]:
    """Tell a cutoff whose last category is so large that the two rules give quite different shares."""
    cut = table.cutoff
    if cut is None or not cut.count or cut.count > len(table) or table.size < _FEWEST_RULE:
        return []
    last = table.shares[cut.count - 1]
    beyond = float(cut.cumulative_percent) - float(cut.percent)
    if cut.rule != "reach" or last < _LARGE or beyond < _LARGE / 2 or beyond >= last:
        return []
    return [
        note(
            "rule-decides",
            message=Remark(
                "with rule reach {} categories are inside ({}), with rule within {} ({})",
                cut.count,
                Written(f"{cut.cumulative_percent:.1f}%"),
                cut.count - 1,
                Written(f"{float(cut.cumulative_percent) - last:.1f}%"),
            ),
            fix="say which rule is meant when you name the vital few",
            where=f"cutoff {cut.percent}%",
        )
    ]


def _tie_at_cutoff(table: ParetoTable) -> list[Finding]:
    return [
        warning(
            "tie-at-cutoff",
            message=(
                f"the cutoff at {cut.percent}% divides a tie: {quoted(cut.categories[-1:])} is inside, "
                f"{quoted(cut.tied)} {'is' if len(cut.tied) == 1 else 'are'} just as frequent and outside"
            ),
            fix="name the tied categories when you present the vital few",
            where=f"cutoff {cut.percent}%",
        )
        for cut in table.cutoffs
        if cut.tied_count and table.ties_rule == "exclude"
    ]


def _ties(table: ParetoTable) -> list[Finding]:
    number = len(table.ranking.tie_runs)
    if not number:
        return []
    first = table.ranking.tied(_MOST_TIES)
    text = "; ".join(quoted(group) for group in first)
    more = Remark("; and {}", Written(counted(number - _MOST_TIES, "more group"))) if number > _MOST_TIES else ""
    return [
        note(
            "ties",
            message=Remark("equally frequent: {}{}", text, more),
            fix="their ranks have no meaning: they are in the natural order of their labels",
            where=table.origin.by or "labels",
        )
    ]


def _rank_by_count(table: ParetoTable) -> list[Finding]:
    """Tell categories whose rank by weight, or as a rate, is not that by count."""
    moved = table.rank_changes
    if not moved:
        return []
    by = "as a rate" if table.origin.per else f"by {one_line(table.origin.weight or 'frequency')}"
    text = listed([f"'{one_line(name, longest=40)}' ({here}, {plain} by count)" for name, here, plain in moved], most=5)
    return [
        note(
            "rank-by-count",
            message=f"ranked {by} otherwise than by count: {text}",
            fix="say which of the two is meant when you name the vital few",
            where=table.origin.by or "labels",
        )
    ]


def _sum_of_rates(table: ParetoTable) -> list[Finding]:
    exposure = table.tally.exposure
    if exposure is None or len(set(exposure.values())) < 2:
        return []
    return [
        note(
            "sum-of-rates",
            message="the rates have different bases: their percents are of the sum of the rates",
            fix="read the ranking; the cumulative percent is not a share of the records",
            where=table.origin.by or "labels",
        )
    ]


def _many_categories(table: ParetoTable) -> list[Finding]:
    if len(table) <= _MANY:
        return []
    return [
        note(
            "many-categories",
            message=f"{len(table)} categories: a chart has no room for every label",
            fix="fold the small ones into one: keep=20, or fold_below=1",
            where=table.origin.by or "labels",
        )
    ]
