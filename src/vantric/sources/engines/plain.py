"""Columns in memory: a mapping of name to values."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from itertools import islice
from typing import Any

from vantric.errors import SourceError
from vantric.sources.reading.labels import label_text
from vantric.sources.reading.records import Group, Records, is_blank


class PlainRecords(Records):
    """The records of a mapping of name to column; all columns are of one length."""

    def __init__(self, columns: Mapping[Any, Any]) -> None:
        self._columns = {str(name): list(values) for name, values in columns.items()}
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

    def first_values(self, column: str) -> Sequence[Any]:
        """Return the different values in the order they were given."""
        found: dict[Any, Any] = {}
        for value in self._columns[column]:
            found.setdefault(_identity(value), value)
        return list(found.values())

    def values_in_order(self, column: str, *, numbers: bool = False) -> Iterable[tuple[str, Any]]:
        """Yield the values of a frame that has an order."""
        return ((f"record {number}", value) for number, value in enumerate(self._columns[column], 1))


def _identity(value: Any) -> Any:
    """Return what equal values have in common: missing ones fall together, and truths stay apart from 0 and 1."""
    if is_blank(value):
        return None
    if isinstance(value, list | dict | set):
        return label_text(value)  # says that it is not a label
    return type(value).__name__ in {"bool", "bool_"}, value
