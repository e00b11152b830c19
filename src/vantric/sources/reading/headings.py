"""Headings of columns: on one line, from one row or two, and the unit that they name."""

from __future__ import annotations

import itertools
import re
from collections import Counter
from collections.abc import Sequence
from datetime import date
from typing import Any

from vantric.sources.reading.blanks import is_blank
from vantric.sources.reading.labels import label_text
from vantric.sources.reading.numberstyle import is_number
from vantric.sources.reading.units import is_unit

_YEARS = range(1900, 2101)
_DATES = re.compile(r"\d{4}-\d{2}(-\d{2})?([ T].*)?|\d{1,2}[./-]\d{1,2}[./-]\d{2,4}")


def one_line_name(cell: Any) -> str:
    """Return a heading on one line: line breaks and doubled blanks are one blank."""
    return " ".join((label_text(cell) or "").split())


def is_data(cell: Any) -> bool:
    """Whether a cell holds a number or a date, as records do and headings do not."""
    if is_blank(cell) or isinstance(cell, bool):
        return isinstance(cell, bool)
    if not isinstance(cell, str):
        return True
    text = cell.strip()
    return _DATES.fullmatch(text) is not None or is_number(text)


def is_series_of_headings(cells: Sequence[Any]) -> bool:
    """Whether numbers or dates are headings of columns: years, dates, or 1, 2, 3 ... in order."""
    told = [cell for cell in cells if is_data(cell)]
    if len(told) < 2:
        return False
    if all(isinstance(cell, date) or (isinstance(cell, str) and _DATES.fullmatch(cell.strip())) for cell in told):
        return len({str(cell) for cell in told}) == len(told)
    try:
        numbers = [float(str(cell)) for cell in told]
    except ValueError:
        return False
    steps = {after - before for before, after in itertools.pairwise(numbers)}
    years = all(number in _YEARS for number in numbers) and steps <= {1.0, -1.0}
    return years or (steps == {1.0} and numbers[0] in (0, 1))


def joined(upper: Sequence[Any], lower: Sequence[Any]) -> list[str]:
    """Return the names of columns under two rows of headings: a heading above goes on to the right, over blank cells.

    A row of units below the headings is put behind them in brackets.
    """
    below = [one_line_name(cell) for cell in lower]
    above = [one_line_name(cell) for cell in upper]
    if any(below) and all(is_unit(name.strip("()[] ")) for name in below if name):
        return [f"{name} ({unit.strip('()[] ')})" if unit else name for name, unit in zip(above, below, strict=True)]
    names, reach = [], ""
    for high, low in zip(above, below, strict=True):
        if high:
            reach = high if low else ""
        names.append(f"{reach} {low}".strip() if low else high)
    return names


def named(cells: Sequence[Any]) -> list[str]:
    """Return the names of the columns under one row of headings; one without a heading is called by its number."""
    return [one_line_name(cell) or f"column {place}" for place, cell in enumerate(cells, 1)]


def lettered(columns: Sequence[int]) -> list[str]:
    """Return the names of columns without headings: A, B, C."""
    return [letters(column) for column in columns]


def letters(column: int) -> str:
    """Return what a sheet calls a column, from 0: A ... Z, AA ..."""
    text, number = "", column + 1
    while number:
        number, rest = divmod(number - 1, 26)
        text = chr(65 + rest) + text
    return text


def apart(names: Sequence[str]) -> list[str]:
    """Return names that all differ: a second one of a name is called "Note (2)"."""
    seen: Counter[str] = Counter()
    found = []
    for name in names:
        seen[name] += 1
        found.append(name if seen[name] == 1 else f"{name} ({seen[name]})")
    return found


def twice_named(names: Sequence[str]) -> str | None:
    """Return the first name that two columns have."""
    numbers = Counter(names)
    return next((name for name in names if numbers[name] > 1), None)
