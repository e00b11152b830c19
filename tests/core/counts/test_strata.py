"""Stratified tables, drill-down, and before and after."""

import json

import numpy as np
import pandas as pd
from hypothesis import given
from hypothesis import strategies as st

import vantric as vt
from tests.folder import InFolder
from vantric.core.layout import PanelPlan, make_plan
from vantric.demo import data_file
from vantric.errors import VantricError

LOG = {
    "d": ["a", "b", "a", "a", "c", "b", None, "a"],
    "k": ["x", "x", "y", "x", "y", "y", "x", None],
    "t": [
        "2026-01-03",
        "2026-01-09",
        "2026-03-01",
        "2026-03-02",
        "2026-01-01",
        "2026-03-30",
        "2026-01-01",
        "2026-01-02",
    ],
}


class Strata(InFolder):
    def test_bars_in_parts_ranked_by_their_totals(self) -> None:
        table = vt.pareto(LOG, "d", split="k", cut=50)
        self.assertEqual(table.categories, ("a", "b", "c"))
        self.assertEqual(table.strata_rows(), [[2, 1], [1, 1], [0, 1]])
        self.assertEqual((table.total, table.missing.records, table.size), (6, 2, 3))
        self.assertEqual(table.tally.base(), "6 records, 2 with a blank “d” or “k”")
        told = table.to_dict()
        self.assertEqual((told["split"], told["strata"], told["rows"][0]["strata"]), ("k", ["x", "y"], [2, 1]))
        self.assertEqual(list(table.to_frame().columns)[-2:], ["x", "y"])

    @given(
        st.lists(st.tuples(st.sampled_from("abcdef"), st.sampled_from("xyz")), min_size=1, max_size=60),
        st.integers(1, 6),
    )
    def test_parts_add_up(self, pairs: list[tuple[str, str]], keep: int) -> None:
        data = {"d": [one for one, _ in pairs], "k": [other for _, other in pairs]}
        table = vt.pareto(data, "d", split="k", cut=None, keep=keep)
        self.assertEqual([sum(parts) for parts in table.strata_rows()], [row.frequency for row in table.rows])
        assert table.strata is not None
        sums = np.sum(table.strata_rows(), axis=0).tolist()
        self.assertEqual(sums, table.strata.column_totals.values())

    def test_in_the_order_given_without_what_has_no_second_label(self) -> None:
        data = {"d": ["q", "b", "a"], "k": [None, "x", "x"]}
        self.assertEqual(vt.pareto(data, "d", split="k", order="given").categories, ("b", "a"))
        levels = pd.Categorical(["lo", None], categories=["hi", "lo"], ordered=True)
        frame = pd.DataFrame({"d": levels, "k": ["x", "x"]})
        self.assertEqual(vt.pareto(frame, "d", split="k", order="given").strata_rows(), [[0], [1]])
        self.assertEqual(vt.pareto(frame, "d", order="given", drop_zero=True).categories, ("lo",))

    def test_calendar_periods_none_left_out(self) -> None:
        table = vt.pareto(LOG, "d", split="t", period="month")
        assert table.strata is not None
        self.assertEqual(table.strata.columns, ("2026-01", "2026-02", "2026-03"))
        self.assertEqual(table.strata_rows()[0], [2, 0, 2])
        with self.assertRaisesRegex(VantricError, "a period divides a column of dates: name the column with split"):
            vt.pareto(LOG, "d", period="month")
        with self.assertRaisesRegex(VantricError, "column 'k' is not a date: 'x'"):
            vt.pareto(LOG, "d", split="k", period="month")
        with self.assertRaisesRegex(VantricError, "not 'moth'; did you mean 'month'"):
            vt.pareto(LOG, "d", split="t", period="moth")

    def test_the_stacks_are_drawn_to_scale(self) -> None:
        table = vt.pareto(LOG, "d", split="k")
        chart = vt.pareto_chart(table)
        plan = make_plan(chart)  # type: ignore[arg-type]
        parts = plan.bars.edges.reshape(2, 3, 4)
        np.testing.assert_allclose(parts[0, :, 3], plan.primary_y(np.array([2.0, 1, 0])))
        np.testing.assert_allclose(parts[1, :, 1], parts[0, :, 3])
        np.testing.assert_allclose(parts[1, :, 3], plan.primary_y(np.array([3.0, 2, 1])))
        self.assertAlmostEqual(plan.points.ys[0], parts[1, 0, 3])
        self.assertEqual(set(plan.bars.roles), {"series-1", "series-2"})

    def test_panels_share_order_and_scale(self) -> None:
        chart = vt.pareto_chart(LOG, "d", split="k", panels=True)
        self.assertIsInstance(chart, vt.PanelChart)
        plan = chart.plan()
        assert isinstance(plan, PanelPlan)
        scales = {one.scales.primary for _, one in plan.panels}
        self.assertEqual((len(plan.panels), len(scales)), (2, 1))
        # Columns that share their names are read across; upright they stand where they are asked to.
        upright = vt.pareto_chart(LOG, "d", split="k", panels=True, orientation="vertical").plan()
        bars = [one.bars.edges[:, 2] - one.frame.left for _, one in plan.panels]
        bars += [one.bars.edges[:, 3] - one.frame.bottom for _, one in upright.panels]  # type: ignore[union-attr]
        longest = [one.frame.width * 0.95 for _, one in plan.panels]
        longest += [one.frame.height * 0.95 for _, one in upright.panels]  # type: ignore[union-attr]
        for first in (0, 2):
            np.testing.assert_allclose(bars[first] / longest[first], [2 / 3, 1 / 3, 0])
            np.testing.assert_allclose(bars[first + 1] / longest[first + 1], [1 / 3, 1 / 3, 1 / 3])
        self.assertFalse([rule for _, one in plan.panels for rule in one.rules if rule.role == "cut"])
        boxes = [box for box, _ in plan.panels]
        self.assertFalse(any(one.overlaps(other) for one in boxes for other in boxes if one is not other))
        with self.assertRaisesRegex(VantricError, "panels need strata: name a second column with split"):
            vt.pareto_chart(LOG, "d", panels=True)
        many = {"d": ["a"] * 60, "k": [str(n) for n in range(60)]}
        with self.assertRaisesRegex(VantricError, "60 panels are too many"):
            vt.pareto_chart(many, "d", split="k", panels=True)


class Drill(InFolder):
    data = {
        "line": ["P", "P", "P", "Q", "Q", "R", None],
        "part": ["u", "u", "v", "w", None, "x", "y"],
        "fault": ["1", "2", "1", "3", "3", "4", "5"],
    }

    def test_within_each_of_the_vital_few(self) -> None:
        table = vt.pareto(self.data, drill=["line", "part"])
        self.assertEqual((table.categories, table.missing.records), (("P", "Q", "R"), 1))
        self.assertEqual([name for name, _ in table.within], ["P", "Q"])
        inner = dict(table.within)
        self.assertEqual([(r.category, r.frequency) for r in inner["P"].rows], [("u", 2), ("v", 1)])
        self.assertEqual((inner["Q"].total, inner["Q"].missing.records), (1, 1))
        self.assertIn("line is Q", inner["Q"].origin.note())
        self.assertIsInstance(inner["P"], vt.ParetoTable)
        told = table.to_dict()["drill"]
        self.assertEqual([one["category"] for one in told], ["P", "Q"])
        frame = table.to_frame()
        self.assertEqual(frame["within"].tolist(), ["", "", "", "P", "P", "Q"])

    def test_three_columns(self) -> None:
        table = vt.pareto(self.data, drill=["line", "part", "fault"])
        deepest = dict(dict(table.within)["P"].within)["u"]
        self.assertEqual(deepest.categories, ("1", "2"))
        self.assertEqual(deepest.origin.within, "line is P and part is u")
        self.assertIn("P / u", table.to_frame()["within"].tolist())

    def test_families_of_the_demo(self) -> None:
        log, map_ = self.file(data_file("inspections.csv")), self.file(data_file("defect_families.csv"), "map.csv")
        table = vt.pareto(log, drill=["family", "defect"], families=map_, merge_spellings=True)
        plain = vt.pareto(log, "defect", families=map_, merge_spellings=True)
        self.assertEqual(table.categories, plain.categories)
        self.assertEqual([row.frequency for row in table.rows], [row.frequency for row in plain.rows])
        for name, inner in table.within:
            self.assertEqual(inner.total, dict(zip(table.categories, table.frequency.values(), strict=True))[name])
        chart = vt.pareto_chart(table)
        self.assertEqual(len(chart.panels), 1 + len(table.within))  # type: ignore[union-attr]
        page = table._repr_html_()
        self.assertIn("Glazing", page)

    def test_wishes_that_cannot_be_met(self) -> None:
        for wish, words in [
            ({"drill": ["line"]}, "names two columns or more"),
            ({"drill": ["line", "line"]}, "each once"),
            ({"drill": ["line", "prat"]}, "no column 'prat'; did you mean 'part'"),
            ({"drill": ["line", "part"], "split": "fault"}, "no split and no rates"),
            ({"by": "line", "drill": ["line", "part"]}, "leave by"),
        ]:
            with self.subTest(wish=wish), self.assertRaisesRegex(VantricError, words):
                vt.pareto(self.data, **wish)  # type: ignore[arg-type]


class BeforeAndAfter(InFolder):
    one = {"a": 50, "b": 30, "c": 20}
    other = {"b": 45, "a": 30, "d": 15}

    def test_rows(self) -> None:
        found = vt.compare(self.one, self.other, names=("Old", "New"))
        self.assertEqual(found.categories, ("a", "b", "c", "d"))
        rows = {row.category: row for row in found.rows}
        self.assertEqual((rows["a"].change, rows["b"].change, rows["c"].change, rows["d"].change), (-20, 15, -20, 15))
        self.assertEqual((rows["a"].rank_change, rows["b"].rank_change, rows["d"].rank_change), (-1, 1, None))
        self.assertAlmostEqual(rows["b"].percent_points, 50 - 30)
        self.assertEqual((rows["a"].share, rows["b"].share), (200.0, -150.0))
        self.assertEqual((rows["d"].before_rank, rows["d"].after_rank), (None, 3))
        self.assertEqual(found.change, -10)
        self.assertIn("fell by 10.0%, from 100 (Old) to 90 (New).", found.sentence())
        self.assertIn("1 category is only in New. 1 category is only in Old", found.sentence())
        self.assertEqual(found, vt.compare(self.one, self.other, names=("Old", "New")))
        self.assertNotEqual(found, vt.compare(self.other, self.one, names=("Old", "New")))

    @given(
        st.dictionaries(st.sampled_from("abcdef"), st.integers(0, 50), min_size=1).filter(
            lambda d: sum(d.values()) > 0
        ),
        st.dictionaries(st.sampled_from("abcdef"), st.integers(0, 50), min_size=1).filter(
            lambda d: sum(d.values()) > 0
        ),
    )
    def test_changes_add_up(self, one: dict[str, int], other: dict[str, int]) -> None:
        found = vt.compare(one, other)
        self.assertEqual(sum(row.change for row in found.rows), sum(other.values()) - sum(one.values()))
        self.assertAlmostEqual(sum(row.percent_points for row in found.rows), 0, places=9)
        if found.change:
            self.assertAlmostEqual(sum(row.share or 0 for row in found.rows), 100, places=6)
        else:
            self.assertEqual({row.share for row in found.rows}, {None})

    def test_rates(self) -> None:
        found = vt.compare(self.one, self.other, per=(1000, 500), per_units=100, per_name="pieces")
        row = found.rows[0]
        self.assertEqual((row.before, row.after, row.before_count, row.after_count), (5.0, 6.0, 50, 30))
        self.assertIn("per 100 pieces rose from 10", found.sentence())
        self.assertEqual([finding.code for finding in vt.review(found)], [])
        self.assertIn("uneven-totals", [f.code for f in vt.review(vt.compare({"a": 5}, {"a": 50}))])

    def test_parts_of_one_source_and_of_two(self) -> None:
        table = vt.crosstab(LOG, "d", "k")
        found = table.compare("x", "y")
        self.assertEqual(
            [(row.category, row.before, row.after) for row in found.rows], [("a", 2, 1), ("b", 1, 1), ("c", 0, 1)]
        )
        with self.assertRaisesRegex(VantricError, "'k' has no 'z'; there are: x, y"):
            table.compare("x", "z")
        logs = self.file("d,n\na,2\nb,1\n"), self.file("d,n\na,1\n", "after.csv")
        both = vt.compare(*logs, "d", count="n", per="n")
        self.assertEqual((both.exposures, both.rows[0].before), ((3, 1), 2 / 3))

    def test_what_does_not_compare(self) -> None:
        counted = vt.tally({"d": ["a"], "n": [1]}, "d", count="n")
        with self.assertRaisesRegex(VantricError, "different units, records and n"):
            vt.compare(vt.tally(["a"]), counted)
        with self.assertRaisesRegex(VantricError, "two numbers, or per a column"):
            vt.compare(self.one, self.other, per=(1, 2, 3))
        with self.assertRaisesRegex(VantricError, "0 is not"):
            vt.compare(self.one, self.other, per=(1, 0))
        with self.assertRaisesRegex(VantricError, "nothing to rank"):
            vt.compare(self.one, {"a": 0})

    def test_the_chart_stands_on_one_scale(self) -> None:
        chart = vt.compare(self.one, self.other).chart(form="bars")
        plan = chart.plan()
        self.assertEqual(plan.scales.primary, plan.scales.secondary)
        first, second = plan.bars.edges.reshape(2, 4, 4)
        np.testing.assert_allclose(first[:, 3], plan.primary_y(np.array([50.0, 30, 20, 0])))
        np.testing.assert_allclose(second[:, 3], plan.primary_y(np.array([30 / 0.9, 50, 0, 15 / 0.9])))
        np.testing.assert_allclose(first[:, 2], second[:, 0])
        for points in plan.point_sets:
            self.assertAlmostEqual(points.ys[-1], float(plan.primary_y(100)))
        texts = [mark.text for mark in plan.texts]
        self.assertIn("Percent of each side's own total", texts)
        self.assertIn("Cumulative percent, Before", texts)
        for form in ("bars", "dumbbells", None):
            with self.assertRaisesRegex(VantricError, "line_at='edge'"):
                vt.compare(self.one, self.other).chart(line_at="edge", form=form)

    def test_outputs(self) -> None:
        found = vt.compare(self.one, self.other)
        for name in ("a.json", "a.csv", "a.md", "a.html", "a.xlsx"):
            self.assertGreater(found.save(self.folder / name).stat().st_size, 100)
        told = json.loads((self.folder / "a.json").read_text())
        self.assertEqual(
            (told["format"], told["before"]["total"], told["rows"][0]["change"]), ("vantric/comparison", 100, -20)
        )
        self.assertEqual(pd.read_csv(self.folder / "a.csv")["after"].tolist(), [30, 45, 0, 15])
        frame = found.to_frame()
        self.assertEqual((frame.shape, str(frame["share"].dtype)), ((4, 18), "float64"))
        self.assertTrue(vt.compare({"a": 1}, {"a": 1}).to_frame()["share"].isna().all())
        self.assertEqual(repr(vt.compare({"a": 1}, {"a": 2})), "<Comparison of 1 category: 1 record and 2 records>")
        self.assertIn("<table>", found._repr_html_())


class DrillColors(InFolder):
    def test_a_color_is_drawn_in_every_panel_that_has_it_or_refused(self) -> None:
        data = {"k": ["x", "x", "y", "y", "y"], "d": ["a", "b", "a", "c", "a"]}
        table = vt.pareto(data, drill=["k", "d"], cut=95)
        panels = table.chart(colors={"a": "#112233", "Cumulative percent": "#445566"}).panels  # type: ignore[union-attr]
        drawn = [chart.bars[0].colors for chart in panels]
        self.assertEqual([("#112233" in one) for one in drawn], [False, True, True])
        self.assertEqual({chart.series[1].role for chart in panels}, {"line:#445566"})
        with self.assertRaisesRegex(VantricError, "nothing called 'q'"):
            table.chart(colors={"q": "red"})
