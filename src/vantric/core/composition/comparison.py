"""From a comparison to its chart: dumbbells with the changes beside them, or paired bars with cumulative lines."""

from __future__ import annotations

import math
from collections.abc import Collection, Sequence
from dataclasses import replace
from itertools import accumulate
from typing import TYPE_CHECKING, Any

from vantric.core.axes import ScalePair, Scaling, align, common
from vantric.core.charts.chart import Chart, PanelChart, TextColumn
from vantric.core.charts.references import worked_out
from vantric.core.charts.series import Bars, Line, Points, composed
from vantric.core.charts.settings import DEFAULT_SIZE, ComparisonChartSettings, TableChartSettings
from vantric.core.composition.headlines import comparison_headline
from vantric.core.counts.comparison import Comparison
from vantric.core.messages.message import interval
from vantric.core.numbers.number_format import digits_text, distinct_lines, one_line, percent_text, readable, rounded
from vantric.errors import ChartError

if TYPE_CHECKING:
    from vantric.core.statistics.changes import CategoryChange, Changes

_PLAIN = TableChartSettings()
_DUMBBELLS = ComparisonChartSettings()
_POINT = 11.0  # pixels across
_HEADROOM = 0.12  # for the number to the right of the farthest point
_FARTHEST = 20.0  # times: ratios and their intervals are drawn up to here, or to the farthest estimate
_SPARE = 1.08  # of a log axis, beyond what is on it


def comparison_chart(
    comparison: Comparison,
    look: TableChartSettings = _PLAIN,
    *,
    description: str = "",
    beyond: Collection[str] | None = None,
) -> Chart:
    """Return the chart of a comparison.

    Bars are in pairs in the order of before, and both cumulative lines on the one scale of the bars. The categories
    that changed `beyond` chance stand out; None where that is not known.

    Raises
    ------
    ChartError
        If the points are to be at the edges of the bars: a pair has no edge of its own.
    """
    say, style, rates = look.formatter.say, look.style, comparison.exposures is not None
    names, sides = _side_values(comparison)
    running = say("cumulative rate") if rates else say("cumulative percent")
    tops = [float(table.total) if rates else 100.0 for table in (comparison.before, comparison.after)]
    look.check_labels(names)
    look.check_colors([*names, *(f"{running}, {name}" for name in names)])
    bars, lines = [], []
    for number, (name, values, top) in enumerate(zip(names, sides, tops, strict=True)):
        own = look.colors.get(name, "")
        standing_out = _standing_out(comparison, name, beyond, look) if number and not own else {}
        texts = _side_texts(values, look, rates=rates) if look.labels_of(name) != "none" else ()
        role, colors = ("quiet", "strong")[number], (own,) * len(values) if own else ()
        bars.append(composed(Bars, name, tuple(values), texts, role=role, colors=colors, **standing_out))
        lines.append(_running_line(f"{running}, {name}", ("line-2", "line")[number], values, top, look))
    references = worked_out(look.references, bars, look.average_text)
    return Chart(
        categories=tuple(distinct_lines(comparison.categories)),
        series=(*bars, *(lines if look.cumulative != "none" else ())),
        scales=common(max([_highest(look, tops, sides), *(item.ends[1] for item in references)])),
        references=references,
        primary_unit="" if rates else style.percent_unit,
        secondary_axis=False,
        description=description,
        **_heads(comparison, look, beyond),
        **look.looks(),
    )


def _heads(comparison: Comparison, look: TableChartSettings, beyond: Collection[str] | None) -> dict[str, Any]:
    """Return what is written around the chart of a comparison: its message, what is measured, where it comes from."""
    _ = look.moments(comparison.categories, None)
    if look.line_at == "edge":
        raise ChartError("in a comparison points are over the bars: remove line_at='edge'")
    origin, rates = comparison.before.origin, comparison.exposures is not None
    message = "" if look.neutral_title or look.title is not None else comparison_headline(comparison, beyond, look)
    plain = _title(comparison, readable(origin.by or ""), look)
    base, say = look.formatter.text(comparison.base()), look.formatter.say
    per = (
        say("with unit", name=say("rate"), unit=look.formatter.text(origin.unit_text())) if rates else say("own total")
    )
    return {
        "title": _own(look.title, message or plain),
        "subtitle": _own(look.subtitle, ". ".join(filter(None, (plain if message else "", base)))),
        "note": _note(comparison, look),
        "category_title": look.category_title or "",
        "primary_title": _own(look.primary_title, per),
    }


def _running_line(title: str, role: str, values: Sequence[float], top: float, look: TableChartSettings) -> Line:
    sums = [min(value, top) for value in accumulate(values)]
    color = look.colors.get(title)
    # The last point is the total itself: sums of rounded shares could end a hair below it.
    return composed(Line, title, (*sums[:-1], top), role=f"{role}:{color}" if color else role)


def _side_texts(values: Sequence[float], look: TableChartSettings, *, rates: bool) -> tuple[str, ...]:
    """Return what is written at the values of a side; nothing at zero."""
    style = look.style
    written = [style.signed(digits_text(rounded(value))) if rates else style.percents(value) for value in values]
    return tuple(label if value else "" for label, value in zip(written, values, strict=True))


def _side_values(comparison: Comparison) -> tuple[list[str], list[list[float]]]:
    """Return what the sides are called, and the rates of each, or the percents of its own total."""
    rates = comparison.exposures is not None
    names = distinct_lines([comparison.before_name, comparison.after_name])
    return names, [
        [float(row.before) if rates else row.before_percent for row in comparison.rows],
        [float(row.after) if rates else row.after_percent for row in comparison.rows],
    ]


def _standing_out(
    comparison: Comparison, name: str, beyond: Collection[str] | None, look: TableChartSettings
) -> dict[str, Any]:
    """Return which bars of after stand out, and how the legend says so."""
    if beyond is None:
        return {}
    return {
        "strong": tuple(index for index, category in enumerate(comparison.categories) if category in beyond),
        "strong_name": look.formatter.say("changed significantly", name=name),
        "quiet_name": look.formatter.say("no evidence of a change", name=name),
        "quiet_role": "pale-2",
    }


def _highest(look: TableChartSettings, tops: list[float], sides: list[list[float]]) -> float:
    """Return what the scale must reach: the totals, or without lines the tallest bar."""
    return max(tops) if look.cumulative != "none" else max(map(max, sides))


def _title(comparison: Comparison, subject: str, look: TableChartSettings) -> str:
    subject = look.noun or subject
    named = subject[:1].upper() + subject[1:] or look.formatter.say("frequency")
    before, after = one_line(comparison.before_name), one_line(comparison.after_name)
    return look.formatter.say("before and after", subject=named, before=before, after=after)


def _note(comparison: Comparison, look: TableChartSettings) -> str:
    if not isinstance(look.note, bool):
        return look.note
    if not look.note:
        return ""
    notes = [
        look.formatter.text(replace(table.origin, within=None).note())
        for table in (comparison.before, comparison.after)
    ]
    return "; ".join(dict.fromkeys(part for note in notes for part in note.split("; ") if part))


def _own(wished: str | None, plain: str) -> str:
    return plain if wished is None else wished


def dumbbell_chart(
    comparison: Comparison,
    look: ComparisonChartSettings = _DUMBBELLS,
    *,
    description: str = "",
    changes: Changes | None = None,
) -> Chart | PanelChart:
    """Return two joined points per category in the order of before, and the changes with their intervals beside them.

    The rows of significant changes stand out. Where the changes are not known, there are the points alone.
    """
    heads = _heads(comparison, look, beyond=None if changes is None else [c.category for c in changes.beyond])
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


def with_rows(
    chart: Chart | PanelChart, comparison: Comparison, look: ComparisonChartSettings, rows: int
) -> Chart | PanelChart:
    """Return the dumbbells of so many rows alone: those of significant changes, and the largest others."""
    panels = chart.panels if isinstance(chart, PanelChart) else (chart,)
    sides = _side_values(comparison)[1]
    largest = sorted(range(len(comparison.rows)), key=lambda row: -max(side[row] for side in sides))
    strong = panels[0].strong_rows
    places = tuple(sorted([*strong, *(row for row in largest if row not in strong)][:rows]))
    shorter = tuple(_with_rows(panel, places) for panel in panels)
    every = len(comparison.rows)
    left = look.formatter.say("note on left out rows", count=every - len(places), all=str(every))
    note = "; ".join(filter(None, (chart.note, left if look.note is True else "")))
    if isinstance(chart, PanelChart):
        return replace(chart, panels=shorter, note=note)
    return replace(shorter[0], note=note)


def _with_rows(chart: Chart, places: Sequence[int]) -> Chart:
    """Return a chart of some of its rows."""

    def of(values: Sequence[Any]) -> tuple[Any, ...]:
        return tuple(values[place] for place in places) if values else ()

    series = tuple(
        replace(item, values=of(item.values), labels=of(item.texts), spreads=of(item.spreads)) for item in chart.series
    )
    columns = tuple(replace(column, texts=of(column.texts), roles=of(column.roles)) for column in chart.columns)
    strong = tuple(number for number, place in enumerate(places) if place in chart.strong_rows)
    return replace(chart, categories=of(chart.categories), series=series, columns=columns, strong_rows=strong)


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
    names, values = _side_values(comparison)
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
                _side_texts(side, look, rates=rates) if look.labels_of(name) != "none" else (),
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
    change, low, high = (_points(value) for value in (row.estimate or 0.0, row.low, row.high or 0.0))
    return look.style.signed(change), look.formatter.text(interval(low, high))


def _points(value: float) -> str:
    """Return percentage points with their sign, as they are written before a language has its marks."""
    sign = "+" if value > 0 else "\N{MINUS SIGN}" if value < 0 else ""
    return f"{sign}{percent_text(abs(value)).removesuffix('%')}"


def _ratio_texts(row: CategoryChange, look: ComparisonChartSettings) -> tuple[str, str]:
    """Return a ratio of rates, and its interval; a rate that was zero before has no ratio, and no end of it."""
    ratio, low = (_two_digits(value) for value in (row.estimate or 0.0, row.low))
    if row.high is None:
        return "", look.formatter.say("interval from", low=look.style.signed(low)) if row.low else ""
    return look.style.signed(ratio), look.formatter.text(interval(low, _two_digits(row.high)))


def _two_digits(value: float) -> str:
    return f"{value:.2f}" if 0.005 <= value < 10 or not value else digits_text(value, digits=3)
