"""How often the statements hold: simulated, cell by cell of a grid, and written to docs/coverage.md.

Run ``python bench/coverage.py`` (about an hour), or with ``--repetitions 200`` for a look. Every line of the tables is
a share of repetitions; the standard error of 0.95 at 4,000 of them is 0.0034.
"""

from __future__ import annotations

import argparse
import math
import time
from collections.abc import Callable, Iterable
from pathlib import Path

from simulated_changes import charted, compared, compared_rates, power, related, strata, trending, trending_together
from simulated_rankings import clustered, concentrated, even, first, rates, sheets, single, vital

TABLES: dict[str, tuple[str, tuple[str, ...], Callable[[int], Iterable[tuple[str, ...]]]]] = {
    "single": (
        "Single records: all intervals, and all ranges of ranks, hold at once",
        ("Shares", "Categories", "Records", "Intervals", "Ranks"),
        single,
    ),
    "clustered": (
        "Records that stand for several pieces",
        ("Records", "Categories", "Shares", "Pieces a record", "Intervals", "Ranks"),
        clustered,
    ),
    "rates": ("Rates, exposures from 1 to 5", ("Mean count", "Categories", "Intervals", "Ranks"), rates),
    "compared": (
        "Before and after, shares: how often a category is named as significant",
        ("Truth", "Pieces a record", "Records a side", "Any", "The first", "Mix differs"),
        compared,
    ),
    "power": (
        "Before and after, shares: the one that changed is named (Fisher's own: 0.196, 0.757)",
        ("Truth", "Pieces a record", "Records a side", "Any", "The first", "Mix differs"),
        power,
    ),
    "compared rates": (
        "Before and after, rates: the second side has twice the exposure",
        ("Truth", "Mean count", "Any that did not change", "The first", "Total named", "Its interval holds"),
        compared_rates,
    ),
    "vital": (
        "The vital few: how often anything is wrong that is said to be sure",
        ("Shares", "Records", "Pieces a record", "Reach", "Within", "Share left open"),
        vital,
    ),
    "sheets": (
        "Sheets of several columns: intervals with and without what the columns show, ranks, a wrong vital few",
        ("Occurrences", "Categories", "Columns", "Mean of one", "Intervals", "Plain", "Ranks", "Wrong"),
        sheets,
    ),
    "concentrated": (
        "Concentration: how often the intervals hold",
        ("Shares", "Categories", "Records", "Effective number", "Gini"),
        concentrated,
    ),
    "even": (
        "Evenness, where all categories are equally likely",
        ("Categories", "Records", "Test rejects", "A bar leaves the band"),
        even,
    ),
    "strata": (
        "Strata of one mix: how often they are said to differ, a cell to stand out, a lead to turn round",
        ("Shares", "Cells", "Records", "Differ", "A cell", "A lead"),
        strata,
    ),
    "related": ("Two series: how often they are called related", ("Series", "In time", "Values", "Related"), related),
    "trending": (
        "Changes of one category over months",
        ("Course", "Months", "Mean count", "Significant", "Steady", "Step", "Either", "Neither", "Drift (not named)"),
        trending,
    ),
    "trending together": (
        "Ten categories of which none changes: any is named, any interval excludes no change",
        ("Course", "Of", "Months", "Mean count", "Named", "Interval"),
        trending_together,
    ),
    "charted": (
        "Control charts of what does not change: signals a chart",
        ("Chart", "Mean count", "Periods", "Signals", "Expected", "Any"),
        charted,
    ),
    "first": ("The most frequent", ("Shares", "Records", "Said rightly", "Said wrongly"), first),
}


#: Table -> by how much fewer repetitions it has: each cell of these takes seconds.
_SLOW = {
    **dict.fromkeys(("compared", "even"), 4),
    **dict.fromkeys(("related", "strata"), 2),
    **dict.fromkeys(("sheets", "concentrated", "trending"), 8),
    "trending together": 16,
}


_HEAD = """# How often the statements hold

Simulated by `python bench/coverage.py --to docs/coverage.md`; every number is a share of repetitions, each with its own
seed. Intervals and ranks are to hold at once in at least 0.95 of them, less three standard errors (0.935 at 2,000
repetitions); what is called significant where nothing is, in at most 0.05. What each method is, is in
[certainty.md](certainty.md).

"""


def main() -> None:
    """Simulate, print, and write the page."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--repetitions", type=int, default=4_000)
    parser.add_argument("--only", choices=[*TABLES], nargs="*", default=[*TABLES])
    parser.add_argument("--to", type=Path)
    asked = parser.parse_args()
    lines: list[str] = []
    for name in asked.only:
        title, head, work = TABLES[name]
        began = time.perf_counter()
        done = max(100, asked.repetitions // _SLOW.get(name, 1))
        lines += [
            f"## {title}",
            "",
            f"{done:,} repetitions a line.",
            "",
            "| " + " | ".join(head) + " |",
            "|---" * len(head) + "|",
        ]
        for row in work(done):
            lines.append("| " + " | ".join(row) + " |")
            print(*row, sep="  ", flush=True)
        print(
            f"{name}: {time.perf_counter() - began:.0f} s; standard error at 0.95: "
            f"{math.sqrt(0.95 * 0.05 / asked.repetitions):.4f}"
        )
        lines.append("")
    if asked.to:
        asked.to.write_text(_HEAD + "\n".join(lines).rstrip() + "\n")


if __name__ == "__main__":
    main()
