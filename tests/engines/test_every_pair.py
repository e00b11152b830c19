"""Counts times weights of every pair of column types: worked out in the engine, and as exactly as here."""

from __future__ import annotations

import math
from collections.abc import Iterator
from decimal import Decimal
from itertools import permutations
from pathlib import Path
from typing import Any
from unittest import mock

import duckdb

from tests.effort import some
from tests.folder import InFolder
from vantric.engines.duckdb_engine import DuckDBEngine
from vantric.engines.files import open_file
from vantric.reading.records import Records
from vantric.reading.settings import ReadSettings

#: Name -> the SQL of a column, of the number i of a record.
COLUMNS = {
    "tiny": "(i % 100)::TINYINT",
    "small": "(i % 30000)::SMALLINT",
    "int": "(i * 7)::INTEGER",
    "big": "(i * 1000003)::BIGINT",
    "ubig": "(i * 1000003)::UBIGINT",
    "huge": "(i::HUGEINT * 1000003)",
    "two decimals": "(i % 100000 / 100.0)::DECIMAL(9, 2)",
    "four decimals": "(i / 10000.0)::DECIMAL(18, 4)",
    "ten decimals": "(i / 1000.0)::DECIMAL(38, 10)",
    "no decimals": "i::DECIMAL(12, 0)",
    "float": "(i / 8.0)::FLOAT",
    "double": "(i / 7.0)::DOUBLE",
    "digits": "i::VARCHAR",
    "text": "printf('%.2f', i / 100.0)",
    "truth": "i % 2 = 0",
}
GROUPS, ROWS, SAMPLED = 7, 12_000, 6_100  # what a look at samples of two columns of text brings over


class Pairs(InFolder):
    def written(self, kind: str) -> Path:
        path = self.folder / f"pairs.{kind}"
        columns = ", ".join(f'{sql} AS "{name}"' for name, sql in COLUMNS.items())
        query = f"SELECT 'k' || (i % {GROUPS}) AS k, {columns} FROM range(1, {ROWS + 1}) t(i)"
        duckdb.execute(f"COPY ({query}) TO '{path}' (FORMAT {kind})")
        return path

    def pairs(self, kind: str, pairs: list[tuple[str, str]]) -> Iterator[tuple[str, Records, list[int]]]:
        over: list[int] = []
        ask = DuckDBEngine.ask

        def asked(engine: DuckDBEngine, sql: str) -> list[Any]:
            rows = ask(engine, sql)
            over.append(len(rows))
            return rows

        path = self.written(kind)
        with mock.patch.object(DuckDBEngine, "ask", asked):
            for _ in pairs:
                records = open_file(path, ReadSettings(), [], in_engine=True)
                try:
                    over.clear()
                    yield kind, records, over
                finally:
                    records.close()

    def test_only_the_groups_come_over(self) -> None:
        pairs = some(permutations(COLUMNS, 2), every=8)
        for kind in ("parquet", "csv"):
            for (count, weight), (_, records, over) in zip(pairs, self.pairs(kind, pairs), strict=True):
                if kind == "csv" and "truth" in (count, weight):
                    continue  # True and False are no numbers as text
                with self.subTest(kind=kind, count=count, weight=weight):
                    there = sorted(records.products(["k"], count, weight))
                    self.assertLessEqual(sum(over), SAMPLED + 10 * GROUPS)
                    here = sorted(records._products_here(["k"], count, weight))
                    self.assertEqual(len(there), GROUPS)
                    for one, other in zip(there, here, strict=True):
                        self.assertEqual(one[:2], other[:2])
                        for value, right in zip(one[2:4], other[2:4], strict=True):
                            self.same(value, right)
                        self.assertTrue(math.isclose(one[4], other[4], rel_tol=1e-9))

    def same(self, value: Any, right: Any) -> None:
        if isinstance(right, float):
            self.assertTrue(math.isclose(value, right, rel_tol=1e-12), (value, right))
        else:
            self.assertEqual(Decimal(value), Decimal(right))

    def test_sums_of_every_type(self) -> None:
        names = [(name, name) for name in COLUMNS]
        for kind in ("parquet", "csv"):
            for (name, _), (_, records, over) in zip(names, self.pairs(kind, names), strict=True):
                if kind == "csv" and name == "truth":
                    continue
                with self.subTest(kind=kind, name=name):
                    there = sorted(records.sums(["k"], name))
                    self.assertLessEqual(sum(over), SAMPLED + 10 * GROUPS)
                    here = sorted(records._sums_here(["k"], name, free=False))
                    for one, other in zip(there, here, strict=True):
                        self.assertEqual(one[:2], other[:2])
                        self.same(one[2], other[2])
