"""Planned and achieved: by how much they differ, the largest difference first."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from vantric.core.numbers.shown import counted, number_text, one_line, percent_text, readable
from vantric.errors import RankError

_PLAN = re.compile(
    r"plan|target|budget|promis|goal|quota|forecast|nominal|required|expected|soll\b|ziel", re.IGNORECASE
)
_NOISE = 1e-9


@dataclass(frozen=True)
class GapRow:
    """One category of a gap.

    Attributes
    ----------
    category, planned, achieved
        What was to be, and what was.
    difference
        Achieved less planned.
    percent
        Achieved in percent of planned; None where nothing was planned, or less than nothing.
    share
        Of the sum of all differences, without their signs, in percent.
    """

    category: str
    planned: float
    achieved: float
    difference: float
    percent: float | None
    share: float


@dataclass(frozen=True)
class Gap:
    """Planned and achieved, the largest difference first.

    Attributes
    ----------
    rows
        A row a category that has both values.
    names
        What the two are called.
    missing
        Categories that lack one of the two.
    """

    rows: tuple[GapRow, ...]
    names: tuple[str, str]
    missing: tuple[str, ...] = ()

    def sentence(self) -> str:
        """Return the largest difference with its base, the lowest percent with its own, and how many are over.

        Every percent has its base beside it.
        """
        first, planned = self.rows[0], one_line(readable(self.names[0]), longest=40)
        under, over = ([row for row in self.rows if sign * row.difference > 0] for sign in (-1, 1))
        if not under and not over:
            return f"{counted(len(self.rows), 'category', 'categories')}: no difference from {planned}."
        size = ("-" if first.difference < 0 else "+") + number_text(abs(first.difference))
        said = [f"The largest difference is {size} at {_named(first)}: {self._base(first)}"]
        low = min((row for row in under if row.percent is not None), key=lambda row: row.percent or 0.0, default=first)
        if low.category != first.category and low.percent != first.percent:
            said.append(f"the lowest percent is that of {_named(low)}: {self._base(low)}")
        level = len(self.rows) - len(under) - len(over)
        shares = f"{len(under) or 'none'} below {planned}, {len(over) or 'none'} above"
        shares += f", {level} level with it" if level else ""
        said.append(f"of {counted(len(self.rows), 'category', 'categories')}: {shares}")
        return "; ".join(said) + "."

    def _base(self, row: GapRow) -> str:
        planned, achieved = (one_line(readable(name), longest=40) for name in self.names)
        text = f"{number_text(row.achieved)} {achieved} of {number_text(row.planned)} {planned}"
        if row.percent is None:
            return text
        marks = () if row.achieved == row.planned else (100.0,)
        return f"{text}, {percent_text(row.percent, marks=marks)}"


def _named(row: GapRow) -> str:
    return f"“{one_line(row.category, longest=40)}”"


def is_planned(name: str) -> bool:
    """Whether a series is by its name what was to be: the base of percents."""
    return bool(_PLAN.search(name))


def gap_of(
    categories: Sequence[str], planned: Sequence[float], achieved: Sequence[float], names: tuple[str, str]
) -> Gap:  # fmt: skip
    """Return the differences of two series, ranked by their size and not by the percent alone.

    Raises
    ------
    RankError
        If the series are not of one length, or no category has both values.
    """
    if not len(categories) == len(planned) == len(achieved):
        raise RankError(
            f"{len(categories)} categories, {len(planned)} planned and {len(achieved)} achieved: give one of each"
        )
    both = [
        (name, float(p), float(a), _difference(float(a), float(p)))
        for name, p, a in zip(categories, planned, achieved, strict=True)
        if p == p and a == a
    ]
    if not both:
        raise RankError("no category has both values: there is nothing to compare")
    whole = math.fsum(abs(size) for *_, size in both)
    rows = [
        GapRow(name, p, a, size, 100 * a / p if p > 0 else None, 100 * abs(size) / whole if whole else 0.0)
        for name, p, a, size in both
    ]
    held = {name for name, *_ in both}
    missing = tuple(name for name in categories if name not in held)
    return Gap(tuple(sorted(rows, key=lambda row: -abs(row.difference))), names, missing)


def _difference(achieved: float, planned: float) -> float:
    """Return the difference of two numbers as they are written; float noise is none."""
    if abs(achieved - planned) <= _NOISE * max(abs(achieved), abs(planned)):
        return 0.0
    return float(Fraction(repr(achieved)) - Fraction(repr(planned)))
