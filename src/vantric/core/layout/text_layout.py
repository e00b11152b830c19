"""How wide text is.

In comes a line of text with its size; out goes its width, from the table of the base font's advances (`advances`), or
the text broken into lines. Start with `table_measure`; whoever draws with other fonts gives a `Measure` of their own.
"""

from __future__ import annotations

import unicodedata
from collections.abc import Mapping
from functools import cache
from itertools import pairwise
from typing import Protocol

from vantric.core.layout.advances import BOLD, BOLD_PARTED, REGULAR, REGULAR_PARTED

#: Height above and depth below the baseline that a line of text takes, in ems.
ASCENT, DESCENT = 0.93, 0.24
LINE_HEIGHT = 1.24
#: The same for a line of figures, which has no letters that reach far up or down.
FIGURE_ASCENT, FIGURE_DESCENT = 0.8, 0.18

_OTHER, _WIDE, _BOLD = 0.64, 1.0, 1.13
_EM = 2048
_LACKING = 0xFFF


class Measure(Protocol):
    """Tells the width of a line of text."""

    def __call__(self, text: str, size: float, bold: bool) -> float:
        """Return the width of `text` at a font size, in the unit of `size`."""
        ...


@cache
def _advances(bold: bool) -> Mapping[str, float]:
    """Return the width of each sign that the table holds, in ems; and by how much kerning parts a pair of them."""
    runs, parted = (BOLD, BOLD_PARTED) if bold else (REGULAR, REGULAR_PARTED)
    found = {}
    for first, digits in runs:
        for at in range(0, len(digits), 3):
            width = int(digits[at : at + 3], 16)
            if width != _LACKING:
                found[chr(first + at // 3)] = width / _EM
    for at in range(0, len(parted), 5):
        found[parted[at : at + 2]] = int(parted[at + 2 : at + 5], 16) / _EM
    return found


def table_measure(text: str, size: float, bold: bool) -> float:
    """Return the width of a line of text in the base font, from the table of its advances: the same on every machine.

    Kerning is counted where it parts signs, not where it brings them nearer. Signs that the table lacks are taken to be
    as wide as most: full width in East Asian scripts.
    """
    known = _advances(bold)
    ems = sum([known[sign] if sign in known else _sign_width(sign, bold) for sign in text])
    parted = sum([known[one + other] for one, other in pairwise(text) if one + other in known])
    return (ems + parted) * size


def is_measured(text: str) -> bool:
    """Whether the table holds every sign of a text."""
    return text.isascii() or all(sign in _advances(False) and sign in _advances(True) for sign in text)


def _sign_width(sign: str, bold: bool) -> float:
    if unicodedata.combining(sign):
        return 0.0
    return _WIDE if unicodedata.east_asian_width(sign) in "WF" else _OTHER * (_BOLD if bold else 1.0)


def fitted(text: str, size: float, bold: bool, room: float, measure: Measure) -> str:
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


def wrapped(text: str, size: float, bold: bool, room: float, measure: Measure) -> tuple[str, ...] | None:
    """Return `text` broken into lines no wider than `room`; None if what cannot be broken is wider than that.

    Lines break at blanks, and between the signs of East Asian scripts.
    """
    words = _words(text)
    if any(measure(word, size, bold) > room for _, word in words):
        return None
    return _filled(words, size, bold, room, measure)


def broken(text: str, size: float, bold: bool, room: float, most: int, measure: Measure) -> tuple[str, ...]:
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
    taken, at = sum(len(line.replace(" ", "")) for line in lines), 0
    while taken:
        taken -= not text[at].isspace()
        at += 1
    return text[at:].strip()


#: A word, and what is between it and the one before on the same line.
_Word = tuple[str, str]
#: Signs that start no line, and signs that end none (JIS X 4051).
_NO_START = frozenset("、。，．・：；？！ー」』）】〉》〕］｝ゝゞ々ぁぃぅぇぉっゃゅょゎァィゥェォッャュョヮヵヶ％")
_NO_END = frozenset("「『（【〈《〔［｛")


def _words(text: str) -> list[_Word]:
    """Part a text where a line may break."""
    words = text.split()
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


def _filled(words: list[_Word], size: float, bold: bool, room: float, measure: Measure) -> tuple[str, ...]:
    lines: list[str] = []
    for blank, word in words:
        longer = f"{lines[-1]}{blank}{word}" if lines else word
        if lines and measure(longer, size, bold) <= room:
            lines[-1] = longer
        else:
            lines.append(word)
    return tuple(lines)


def _pieces(word: str, size: float, bold: bool, room: float, measure: Measure) -> list[str]:
    """Break a word that is wider than a line into pieces that fit."""
    pieces: list[str] = []
    while word and measure(word, size, bold) > room:
        length = max(1, len(fitted(word, size, bold, room, measure)) - 1)
        pieces.append(word[:length])
        word = word[length:]
    return [*pieces, word] if word else pieces
