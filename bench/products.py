"""Counts times weights of many types, in Parquet and in CSV, and a log of three million records, beside the engine."""

from __future__ import annotations

import time
from collections.abc import Callable
from pathlib import Path

import duckdb

from run import Line, cpu_in_turns

_ROWS = 2_000_000
#: What is multiplied: the SQL of a count and of a weight, of the number i of a record.
_PAIRS = {
    "integer x DECIMAL": ("(i % 30)::INTEGER", "(i % 100000 / 100.0)::DECIMAL(9, 2)"),
    "DECIMAL x DECIMAL": ("(i % 3000 / 10.0)::DECIMAL(18, 1)", "(i % 100000 / 1000.0)::DECIMAL(38, 3)"),
    "DECIMAL x DOUBLE": ("(i % 30)::DECIMAL(12, 0)", "(i % 1000 / 7.0)::DOUBLE"),
    "DOUBLE x integer": ("(i % 1000 / 8.0)::DOUBLE", "(i % 300)::BIGINT"),
    "truth x DECIMAL": ("i % 2 = 0", "(i % 100000 / 100.0)::DECIMAL(9, 2)"),
}
_CSV = ("integer x DECIMAL", "DECIMAL x DECIMAL", "DOUBLE x integer")


def products(folder: Path) -> list[Line]:
    """Multiply in the engine, beside the bare product and sum of the same columns."""
    from vantric.engines.files import open_file
    from vantric.reading.settings import ReadSettings

    lines = []
    for kind in ("parquet", "csv"):
        for name, (count, weight) in _PAIRS.items():
            if kind == "csv" and name not in _CSV:
                continue
            path = folder / f"products.{kind}"
            query = f"SELECT 'D' || (i % 40) AS d, {count} AS n, {weight} AS w FROM range({_ROWS}) t(i)"
            duckdb.execute(f"COPY ({query}) TO '{path}' (FORMAT {kind})")
            number = "n::INTEGER" if name.startswith("truth") else "n"

            def ours(path: Path = path) -> object:
                records = open_file(path, ReadSettings(), ["d", "n", "w"])
                try:
                    return records.products(["d"], "n", "w")
                finally:
                    records.close()

            def peer(path: Path = path, number: str = number) -> object:
                with duckdb.connect() as engine:
                    return engine.execute(f"SELECT d, sum({number} * w) FROM '{path}' GROUP BY 1").fetchall()

            least = [min(_spent(work) for _ in range(5)) for work in (ours, peer)]
            lines.append(Line(f"(m) {kind}: {name} of 2 million", *least, 2.0, "DuckDB: product and sum"))
    return lines


def _spent(work: Callable[[], object]) -> float:
    start = time.perf_counter()
    work()
    return time.perf_counter() - start


def log_of_millions(folder: Path) -> list[Line]:
    """Count three million records of CSV as a whole program, beside the bare engine's."""
    log = folder / "log.csv"
    query = "SELECT '2026-01-01' AS day, 'Defect ' || (i % 24) AS defect, i % 9 AS pieces FROM range(3000000) t(i)"
    duckdb.execute(f"COPY ({query}) TO '{log}' (HEADER)")
    bare = f"import duckdb; print(duckdb.sql(\"select defect, count(*) from '{log}' group by 1\").fetchall())"
    ours = ("-m", "vantric", "tally", str(log), "--by", "defect", "--format", "json")
    seconds, other, memory = cpu_in_turns(ours, ("-c", bare), 5)
    return [Line("(o) 3 million rows of CSV, CPU", seconds, other, 1.25, "DuckDB: bare group-by", "s", memory)]
