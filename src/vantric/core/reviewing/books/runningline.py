"""Findings over the cumulative line of a chart of a workbook, and the bars under it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import accumulate, pairwise

from vantric.core.counting.labels.missingcodes import is_missing_code
from vantric.core.counting.labels.orderwords import own_order
from vantric.core.counting.labels.restwords import is_rest
from vantric.core.numbers.shown import digits_text, one_line
from vantric.core.reviewing.books.drawn import DrawnChart, DrawnSeries
from vantric.core.reviewing.finding import Finding, error, warning
from vantric.core.reviewing.headings import says_running

_ROUNDED = 0.006  # of the total: what rounding does to a running share
_MEETS = 0.005  # of the height
_JOINED = ("line", "area", "points")
_OF_CELLS = frozenset({"wrong-percent", "wrong-cumulative", "wrong-total", "total-as-category", "other-base"})


def is_running(one: DrawnSeries, bars: Sequence[DrawnSeries]) -> bool:
    """Whether a line is cumulative: by its name, or since it is the running share of the bars."""
    values = there(one.values)
    if one.kind not in _JOINED or len(values) < 2:
        return False
    if says_running(one.name):
        return True
    return any(_near(values, _shares(bar, whole)) for bar in bars for whole in (1.0, 100.0))


def there(values: Sequence[float | None]) -> list[float]:
    """Return the values that there are."""
    return [value for value in values if value is not None]


def _shares(bars: DrawnSeries, whole: float) -> list[float]:
    values = [value or 0.0 for value in bars.values]
    total = math.fsum(values)
    return [whole * part / total for part in accumulate(values)] if total > 0 and min(values) >= 0 else []


def _near(values: Sequence[float], wanted: Sequence[float]) -> bool:
    if not wanted or len(values) != len(wanted):
        return False
    return all(abs(a - b) <= _ROUNDED * wanted[-1] for a, b in zip(values, wanted, strict=True))


def review_running(chart: DrawnChart, bars: DrawnSeries, line: DrawnSeries, *, floats: bool) -> list[Finding]:
    """Return what is wrong with a cumulative line and the bars under it; `floats` if its height is to be looked at."""
    values, total = there(line.values), math.fsum(there(bars.values))
    if not values or total <= 0 or len(values) != len(bars.values):
        return []
    found = []
    counts = [total * part for part in _shares(bars, 1.0)]
    if not any(_near(values, wanted) for wanted in (_shares(bars, 1.0), _shares(bars, 100.0), counts)):
        found += _wrong(chart, bars, line, values)
    elif floats and line.secondary != bars.secondary:
        found += _floating(chart, line, total, values[-1])
    elif floats and not _near(values, counts):
        found.append(_on_counts(chart, line, total))
    rows = [(label, value) for label, value in zip(bars.categories, bars.values, strict=False) if value is not None]
    while rows and (is_rest(rows[-1][0]) or is_missing_code(rows[-1][0])):
        rows.pop()
    falls = all(before >= after for (_, before), (_, after) in pairwise(rows))
    if not falls and "not-sorted" not in chart.told and own_order([label for label, _ in rows]) != "yes":
        found.append(
            warning(
                "not-descending",
                message=f"{chart.place}: a cumulative line runs over bars that are not in descending order: a cutoff "
                "of it means nothing",
                fix="sort all columns of the table together by frequency, the rest last",
                where=chart.place,
            )
        )
    return found


def _wrong(chart: DrawnChart, bars: DrawnSeries, line: DrawnSeries, values: Sequence[float]) -> list[Finding]:
    if chart.told & _OF_CELLS:  # the cells are said to be wrong
        return []
    whole = 1.0 if max(values) <= 1.5 else 100.0
    wanted = _shares(bars, whole)
    if not wanted:
        return []
    both = enumerate(zip(values, wanted, strict=True))
    at = next((at for at, (a, b) in both if abs(a - b) > _ROUNDED * whole), None)
    if at is None:
        return []
    label = one_line(bars.categories[at], longest=40) if at < len(bars.categories) else f"bar {at + 1}"
    return [
        error(
            "wrong-cumulative",
            message=f"{chart.place}: the line says {100 * values[at] / whole:.1f} % at '{label}', and the bars add up "
            f"to {100 * wanted[at] / whole:.1f} % there",
            fix="add the frequencies up and divide each sum by the total",
            where=f"{chart.place}, series '{one_line(line.name, longest=40)}'",
        )
    ]


def _on_counts(chart: DrawnChart, line: DrawnSeries, total: float) -> Finding:
    """Return what there is to say of percents on the axis of the bars: 100 % is at a count of 100."""
    return warning(
        "several-units",
        message=f"{chart.place}: '{one_line(line.name, longest=40)}' is in percent and shares the axis of the bars: "
        f"its 100 % is at a count of 100, and the bars are {digits_text(total)} together",
        fix="put the line on a secondary axis from 0 to 100 %, and let the primary end at the total",
        where=f"{chart.place}, primary axis",
    )


def _floating(chart: DrawnChart, line: DrawnSeries, total: float, end: float) -> list[Finding]:
    """Tell a cumulative line whose 100 % is not as high as the total of its bars."""
    if chart.primary is None or chart.secondary is None:
        return []
    whole = 1.0 if end <= 1.5 else 100.0 if end <= 101 else total
    first, second = (chart.primary, chart.secondary)[:: 1 if line.secondary else -1]
    if first.log or second.log:
        return []
    if first.upper is not None and second.upper is not None and second.upper > (second.lower or 0.0):
        heights = [
            (value - (axis.lower or 0.0)) / (axis.upper - (axis.lower or 0.0))
            for value, axis in ((total, first), (whole, second))
            if axis.upper is not None
        ]
        if abs(heights[0] - heights[1]) <= _MEETS:
            return []
        what = f"the total, {digits_text(total)}, and 100 % are not one height"
    else:
        left = first.upper is None
        side = "primary" if left == line.secondary else "secondary"
        what = f"the {side} axis ends where the program chooses, and not at "
        what += f"the total, {digits_text(total)}" if left else "100 %"
    return [
        warning(
            "floating-line",
            message=f"{chart.place}: the cumulative line floats free of the bars: {what}",
            fix=f"set both axes: that of the bars from 0 to {digits_text(total)}, that of the line from 0 to 100 %",
            where=f"{chart.place}, both axes",
        )
    ]
