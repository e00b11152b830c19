"""Tables of Arrow through Arrow's own query engine, which computes and groups on all processors at once."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from vantric.engines.anytable_part import MOST, AnyTable, type_named
from vantric.engines.frame_table import Column, ColumnType, Result
from vantric.reading.records import Group

_LOW = 0xFFFFFFFF
_ARROW_FUNCTIONS: dict[Result, str] = {"valid": "count", "sum": "sum", "least": "min", "most": "max"}


class ArrowTable(AnyTable):
    """A table of Arrow: columns are expressions of its query engine."""

    def __init__(self, view: Any, names: Sequence[str] | None = None) -> None:
        import pyarrow as pa
        import pyarrow.acero
        import pyarrow.compute

        super().__init__(view, names)
        self._arrow, self._compute, self._acero = pa, pyarrow.compute, pyarrow.acero

    def column(self, name: str) -> Column:
        """Return a column; see `Table.column`."""
        return self._compute.field(self._own[name])

    def refer(self, name: str, column: Column) -> Column:
        """Return a column by its name; see `Table.refer`."""
        return self._compute.field(name)

    def whole(self, column: Column) -> Column:
        """Return integers of 64 bits; see `Table.whole`."""
        return column.cast(self._arrow.int64())

    def real(self, column: Column, *, clean: bool = False) -> Column:
        """Return 64-bit floats; see `Table.real`."""
        found = column.cast(self._arrow.float64(), safe=False)
        if not clean:
            return found
        nothing = self._arrow.scalar(None, self._arrow.float64())
        return self._compute.if_else(self._compute.is_nan(found), nothing, found)

    def floor(self, column: Column) -> Column:
        """Return the integers below; see `Table.floor`."""
        within = self._compute.max_element_wise(self._compute.min_element_wise(column, MOST), -MOST)
        return self._compute.floor(within).cast(self._arrow.int64(), safe=False)

    def halves(self, column: Column) -> tuple[Column, Column]:
        """Return both halves of an integer."""
        low = self._compute.bit_wise_and(column, _LOW)
        return self._compute.shift_right(column, 32).cast(self._arrow.int64()), low.cast(self._arrow.int64())

    def decimal(self, column: Column, digits: int, scale: int) -> Column:
        """Return decimals; see `Table.decimal`."""
        return column.cast(self._arrow.decimal128(digits, scale))

    def type_of(self, column: Column) -> ColumnType:
        """Return what a computed column holds: what it makes of no records."""
        import narwhals as nw

        none = self._projected([column], ["x"], self._frame.head(0).to_native())
        made = nw.from_native(none.to_table(use_threads=False))
        return type_named(made.collect_schema()["x"])

    def _projected(self, columns: Sequence[Column], names: Sequence[str], native: Any) -> Any:
        acero = self._acero
        source = acero.Declaration("table_source", acero.TableSourceNodeOptions(native))
        return acero.Declaration("project", acero.ProjectNodeOptions(columns, names), [source])

    def grouped(
        self, keys: Sequence[str], made: Sequence[Mapping[str, Column]], results: Sequence[tuple[Result, str]]
    ) -> list[Group]:
        """Group in the engine; see `Table.grouped`."""
        if not any(made):
            return super().grouped(keys, made, results)
        plain = [f"k{place}" for place in range(len(keys))]
        acero = self._acero
        columns = {own: self._decoded(key) for own, key in zip(plain, keys, strict=True)}
        columns |= made[0]
        plan = self._projected(list(columns.values()), list(columns), self._frame.to_native())
        for step in made[1:]:
            columns = {**{name: self._compute.field(name) for name in columns}, **step}
            plan = acero.Declaration("project", acero.ProjectNodeOptions(list(columns.values()), list(columns)), [plan])
        hashed = "hash_" if plain else ""
        wanted = [
            ([], f"{hashed}count_all", None, f"r{place}")
            if kind == "rows"
            else (name, f"{hashed}{_ARROW_FUNCTIONS[kind]}", None, f"r{place}")
            for place, (kind, name) in enumerate(results)
        ]
        plan = acero.Declaration("aggregate", acero.AggregateNodeOptions(wanted, plain), [plan])
        found = plan.to_table().select([*plain, *(f"r{place}" for place in range(len(results)))])
        return list(zip(*(column.to_pylist() for column in found.columns), strict=True))

    def _decoded(self, key: str) -> Column:
        """Return a key as plain values: labels that stand once in a dictionary are no keys of the engine's."""
        native = self._frame.to_native().schema.field(self._own[key]).type
        column = self.column(key)
        return column.cast(native.value_type) if self._arrow.types.is_dictionary(native) else column
