"""Columns in memory: a mapping of name to values."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping, Sequence
from itertools import islice, repeat
from typing import Any

from vantric.core.counting.origin import Remark
from vantric.core.numbers.amounts import LARGEST
from vantric.errors import SourceError
from vantric.sources.options import CellRules
from vantric.sources.reading.blanks import is_blank
from vantric.sources.reading.exact import square
from vantric.sources.reading.labels import label_text
from vantric.sources.reading.records import Group, PlacedRow, Records, total_in


class PlainRecords(Records):
    """The records of a mapping of name to column; all columns are of one length."""

    def __init__(self, columns: Mapping[Any, Any], rules: CellRules | None = None) -> None:
        self.rules = rules or CellRules()
        self._columns = {
            str(name): filled(list(values), self.rules, str(name)) for name, values in columns.items()
        }  # fmt: skip
        lengths = {name: len(values) for name, values in self._columns.items()}
        for name, length in islice(lengths.items(), 1, None):
            first, expected = next(iter(lengths.items()))
            if length != expected:
                raise SourceError(f"columns '{first}' and '{name}' differ in length: {expected} and {length}")

    def names(self) -> tuple[str, ...]:
        """Return the names of the columns."""
        return tuple(self._columns)

    def head(self, rows: int) -> list[Group]:
        """Return the first records."""
        return list(zip(*(values[:rows] for values in self._columns.values()), strict=True))

    def _groups(self, keys: Sequence[str]) -> list[Group]:
        if not keys:
            return [(len(next(iter(self._columns.values()), ())),)]
        found: dict[tuple[Any, ...], list[Any]] = {}
        for values in zip(*(self._columns[key] for key in keys), strict=True):
            group = found.setdefault(tuple(map(_identity, values)), [*values, 0])
            group[-1] += 1
        return [tuple(group) for group in found.values()]

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
            more = [(square(one),) for one in values] if squares else repeat((), len(values))
            return [(label, 1, one, *own) for label, one, own in zip(of_records, values, more, strict=True)]
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
        found: dict[Any, Any] = {}
        for value in self._columns[column]:
            found.setdefault(_identity(value), value)
        return list(found.values())

    def rows_in_order(self, columns: Sequence[str], most: int) -> list[list[PlacedRow]] | None:
        """Return all records in their order."""
        others = [values for name, values in self._columns.items() if name not in columns]
        rows = zip(*(self._columns[name] for name in columns), strict=True)
        return [[
            PlacedRow(at, f"record {at + 1}", values, total_in(column[at] for column in others))
            for at, values in enumerate(rows)
        ]]  # fmt: skip

    def is_short(self, most: int) -> bool:
        """Whether there are no more records than that."""
        return len(next(iter(self._columns.values()), ())) <= most

    def without(self, places: Sequence[Sequence[Any]], remark: Remark) -> PlainRecords:
        """Return the records without those in some places."""
        found, left = self._left(remark), set(places[0])
        found.__dict__["_columns"] = {
            name: [value for at, value in enumerate(values) if at not in left] for name, values in self._columns.items()
        }
        return found  # type: ignore[return-value]

    def values_in_order(self, column: str, *, numbers: bool = False) -> Iterable[tuple[str, Any]]:
        """Yield the values of a frame that has an order."""
        return ((f"record {number}", value) for number, value in enumerate(self._columns[column], 1))


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
        for at, value in enumerate(values):
            last = last if is_blank(value) else value
            values[at] = last
    return values
