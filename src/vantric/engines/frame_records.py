"""The records of a frame: groups and sums worked out where the data are."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from copy import copy
from dataclasses import replace
from typing import Any

from vantric.core.counts.provenance import Note
from vantric.core.numbers.amounts import LARGEST
from vantric.core.totals.label_kinds import total_in
from vantric.engines.frame_sums import SummedGroups, sum_groups
from vantric.engines.frame_table import FrameTable
from vantric.engines.sum_strategy import Addition, ValueRange
from vantric.errors import SourceError
from vantric.reading.headings import BETWEEN, DITTO_MARKS
from vantric.reading.records import Group, PlacedRow, Records
from vantric.reading.settings import CellRules

_MOST_TEXTS = 12  # columns of text in which a total may say that it is one
#: Kinds of columns that hold numbers.
_NUMBERS = ("whole", "exact", "real")


class FrameRecords(Records):
    """The records of a frame."""

    def __init__(self, table: FrameTable, rules: CellRules | None = None, place: str = "the frame") -> None:
        self.rules = rules or CellRules()
        self._place = place
        self._table = self._as_said(table)

    def _as_said(self, table: FrameTable) -> FrameTable:
        """Return the frame with codes that mean missing as missing, and with labels that are filled down."""
        if self.rules.na:
            table = table.without_codes(
                list(dict.fromkeys(text for code in self.rules.na for text in (code, code.strip())))
            )
        names = [name for name in self.rules.fill_down if name in table.names]
        if names and not table.ordered:
            raise SourceError("fill_down needs records in an order: a lazy frame has none; collect it first")
        return table.filled_down(names) if names else table

    def rows_in_order(self, columns: Sequence[str], most: int) -> list[list[PlacedRow]] | None:
        """Return all records of a frame that has an order."""
        if not self.is_short(most):
            return None
        kinds = self._table.types
        # A total may say that it is one in any column of text.
        others = [name for name in kinds if name not in columns and kinds[name].kind in ("text", "mixed")]
        rows = self._table.records([*columns, *others[:_MOST_TEXTS]]) if columns else ()
        width = len(columns)
        return [
            [
                # Frames have no rows that people know: the first record is record 1.
                PlacedRow(index, f"record {index + 1}", row[:width], total_in(row[width:]))
                for index, row in enumerate(rows)
            ]
        ]

    def is_short(self, most: int) -> bool:
        """Whether there are no more records than that."""
        return self._table.ordered and self._table.rows() <= most

    def _with(self, table: FrameTable, remark: Note) -> FrameRecords:
        records = self._left(remark)
        # What was added up belongs to the records before.
        records.__dict__.update(_table=table, _ready={})
        return records  # type: ignore[return-value]

    def without(self, places: Sequence[Sequence[Any]], remark: Note) -> FrameRecords:
        """Return the records without those in some places."""
        return self._with(self._table.without(list(places[0])), remark)

    def with_pairs(self, columns: Sequence[str]) -> tuple[FrameRecords, str]:
        """Return the records with a column of the labels of several."""
        records, name = copy(self), BETWEEN.join(columns)
        records.__dict__.update(_table=self._table.with_pairs(columns, name), _ready={})
        return records, name

    def with_dittos(self, column: str, remark: Note) -> FrameRecords | None:
        """Return the records with marks such as ditto as the label above them."""
        if not self._table.ordered or self._table.types[column].kind not in ("text", "mixed"):
            return None
        return self._with(self._table.with_dittos(column, DITTO_MARKS), remark)

    def without_label(self, column: str, value: Any, remark: Note) -> FrameRecords:
        """Return the records without those that have a value in a column."""
        return self._with(self._table.without_label(column, value), remark)

    @property
    def place(self) -> str:
        """Return what messages call the source."""
        return self._place

    def names(self) -> tuple[str, ...]:
        """Return the names of the columns."""
        return self._table.names

    def head(self, rows: int) -> list[Group]:
        """Return the first records."""
        return self._table.head(rows)

    def _groups(self, keys: Sequence[str]) -> list[Group]:
        ready = self._prepared(keys)
        if ready is not None:
            return [(*group.labels, group.rows) for group in ready[1].groups]
        try:
            return self._table.grouped(keys, [], [("rows", "")])
        except TypeError as error:
            raise SourceError(f"column '{keys[0]}' holds what cannot be counted: {error}") from None

    def prepare(self, keys: Sequence[str], columns: Sequence[str], ends: Sequence[str] = ()) -> None:
        """Add up several columns in one aggregation; see `Records.prepare`."""
        names = [name for name in dict.fromkeys((*columns, *ends)) if self._is_number(name)]
        additions = [
            replace(self._addition((name,)), added=name in columns, name=str(index)) for index, name in enumerate(names)
        ]
        groups = (
            # One key twice is refused by most engines, and asked for by none of ours.
            sum_groups(self._table, keys, additions, ends=bool(ends))
            if additions and len(set(keys)) == len(keys)
            else None
        )
        if groups is not None:
            self._keep(
                keys,
                [name if addition.added else None for name, addition in zip(names, additions, strict=True)],
                groups,
            )

    def _keep(self, keys: Sequence[str], columns: Sequence[str | None], groups: SummedGroups) -> None:
        """Keep what came over: the same groups are asked for again."""
        self.__dict__.setdefault("_ready", {})[tuple(keys)] = (columns, groups)

    def _prepared(self, keys: Sequence[str]) -> tuple[Sequence[str | None], SummedGroups] | None:
        values: dict[tuple[str, ...], tuple[Sequence[str | None], SummedGroups]] = self.__dict__.get("_ready", {})
        return values.get(tuple(keys))

    def _is_number(self, name: str) -> bool:
        return self._table.types[name].kind in _NUMBERS

    def _addition(self, columns: tuple[str, ...], *, squares: bool = False, name: str = "0") -> Addition:
        return Addition(columns, tuple(self._table.types[column] for column in columns), squares, name=name)

    def sums(
        self, keys: Sequence[str], amount: str, *, free: bool = False, counted: bool = True, squares: bool = False
    ) -> list[Group]:
        """Add up numbers in the engine, text here; see `Records.sums`."""
        # Grouped by each key once, and given back as often as it was asked for.
        different, index = list(dict.fromkeys(keys)), 0
        ready = self._prepared(keys)
        groups: SummedGroups | None
        if ready is not None and amount in ready[0] and not squares:
            index, groups = ready[0].index(amount), ready[1]
        else:
            additions = [self._addition((amount,), squares=squares)]
            groups = sum_groups(self._table, different, additions) if self._is_number(amount) else None
            if groups is not None:
                self._keep(different, [amount], groups)
        if groups is not None:
            self._check(groups, amount, free=free, counted=counted)
        # An inexact sum is no sum: the amounts come over and are added up here.
        if groups is None or not _all_added(groups, index):
            return self._sums_here(keys, amount, free=free, counted=counted, squares=squares)
        places = [different.index(key) for key in keys]
        return [
            (
                *(group.labels[place] for place in places),
                group.spans[amount].valid,
                group.totals[index],
                *((group.squares[index],) if squares else ()),
            )
            for group in groups.groups
        ]

    def _check(self, groups: SummedGroups, amount: str, *, free: bool, counted: bool) -> None:
        """Raise `AmountError` for the first group that holds an amount that is none."""
        if not _doubtful(groups.whole[amount], groups.rows, free=free) and all(
            # The extremes of all records clear most columns without a look at the groups.
            group.spans[amount].finite
            for group in groups.groups
        ):
            return
        for group in groups.groups:
            for value in _doubtful(group.spans[amount], group.rows, free=free):
                try:
                    _ = self.number(amount, value) if free else self._amount(amount, value, counted=counted)
                except ValueError as reason:
                    raise self.wrong_amount(amount, str(reason), group.labels, free=free, counted=counted) from None

    def products(self, keys: Sequence[str], count: str, weight: str) -> list[Group]:
        """Multiply and add up numbers in the engine, text here; see `Records.products`."""
        if not self._is_number(count) or not self._is_number(weight) or count == weight or len(set(keys)) < len(keys):
            return self._products_here(keys, count, weight)
        # The count is checked too, so it is added up on the way.
        additions = [self._addition((count,)), self._addition((count, weight), squares=True, name="1")]
        groups = sum_groups(self._table, keys, additions)
        if groups is None:
            return self._products_here(keys, count, weight)
        self._keep(keys, [count], groups)
        for name in (count, weight):
            self._check(groups, name, free=False, counted=name == count)
        if not all(_all_added(groups, place) for place in (0, 1)):
            return self._products_here(keys, count, weight)
        return [(*group.labels, group.rows, *group.totals, group.squares[1]) for group in groups.groups]

    def extremes(self, keys: Sequence[str], value: str) -> list[Group]:
        """Return the smallest and largest numbers; see `Records.extremes`."""
        groups = self._ends(keys, value) if self._is_number(value) else None
        if groups is None:
            return super().extremes(keys, value)
        self._check(groups, value, free=True, counted=False)
        spans = ((group.labels, group.spans[value]) for group in groups.groups)
        return [(*labels, _plain(span.least), _plain(span.most)) for labels, span in spans if span.valid]

    def _ends(self, keys: Sequence[str], value: str) -> SummedGroups | None:
        """Return groups that know the ends of a column; None if the engine has none."""
        for highest in (False, True):
            if highest:
                # Asked for once more, with the ends, only where the groups that are held lack them.
                self.prepare(keys, (), [value])
            ready = self._prepared(keys)
            if ready is not None and value in ready[1].whole:
                spans = [group.spans[value] for group in ready[1].groups]
                if all(not span.valid or span.least is not None for span in spans):
                    return ready[1]
        return None

    def valid(self, keys: Sequence[str], value: str) -> int:
        """Return how many records have a number; see `Records.valid`."""
        ready = self._prepared(keys)
        if ready is None or value not in ready[1].whole:
            return super().valid(keys, value)
        self._check(ready[1], value, free=True, counted=False)
        return sum(group.spans[value].valid for group in ready[1].groups)

    def units(self, keys: Sequence[str], unit: str) -> list[Group]:
        """Count different units in the engine; see `Records.units`."""
        # Floats and decimals would be compared as numbers: 1.0 and 1 are two units as text.
        if self._table.types[unit].kind not in ("text", "whole"):
            return super().units(keys, unit)
        return self._table.units(keys, unit)

    def values_in_order(self, column: str, *, numbers: bool = False) -> Iterable[tuple[str, Any]]:
        """Yield the values of a frame that has an order."""
        if not self._table.ordered:
            return ()
        return ((f"record {number}", row[0]) for number, row in enumerate(self._table.records([column]), 1))

    def first_values(self, column: str) -> Sequence[Any] | None:
        """Return the levels of an ordered column, or its values in the order of their first records.

        A lazy frame has no order of records.
        """
        if not self._table.ordered:
            return None
        levels = self._table.levels(column)
        return levels if levels is not None else self._table.different(column)


def _all_added(groups: SummedGroups, index: int) -> bool:
    """Whether the engine's sum is exact in every group; none at all is no proof."""
    return bool(groups.groups) and all(group.totals[index] is not None for group in groups.groups)


def _doubtful(span: ValueRange, rows: int, *, free: bool) -> list[Any]:
    """Return what a column holds that may be no amount: a missing one, a negative one, one that is too large."""
    values = [end for end in (span.least, span.most) if end is not None and not _is_fine(end, free=free)]
    return values if free or span.valid == rows else [*values, None]


def _is_fine(end: Any, *, free: bool) -> bool:
    if isinstance(end, float) and not math.isfinite(end):
        return False
    return bool((free or end >= 0) and abs(end) <= LARGEST)


def _plain(number: Any) -> Any:
    """Return a number of NumPy's as one of Python's."""
    return number.item() if hasattr(number, "item") else number
