"""The base install beside what a script by hand needs: seconds and megabytes, in clean environments, from one index."""

from __future__ import annotations

import subprocess
import sys
import tempfile
import time
from pathlib import Path

from run import Line, main

ROOT = Path(__file__).parent.parent
#: What one installs to count, rank and draw by hand, from sheets too.
_BY_HAND = ("pandas", "matplotlib", "openpyxl", "duckdb", "scipy")
_ROUNDS = 3


def _installed(folder: Path, *packages: str) -> tuple[float, float]:
    """Return the seconds of an install, and its megabytes, without the bytecode that Python adds."""
    subprocess.run([sys.executable, "-m", "venv", folder], check=True)
    pip = [folder / "bin/python", "-m", "pip", "install", "--quiet", "--disable-pip-version-check", "--no-compile"]
    before, start = _bytes(folder), time.perf_counter()
    subprocess.run([*pip, *packages], check=True)
    seconds = time.perf_counter() - start
    return seconds, (_bytes(folder) - before) / 1e6


def _bytes(folder: Path) -> int:
    return sum(path.stat().st_size for path in folder.rglob("*") if path.is_file() and not path.is_symlink())


def installed(folder: Path) -> list[Line]:
    """Return the time and the size of the base install; the first round fills the store of pip."""
    subprocess.run(
        [sys.executable, "-m", "build", "--wheel", "--outdir", folder / "dist", ROOT], check=True, capture_output=True
    )
    [wheel] = (folder / "dist").glob("*.whl")
    times: tuple[list[float], list[float]] = ([], [])
    sizes = (0.0, 0.0)
    for at in range(_ROUNDS):
        found = []
        for name, packages in (("ours", (str(wheel),)), ("peer", _BY_HAND)):
            with tempfile.TemporaryDirectory(dir=folder) as place:
                found.append(_installed(Path(place) / name, *packages))
        if at:
            for spent, one in zip(times, found, strict=True):
                spent.append(one[0])
        sizes = (found[0][1], found[1][1])
    beside = f"pip install {' '.join(_BY_HAND)}"
    return [
        Line("(p) base install", min(times[0]), min(times[1]), 1.5, beside),
        Line("(p) size of the base install", *sizes, 1.5, beside, "MB"),
    ]


if __name__ == "__main__":
    sys.exit(main([installed], "bench-install"))
