"""What stands around the marks: head, axes, grid, legend, note."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from vantric.core.axes import ScalePair
from vantric.core.charting.chart import Chart
from vantric.core.charting.lettering import Pen, Sizes, line_height, text_height
from vantric.core.charting.measure import ASCENT, DESCENT, fitted, wrapped
from vantric.core.charting.plan import Box, PathMark, Side, TextMark
from vantric.core.numbers.shown import number_text, one_line


@dataclass(frozen=True)
class Ticks:
    """The tick labels of both value axes."""

    primary: tuple[str, ...]
    secondary: tuple[str, ...]

    @classmethod
    def of(cls, chart: Chart, scales: ScalePair) -> Ticks:
        """Write the ticks of the scales."""
        unit = f" {chart.secondary_unit}" if chart.secondary_unit else ""
        return cls(
            tuple(number_text(tick, most_decimals=9) for tick in scales.primary.ticks),
            tuple(number_text(tick, most_decimals=9) + unit for tick in scales.secondary.ticks),
        )


def gutters(chart: Chart, ticks: Ticks, sizes: Sizes, pen: Pen) -> tuple[float, float]:
    """Return the widths that the left and the right axis take, title and margin included."""
    size = sizes.label
    left = max(pen.width(text, size) for text in ticks.primary)
    left = max(left, pen.width(chart.total_text, size, bold=True))
    right = max(pen.width(text, size) for text in ticks.secondary)
    if chart.cut:
        right = max(right, pen.width(chart.cut.level_text, size, bold=True))
    around = sizes.px(18 + 8 + 12) + text_height(sizes.axis_title)
    return left + around, right + around


def head(chart: Chart, width: float, top: float, left: float, sizes: Sizes, pen: Pen) -> tuple[list[TextMark], float]:
    """Return title and subtitle and the height at which they end."""
    texts: list[TextMark] = []
    for text, size, bold, role, most in (
        (chart.title, sizes.title, True, "title", 2),
        (chart.subtitle, sizes.subtitle, False, "subtitle", 2),
    ):
        for line in head_lines(text, size, bold, width, most, pen):
            texts.append(pen.line(line, left, top - ASCENT * size, size, role, bold=bold))
            top -= line_height(size)
        top -= sizes.px(3) if text else 0.0
    return texts, top


def head_lines(text: str, size: float, bold: bool, width: float, most: int, pen: Pen) -> list[str]:
    """Break a text into lines of the picture's width; what is beyond `most` lines is cut short."""
    plain = one_line(text, longest=400)
    lines = wrapped(plain, size, bold, width, pen.measure)
    if lines is None:
        return [fitted(plain, size, bold, width, pen.measure)]
    if len(lines) <= most:
        return list(lines)
    tail = " ".join(lines[most - 1 :])
    return [*lines[: most - 1], fitted(tail, size, bold, width, pen.measure)]


def axis_texts(
    chart: Chart, scales: ScalePair, ticks: Ticks, frame: Box, size: tuple[float, float], sizes: Sizes, pen: Pen
) -> list[TextMark]:
    """Return tick labels, the total's and the cut-off's marks, and the titles of the value axes."""
    texts = [
        *_tick_texts(chart, scales, ticks, frame, sizes, pen, primary=True),
        *_tick_texts(chart, scales, ticks, frame, sizes, pen, primary=False),
    ]
    middle = (frame.bottom + frame.top) / 2
    for text, x, rotation in (
        (chart.primary_title, sizes.px(18) + ASCENT * sizes.axis_title, 90.0),
        (chart.secondary_title, size[0] - sizes.px(18) - ASCENT * sizes.axis_title, 270.0),
    ):
        if text:
            shown = fitted(one_line(text), sizes.axis_title, False, frame.height, pen.measure)
            texts.append(pen.line(shown, x, middle, sizes.axis_title, "axis-title", ha="center", rotation=rotation))
    return texts


def _tick_texts(
    chart: Chart, scales: ScalePair, ticks: Ticks, frame: Box, sizes: Sizes, pen: Pen, *, primary: bool
) -> list[TextMark]:
    """Write one axis; a tick too near to the marked value gives way to it."""
    scale, texts = (scales.primary, ticks.primary) if primary else (scales.secondary, ticks.secondary)
    gap = sizes.px(9)
    x = frame.left - gap if primary else frame.right + gap
    ha: Side = "right" if primary else "left"
    value, text = marked(chart, primary=primary)
    special = []
    if text:
        y = frame.bottom + float(scale.fraction(value)) * frame.height
        special.append(pen.middle(text, x, y, sizes.label, "total" if primary else "cut-text", ha=ha, bold=True))
    heights = frame.bottom + scale.fraction(scale.ticks) * frame.height
    hidden = hidden_ticks(chart, scales, frame, sizes, primary=primary)
    return special + [
        pen.middle(text, x, y, sizes.label, "tick", ha=ha)
        for text, y, hide in zip(texts, heights.tolist(), hidden, strict=True)
        if not hide
    ]


def marked(chart: Chart, *, primary: bool) -> tuple[float, str]:
    """Return the value that is marked beside an axis and its text: the total, or the cut-off."""
    if primary:
        return chart.meet[0], chart.total_text
    return (chart.cut.value, chart.cut.level_text) if chart.cut else (0.0, "")


def hidden_ticks(chart: Chart, scales: ScalePair, frame: Box, sizes: Sizes, *, primary: bool) -> list[bool]:
    """Tell which ticks stand too near to the marked value for their labels."""
    scale = scales.primary if primary else scales.secondary
    value, text = marked(chart, primary=primary)
    if not text:
        return [False] * len(scale.ticks)
    away = np.abs(scale.fraction(scale.ticks) - scale.fraction(value)) * frame.height
    hidden: list[bool] = (away < text_height(sizes.label)).tolist()
    return hidden


def axis_rules(chart: Chart, scales: ScalePair, frame: Box, sizes: Sizes) -> list[PathMark]:
    """Return the grid of the percent axis, the three axis lines, their ticks and the total's."""
    rules = []
    right = frame.bottom + scales.secondary.fraction(scales.secondary.ticks) * frame.height
    left = frame.bottom + scales.primary.fraction(scales.primary.ticks) * frame.height
    tick = sizes.px(5)
    for y in right.tolist():
        if y > frame.bottom:
            rules.append(rule(frame.left, y, frame.right, y, "grid"))
        rules.append(rule(frame.right, y, frame.right + tick, y, "axis"))
    hidden = hidden_ticks(chart, scales, frame, sizes, primary=True)
    rules.extend(
        rule(frame.left - tick, y, frame.left, y, "axis")
        for y, hide in zip(left.tolist(), hidden, strict=True)
        if not hide
    )
    if chart.total_text:
        y = frame.bottom + float(scales.primary.fraction(chart.meet[0])) * frame.height
        rules.append(rule(frame.left - 1.4 * tick, y, frame.left, y, "total-tick"))
    rules.append(rule(frame.left, frame.bottom, frame.left, frame.top, "axis"))
    rules.append(rule(frame.right, frame.bottom, frame.right, frame.top, "axis"))
    rules.append(rule(frame.left, frame.bottom, frame.right, frame.bottom, "axis"))
    return rules


def rule(x0: float, y0: float, x1: float, y1: float, role: str) -> PathMark:
    """Return a straight line."""
    return PathMark(np.array([x0, x1]), np.array([y0, y1]), role)


def foot(chart: Chart, frame_left: float, frame_right: float, sizes: Sizes, pen: Pen) -> tuple[list[TextMark], float]:
    """Return the note and the category axis title, and the height above them."""
    texts: list[TextMark] = []
    y = sizes.px(14)
    if chart.note:
        note = fitted(one_line(chart.note, longest=400), sizes.note, False, frame_right - sizes.px(24), pen.measure)
        texts.append(pen.line(note, sizes.px(24), y + DESCENT * sizes.note, sizes.note, "note"))
        y += line_height(sizes.note) + sizes.px(2)
    if chart.category_title:
        size = sizes.axis_title
        title = fitted(one_line(chart.category_title), size, False, frame_right - frame_left, pen.measure)
        middle = (frame_left + frame_right) / 2
        texts.append(pen.line(title, middle, y + DESCENT * size, size, "axis-title", ha="center"))
        y += line_height(size) + sizes.px(4)
    return texts, y
