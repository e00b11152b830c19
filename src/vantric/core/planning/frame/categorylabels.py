"""The labels of the category axis: wrapped, slanted, vertical or thinned; beside a horizontal chart wrapped."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from vantric.core.numbers.arrays import Floats
from vantric.core.numbers.shown import one_line
from vantric.core.planning.lettering import Pen, Sizes, line_height, text_height
from vantric.core.planning.measure import ASCENT, DESCENT, broken, fitted, wrapped
from vantric.core.planning.plan import TextMark

_MOST_LINES = 4
_WIDE_SLOT = 88.0  # pixels of a 1280 x 800 picture
_MOST_HEIGHT = 0.3  # of the picture
_LONGEST = 120  # signs looked at; more never fit
_SLANT = 45.0


@dataclass(frozen=True)
class CategoryLabels:
    """How the labels are set, and the height they take."""

    lines: tuple[tuple[str, ...], ...]
    rotation: float
    stride: int
    height: float

    def marks(self, centers: Floats, top: float, size: float, pen: Pen) -> list[TextMark]:
        """Return the labels with their upper ends at height `top`."""
        if self.rotation:
            return self._turned(centers, top, size, pen)
        return [
            pen.line(line, x, top - ASCENT * size - row * line_height(size), size, "category", ha="center")
            for x, lines in zip(centers.tolist(), self.lines, strict=True)
            for row, line in enumerate(lines)
        ]

    def _turned(self, centers: Floats, top: float, size: float, pen: Pen) -> list[TextMark]:
        """Let each label end under its bar; its middle line points at the bar's center."""
        turn = math.radians(self.rotation)
        middle = (ASCENT - DESCENT) / 2 * size
        shift, drop = middle * math.sin(turn), ASCENT * size * math.cos(turn)
        return [
            pen.line(lines[0], x + shift, top - drop, size, "category", ha="right", rotation=self.rotation)
            for place, (x, lines) in enumerate(zip(centers.tolist(), self.lines, strict=True))
            if place % self.stride == 0 and lines and lines[0]
        ]


def set_labels(
    labels: Sequence[str], centers: Floats, slot: float, height: float, sizes: Sizes, pen: Pen
) -> CategoryLabels:
    """Choose how the labels of categories `slot` apart are set in a picture of the given height.

    Lines are broken at blanks while every word fits its slot, and in wide slots anyhow. Else labels are slanted, or
    vertical where slanted ones would touch, and cut short to three tenths of the height. Where even vertical ones would
    touch, every second, third ... is left out.
    """
    size = sizes.label
    room = _MOST_HEIGHT * height
    per_line = line_height(size)
    if slot >= 1.6 * per_line:
        plain = [one_line(label, longest=_LONGEST) for label in labels]
        lines = _wrapped_all(plain, slot - sizes.px(8), size, pen)
        if lines is None and slot >= sizes.px(_WIDE_SLOT):
            lines = tuple(broken(label, size, False, slot - sizes.px(8), _MOST_LINES, pen.measure) for label in plain)
        if lines is not None:
            rows = max(map(len, lines))
            return CategoryLabels(lines, 0.0, 1, (rows - 1) * per_line + text_height(size))
    slanted = slot * math.sin(math.radians(_SLANT)) >= text_height(size)
    rotation = _SLANT if slanted else 90.0
    stride = 1 if slanted else max(1, math.ceil((text_height(size) + 1) / slot))
    turned = tuple(
        (_turned_text(label, x, size, room, rotation, pen),) if place % stride == 0 else ()
        for place, (label, x) in enumerate(zip(labels, centers.tolist(), strict=True))
    )
    longest = max(pen.width(line[0], size) for line in turned if line)
    sin, cos = math.sin(math.radians(rotation)), math.cos(math.radians(rotation))
    return CategoryLabels(turned, rotation, stride, longest * sin + (ASCENT + DESCENT) * size * cos)


def _turned_text(label: str, x: float, size: float, room: float, rotation: float, pen: Pen) -> str:
    """Cut a label to what fits below the axis and, slanted, to the left of its bar."""
    turn = math.radians(rotation)
    longest = (room - ASCENT * size * math.cos(turn)) / math.sin(turn)
    if math.cos(turn) > 1e-9:
        longest = min(longest, (x - size) / math.cos(turn))
    return fitted(one_line(label, longest=_LONGEST), size, False, longest, pen.measure)


def _wrapped_all(labels: Sequence[str], room: float, size: float, pen: Pen) -> tuple[tuple[str, ...], ...] | None:
    every = []
    for label in labels:
        lines = wrapped(label, size, False, room, pen.measure)
        if lines is None or len(lines) > _MOST_LINES:
            return None
        every.append(lines)
    return tuple(every)


_MOST_WIDTH = 0.3  # of the picture, beside a horizontal chart


@dataclass(frozen=True)
class SideLabels:
    """How the labels beside a horizontal chart are set, and the width they take."""

    lines: tuple[tuple[str, ...], ...]
    stride: int
    width: float

    def marks(self, centers: Floats, right: float, size: float, pen: Pen) -> list[TextMark]:
        """Return the labels with their right ends at `right`, each about the middle of its bar."""
        step, marks = line_height(size), []
        for place, (y, lines) in enumerate(zip(centers.tolist(), self.lines, strict=True)):
            if place % self.stride:
                continue
            top = y + (len(lines) - 1) * step / 2
            marks += [
                pen.middle(line, right, top - row * step, size, "category", ha="right")
                for row, line in enumerate(lines)
                if line
            ]
        return marks


def set_side_labels(labels: Sequence[str], slot: float, width: float, sizes: Sizes, pen: Pen) -> SideLabels:
    """Choose how the labels beside a horizontal chart are set, `slot` apart in a picture of the given width.

    They are broken into as many lines as their bars are high, no wider than three tenths of the picture; where bars
    are lower than a line, every second, third ... is left out.
    """
    size = sizes.label
    room, per_line = _MOST_WIDTH * width, line_height(size)
    stride = max(1, math.ceil((text_height(size) + 1) / slot))
    most = max(1, min(_MOST_LINES, math.floor((slot - sizes.px(4) - text_height(size)) / per_line) + 1))
    lines = tuple(
        broken(one_line(label, longest=_LONGEST), size, False, room, most, pen.measure) if place % stride == 0 else ()
        for place, label in enumerate(labels)
    )
    widest = max(pen.width(line, size) for rows in lines for line in rows)
    return SideLabels(lines, stride, widest)
