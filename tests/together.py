"""The suite, in as many processes as there are processors: ``python -m tests.together [--all] [--coverage]``.

Without ``--all`` the long ones are left out: hundreds of edits and charts, limits, every language and shell. CI runs all.
"""

from __future__ import annotations

import os
import subprocess
import sys
import time
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from functools import partial
from pathlib import Path

ROOT = Path(__file__).parent
#: The longest first, so that no process has one of them left at the end.
FIRST = (
    "test_hostile_queries",
    "test_frames",
    "test_databases",
    "test_cli",
    "test_demo",
    "test_faults",
    "test_sources",
    "test_drawing",
    "test_house",
    "test_parts",
    "test_changes",
    "test_certainty",
    "test_limits",
    "test_random_charts",
    "test_any_combination",
    "test_any_chart",
    "test_round_trip",
    "test_streams",
    "test_completion",
    "test_start",
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
    "test_limits",
)
TOGETHER = 4
_APART = ("browser", "clusters", "packages", "site")


def modules(*, whole: bool) -> list[str]:
    """Return the modules of tests by name, the longest first; those of a browser and of clusters are targets of their own."""
    every = (path for path in ROOT.rglob("test_*.py") if path.parent.name not in _APART)
    every = (path for path in every if whole or path.stem not in LONG)
    found = sorted(path.relative_to(ROOT.parent).with_suffix("") for path in every)
    names = [".".join(path.parts) for path in found]
    order = {name: place for place, name in enumerate(FIRST)}
    return sorted(names, key=lambda name: order.get(name.rpartition(".")[2], len(order)))


def batches(names: Sequence[str]) -> list[list[str]]:
    """Return the long modules each alone, the others a few together: every process loads the libraries anew."""
    alone = [[name] for name in names if name.rpartition(".")[2] in FIRST]
    others = [name for name in names if [name] not in alone]
    return [*alone, *(others[at : at + TOGETHER] for at in range(0, len(others), TOGETHER))]


def run(names: Sequence[str], counting: Sequence[str] = ()) -> tuple[str, int, str]:
    """Run modules of tests, their lines counted if asked for; return their names, the status and what they said."""
    command = [sys.executable, *counting, "-m", "unittest", *names]
    start = time.monotonic()
    found = subprocess.run(command, capture_output=True, text=True, cwd=ROOT.parent)
    return f"{', '.join(names)} ({time.monotonic() - start:.0f} s)", found.returncode, found.stderr


def main() -> int:
    """Run every module; print what failed or was skipped, and how many tests there were."""
    counting = ("-m", "coverage", "run", "--parallel-mode") if "--coverage" in sys.argv[1:] else ()
    number, skipped, failed = 0, 0, []
    with ThreadPoolExecutor(1 + (os.cpu_count() or 1)) as pool:  # some of them wait for a server, or for a key
        for name, status, said in pool.map(
            partial(run, counting=counting), batches(modules(whole="--all" in sys.argv[1:]))
        ):
            summary = said.strip().splitlines()
            number += next((int(line.split()[1]) for line in reversed(summary) if line.startswith("Ran ")), 0)
            skipped += int(summary[-1].partition("skipped=")[2].rstrip(")") or 0) if summary else 0
            print(f"{name}: {summary[-1] if summary else status}", flush=True)
            if status or "SKIPPED" in said:
                print(said, flush=True)
            failed += [name] if status else []
    if "--all" not in sys.argv[1:]:
        print(f"Left out, for make test-all: {', '.join(LONG)}")
    print(f"{number} tests, {skipped} skipped" + (f", FAILED: {', '.join(failed)}" if failed else ", OK"))
    return 1 if failed or not number else 0


if __name__ == "__main__":
    sys.exit(main())
