"""What every source can be asked: groups of records, and sums, units and extremes within them."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Hashable, Iterable, Sequence
from typing import Any

from vantric.core.counting.remark import Remark
from vantric.core.counting.tally import exact_sum
from vantric.core.numbers.amounts import Raw
from vantric.core.numbers.parsing import parse_amount, parse_number
from vantric.errors import AmountError
from vantric.sources.reading.exact import bad_amount, product, times

Group = tuple[Any, ...]


class Records(ABC):
    """Records with named columns.

    A kind of source gives `names`, `_groups` and `head`; what else there is follows from the groups, and a source whose
    engine can do better overrides it.

    Attributes
    ----------
    shown
        What messages and results call the source; None for data in memory.
    where
        The condition that the records meet, as the user wrote it.
    remarks
        What there is to say of how it was read.
    """

    shown: str | None = None
    where: str | None = None
    remarks: tuple[Remark, ...] = ()

    @property
    def place(self) -> str:
        """What messages call the source."""
        return f"'{self.shown}'" if self.shown else "the data"

    @abstractmethod
    def names(self) -> tuple[str, ...]:
        """Return the names of the columns."""

    @abstractmethod
    def _groups(self, keys: Sequence[str]) -> list[Group]:
        """Return (value of each key, number of records) for every combination of values; keys differ."""

    @abstractmethod
    def head(self, rows: int) -> list[Group]:
        """Return the first records."""

    def groups(self, keys: Sequence[str]) -> list[Group]:
        """Return (value of each key, number of records) for every combination of values."""
        different = list(dict.fromkeys(keys))
        found = self._groups(different)
        if len(different) == len(keys):
            return found
        places = [different.index(key) for key in keys]
        return [(*(group[place] for place in places), group[-1]) for group in found]

    def sums(self, keys: Sequence[str], amount: str, *, free: bool = False) -> list[Group]:
        """Return (value of each key, records with an amount, exact sum) for every combination of values.

        Parameters
        ----------
        keys
            Columns to group by.
        amount
            The column that is added up.
        free
            Whether amounts may be negative, and missing ones are passed over; else either is an error.

        Raises
        ------
        AmountError
            Naming the first record, or the category, whose amount is none.
        """
        return self._sums_here(keys, amount, free=free)

    def _sums_here(self, keys: Sequence[str], amount: str, *, free: bool) -> list[Group]:
        """Add up in Python, one group a different amount: exact for whatever the column holds."""
        heaps: dict[tuple[Hashable, ...], list[Raw]] = {}
        valid: dict[tuple[Hashable, ...], int] = {}
        for *labels, value, records in self.groups([*keys, amount]):
            key = _key(labels)
            heap = heaps.setdefault(key, [])
            if free and is_blank(value):
                continue
            try:
                number = parse_number(value) if free else parse_amount(value)
            except ValueError as reason:
                raise self.wrong_amount(amount, str(reason), labels, free=free) from None
            heap.append(times(number, int(records)))
            valid[key] = valid.get(key, 0) + int(records)
        return [(*_labels(key), valid.get(key, 0), exact_sum(heap)) for key, heap in heaps.items()]

    def products(self, keys: Sequence[str], count: str, weight: str) -> list[Group]:
        """Return (value of each key, records, exact sum of counts, of counts times weights) for every combination.

        Raises
        ------
        AmountError
            Naming the first record, or the category, whose count or weight is none.
        """
        return self._products_here(keys, count, weight)

    def _products_here(self, keys: Sequence[str], count: str, weight: str) -> list[Group]:
        """Multiply and add up in Python, one group a different pair of count and weight."""
        heaps: dict[tuple[Hashable, ...], tuple[list[int], list[Raw], list[Raw]]] = {}
        for *labels, one, other, records in self.groups([*keys, count, weight]):
            amounts = []
            for column, value in ((count, one), (weight, other)):
                try:
                    amounts.append(parse_amount(value))
                except ValueError as reason:
                    raise self.wrong_amount(column, str(reason), labels, free=False) from None
            rows, counts, products = heaps.setdefault(_key(labels), ([], [], []))
            rows.append(int(records))
            counts.append(times(amounts[0], int(records)))
            products.append(times(product(*amounts), int(records)))
        return [
            (*_labels(key), sum(rows), exact_sum(counts), exact_sum(products))
            for key, (rows, counts, products) in heaps.items()
        ]

    def first_values(self, column: str) -> Sequence[Any] | None:
        """Return the different values of a column in the order of their first records; None without such an order."""
        return None

    def units(self, keys: Sequence[str], unit: str) -> list[Group]:
        """Return (value of each key, number of different units, records without a unit) for every combination."""
        found: dict[tuple[Hashable, ...], list[int]] = {}
        for *labels, value, records in self.groups([*keys, unit]):
            heap = found.setdefault(_key(labels), [0, 0])
            heap[1 if is_blank(value) else 0] += int(records) if is_blank(value) else 1
        return [(*_labels(key), *heap) for key, heap in found.items()]

    def extremes(self, keys: Sequence[str], value: str) -> list[Group]:
        """Return (value of each key, smallest, largest number) for every combination that has a number."""
        found: dict[tuple[Hashable, ...], list[Raw]] = {}
        for *labels, cell, _ in self.groups([*keys, value]):
            if is_blank(cell):
                continue
            try:
                found.setdefault(_key(labels), []).append(parse_number(cell))
            except ValueError as reason:
                raise self.wrong_amount(value, str(reason), labels, free=True) from None
        return [(*_labels(key), min(heap), max(heap)) for key, heap in found.items()]

    def least(self, column: str) -> Raw | None:
        """Return the smallest number of a column; None if it has none."""
        found = self.extremes([], column)
        return found[0][0] if found else None

    def close(self) -> None:  # noqa: B027 (most sources hold nothing open)
        """Let go of what is held open."""

    def wrong_amount(self, column: str, reason: str, labels: Sequence[Any], *, free: bool) -> AmountError:
        """Return the error for an amount that cannot be used, naming the first such record if there is an order."""
        parse = (lambda value: None if is_blank(value) else parse_number(value)) if free else parse_amount
        for place, value in self.values_in_order(column):
            try:
                parse(value)
            except ValueError as first:
                return bad_amount(f"{self._prefix()}{place}, column '{column}'", str(first), free=free)
        if not labels:
            return bad_amount(f"{self._prefix()}column '{column}'", reason, free=free)
        from vantric.sources.reading.labels import label_text

        label = label_text(labels[0])
        return bad_amount(f"{self._prefix()}a record of '{label}', column '{column}'", reason, free=free)

    def _prefix(self) -> str:
        return f"'{self.shown}', " if self.shown else ""

    def values_in_order(self, column: str, *, numbers: bool = False) -> Iterable[tuple[str, Any]]:
        """Yield (place in words, value) of every record, if the source has an order of records; else nothing.

        A source may pass over plain numbers unless `numbers` are asked for.
        """
        return ()


def _key(labels: Sequence[Any]) -> tuple[Hashable, ...]:
    """Return what tells groups apart: Python takes a truth for the same key as 0 or 1."""
    return tuple((isinstance(label, bool), label) for label in labels)


def _labels(key: tuple[Any, ...]) -> tuple[Any, ...]:
    return tuple(label for _, label in key)


def is_blank(value: object) -> bool:
    """Whether a cell is missing: null, NaN, empty or blank text."""
    if value is None:
        return True
    if isinstance(value, str):
        return not value.strip()
    if isinstance(value, float):
        return value != value
    return type(value).__name__ in {"NAType", "NaTType"} or (hasattr(value, "is_nan") and bool(value.is_nan()))
