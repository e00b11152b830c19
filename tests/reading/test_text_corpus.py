"""Text files as people save them: each is read as a person reads it, or asks."""

import unittest
from pathlib import Path

from tests.reading.corpus import Case, Corpus

AB = {"Pinhole": 12, "Warping": 3}


def numbers(one: str, other: str, third: str = "812") -> str:
    return f"Defect;Qty\nPinhole;{one}\nWarping;{other}\nCrack;{third}\n"


def weighed(one: str, other: str) -> str:
    return f"Defect,Cost\nPinhole,{one}\nWarping,{other}\n"


THREE = {"Pinhole": 1234, "Warping": 2345, "Crack": 812}
NUMBERS = (
    Case("German thousands", numbers("1.234", "2.345"), THREE, says=("number-style",)),
    Case("English thousands in a file with semicolons", numbers("1,234", "2,345"), THREE, says=("number-style",)),
    Case("thousands that a decimal decides", numbers("1,234", "2,345", "812.0"), THREE, says=("read-numbers",)),
    Case("two marks in one cell decide", numbers("1.234,0", "2.345", "812"), THREE),
    Case("blanks between thousands", numbers("1 234", "2 345"), THREE),
    Case("thin blanks between thousands", numbers("1\u202f234", "2\u202f345"), THREE),
    Case("blanks that do not break", numbers("1\u00a0234", "2\u00a0345"), THREE),
    Case("apostrophes between thousands", numbers("1'234", "2'345"), THREE),
    Case("typographic apostrophes", numbers("1’234", "2’345"), THREE),
    Case("Indian groups", numbers("12,34,567", "1,00,000", "5"), {"Pinhole": 1234567, "Warping": 100000, "Crack": 5}),
    Case(
        "millions decide for thousands",
        numbers("1.234.567", "2.345", "5"),
        {"Pinhole": 1234567, "Warping": 2345, "Crack": 5},
    ),
    Case("decimal comma", numbers("12,5", "3,25", "1"), {"Pinhole": 12.5, "Warping": 3.25, "Crack": 1}),
    Case(
        "decimal comma with three decimals and one with two",
        numbers("1,234", "3,25", "1"),
        {"Pinhole": 1.234, "Warping": 3.25, "Crack": 1},
    ),
    Case(
        "a zero in front decides for decimals",
        numbers("0,234", "1,234", "1"),
        {"Pinhole": 0.234, "Warping": 1.234, "Crack": 1},
    ),
    Case("percent signs", numbers("62 %", "3,5 %", "0 %"), {"Pinhole": 62, "Warping": 3.5, "Crack": 0}),
    Case(
        "percent signs without a blank", numbers("62%", "3.5%", "34.5%"), {"Pinhole": 62, "Warping": 3.5, "Crack": 34.5}
    ),
    Case("percents beside a share", numbers("62 %", "0.4", "2 %"), asks="'62 %'.*'0.4'.*side by side"),
    Case("dollars in front", numbers("$1,200.50", "$3.00", "$1.00"), {"Pinhole": 1200.5, "Warping": 3, "Crack": 1}),
    Case("euros behind", numbers("1200 EUR", "3 EUR", "1 EUR"), {"Pinhole": 1200, "Warping": 3, "Crack": 1}),
    Case("a euro sign and its code", numbers("1200 €", "3 EUR", "1"), {"Pinhole": 1200, "Warping": 3, "Crack": 1}),
    Case(
        "Swiss francs", numbers("CHF 1'200.50", "CHF 3.00", "CHF 0.50"), {"Pinhole": 1200.5, "Warping": 3, "Crack": 0.5}
    ),
    Case("reais", numbers("R$ 1.234,56", "R$ 3,00", "R$ 0,50"), {"Pinhole": 1234.56, "Warping": 3, "Crack": 0.5}),
    Case("rupees", numbers("Rs. 1,23,456", "Rs. 12", "₹ 5"), {"Pinhole": 123456, "Warping": 12, "Crack": 5}),
    Case("two currencies", numbers("1200 EUR", "3 USD"), asks="'1200 EUR'.*'3 USD'.*different units"),
    Case("kilograms", numbers("12 kg", "3 kg", "1.5 kg"), {"Pinhole": 12, "Warping": 3, "Crack": 1.5}),
    Case("kilograms and tons", numbers("12 kg", "3 t"), asks="different units"),
    Case("thousands and millions by letter", numbers("1.2k", "3M"), asks="different units"),
    Case("thousands by letter beside bare numbers", numbers("1.2k", "300"), asks="side by side"),
    Case("scientific notation", numbers("1.2e3", "3E1", "5"), {"Pinhole": 1200, "Warping": 30, "Crack": 5}),
    Case("a plus sign", numbers("+12", "3", "1"), {"Pinhole": 12, "Warping": 3, "Crack": 1}),
    Case("blanks around", numbers(" 12 ", "\t3", "1 "), {"Pinhole": 12, "Warping": 3, "Crack": 1}),
    Case(
        "decimals without a digit before the point", numbers(".5", "3", "1"), {"Pinhole": 0.5, "Warping": 3, "Crack": 1}
    ),
    Case("less than", numbers("<5", "3"), asks="'<5'.*the number that is meant"),
    Case("about", numbers("~5", "3"), asks="'~5'"),
    Case("a range", numbers("5-10", "3"), asks="a range is no number"),
    Case("hours and minutes", numbers("1:30", "3:05"), asks="'1:30'.*minutes"),
    Case("bare bracketed integers", numbers("(1)", "(2)", "(3)"), asks="whole number in brackets"),
    Case("a bracketed count is negative", numbers("40", "(12)"), asks="the count is negative: \\(12\\)"),
    Case("a minus behind", numbers("40", "8.07-"), asks="negative"),
    Case("a typographic minus", numbers("40", "−8"), asks="negative"),
    Case("styles that do not go together", numbers("1.234,5", "1,234.5"), asks="not written in one style"),
    Case("no style at all", numbers("12.34.5", "3"), asks="'12.34.5'.*no number in any style"),
    Case("not available", numbers("n/a", "3"), asks='na="n/a"'),
    Case("a dash for no count", numbers("-", "3"), asks="the count is missing: '-'"),
    Case("a failed formula", numbers("#DIV/0!", "3"), asks="formula there failed"),
    Case("said by example", numbers("1.234", "2.345"), THREE, options={"read_numbers": "1.234,56"}),
    Case(
        "said by the other example",
        numbers("1.234", "2.345"),
        {"Pinhole": 1.234, "Warping": 2.345, "Crack": 812},
        options={"read_numbers": "1,234.56"},
    ),
    Case(
        "said, and not so",
        numbers("1,234.5", "3"),
        asks="not written as 1.234,56",
        options={"read_numbers": "1.234,56"},
    ),
)

WEIGHTS = (
    Case(
        "decimals with three digits in a file with commas",
        weighed("1.234", "2.345"),
        {"Pinhole": 1.234, "Warping": 2.345},
        says=("number-style",),
    ),
    Case("thousands or decimals", weighed('"1,234"', '"2,345"'), asks='read_numbers="1,234.56"|read_numbers="1234,56"'),
    Case("one of them tells", weighed('"1,234"', '"12.50"'), {"Pinhole": 1234, "Warping": 12.5}),
)

TABLE = "Defect;Qty\nPinhole;12\nWarping;3\n"
LAYOUTS = (
    Case("title rows", f"Defects in January\n\n{TABLE}", AB),
    Case("title rows that fill every column", f"Defects in January;\nKiln 1;\n;\n{TABLE}", AB),
    Case("notes below", f"{TABLE}\nSource: inspection\n", AB, says=("notes-below",)),
    Case("a blank line between records", "Defect;Qty\nPinhole;12\n\nWarping;3\n", AB),
    Case("a blank line that has its signs", "Defect;Qty\nPinhole;12\n;\nWarping;3\n", AB),
    Case("blank lines at the end", f"{TABLE}\n\n\n", AB),
    Case("the header again", f"{TABLE}Defect;Qty\nCrack;5\n", {**AB, "Crack": 5}, says=("header-again",)),
    Case(
        "two tables side by side",
        "Defect;Qty;;Shift;Hours\nPinhole;12;;Early;3\nWarping;3;;Late;4\n;;;Night;5\n",
        AB,
        says=("other-tables",),
    ),
    Case(
        "the other of the two",
        "Defect;Qty;;Shift;Hours\nPinhole;12;;Early;3\nWarping;3;;Late;4\n;;;Night;5\n",
        {"Early": 3, "Late": 4, "Night": 5},
        by="Shift",
        count="Hours",
    ),
    Case("a table below another", f"{TABLE}\nShift;Hours\nEarly;3\n", AB, says=("other-tables",)),
    Case(
        "two tables of one shape", f"January\n{TABLE}\nFebruary\n{TABLE}", asks='2 tables with .*cells="A2:B4"|2 tables'
    ),
    Case(
        "one of two tables by its cells",
        f"January\n{TABLE}\nFebruary\nDefect;Qty\nCrack;7\n",
        {"Crack": 7},
        options={"cells": "A7:B8"},
    ),
    Case(
        "two rows of headings",
        ";2025;;2026;\nDefect;Qty;Share;Qty;Share\nPinhole;1;0,1;12;0,2\nWarping;2;0,2;3;0,4\n",
        AB,
        count="2026 Qty",
    ),
    Case(
        "a name that stands under two years",
        ";2025;;2026;\nDefect;Qty;Share;Qty;Share\nPinhole;1;0,1;12;0,2\n",
        asks="no column 'Qty'.*2025 Qty",
    ),
    Case("a row of units", "Defect;Qty;Length\n;pcs;mm\nPinhole;12;5\nWarping;3;6\n", AB, count="Qty (pcs)"),
    Case("a line break in a heading", '"Defect";"Qty\n(pcs)"\nPinhole;12\nWarping;3\n', AB, count="Qty (pcs)"),
    Case("doubled blanks in a heading", "Defect;Qty   (pcs)\nPinhole;12\nWarping;3\n", AB, count="Qty (pcs)"),
    Case("no header", "Pinhole;12\nWarping;3\n", AB, by="A", count="B", options={"header": False}),
    Case("no header, and not said", "Pinhole;12\nWarping;3\n", asks="no column 'Defect'"),
    Case("a number with a comma that is not quoted", "Defect,Qty\nPinhole,1,234\nWarping,5\n", asks="3 columns where"),
    Case("tabs", TABLE.replace(";", "\t"), AB),
    Case("bars", TABLE.replace(";", "|"), AB),
    Case(
        "outer labels",
        "Line;Defect;Qty\nL1;Pinhole;12\n;Warping;3\nL2;Pinhole;4\n",
        {"L1": 15, "L2": 4},
        by="Line",
        options={"fill_down": "Line"},
    ),
    Case(
        "outer labels, and not said",
        "Line;Defect;Qty\nL1;Pinhole;12\n;Warping;3\nL2;Pinhole;4\n",
        {"L1": 12, "L2": 4},
        by="Line",
        missing=3,
        says=("outer-labels",),
    ),
    Case("months across, added up", "Defect;Jan;Feb;Mar\nPinhole;5;;7\nWarping;1;1;1\n", AB, count="Jan:Mar"),
    Case(
        "some months",
        "Defect;Jan;Feb;Mar\nPinhole;5;;7\nWarping;1;1;1\n",
        {"Pinhole": 12, "Warping": 2},
        count=("Jan", "Mar"),
    ),
    Case("a range that runs backwards", "Defect;Jan;Feb\nPinhole;5;1\n", asks="stands before", count="Feb:Jan"),
    Case("a code for missing labels", "Defect;Qty\nPinhole;12\nNA;5\nWarping;3\n", AB, missing=5, options={"na": "NA"}),
)

TOTALS = (
    Case("Total", f"{TABLE}Total;15\n", AB, says=("total-row",)),
    *(
        Case(word, f"{TABLE}{word};15\n", AB, says=("total-row",))
        for word in (
            "TOTAL",
            "Grand total",
            "Total:",
            "Totals",
            "Total 2026",
            "2026 total",
            "Total (n = 15)",
            "Total n=15",
            "Gesamt",
            "Summe",
            "Gesamtergebnis",
            "Total général",
            "Totale",
            "Totaal",
            "Итого",
            "Razem",
            "Celkem",
            "合計",
            "Σ",
            "Sum total",
        )
    ),
    Case("a total above", "Defect;Qty\nTotal;15\nPinhole;12\nWarping;3\n", AB, says=("total-row",)),
    Case(
        "subtotals",
        "Line;Defect;Qty\nL1;Pinhole;7\nL1;Warping;2\nL1 total;;9\nL2;Pinhole;5\nL2;Warping;1\nL2 total;;6\n"
        "Grand total;;15\n",
        AB,
        says=("total-row",),
    ),
    Case(
        "subtotals among labels",
        "Defect;Qty\nPinhole;7\nWarping;2\nSubtotal;9\nCrack;5\nStain;1\nSubtotal;6\nTotal;15\n",
        {"Pinhole": 7, "Warping": 2, "Crack": 5, "Stain": 1},
        says=("total-row",),
    ),
    Case(
        "a total without a label",
        "Defect;Qty\nPinhole;12\nWarping;3\nCrack;1\n;16\n",
        {**AB, "Crack": 1},
        says=("total-row",),
    ),
    Case(
        "a missing label that adds up nothing",
        "Defect;Qty\nPinhole;12\nWarping;3\nCrack;1\n;4\n",
        {**AB, "Crack": 1},
        missing=4,
    ),
    Case("two rows and one without a label", f"{TABLE};15\n", asks="without a label.*is it a total"),
    Case(
        "rounded parts",
        "Defect;Qty\nPinhole;33.3\nWarping;33.3\nCrack;33.3\nTotal;100.0\n",
        {"Pinhole": 33.3, "Warping": 33.3, "Crack": 33.3},
        says=("total-row",),
    ),
    Case(
        "a total in front of more records",
        "Defect;Qty\nPinhole;12\nWarping;3\nTotal;15\nCrack;4\n",
        asks="'Total' adds up the others .15. and .*'Crack' stands below the total",
    ),
    Case("a stale total", f"{TABLE}Total;16\n", asks="'Total' reads as a total"),
    Case("a stale total that is counted", f"{TABLE}Total;16\n", {**AB, "Total": 16}, options={"keep_totals": True}),
    Case("a stale total that is left out", f"{TABLE}Total;16\n", AB, options={"keep_totals": False}),
    Case("all", f"{TABLE}All;15\n", asks="'All' adds up the others"),
    Case("a category that is called so", f"{TABLE}All;4\n", {**AB, "All": 4}),
    Case("total defects", f"{TABLE}Total defects;15\n", asks="'Total defects' adds up"),
    Case("total loss", "Defect;Qty\nTotal loss;5\nPinhole;12\nWarping;3\n", {**AB, "Total loss": 5}),
    Case(
        "a total of what costs",
        "Defect;Qty;Cost\nPinhole;12;2\nWarping;3;1\nTotal;15;\n",
        {"Pinhole": 24, "Warping": 3},
        options={"weight": "Cost"},
    ),
    Case(
        "a total with marks",
        "Defect;Qty\nPinhole;1.200,50\nWarping;3,00\nTotal;1.203,50\n",
        {"Pinhole": 1200.5, "Warping": 3},
    ),
)


class Text(Corpus):
    def write(self, case: Case) -> Path:
        return self.file(case.content)

    def test_numbers(self) -> None:
        self.read_all(NUMBERS, self.write)

    def test_weights(self) -> None:
        for case in WEIGHTS:
            options = {**case.options, "weight": "Cost"}
            with self.subTest(case.name):
                self.read(
                    Case(case.name, case.content, case.counts, case.asks, count=None, says=case.says, options=options),
                    self.file(case.content),
                )

    def test_layouts(self) -> None:
        self.read_all(LAYOUTS, self.write)

    def test_totals(self) -> None:
        self.read_all(TOTALS, self.write)

    def test_encodings_and_locales(self) -> None:
        """Six encodings and four ways to write numbers, titles above and a total below."""
        for encoding in ("utf-8", "utf-8-sig", "utf-16", "utf-16-le", "cp1252", "latin-1"):
            for delimiter, one, other, total in (
                (",", '"1,234.50"', "3.25", '"1,237.75"'),
                (";", "1.234,50", "3,25", "1.237,75"),
                ("\t", "1 234,50", "3,25", "1 237,75"),
                (";", "1'234.50", "3.25", "1'237.75"),
            ):
                with self.subTest(encoding=encoding, one=one):
                    lines = ["Fehler im März", "", "Fehler;Kosten", f"Riß;{one}", f"Fleck;{other}", f"Gesamt;{total}"]
                    text = "\r\n".join(line.replace(";", delimiter) for line in lines) + "\r\n"
                    case = Case(
                        "", "", {"Riß": 1234.5, "Fleck": 3.25}, by="Fehler", count="Kosten", says=("total-row",)
                    )
                    self.read(case, self.file(text.encode(encoding)))


if __name__ == "__main__":
    unittest.main()
