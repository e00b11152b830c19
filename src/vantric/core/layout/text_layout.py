"""How wide and high text is, by the table of the base font's advances, and lines of text with their boxes."""

from __future__ import annotations

import math
import unicodedata
from collections.abc import Mapping
from dataclasses import field
from functools import cache
from itertools import pairwise
from typing import Protocol

from vantric.base.lazily import compiled, dataclass
from vantric.core.layout.advances import BOLD, BOLD_KERNED, REGULAR, REGULAR_KERNED
from vantric.core.layout.plan import Box, Side, TextMark

#: Height above and depth below the baseline that a line of text takes, in ems.
ASCENT, DESCENT = 0.88, 0.23
#: The distance of lines, in sizes of the font.
LINE_HEIGHT = 1.24
#: The same for a line of figures, which has no letters that reach far up or down.
FIGURE_ASCENT, FIGURE_DESCENT = 0.69, 0.17

#: Widths in em where the font lacks a sign: of any, of those that are as wide as high, and how much bold adds.
_OTHER, _WIDE, _BOLD = 0.64, 1.0, 1.13
#: Units of an em in the base font.
_EM = 1000
#: What the table adds to an amount of kerning.
_NO_KERNING = 0x800
#: Stands for a sign that the font lacks.
_LACKING = 0xFFF


class TextMeasure(Protocol):
    """Tells the width of a line of text."""

    def __call__(self, text: str, size: float, bold: bool) -> float:
        """Return the width of `text` at a font size, in the unit of `size`."""
        ...


@cache
def _advances(bold: bool) -> Mapping[str, float]:
    """Return the width of each sign that the table holds, in ems; and by how much kerning moves a pair of them."""
    runs, kerned = (BOLD, BOLD_KERNED) if bold else (REGULAR, REGULAR_KERNED)
    amounts = {}
    for first, digits in runs:
        for index in range(0, len(digits), 3):
            width = int(digits[index : index + 3], 16)
            if width != _LACKING:
                amounts[chr(first + index // 3)] = width / _EM
    for index in range(0, len(kerned), 5):
        amounts[kerned[index : index + 2]] = (int(kerned[index + 2 : index + 5], 16) - _NO_KERNING) / _EM
    return amounts


def table_measure(text: str, size: float, bold: bool) -> float:
    """Return the width of a line of text in the base font, from the table of its advances: the same on every machine.

    Signs that the table lacks are taken to be as wide as most: full width in East Asian scripts.
    """
    widths = _advances(bold)
    ems = sum([widths[sign] if sign in widths else _sign_width(sign, bold) for sign in text])
    kerned = sum([widths[item + other] for item, other in pairwise(text) if item + other in widths])
    return (ems + kerned) * size


def kerning(before: str, sign: str, bold: bool) -> float:
    """Return how far kerning moves a sign of the base font from the one before it, in ems; below zero nearer."""
    return _advances(bold).get(before + sign, 0.0)


def is_measured(text: str) -> bool:
    """Whether the table holds every sign of a text."""
    return text.isascii() or all(sign in _advances(False) and sign in _advances(True) for sign in text)


def _sign_width(sign: str, bold: bool) -> float:
    if unicodedata.combining(sign):
        return 0.0
    return _WIDE if unicodedata.east_asian_width(sign) in "WF" else _OTHER * (_BOLD if bold else 1.0)


def fitted(text: str, size: float, bold: bool, room: float, measure: TextMeasure) -> str:
    """Return `text`, cut short with an ellipsis if it is wider than `room`."""
    if measure(text, size, bold) <= room:
        return text
    low, high = 0, len(text)
    while low < high:  # the longest beginning that fits beside the ellipsis
        middle = (low + high + 1) // 2
        if measure(text[:middle].rstrip() + "…", size, bold) <= room:
            low = middle
        else:
            high = middle - 1
    return text[:low].rstrip() + "…" if low else ""


def wrapped(text: str, size: float, bold: bool, room: float, measure: TextMeasure) -> tuple[str, ...] | None:
    """Return `text` broken into lines no wider than `room`; None if what cannot be broken is wider than that.

    Lines break at spaces, and between the characters of East Asian scripts.
    """
    words = _words(text)
    if any(measure(word, size, bold) > room for _, word in words):
        return None
    return _filled(words, size, bold, room, measure)


def broken(text: str, size: float, bold: bool, room: float, most: int, measure: TextMeasure) -> tuple[str, ...]:
    """Return `text` in at most `most` lines no wider than `room`: long words are broken, the end is cut short."""
    pieces = [
        (blank if number == 0 else "", piece)
        for blank, word in _words(text)
        for number, piece in enumerate(_pieces(word, size, bold, room, measure))
    ]
    lines = _filled(pieces, size, bold, room, measure)
    if len(lines) <= most:
        return lines
    return (*lines[: most - 1], fitted(_after(text, lines[: most - 1]), size, bold, room, measure))


def _after(text: str, lines: tuple[str, ...]) -> str:
    """Return what follows the first lines of a text."""
    number, index = sum(len(line.replace(" ", "")) for line in lines), 0
    while number:
        number -= not text[index].isspace()
        index += 1
    return text[index:].strip()


#: Spaces at which a line may end.
_BREAKING = compiled(r"[^\S\u00a0\u202f]+")
#: A word, and what is between it and the one before on the same line.
_Word = tuple[str, str]
#: Signs that start no line, and signs that end none (JIS X 4051).
_NO_START = frozenset("、。，．・：；？！ー」』）】〉》〕］｝ゝゞ々ぁぃぅぇぉっゃゅょゎァィゥェォッャュョヮヵヶ％")
#: Signs that open something: no line ends with them.
_NO_END = frozenset("「『（【〈《〔［｛")


def _words(text: str) -> list[_Word]:
    """Part a text where a line may break."""
    words = _BREAKING.split(text.strip())
    words = words if words != [""] else []
    if text.isascii():
        return [(" ", word) for word in words]
    return [
        (" " if number == 0 else "", part) for word in words for number, part in enumerate(_between_wide_signs(word))
    ]


def _between_wide_signs(word: str) -> list[str]:
    parts = [word[:1]]
    for before, sign in pairwise(word):
        wide = unicodedata.east_asian_width(sign) in "WF" and unicodedata.category(sign) != "So"
        wide = wide or unicodedata.east_asian_width(before) in "WF"
        if wide and sign not in _NO_START and before not in _NO_END and not unicodedata.combining(sign):
            parts.append(sign)
        else:
            parts[-1] += sign
    return parts


def _filled(words: list[_Word], size: float, bold: bool, room: float, measure: TextMeasure) -> tuple[str, ...]:
    lines: list[str] = []
    for blank, word in words:
        longer = f"{lines[-1]}{blank}{word}" if lines else word
        if lines and measure(longer, size, bold) <= room:
            lines[-1] = longer
        else:
            lines.append(word)
    return tuple(lines)


def _pieces(word: str, size: float, bold: bool, room: float, measure: TextMeasure) -> list[str]:
    """Break a word that is wider than a line into pieces that fit."""
    pieces: list[str] = []
    while word and measure(word, size, bold) > room:
        length = max(1, len(fitted(word, size, bold, room, measure)) - 1)
        pieces.append(word[:length])
        word = word[length:]
    return [*pieces, word] if word else pieces


#: The size of a picture at which fonts have the sizes that are written here.
_REFERENCE = (1280.0, 800.0)
#: The body of text in pixels: of a picture of that size, of one that is narrow, and of one that is low.
BODY, _NARROW_BODY, _LOW_BODY = 14.0, 13.0, 12.0
PANEL_TITLE = 1.2  # the title of a panel, in bodies
NARROW, _LOW = 720.0, 400.0
#: How far text may grow with the picture.
_LARGEST = 2.5
#: No label is smaller than this share of the body.
SMALLEST_SHARE = 0.82


@dataclass(frozen=True)
class Sizes:
    """Font sizes and gaps in pixels: those of a picture of 1280 x 800 times `unit`.

    Attributes
    ----------
    unit
        The body of text over that of a picture of 1280 x 800.
    heading
        The size of the title, in bodies.
    is_narrow
        Whether margins are small.
    """

    unit: float
    heading: float = 2.0
    is_narrow: bool = False

    @classmethod
    def of(cls, width: float, height: float) -> Sizes:
        """Return the sizes for a picture: larger on a large one, and never too small to read."""
        ratio = min(width / _REFERENCE[0], height / _REFERENCE[1])
        if height < _LOW:
            return cls(_LOW_BODY / BODY, 1.5, width < NARROW)
        if width < NARROW:
            return cls(_NARROW_BODY / BODY, 20 / _NARROW_BODY, True)
        return cls(min(max(ratio, 1.0), _LARGEST))

    def px(self, reference: float) -> float:
        """Return a length of the 1280 x 800 picture in this one."""
        return reference * self.unit

    @property
    def is_panel(self) -> bool:
        """Whether they are those of one panel of several."""
        return self.heading == PANEL_TITLE

    @property
    def margin(self) -> float:
        """What is left free around the whole."""
        return 16.0 if self.is_narrow else self.px(32)

    @property
    def body(self) -> float:
        """Categories, values, names."""
        return self.px(BODY)

    @property
    def title(self) -> float:
        """The chart's title."""
        return self.heading * self.body

    @property
    def subtitle(self) -> float:
        """The base under the title."""
        return 1.2 * self.body

    @property
    def axis_title(self) -> float:
        """The titles of the axes."""
        return self.body

    @property
    def label(self) -> float:
        """Categories, legend, names of lines."""
        return self.body

    @property
    def tick(self) -> float:
        """The numbers at the axes."""
        return 0.93 * self.body

    @property
    def value(self) -> float:
        """Labels at the marks."""
        return self.body

    @property
    def note(self) -> float:
        """The small line at the foot."""
        return 0.9 * self.body

    @property
    def smallest(self) -> float:
        """No label is smaller."""
        return SMALLEST_SHARE * self.body


@dataclass(frozen=True)
class TextWriter:
    """Writes lines of text, measured."""

    measure: TextMeasure
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
    return 0.325 * size


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
