"""How a line is measured: the seconds of two works in turns, and the peaks of their memory, none growing."""

from __future__ import annotations

import ctypes
import gc
import os
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Mapping, Sequence
from pathlib import Path
from typing import NamedTuple

_MIB = 1024
#: What a peak may be above the kept one: from run to run it varies with what the allocators keep.
_GROWTH, _LEAST = 1.1, 8


class Peaks(NamedTuple):
    """The peaks of memory of both in MiB: of a process its own, of work in this one what it adds."""

    ours: int
    peer: int

    def __str__(self) -> str:
        return f"{self.ours} / {self.peer} MiB"


class Line(NamedTuple):
    """One comparison: its name, the seconds (or `unit`) of both, peaks of memory, the most of the ratio, the peer."""

    name: str
    ours: float
    peer: float
    peaks: Peaks | None
    most: float
    beside: str = "the same by hand, with the library that it stands on"
    unit: str = "s"

    @property
    def ratio(self) -> float:
        """Ours over the peer's."""
        return self.ours / self.peer

    @property
    def missed(self) -> bool:
        """Whether the ratio is more than a tenth above its limit."""
        return self.ratio > 1.1 * self.most

    def grew(self, kept: int | None) -> bool:
        """Whether more memory is needed than was kept of this line."""
        return kept is not None and self.peaks is not None and self.peaks.ours > _GROWTH * kept + _LEAST


class Spent(NamedTuple):
    """What one run took: seconds, seconds of CPU, and the peak of its memory in MiB."""

    seconds: float
    cpu: float
    peak: int


#: A small parent for each program: a peak that the system reports holds that of the process it was started from.
_PARENT = """
import os, sys, time
quiet = [(os.POSIX_SPAWN_OPEN, 1, os.devnull, os.O_WRONLY, 0)]
start = time.perf_counter()
_, status, used = os.wait4(os.posix_spawn(sys.argv[1], sys.argv[1:], os.environ, file_actions=quiet), 0)
print(time.perf_counter() - start, used.ru_utime + used.ru_stime, used.ru_maxrss // 1024, status)
"""


class Process:
    """A whole program of Python, run as an installed one is: with its bytecode kept."""

    def __init__(self, *arguments: str, **environment: str) -> None:
        self.arguments = arguments
        self.environment = {k: v for k, v in os.environ.items() if k != "PYTHONDONTWRITEBYTECODE"} | environment

    def __call__(self) -> Spent:
        """Run it to its end."""
        command = [sys.executable, "-I", "-S", "-c", _PARENT, sys.executable, *self.arguments]
        done = subprocess.run(command, check=True, capture_output=True, text=True, env=self.environment)
        seconds, cpu, peak, status = done.stdout.split()
        if status != "0":
            raise RuntimeError(f"{self.arguments} ended with {status}: {done.stderr}")
        return Spent(float(seconds), float(cpu), int(peak))


Work = Callable[[], object]


def in_turns(ours: Work, peer: Work, rounds: int, *, cpu: bool = False) -> tuple[float, float, Peaks]:
    """Return the seconds of both, run in turns after a warm-up, and the peaks of their memory.

    Seconds are medians of the clock, or with `cpu` the least of the processor; neither pays for the other's garbage.
    """
    works = (ours, peer)
    for work in works:
        work()
    peaks = [peak(work) for work in works]
    spent: tuple[list[float], list[float]] = ([], [])
    for _ in range(rounds):
        for work, seconds in zip(works, spent, strict=True):
            once = _spent(work)
            seconds.append(once.cpu if cpu else once.seconds)
    choose = min if cpu else statistics.median
    return choose(spent[0]), choose(spent[1]), Peaks(*peaks)


def _spent(work: Work) -> Spent:
    gc.collect()
    start, cpu = time.perf_counter(), time.process_time()
    returned = work()
    if isinstance(returned, Spent):
        return returned
    return Spent(time.perf_counter() - start, time.process_time() - cpu, 0)


def peak(work: Work) -> int:
    """Return the peak of a program in MiB, or what work in this process adds to what is there."""
    if isinstance(work, Process):
        return work().peak
    gc.collect()
    ctypes.CDLL(None).malloc_trim(0)
    Path("/proc/self/clear_refs").write_text("5")  # the peak begins anew (proc(5))
    before = resident("VmRSS")
    work()
    return (resident("VmHWM") - before) // _MIB


def peaks_alone(script: Path, *names: str) -> Peaks:
    """Return what a script prints of both sides, each in a new process: engines keep what they once asked for."""
    said = [
        subprocess.run([sys.executable, script, *names, side], check=True, capture_output=True, text=True).stdout
        for side in Peaks._fields
    ]
    return Peaks(*map(int, said))


def resident(kind: str) -> int:
    """Return what the system says of the memory of this process, in KiB: VmRSS is now, VmHWM the peak (proc(5))."""
    [size] = [line.split()[1] for line in Path("/proc/self/status").read_text().splitlines() if line.startswith(kind)]
    return int(size)


def verdict(line: Line, kept: int | None) -> str:
    """Return what is to be said of a line, beside the memory that was kept of it."""
    words = [] if line.ratio <= line.most else ["MISSED" if line.missed else "(over)"]
    if line.grew(kept):
        words.append(f"GREW from {kept} MiB")
    return "  ".join(["", *words])


def print_lines(lines: Sequence[Line], kept: Mapping[str, int]) -> None:
    """Print lines with their verdicts."""
    print(f"{'':60} {'Vantric':>9} {'peer':>9} {'ratio':>7} {'at most':>8}")
    for line in lines:
        pair = f"{line.ours:8.3f}{line.unit:2} {line.peer:8.3f}{line.unit:2}"
        said = verdict(line, kept.get(line.name))
        print(f"{line.name:60} {pair} {line.ratio:7.2f} {line.most:8.2f} {line.peaks or ''!s:>16}{said}", flush=True)


def main(groups: Sequence[Callable[[Path], list[Line]]], part: str) -> int:
    """Measure groups of lines, print them and keep them; return the exit status."""
    from results import keep, kept_peaks

    lines: list[Line] = []
    kept = kept_peaks()
    with tempfile.TemporaryDirectory() as folder:
        for group in groups:
            found = group(Path(folder))
            print_lines(found, kept)
            lines += found
    keep(lines, part)
    over = [line.name for line in lines if line.missed or line.grew(kept.get(line.name))]
    print(f"{len(lines)} lines, {len(over)} missed" + "".join(f"\n  {name}" for name in over))
    return 1 if over else 0
