"""What the styles of a workbook say of its cells: number formats, bold, indented, crossed out and unseen text."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any
from xml.etree.ElementTree import Element, ParseError, fromstring

from vantric.reading.number_style import FormatText, built_in, shown_by

#: White in a file, with and without its opacity, and the first color of every theme.
_WHITE = frozenset({"FFFFFFFF", "00FFFFFF", "FFFFFF"})
_TRUE = frozenset({"1", "true"})


@dataclass(frozen=True)
class CellStyle:
    """What a style says of a cell.

    Attributes
    ----------
    format_text
        What is seen around a number; None if nothing is.
    is_bold, is_struck, is_unseen
        Bold, crossed out, and white on white.
    indent
        How far the text is indented, in steps.
    """

    format_text: FormatText | None = None
    is_bold: bool = False
    is_struck: bool = False
    is_unseen: bool = False
    indent: int = 0


@dataclass(frozen=True)
class _Font:
    is_bold: bool
    is_struck: bool
    is_white: bool


def local_name(element: Element) -> str:
    """Return the name of an element without its namespace."""
    return element.tag.rpartition("}")[2]


def attribute(element: Any, name: str) -> str:
    """Return an attribute whatever its namespace; empty if there is none."""
    return next((str(value) for key, value in element.attrib.items() if key.rpartition("}")[2] == name), "")


def _children(element: Element, name: str) -> Iterator[Element]:
    return (child for child in element if local_name(child) == name)


def _listed(root: Element, group: str, name: str) -> list[Element]:
    return [child for part in _children(root, group) for child in _children(part, name)]


def cell_styles(text: str) -> dict[int, CellStyle]:
    """Return the styles of ``styles.xml`` that say anything, by the number that cells name them by."""
    try:
        root = fromstring(text)
    except ParseError:  # the reader of sheets says that it is broken
        return {}
    codes = {
        int(number): attribute(entry, "formatCode")
        for entry in _listed(root, "numFmts", "numFmt")
        if (number := attribute(entry, "numFmtId")).isdecimal()
    }
    fonts = [_font(entry) for entry in _listed(root, "fonts", "font")]
    colored = [_is_colored(entry) for entry in _listed(root, "fills", "fill")]
    styles = {}
    for index, entry in enumerate(_listed(root, "cellXfs", "xf")):
        style = _style(entry, codes, fonts, colored)
        if style != CellStyle():
            styles[index] = style
    return styles


def _style(entry: Element, codes: dict[int, str], fonts: list[_Font], colored: list[bool]) -> CellStyle:
    number = _whole(attribute(entry, "numFmtId"))
    code = codes.get(number, built_in(number))
    font_number, fill_number = _whole(attribute(entry, "fontId")), _whole(attribute(entry, "fillId"))
    font = fonts[font_number] if font_number < len(fonts) else _Font(False, False, False)
    is_filled = fill_number < len(colored) and colored[fill_number]
    indents = [_whole(attribute(alignment, "indent")) for alignment in _children(entry, "alignment")]
    return CellStyle(
        shown_by(code) if code else None,
        font.is_bold,
        font.is_struck,
        font.is_white and not is_filled,
        max(indents, default=0),
    )


def _whole(text: str) -> int:
    return int(text) if text.isdecimal() else 0


def _font(entry: Element) -> _Font:
    def has(name: str) -> bool:
        return any(attribute(child, "val") in ("", *_TRUE) for child in _children(entry, name))

    white = any(
        attribute(color, "rgb").upper() in _WHITE or attribute(color, "theme") == "0"
        for color in _children(entry, "color")
        if not attribute(color, "tint")
    )
    return _Font(has("b"), has("strike"), white)


def _is_colored(entry: Element) -> bool:
    """Whether a fill has a color other than white."""
    for pattern in _children(entry, "patternFill"):
        colors = list(_children(pattern, "fgColor"))
        white = any(attribute(c, "rgb").upper() in _WHITE or attribute(c, "theme") == "0" for c in colors)
        return attribute(pattern, "patternType") not in ("", "none") and not white
    return any(True for _ in _children(entry, "gradientFill"))
