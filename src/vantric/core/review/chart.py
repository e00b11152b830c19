"""Findings over a chart of series."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from itertools import pairwise
from typing import TYPE_CHECKING

import numpy as np

from vantric.core.charts.series import FROM_ZERO
from vantric.core.messages.message import Remark, Written
from vantric.core.numbers.number_format import digits_text, one_line, quoted
from vantric.core.review.drawn_series import marks_on_wrong_axis, review_marks, several_units
from vantric.core.review.finding import Finding, note, remarked, warning

if TYPE_CHECKING:
    from vantric.core.axes import Scale, ScalePair
    from vantric.core.charts import Chart
    from vantric.core.charts.series import Series


#: Kinds whose crossing looks like an event.
_JOINED = ("line", "steps", "area")
_LEAST = 0.1  # of the height
_PART, _SMALL_PART = 0.25, 0.1  # of its level that an axis shows
_APART = 0.01  # of the height between two zeros
_NEAR, _FEW = 0.06, 3  # of the height between two lines that seem one, over more than so many categories
SIDES = ("primary", "secondary")


def series_on(chart: Chart, side: str) -> list[Series]:
    """Return the series of one axis."""
    return [series for series in chart.series if series.secondary == (side == "secondary")]


def scale_on(chart: Chart, side: str) -> Scale:
    """Return the scale of one axis."""
    return chart.scales.primary if side == "primary" else chart.scales.secondary


def review_axes(chart: Chart) -> list[Finding]:
    """Return what is risky in the axes of a chart."""
    findings = []
    for side in SIDES if chart.secondary_axis else SIDES[:1]:
        findings += [*_without_zero(chart, side), *_log_bars(chart, side), *_flat(chart, side), *_untitled(chart, side)]
        findings += _stretched(chart, side)
    return [
        *findings,
        *_one_unit(chart),
        *_two_grids(chart),
        *_zeros_apart(chart),
        *_starts_above(chart),
        *_crossings(chart),
    ]


def _zeros_apart(chart: Chart) -> list[Finding]:
    """Report two zeros at two heights on the scales that are drawn: what is above the one is below the other."""
    pair = chart.scales
    if not chart.secondary_axis or "log" in (pair.primary.kind, pair.secondary.kind):
        return []
    zeros = [float(scale.fraction(0.0)) for scale in (pair.primary, pair.secondary)]
    if not all(0 <= zero <= 1 for zero in zeros) or abs(zeros[0] - zeros[1]) <= _APART:
        return []
    standing = [series for side in SIDES for series in series_on(chart, side) if series.kind in FROM_ZERO]
    what = "bars stand on two zeros" if len(standing) > 1 else "the two zeros of the axes are"
    harm = "their lengths do not compare" if len(standing) > 1 else "what is above one zero may be below the other"
    return [
        warning(
            "zeros-apart",
            message=f"{what} at different heights: {harm}",
            fix="take policy grid or proportional, which put zero and zero at one height",
            where="both axes",
        )
    ]


def _starts_above(chart: Chart) -> list[Finding]:
    """Report a secondary axis that does not show zero beside a primary axis that does."""
    primary, secondary = chart.scales.primary, chart.scales.secondary
    lines = [series for series in series_on(chart, "secondary") if series.kind not in FROM_ZERO]
    shows_zero = secondary.kind != "linear" or secondary.lower <= 0 <= secondary.upper
    if not chart.secondary_axis or shows_zero or not lines or not primary.lower <= 0 <= primary.upper:
        return []
    end = (
        Remark("starts at {}", Written(digits_text(secondary.lower)))
        if secondary.lower > 0
        else Remark("ends at {}", Written(digits_text(secondary.upper)))
    )
    return [
        note(
            "secondary-without-zero",
            message=Remark("the secondary axis {}: heights on it are differences, not amounts", end),
            fix="include zero (secondary_zero=True) if amounts are to be compared",
            where="secondary axis",
        )
    ]


def _stretched(chart: Chart, side: str) -> list[Finding]:
    """Tell an axis of lines that shows a small part of its level beside bars that show all of theirs.

    Limits that somebody fixed are a warning, those that the data made a note; degrees have no zero of their own.
    """
    scale, lines = scale_on(chart, side), series_on(chart, side)
    other = series_on(chart, "secondary" if side == "primary" else "primary")
    level: float = max(abs(scale.lower), abs(scale.upper))
    part = (scale.upper - scale.lower) / level if level else 1.0
    beside = any(series.kind in FROM_ZERO for series in other) and not any(line.kind in FROM_ZERO for line in lines)
    if not lines or not beside or scale.kind != "linear" or scale.lower <= 0 <= scale.upper or part >= _PART:
        return []
    fixed = chart.scales.fixed[SIDES.index(side)]
    if any("°" in line.unit or line.unit in ("K", "C", "F") for line in lines) or not (fixed or part < _SMALL_PART):
        return []
    make = warning if fixed else note
    ends = Remark("{} to {}", Written(digits_text(scale.lower)), Written(digits_text(scale.upper)))
    return [
        make(
            "stretched-axis",
            message=Remark(
                "the {} axis runs from {} only: {} {} to vary more than the bars, and varies by {} of its level",
                side,
                ends,
                quoted([line.name for line in lines]),
                "seems" if len(lines) == 1 else "seem",
                Written(f"{_spread(lines):.1f}%"),
            ),
            fix=f"include zero ({side}_zero=True, --{side}-zero), or say beside the chart what the axis shows",
            where=f"{side} axis",
        )
    ]


def _spread(lines: Sequence[Series]) -> float:
    values = np.abs(np.concatenate([np.asarray(line.values, dtype=np.float64) for line in lines]))
    highest = float(np.nanmax(values))
    return 100 * (highest - float(np.nanmin(values))) / highest if highest else 0.0


def _one_unit(chart: Chart) -> list[Finding]:
    """Tell series of one unit that are on two scales: equal heights are then unlike amounts."""
    pair = chart.scales
    if not chart.secondary_axis or _alike(pair.primary, pair.secondary):
        return []
    units = [{series.unit for series in series_on(chart, side) if series.unit} for side in SIDES]
    both = sorted(units[0] & units[1])
    if not both:
        return []
    return [
        warning(
            "one-unit-two-scales",
            message=f"series in {quoted(both)} are on two different scales: equal heights are not equal amounts",
            fix="take policy common, or leave the secondary axis out",
            where="both axes",
        )
    ]


def _alike(scale: Scale, other: Scale) -> bool:
    """Whether two scales have the same limits."""
    span = scale.upper - scale.lower
    near = max(abs(scale.lower - other.lower), abs(scale.upper - other.upper)) <= 1e-9 * span
    return scale.kind == other.kind and near


def _without_zero(chart: Chart, side: str) -> list[Finding]:
    scale = scale_on(chart, side)
    standing = [series for series in series_on(chart, side) if series.kind in FROM_ZERO]
    if not standing or scale.kind != "linear" or scale.lower <= 0 <= scale.upper:
        return []
    lower, kind = digits_text(scale.lower), standing[0].kind
    return [
        warning(
            "bars-without-zero",
            message=f"the {side} axis runs from {lower}, and {kind} start there: their lengths do not compare",
            fix="include zero, or draw a line or points",
            where=f"{side} axis",
        )
    ]


def _log_bars(chart: Chart, side: str) -> list[Finding]:
    standing = [series for series in series_on(chart, side) if series.kind in FROM_ZERO]
    if scale_on(chart, side).kind != "log" or not standing:
        return []
    return [
        note(
            "log-bars",
            message=f"{standing[0].kind} are on the log {side} axis: equal steps are equal ratios, not equal amounts",
            fix="say so beside the chart; twice as long is not twice as much",
            where=f"{side} axis",
        )
    ]


def _flat(chart: Chart, side: str) -> list[Finding]:
    """Tell series that use less than a tenth of the height."""
    scale = scale_on(chart, side)
    if scale.kind != "linear" or len(chart.categories) < 2 or chart.mode_of(side) in ("stacked", "percent"):
        return []
    flat = []
    for series in chart.series if scale == chart.scales.primary == chart.scales.secondary else series_on(chart, side):
        there = [value for value in series.values if not math.isnan(value)]
        if not there or (side == "secondary" and not series.secondary) or series.name in chart.guides:
            continue
        low, high = min(there), max(there)
        if series.kind in FROM_ZERO:
            low, high = min(low, 0.0), max(high, 0.0)
        else:
            low = min(low, max(0.0, scale.lower))
        if (high - low) / (scale.upper - scale.lower) < _LEAST and high != low and len(chart.series) > 1:
            flat.append(series.name)
    if not flat:
        return []
    return [
        warning(
            "flat-series",
            message=f"{quoted(flat)} {'uses' if len(flat) == 1 else 'use'} less than a tenth of the height of the "
            f"{side} axis",
            fix="put it on the secondary axis (secondary=), or into a chart of its own",
            where=f"{side} axis",
        )
    ]


def _untitled(chart: Chart, side: str) -> list[Finding]:
    title = chart.primary_title if side == "primary" else chart.secondary_title
    unit = chart.primary_unit if side == "primary" else chart.secondary_unit
    own = series_on(chart, side)
    if not own:
        return []
    percent = any(series.unit == "%" for series in own)
    if not title.strip():
        code, what = "untitled-axis", f"the {side} axis has no title"
        fix = f"name it: {side}_title=, --{side}-title"
    elif percent and not unit.strip() and "%" not in title and "percent" not in title.casefold():
        code, what = "percent-as-counts", f"the {side} axis shows percents and does not say so"
        fix = "give it the unit %, or say percent in its title"
    else:
        return []
    return [warning(code, message=what, fix=fix, where=f"{side} axis")]


def _two_grids(chart: Chart) -> list[Finding]:
    pair = chart.scales
    if not chart.secondary_axis or pair.shared_ticks or pair.policy != "separate" or chart.grid_side == "none":
        return []
    return [
        note(
            "two-grids",
            message=f"the ticks of the two axes do not meet; the grid is that of the {chart.grid_side} axis alone",
            fix="take policy grid, and one grid serves both",
            where="both axes",
        )
    ]


def _crossings(chart: Chart) -> list[Finding]:
    """Tell lines on different axes that cross or coincide: another scale would move them apart."""
    pair = chart.scales
    if not chart.secondary_axis or pair.primary == pair.secondary or pair.policy == "proportional":
        return []
    left = [item for item in series_on(chart, "primary") if item.kind in _JOINED]
    right = [item for item in series_on(chart, "secondary") if item.kind in _JOINED]
    for series in left:
        for other in right:
            heights = pair.primary.fraction(series.values) - pair.secondary.fraction(other.values)
            apart = [distance for distance in heights.tolist() if not math.isnan(distance)]
            names = f"“{one_line(series.name, longest=40)}” and “{one_line(other.name, longest=40)}”"
            if len(apart) > _FEW and max(map(abs, apart)) < _NEAR:
                return [_on_two_axes("coinciding-lines", f"{names} coincide", "the agreement", warning)]
            if any(a * b < 0 for a, b in pairwise(apart)):
                return [_on_two_axes("crossing-lines", f"{names} cross", "the crossing", note)]
    return []


def _on_two_axes(code: str, what: str, which: str, make: Callable[..., Finding]) -> Finding:
    return make(
        code,
        message=f"{what}, but on two axes: another scale would move {which}",
        fix=f"say that {which} means nothing, or draw one of them as bars",
        where="both axes",
    )


def review_scales(pair: ScalePair) -> list[Finding]:
    """Return what is risky in two scales: limits that cut data off."""
    return [
        warning(
            "clipped-data",
            message=f"the limits of the {name} side cut data off",
            fix="widen the limits, or state in the chart that values are outside them",
            where=f"{name} axis",
        )
        for name, clipped in zip(("primary", "secondary"), pair.clipped, strict=True)
        if clipped
    ]


def review_chart(chart: Chart) -> list[Finding]:
    """Return what is risky in a chart, and what was decided for the user."""
    findings = [remarked(remark, "chart") for remark in chart.remarks]
    clipped = review_scales(chart.scales)[: None if chart.secondary_axis else 1]
    units = [*several_units(chart), *marks_on_wrong_axis(chart)]
    return [*clipped, *review_axes(chart), *units, *review_marks(chart), *findings]
