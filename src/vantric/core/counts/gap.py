"""Planned and achieved: by how much they differ, the largest difference first."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from fractions import Fraction
from typing import TYPE_CHECKING, Any, Unpack

from vantric.base.lazily import compiled, dataclass
from vantric.core.messages.message import Joined, Label, Message, Percent, Written, labels
from vantric.core.numbers.label_order import in_label_order
from vantric.core.numbers.number_format import number_text, one_line, readable
from vantric.core.results import DataResult, Rows
from vantric.errors import RankError

if TYPE_CHECKING:
    from vantric.core.charts import Chart
    from vantric.typing import MeasuresChartOptions

#: Words that name the column of a plan, so that the other is the actual.
_PLAN = compiled(r"plan|target|budget|promis|goal|quota|forecast|nominal|required|expected|soll\b|ziel", re.IGNORECASE)
#: Plan and actual that differ by less, as a share, are equal.
_NOISE = 1e-9
#: Categories that the sentence names on each side.
_MOST_NAMED = 4
_LONGEST = 40  # characters of a name in the sentence


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
class Gap(Rows[GapRow], DataResult):
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

    _kind = "gap"

    def chart(self, **options: Unpack[MeasuresChartOptions]) -> Chart:
        """Return the bars of planned and achieved, the largest difference first; what is below the plan stands out."""
        chart: Chart = self._of_kind().public_chart(self, **options)
        return chart

    def to_frame(self) -> Any:
        """Return a row a category as a frame, the largest difference first."""
        return self._of_kind().to_frame(self)

    def sentence(self) -> Joined:
        """Return the largest difference with its base, the lowest percent with its own, and how many are over.

        Every percent has its base beside it.
        """
        first = self.rows[0]
        planned = one_line(readable(self.names[0]), longest=_LONGEST)
        under, over = ([row for row in self.rows if sign * row.difference > 0] for sign in (-1, 1))
        every = Message("categories", count=len(self.rows))
        if not under and not over:
            return Joined([Message("no difference", categories=every, planned=planned)])
        sentences = [self._largest(first)]
        low = min((row for row in under if row.percent is not None), key=lambda row: row.percent or 0.0, default=first)
        if low.category != first.category and low.percent != first.percent:
            alike = [row.category for row in under if row.percent == low.percent]
            sentences.append(Message("lowest percent", labels=labels(alike, most=_MOST_NAMED), base=self._base(low)))
        level = len(self.rows) - len(under) - len(over)
        sides = {"categories": every, "planned": planned, "below": len(under), "above": len(over)}
        sentences.append(
            Message("below, above, level", level=level, **sides) if level else Message("below, above", **sides)
        )
        return Joined([*sentences, *self._lacking(), *self._turned()])

    def _largest(self, first: GapRow) -> Message:
        """Say which difference is the largest, and of which categories if several have it."""
        alike = [row for row in self.rows if abs(row.difference) == abs(first.difference)]
        size = number_text(abs(first.difference))
        signed = Written(f"{'-' if first.difference < 0 else '+'}{size}")
        if len(alike) == 1:
            label = Label(first.category)
            return Message("largest difference", difference=signed, label=label, base=self._base(first))
        below, above = (
            labels([row.category for row in alike if (row.difference < 0) == is_below], most=_MOST_NAMED)
            for is_below in (True, False)
        )
        if not below.items or not above.items:
            return Message("largest differences", difference=signed, labels=below if below.items else above)
        return Message("largest both ways", size=Written(size), below=below, above=above)

    def _lacking(self) -> list[Message]:
        if not self.missing:
            return []
        return [Message("lacks a side", count=len(self.missing), labels=labels(self.missing, most=_MOST_NAMED))]

    def _turned(self) -> list[Message]:
        """Say that the two may be exchanged, where their names say so."""
        planned, achieved = self.names
        if is_planned(planned) or not is_planned(achieved):
            return []
        return [Message("planned by its name", label=Label(achieved))]

    def _base(self, row: GapRow) -> Message:
        planned, achieved = (one_line(readable(name), longest=_LONGEST) for name in self.names)
        arguments: dict[str, Any] = {
            "number": row.achieved,
            "achieved": achieved,
            "base": row.planned,
            "planned": planned,
        }
        if row.percent is None:
            return Message("of the plan", **arguments)
        marks = () if row.achieved == row.planned else (100.0,)
        return Message("of the plan, percent", percent=Percent(row.percent, marks), **arguments)


def is_planned(name: str) -> bool:
    """Whether a series is by its name what was to be: the base of percents."""
    return bool(_PLAN.search(name))


def gap_of(
    categories: Sequence[str], planned: Sequence[float], achieved: Sequence[float], names: tuple[str, str]
) -> Gap:
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
    column_names = {name for name, *_ in both}
    missing = tuple(name for name in categories if name not in column_names)
    labels = in_label_order({row.category for row in rows})
    places = {name: index for index, name in enumerate(labels)}
    return Gap(tuple(sorted(rows, key=lambda row: (-abs(row.difference), places[row.category]))), names, missing)


def _difference(achieved: float, planned: float) -> float:
    """Return the difference of two numbers as they are written; float noise is none."""
    if abs(achieved - planned) <= _NOISE * max(abs(achieved), abs(planned)):
        return 0.0
    return float(Fraction(repr(achieved)) - Fraction(repr(planned)))
