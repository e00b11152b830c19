"""Every engine of frames counts, multiplies and adds up exactly, and asks its data as seldom as it can."""

import datetime as dt
import importlib
import unittest
import warnings
from decimal import Decimal
from fractions import Fraction
from typing import Any
from unittest import mock

import duckdb
import pandas as pd
import polars as pl
import pyarrow as pa
import pyarrow.dataset as ds

import vantric as vt
from tests.effort import some
from tests.enginecorpus import FEW, RECORDS, CountingInEngines, Rows, close, exact, random_rows
from vantric.engines.frame_libraries import table_of
from vantric.engines.frame_table import NarwhalsTable
from vantric.engines.materialize import materialized
from vantric.errors import SourceError


def arrow(rows: Rows) -> pa.Table:
    """Return records as an Arrow table; decimals of one scale a column."""
    return pa.table(rows)


class Pandas(CountingInEngines):
    def frame(self, rows: Rows) -> Any:
        return pd.DataFrame(rows)


class PandasOfArrow(CountingInEngines):
    def frame(self, rows: Rows) -> Any:
        return arrow(rows).to_pandas(types_mapper=pd.ArrowDtype)


class Polars(CountingInEngines):
    def frame(self, rows: Rows) -> Any:
        return pl.from_arrow(arrow(rows))


class PolarsLazy(CountingInEngines):
    def frame(self, rows: Rows) -> Any:
        return pl.from_arrow(arrow(rows)).lazy()


class Arrow(CountingInEngines):
    def frame(self, rows: Rows) -> Any:
        return arrow(rows)


class ArrowReader(CountingInEngines):
    def hold(self) -> None:  # a reader is read once
        reader = arrow(RECORDS).to_reader(max_chunksize=3)
        tally = vt.tally(reader, "de.fect", count="pieces", weight="cost")
        close(self.case, tally.as_dict(), exact(RECORDS, "de.fect", "pieces", "cost"))


class ArrowDataset(CountingInEngines):
    def frame(self, rows: Rows) -> Any:
        return ds.dataset(arrow(rows))


class Relation(CountingInEngines):
    def frame(self, rows: Rows) -> Any:
        return duckdb.from_arrow(arrow(rows))


class Ibis(CountingInEngines):
    def frame(self, rows: Rows) -> Any:
        import ibis

        return ibis.memtable(arrow(rows))


class IbisOfDuckDB(CountingInEngines):
    def frame(self, rows: Rows) -> Any:
        import ibis

        engine = ibis.duckdb.connect()
        engine.con.register("records", arrow(rows))
        return engine.table("records")


class SqlFrame(CountingInEngines):
    by = "defect"  # it takes no names with a point itself
    asked = FEW

    def frame(self, rows: Rows) -> Any:
        from sqlframe.duckdb import DuckDBSession

        session = DuckDBSession()
        session._conn.register("records", arrow(rows))
        names = ", ".join(f"`{name}`" for name in rows)
        return session.sql(f"select {names} from records", qualify=False)


class Dask(CountingInEngines):
    asked = FEW

    def frame(self, rows: Rows) -> Any:
        import dask.dataframe as dd

        return dd.from_pandas(pd.DataFrame(rows), npartitions=3)


class DaskOfArrow(CountingInEngines):
    asked = FEW

    def frame(self, rows: Rows) -> Any:
        import dask.dataframe as dd

        return dd.from_pandas(arrow(rows).to_pandas(types_mapper=pd.ArrowDtype), npartitions=2)


ENGINES = [
    Pandas,
    PandasOfArrow,
    Polars,
    PolarsLazy,
    Arrow,
    ArrowReader,
    ArrowDataset,
    Relation,
    Ibis,
    IbisOfDuckDB,
    SqlFrame,
    Dask,
    DaskOfArrow,
]


class EveryEngine(unittest.TestCase):
    def test_counts_multiplies_and_adds_up_exactly(self) -> None:
        for engine in some(ENGINES, 3):
            held = engine()
            held.case = self
            held.hold()

    def test_numbers_of_any_size_are_added_up_exactly(self) -> None:
        for engine in (Pandas, PandasOfArrow, Polars, PolarsLazy, Arrow, Relation, Ibis, IbisOfDuckDB, Dask):
            for seed in some(range(3)):
                rows = random_rows(seed)
                frame = engine().frame(rows)
                for count, weight in (
                    ("whole", None),
                    ("real", None),
                    ("whole", "other"),
                    ("whole", "real"),
                    ("other", "money"),
                    ("money", "real"),
                    ("whole", "whole"),
                ):
                    with self.subTest(engine=engine.__name__, seed=seed, count=count, weight=weight):
                        found = vt.tally(frame, "label", count=count, weight=weight)
                        close(self, found.as_dict(), exact(rows, "label", count, weight))
                with self.subTest(engine=engine.__name__, seed=seed, what="signed"):
                    sums = vt.aggregate(frame, "label", {"signed": "sum"}).values[0]
                    expected = exact(rows, "label", "signed", None)
                    for label, own in zip("abc", sums, strict=True):
                        self.assertLessEqual(abs(Fraction(own) - expected[label]), Fraction(1, 10**12) * abs(own))

    def test_dask_warns_of_nothing(self) -> None:
        with warnings.catch_warnings():
            warnings.simplefilter("error")
            vt.tally(Dask().frame(RECORDS), "de.fect", count="pieces", weight="minutes")

    def test_dask_series_and_empty_frames(self) -> None:
        frame = Dask().frame(RECORDS)
        self.assertEqual(vt.tally(frame["de.fect"]).as_dict(), {"Pinhole": 3, "Warping": 2, "Übermaß": 1})
        for engine in (Pandas, Polars, PolarsLazy, Arrow, Relation, Ibis):
            rows = {"label": pa.array([], pa.string()), "n": pa.array([], pa.int64())}
            with self.subTest(engine=engine.__name__):
                self.assertEqual(vt.tally(engine().frame(rows), "label", count="n").as_dict(), {})

    def test_integers_without_a_sign(self) -> None:
        values = [2**64 - 1, 2**64 - 1, 2**63, 5]
        table = pa.table({"label": list("aabb"), "n": pa.array(values, pa.uint64()), "w": [3, 2, 1, 0]})
        for frame in (table, pl.from_arrow(table), table.to_pandas(), duckdb.from_arrow(table)):
            with self.subTest(kind=type(frame)):
                self.assertEqual(vt.tally(frame, "label", count="n").as_dict(), {"a": 2**65 - 2, "b": 2**63 + 5})
                weighed = vt.tally(frame, "label", count="n", weight="w").as_dict()
                self.assertEqual(weighed, {"a": 5 * (2**64 - 1), "b": 2**63})

    def test_ten_million_tenths(self) -> None:
        frame = pl.DataFrame({"label": ["a"] * 1_000_000, "n": [0.1] * 1_000_000})
        for one in (frame, frame.lazy(), frame.to_arrow(), frame.to_pandas(), duckdb.from_arrow(frame.to_arrow())):
            with self.subTest(kind=type(one)):
                total = vt.tally(one, "label", count="n").as_dict()["a"]
                self.assertLess(abs(Fraction(total) - 1_000_000 * Fraction(0.1)), Fraction(1, 10**10))

    def test_levels_stay_in_their_order(self) -> None:
        labels = pd.Categorical(["low", "high", "low"], categories=["low", "mid", "high"], ordered=True)
        table = vt.pareto(pd.DataFrame({"level": labels, "n": [1, 5, 1]}), "level", count="n", order="given")
        self.assertEqual(table.categories[:1], ("low",))
        enum = pl.DataFrame({"level": ["low", "high"]}, schema={"level": pl.Enum(["low", "mid", "high"])})
        self.assertEqual(vt.pareto(enum, "level", order="given").categories, ("low", "mid", "high"))

    def test_dictionary_labels_of_arrow(self) -> None:
        table = pa.table({"label": pa.array(["a", "b", "a"]).dictionary_encode(), "n": [1, 2, 3]})
        self.assertEqual(vt.tally(table, "label", count="n").as_dict(), {"a": 4, "b": 2})

    def test_a_large_data_set_is_not_taken_into_memory(self) -> None:
        rows = random_rows(1)
        whole = ds.dataset(arrow(rows))
        with mock.patch("vantric.engines.materialize._MOST_ROWS", 10):
            self.assertIsInstance(materialized(whole), duckdb.DuckDBPyRelation)
            found = vt.tally(whole, "label", count="whole", weight="other")
        close(self, found.as_dict(), exact(rows, "label", "whole", "other"))


class Seldom(unittest.TestCase):
    """How often the data are asked."""

    def asked(self, work: Any) -> list[tuple[Any, ...]]:
        found: list[tuple[Any, ...]] = []
        plain = NarwhalsTable.grouped

        def grouped(table: NarwhalsTable, keys: Any, made: Any, results: Any) -> Any:
            found.append(tuple(keys))
            return plain(table, keys, made, results)

        with mock.patch.object(NarwhalsTable, "grouped", grouped):
            work()
        return found

    def test_one_aggregation_and_one_of_extremes(self) -> None:
        frame = pl.from_arrow(arrow(RECORDS)).lazy()
        measures = {"pieces": "sum", "minutes": "mean", "top": "max:cost", "r": "ratio:minutes/pieces"}
        works = {
            "products": lambda: vt.tally(frame, "de.fect", count="pieces", weight="minutes"),
            "weights": lambda: vt.pareto(frame, "de.fect", weight="cost"),
            "measures": lambda: vt.aggregate(frame, "de.fect", measures),
        }
        for name, work in works.items():
            with self.subTest(name):
                self.assertEqual(self.asked(work), [(), ("de.fect",)])
        self.assertEqual(self.asked(lambda: vt.crosstab(frame, "de.fect", "day")), [("de.fect", "day")])

    def test_groups_do_not_come_over_as_pairs(self) -> None:
        frame = pl.from_arrow(arrow(RECORDS)).lazy()
        for count, weight in (("cost", None), ("pieces", "fine"), ("wide", "wide")):
            keys = self.asked(lambda count=count, weight=weight: vt.tally(frame, "de.fect", count=count, weight=weight))
            if (count, weight) != ("wide", "wide"):  # beyond what halves of 32 bits hold
                sheet = [one for one in keys if "serial no" in one]  # whether a short table is a sheet: asked once
                self.assertLessEqual(len(sheet), 1)
                self.assertTrue(all(len(one) <= 1 for one in keys if one not in sheet), keys)


class WhatIsTold(unittest.TestCase):
    def test_nan_among_the_floats_of_arrow(self) -> None:
        table = pa.table({"label": ["a", "b", "a"], "n": [1, 2, 3], "w": [float("nan"), 1.5, 2.0]})
        whole = table.to_pandas(types_mapper=pd.ArrowDtype)
        mixed = whole.assign(label=["a", "b", "a"])
        for frame in (table, whole, mixed, table.to_pandas(), pl.from_arrow(table), duckdb.from_arrow(table)):
            for count, weight in (("n", "w"), ("w", None), (None, "w"), ("w", "n")):
                with (
                    self.subTest(frame=type(frame), count=count, weight=weight),
                    self.assertRaisesRegex(vt.AmountError, "the count is missing|the weight is missing"),
                ):
                    vt.tally(frame, "label", count=count, weight=weight)

    def test_two_columns_of_one_name(self) -> None:
        relation = duckdb.sql("select 1 as a, 2 as a")
        with self.assertRaisesRegex(SourceError, "two columns named 'a'|rename"):
            vt.tally(relation, "a")

    def test_sqlframe_that_does_not_know_its_columns(self) -> None:
        from sqlframe.duckdb import DuckDBSession

        connection = duckdb.connect()
        connection.execute("create table t as select 1 as a")
        with self.assertRaisesRegex(SourceError, "does not know its columns"):
            vt.tally(DuckDBSession(conn=connection).sql("select * from t"), "a")

    def test_what_columns_hold(self) -> None:
        table = pa.table(
            {"d": pa.array([Decimal("1.5")]), "n": [1], "f": [1.0], "t": ["x"], "day": [dt.date(2026, 1, 1)]}
        )
        kinds = {name: one.kind for name, one in table_of(table).types.items()}
        self.assertEqual(kinds, {"d": "exact", "n": "whole", "f": "real", "t": "text", "day": "other"})


class OwnFaults(unittest.TestCase):
    """A mistake of ours is not told as what a library cannot do."""

    def test_a_mistake_of_ours_is_raised_as_it_is(self) -> None:
        frame = pl.DataFrame({"defect": ["a", "b"] * 50_000, "n": [1, 2] * 50_000})
        for place in ("frame_sums._asked", "frame_sums._apart", "frame_records.FrameRecords.names"):
            for mistake in ("there_is_no_such_name", "{}['x']", "None.x", "len()"):
                home = importlib.import_module(f"vantric.engines.{place.partition('.')[0]}")
                broken = eval(f"lambda *_, **__: {mistake}", dict(vars(home)))  # in the room of what it stands for
                with self.subTest(place=place, mistake=mistake), mock.patch(f"vantric.engines.{place}", broken):
                    with self.assertRaises(Exception) as caught:
                        vt.pareto(frame, "defect", count="n")
                    self.assertNotIsInstance(caught.exception, vt.VantricError, str(caught.exception))

    def test_what_a_library_or_the_data_cannot_do_is_one_line(self) -> None:
        class Odd:
            def __eq__(self, other: object) -> bool:
                raise RuntimeError("odd")

            def __hash__(self) -> int:
                raise TypeError("unhashable")

        for data in ({"defect": [Odd(), Odd()]}, pd.DataFrame({"defect": pd.Series([Odd(), Odd()], dtype=object)})):
            with self.assertRaises(vt.VantricError):
                vt.pareto(data, "defect")


if __name__ == "__main__":
    unittest.main()
