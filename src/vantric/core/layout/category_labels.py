"""The labels of calendar periods: short, the year (or the month of a day) once below; thinned at calendar places."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import pairwise

from vantric.core.layout.lettering_part import Pen, Sizes, line_height, text_height
from vantric.core.layout.plan import TextMark
from vantric.core.layout.text_layout import ASCENT
from vantric.core.numbers.arrays_part import Floats

_PARTS = re.compile(r"(\d{4})(?:-(\d{2})(?:-(\d{2}))?|-W(\d{2})|-Q(\d))?")
MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")


@dataclass(frozen=True)
class _Moment:
    """A period taken apart; what it has not is zero."""

    year: int
    month: int = 0
    day: int = 0
    week: int = 0
    quarter: int = 0


def _moment(label: str) -> _Moment:
    found = _PARTS.fullmatch(label)
    if not found:
        return _Moment(0)
    return _Moment(*(int(part or 0) for part in found.groups()))


@dataclass(frozen=True)
class PeriodLabels:
    """How the labels are set, and the height they take.

    Attributes
    ----------
    fine, coarse
        (number of the category, text) of what is in the upper and the lower row.
    height
        Of both rows.
    """

    fine: tuple[tuple[int, str], ...]
    coarse: tuple[tuple[int, str], ...]
    height: float
    size: float

    def marks(self, centers: Floats, top: float, pen: Pen) -> list[TextMark]:
        """Return the labels with their upper ends at height `top`."""
        size = self.size
        rows = ((self.fine, 0.0), (self.coarse, line_height(size)))
        return [
            pen.line(text, float(centers[at]), top - ASCENT * size - drop, size, "category", ha="center")
            for row, drop in rows
            for at, text in row
        ]


_Chosen = Callable[[_Moment], bool]
_Words = Callable[[_Moment], str]
#: Which periods are named, what they are called, and what is once below them.
_Level = tuple[_Chosen, _Words, _Words]


def _every(part: str, count: int) -> _Chosen:
    """Return what chooses every so many of a part that counts from 1."""
    return lambda moment: (getattr(moment, part) - 1) % count == 0


def _levels(period: str, months: Sequence[str]) -> list[_Level]:
    """Return how labels may be set, from the finest to the coarsest."""

    def year(moment: _Moment) -> str:
        return str(moment.year)

    def named(moment: _Moment) -> str:
        return months[moment.month - 1]

    def nothing(moment: _Moment) -> str:
        return ""

    def month_and_year(moment: _Moment) -> str:
        return f"{named(moment)} {moment.year}"

    def years(count: int, first: _Chosen) -> _Level:
        return (lambda moment: moment.year % count == 0 and first(moment)), year, nothing

    coarsest = [years(count, _starts_year) for count in (1, 2, 5, 10, 20, 50, 100)]
    if period == "year":
        return coarsest
    if period == "quarter":
        return [(_every("quarter", 1), lambda moment: f"Q{moment.quarter}", year), *coarsest]
    if period == "week":
        weeks = [(_every("week", count), (lambda moment: f"W{moment.week}"), year) for count in (1, 2, 4, 13, 26)]
        return [*weeks, *coarsest]
    by_month = [(_first_day(_every("month", count)), named, year) for count in (1, 3, 6)]
    if period == "month":
        return [*by_month, *coarsest]
    days = [(_not_last(_every("day", count), count), _day, month_and_year) for count in (1, 2, 7, 14)]
    return [*days, *by_month, *coarsest]


def _day(moment: _Moment) -> str:
    return str(moment.day)


def _first_day(chosen: _Chosen) -> _Chosen:
    return lambda moment: moment.day <= 1 and chosen(moment)


def _not_last(chosen: _Chosen, count: int) -> _Chosen:
    """Return what passes over the last days of a month, which are too near to the first of the next."""
    return lambda moment: chosen(moment) and (count == 1 or moment.day < 29)


def _starts_year(moment: _Moment) -> bool:
    return moment.month in (0, 1) and moment.day in (0, 1) and moment.week in (0, 1) and moment.quarter in (0, 1)


def set_period_labels(
    labels: Sequence[str], period: str, months: Sequence[str], slot: float, sizes: Sizes, pen: Pen
) -> PeriodLabels:
    """Choose the finest labels that are apart; what is once below them is left out where it would touch."""
    size, gap = sizes.label, sizes.px(9)
    moments = [_moment(label) for label in labels]
    fine: list[tuple[int, str]] = []
    coarse: list[tuple[int, str]] = []
    for chosen, name, below in _levels(period, months):
        shown = [at for at, moment in enumerate(moments) if chosen(moment)]
        fine = [(at, name(moments[at])) for at in shown]
        if len(fine) < min(2, len(labels)) or not _apart(fine, slot, size, gap, pen):
            continue
        coarse, last = [], ""
        for at in shown:
            text = below(moments[at])
            if text and text != last:
                stated = coarse and moments[coarse[-1][0]].year == moments[at].year
                coarse.append((at, text.removesuffix(f" {moments[at].year}") if stated else text))
            last = text
        break
    else:
        stride = max(1, math.ceil((pen.width(labels[0], size) + gap) / slot))
        fine, coarse = [(at, labels[at]) for at in range(0, len(labels), stride)], []
    coarse = _thinned(coarse, slot, size, gap, pen)
    rows = 2 if coarse else 1
    return PeriodLabels(tuple(fine), tuple(coarse), (rows - 1) * line_height(size) + text_height(size), size)


def _apart(row: Sequence[tuple[int, str]], slot: float, size: float, gap: float, pen: Pen) -> bool:
    widths = {text: pen.width(text, size) for _, text in row}
    return all(
        (after - at) * slot >= (widths[one] + widths[other]) / 2 + gap for (at, one), (after, other) in pairwise(row)
    )


def _thinned(row: Sequence[tuple[int, str]], slot: float, size: float, gap: float, pen: Pen) -> list[tuple[int, str]]:
    """Leave out what would touch the one after it: a year that ends as the axis begins."""
    kept: list[tuple[int, str]] = []
    for at, text in reversed(row):
        width = pen.width(text, size)
        if not kept or (kept[-1][0] - at) * slot >= (width + pen.width(kept[-1][1], size)) / 2 + gap:
            kept.append((at, text))
    return kept[::-1]


def side_period_labels(labels: Sequence[str], period: str, months: Sequence[str]) -> list[str]:
    """Return the labels beside a horizontal chart: the year, or the month of a day, where it changes."""
    found, last = [], None
    for label in labels:
        moment = _moment(label)
        head = (moment.year, moment.month if period == "day" else 0)
        year = "" if head == last else f" {moment.year}"
        if period == "month":
            text = f"{months[moment.month - 1]}{year}"
        elif period == "quarter":
            text = f"Q{moment.quarter}{year}"
        elif period == "week":
            text = f"W{moment.week}{year}"
        elif period == "day":
            text = str(moment.day) + (f" {months[moment.month - 1]} {moment.year}" if year else "")
        else:
            text = label
        found.append(text)
        last = head
    return found
