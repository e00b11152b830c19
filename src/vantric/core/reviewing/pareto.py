"""Findings over a Pareto table."""

from __future__ import annotations

from typing import TYPE_CHECKING

from vantric.core.numbers.shown import counted, listed, one_line, quoted
from vantric.core.reviewing.finding import Finding
from vantric.core.reviewing.tally import review_tally

if TYPE_CHECKING:
    from vantric.core.counting.paretotable import ParetoTable


_MANY = 60  # bars whose labels still stand beside each other


def review_pareto(table: ParetoTable) -> list[Finding]:
    """Return what is risky in a Pareto table and in the tally under it."""
    return [
        *review_tally(table.tally),
        *_tie_at_cutoff(table),
        *_ties(table),
        *_rank_by_count(table),
        *_sum_of_rates(table),
        *_many_categories(table),
    ]


def _tie_at_cutoff(table: ParetoTable) -> list[Finding]:
    return [
        Finding(
            code="tie-at-cut-off",
            severity="warning",
            message=(
                f"the cut-off at {cut.percent} % divides a tie: {quoted(cut.categories[-1:])} is inside, "
                f"{quoted(cut.tied)} {'is' if len(cut.tied) == 1 else 'are'} just as frequent and outside"
            ),
            mend="name the tied categories when you present the vital few",
            where=f"cut-off {cut.percent} %",
        )
        for cut in table.cutoffs
        if cut.tied_count and table.ties_rule == "exclude"
    ]


def _ties(table: ParetoTable) -> list[Finding]:
    if not table.ties:
        return []
    shown = "; ".join(quoted(group) for group in table.ties[:3])
    more = f"; and {counted(len(table.ties) - 3, 'more group')}" if len(table.ties) > 3 else ""
    return [
        Finding(
            code="ties",
            severity="note",
            message=f"equally frequent: {shown}{more}",
            mend="their ranks say nothing: they stand in the natural order of their labels",
            where=table.origin.by or "labels",
        )
    ]


def _rank_by_count(table: ParetoTable) -> list[Finding]:
    """Tell categories whose rank by weight, or as a rate, is not that by count."""
    moved = table.rank_changes
    if not moved:
        return []
    by = "as a rate" if table.origin.per else f"by {one_line(table.origin.weight or 'frequency')}"
    shown = listed(
        [f"'{one_line(name, longest=40)}' ({here}, {plain} by count)" for name, here, plain in moved], most=5
    )
    return [
        Finding(
            code="rank-by-count",
            severity="note",
            message=f"ranked {by} otherwise than by count: {shown}",
            mend="say which of the two is meant when you name the vital few",
            where=table.origin.by or "labels",
        )
    ]


def _sum_of_rates(table: ParetoTable) -> list[Finding]:
    exposure = table.tally.exposure
    if exposure is None or len(set(exposure.values())) < 2:
        return []
    return [
        Finding(
            code="sum-of-rates",
            severity="note",
            message="the rates have different bases: their percents are of the sum of the rates",
            mend="read the ranking; the cumulative percent is no share of the records",
            where=table.origin.by or "labels",
        )
    ]


def _many_categories(table: ParetoTable) -> list[Finding]:
    if len(table) <= _MANY:
        return []
    return [
        Finding(
            code="many-categories",
            severity="note",
            message=f"{len(table)} categories: a chart has no room for every label",
            mend="fold the small ones into one: keep=20 (--keep 20), or fold_below=1 (--fold-below 1)",
            where=table.origin.by or "labels",
        )
    ]
