"""The suite, in as many processes as there are processors: ``python -m tests.together [--all] [--coverage] [--slowest]``.

Without ``--all`` the long ones are left out: hundreds of edits, charts and books, limits, every language and shell. CI runs all.
Every module has a process of its own, forked from one that has loaded the libraries; with ``--coverage`` a new one.
"""

from __future__ import annotations

import importlib
import os
import pkgutil
import re
import subprocess
import sys
import tempfile
import time
import unittest
from collections.abc import Iterator, Sequence
from pathlib import Path

import vantric

ROOT = Path(__file__).parent
#: The longest first, so that no process has one of them left at the end.
FIRST = (
    "test_frames",
    "test_demo",
    "test_faults",
    "test_hostile_completion",
    "test_start",
    "test_handing",
    "test_cli",
    "test_combine",
    "test_reports",
    "test_clusters",
    "test_streams",
    "test_databases",
    "test_sources",
    "test_house",
    "test_parts",
    "test_changes",
    "test_certainty",
    "test_limits",
    "test_random_charts",
    "test_completion",
    "test_languages",
)

#: What takes most of the time and changes least.
LONG = (
    "test_live_workbook",
    "test_random_charts",
    "test_languages",
    "test_parts",
    "test_platforms",
    "test_completion",
    "test_hostile_completion",
    "test_limits",
    "test_review_corpus",
    "test_streams",
    "test_attacked",
    "test_condition_growth",
    "test_settings",
    "test_start",
    "test_totals_corpus",
    "test_review_books",
    "test_demo_charts",
    "test_numbers_in_outputs",
)
#: What most modules need, loaded once; none of these starts a thread when it is imported.
LIBRARIES = (
    *("numpy", "scipy.stats", "scipy.special", "pandas", "pyarrow.parquet", "duckdb", "narwhals", "openpyxl", "click"),
    *("matplotlib.backends.backend_agg", "xlsxwriter", "PIL.Image", "hypothesis", "rich.console", "tests.cli.test_cli"),
)
SLOWEST = 40
#: Modules that share a process where lines are counted.
TOGETHER = 5
_APART = ("browser", "clusters", "packages", "site")


def modules(*, whole: bool) -> list[str]:
    """Return the modules of tests by name, the longest first; those of a browser and of clusters are targets of their own."""
    every = (path for path in ROOT.rglob("test_*.py") if path.parent.name not in _APART)
    every = (path for path in every if whole or path.stem not in LONG)
    paths = sorted(path.relative_to(ROOT.parent).with_suffix("") for path in every)
    order = {name: place for place, name in enumerate(FIRST)}
    return sorted((".".join(path.parts) for path in paths), key=lambda name: order.get(name.split(".")[-1], len(order)))


class Timed(unittest.TextTestResult):
    """A result that says how long each test took."""

    def startTest(self, test: unittest.TestCase) -> None:  # noqa: N802
        self.started = time.monotonic()
        super().startTest(test)

    def stopTest(self, test: unittest.TestCase) -> None:  # noqa: N802
        self.stream.write(f"\ntook {time.monotonic() - self.started:.2f} s: {test.id()}\n")
        super().stopTest(test)


def groups(names: Sequence[str]) -> list[list[str]]:
    """Return which modules share a process: none, but where a new process loads the libraries anew."""
    if "--coverage" not in _FLAGS:
        return [[name] for name in names]
    alone = [[name] for name in names if name.split(".")[-1] in FIRST]
    others = [name for name in names if [name] not in alone]
    return [*alone, *(others[place : place + TOGETHER] for place in range(0, len(others), TOGETHER))]


def run_here(names: Sequence[str], out: Path) -> None:
    """Run modules of tests in a forked process, and end it; all that they say goes to a file."""
    target = os.open(out, os.O_CREAT | os.O_WRONLY | os.O_TRUNC)
    for stream in (1, 2):
        os.dup2(target, stream)
    sys.stdout, sys.stderr = (os.fdopen(stream, "w", 1, "utf-8", closefd=False) for stream in (1, 2))
    sys.argv = ["unittest", *names]
    status = 1
    try:
        kind = Timed if "--slowest" in _FLAGS else None
        suite = unittest.defaultTestLoader.loadTestsFromNames(names)
        status = int(not unittest.TextTestRunner(resultclass=kind).run(suite).wasSuccessful())
    finally:
        sys.stdout.flush()
        sys.stderr.flush()
        os._exit(status)


def run_anew(names: Sequence[str], out: Path) -> None:
    """Run modules of tests in a new process whose lines are counted."""
    command = [sys.executable, "-m", "coverage", "run", "--parallel-mode", "-m", "unittest", *names]
    with out.open("wb") as file:
        done = subprocess.run(command, stdout=file, stderr=file, cwd=ROOT.parent)
    os._exit(done.returncode)


def run_all(names: Sequence[str], folder: Path, workers: int) -> Iterator[tuple[str, float, int, str]]:
    """Run modules side by side; yield the name of each with its seconds, its status and what it said."""
    work = run_anew if "--coverage" in _FLAGS else run_here
    left, running = groups(names), dict[int, tuple[str, float]]()
    while left or running:
        while left and len(running) < workers:
            group = left.pop(0)
            child = os.fork()
            if not child:
                work(group, folder / group[0])
            running[child] = (group[0], time.monotonic())
        child, status = os.wait()
        name, start = running.pop(child)
        said = (folder / name).read_text(encoding="utf-8", errors="replace")
        yield name, time.monotonic() - start, os.waitstatus_to_exitcode(status), said


def main() -> int:
    """Run every module; print what failed or was skipped, and how many tests there were."""
    if "--coverage" not in _FLAGS:
        for library in LIBRARIES:
            importlib.import_module(library)
        for module in pkgutil.walk_packages(vantric.__path__, "vantric."):
            if not module.name.endswith("__main__"):
                importlib.import_module(module.name)
    number, skipped, failed, slowest = 0, 0, [], list[tuple[float, str]]()
    names = modules(whole="--all" in _FLAGS)
    if "--all" in _FLAGS:
        os.environ["VANTRIC_TESTS"] = "all"  # see tests/effort.py
    workers = 1 + (os.cpu_count() or 1)  # some of them wait for a server, or for a key
    with tempfile.TemporaryDirectory() as folder:
        for name, seconds, status, said in run_all(names, Path(folder), workers):
            summary = said.strip().splitlines()
            number += next((int(line.split()[1]) for line in reversed(summary) if line.startswith("Ran ")), 0)
            skipped += int(summary[-1].partition("skipped=")[2].rstrip(")") or 0) if summary else 0
            print(f"{name} ({seconds:.0f} s): {summary[-1] if summary else status}", flush=True)
            if status or "SKIPPED" in said:
                print(said, flush=True)
            failed += [name] if status else []
            slowest += [(float(took), test) for took, test in re.findall(r"^took ([\d.]+) s: (.+)$", said, re.M)]
    for took, test in sorted(slowest, reverse=True)[:SLOWEST]:
        print(f"{took:6.2f} s {test}")
    if "--all" not in _FLAGS:
        print(f"Left out, for make test-all: {', '.join(LONG)}")
    print(f"{number} tests, {skipped} skipped" + (f", FAILED: {', '.join(failed)}" if failed else ", OK"))
    return 1 if failed or not number else 0


_FLAGS = sys.argv[1:]
if __name__ == "__main__":
    sys.exit(main())
