"""``vantric review``: sources, sheets made elsewhere, chart files; and two series side by side."""

import json
import unittest
from importlib.resources import files
from pathlib import Path

from openpyxl import Workbook

import vantric as vt
from tests.cli.test_cli import Result
from tests.folder import InFolder
from vantric.errors import VantricError

DATA = Path(str(files("vantric.demo") / "data"))
GOOD = "defect,count,percent,cumulative\nPinhole,88,38.1,38.1\nWarping,61,26.4,64.5\nEdge chip,44,19.0,83.5\nScratch,38,16.5,100\nTotal,231,100,\n"
COLUMNS = ("--by", "defect", "--count", "count", "--percent-column", "percent", "--cumulative-column", "cumulative")


class Sheets(InFolder):
    def codes(self, text: str, *options: str) -> list[tuple[str, str]]:
        result = Result("review", self.file(text), *COLUMNS, *options, "--format", "json")
        self.assertEqual((result.status, result.err), (0, ""))
        found = json.loads(result.out)
        self.assertEqual((found["format"], found["version"]), ("vantric/review", 1))
        return [(finding["code"], finding["message"]) for finding in found["findings"]]

    def test_a_right_sheet_is_right_however_it_is_rounded(self) -> None:
        self.assertEqual(self.codes(GOOD), [])
        self.assertEqual(self.codes(GOOD.replace("38.1,38.1", "38%,38.10%").replace("64.5", "64.502")), [])
        shares = "defect,count,percent,cumulative\na,3,0.75,0.75\nb,1,0.25,1.00\n"
        self.assertEqual(self.codes(shares), [])
        comma = "defect;count;percent;cumulative\na;3;75,0;75,0\nb;1;25,0;100,0\n"
        self.assertEqual(self.codes(comma), [])
        thirds = "defect,count,percent,cumulative\na,1,33.3,33.3\nb,1,33.3,66.7\nc,1,33.3,100.0\n"
        self.assertEqual(self.codes(thirds), [])

    def test_every_wrong_cell_is_named_with_the_likely_slip(self) -> None:
        head = "defect,count,percent,cumulative\n"
        for rows, code, words in (
            (
                "a,60,30.0,60\nb,30,15.0,90\nc,10,5.0,100\nTotal,100,50,\n",
                "wrong-percent",
                "a sum that includes the row 'Total'",
            ),
            ("a,60,100,60\nb,30,50.0,90\nc,10,16.7,100\n", "wrong-percent", "divided by the largest row"),
            ("a,60,66.7,60\nb,30,33.3,90\nc,10,11.1,100\n", "wrong-percent", "a sum without the row 'c'"),
            (
                "a,60,60,60\nb,30,33,90\nc,10,10,100\n",
                "wrong-percent",
                "record 2 ('b'): 'percent' says 33 and should be 30",
            ),
            ("a,60,60,60\nb,30,30,30\nc,10,10,10\n", "wrong-cumulative", "the percent of its own row again"),
            ("a,60,60,0\nb,30,30,60\nc,10,10,90\n", "wrong-cumulative", "a sum in which its own row is not yet"),
            (
                "a,1,14.3,14.3\nb,1,14.3,28.6\nc,1,14.3,42.9\nd,1,14.3,57.2\ne,1,14.3,71.5\nf,1,14.3,85.8\ng,1,14.3,100.1\n",
                "wrong-cumulative",
                "running sum of rounded percents",
            ),
            ("c,10,10,100\na,60,60,60\nb,30,30,90\n", "wrong-cumulative", "they are not sorted"),
            ("c,10,10,10\na,60,60,70\nb,30,30,100\n", "not-sorted", "'a'"),
            ("a,60,60,60\nb,30,30,90\nc,10,10,99.9\n", "not-ending-at-100", "says 99.9, and the last is always 100"),
            ("a,60,60,60\nb,30,30,90\nc,10,10,100\nTotal,110,100,\n", "wrong-total", "says 110 and should be 100"),
        ):
            with self.subTest(rows=rows):
                found = self.codes(head + rows)
                self.assertTrue(any(one == code and words in message for one, message in found), found)

    def test_each_cell_is_named_once_and_right_ones_never(self) -> None:
        found = self.codes(GOOD.replace("26.4", "29.4").replace("83.5", "93.5"))
        self.assertEqual(sorted(code for code, _ in found), ["wrong-cumulative", "wrong-percent"])
        self.assertTrue(all("record" in message for _, message in found))

    def test_sheets_of_a_workbook_name_their_rows(self) -> None:
        book = Workbook()
        for row in (["defect", "count", "percent", "cumulative"], ["a", 60, 0.6, 0.6], ["b", 40, 0.5, 1.0]):
            book.worksheets[0].append(row)
        book.save(self.folder / "s.xlsx")
        out = Result("review", self.folder / "s.xlsx", *COLUMNS).out
        self.assertIn("row 3 ('b'): 'percent' says 0.5 and should be 0.4", " ".join(out.split()))

    def test_strict_and_silence(self) -> None:
        wrong = self.file(GOOD.replace("26.4", "29.4"))
        for options, status in (((), 0), (("--strict",), 1), (("--strict", "--ignore", "wrong-percent"), 0)):
            result = Result("review", wrong, *COLUMNS, *options)
            self.assertEqual(result.status, status, result.err)
        self.assertEqual(Result("review", self.file(GOOD), *COLUMNS, "--strict").out, "Nothing was found.\n")

    def test_bad_sheets_are_one_line(self) -> None:
        for text, options, words in (
            (GOOD, ("--by", "defect", "--percent-column", "percent"), "give --by and --count"),
            (GOOD.replace("61,", "many,"), COLUMNS, "record 2, column 'count' is not a number: 'many'"),
            (GOOD.replace("61,", ","), COLUMNS, "column 'count' is empty"),
            (GOOD, ("--by", "defect", "--count", "cuont", "--percent-column", "percent"), "did you mean 'count'"),
        ):
            result = Result("review", self.file(text), *options)
            self.assertEqual((result.status, result.out), (2, ""))
            self.assertRegex(result.err, "^vantric: error: [^\n]+\n$")
            self.assertIn(words, result.err)


class Sources(InFolder):
    def test_a_log(self) -> None:
        result = Result("review", DATA / "inspections.csv", "--by", "defect")
        self.assertEqual((result.status, result.err), (0, ""))
        self.assertRegex(result.out, r"^1 warning, \d+ notes?\.\n\nwarning \(similar-labels\): ")
        self.assertIn("\n  Fix: give them one spelling", result.out)
        empty = Result("review", self.file("d\n\n"), "--by", "d")
        self.assertIn("Nothing was found.", empty.out + empty.err)

    def test_the_flawed_files_of_the_demo(self) -> None:
        sheet = Result("review", DATA / "flawed_sheet.csv", *COLUMNS, "--strict")
        self.assertEqual(sheet.status, 1)
        for words in (
            "wrong-total",
            "a sum that includes the row 'Total'",
            "record 4 Scratch cumulative 50 100",
            "not-sorted",
        ):
            self.assertIn(words, " ".join(sheet.out.split()))
        found = Result("review", DATA / "flawed_chart.toml", "--format", "json")
        codes = {finding["code"] for finding in json.loads(found.out)["findings"]}
        self.assertEqual(
            codes,
            {
                "unlike-stack",
                "clipped-data",
                "bars-without-zero",
                "percent-as-counts",
                "untitled-axis",
                "two-grids",
                "crossing-lines",
                "unordered-line",
            },
        )

    def test_the_other_flawed_files(self) -> None:
        for arguments, wanted in (
            (("flawed_overlay.toml",), {"hidden-bars", "log-bars", "flat-series", "many-series", "two-grids"}),
            (("flawed_pareto.toml",), {"wrong-cumulative", "not-descending", "secondary-without-zero"}),
            (
                ("flawed_rates.toml",),
                {"added-up", "axis-chosen", "crossing-lines", "flat-series", "mean-of-rates", "secondary-without-zero"},
            ),
            (("floating_line.toml",), {"floating-line", "secondary-without-zero"}),
            (
                ("flawed_log.csv", "--by", "defect", "--count", "pieces"),
                {"total-row", "similar-labels", "near-labels", "more-missing", "ties"},
            ),
        ):
            name, *options = arguments
            found = json.loads(Result("review", DATA / name, *options, "--format", "json").out)
            self.assertEqual({finding["code"] for finding in found["findings"]}, wanted, name)

    def test_chart_files_of_every_kind(self) -> None:
        log, firings = DATA / "inspections.csv", DATA / "firings.csv"
        for name, command, words in (
            ("p", ("pareto", log, "--by", "defect"), "similar-labels"),
            ("c", ("compare", log, "--by", "kiln", "--split", "shift", "--before", "Early", "--after", "Night"), ""),
            ("t", ("tally", log, "--by", "product"), "Nothing was found."),
            (
                "m",
                ("combine", firings, "--x", "month", "--bars", "margin", "--line", "rejected"),
                "they may share a",
            ),
            ("s", ("scales", "0:5", "0:9"), ""),
        ):
            file = self.folder / f"{name}.toml"
            self.assertEqual(Result(*command, "--save-chart", file).status, 0)
            before = file.read_bytes()
            result = Result("review", file, *(() if name == "s" else ("--allow-source",)))
            self.assertEqual((result.status, result.err), (0, ""), name)
            self.assertIn(words, result.out)
            self.assertEqual(file.read_bytes(), before)
        plain = self.file('{"format": "vantric/chart", "version": 1, "kind": "pie"}', "x.json")
        self.assertIn("'pie' is not a kind of chart", Result("review", plain).err)
        data = self.file('[{"d": "a"}, {"d": "b"}]', "rows.json")
        self.assertEqual(Result("review", data, "--by", "d").status, 0)


class SideBySide(unittest.TestCase):
    def test_gaps_are_ranked_by_their_size_with_the_base_beside_the_percent(self) -> None:
        gap = vt.gap({"Press": 1600, "Glaze": 1850, "Pack": 20, "New": 5}, {"Press": 1376, "Glaze": 1499, "Pack": 9})
        self.assertEqual([row.category for row in gap.rows], ["Glaze", "Press", "Pack"])
        first = gap.rows[0]
        self.assertEqual((first.planned, first.achieved, first.difference), (1850, 1499, -351))
        self.assertAlmostEqual(first.percent, 100 * 1499 / 1850)
        self.assertAlmostEqual(sum(row.share for row in gap.rows), 100)
        self.assertEqual(gap.missing, ("New",))
        frame = gap.to_frame()
        self.assertEqual((next(iter(frame.columns)), frame["difference"].tolist()[0]), ("category", -351))
        self.assertEqual(
            gap.sentence(),
            "The largest difference is -351 at “Glaze”: 1,499 achieved of 1,850 planned, 81.0%. The lowest percent is that of "
            "“Pack”: 9 achieved of 20 planned, 45.0%. Of 3 categories, 3 below planned and 0 above. “New” lacks one of the two "
            "and is left out.",
        )
        above = vt.gap([410, 0.3], [900, 0.1 + 0.2], categories=["a", "b"], names=("Promised", "Delivered")).sentence()
        self.assertIn("+490 at “a”: 900 Delivered of 410 Promised, 219.5%. Of 2 categories, 0 below Promised", above)
        self.assertIn("1 level with it", above)
        self.assertNotIn("lowest", above)
        tied = vt.gap({"B": 10, "A": 10, "C": 4}, {"B": 5, "A": 15, "C": 4})
        self.assertTrue(
            tied.sentence().startswith("The largest difference is 5, both ways: below at “B”, above at “A”")
        )
        self.assertEqual([row.category for row in tied.rows], ["A", "B", "C"], "ties in natural order")
        alike = vt.gap({"B": 10, "A": 10}, {"B": 5, "A": 5}).sentence()
        self.assertTrue(alike.startswith("The largest difference is -5, at “A” and “B” alike"))
        turned = vt.gap({"A": 10}, {"A": 5}, names=("done", "target")).sentence()
        self.assertIn("“target” is what was planned: exchange the two if it is", turned)
        listed = vt.gap([10, 0, None], [12, 3, 5], categories=["a", "b", "c"])
        self.assertEqual([(row.category, row.percent) for row in listed.rows], [("b", None), ("a", 120.0)])

    def test_what_cannot_be_set_side_by_side(self) -> None:
        for call, words in (
            (lambda: vt.gap([1, 2], [1]), "give one of each"),
            (lambda: vt.gap([None], [1]), "no category has both"),
            (lambda: vt.gap({"a": 1}, [1]), "in one form"),
            (lambda: vt.gap(["x"], [1]), "is not a number"),
        ):
            with self.assertRaisesRegex(VantricError, words):
                call()
