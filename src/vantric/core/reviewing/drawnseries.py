"""Findings over the marks of a chart: what is drawn of which series."""

from __future__ import annotations

import math
import re
from itertools import accumulate, pairwise
from typing import TYPE_CHECKING

import numpy as np

from vantric.core.numbers.calendarorder import calendar_keys
from vantric.core.numbers.shown import digits_text, one_line, quoted
from vantric.core.reviewing.finding import Finding, error, note, warning

if TYPE_CHECKING:
    from vantric.core.charting import Chart, Series
    from vantric.core.charting.barplaces import BarPlace

_MOST = 7  # distinct colors
_NUMBER = re.compile(r"[+-]?[\d.,]+")
_WORD = re.compile(r"cumulative|running|pareto|kumul|cumul", re.IGNORECASE)


def review_marks(chart: Chart) -> list[Finding]:
    """Return what is risky in the marks of a chart."""
    return [
        *_unordered_line(chart),
        *_unlike_stack(chart),
        *_many_series(chart),
        *_hidden_bars(chart),
        *_cumulative(chart),
        *_not_descending(chart),
    ]


def _is_cumulative(one: Series) -> bool:
    there = [value for value in one.values if not math.isnan(value)]
    rising = len(there) > 2 and all(after >= before for before, after in pairwise(there))
    return rising and (bool(_WORD.search(one.name)) or (one.unit == "%" and 99 < there[-1] < 101))


def _unordered_line(chart: Chart) -> list[Finding]:
    """Tell a line over categories that have no order: its slopes mean nothing."""
    if chart.period or len(chart.categories) < 3 or all(_NUMBER.fullmatch(label) for label in chart.categories):
        return []
    if chart.cuts or chart.total_text or calendar_keys(chart.categories) is not None:
        return []
    lines = [one.name for one in chart.series if one.kind in ("line", "steps") and not _is_cumulative(one)]
    if not lines:
        return []
    return [
        note(
            "unordered-line",
            message=f"{quoted(lines)} {'joins' if len(lines) == 1 else 'join'} categories that are neither numbers nor "
            "times",
            fix="draw points or bars, unless the categories have an order of their own",
            where="category axis",
        )
    ]


def _unlike_stack(chart: Chart) -> list[Finding]:
    stacks: dict[tuple[bool, str], set[str]] = {}
    for one in chart.bars:
        if one.stack or chart.mode_of(one.axis or "primary") in ("stacked", "percent"):
            stacks.setdefault((one.secondary, one.stack), set()).add(one.unit)
    unlike = [sorted(units) for units in stacks.values() if len(units) > 1]
    if not unlike:
        return []
    units = quoted([unit or "none" for unit in unlike[0]])
    return [
        error(
            "unlike-stack",
            message=f"bars of different units ({units}) are stacked: their sum has no meaning",
            fix="group them, or put one of them on the secondary axis",
            where="bars",
        )
    ]


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


def _cumulative(chart: Chart) -> list[Finding]:
    """Check a cumulative percent against the bars it should be the running sum of."""
    lines = [one for one in chart.series if one.kind == "line" and _is_cumulative(one) and 99 < one.values[-1] < 101]
    if len(chart.bars) != 1 or len(lines) != 1 or any(math.isnan(value) or value < 0 for value in chart.bars[0].values):
        return []
    values, line = chart.bars[0].values, lines[0]
    whole = math.fsum(values)
    wanted = [100 * running / whole for running in accumulate(values)] if whole else []
    wrong = [at for at, (said, right) in enumerate(zip(line.values, wanted, strict=False)) if abs(said - right) > 0.6]
    if wrong:
        at = wrong[0]
        name = one_line(chart.categories[at], longest=40)
        return [
            error(
                "wrong-cumulative",
                message=f"the line says {line.values[at]:.1f} % at '{name}', and the bars "
                f"add up to {wanted[at]:.1f} % there",
                fix="work the cumulative percents out of these bars, in their order",
                where=f"series '{one_line(line.name, longest=40)}'",
            )
        ]
    share = float(chart.scale_of(chart.bars[0]).fraction(whole)), float(chart.scale_of(line).fraction(100.0))
    if abs(share[0] - share[1]) <= 1e-6 or not chart.secondary_axis:
        return []
    return [
        warning(
            "floating-line",
            message="the cumulative line does not meet the bars: their total and 100 % are not one height",
            fix=f"take policy proportional with meet=({digits_text(whole).replace(',', '')}, 100), or "
            "vantric.pareto_chart",
            where="both axes",
        )
    ]


def _not_descending(chart: Chart) -> list[Finding]:
    claims = bool(chart.cuts) or any(_is_cumulative(one) and abs(one.values[-1] - 100) < 1 for one in chart.series)
    if not claims or len(chart.bars) != 1 or chart.total_text:
        return []
    values = [value for value in chart.bars[0].values if not math.isnan(value)]
    body = values[:-1] if chart.categories[-1].casefold() in ("other", "others", "rest") else values
    if all(before >= after for before, after in pairwise(body)):
        return []
    return [
        warning(
            "not-descending",
            message="a cumulative line runs over bars that are not in descending order: a cutoff of it means nothing",
            fix="sort the bars in descending order first, the rest last",
            where="category axis",
        )
    ]
