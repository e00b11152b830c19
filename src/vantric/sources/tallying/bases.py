"""Rates and their bases: a plain mean of rates, and rates of unlike bases on one stack."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from itertools import permutations
from typing import TYPE_CHECKING

from vantric.core.counting.remark import Remark
from vantric.core.numbers.shown import decimals_of, quoted
from vantric.errors import AmountError
from vantric.sources.reading.blanks import is_blank
from vantric.sources.reading.records import Records
from vantric.sources.tallying.aggregating import Measure

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    Floats = NDArray[np.float64]

_RATE = re.compile(r"rate|ratio|percent|share|quota|%|pct|yield", re.IGNORECASE)
_RATIOS = ("ratio", "percent")
_MOST_ROWS, _MOST_COLUMNS, _FEWEST = 2000, 12, 4
#: How many times a rate is written: as a share, in percent, per thousand, per million.
_TIMES = {1: "ratio", 100: "percent", 1000: "ratio", 1_000_000: "ratio"}


def means_of_rates(records: Records, asked: Iterable[Measure], rows: Mapping[str, int]) -> list[Remark]:
    """Report a mean of rates of unlike bases, which weighs small bases like large ones.

    A column is one of rates if it is one column over another in every record, if it makes whole numbers of a column of
    counts, or if it is called so or has the unit percent.
    """
    means = [one for one in asked if one.kind == "mean"]
    if not means or max(rows.values()) == 1:
        return []
    found = []
    for one in means:
        fix = _fix(records, one.columns[0])
        if fix is not None:
            stated = f"{quoted([one.name])} is a mean of rates, which weighs small bases like large ones"
            found.append(Remark("mean-of-rates", stated, "warning", fix))
    return found


def _fix(records: Records, column: str) -> str | None:
    """Return what to write instead of the mean of a column of rates; None if it seems to hold none."""
    columns = _numbers(records, column)
    rate = columns.pop(column, None)
    if rate is not None and any(value != int(value) for value in rate.tolist()):
        slack = 0.5 * 10.0 ** -max(decimals_of(float(value)) for value in rate[:_MOST_ROWS].tolist())
        for above, below in permutations(columns, 2):
            for times, kind in _TIMES.items():
                if _is_ratio(rate, times * columns[above], columns[below], slack):
                    return f"write {kind}:{above}/{below}, the sum of one over the sum of the other"
        for name, base in columns.items():
            if any(_makes_whole(rate / times, base, slack / times) for times in (1, 100, 1000)):
                return f"weigh it by '{name}': add a column of counts, and write ratio:COUNTS/{name}"
    if _RATE.search(column) or records.unit_of(column) == "%":
        return "write ratio:a/b, the sum of one over the sum of the other"
    return None


def _numbers(records: Records, column: str) -> dict[str, Floats]:
    """Return the columns that hold a number in every one of the first records that has the wanted one."""
    import numpy as np

    names = [column, *(name for name in records.names() if name != column)][: _MOST_COLUMNS + 1]
    places = {name: records.names().index(name) for name in names}
    head = [row for row in records.head(_MOST_ROWS) if not is_blank(row[places[column]])]
    found: dict[str, Floats] = {}
    for name, at in places.items():
        try:
            found[name] = np.array([float(records.number(name, row[at]) or 0) for row in head], dtype=np.float64)
        except (ValueError, TypeError, AmountError, OverflowError):
            continue
    return found if len(head) >= _FEWEST else {}


def _is_ratio(rate: Floats, above: Floats, below: Floats, slack: float) -> bool:
    import numpy as np

    held = below != 0
    if held.sum() < _FEWEST or np.ptp(below[held]) == 0 or np.ptp(rate[held]) == 0:
        return False
    wanted = above[held] / below[held]
    return bool(np.all(np.abs(rate[held] - wanted) <= slack + 1e-9 * np.abs(wanted)))


def _makes_whole(share: Floats, base: Floats, slack: float) -> bool:
    """Whether shares of a base are whole numbers as far as they are rounded, which chance hardly makes of many."""
    import numpy as np

    whole = np.all(base == np.round(base)) and np.all(base >= 0)
    if not whole or np.any((share < 0) | (share > 1)) or np.ptp(base) == 0:
        return False
    counts, room = share * base, slack * base + 1e-9
    telling = room < 0.15
    off = np.abs(counts - np.round(counts))
    return bool(telling.sum() >= 2 * _FEWEST and np.all(off[telling] <= room[telling]) and np.ptp(share) > 0)


def unlike_bases(stacked: Sequence[Measure]) -> list[Remark]:
    """Report ratios of different bases that are stacked: their sum is of nothing."""
    rates = [one for one in stacked if one.kind in _RATIOS]
    if len(rates) < 2 or len({one.columns[1] for one in rates}) == 1:
        return []
    names = quoted([one.name for one in rates])
    return [
        Remark("stacked-rates", f"rates of different bases are stacked ({names}): their sum is a rate of nothing",
               "warning", "group them, or stack the counts")
    ]  # fmt: skip
