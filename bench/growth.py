"""What is odd in size, beside a part of it: the time must not grow faster than the size."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Callable
from pathlib import Path
from random import Random

from run import Line, in_turns, process

TALLY = ("-m", "vantric", "tally")


def growth() -> list[Line]:
    """Ten times the columns, and ten times the signs of a label: at most ten times the time and a half."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        for columns in (10_000, 100_000):
            names = ",".join(f"column number {n}" for n in range(columns))
            (folder / f"{columns}.csv").write_text(f"{names}\n{','.join('1' * columns)}\n")
        for signs in (100_000, 1_000_000):
            chance = Random(signs)
            labels = ("".join(chance.choices("abcdefgh ", k=signs)) for _ in range(4))
            (folder / f"signs{signs}.csv").write_text("\n".join(["label", *labels, ""]))
        wide = [_tally(folder / f"{n}.csv", "column number 9") for n in (100_000, 10_000)]
        long = [_tally(folder / f"signs{n}.csv", "label") for n in (1_000_000, 100_000)]
        return [
            _beside("(k) 100,000 columns, ten times 10,000 beside", *wide, 10),
            _beside("(l) labels of 1,000,000 signs, ten times 100,000 beside", *long, 10),
        ]


def many_labels(folder: Path) -> list[Line]:
    """Five million different labels of 200 signs, beside five times a million."""
    works = []
    for labels in (5_000_000, 1_000_000):
        path = folder / f"{labels}.csv"
        with path.open("w") as file:
            file.write("label\n")
            file.writelines(f"{n:012d}{'x' * 188}\n" for n in range(labels))
        works.append(_tally(path, "label"))
    return [_beside("5 million labels of 200 signs, five times a million beside", *works, 5, rounds=1)]


def many_labels_of_a_server() -> list[Line]:
    """Three million different labels of PostgreSQL, beside five times 600,000."""
    url = os.environ.get("VANTRIC_TEST_POSTGRES")
    if not url:
        print("SKIPPED: labels from PostgreSQL; set VANTRIC_TEST_POSTGRES to the URL of a server")
        return []
    query = "select 'label number ' || i as label from generate_series(1, {}) i".format
    works = [
        process(*TALLY, url, "--query", query(labels), "--by", "label", "--format", "csv")
        for labels in (3_000_000, 600_000)
    ]
    return [_beside("3 million labels of PostgreSQL, five times 600,000 beside", *works, 5, rounds=1)]


def _tally(path: Path, by: str) -> Callable[[], object]:
    return process(*TALLY, str(path), "--by", by, "--format", "csv")


def _beside(name: str, whole: Callable[[], object], part: Callable[[], object], times: int, *, rounds: int = 5) -> Line:
    """Return a line whose peer is the part as many times: starting up, which grows with nothing, taken away."""
    start, _ = in_turns(process("-m", "vantric", "--version"), lambda: None, 3)
    large, small = in_turns(whole, part, rounds)
    return Line(name, large - start, times * (small - start), 1.5)
