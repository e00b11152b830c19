"""What every source can be asked: groups of records, and sums, units and extremes within them."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Hashable, Iterable, Mapping, Sequence
from copy import copy
from dataclasses import field
from typing import Any, NamedTuple

from vantric.base.lazily import dataclass
from vantric.core.counts.provenance import Note
from vantric.core.counts.tally import exact_sum
from vantric.core.numbers.amounts import Raw
from vantric.errors import SourceError
from vantric.reading.headings import is_blank
from vantric.reading.number_columns import NumberColumns, product, square, times
from vantric.reading.settings import CellRules

#: The labels of a group, and behind them what was worked out of it.
Group = tuple[Any, ...]


class PlacedRow(NamedTuple):
    """A record in its place.

    Attributes
    ----------
    place
        What the source knows it by.
    where
        The same in words: ``"row 12"``.
    values
        Of the columns that were asked for.
    total
        What another column of text says, if that names a total.
    functions
        Column -> the function, where its cell is a formula over records of that column.
    is_bold, follows_blank
        Whether it is written in bold, and whether a blank row stands above it.
    indent, outline
        How far its first value is indented, and its level in the outline of the sheet.
    """

    place: Any
    where: str
    values: Group
    total: str | None = None
    functions: Mapping[str, str] = {}
    is_bold: bool = False
    follows_blank: bool = False
    indent: int = 0
    outline: int = 0


@dataclass(frozen=True)
class RowMarks:
    """What a sheet says of its rows beside their values, by the numbers that people know them by.

    Attributes
    ----------
    functions
        Column -> row -> the function of a formula over records of that column.
    bold, struck, unseen, follows_blank
        Rows in bold, crossed out, white on white, and below a blank one.
    indents
        Column -> row -> how far the text is indented.
    outlines
        Row -> its level in the outline.
    """

    functions: Mapping[str, Mapping[int, str]] = field(default_factory=dict)
    bold: frozenset[int] = frozenset()
    struck: frozenset[int] = frozenset()
    unseen: frozenset[int] = frozenset()
    follows_blank: frozenset[int] = frozenset()
    indents: Mapping[str, Mapping[int, int]] = field(default_factory=dict)
    outlines: Mapping[int, int] = field(default_factory=dict)

    def placed(self, number: int, where: str, values: Group, label: str | None, total: str | None) -> PlacedRow:
        """Return a record in its place, with what is said of its row.

        Parameters
        ----------
        number, where, values
            Of the record.
        label
            The column of labels; None if there is none.
        total
            What another column says that names a total.
        """
        if not (self.functions or self.bold or self.follows_blank or self.indents or self.outlines):
            return PlacedRow(number, where, values, total)
        return PlacedRow(
            number,
            where,
            values,
            total,
            {name: rows[number] for name, rows in self.functions.items() if number in rows},
            number in self.bold,
            number in self.follows_blank,
            self.indents.get(label or "", {}).get(number, 0),
            self.outlines.get(number, 0),
        )


class Records(NumberColumns):
    """Records with named columns.

    A kind of source gives `names`, `_groups` and `head`; what else there is follows from the groups, and a source whose
    engine can do better overrides it.

    Attributes
    ----------
    shown
        What messages and results call the source; None for data in memory.
    where
        The condition that the records meet, as the user wrote it.
    """

    where: str | None = None

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
        groups = self._groups(different)
        if len(different) == len(keys):
            return groups
        places = [different.index(key) for key in keys]
        return [(*(group[place] for place in places), group[-1]) for group in groups]

    def sums(
        self, keys: Sequence[str], amount: str, *, free: bool = False, counted: bool = True, squares: bool = False
    ) -> list[Group]:
        """Return (value of each key, records with an amount, exact sum) for every combination of values.

        Parameters
        ----------
        keys
            Columns to group by.
        amount
            The column that is added up.
        free
            Whether amounts may be negative, and missing ones are passed over; else either is an error.
        counted
            Whether they are counts, if they are not free.
        squares
            Whether the sum of their squares, a float, is wanted behind the sum.

        Raises
        ------
        AmountError
            Naming the first record, or the category, whose amount is none.
        """
        return self._sums_here(keys, amount, free=free, counted=counted, squares=squares)

    def prepare(self, keys: Sequence[str], columns: Sequence[str], ends: Sequence[str] = ()) -> None:
        """Hear which columns will be added up by some keys, and of which the ends are sought: to do all at once."""

    def _sums_here(
        self, keys: Sequence[str], amount: str, *, free: bool, counted: bool = True, squares: bool = False
    ) -> list[Group]:
        """Add up in Python, one group a different amount: exact for whatever the column holds."""
        heaps: dict[tuple[Hashable, ...], list[Raw]] = {}
        squared: dict[tuple[Hashable, ...], float] = {}
        valid: dict[tuple[Hashable, ...], int] = {}
        for *labels, value, records in self.groups([*keys, amount]):
            key = _key(labels)
            heap = heaps.setdefault(key, [])
            if free and is_blank(value):
                continue
            try:
                number = self.number(amount, value) if free else self._amount(amount, value, counted=counted)
            except ValueError as reason:
                raise self.wrong_amount(amount, str(reason), labels, free=free, counted=counted) from None
            if number is None:
                continue
            heap.append(times(number, int(records)))
            valid[key] = valid.get(key, 0) + int(records)
            squared[key] = squared.get(key, 0.0) + square(number) * int(records)
        return [
            (*_labels(key), valid.get(key, 0), exact_sum(heap), *((squared.get(key, 0.0),) if squares else ()))
            for key, heap in heaps.items()
        ]

    def products(self, keys: Sequence[str], count: str, weight: str) -> list[Group]:
        """Return (value of each key, records, exact sum of counts, of counts times weights) for every combination.

        Behind them is the sum of the squares of the counts times weights, a float.

        Raises
        ------
        AmountError
            Naming the first record, or the category, whose count or weight is none.
        """
        return self._products_here(keys, count, weight)

    def _products_here(self, keys: Sequence[str], count: str, weight: str) -> list[Group]:
        """Multiply and add up in Python, one group a different pair of count and weight."""
        heaps: dict[tuple[Hashable, ...], tuple[list[int], list[Raw], list[Raw]]] = {}
        squared: dict[tuple[Hashable, ...], float] = {}
        for *labels, item, other, records in self.groups([*keys, count, weight]):
            amounts = []
            for column, value in ((count, item), (weight, other)):
                try:
                    amounts.append(self._amount(column, value, counted=column == count))
                except ValueError as reason:
                    raise self.wrong_amount(column, str(reason), labels, free=False, counted=column == count) from None
            rows, counts, products = heaps.setdefault(_key(labels), ([], [], []))
            rows.append(int(records))
            counts.append(times(amounts[0], int(records)))
            products.append(times(product(*amounts), int(records)))
            squared[_key(labels)] = squared.get(_key(labels), 0.0) + square(product(*amounts)) * int(records)
        return [
            (*_labels(key), sum(rows), exact_sum(counts), exact_sum(products), squared[key])
            for key, (rows, counts, products) in heaps.items()
        ]

    def first_values(self, column: str) -> Sequence[Any] | None:
        """Return the different values of a column in the order of their first records; None without such an order."""
        return None

    def units(self, keys: Sequence[str], unit: str) -> list[Group]:
        """Return (value of each key, number of different units, records without a unit) for every combination."""
        values: dict[tuple[Hashable, ...], list[int]] = {}
        for *labels, value, records in self.groups([*keys, unit]):
            heap = values.setdefault(_key(labels), [0, 0])
            heap[1 if is_blank(value) else 0] += int(records) if is_blank(value) else 1
        return [(*_labels(key), *heap) for key, heap in values.items()]

    def extremes(self, keys: Sequence[str], value: str) -> list[Group]:
        """Return (value of each key, smallest, largest number) for every combination that has a number."""
        values: dict[tuple[Hashable, ...], list[Raw]] = {}
        for *labels, cell, _ in self.groups([*keys, value]):
            if is_blank(cell):
                continue
            try:
                number = self.number(value, cell)
            except ValueError as reason:
                raise self.wrong_amount(value, str(reason), labels, free=True) from None
            if number is not None:
                values.setdefault(_key(labels), []).append(number)
        return [(*_labels(key), min(heap), max(heap)) for key, heap in values.items()]

    def valid(self, keys: Sequence[str], value: str) -> int:
        """Return how many records have a number in a column; asked beside its sums by the keys."""
        return sum(int(group[-2]) for group in self.sums(keys, value, free=True))

    def least(self, column: str) -> Raw | None:
        """Return the smallest number of a column; None if it has none."""
        values = self.extremes([], column)
        return values[0][0] if values else None

    def rows_in_order(self, columns: Sequence[str], most: int) -> list[list[PlacedRow]] | None:
        """Return all records in their order, file by file, whatever the condition; None if there is no order.

        Parameters
        ----------
        columns
            What is wanted of them.
        most
            How many a file may have.
        """
        return None

    def is_short(self, most: int) -> bool:
        """Whether there are no more records than that, in an order."""
        return False

    def without(self, places: Sequence[Sequence[Any]], remark: Note) -> Records:
        """Return the records without those in some places, file by file, and a remark on it."""
        raise NotImplementedError

    def without_label(self, column: str, value: Any, remark: Note) -> Records:
        """Return the records without those that have a value in a column, and a remark on it."""
        raise NotImplementedError

    def with_pairs(self, columns: Sequence[str]) -> tuple[Records, str]:
        """Return the records with a further column that joins the labels of several, and its name.

        Where one of them has no label, the pair has none.

        Raises
        ------
        SourceError
            If the source cannot have one.
        """
        raise SourceError(f"{self.place}: labels of several columns cannot be joined here; name one column")

    def check_labels(self, column: str) -> None:
        """Raise `SourceError` if a label is a formula whose result was never saved."""

    def with_dittos(self, column: str, remark: Note) -> Records | None:
        """Return the records with marks such as ditto as the label above them; None if the records have no order."""
        return None

    def with_notes(self, notes: Iterable[Note]) -> Records:
        """Return a copy of the records with more notes on how they are read."""
        records = copy(self)
        records.__dict__.update(_said=(*self._said, *notes))
        return records

    def without_part(self, name: str, remark: Note) -> Records:
        """Return the records without those of a sheet, and a remark on it."""
        raise NotImplementedError

    def part_names(self) -> list[str]:
        """Return the names of sheets that are read together; none of other sources."""
        return []

    def with_rules(self, rules: CellRules) -> Records:
        """Return the records with other rules on what becomes of totals."""
        records = copy(self)
        records.__dict__.update(rules=rules)
        return records

    def unnoted(self) -> Records:
        """Return a copy whose readings of columns are decided apart: what is only looked at is not noted."""
        records = copy(self)
        records.__dict__.update(_found=dict(self._known()))
        return records

    def labeled_by(self, column: str | None) -> Records:
        """Return the records with the column of labels known: one that lacks its label meets a condition on it.

        A condition such as ``defect <> 'NA'`` is unknown where there is no defect; such records are missing, not gone.
        """
        if self.where is None or column is None or column.casefold() not in self.where.casefold():
            return self
        records = copy(self)
        records.__dict__.update(_labeled=column)
        return records

    _labeled: str | None = None

    def _left(self, remark: Note) -> Records:
        """Return a copy that holds fewer records: what was decided of the columns is decided anew."""
        records = copy(self)
        records.__dict__.update(_said=(*self._said, remark), _found={}, _summed={}, _told_rows=None)
        return records

    def close(self) -> None:
        """Let go of what is held open."""

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
