"""The Python side, as a user writes it."""

import csv
import json
import os
import stat
import tempfile
import unittest
from pathlib import Path
from unittest import mock

import pandas as pd

import vantric as vt
from tests.folder import InFolder
from vantric.base.safe_files import write_whole
from vantric.errors import TargetError

COUNTS = {"Pinhole": 88, "Warping": 61, "<b>": 44, "Scratch": 9}


class Tables(unittest.TestCase):
    def test_a_frame_of_the_rows(self) -> None:
        frame = vt.pareto(COUNTS).to_frame()
        self.assertEqual(
            list(frame.columns),
            ["rank", "category", "frequency", "count", "percent", "cumulative_frequency", "cumulative_percent", "abc"],
        )
        self.assertEqual(frame["frequency"].tolist(), [88, 61, 44, 9])
        self.assertEqual(frame["cumulative_percent"].iloc[-1], 100)
        self.assertTrue(pd.api.types.is_integer_dtype(frame["frequency"]))

    def test_a_dictionary_that_json_takes(self) -> None:
        found = json.loads(json.dumps(vt.pareto(COUNTS).to_dict()))
        self.assertEqual(
            (found["format"], found["source"], found["by"], found["total"]), ("vantric/pareto", None, None, 202)
        )
        without = vt.pareto(COUNTS, cut=None).to_dict()
        self.assertEqual((without["cutoff"], without["cutoffs"], without["rows"][0]["abc"]), (None, [], None))

    def test_html_is_escaped(self) -> None:
        html = vt.pareto(COUNTS)._repr_html_()
        self.assertIn("&lt;b&gt;", html)
        self.assertNotIn("<b>", html)
        self.assertIn("<caption", html)
        many = vt.pareto({str(n): 1 for n in range(100)})._repr_html_()
        self.assertIn("... and 40 more categories", many)

    def test_results_are_frozen_and_public(self) -> None:
        table = vt.pareto(COUNTS)
        with self.assertRaises(AttributeError):
            table.cutoffs = ()  # type: ignore[misc]
        self.assertIsInstance(table, vt.ParetoTable)
        self.assertEqual(table, vt.pareto(vt.tally(COUNTS)))
        self.assertEqual(table.cutoff.count, 3)
        self.assertEqual(table.sentence(), vt.pareto_chart(table).description)

    def test_cutoffs_as_text_or_number(self) -> None:
        self.assertEqual(vt.pareto(COUNTS, cut="95.5").cutoff.percent, 95.5)
        with self.assertRaisesRegex(vt.VantricError, "between 0 and 100"):
            vt.pareto("nowhere.csv", by="defect", cut=800)

    def test_reviews(self) -> None:
        self.assertEqual([f.code for f in vt.review(vt.pareto({"a": 1, "A": 1, "b": 20}))], ["similar-labels", "ties"])
        self.assertEqual([f.code for f in vt.review(vt.tally(["a", "a "]))], ["similar-labels"])
        with self.assertRaisesRegex(vt.VantricError, "cannot review int"):
            vt.review(5)  # type: ignore[arg-type]


class Charts(InFolder):
    def test_from_data_or_from_a_table(self) -> None:
        from_data = vt.pareto_chart({"defect": ["a", "b", "a"]}, by="defect", cut=60)
        self.assertEqual(from_data, vt.pareto_chart(vt.pareto({"defect": ["a", "b", "a"]}, by="defect", cut=60)))
        self.assertIsInstance(from_data, vt.Chart)
        self.assertIn(
            "'a accounts for 67% of 3 records' of 2 categories: bars 'Frequency', line 'Cumulative percent'",
            repr(from_data),
        )
        with self.assertRaisesRegex(vt.VantricError, "counted already"):
            vt.pareto_chart(vt.pareto(COUNTS), by="defect")

    def test_saving_returns_the_path(self) -> None:
        for name in ("a.png", "a.svg", "a.PDF"):
            saved = vt.pareto_chart(COUNTS).save(str(self.folder / name))
            self.assertGreater(saved.stat().st_size, 5000)

    def test_places_that_cannot_be_written(self) -> None:
        chart = vt.pareto_chart(COUNTS)
        for name, words in [
            ("a", "its ending is not one of"),
            ("a.gif", "its ending is not one of"),
            ("no/a.png", "there is no folder"),
        ]:
            with self.subTest(name=name), self.assertRaisesRegex(TargetError, words):
                chart.save(self.folder / name)
        self.assertEqual(list(self.folder.iterdir()), [])

    def test_files_are_replaced_whole(self) -> None:
        path = self.folder / "a.csv"
        path.write_bytes(b"old")
        path.chmod(0o640)
        write_whole(path, b"new")
        self.assertEqual((path.read_bytes(), stat.S_IMODE(path.stat().st_mode)), (b"new", 0o640))
        link = self.folder / "link.csv"
        link.symlink_to(path)
        write_whole(link, b"newer")
        self.assertEqual((path.read_bytes(), link.is_symlink()), (b"newer", True))
        with mock.patch("os.fsync", side_effect=OSError(5, "Input/output error")), self.assertRaises(TargetError):
            write_whole(path, b"half")
        self.assertEqual((path.read_bytes(), len(list(self.folder.iterdir()))), (b"newer", 2))
        mask = os.umask(0o027)
        try:
            write_whole(self.folder / "new.csv", b"x")
        finally:
            os.umask(mask)
        self.assertEqual(stat.S_IMODE((self.folder / "new.csv").stat().st_mode), 0o640)

    def test_a_plan_is_plain_numbers(self) -> None:
        plan = vt.pareto_chart(COUNTS).plan((800, 500))
        self.assertEqual((plan.size, plan.bars.edges.shape), ((800, 500), (4, 4)))
        wide = vt.pareto_chart(COUNTS).plan(measure=lambda text, size, bold: 3.0 * size * len(text))
        self.assertGreater(wide.frame.left, plan.frame.left)


class Round(unittest.TestCase):
    def test_a_table_read_back_counts_the_same(self) -> None:
        table = vt.pareto({"a,b": 3, '"q"': 2, "two\nlines": 1})
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "table.csv"
            table.save(path)
            with path.open(newline="") as file:
                self.assertEqual([row["category"] for row in csv.DictReader(file)], list(table.categories))
            self.assertEqual(vt.pareto(path, by="category", count="frequency"), table)
