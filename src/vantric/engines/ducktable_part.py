"""Relations of DuckDB: grouped by its own SQL, whose sum of floats can be compensated."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from vantric.engines.anytable_part import AnyTable
from vantric.engines.frame_table import Column, Result
from vantric.reading.records import Group

_DUCKDB_FUNCTIONS: dict[Result, str] = {"valid": "count", "least": "min", "most": "max"}


class DuckTable(AnyTable):
    """A relation of DuckDB."""

    def __init__(self, view: Any, names: Sequence[str] | None = None) -> None:
        super().__init__(view, names)
        self.compensates = True

    def grouped(
        self, keys: Sequence[str], made: Sequence[Mapping[str, Column]], results: Sequence[tuple[Result, str]]
    ) -> list[Group]:
        """Group in the engine; see `Table.grouped`."""
        if not any(made):
            return super().grouped(keys, made, results)
        plain = [f"k{place}" for place in range(len(keys))]
        native = self._staged(keys, made).to_native()
        kinds = dict(zip(native.columns, map(str, native.types), strict=True))
        wanted = [
            "count(*)"
            if kind == "rows"
            else f"{'fsum' if kinds[name] == 'DOUBLE' and keys else 'sum'}({name})"
            if kind == "sum"
            else f"{_DUCKDB_FUNCTIONS[kind]}({name})"
            for kind, name in results
        ]
        return list(native.aggregate(", ".join([*plain, *wanted]), ", ".join(plain)).fetchall())
