"""From trends to small lines: a panel a category, with its center line, control limits, signals and marked dates."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Any

from vantric.core.axes import common
from vantric.core.charts.chart import Chart, PanelChart
from vantric.core.charts.references import DateMark, date_place, worked_out
from vantric.core.charts.series import Line, Pattern, Points, Series, Steps, composed
from vantric.core.charts.settings import DEFAULT_SIZE, TrendChartSettings
from vantric.core.composition.headlines import trend_headline
from vantric.core.counts.provenance import named_unit
from vantric.core.messages.message import Joined, Message, Written
from vantric.core.numbers.number_format import headed, one_line, readable, rounded
from vantric.core.statistics import CategoryTrend, Trend
from vantric.errors import ChartError

_PLAIN = TrendChartSettings()
#: Of the control limits: all but 0.00135 at each end.
_LEVEL = Written("99.73%")
#: Events on a small panel are lettered; the note says what each letter means.
_FEW_EVENTS = 1  # on small panels, which are named there
_LETTERS = "abcdefghijklmnopqrstuvwxyz"


def trend_panels(trend: Trend, look: TrendChartSettings = _PLAIN, *, description: str = "") -> PanelChart:
    """Return a panel a category: its values over the periods, and what chance alone would do.

    Raises
    ------
    ChartError
        If a marked date is not within the periods, or there are too many.
    """
    say = look.formatter.say
    value = say("rate") if trend.measure == "rate" else say("percent" if trend.measure == "percent" else "frequency")
    some_signal = any(row.chart.signals for row in trend.rows)
    some_partial = any(not point.whole for row in trend.rows for point in row.chart.points)
    names = [value, say("center line"), say("upper limit"), say("lower limit"), say("signal"), say("partial")]
    look.check_colors(names)
    moments, legend = _moments(trend, look)
    unit = look.formatter.text(named_unit(trend.unit))
    panels = []
    for row in trend.rows:
        series = _series(row, look, value, signal=some_signal, partial=some_partial)
        lines = [item for item in series if item.kind == "line"]
        references = worked_out(look.references, lines, look.average_text)
        chart = Chart(
            categories=trend.periods,
            series=series,
            scales=common(max([_highest(row), *(high for item in references for high in item.ends)])),
            references=references,
            title=one_line(row.category),
            subtitle=_mean(row, trend, look),
            primary_title="",
            primary_unit=look.style.percent_unit if trend.measure == "percent" else "",
            secondary_axis=False,
            period=trend.period,
            months=tuple(say("months").split()),
            moments=moments,
            guides=tuple(names[1:]),
            ribbon=_ribbon(row),
            **{**look.frame_settings(), "legend": "none"},
        )
        panels.append(chart)
    message = "" if look.neutral_title or look.title is not None else trend_headline(trend, look)
    plain = headed(say("trend", subject=look.noun or readable(trend.by)))
    measured = "" if trend.measure == "percent" else look.formatter.titled(value, unit)
    subtitle = ": ".join(filter(None, (plain if message else "", measured, look.formatter.text(trend.tally.base()))))
    return PanelChart(
        tuple(_titled(panel, look) for panel in panels),
        title=(message or plain) if look.title is None else look.title,
        subtitle=subtitle if look.subtitle is None else look.subtitle,
        note=_note(trend, look, legend),
        description=Joined((description, Message("marked dates", dates=legend) if legend else "")),
        legend=look.legend != "none",
        title_place=look.title_place,
        theme=look.theme,
        font=look.font,
        language=look.language,
        size=look.size or DEFAULT_SIZE,
    )


def _titled(chart: Chart, look: TrendChartSettings) -> Chart:
    primary = chart.primary_title if look.primary_title is None else look.primary_title
    return replace(chart, primary_title=primary, category_title=look.category_title or "")


def _series(
    row: CategoryTrend, look: TrendChartSettings, value: str, *, signal: bool, partial: bool
) -> tuple[Series, ...]:
    """Return the line of values, the center line, the limits, and the points that stand out."""
    say, chart = look.formatter.say, row.chart

    def numbers(of: Callable[[int], float | None]) -> tuple[float, ...]:
        return tuple(math.nan if (value := of(index)) is None else value for index in range(len(chart.points)))

    def colored(name: str, role: str) -> str:
        color = look.colors.get(name)
        return f"{role}:{color}" if color else role

    def steps(name: str, of: Callable[[int], float | None], role: str, pattern: Pattern, band: str = "") -> Steps:
        looks: dict[str, Any] = {"role": colored(name, role), "line_width": 1.0, "pattern": pattern}
        return composed(Steps, name, numbers(of), (), spread_name=band, **looks)

    points = chart.points
    values = numbers(lambda index: points[index].value)
    series: list[Series] = [
        steps(say("upper limit"), lambda index: points[index].upper, "band-edge", "solid", say("control limits")),
        steps(say("lower limit"), lambda index: points[index].lower, "band-edge", "dotted"),
        steps(say("center line"), lambda index: chart.center if points[index].whole else None, "center", "solid"),
        composed(Line, value, values, _last_text(values, row, look), role=colored(value, "line"), if_room=True),
    ]
    if signal:
        here = numbers(lambda index: points[index].value if points[index].signals else None)
        series.append(composed(Points, say("signal"), here, (), role=colored(say("signal"), "mark-1")))
    if partial:
        here = numbers(lambda index: None if points[index].whole else points[index].value)
        series.append(composed(Points, say("partial"), here, (), role=colored(say("partial"), "mark-2")))
    return tuple(series)


def _mean(row: CategoryTrend, trend: Trend, look: TrendChartSettings) -> str:
    """Return the center of a panel in words: the mean of all periods, or else of some; nothing where it has none."""
    center, style, say = row.chart.center, look.style, look.formatter.say
    if center is None:
        return ""
    value = style.percents(center) if trend.measure == "percent" else style.amount(rounded(center))
    some_only = bool(row.chart.left_out or trend.baseline)
    return f"{say('center line')}: {value}" if some_only else say("mean value", value=value)


def _last_text(values: Sequence[float], row: CategoryTrend, look: TrendChartSettings) -> tuple[str, ...]:
    """Return the label of the last whole period; nothing at the others."""
    whole = [place for place, point in enumerate(row.chart.points) if point.whole and point.value is not None]
    last = whole[-1] if whole else -1
    return tuple(_two_digits(value, look) if place == last else "" for place, value in enumerate(values))


def _two_digits(value: float, look: TrendChartSettings) -> str:
    """Return a value in two digits at least, its whole part whole: ``"2.0"``, ``"43"``."""
    decimals = max(0, 1 - math.floor(math.log10(abs(value)))) if value else 0
    return look.style.signed(f"{round(value, decimals):,.{decimals}f}")


def _ribbon(row: CategoryTrend) -> tuple[tuple[float, float], ...]:
    """Return the control limits of each period, between which the panel is shaded; NaN where there are none."""
    return tuple(
        (math.nan, math.nan) if point.upper is None else (point.lower or 0.0, point.upper) for point in row.chart.points
    )


def _highest(row: CategoryTrend) -> float:
    ends = [value for point in row.chart.points for value in (point.value, point.upper) if value is not None]
    return max(ends, default=1.0) or 1.0


def _moments(trend: Trend, look: TrendChartSettings) -> tuple[tuple[DateMark, ...], str]:
    """Return where marked dates are, each with a letter, and the letters with what they stand for."""
    marks = sorted(look.marks, key=lambda mark: mark.date)
    if len(marks) > len(_LETTERS):
        raise ChartError(f"{len(marks)} marked dates are too many; mark at most {len(_LETTERS)}")
    places = [date_place(mark.date, trend.periods, trend.period) for mark in marks]
    if len(trend.rows) == 1 or len(marks) <= _FEW_EVENTS:  # there is room for the words themselves
        texts = [one_line(mark.text) or look.tongue.day(mark.date.isoformat()) for mark in marks]
        return tuple(map(DateMark, places, texts)), ""
    moments = list(map(DateMark, places, _LETTERS))
    words = "; ".join(
        f"{letter}: {' '.join(filter(None, (look.tongue.day(mark.date.isoformat()), one_line(mark.text))))}"
        for mark, letter in zip(marks, _LETTERS, strict=False)
    )
    return tuple(moments), words


def _note(trend: Trend, look: TrendChartSettings, legend: str) -> str:
    if not isinstance(look.note, bool):
        return look.note
    if not look.note:
        return ""
    kinds = {row.chart.kind for row in trend.rows if row.chart.center is not None}
    say = look.formatter.say
    named = look.formatter.listed([say("control chart", kind=kind) for kind in sorted(kinds)])
    widened = any(row.chart.widening > 1 for row in trend.rows)
    limits = say("widened" if widened else "limits", charts=named, level=_LEVEL) if kinds else ""
    return "; ".join(filter(None, (look.formatter.text(trend.tally.origin.note()), limits, legend)))
