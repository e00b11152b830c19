"""Findings over the marks of a chart: what is drawn of which series, and in which units."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from itertools import accumulate, pairwise
from typing import TYPE_CHECKING

import numpy as np

from vantric.base.lazily import compiled
from vantric.core.counts.relabeling import is_missing_code, is_rest
from vantric.core.messages.message import Remark, Written
from vantric.core.numbers.label_order import own_order
from vantric.core.numbers.number_format import decimals_of, digits_text, one_line, quoted
from vantric.core.review.finding import Finding, error, note, says_percent, says_rate, says_running, warning

if TYPE_CHECKING:
    from vantric.core.charts import Chart
    from vantric.core.charts.bar_places import BarPlace
    from vantric.core.charts.series import Bars, Series

#: Spellings of one unit.
_SAME = {
    "percent": "%",
    "pct": "%",
    "per cent": "%",
    "pcs": "pieces",
    "pc": "pieces",
    "piece": "pieces",
    "hours": "h",
    "hour": "h",
    "hrs": "h",
    "hr": "h",
    "minutes": "min",
    "minute": "min",
    "mins": "min",
    "€": "eur",
    "euro": "eur",
    "euros": "eur",
    "$": "usd",
    "£": "gbp",
    "tonnes": "t",
    "tons": "t",
    "ton": "t",
    "days": "d",
    "day": "d",
    "records": "",
    "count": "",
}
#: Names of marks that are meant in percent.
_PERCENT_MARK = compiled(r"\d\s*%|\bpercent|\bcut.?off|\bpareto|80\s*/\s*20", re.IGNORECASE)
#: The usual cutoff, as a percent and as a share.
_USUAL = (80.0, 0.8)


def plain_unit(unit: str) -> str:
    """Return a unit in one of its spellings."""
    low = " ".join(unit.casefold().split()).strip(".")
    return _SAME.get(low, low)


def several_units(chart: Chart) -> list[Finding]:
    """Find series of different units on one axis: equal heights are then unlike things."""
    for side in ("primary", "secondary"):
        on = [
            series
            for series in chart.series
            if series.secondary == (side == "secondary") and series.name not in chart.guides
        ]
        units = {plain_unit(series.unit): series for series in on if plain_unit(series.unit)}
        stacked = chart.mode_of(side) in ("stacked", "percent")
        bars = {plain_unit(series.unit) for series in on if series.kind == "bars"}
        if len(units) < 2 or (stacked and len(bars) > 1):  # then the stack is what is wrong
            continue
        names = quoted([f"{one_line(unit.name, longest=30)} ({unit.unit})" for unit in units.values()])
        return [
            warning(
                "several-units",
                message=f"series of different units share the {side} axis: {names}",
                fix="put one of them on the other axis (secondary=), or into a chart of its own",
                where=f"{side} axis",
            )
        ]
    return []


def marks_on_wrong_axis(chart: Chart) -> list[Finding]:
    """Find a mark in percent on an axis that counts: 80% drawn at a count of 80, as a mark or as a level line."""
    marks = [
        (reference.level, reference.text, reference.axis == "secondary")
        for reference in chart.references
        if reference.upto is None
    ]
    marks += [
        (series.values[0], series.name, series.secondary)
        for series in chart.series
        if series.kind == "line" and len(series.values) > 1 and len(set(series.values)) == 1 and not series.unit
    ]
    findings = []
    for value, text, secondary in marks:
        own = [series for series in chart.series if series.secondary == secondary]
        unit = chart.secondary_unit if secondary else chart.primary_unit
        in_percent = unit == "%" or any(series.unit == "%" for series in own)
        elsewhere = any(series.unit == "%" for series in chart.series if series not in own)
        says = bool(_PERCENT_MARK.search(text)) or (not text.strip() and value in _USUAL)
        if not in_percent and elsewhere and says:
            findings.append(_on_wrong_axis(value, text, secondary=secondary))
    return findings


def _on_wrong_axis(value: float, text: str, *, secondary: bool) -> Finding:
    side, other = ("secondary", "primary") if secondary else ("primary", "secondary")
    shown_text = f" (“{one_line(text, longest=40)}”)" if text else ""
    return warning(
        "mark-on-wrong-axis",
        message=Remark(
            "the mark at {}{} is on the {} axis, which shows no percents: it cuts at a count of {}",
            Written(f"{value:g}"),
            shown_text,
            side,
            Written(f"{value:g}"),
        ),
        fix=f"draw it on the {other} axis: {value:g}@{other}",
        where=f"{side} axis",
    )


#: Fewer points show no course.
_FEWEST = 3
_ROUNDED = 0.6  # percentage points, of shares rounded and added up


def is_running(chart: Chart, series: Series) -> bool:
    """Whether a line is cumulative: its name says so, or it is the running share of the bars to rounding."""
    if series.kind not in ("line", "steps", "points"):
        return False
    return says_running(series.name) or (series.unit == "%" and _fits(series, _shares(chart, 100.0)))


def review_running(chart: Chart) -> list[Finding]:
    """Return what is wrong with a cumulative line and the bars under it."""
    lines = [series for series in chart.series if is_running(chart, series)]
    if len(lines) != 1 or not _countable(chart):
        return []
    line = lines[0]
    wrong = _wrong(chart, line)
    return [*wrong, *([] if wrong else _floating(chart, line)), *_not_descending(chart, line)]


def _countable(chart: Chart) -> bool:
    """Whether there are bars that can be added up: no negative one among them, and no value missing."""
    values = [value for bar in chart.bars for value in bar.values]
    return bool(values) and all(not math.isnan(value) and value >= 0 for value in values) and math.fsum(values) > 0


def _sums(chart: Chart) -> list[list[float]]:
    """Return the running sums that a line may follow: of each series of bars, and of all of one axis together."""
    columns = [list(bar.values) for bar in chart.bars if not bar.secondary]
    if len(columns) > 1:
        columns.append([math.fsum(values) for values in zip(*columns, strict=True)])
    return [list(accumulate(values)) for values in columns or [list(bar.values) for bar in chart.bars]]


def _shares(chart: Chart, whole: float) -> list[list[float]]:
    return [[whole * value / sums[-1] for value in sums] for sums in _sums(chart) if sums and sums[-1] > 0]


def _fits(series: Series, values: Sequence[Sequence[float]]) -> bool:
    there = [value for value in series.values if not math.isnan(value)]
    if len(there) < _FEWEST or len(there) < len(series.values):
        return False
    slack = max(0.5 * 10.0 ** -max(map(decimals_of, there)), 1e-9)
    slack = max(slack, _ROUNDED if len(there) > _FEWEST else slack)
    return any(
        all(abs(a - b) <= slack * max(1.0, abs(b) / 100) for a, b in zip(there, right, strict=True)) for right in values
    )


def _wrong(chart: Chart, line: Series) -> list[Finding]:
    """Check a line against the bars that it should add up, as percents, shares or frequencies."""
    if any(math.isnan(value) for value in line.values) or len(line.values) < 2:
        return []
    in_percent = line.unit == "%" or says_percent(line.name)
    if in_percent and _near(line, _shares(chart, 100.0)):
        return []
    for values, what, fix in (
        (_sums(chart), "frequencies", "divide each running sum by the total, or take the unit % away"),
        (_shares(chart, 1.0), "shares of 1", "multiply them by 100, or take the unit % away"),
    ):
        if _near(line, values):
            text = Remark(
                "the line is in percent and says {} at its end: it holds {}",
                Written(digits_text(line.values[-1])),
                what,
            )
            return [_finding(line, text, fix)] if in_percent else []
    if not in_percent and not _mostly(line, _sums(chart)):
        return []  # running sums of something else
    return _first_difference(chart, line)


def _mostly(line: Series, values: Sequence[Sequence[float]]) -> bool:
    """Whether half of a line or more is what the bars add up to, so that the rest is wrong."""
    return any(
        2 * sum(abs(a - b) <= _ROUNDED * abs(right[-1]) / 100 for a, b in zip(line.values, right, strict=True))
        >= len(right)
        for right in values
    )


def _near(line: Series, values: Sequence[Sequence[float]]) -> bool:
    return any(
        all(abs(a - b) <= _ROUNDED * max(abs(right[-1]), 1e-300) / 100 for a, b in zip(line.values, right, strict=True))
        for right in values
    )


def _first_difference(chart: Chart, line: Series) -> list[Finding]:
    in_percent = line.unit == "%" or says_percent(line.name)
    whole = 1.0 if in_percent and max(line.values) <= 1.5 and line.unit != "%" else 100.0
    sums = _shares(chart, whole) if in_percent else _sums(chart)
    rights = min(sums, key=lambda right: sum(abs(a - b) > _ROUNDED for a, b in zip(line.values, right, strict=True)))
    if in_percent and _of_more(line, rights):
        return []
    index = next(
        place
        for place, (number, right) in enumerate(zip(line.values, rights, strict=True))
        if abs(number - right) > _ROUNDED * rights[-1] / 100
    )
    name, times = one_line(chart.categories[index], longest=40), 100 / whole if in_percent else 1.0
    sign, digits = ("%", ".1f") if in_percent else ("", "g")
    value, right = times * line.values[index], times * rights[index]
    message = f"the line says {value:{digits}}{sign} at '{name}', and the bars add up to {right:{digits}}{sign} there"
    fix = "work the cumulative percents out of these bars, in their order" if in_percent else "add the bars up again"
    return [_finding(line, message, fix)]


def _of_more(line: Series, shares: Sequence[float]) -> bool:
    """Whether a line is the running sum in percent of something larger that it names: of the plan, of all units."""
    ratios = [value / right for value, right in zip(line.values, shares, strict=True) if right]
    even = bool(ratios) and max(ratios) - min(ratios) <= 0.02 * max(ratios)
    return even and max(ratios) < 1 and " of " in f" {line.name.casefold()} "


def _finding(line: Series, message: str, fix: str) -> Finding:
    return error("wrong-cumulative", message=message, fix=fix, where=f"series '{one_line(line.name, longest=40)}'")


def _floating(chart: Chart, line: Series) -> list[Finding]:
    if len(chart.bars) != 1 or not chart.secondary_axis or line.unit != "%" or not line.secondary:
        return []
    if chart.period or own_order(chart.categories) == "yes" or not _near(line, _shares(chart, 100.0)):
        return []  # a curve of progress by month
    whole = math.fsum(chart.bars[0].values)
    share = float(chart.scale_of(chart.bars[0]).fraction(whole)), float(chart.scale_of(line).fraction(100.0))
    if abs(share[0] - share[1]) <= 1e-6:
        return []
    return [
        warning(
            "floating-line",
            message="the cumulative line does not meet the bars: their total and 100% are not one height",
            fix=f"take policy proportional with meet=({digits_text(whole).replace(',', '')}, 100), or "
            "vantric.pareto_chart",
            where="both axes",
        )
    ]


def _not_descending(chart: Chart, line: Series) -> list[Finding]:
    """Tell bars that are not sorted under a cumulative line; those of an order of their own, such as months, may."""
    if len(chart.bars) != 1 or chart.total_text or chart.period:
        return []
    rows = list(zip(chart.categories, chart.bars[0].values, strict=True))
    while rows and (is_rest(rows[-1][0]) or is_missing_code(rows[-1][0])):
        rows.pop()
    order = own_order([label for label, _ in rows])
    if order == "yes" or all(before >= after for (_, before), (_, after) in pairwise(rows)):
        return []
    return [
        warning(
            "not-descending",
            message="a cumulative line runs over bars that are not in descending order: the cutoff is meaningless",
            fix="sort the bars in descending order first, the rest last",
            where="category axis",
        )
    ]


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
        series.name
        for series in chart.series
        if series.kind in ("line", "steps")
        and not is_running(chart, series)
        and series.name not in chart.guides
        and len(set(series.values)) > 1  # a level line is a mark
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
    values: dict[tuple[bool, str], list[Bars]] = {}
    for bar in chart.bars:
        if bar.stack or chart.mode_of(bar.axis or "primary") in ("stacked", "percent"):
            values.setdefault((bar.secondary, bar.stack), []).append(bar)
    return [bars for bars in values.values() if len(bars) > 1]


def _unlike_stack(chart: Chart) -> list[Finding]:
    unlike = [sorted(units) for bars in _stacks(chart) if len(units := {plain_unit(bar.unit) for bar in bars}) > 1]
    if not unlike:
        return []
    text = quoted([unit or "none" for unit in unlike[0]])
    return [
        error(
            "unlike-stack",
            message=f"bars of different units ({text}) are stacked: their sum has no meaning",
            fix="group them, or put one of them on the secondary axis",
            where="bars",
        )
    ]


def _stacked_rates(chart: Chart) -> list[Finding]:
    """Tell rates that are stacked though each has a base of its own: they pass 100%, or are called rates."""
    for bars in _stacks(chart):
        if {bar.unit for bar in bars} != {"%"} or any(remark.code == "stacked-rates" for remark in chart.remarks):
            continue
        sums = [
            math.fsum(value for value in values if value > 0)
            for values in zip(*(bar.values for bar in bars), strict=True)
        ]
        if max(sums, default=0.0) > _WHOLE or all(says_rate(bar.name) for bar in bars):
            names = quoted([bar.name for bar in bars])
            return [
                warning(
                    "stacked-rates",
                    message=f"percents of different bases are stacked ({names}): their sum is not a meaningful percent",
                    fix="group them, or stack the counts",
                    where="bars",
                )
            ]
    return []


def _many_series(chart: Chart) -> list[Finding]:
    if len(chart.series) <= _MOST or not any(len(series.values) > 1 for series in chart.series):
        return []
    return [
        warning(
            "many-series",
            message=f"{len(chart.series)} series: beyond {_MOST} their colors repeat",
            fix="draw the most important ones, or several charts side by side",
            where="series",
        )
    ]


def _hidden_bars(chart: Chart) -> list[Finding]:
    """Tell bars that are hidden behind others."""
    hidden = []
    placed = list(zip(chart.bars, chart.bar_places(), strict=True))
    for behind, place in placed:
        for bars, front in placed:
            start, end = front.start, front.start + front.width
            covers = start <= place.start + 1e-9 and end >= place.start + place.width - 1e-9
            if front.front > place.front and covers and _taller(chart, (bars, front), (behind, place)):
                hidden.append(behind.name)
                break
    if not hidden:
        return []
    return [
        warning(
            "hidden-bars",
            message=f"bars of {quoted(hidden)} are hidden behind others",
            fix="make the bars in front narrower (bar_width=), or group them",
            where="bars",
        )
    ]


def _taller(chart: Chart, front: tuple[Series, BarPlace], behind: tuple[Series, BarPlace]) -> bool:
    """Whether a bar in front is anywhere as high as the one behind."""
    ends = [np.nan_to_num(chart.scale_of(series).fraction(place.high), nan=0.0) for series, place in (front, behind)]
    return bool(np.any((ends[0] >= ends[1]) & (ends[1] > 0)))


def _hidden_area(chart: Chart) -> list[Finding]:
    """Tell areas that another one in front covers wherever both are drawn."""
    areas = [series for series in chart.series if series.kind == "area"]
    hidden = []
    for index, behind in enumerate(areas):
        for place, front in enumerate(areas):
            in_front = (front.layer, place) > (behind.layer, index)
            if place != index and in_front and _covers(chart, front, behind):
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
    heights = [chart.scale_of(series).fraction(series.values) for series in (front, behind)]
    both = np.isfinite(heights[0]) & np.isfinite(heights[1])
    return bool(both.any() and np.all(heights[0][both] >= heights[1][both]))
