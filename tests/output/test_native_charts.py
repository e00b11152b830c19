"""Native charts, read back from the parts of a workbook: every mark stands where it should, on our solved scales."""

from __future__ import annotations

import io
import tempfile
import unittest
from pathlib import Path
from typing import Any

import openpyxl

import vantric as vt
from tests.effort import examples
from tests.nativecharts import NativeChart, native_charts
from tests.output.test_live_workbook import book_of
from tests.randomcharts import random_chart


class NativePareto(unittest.TestCase):
    def chart(self, table: vt.ParetoTable) -> NativeChart:
        [chart] = native_charts(book_of(table))
        return chart

    def test_every_mark_stands_where_it_should(self) -> None:
        table = vt.pareto({"Pinhole": 88, "Warping": 61, "Edge chip": 44, "Scratch": 38})
        chart = self.chart(table)
        self.assertEqual(
            [one.name for one in chart.series],
            ["Vital few", "Useful many", "Cumulative", "Cutoff 80%", "0%", "20%", "40%", "60%", "80%", "100%"],
        )
        vital, useful, line, cut, *scale = chart.series
        self.assertEqual(len({one.axes for one in chart.series}), 1)  # all on one axis of counts
        self.assertIsNone(chart.value_axis(line)["max"])
        self.assertEqual(vital.categories[:4], list(table.categories))
        bars = [(vital.values[at] or 0) + (useful.values[at] or 0) for at in range(4)]
        self.assertEqual(bars, [88, 61, 44, 38])
        self.assertEqual(line.height(0) if hasattr(line, "height") else chart.height(line, 0), chart.height(vital, 0))
        total = chart.height(line, 3)
        assert total is not None
        for one, percent in zip(scale, (0, 20, 40, 60, 80, 100), strict=True):
            self.assertEqual(one.values[:4], [None] * 4)
            self.assertAlmostEqual(chart.height(one, 4) or 0.0, total * percent / 100)
            self.assertIn("showSerName", one.shows)
            self.assertFalse(one.line)
            self.assertIn(chart.series.index(one), chart.unlisted)
        self.assertEqual({chart.height(cut, at) for at in range(5)}, {total * 0.8})
        self.assertEqual([line.labels[at][1] for at in (1, 2, 3)], ["64.5%", "83.5%", "100%"])
        self.assertNotIn(0, line.labels)
        self.assertIn("fewest that reach the 80% cutoff", chart.alternative)
        self.assertEqual(
            (chart.title, chart.value_axis(line)["title"]),
            ("Pinhole, Warping and Edge chip account for 84% of 231 records", "Records"),
        )

    def test_references_resolve_to_the_cells_that_are_drawn(self) -> None:
        content = book_of(vt.pareto({"a": 5, "b": 3, "c": 2}))
        book = openpyxl.load_workbook(io.BytesIO(content), data_only=True)
        [chart] = native_charts(content)
        for one in chart.series:
            for cells, cached in ((one.value_cells, one.values), (one.category_cells, one.categories)):
                sheet, _, area = cells.rpartition("!")
                held = [row[0].value for row in book[sheet.strip("'")][area.replace("$", "")]]
                self.assertEqual(
                    [None if value == "" else value for value in held],
                    [None if value == "" else value for value in cached],
                )
        native = openpyxl.load_workbook(io.BytesIO(content))["Pareto"]._charts
        self.assertEqual(len(native), 1)

    def test_many_rows_are_drawn_in_part_and_counted_whole(self) -> None:
        chart = self.chart(vt.pareto({f"c{n}": n + 1 for n in range(500)}))
        self.assertEqual(len(chart.series[0].values), 201)
        self.assertEqual(chart.series[-1].values[-1], sum(range(501)))


class NativeOthers(unittest.TestCase):
    def test_combinations_have_our_solved_scales(self) -> None:
        months = [f"2026-{n:02d}" for n in range(1, 7)]
        chart = vt.Chart(
            months,
            [
                vt.Bars("Fired", [640, 590, 612, 655, 601, 622], unit="tiles"),
                vt.Line("Rejects", [4.2, 3.9, None, 4.4, 3.1, 3.0], axis="secondary", unit="%"),
            ],
            references=[vt.Reference(600, text="Goal")],
        )
        [native] = native_charts(book_of(chart))
        named = {one.name.partition(" ")[0]: one for one in native.series}
        fired, rejects, goal = (named[name] for name in ("Fired", "Rejects", "Goal"))
        self.assertEqual([one.kind for one in (fired, rejects, goal)], ["barChart:col", "lineChart", "lineChart"])
        self.assertEqual([native.series[at].name.strip() for at in native.unlisted], [""])
        for one, scale in ((fired, chart.scales.primary), (rejects, chart.scales.secondary)):
            axis = native.value_axis(one)
            self.assertEqual((axis["min"], axis["max"], axis["step"]), (scale.lower, scale.upper, scale.step))
        self.assertEqual(rejects.values, [4.2, 3.9, None, 4.4, 3.1, 3.0])
        self.assertEqual(set(goal.values), {600.0})
        self.assertEqual(native.value_axis(goal), native.value_axis(fired))

    def test_any_chart_has_its_values_on_its_own_scales(self) -> None:
        drawn = 0
        for seed in range(examples(120)):
            try:
                chart, _ = random_chart(seed)
            except vt.VantricError:
                continue
            [native] = native_charts(book_of(chart))
            shown = [one for one in native.series if one.name.strip()]
            for one in chart.series:
                named = one.name if not one.unit else f"{one.name} ({one.unit})"
                found = next(other for other in shown if other.name == named)
                scale = chart.scales.secondary if one.secondary and chart.secondary_axis else chart.scales.primary
                self.assertAlmostEqual(native.value_axis(found)["max"] / scale.upper, 1.0, places=9, msg=(seed, named))
                for got, value in zip(found.values, one.values, strict=False):
                    self.assertEqual(got is None, value != value, (seed, named))
                    if got is not None:
                        self.assertAlmostEqual(got, value, delta=1e-9 * max(1.0, abs(value)))
                drawn += 1
        self.assertGreater(drawn, 1.6 * examples(120))

    def test_every_kind_of_chart_becomes_one(self) -> None:
        months = ["2026-01", "2026-02", "2026-03"]
        kinds: dict[str, Any] = {
            "stacked": vt.Chart(months, [vt.Bars("a", [1, 2, 3]), vt.Bars("b", [3, 2, 1])], together="stacked"),
            "log": vt.Chart(months, [vt.Bars("a", [1, 200, 3000])], primary_log=True),
            "areas": vt.Chart(months, [vt.Area("a", [1, 2, 3]), vt.Line("b", [3, 2, 1]), vt.Bars("c", [1, 1, 2])]),
            "flat": vt.tally({"a": 4, "b": 2}).chart(orientation="horizontal"),
            "both sides": vt.Chart(
                months,
                [
                    vt.Bars("a", [1, 2, 3]),
                    vt.Bars("b", [30, 20, 10], axis="secondary"),
                    vt.Line("c", [3, 2, 1]),
                    vt.Line("d", [30, 20, 15], axis="secondary"),
                ],
            ),
            "one side": vt.Chart(
                months, [vt.Bars("a", [1, 2, 3]), vt.Line("c", [3, 2, 1]), vt.Line("d", [30, 20, 15], axis="secondary")]
            ),
            "panels": vt.pareto({"x": ["a", "b", "a", "a"], "k": ["1", "1", "2", "2"]}, "x", split="k").chart(
                panels=True
            ),
            "drill": vt.pareto({"x": ["a", "b", "a", "a"], "k": ["1", "1", "2", "2"]}, drill=("k", "x")).chart(),
            "steps": vt.Chart(months, [vt.Steps("a", [1, 2, 3]), vt.Stems("b", [1, 2, 1])]),
        }
        for name, chart in kinds.items():
            with self.subTest(name):
                charts = native_charts(book_of(chart))
                self.assertEqual(len(charts), {"panels": 2, "drill": 3}.get(name, 1))
                for native in charts:
                    for one in native.series:
                        self.assertTrue(all(axis in native.axes for axis in one.axes), "an axis is missing")
                        self.assertTrue(native.alternative)
                        self.assertTrue(native.value_axis(one)["title"], name)
        [flat] = native_charts(book_of(kinds["flat"]))
        self.assertEqual(flat.series[0].kind, "barChart:bar")
        self.assertTrue(next(axis for axis in flat.axes.values() if axis["kind"] == "catAx")["reversed"])
        [log] = native_charts(book_of(kinds["log"]))
        self.assertEqual(log.value_axis(log.series[0])["log"], 10)
        [stacked] = native_charts(book_of(kinds["stacked"]))
        self.assertEqual(stacked.series[0].grouping, "stacked")

    def test_what_cannot_be_drawn_is_its_table(self) -> None:
        for result in (vt.tally({"a": 0, "b": 0}), vt.align((0, 650), (0, 100))):
            content = book_of(result)
            self.assertEqual(native_charts(content), [])
            with tempfile.TemporaryDirectory() as folder:
                page = Path(result.save(Path(folder, "p.html"))).read_text()
                self.assertIn("<table", page)
        [log] = native_charts(book_of(vt.Chart(["a", "b"], [vt.Bars("m", [1, 100])], primary_log=True)))
        self.assertEqual(log.value_axis(log.series[0])["title"], "m (log)")

    def test_headings_formats_and_print_set_up(self) -> None:
        table = vt.pareto({"x": ["a", "b"], "cost": [1200.5, 80.25]}, "x", weight="cost")
        book = openpyxl.load_workbook(io.BytesIO(book_of(table.chart(prefix="€ "))))
        self.assertEqual(book.sheetnames, ["Pareto", "Counts", "Chart data", "Findings", "Notes"])
        sheet = book["Pareto"]
        self.assertEqual([cell.value for cell in sheet[5]][:3], ["Rank", "Category", "Cost"])
        self.assertEqual(sheet.cell(6, 3).number_format, '"€ "#,##0.00')
        self.assertEqual((sheet.cell(6, 4).number_format, sheet.freeze_panes), ("0.0%", "A6"))
        setup = sheet.page_setup
        self.assertEqual((setup.fitToWidth or 1, setup.fitToHeight, setup.orientation), (1, 0, "landscape"))
        self.assertEqual(sheet.print_title_rows, "$5:$5")


if __name__ == "__main__":
    unittest.main()
