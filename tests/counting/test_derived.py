"""Series worked out from columns, and the orders of categories."""

import sqlite3
import unittest

import numpy as np

import vantric as vt
from tests.cli.test_cli import Result
from tests.folder import InFolder
from vantric.errors import VantricError

DATA = {"m": ["Jan", "Feb", "Mar", "Apr"], "new": [120, 90, 50, 10], "old": [100, 0, 40, None]}


class Derived(unittest.TestCase):
    def values(self, measure: str, data: dict[str, list[object]] = DATA) -> list[float]:  # type: ignore[assignment]
        return list(vt.combine(data, "m", line=measure).series[0].values)

    def test_each_by_hand(self) -> None:
        nan = float("nan")
        for measure, wanted in (
            ("growth:new/old", [20, nan, 25, nan]),
            ("difference:new-old", [20, 90, 10, nan]),
            ("share:new", [100 * value / 270 for value in (120, 90, 50, 10)]),
            ("running:new", [120, 210, 260, 270]),
            ("running-share:new", [100 * value / 270 for value in (120, 210, 260, 270)]),
            ("running:old", [100, 100, 140, nan]),
        ):
            np.testing.assert_allclose(self.values(measure), wanted, err_msg=measure)
        self.assertEqual(self.values("running-share:new")[-1], 100.0)

    def test_exact_in_decimals(self) -> None:
        tenths = {"m": list("abcdefghij"), "n": [0.1] * 10}
        self.assertEqual(self.values("running:n", tenths)[-1], 1.0)  # type: ignore[arg-type]

    def test_gaps_are_reported(self) -> None:
        chart = vt.combine(DATA, "m", line=["growth:new/old=G", "difference:new-old"])
        said = {one.code: one.message for one in chart.review()}
        self.assertEqual(said["zero-base"], "'G' has no value at 'Feb' and 'Apr': 'old' is zero or missing there")
        self.assertEqual([one.unit for one in chart.series], ["%", ""])
        falling = {"m": ["a"], "n": [-50], "o": [-100]}
        self.assertEqual(self.values("growth:n/o", falling), [50])  # type: ignore[arg-type]

    def test_columns_may_hold_the_sign(self) -> None:
        data = {"m": ["a"], "pre-press": [9], "press": [4], "a/b": [2]}
        self.assertEqual(self.values("difference:pre-press-press", data), [5])  # type: ignore[arg-type]
        self.assertEqual(self.values("ratio:press/a/b", data), [2])  # type: ignore[arg-type]
        measured = vt.aggregate(data, "m", {"d": "difference:pre-press-press", "s": "share:press"})
        self.assertEqual(measured.values, ((5,), (100,)))
        with self.assertRaisesRegex(VantricError, "names no two columns: write difference:rejected-fired"):
            self.values("difference:press", data)  # type: ignore[arg-type]

    def test_a_column_that_is_called_like_a_measure_is_a_column(self) -> None:
        [line] = vt.combine({"m": ["a", "b"], "share:n": [3, 4]}, "m", line="share:n").series
        self.assertEqual((line.values, line.unit), ((3, 4), ""))

    def test_running_sums_follow_the_order(self) -> None:
        chart = vt.combine(DATA, "m", bars="new", line="running:new", order="label")
        self.assertEqual(chart.categories, ("Jan", "Feb", "Mar", "Apr"))
        listed = vt.combine(DATA, "m", line="running:new", order=("Apr", "Jan", "Feb", "Mar"))
        self.assertEqual(listed.series[0].values, (10, 130, 220, 270))


class Orders(InFolder):
    def test_every_order(self) -> None:
        data = {"w": ["Tue", "Mon", "Wed"], "n": [5, 9, 7]}
        for order, wanted in (
            ("given", ("Tue", "Mon", "Wed")),
            ("label", ("Mon", "Tue", "Wed")),
            ("frequency", ("Mon", "Wed", "Tue")),
            ("calendar", ("Mon", "Tue", "Wed")),
            (("Wed", "Tue", "Mon"), ("Wed", "Tue", "Mon")),
        ):
            self.assertEqual(vt.combine(data, "w", bars="n", order=order).categories, wanted)  # type: ignore[arg-type]
        numbers = {"w": ["10", "2", "7"], "n": [5, 9, 7]}
        self.assertEqual(vt.combine(numbers, "w", bars="n").categories, ("2", "7", "10"))
        self.assertEqual(vt.combine(numbers, "w", bars="n", order="given").categories, ("10", "2", "7"))
        for order, words in (
            ("calendar", "order calendar is for months and weekdays"),
            (("10", "2"), "misses '7'"),
            (("10", "2", "7", "7"), "twice"),
        ):
            with self.assertRaisesRegex(VantricError, words):
                vt.combine(numbers, "w", bars="n", order=order)  # type: ignore[arg-type]

    def test_a_query_keeps_its_order(self) -> None:
        path = self.folder / "plant.db"
        with sqlite3.connect(path) as connection:
            connection.execute("create table t (crew text, hours int)")
            connection.executemany("insert into t values (?, ?)", [("Kilns", 4), ("Glazing", 9), ("Packing", 6)])
        given = ("combine", f"sqlite:///{path}", "--x", "crew", "--bars", "hours", "--format", "csv")
        query = Result(*given, "--query", "select crew, hours from t order by hours desc")
        self.assertEqual(query.out.split()[1:], ["Glazing,9", "Packing,6", "Kilns,4"])
        table = Result(*given, "--table", "t")
        self.assertEqual(table.out.split()[1:], ["Glazing,9", "Kilns,4", "Packing,6"])

    def test_series_keep_the_order_in_which_they_were_typed(self) -> None:
        sheet = self.file("c,Promised,Delivered\na,410,900\nb,300,250\n")
        out = Result("combine", sheet, "--x", "c", "--line", "Promised", "--bars", "Delivered", "--format", "csv").out
        self.assertEqual(out.splitlines()[0], "c,Promised,Delivered")

    def test_a_tally_in_any_order_with_a_rest(self) -> None:
        log = self.file("d,k,n\nb,x,5\na,y,9\nc,x,1\nd,y,2\n")
        given = ("tally", log, "--by", "d", "--count", "n", "--format", "csv")
        for more, wanted in (
            ((), ["a,9", "b,5", "d,2", "c,1"]),
            (("--order", "label"), ["a,9", "b,5", "c,1", "d,2"]),
            (("--order", "given"), ["b,5", "a,9", "c,1", "d,2"]),
            (("--order", "d,c,b,a"), ["d,2", "c,1", "b,5", "a,9"]),
            (("--keep", "2"), ["a,9", "b,5", "Other,3"]),
        ):
            rows = [",".join(line.split(",")[:2]) for line in Result(*given, *more).out.splitlines()[1:]]
            self.assertEqual(rows, wanted, more)
        crossed = Result(
            "tally", log, "--by", "d", "--split", "k", "--count", "n", "--keep", "1", "--order", "frequency"
        )
        self.assertRegex(crossed.out, r"a +0 +9 +9\nOther +6 +2 +8\n")

    def test_compare_two_periods_of_one_column(self) -> None:
        log = self.file("d,t\na,2026-01-03\na,2026-01-09\nb,2026-02-02\na,2026-02-05\n")
        given = ("compare", log, "--by", "d", "--split", "t", "--before", "2026-01", "--after", "2026-02")
        self.assertIn("2026-01: 2 records", Result(*given, "--period", "month").out)
        self.assertEqual(Result(*given).status, 2)
        two = Result("compare", log, log, "--by", "d", "--period", "month")
        self.assertIn("a period divides a column of one source", two.err)
