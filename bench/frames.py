"""Five million records in frames: count x weight, beside each engine's own multiply-and-sum in the same run."""

from __future__ import annotations

import sys
import tempfile
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

from measure import Line, in_turns, peak, peaks_alone

_RECORDS = 5_000_000
_MOST = 2.0


def log(records: int = _RECORDS) -> Any:
    """Return a log as an Arrow table: a defect, a kiln, pieces, minutes (floats) and a cost (decimals)."""
    import numpy as np
    import pyarrow as pa

    chance = np.random.default_rng(19)
    labels = pa.array([f"Defect {number}" for number in range(40)])
    kinds = chance.zipf(1.6, records).clip(max=40) - 1
    kilns = pa.array([f"Kiln {number}" for number in range(1, 5)])
    cents = chance.integers(1, 100_000, records)
    return pa.table(
        {
            "defect": labels.take(pa.array(kinds)),
            "kiln": kilns.take(pa.array(chance.integers(0, 4, records))),
            "pieces": chance.integers(1, 30, records),
            "minutes": chance.uniform(0.1, 90, records),
            "cost": pa.array(cents / 100).cast(pa.decimal128(12, 2)),
        }
    )


def engines(folder: Path) -> Iterator[tuple[str, Any, Callable[[str], object]]]:
    """Yield (name, frame, its own multiply-and-sum by defect of pieces and a column)."""
    import pyarrow as pa

    table = log()
    path = folder / "frames.parquet"
    import pyarrow.parquet

    pa.parquet.write_table(table, path, row_group_size=500_000)
    import duckdb
    import pandas as pd
    import polars as pl

    for name, frame in (
        ("pandas", table.select(["defect", "pieces", "minutes"]).to_pandas()),
        ("pandas, Arrow types", table.to_pandas(types_mapper=pd.ArrowDtype)),
    ):

        def with_pandas(weight: str, frame: Any = frame) -> object:
            return (frame["pieces"] * frame[weight]).groupby(frame["defect"], dropna=False).sum()

        yield name, frame, with_pandas
    eager = pl.from_arrow(table)
    for name, polars in (("Polars", eager), ("Polars, lazy", pl.scan_parquet(path))):

        def with_polars(weight: str, polars: Any = polars) -> object:
            return polars.lazy().group_by("defect").agg((pl.col("pieces") * pl.col(weight)).sum()).collect()

        yield name, polars, with_polars

    def with_arrow(weight: str) -> object:
        product = pa.compute.multiply(table["pieces"], table[weight])
        return pa.table({"d": table["defect"], "p": product}).group_by("d").aggregate([("p", "sum")])

    yield "Arrow", table, with_arrow
    relation = duckdb.read_parquet(str(path))

    def with_duckdb(weight: str) -> object:
        return relation.aggregate(f"defect, sum(pieces * {weight})", "defect").fetchall()

    yield "DuckDB relation", relation, with_duckdb
    yield from _others(path)


def _others(path: Path) -> Iterator[tuple[str, Any, Callable[[str], object]]]:
    import ibis

    source = ibis.duckdb.connect().read_parquet(path)

    def with_ibis(weight: str) -> object:
        return source.group_by("defect").aggregate(p=(source.pieces * source[weight]).sum()).to_pyarrow()

    yield "Ibis", source, with_ibis
    import dask.dataframe as dd

    dask = dd.read_parquet(path, columns=["defect", "pieces", "minutes"], split_row_groups=True)

    def with_dask(weight: str) -> object:
        return dask.assign(p=dask["pieces"] * dask[weight]).groupby("defect", dropna=False)["p"].sum().compute()

    yield "Dask", dask, with_dask


def multiplied(weight: str, frame: Any, peer: Callable[[str], object]) -> tuple[Callable[[], object], ...]:
    """Return count x weight of a frame as it is asked by us, and by its own engine."""
    import vantric as vt

    return lambda: vt.tally(frame, "defect", count="pieces", weight=weight), lambda: peer(weight)


def frames(folder: Path) -> list[Line]:
    """Count x weight of integers, floats and decimals, of every engine that is installed."""
    lines = []
    for name, frame, peer in engines(folder):
        without_decimals = name in ("pandas", "Dask")
        for weight in ("minutes",) if without_decimals else ("minutes", "cost"):
            ours, beside, _ = in_turns(*multiplied(weight, frame, peer), 7)
            peaks = peaks_alone(Path(__file__), name, weight)
            what = f"(m) {name}: pieces x {weight} of 5 million"
            lines.append(Line(what, ours, beside, peaks, _MOST, "its own multiply-and-sum"))
    return lines


def main(wanted: str, weight: str, side: str) -> None:
    """Print the peak of memory of one side in MiB."""
    with tempfile.TemporaryDirectory() as home:
        for name, frame, peer in engines(Path(home)):
            if name == wanted:
                print(peak(multiplied(weight, frame, peer)[side == "peer"]))
                return


if __name__ == "__main__":
    main(*sys.argv[1:])
