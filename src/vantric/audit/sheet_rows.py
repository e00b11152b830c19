"""The table of a source as a sheet made elsewhere: its rows as they are."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from vantric.audit.column_roles import Found, SheetColumn, find_columns, stated_numbers
from vantric.audit.numbers_part import numbers_of
from vantric.audit.sheets import SheetTable
from vantric.audit.table_part import Cells, sheet_table
from vantric.engines.opening import with_records
from vantric.errors import AmountError
from vantric.reading.blanks_part import is_blank
from vantric.reading.number_style import read_style
from vantric.reading.records import Records
from vantric.reading.settings import Opening

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


def sheet_of(data: Any, by: str, count: str, percent: str | None, cumulative: str | None, opening: Opening) -> RawSheet:
    """Return a sheet by the names of its columns; rows without a label and a count are passed over.

    Raises
    ------
    SourceError, ColumnError, AmountError
        If it cannot be read, lacks a column, or has a row with a label and no frequency that is a number.
    """
    wanted = [name for name in (by, count, percent, cumulative) if name is not None]

    def work(records: Records) -> RawSheet:
        columns, rows = _columns(records, wanted, count=count)
        _check_counts(records, columns[1], columns[0], rows)
        at = {name: place for place, name in enumerate(wanted)}
        found = Found(0, 1, None if percent is None else at[percent], None if cumulative is None else at[cumulative])
        return _raw(records, sheet_table(columns, found, rows), columns, found, rows)

    return with_records(data, opening, wanted, work)


def found_sheet(data: Any, opening: Opening, by: str | None = None, count: str | None = None) -> RawSheet | None:
    """Return a sheet whose columns are found by their headings and cells; None where there is nothing to check."""
    asked = [name for name in (by, count) if name is not None]

    def work(records: Records) -> RawSheet | None:
        if not records.is_short(_MOST_LOOKED) and len(records.head(_MOST_LOOKED + 1)) > _MOST_LOOKED:
            return None
        names = list(records.names())
        columns, rows = _columns(records, names, count=count)
        seen = [_seen(one) for one in columns]
        found = find_columns(seen)
        if found is None:
            return None
        places = (found.by if by is None else names.index(by), found.count if count is None else names.index(count))
        if places[1] in (found.percent, found.cumulative, found.running):
            return None
        chosen = Found(*places, found.percent, found.cumulative, found.running)
        table = replace(sheet_table(columns, chosen, rows), stated=stated_numbers(seen, found))
        return _raw(records, table, columns, chosen, rows)

    return with_records(data, opening, asked, work)


def _raw(records: Records, table: SheetTable, columns: Sequence[Cells], found: Found, rows: Sequence[str]) -> RawSheet:
    kinds = {"count": found.count, "percent": found.percent, "cumulative": found.cumulative, "running": found.running}
    named = tuple((kind, columns[at].name) for kind, at in kinds.items() if at is not None)
    head = tuple(tuple(row) for row in records.head(_MOST))
    return RawSheet(table, tuple(records.names()), head, tuple(rows), named, records.delimiter)


def _seen(one: Cells) -> SheetColumn:
    texts = tuple(one.text(at) for at in range(len(one.raw)))
    percents = sum("%" in text for text in texts) * 2 > len(texts)
    return SheetColumn(one.name, tuple(one.values), texts, percents)


def _columns(records: Records, names: Sequence[str], *, count: str | None) -> tuple[list[Cells], list[str]]:
    places = list(records.names())
    head = records.head(_MOST)
    said = None if records.rules.read_numbers is None else read_style(records.rules.read_numbers)
    columns = []
    for name in names:
        raw = [row[places.index(name)] for row in head]
        columns.append(Cells(name, raw, numbers_of(raw, heading=name, whole=name == count, said=said)))
    placed = [place for place, _ in records.values_in_order(names[0], numbers=True)]
    return columns, [placed[at] if at < len(placed) else f"record {at + 1}" for at in range(len(head))]


def _check_counts(records: Records, counts: Cells, labels: Cells, rows: Sequence[str]) -> None:
    """Raise `AmountError` for the first row with a label whose frequency is no number."""
    for at, value in enumerate(counts.values):
        if value is not None or (is_blank(labels.raw[at]) and is_blank(counts.raw[at])):
            continue
        where = f"{records.place}, {rows[at]}, column '{counts.name}'"
        if is_blank(counts.raw[at]):
            raise AmountError(f"{where} is empty; give the frequency of every row")
        raise AmountError(f"{where} is not a number: '{counts.text(at)}'; give the frequency of every row")
