"""Workbooks as people make them, written by four libraries and by hand: read as a person reads them, or asked about."""

import datetime as dt
import unittest
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import odf.opendocument
import odf.table
import odf.text
import pandas as pd
import polars as pl
import xlsxwriter
from openpyxl import Workbook
from openpyxl.worksheet.worksheet import Worksheet

from tests.reading.corpus import Case, Corpus

AB = {"Pinhole": 12, "Warping": 3}
ROWS = (["Defect", "Qty"], ["Pinhole", 12], ["Warping", 3])
Fill = Callable[[Workbook], Any]


def sheet(
    *rows: Any, formats: dict[str, str] | None = None, merged: tuple[str, ...] = (), hidden: tuple[int, ...] = ()
) -> Fill:
    """Return what fills the first sheet of a book."""

    def fill(book: Workbook) -> None:
        page = book.worksheets[0]
        _write(page, rows)
        for cell, code in (formats or {}).items():
            page[cell].number_format = code
        for block in merged:
            page.merge_cells(block)
        for row in hidden:
            page.row_dimensions[row].hidden = True

    return fill


def _write(page: Worksheet, rows: Any) -> None:
    for number, row in enumerate(rows, 1):
        for column, cell in enumerate(row, 1):
            if cell is not None:
                page.cell(number, column, cell)


def sheets(**pages: Any) -> Fill:
    def fill(book: Workbook) -> None:
        book.remove(book.worksheets[0])
        for name, rows in pages.items():
            _write(book.create_sheet(name), rows)

    return fill


def failed(book: Workbook) -> None:
    sheet(["Defect", "Qty"], ["Pinhole", "#DIV/0!"], ["Warping", 3])(book)
    book.worksheets[0]["B2"].data_type = "e"


PERCENTS = {f"B{row}": "0.0%" for row in (2, 3, 4)}
MONEY = {f"B{row}": '#,##0.00\\ "€"' for row in (2, 3)}
SUM = (["Defect", "Qty"], ["Pinhole", 12], ["Warping", 3], ["Total", "=SUM(B2:B3)"])
CASES = (
    Case(
        "percent cells",
        sheet(["Defect", "Qty"], ["Pinhole", 0.106], ["Warping", 0.2], ["Crack", 0.694], formats=PERCENTS),
        {"Pinhole": 10.6, "Warping": 20, "Crack": 69.4},
        says=("percent-cells",),
    ),
    Case(
        "a percent sign that is text",
        sheet(["Defect", "Qty"], ["Pinhole", 10.6], ["Warping", 20.5], formats={"B2": '0.0"%"', "B3": "0.0\\%"}),
        {"Pinhole": 10.6, "Warping": 20.5},
    ),
    Case(
        "a percent beside a share",
        sheet(["Defect", "Qty"], ["Pinhole", 0.106], ["Warping", 0.2], formats={"B2": "0.0%"}),
        asks="side by side",
    ),
    Case(
        "euros by format",
        sheet(["Defect", "Qty"], ["Pinhole", 1200.5], ["Warping", 3], formats=MONEY),
        {"Pinhole": 1200.5, "Warping": 3},
    ),
    Case(
        "two currencies by format",
        sheet(
            ["Defect", "Qty"],
            ["Pinhole", 1200.5],
            ["Warping", 3],
            formats={"B2": "[$€-407] 0.00", "B3": "[$£-809] 0.00"},
        ),
        asks="different units",
    ),
    Case(
        "numbers as text beside numbers",
        sheet(["Defect", "Qty"], ["Pinhole", "1.234,50"], ["Warping", 3.25]),
        {"Pinhole": 1234.5, "Warping": 3.25},
    ),
    Case(
        "a float with three decimals is no thousands",
        sheet(["Defect", "Qty"], ["Pinhole", 1.234], ["Warping", 3]),
        {"Pinhole": 1.234, "Warping": 3},
    ),
    Case(
        "merged labels",
        sheet(
            ["Line", "Defect", "Qty"],
            ["L1", "Pinhole", 12],
            [None, "Warping", 10],
            ["L2", "Pinhole", 5],
            merged=("A2:A3",),
        ),
        {"L1": 22, "L2": 5},
        by="Line",
    ),
    Case("a merged title", sheet(["Defects", None], *ROWS, merged=("A1:B1",)), AB),
    Case("title rows and a blank one", sheet(["Orrinvale Tileworks"], ["Week 12", "by defect"], [], *ROWS), AB),
    Case("a table that begins at C5", sheet([], [], [], [], *([None, None, *row] for row in ROWS)), AB),
    Case(
        "two rows of headings, merged",
        sheet(
            [None, 2025, None, 2026, None],
            ["Defect", "Qty", "Share", "Qty", "Share"],
            ["Pinhole", 1, 0.1, 12, 0.2],
            ["Warping", 2, 0.2, 3, 0.4],
            merged=("B1:C1", "D1:E1"),
        ),
        AB,
        count="2026 Qty",
    ),
    Case(
        "a label merged over two rows of headings",
        sheet(
            ["Defect", "January", None],
            [None, "Qty", "Cost"],
            ["Pinhole", 12, 1],
            ["Warping", 3, 2],
            merged=("A1:A2", "B1:C1"),
        ),
        AB,
        count="January Qty",
    ),
    Case(
        "a line break in a heading",
        sheet(["Defect", "Qty\n(pcs)"], ["Pinhole", 12], ["Warping", 3]),
        AB,
        count="Qty (pcs)",
    ),
    Case("years as headings", sheet(["Defect", 2025, 2026], ["Pinhole", 1, 12], ["Warping", 2, 3]), AB, count="2026"),
    Case(
        "dates as headings",
        sheet(["Defect", dt.date(2026, 1, 1), dt.date(2026, 2, 1)], ["Pinhole", 5, 7], ["Warping", 1, 2]),
        AB,
        count="2026-01-01:2026-02-01",
    ),
    Case(
        "side by side",
        sheet(
            ["Defect", "Qty", None, "Shift", "Hours"],
            ["Pinhole", 12, None, "Early", 3],
            ["Warping", 3, None, "Late", 4],
            [None, None, None, "Night", 5],
        ),
        AB,
        says=("other-tables",),
    ),
    Case("one below another", sheet(*ROWS, [], ["Shift", "Hours"], ["Early", 3]), AB, says=("other-tables",)),
    Case("two of one shape", sheet(["January"], *ROWS, [], ["February"], *ROWS), asks='2 tables with.*cells="A'),
    Case(
        "by its cells",
        sheet(["January"], *ROWS, [], ["February"], ["Defect", "Qty"], ["Crack", 7]),
        {"Crack": 7},
        options={"cells": "A7:B8"},
    ),
    Case("a filtered row is counted, and said", sheet(*ROWS, hidden=(3,)), AB, says=("hidden-rows",)),
    Case(
        "a filtered row is left out",
        sheet(*ROWS, hidden=(3,)),
        {"Pinhole": 12},
        says=("hidden-rows",),
        options={"visible_only": True},
    ),
    Case("another sheet", sheets(January=ROWS, February=[["Defect", "Qty"], ["Crack", 7]]), AB, says=("other-sheets",)),
    Case(
        "all sheets",
        sheets(Cover=[["Report"]], January=ROWS, February=[["Defect", "Qty"], ["Crack", 7]]),
        {**AB, "Crack": 7},
        says=("sheets-read",),
        options={"sheet": "*"},
    ),
    Case(
        "two sheets by name",
        sheets(January=ROWS, February=[["Defect", "Qty"], ["Crack", 7]], March=[["Defect", "Qty"], ["Crack", 9]]),
        {**AB, "Crack": 7},
        options={"sheet": ("January", "February")},
    ),
    Case(
        "by the sheet it comes from",
        sheets(January=ROWS, February=[["Defect", "Qty"], ["Crack", 7]]),
        {"January": 15, "February": 7},
        by="sheet",
        options={"sheet": "*"},
    ),
    Case("a cover first", sheets(Cover=[["Orrinvale Tileworks"], ["Quality report"]], Data=ROWS), AB),
    Case(
        "the cover itself",
        sheets(Cover=[["Orrinvale Tileworks"], ["Quality report"]], Data=ROWS),
        asks="no column 'Defect'",
        options={"sheet": "Cover"},
    ),
    Case(
        "no sheet has it",
        sheets(Cover=[["Report"]], Data=ROWS),
        asks="no sheet has the columns 'Cause'.*'Data' has Defect, Qty",
        by="Cause",
    ),
    Case(
        "a formula that was never calculated",
        sheet(["Defect", "Qty"], ["Pinhole", "=6*2"], ["Warping", 3]),
        asks="'=6\\*2'; its result was never saved",
    ),
    Case("a formula that failed", failed, asks="'#DIV/0!'; the formula there failed"),
    Case("a total by formula", sheet(*SUM), AB, says=("total-row",)),
    Case(
        "subtotals by formula",
        sheet(
            ["Line", "Defect", "Qty"],
            ["L1", "Pinhole", 7],
            ["L1", "Warping", 2],
            ["L1 total", None, "=SUBTOTAL(9,C2:C3)"],
            ["L2", "Pinhole", 5],
            ["L2 total", None, "=SUBTOTAL(9,C5:C5)"],
            ["Grand total", None, "=SUBTOTAL(9,C2:C5)"],
        ),
        {"Pinhole": 12, "Warping": 2},
        says=("total-row",),
    ),
    Case("a total by value", sheet(*ROWS, ["Grand total", 15]), AB, says=("total-row",)),
    Case("notes below", sheet(*ROWS, [], ["Source: inspection"]), AB, says=("notes-below",)),
    Case(
        "a time of day",
        sheet(["Defect", "Qty"], ["Pinhole", dt.time(1, 30)], ["Warping", dt.time(3, 5)]),
        {"Pinhole": 90, "Warping": 185},
        says=("read-numbers",),
    ),
    Case(
        "months across",
        sheet(["Defect", "Jan", "Feb", "Mar"], ["Pinhole", 5, None, 7], ["Warping", 1, 1, 1]),
        AB,
        count="Jan:Mar",
    ),
)


def write_workbook(frame: Any, path: Path, **options: Any) -> None:
    """Write a workbook with the one method that the frame's library has for it, whatever that is called."""
    [method] = [name for name in dir(frame) if name.startswith(("to_ex", "write_ex"))]
    getattr(frame, method)(path, **options)


class Sheets(Corpus):
    def test_openpyxl(self) -> None:
        def write(case: Case) -> Path:
            book = Workbook()
            case.content(book)
            book.save(self.folder / "book.xlsx")
            return self.folder / "book.xlsx"

        self.read_all(CASES, write)

    def test_xlsxwriter(self) -> None:
        path = self.folder / "book.xlsx"
        with xlsxwriter.Workbook(path) as book:
            page = book.add_worksheet("Log")
            percent = book.add_format({"num_format": "0.0%"})
            page.merge_range("A1:C1", "Defects of January")
            for row, cells in enumerate(
                (["Line", "Defect", "Share"], ["L1", "Pinhole", 0.106], ["", "Warping", 0.894]), 2
            ):
                for column, cell in enumerate(cells):
                    page.write(row, column, cell, percent if column == 2 else None)
            page.merge_range("A4:A5", "L1")
            page.set_row(4, options={"hidden": True})
        self.read(Case("", "", {"L1": 100}, by="Line", count="Share", says=("percent-cells", "hidden-rows")), path)
        self.read(Case("", "", {"Pinhole": 10.6, "Warping": 89.4}, count="Share"), path)

    def test_formulas_that_nobody_calculated(self) -> None:
        path = self.folder / "book.xlsx"
        with xlsxwriter.Workbook(path) as book:
            page = book.add_worksheet()
            page.write_row(0, 0, ["Defect", "Qty"])
            page.write_row(1, 0, ["Pinhole"])
            page.write_formula(1, 1, "=6*2")
        self.read(Case("", "", asks="'=6\\*2'; its result was never saved"), path)
        with xlsxwriter.Workbook(path) as book:
            page = book.add_worksheet()
            page.write_row(0, 0, ["Defect", "Qty"])
            page.write_row(1, 0, ["Pinhole"])
            page.write_formula(1, 1, "=6*2", value=12)
        self.read(Case("", "", {"Pinhole": 12}), path)

    def test_frames_that_libraries_write(self) -> None:
        data = {"Defect": ["Pinhole", "Warping"], "Qty": [12, 3]}
        path = self.folder / "book.xlsx"
        for write in (
            lambda: write_workbook(pd.DataFrame(data), path, index=False),
            lambda: write_workbook(pd.DataFrame(data), path),
            lambda: write_workbook(pd.DataFrame(data), path, index=False, startrow=3, startcol=2),
            lambda: write_workbook(pl.DataFrame(data), path),
        ):
            write()
            self.read(Case("", "", AB), path)

    def test_opendocument(self) -> None:
        table = odf.table
        book = odf.opendocument.OpenDocumentSpreadsheet()
        page = table.Table(name="Log")
        for row in (
            [("Defects", {"numbercolumnsspanned": 3, "numberrowsspanned": 1}), None, None],
            [],
            ["Line", "Defect", "Share"],
            [("L1", {"numbercolumnsspanned": 1, "numberrowsspanned": 2}), "Pinhole", 0.106],
            [None, "Warping", 0.894],
        ):
            line = table.TableRow()
            for cell in row:
                text, more = cell if isinstance(cell, tuple) else (cell, {})
                if isinstance(text, float):
                    made = table.TableCell(valuetype="percentage", value=text, **more)
                    made.addElement(odf.text.P(text=f"{text:.1%}"))
                else:
                    made = table.TableCell(**({"valuetype": "string"} if text else {}), **more)
                    if text:
                        made.addElement(odf.text.P(text=text))
                line.addElement(made)
            page.addElement(line)
        book.spreadsheet.addElement(page)
        book.save(str(self.folder / "book.ods"))
        path = self.folder / "book.ods"
        self.read(Case("", "", {"Pinhole": 10.6, "Warping": 89.4}, count="Share", says=("percent-cells",)), path)
        self.read(Case("", "", {"L1": 100}, by="Line", count="Share"), path)
        frame = pd.DataFrame({"Defect": ["Pinhole", "Warping", "Total"], "Qty": [12, 3, 15]})
        write_workbook(frame, self.folder / "p.ods", engine="odf", index=False)
        self.read(Case("", "", AB, says=("total-row",)), self.folder / "p.ods")

    def test_written_by_hand(self) -> None:
        """As some programs write: prefixes, single quotes, cells that do not say where they are, rows without numbers."""
        book = self.workbook([["Defect", "Qty"], ["Pinhole", 0.106], ["Warping", 0.894]])
        parts = {}
        with zipfile.ZipFile(book) as archive:
            parts = {name: archive.read(name) for name in archive.namelist()}
        page = (
            "<x:worksheet xmlns:x='http://schemas.openxmlformats.org/spreadsheetml/2006/main'><x:sheetData>"
            "<x:row><x:c t='inlineStr'><x:is><x:t>Defect</x:t></x:is></x:c><x:c t='inlineStr'><x:is><x:t>Qty</x:t></x:is></x:c>"
            "</x:row><x:row r='2' hidden='true'><x:c r='A2' t='inlineStr'><x:is><x:t>Pinhole</x:t></x:is></x:c>"
            "<x:c r='B2' s='1'><x:v>0.106</x:v></x:c></x:row><x:row><x:c t='inlineStr'><x:is><x:t>Warping</x:t></x:is></x:c>"
            "<x:c s='1'><x:v>0.894</x:v></x:c></x:row></x:sheetData></x:worksheet>"
        )
        styles = parts["xl/styles.xml"].decode()
        styles = styles.replace('<cellXfs count="1">', '<cellXfs count="2">').replace(
            "</cellXfs>", "<xf numFmtId='10' fontId='0' fillId='0' borderId='0' xfId='0'/></cellXfs>"
        )
        parts["xl/worksheets/sheet1.xml"], parts["xl/styles.xml"] = page.encode(), styles.encode()
        with zipfile.ZipFile(book, "w") as archive:
            for name, content in parts.items():
                archive.writestr(name, content)
        self.read(Case("", "", {"Pinhole": 10.6, "Warping": 89.4}, says=("percent-cells", "hidden-rows")), book)


if __name__ == "__main__":
    unittest.main()
