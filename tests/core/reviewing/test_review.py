"""``vantric review``: sources, sheets made elsewhere, chart files; and two series side by side."""

import json
import math
import unittest
from importlib.resources import files
from pathlib import Path

import numpy as np
from openpyxl import Workbook
from scipy import stats

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
        self.assertEqual(self.codes(GOOD.replace("38.1,38.1", "38 %,38.10 %").replace("64.5", "64.502")), [])
        shares = "defect,count,percent,cumulative\na,3,0.75,0.75\nb,1,0.25,1.00\n"
        self.assertEqual(self.codes(shares), [])
        comma = "defect;count;percent;cumulative\na;3;75,0;75,0\nb;1;25,0;100,0\n"
        self.assertEqual(self.codes(comma), [])
        thirds = "defect,count,percent,cumulative\na,1,33.3,33.3\nb,1,33.3,66.7\nc,1,33.3,100.0\n"
        self.assertEqual(self.codes(thirds), [])

    def test_every_wrong_cell_is_named_with_the_likely_slip(self) -> None:
        head = "defect,count,percent,cumulative\n"
        for rows, code, words in (
            ("a,60,30.0,60\nb,30,15.0,90\nc,10,5.0,100\nTotal,100,50,\n", "wrong-percent", "the Total row was in the sum"),
            ("a,60,100,60\nb,30,50.0,90\nc,10,16.7,100\n", "wrong-percent", "divided by the largest row"),
            ("a,60,66.7,60\nb,30,33.3,90\nc,10,11.1,100\n", "wrong-percent", "'c' was not in the sum"),
            ("a,60,60,60\nb,30,33,90\nc,10,10,100\n", "wrong-percent", "record 2 ('b'): the percent says 33 and should be 30"),
            ("a,60,60,60\nb,30,30,30\nc,10,10,10\n", "wrong-cumulative", "repeats the percent of its own row"),
            ("a,60,60,0\nb,30,30,60\nc,10,10,90\n", "wrong-cumulative", "its own row is not in it yet"),
            ("a,1,14.3,14.3\nb,1,14.3,28.6\nc,1,14.3,42.9\nd,1,14.3,57.2\ne,1,14.3,71.5\nf,1,14.3,85.8\ng,1,14.3,100.1\n",
             "wrong-cumulative", "running sum of rounded percents"),
            ("c,10,10,100\na,60,60,60\nb,30,30,90\n", "wrong-cumulative", "they are not sorted"),
            ("c,10,10,10\na,60,60,70\nb,30,30,100\n", "not-sorted", "'a'"),
            ("a,60,60,60\nb,30,30,90\nc,10,10,99.9\n", "not-ending-at-100", "says 99.9, and the last is always 100"),
            ("a,60,60,60\nb,30,30,90\nc,10,10,100\nTotal,110,100,\n", "wrong-total", "says 110 and should be 100"),
        ):  # fmt: skip
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
        self.assertIn("row 3 ('b'): the percent says 0.5 and should be 0.4", " ".join(out.split()))

    def test_strict_and_silence(self) -> None:
        wrong = self.file(GOOD.replace("26.4", "29.4"))
        for options, status in (((), 0), (("--strict",), 1), (("--strict", "--ignore", "wrong-percent"), 0)):
            result = Result("review", wrong, *COLUMNS, *options)
            self.assertEqual(result.status, status, result.err)
        self.assertEqual(Result("review", self.file(GOOD), *COLUMNS, "--strict").out, "Nothing was found.\n")

    def test_bad_sheets_are_one_line(self) -> None:
        for text, options, words in (
            (GOOD, ("--by", "defect", "--percent-column", "percent"), "give --by and --count"),
            (GOOD.replace("26.4", "much"), COLUMNS, "record 2, column 'percent' is not a number: 'much'"),
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
            "the Total row was in the sum",
            "running sum of wrong percents",
            "not-sorted",
            "not-ending-at-100",
        ):
            self.assertIn(words, " ".join(sheet.out.split()))
        found = Result("review", DATA / "flawed_chart.toml", "--format", "json")
        codes = {finding["code"] for finding in json.loads(found.out)["findings"]}
        self.assertEqual(codes, {
            "unlike-stack", "clipped-data", "bars-without-zero", "percent-as-counts", "untitled-axis", "two-grids",
            "crossing-lines", "unordered-line",
        })  # fmt: skip

    def test_the_other_flawed_files(self) -> None:
        for arguments, wanted in (
            (("flawed_overlay.toml",), {"hidden-bars", "log-bars", "flat-series", "many-series", "two-grids"}),
            (("flawed_pareto.toml",), {"wrong-cumulative", "not-descending"}),
            (("flawed_rates.toml",), {"added-up", "axis-chosen", "crossing-lines", "flat-series", "mean-of-rates"}),
            (("floating_line.toml",), {"floating-line"}),
            (("flawed_log.csv", "--by", "defect", "--count", "pieces"),
             {"total-row", "similar-labels", "near-labels", "more-missing", "ties"}),
        ):  # fmt: skip
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
                "Pearson correlation",
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
            "The largest difference is -351 at “Glaze”: 1,499 achieved of 1,850 planned, 81.0 %; the lowest percent is that of "
            "“Pack”: 9 achieved of 20 planned, 45.0 %; of 3 categories: 3 below planned, none above.",
        )
        above = vt.gap([410, 0.3], [900, 0.1 + 0.2], categories=["a", "b"], names=("Promised", "Delivered")).sentence()
        self.assertIn(
            "+490 at “a”: 900 Delivered of 410 Promised, 219.5 %; of 2 categories: none below Promised", above
        )
        self.assertIn("1 level with it", above)
        self.assertNotIn("lowest", above)
        listed = vt.gap([10, 0, None], [12, 3, 5], categories=["a", "b", "c"])
        self.assertEqual([(row.category, row.percent) for row in listed.rows], [("b", None), ("a", 120.0)])

    def test_relations_are_those_of_the_textbook(self) -> None:
        rng = np.random.default_rng(8)
        one = rng.normal(size=40)
        other = 0.6 * one + rng.normal(size=40)
        found = vt.relate(one, other, names=("a", "b"))
        reference = stats.pearsonr(one, other)
        self.assertAlmostEqual(found.pearson, reference.statistic)
        interval = reference.confidence_interval(0.95)
        assert found.pearson_interval is not None
        np.testing.assert_allclose(found.pearson_interval, (interval.low, interval.high), rtol=1e-9)
        self.assertAlmostEqual(found.spearman, stats.spearmanr(one, other).statistic)
        self.assertEqual((found.n, found.caution), (40, "a relation does not show a cause"))
        with_gaps = vt.relate([*one, None], [*other, 3.0])
        self.assertEqual((with_gaps.n, with_gaps.pearson), (40, found.pearson))

    def test_cautions(self) -> None:
        few = vt.relate([1, 2, 3, 4, 5], [2, 1, 4, 3, 5])
        self.assertIn("5 pairs are few", few.caution)
        trends = vt.relate(range(12), [n + (n % 2) for n in range(12)], in_time=True)
        self.assertIn("two trends always seem related", trends.caution)
        self.assertNotIn("trends", vt.relate(range(12), [n + (n % 2) for n in range(12)]).caution)
        level = vt.relate([1, 1, 1], [1, 2, 3])
        self.assertIsNone(level.pearson)
        self.assertIn("does not vary", level.sentence())
        exact = vt.relate([1, 2, 3, 4], [2, 4, 6, 8])
        assert exact.pearson_interval is not None
        self.assertTrue(all(math.isfinite(end) for end in exact.pearson_interval))

    def test_what_cannot_be_set_side_by_side(self) -> None:
        for call, words in (
            (lambda: vt.gap([1, 2], [1]), "give one of each"),
            (lambda: vt.gap([None], [1]), "no category has both"),
            (lambda: vt.gap({"a": 1}, [1]), "in one form"),
            (lambda: vt.gap(["x"], [1]), "is not a number"),
            (lambda: vt.relate([1, 2], [1, 2]), "2 pairs .* say nothing"),
            (lambda: vt.relate([1, 2, 3], [1, 2]), "as many of each"),
        ):
            with self.assertRaisesRegex(VantricError, words):
                call()


class Certainty(InFolder):
    counts = {"Pinhole": 88, "Warping": 61, "Edge chip": 44, "Scratch": 38, "Stain": 3}

    def test_it_says_what_is_sure_and_what_is_not(self) -> None:
        sure = vt.pareto(self.counts).certainty()
        self.assertEqual([row.category for row in sure.rows], list(self.counts))
        for row in sure.rows:
            self.assertTrue(row.low < row.percent < row.high)
            self.assertTrue(row.lowest_rank <= row.rank <= row.highest_rank)
            self.assertTrue(row.even_low <= 100 / 5 + 15 and row.even_low <= row.even_high)
        self.assertEqual((sure.rows[-1].lowest_rank, sure.rows[-1].chance), (5, 0.0))
        self.assertEqual(sure.rows[0].chance, 1.0)
        self.assertGreater(sure.rows[2].chance, 0.5)
        self.assertEqual(sure, vt.pareto(self.counts).certainty(), "the same start gives the same")
        self.assertNotEqual(sure, vt.pareto(self.counts).certainty(start=2))
        self.assertRegex(
            sure.sentence(), "^“Pinhole” is the most frequent with 95 % certainty; .*“Scratch”.*\\.$|^The first"
        )
        none = vt.pareto(self.counts, cut=None).certainty()
        self.assertIsNone(none.rows[0].chance)
        self.assertEqual(
            [row.category for row in vt.pareto(self.counts, order="label", cut=None).certainty().rows],
            list(self.counts),
        )

    def test_intervals_cover_as_they_say(self) -> None:
        from vantric.core.inference.intervals import share_intervals

        rng = np.random.default_rng(5)
        for size, total in ((5, 80), (12, 400), (30, 3000)):
            shares = np.sort(rng.dirichlet(np.full(size, 1.5)))[::-1]
            held = 0
            for _ in range(2000):
                low, high = share_intervals(rng.multinomial(total, shares))
                held += bool(np.all((low <= shares) & (shares <= high)))
            self.assertTrue(0.93 <= held / 2000 <= 0.999, (size, total, held))

    def test_the_fast_sort_ranks_as_a_plain_one_does(self) -> None:
        from vantric.core.inference import resampling

        rng = np.random.default_rng(3)
        for size, total in ((1, 5), (2, 9), (7, 30), (50, 4000), (3, 2**45)):
            tables = rng.multinomial(total, np.full(size, 1 / size), size=200)
            ordered, owners = resampling.sorted_with_owner(tables)
            plain = np.argsort(-tables, axis=1, kind="stable")
            np.testing.assert_array_equal(owners, plain)
            np.testing.assert_array_equal(ordered, np.take_along_axis(tables, plain, axis=1))
            ranks = resampling.rank_counts(owners)
            self.assertTrue(np.all(ranks.sum(axis=1) == 200) and np.all(ranks.sum(axis=0) == 200))
            for rule in ("reach", "within"):
                chances = resampling.vital_chances(ordered, owners, 80.0, rule)
                wanted = np.zeros(size)
                for table in tables:
                    again = (
                        vt.pareto({f"c{n:02d}": int(value) for n, value in enumerate(table)}, rule=rule)
                        if size <= 7
                        else None
                    )
                    if again is not None and again.cutoff is not None:
                        for name in again.cutoff.categories:
                            wanted[int(name[1:])] += 1 / 200
                if size <= 7:
                    np.testing.assert_allclose(chances, wanted, atol=1e-9)

    def test_where_nothing_can_be_said(self) -> None:
        for table, options, words in (
            (vt.pareto({"a": 1.5, "b": 1}), {}, "not of weights or rates"),
            (vt.pareto({"d": ["a", "b"], "w": [1, 2]}, "d", weight="w"), {}, "not of weights or rates"),
            (vt.pareto(self.counts), {"level": 1.5}, "between 0 and 1"),
            (vt.pareto(self.counts), {"resamples": 5}, "at least 100 times"),
            (vt.pareto({"a": 10**20, "b": 1}), {}, "nothing about their ranking is uncertain"),
        ):
            with self.assertRaisesRegex(VantricError, words):
                table.certainty(**options)

    def test_in_pictures_and_tables(self) -> None:
        chart = vt.pareto_chart(self.counts, intervals=True)
        plan = chart.plan()
        self.assertEqual(len([rule for rule in plan.rules if rule.role == "interval"]), 15)
        self.assertEqual([area.role for area in plan.areas], ["band"])
        self.assertIn("intervals of all shares at once", chart.note)
        legend = [mark.text for mark in plan.texts if mark.role == "legend"]
        self.assertLessEqual({"95 % interval", "If all were equally likely"}, set(legend))
        with self.assertRaisesRegex(VantricError, "none folded or split"):
            vt.pareto_chart(self.counts | {"x": 1, "y": 1}, intervals=True, keep=5)
        log = DATA / "inspections.csv"
        options = ("--by", "product", "--intervals")
        out = Result("pareto", log, *options).out
        self.assertRegex(out, r"Terra 30x30 +\d+\.\d to \d+\.\d +1 +100 %")
        found = json.loads(Result("pareto", log, *options, "--format", "json").out)
        self.assertEqual(len(found["certainty"]["rows"]), 4)
        self.assertEqual(
            found["rows"], json.loads(Result("pareto", log, "--by", "product", "--format", "json").out)["rows"]
        )
        head = Result("pareto", log, *options, "--format", "csv").out.splitlines()[0]
        self.assertTrue(head.endswith("abc,low,high,lowest_rank,highest_rank,chance,even_low,even_high"))
        for ending in ("xlsx", "png", "md", "html"):
            self.assertEqual(Result("pareto", log, *options, "--out", self.folder / f"c.{ending}").status, 0)
        self.assertEqual(Result("pareto", log, *options, "--weight", "rework_cost").status, 2)
