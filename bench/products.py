"""Counts times weights of many types, in Parquet and in CSV, and a log of three million records, beside the engine."""

from __future__ import annotations

import sys
from collections.abc import Callable
from pathlib import Path

import duckdb

from measure import Line, Process, in_turns, peak, peaks_alone

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


def multiplied(path: Path, name: str) -> tuple[Callable[[], object], Callable[[], object]]:
    """Return the product in the engine as it is asked by us, and the bare product and sum of the same columns."""
    from vantric.engines.files import open_file
    from vantric.reading.settings import ReadSettings

    number = "n::INTEGER" if name.startswith("truth") else "n"

    def ours() -> object:
        records = open_file(path, ReadSettings(), ["d", "n", "w"])
        try:
            return records.products(["d"], "n", "w")
        finally:
            records.close()

    def peer() -> object:
        with duckdb.connect() as engine:
            return engine.execute(f"SELECT d, sum({number} * w) FROM '{path}' GROUP BY 1").fetchall()

    return ours, peer


def products(folder: Path) -> list[Line]:
    """Multiply counts and weights of every pair of types."""
    lines = []
    for kind in ("parquet", "csv"):
        for name in _PAIRS if kind == "parquet" else _CSV:
            count, weight = _PAIRS[name]
            path = folder / f"products.{kind}"
            query = f"SELECT 'D' || (i % 40) AS d, {count} AS n, {weight} AS w FROM range({_ROWS}) t(i)"
            duckdb.execute(f"COPY ({query}) TO '{path}' (FORMAT {kind})")
            ours, peer, _ = in_turns(*multiplied(path, name), 5)
            peaks = peaks_alone(Path(__file__), str(path), name)
            lines.append(Line(f"(m) {kind}: {name} of 2 million", ours, peer, peaks, 2.0, "DuckDB: product and sum"))
    return lines


def log_of_millions(folder: Path) -> list[Line]:
    """Count three million records of CSV as a whole program, beside the bare engine's."""
    log = folder / "log.csv"
    query = "SELECT '2026-01-01' AS day, 'Defect ' || (i % 24) AS defect, i % 9 AS pieces FROM range(3000000) t(i)"
    duckdb.execute(f"COPY ({query}) TO '{log}' (HEADER)")
    bare = f"import duckdb; print(duckdb.sql(\"select defect, count(*) from '{log}' group by 1\").fetchall())"
    ours = ("-m", "vantric", "tally", str(log), "--by", "defect", "--format", "json")
    spent = in_turns(Process(*ours), Process("-c", bare), 5, cpu=True)
    return [Line("(o) 3 million rows of CSV, CPU", *spent, 1.25, "DuckDB: bare group-by")]


if __name__ == "__main__":
    print(peak(multiplied(Path(sys.argv[1]), sys.argv[2])[sys.argv[3] == "peer"]))
