"""A table that was found in a grid, written as text that the engine reads, each record with its row."""

from __future__ import annotations

import csv
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from vantric.engines.file_parts import Part, ReadColumn, csv_part
from vantric.engines.text_files import Workshop
from vantric.reading.csvfile_part import CsvShape
from vantric.reading.grid import Grid
from vantric.reading.number_style import Style
from vantric.reading.numberformats_part import Shown
from vantric.reading.table_layout import Layout
from vantric.reading.typed_column import TypedColumn, seen, typed_column

_ROW, SHEET = "vantric:row", "sheet"
_COMMA = ","


@dataclass(frozen=True)
class Found:
    """A table and what is said of its cells.

    Attributes
    ----------
    grid, layout
    shown
        (row, column) -> what is seen around the number there.
    sums
        Cells with a formula that adds up others.
    said
        The style of numbers as text, if the user says it.
    """

    grid: Grid
    layout: Layout
    shown: Mapping[tuple[int, int], Shown] = field(default_factory=dict)
    sums: frozenset[tuple[int, int]] = frozenset()
    said: Style | None = None


def table_part(found: Found, shown: str, workshop: Workshop, *, delimiter: str = "", sheet: str | None = None) -> Part:
    """Write a table and return it as a part of a source.

    Parameters
    ----------
    found
    shown
        What messages call the part.
    workshop
        Where it is written.
    delimiter
        Of the text file that it comes from.
    sheet
        The name of the sheet, as a column of its own, where several are read together.
    """
    grid, layout = found.grid, found.layout
    rows = [[grid.cell(row, column) for column in layout.columns] for row in layout.body]
    around = [
        {at: found.shown[row, column] for at, row in enumerate(layout.body) if (row, column) in found.shown}
        if found.shown
        else {}
        for column in layout.columns
    ]
    places = [f"{grid.unit} {grid.number(row)}" for row in layout.body]
    typed: dict[str, TypedColumn] = {}
    for at, name in enumerate(layout.names):
        column = typed_column(
            [row[at] for row in rows], around[at], place=grid.place, name=name, rows=places, said=found.said
        )
        if column is not None:
            typed[name] = column
    numbered = {name: column.texts for name, column in typed.items() if column.texts is not None}
    more = [SHEET] if sheet is not None and SHEET not in layout.names else []
    names = [_ROW, *layout.names, *more, *(f"vantric:number {name}" for name in numbered)]
    target = workshop.new_path(".csv")
    with target.open("w", encoding="utf-8", newline="") as file:
        writer = csv.writer(file, quoting=csv.QUOTE_ALL, lineterminator="\n")
        writer.writerow(names)
        for at, (number, row) in enumerate(zip(layout.body, rows, strict=True)):
            labels = [seen(cell, around[place].get(at)) for place, cell in enumerate(row)]
            numbers = [texts[at] for texts in numbered.values()]
            writer.writerow([grid.number(number), *labels, *([sheet] if more else []), *numbers])
    return _part(found, csv_part(target, shown, CsvShape(_COMMA, tuple(names))), typed, more, delimiter)


def _part(found: Found, part: Part, typed: Mapping[str, TypedColumn], more: Sequence[str], delimiter: str) -> Part:
    grid, layout = found.grid, found.layout
    read = {
        name: ReadColumn(
            part.columns[name if column.texts is None else f"vantric:number {name}"],
            column.reading,
            column.remarks,
            column.refused,
            column.as_counts,
        )
        for name, column in typed.items()
    }
    kept = {name: part.columns[name] for name in (*layout.names, *more)}
    sums: dict[str, frozenset[int]] = {}
    for name, column in zip(layout.names, layout.columns, strict=True):
        sums[name] = frozenset(grid.number(row) for row in layout.body if (row, column) in found.sums)
    return replace(
        part,
        columns=kept,
        kinds={name: part.kinds[name] for name in kept},
        read=read,
        row_column=f"{part.columns[_ROW]}::BIGINT",
        delimiter=delimiter,
        sums=sums,
        unit=grid.unit,
    )
