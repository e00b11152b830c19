"""From planned and actual to their chart: bars in front of each other, or joined points on a log axis."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from vantric.core.charts.chart import Chart, TextColumn
from vantric.core.charts.series import Bars, Points, Series, composed
from vantric.core.charts.settings import CombinationChartSettings
from vantric.core.composition.series_labels import value_texts
from vantric.core.counts.gap import Gap, GapRow
from vantric.core.messages.message import Percent
from vantric.core.numbers.number_format import headed, readable

_IN_FRONT = 0.55  # of the planned bar


def gap_series(gap: Gap, categories: Sequence[str], look: CombinationChartSettings, *, unit: str = "") -> list[Series]:
    """Return the planned bars, and narrower ones in front of them: those below the plan apart from the others.

    Each has the difference, and the percent with its base, as its label. On a log axis they are points: the length of
    a bar would mean nothing there.
    """
    rows = {row.category: row for row in gap.rows}
    planned, achieved = gap.names
    own = [rows.get(label) for label in categories]
    under = [row is not None and row.difference < 0 for row in own]
    # With no more decimals than tell them apart.
    sizes = value_texts([math.nan if row is None else abs(row.difference) for row in own], look.style)
    texts = ["" if row is None else _text(row, size, look) for row, size in zip(own, sizes, strict=True)]

    promised = [row.planned if row else math.nan for row in own]
    if look.primary_log:
        shape: Any = "diamond" if look.orientation == "vertical" else None
        points = composed(Points, planned, promised, "none", unit=unit, role="plan", marker=shape, marker_size=11)
        series: list[Series] = [points]
    else:
        series = [composed(Bars, planned, promised, "none", unit=unit, role="quiet")]
    for low, words, role in ((True, "below plan", "strong"), (False, "not below plan", "series-2")):
        here = [row is not None and is_low == low for row, is_low in zip(own, under, strict=True)]
        if not any(here):
            continue
        name = look.formatter.say(words, name=readable(achieved))
        values = [row.achieved if row and is_shown else math.nan for row, is_shown in zip(own, here, strict=True)]
        if look.primary_log:
            role = "point-strong" if low else role
            series.append(composed(Points, name, values, "none", unit=unit, role=role, marker="round", marker_size=11))
            continue
        labels = tuple(text if is_shown else "" for text, is_shown in zip(texts, here, strict=True))
        hatched = {"pattern": "hatched"} if low else {}
        series.append(
            composed(
                Bars, name, values, labels, unit=unit, role=role, bar_width=_IN_FRONT, label_place="beside", **hatched
            )
        )
    return series


def with_gap_rows(chart: Chart, gap: Gap, look: CombinationChartSettings) -> Chart:
    """Return the chart of planned and actual points with each pair joined, and with their numbers beside the rows."""
    if not look.primary_log or chart.bars:
        return chart
    rows = {row.category: row for row in gap.rows}
    own = [rows.get(label) for label in chart.categories]
    written = [look.style.amounts([getattr(row, name) for row in gap.rows]) for name in ("planned", "achieved")]
    texts = [dict(zip(rows, column, strict=True)) for column in written]
    roles = tuple(_gap_role(row) for row in own)
    percents = [
        look.style.whole_percent(row.percent, (100.0,)) if row and row.percent is not None else "" for row in own
    ]
    columns = (
        TextColumn(
            headed(readable(gap.names[0])), tuple(texts[0].get(label, "") for label in chart.categories), "column-quiet"
        ),
        TextColumn(
            headed(readable(gap.names[1])), tuple(texts[1].get(label, "") for label in chart.categories), "column-quiet"
        ),
        TextColumn(look.formatter.say("reached"), tuple(percents), roles=roles),
    )
    orientation = "horizontal" if chart.orientation == "auto" and not chart.period else chart.orientation
    return replace(chart, joined=True, columns=columns, orientation=orientation)


def _gap_role(row: GapRow | None) -> str:
    """Return the color of a percent that was reached: that of its point."""
    if row is None or not row.difference:
        return ""
    return "strong-value" if row.difference < 0 else "bar-value"


def _text(row: GapRow, size: str, look: CombinationChartSettings) -> str:
    """Return the difference of a size with its sign, and the percent with its base."""
    style = look.style
    size = min(style.amount(abs(row.difference)), size, key=len)
    signed = size if not row.difference else f"{'-' if row.difference < 0 else '+'}{size}"
    if row.percent is None:
        return signed
    marks = () if not row.difference else (100.0,)
    percent = look.formatter.say(
        "percent with base", percent=Percent(row.percent, marks), base=style.amount(row.planned)
    )
    return f"{signed}: {percent}"
