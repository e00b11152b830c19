"""Count and weight together, and rates: the same exact answer from every source."""

import unittest
from decimal import Decimal
from fractions import Fraction

import duckdb
import pandas as pd
import polars as pl
from hypothesis import given, settings
from hypothesis import strategies as st

import vantric as vt
from tests.core.counts.test_pareto import tally_of
from tests.effort import examples
from tests.folder import InFolder
from tests.ranked import pareto
from vantric.core.counts.measures import rated, singular
from vantric.errors import CountError, VantricError

ROWS = [("a", 2, 10), ("b", 1, 50), ("a", 3, 1), ("c", 4, 2), (None, 5, 7), ("c", 0, 9)]
EXPECTED = [("b", 50, 1), ("a", 23, 5), ("c", 8, 4)]
decimals = st.decimals(0, 10**6, places=3)


def found(table: vt.ParetoTable) -> list[tuple[str, object, object]]:
    return [(row.category, row.frequency, row.count) for row in table.rows]


class Weights(InFolder):
    def sources(self) -> list[object]:
        columns = {name: [row[at] for row in ROWS] for at, name in enumerate(("d", "n", "w"))}
        frame = pd.DataFrame(columns)
        frame.to_csv(self.folder / "a.csv", index=False)
        frame.to_parquet(self.folder / "a.parquet")
        frame.astype({"n": float, "w": float}).to_parquet(self.folder / "b.parquet")
        self.workbook([list(columns), *map(list, ROWS)])
        files = [self.folder / name for name in ("a.csv", "a.parquet", "b.parquet", "a.xlsx")]
        lazy = pl.DataFrame(columns).lazy()
        return [columns, frame, pl.DataFrame(columns), lazy, duckdb.sql("SELECT * FROM frame"), *files]

    def test_every_source_gives_the_same(self) -> None:
        for source in self.sources():
            with self.subTest(source=str(type(source))):
                table = vt.pareto(source, "d", count="n", weight="w")
                self.assertEqual(found(table), EXPECTED)
                self.assertEqual((table.total, table.tally.records), (81, 10))
                self.assertEqual((table.missing.records, table.missing.frequency), (5, 35))
                plain = vt.pareto(source, "d", weight="w")
                self.assertEqual([(c, f) for c, f, _ in found(plain)], [("b", 50), ("a", 11), ("c", 11)])

    def test_a_database_too(self) -> None:
        pd.DataFrame(ROWS, columns=["d", "n", "w"]).to_csv(self.folder / "x.csv", index=False)
        import sqlite3

        with sqlite3.connect(self.folder / "x.db") as base:
            pd.DataFrame(ROWS, columns=["d", "n", "w"]).to_sql("log", base, index=False)
        base.close()
        table = vt.pareto(f"sqlite:///{self.folder / 'x.db'}", "d", count="n", weight="w", table="log")
        self.assertEqual(found(table), EXPECTED)

    @settings(max_examples=examples(25), deadline=None)
    @given(st.lists(st.tuples(st.sampled_from("abc"), st.integers(0, 10**12), decimals), min_size=1, max_size=12))
    def test_products_of_text_are_exact(self, rows: list[tuple[str, int, Decimal]]) -> None:
        log = self.file("d,n,w\n" + "".join(f"{d},{n},{w}\n" for d, n, w in rows))
        sums: dict[str, Fraction] = {}
        for d, n, w in rows:
            sums[d] = sums.get(d, Fraction(0)) + n * Fraction(w)
        tally = vt.tally(log, "d", count="n", weight="w")
        for name, units in zip(tally.categories, tally.frequency.plain(), strict=True):
            exact = Fraction(units) if not tally.frequency.exact else Fraction(units, 10**tally.frequency.scale)
            self.assertEqual(exact, sums[name])

    def test_beyond_64_bits_and_beyond_the_engine(self) -> None:
        big = 10**18
        log = self.file(f"d,n,w\na,{big},{big}\nb,1,0.5\n")
        self.assertEqual(found(vt.pareto(log, "d", count="n", weight="w"))[0], ("a", 10**36, big))
        pl.DataFrame({"d": ["a"], "n": [big], "w": [big]}).write_parquet(self.folder / "a.parquet")
        for source in (self.folder / "a.parquet", pl.read_parquet(self.folder / "a.parquet")):
            self.assertEqual(found(vt.pareto(source, "d", count="n", weight="w")), [("a", 10**36, big)])

    def test_what_is_no_amount_names_its_column(self) -> None:
        for row, words in [
            ("a,1,-2", "record 2, column 'w'.*negative"),
            ("a,x,2", "record 2, column 'n'.*not a number"),
            ("a,1,", "record 2, column 'w'.*missing"),
        ]:
            self.says(words, self.file(f"d,n,w\na,1,1\n{row}\n"), "d", count="n", weight="w")
        self.says("column 'w'", {"d": ["a"], "n": [1], "w": [None]}, "d", count="n", weight="w")
        self.says("a weight is for records", {"d": ["a"]}, "d", unique="d", weight="d")
        self.says("plain labels have no columns", ["a"], weight="w")

    def test_rank_changes_are_told(self) -> None:
        table = vt.pareto({"d": list("aab"), "w": [1, 1, 9]}, "d", weight="w")
        self.assertEqual(table.rank_changes, (("b", 1, 2), ("a", 2, 1)))
        codes = {finding.code: finding.message for finding in vt.review(table)}
        self.assertIn("ranked by w otherwise than by count: 'b' (1, 2 by count)", codes["rank-by-count"])
        even = vt.pareto({"d": list("ab"), "w": [1, 2]}, "d", weight="w")
        self.assertEqual(even.rank_changes, (), "a tie explains it")
        self.assertIn("11 w of 3 records", table.tally.base())
        self.assertIn("of 11 w (3 records)", table.sentence())
        self.assertIn("9 w of 1 record", vt.pareto({"d": ["b"], "w": [9]}, "d", weight="w").tally.base())

    def test_json_names_count_and_weight(self) -> None:
        told = vt.pareto(self.sources()[0], "d", count="n", weight="w").to_dict()
        self.assertEqual((told["count"], told["weight"], told["records"], told["total"]), ("n", "w", 10, 81))
        self.assertEqual(told["rows"][0]["count"], 1)
        crossed = vt.crosstab(self.sources()[0], "d", "d", count="n", weight="w")
        self.assertEqual((crossed.total, crossed.tally().records), (81, 10))
        self.assertEqual(crossed.transposed().total, 81)


class Rates(InFolder):
    log = {"k": ["x", "x", "y", "z", None], "n": [10, 20, 5, 1, 3]}

    def test_per_a_column_and_a_mapping(self) -> None:
        for per in ("n", {"x": 30, "y": 5, "z": 1}):
            table = vt.pareto(self.log, "k", per=per, per_units=100, per_name="pieces")
            self.assertEqual(table.categories, ("z", "y", "x"))
            self.assertEqual([row.count for row in table.rows], [1, 1, 2])
            self.assertAlmostEqual(table.rows[2].frequency, 100 * 2 / 30)
            self.assertEqual(table.origin.unit, "records per 100 pieces")
            self.assertIn("sum-of-rates", [finding.code for finding in vt.review(table)])

    def test_per_a_number_keeps_the_ranking_and_the_percents(self) -> None:
        plain, table = vt.pareto(self.log, "k"), vt.pareto(self.log, "k", per=1000, per_name="pieces")
        self.assertEqual(table.categories, plain.categories)
        for one, other in zip(table.rows, plain.rows, strict=True):
            self.assertAlmostEqual(one.percent, other.percent)
            self.assertAlmostEqual(one.frequency, other.frequency / 1000)
        self.assertNotIn("sum-of-rates", [finding.code for finding in vt.review(table)])
        self.assertEqual(table.origin.per, "per piece")
        self.assertEqual(table.to_dict()["per"], "per piece")
        self.assertEqual({row["exposure"] for row in table.to_dict()["rows"]}, {1000})
        self.assertIn("the rates in records per piece (4 records)", table.sentence())

    def test_a_file_is_read_with_the_same_names(self) -> None:
        log = self.file("k,n\nX,1\nx,3\ny,2\n")
        table = vt.pareto(log, "k", per="n", merge_spellings=True)
        self.assertEqual([(r.category, r.frequency) for r in table.rows], [("X", 0.5), ("y", 0.5)])
        tally = vt.tally(log, "k")
        self.assertEqual(vt.pareto(tally, per=2).rows[0].frequency, 0.5)

    def test_exposures_that_are_none(self) -> None:
        for per, words in [
            (0, "above zero; 0 is not"),
            ({"x": 1, "y": 2}, "no number of units for 'z'"),
            ({"x": 1, "y": 0, "z": 1}, "for 'y' is not above zero"),
            ("gone", "has no column 'gone'"),
            (True, "not True"),
        ]:
            with self.subTest(per=per), self.assertRaisesRegex(VantricError, words):
                vt.pareto(self.log, "k", per=per)
        with self.assertRaisesRegex(CountError, "per a number above zero, such as 100; 0 is not"):
            rated(tally_of({"a": 1}), 5, units=0)
        with self.assertRaisesRegex(VantricError, "a tally is counted already"):
            vt.pareto(vt.tally(self.log, "k"), per="n")
        self.assertEqual(
            [singular(noun) for noun in ("pieces", "glass", "hours", "tonne")], ["piece", "glass", "hour", "tonne"]
        )

    def test_rates_rank_as_floats_do(self) -> None:
        table = pareto(rated(tally_of({"a": 3, "b": 1, "c": 2}), {"a": 9, "b": 3, "c": 6}))
        self.assertEqual(table.ties, (("a", "b", "c"),))


if __name__ == "__main__":
    unittest.main()
