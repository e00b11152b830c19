"""Columns as numbers: how each is read is decided once for all its cells; counts are checked one by one."""

from __future__ import annotations

import math
from abc import ABC, abstractmethod
from collections.abc import Iterable, Sequence
from decimal import Context, Decimal
from typing import Any

from vantric.core.counts.provenance import Note
from vantric.core.numbers.amounts import Raw
from vantric.core.numbers.parsing import parse_amount, parse_number
from vantric.core.totals.row_sums import Cell, exact_cell
from vantric.errors import AmountError
from vantric.reading.durations import HOURS, UNITS, is_clock, minutes_in
from vantric.reading.headings import is_blank, unit_in
from vantric.reading.number_column import (
    Doubt,
    DoubtError,
    NumberReading,
    chosen,
    code_asks,
    decide,
    doubtful,
    style_note,
    supposition,
    way_on,
)
from vantric.reading.number_style import DigitStyle, read_style
from vantric.reading.settings import CellRules


def checked(value: object, place: str) -> Raw:
    """Return a count that can be added up, or raise `AmountError` naming its place ("record 3")."""
    try:
        return parse_amount(value)
    except ValueError as reason:
        raise bad_amount(place, str(reason)) from None


def bad_amount(
    place: str, reason: str, way_on: str = "", *, free: bool = False, asks: Iterable[tuple[str, object]] = ()
) -> AmountError:
    """Return the error for a count that does not exist, or for a value, free to be negative, that is not a number.

    Parameters
    ----------
    place, reason
        Where, and what is wrong there.
    way_on
        How to fix it, where there is more to say than that a number is wanted.
    asks
        The answers between which the user can choose, as in `VantricError`.
    """
    what, text = ("value", "a number") if free else ("count", "a number of zero or more")
    fix = way_on or f"give {text}"
    return AmountError(f"{place}: the {what} {reason}; {fix}", hint=fix, asks=asks)


def times(amount: Raw, records: int) -> Raw:
    """Return amount x records, exact for integers and for Decimals of any length."""
    if not isinstance(amount, Decimal):
        return amount * records
    # As many digits as the product can have: the default of 28 would round.
    digits = len(amount.as_tuple().digits) + len(str(records))
    return Context(prec=digits).multiply(amount, Decimal(records))


def square(amount: Raw) -> float:
    """Return the square of an amount as a float; infinity beyond what one holds."""
    try:
        return float(amount) * float(amount)
    except OverflowError:  # squares of the largest floats
        return math.inf


def product(item: Raw, other: Raw) -> Raw:
    """Return one amount x another: exact for integers and Decimals of any length, a float if one is."""
    if isinstance(item, float) or isinstance(other, float):
        return float(item) * float(other)
    if isinstance(item, int) and isinstance(other, int):
        return item * other
    digits = sum(len(Decimal(amount).as_tuple().digits) for amount in (item, other))
    return Context(prec=max(digits, 1)).multiply(Decimal(item), Decimal(other))


_MOST_STRAYS = 200  # cells that are no numbers, of a column that is read as numbers


class NumberColumns(ABC):
    """Columns of a source that may be read as numbers.

    Attributes
    ----------
    shown
        What messages call the source; None for data in memory.
    rules
        How cells are read, as the user says.
    delimiter
        What stands between the columns of a text file; empty for other sources.
    """

    shown: str | None = None
    rules: CellRules = CellRules()
    delimiter: str = ""
    _said: tuple[Note, ...] = ()

    @property
    @abstractmethod
    def place(self) -> str:
        """What messages call the source."""

    @abstractmethod
    def groups(self, keys: Sequence[str]) -> list[tuple[Any, ...]]:
        """Return (value of each key, number of records) for every combination of values."""

    @abstractmethod
    def values_in_order(self, column: str, *, numbers: bool = False) -> Iterable[tuple[str, Any]]:
        """Yield (place in words, value) of every record, if the source has an order of records."""

    @property
    def remarks(self) -> tuple[Note, ...]:
        """What there is to say of how it was read, so far."""
        noted = (remark for reading in self._known().values() for remark in reading[1])
        # Several results may note the same of one column.
        return tuple(dict.fromkeys((*self._said, *noted)))

    def remark(self, note: Note) -> None:
        """Note what was decided while the records were counted."""
        if note not in self._said:
            self._said = (*self._said, note)

    def _known(self) -> dict[tuple[str, bool], tuple[NumberReading, tuple[Note, ...]]]:
        """Return the readings of the columns that were decided so far."""
        values: dict[tuple[str, bool], tuple[NumberReading, tuple[Note, ...]]] = self.__dict__.setdefault("_found", {})
        return values

    def number_reading(self, column: str, *, counted: bool = False) -> NumberReading:
        """Return how the text of a column is read as numbers, decided from all its cells.

        Parameters
        ----------
        column
        counted
            Whether the numbers are counts: of two readings the whole one is then supposed.

        Raises
        ------
        AmountError
            If there is none, or several that differ: it names two cells.
        """
        readings = self._known()
        # Counts and values are read apart: 1,234 is a count in one style, a value in two.
        if (column, counted) not in readings:
            readings[column, counted] = self._noted(column, self._decided(column, self._cells(column), counted=counted))
        return readings[column, counted][0]

    def _cells(self, column: str) -> list[str]:
        """Return the different texts of a column."""
        return [value for value, _ in self.groups([column]) if isinstance(value, str) and not is_blank(value)]

    def _style(self) -> DigitStyle | None:
        return None if self.rules.read_numbers is None else read_style(self.rules.read_numbers)

    def _decided(self, column: str, cells: Sequence[str], *, counted: bool) -> NumberReading:
        """Return the reading of cells; what is no number at all is left to whoever needs a number there."""
        left = list(cells)
        while True:
            try:
                return decide(left, digit_style=self._style(), heading=column)
            except DoubtError as doubt:  # cells that say nothing are set aside, and the rest decided
                if doubt.doubt in (Doubt.NO_NUMBER, Doubt.CODE):
                    left = [text for text in left if text.strip() != doubt.cells[0]]
                    if len(cells) - len(left) > _MOST_STRAYS:
                        return NumberReading()
                    continue
                if doubt.doubt is Doubt.AMBIGUOUS:
                    # A file with decimal commas and semicolons leaves no doubt.
                    supposed = chosen(doubt, left, counted=counted, delimiter=self.delimiter)
                    if supposed is not None:
                        return supposed
                raise doubtful(self.place, column, doubt, lambda text: self._place_of(column, text)) from None

    def _noted(self, column: str, reading: NumberReading) -> tuple[NumberReading, tuple[Note, ...]]:
        if reading.supposed:
            return reading, (supposition(self.place, column, reading),)
        return reading, (style_note(self.place, column, reading),) if reading.before and not reading.is_plain else ()

    def _place_of(self, column: str, text: str) -> str:
        texts = (place for place, value in self.values_in_order(column, numbers=True) if str(value).strip() == text)
        return next(texts, "")

    def number(self, column: str, value: Any, *, counted: bool = False) -> Raw | None:
        """Return a cell of a column as a number, None if it stands for none.

        Raises
        ------
        ValueError
            With the reason as its message.
        """
        if is_clock(value):
            return self._minutes(column, value, counted=counted)
        # Typed cells have one reading; only texts have styles.
        if not isinstance(value, str) or is_blank(value):
            return parse_number(value)
        reading = self.number_reading(column, counted=counted)
        if reading.is_plain:
            return parse_number(value)
        decimal = reading.value(value)
        return None if decimal is None else parse_number(decimal)

    def exact_amounts(self, name: str, cells: Sequence[Any], *, counted: bool) -> list[Cell]:
        """Return the cells of a column as exact amounts; what is an amount in words adds up to nothing.

        Raises
        ------
        AmountError
            If the column has no reading.
        """
        is_plain = False
        if any(isinstance(cell, str) and not is_blank(cell) for cell in cells):
            is_plain = self.number_reading(name, counted=counted).is_plain
        amounts: dict[Any, Cell] = {}  # most cells of a long table are alike
        for cell in cells:
            if (type(cell), cell) not in amounts:
                digits = is_plain and isinstance(cell, str) and cell.isascii() and cell.isdigit()
                amounts[type(cell), cell] = int(cell) if digits else self._exact_amount(name, cell, counted=counted)
        return [amounts[type(cell), cell] for cell in cells]

    def _exact_amount(self, name: str, cell: Any, *, counted: bool) -> Cell:
        try:
            number = None if is_blank(cell) else self.number(name, cell, counted=counted)
        except ValueError:
            return None
        return exact_cell(float(number) if isinstance(number, float) else number)

    def _minutes(self, column: str, value: Any, *, counted: bool) -> Raw | None:
        """Return a time or a duration in minutes, and note that."""
        minutes = minutes_in(value)
        text = f"{self.place}: column '{column}': '{value}' was read as {minutes}, in min"
        notes = (Note("read-numbers", text),)
        self._known().setdefault((column, counted), (NumberReading(units=(UNITS[HOURS],)), notes))
        return minutes

    def unit_of(self, column: str) -> str:
        """Return the unit of a column: that of its cells, as far as they were read, or that of its heading."""
        read = next(
            (reading.unit for (name, _), (reading, _) in self._known().items() if name == column and reading.unit), ""
        )
        return read or unit_in(column)[1]

    def _amount(self, column: str, value: Any, *, counted: bool) -> Raw:
        number = self.number(column, value, counted=counted)
        if number is None:
            raise ValueError(f"is missing: '{str(value).strip()}'")
        if number < 0:
            raise ValueError(f"is negative: {value}")
        return number

    def wrong_amount(
        self, column: str, reason: str, labels: Sequence[Any], *, free: bool, counted: bool = False
    ) -> AmountError:
        """Return the error for an amount that cannot be used, naming the first such record if there is an order."""
        where = f"column '{column}'"
        # The engine said that there is such a cell: here is the first one, with its place.
        for place, value in self.values_in_order(column):
            try:
                if not (free and is_blank(value)):
                    _ = self.number(column, value) if free else self._amount(column, value, counted=counted)
            except ValueError as first:
                asks = [("where", _there(column))] if is_blank(value) and self.shown else code_asks(value)
                return bad_amount(
                    f"{self._prefix()}{place}, {where}", str(first), self._way_on(column, value), free=free, asks=asks
                )
        if not labels:
            return bad_amount(f"{self._prefix()}{where}", reason, free=free)
        from vantric.reading.headings import label_text

        label = label_text(labels[0])
        cell = reason.partition(": '")[2].rstrip("'")
        return bad_amount(
            f"{self._prefix()}a record of '{label}', {where}", reason, way_on(cell), free=free, asks=code_asks(cell)
        )

    def _way_on(self, column: str, value: Any) -> str:
        """Return how to go on from a cell that is no amount."""
        if isinstance(value, str | int | float | Decimal) and self._is_negative(column, value):
            out = (
                f"leave such records out with where '{_not_negative(column)}'" if self.shown else "leave its record out"
            )
            return f"give a number of zero or more, or {out}"
        if is_blank(value) and self.shown:
            return f"give a count, or leave such records out with where '{_there(column)}'"
        return way_on(value) if isinstance(value, str) else ""

    def _is_negative(self, column: str, value: Any) -> bool:
        try:
            number = self.number(column, value)
        except ValueError:
            return False
        return number is not None and number < 0

    def _prefix(self) -> str:
        return f"'{self.shown}', " if self.shown else ""


def _not_negative(column: str) -> str:
    """Return the condition that a number is zero or more."""
    name = column.replace('"', '""')
    return f'"{name}" >= 0'


def _there(column: str) -> str:
    """Return the condition that a record has a value in a column."""
    name = column.replace('"', '""')
    return f'"{name}" IS NOT NULL'
