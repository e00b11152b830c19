"""Sums of groups, with what tells whether they are right; again in another way if they are not."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from functools import partial
from typing import Any

from vantric.base.lazily import dataclass
from vantric.core.numbers.amounts import Raw
from vantric.engines.frame_table import Column, FrameTable, Result
from vantric.engines.sum_strategy import Addition, InexactError, SumStrategy, ValueRange
from vantric.errors import is_own_fault
from vantric.reading.records import Group

#: Aggregations until all strategies have been tried.
_MOST_RUNS = 5
_ENDS: tuple[Result, ...] = ("least", "most")


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
        Column -> what it holds here; the ends only where they were asked for.
    totals
        The sum of each addition; None where the engine has none that is exact.
    squares
        The sum of the squares of each addition; 0 where none is wanted.
    """

    labels: Group
    rows: int
    spans: dict[str, ValueRange]
    totals: tuple[Raw | None, ...]
    squares: tuple[float, ...]


@dataclass(frozen=True)
class SummedGroups:
    """The sums of all groups.

    Attributes
    ----------
    groups
    whole
        Column -> what it holds in all records.
    rows
        Number of records.
    """

    groups: list[GroupSums]
    whole: dict[str, ValueRange]
    rows: int


@dataclass(frozen=True)
class _Aggregation:
    """One aggregation: what is added up, in which ways, and what is asked of each column besides."""

    keys: Sequence[str]
    additions: Sequence[Addition]
    ways: Sequence[SumStrategy | None]
    asked: dict[str, tuple[Result, ...]]
    clean: bool
    known: dict[str, ValueRange]


def sum_groups(
    table: FrameTable, keys: Sequence[str], additions: Sequence[Addition], *, ends: bool = False
) -> SummedGroups | None:
    """Return sums for every combination of values, all of them from one aggregation; None if the engine has none.

    Parameters
    ----------
    table
    keys
        Columns to group by, all different.
    additions
        What is added up.
    ends
        Whether the least and the most of each column are wanted in every group.
    """
    if not table.apart:
        return _together(table, keys, additions)
    try:
        return _apart(table, keys, additions, ends=ends)
    except Exception as error:  # every library has exceptions of its own: for a type or a function that it has not
        if is_own_fault(error):
            raise
        return None


def _columns(additions: Sequence[Addition]) -> list[str]:
    return list(dict.fromkeys(name for addition in additions for name in addition.columns))


def _apart(table: FrameTable, keys: Sequence[str], additions: Sequence[Addition], *, ends: bool) -> SummedGroups:
    """Ask for the extremes first: they say at once which way is right."""
    names, nothing = _columns(additions), [None] * len(additions)
    run = _Aggregation((), _bare(additions), nothing, dict.fromkeys(names, ("valid", *_ENDS)), clean=False, known={})
    sums = _asked(table, run)
    if not _is_finite(sums):
        run = replace(run, clean=True)
        sums = _asked(table, run)
    whole, rows = sums[0].spans, sums[0].rows
    values: dict[str, tuple[Result, ...]] = {
        name: (*(("valid",) if whole[name].valid < rows else ()), *(_ENDS if ends or not _fine(whole[name]) else ()))
        for name in names
    }
    run = replace(run, keys=keys, additions=additions, asked=values, known=whole)
    if not _is_finite(sums):
        return SummedGroups(_asked(table, run), whole, rows)
    strategies = _strategies(table, run, whole, rows)
    sums = _asked(table, replace(run, ways=strategies))
    if not run.clean and not _is_finite(sums):  # NaN that extremes pass over
        return _cleaned(table, run)
    # An exact strategy can still pass what the engine holds, within some group.
    wrong = _wrong(sums)
    if wrong:
        most = max(group.rows for group in sums)
        strategies = [
            addition.next_strategy(table, whole, most, clean=run.clean) if index in wrong else strategies[index]
            for index, addition in enumerate(additions)
        ]
        sums = _asked(table, replace(run, ways=strategies))
    return SummedGroups(sums, whole, rows)


def _cleaned(table: FrameTable, run: _Aggregation) -> SummedGroups:
    """Add up with NaN as missing."""
    bare = replace(
        run,
        keys=(),
        additions=_bare(run.additions),
        clean=True,
        known={},
        asked=dict.fromkeys(_columns(run.additions), ("valid", *_ENDS)),
    )
    [all_] = _asked(table, bare)
    again = replace(run, clean=True, known=all_.spans, asked=dict.fromkeys(run.asked, ("valid", *_ENDS)))
    strategies = _strategies(table, again, all_.spans, all_.rows)
    return SummedGroups(_asked(table, replace(again, ways=strategies)), all_.spans, all_.rows)


def _together(table: FrameTable, keys: Sequence[str], additions: Sequence[Addition]) -> SummedGroups | None:
    """Ask for sums and extremes in one aggregation, since each costs a job; again if they say that it was not right."""
    names, tried = _columns(additions), [0] * len(additions)
    run = _Aggregation(keys, additions, [], dict.fromkeys(names, ("valid", *_ENDS)), clean=False, known={})
    strategies = _first(table, additions, clean=False)
    whole: dict[str, ValueRange] = {}
    rows, sums = 0, []
    for _ in range(_MOST_RUNS):
        try:
            sums = _asked(table, replace(run, ways=strategies))
        except Exception as error:  # a type that this engine cannot add up so: try without
            if is_own_fault(error) or not table.complains or all(strategy is None for strategy in strategies):
                raise
            strategies = [None] * len(additions)
            continue
        whole, rows = _joined(sums, names)
        if not run.clean and not _is_finite(sums):
            run, strategies = replace(run, clean=True), _first(table, additions, clean=True)
            continue
        wrong = [position for position in _wrong(sums) if tried[position] < 2]
        if not wrong or not _is_finite(sums):
            break
        most = max(group.rows for group in sums)
        for index in wrong:
            addition, tried[index] = additions[index], tried[index] + 1
            make = addition.next_strategy if tried[index] > 1 else partial(addition.known_strategy, grouped=bool(keys))
            strategies[index] = _tried(table, partial(make, table, whole, most, clean=run.clean))
    return SummedGroups(sums, whole, rows)


def _first(table: FrameTable, additions: Sequence[Addition], *, clean: bool) -> list[SumStrategy | None]:
    return [
        _tried(table, partial(addition.first_strategy, table, clean=clean)) if addition.added else None
        for addition in additions
    ]


def _tried(table: FrameTable, make: Callable[[], SumStrategy | None]) -> SumStrategy | None:
    """Return a way, or None where the library has not what it takes."""
    try:
        return make()
    except Exception as error:  # the library lacks a function: there are other strategies
        if is_own_fault(error) or not table.complains:
            raise
        return None


def _bare(additions: Sequence[Addition]) -> list[Addition]:
    return [replace(addition, squares=False) for addition in additions]


def _fine(span: ValueRange) -> bool:
    return span.least is None or span.least >= 0


def _wrong(groups: Sequence[GroupSums]) -> list[int]:
    """Return the numbers of the additions whose sums are not exact in some group."""
    return sorted({index for group in groups for index, total in enumerate(group.totals) if total is None})


def _is_finite(groups: Sequence[GroupSums]) -> bool:
    """Whether there is no NaN or infinity among the numbers, as far as extremes and sums tell."""
    return all(span.finite for group in groups for span in group.spans.values()) and not any(
        isinstance(total, float) and math.isnan(total) for group in groups for total in group.totals
    )


def _joined(groups: Sequence[GroupSums], names: Sequence[str]) -> tuple[dict[str, ValueRange], int]:
    """Return what the columns hold in all records, and how many records there are."""
    whole = dict.fromkeys(names, ValueRange())
    if _is_finite(groups):
        for group in groups:
            for name, span in group.spans.items():
                whole[name] = whole[name].joined(span)
    return whole, sum(group.rows for group in groups)


def _strategies(
    table: FrameTable, run: _Aggregation, whole: dict[str, ValueRange], rows: int
) -> list[SumStrategy | None]:
    """Return the quickest ways that are right."""
    return [
        addition.known_strategy(table, whole, rows, grouped=bool(run.keys), clean=run.clean) if addition.added else None
        for addition in run.additions
    ]


def _asked(table: FrameTable, run: _Aggregation) -> list[GroupSums]:
    """Return the groups of one aggregation."""
    types = {name: of for item in run.additions for name, of in zip(item.columns, item.types, strict=True)}
    stages: tuple[dict[str, Column], dict[str, Column], dict[str, Column]] = ({}, {}, {})
    results: list[tuple[Result, str]] = [("rows", "")]
    for index, (name, kinds) in enumerate(run.asked.items()):
        if kinds:
            column = table.column(name)
            stages[0][f"x{index}"] = table.real(column, clean=run.clean) if types[name].kind == "real" else column
            results += [(kind, f"x{index}") for kind in kinds]
    for addition, strategy in zip(run.additions, run.ways, strict=True):
        if addition.squares or (strategy is not None and addition.kind == "real"):
            stages[0][f"n{addition.name}"] = addition.made_number(table, clean=run.clean)
        if strategy is not None:
            parts = {f"p{addition.name}_{place}": column for place, (_, column) in enumerate(strategy.parts)}
            stages[1 if addition.kind == "real" else 0].update(parts)
            results += [("sum", name) for name in parts]
            if strategy.rest is not None:
                stages[2][f"r{addition.name}"] = strategy.rest
                results.append(("sum", f"r{addition.name}"))
        if addition.squares:
            number = addition.number(table, clean=run.clean)
            stages[1][f"s{addition.name}"] = number * number
            results.append(("sum", f"s{addition.name}"))
    return [_group(row, run) for row in table.grouped(run.keys, [step for step in stages if step], results)]


def _group(row: Group, run: _Aggregation) -> GroupSums:
    values: Iterator[Any] = iter(row[len(run.keys) :])
    rows = int(next(values))
    spans = {}
    for name, kinds in run.asked.items():
        results = {kind: next(values) for kind in kinds}
        valid = int(results.get("valid", rows))
        spans[name] = ValueRange(valid, results.get("least"), results.get("most")) if valid else ValueRange()
    within = {name: replace(run.known.get(name, span), valid=span.valid) for name, span in spans.items()}
    totals: list[Raw | None] = []
    squares = []
    for addition, strategy in zip(run.additions, run.ways, strict=True):
        sums = [next(values) for _ in strategy.parts] if strategy is not None else []
        rest = next(values) if strategy is not None and strategy.rest is not None else None
        try:
            totals.append(
                0
                if not addition.added
                else None
                if strategy is None
                else addition.total(strategy, sums, rest, within, rows)
            )
        except InexactError:  # the next strategy may be exact
            totals.append(math.nan if isinstance(rest, float) and not math.isfinite(rest) else None)
        squares.append(float(next(values) or 0.0) if addition.squares else 0.0)
    return GroupSums(tuple(row[: len(run.keys)]), rows, spans, tuple(totals), tuple(squares))
