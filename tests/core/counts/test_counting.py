"""What can be counted, and how: spellings, families, several labels a cell, units, two columns, periods."""

import json
import math
import tempfile
import unittest
from collections import Counter
from datetime import date, timedelta
from decimal import Decimal
from fractions import Fraction
from pathlib import Path
from typing import Any, ClassVar

import numpy as np
import pandas as pd
import polars as pl
import pyarrow as pa
from hypothesis import given, settings
from hypothesis import strategies as st

import vantric as vt
from tests.effort import examples
from tests.folder import InFolder
from vantric.core.counts.relabeling import relabeling
from vantric.core.numbers.periods import PERIODS, parse_day, period_label, period_labels
from vantric.demo import data_file
from vantric.errors import ColumnError, VantricError

TYPED = ["Scratch", "scratch ", "Scratch", "SCRATCH", "Pin  hole", "Pin hole", "ﬁre", "fire", "Warp"]


class Spellings(unittest.TestCase):
    def test_the_commonest_spelling_wins_and_every_merge_is_told(self) -> None:
        tally = vt.tally(TYPED, merge_spellings=True)
        self.assertEqual(tally.as_dict(), {"Scratch": 4, "Pin  hole": 2, "fire": 2, "Warp": 1})
        told = [remark.message for remark in tally.origin.remarks]
        self.assertEqual(told[0], "'fire' (1) includes 'ﬁre' (1)")
        self.assertEqual(told[2], "'Scratch' (2) includes 'SCRATCH' (1), 'scratch' (1)")
        self.assertEqual([f.code for f in vt.review(tally)], ["merged-spellings"] * 3)
        self.assertEqual(vt.tally(TYPED).origin.remarks, ())

    @given(st.lists(st.text("aA ", max_size=4), min_size=1, max_size=30), st.randoms())
    def test_merging_keeps_the_total_and_knows_no_order(self, labels: list[str], chance: Any) -> None:
        plain, merged = vt.tally(labels), vt.tally(labels, merge_spellings=True)
        self.assertEqual((merged.total, merged.missing), (plain.total, plain.missing))
        self.assertEqual(
            len(merged.categories), len({" ".join(label.casefold().split()) for label in plain.categories})
        )
        chance.shuffle(labels)
        self.assertEqual(vt.tally(labels, merge_spellings=True), merged)

    def test_every_kind_of_data_is_merged(self) -> None:
        expected = {"Scratch": 4, "Pin  hole": 2, "fire": 2, "Warp": 1}
        for data in (pd.DataFrame({"d": TYPED}), {"d": TYPED}, pl.LazyFrame({"d": TYPED})):
            self.assertEqual(vt.tally(data, "d", merge_spellings=True).as_dict(), expected)
        self.assertEqual(vt.tally(dict(Counter(TYPED)), merge_spellings=True).as_dict(), expected)


class Families(InFolder):
    def test_labels_become_families_and_strays_are_told(self) -> None:
        families = {"Scratch": "Handling", "Warp": "Firing"}
        tally = vt.tally(["Scratch", "Warp", "Warp", "Odd", None], families=families)
        self.assertEqual(tally.as_dict(), {"Handling": 1, "Firing": 2, "Odd": 1})
        self.assertEqual(tally.origin.remarks[0].message, "no family is given for 'Odd': they keep their names")
        both = vt.tally(["scratch", "Scratch", "Scratch"], families=families, merge_spellings=True)
        self.assertEqual(both.as_dict(), {"Handling": 3})
        self.assertEqual(relabeling({"a": 1}, families={"a": "b"}).names, {"a": "b"})

    def test_files_of_families(self) -> None:
        rows = {"Scratch": "Handling", " Warp": "Firing"}
        for name, content in [
            ("f.csv", "defect,family\nScratch,Handling\n Warp,Firing\n\nNone,\n"),
            ("f.json", json.dumps(rows)),
            ("f.toml", '"Scratch" = "Handling"\n" Warp" = "Firing"\n'),
            ("g.toml", '[families]\n"Scratch" = "Handling"\n" Warp" = "Firing"\n'),
        ]:
            with self.subTest(name=name):
                tally = vt.tally(["Scratch", " Warp"], families=self.file(content, name))
                self.assertEqual(tally.as_dict(), {"Handling": 1, "Firing": 1})

    def test_files_that_give_none(self) -> None:
        for name, content, words in [
            ("f.csv", "a,b\nx,y\nx,z\n", "line 3: 'x' has two families, 'y' and 'z'"),
            ("g.csv", "a,b,c\nx,y,z\n", "line 1: 3 columns"),
            ("f.json", "[1]", "gives no families"),
            ("g.json", "{", "is not valid JSON"),
            ("f.toml", "x =", "is not valid TOML"),
        ]:
            with self.subTest(name=name):
                self.says(words, ["a"], families=self.file(content, name))
        self.says("there is no file", ["a"], families=self.folder / "none.csv")


class Shapes(InFolder):
    def test_a_check_sheet_with_a_column_a_category(self) -> None:
        path = self.file("day,Pinhole,Warp,Scratch\n1,3,,1\n2,,2,1.5\n")
        tally = vt.tally(path, by_columns=["Pinhole", "Warp", "Scratch"])
        self.assertEqual((tally.as_dict(), tally.origin.input_rows), ({"Pinhole": 3, "Warp": 2, "Scratch": 2.5}, 2))
        self.assertEqual(vt.tally({"a": [2], "b": [3]}, by_columns=["a", "b"]).base(), "5 occurrences")
        frame = pd.DataFrame({"a": [1, np.nan], "b": [2, 3]})
        self.assertEqual(vt.tally(frame, by_columns=["a", "b"]).as_dict(), {"a": 1, "b": 5})
        self.says("record 1, column 'Warp': the count is negative", self.file("Warp\n-1\n"), by_columns=["Warp"])
        self.says(
            "record 2, column 'Warp': the value is not a number: 'x'",
            self.file("n,Warp\n1,1\n1,x\n"),
            by_columns=["Warp"],
        )
        self.says("by_columns names the categories itself", path, "day", by_columns=["Warp"])

    def test_several_labels_in_a_cell(self) -> None:
        path = self.file("d,n\na; b,2\na,1\n ; ,1\na;a,5\n,1\n")
        tally = vt.tally(path, "d", separator=";")
        self.assertEqual((tally.as_dict(), tally.missing.records), ({"a": 3, "b": 1}, 2))
        self.assertEqual(tally.base(), "4 mentions in 5 records, 2 with a blank “d”")
        self.assertIn("Both categories are needed to reach the 80% cutoff of 4 mentions.", vt.pareto(tally).sentence())
        self.assertEqual(vt.tally(path, "d", separator=";", count="n").as_dict(), {"a": 8, "b": 2})
        self.assertEqual(vt.tally(["a+b", "b"], separator="+").as_dict(), {"a": 1, "b": 2})
        self.says("the separator between labels is a delimiter", path, "d", separator=" ")

    def test_signs_that_nobody_sees(self) -> None:
        labels = ["Crack", "Cra\u200bck", "\u202eCrack", "Crack\u200f", "Cr\u00adack", "\ufeffcrack", "\u0106rack"]
        table = vt.pareto(labels)
        [found] = [finding for finding in table.review() if finding.code == "similar-labels"]
        self.assertIn("signs that nobody sees", found.message)
        merged = vt.tally(labels, merge_spellings=True)
        self.assertEqual(merged.as_dict(), {"Crack": 6, "\u0106rack": 1})

    def test_units_count_once_in_a_category(self) -> None:
        rows = "d,serial\na,1\na,1\nA,1\na,2\nb,1\n,3\nb,\n"
        for data in (
            self.file(rows),
            pd.read_csv(self.file(rows), dtype=str),
            pl.read_csv(self.file(rows), infer_schema=False),
        ):
            tally = vt.tally(data, "d", unique="serial")
            self.assertEqual((tally.as_dict(), tally.missing.records), ({"a": 2, "A": 1, "b": 1}, 1))
            self.assertEqual(tally.origin.remarks[-1].message, "1 record with a blank 'serial' left out")
            merged = vt.tally(data, "d", unique="serial", merge_spellings=True)
            self.assertEqual(merged.as_dict(), {"a": 2, "b": 1})
            self.assertEqual(merged.base(), "3 distinct serial, 1 with a blank “d”")
        both = vt.tally({"d": ["a;b", "b"], "u": [1, 1]}, "d", unique="u", separator=";")
        self.assertEqual(both.as_dict(), {"a": 1, "b": 1})
        self.says("unique counts units and count adds up", {"d": ["a"]}, "d", unique="u", count="n")

    def test_the_only_countable_column_is_chosen_and_told(self) -> None:
        tally = vt.tally(self.file("day,defect,n\n2026-01-01,a,1\n2026-01-02,a,2\n"))
        self.assertEqual((tally.as_dict(), tally.origin.by), ({"a": 2}, "defect"))
        self.assertIn("'defect' is the only one that can be counted", tally.origin.remarks[0].message)

    def test_unknown_options(self) -> None:
        with self.assertRaisesRegex(TypeError, "'kount'"):
            vt.tally(["a"], kount="n")  # type: ignore[call-arg]


class FrameKinds(unittest.TestCase):
    def test_labels_of_every_type(self) -> None:
        days = pd.to_datetime(["2026-01-01", "2026-01-01", None])
        for column, expected in [
            (pd.Series(["a", "a", None], dtype=object), {"a": 2}),
            (pd.Series(["a", "a", None], dtype="string"), {"a": 2}),
            (pd.Series(pd.Categorical(["a", "a", None], categories=["b", "a", "c"])), {"a": 2}),
            (pd.Series([1, 1, None], dtype="Int64"), {"1": 2}),
            (pd.Series([1, 1, None], dtype="int64[pyarrow]"), {"1": 2}),
            (pd.Series([True, True, None], dtype="boolean"), {"True": 2}),
            (pd.Series(days), {"2026-01-01": 2}),
            (pl.Series([1.0, 1.0, None]), {"1": 2}),
            (pl.Series([date(2026, 1, 1)] * 2 + [None]), {"2026-01-01": 2}),
            (pl.Series(["a", "a", None], dtype=pl.Categorical), {"a": 2}),
            (pa.chunked_array([["a"], ["a", None]]), {"a": 2}),
        ]:
            frame = (
                pa.table({"l": column})
                if isinstance(column, pa.ChunkedArray)
                else column.rename("l").to_frame()
                if isinstance(column, pd.Series)
                else column.alias("l").to_frame()
            )
            with self.subTest(
                dtype=str(getattr(column, "dtype", column.type if isinstance(column, pa.ChunkedArray) else ""))
            ):
                tally = vt.tally(frame, "l")
                self.assertEqual((tally.as_dict(), tally.missing.records), (expected, 1))

    @settings(max_examples=examples(40))
    @given(
        st.lists(st.tuples(st.sampled_from(["a", "b", None]), st.integers(0, 2**61)), min_size=1, max_size=40),
        st.randoms(),
        st.integers(1, 5),
    )
    def test_any_order_and_any_chunking_give_the_same(self, rows: list[Any], chance: Any, chunks: int) -> None:
        expected = vt.tally({"l": [a for a, _ in rows], "n": [n for _, n in rows]}, "l", count="n")
        chance.shuffle(rows)
        parts = [rows[place::chunks] for place in range(chunks)]
        tables = [
            pa.table({"l": pa.array([a for a, _ in p], pa.string()), "n": pa.array([n for _, n in p], pa.int64())})
            for p in parts
        ]
        table = pa.concat_tables(tables)
        with tempfile.TemporaryDirectory() as folder:
            for number, part in enumerate(parts):
                text = "l,n\n" + "".join(f"{a or ''},{n}\n" for a, n in part)
                (Path(folder) / f"{number}.csv").write_text(text)
            for data in (table, table.to_pandas(), pl.from_arrow(table), f"{folder}/*.csv"):
                self.assertEqual(vt.tally(data, "l", count="n"), expected)


class TwoWays(InFolder):
    ROWS = "kiln,defect,n\n1,a,2\n1,b,1\n2,a,3\n10,b,1\n,a,1\n2,,1\n"

    def test_frequencies_percents_and_margins(self) -> None:
        table = vt.crosstab(self.file(self.ROWS), "defect", "kiln", count="n")
        self.assertEqual((table.categories, table.columns), (("a", "b"), ("1", "2", "10")))
        self.assertEqual(table.frequencies(), [[2, 3, 0], [1, 0, 1]])
        self.assertEqual((table.row_totals.values(), table.column_totals.values(), table.total), ([5, 2], [3, 3, 1], 7))
        self.assertEqual((table.missing.records, table.origin.input_rows), (2, 6))
        self.assertEqual(table.percents("row")[0].tolist(), [40, 60, 0])
        self.assertEqual(table.percents("column")[1].tolist(), [100 / 3, 0, 100])
        self.assertAlmostEqual(table.percents().sum(), 100)
        self.assertEqual(table.transposed().transposed(), table)
        self.assertEqual(table.transposed().frequencies(), [[2, 1], [3, 0], [0, 1]])
        self.assertEqual(table.to_frame().loc["a"].tolist(), [2, 3, 0])
        self.assertIn('<td style="text-align:right">7</td>', table._repr_html_())

    def test_its_data(self) -> None:
        found = vt.crosstab(self.file(self.ROWS), "defect", "kiln").to_dict("row")
        self.assertEqual((found["split"], found["columns"], found["percent_of"]), ("kiln", ["1", "2", "10"], "row"))
        self.assertEqual(
            found["rows"][0], {"category": "a", "frequencies": [1, 1, 0], "percents": [50, 50, 0], "total": 2}
        )

    def test_a_base_of_zero_has_no_percent(self) -> None:
        table = vt.crosstab({"a": ["x", "y"], "b": ["p", "q"], "n": [0, 1]}, "a", "b", count="n")
        self.assertTrue(math.isnan(table.percents("column")[table.categories.index("x")][0]))
        self.assertIsNone(table.to_dict("row")["rows"][1]["percents"][0])

    def test_exact_beyond_64_bits(self) -> None:
        table = vt.crosstab({"a": ["x", "x"], "b": ["p", "q"], "n": [2**63, 2**63]}, "a", "b", count="n")
        self.assertEqual((table.row_totals.values(), table.total), ([2**64], 2**64))

    def test_mistakes(self) -> None:
        with self.assertRaisesRegex(ColumnError, "did you mean 'kiln'"):
            vt.crosstab(self.file(self.ROWS), "defect", "kilns")
        with self.assertRaisesRegex(VantricError, "no record has both"):
            vt.crosstab({"a": ["x", None], "b": [None, "y"]}, "a", "b")
        with self.assertRaisesRegex(VantricError, "has no columns"):
            vt.crosstab(["a"], "a", "b")
        with self.assertRaisesRegex(ColumnError, "leave by_columns and unique out"):
            vt.crosstab({"a": ["x"], "b": ["y"]}, "a", "b", unique="b")


class Aggregates(InFolder):
    DATA: ClassVar[dict[str, list[Any]]] = {
        "day": ["2026-01-30", "2026-03-02", None, "2026-03-01", "2026-03-03"],
        "v": [1, -2, 3, None, 4],
        "base": [10, 20, 5, 5, None],
    }

    def sources(self) -> list[Any]:
        frame = pd.DataFrame(self.DATA)
        frame.to_csv(self.folder / "a.csv", index=False)
        frame.to_parquet(self.folder / "a.parquet")
        return [self.DATA, frame, pl.DataFrame(self.DATA), self.folder / "a.csv", self.folder / "a.parquet"]

    def test_every_measure_by_period_from_every_source(self) -> None:
        for data in self.sources():
            found = vt.aggregate(
                data,
                "day",
                {
                    "v": "sum",
                    "mean": "mean:v",
                    "median": "median:v",
                    "low": "min:v",
                    "high": "max:v",
                    "n": "count:v",
                    "rows": "count",
                    "rate": "ratio:v/base",
                    "percent": "percent:v/base",
                },
                period="month",
            )
            with self.subTest(data=type(data)):
                self.assertEqual(found.categories, ("2026-01", "2026-02", "2026-03"))
                self.assertEqual((found["v"], found["n"], found["rows"]), ((1, 0, 2), (1, 0, 2), (1, 0, 3)))
                self.assertEqual((found["mean"], found["median"]), ((1, None, 1), (1, None, 1)))
                self.assertEqual((found["low"], found["high"]), ((1, None, -2), (1, None, 4)))
                self.assertEqual((found["rate"], found["percent"]), ((0.1, None, 0.08), (10, None, 8)))
                self.assertEqual(found.missing, 1)
                self.assertIsNone(found["mean"][1])

    def test_by_category_in_natural_order(self) -> None:
        found = vt.aggregate({"k": ["10", "2", "2"], "v": [1, Decimal("0.1"), Decimal("0.2")]}, "k", {"v": "sum"})
        self.assertEqual((found.categories, found["v"]), (("2", "10"), (0.3, 1)))
        self.assertEqual(found.to_dict()["measures"], {"v": [0.3, 1]})

    @given(st.lists(st.integers(-5, 5), min_size=1, max_size=30))
    def test_medians_and_means_by_definition(self, values: list[int]) -> None:
        found = vt.aggregate({"k": ["a"] * len(values), "v": values}, "k", {"v": "median", "m": "mean:v"})
        self.assertEqual(found["v"][0], np.median(values))
        self.assertEqual(found["m"][0], float(Fraction(sum(values), len(values))))

    def test_the_demo_firings(self) -> None:
        path = self.file(data_file("firings.csv"), "firings.csv")
        found = vt.aggregate(path, "month", {"rate": "ratio:rejected/first_firing", "margin": "sum"}, period="quarter")
        self.assertEqual(found.categories, ("2025-Q4", "2026-Q1", "2026-Q2", "2026-Q3", "2026-Q4"))
        frame = pd.read_csv(path).head(2)
        self.assertAlmostEqual(found["rate"][0], frame["rejected"].sum() / frame["first_firing"].sum())

    def test_mistakes(self) -> None:
        for by, measures, period, words in [
            ("day", {"v": "summ"}, None, "'summ' is not a measure; did you mean 'sum'"),
            ("day", {"v": "ratio:v"}, None, "write ratio:rejected/fired"),
            ("day", {"w": "sum"}, None, "no column 'w'"),
            ("day", {}, None, "give the measures"),
            ("day", {"v": "sum"}, "moth", "did you mean 'month'"),
            ("v", {"base": "sum"}, "month", "record 1: column 'v' is not a date: '1"),
        ]:
            with self.subTest(words=words), self.assertRaisesRegex(VantricError, words):
                vt.aggregate(self.DATA, by, measures, period=period)
        with self.assertRaisesRegex(
            VantricError, "record 2, column 'v': the value is not a number: 'x'; give a number"
        ):
            vt.aggregate({"k": ["a", "a"], "v": ["1", "x"]}, "k", {"v": "median"})


class Periods(unittest.TestCase):
    @given(st.dates(date(1990, 1, 1), date(2060, 1, 1)), st.integers(0, 1500), st.sampled_from(PERIODS))
    def test_no_period_is_left_out_or_named_twice(self, first: date, days: int, period: str) -> None:
        last = first + timedelta(days=days)
        expected = list(dict.fromkeys(period_label(first + timedelta(days=n), period) for n in range(days + 1)))
        self.assertEqual(list(period_labels(first, last, period)), expected)
        self.assertEqual(expected, sorted(expected))

    def test_days(self) -> None:
        self.assertEqual(period_label(parse_day("2027-01-01 06:30"), "week"), "2026-W53")
        self.assertEqual(parse_day("2026-04"), date(2026, 4, 1))
        for text in ("31.12.2026", "2026-13-01", "x"):
            with self.assertRaisesRegex(ValueError, "write dates as 2026-12-31"):
                parse_day(text)
