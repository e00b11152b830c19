"""The cells of a column of a sheet as numbers: what cannot be read stays text, and nothing is asked."""

from __future__ import annotations

import math
from collections.abc import Sequence
from decimal import Decimal
from fractions import Fraction
from typing import Any

from vantric.sources.reading.blanks import is_blank
from vantric.sources.reading.numbercolumn import Doubt, DoubtError, NumberReading, decide
from vantric.sources.reading.numberstyle import Style, cell_of

_MOST_PERCENT, _MOST_STRAYS = 150, 20


def numbers_of(cells: Sequence[Any], *, whole: bool = False, said: Style | None = None) -> list[Fraction | None]:
    """Return the number of each cell; None where it holds none.

    Parameters
    ----------
    cells
        As the source holds them: texts, numbers, None.
    whole
        Whether they are counts: of two readings the whole one is taken, else the one below 150, as percents are.
    said
        How they are written, if the user says so.
    """
    texts = [cell for cell in cells if isinstance(cell, str) and not is_blank(cell)]
    reading = _reading(texts, whole=whole, said=said)
    return [_number(cell, reading) for cell in cells]


def _reading(texts: Sequence[str], *, whole: bool, said: Style | None) -> NumberReading:
    left = [text for text in texts if cell_of(text) is not None]
    if 2 * len(left) < len(texts):
        return NumberReading()
    strays = 0
    while True:
        try:
            return decide(left, said=said)
        except DoubtError as doubt:
            if doubt.doubt is Doubt.AMBIGUOUS and doubt.styles:
                return _likelier([NumberReading(style) for style in doubt.styles], left, whole=whole)
            odd = [text for text in left if text.strip() != doubt.cells[-1]] if doubt.cells else []
            strays += 1
            if len(odd) in (0, len(left)) or strays > _MOST_STRAYS:
                return NumberReading()
            left = odd


def _likelier(readings: Sequence[NumberReading], texts: Sequence[str], *, whole: bool) -> NumberReading:
    def fits(reading: NumberReading) -> int:
        values = [value for text in texts if (value := _number(text, reading)) is not None]
        if whole:
            return sum(value.denominator == 1 for value in values)
        return sum(abs(value) <= _MOST_PERCENT for value in values)

    return max(readings, key=fits)


def _number(cell: Any, reading: NumberReading) -> Fraction | None:
    if isinstance(cell, bool) or cell is None:
        return None
    if isinstance(cell, str):
        return None if is_blank(cell) else _of_text(cell, reading)
    if isinstance(cell, float):
        return Fraction(repr(cell)) if math.isfinite(cell) else None
    if isinstance(cell, int | Decimal | Fraction):
        return Fraction(cell)
    try:
        return Fraction(repr(float(cell)))
    except (TypeError, ValueError):
        return None


def _of_text(text: str, reading: NumberReading) -> Fraction | None:
    for one in (reading, NumberReading(Style("", ".")), NumberReading(Style("", ",")), NumberReading(units=("%",))):
        try:
            value = one.value(text.rstrip("% ").strip() if one is not reading else text)
        except ValueError:
            continue
        return None if value is None else Fraction(value)
    return None
