"""Number formats of sheets: what a reader sees around a number that the cell holds without it."""

from __future__ import annotations

import re
from dataclasses import dataclass
from decimal import Decimal

from vantric.reading.number_style import cell_of

_PARTS = re.compile(
    r'"([^"]*)"|\\(.)|\[\$([^\]-]*)(?:-[^\]]*)?\]|\[[^\]]*\]|_.|\*.|'
    r"([0#?][0#?.,/ ]*(?:[eE][+-][0#?]+)?|General|@)|(.)",
    re.DOTALL,
)
_DATE_SIGNS = frozenset("ymdhsYMDHS")
_SHOWN_BARE = frozenset("$€£¥+-() ")
#: Formats that have a number and no text in the file.
_BUILT_IN = {9: "0%", 10: "0.00%"}


@dataclass(frozen=True)
class Shown:
    """What a format puts around a number.

    Attributes
    ----------
    percent
        Whether a hundredth is shown as 1.
    before, after
        Text in front of the number and behind it.
    """

    percent: bool = False
    before: str = ""
    after: str = ""

    def text(self, value: Decimal) -> str:
        """Return a number with its unit, as a reader sees it, with all its decimals."""
        number = plain_text(value.scaleb(2) if self.percent else value)
        return f"{self.before}{number}{'%' if self.percent else ''}{self.after}"


def plain_text(value: Decimal) -> str:
    """Return a number in digits, without zeros at its end."""
    text = format(value, "f")
    return text.rstrip("0").rstrip(".") if "." in text else text


def shown_by(code: str) -> Shown | None:
    """Return what a format shows around a number; None if that is nothing, or no unit."""
    section = _first_section(code)
    before, after, seen, percent = "", "", False, False
    for quoted, escaped, currency, digits, other in _PARTS.findall(section):
        if digits:
            if digits.rstrip().endswith(","):  # it shows thousands or millions, and the cell holds all of it
                return None
            seen = True
            continue
        if other == "%":
            percent = True
            continue
        if other in _DATE_SIGNS:
            return None
        literal = quoted or escaped or currency or (other if other in _SHOWN_BARE else "")
        if seen:
            after += literal
        else:
            before += literal
    if not seen:
        return None
    unit = Shown(percent, before.strip(" +-()"), after.strip(" +-()"))
    if not (percent or unit.before or unit.after):
        return None
    cell = cell_of(unit.text(Decimal(1)))
    if cell is None or not cell.unit:
        return Shown(percent) if percent else None
    return unit


def _first_section(code: str) -> str:
    return re.split(r';(?=(?:[^"]*"[^"]*")*[^"]*$)', code)[0]


def built_in(number: int) -> str:
    """Return the code of a format that the file only numbers; empty where it shows nothing around a number."""
    return _BUILT_IN.get(number, "")
