"""Records in memory: named columns of values, as mappings and lists have them."""

from __future__ import annotations

import math
import re
from collections import Counter
from collections.abc import Callable, Iterable, Mapping, Sequence
from copy import copy
from itertools import islice, repeat
from typing import Any

from vantric.base.stopping import check_time
from vantric.core.counts.provenance import Note
from vantric.core.numbers.amounts import LARGEST
from vantric.core.totals.label_kinds import total_in
from vantric.errors import SourceError
from vantric.reading.headers import CsvShape
from vantric.reading.headings import BETWEEN, is_blank, is_ditto, label_text, pair_of
from vantric.reading.number_columns import square
from vantric.reading.records import Group, PlacedRow, Records
from vantric.reading.settings import CellRules, ReadSettings

#: Numbers that are plain in themselves, and need no style.
PLAIN_NUMBER = r"[+]?[0-9]{1,18}(\.[0-9]{0,9})?"
_MOST_TEXTS = 12  # columns of text in which a total may say that it is one


class PlainRecords(Records):
    """The records of a mapping of name to column; all columns are of one length."""

    def __init__(self, columns: Mapping[Any, Any], rules: CellRules | None = None) -> None:
        self.rules = rules or CellRules()
        self._columns = {str(name): filled(list(values), self.rules, str(name)) for name, values in columns.items()}
        lengths = {name: len(values) for name, values in self._columns.items()}
        for name, length in islice(lengths.items(), 1, None):
            first, expected = next(iter(lengths.items()))
            if length != expected:
                raise SourceError(f"columns '{first}' and '{name}' differ in length: {expected} and {length}")
        self._numbers: Sequence[int] = range(1, 1 + next(iter(lengths.values()), 0))  # of the records, from 1

    def names(self) -> tuple[str, ...]:
        """Return the names of the columns."""
        return tuple(self._columns)

    def head(self, rows: int) -> list[Group]:
        """Return the first records."""
        return list(zip(*(values[:rows] for values in self._columns.values()), strict=True))

    def _groups(self, keys: Sequence[str]) -> list[Group]:
        if not keys:
            return [(len(next(iter(self._columns.values()), ())),)]
        places_of: dict[tuple[Any, ...], list[Any]] = {}
        for values in zip(*(self._columns[key] for key in keys), strict=True):
            group = places_of.setdefault(tuple(map(_identity, values)), [*values, 0])
            group[-1] += 1
        return [tuple(group) for group in places_of.values()]

    def sums(
        self, keys: Sequence[str], amount: str, *, free: bool = False, counted: bool = True, squares: bool = False
    ) -> list[Group]:
        """Add up plain integers, or plain floats, in one pass; all else record by record. See `Records.sums`."""
        values = self._columns[amount]
        total = _total_of(values, free=free)
        if total is None or len(set(keys)) < len(keys):
            return super().sums(keys, amount, free=free, counted=counted, squares=squares)
        of_records = self._labels(keys)
        if isinstance(of_records, list) and len(set(of_records)) == len(of_records):  # counts by label
            more = [(square(item),) for item in values] if squares else repeat((), len(values))
            return [(label, 1, item, *own) for label, item, own in zip(of_records, values, more, strict=True)]
        heaps: dict[Any, tuple[Group, list[Any]]] = {}
        for labels, value in zip(of_records, values, strict=True):
            key = labels if type(labels) is str else tuple(map(_identity, labels))
            if key not in heaps:
                heaps[key] = ((labels,) if type(labels) is str else labels, [])
            heaps[key][1].append(value)
        return [
            (*labels, len(heap), total(heap), *((sum(map(square, heap)),) if squares else ()))
            for labels, heap in heaps.values()
        ]

    def _labels(self, keys: Sequence[str]) -> Iterable[Any]:
        """Return the label of each record where one key holds text alone; else the labels of all keys."""
        if len(keys) == 1:
            column = self._columns[keys[0]]
            if set(map(type, column)) <= {str} and all(map(str.strip, column)):
                return column
        if not keys:
            return repeat((), len(next(iter(self._columns.values()), ())))
        return zip(*(self._columns[key] for key in keys), strict=True)

    def first_values(self, column: str) -> Sequence[Any]:
        """Return the different values in the order they were given."""
        if set(map(type, self._columns[column])) <= {str}:
            return list(dict.fromkeys(self._columns[column]))
        values: dict[Any, Any] = {}
        for value in self._columns[column]:
            values.setdefault(_identity(value), value)
        return list(values.values())

    def rows_in_order(self, columns: Sequence[str], most: int) -> list[list[PlacedRow]] | None:
        """Return all records in their order."""
        others = [values for name, values in self._columns.items() if name not in columns]
        rows = zip(*(self._columns[name] for name in columns), strict=True)
        return [
            [
                PlacedRow(number, f"record {number}", values, total_in(column[index] for column in others))
                for index, (number, values) in enumerate(zip(self._numbers, rows, strict=True))
            ]
        ]

    def is_short(self, most: int) -> bool:
        """Whether there are no more records than that."""
        return len(next(iter(self._columns.values()), ())) <= most

    def without(self, places: Sequence[Sequence[Any]], remark: Note) -> PlainRecords:
        """Return the records without those in some places."""
        records, left = self._left(remark), set(places[0])
        kept = [index for index, number in enumerate(self._numbers) if number not in left]
        records.__dict__["_columns"] = {
            name: [values[index] for index in kept] for name, values in self._columns.items()
        }
        records.__dict__["_numbers"] = [self._numbers[index] for index in kept]
        return records  # type: ignore[return-value]

    def with_pairs(self, columns: Sequence[str]) -> tuple[PlainRecords, str]:
        """Return the records with a column of the labels of several."""
        records, name = copy(self), BETWEEN.join(columns)
        pairs = list(map(pair_of, zip(*(self._columns[column] for column in columns), strict=True)))
        records.__dict__["_columns"] = {**self._columns, name: pairs}
        return records, name

    def with_dittos(self, column: str, remark: Note) -> PlainRecords | None:
        """Return the records with marks such as ditto as the label above them."""
        records, labels = self._left(remark), list(self._columns[column])
        for place, value in enumerate(labels[1:], 1):
            if isinstance(value, str) and is_ditto(value):
                labels[place] = labels[place - 1]
        records.__dict__["_columns"] = {**self._columns, column: labels}
        return records  # type: ignore[return-value]

    def without_label(self, column: str, value: Any, remark: Note) -> PlainRecords:
        """Return the records without those that have a value in a column."""
        pairs = zip(self._numbers, self._columns[column], strict=True)
        return self.without([[number for number, item in pairs if item == value]], remark)

    def values_in_order(self, column: str, *, numbers: bool = False) -> Iterable[tuple[str, Any]]:
        """Yield the values of a frame that has an order."""
        return ((f"record {number}", value) for number, value in zip(self._numbers, self._columns[column], strict=True))


class TextRecords(PlainRecords):
    """The records of a text file that is short and plain: it was read whole to find its table, and needs no engine.

    They are as the engine has them: cells are texts, blank ones None; around numbers and units spaces are trimmed.

    Parameters
    ----------
    rows
        The cells of each record.
    shape
        The names of the columns, and what stands between them.
    source_name
        What messages call the file.
    rules
        What becomes of totals.
    remarks
        What there is to say of how it was read.
    until
        When the time for it is over.
    """

    def __init__(
        self,
        rows: Sequence[Sequence[str]],
        shape: CsvShape,
        source_name: str,
        rules: CellRules,
        remarks: Sequence[Note] = (),
        until: float | None = None,
    ) -> None:
        columns = zip(*rows, strict=True) if rows else ((),) * len(shape.columns)
        super().__init__(
            dict(zip(shape.columns, ([cell or None for cell in column] for column in columns), strict=True))
        )
        self.rules, self.shown, self.delimiter, self._said = rules, source_name, shape.delimiter, tuple(remarks)
        self._until = until

    def under(self, opening: ReadSettings) -> TextRecords:
        """Return the same records with nothing that was worked out of them; a condition is for the engine."""
        records = copy(self)
        records.__dict__.update(_found={}, rules=opening.rules(), _until=opening.limits().until)
        return records

    def _groups(self, keys: Sequence[str]) -> list[Group]:
        check_time(self._until)
        if not keys:
            return [(len(self._numbers),)]
        return [
            (*values, number) for values, number in Counter(zip(*map(self._columns.get, keys), strict=True)).items()
        ]

    def sums(
        self, keys: Sequence[str], amount: str, *, free: bool = False, counted: bool = True, squares: bool = False
    ) -> list[Group]:
        """Return exact sums; see `Records.sums`."""
        self.number_reading(amount, counted=counted and not free)  # what is wrong with all comes before one cell
        groups = self._sums_here(keys, amount, free=free, counted=counted)
        if not squares:
            return groups
        squared_of = {
            text: 0.0 if is_blank(text) else square(self.number(amount, text, counted=counted and not free) or 0)
            for text in set(self._columns[amount])
        }
        return self._with_squares(groups, keys, [squared_of[text] for text in self._columns[amount]])

    def products(self, keys: Sequence[str], count: str, weight: str) -> list[Group]:
        """Return exact products; see `Records.products`."""
        for column in (count, weight):
            self.number_reading(column, counted=column == count)
        groups = self._products_here(keys, count, weight)
        pairs = list(zip(self._columns[count], self._columns[weight], strict=True))
        squared_of = {
            pair: (float(self.number(count, pair[0], counted=True) or 0) * float(self.number(weight, pair[1]) or 0))
            ** 2
            for pair in set(pairs)
        }
        return self._with_squares([group[:-1] for group in groups], keys, [squared_of[pair] for pair in pairs])

    def _with_squares(self, groups: Sequence[Group], keys: Sequence[str], squared: Sequence[float]) -> list[Group]:
        """Return groups with the sum of the squares of their records behind them, added up as the engine does it."""
        added: dict[Group, float] = {group[: len(keys)]: 0.0 for group in groups}
        columns = (self._columns[name] for name in keys)
        for labels, value in zip(zip(*columns, strict=True) if keys else repeat(()), squared, strict=False):
            added[labels] += value
        return [(*group, added[group[: len(keys)]]) for group in groups]

    def units(self, keys: Sequence[str], unit: str) -> list[Group]:
        """Return numbers of different units; see `Records.units`."""
        return Records.units(self._with_trimmed([unit]), keys, unit)

    def with_pairs(self, columns: Sequence[str]) -> tuple[PlainRecords, str]:
        """Return the records with a column of the labels of several."""
        paired, name = PlainRecords.with_pairs(self._with_trimmed(columns), columns)
        records = copy(self)
        records.__dict__["_columns"] = {**self._columns, name: paired._columns[name]}
        return records, name

    def first_values(self, column: str) -> Sequence[Any]:
        """Return the different values in the order of their first records."""
        return list(dict.fromkeys(self._columns[column]))

    def _with_trimmed(self, columns: Sequence[str]) -> TextRecords:
        trimmed = copy(self)
        trimmed.__dict__["_columns"] = {**self._columns, **{name: self._trimmed(name) for name in columns}}
        return trimmed

    def rows_in_order(self, columns: Sequence[str], most: int) -> list[list[PlacedRow]] | None:
        """Return all records in their order; see `Records.rows_in_order`."""
        if not self.is_short(most):
            return None
        others = [values for name, values in self._columns.items() if name not in columns[:1]][:_MOST_TEXTS]
        named = [self._trimmed(name) if place else self._columns[name] for place, name in enumerate(columns)]
        rows = zip(*named, strict=True) if named else repeat((), len(self._numbers))
        texts = zip(*others, strict=True) if others else repeat((), len(self._numbers))
        placed = zip(self._numbers, rows, texts, strict=True)
        return [[PlacedRow(number, f"record {number}", row, total_in(text)) for number, row, text in placed]]

    def without_label(self, column: str, value: Any, remark: Note) -> PlainRecords:
        """Return the records without those that have a value in a column."""
        return super().without_label(column, str(value), remark)

    def values_in_order(self, column: str, *, numbers: bool = False) -> Iterable[tuple[str, Any]]:
        """Yield each record with its number; plain numbers only if they are asked for."""
        reading = next((reading for (name, _), (reading, _) in self._known().items() if name == column), None)
        plain = re.compile(PLAIN_NUMBER if reading is None else reading.pattern())
        for number, text in zip(self._numbers, self._trimmed(column), strict=True):
            if numbers or text is None or not plain.fullmatch(text):
                yield f"record {number}", text

    def _trimmed(self, column: str) -> list[str | None]:
        return [None if text is None else text.strip(" ") or None for text in self._columns[column]]


def _total_of(values: Sequence[Any], *, free: bool) -> Callable[[list[Any]], Any] | None:
    """Return what adds up the values of a group; None where they are not all plain numbers of one kind."""
    kinds = set(map(type, values))
    if kinds == {int}:
        return sum if free or min(values) >= 0 else None
    if kinds == {float} and all(map(math.isfinite, values)) and max(map(abs, values)) <= LARGEST:
        return math.fsum if free or min(values) >= 0 else None
    return None


def _identity(value: Any) -> Any:
    """Return what equal values have in common: missing ones fall together, and truths stay apart from 0 and 1."""
    if is_blank(value):
        return None
    if isinstance(value, list | dict | set):
        return label_text(value)  # says that it is not a label
    return type(value).__name__ in {"bool", "bool_"}, value


def filled(values: list[Any], rules: CellRules, name: str) -> list[Any]:
    """Return the cells of a column with codes that mean missing as None, and filled down if that is said."""
    if rules.na:
        codes = {code.strip() for code in rules.na}
        values = [None if isinstance(value, str) and value.strip() in codes else value for value in values]
    if name in rules.fill_down:
        last: Any = None
        for index, value in enumerate(values):
            last = last if is_blank(value) else value
            values[index] = last
    return values
