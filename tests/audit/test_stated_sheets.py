"""Sheets whose columns are worked out from others: right ones are not alarmed, slips are told with their cause."""

from __future__ import annotations

import csv
import json
from collections.abc import Iterable
from pathlib import Path

import openpyxl

import vantric as vt
from tests.cli.test_cli import Result
from tests.corpus.groupedsheets import GROUPED
from tests.corpus.statedsheets import MAKERS, Sheet, flawed, good
from tests.effort import ALL
from tests.folder import InFolder

SEEDS = range(6 if ALL else 2)


EVERY = (*MAKERS, *GROUPED)


class Corpus(InFolder):
    def told(self, sheet: Sheet) -> list[vt.Finding]:
        return worth(vt.review(self.file(sheet.text)))

    def test_what_is_right_is_not_alarmed(self) -> None:
        for sheet in good(SEEDS, EVERY):
            with self.subTest(sheet.name):
                self.assertEqual([(found.code, found.message) for found in self.told(sheet)], [])

    def test_amounts_that_no_float_holds(self) -> None:
        sheet = "Defect,Count,Percent\nScratch,4e-400,40\nPinhole,3e-400,30\nStain,2e-400,{}\nDent,1e-400,10\n"
        for cell, codes in (("20", set()), ("7", {"wrong-percent"})):
            codes_of = {finding.code for finding in vt.review(self.file(sheet.format(cell)))}
            self.assertEqual(codes_of & {"wrong-percent"}, codes)

    def test_one_slip_is_one_finding_with_its_cause(self) -> None:
        number = missed = other = 0
        for sheet in flawed(SEEDS, EVERY):
            found = self.told(sheet)
            number += 1
            missed += not found
            right = bool(found) and found[0].code in sheet.codes and sheet.words in found[0].message
            other += bool(found) and not right
            with self.subTest(sheet.name):
                self.assertLessEqual(len(found), 1, found)
        self.assertGreater(number, 60)
        self.assertLessEqual(missed / number, 0.01)
        self.assertLessEqual(other / number, 0.05)

    def test_a_workbook_says_the_same_as_its_text(self) -> None:
        path = self.folder / "book.xlsx"
        for sheet in [*flawed(SEEDS, EVERY), *good(SEEDS, EVERY)]:
            write_book(sheet.text, path)
            with self.subTest(sheet.name):
                codes = [found.code for found in worth(vt.review(path))]
                self.assertEqual(codes, [found.code for found in self.told(sheet)])


class Counts(InFolder):
    """Sheets of one column of counts: a workbook says what its text says, of labels and of sums."""

    SHEETS = (
        ("Scratch,60\nPinhole,40\nStain,30\nDent,3\n", "nothing-to-check"),
        ("Scratch,60\nPinhole,40\nStain,20\n", "nothing-to-check"),
        ("Scratch,60\nPinhole,90\nStain,30\nTotal,180\n", ""),
        ("Scratch,60\nPinhole,90\nStain,30\nTotal,181\n", "wrong-total"),
        ("Scratch,60\nPinhole,90\nStain,30\nErgebnis,180\n", "total-as-category"),
        ("Firing,75\nFiring heat,45\nFiring dust,30\nMoisture,25\n", "possible-total"),
        ("Scratch,60\nPinhole,-90\nStain,30\nDent,9\n", "negative-count"),
        ("Scratch,60\nScartch,4\nPinhole,90\nStain,30\n", "near-labels"),
        ("Scratch,60\nscratch,4\nPinhole,90\nStain,30\n", "similar-labels"),
        ("Scratch; Dent,60\nPinhole,40\nScratch,30\nDent,11\n", "several-labels"),
        ("Scratch,60\nPinhole,40\nStain,30\nTEST,1\n", "test-entries"),
        ("OK,600\nPinhole,40\nStain,30\nDent,1\n", "good-as-defect"),
        ("n/a,60\nPinhole,40\nScratch,30\nDent,11\n", "missing-code"),
    )

    def test_a_workbook_says_what_its_text_says(self) -> None:
        path = self.folder / "book.xlsx"
        for rows, code in self.SHEETS:
            with self.subTest(rows):
                write_book(f"Defect,Pieces\n{rows}", path)
                told = [[found.code for found in vt.review(one)] for one in (self.file(f"Defect,Pieces\n{rows}"), path)]
                self.assertEqual(told, [[code] if code else []] * 2)

    def test_each_sheet_is_told_for_itself(self) -> None:
        path = self.folder / "two.xlsx"
        slips = {
            "Glue,75\nGlue a,45\nGlue b,30\nAsh,80\nAsh a,50\nAsh b,30\nRim,7\n": "row 2: 'Glue'",
            "Scratch,60\nPinhole,90\nStain,30\nErgebnis,180\n": "row 5: 'Ergebnis'",
            "Scratch,60\nScartch,4\nPinhole,90\nStain,30\n": "'Scartch' and 'Scratch'",
        }
        for rows, words in slips.items():
            book = openpyxl.Workbook()
            for sheet in (book.active, book.create_sheet("Two")):
                for line in f"Defect,Pieces\n{rows}".splitlines():
                    sheet.append([int(cell) if cell.isdigit() else cell for cell in line.split(",")])
            book.save(path)
            messages = [found.message for found in vt.review(path)]
            with self.subTest(words):
                self.assertEqual([message[:8] for message in messages], ["sheet 'S", "sheet 'T"])
                self.assertTrue(all(words in message and "record " not in message for message in messages), messages)

    def test_rows_are_named_as_the_book_names_them(self) -> None:
        path = self.folder / "book.xlsx"
        write_book("Cause,Pieces\nFiring,75\nFiring heat,45\nFiring dust,30\nMoisture,25\n", path)
        [found] = vt.review(path)
        self.assertTrue(found.message.startswith("row 2 ('Firing') adds up the rows that are named after it"))


class Gaps(InFolder):
    """What is left out between two rows: the heading of a section begins one, a page break does not."""

    FIRST, SECOND = "Chip,30,30%\nCrack,20,20%\nGlaze,10,10%\n", "Chip,20,20%\nGlaze,10,10%\nCrack,10,10%\n"
    HEADER = "Defect,Count,Percent\n"

    def said(self, text: str) -> list[str]:
        path = self.folder / "book.xlsx"
        write_book(text, path)
        codes = [found.code for found in worth(vt.review(self.file(text)))]
        self.assertEqual([found.code for found in worth(vt.review(path))], codes)
        return codes

    def test_labels_of_two_sections_are_two(self) -> None:
        self.assertEqual(self.said(f"{self.HEADER}Kiln 1,,\n{self.FIRST}Kiln 2,,\n{self.SECOND}"), [])
        self.assertEqual(self.said(f"{self.HEADER}Kiln 1,,\n{self.FIRST},,\nKiln 2,,\n{self.SECOND}"), [])

    def test_labels_on_two_pages_are_one(self) -> None:
        for gap in (self.HEADER, f"Page 1 of 2,,\n{self.HEADER}", ",,\n"):
            with self.subTest(gap):
                self.assertEqual(self.said(f"{self.HEADER}{self.FIRST}{gap}{self.SECOND}"), ["repeated-label"])


def worth(findings: Iterable[vt.Finding]) -> list[vt.Finding]:
    return [finding for finding in findings if finding.severity != "note"]


def write_book(text: str, path: Path) -> None:
    """Write a sheet as a workbook: numbers as numbers, shown as they were written."""
    book = openpyxl.Workbook()
    for row, line in enumerate(csv.reader(text.splitlines()), start=1):
        for column, written in enumerate(line, start=1):
            value = _number(written.rstrip("%"), percent="%" in written)
            if written:
                cell = book.active.cell(row, column, value)
            if isinstance(value, float):
                decimals = len(written.rstrip("%").partition(".")[2])
                cell.number_format = f"0.{'0' * decimals}" + ("%" if "%" in written else "")
    book.save(path)


def _number(text: str, *, percent: bool) -> object:
    try:
        value = float(text)
    except ValueError:
        return text
    if percent:
        return round(value / 100, 6)
    return int(value) if "." not in text else value


class Said(InFolder):
    def said(self, text: str) -> str:
        return " ".join(Result("review", self.file(text)).out.split())

    def test_a_sheet_is_never_counted_row_by_row(self) -> None:
        text = "Item,Planned,Actual,Deviation\nEnergy,1200,1310,110\nWages,5400,5390,-10\nClay,800,760,-40\nTotal,7400,7460,60\n"
        self.assertEqual(self.said(text), "Nothing was found.")
        wrong = self.said(text.replace("760,-40", "760,40"))
        self.assertIn("'Deviation' is 'Actual' less 'Planned' in 2 of 3 rows, and not in record 3 ('Clay')", wrong)
        self.assertIn("it says 40 and should be -40, there it is 'Planned' less 'Actual'", wrong)

    def test_percents_of_the_row_are_right_as_they_are(self) -> None:
        text = "Defect,A,B,Total,A %,B %\nPinhole,42,31,73,57.5%,42.5%\nCrack,20,25,45,44.4%,55.6%\nChip,7,3,10,70.0%,30.0%\n"
        self.assertEqual(self.said(text), "Nothing was found.")

    def test_what_cannot_be_checked_is_said_once_as_a_note(self) -> None:
        text = "Kiln,Temperature,Age\nKiln 1,1180,12\nKiln 2,1044,7\nKiln 3,1231,31\n"
        self.assertRegex(self.said(text), r"^1 note\. note \(nothing-to-check\): no column is worked out from others")

    def test_a_rate_of_totals_a_mean_with_the_total_and_subtotals_twice(self) -> None:
        for text, words in (
            (
                "Line,Made,Rejects,Rate\nA,1200,36,3.0%\nB,800,40,5.0%\nC,2000,30,1.5%\nTotal,4000,106,3.2%\n",
                "says 3.2%, the mean of the rows, and should be 2.65%",
            ),
            ("Shift,Count\nEarly,12\nLate,20\nNight,10\nTotal,42\nMean,21\n", "it takes the Total row in"),
            (
                "Defect,Count\nCrack,20\nPinhole,30\nSubtotal surface,50\nChip,10\nDent,15\nSubtotal edge,25\nGrand total,150\n",
                "says 150 and should be 75: it adds the subtotals again",
            ),
            (
                "Line,Made,Good\nA,1200,1164\nB,800,860\nC,2000,1970\nD,900,880\n",
                "'Good' is more than 'Made' in record 2 ('B'): 860 of 800",
            ),
            ("Cause,Share\nCrack,45%\nPinhole,35%\nChip,20%\nStain,12%\n", "'Share' adds up to 112%"),
            ("Line,Count\nA,12\nB,1O\nC,20\nTotal,32\n", "'1O' is no number, and sums leave it out"),
        ):
            self.assertIn(words, self.said(text))

    def test_logs_of_what_is_no_defect(self) -> None:
        days = [f"2026-0{1 + at % 6}-{1 + at % 27:02d}" for at in range(70)]
        ok = "date,defect\n" + "".join(
            f"{day},{['OK', 'OK', 'OK', 'Pinhole', 'OK', 'Crack', 'OK'][at % 7]}\n" for at, day in enumerate(days)
        )
        self.assertIn("the most frequent category, 'OK' (71% of all), says that nothing was wrong", self.said(ok))
        results = ok.replace("defect", "result").replace("Crack", "rework").replace("Pinhole", "scrap")
        self.assertNotIn("nothing was wrong", self.said(results))
        log = "date,cause,minutes\n" + "".join(
            f"{day},{['Jam', 'Setup', 'Belt', 'Jam'][at % 4]},{5 + at * 7 % 40}\n" for at, day in enumerate(days)
        )
        self.assertNotIn("code", self.said(log))
        self.assertIn("'minutes' says 9,999 once, and at most 44 elsewhere", self.said(log + "2026-05-03,Jam,9999\n"))
        tried = self.said(log + "2026-05-03,TEST,1\n2026-05-03,asdf,2\n")
        self.assertIn("somebody seems to have tried the form: 'asdf' and 'TEST' of 'cause' are no categories", tried)

    def test_json_names_the_cells(self) -> None:
        text = "Article,Quantity,Unit price,Amount\nTile,12,3.50,42.00\nGrout,5,8.00,48.00\nGlue,3,12.50,37.50\nSand,4,2.00,8.00\n"
        told = json.loads(Result("review", self.file(text), "--format", "json").out)
        [found] = told["findings"]
        self.assertEqual(found["code"], "wrong-relation")
        self.assertEqual(found["cells"][0]["should"], "40")

    def test_a_cell_on_which_a_total_and_a_relation_agree_is_one_finding(self) -> None:
        text = (
            "Machine,Planned h,Down h,Run h,Availability\nM1,160,12.5,147.5,92.2%\nM2,160,8.0,152.0,95.0%\n"
            "M3,120,30.0,90.0,75.0%\nM4,160,0.0,160.0,100.0%\nAll,600,50.5,549.5,91.6%\n"
        )
        self.assertEqual(self.said(text), "Nothing was found.")
        wrong = self.said(text.replace("8.0,152.0", "8.0,125.0"))
        self.assertIn("1 error. error (wrong-relation): 'Run h' of record 2 ('M2') says 125.0 and should be 152", wrong)

    def test_percents_that_weigh_and_rates_per_million(self) -> None:
        for text, slip, words in (
            (
                "Line,Availability,Performance,Quality,OEE\nA,90.0%,95.0%,99.0%,84.6%\nB,85.0%,88.0%,98.0%,73.3%\n"
                "C,92.0%,91.0%,97.0%,81.2%\nD,78.0%,96.0%,99.5%,74.5%\n",
                ("73.3%", "78.3%"),
                "should be 73.3%",
            ),
            (
                "Supplier,Delivered,Defective,PPM\nAlda,120000,36,300\nBrin,80000,40,500\nCord,200000,30,150\nDahl,50000,9,180\n",
                ("40,500", "40,5000"),
                "'Defective' over 'Delivered' per million",
            ),
            (
                "Part,Opening,In,Out,Closing,Unit cost,Value\nBolt,500,200,300,400,0.25,100.00\nNut,800,100,250,650,0.10,65.00\n"
                "Plate,60,40,35,65,12.00,780.00\nRod,90,10,50,50,4.50,225.00\nTotal,,,,,,1170.00\n",
                ("35,65,12", "35,56,12"),
                "'Closing' is 'Opening' plus 'In' less 'Out'",
            ),
        ):
            self.assertEqual(self.said(text), "Nothing was found.")
            self.assertIn(words, self.said(text.replace(*slip)))

    def test_a_favorable_sign_of_income_and_of_costs_is_no_slip(self) -> None:
        text = (
            "Item,Budget,Actual,Variance\nRevenue,5000,5200,200\nWages,2400,2450,-50\nEnergy,700,640,60\n"
            "Rent,500,520,-20\nFreight,300,345,-45\nProfit,1100,1245,145\n"
        )
        self.assertRegex(
            self.said(text), r"^1 note. note \(two-directions\): 'Variance' is 'Budget' less 'Actual' in 4"
        )
        self.assertIn("error (wrong-relation)", self.said(text.replace("640,60", "640,70")))

    def test_a_repair_leaves_what_is_right(self) -> None:
        text = "Defect,A,B,Total,A %,B %\nPinhole,42,31,73,57.5%,42.5%\nCrack,20,25,45,44.4%,55.6%\nChip,7,3,10,70.0%,30.0%\n"
        target = self.folder / "fixed.csv"
        result = Result("review", self.file(text), "--repair", target)
        self.assertEqual((result.status, target.exists()), (2, False))
        self.assertIn("no percents or running sums beside counts that could be repaired", result.err)

    def test_numbers_that_no_sheet_has_are_no_crash(self) -> None:
        for text in (
            "Total,Level,Rate\n1e400,,\n15,Total,Sum\n12%,87,59\n",
            "Level,Hours,12%,Rate\n12%,20,37,49\n35,12%,1e400,82\n42,36,8,9999999999999999999999999999999999999999\n",
            "Item,A,B,C\nx,1e308,1e308,1e308\ny,1e-320,2,3\nz,0,0,0\nw,-1e308,5,6\n",
        ):
            self.assertNotIn("Traceback", self.said(text))
