"""A tally: categories with their frequencies, and what was missing."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from vantric.core.counting.remark import Remark
from vantric.core.numbers.amounts import Amounts, Number, Raw
from vantric.core.numbers.shown import counted, number_text, with_article
from vantric.errors import RankError


@dataclass(frozen=True)
class Missing:
    """What was left out because it had no label.

    Attributes
    ----------
    records
        How many occurrences had no label.
    frequency
        Their count times weight.
    """

    records: Number = 0
    frequency: Number = 0


@dataclass(frozen=True)
class Origin:
    """Where a tally comes from, so that every result can say so.

    Attributes
    ----------
    source, where, by, count
        The source, the condition its records meet, the column of labels and that of counts, as the user named them.
    input_rows
        How many records were read.
    counted
        What is counted: ``"records"``, ``"mentions"`` (several labels a record), or the name of the units.
    grouped
        Whether labels stand for families.
    remarks
        What was left out, merged or chosen on the way.
    """

    source: str | None = None
    by: str | None = None
    count: str | None = None
    input_rows: int = 0
    where: str | None = None
    counted: str = "records"
    grouped: bool = False
    remarks: tuple[Remark, ...] = ()

    def note(self) -> str:
        """Return source, condition and what was done to the labels, for the small line under a picture."""
        merged = sum(remark.code == "merged-spellings" for remark in self.remarks)
        parts = [
            f"Source: {self.source}" if self.source else "",
            f"where {self.where}" if self.where else "",
            f"{counted(merged, 'label')} with other spellings merged in" if merged else "",
            "labels grouped in families" if self.grouped else "",
            "a Total row left out" if any(remark.code == "total-row" for remark in self.remarks) else "",
        ]
        return "; ".join(filter(None, parts))


@dataclass(frozen=True, eq=False)
class Tally:
    """Categories and how often each occurred.

    Two tallies are equal when they hold the same categories with the same frequencies and the same missing, in
    whatever order and from whatever source.

    Attributes
    ----------
    categories : tuple of str, length n
    frequency : Amounts of length n
        Sum of count times weight of each category's records.
    missing : Missing
    origin : Origin
    """

    categories: tuple[str, ...]
    frequency: Amounts
    missing: Missing
    origin: Origin

    @property
    def total(self) -> Number:
        """Frequency of all valid records together."""
        return self.frequency.total

    @property
    def records(self) -> Number:
        """How many occurrences have a label: the sum of the counts."""
        return self.frequency.total

    @property
    def labelled_rows(self) -> int:
        """How many records have a label; fewer than the mentions where a record has several."""
        return self.origin.input_rows - int(self.missing.records)

    @property
    def unit(self) -> str:
        """What the frequency counts: the count column's name, or "records", "mentions" or the units' name."""
        return self.origin.count or self.origin.counted

    def as_dict(self) -> dict[str, Number]:
        """Return category -> frequency."""
        return dict(zip(self.categories, self.frequency.values(), strict=True))

    def base(self) -> str:
        """Return the base of every percent in words: ``"231 records, 9 without a defect"``."""
        words = base_words(self.records, self.origin)
        if self.origin.counted == "mentions":
            words += f" in {counted(self.origin.input_rows, 'record')}"
        if not self.missing.records:
            return words
        label = with_article(self.origin.by) if self.origin.by else "a label"
        return f"{words}, {number_text(self.missing.records)} without {label}"

    def _key(self) -> tuple[Any, ...]:
        return frozenset(self.as_dict().items()), self.missing

    def __eq__(self, other: object) -> bool:
        return self._key() == other._key() if isinstance(other, Tally) else NotImplemented

    def __hash__(self) -> int:
        return hash(self._key())

    def __repr__(self) -> str:
        leading = sorted(self.as_dict().items(), key=lambda item: (-item[1], item[0]))[:5]
        shown = ", ".join(f"{label!r}: {frequency}" for label, frequency in leading)
        more = f", and {len(self.categories) - 5} more" if len(self.categories) > 5 else ""
        return f"<Tally of {self.base()}: {shown}{more}>"


def base_words(amount: Number, origin: Origin) -> str:
    """Return ``"231 records"``, or the amount in the unit that was counted."""
    if origin.count or origin.counted != "records":
        return f"{number_text(amount)} {origin.count or origin.counted}"
    whole = isinstance(amount, int) or amount.is_integer()
    return counted(amount, "record") if whole else f"a total of {number_text(amount)}"


def make_tally(groups: Iterable[tuple[str | None, Raw]], origin: Origin) -> Tally:
    """Return the tally of (label, frequency) groups; equal labels are added up.

    A label that is None or blank is missing. The amounts must have been checked (`parse_amount`).
    """
    labels: list[str] = []
    amounts: list[Raw] = []
    missing: list[Raw] = []
    for label, amount in groups:
        if label is None or not label.strip():
            missing.append(amount)
        else:
            labels.append(label)
            amounts.append(amount)
    if len(set(labels)) < len(labels):
        labels, amounts = _added_up(labels, amounts)
    left_out = Amounts.of(missing).total
    return Tally(tuple(labels), Amounts.of(amounts), Missing(left_out, left_out), origin)


def _added_up(labels: list[str], amounts: list[Raw]) -> tuple[list[str], list[Raw]]:
    heaps: dict[str, list[Raw]] = {}
    for label, amount in zip(labels, amounts, strict=True):
        heaps.setdefault(label, []).append(amount)
    return list(heaps), [exact_sum(heap) for heap in heaps.values()]


def exact_sum(amounts: list[Raw]) -> Raw:
    """Return the sum: exact for ints and Decimals, correctly rounded once a float is among them."""
    heap = Amounts.of(amounts)
    return heap.total if not heap.exact or heap.scale == 0 else heap.decimal_total()


def check_rankable(tally: Tally) -> None:
    """Raise `RankError` if a tally holds nothing to rank, saying what it lacks."""
    where = tally.origin.source or "the data"
    label = f"'{tally.origin.by}'" if tally.origin.by else "the labels"
    if not tally.origin.input_rows and tally.origin.where:
        raise RankError(f"{where}: no record meets the condition: {tally.origin.where}")
    if not tally.categories and not tally.missing.records and not tally.origin.input_rows:
        raise RankError(f"{where} holds no records: there is nothing to count")
    if not tally.categories:
        raise RankError(f"{where}: {label} is empty in every record: there is nothing to rank")
    if not tally.total:
        raise RankError(f"{where}: all frequencies are zero: there is nothing to rank")
