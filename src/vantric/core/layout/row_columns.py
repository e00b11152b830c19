"""What runs along the rows of a horizontal chart: columns of text beside them, washes of rows that stand out, joins."""

from __future__ import annotations

import numpy as np

from vantric.core.charts.chart import Chart, TextColumn
from vantric.core.layout.marks import front
from vantric.core.layout.plan import Box, PathMark, TextMark
from vantric.core.layout.text_layout import Sizes, TextWriter
from vantric.core.layout.titles import PlotArea

#: Pixels of a 1280 x 800 picture: between the frame and the first column, and between two columns.
_BEFORE, _APART = 18.0, 14.0
_MOST = 0.45  # of the picture: wider columns leave the marks no room, and are left out


def _widths(chart: Chart, sizes: Sizes, writer: TextWriter) -> list[float]:
    return [
        max(
            writer.width(column.title, sizes.tick, bold=True),
            *(writer.width(text, sizes.body, bold=is_bold(column, row)) for row, text in enumerate(column.texts)),
        )
        for column in chart.columns
    ]


def is_bold(column: TextColumn, row: int) -> bool:
    """Whether a text of a column is semibold: all but the quiet ones, and what stands out."""
    return text_role(column, row) != "column-quiet"


def text_role(column: TextColumn, row: int) -> str:
    """Return what one text of a column is in the theme."""
    return (column.roles[row] if column.roles else "") or column.role


def columns_width(chart: Chart, width: float, sizes: Sizes, writer: TextWriter) -> float:
    """Return the width of the columns of text with what parts them from the frame; zero where there is no room."""
    if not chart.columns:
        return 0.0
    widths = _widths(chart, sizes, writer)
    wanted = sum(widths) + sizes.px(_BEFORE + _APART * (len(widths) - 1))
    return wanted if wanted <= _MOST * width else 0.0


def column_texts(chart: Chart, width: float, field: PlotArea, sizes: Sizes, writer: TextWriter) -> list[TextMark]:
    """Return the texts of the columns, each to the right edge of its column, under its title."""
    if not columns_width(chart, width, sizes, writer):
        return []
    marks, centers = [], field.centers().tolist()
    edge = field.frame.right + sizes.px(_BEFORE)
    for column, wide in zip(chart.columns, _widths(chart, sizes, writer), strict=True):
        edge += wide
        above = field.frame.top + sizes.px(8)
        marks.append(writer.line(column.title, edge, above, sizes.tick, "column", ha="right", bold=True))
        for row, (y, text) in enumerate(zip(centers, column.texts, strict=True)):
            role, bold = text_role(column, row), is_bold(column, row)
            if text:
                marks.append(writer.middle(text, edge, y, sizes.body, role, ha="right", bold=bold))
        edge += sizes.px(_APART)
    return marks


def row_washes(chart: Chart, width: float, field: PlotArea) -> list[Box]:
    """Return what is behind the rows that stand out, across the whole picture."""
    half = field.slot / 2
    centers = field.centers()
    return [Box(0.0, float(centers[row]) - half, width, float(centers[row]) + half) for row in chart.strong_rows]


def joins(chart: Chart, field: PlotArea) -> list[PathMark]:
    """Return the line between the lowest and the highest point of each category."""
    if not chart.joined:
        return []
    marks, points = [], chart.marked
    shares = np.array([chart.scale_of(series).fraction(series.values) for series in points])
    for row in range(field.count):
        there = np.flatnonzero(np.isfinite(shares[:, row]))
        if len(there) < 2:
            continue
        role = "join-strong" if row in chart.strong_rows else "join"
        ends = shares[there, row]
        xs, ys = field.points(np.array([row + 0.5, row + 0.5]), np.array([ends.min(), ends.max()]))
        marks.append(PathMark(xs, ys, role, level=front(points[0], -1), category=row))
    return marks
