"""References to cells as formulas and charts write them: ``Pareto!$B$2:$B$9``, unions, names."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from typing import NamedTuple, TypeAlias

from vantric.reading.grid import column_place

#: Sheet, row and column, both from 1.
Place: TypeAlias = tuple[str, int, int]
_LAST_ROW, _LAST_COLUMN = 1_048_576, 16_384
_RANGE = re.compile(
    r"(?:(?:'(?P<quoted>(?:[^']|'')+)'|(?P<plain>[^'!:$]+))!)?"
    r"\$?(?P<left>[A-Za-z]{1,3})\$?(?P<top>[0-9]{1,7})(?::\$?(?P<right>[A-Za-z]{1,3})\$?(?P<bottom>[0-9]{1,7}))?"
)
_COLUMNS = re.compile(
    r"(?:(?:'(?P<quoted>(?:[^']|'')+)'|(?P<plain>[^'!:$]+))!)?\$?(?P<left>[A-Za-z]{1,3}):\$?(?P<right>[A-Za-z]{1,3})"
)


class Range(NamedTuple):
    """A block of cells of one sheet; rows and columns from 1."""

    sheet: str
    top: int
    left: int
    bottom: int
    right: int


def parse_range(text: str, sheet: str = "") -> Range | None:
    """Return the block that a reference means; None for what is none."""
    found = _RANGE.fullmatch(text.strip())
    if found:
        top, left = int(found["top"]), column_place(found["left"]) + 1
        bottom = int(found["bottom"]) if found["bottom"] else top
        right = column_place(found["right"]) + 1 if found["right"] else left
    else:
        found = _COLUMNS.fullmatch(text.strip())
        if not found:
            return None
        top, bottom, left, right = 1, _LAST_ROW, column_place(found["left"]) + 1, column_place(found["right"]) + 1
    name = found["quoted"].replace("''", "'") if found["quoted"] else found["plain"] or sheet
    if max(left, right) > _LAST_COLUMN or max(top, bottom) > _LAST_ROW:
        return None
    return Range(name, min(top, bottom), min(left, right), max(top, bottom), max(left, right))


def parse_reference(text: str, names: Mapping[str, str], sheet: str = "") -> list[Range] | None:
    """Return the blocks of a reference of a chart: a range, a union of several, or a name; None for what is none."""
    plain = text.strip().removeprefix("=")
    plain = names.get(plain.rpartition("!")[2], plain)
    if plain.startswith("(") and plain.endswith(")"):
        plain = plain[1:-1]
    found = [parse_range(part, sheet) for part in _parts(plain)]
    known = [one for one in found if one is not None]
    return known if known and len(known) == len(found) else None


def _parts(text: str) -> Iterator[str]:
    part, quoted = "", False
    for sign in text:
        quoted ^= sign == "'"
        if sign == "," and not quoted:
            yield part
            part = ""
        else:
            part += sign
    yield part


def cells_in(block: Range) -> Iterator[Place]:
    """Yield the places of a block, row by row."""
    for row in range(block.top, block.bottom + 1):
        for column in range(block.left, block.right + 1):
            yield block.sheet, row, column
