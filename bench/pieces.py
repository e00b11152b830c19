"""A log in a thousand pieces, plain and packed, of mixed column order, beside the engine told everything by hand."""

from __future__ import annotations

import gzip
from pathlib import Path
from random import Random

import zstandard

from measure import Line, Process, in_turns

_FILES, _ROWS = 1_000, 1_000
_ORDERS = (["date", "kiln", "defect", "pieces"], ["pieces", "defect", "kiln", "date"])


def write_pieces(folder: Path) -> None:
    """Write the files: a third packed with gzip, a third with zstd."""
    chance = Random(20261126)
    for at in range(_FILES):
        names = _ORDERS[at % 2]
        lines = [",".join(names)]
        for _ in range(_ROWS):
            row = {
                "date": f"2026-01-{1 + chance.randrange(28):02d}",
                "kiln": f"Kiln {chance.randrange(4)}",
                "defect": f"Defect {chance.randrange(20)}",
                "pieces": str(chance.randrange(1, 30)),
            }
            lines.append(",".join(row[name] for name in names))
        content = ("\n".join(lines) + "\n").encode()
        name = folder / f"{at:04d}.csv"
        if at % 3 == 1:
            Path(f"{name}.gz").write_bytes(gzip.compress(content))
        elif at % 3 == 2:
            Path(f"{name}.zst").write_bytes(zstandard.compress(content))
        else:
            name.write_bytes(content)


_BARE = """
import duckdb, glob
files = sorted(glob.glob({folder!r} + "/*.csv*"))
reads = []
for number, names in enumerate({orders!r}):
    columns = {{name: "VARCHAR" for name in names}}
    for packing in ("csv", "csv.gz", "csv.zst"):
        own = [name for name in files if int(name.rpartition("/")[2][:4]) % 2 == number and name.endswith(packing)]
        said = f"auto_detect=false, header=true, columns={{columns}}, delim=','"
        reads.append(f"select defect, pieces from read_csv({{own}}, {{said}})")
print(duckdb.sql("select defect, sum(pieces::bigint) from (" + " union all ".join(reads) + ") group by 1").fetchall())
"""


def pieces(folder: Path) -> list[Line]:
    """Count pieces by defect in all files, beside the engine that is told names, order and packing of each."""
    folder = folder / "pieces"
    folder.mkdir()
    write_pieces(folder)
    ours = Process(
        "-m", "vantric", "tally", f"{folder}/*.csv*", "--by", "defect", "--count", "pieces", "--format", "json"
    )
    peer = Process("-c", _BARE.format(folder=str(folder), orders=_ORDERS))
    return [
        Line(
            "(o) 1,000 files of mixed order, packed, process",
            *in_turns(ours, peer, 3),
            2.0,
            "DuckDB, told the order and packing of each",
        )
    ]
