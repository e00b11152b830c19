"""A picture of a native chart of a workbook, drawn from what its parts say: to be looked at, not to be shown."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import matplotlib as mpl
from tests.nativecharts import NativeChart, NativeSeries, native_charts


def draw(content: bytes, target: Path) -> None:
    """Draw the charts of a workbook below each other."""
    mpl.use("Agg")
    import matplotlib.pyplot as plt

    charts = native_charts(content)
    figure, places = plt.subplots(len(charts), 1, figsize=(12.8, 8.0 * len(charts)), squeeze=False)
    for chart, axes in zip(charts, places[:, 0], strict=True):
        _chart(chart, axes)
    figure.subplots_adjust(bottom=0.2 / len(charts), right=0.92, top=1 - 0.1 / len(charts))
    figure.savefig(target, dpi=100)
    plt.close(figure)


def _chart(chart: NativeChart, axes: Any) -> None:
    sides: dict[str, Any] = {}
    stacked = [0.0] * len(chart.series[0].values)
    bars = [one for one in chart.series if one.kind.startswith("bar")]
    beside = [one for one in bars if one.grouping == "clustered" and not one.name.startswith(("Vital", "Useful"))]
    for number, one in enumerate(chart.series):
        axis = chart.value_axis(one)
        if one.axes[1] not in sides:
            sides[one.axes[1]] = axes.twinx() if sides else axes
            sides[one.axes[1]].set(ylim=(axis["min"] or 0, chart.upper(one)), ylabel=axis["title"])
        listed = None if number in chart.unlisted else one.name
        values = [float("nan") if value is None else value for value in one.values]
        if one in bars:
            wide = 0.8 / max(1, len(beside))
            off = (beside.index(one) - (len(beside) - 1) / 2) * wide if one in beside else 0.0
            base = stacked if one.grouping == "stacked" else [0.0] * len(values)
            places = [at + off for at in range(len(values))]
            sides[one.axes[1]].bar(places, values, wide, bottom=base, color=one.color, label=listed)
            stacked = [low + value if value == value else low for low, value in zip(base, values, strict=True)]
        else:
            marker = "_" if "showSerName" in one.shows else "o" if one.labels else ""
            style = {"color": one.color or "black", "label": listed, "ls": "-" if one.line else "none"}
            sides[one.axes[1]].plot(range(len(values)), values, marker=marker, **style)
        _labels(one, sides[one.axes[1]])
    names = chart.series[0].categories
    axes.set_xticks(range(len(names)), names, rotation=45, ha="right")
    axes.set_title(chart.title)
    axes.figure.legend(loc="upper right")


def _labels(one: NativeSeries, side: Any) -> None:
    for at, value in enumerate(one.values):
        text = one.labels[at][1] if at in one.labels else one.name if "showSerName" in one.shows else ""
        if not text and "showVal" in one.shows and not one.labels and value:
            text = f"{value:,.6g}"
        if text and value is not None:
            right = "showSerName" in one.shows
            place, to = ((8, 0), "left") if right else ((0, 4), "center")
            side.annotate(text, (at, value), place, textcoords="offset points", ha=to, fontsize=8)
