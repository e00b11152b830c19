"""Which rows of a table are totals and subtotals: by what they are called, and by what they add up."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal, TypeAlias

from vantric.core.counting.labels.totalwords import is_loose, is_mean, is_strong, plain_label

#: A row is a total, or may be one and the user must say.
Verdict: TypeAlias = Literal["total", "ask"]
_FEWEST = 3
_COUNTED = frozenset({
    "defects", "count", "counts", "qty", "quantity", "number", "records", "pieces", "rejects", "scrap",
    "failures", "errors", "complaints", "cases", "incidents", "frequency",
})  # fmt: skip


@dataclass(frozen=True)
class LabeledRow:
    """A row with its label and what is counted in it.

    Attributes
    ----------
    label
        None if it has none.
    amounts
        Of each counted column; None where there is no number.
    sums
        Whether a counted cell is a formula that adds up others.
    decimals
        How many decimals its numbers show.
    rounded
        Whether they are rounded though they are whole: percents.
    other
        What another column says that is a word for a total, beside a label that is none.
    """

    label: str | None
    amounts: tuple[Fraction | None, ...]
    sums: bool = False
    decimals: int = 0
    rounded: bool = False
    other: str | None = None


def totals_among(rows: Sequence[LabeledRow]) -> dict[int, Verdict]:
    """Return the place of every row that is a total, or may be one.

    Parameters
    ----------
    rows
        In their order.
    """
    kinds = [_kind(row) for row in rows]
    found: dict[int, Verdict] = {}
    adding = _adding_up(rows, kinds)
    beside = [at for at, kind in enumerate(kinds) if kind == "beside"]
    if beside and not all(adding[at] or rows[at].sums for at in beside):  # a column of its own, such as a scope
        kinds = ["" if kind == "beside" else kind for kind in kinds]
        adding = _adding_up(rows, kinds)
    found |= {at: "total" for at in beside if kinds[at]}
    last = len(rows) - 1
    closed = any(at == last and (adding[at] or rows[at].sums) and kinds[at] == "strong" for at in adding)
    for at, kind in enumerate(kinds):
        if kind == "strong":
            counted = bool(rows[at].amounts)
            sure = counted and (rows[at].sums or (adding[at] and (closed or at in (0, last))))
            found[at] = "total" if sure else "ask"
        elif kind == "loose":
            if rows[at].sums and rows[at].amounts:
                found[at] = "total"
            elif adding[at] or (at == last and _counts_things(rows[at])):
                found[at] = "ask"
        elif kind == "mean" and _is_mean(rows, kinds, at):
            found[at] = "ask"
        elif kind == "blank" and at == last and (adding[at] or rows[at].sums):
            found |= _blank_total(rows)
    return found


def _kind(row: LabeledRow) -> str:
    if row.label is None or not row.label.strip():
        return "blank"
    if is_strong(row.label):
        return "strong"
    if row.other is not None:
        return "beside"
    return "mean" if is_mean(row.label) else "loose" if is_loose(row.label) else ""


def _is_mean(rows: Sequence[LabeledRow], kinds: Sequence[str], at: int) -> bool:
    """Whether a row that is called a mean is that of the records."""
    for place, stated in enumerate(rows[at].amounts):
        others = [row.amounts[place] for row, kind in zip(rows, kinds, strict=True) if not kind]
        told = [amount for amount in others if amount is not None]
        if stated is not None and len(told) > 1 and abs(stated - sum(told, Fraction()) / len(told)) <= Fraction(1, 2):
            return True
    return False


def _counts_things(row: LabeledRow) -> bool:
    return any(amount for amount in row.amounts) and plain_label(str(row.label)).split()[-1] in _COUNTED


def _blank_total(rows: Sequence[LabeledRow]) -> dict[int, Verdict]:
    """Return a last row without a label that adds up the others, where every other row has a label of its own."""
    labels = [row.label for row in rows[:-1]]
    named = [label for label in labels if label is not None and label.strip()]
    if len(named) < len(labels) or len(set(named)) < len(named):
        return {}
    return {len(rows) - 1: "total" if len(labels) >= _FEWEST else "ask"}


def _adding_up(rows: Sequence[LabeledRow], kinds: Sequence[str]) -> dict[int, bool]:
    """Return for each row that may be a total whether it is the sum of two rows or more."""
    found = {}
    every, since, labeled = _Sums(rows), _Sums(rows), _Sums(rows)
    for at, row in enumerate(rows):
        if kinds[at]:
            below = _Sums(rows)
            if not every.number:  # it stands first
                for other in range(at + 1, len(rows)):
                    if not kinds[other]:
                        below.add(rows[other])
            found[at] = any(sums.equal(row) for sums in (since, every, labeled, below))
            if found[at] or row.sums:
                since = _Sums(rows)
                continue
            if kinds[at] in ("strong", "mean"):
                continue
        every.add(row)
        since.add(row)
        if kinds[at] != "blank":
            labeled.add(row)
    return found


class _Sums:
    """What rows add up to, column by column."""

    def __init__(self, rows: Sequence[LabeledRow]) -> None:
        self.number = 0
        self._sums = [Fraction()] * (len(rows[0].amounts) if rows else 0)
        self._decimals = 0

    def add(self, row: LabeledRow) -> None:
        """Add a row."""
        self.number += 1
        self._decimals = max(self._decimals, row.decimals)
        self._sums = [one + (other or 0) for one, other in zip(self._sums, row.amounts, strict=True)]

    def equal(self, row: LabeledRow) -> bool:
        """Whether a row is the sum of two rows or more in a counted column, within what is shown."""
        if self.number < 2:
            return False
        decimals = max(self._decimals, row.decimals)
        slack = Fraction(self.number + 1, 2 * 10**decimals) if decimals or row.rounded else Fraction()
        return any(
            stated is not None and stated != 0 and abs(stated - total) <= max(slack, abs(total) * Fraction(1, 10**9))
            for stated, total in zip(row.amounts, self._sums, strict=True)
        )
