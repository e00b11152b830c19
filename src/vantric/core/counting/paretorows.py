"""The rows of a Pareto table, and what is folded into the last."""

from __future__ import annotations

from dataclasses import dataclass

from vantric.core.numbers.amounts import Number


@dataclass(frozen=True, slots=True)
class Row:
    """One category of a Pareto table; `percent` and `cumulative_percent` are exact, not rounded.

    The rest has no `rank` and no `abc`. `rank` is by frequency, whatever the order of the rows.
    """

    rank: int | None
    category: str
    frequency: Number
    count: Number
    percent: float
    cumulative_frequency: Number
    cumulative_percent: float
    abc: str | None


@dataclass(frozen=True)
class Rest:
    """The small categories, folded into one row.

    Attributes
    ----------
    label
        What the row is called.
    categories
        What it holds, the most frequent first.
    frequency, count, percent
        What they add up to.
    """

    label: str
    categories: tuple[str, ...]
    frequency: Number
    count: Number
    percent: float
