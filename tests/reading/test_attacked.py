"""Classes of failures that an attack on the reading found; each a case that no list had named."""

import datetime as dt
import unittest
from pathlib import Path
from typing import Any

from openpyxl import Workbook
from openpyxl.worksheet.worksheet import Worksheet

import vantric as vt
from tests.reading.corpus import Case, Corpus
from vantric.core.totals.derived_rows import derived_rows
from vantric.core.totals.row_sums import CountedRow

AB = {"Pinhole": 12, "Warping": 3}
LONG = "Defect,Qty\n" + "Pinhole,12\n" * 30_000
TEXTS = (
    Case(
        "whole percents that do not quite add up",
        "Defect,Qty\nPinhole,33%\nWarping,33%\nCrack,33%\nTotal,100%\n",
        {"Pinhole": 33, "Warping": 33, "Crack": 33},
        says=("total-row",),
    ),
    Case(
        "an average below",
        "Defect,Qty\nPinhole,13\nWarping,2\nAverage,7.5\n",
        asks="'Average' is the mean of the others",
    ),
    Case("a category of that name", "Defect,Qty\nPinhole,12\nWarping,3\nMean,1\n", {**AB, "Mean": 1}),
    Case("two totals", "Defect,Qty\nPinhole,12\nWarping,3\nTotal,15\nTotal,15\n", AB, says=("total-row",)),
    Case(
        "a label for what is missing",
        "Defect,Qty\nPinhole,12\nWarping,3\nunknown,5\n",
        {**AB, "unknown": 5},
        says=("missing-code",),
    ),
    Case("a line that names the delimiter", "sep=;\nDefect;Qty\nPinhole;12\nWarping;3\n", AB),
    Case("comments above", "# exported\n# by inspection\nDefect,Qty\nPinhole,12\nWarping,3\n", AB),
    Case("an index without a heading", ",Defect,Qty\n0,Pinhole,12\n1,Warping,3\n", AB),
    Case("one heading of two", ",Qty\nPinhole,12\nWarping,3\n", AB, by="column 1"),
    Case("two columns of one name that nobody asks for", "Defect,Note,Qty,Note\nPinhole,x,12,y\nWarping,x,3,z\n", AB),
    Case("a header apart from its records", "Defect,Qty\n,\nPinhole,12\nWarping,3\n", AB),
    Case("a style that shows late", LONG + 'Warping,"1,234.5"\n', {"Pinhole": 360_000, "Warping": 1234.5}),
    Case(
        "a unit that shows late",
        LONG.replace("12\n", "12 kg\n") + "Warping,3 t\n",
        asks="record 30001.*different units",
    ),
    Case("text that shows late", LONG + "Warping,many\n", asks="record 30001.*'many'"),
    Case("a title above a long log", "Report\n\n" + LONG, {"Pinhole": 360_000}),
    Case("a note below a long log", LONG + "\nSource: inspection\n", {"Pinhole": 360_000}, says=("notes-below",)),
    Case("a total below a long log", LONG + "Total,360000\n", {"Pinhole": 360_000}, says=("total-row",)),
    Case(
        "bad numbers after a blank line are no table",
        "Defect,Qty\nPinhole,12\n\nWarping,two\nCrack,three\n",
        asks="line 4.*'two'",
    ),
    Case(
        "a heading within the records",
        "Defect,Qty\nPinhole,12\n,\nNight shift,\nWarping,3\nCrack,4\n",
        asks="line 4.*count is missing",
    ),
    Case(
        "remarks of two cells below",
        "Defect,Qty\nPinhole,12\nWarping,3\n,\nSource:,inspection\nDate:,2026-01-05\n",
        AB,
        says=("notes-below",),
    ),
    Case("a footnote at a number", "Defect,Qty\nPinhole,12¹\nWarping,3\n", AB, says=("read-numbers",)),
    Case("a footnote in brackets", "Defect,Qty\nPinhole,12 (1)\nWarping,3\n", asks="'12 \\(1\\)'"),
    Case("kilograms in capitals", "Defect;Qty\nPinhole;12 KG\nWarping;3 kg\n", AB),
    Case("megawatts and milliwatts", "Defect;Qty\nPinhole;12 MW\nWarping;3 mW\n", asks="different units"),
    Case(
        "more digits than an engine holds",
        'Defect,Qty\nPinhole,"1,234,567,890,123,456,789,012"\nWarping,3\n',
        {"Pinhole": 1234567890123456789012, "Warping": 3},
    ),
    Case(
        "a total over a filter",
        "Defect,Kiln,Qty\nPinhole,K1,12\nWarping,K2,3\nTotal,,15\n",
        {"Pinhole": 12},
        options={"where": "Kiln = 'K1'"},
    ),
    Case(
        "a filter that would keep the total",
        "Defect,Qty\nPinhole,12\nWarping,3\nTotal,15\n",
        {"Pinhole": 12},
        options={"where": "Qty > 5"},
        says=("total-row",),
    ),
    Case(
        "a column of totals in a range",
        "Defect,K1,K2,Total\nPinhole,5,7,12\nWarping,1,2,3\nTotal,6,9,15\n",
        AB,
        count="K1:Total",
        says=("total-column", "total-row"),
    ),
    Case(
        "a column that is only called so",
        "Defect,K1,K2,Total\nPinhole,5,7,13\nWarping,1,2,3\n",
        asks="column 'Total' reads as",
        count="K1:Total",
    ),
    Case(
        "a column of scopes is no column of totals",
        "Defect,Scope,Qty\nPinhole,Total,12\nWarping,Partial,3\nCrack,Total,4\n",
        {**AB, "Crack": 4},
    ),
    Case(
        "a total beside labels that are filled down",
        "Line,Defect,Qty\nL1,Pinhole,12\n,Warping,3\nL2,Crack,5\n,Grand total,20\n",
        {"L1": 15, "L2": 5},
        by="Line",
        options={"fill_down": "Line"},
    ),
    Case(
        "a label with a unit in a condition",
        "Size;Qty\n10 mm;12\n20 mm;3\n",
        {"10 mm": 12},
        by="Size",
        options={"where": "Size = '10 mm'"},
    ),
    Case("the same, ordered", "Size;Qty\n10 mm;12\n20 mm;3\n", {"20 mm": 3}, by="Size", options={"where": "Size > 15"}),
    Case(
        "a day as it is written",
        "Defect;Qty;Day\nPinhole;12;27/03/2026\nWarping;3;28/04/2026\n",
        {"Pinhole": 12},
        options={"where": "\"Day\" = '27/03/2026'"},
    ),
    Case(
        "days in order, one as it is written",
        "Defect;Qty;Day\nPinhole;12;27/03/2026\nWarping;3;28/04/2026\n",
        {"Warping": 3},
        options={"where": "\"Day\" > '27/03/2026'"},
    ),
    Case("labels that look like units", "Type,Qty\nm,12\nkg,3\n", {"m": 12, "kg": 3}, by="Type"),
)


def rows(page: Worksheet, *lines: Any) -> None:
    for line in lines:
        page.append(line)


def hidden(book: Workbook, page: Worksheet) -> None:
    page.title, page.sheet_state = "Lists", "hidden"
    rows(page, ["Defect", "Qty"], ["Old", 99])
    rows(book.create_sheet("Data"), ["Defect", "Qty"], ["Pinhole", 12], ["Warping", 3])


def merged(book: Workbook, page: Worksheet) -> None:
    rows(
        page,
        ["Defect", "Step", "Qty"],
        ["Pinhole", "Press", 5],
        [None, "Fire", 7],
        [None, "Total", 12],
        ["Warping", "Press", 1],
        [None, "Fire", 2],
        [None, "Total", 3],
    )
    page.merge_cells("A2:A4")
    page.merge_cells("A5:A7")


def wide(book: Workbook, page: Worksheet) -> None:
    rows(page, ["Defect", None, "Qty"], ["Pinhole", None, 12], ["Warping", None, 3])
    for row in (1, 2, 3):
        page.merge_cells(start_row=row, end_row=row, start_column=1, end_column=2)


def filtered(book: Workbook, page: Worksheet) -> None:
    rows(page, ["Defect", "Qty"], ["Pinhole", 12], ["Warping", 3], ["Old", 9], ["Total", 24])
    page.row_dimensions[4].hidden = True


def thousands(book: Workbook, page: Worksheet) -> None:
    rows(page, ["Defect", "Qty"], ["Pinhole", 12], ["Warping", 3])
    page["B2"].number_format = page["B3"].number_format = '0.0,"k"'


def pivot(book: Workbook, page: Worksheet) -> None:
    rows(
        page,
        ["Pieces by kiln", "Kilns"],
        ["Defect", "K1", "K2", "Grand Total"],
        ["Pinhole", 5, 7, 12],
        ["Warping", 1, 2, 3],
        ["Grand Total", 6, 9, 15],
    )


def outer(book: Workbook, page: Worksheet) -> None:
    rows(
        page,
        ["Plant", "Line", "Defect", "Qty"],
        ["P1", "L1", "Pinhole", 12],
        [None, None, "Warping", 1],
        [None, "L2", "Warping", 2],
    )
    page.merge_cells("A2:A4")
    page.merge_cells("B2:B3")


def grouped(book: Workbook, page: Worksheet) -> None:
    rows(
        page,
        ["Line", "Defect", "Qty"],
        ["L1", "Pinhole", 5],
        ["L1", "Warping", 2],
        ["L1 total", None, 7],
        [],
        ["L2", "Pinhole", 7],
        ["L2", "Warping", 1],
        ["L2 total", None, 8],
        [],
        ["Grand total", None, 15],
    )


def chart(book: Workbook, page: Worksheet) -> None:
    rows(page, ["Defect", "Qty"], ["Pinhole", 12], ["Warping", 3])
    book.create_chartsheet("Chart", 0)


class Attacked(Corpus):
    def book(self, fill: Any) -> Path:
        book = Workbook()
        fill(book, book.worksheets[0])
        book.save(self.folder / "book.xlsx")
        return self.folder / "book.xlsx"

    def test_text(self) -> None:
        self.read_all(TEXTS, lambda case: self.file(case.content))

    def test_a_check_sheet_with_a_total_below(self) -> None:
        path = self.file("Day,Pinhole,Warping,Crack\nMon,1,2,\nTue,3,4,5\nTotal,4,6,5\n")
        tally = vt.tally(path, by_columns="Pinhole:Crack")
        self.assertEqual(tally.as_dict(), {"Pinhole": 4, "Warping": 6, "Crack": 5})

    def test_workbooks(self) -> None:
        for fill, options in (
            (hidden, {}),
            (hidden, {"sheet": "*"}),
            (thousands, {}),
            (pivot, {"count": ("K1", "K2")}),
            (pivot, {"count": "Grand Total"}),
            (outer, {}),
            (grouped, {}),
            (chart, {}),
            (merged, {}),
            (wide, {}),
            (filtered, {"visible_only": True}),
        ):
            with self.subTest(fill.__name__, **options):
                found = vt.tally(self.book(fill), "Defect", **{"count": "Qty", **options})
                self.assertEqual(found.as_dict(), AB)
        with self.assertRaisesRegex(vt.VantricError, "a date is no number"):
            vt.tally(
                self.book(lambda book, page: rows(page, ["Defect", "Qty"], ["Pinhole", dt.date(2026, 1, 1)], ["b", 1])),
                "Defect",
                count="Qty",
            )
        self.assertEqual(vt.tally(self.book(outer), "Line", count="Qty").as_dict(), {"L1": 13, "L2": 2})

    def test_totals_by_their_rule(self) -> None:
        def verdicts(*lines: tuple[str | None, Any]) -> dict[int, str]:
            found = derived_rows([CountedRow(label, (amount,)) for label, amount in lines])
            return {place: verdict.outcome for place, verdict in found.items()}

        for lines, wanted in (
            ((("a", 1), ("b", 2), ("Total", 3)), {2: "out"}),
            ((("a", 1), ("Total", 1)), {1: "ask"}),
            ((("a", 1), ("b", 2), ("Sum", 3)), {2: "ask"}),
            ((("a", 1), ("b", 2), ("Sum", 4)), {}),
            ((("a", 1), ("b", 2), ("Total", 3), ("c", 1)), {2: "ask", 3: "ask"}),
            ((("Total", 3), ("a", 1), ("b", 2)), {0: "out"}),
            (
                (("a", 1), ("b", 2), ("a total", 3), ("c", 4), ("d", 5), ("c total", 9), ("Total", 12)),
                {2: "out", 5: "out", 6: "out"},
            ),
            ((("a", 1), ("b", 2), (None, 3)), {2: "ask"}),
            ((("a", 1), ("b", 2), ("c", 3), (None, 6)), {3: "out"}),
            ((("a", 1), ("a", 2), ("c", 3), (None, 6)), {3: "warn"}),
            ((("a", 1), (None, 2), ("c", 3), (None, 6)), {}),
        ):
            self.assertEqual(verdicts(*lines), wanted, lines)


if __name__ == "__main__":
    unittest.main()
