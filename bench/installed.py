"""What is installed: seconds, megabytes and packages, in clean environments, beside what a script by hand needs."""

from __future__ import annotations

import subprocess
import sys
import tempfile
import time
from dataclasses import dataclass
from pathlib import Path

from measure import Line, main

ROOT = Path(__file__).parent.parent
#: What one installs to count, rank and draw by hand, from sheets too.
_BY_HAND = ("pandas", "matplotlib", "openpyxl", "duckdb", "scipy")
_ROUNDS = 2
#: What a clean environment holds: pip, and in Python 3.11 setuptools.
_OWN = 2 if sys.version_info < (3, 12) else 1
#: What the base install may take: megabytes, and packages beside ours.
_MOST_SIZE, _MOST_PACKAGES = 345.0, 28


@dataclass(frozen=True)
class Install:
    """The seconds of an install, its megabytes without the bytecode that Python adds, and its packages."""

    seconds: float
    size: float
    packages: int


def _installed(folder: Path, *packages: str) -> Install:
    subprocess.run([sys.executable, "-m", "venv", folder], check=True)
    pip = [folder / "bin/python", "-m", "pip", "install", "--quiet", "--disable-pip-version-check", "--no-compile"]
    before, start = _bytes(folder), time.perf_counter()
    subprocess.run([*pip, *packages], check=True)
    seconds = time.perf_counter() - start
    return Install(seconds, (_bytes(folder) - before) / 1e6, len(list(folder.rglob("*.dist-info"))) - _OWN)


def _bytes(folder: Path) -> int:
    return sum(path.stat().st_size for path in folder.rglob("*") if path.is_file() and not path.is_symlink())


def installed(folder: Path) -> list[Line]:
    """Return the time and the size of the base install; the first round fills the store of pip."""
    subprocess.run(
        [sys.executable, "-m", "build", "--wheel", "--outdir", folder / "dist", ROOT], check=True, capture_output=True
    )
    [wheel] = (folder / "dist").glob("*.whl")
    wanted = {"base": (str(wheel),), "dev": (f"{wheel}[dev]",), "by hand": _BY_HAND}
    installs: dict[str, list[Install]] = {name: [] for name in wanted}
    for _ in range(_ROUNDS):
        for name, packages in wanted.items():
            with tempfile.TemporaryDirectory(dir=folder) as place:
                installs[name].append(_installed(Path(place) / "env", *packages))
    seconds = {name: min(install.seconds for install in own[1:]) for name, own in installs.items()}
    base, dev, peer = (installs[name][-1] for name in wanted)
    beside = f"pip install {' '.join(_BY_HAND)}"
    return [
        Line("(p) base install (make demo)", seconds["base"], seconds["by hand"], None, 1.5, beside),
        Line(
            "(p) size of the base install",
            base.size,
            _MOST_SIZE,
            None,
            1.0,
            f"the goal; {beside}: {peer.size:.0f}",
            "MB",
        ),
        Line("(p) packages beside ours", base.packages - 1, _MOST_PACKAGES, None, 1.0, "the goal", ""),
        Line("(p) developers' install (make test)", seconds["dev"], seconds["base"], None, 20, "base install"),
        Line("(p) size of the developers' install", dev.size, base.size, None, 20, "base install", "MB"),
    ]


if __name__ == "__main__":
    sys.exit(main([installed], "bench-install"))
