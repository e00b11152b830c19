"""The field between the axes, and what stands around it: heads, notes, titles, straight lines."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from vantric.base.lazily import dataclass
from vantric.core.charts.chart import Chart
from vantric.core.layout.plan import Box, PathMark, Side, TextMark
from vantric.core.layout.text_layout import ASCENT, DESCENT, Sizes, TextWriter, fitted, line_height, wrapped
from vantric.core.numbers.number_format import text_line

if TYPE_CHECKING:
    from vantric.core.numbers.amounts import Floats


def head(
    chart: Chart, width: float, top: float, left: float, sizes: Sizes, writer: TextWriter
) -> tuple[list[TextMark], float]:
    """Return title and subtitle and the height at which they end."""
    texts: list[TextMark] = []
    beside = _beside_title(chart, width, left, top, sizes, writer)
    if beside is not None:
        return beside
    for text, size, bold, role, most in (
        (chart.title, sizes.title, True, "title", 2),
        (chart.subtitle, sizes.subtitle, False, "subtitle", 2),
    ):
        for line in balanced(head_lines(text, size, bold, width, most, writer), size, bold, writer):
            centerd = chart.title_place == "center"
            x, ha = (left + width / 2 if centerd else left), _aligned(centerd)
            texts.append(writer.line(line, x, top - ASCENT * size, size, role, ha=ha, bold=bold))
            top -= line_height(size)
        top -= sizes.px(3) if text else 0.0
    return texts, top


def _beside_title(
    chart: Chart, width: float, left: float, top: float, sizes: Sizes, writer: TextWriter
) -> tuple[list[TextMark], float] | None:
    """Return the head of a panel in one row, the subtitle at the right; None where it does not fit into one."""
    title, subtitle = text_line(chart.title), text_line(chart.subtitle)
    wide = writer.width(title, sizes.title, bold=True) + writer.width(subtitle, sizes.label) + sizes.px(12)
    if not sizes.is_panel or chart.title_place == "center" or not title or not subtitle or wide > width:
        return None
    y = top - ASCENT * sizes.title
    right = writer.line(subtitle, left + width, y, sizes.label, "subtitle", ha="right")
    return [writer.line(title, left, y, sizes.title, "title", bold=True), right], top - line_height(sizes.title)


def _aligned(centerd: bool) -> Side:
    return "center" if centerd else "left"


def balanced(lines: list[str], size: float, bold: bool, writer: TextWriter) -> list[str]:
    """Return two lines broken so that they are about as long as each other; others as they are."""
    if len(lines) != 2 or lines[1].endswith("…") or any(sign >= "\u2e80" for line in lines for sign in line):
        return lines
    words = " ".join(lines).split(" ")
    pairs = [[" ".join(words[:place]), " ".join(words[place:])] for place in range(1, len(words))]
    return min([lines, *pairs], key=lambda pair: max(writer.width(line, size, bold=bold) for line in pair))


def head_lines(text: str, size: float, bold: bool, width: float, most: int, writer: TextWriter) -> list[str]:
    """Break a text into lines of the picture's width; what is beyond `most` lines is cut short."""
    plain = text_line(text, longest=400)
    lines = wrapped(plain, size, bold, width, writer.measure)
    if lines is None:
        return [fitted(plain, size, bold, width, writer.measure)]
    if len(lines) <= most:
        return list(lines)
    tail = " ".join(lines[most - 1 :])
    return [*lines[: most - 1], fitted(tail, size, bold, width, writer.measure)]


def note_line(chart: Chart, width: float, sizes: Sizes, writer: TextWriter) -> tuple[list[TextMark], float]:
    """Return the small text at the foot, in two lines at most, and the height above it."""
    left, size = sizes.margin, sizes.note
    y = 0.72 * left
    if not chart.note:
        return [], y
    lines = head_lines(chart.note, size, False, width - 2 * left, 2, writer)
    texts = [
        writer.line(line, left, y + row * line_height(size), size, "note") for row, line in enumerate(reversed(lines))
    ]
    return texts[::-1], y + len(lines) * line_height(size) + sizes.px(4)


def title_under(
    text: str, left: float, right: float, bottom: float, sizes: Sizes, writer: TextWriter
) -> list[TextMark]:
    """Return the title of the category axis below it, its line from `bottom` upward."""
    if not text:
        return []
    size = sizes.axis_title
    line = fitted(text_line(text), size, True, right - left, writer.measure)
    return [writer.line(line, (left + right) / 2, bottom + DESCENT * size, size, "axis-title", ha="center", bold=True)]


def rule(x0: float, y0: float, x1: float, y1: float, role: str, *, level: float = 0) -> PathMark:
    """Return a straight line."""
    return PathMark(np.array([x0, x1]), np.array([y0, y1]), role, level=level)


@dataclass(frozen=True)
class PlotArea:
    """Where categories and values are.

    In a vertical chart categories run from left to right and values upward; in a horizontal one from the top
    downward and to the right: the one is the other, turned about its diagonal.

    Attributes
    ----------
    frame
        The rectangle between the axes.
    count
        How many categories there are.
    horizontal
        Which of the two it is.
    after
        The room behind the last category of an vertical chart: for names at the line ends.
    """

    frame: Box
    count: int
    horizontal: bool = False
    after: float = 0.0

    @property
    def slot(self) -> float:
        """The room of one category along its axis."""
        return (self.frame.height if self.horizontal else self.frame.width - self.after) / self.count

    def along(self, places: Floats | float) -> Floats:
        """Return where places on the category axis are, in categories from 0."""
        across = np.asarray(places, dtype=np.float64) * self.slot
        return self.frame.top - across if self.horizontal else self.frame.left + across

    def up(self, shares: Floats | float) -> Floats:
        """Return where shares of a value axis are: 0 at its lower end, 1 at its upper."""
        share = np.asarray(shares, dtype=np.float64)
        if self.horizontal:
            return self.frame.left + share * self.frame.width
        return self.frame.bottom + share * self.frame.height

    def points(self, places: Floats, shares: Floats) -> tuple[Floats, Floats]:
        """Return the x and y of points."""
        across, up = self.along(places), self.up(shares)
        return (up, across) if self.horizontal else (across, up)

    def rects(self, starts: Floats, ends: Floats, low: Floats, high: Floats) -> Floats:
        """Return rectangles of shape (n, 4): left, bottom, right, top."""
        left, other, under, over = self.along(starts), self.along(ends), self.up(low), self.up(high)
        if self.horizontal:
            return np.column_stack((under, other, over, left))
        return np.column_stack((left, under, other, over))

    def centers(self) -> Floats:
        """Return the middles of the categories along their axis."""
        return self.along(np.arange(self.count) + 0.5)
