"""Inputs at the ends of their ranges: depths, dates, numbers, and frames that their libraries refuse."""

import unittest
from collections.abc import Callable
from decimal import Decimal
from typing import Any

import vantric as vt
from tests.cli.test_cli import Result
from tests.folder import InFolder
from vantric.errors import VantricError


class Depths(InFolder):
    def test_nested_and_long(self) -> None:
        log = self.file("defect\nCrack\n")
        deep = {"json": '{"a":' * 60_000 + "1" + "}" * 60_000, "toml": "a = " + "[" * 60_000 + "]" * 60_000}
        for ending, content in deep.items():
            path = self.file(content, f"deep.{ending}")
            for arguments in (
                ("tally", log, "--by", "defect", "--families", path),
                ("tally", log, "--by", "defect", "--words-file", path, "--out", "a.png"),
                ("draw", path),
                ("review", path),
                ("tally", path, "--by", "a"),
            ):
                with self.subTest(arguments=arguments):
                    result = Result(*arguments)
                    self.assertEqual((result.status, result.err.count("\n")), (2, 1), result.err[-300:])
        families = self.file("label,family\n" + "x" * 200_000 + ",F\n", "families.csv")
        self.assertIn("short texts", Result("tally", log, "--by", "defect", "--families", families).err)

    def test_chart_files(self) -> None:
        self.file("defect,n\nCrack,1\n")
        head = '{"format": "vantric/chart", "version": 2, '
        bars = '"series": [{"kind": "bars", "name": "n", "values": [%s]}]'
        for rest, status in (
            ('"kind": ["pareto"]}', 2),
            ('"kind": "pareto", "data": {"source": "a\\u0000b.csv"}, "counting": {"by": "x"}}', 2),
            ('"kind": "pareto", "data": {"source": "a\\ud800b.csv"}, "counting": {"by": "x"}}', 2),
            (
                '"kind": "pareto", "data": {"source": "log.csv", "where": "\\ud800 = 1"}, "counting": {"by": "defect"}}',
                2,
            ),
            (
                '"kind": "pareto", "data": {"source": "log.csv", "where": "n = 1 \\u0000"}, "counting": {"by": "defect"}}',
                2,
            ),
            ('"kind": "series", "given": {"categories": ["a"], ' + bars % "1e999" + "}}", 2),
            ('"kind": "series", "given": {"categories": ["a"], ' + bars % ("1" * 400) + "}}", 2),
            ('"kind": "series", "given": {"categories": [1e999], ' + bars % "1" + "}}", 0),
            (
                '"kind": "series", "given": {"categories": ["\\ud800"], '
                + bars % "1"
                + '}, "chart": {"title": "\\udc00"}}',
                0,
            ),
            ('"kind": "scales", "scales": {"primary": [0, 1e999], "secondary": [0, NaN]}}', 2),
        ):
            path = self.file(head + rest, "c.json")
            with self.subTest(rest=rest):
                for kind in ("svg", "png", "pdf"):
                    result = Result("draw", path, "--out", self.folder / f"c.{kind}")
                    self.assertEqual(result.status, status, result.err)
                    self.assertLessEqual(result.err.count("\n"), 2)

    def test_the_end_of_the_calendar(self) -> None:
        log = self.file("defect,n,date\nCrack,2,9999-10-03\nGlaze,1,9999-12-31\nGlaze,1,0001-01-01\n")
        late = self.file("defect,n,date\nCrack,2,9999-10-03\nGlaze,1,9999-12-31\n", "late.csv")
        for period in ("day", "week", "month", "quarter", "year"):
            with self.subTest(period=period):
                found = vt.aggregate(late, "date", {"n": "sum:n"}, period=period)
                self.assertEqual(found.to_frame()["n"].sum(), 3)
                self.assertIn(Result("combine", log, "--x", "date", "--bars", "n", "--period", period).status, (0, 2))

    def test_numbers_at_the_ends(self) -> None:
        for counts in ({"A": 1.7e308, "B": 1.7e308}, {"A": 10**400}, {"A": Decimal("1e-400")}, {"A": float("inf")}):
            for per in (None, 3, 1e-300):
                with self.subTest(counts=counts, per=per), self.assertRaises(VantricError):
                    vt.pareto(counts, per=per)
        with self.assertRaisesRegex(VantricError, "a rate is out of range"):
            vt.pareto({"A": 1e299, "B": 1}, per=1e-300)
        table = vt.pareto({"A": 1e299, "B": 9e298, "C": 5e-324})
        self.assertEqual(table.percents.sum(), 100)
        for values in ([1.7e308, 1], [1e300, 1.1e300], [-1.7e308, 1.7e308]):
            with self.subTest(values=values), self.assertRaises(VantricError):
                vt.Chart(["a", "b"], [vt.Bars("n", values), vt.Bars("m", values)], together="stacked").plan()


class Frames(unittest.TestCase):
    def test_what_their_libraries_complain_of(self) -> None:
        import duckdb
        import pandas as pd
        import polars as pl

        twice = pd.DataFrame([[1, 2]], columns=["a", "a"])
        for make in (
            lambda: twice,
            lambda: pl.scan_parquet("/nothing/*.parquet"),
            lambda: pl.scan_csv("/nothing/x.csv"),
            lambda: pl.LazyFrame({"b": ["x"]}).select(pl.col("nothing").alias("a")),
            lambda: pl.LazyFrame({"b": ["x"]}).select(pl.col("b").cast(pl.Int64).alias("a")),
            lambda: duckdb.sql("select error('boom') as a"),
            lambda: duckdb.sql("select 1 as a, 2 as a"),
        ):
            frame = make()
            works: tuple[Callable[[Any], object], ...] = (
                lambda data: vt.pareto(data, "a"),
                lambda data: vt.crosstab(data, "a", "a"),
                lambda data: vt.aggregate(data, "a", {"n": "count"}),
                lambda data: vt.combine(data, x="a", bars="a"),
            )
            for work in works:
                with self.assertRaises(VantricError) as caught:
                    work(frame)
                self.assertNotIn("\n", str(caught.exception))
