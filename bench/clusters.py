"""Twenty million records in Spark, beside its own bare group-by of the same products: ``make bench-clusters``.

On a session of two threads, and on a standalone cluster of two workers.
"""

from __future__ import annotations

import subprocess
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any

sys.path[:0] = [str(Path(__file__).parent), str(Path(__file__).parent.parent)]

from frames import log  # noqa: E402
from measure import Line, in_turns, main  # noqa: E402

_PIECES, _EACH = 4, 5_000_000
_MOST, _MOST_FLOATS = 1.3, 1.5
_MOST_MEMORY = 150  # MiB that this process grows by


def write_log(folder: Path) -> Path:
    """Write twenty million records as Parquet files."""
    import pyarrow.parquet as pq

    home = folder / "log"
    home.mkdir()
    table = log(_EACH)
    for piece in range(_PIECES):
        pq.write_table(table, home / f"{piece}.parquet", row_group_size=1_000_000)
    return home


def session(master: str) -> Any:
    """Return a session of a master."""
    from pyspark.sql import SparkSession

    made = SparkSession.builder.master(master).appName("bench").config("spark.ui.enabled", "false")
    made = made.config("spark.ui.showConsoleProgress", "false").config("spark.driver.memory", "2g")
    return made.getOrCreate()


def pairs(frame: Any) -> list[tuple[str, Callable[[], object], Callable[[], object], float]]:
    """Return (name, ours, Spark's own, the most)."""
    import pyspark.sql.functions as f

    import vantric as vt

    measures = {"pieces": "sum", "minutes": "mean", "cost": "max"}
    return [
        ("tally", lambda: vt.tally(frame, "defect"), lambda: frame.groupBy("defect").count().collect(), _MOST),
        (
            "crosstab",
            lambda: vt.crosstab(frame, "defect", "kiln"),
            lambda: frame.groupBy("defect", "kiln").count().collect(),
            _MOST,
        ),
        (
            "pareto by weight, decimals",
            lambda: vt.pareto(frame, "defect", weight="cost"),
            lambda: frame.groupBy("defect").agg(f.sum("cost")).collect(),
            _MOST,
        ),
        (
            "pareto, count x weight, decimals",
            lambda: vt.pareto(frame, "defect", count="pieces", weight="cost"),
            lambda: frame.groupBy("defect").agg(f.sum(f.col("pieces") * f.col("cost"))).collect(),
            _MOST,
        ),
        (
            "pareto, count x weight, floats",
            lambda: vt.pareto(frame, "defect", count="pieces", weight="minutes"),
            lambda: frame.groupBy("defect").agg(f.sum(f.col("pieces") * f.col("minutes"))).collect(),
            _MOST_FLOATS,
        ),
        (
            "aggregate of three",
            lambda: vt.aggregate(frame, "defect", measures),
            lambda: frame.groupBy("defect").agg(f.sum("pieces"), f.avg("minutes"), f.max("cost")).collect(),
            _MOST,
        ),
    ]


def lines(folder: Path, master: str, name: str, rounds: int = 3) -> list[Line]:
    """Return the ratios on a master."""
    spark = session(master)
    frame = spark.read.parquet(str(folder / "log"))
    frame.groupBy("defect").count().collect()
    found = [
        Line(f"(n) 20 million, {name}: {what}", *in_turns(ours, peer, rounds), most, "its bare group-by")
        for what, ours, peer, most in pairs(frame)
    ]
    spark.stop()
    return found


def clusters(folder: Path) -> list[Line]:
    """Return the ratios on two threads, and on two workers."""
    from tests.clusters.running import standalone

    write_log(folder)
    found = lines(folder, "local[2]", "two threads")
    return found + lines(folder, standalone().master, "two workers")


_GROWTH = """
import sys
sys.path[:0] = {path!r}
from clusters import session
from measure import resident
frame = session("local[2]").read.parquet({log!r})
import vantric as vt
before = resident("VmHWM")
vt.pareto(frame, "defect", count="pieces", weight="minutes")
vt.crosstab(frame, "defect", "kiln")
print(before // 1024, resident("VmHWM") // 1024)
"""


def driver_memory(folder: Path) -> list[Line]:
    """Count in a session, beside what the Python process of the driver may grow by."""
    code = _GROWTH.format(path=sys.path[:2], log=str(folder / "log"))
    said = subprocess.run([sys.executable, "-c", code], check=True, capture_output=True, text=True).stdout
    before, after = map(int, said.split())
    return [Line("(n) 20 million: memory of the driver", after - before, _MOST_MEMORY, None, 1.0, "the goal", "MiB")]


if __name__ == "__main__":
    sys.exit(main([clusters, driver_memory], "bench-clusters"))
