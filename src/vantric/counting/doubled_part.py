"""Records that stand twice: a log that was pasted or joined again counts everything double."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from typing import Any

from vantric.core.counts.provenance import Remark
from vantric.core.numbers.number_format import counted, number_text
from vantric.engines.opening import with_records
from vantric.errors import VantricError
from vantric.reading.records import Group, Records
from vantric.reading.settings import Opening

_FEWEST = 8  # different records: as many even numbers hardly happen by chance
_MOST_RECORDS = 2_000_000
_MOST_COMPARED = 60
_LEAST_ALONE = 0.98  # of the different records, beside which one that stands twice was copied
_LEAST_AGAIN = 3


def doubled(records: Records, by: str, rows: Iterable[int]) -> list[Remark]:
    """Report records that all stand twice, or as often as each other, cell by cell alike.

    Parameters
    ----------
    records
    by
        The column of labels.
    rows
        How many records each label has, and how many have none: only where all have a common divisor are the records
        compared.
    """
    numbers = [number for number in rows if number]
    times = math.gcd(*numbers) if numbers else 1
    whole = sum(numbers)
    names = records.names()
    if times < 2 or not 2 <= len(names) <= _MOST_COMPARED or not _FEWEST * times <= whole <= _MOST_RECORDS:
        return []
    for left in _without_numbering(records, names, whole):
        groups = [int(group[-1]) for group in _groups(records, left)]
        often = math.gcd(*groups) if groups else 1
        if often > 1 and len(groups) >= _FEWEST and len(left) > 1:
            other = "" if len(left) == len(names) else f" but for {', '.join(sorted(set(names) - set(left)))}"
            what = f"every record stands {_words(often)}, cell by cell alike{other}"
            means = f"{number_text(whole)} records are {number_text(whole // often)} different ones"
            return [_remark(records, what, means)]
    return []


def copied_records(data: Any, opening: Opening) -> list[Remark]:
    """Report some records of a source that stand twice; nothing where it cannot be told."""
    try:
        return with_records(data, opening, [], partly_doubled)
    except VantricError:
        return []


def partly_doubled(records: Records) -> list[Remark]:
    """Report some records that stand twice where hardly any two others are alike: copied, or joined again."""
    names = records.names()
    if not 2 <= len(names) <= _MOST_COMPARED:
        return []
    groups = [int(group[-1]) for group in _groups(records, names)]
    whole, again = sum(groups), sum(number - 1 for number in groups)
    if whole > _MOST_RECORDS or again < _LEAST_AGAIN or again == len(groups) or len(groups) < _FEWEST:
        return []
    if max(groups) > 3 or not _identified(records, names, len(groups)):
        return []
    return [
        _remark(
            records,
            f"{counted(again, 'record')} {'repeats' if again == 1 else 'repeat'} another cell by cell",
            f"{number_text(whole)} records are {number_text(len(groups))} different ones",
        )
    ]


def _remark(records: Records, what: str, means: str) -> Remark:
    return Remark(
        "repeated-records",
        f"{records.place}: {what}: {means}",
        "warning",
        "take the repeated records out of the source, if they were pasted or joined twice",
    )


def _identified(records: Records, names: Sequence[str], different: int) -> bool:
    """Whether one column alone tells nearly all different records apart, such as a serial number or a time."""
    return any(len(_groups(records, [name])) >= _LEAST_ALONE * different for name in names)


def _groups(records: Records, names: Sequence[str]) -> list[Group]:
    try:
        return records.groups(names)
    except VantricError:
        return []


def _without_numbering(records: Records, names: Sequence[str], whole: int) -> Iterable[list[str]]:
    """Yield the columns to compare: all, and all but those that number the records."""
    yield list(names)
    numbering = [name for name in names if len(_groups(records, [name])) == whole]
    if numbering and len(numbering) < len(names) - 1:
        yield [name for name in names if name not in numbering]


def _words(times: int) -> str:
    return {2: "twice", 3: "three times"}.get(times, f"{times} times")
