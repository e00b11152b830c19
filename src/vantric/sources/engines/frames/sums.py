"""Sums in one aggregation, with what tells whether they are right; again in another way if they are not."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any

from vantric.core.numbers.amounts import Raw
from vantric.sources.engines.frames.additions import Addition, InexactError, Span, Way
from vantric.sources.engines.frames.table import Column, Result, Table
from vantric.sources.reading.records import Group

_MOST_RUNS = 4


@dataclass(frozen=True)
class GroupSums:
    """What one group of records adds up to.

    Attributes
    ----------
    labels
        The value of each key.
    rows
        Number of records.
    spans
        Column -> what it holds.
    totals
        The sum of each addition; None where the engine has none that is exact.
    squares
        The sum of the squares of each addition; 0 where none is wanted.
    """

    labels: Group
    rows: int
    spans: dict[str, Span]
    totals: tuple[Raw | None, ...]
    squares: tuple[float, ...]


def summed(table: Table, keys: Sequence[str], additions: Sequence[Addition]) -> list[GroupSums] | None:
    """Return sums for every combination of values, all of them from one aggregation; None if the engine has none.

    Parameters
    ----------
    table
    keys
        Columns to group by, all different.
    additions
        What is added up.
    """
    clean, tried = False, [0] * len(additions)
    ways: list[Way | None] | None = None
    found: list[GroupSums] | None = None
    for run in range(_MOST_RUNS):
        try:
            ways = [one.first_way(table, clean=clean) for one in additions] if ways is None else ways
            found, wrong = _run(table, keys, additions, ways, clean=clean)
        except Exception:  # every library has exceptions of its own: a number that does not fit, a type it has not
            if not table.complains:
                raise
            if run:
                return found
            ways = [None] * len(additions)  # the extremes say what does fit
            continue
        if not clean and not _is_finite(found):
            clean, ways = True, None
            continue
        wrong = [at for at in wrong if tried[at] == 0]
        if not wrong or not _is_finite(found):
            return found
        whole, rows = _together(found)
        for at in wrong:
            tried[at] = 1
            ways[at] = _next(additions[at], table, whole, rows, clean=clean)
        if all(ways[at] is None for at in wrong):
            return found
    return found


def _next(one: Addition, table: Table, whole: dict[str, Span], rows: int, *, clean: bool) -> Way | None:
    try:
        return one.next_way(table, whole, rows, clean=clean)
    except Exception:
        if not table.complains:
            raise
        return None  # a type or a function that the library has not


def _is_finite(groups: Sequence[GroupSums]) -> bool:
    """Whether there is no NaN or infinity among the numbers, as far as extremes and sums tell."""
    return all(span.finite for group in groups for span in group.spans.values()) and all(
        not isinstance(total, float) or not math.isnan(total) for group in groups for total in group.totals
    )


def _together(groups: Sequence[GroupSums]) -> tuple[dict[str, Span], int]:
    """Return what the columns hold in all records, and how many records the largest group has."""
    whole: dict[str, Span] = {}
    for group in groups:
        for name, span in group.spans.items():
            whole[name] = whole.get(name, Span()).joined(span)
    return whole, max((group.rows for group in groups), default=0)


def _run(
    table: Table, keys: Sequence[str], additions: Sequence[Addition], ways: Sequence[Way | None], *, clean: bool
) -> tuple[list[GroupSums], list[int]]:
    """Return groups, and the numbers of the additions whose sums are not exact in some of them."""
    types = {name: of for one in additions for name, of in zip(one.columns, one.types, strict=True)}
    asked = _Asked()
    asked.add("rows")
    for at, (name, of) in enumerate(types.items()):
        column = table.column(name)
        own = asked.name(f"x{at}", table.real(column, clean=clean) if of.kind == "real" else column)
        for kind in ("valid", "least", "most"):
            asked.add(kind, own)
    for at, (one, way) in enumerate(zip(additions, ways, strict=True)):
        if way is not None:
            for number, (_, column) in enumerate(way.parts):
                asked.add("sum", asked.name(f"p{at}.{number}".replace(".", "_"), column))
            if way.rest is not None:
                asked.add("sum", asked.name(f"r{at}", way.rest))
        if one.squares:
            number_ = one.number(table, clean=clean)
            asked.add("sum", asked.name(f"s{at}", number_ * number_))
    rows = table.grouped(keys, asked.made, asked.results)
    wrong: set[int] = set()
    groups = [_group(row, len(keys), list(types), additions, ways, wrong) for row in rows]
    return groups, sorted(wrong)


class _Asked:
    """What is asked for in one aggregation."""

    def __init__(self) -> None:
        self.made: dict[str, Column] = {}
        self.results: list[tuple[Result, str]] = []

    def name(self, name: str, column: Column) -> str:
        self.made[name] = column
        return name

    def add(self, kind: Result, name: str = "") -> None:
        self.results.append((kind, name))


def _group(
    row: Group, keys: int, names: Sequence[str], additions: Sequence[Addition], ways: Sequence[Way | None],
    wrong: set[int],
) -> GroupSums:  # fmt: skip
    values: Iterator[Any] = iter(row[keys:])
    rows = int(next(values))
    spans = {}
    for name in names:
        valid, least, most = int(next(values)), next(values), next(values)
        spans[name] = Span(valid, least, most) if valid else Span()
    totals: list[Raw | None] = []
    squares = []
    for at, (one, way) in enumerate(zip(additions, ways, strict=True)):
        sums = [next(values) for _ in way.parts] if way is not None else []
        rest = next(values) if way is not None and way.rest is not None else None
        try:
            totals.append(None if way is None else one.total(way, sums, rest, spans, rows))
        except InexactError:
            totals.append(math.nan if isinstance(rest, float) and math.isnan(rest) else None)
        if totals[-1] is None or totals[-1] != totals[-1]:
            wrong.add(at)
        squares.append(float(next(values) or 0.0) if one.squares else 0.0)
    return GroupSums(tuple(row[:keys]), rows, spans, tuple(totals), tuple(squares))
