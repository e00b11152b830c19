"""Formulas that work out a cell from other records of its own column: sums, means, extremes, counts."""

from __future__ import annotations

import re

from vantric.reading.grid import column_place
from vantric.reading.headings import letters

#: Functions of records; what stands around them does not matter.
_FUNCTION = re.compile(
    r"(?<![A-Za-z.])(SUM|SUBTOTAL|AGGREGATE|AVERAGE|AVERAGEA|MEDIAN|MIN|MAX|COUNT|COUNTA|SUMPRODUCT)\s*\(",
    re.IGNORECASE,
)
#: A cell or a block of this sheet: one of another sheet has a sign before it.
_REFERENCE = re.compile(
    r"(?<![A-Za-z0-9_!.'$:])(\$?)([A-Za-z]{1,3})(\$?)([0-9]{1,7})(?::(\$?)([A-Za-z]{1,3})(\$?)([0-9]{1,7}))?"
    r"(?![A-Za-z0-9_(!.])"
)
#: References as OpenDocument writes them.
_OPEN = ((re.compile(r"\[\."), ""), (re.compile(r":\."), ":"), (re.compile(r"\]"), ""))
#: The totals row of a table that has a name: ``SUBTOTAL(109,[Count])``.
_TOTALS_ROW = re.compile(r"\s*SUBTOTAL\((\d+),\s*\w*\[[^@#\[\]]+\]\)", re.IGNORECASE)
#: Numbers of functions in ``SUBTOTAL`` and ``AGGREGATE``.
_NUMBERED = {1: "AVERAGE", 2: "COUNT", 3: "COUNT", 4: "MAX", 5: "MIN", 9: "SUM", 12: "MEDIAN"}
_FIRST_NUMBER = re.compile(r"(?:SUBTOTAL|AGGREGATE)\s*\(\s*(\d+)", re.IGNORECASE)
_TEXT = re.compile(r'"(?:[^"]|"")*"')
#: What a chain of additions is.
_SUM = "SUM"
_ADDITIONS = re.compile(r"[\s=+A-Za-z0-9$:()]+")


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
