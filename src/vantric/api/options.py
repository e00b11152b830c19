"""The options that every function that counts takes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import fields
from pathlib import Path
from typing import TypedDict

from vantric.api.analysis import Analysis
from vantric.options import read_options
from vantric.sources import Counting, Opening


class CountingOptions(TypedDict, total=False):
    """What is counted, beyond `by`; see `vantric.tally`."""

    count: str | None
    by_columns: Sequence[str]
    separator: str | None
    unique: str | None
    merge_spellings: bool
    families: Mapping[str, str] | str | Path | None
    weight: str | None
    missing: str
    dates: str | None
    where: str | None
    sheet: str | None
    table: str | None
    query: str | None
    timeout: float | None
    memory: int | None
    allow_functions: bool


class OpeningOptions(TypedDict, total=False):
    """How a source is opened; see `vantric.tally`."""

    where: str | None
    sheet: str | None
    table: str | None
    query: str | None
    timeout: float | None
    memory: int | None
    allow_functions: bool


OPENING = tuple(one.name for one in fields(Opening))
_COUNTING = (
    "count", "by_columns", "separator", "unique", "merge_spellings", "families", "weight", "missing", "dates",
)  # fmt: skip


def split_options(by: str | None, options: CountingOptions) -> tuple[Counting, Opening]:
    """Return what is counted and how the source is opened; an unknown name is a `TypeError`, as in any call."""
    given = read_options(options, CountingOptions)
    opening = {name: given[name] for name in OPENING if name in given}
    counting = {name: given[name] for name in _COUNTING if name in given}
    if "by_columns" in counting:
        counting["by_columns"] = tuple(given["by_columns"])
    return Counting(by=by, **counting), Opening(**opening)


class AnalysisOptions(CountingOptions, total=False):
    """How a Pareto table is made, and what is counted; see `vantric.pareto`."""

    cut: object
    rule: str
    ties: str
    order: str | Sequence[str]
    keep: int | None
    fold_below: float | None
    rest_label: str
    last: str | Sequence[str]
    drop_zero: bool
    per: float | str | Mapping[str, float] | None
    per_units: float
    per_name: str | None
    split: str | None
    period: str | None
    drill: str | Sequence[str]


_ANALYSIS = (
    "cut", "rule", "ties", "order", "keep", "fold_below", "rest_label", "last", "drop_zero", "per", "per_units",
    "per_name", "split", "period", "drill",
)  # fmt: skip


def split_analysis(by: str | None, options: AnalysisOptions) -> tuple[Analysis, Counting, Opening]:
    """Return how the table is made, what is counted and how the source is opened."""
    given = read_options(options, AnalysisOptions)
    analysis = Analysis(**{name: given.pop(name) for name in _ANALYSIS if name in given})
    return analysis, *split_options(by, given)  # type: ignore[arg-type]
