"""What is said of a column of numbers that cannot be read in one way, and of one that was."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable

from vantric.core.counts.provenance import Remark
from vantric.core.counts.restwords_part import is_missing_code
from vantric.errors import AmountError
from vantric.reading.number_column import Doubt, DoubtError, NumberReading

#: Where a cell stands, in words such as "record 3"; empty where the source has no order.
Locate = Callable[[str], str]


def doubtful(place: str, column: str, doubt: DoubtError, locate: Locate) -> AmountError:
    """Return the error for a column whose cells have no one reading.

    Parameters
    ----------
    place
        What messages call the source.
    column
    doubt
    locate
        Tells where the first cell of a text is.
    """
    shown = [f"'{text[:40]}'{_in_brackets(locate(text))}" for text in doubt.cells]
    both = " and ".join(shown)
    where = f"{place}, column '{column}'"
    if doubt.doubt is Doubt.AMBIGUOUS:
        one, other = (doubt.styles[0], doubt.styles[-1])
        low, high = _values(doubt)
        return _error(
            f"{where}: {both} can be read as {low} or as {high}",
            f'say how numbers are written there with read_numbers="{one.example}" or read_numbers="{other.example}"',
            asks=[("read_numbers", one.example), ("read_numbers", other.example)],
        )
    if doubt.doubt is Doubt.STYLES and len(doubt.styles) == 1:
        return _error(f"{where}: {both} is not written as {doubt.styles[0].example}", "say how with read_numbers")
    if doubt.doubt is Doubt.STYLES and len(doubt.cells) == 1:
        return _error(f"{where}: {both} is no number in any style", "correct that cell")
    if doubt.doubt is Doubt.STYLES:
        return _error(f"{where}: {both} are not written in one style", "write all cells in one style")
    if doubt.doubt is Doubt.UNITS:
        return _error(f"{where}: {both} are in different units", "give the column one unit")
    if doubt.doubt is Doubt.PERCENTS:
        return _error(
            f"{where}: {both} are side by side: is the second one in the unit of the first?",
            "write the unit in every cell, or in none",
        )
    if doubt.doubt is Doubt.BRACKETS:
        plain = doubt.cells[0].strip("() ")
        return _error(
            f"{where}: {both}, like all others, is a whole number in brackets: negative, or a mere number?",
            f"write negative numbers as -{plain}, or take the brackets away",
        )
    cell = doubt.cells[0]
    return _error(f"{where}: {both} is not a number", way_on(cell), asks=code_asks(cell))


def _error(what: str, fix: str, asks: Iterable[tuple[str, object]] = ()) -> AmountError:
    return AmountError(f"{what}; {fix}", hint=fix, asks=asks)


def _values(doubt: DoubtError) -> tuple[str, str]:
    from vantric.reading.number_style import cell_of

    cell = cell_of(doubt.cells[0])
    assert cell is not None
    found = [str(cell.value(style)) for style in (doubt.styles[0], doubt.styles[-1])]
    return found[0], found[1]


def _in_brackets(place: str) -> str:
    return f" ({place})" if place else ""


def code_asks(cell: object) -> list[tuple[str, object]]:
    """Return what can be answered to a cell that may be a code for what is missing; nothing for another cell."""
    code = cell.strip() if isinstance(cell, str) else ""
    return [("na", code)] if code and not code.startswith(("#", "=")) and is_missing_code(code) else []


def way_on(text: str) -> str:
    """Return how to go on from a cell that is no number."""
    plain = text.strip()
    if plain.startswith("="):
        return "its result was never saved: open the workbook in the program that made it, and save it there"
    if plain.startswith("#") and is_missing_code(plain):
        return "the formula there failed: correct it in the sheet, or name the code with na to call it missing"
    if is_missing_code(plain):
        return f'if it means missing, say so with na="{plain}"'
    if re.match(r"\d{4}-\d{2}-\d{2}", plain):
        return "a date is no number: name another column"
    if re.fullmatch(r"\d{1,3}:\d{2}(:\d{2})?", plain):
        return "write times as minutes, or as decimal hours"
    if re.fullmatch(r"\d+([.,]\d+)?\s*(-|–|to|bis|\.\.)\s*\d+([.,]\d+)?.*", plain):
        return "a range is no number: give one number"
    if re.match(r"[<>~≈≤≥]|ca\.?\s", plain):
        return "give the number that is meant"
    return ""


def supposition(place: str, column: str, reading: NumberReading) -> Remark:
    """Return the warning that a style was chosen."""
    what = "whole numbers, since they are counts" if reading.supposed == "whole" else "decimals"
    value = reading.value(reading.before)
    other = "1,234.56" if reading.style.group != "," else "1.234,56"
    return Remark(
        "number-style",
        f"{place}: the numbers of '{column}' could be written in two styles; they were read as {what}: "
        f"'{reading.before}' is {value}",
        "warning",
        f'say how they are written with read_numbers="{reading.style.example}" (or "{other}")',
    )


def styled(place: str, column: str, reading: NumberReading) -> Remark:
    """Return the note on how the cells of a column were read."""
    value = reading.value(reading.before)
    unit = f", in {reading.unit}" if reading.unit else ""
    return Remark("read-numbers", f"{place}: column '{column}': '{reading.before}' was read as {value}{unit}")
