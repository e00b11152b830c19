"""Columns by name or as a range: ``Jan:Mar`` are the columns from Jan to Mar."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction

from vantric.core.counts.options_part import read_names
from vantric.core.counts.provenance import Remark
from vantric.core.counts.total_labels import is_strong
from vantric.errors import ColumnError, unknown_column
from vantric.reading.records import Records
from vantric.reading.settings import TOTALS, Counting

_FEWEST = 3


def columns_of(texts: Sequence[str], records: Records) -> tuple[str, ...]:
    """Return the columns that names and ranges mean, each once; a column of that very name wins.

    Raises
    ------
    ColumnError
        If there is no such column, or a range ends before it begins.
    """
    names = records.names()
    found: dict[str, None] = {}
    for text in texts:
        for name in [text] if text in names else _meant(text, names, records.place):
            found[name] = None
    return _without_totals(tuple(found), records)


def _without_totals(names: tuple[str, ...], records: Records) -> tuple[str, ...]:
    """Leave out a column that adds up the others; ask about one that is only called so."""
    if records.rules.keep_totals or len(names) < _FEWEST:
        return names
    for total in filter(is_strong, names):
        sums = {name: Fraction(group[-1]) for name in names for group in records.sums([], name, free=True)}
        rest = sum((value for name, value in sums.items() if name != total), Fraction())
        adds_up = abs(sums.get(total, Fraction()) - rest) <= abs(rest) * Fraction(1, 10**9)
        if not adds_up and records.rules.keep_totals is None:
            raise ColumnError(
                f"{records.place}: column '{total}' reads as the total of the others, and is not their sum: say "
                "keep_totals=False to leave it out, keep_totals=True to count it",
                asks=TOTALS,
            )
        why = "adds up the others and is left out" if adds_up else "is left out, as keep_totals=False says"
        records.remark(Remark("total-column", f"{records.place}: column '{total}' {why}"))
        return tuple(name for name in names if name != total)
    return names


def _meant(text: str, names: Sequence[str], place: str) -> list[str]:
    first, sign, last = (part.strip() for part in text.partition(":"))
    if sign and first in names and last in names:
        start, stop = names.index(first), names.index(last)
        if stop < start:
            raise ColumnError(f"{place}: column '{last}' stands before '{first}': write {last}:{first}")
        return list(names[start : stop + 1])
    parts = read_names(text) if "," in text else ()
    if len(parts) > 1:
        return [name for part in parts for name in ([part] if part in names else _meant(part, names, place))]
    wrong = next((part for part in (first, last) if sign and part and part not in names), text)
    raise unknown_column(wrong if sign else text, names, place)


def resolved(counting: Counting, records: Records) -> Counting:
    """Return what is counted with every column by its name; `added` are the columns of a count of several."""
    if counting.by_columns:
        counting = replace(counting, by_columns=columns_of(counting.by_columns, records))
    if counting.count is None or counting.count in records.names():
        return counting
    texts = (counting.count,) if isinstance(counting.count, str) else counting.count
    columns = columns_of(texts, records)
    if len(columns) == 1:
        return replace(counting, count=columns[0])
    label = texts[0] if len(texts) == 1 and ":" in texts[0] else " + ".join(columns)
    return replace(counting, count=label, added=columns)
