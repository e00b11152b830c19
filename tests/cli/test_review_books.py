"""``vantric review`` of finished workbooks, ``--repair``, and what says that a picture shows a wrong number."""

import json
import shutil
import unittest
import zipfile
from pathlib import Path
from unittest import mock

from openpyxl import Workbook, load_workbook

import vantric as vt
from tests.cli.test_cli import Result
from tests.corpus.books import book
from tests.corpus.making import DEFECTS, sheet
from tests.engines.test_limits import MANIFEST, OPEN_DOCUMENT
from tests.folder import InFolder
from tests.whole.test_demo import data_file

FLAWED = "defect,count,percent,cumulative\nPinhole,88,19.1,19.1\nWarping,61,13.2,32.3\nScratch,82,17.8,50.0\nTotal,231,50.0,\n"


def percent(row: int) -> str:
    """Return the cell of a row in the column of percents."""
    return f"C{row}"


class Books(InFolder):
    def setUp(self) -> None:
        super().setUp()
        self.book = self.file(data_file("flawed_book.xlsx"), "book.xlsx")

    def codes(self, path: Path, *options: str) -> list[str]:
        result = Result("review", path, *options, "--format", "json")
        self.assertEqual((result.status, result.err), (0, ""))
        return [one["code"] for one in json.loads(result.out)["findings"]]

    def test_sheets_and_charts_are_read(self) -> None:
        wanted = [
            "wrong-percent",
            "total-as-category",
            "bars-without-zero",
            "floating-line",
            "no-alternative",
            "no-alternative",
        ]
        self.assertEqual(self.codes(self.book), wanted)
        self.assertEqual([one.code for one in vt.review(self.book, ignore=["no-alternative"])], wanted[:4])
        self.assertEqual([one.code for one in vt.review(str(self.book)) if one.severity == "warning"], wanted[2:4])
        self.assertEqual(Result("review", self.book, "--strict").status, 1)

    def test_every_wrong_cell_is_in_a_table(self) -> None:
        found = json.loads(Result("review", self.book, "--format", "json").out)["findings"]
        cells = found[0]["cells"]
        self.assertEqual([one["place"] for one in cells], [percent(row) for row in range(4, 10)])
        self.assertEqual(
            cells[0], {"place": percent(4), "label": "Pinhole", "column": "Percent", "says": "17.6", "should": "35.2"}
        )
        self.assertTrue(all("cells" not in one for one in found[1:]))
        self.assertIn(
            f"| {percent(4)} | Pinhole | Percent | 17.6 | 35.2 |",
            Result("review", self.book, "--format", "markdown").out,
        )
        self.assertRegex(Result("review", self.book).out, percent(4) + r" +Pinhole +Percent +17\.6 +35\.2")
        self.assertIn(f">{percent(4)}</td>", vt.review(self.book)._repr_html_())

    def test_what_is_wrong_in_one_sheet_hides_nothing_of_another(self) -> None:
        made = load_workbook(self.book)
        defects, causes = made["Defects"], made["Causes"]
        share = defects.cell(3, 3).coordinate
        defects["B9"], defects[share] = 70, "Percent"  # not sorted
        causes["B7"], causes[share], causes["D3"] = 99, None, "Line"  # nor this, without a column that says so
        for row in range(4, 8):
            causes.cell(row, 3).value = None
        made.save(self.folder / "two.xlsx")
        found = [(one.code, one.where) for one in vt.review(self.folder / "two.xlsx")]
        self.assertIn("not-sorted", [code for code, _ in found])
        self.assertIn(("not-descending", "sheet 'Causes', chart at F3"), found)

    def test_sheets_by_name(self) -> None:
        missing = Result("review", self.book, "--sheet", "Cuases")
        self.assertEqual(missing.status, 2)
        self.assertIn("did you mean 'Causes'?", missing.err)
        self.assertNotIn("wrong-percent", self.codes(self.book, "--sheet", "Causes"))

    def test_a_sheet_or_a_range_is_reviewed_with_the_charts_that_draw_it(self) -> None:
        made = load_workbook(self.book)
        made["Causes"]["B7"] = 99
        made.save(self.folder / "two.xlsx")

        def about(*arguments: str) -> set[str]:
            rows = json.loads(Result("review", self.folder / "two.xlsx", "--format", "json", *arguments).out)[
                "findings"
            ]
            return {row["where"] for row in rows if "chart at" in row["where"]}

        every = about()
        causes = {place for place in every if "'Causes'" in place}
        self.assertTrue(causes and causes < every)
        self.assertEqual(about("--sheet", "Causes"), causes)
        self.assertEqual(about("--sheet", "Causes", "--cells", "A1:D12"), causes)
        self.assertEqual(about("--sheet", "Causes", "--cells", "A1:D3"), set())

    def test_a_range_is_reviewed_as_the_sheet_is(self) -> None:
        kilns = self.file(data_file("kiln_sheets.xlsx"), "kilns.xlsx")
        for cells in ("A3:D25", "A1:D27"):
            self.assertEqual(self.codes(kilns, "--cells", cells), [])
            self.assertEqual(self.codes(kilns, "--cells", cells, "--sheet", "March"), [])
        self.assertEqual(self.codes(kilns, "--cells", "A3:D10"), ["other-base"], "329 of 1,079 is right as it is")
        self.assertEqual(self.codes(self.book, "--cells", "A1:D12"), self.codes(self.book, "--sheet", "Defects"))
        self.assertIn("nothing at cells Z90:Z99", Result("review", kilns, "--cells", "Z90:Z99").err)

    def test_a_total_of_another_base_is_right_where_its_rows_are(self) -> None:
        rows = "Defect,Count,Percent\nPinhole,120,14.8\nCrack,80,9.9\nChip,60,7.4\nDent,40,4.9\nTotal,300,"
        self.assertEqual(self.codes(self.file(f"{rows}36.9\n", "right.csv")), ["other-base"])
        self.assertEqual(self.codes(self.file(f"{rows}30.9\n", "wrong.csv")), ["wrong-percent", "other-base"])

    def test_totals_beside_blank_labels_are_totals_in_csv_too(self) -> None:
        rows = [
            "Kiln,Defect,Pieces,Share",
            "Kiln 1,Pinhole,60,0.3",
            ",Crack,30,0.15",
            ",Chip,10,0.05",
            "Kiln 1 total,,100,0.5",
        ]
        rows += [
            "Kiln 2,Pinhole,20,0.1",
            ",Crack,70,0.35",
            ",Chip,10,0.05",
            "Kiln 2 total,,100,0.5",
            "Grand total,,200,1",
        ]
        self.assertEqual(self.codes(self.file("\n".join(rows), "right.csv")), [])
        wrong = "\n".join(rows).replace("0.35", "0.53")
        self.assertEqual(self.codes(self.file(wrong, "wrong.csv")), ["wrong-percent"])

    def test_options_are_followed_or_refused(self) -> None:
        refused = Result("review", self.book, "--where", "Pieces > 3")
        self.assertEqual((refused.status, refused.out), (2, ""))
        self.assertIn("--where is for a table that is counted", refused.err)
        of_500 = self.workbook(
            [["Defect", "Count", "Percent"], ["a", 50, 10.0], ["b", 30, 6.0], ["c", 25, 5.0], ["d", 5, 1.0]]
        )
        self.assertEqual(self.codes(of_500), ["other-base"])
        self.assertEqual(self.codes(of_500, "--percent-base", "500"), [])
        plain = self.file("defect,count,percent\na,50,10.0\nb,30,6.0\nc,25,5.0\nd,5,1.0\n", "units.csv")
        self.assertEqual(self.codes(plain), ["other-base"])
        self.assertEqual(self.codes(plain, "--percent-base", "500"), [])

    def test_charts_that_cannot_be_read_are_said(self) -> None:
        with zipfile.ZipFile(self.book, "a") as archive:
            archive.writestr("xl/charts/chartEx1.xml", "<cx:chartSpace xmlns:cx='x'/>")
        self.assertIn("unread-chart", self.codes(self.book))

    def changed(self, old: bytes, new: bytes) -> Path:
        """Return a right workbook with a change in its chart."""
        book()(self.folder)
        path = self.folder / "changed.xlsx"
        with zipfile.ZipFile(self.folder / "book.xlsx") as before, zipfile.ZipFile(path, "w") as after:
            for name in before.namelist():
                content = before.read(name)
                after.writestr(name, content.replace(old, new, 1) if name.startswith("xl/charts/") else content)
        return path

    def test_labels_from_cells_are_those_of_the_rows_that_are_drawn(self) -> None:
        kept = (
            '<c:extLst><c:ext uri="{{0}}" xmlns:c15="urn:labels"><c15:datalabelsRange><c15:f>Pareto!$C${}:$C${}</c15:f></c15:datalabelsRange></c:ext>'
            "</c:extLst></c:ser>"
        )
        self.assertEqual(self.codes(self.changed(b"</c:ser>", kept.format(2, 5).encode())), [])
        self.assertEqual(self.codes(self.changed(b"</c:ser>", kept.format(3, 6).encode())), ["unlike-ranges"])

    def test_unions_of_cells_are_resolved(self) -> None:
        parts = b"(Pareto!$B$2:$B$3,Pareto!$B$4:$B$5)"
        self.assertEqual(self.codes(self.changed(b"'Pareto'!$B$2:$B$5", parts)), [])
        self.assertEqual(
            self.codes(self.changed(b"'Pareto'!$B$2:$B$5", b"(Pareto!$B$2:$B$3,Pareto!$B$5)")), ["unlike-ranges"]
        )

    def test_charts_of_an_open_document_are_said_to_be_unread(self) -> None:
        path = self.folder / "kilns.ods"
        cells = "".join(
            f"<table:table-row>{''.join(f'<table:table-cell office:value-type={chr(34)}string{chr(34)}><text:p>{cell}</text:p></table:table-cell>' for cell in row)}"
            "</table:table-row>"
            for row in (("defect",), ("Pinhole",), ("Stain",), ("Pinhole",))
        )
        with zipfile.ZipFile(path, "w") as archive:
            archive.writestr("mimetype", "application/vnd.oasis.opendocument.spreadsheet")
            archive.writestr("META-INF/manifest.xml", MANIFEST)
            archive.writestr("content.xml", OPEN_DOCUMENT.format(cells))
            archive.writestr("Object 1/content.xml", "<office:chart><chart:chart/></office:chart>")
        self.assertIn("unread-chart", self.codes(path, "--by", "defect"))

    def test_formulas_that_cannot_be_worked_out_are_said_and_not_wrong(self) -> None:
        path = self.workbook(
            [
                ["Defect", "Count", "Percent"],
                ["a", 5, "=VLOOKUP(A2,A:B,2,0)/10"],
                ["b", 3, "=B3/SUM(B$2:B$4)"],
                ["c", 2, 0.2],
            ]
        )
        self.assertEqual(self.codes(path), ["unread-formula"])

    def test_books_that_are_none_are_one_line(self) -> None:
        for name, content in (
            ("text.xlsx", b"a,b\n1,2\n"),
            ("broken.xlsx", b"PK\x03\x04 not really"),
            ("half.xlsx", self.book.read_bytes()[:3000]),
        ):
            result = Result("review", self.file(content, name))
            self.assertEqual((result.status, result.out), (2, ""), name)
            self.assertRegex(result.err, "^vantric: error: [^\n]+\n$")
        self.assertIn("there is no file", Result("review", self.folder / "none.xlsx").err)
        empty = self.folder / "empty.xlsx"
        Workbook().save(empty)
        self.assertEqual(self.codes(empty), ["nothing-to-check"])

    def test_kilns_beside_defects_are_no_repeated_labels(self) -> None:
        self.assertEqual(self.codes(self.file(data_file("kiln_sheets.xlsx"), "kilns.xlsx")), [])

    def test_a_log_in_a_workbook_is_not_worked_out(self) -> None:
        made = Workbook()
        made.worksheets[0].append(["Defect", "Count", "Percent"])
        for number in range(20_010):
            made.worksheets[0].append([f"d{number}", 3, 0.5])
        made.save(self.folder / "long.xlsx")
        self.assertIn("long-sheet", self.codes(self.folder / "long.xlsx"))

    def test_what_is_too_much_is_said(self) -> None:
        with mock.patch("vantric.audit.books._MOST_SHEETS", 2):
            path = self.folder / "sheets.xlsx"
            made = Workbook()
            for number in range(3):
                made.create_sheet(f"S{number}").append(["Defect", "Count"])
            made.save(path)
            found = Result("review", path)
            self.assertIn("2 of 4 sheets were not looked at, from 'S1' on", " ".join(found.out.split()))
            self.assertEqual(self.codes(path, "--sheet", "S2"), ["nothing-to-check"])
        with mock.patch("vantric.audit.book_tables._MOST_SHEETS", 2):
            found = Result("review", path)
            self.assertEqual((found.status, found.err.count("\n")), (2, 1))

    def test_formulas_nested_deep_and_long_running_sums(self) -> None:
        nested = {"B": f"={'(' * 2000}1{')' * 2000}", "C": f"={'IF(1,' * 2500}1{',2)' * 2500}", "D": f"={'-' * 3000}1"}
        made = Workbook()
        sheet = made.worksheets[0]
        sheet.append(["Defect", "Count", "Cumulative", "Rest"])
        rows = 1000
        for row in range(2, rows + 2):
            sheet.append([f"d{row}", rows - row // 2, f"=SUM(B$2:B{row})", f"=D{row + 1}+B{row}"])
        sheet.append(["last", 1, f"=SUM(B$2:B{rows + 1})+1", 1])
        made.save(self.folder / "running.xlsx")
        self.assertEqual(self.codes(self.folder / "running.xlsx"), [])
        for place, formula in nested.items():
            sheet[f"{place}2"] = formula
            made.save(self.folder / "nested.xlsx")
            found = Result("review", self.folder / "nested.xlsx")
            self.assertNotIn("fault", found.err)
            self.assertIn(found.status, (0, 1))


class Repairs(InFolder):
    def test_a_sheet_as_csv(self) -> None:
        out = self.folder / "right.csv"
        source = self.file(FLAWED, "sheet.csv")
        before = source.read_bytes()
        result = Result("review", source, "--repair", out)
        self.assertEqual(result.status, 0)
        self.assertIn(f"wrote {out}\n  record 1 ('Pinhole'): percent 19.1 is now 38.0952", result.err)
        self.assertEqual(source.read_bytes(), before)
        self.assertEqual(
            out.read_text().splitlines()[:3],
            [
                "defect,count,percent,cumulative,changes",
                "Pinhole,88,38.1,38.1,percent was 19.1; cumulative was 19.1",
                "Warping,61,26.4,64.5,percent was 13.2; cumulative was 32.3",
            ],
        )
        self.assertNotIn("error", Result("review", out).out)

    def test_decimal_commas_and_signs_are_kept(self) -> None:
        german = FLAWED.replace(",", ";").replace(".", ",")
        out = self.folder / "right.csv"
        Result("review", self.file(german, "sheet.csv"), "--repair", out)
        self.assertIn("Warping;61;26,4;64,5;", out.read_text())

    def test_a_sheet_as_a_workbook_with_the_changes_marked_and_listed(self) -> None:
        out = self.folder / "right.xlsx"
        Result("review", self.file(FLAWED, "sheet.csv"), "--repair", out)
        found = load_workbook(out)
        self.assertEqual(found.sheetnames, ["Repaired", "Changes"])
        page = found["Repaired"]
        self.assertAlmostEqual(page[percent(2)].value, 100 * 88 / 231)
        self.assertEqual((page[percent(2)].fill.fgColor.rgb, page["B2"].fill.fill_type), ("FFFFE08A", None))
        self.assertEqual(page[percent(2)].comment.text, "was 19.1")
        self.assertEqual(
            [cell.value for cell in found["Changes"][2]][:5], ["Repaired", percent(2), "Pinhole", "percent", "19.1"]
        )
        self.assertFalse([one for one in vt.review(out) if one.severity == "error"])

    def test_a_workbook_keeps_what_is_right(self) -> None:
        path, out = self.folder / "book.xlsx", self.folder / "right.xlsx"
        book(percent="=B{r}/SUM(B$2:B${t})")(self.folder)
        result = Result("review", path, "--repair", out)
        self.assertNotIn("does not hold", result.err)
        page = load_workbook(out)["Pareto"]
        self.assertEqual((page["D3"].value, page["B6"].value), ("=SUM(B$2:B3)/B$6", "=SUM(B2:B5)"))
        self.assertAlmostEqual(page[percent(3)].value, 61 / 231)
        self.assertEqual(page[percent(3)].number_format, "0.0%")
        self.assertEqual(page[percent(3)].comment.text, "was =B3/SUM(B$2:B$6)")
        self.assertEqual(len(page._charts), 1)
        self.assertEqual(list(vt.review(out)), [], "text alternatives are kept")

    def test_what_the_new_file_does_not_hold_is_said(self) -> None:
        path = self.file(data_file("flawed_book.xlsx"), "book.xlsx")
        with zipfile.ZipFile(path, "a") as archive:
            archive.writestr("xl/charts/chartEx1.xml", "<cx:chartSpace xmlns:cx='x'/>")
        result = Result("review", path, "--repair", self.folder / "right.xlsx")
        self.assertIn("does not hold xl/charts/chartEx: the source does", result.err)

    def test_nothing_to_repair_writes_nothing(self) -> None:
        out = self.folder / "right.csv"
        result = Result("review", self.file(sheet(DEFECTS), "sheet.csv"), "--repair", out)
        self.assertIn("nothing to repair", result.err)
        self.assertFalse(out.exists())

    def test_a_base_that_is_stated_is_kept(self) -> None:
        source = self.file(sheet(DEFECTS, base=500).replace("12.2,", "21.2,"), "sheet.csv")
        columns = ("--by", "defect", "--count", "count", "--percent-column", "percent", "--percent-base", "500")
        out = self.folder / "right.csv"
        result = Result("review", source, *columns, "--repair", out)
        self.assertIn("('Warping'): percent 21.2 is now 12.2", result.err)
        self.assertIn("Warping,61,12.2,", out.read_text())

    def test_bad_targets_are_one_line_and_nothing_is_lost(self) -> None:
        source = self.file(FLAWED, "sheet.csv")
        made = shutil.copy(source, self.folder / "old.csv")
        workbook = self.file(data_file("flawed_book.xlsx"), "book.xlsx")
        for arguments, words in (
            ((source, "--repair", source), "is the source itself"),
            ((source, "--repair", self.folder / "x.txt"), "ends in .xlsx or .csv"),
            ((source, "--repair", self.folder / "no" / "x.csv"), "there is no folder"),
            ((source, "--repair", made, "--strict"), "leave --strict or --repair out"),
            ((workbook, "--repair", made), "end '"),
            (
                (self.file("defect,n\na,1\nb,2\n", "plain.csv"), "--by", "defect", "--repair", made),
                "that could be repaired",
            ),
            ((self.file("{}", "x.toml"), "--repair", made), "--repair is for"),
        ):
            result = Result("review", *arguments)
            self.assertEqual((result.status, result.out), (2, ""), arguments)
            self.assertIn(words, result.err)
            self.assertRegex(result.err, "^vantric: error: [^\n]+\n$")
        self.assertEqual(Path(made).read_text(), FLAWED)

    def test_cells_are_never_formulas(self) -> None:
        source = self.file(FLAWED.replace("Warping", "=cmd()"), "sheet.csv")
        Result("review", source, "--repair", self.folder / "right.xlsx")
        Result("review", source, "--repair", self.folder / "right.csv")
        self.assertEqual(load_workbook(self.folder / "right.xlsx")["Repaired"]["A3"].value, "'=cmd()")
        self.assertIn("\n'=cmd(),61,", (self.folder / "right.csv").read_text())


class WrongPictures(InFolder):
    def test_a_picture_with_a_wrong_number_says_so(self) -> None:
        log = self.file("defect,count\nPinhole,60\nWarping,40\nTotal,100\n")
        out = self.folder / "p.svg"
        result = Result("pareto", log, "--by", "defect", "--count", "count", "--keep-totals", "--out", out)
        self.assertEqual(result.status, 0)
        self.assertIn(f"vantric: error: '{out}' shows a wrong number: 'Total' is counted as a category", result.err)
        good = Result("pareto", log, "--by", "defect", "--count", "count", "--out", out)
        self.assertNotIn("wrong number", good.err)

    def test_strict_writes_nothing(self) -> None:
        log = self.file("defect,count\nPinhole,60\nWarping,40\nTotal,100\n")
        for command in ("pareto", "tally"):
            out = self.folder / f"{command}.svg"
            result = Result(
                command, log, "--by", "defect", "--count", "count", "--keep-totals", "--strict", "--out", out
            )
            self.assertEqual((result.status, out.exists()), (1, False))

    def test_a_code_that_there_is_not(self) -> None:
        log = self.file("defect\na\nb\n")
        result = Result("pareto", log, "--by", "defect", "--ignore", "tiez")
        self.assertEqual(result.status, 2)
        self.assertIn("there is no finding 'tiez' to ignore; did you mean 'ties'?", result.err)


if __name__ == "__main__":
    unittest.main()
