"""What a workbook says of its cells besides their values: styles, and formulas of other records of their column."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any
from xml.etree.ElementTree import Element, ParseError, fromstring

from vantric.base.lazily import compiled, dataclass
from vantric.reading.grid import column_place
from vantric.reading.headings import letters
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


#: Functions of records; what stands around them does not matter.
_FUNCTION = compiled(
    r"(?<![A-Za-z.])(SUM|SUBTOTAL|AGGREGATE|AVERAGE|AVERAGEA|MEDIAN|MIN|MAX|COUNT|COUNTA|SUMPRODUCT)\s*\(",
    re.IGNORECASE,
)
#: A cell or a block of this sheet: one of another sheet has a sign before it.
_REFERENCE = compiled(
    r"(?<![A-Za-z0-9_!.'$:])(\$?)([A-Za-z]{1,3})(\$?)([0-9]{1,7})(?::(\$?)([A-Za-z]{1,3})(\$?)([0-9]{1,7}))?"
    r"(?![A-Za-z0-9_(!.])"
)
#: References as OpenDocument writes them.
_OPEN = ((re.compile(r"\[\."), ""), (re.compile(r":\."), ":"), (re.compile(r"\]"), ""))
#: The totals row of a table that has a name: ``SUBTOTAL(109,[Count])``.
_TOTALS_ROW = compiled(r"\s*SUBTOTAL\((\d+),\s*\w*\[[^@#\[\]]+\]\)", re.IGNORECASE)
#: Numbers of functions in ``SUBTOTAL`` and ``AGGREGATE``.
_NUMBERED = {1: "AVERAGE", 2: "COUNT", 3: "COUNT", 4: "MAX", 5: "MIN", 9: "SUM", 12: "MEDIAN"}
_FIRST_NUMBER = compiled(r"(?:SUBTOTAL|AGGREGATE)\s*\(\s*(\d+)", re.IGNORECASE)
_TEXT = compiled(r'"(?:[^"]|"")*"')
#: What a chain of additions is.
_SUM = "SUM"
_ADDITIONS = compiled(r"[\s=+A-Za-z0-9$:()]+")


def record_function(formula: str, row: int, column: int) -> str:
    """Return the function by which a formula works out its cell from two other cells or more of its column.

    A subtotal says what it is: of one cell, too.

    Parameters
    ----------
    formula
        As the file writes it.
    row, column
        Where it stands, from 0.

    Returns
    -------
    str
        ``"SUM"``, ``"AVERAGE"`` ...; empty if it is no such formula.
    """
    text = _TEXT.sub("", formula).partition("=")[2] if "=" in formula else _TEXT.sub("", formula)
    for form, by in _OPEN if "[." in text else ():
        text = form.sub(by, text)
    if totals_row := _TOTALS_ROW.fullmatch(text):
        return _numbered(int(totals_row[1]))
    rows = 0
    for match in _REFERENCE.finditer(text):
        left, top = column_place(match[2]), int(match[4]) - 1
        right, bottom = (column_place(match[6]), int(match[8]) - 1) if match[6] else (left, top)
        if left <= column <= right:
            rows += max(0, abs(bottom - top) + 1 - (min(top, bottom) <= row <= max(top, bottom)))
    function = _FUNCTION.search(text)
    number = _FIRST_NUMBER.match(text, function.start()) if function else None
    if rows < (1 if number else 2):  # a subtotal says what it is, even of one record
        return ""
    if function is not None:
        name = function[1].upper()
        return _numbered(int(number[1])) if number else _SUM if name == "SUMPRODUCT" else name.removesuffix("A")
    return _SUM if "+" in text and _ADDITIONS.fullmatch(text) else ""


def _numbered(number: int) -> str:
    return _NUMBERED.get(number % 100, _SUM)


def moved(formula: str, rows: int, columns: int) -> str:
    """Return a formula as it reads in a cell some rows and columns away: what is not fixed moves with it."""

    def one(fixed: str, name: str, fixed_row: str, number: str) -> str:
        place = column_place(name) if fixed else column_place(name) + columns
        return f"{fixed}{letters(max(0, place))}{fixed_row}{int(number) + (0 if fixed_row else rows)}"

    def shifted(match: re.Match[str]) -> str:
        first = one(match[1], match[2], match[3], match[4])
        return first if match[6] is None else f"{first}:{one(match[5], match[6], match[7], match[8])}"

    return _REFERENCE.sub(shifted, formula)
