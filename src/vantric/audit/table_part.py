"""A sheet of columns of cells, whatever they were read from."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from vantric.audit.column_roles import Found
from vantric.audit.sheets import KINDS, Kind, SheetCell, SheetRow, SheetTable
from vantric.core.counts.total_labels import is_strong
from vantric.reading.blanks_part import is_blank
from vantric.reading.headings import label_text


@dataclass(frozen=True)
class Cells:
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

    def text(self, at: int) -> str:
        """Return a cell as it is written."""
        cell = self.raw[at]
        return "" if cell is None else cell if isinstance(cell, str) else repr(cell)


def sheet_table(
    columns: Sequence[Cells],
    found: Found,
    rows: Sequence[str],
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
    found
        Which of them are which.
    rows
        What each row is called: ``"row 5"``.
    where
        What messages call the sheet.
    place, why, adds
        Return, of a row and a column, where the cell is, what its formula does wrong, and whether it adds up others.
    """
    places = (found.percent, found.cumulative, found.running)
    kinds: dict[Kind, int] = {kind: at for kind, at in zip(KINDS, places, strict=True) if at is not None}
    made = []
    for row, name in enumerate(rows):
        label = label_text(columns[found.by].raw[row]) or ""
        others = tuple(label_text(columns[at].raw[row]) or "" for at in found.texts)
        total = next((text for text in others if is_strong(text)), "")
        if total and not is_strong(label):  # "Kiln 1 total" beside a blank defect
            label = total
        count = columns[found.count].values[row]
        if not label.strip() and count is None:
            continue
        cells = {
            kind: _cell(columns[at], row, place(row, at) if place else name, why(row, at) if why else "")
            for kind, at in kinds.items()
        }
        adding = bool(adds and adds(row, found.count))
        made.append(SheetRow(name, label, count, **cells, adds=adding, group=others))
    headings = tuple((kind, columns[at].name) for kind, at in kinds.items())
    return SheetTable(tuple(made), where, columns[found.by].name, headings)


def _cell(column: Cells, row: int, place: str, why: str) -> SheetCell | None:
    raw = column.raw[row]
    if isinstance(raw, str) and raw.startswith("#"):  # a formula that failed
        return SheetCell(place, raw, None, why)
    if raw is None and why:  # a formula that cannot be worked out
        return SheetCell(place, "", None, why)
    if is_blank(raw) or (isinstance(raw, str) and raw.strip() in {"-", "–", "—"}):
        return None
    return SheetCell(place, column.text(row), column.values[row], why)
