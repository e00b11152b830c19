"""Headings of columns with their units, labels of cells on one line, and cells that hold nothing."""

from __future__ import annotations

import itertools
import re
from collections import Counter
from collections.abc import Iterable, Sequence
from datetime import date, datetime
from decimal import Decimal
from enum import Enum
from typing import Any

from vantric.base.lazily import compiled
from vantric.errors import SourceError
from vantric.reading.number_style import is_number


def is_blank(value: object) -> bool:
    """Whether a cell is missing: null, NaN, empty or blank text."""
    if value is None:
        return True
    if isinstance(value, str):
        return not value.strip()
    if isinstance(value, float):
        return value != value
    if isinstance(value, int):
        return False
    return type(value).__name__ in {"NAType", "NaTType"} or (hasattr(value, "is_nan") and bool(value.is_nan()))


#: Units of measurement as headings write them.
_WRITTEN = """
m mm cm dm km µm um nm in inch inches ft yd mi m2 m² mm2 mm² cm2 cm² km2 km² ha m3 m³ cm3 cm³ dm3 dm³ l L ml mL cl
hl gal g kg mg µg t to lb lbs oz s sec ms µs min mins minutes h hr hrs hours d days wk weeks months years Std
Stunden Min Tage °C °F K C F % ‰ ppm ppb pct percent Prozent € $ £ ¥ EUR USD GBP CHF JPY PLN CZK SEK NOK DKK RUB INR
k€ T€ Mio€ k$ M$ kEUR TEUR MEUR kUSD pcs pc pieces piece units unit Stk Stück St no nos count tiles parts W kW MW
kWh MWh Wh J kJ MJ V kV A mA Hz kHz MHz rpm N kN Nm bar mbar Pa hPa kPa MPa psi dB lx lm mol pH cal kcal px
"""
_UNITS = frozenset(_WRITTEN.split())
#: "Length (mm)", "Length [mm]".
_BEHIND = compiled(r"(?P<name>.*\S)\s*[(\[](?P<unit>[^()\[\]]{1,20})[)\]]")
#: "Length, mm", "Length in mm".
_COMMA = compiled(r"(?P<name>.*\S)\s*(?:,|\bin\b)\s+(?P<unit>[^\s,()\[\]]{1,12})")


def is_unit(text: str) -> bool:
    """Whether a text is a unit that we know, or one over another."""
    parts = [part.strip() for part in re.split(r"/| per ", text.strip())]
    return 1 <= len(parts) <= 2 and all(part in _UNITS for part in parts)


def unit_in(heading: str) -> tuple[str, str]:
    """Return a heading without the unit it names, and the unit; empty if it names none."""
    for form in (_BEHIND, _COMMA):
        match = form.fullmatch(heading)
        if match and is_unit(match["unit"].removeprefix("in ")):
            return match["name"].strip(), match["unit"].removeprefix("in ").strip()
    return heading, ""


def same_name(name: str, other: str) -> bool:
    """Whether two names differ in case and blanks at most."""
    return " ".join(name.split()).casefold() == " ".join(other.split()).casefold()


#: What stands between the labels of a pair.
BETWEEN = " / "


def pair_of(values: Iterable[object]) -> str | None:
    """Return the labels of several columns as one; None if one of them is missing."""
    labels = [label_text(value) for value in values]
    return None if any(label is None or not label.strip() for label in labels) else BETWEEN.join(map(str, labels))


def label_text(value: object) -> str | None:
    """Return a label in plain form; None if it is missing.

    Whole floats lose their point (a column of numbers with a gap arrives as floats), and a time of midnight is a date.
    """
    if type(value) is str:
        return value
    if value is None or type(value).__name__ in {"NAType", "NaTType"}:
        return None
    if isinstance(value, Enum):
        return label_text(value.value)
    if isinstance(value, str):
        return str(value)
    if isinstance(value, list | tuple | dict | set | frozenset):
        raise SourceError(f"a label is text, a number or a date, not a {type(value).__name__}: {str(value)[:40]}")
    if hasattr(value, "item") and getattr(value, "shape", None) == ():
        value = value.item()
    if isinstance(value, float | Decimal):
        return None if value != value else str(value) if isinstance(value, Decimal) else _plain_float(value)
    if isinstance(value, date):
        return _plain_date(value)
    if isinstance(value, bytes):
        return value.decode("utf-8", "backslashreplace")
    return str(value)


def _plain_date(value: date) -> str:
    if not isinstance(value, datetime):
        return value.isoformat()
    midnight = (value.hour, value.minute, value.second, value.microsecond) == (0, 0, 0, 0)
    return value.date().isoformat() if midnight and value.tzinfo is None else value.isoformat(sep=" ")


def _plain_float(value: float) -> str:
    return str(int(value)) if value.is_integer() and abs(value) < 1e16 else repr(value)


#: A heading of such a number is a year.
_YEARS = range(1900, 2101)
#: A heading of such a form is a date.
_DATES = compiled(r"\d{4}-\d{2}(-\d{2})?([ T].*)?|\d{1,2}[./-]\d{1,2}[./-]\d{2,4}")


def one_line_name(cell: Any) -> str:
    """Return a heading on one line: line breaks and doubled spaces are one space."""
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
    values = [cell for cell in cells if is_data(cell)]
    if len(values) < 2:
        return False
    if all(isinstance(cell, date) or (isinstance(cell, str) and _DATES.fullmatch(cell.strip())) for cell in values):
        return len({str(cell) for cell in values}) == len(values)
    try:
        numbers = [float(str(cell)) for cell in values]
    except ValueError:  # a text among them: they are names
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


def names_of_columns(cells: Sequence[Any]) -> list[str]:
    """Return the names of the columns under one row of headings; one without a heading is called by its number."""
    return [one_line_name(cell) or f"column {place}" for place, cell in enumerate(cells, 1)]


def lettered_names(columns: Sequence[int]) -> list[str]:
    """Return the names of columns without headings: A, B, C."""
    return [letters(column) for column in columns]


def letters(column: int) -> str:
    """Return what a sheet calls a column, from 0: A ... Z, AA ..."""
    text, number = "", column + 1
    while number:
        number, rest = divmod(number - 1, 26)
        text = chr(65 + rest) + text
    return text


def distinct_names(names: Sequence[str]) -> list[str]:
    """Return names that all differ: a second one of a name is called "Note (2)"."""
    occurrences: Counter[str] = Counter()
    texts = []
    for name in names:
        occurrences[name] += 1
        texts.append(name if occurrences[name] == 1 else f"{name} ({occurrences[name]})")
    return texts


def twice_named(names: Sequence[str]) -> str | None:
    """Return the first name that two columns have."""
    numbers = Counter(names)
    return next((name for name in names if numbers[name] > 1), None)


#: As they are compared: without case and blanks at the ends.
DITTO_MARKS = (
    *('"', "''", "´´", "``", "〃", "″", "“", "”", "„", "«", "»", '" "', '"" ""', '"-"', '- " -', '-"-', '—"—', '–"–'),
    *("'''", "“ “", "” ”", '""', "〃〃", '" " "', "-〃-"),
    *("ditto", "dito", "do.", "dto.", "idem", "ídem", "id.", "same as above", "as above", "see above"),
    *("wie oben", "siehe oben", "w.o.", "comme ci-dessus", "voir ci-dessus", "como arriba"),
    *("come sopra", "zie boven", "jw.", "j.w.", "viz výše", "то же", "тоже самое", "то же самое", "同上", "上同"),
    *("위와 같음", "(ditto)", "(dito)", "(idem)", "dº"),
)
_MARKS = frozenset(DITTO_MARKS)


def is_ditto(label: str | None) -> bool:
    """Whether a label is a mark or a word that repeats the label above."""
    return label is not None and label.strip().casefold() in _MARKS
