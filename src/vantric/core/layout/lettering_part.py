"""Font sizes and lines of text with the boxes they cover."""

from __future__ import annotations

import math
from dataclasses import dataclass, field

from vantric.core.layout.plan import Box, Side, TextMark
from vantric.core.layout.text_layout import ASCENT, DESCENT, FIGURE_ASCENT, FIGURE_DESCENT, LINE_HEIGHT, Measure

_REFERENCE = (1280.0, 800.0)
_SMALLEST, _LARGEST = 0.6, 2.5


@dataclass(frozen=True)
class Sizes:
    """Font sizes and gaps in pixels, for a picture of 1280 x 800 times `unit`."""

    unit: float

    @classmethod
    def of(cls, width: float, height: float) -> Sizes:
        """Return the sizes for a picture: smaller on a small one, but never too small to read."""
        unit = min(width / _REFERENCE[0], height / _REFERENCE[1])
        return cls(min(max(unit, _SMALLEST), _LARGEST))

    def px(self, reference: float) -> float:
        """Return a length of the 1280 x 800 picture in this one."""
        return reference * self.unit

    @property
    def title(self) -> float:
        """The chart's title."""
        return self.px(27)

    @property
    def subtitle(self) -> float:
        """The base under the title."""
        return self.px(17.5)

    @property
    def axis_title(self) -> float:
        """The titles of the three axes."""
        return self.px(16.5)

    @property
    def label(self) -> float:
        """Ticks, categories, legend."""
        return self.px(15.5)

    @property
    def value(self) -> float:
        """Labels at the marks."""
        return self.px(14.5)

    @property
    def note(self) -> float:
        """The small line at the foot."""
        return self.px(13.5)


@dataclass(frozen=True)
class Pen:
    """Writes lines of text, measured."""

    measure: Measure
    _widths: dict[tuple[str, float, bool], float] = field(default_factory=dict, compare=False, repr=False)

    def width(self, text: str, size: float, *, bold: bool = False) -> float:
        """Return the width of a line; each is measured once."""
        key = text, size, bold
        if key not in self._widths:
            self._widths[key] = self.measure(text, size, bold)
        return self._widths[key]

    def line(
        self,
        text: str,
        x: float,
        y: float,
        size: float,
        role: str,
        *,
        ha: Side = "left",
        bold: bool = False,
        rotation: float = 0.0,
        figures: bool = False,
    ) -> TextMark:
        """Return a line of text, or of mere figures, whose baseline is anchored at (x, y)."""
        reach = (FIGURE_ASCENT, FIGURE_DESCENT) if figures else (ASCENT, DESCENT)
        box = _covered(x, y, self.width(text, size, bold=bold), (reach[0] * size, reach[1] * size), ha, rotation)
        return TextMark(text, x, y, size, role, ha, bold, rotation, box)

    def middle(
        self, text: str, x: float, y: float, size: float, role: str, *, ha: Side = "left", bold: bool = False
    ) -> TextMark:
        """Return a line of text whose height is centerd on y."""
        return self.line(text, x, y - middle_drop(size), size, role, ha=ha, bold=bold)


def middle_drop(size: float) -> float:
    """Return how far below its middle the baseline of a line of figures is."""
    return 0.36 * size


def line_height(size: float) -> float:
    """Return the distance of two baselines."""
    return LINE_HEIGHT * size


def text_height(size: float) -> float:
    """Return the height that a line covers."""
    return (ASCENT + DESCENT) * size


def figure_height(size: float) -> float:
    """Return the height that a line of figures covers."""
    return (FIGURE_ASCENT + FIGURE_DESCENT) * size


def _covered(x: float, y: float, width: float, reach: tuple[float, float], ha: Side, rotation: float) -> Box:
    """Return the vertical rectangle around a line of text turned about its anchor; `reach` is above and below it."""
    above, below = reach
    start = {"left": 0.0, "center": -width / 2, "right": -width}[ha]
    if not rotation:
        return Box(x + start, y - below, x + start + width, y + above)
    cos, sin = math.cos(math.radians(rotation)), math.sin(math.radians(rotation))
    corners = [(u, v) for u in (start, start + width) for v in (-below, above)]
    xs = [x + u * cos - v * sin for u, v in corners]
    ys = [y + u * sin + v * cos for u, v in corners]
    return Box(min(xs), min(ys), max(xs), max(ys))
