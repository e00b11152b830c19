"""What there is to say of the rows of a sheet: their order, labels that stand twice, negative frequencies."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise

from vantric.core.counting.labels.missingcodes import is_missing_code
from vantric.core.counting.labels.orderwords import own_order
from vantric.core.counting.labels.restwords import is_rest
from vantric.core.counting.origin import Origin
from vantric.core.counting.tally import make_tally
from vantric.core.numbers.shown import listed, one_line, quoted
from vantric.core.reviewing.finding import Finding, WrongCell, error, warning
from vantric.core.reviewing.labels import nothing_first, several_labels
from vantric.core.reviewing.sheets.table import SheetRow, SheetTable
from vantric.core.reviewing.spelling import near_labels, plain_spelling

_MOST = 3


def not_sorted(table: SheetTable, body: Sequence[SheetRow]) -> list[Finding]:
    """Find rows that are not in descending order under a cumulative column; the rest stands last.

    Rows of an order of their own, such as months or answers on a scale, may have a running sum in that order.
    """
    rows = list(body)
    while rows and (is_rest(rows[-1].label) or is_missing_code(rows[-1].label)):
        rows.pop()
    order = own_order([row.label for row in rows])
    if order == "yes" or not (table.has("cumulative") or table.has("running")):
        return []
    for before, after in pairwise(rows):
        if (after.count or 0) > (before.count or 0):
            return [
                warning(
                    "not-sorted",
                    message=f"{table.where}{_named(after)} is larger than the row before it: a Pareto table is in "
                    "descending order",
                    fix="sort all columns together by frequency, the rest last",
                    where=after.place,
                )
            ]
    return []


def repeated_labels(table: SheetTable, body: Sequence[SheetRow]) -> list[Finding]:
    """Find labels that stand in several rows: one category is ranked as two."""
    seen: dict[tuple[str, ...], list[SheetRow]] = {}
    for row in body:
        if row.label.strip():
            seen.setdefault((plain_spelling(row.label), *row.group), []).append(row)
    again = [rows for rows in seen.values() if len(rows) > 1]
    if not again:
        return []
    told = "; ".join(
        f"{quoted([rows[0].label])} in {listed([row.place for row in rows], most=4)}" for rows in again[:_MOST]
    )
    more = f"; and {len(again) - _MOST} labels more" if len(again) > _MOST else ""
    return [
        warning(
            "repeated-label",
            message=f"{table.where}one category stands in several rows, each ranked for itself: {told}{more}",
            fix="add the rows of one category up to one row, and rank again",
            where=again[0][1].place,
        )
    ]


def of_labels(table: SheetTable, body: Sequence[SheetRow]) -> list[Finding]:
    """Return what there is to say of the labels of a sheet, as of those of any tally."""
    rows = [(row.label, row.count) for row in body if row.count is not None and row.count >= 0 and row.label.strip()]
    if not rows:
        return []
    groups = [(label, int(count) if count.denominator == 1 else float(count)) for label, count in rows]
    tally = make_tally(groups, Origin(by=table.by or None, ready=True, input_rows=len(rows)))
    found = [*near_labels(tally), *several_labels(tally), *nothing_first(tally)]
    return [replace(one, message=f"{table.where}{one.message}") for one in found]


def negative_counts(table: SheetTable, body: Sequence[SheetRow]) -> list[Finding]:
    """Find frequencies below zero: nothing occurs less than never."""
    below = [row for row in body if row.count is not None and row.count < 0]
    if not below:
        return []
    return [
        error(
            "negative-count",
            message=f"{table.where}the frequency is negative in {listed([_named(row) for row in below], most=_MOST)}",
            fix="find out what was meant: a correction belongs to the category that it corrects",
            where=below[0].place,
            cells=[
                WrongCell(row.place, one_line(row.label), "frequency", str(float(row.count or 0)), "zero or more")
                for row in below
            ],
        )
    ]


def _named(row: SheetRow) -> str:
    return f"{row.place} ('{one_line(row.label, longest=40)}')"
