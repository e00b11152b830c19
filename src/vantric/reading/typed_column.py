"""A column of a sheet, whose cells have types: numbers with the units that their formats show, and numbers as text."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from decimal import Decimal
from typing import Any

from vantric.base.lazily import dataclass
from vantric.core.counts.provenance import Note
from vantric.core.messages.message import Remark, Written
from vantric.core.numbers.number_format import counted
from vantric.errors import AmountError
from vantric.reading.durations import HOURS, UNITS, is_clock, minutes_in
from vantric.reading.headings import is_blank, label_text
from vantric.reading.number_column import (
    Doubt,
    DoubtError,
    NumberReading,
    chosen,
    decide,
    doubtful,
    style_note,
    supposition,
)
from vantric.reading.number_style import DigitStyle, FormatText, is_currency, plain_text, same_unit


@dataclass(frozen=True)
class TypedColumn:
    """The cells of a column as numbers.

    Attributes
    ----------
    texts
        A plain number a cell; what is none stays as it is, and a missing cell is empty. None if the labels of the cells
        are just that.
    reading
    remarks
    refused
        Why it cannot be read, at least where its numbers are not counts.
    as_counts
        Whether it can be read as counts even so.
    """

    texts: tuple[str, ...] | None
    reading: NumberReading
    remarks: tuple[Note, ...] = ()
    refused: AmountError | None = None
    as_counts: bool = False


def typed_column(
    cells: Sequence[Any],
    format_texts: Mapping[int, FormatText],
    *,
    place: str,
    name: str,
    rows: Sequence[str],
    style: DigitStyle | None,
) -> TypedColumn | None:
    """Return the numbers of a column; None where no cell has a type: its text is read like that of any source.

    Parameters
    ----------
    cells
    format_texts
        Place in `cells` -> what is seen around the number there.
    place, name
        What messages call the sheet and the column.
    rows
        Where each cell is, in words.
    style
        The style of text that the user says.
    """
    kinds = set(map(type, cells))
    if any(map(is_clock, cells)):
        return _durations(cells, place, name)
    if not kinds & {int, float}:
        return None
    if (
        not format_texts
        and kinds <= _PLAIN
        and (str not in kinds or all(not cell for cell in cells if type(cell) is str))
    ):
        return TypedColumn(None, NumberReading(), as_counts=True)
    texts = list(dict.fromkeys(cell for cell in cells if isinstance(cell, str) and not is_blank(cell)))

    def locate(text: str) -> str:
        return next((where for where, cell in zip(rows, cells, strict=True) if _seen(cell, None) == text), "")

    refused = None
    try:
        reading = _reading(texts, style)
    except DoubtError as doubt:  # the question is asked only if the column is used
        refused = doubtful(place, name, doubt, locate)
        supposed = chosen(doubt, texts, counted=True, delimiter="") if doubt.doubt is Doubt.AMBIGUOUS else None
        if supposed is None:
            return TypedColumn(
                tuple(_plain(cell, None, NumberReading()) for cell in cells), NumberReading(), refused=refused
            )
        reading = supposed
    remarks: list[Note] = []
    if reading.before:
        remarks.append(supposition(place, name, reading) if reading.supposed else style_note(place, name, reading))
    unit, problem = _unit(cells, format_texts, reading)
    if problem is not None:
        refused = doubtful(place, name, problem, locate)
        return TypedColumn(
            tuple(_plain(cell, None, NumberReading()) for cell in cells), NumberReading(), refused=refused
        )
    remarks += _percents(cells, format_texts, place, name)
    lines = tuple(_plain(cell, format_texts.get(index), reading) for index, cell in enumerate(cells))
    return TypedColumn(lines, NumberReading(units=(unit,) if unit else ()), tuple(remarks), refused, as_counts=True)


def _durations(cells: Sequence[Any], place: str, name: str) -> TypedColumn:
    """Return times and durations in minutes; dates among them are no numbers."""
    minutes = [minutes_in(cell) if is_clock(cell) else None for cell in cells]
    texts = tuple(
        plain_text(amount) if amount is not None else _plain(cell, None, NumberReading())
        for cell, amount in zip(cells, minutes, strict=True)
    )
    first = next(index for index, amount in enumerate(minutes) if amount is not None)
    bare = next((cell for cell in cells if _is_number(cell) and cell), None)
    if bare is not None:
        doubt = DoubtError(Doubt.UNITS, label_text(cells[first]) or "", _seen(bare, None))
        return TypedColumn(texts, NumberReading(), refused=doubtful(place, name, doubt, lambda _: ""))
    note = Note(
        "read-numbers",
        f"{place}: column '{name}': '{label_text(cells[first])}' was read as {texts[first]}, in min",
    )
    return TypedColumn(texts, NumberReading(units=(UNITS[HOURS],)), (note,), as_counts=True)


#: Types of cells that are numbers without more ado, or nothing.
_PLAIN = {int, float, str, type(None)}


def _is_number(cell: Any) -> bool:
    return isinstance(cell, int | float) and not isinstance(cell, bool)


def _reading(texts: Sequence[str], style: DigitStyle | None) -> NumberReading:
    left = list(texts)
    while True:
        try:
            return decide(left, digit_style=style)
        except DoubtError as doubt:  # words among the cells: what is left may have one style
            if doubt.doubt not in (Doubt.NO_NUMBER, Doubt.CODE):
                raise
            left = [text for text in left if text.strip() != doubt.cells[0]]


def _unit(
    cells: Sequence[Any], format_texts: Mapping[int, FormatText], reading: NumberReading
) -> tuple[str, DoubtError | None]:
    """Return the one unit of a column, or why it has none."""
    texts: dict[str, str] = {reading.unit: reading.before} if reading.unit else {}
    bare: dict[str, str] = {}
    for index, cell in enumerate(cells):
        if not _is_number(cell) or cell == 0 or cell != cell:
            continue
        around = format_texts.get(index)
        if around is None:
            bare.setdefault("share" if abs(cell) <= 1 else "other", _seen(cell, None))
        else:
            unit = "%" if around.percent else same_unit((around.before or around.after).strip())
            texts.setdefault(unit, _seen(cell, around))
    if len(texts) > 1:
        return "", DoubtError(Doubt.UNITS, *list(texts.values())[:2])
    unit = next(iter(texts), "")
    # Beside percents a bare number up to 1 is a share; beside kilograms any bare number may be pieces.
    odd = bare.get("share") if unit in ("%", "‰") else None if is_currency(unit) else next(iter(bare.values()), None)
    if unit and odd is not None:
        return "", DoubtError(Doubt.PERCENTS, next(iter(texts.values())), odd)
    return next(iter(texts), ""), None


def _percents(cells: Sequence[Any], format_texts: Mapping[int, FormatText], place: str, name: str) -> list[Note]:
    hits = [index for index, around in format_texts.items() if around.percent and _is_number(cells[index])]
    if not hits:
        return []
    first = cells[hits[0]]
    return [
        Note(
            "percent-cells",
            Remark(
                "{}: {} of '{}' {} shown in percent: {} was read as {}",
                place,
                Written(counted(len(hits), "cell")),
                name,
                "is" if len(hits) == 1 else "are",
                Written(f"{first:.6g}"),
                Written(f"{100 * first:.6g}%"),
            ),
        )
    ]


def _seen(cell: Any, around: FormatText | None) -> str:
    """Return a cell as it is seen."""
    if not _is_number(cell):
        return (label_text(cell) or "").strip()
    exact = Decimal(repr(cell))
    return (around or FormatText()).text(exact) if exact.is_finite() else ""


def _plain(cell: Any, around: FormatText | None, reading: NumberReading) -> str:
    if is_blank(cell):
        return ""
    if _is_number(cell):
        exact = Decimal(repr(cell))
        return plain_text(exact.scaleb(2) if around is not None and around.percent else exact)
    if isinstance(cell, str):
        try:
            value = reading.value(cell)
        except ValueError:  # a text between numbers stays as it is
            return cell
        return "" if value is None else plain_text(value)
    return label_text(cell) or ""


def seen(cell: Any, around: FormatText | None) -> str:
    """Return a cell as a label: as it is seen."""
    kind = type(cell)
    if kind is str:
        return str(cell)
    if kind is float and around is None and cell == cell:  # most cells of a sheet
        return str(int(cell)) if cell.is_integer() and abs(cell) < 1e16 else repr(cell)
    return _seen(cell, around) if around is not None and _is_number(cell) else label_text(cell) or ""
