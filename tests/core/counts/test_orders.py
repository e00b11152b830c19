"""The order of the rows: as given, by label, listed; pinned to the end; missing and zero."""

import duckdb
import pandas as pd
import polars as pl
from hypothesis import given
from hypothesis import strategies as st

import vantric as vt
from tests.core.counts.test_pareto import SMALL, counts, tally_of
from tests.folder import InFolder
from tests.ranked import pareto
from vantric.core.numbers.label_order import natural_key
from vantric.errors import RankError, VantricError

SCALE = ["Never", "Seldom", "Often", "Always"]


class Orders(InFolder):
    @given(counts)
    def test_by_label(self, found: dict[str, int]) -> None:
        table = pareto(tally_of(found), order="label")
        self.assertEqual(list(table.categories), sorted(found, key=natural_key))
        self.assertEqual((table.cutoff, table.cutoffs, {row.abc for row in table.rows}), (None, (), {None}))
        self.assertEqual(table.rows[-1].cumulative_percent, 100.0)
        ranked = pareto(tally_of(found))
        self.assertEqual({r.category: r.rank for r in table.rows}, {r.category: r.rank for r in ranked.rows})

    @given(st.permutations(sorted(SMALL)))
    def test_as_listed(self, order: list[str]) -> None:
        table = pareto(tally_of(SMALL), order=order)
        self.assertEqual(list(table.categories), order)
        self.assertEqual([row.frequency for row in table.rows], [SMALL[name] for name in order])

    def test_a_list_may_name_what_nobody_chose(self) -> None:
        table = vt.pareto(["Often", "Never", "Often"], order=SCALE)
        self.assertEqual([row.frequency for row in table.rows], [1, 0, 2, 0])
        self.assertIn(
            "“Often” has the largest share, 66.7%, of 3 records in 4 categories. The middle one falls on “Often”.",
            table.sentence(),
        )
        even = vt.pareto(["Never", "Often"], order=SCALE)
        self.assertIn("The middle lies between “Never” and “Often”", even.sentence())
        kept = vt.pareto(["Often", "Never", "Often"], order=SCALE, drop_zero=True)
        self.assertEqual(kept.categories, ("Never", "Often"))

    def test_as_given_by_every_source_with_an_order(self) -> None:
        labels = ["b", "a", None, "c10", "a", "b", "c2", " "]
        expected = ("b", "a", "c10", "c2")
        text = "x,l\n" + "".join(f"1,{label or ''}\n" for label in labels)
        parts = self.file(text), self.file("x,l\n1,zz\n1,a\n", "log2.csv")
        pd.DataFrame({"l": labels}).to_parquet(self.folder / "a.parquet")
        self.workbook([["l", "x"], *([label, 1] for label in labels)])
        sources: list[object] = [
            labels,
            {"l": labels},
            pd.DataFrame({"l": labels}),
            pl.DataFrame({"l": labels}),
            parts[0],
            self.folder / "a.parquet",
            self.folder / "a.xlsx",
        ]
        for source in sources:
            with self.subTest(source=type(source)):
                by = None if isinstance(source, list) else "l"
                self.assertEqual(vt.pareto(source, by, order="given").categories, expected)
        both = vt.pareto(str(self.folder / "log*.csv"), "l", order="given")
        self.assertEqual(both.categories, (*expected, "zz"))
        self.assertEqual(vt.pareto({"z": 1, "a": 2}, order="given").categories, ("z", "a"))
        merged = vt.pareto(["b ", "A", "a", "b", "a"], order="given", merge_spellings=True)
        self.assertEqual(merged.categories, ("b", "a"))
        cells = vt.pareto({"l": ["b; a", "c;b", "a"]}, "l", order="given", separator=";")
        self.assertEqual(cells.categories, ("b", "a", "c"))
        self.assertEqual(vt.pareto(parts[0], "l", where="l <> 'b'", order="given").categories[0], "a")

    def test_the_levels_of_an_ordered_column(self) -> None:
        values = ["Often", "Never", "Often"]
        levels = pd.Categorical(values, categories=SCALE, ordered=True)
        for frame in (
            pd.DataFrame({"answer": levels}),
            pl.DataFrame({"answer": pl.Series(values, dtype=pl.Enum(SCALE))}),
        ):
            table = vt.pareto(frame, "answer", order="given")
            self.assertEqual((table.categories, [r.count for r in table.rows]), (tuple(SCALE), [1, 0, 2, 0]))
        self.assertEqual(vt.pareto(pd.Series(levels), order="given").categories, tuple(SCALE))
        unordered = pd.DataFrame({"answer": pd.Categorical(values, categories=SCALE)})
        self.assertEqual(vt.pareto(unordered, "answer", order="given").categories, ("Often", "Never"))

    def test_sources_without_an_order_refuse(self) -> None:
        lazy = pl.DataFrame({"l": ["a"]}).lazy()
        relation = duckdb.sql("SELECT 'a' AS l")
        for source in (lazy, relation):
            with self.assertRaisesRegex(RankError, "has no order of records that order='given' could follow"):
                vt.pareto(source, "l", order="given")
        counted = vt.tally(self.file("l\na\n"), "l")
        with self.assertRaisesRegex(RankError, "log.csv has no order"):
            vt.pareto(counted, order="given")

    def test_orders_that_cannot_be(self) -> None:
        for order, words in [
            ("freq", "'freq' is no order; there are: frequency, given, label, or a list|did you mean"),
            (["a", "b", "a"], "names 'a' twice"),
            (["a"], "misses 'b'; name every category"),
        ]:
            with self.subTest(order=order), self.assertRaisesRegex(RankError, words):
                vt.pareto({"a": 1, "b": 2}, order=order)
        for order in ("label", "given", ["a", "b"]):
            with self.assertRaisesRegex(RankError, "a cutoff needs the categories in the order of their frequency"):
                vt.pareto({"a": 1, "b": 2}, order=order, cut=80)

    def test_pinned_to_the_end(self) -> None:
        found = {"Other": 50, "a": 30, "b": 15, "Unclear": 5}
        table = vt.pareto(found, last=["Unclear", "Other"], cut=40)
        self.assertEqual(table.categories, ("a", "b", "Unclear", "Other"))
        self.assertEqual([row.rank for row in table.rows], [2, 3, 4, 1])
        assert table.cutoff is not None
        self.assertEqual((table.cutoff.count, table.cutoff.cumulative_percent), (2, 45.0))
        self.assertEqual([row.abc for row in table.rows], ["A", "A", "B", "B"])
        folded = vt.pareto(found | {"c": 1}, last="Other", keep=3, cut=None, rest_label="Rest")
        self.assertEqual(folded.categories, ("a", "b", "Other", "Rest"))
        with self.assertRaisesRegex(
            RankError, "'Othr' cannot be pinned to the end: it is not a category; did you mean 'Other'"
        ):
            vt.pareto(found, last=["Othr"])
        with self.assertRaisesRegex(RankError, "pinned to the end twice"):
            vt.pareto(found, last=["a", "a"])

    def test_pinned_ties_stand_apart(self) -> None:
        table = vt.pareto({"a": 5, "b": 5, "c": 5, "d": 1}, last=["b"], cut=30, ties="include")
        assert table.cutoff is not None
        self.assertEqual((table.categories, table.cutoff.categories), (("a", "c", "d", "b"), ("a", "c")))


class MissingAndZero(InFolder):
    def test_missing_as_a_category(self) -> None:
        log = self.file("d,n\na,2\n,3\nb,1\n ,1\n")
        table = vt.pareto(log, "d", count="n", missing="category")
        self.assertEqual([(r.category, r.frequency) for r in table.rows], [("(missing)", 4), ("a", 2), ("b", 1)])
        self.assertEqual((table.total, table.missing.records), (7, 0))
        self.assertEqual(table.tally.base(), "7 occurrences, 4 of them with a blank “d”")
        self.assertIn("4 occurrences with a blank “d” are counted as “(missing)”.", table.sentence())
        self.assertEqual(table.to_dict()["missing_as_category"], 4)
        plain = vt.pareto(log, "d", count="n")
        self.assertEqual((plain.total, plain.missing.records), (3, 4))
        self.assertEqual(vt.pareto(["a", None], order="given", missing="category").categories, ("a", "(missing)"))
        self.assertEqual(vt.pareto(["a"], missing="category").categories, ("a",))
        crossed = vt.crosstab({"d": ["a", None, "a"], "k": ["x", "x", ""]}, "d", "k", missing="category")
        self.assertEqual((crossed.columns, crossed.total), (("x", "(missing)"), 3))

    def test_names_that_clash(self) -> None:
        with self.assertRaisesRegex(VantricError, "'\\(missing\\)' is a label already"):
            vt.pareto(["(missing)", None], missing="category")
        with self.assertRaisesRegex(VantricError, "not 'categry'; did you mean 'category'"):
            vt.pareto(["a"], missing="categry")

    def test_zero_frequencies_stay_unless_dropped(self) -> None:
        found = {"a": 3, "b": 0, "c": 0}
        self.assertEqual(len(vt.pareto(found)), 3)
        self.assertEqual(vt.pareto(found, drop_zero=True).categories, ("a",))
        self.assertEqual(vt.pareto(found, drop_zero=True, order="given").categories, ("a",))
        with self.assertRaisesRegex(RankError, "all frequencies are zero"):
            vt.pareto({"a": 0}, drop_zero=True)


class Days(InFolder):
    def test_the_first_and_the_last_day_are_told(self) -> None:
        log = self.file("day,d\n2026-03-05,a\n2026-01-31,b\n,a\n")
        table = vt.pareto(log, "d", date="day")
        self.assertEqual(table.origin.days, ("2026-01-31", "2026-03-05"))
        self.assertIn("2026-01-31 to 2026-03-05", table.origin.note())
        self.assertEqual(table.to_dict()["days"], ["2026-01-31", "2026-03-05"])
        with self.assertRaisesRegex(VantricError, "record 1: column 'day' is not a date: '31.13.26'"):
            vt.pareto(self.file("day,d\n31.13.26,a\n"), "d", date="day")
