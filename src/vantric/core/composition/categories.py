"""The categories of a chart: text, numbers, dates or calendar periods, in order."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import replace
from datetime import date
from typing import Any, TypeVar

from vantric.base.lazily import dataclass
from vantric.core.charts.series import Series
from vantric.core.numbers.amounts import Number
from vantric.core.numbers.label_order import natural_key
from vantric.core.numbers.number_format import PLAIN_STYLE, NumberStyle, distinct_lines
from vantric.core.numbers.periods import PERIODS, every_period, parse_day, period_kind, period_label, period_start
from vantric.errors import ChartError

_Kind = TypeVar("_Kind", bound=Series)


@dataclass(frozen=True)
class Categories:
    """The categories as they are on their axis.

    Attributes
    ----------
    labels
        What they are called.
    period
        The calendar period that they are; empty if none.
    places
        Which of the given categories each is; None for a period that was not given.
    """

    labels: tuple[str, ...]
    period: str
    places: tuple[int | None, ...]

    def sorted(self, series: _Kind) -> _Kind:
        """Return a series in the order of the axis; where no category was given, its value is missing."""
        if self.places == tuple(range(len(series.values))):
            return series
        values = tuple(math.nan if place is None else series.values[place] for place in self.places)
        if not series.texts:
            return replace(series, values=values)
        return replace(
            series, values=values, labels=tuple("" if place is None else series.texts[place] for place in self.places)
        )


def read_categories(items: Iterable[Any], period: str | None = None, style: NumberStyle = PLAIN_STYLE) -> Categories:
    """Return categories in order: dates and periods by the calendar, none left out; numbers ascending; text as given.

    Parameters
    ----------
    items
        Text, numbers, dates, or periods as ISO 8601 writes them (``"2026-01"``, ``"2026-W02"``, ``"2026-Q1"``).
    period
        The calendar period of dates: ``"day"``, ``"week"``, ``"month"``, ``"quarter"`` or ``"year"``. If not given,
        the longest one that each date begins, or each ends; weeks where all are one weekday; else days.
    style
        How numbers are written.

    Raises
    ------
    ChartError
        For a category that is not a date though a period is given, or that appears twice.
    """
    values = [value.item() if hasattr(value, "item") and hasattr(value, "dtype") else value for value in items]
    if isinstance(items, str) or not values:
        raise ChartError("a chart needs at least one category; give a list of them")
    if period is not None and period not in PERIODS:
        raise ChartError(f"'{period}' is not a period; there are: {', '.join(PERIODS)}")
    if period is not None or all(isinstance(value, date) for value in values):
        return _periods(values, period)
    if all(isinstance(value, (int, float)) and not isinstance(value, bool) for value in values):
        return _numbers(values, style)
    texts = ["" if value is None else str(value) for value in values]
    kind = period_kind(texts)
    if kind == "day":
        return _periods(texts, None)
    if kind:
        return _filled([period_start(text) for text in texts], texts, kind)
    _refuse_twice(texts)
    return Categories(tuple(distinct_lines(texts)), "", tuple(range(len(texts))))


def _periods(values: Sequence[Any], period: str | None) -> Categories:
    days = []
    for number, value in enumerate(values, start=1):
        try:
            days.append(_day(value))
        except ValueError as reason:
            raise ChartError(f"category {number} {reason}") from None
    period = period or _period_of(days)
    return _filled(days, [period_label(day, period) for day in days], period)


def _period_of(days: Sequence[date]) -> str:
    """Return the period that dates stand for: the first days of months are months, else bars would be hairlines."""
    if len(set(days)) < len(days) or len(days) < 2:
        return "day"
    after = [date.fromordinal(min(day.toordinal() + 1, date.max.toordinal())) for day in days]
    for period in ("year", "quarter", "month"):
        for starts in (days, after):
            if all(period_start(period_label(day, period)) == day for day in starts):
                return period
    weekly = len(days) > 2 and len({day.weekday() for day in days}) == 1
    return "week" if weekly else "day"


def _day(value: Any) -> date:
    if isinstance(value, str):
        try:
            return period_start(value.strip())
        except ValueError:  # no date: it stays text
            pass
    return parse_day(value)


def _filled(days: Sequence[date], labels: Sequence[str], period: str) -> Categories:
    """Return every period from the first to the last."""
    _refuse_twice(labels)
    counts = {label: number for number, label in enumerate(labels)}
    try:
        every = every_period(min(days), max(days), period)
    except ValueError as reason:
        raise ChartError(str(reason)) from None
    return Categories(tuple(every), period, tuple(counts.get(label) for label in every))


def _numbers(values: Sequence[Number], style: NumberStyle) -> Categories:
    texts = style.amounts(values) if any(isinstance(value, float) for value in values) else [str(v) for v in values]
    _refuse_twice(texts)
    order = sorted(range(len(values)), key=lambda index: (float(values[index]), natural_key(texts[index])))
    return Categories(tuple(texts[index] for index in order), "", tuple(order))


def _refuse_twice(labels: Sequence[str]) -> None:
    if len(set(labels)) < len(labels):
        twice = next(label for place, label in enumerate(labels) if label in labels[:place])
        raise ChartError(f"the category '{twice}' is given twice; add its values up, or give them different names")
