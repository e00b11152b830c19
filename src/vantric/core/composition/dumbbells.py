"""From a comparison to its dumbbells: two joined points a category, and beside them the change with its interval."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from vantric.core.axes import ScalePair, Scaling, align, common
from vantric.core.charts.chart import Chart, PanelChart, TextColumn
from vantric.core.charts.references import worked_out
from vantric.core.charts.series import Points, composed
from vantric.core.charts.settings import DEFAULT_SIZE, ComparisonChartSettings
from vantric.core.composition.comparison import comparison_heads, side_texts, side_values
from vantric.core.counts.comparison import Comparison
from vantric.core.numbers.number_format import digits_text, distinct_lines, percent_text

if TYPE_CHECKING:
    from vantric.core.statistics.changes import CategoryChange, Changes

_PLAIN = ComparisonChartSettings()
_POINT = 11.0  # pixels across
_HEADROOM = 0.12  # for the number to the right of the farthest point
_FARTHEST = 20.0  # times: ratios and their intervals are drawn up to here, or to the farthest estimate
_SPARE = 1.08  # of a log axis, beyond what is on it


def dumbbell_chart(
    comparison: Comparison,
    look: ComparisonChartSettings = _PLAIN,
    *,
    description: str = "",
    changes: Changes | None = None,
) -> Chart | PanelChart:
    """Return two joined points a category in the order of before, and the changes with their intervals beside them.

    The rows of significant changes stand out. Where the changes are not known, there are the points alone.
    """
    heads = comparison_heads(comparison, look, beyond=None if changes is None else [c.category for c in changes.beyond])
    strong = _strong_rows(comparison, changes)
    values = replace(_values(comparison, look), strong_rows=strong)
    if changes is None:
        return replace(values, **heads, title_place=look.title_place, description=description)
    differences = replace(_differences(comparison, changes, look), strong_rows=strong)
    per = heads.pop("primary_title")
    return PanelChart(
        (replace(values, title=per, primary_title=""), differences),
        description=description,
        legend=False,
        title_place=look.title_place,
        theme=look.theme,
        font=look.font,
        language=look.language,
        size=look.size or DEFAULT_SIZE,
        **{name: text for name, text in heads.items() if name != "category_title"},
    )


def _strong_rows(comparison: Comparison, changes: Changes | None) -> tuple[int, ...]:
    beyond = {change.category for change in changes.beyond} if changes else set()
    return tuple(row for row, category in enumerate(comparison.categories) if category in beyond)


def _frame(comparison: Comparison, look: ComparisonChartSettings) -> dict[str, Any]:
    """Return what both charts have: their rows, across which they are read, and the look."""
    looks = {**look.looks(), "orientation": "horizontal", "legend": "none" if look.legend == "none" else "above"}
    return {"categories": tuple(distinct_lines(comparison.categories)), "secondary_axis": False, **looks}


def _values(comparison: Comparison, look: ComparisonChartSettings) -> Chart:
    """Return the chart of the two sides: before hollow, after filled, each pair joined."""
    rates = comparison.exposures is not None
    names, values = side_values(comparison)
    look.check_labels(names)
    look.check_colors(names)
    points = []
    for name, side, role in zip(names, values, ("before", "after"), strict=True):
        color = look.colors.get(name)
        points.append(
            composed(
                Points,
                name,
                tuple(side),
                side_texts(side, look, rates=rates) if look.labels_of(name) != "none" else (),
                role=f"{role}:{color}" if color else role,
                hollow=role == "before",
                marker="round",
                marker_size=_POINT,
                if_room=True,
            )
        )
    references = worked_out(look.references, points, look.average_text)
    highest = max([*(max(side) for side in values), *(item.ends[1] for item in references)]) or 1.0
    return Chart(
        series=tuple(points),
        scales=common(highest, headroom=_HEADROOM),
        references=references,
        primary_unit="" if rates else look.style.percent_unit,
        joined=True,
        **_frame(comparison, look),
    )


def _differences(comparison: Comparison, changes: Changes, look: ComparisonChartSettings) -> Chart:
    """Return the chart of the changes with their intervals, and the same as columns of text."""
    say, rows = look.formatter.say, changes.rows
    ratios = changes.measure == "rate_ratio"
    scales = _ratio_scales(rows) if ratios else _point_scales(rows)
    low, high = scales.primary.lower, scales.primary.upper
    estimates = tuple(
        math.nan if row.estimate is None or (ratios and row.estimate <= 0) else float(row.estimate) for row in rows
    )
    spreads = tuple((max(row.low, low), high if row.high is None else min(row.high, high)) for row in rows)
    name = say("ratio of rates" if ratios else "change in points")
    points = composed(
        Points,
        name,
        estimates,
        (),
        role="difference",
        marker="round",
        marker_size=0.8 * _POINT,
        spreads=spreads,
        spread_name=say("interval, short"),
    )
    return Chart(
        series=(points,),
        scales=scales,
        title=say("ratios of rates" if ratios else "changes in points"),
        columns=_columns(comparison, changes, look),
        **_frame(comparison, look),
    )


def _point_scales(rows: Sequence[CategoryChange]) -> ScalePair:
    ends = [end for row in rows for end in (row.low, row.high or 0.0, row.estimate or 0.0)]
    data = (min([0.0, *ends]), max([0.0, *ends]))
    if data == (0.0, 0.0):
        data = (-1.0, 1.0)
    return align(data, data, Scaling(policy="common"))


def _ratio_scales(rows: Sequence[CategoryChange]) -> ScalePair:
    """Return a log axis about one: it ends with the farthest interval, or 20 times away."""
    estimates = [row.estimate for row in rows if row.estimate]
    ends = [end for row in rows for end in (row.low, row.high) if end and 1 / _FARTHEST <= end <= _FARTHEST]
    low, high = min([0.5, *estimates, *ends]), max([2.0, *estimates, *ends])
    limits = (low / _SPARE, high * _SPARE)
    settings = Scaling(policy="common", primary_log=True, secondary_log=True, primary_limits=limits)
    return align((low, high), (low, high), replace(settings, secondary_limits=limits))


def _columns(comparison: Comparison, changes: Changes, look: ComparisonChartSettings) -> tuple[TextColumn, ...]:
    say, ratios = look.formatter.say, changes.measure == "rate_ratio"
    strong = set(_strong_rows(comparison, changes))
    roles = tuple("strong-value" if row in strong else "" for row in range(len(changes.rows)))
    written = _ratio_texts if ratios else _point_texts
    texts = [written(row, look) for row in changes.rows]
    return (
        TextColumn(
            say("ratio of rates" if ratios else "change in points"), tuple(text for text, _ in texts), roles=roles
        ),
        TextColumn(say("interval, short"), tuple(text for _, text in texts), "column-quiet", roles),
    )


def _point_texts(row: CategoryChange, look: ComparisonChartSettings) -> tuple[str, str]:
    """Return a change in percentage points with its sign, and its interval."""
    low, high = (_points(value, look) for value in (row.low, row.high or 0.0))
    return _points(row.estimate or 0.0, look), look.formatter.say("interval ends", low=low, high=high)


def _points(value: float, look: ComparisonChartSettings) -> str:
    sign = "+" if value > 0 else "\N{MINUS SIGN}" if value < 0 else ""
    return f"{sign}{look.style.signed(percent_text(abs(value)).removesuffix('%'))}"


def _ratio_texts(row: CategoryChange, look: ComparisonChartSettings) -> tuple[str, str]:
    """Return a ratio of rates, and its interval; a rate that was zero before has no ratio, and no end of it."""
    low = look.style.signed(_two_digits(row.low))
    if row.high is None:
        return "", look.formatter.say("interval from", low=low) if row.low else ""
    ratio, high = (look.style.signed(_two_digits(value)) for value in (row.estimate or 0.0, row.high))
    return ratio, look.formatter.say("interval ends", low=low, high=high)


def _two_digits(value: float) -> str:
    return f"{value:.2f}" if 0.005 <= value < 10 or not value else digits_text(value, digits=3)
