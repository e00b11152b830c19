"""Anything that holds records gives the same tally, and bad input one line that says where."""

import datetime as dt
import enum
import unittest
from decimal import Decimal
from typing import Any

import duckdb
import numpy as np
import pandas as pd
import polars as pl
import pyarrow as pa
from hypothesis import given, settings
from hypothesis import strategies as st

import vantric as vt
from tests.effort import examples
from tests.folder import InFolder
from vantric.core.counts import Missing
from vantric.errors import AmountError, ColumnError, SourceError, VantricError

RECORDS: dict[str, list[Any]] = {
    "defect": ["Pinhole", "Warping", "Pinhole", None, "  ", "Warping", "Pinhole"],
    "pieces": [1, 2, 3, 4, 5, 6, 7],
    "minutes": [0.5, 1.0, 1.0, 1.0, 1.0, 1.0, 1.0],
    "wide": [2**62, 2**62, 2**62, 0, 0, 0, 2**62],
    "typed": ["1", "2.5", " 3 ", "1e1", "5", "6", "7"],
    "negative": [1, -2, 3, 4, 5, 6, 7],
    "gap": [1, 2, None, 4, 5, 6, 7],
}


def frames() -> dict[str, Any]:
    arrow = pa.table(RECORDS)
    return {
        "mapping": RECORDS,
        "pandas": pd.DataFrame(RECORDS),
        "pandas, Arrow types": pd.DataFrame(RECORDS).convert_dtypes(dtype_backend="pyarrow"),
        "Polars": pl.DataFrame(RECORDS),
        "Polars, lazy": pl.LazyFrame(RECORDS),
        "PyArrow": arrow,
        "DuckDB": duckdb.from_arrow(arrow),
    }


class Frames(unittest.TestCase):
    def test_every_kind_gives_the_same_tally(self) -> None:
        wanted = {
            None: ({"Pinhole": 3, "Warping": 2}, 2),
            "pieces": ({"Pinhole": 11, "Warping": 8}, 9),
            "minutes": ({"Pinhole": 2.5, "Warping": 2.0}, 2),
            "wide": ({"Pinhole": 3 * 2**62, "Warping": 2**62}, 0),
            "typed": ({"Pinhole": 11, "Warping": 8.5}, 15),
        }
        for kind, frame in frames().items():
            for count, (frequencies, missing) in wanted.items():
                with self.subTest(kind=kind, count=count):
                    tally = vt.tally(frame, "defect", count=count)
                    self.assertEqual(tally.as_dict(), frequencies)
                    self.assertEqual(tally.missing, Missing(missing, missing))
                    self.assertEqual(tally.origin.input_rows, 7)

    def test_a_bad_count_is_named_with_its_record_or_category(self) -> None:
        for kind, frame in frames().items():
            ordered = kind not in {"Polars, lazy", "DuckDB"}
            with self.subTest(kind=kind):
                place = "record 2" if ordered else "a record of 'Warping'"
                with self.assertRaisesRegex(AmountError, f"^{place}, column 'negative': the count is negative: -2"):
                    vt.tally(frame, "defect", count="negative")
                place = "record 3" if ordered else "a record of 'Pinhole'"
                with self.assertRaisesRegex(AmountError, f"^{place}, column 'gap': the count is missing"):
                    vt.tally(frame, "defect", count="gap")

    def test_unknown_columns_offer_the_nearest(self) -> None:
        for kind, frame in frames().items():
            with self.subTest(kind=kind):
                with self.assertRaisesRegex(ColumnError, "no column 'Defct'; did you mean 'defect'"):
                    vt.tally(frame, "Defct")
                with self.assertRaisesRegex(ColumnError, "no column 'zzz'; its columns are: defect, pieces"):
                    vt.tally(frame, "defect", count="zzz")
        with self.assertRaisesRegex(ColumnError, "say which column of the frame is counted .*: shift, defect"):
            vt.tally(pd.DataFrame({"shift": ["a", "a"], "defect": ["b", "b"], "n": [1, 2]}))
        self.assertEqual(vt.tally(pd.DataFrame(RECORDS)).origin.by, "defect")

    @settings(max_examples=examples(40))
    @given(st.lists(st.tuples(st.sampled_from(["a", "b", "c", None]), st.integers(0, 2**62)), min_size=1), st.randoms())
    def test_any_frame_in_any_order_gives_the_same(self, rows: list[tuple[Any, int]], chance: Any) -> None:
        expected = vt.tally({"l": [row[0] for row in rows], "n": [row[1] for row in rows]}, "l", count="n")
        chance.shuffle(rows)
        shuffled = {"l": [row[0] for row in rows], "n": [row[1] for row in rows]}
        for frame in (pd.DataFrame(shuffled), pl.DataFrame(shuffled, schema={"l": pl.String, "n": pl.Int64})):
            self.assertEqual(vt.tally(frame, "l", count="n"), expected)

    def test_series(self) -> None:
        column = pd.Series(RECORDS["defect"], name="defect")
        for series in (column, column.astype("category"), pl.Series("defect", RECORDS["defect"])):
            tally = vt.tally(series)
            self.assertEqual((tally.as_dict(), tally.origin.by), ({"Pinhole": 3, "Warping": 2}, "defect"))
        for counts in (column.value_counts(), pd.DataFrame({"defect": column}).groupby("defect").size()):
            tally = vt.tally(counts)
            self.assertEqual((tally.as_dict(), tally.origin.by), ({"Pinhole": 3, "Warping": 2}, "defect"))
        with self.assertRaisesRegex(ColumnError, "a series has no columns"):
            vt.tally(column, "defect")


class Plain(unittest.TestCase):
    def test_labels_of_any_kind_are_shown_in_plain_form(self) -> None:
        class Kind(enum.Enum):
            FIRST = "first"

        for labels, expected in [
            (["a", None, "a", float("nan"), ""], {"a": 2}),
            ([1, 2.0, 2, 2.5, True], {"1": 1, "2": 2, "2.5": 1, "True": 1}),
            (np.array([1.0, np.nan, 1.0]), {"1": 2}),
            (np.array(["x", "y"]), {"x": 1, "y": 1}),
            (
                [dt.date(2026, 1, 2), dt.datetime(2026, 1, 2), dt.datetime(2026, 1, 2, 6)],
                {"2026-01-02": 2, "2026-01-02 06:00:00": 1},
            ),
            ([Kind.FIRST, b"raw", pd.NaT, pd.NA], {"first": 1, "raw": 1}),
            (iter("aba"), {"a": 2, "b": 1}),
            (pd.Series(pd.to_datetime(["2026-01-02"])), {"2026-01-02": 1}),
        ]:
            with self.subTest(labels=labels):
                self.assertEqual(vt.tally(labels).as_dict(), expected)

    def test_ready_counts(self) -> None:
        tally = vt.tally({"a": 3, "b": Decimal("0.5"), 7: np.int64(2), None: 4})
        self.assertEqual((tally.as_dict(), tally.missing.records), ({"a": 3, "b": 0.5, "7": 2}, 4))
        self.assertEqual(vt.tally(tally), tally)
        truths = {"l": [1, True, "x", "x"], "n": [True, False, True, True]}
        self.assertEqual(vt.tally(truths, "l").as_dict(), {"1": 1, "True": 1, "x": 2})
        self.assertEqual(vt.tally(truths, "l", count="n").as_dict(), {"1": 1, "True": 0, "x": 2})

    def test_what_cannot_be_counted(self) -> None:
        for data, options, words in [
            (5, {}, "cannot count int"),
            (None, {}, "cannot count NoneType"),
            (b"abc", {}, "cannot count bytes"),
            ([{"defect": "a"}, 5], {}, "a label is text, a number or a date, not a dict"),
            ({"a": -1}, {}, "category 'a': the count is negative: -1"),
            ({"a": "x"}, {}, "category 'a': the count is not a number: 'x'"),
            ({"a": 1}, {"count": "n"}, "ready counts have no columns or cells: leave count='n' out"),
            (["a"], {"by": "x"}, "plain labels have no columns: leave by='x' out"),
            ({"a": 1}, {"where": "a > 1"}, "ready counts have no columns or cells: leave where='a > 1' out"),
            ({"a;b": 1}, {"separator": ";"}, "ready counts have no columns or cells: leave separator=';' out"),
            (["a"], {"where": "a > 1"}, "plain labels have no columns: leave where='a > 1' out"),
            (vt.tally(["a"]), {"merge_spellings": True}, "a tally is counted already: leave merge_spellings=True out"),
            ({"l": ["a"], "n": []}, {"by": "l", "count": "n"}, "differ in length: 1 and 0"),
        ]:
            with self.subTest(data=data), self.assertRaisesRegex(VantricError, words):
                vt.tally(data, **options)


class Files(InFolder):
    def test_labels_are_text_as_typed(self) -> None:
        path = self.file('defect,n\n007,1\n7,1\nNULL,1\n"a ""b"",\nc",1\n,1\n"",1\n  ,1\n x ,1\n=1+1,1\n')
        tally = vt.tally(path, "defect")
        self.assertEqual(tally.as_dict(), {"007": 1, "7": 1, "NULL": 1, 'a "b",\nc': 1, " x ": 1, "=1+1": 1})
        self.assertEqual((tally.missing.records, tally.origin.input_rows), (3, 9))
        self.assertEqual(tally.origin.source, str(path))

    def test_delimiters_line_ends_and_marks(self) -> None:
        for content in (
            "defect,n\nx,1\ny,2\n",
            "defect;n\nx;1\ny;2",
            "defect\tn\r\nx\t1\r\ny\t2\r\n",
            "defect|n\rx|1\ry|2\r",
            b"\xef\xbb\xbfdefect,n\nx,1\n\ny,2\n",
            '"defect",n\n"x",1\n"y",2\n',
            " defect , n \nx,1\ny,2\n",
            "n,defect,\n1,x,\n2,y,\n",
        ):
            with self.subTest(content=content):
                self.assertEqual(vt.tally(str(self.file(content)), "defect", count="n").as_dict(), {"x": 1, "y": 2})

    def test_one_column_may_hold_commas(self) -> None:
        tally = vt.tally(self.file("defect\nchip, left\ncrack\nchip, left, low\n"), "defect")
        self.assertEqual(tally.as_dict(), {"chip, left": 1, "crack": 1, "chip, left, low": 1})

    def test_names_with_signs_that_engines_read_as_patterns(self) -> None:
        self.file("defect\nwrong\n", "log1.csv")
        for name in ("log[1].csv", "log*.csv", "log?.csv", "it's.csv"):
            with self.subTest(name=name):
                path = self.file("de\"f'ect\nx\n", name)
                self.assertEqual(vt.tally(path, "de\"f'ect").as_dict(), {"x": 1})

    def test_counts_are_added_up_exactly(self) -> None:
        path = self.file("d,n\n" + "a,0.1\n" * 10 + f"b,{2**63}\nb,{2**63}\nc,1.00000000001\nc,1e3\n")
        tally = vt.tally(path, "d", count="n")
        self.assertEqual(tally.as_dict(), {"a": 1, "b": 2**64, "c": 1001.00000000001})
        self.assertEqual(tally.frequency.scale, 11)
        huge = vt.tally(self.file("d,n\n" + f"a,{'9' * 29}\n" * 20), "d", count="n")
        self.assertEqual(huge.as_dict(), {"a": 20 * int("9" * 29)})

    @settings(max_examples=examples(40))
    @given(st.lists(st.tuples(st.sampled_from("ab"), st.decimals(0, 10**9, places=2)), min_size=1, max_size=30))
    def test_a_file_counts_as_the_same_columns_do(self, rows: list[tuple[str, Decimal]]) -> None:
        path = self.file("d,n\n" + "".join(f"{label},{amount}\n" for label, amount in rows))
        expected = vt.tally({"d": [row[0] for row in rows], "n": [row[1] for row in rows]}, "d", count="n")
        self.assertEqual(vt.tally(path, "d", count="n"), expected)

    def test_bad_files_say_where(self) -> None:
        long = "d,n\n" + "x,1\n" * 30000
        for content, count, words in [
            ("", None, "is empty: it needs a header line"),
            ("\n\n", None, "is empty"),
            ("d,n\nx,1\ny,2,3\n", None, "line 3: 3 columns where the header has 2"),
            ("d,n\nx,1\ny\n", None, "line 3: 1 column where the header has 2"),
            (long + "y,2,3\n", None, "line 30002: 3 columns where the header has 2"),
            ('d,n\n"x,1\n', None, "quotation mark is not closed"),
            (
                "d,n\nGlasür,1\n".encode() + b"Glasur\xe9,1\n",
                None,
                "line 3: bytes that are not UTF-8 in a file that is",
            ),
            (b"\xff\xfed\x00,\x00n\x00\n", None, "is broken UTF-16 text"),
            ("d,d\nx,1\n", None, "two columns named 'd'"),
            ("d,n\nx,1\ny,-2\n", "n", "record 2, column 'n': the count is negative: -2"),
            ("d,n\nx,1\n\ny,two\nz,three\n", "n", "line 4, column 'n': the count is not a number: 'two'"),
            ("d,n\nx,1\ny,\n", "n", "record 2, column 'n': the count is missing"),
            ("d,n\nx,nan\n", "n", "record 1, column 'n': the count is not a number: 'nan'"),
        ]:
            with self.subTest(words=words), self.assertRaisesRegex(VantricError, words) as caught:
                vt.tally(self.file(content), "d", count=count)
            self.assertNotIn("\n", str(caught.exception))

    def test_files_that_are_none(self) -> None:
        with self.assertRaisesRegex(SourceError, "there is no file '.*nowhere.csv'"):
            vt.tally(self.folder / "nowhere.csv", "d")
        with self.assertRaisesRegex(SourceError, "is a folder|ending is not"):
            vt.tally(self.folder, "d")
        with self.assertRaisesRegex(SourceError, "its ending is not one of .csv"):
            vt.tally(self.file("x", "log.doc"), "d")
        with self.assertRaisesRegex(ColumnError, "say which column of .* is counted .by.: its columns are: n, m"):
            vt.tally(self.file("n,m\n1,2\n"))
        with self.assertRaisesRegex(VantricError, "holds no records"):
            vt.pareto(self.file("d,n\n"), "d")
