"""The table of a source as a sheet made elsewhere: its rows as they are; what cannot be read as a number stays text."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from decimal import Decimal
from fractions import Fraction
from typing import Any

from vantric.audit.column_roles import (
    FoundColumns,
    SheetColumn,
    find_columns,
    label_column,
    row_labels,
    section_starts,
    stated_numbers,
)
from vantric.audit.relations import StatedSheet
from vantric.audit.sheets import KINDS, Kind, SheetCell, SheetRow, SheetTable
from vantric.base.lazily import dataclass
from vantric.core.counts.provenance import Note
from vantric.core.review.finding import says_percent, says_running
from vantric.core.totals.label_kinds import is_strong
from vantric.engines.opening import with_records
from vantric.errors import AmountError, VantricError
from vantric.reading.headings import is_blank
from vantric.reading.number_column import Doubt, DoubtError, NumberReading, decide
from vantric.reading.number_style import DigitStyle, cell_of, read_style
from vantric.reading.records import Records
from vantric.reading.settings import ReadSettings

#: Percents up to 150 are possible where bases differ; running sums end at 99 or more; stray texts are few.
_MOST_PERCENT, _LEAST_END, _MOST_STRAYS = 150, 99, 20
_BEYOND_FLOATS = 10**300  # a number that no sheet has, and no float holds


def numbers_of(
    cells: Sequence[Any], *, heading: str = "", whole: bool = False, style: DigitStyle | None = None
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
    style
        How they are written, if the user says so.
    """
    texts = [cell for cell in cells if isinstance(cell, str) and not is_blank(cell)]
    counted = whole or not (says_percent(heading) or says_running(heading))
    sums = says_running(heading) and not says_percent(heading)
    reading = _reading(texts, whole=counted, sums=sums, digit_style=style)
    numbers = {text: _of_text(text, reading) for text in dict.fromkeys(texts)}
    return [numbers.get(cell) if isinstance(cell, str) else _number(cell, reading) for cell in cells]


def _reading(texts: Sequence[str], *, whole: bool, sums: bool, digit_style: DigitStyle | None) -> NumberReading:
    numbers = {text for text in set(texts) if cell_of(text) is not None}
    left = [text for text in texts if text in numbers]
    if 2 * len(left) < len(texts):
        return NumberReading()
    strays = 0
    while True:
        try:
            return decide(left, digit_style=digit_style)
        except DoubtError as doubt:  # a stray text in the column: try again without it
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
    # Running percents end at 100; what ends far below it in one reading is thousands in the other.
    if sums and max((_number(text, small) or Fraction() for text in texts), default=Fraction()) < _LEAST_END:
        return max(
            readings, key=lambda reading: -fits(reading)[0]
        )  # running counts of 1,200 ... 2,400, and no percents
    return small


def _number(cell: Any, reading: NumberReading) -> Fraction | None:
    if isinstance(cell, bool) or cell is None:
        return None
    if isinstance(cell, str):
        return None if is_blank(cell) else _of_text(cell, reading)
    if isinstance(cell, Decimal) and not cell.is_finite():
        return None
    if isinstance(cell, int | float | Decimal | Fraction):
        return _as_written(cell) if -_BEYOND_FLOATS < cell < _BEYOND_FLOATS else None
    try:
        return _number(float(cell), reading)
    except (TypeError, ValueError):  # any other type of a library is no number
        return None


def _as_written(number: float | Decimal | Fraction) -> Fraction:
    """Return a number exactly; a float as it is written: of 0.1 a tenth."""
    if not isinstance(number, float):
        return Fraction(number)
    numerator, denominator = Decimal(float.__repr__(number)).as_integer_ratio()
    return Fraction(numerator, denominator)


def _of_text(text: str, reading: NumberReading) -> Fraction | None:
    bare = text.rstrip("% ").strip()
    if not (reading.style.clock or reading.dashes) and cell_of(bare) is None:
        return None  # a label: no style reads it
    for number_reading in (
        reading,
        NumberReading(DigitStyle("", ".")),
        NumberReading(DigitStyle("", ",")),
        NumberReading(units=("%",)),
    ):
        try:
            value = number_reading.value(bare if number_reading is not reading else text)
        except ValueError:  # the next style may read it
            continue
        return None if value is None or abs(value) >= _BEYOND_FLOATS else Fraction(value)
    return None


@dataclass(frozen=True)
class ColumnCells:
    """One column as it was read.

    Attributes
    ----------
    name
        Its heading.
    raw
        A cell a row.
    values
        The number of each.
    """

    name: str
    raw: Sequence[Any]
    values: Sequence[Fraction | None]

    def text(self, index: int) -> str:
        """Return a cell as it is written."""
        cell = self.raw[index]
        return "" if cell is None else cell if isinstance(cell, str) else repr(cell)

    def seen(self, *, percents: bool | None = None) -> SheetColumn:
        """Return it as the search for roles sees it; whether it shows percents is told by its cells, if not said."""
        texts = tuple(map(self.text, range(len(self.raw))))
        signs = sum("%" in text for text in texts) * 2 > len(texts)
        return SheetColumn(self.name, tuple(self.values), texts, signs if percents is None else percents)


def sheet_table(
    columns: Sequence[ColumnCells],
    found_columns: FoundColumns,
    rows: Sequence[str],
    starts: frozenset[int],
    *,
    where: str = "",
    place: Callable[[int, int], str] | None = None,
    why: Callable[[int, int], str] | None = None,
    adds: Callable[[int, int], bool] | None = None,
) -> SheetTable:
    """Return a sheet.

    Parameters
    ----------
    columns
        All of one length.
    found_columns
        Which of them are which.
    rows
        What each row is called: ``"row 5"``.
    starts
        The places of rows at which a section begins.
    where
        What messages call the sheet.
    place, why, adds
        Return, of a row and a column, where the cell is, what its formula does wrong, and whether it adds up others.
    """
    places = (found_columns.percent, found_columns.cumulative, found_columns.running)
    kinds: dict[Kind, int] = {kind: index for kind, index in zip(KINDS, places, strict=True) if index is not None}
    sheet_rows = []
    labels = row_labels([column.raw for column in columns], starts, found_columns.by, found_columns.texts)
    for row, name in enumerate(rows):
        label, group, borrowed = labels[row]
        count = columns[found_columns.count].values[row]
        if not label.strip() and count is None:
            continue
        cells = {
            kind: _cell(columns[index], row, place(row, index) if place else name, why(row, index) if why else "")
            for kind, index in kinds.items()
        }
        adding = bool(adds and adds(row, found_columns.count))
        sheet_rows.append(SheetRow(name, label, count, **cells, adds=adding, group=group, borrowed=borrowed))
    headings = tuple((kind, columns[index].name) for kind, index in kinds.items())
    return SheetTable(tuple(sheet_rows), where, columns[found_columns.by].name, headings)


def _cell(column: ColumnCells, row: int, place: str, why: str) -> SheetCell | None:
    raw = column.raw[row]
    if isinstance(raw, str) and raw.startswith("#"):  # a formula that failed
        return SheetCell(place, raw, None, why)
    if raw is None and why:  # a formula that cannot be worked out
        return SheetCell(place, "", None, why)
    if is_blank(raw) or (isinstance(raw, str) and raw.strip() in {"-", "–", "—"}):
        return None
    return SheetCell(place, column.text(row), column.values[row], why)


#: A sheet of more rows is a log, and is counted instead.
_MOST = 100_000
_MOST_LOOKED = 20_000  # rows of a table in which columns are looked for: what is longer is a log


@dataclass(frozen=True)
class RawSheet:
    """A sheet as its source holds it, and as it is checked.

    Attributes
    ----------
    table
    names
        The headings of all columns.
    rows
        Every row, a cell a column.
    places
        What each row is called.
    columns
        Kind of column -> its heading.
    delimiter
        Of a text file; empty for other sources.
    """

    table: SheetTable
    names: tuple[str, ...]
    rows: tuple[tuple[Any, ...], ...]
    places: tuple[str, ...]
    columns: tuple[tuple[str, str], ...]
    delimiter: str = ""


def sheet_of(
    data: Any, by: str, count: str, percent: str | None, cumulative: str | None, opening: ReadSettings
) -> RawSheet:
    """Return a sheet by the names of its columns; rows without a label and a count are passed over.

    Raises
    ------
    SourceError, ColumnError, AmountError
        If it cannot be read, lacks a column, or has a row with a label and no frequency that is a number.
    """
    names = [name for name in (by, count, percent, cumulative) if name is not None]

    def work(records: Records) -> RawSheet:
        columns, rows = _columns(records, names, count=count)
        _check_counts(records, columns[1], columns[0], rows)
        places = {name: place for place, name in enumerate(names)}
        found_columns = FoundColumns(
            0, 1, None if percent is None else places[percent], None if cumulative is None else places[cumulative]
        )
        return _raw(
            records,
            sheet_table(columns, found_columns, rows, section_starts(rows, records.remarks)),
            columns,
            found_columns,
            rows,
        )

    return with_records(data, opening, names, work)


def found_sheet(data: Any, opening: ReadSettings, by: str | None = None, count: str | None = None) -> RawSheet | None:
    """Return a sheet whose columns are found by their headings and cells; None where there is nothing to check."""
    texts = [name for name in (by, count) if name is not None]

    def work(records: Records) -> RawSheet | None:
        if not records.is_short(_MOST_LOOKED) and len(records.head(_MOST_LOOKED + 1)) > _MOST_LOOKED:
            return None
        names = list(records.names())
        columns, rows = _columns(records, names, count=count)
        sheet_columns = [column.seen() for column in columns]
        found_columns = find_columns(sheet_columns)
        if found_columns is None:
            return None
        places = (
            found_columns.by if by is None else names.index(by),
            found_columns.count if count is None else names.index(count),
        )
        # The user took a column of percents for the counts: then there is nothing to check them by.
        if places[1] in (found_columns.percent, found_columns.cumulative, found_columns.running):
            return None
        others = tuple(index for index in found_columns.texts if index != places[0])
        chosen_columns = replace(found_columns, by=places[0], count=places[1], texts=others)
        table = replace(
            sheet_table(columns, chosen_columns, rows, section_starts(rows, records.remarks)),
            stated=stated_numbers(sheet_columns, found_columns),
        )
        return _raw(records, table, columns, chosen_columns, rows)

    return with_records(data, opening, texts, work)


#: A code for what is not known, and by how much it is beyond what is there.
_CODES, _BEYOND, _FEWEST_AMOUNTS = (999, 9_999, 99_999, 999_999), 5, 10


def code_amounts(data: Any, opening: ReadSettings) -> list[Note]:
    """Return columns of a log whose largest amounts are codes: 9999 where all others are below 100."""

    def work(records: Records) -> list[Note]:
        if not records.is_short(_MOST_LOOKED):
            return []
        columns, _ = _columns(records, list(records.names()), count=None)
        notes = []
        for column in columns:
            values = [value for value in column.values if value is not None]
            most = max(values, default=None)
            highest = next((code for code in _CODES if code == most), None)
            below = [value for value in values if value != highest]
            if highest is None or len(below) < _FEWEST_AMOUNTS or _BEYOND * max(below) > highest:
                continue
            times = "once" if len(values) - len(below) == 1 else f"{len(values) - len(below)} times"
            what = (
                f"'{column.name}' says {highest:,} {times}, and at most {float(max(below)):,g} elsewhere: a code for "
                "what is not known?"
            )
            fix = f'if it is, leave these records out: where="{column.name} < {highest}"'
            notes.append(Note("code-amount", what, "warning", fix))
        return notes

    try:
        return with_records(data, opening, [], work)
    except VantricError:  # what cannot be read is said when it is counted
        return []


#: Rows of a table in which a label may repeat, as suppliers do beside items; more of them are a log.
_SHORT = 9


def stated_sheet(data: Any, opening: ReadSettings) -> StatedSheet | None:
    """Return a source as a sheet of a row a label, whose columns may state relations; None of a log."""

    def work(records: Records) -> StatedSheet | None:
        if not records.is_short(_MOST_LOOKED) and len(records.head(_MOST_LOOKED + 1)) > _MOST_LOOKED:
            return None
        columns, rows = _columns(records, list(records.names()), count=None)
        return labeled_sheet(
            [column.seen() for column in columns],
            [column.raw for column in columns],
            rows,
            section_starts(rows, records.remarks),
        )

    return with_records(data, opening, [], work)


def labeled_sheet(
    columns: Sequence[SheetColumn],
    raw: Sequence[Sequence[Any]],
    rows: Sequence[str],
    starts: frozenset[int],
    *,
    where: str = "",
    cell: Callable[[int, int], str] | None = None,
) -> StatedSheet | None:
    """Return columns as a sheet of a row a label, or None: a log has labels that repeat.

    A label is that of the first column of text, or of a first column of numbers that only name the rows. Beside it no
    other column of text may repeat its labels over more than a few rows.
    """
    size = len(rows)
    filled = [place for place, column in enumerate(columns) if 2 * column.filled >= size and not column.is_text]
    texts = [place for place, column in enumerate(columns) if column.is_text]
    by, groups = label_column(columns, raw, starts, texts)
    numbers = [place for place in filled if place != by]
    if size < 2 or not numbers:
        return None
    labels = row_labels(raw, starts, by, groups)
    named = [(label.text.strip(), label.group) for label in labels if label.text.strip() and not is_strong(label.text)]
    if len(named) < 2 or len(set(named)) < len(named) or 2 * len(named) < size:
        return None
    for place in set(texts) - {by, *groups}:
        others = [text for text in columns[place].texts if text.strip()]
        if size > _SHORT and 2 * len(set(others)) <= len(others) and max(map(len, others)) > 1:
            return None
    classes = tuple(columns[place] for place in texts if place not in (by, *groups))
    cell_place = None if cell is None else lambda row, column: cell(row, numbers[column])
    numeric = tuple(columns[place] for place in numbers)
    return StatedSheet(
        columns[by].name,
        tuple(label.text for label in labels),
        tuple(rows),
        numeric,
        classes,
        where,
        cell_place,
        tuple(label.group for label in labels),
        tuple(label.borrowed for label in labels),
    )


def _raw(
    records: Records,
    table: SheetTable,
    columns: Sequence[ColumnCells],
    found_columns: FoundColumns,
    rows: Sequence[str],
) -> RawSheet:
    kinds = {
        "count": found_columns.count,
        "percent": found_columns.percent,
        "cumulative": found_columns.cumulative,
        "running": found_columns.running,
    }
    named = tuple((kind, columns[index].name) for kind, index in kinds.items() if index is not None)
    head = tuple(tuple(row) for row in records.head(_MOST))
    return RawSheet(table, tuple(records.names()), head, tuple(rows), named, records.delimiter)


def _columns(records: Records, names: Sequence[str], *, count: str | None) -> tuple[list[ColumnCells], list[str]]:
    places = list(records.names())
    head = records.head(_MOST)
    style = None if records.rules.read_numbers is None else read_style(records.rules.read_numbers)
    columns = []
    for name in names:
        raw = [row[places.index(name)] for row in head]
        columns.append(ColumnCells(name, raw, numbers_of(raw, heading=name, whole=name == count, style=style)))
    placed = [place for place, _ in records.values_in_order(names[0], numbers=True)]
    return columns, [placed[index] if index < len(placed) else f"record {index + 1}" for index in range(len(head))]


def _check_counts(records: Records, counts: ColumnCells, labels: ColumnCells, rows: Sequence[str]) -> None:
    """Raise `AmountError` for the first row with a label whose frequency is no number."""
    for index, value in enumerate(counts.values):
        if value is not None or (is_blank(labels.raw[index]) and is_blank(counts.raw[index])):
            continue
        where = f"{records.place}, {rows[index]}, column '{counts.name}'"
        if is_blank(counts.raw[index]):
            raise AmountError(f"{where} is empty; give the frequency of every row")
        raise AmountError(f"{where} is not a number: '{counts.text(index)}'; give the frequency of every row")
