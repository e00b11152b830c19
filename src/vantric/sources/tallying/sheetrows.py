"""The cells of a Pareto sheet made elsewhere, row by row as they are."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

from vantric.core.reviewing import SheetRow
from vantric.errors import AmountError
from vantric.sources.engines.opening import with_records
from vantric.sources.options import Opening
from vantric.sources.reading.blanks import is_blank
from vantric.sources.reading.labels import label_text
from vantric.sources.reading.records import Records

_MOST = 100_000


def sheet_rows(
    data: Any, by: str, count: str, percent: str | None, cumulative: str | None, opening: Opening
) -> list[SheetRow]:  # fmt: skip
    """Return the rows of a sheet in their order; rows without a label and a count are passed over.

    Raises
    ------
    SourceError, ColumnError, AmountError
        If it cannot be read, lacks a column, or holds a cell that is not a number: with its row.
    """
    wanted = [name for name in (by, count, percent, cumulative) if name is not None]
    return with_records(data, opening, wanted, lambda records: _rows(records, by, count, percent, cumulative))


def _rows(records: Records, by: str, count: str, percent: str | None, cumulative: str | None) -> list[SheetRow]:
    at = {name: place for place, name in enumerate(records.names())}
    places = (place for place, _ in records.values_in_order(count, numbers=True))
    found = []
    for number, (row, place) in enumerate(zip(records.head(_MOST), places, strict=False), start=1):
        where = place or f"record {number}"
        if is_blank(row[at[by]]) and is_blank(row[at[count]]):
            continue
        amount = _number(records, count, row[at[count]], f"{records.place}, {where}, column '{count}'")
        if amount is None:
            raise AmountError(f"{records.place}, {where}, column '{count}' is empty; give the frequency of every row")
        cells: dict[str, Any] = {}
        for name, column in (("percent", percent), ("cumulative", cumulative)):
            cell = None if column is None else row[at[column]]
            cells[name] = _number(records, column, cell, f"{records.place}, {where}, column '{column}'")
            cells[f"{name}_text"] = "" if cell is None else _written(cell)
        found.append(SheetRow(where, label_text(row[at[by]]) or "", amount, **cells))
    return found


def _written(cell: Any) -> str:
    return cell if isinstance(cell, str) else repr(cell)


def _number(records: Records, column: str | None, cell: Any, where: str) -> Fraction | None:
    if column is None or is_blank(cell):
        return None
    try:
        found = records.number(column, cell, counted=True)
    except ValueError as reason:
        raise AmountError(f"{where} {reason}; write it as 38.1") from None
    return None if found is None else Fraction(found)
