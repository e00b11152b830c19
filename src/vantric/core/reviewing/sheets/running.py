"""What people add up instead of the frequencies."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from fractions import Fraction
from itertools import accumulate

from vantric.core.numbers.shown import digits_text, one_line
from vantric.core.reviewing.sheets.causes import Slip
from vantric.core.reviewing.sheets.columns import Column
from vantric.core.reviewing.sheets.parting import Parted

_FIX = "add the frequencies up and divide each sum by the total"


def running_slips(
    parted: Parted, column: Column, right: Sequence[Fraction], percents: Column | None, wrong: Sequence[int]
) -> Iterator[Slip]:
    """Yield the slips of a column of running sums.

    Parameters
    ----------
    parted
    column
        Cumulative percents or cumulative frequencies.
    right
        What each cell should be.
    percents
        The column that may have been added up: percents in the scale of the column.
    wrong
        Which cells are wrong.
    """
    own = _own(parted, column, right)
    sums = list(accumulate(own))
    if percents is not None:
        said = _values(percents)
        if said is not None:
            factor = column.scale / percents.scale
            shown = list(accumulate(factor * value for value in said))
            off = abs(shown[-1] - right[-1]) > Fraction(6, 1000) * abs(right[-1])
            words = "a running sum of wrong percents" if off else "a running sum of rounded percents"
            if shown != list(right):
                yield Slip(words, _FIX, lambda at: shown[at], single=not off)
            yield Slip("the percent of its own row again", _FIX, lambda at: factor * said[at])
    yield Slip("the percent of its own row again", _FIX, lambda at: own[at])
    yield Slip("a sum in which its own row is not yet", _FIX, lambda at: sums[at] - own[at])
    yield Slip("added up from the last row upward", _FIX, lambda at: sums[-1] - sums[at] + own[at])
    whole = sums[-1]
    for total in parted.totals:
        if total.kind == "total" and total.before == 0:
            yield Slip("a sum that begins with the Total row", _FIX, lambda at: sums[at] + whole)
    order = sorted(range(len(own)), key=lambda at: -own[at])
    sorted_sums = dict(zip(order, accumulate(own[at] for at in order), strict=True))
    yield Slip(
        "the sum of the rows in descending order, and they are not sorted", "sort all columns together",
        lambda at: sorted_sums[at],
    )  # fmt: skip
    yield Slip("the sum of two rows only: the percent of its own row and of the one before", _FIX,
               lambda at: own[at] + own[at - 1] if at else own[at])  # fmt: skip
    yield from _from_a_row_on(parted, column, right, own, wrong)


def _own(parted: Parted, column: Column, right: Sequence[Fraction]) -> list[Fraction]:
    return [value - before for value, before in zip(right, [Fraction(), *right], strict=False)]


def _values(column: Column) -> list[Fraction] | None:
    values = [cell.value if cell is not None else None for cell in column.cells]
    return None if any(value is None for value in values) else [value for value in values if value is not None]


def _from_a_row_on(
    parted: Parted, column: Column, right: Sequence[Fraction], own: Sequence[Fraction], wrong: Sequence[int]
) -> Iterator[Slip]:
    """Yield a sum that is off by one amount from some row on: a row left out or added twice."""
    for first in wrong[:50]:
        cell = column.cells[first]
        if cell is None or cell.value is None:
            continue
        off = cell.value - right[first]
        slack = column.slack(first)
        place = parted.body[first].place
        words = f"off by {digits_text(float(off), digits=3)} from {place} on"
        for row, part in zip(parted.body, own, strict=True):
            if part and abs(off + part) <= slack:
                words = f"a sum in which the row '{one_line(row.label, longest=30)}' is missing from {place} on"
                break
            if part and abs(off - part) <= slack:
                words = f"a sum in which the row '{one_line(row.label, longest=30)}' is twice from {place} on"
                break
        yield Slip(words, _FIX, lambda at, first=first, off=off: right[at] + off if at >= first else None)  # type: ignore[misc]
