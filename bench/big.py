"""Large logs, each measure beside its peer in one run: ``make bench-big``.

A log of 10 million records is made on the fly, counted, and removed; then one of 100 million, for the peak memory.
"""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path
from random import Random

from growth import many_labels, many_labels_of_a_server
from measure import Line, Process, in_turns, main

_MILLION = 1_000_000
_BLOCK = 100_000
_MOST_MEMORY = 400  # MiB


def make_log(path: Path, records: int) -> None:
    """Write a log of defects, a block of records over and over."""
    chance = Random(20261104)

    def draw(sides: int) -> int:
        return 1 + int(chance.random() * sides)

    block = "".join(
        f"2026-{draw(12):02d}-{draw(28):02d},Kiln {draw(4)},Defect {min(23, int(chance.expovariate(0.3)))},{draw(30)}\n"
        for _ in range(_BLOCK)
    ).encode()
    with path.open("wb") as file:
        file.write(b"date,kiln,defect,pieces\n")
        for _ in range(records // _BLOCK):
            file.write(block)


def bare(query: str) -> Process:
    """Return the running of a query by the engine alone."""
    return Process("-c", f"import duckdb; print(duckdb.sql({query!r}).fetchall())")


def times(folder: Path) -> list[Line]:
    """Return the ratios for ten million records."""
    log, parquet = folder / "big.csv", folder / "big.parquet"
    make_log(log, 10 * _MILLION)
    copy = f"copy (from read_csv('{log}')) to '{parquet}'"
    quietly = f"import duckdb; duckdb.sql('set enable_progress_bar=false'); duckdb.sql({copy!r})"
    subprocess.run([sys.executable, "-c", quietly], check=True)
    tally = ("-m", "vantric", "tally")
    asked = ("--by", "defect", "--format", "json")
    one_column = f"import pandas; pandas.read_csv('{log}', usecols=['defect'])['defect'].value_counts()"
    sums = (*asked, "--count", "pieces")
    group_by = "select defect, {} from '{}' group by 1".format
    polars = (
        f"import polars as pl; print(pl.scan_csv('{log}').group_by('defect').agg(pl.len())"
        ".collect(engine='streaming').rows())"
    )
    pairs = [
        ("CSV, counted", (str(log), *asked), bare(group_by("count(*)", log)), 1.03, "DuckDB: bare group-by"),
        ("CSV, counted", (str(log), *asked), Process("-c", polars), 1.2, "Polars: streaming group-by"),
        ("CSV, counted", (str(log), *asked), Process("-c", one_column), 0.9, "pandas: one column"),
        ("Parquet, counted", (str(parquet), *asked), bare(group_by("count(*)", parquet)), 1.15, "DuckDB: bare count"),
        ("Parquet, added up", (str(parquet), *sums), bare(group_by("sum(pieces)", parquet)), 1.3, "DuckDB: bare sum"),
        ("CSV, pieces added up", (str(log), *sums), bare(group_by("sum(pieces)", log)), 1.2, "DuckDB: bare sum"),
    ]
    return [
        Line(f"10 million: {name}", *in_turns(Process(*tally, *ours), peer, 5), most, beside)
        for name, ours, peer, most, beside in pairs
    ]


def peak_memory(folder: Path) -> list[Line]:
    """Count a hundred million records, beside the memory that this may take."""
    log = folder / "huge.csv"
    make_log(log, 100 * _MILLION)
    spent = Process("-m", "vantric", "tally", str(log), "--by", "defect", "--format", "json")()
    log.unlink()
    return [Line("100 million: CSV, counted: peak of memory", spent.peak, _MOST_MEMORY, None, 1.0, "the goal", "MiB")]


def labels(folder: Path) -> list[Line]:
    """Return the ratios of very many labels."""
    return [*many_labels(folder), *many_labels_of_a_server()]


if __name__ == "__main__":
    sys.exit(main([times] if "--quick" in sys.argv else [times, labels, peak_memory], "bench-big"))
