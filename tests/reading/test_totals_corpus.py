"""Sheets in which something adds up the rest, under any name, and their near twins in which nothing does."""

import unittest
from collections.abc import Iterator

import openpyxl
import pandas as pd
import polars as pl
from openpyxl.styles import Alignment, Font

import vantric as vt
from tests.folder import InFolder
from vantric.counting import first_look
from vantric.errors import VantricError
from vantric.reading.settings import ReadSettings

#: Names of the sum of the other rows that no list of words holds, and some that it holds.
UNKNOWN = (
    *(
        "Ergebnisse",
        "Xyz",
        "Bottom line",
        "Kiln hall",
        "Σ-Zeile",
        "Summierung",
        "All defects taken together",
        "Rows above",
    ),
    *(
        "Gesammt",
        "Totaal generaal x",
        "zbroj",
        "Yhteismäärä",
        "Bilanz",
        "2026",
        "Orrinvale",
        "Whole works",
        "...",
        "##",
    ),
)
NAMED = (
    *(
        "Total",
        "TTL",
        "Iš viso",
        "총합계",
        "T O T A L",
        "GRAND TOTAL:",
        "Summe",
        "Total 2026",
        "Total (n = 190)",
        "Итого",
    ),
    *(
        "合計",
        "Σ",
        "Totale",
        "Kaikkiaan",
        "Összesen",
        "Łącznie",
        "Lacznie",
        "المجموع",
        "Total / Gesamt",
        "total pcs",
        "In all",
    ),
)
TABLES = (
    (("Crack", 100), ("Chip", 60), ("Glaze", 30)),
    (("Crack", 17), ("Chip", 64), ("Glaze", 33), ("Bow", 29), ("Stain", 8)),
    (("Crack", 812), ("Chip", 460), ("Glaze", 133), ("Bow", 91), ("Stain", 40), ("Speck", 3)),
)


def csv_of(rows: tuple[tuple[str, int], ...]) -> str:
    return "Defect,Qty\n" + "".join(f'"{label}",{number}\n' for label, number in rows)


class Reading(InFolder):
    def outcome(self, text: str, **options: object) -> str:
        """Return "asks", "out", "warns" or "counts": what becomes of the last label of a sheet."""
        path = self.file(text, "sheet.csv")
        try:
            tally = vt.tally(path, "Defect", count="Qty", **options)  # type: ignore[arg-type]
        except VantricError as error:
            self.assertTrue(error.asks, error)
            return "asks"
        codes = [note.code for note in tally.origin.remarks]
        return "out" if "total-row" in codes else "warns" if "possible-total" in codes else "counts"


class Rows(Reading):
    def test_any_name_asks_and_a_sum_that_is_none_does_not(self) -> None:
        seen = 0
        for rows in TABLES:
            whole = sum(number for _, number in rows)
            for label in UNKNOWN:
                with self.subTest(label=label, rows=len(rows)):
                    self.assertEqual(self.outcome(csv_of((*rows, (label, whole)))), "asks")
                    self.assertEqual(self.outcome(csv_of((*rows, (label, whole + 7)))), "counts")
                    seen += 2
        self.assertGreaterEqual(seen, 100)

    def test_a_known_name_is_left_out_and_a_stale_sum_asks(self) -> None:
        for rows in TABLES:
            whole = sum(number for _, number in rows)
            for label in NAMED:
                with self.subTest(label=label, rows=len(rows)):
                    self.assertEqual(self.outcome(csv_of((*rows, (label, whole)))), "out")
                    self.assertEqual(self.outcome(csv_of((*rows, (label, whole + 7)))), "asks")
                    self.assertEqual(self.outcome(csv_of((*rows, (label, whole))), keep_totals=True), "counts")

    def test_in_front_and_between_it_is_never_silent(self) -> None:
        for rows in TABLES:
            whole = sum(number for _, number in rows)
            for label in UNKNOWN[:8]:
                for place in (0, 1):
                    table = (*rows[:place], (label, whole), *rows[place:])
                    with self.subTest(label=label, place=place):
                        self.assertIn(self.outcome(csv_of(table)), ("asks", "warns"))

    def test_each_answer_leads_to_its_table(self) -> None:
        text = csv_of((*TABLES[0], ("Ergebnis", 190), ("Inspected", 4000), ("Last year", 220), ("Mean", 63)))
        path = self.file(text, "sheet.csv")
        with self.assertRaisesRegex(VantricError, "'Ergebnis' adds up the others .190.") as caught:
            vt.tally(path, "Defect", count="Qty")
        self.assertRegex(str(caught.exception), "190 without it|190 without them")
        want = dict(TABLES[0])
        self.assertEqual(vt.tally(path, "Defect", count="Qty", keep_totals=False).as_dict(), want)
        self.assertEqual(vt.tally(path, "Defect", count="Qty", keep_totals=True).total, 190 + 190 + 4000 + 220 + 63)
        left = vt.tally(path, "Defect", count="Qty", leave_out=["ergebnis", "Inspected", "Last year", "Mean"])
        self.assertEqual(left.as_dict(), want)
        with self.assertRaisesRegex(VantricError, "there is no 'Ergebnes' to leave out; did you mean 'Ergebnis'"):
            vt.tally(path, "Defect", count="Qty", leave_out=["Ergebnes"])

    def test_parts_statistics_forwarded_sums_and_levels(self) -> None:
        base = "Defect,Qty\nCrack,50\nChip,40\n"
        for text, wanted in (
            (base + "davon innen,15\nGlaze,30\n", "out"),
            (base + "davon innen,45\nGlaze,30\n", "asks"),
            (base + "incl. glaze,15\nGlaze,30\n", "asks"),
            (base + "Carried forward,90\nGlaze,30\nTotal,120\n", "out"),
            (base + "Carried forward,80\nGlaze,30\n", "asks"),
            (base + "Glaze,30\nMean,40\nMax,50\nMin,30\n", "out"),
            (base + "Glaze,30\nMean,40\n", "asks"),
            (base + "Glaze,30\nMean,12\n", "counts"),
            (base + "Glaze,30\nTarget,100\n", "warns"),
            (base + "Glaze,30\nTotal,120\nTarget,100\n", "out"),
            (base + "Glaze,30\nTotal,120\nBow,4\n", "asks"),
            ("Defect,Qty\nPress,90\n  Crack,50\n  Chip,40\nKiln,70\n  Bow,30\n  Dent,40\n", "asks"),
            ("Defect,Qty\nPress,91\n  Crack,50\n  Chip,40\nKiln,75\n  Bow,30\n  Dent,40\n", "warns"),
            ("Defect,Qty\n1 Press,90\n1.1 Jam,50\n1.2 Leak,40\n2 Kiln,70\n2.1 Hot,30\n2.2 Cold,40\n", "asks"),
            ("Defect,Qty\nA,52\nB,41\nC,93\nD,31\nE,14\nF,45\nG,138\n", "asks"),
            ("Defect,Qty\nA,52\nB,41\nC,94\nD,31\nE,14\nF,46\nG,139\n", "counts"),
            ("Defect,Qty\nA,50%\nB,30%\nC,20%\n", "counts"),
        ):
            with self.subTest(text=text):
                self.assertEqual(self.outcome(text), wanted)

    def test_every_command_and_source_alike(self) -> None:
        rows = {"d": ["Crack", "Chip", "Glaze", "Ergebnis"], "n": [100, 60, 30, 190]}
        path = self.folder / "t.csv"
        pd.DataFrame(rows).to_csv(path, index=False)
        made = (
            lambda: vt.tally(path, "d", count="n"),
            lambda: vt.pareto(path, "d", count="n"),
            lambda: vt.combine(path, x="d", bars="n"),
            lambda: vt.aggregate(path, "d", {"n": "sum:n"}),
            lambda: vt.compare(path, path, "d", count="n"),
            lambda: vt.tally(rows, "d", count="n"),
            lambda: vt.tally(pd.DataFrame(rows), "d", count="n"),
            lambda: vt.tally(pl.DataFrame(rows), "d", count="n"),
            lambda: vt.tally(pl.DataFrame(rows).lazy(), "d", count="n"),
            lambda: vt.tally(dict(zip(rows["d"], rows["n"], strict=True))),
            lambda: vt.pareto(pd.Series(rows["n"], index=rows["d"])),
        )
        for number, make in enumerate(made):
            with self.subTest(number), self.assertRaisesRegex(VantricError, "'Ergebnis' adds up the others"):
                make()
        [finding] = [f for f in vt.review(vt.tally(rows, "d", count="n", keep_totals=True)) if "total" in f.code]
        self.assertEqual(finding.code, "total-as-category")


class Books(InFolder):
    def book(self, **sheets: list[list[object]]) -> str:
        book = openpyxl.Workbook()
        book.remove(book.active)
        for name, rows in sheets.items():
            page = book.create_sheet(name)
            for row in rows:
                page.append(row)
        self.made = book
        path = self.folder / "book.xlsx"
        book.save(path)
        return str(path)

    def test_a_formula_over_the_records_is_left_out_whatever_it_is_called(self) -> None:
        for formula in ("=SUM(B2:B4)", "=B2+B3+B4", "=SUBTOTAL(9,B2:B4)", "=AVERAGE(B2:B4)", "=ROUND(SUM(B2:B4),0)"):
            path = self.book(Log=[["d", "n"], ["Crack", 100], ["Chip", 60], ["Glaze", 30], ["Zeile", formula]])
            with self.subTest(formula):
                self.assertEqual(vt.tally(path, "d", count="n").as_dict(), {"Crack": 100, "Chip": 60, "Glaze": 30})
        across = [["d", "a", "b", "n"], ["Crack", 1, 2, "=SUM(B2:C2)"], ["Chip", 3, 4, "=SUM(B3:C3)"]]
        with self.assertRaisesRegex(VantricError, "never saved"):
            vt.tally(self.book(Log=across), "d", count="n")

    def test_indented_and_bold_rows(self) -> None:
        path = self.book(
            Log=[["d", "n"], ["Press", 90], ["Crack", 50], ["Chip", 40], ["Kiln", 70], ["Bow", 30], ["Dent", 40]]
        )
        for row in (3, 4, 6, 7):
            self.made["Log"].cell(row, 1).alignment = Alignment(indent=1)
        self.made["Log"].cell(2, 1).font = Font(bold=True)
        self.made.save(path)
        with self.assertRaisesRegex(VantricError, "'Press' adds up the rows under it .indent."):
            vt.tally(path, "d", count="n")
        parts = {"Crack": 50, "Chip": 40, "Bow": 30, "Dent": 40}
        self.assertEqual(vt.tally(path, "d", count="n", keep_totals=False).as_dict(), parts)

    def test_columns_of_a_range(self) -> None:
        head = ["d", "Jan", "Feb", "Mar", "Q1", "Apr", "Alles"]
        rows = [["Crack", 11, 25, 8, 44, 31, 75], ["Chip", 40, 3, 17, 60, 22, 82], ["Glaze", 5, 9, 61, 75, 4, 79]]
        path = self.book(Log=[head, *rows])
        tally = vt.tally(path, "d", count="Jan:Alles")
        self.assertEqual(tally.as_dict(), {"Crack": 75, "Chip": 82, "Glaze": 79})
        self.assertIn("total-column", [note.code for note in tally.origin.remarks])
        odd = self.book(Log=[[*head[:4], "Extra"], *([*row[:4], sum(row[1:4])] for row in rows)])  # type: ignore[arg-type]
        with self.assertRaisesRegex(VantricError, "column 'Extra' is the sum of"):
            vt.tally(odd, "d", count="Jan:Extra")
        self.assertEqual(vt.tally(odd, "d", count="Jan:Extra", leave_out=["Extra"]).total, 179)
        twin = self.book(Log=[[*head[:4], "Extra"], *([*row[:4], 13 + place] for place, row in enumerate(rows))])
        self.assertEqual(vt.tally(twin, "d", count="Jan:Extra").total, 179 + 13 + 14 + 15)

    def test_a_sheet_that_holds_the_others(self) -> None:
        months = {"Jan": [["d", "n"], ["Crack", 41], ["Chip", 12]], "Feb": [["d", "n"], ["Crack", 33], ["Chip", 27]]}
        both = [["d", "n"], ["Crack", 74], ["Chip", 39]]
        want = {"Crack": 74, "Chip": 39}
        self.assertEqual(vt.tally(self.book(**months, Summary=both), "d", count="n", sheet="*").as_dict(), want)
        path = self.book(**months, Blatt=both)
        with self.assertRaisesRegex(VantricError, "sheet 'Blatt' is the sum of the other sheets"):
            vt.tally(path, "d", count="n", sheet="*")
        self.assertEqual(vt.tally(path, "d", count="n", sheet="*", leave_out=["Blatt"]).as_dict(), want)
        own = [["d", "n"], ["Crack", 900], ["Chip", 100], ["Total", 1000]]
        warned = vt.tally(self.book(**months, Overview=own), "d", count="n", sheet="*")
        self.assertIn("possible-total", [note.code for note in warned.origin.remarks])
        self.assertEqual(warned.as_dict(), {"Crack": 974, "Chip": 139})
        twin = self.book(**months, Mar=[["d", "n"], ["Crack", 70], ["Chip", 39]])
        self.assertEqual(vt.tally(twin, "d", count="n", sheet="*").total, 222)

    def test_sheets_under_other_headings(self) -> None:
        path = self.book(Jan=[["Defect", "n"], ["A", 1]], Feb=[["defect ", "N"], ["A", 3]])
        self.assertEqual(vt.tally(path, "Defect", count="n", sheet="*").as_dict(), {"A": 4})
        path = self.book(Jan=[["Defect", "n"], ["A", 1]], Feb=[["Fault", "Qty"], ["A", 3]])
        with self.assertRaisesRegex(VantricError, "are they the same"):
            vt.tally(path, "Defect", count="n", sheet="*")
        self.assertEqual(vt.tally(path, "Defect", count="n", sheet="*", leave_out=["Feb"]).as_dict(), {"A": 1})

    def test_what_is_not_seen_is_said(self) -> None:
        path = self.book(Log=[["d", "n", "m"], ["A", 1, 5], ["B", 2, 6], ["C", 4, 7]])
        page = self.made["Log"]
        page["A2"].font, page["A3"].font = Font(strike=True), Font(color="FFFFFFFF")
        page.column_dimensions["C"].hidden = True
        self.made.save(path)
        codes = [note.code for note in vt.tally(path, "d", count="n").origin.remarks]
        self.assertEqual(codes.count("crossed-out"), 2)
        self.assertIn("hidden-columns", codes)
        path = self.book(Log=[["d", "n"], ["A", 12], ["B", None], ["C", 4]])
        self.made["Log"].merge_cells("B2:B3")
        self.made.save(path)
        with self.assertRaisesRegex(VantricError, "one number, 12, is merged over rows 2 to 3"):
            vt.tally(path, "d", count="n")


def twins() -> Iterator[tuple[str, str, object]]:
    """Yield (what, a sheet, its counts or the words that ask)."""
    head = "Defect,Qty\n"
    yield "a letter for a digit", head + "A,12O\nB,61\n", "may stand for a digit"
    yield "litres everywhere", head + "A,12 l\nB,61 l\n", {"A": 12, "B": 61}
    yield "a unit in some cells", head + "A,120 kg\nB,61\n", "in the unit of the first"
    yield "a unit in all cells", head + "A,120 kg\nB,61 kg\n", {"A": 120, "B": 61}
    yield "a currency in the first cell", head + "A,$120\nB,61\n", {"A": 120, "B": 61}
    for mark in ("*", "†", " (a)", "¹", "[1]", "**"):
        yield f"a footnote {mark}", head + f"A,77{mark}\nB,61\n", {"A": 77, "B": 61}
    yield "amounts without a fraction", "Defect;Qty\nA;1'250.-\nB;61.-\n", {"A": 1250, "B": 61}
    yield "wide digits", head + "A,１２\nB,３\n", {"A": 12, "B": 3}
    yield "hours or minutes", head + "A,3:20\nB,0:45\n", "hours and minutes, or minutes and seconds"
    yield "hours, minutes and seconds", head + "A,3:20:00\nB,0:45:00\n", {"A": 200, "B": 45}
    yield "durations in letters", head + "A,1h 20m\nB,45 min\nC,1 d\n", {"A": 80, "B": 45, "C": 1440}
    yield "minutes everywhere", head + "A,80 min\nB,45 min\n", {"A": 80, "B": 45}
    yield "a negative count", head + "A,-300\nB,61\n", "leave such records out with where '\"Qty\" >= 0'"
    for mark in ("ditto", "〃", "dito", "idem", "do.", "同上", "wie oben"):
        yield f"ditto {mark}", head + f"A,3\n{mark},2\nB,1\n", {"A": 5, "B": 1}
        yield f"{mark} in the first row", head + f"{mark},3\nA,2\n", {mark: 3, "A": 2}
    for foot in ("Page 1 of 2", "Seite 1/2", "=====", "--- Press ---", "Printed 2026-03-01"):
        yield f"a page foot {foot}", head + f"A,3\n{foot},\nB,1\n", {"A": 3, "B": 1}
    yield "a label like a page", head + "A,3\nPage torn,2\n", {"A": 3, "Page torn": 2}
    yield "the header again", head + "A,3\ndefect , QTY\nB,1\n", {"A": 3, "B": 1}
    yield "a bare line end", "Defect,Qty\r\nA,3\nB,1\r\n", {"A": 3, "B": 1}
    yield "a mark of byte order within", head + "A,3\n\ufeffDefect,Qty\nB,1\n", {"A": 3, "B": 1}
    yield "a row of units", "Defect,Qty,Cost\n,pcs,EUR\nA,3,2.5\nB,1,3.5\n", {"A": 3, "B": 1}


class Twins(Reading):
    def test_cells_labels_and_lines(self) -> None:
        for what, text, wanted in twins():
            path = self.folder / "sheet.csv"
            path.write_bytes(text.encode())
            with self.subTest(what):
                if isinstance(wanted, str):
                    with self.assertRaises(VantricError) as caught:
                        vt.tally(path, "Defect", count="Qty")
                    self.assertIn(wanted, str(caught.exception))
                else:
                    self.assertEqual(vt.tally(path, "Defect", count="Qty").as_dict(), wanted)

    def test_answers_to_amounts(self) -> None:
        path = self.file("Defect,Qty\nA,3:20\nB,0:45\n", "t.csv")
        self.assertEqual(vt.tally(path, "Defect", count="Qty", read_numbers="h:mm").as_dict(), {"A": 200, "B": 45})
        self.assertEqual(vt.tally(path, "Defect", weight="Qty", read_numbers="mm:ss").as_dict()["B"], 0.75)
        path = self.file("Defect,Qty\nA,120 kg\nB,61\n", "t.csv")
        self.assertEqual(vt.tally(path, "Defect", count="Qty", read_numbers="120 kg").as_dict(), {"A": 120, "B": 61})

    def test_dates(self) -> None:
        for dates, wanted in (
            (("03-04-05", "06-07-08"), "which of its numbers is the year"),
            (("26/03/31", "26/04/01"), ("2026-03", "2026-04")),
            (("31/12/26", "30/12/26"), ("2026-12",)),
            (("Jan-05", "Feb-05"), "a year or a day"),
            (("Jan-26", "Feb-26"), ("2026-01", "2026-02")),
            (("Q3/26", "Q3 2026"), ("2026-07",)),
            (("FY26", "FY 2026"), ("2026-01",)),
            (("KW 12/2026", "2026-W12"), ("2026-03",)),
            ((pd.Timestamp(2026, 4, 3), "25/03/2026"), "may have exchanged day and month"),
            ((pd.Timestamp(2026, 4, 30), "25/03/2026"), ("2026-03", "2026-04")),
            (("2026-03-31T23:30:00-05:00", "2026-03-31T12:00:00Z"), ("2026-03", "2026-04")),
        ):
            data = {"t": list(dates), "n": [1] * len(dates)}
            with self.subTest(dates=dates):
                if isinstance(wanted, str):
                    with self.assertRaisesRegex(VantricError, wanted):
                        vt.aggregate(data, "t", {"n": "sum:n"}, period="month")
                else:
                    self.assertEqual(vt.aggregate(data, "t", {"n": "sum:n"}, period="month").categories, wanted)

    def test_conditions_take_dates_as_they_are_written(self) -> None:
        path = self.file("d,t\nA,01.03.2026\nB,28.02.2026\nC,15.03.2026\n", "t.csv")
        for where in ("t >= '01.03.2026'", "t >= '2026-03-01'", "t BETWEEN '01.03.2026' AND '31.03.2026'"):
            self.assertEqual(vt.tally(path, "d", where=where).as_dict(), {"A": 1, "C": 1}, where)

    def test_encodings(self) -> None:
        for encoding, labels in (
            ("cp1250", ("Škoda", "Łódź", "Żółw")),
            ("cp1251", ("Трещина", "Скол")),
            ("cp1252", ("Größe", "faïence", "mañana")),
            ("shift_jis", ("ひび割れ", "欠け")),
            ("cp1253", ("Ρωγμή", "Σκόνη")),
            ("koi8_r", ("Трещина", "Скол")),
            ("gb2312", ("裂纹", "缺口")),
            ("cp1254", ("Kırık", "şişme")),
        ):
            path = self.folder / "t.csv"
            path.write_bytes(("d,n\n" + "".join(f"{label},3\n" for label in labels)).encode(encoding))
            with self.subTest(encoding):
                said = vt.tally(path, "d", count="n", encoding=encoding)
                self.assertEqual(set(said.as_dict()), set(labels))
                try:
                    found = set(vt.tally(path, "d", count="n").as_dict())
                except VantricError as error:
                    self.assertIn(encoding, dict.fromkeys(value for _, value in error.asks))
                else:
                    self.assertEqual(found, set(labels))

    def test_json_and_check_sheets(self) -> None:
        for text in (
            '{"d":["A","B"],"n":[1,2]}',
            '[["d","n"],["A",1],["B",2]]',
            '{"data":[{"d":"A","n":1},{"d":"B","n":2}]}',
        ):
            self.assertEqual(vt.tally(self.file(text, "t.json"), "d", count="n").as_dict(), {"A": 1, "B": 2}, text)
        for cells in ("week,A,B\n1,x,\n2,x,X\n", "week,A,B\n1,TRUE,FALSE\n2,TRUE,TRUE\n", "week,A,B\n1,✓,\n2,✓,✓\n"):
            self.assertEqual(
                vt.tally(self.file(cells, "t.csv"), by_columns=("A", "B")).as_dict(), {"A": 2, "B": 1}, cells
            )

    def test_a_file_that_is_not_what_it_is_called(self) -> None:
        book = openpyxl.Workbook()
        book.save(self.folder / "b.xlsx")
        content = (self.folder / "b.xlsx").read_bytes()
        old = b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1" + bytes(64)
        for name, data, words in (
            ("w.csv", content, "is a workbook [(].xlsx[)] under another name"),
            ("o.xls", old, "is an old workbook"),
            ("o.csv", old, "is an old workbook"),
            ("p.csv", b"%PDF-1.7", "is a PDF"),
            ("q.csv", b"PAR1", "is a Parquet file"),
            ("g.csv", b"\x1f\x8b\x08", "is packed with gzip"),
            ("s.csv", b"SQLite format 3\0", "is an SQLite database"),
            ("z.csv", b"PK\x03\x04", "is a ZIP archive"),
            ("h.xlsx", b"<html><table></table></html>", "is a web page"),
            ("x.xlsx", b"<?xml version='1.0'?><a/>", "is an XML file"),
            ("t.xlsx", b"d,n\nA,1\n", "is a text file"),
        ):
            path = self.folder / name
            path.write_bytes(data)
            with self.subTest(name), self.assertRaisesRegex(VantricError, words):
                vt.tally(path, "d", count="n")

    def test_names_that_the_user_gives(self) -> None:
        path = self.file("d,n\nCrack,3\ncrack,1\nChip,2\nBow,4\n", "t.csv")
        self.assertEqual(
            vt.tally(path, "d", count="n", rename={"crack": "Crack"}).as_dict(), {"Crack": 4, "Chip": 2, "Bow": 4}
        )
        merged = vt.tally(path, "d", count="n", merge_spellings=True, rename={"CRACK": "Break"})
        self.assertEqual(merged.as_dict()["Break"], 4)
        with self.assertRaisesRegex(VantricError, "there is no label 'Chap' to rename; did you mean 'Chip'"):
            vt.tally(path, "d", rename={"Chap": "Chip"})
        self.assertEqual(vt.tally(path, "d", count="n", families={"Bow": "Firing"}).as_dict()["Firing"], 4)
        self.assertEqual(vt.tally(["a", "b", "b", "c"], leave_out=["b"]).as_dict(), {"a": 1, "c": 1})
        with self.assertRaisesRegex(VantricError, "is the label of a total"):
            vt.tally(["a", "b", "Total"])

    def test_rates_of_their_own_rows_are_warned_of(self) -> None:
        lines = [
            f"{label},{100 + place % 3}" for label, times in (("A", 90), ("B", 30), ("C", 9)) for place in range(times)
        ]
        path = self.file("d,pieces\n" + "\n".join(lines) + "\n", "t.csv")
        self.assertIn("own-exposure", [note.code for note in vt.pareto(path, "d", per="pieces").tally.origin.remarks])
        self.assertNotIn("own-exposure", [note.code for note in vt.pareto(path, "d", per=5000).tally.origin.remarks])

    def test_the_column_that_says_how_many(self) -> None:
        head = "Rank,Defect,Early,Late,Night,Total,Percent,Cumulative,Average\n"
        rows = "1,A,10,22,8,40,57.1,57.1,13.3\n2,B,5,7,8,20,28.6,85.7,6.7\n3,C,1,4,5,10,14.3,100,3.3\n"
        look = first_look(self.file(head + rows, "t.csv"), ReadSettings(), 1)
        self.assertEqual((look.amounts.total, look.amounts.parts), ("Total", ("Early", "Late", "Night")))
        look = first_look(self.file("Defect,Early,Late,Night\nA,10,22,8\nB,5,7,8\n", "u.csv"), ReadSettings(), 1)
        self.assertEqual(look.amounts.span, "Early:Night")
        look = first_look(self.file("Defect,Qty,Cost\nA,10,22\nB,5,7\n", "v.csv"), ReadSettings(), 1)
        self.assertEqual((look.amounts.span, look.amounts.plain), (None, ("Qty", "Cost")))

    def test_wide_tables(self) -> None:
        path = self.file("d,Before,After\nA,100,40\nB,40,50\nTotal,140,90\n", "t.csv")
        rows = {
            row.category: (row.before, row.after)
            for row in vt.compare(path, by="d", before_column="Before", after_column="After").rows
        }
        self.assertEqual(rows, {"A": (100, 40), "B": (40, 50)})
        wide = self.file("d,Jan,Feb,Mar,Apr,May\nA,1,2,3,4,5\nB,9,8,7,6,5\n", "w.csv")
        self.assertEqual(vt.trend(wide, "d", split_columns="Jan:May").periods, ("Jan", "Feb", "Mar", "Apr", "May"))
        self.assertEqual(vt.pareto(wide, "d", split_columns="Jan:Mar").strata.columns, ("Jan", "Feb", "Mar"))
        self.assertEqual(vt.tally(wide, "d", count="Jan,Mar").as_dict(), {"A": 4, "B": 16})

    def test_quantities_are_no_records(self) -> None:
        labels = pd.Series(["A"] * 60 + ["B"] * 30 + ["C"] * 10, name="d")
        for data, options in (
            (labels.value_counts(normalize=True), {}),
            ({"A": 60.5, "B": 29.5, "C": 10.0}, {}),
            (self.file("d,Share\nA,60%\nB,30%\nC,10%\n", "a.csv"), {"by": "d", "count": "Share"}),
            (self.file("d,Downtime (min)\nA,600\nB,300\nC,100\n", "b.csv"), {"by": "d", "count": "Downtime (min)"}),
            (self.file("d,Cost\nA,600 EUR\nB,300 EUR\n", "c.csv"), {"by": "d", "count": "Cost"}),
        ):
            table = vt.pareto(data, **options)
            with self.subTest(options=options):
                self.assertNotIn("record", str(table.sentence()))
                with self.assertRaisesRegex(VantricError, "how sure this is"):
                    table.certainty()
        self.assertIn(
            "100 pieces", vt.pareto(self.file("d,pieces\nA,60\nB,40\n", "d.csv"), "d", count="pieces").sentence()
        )


if __name__ == "__main__":
    unittest.main()
