"""Sheets as people make them: titles, merged cells, subtotals, percents, two rows of headings, currencies, dates."""

from __future__ import annotations

import io
from collections.abc import Callable, Sequence
from datetime import date, datetime
from random import Random
from typing import Any

from vantric.base.safe_files import without_times

_MADE = datetime(2026, 4, 1)
_DEFECTS = ("Pinhole", "Edge chip", "Warping", "Glaze crawl", "Shade variation", "Press crack")
_KILNS = ("Kiln 1", "Kiln 2", "Kiln 3")
_COSTS = (
    ("Riß", 410.0),
    ("Verzug", 655.5),
    ("Nadelstich", 1284.75),
    ("Kantenschaden", 940.25),
    ("Farbabweichung", 388.0),
    ("Glasurfehler", 1730.4),
    ("Pressfehler", 212.6),
    ("Kratzer", 96.9),
)


def kiln_sheets(dice: Random) -> bytes:
    """Return a workbook with a cover and a sheet a month: kilns merged, subtotals, shares in percent, a hidden row."""

    def fill(book: Any) -> None:
        cover = book.worksheets[0]
        cover.title = "Cover"
        cover["B3"], cover["B4"] = "Orrinvale Tileworks", "Defects by kiln, pieces"
        for name in ("January", "February", "March"):
            _month(book.create_sheet(name), name, dice)

    return made_book(fill)


def _month(page: Any, name: str, dice: Random) -> None:
    counts = {
        kiln: [round(20 + 180 * dice.random() / (place + 1)) for place in range(len(_DEFECTS))] for kiln in _KILNS
    }
    total = sum(map(sum, counts.values()))
    page.append([f"Defects by kiln, {name} 2026"])
    page.merge_cells("A1:D1")
    page.append([])
    page.append(["Kiln", "Defect", "Pieces", "Share"])
    for kiln, numbers in counts.items():
        top = page.max_row + 1
        for defect, number in zip(_DEFECTS, numbers, strict=True):
            page.append([kiln if page.max_row + 1 == top else None, defect, number, number / total])
        page.merge_cells(start_row=top, end_row=page.max_row, start_column=1, end_column=1)
        page.append([f"{kiln} total", None, sum(numbers), sum(numbers) / total])
    page.append(["Grand total", None, total, 1])
    page.append([])
    page.append(["Source: final inspection, without the repair shift"])
    for row in range(4, page.max_row + 1):
        page.cell(row, 4).number_format = "0.0%"
    page.row_dimensions[6].hidden = True


def scrap_years(dice: Random) -> bytes:
    """Return a workbook with two rows of headings, two years, a currency, and a table of shifts beside."""

    def fill(book: Any) -> None:
        page = book.worksheets[0]
        page.title = "Scrap"
        page.append(["Scrap of the last two years"])
        page.append([])
        page.append([None, 2025, None, 2026, None, None, None, None])
        page.append(["Defect", "Pieces\n(pcs)", "Cost", "Pieces\n(pcs)", "Cost", None, "Shift", "Hours"])
        page.merge_cells("B3:C3")
        page.merge_cells("D3:E3")
        shifts = (("Early", 41), ("Late", 63), ("Night", 88))
        sums = [0.0] * 4
        for place, defect in enumerate(_DEFECTS):
            cells: list[Any] = []
            for _ in range(2):
                pieces = round(300 + 2400 * dice.random() / (place + 1))
                cells += [pieces, round(pieces * (1.2 + dice.random()), 2)]
            sums = [round(before + cell, 2) for before, cell in zip(sums, cells, strict=True)]
            page.append([defect, *cells, None, *(shifts[place] if place < len(shifts) else ())])
        page.append(["Total", *sums])
        for row in range(5, page.max_row + 1):
            for column in (3, 5):
                page.cell(row, column).number_format = '#,##0.00\\ "EUR"'

    return made_book(fill)


def rework_costs(dice: Random) -> bytes:
    """Return a file that a German program saved: titles, decimal commas, a currency, local dates, code page 1252."""
    lines = ["Nacharbeitskosten 2026;;", ";;", "Fehler;Datum;Kosten"]
    total = 0.0
    for name, most in _COSTS:
        for _ in range(3):
            cost = round(most * (0.3 + 1.4 * dice.random()), 2)
            total = round(total + cost, 2)
            day = date(2026, 1 + int(12 * dice.random()), 1 + int(28 * dice.random()))
            lines.append(f"{name};{day:%d/%m/%Y};{_german(cost)}")
    lines += [f"Gesamt;;{_german(total)}", "", "Quelle: Werkstattbuch;;"]
    return "".join(f"{line}\r\n" for line in lines).encode("cp1252")


def _german(amount: float) -> str:
    return f"{amount:,.2f} EUR".translate(str.maketrans(",.", ".,"))


def made_book(fill: Callable[[Any], None]) -> bytes:
    """Return a workbook, the same bytes whenever it is made."""
    from openpyxl import Workbook

    book = Workbook()
    book.properties.creator, book.properties.created, book.properties.modified = "Orrinvale Tileworks", _MADE, _MADE
    fill(book)
    for page in book.worksheets:
        widths: Sequence[int] = (16, 18, 12, 12, 12, 4, 10, 12)
        for column, width in zip("ABCDEFGH", widths, strict=True):
            page.column_dimensions[column].width = width
    out = io.BytesIO()
    book.save(out)
    return without_times(out.getvalue())
