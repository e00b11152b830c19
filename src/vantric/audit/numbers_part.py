"""The cells of a column of a sheet as numbers: what cannot be read stays text, and nothing is asked."""

from __future__ import annotations

import math
from collections.abc import Sequence
from decimal import Decimal
from fractions import Fraction
from typing import Any

from vantric.core.review.finding import says_percent, says_running
from vantric.reading.blanks_part import is_blank
from vantric.reading.number_column import Doubt, DoubtError, NumberReading, decide
from vantric.reading.number_style import Style, cell_of

_MOST_PERCENT, _LEAST_END, _MOST_STRAYS = 150, 99, 20


def numbers_of(
    cells: Sequence[Any], *, heading: str = "", whole: bool = False, said: Style | None = None
) -> list[Fraction | None]:
    """Return the number of each cell; None where it holds none.

    Parameters
    ----------
    cells
        As the source holds them: texts, numbers, None.
    heading
        What the column is called: of two readings that of percents is the one below 150.
    whole
        Whether they are counts: of two readings the whole one is taken.
    said
        How they are written, if the user says so.
    """
    texts = [cell for cell in cells if isinstance(cell, str) and not is_blank(cell)]
    counted = whole or not (says_percent(heading) or says_running(heading))
    sums = says_running(heading) and not says_percent(heading)
    reading = _reading(texts, whole=counted, sums=sums, said=said)
    return [_number(cell, reading) for cell in cells]


def _reading(texts: Sequence[str], *, whole: bool, sums: bool, said: Style | None) -> NumberReading:
    left = [text for text in texts if cell_of(text) is not None]
    if 2 * len(left) < len(texts):
        return NumberReading()
    strays = 0
    while True:
        try:
            return decide(left, said=said)
        except DoubtError as doubt:
            if doubt.doubt is Doubt.AMBIGUOUS and doubt.styles:
                return _likelier([NumberReading(style) for style in doubt.styles], left, whole=whole, sums=sums)
            odd = [text for text in left if text.strip() != doubt.cells[-1]] if doubt.cells else []
            strays += 1
            if len(odd) in (0, len(left)) or strays > _MOST_STRAYS:
                return NumberReading()
            left = odd


def _likelier(readings: Sequence[NumberReading], texts: Sequence[str], *, whole: bool, sums: bool) -> NumberReading:
    def fits(reading: NumberReading) -> tuple[int, int]:
        values = [value for text in texts if (value := _number(text, reading)) is not None]
        are_whole = sum(value.denominator == 1 for value in values)
        if whole:
            return are_whole, 0
        return sum(abs(value) <= _MOST_PERCENT for value in values), are_whole

    small = max(readings, key=fits)
    if sums and max((_number(text, small) or Fraction() for text in texts), default=Fraction()) < _LEAST_END:
        return max(readings, key=lambda one: -fits(one)[0])  # running counts of 1,200 ... 2,400, and no percents
    return small


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
