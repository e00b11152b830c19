"""Random charts through the planner and the real measure of text: ``make fuzz-charts``, or with a number and a seed."""

from __future__ import annotations

import sys
import time
import warnings
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1]))

from tests.geometry import misplaced, misread, unaligned
from tests.randomcharts import random_chart
from tests.rendered import faults, hard_to_read

from vantric.errors import VantricError

#: Of so many charts the pixels of one are measured: each is drawn twice for that.
_MEASURED = 10


def main(number: int = 20_000, seed: int = 0) -> int:
    """Draw random charts; return how many have a fault."""
    warnings.simplefilter("ignore")
    drawn = refused = faulty = 0
    start = time.perf_counter()
    for at in range(seed, seed + number):
        try:
            chart, look = random_chart(at)
            found = [*faults(chart), *misplaced(chart), *misread(chart, si=look.get("si", False))]
            found += unaligned(chart, look)
            found += hard_to_read(chart) if at % _MEASURED == 0 else []
        except VantricError as error:
            refused += 1
            if "\n" in str(error):
                print(at, "more than one line:", error)
                faulty += 1
            continue
        drawn += 1
        if found:
            faulty += 1
            print(at, len(found), found[0], flush=True)
    seconds = time.perf_counter() - start
    print(f"{drawn} charts drawn, {refused} refused in one line, {faulty} with a fault; {seconds:.0f} s")
    return faulty


if __name__ == "__main__":
    sys.exit(bool(main(*map(int, sys.argv[1:]))))
