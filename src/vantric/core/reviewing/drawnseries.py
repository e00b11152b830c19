"""Findings over the marks of a chart: what is drawn of which series."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

import numpy as np

from vantric.core.counting.labels.orderwords import own_order
from vantric.core.numbers.shown import quoted
from vantric.core.reviewing.finding import Finding, error, note, warning
from vantric.core.reviewing.headings import says_rate
from vantric.core.reviewing.runningline import is_running, review_running
from vantric.core.reviewing.units import plain_unit

if TYPE_CHECKING:
    from vantric.core.charting import Bars, Chart, Series
    from vantric.core.charting.barplaces import BarPlace

_MOST = 7  # distinct colors
_WHOLE = 100.5  # percent, rounded ones added up


def review_marks(chart: Chart) -> list[Finding]:
    """Return what is risky in the marks of a chart."""
    return [
        *_unordered_line(chart),
        *_unlike_stack(chart),
        *_stacked_rates(chart),
        *_many_series(chart),
        *_hidden_bars(chart),
        *_hidden_area(chart),
        *review_running(chart),
    ]


def _unordered_line(chart: Chart) -> list[Finding]:
    """Tell a line over categories that have no order: its slopes mean nothing.

    Numbers, times, sizes and answers on a scale have one; of numbered names of nothing known it is a note.
    """
    if chart.period or len(chart.categories) < 3 or chart.cuts or chart.total_text:
        return []
    order = own_order(chart.categories)
    lines = [
        one.name
        for one in chart.series
        if one.kind in ("line", "steps")
        and not is_running(chart, one)
        and one.name not in chart.guides
        and len(set(one.values)) > 1  # a level line is a mark
    ]
    if not lines or order == "yes":
        return []
    make = note if order == "perhaps" else warning
    return [
        make(
            "unordered-line",
            message=f"{quoted(lines)} {'joins' if len(lines) == 1 else 'join'} categories that are neither numbers nor "
            "times",
            fix="draw points or bars, unless the categories have an order of their own",
            where="category axis",
        )
    ]


def _stacks(chart: Chart) -> list[list[Bars]]:
    """Return the series of bars that stand on each other."""
    found: dict[tuple[bool, str], list[Bars]] = {}
    for one in chart.bars:
        if one.stack or chart.mode_of(one.axis or "primary") in ("stacked", "percent"):
            found.setdefault((one.secondary, one.stack), []).append(one)
    return [bars for bars in found.values() if len(bars) > 1]


def _unlike_stack(chart: Chart) -> list[Finding]:
    unlike = [sorted(units) for bars in _stacks(chart) if len(units := {plain_unit(one.unit) for one in bars}) > 1]
    if not unlike:
        return []
    told = quoted([unit or "none" for unit in unlike[0]])
    return [
        error(
            "unlike-stack",
            message=f"bars of different units ({told}) are stacked: their sum has no meaning",
            fix="group them, or put one of them on the secondary axis",
            where="bars",
        )
    ]


def _stacked_rates(chart: Chart) -> list[Finding]:
    """Tell rates that are stacked though each has a base of its own: they pass 100 %, or are called rates."""
    for bars in _stacks(chart):
        if {one.unit for one in bars} != {"%"} or any(remark.code == "stacked-rates" for remark in chart.remarks):
            continue
        sums = [
            math.fsum(value for value in values if value > 0)
            for values in zip(*(one.values for one in bars), strict=True)
        ]
        if max(sums, default=0.0) > _WHOLE or all(says_rate(one.name) for one in bars):
            names = quoted([one.name for one in bars])
            return [
                warning(
                    "stacked-rates",
                    message=f"percents of different bases are stacked ({names}): their sum is no percent of anything",
                    fix="group them, or stack the counts",
                    where="bars",
                )
            ]
    return []


def _many_series(chart: Chart) -> list[Finding]:
    if len(chart.series) <= _MOST or not any(len(one.values) > 1 for one in chart.series):
        return []
    return [
        warning(
            "many-series",
            message=f"{len(chart.series)} series: beyond {_MOST} their colors come again",
            fix="draw the most important ones, or several charts side by side",
            where="series",
        )
    ]


def _hidden_bars(chart: Chart) -> list[Finding]:
    """Tell bars that are hidden behind others."""
    hidden = []
    placed = list(zip(chart.bars, chart.bar_places(), strict=True))
    for behind, place in placed:
        for one, front in placed:
            start, end = front.start, front.start + front.width
            covers = start <= place.start + 1e-9 and end >= place.start + place.width - 1e-9
            if front.front > place.front and covers and _taller(chart, (one, front), (behind, place)):
                hidden.append(behind.name)
                break
    if not hidden:
        return []
    return [
        warning(
            "hidden-bars",
            message=f"bars of {quoted(hidden)} are hidden behind others",
            fix="make the bars in front narrower (bar_width=, --bar-width), or group them",
            where="bars",
        )
    ]


def _taller(chart: Chart, front: tuple[Series, BarPlace], behind: tuple[Series, BarPlace]) -> bool:
    """Whether a bar in front is anywhere as high as the one behind."""
    ends = [np.nan_to_num(chart.scale_of(one).fraction(place.high), nan=0.0) for one, place in (front, behind)]
    return bool(np.any((ends[0] >= ends[1]) & (ends[1] > 0)))


def _hidden_area(chart: Chart) -> list[Finding]:
    """Tell areas that another one in front covers wherever both are drawn."""
    areas = [one for one in chart.series if one.kind == "area"]
    hidden = []
    for at, behind in enumerate(areas):
        for place, front in enumerate(areas):
            in_front = (front.layer, place) > (behind.layer, at)
            if place != at and in_front and _covers(chart, front, behind):
                hidden.append(behind.name)
                break
    if not hidden:
        return []
    return [
        warning(
            "hidden-area",
            message=f"{quoted(hidden)} {'is' if len(hidden) == 1 else 'are'} hidden behind another area",
            fix="draw the smaller area in front (layer=, or name it last), or draw lines",
            where="areas",
        )
    ]


def _covers(chart: Chart, front: Series, behind: Series) -> bool:
    heights = [chart.scale_of(one).fraction(one.values) for one in (front, behind)]
    both = np.isfinite(heights[0]) & np.isfinite(heights[1])
    return bool(both.any() and np.all(heights[0][both] >= heights[1][both]))
