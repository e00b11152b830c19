"""The results of a run, kept with the machine and the versions: ``bench/results.md``."""

from __future__ import annotations

import os
import platform
import re
from collections.abc import Sequence
from datetime import UTC, datetime
from importlib.metadata import PackageNotFoundError, version
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from measure import Line

HOME = Path(__file__).parent / "results.md"
_LIBRARIES = (
    "duckdb",
    "numpy",
    "pandas",
    "polars",
    "pyarrow",
    "matplotlib",
    "narwhals",
    "dask",
    "pyspark",
    "ibis-framework",
)
_TITLE = "# What was measured\n\nEach part is written by its command, all of it in one run.\n"


def keep(lines: Sequence[Line], part: str) -> None:
    """Write the lines of one part; the other parts stay as they are."""
    text = HOME.read_text(encoding="utf-8") if HOME.exists() else _TITLE
    text = re.sub(rf"\n## `make {part}`\n.*?(?=\n## |\Z)", "", text, flags=re.DOTALL)
    HOME.write_text(text.rstrip("\n") + "\n\n" + _section(lines, part), encoding="utf-8")


def kept_peaks() -> dict[str, int]:
    """Return our peaks of memory in MiB that are kept, by the names of their lines."""
    rows = re.findall(r"(?m)^\| ([^|]+) \|.*\| (\d+) / \d+ MiB \|$", HOME.read_text(encoding="utf-8"))
    return {name: int(peak) for name, peak in rows}


def _section(lines: Sequence[Line], part: str) -> str:
    rows = [
        f"| {line.name} | {line.ours:.3f} {line.unit} | {line.peer:.3f} {line.unit} | {line.ours / line.peer:.2f} | "
        f"{line.most:.2f} | {line.beside} | {line.peaks or ''} |"
        for line in lines
    ]
    return "\n".join(
        [
            f"## `make {part}`",
            "",
            _machine(),
            "",
            "| what | Vantric | peer | ratio | at most | the peer is | peaks of memory |",
            "|---|---|---|---|---|---|---|",
            *rows,
            "",
        ]
    )


def _machine() -> str:
    known = []
    for name in _LIBRARIES:
        try:
            known.append(f"{name} {version(name)}")
        except PackageNotFoundError:
            continue
    return (
        f"{datetime.now(UTC):%Y-%m-%d}, {os.cpu_count()} processors ({platform.machine()}), {_memory()} GiB, "
        f"{platform.system()}, Python {platform.python_version()}, {', '.join(known)}."
    )


def _memory() -> int:
    return round(os.sysconf("SC_PAGE_SIZE") * os.sysconf("SC_PHYS_PAGES") / 2**30)
