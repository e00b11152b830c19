"""Combination charts: where everything stands, which axis is whose, and what is written."""

import math
import unittest
from itertools import product

import numpy as np

import vantric as vt
from tests.core.charts.test_series import Refusing
from vantric.core.charts.bar_places import Arrangement, bar_places
from vantric.core.layout import Plan

MONTHS = ["2026-01", "2026-02", "2026-03", "2026-04"]
FIRED, SECOND, RATE = [640.0, 590.0, 610.0, 655.0], [210.0, 190.0, 205.0, 220.0], [4.2, 3.9, 5.1, 4.4]


def chart(*series: object, categories: object = MONTHS, **options: object) -> vt.Chart:
    return vt.Chart(categories, series, **options)


def texts(plan: Plan, *roles: str) -> list[str]:
    return [mark.text for mark in plan.texts if not roles or mark.role in roles]


def bars_of(plan: Plan, number: int) -> np.ndarray:
    count = len(plan.centers)
    return plan.bars.edges[number * count : (number + 1) * count]


class Kinds(unittest.TestCase):
    def test_each_kind_draws_its_marks(self) -> None:
        for kind, areas, paths, points in (
            (vt.Line, 0, 1, True),
            (vt.Area, 1, 1, False),
            (vt.Points, 0, 0, True),
            (vt.Stems, 0, 4, True),
            (vt.Steps, 0, 1, False),
        ):
            plan = chart(kind("Rate", RATE)).plan()
            with self.subTest(kind=kind.kind):
                self.assertEqual((len(plan.areas), len(plan.paths), len(plan.bars.edges)), (areas, paths, 0))
                self.assertEqual(plan.points.radius > 0, points)
                np.testing.assert_allclose(plan.points.ys, plan.primary_y(np.array(RATE)))
                np.testing.assert_allclose(plan.points.xs, plan.centers)

    def test_steps_are_level_over_their_category(self) -> None:
        plan = chart(vt.Steps("Rate", RATE)).plan()
        slot = plan.frame.width / 4
        np.testing.assert_allclose(plan.path.xs[:4], plan.frame.left + slot * np.array([0, 1, 1, 2]))
        np.testing.assert_allclose(plan.path.ys[:4], plan.primary_y(np.repeat(RATE[:2], 2)))

    def test_stems_and_areas_stand_on_zero_and_lines_hug(self) -> None:
        for kind in (vt.Bars, vt.Stems, vt.Area):
            self.assertEqual(chart(kind("Fired", FIRED)).scales.primary.lower, 0, kind)
        for kind in (vt.Line, vt.Points, vt.Steps):
            self.assertGreater(chart(kind("Fired", FIRED)).scales.primary.lower, 500, kind)
        self.assertEqual(chart(vt.Line("Fired", FIRED), primary_zero=True).scales.primary.lower, 0)
        plan = chart(vt.Stems("Margin", [3, -2, 1, -4])).plan()
        for stem in plan.paths:
            self.assertAlmostEqual(stem.ys[0], float(plan.primary_y(0.0)))

    def test_a_missing_value_leaves_a_gap_or_is_bridged_and_is_never_zero(self) -> None:
        values = [4.0, None, 5.0, 6.0]
        plan = chart(vt.Line("Rate", values)).plan()
        self.assertEqual([len(path.xs) for path in plan.paths], [1, 2])
        self.assertTrue(math.isnan(plan.points.ys[1]))
        self.assertEqual([len(path.xs) for path in chart(vt.Line("Rate", values, bridge=True)).plan().paths], [3])
        self.assertEqual(len(chart(vt.Area("Rate", values)).plan().areas), 2)
        self.assertEqual(len(chart(vt.Steps("Rate", values)).plan().paths), 2)
        bars = chart(vt.Bars("Rate", values, "value")).plan()
        self.assertEqual(bars.bars.edges[1, 1], bars.bars.edges[1, 3])
        self.assertNotIn("0", texts(bars, "value", "on-series-1"))
        self.assertGreater(chart(vt.Line("Rate", values)).scales.primary.lower, 3)

    def test_order_says_what_stands_in_front(self) -> None:
        plan = chart(vt.Bars("a", FIRED), vt.Line("b", FIRED), vt.Area("c", FIRED)).plan()
        self.assertLess(plan.areas[0].level, plan.bars.levels[0])
        self.assertLess(plan.bars.levels[0], plan.paths[0].level)
        behind = chart(vt.Bars("a", FIRED), vt.Line("b", FIRED, layer=-1)).plan()
        self.assertLess(behind.paths[0].level, behind.bars.levels[0])

    def test_looks_of_a_series_reach_the_plan(self) -> None:
        plan = chart(
            vt.Line("a", FIRED, color="teal", line_width=5, marker="diamond", marker_size=14, pattern="dotted"),
            vt.Line("b", SECOND, marker="none"),
            vt.Bars("c", SECOND, pattern="crossed"),
        ).plan()
        self.assertEqual(
            (plan.paths[0].width, plan.paths[0].pattern, plan.paths[0].role), (5, "dotted", "mark-1:#008080")
        )
        self.assertEqual((plan.point_sets[0].shape, plan.point_sets[0].radius), ("diamond", 7))
        self.assertEqual(plan.point_sets[1].radius, 0)
        self.assertEqual(set(plan.bars.patterns), {"crossed"})


class BarsTogether(unittest.TestCase):
    def pair(self, **options: object) -> Plan:
        return chart(vt.Bars("a", FIRED), vt.Bars("b", SECOND), **options).plan()

    def test_grouped_bars_stand_side_by_side_with_or_without_a_gap(self) -> None:
        for gap in (0.0, 0.25):
            plan = self.pair(gap=gap)
            one, other = bars_of(plan, 0), bars_of(plan, 1)
            width = one[0, 2] - one[0, 0]
            np.testing.assert_allclose(other[:, 0] - one[:, 2], width * gap, atol=1e-9)
            np.testing.assert_allclose((one[:, 0] + other[:, 2]) / 2, plan.centers)

    def test_stacks_add_up_and_negative_values_hang_down(self) -> None:
        plan = chart(
            vt.Bars("a", [3, -2, None, 1]), vt.Bars("b", [1, 4, 2, -5]), vt.Bars("c", [2, -1, 1, 1]), together="stacked"
        ).plan()
        tops = plan.primary_y(np.array([[3, 0, 0, 1], [4, 4, 2, 0], [6, -2, 3, 2]]))
        bottoms = plan.primary_y(np.array([[0, -2, 0, 0], [3, 0, 0, -5], [4, -3, 2, 1]]))
        for number in range(3):
            there = [0, 1, 3] if number == 0 else [0, 1, 2, 3]
            np.testing.assert_allclose(bars_of(plan, number)[there, 3], tops[number][there])
            np.testing.assert_allclose(bars_of(plan, number)[there, 1], bottoms[number][there])
        scale = plan.scales.primary
        self.assertTrue(scale.lower <= -5 and scale.upper >= 6)

    def test_stacked_to_100_percent(self) -> None:
        found = chart(vt.Bars("a", [1, 3, 0, 2]), vt.Bars("b", [3, 1, 0, None]), together="percent", totals=True)
        self.assertEqual(found.series[0].values[:2], (25.0, 75.0))
        self.assertTrue(math.isnan(found.series[0].values[2]))
        self.assertEqual(found.series[0].values[3], 100.0)
        self.assertEqual((found.primary_unit, found.primary_title), ("%", "Percent of each category"))
        self.assertEqual(found.scales.primary.ticks[-1], 100)
        with self.assertRaisesRegex(vt.VantricError, "'b' holds values below zero, which are not parts of 100%"):
            chart(vt.Bars("a", FIRED), vt.Bars("b", [1, 1, -1, 1]), together="percent")

    def test_overlaid_bars_are_narrower_in_front_of_wider_ones(self) -> None:
        plan = self.pair(together="overlaid")
        wide, narrow = bars_of(plan, 0), bars_of(plan, 1)
        self.assertTrue(np.all(narrow[:, 0] > wide[:, 0]) and np.all(narrow[:, 2] < wide[:, 2]))
        self.assertGreater(plan.bars.levels[-1], plan.bars.levels[0])
        own = chart(vt.Bars("a", FIRED, bar_width=0.9), vt.Bars("b", SECOND, bar_width=0.2), together="overlaid").plan()
        np.testing.assert_allclose(np.ptp(bars_of(own, 1)[0, ::2]) / np.ptp(bars_of(own, 0)[0, ::2]), 2 / 9)

    def test_several_stacks_stand_side_by_side(self) -> None:
        series = [
            vt.Bars("a", FIRED, stack="one"),
            vt.Bars("b", SECOND, stack="one"),
            vt.Bars("c", FIRED, stack="two"),
            vt.Bars("d", SECOND, stack="two"),
            vt.Bars("e", SECOND),
        ]
        places = bar_places(series, Arrangement())
        self.assertEqual([place.stack for place in places], [0, 0, 1, 1, None])
        starts = [round(place.start, 6) for place in places]
        self.assertEqual((starts[0], starts[2]), (starts[1], starts[3]))
        self.assertEqual(len(set(starts)), 3)

    def test_bars_on_both_axes_never_hide_each_other(self) -> None:
        for together, beside in product(("grouped", "stacked", "percent", "overlaid"), ("beside", "front")):
            found = chart(
                vt.Bars("a", FIRED, axis="primary"),
                vt.Bars("b", SECOND, axis="primary"),
                vt.Bars("c", RATE, axis="secondary"),
                vt.Bars("d", RATE, axis="secondary"),
                together=together,
                secondary_bars=beside,
            )
            plan = found.plan()
            sides = [[bars_of(plan, number) for number in numbers] for numbers in ((0, 1), (2, 3))]
            for one in sides[0]:
                if beside == "front":  # some of each bar is seen beside all that are in front of it
                    covered = [np.minimum(one[:, 2], bar[:, 2]) - np.maximum(one[:, 0], bar[:, 0]) for bar in sides[1]]
                    over = np.clip(covered, 0, None)
                    seen = (one[:, 2] - one[:, 0]) - (over.sum(axis=0) if together == "grouped" else over.max(axis=0))
                    self.assertTrue(np.all(seen > 0), (together, seen))
                    continue
                for other in sides[1]:
                    self.assertTrue(np.all((one[:, 2] <= other[:, 0] + 1e-9) | (other[:, 2] <= one[:, 0] + 1e-9)))

    def test_stacks_keep_their_bases_behind_a_narrow_bar(self) -> None:
        found = chart(
            vt.Bars("a", FIRED), vt.Bars("b", SECOND), vt.Bars("c", RATE, axis="secondary"), together="stacked"
        )
        plan = found.plan()
        a, b, c = (bars_of(plan, number) for number in range(3))
        np.testing.assert_allclose(a[:, 3], b[:, 1])
        np.testing.assert_allclose(b[:, 3], plan.primary_y(np.array(FIRED) + np.array(SECOND)))
        self.assertTrue(np.all((c[:, 0] > a[:, 0]) & (c[:, 2] < a[:, 2])))
        self.assertGreater(plan.bars.levels[-1], max(plan.bars.levels[: len(a) + len(b)]))

    def test_totals_stand_over_the_stacks(self) -> None:
        plan = self.pair(together="stacked", totals=True)
        self.assertLessEqual({"850", "780", "815", "875"}, set(texts(plan, "value")))

    def test_only_bars_are_stacked(self) -> None:
        for together in ("stacked", "percent", "overlaid"):
            with self.assertRaisesRegex(vt.VantricError, "only bars are .* line cannot be"):
                chart(vt.Line("a", FIRED), vt.Line("b", SECOND), together=together)

    def test_parts_of_a_stack_are_parted(self) -> None:
        plan = self.pair(together="stacked")
        parting = [rule for rule in plan.rules if rule.role == "parting"]
        self.assertEqual(sorted(float(rule.ys[0]) for rule in parting), sorted(bars_of(plan, 1)[:, 1].tolist()))


class Axes(Refusing):
    def test_unlike_units_get_two_axes_and_that_is_told(self) -> None:
        found = chart(vt.Bars("Fired", FIRED, unit="tiles"), vt.Line("Rejected", RATE, unit="%"))
        self.assertEqual([one.axis for one in found.series], ["primary", "secondary"])
        self.assertEqual((found.scales.policy, found.scales.shared_ticks), ("grid", True))
        start, finding = vt.review(found)
        self.assertEqual((finding.code, finding.severity), ("axis-chosen", "note"))
        self.assertEqual((start.code, start.severity), ("secondary-without-zero", "note"))
        self.assertIn("the secondary axis was chosen for “Rejected”", finding.message)

    def test_like_units_and_reach_share_one_axis_and_small_ones_leave_it(self) -> None:
        found = chart(vt.Bars("Fired", FIRED), vt.Bars("Second", SECOND))
        self.assertFalse(found.secondary_axis)
        self.assertEqual((found.remarks, found.scales.primary), ((), found.scales.secondary))
        small = chart(vt.Bars("Fired", FIRED), vt.Line("Broken", [3, 4, 2, 5]))
        self.assertEqual(small.series[1].axis, "secondary")
        self.assertIn("less than a tenth", small.remarks[0].message)

    def test_one_scale_only_where_nothing_is_named_or_common_is_wished(self) -> None:
        named = chart(vt.Bars("a", FIRED, unit="t"), vt.Line("b", SECOND, unit="t", axis="secondary"))
        self.assertEqual((named.scales.policy, named.remarks), ("grid", ()))
        common = chart(vt.Bars("a", FIRED), vt.Line("b", SECOND, axis="secondary"), policy="common")
        self.assertEqual(common.scales.primary, common.scales.secondary)
        plain = chart(vt.Bars("a", FIRED, unit="t"), vt.Line("b", SECOND, unit="t"))
        self.assertEqual((plain.secondary_axis, plain.scales.policy), (False, "common"))
        unlike = chart(vt.Bars("a", FIRED, unit="t"), vt.Line("b", SECOND, unit="kWh", axis="secondary"))
        self.assertEqual(unlike.scales.policy, "grid")
        far = chart(vt.Bars("a", FIRED), vt.Line("b", RATE, axis="secondary"))
        self.assertEqual(far.scales.policy, "grid")
        for policy in ("grid", "proportional", "separate"):
            found = chart(vt.Bars("a", FIRED), vt.Line("b", RATE, axis="secondary"), policy=policy)
            self.assertEqual(found.scales.policy, policy)
        meeting = chart(
            vt.Bars("a", FIRED), vt.Line("b", RATE, axis="secondary"), policy="proportional", meet=(650, 10)
        )
        share = meeting.scales.primary.fraction(650)
        self.assertAlmostEqual(float(meeting.scales.secondary.fraction(10)), float(share))

    def test_bars_stand_on_the_axis(self) -> None:
        found = chart(vt.Bars("a", FIRED), vt.Line("b", RATE, axis="secondary"))
        self.assertEqual(found.scales.primary.lower, 0)
        negative = chart(vt.Bars("a", FIRED), vt.Bars("b", [3, -2, 1, -3], axis="secondary"))
        zeros = [float(scale.fraction(0)) for scale in (negative.scales.primary, negative.scales.secondary)]
        self.assertAlmostEqual(*zeros)
        self.assertLess(negative.scales.primary.lower, 0)
        self.assertTrue(any(rule.role == "zero" for rule in negative.plan().rules))

    def test_a_log_axis_names_the_category_that_has_no_place(self) -> None:
        found = chart(vt.Area("Planned", [2400, 62, 18, 2]), vt.Bars("Done", [2401, 66, 14, 1.6]), primary_log=True)
        self.assertEqual(found.scales.primary.kind, "log")
        plan = found.plan()
        self.assertTrue(np.all(plan.bars.edges[:, 1] == plan.frame.bottom))
        self.assertGreater(plan.bars.edges[3, 3], plan.frame.bottom)
        both = chart(vt.Bars("a", FIRED), vt.Line("b", [1, 10, 100, 1000], axis="secondary"), secondary_log=True)
        self.assertEqual((both.scales.primary.kind, both.scales.secondary.kind), ("linear", "log"))
        self.assertTrue(both.scales.shared_ticks)
        crews = ["Press", "Glaze", "Kiln", "Sort"]
        for call, words in (
            (
                lambda: chart(vt.Bars("Done", [5, 0, 1, 2]), categories=crews, primary_log=True),
                "series 'Done' holds 0 at 'Glaze'",
            ),
            (lambda: chart(vt.Line("Done", [5, 1, -3, 2]), categories=crews, primary_log=True), "holds -3 at 'Kiln'"),
            (
                lambda: chart(vt.Bars("a", FIRED), vt.Bars("b", FIRED), together="stacked", primary_log=True),
                "do not add up on a log",
            ),
            (lambda: chart(vt.Bars("a", FIRED), log="left"), "'log'; use 'primary_log'"),
            (lambda: chart(vt.Bars("a", FIRED), secondary_log=True), "the secondary axis has no series"),
        ):
            self.says(words, call)

    def test_limits_are_kept_and_cutting_data_off_is_told(self) -> None:
        found = chart(vt.Bars("a", FIRED), primary_limits=(0, 800))
        self.assertEqual((found.scales.primary.lower, found.scales.primary.upper), (0, 800))
        self.says("cut its data off", lambda: chart(vt.Bars("a", FIRED), primary_limits=(0, 600)))
        clipped = chart(vt.Bars("a", FIRED), vt.Line("b", FIRED), primary_limits=(0, 600), clip=True)
        self.assertIn("clipped-data", [finding.code for finding in vt.review(clipped)])
        plan = clipped.plan()
        self.assertTrue(plan.clipped)
        self.assertLessEqual(plan.bars.edges[:, 3].max(), plan.frame.top + 1e-9)
        self.assertEqual(int(np.isnan(plan.points.ys).sum()), 3)
        floating = chart(vt.Bars("a", FIRED), primary_zero=False)
        self.assertEqual([finding.code for finding in vt.review(floating)], ["bars-without-zero"])

    def test_whole_numbers_have_whole_ticks(self) -> None:
        found = chart(vt.Line("n", [10, 11, 11, 10]))
        self.assertTrue(all(tick == int(tick) for tick in found.scales.primary.ticks), found.scales.primary)

    def test_what_conflicts_is_said(self) -> None:
        second = {"axis": "secondary"}
        for call, words in (
            (lambda: chart(), "at least one series"),
            (lambda: chart("bars"), "'bars' is not a series"),
            (lambda: chart(vt.Bars("a", [1, 2])), "'a' has 2 values for 4 categories; give one a category"),
            (lambda: chart(vt.Bars("a", FIRED), vt.Line("a", RATE)), "two series are called 'a'"),
            (lambda: chart(vt.Bars(" ", FIRED)), "a series has no name"),
            (lambda: chart(vt.Bars("a", [None] * 4)), "'a' holds no number"),
            (lambda: chart(vt.Bars("a", FIRED, ["x"])), "'a' has 1 labels for 4 categories"),
            (lambda: chart(vt.Bars("a", FIRED, **second)), "every series is on the secondary axis"),
            (lambda: chart(vt.Bars("a", FIRED), policy="grid"), "the secondary axis has no series"),
            (lambda: chart(vt.Bars("a", FIRED), policy="gird"), "not 'gird'; did you mean 'grid'"),
            (
                lambda: chart(vt.Bars("a", FIRED), references=[vt.Reference(1, axis="secondary")]),
                "no series, but a reference",
            ),
            (lambda: chart(vt.Bars("a", FIRED), references=[5]), "a list of References"),
            (
                lambda: chart(vt.Bars("a", FIRED, unit="t"), vt.Line("b", RATE, unit="%", **second), policy="common"),
                "two units",
            ),
            (lambda: chart(*(vt.Line(unit, RATE, unit=unit) for unit in ("t", "%", "h"))), "more than two axes"),
            (lambda: chart(vt.Bars("a", FIRED), theme="drak"), "did you mean 'dark'"),
            (lambda: chart(vt.Bars("a", FIRED), colors={"b": "red"}), "the chart has nothing called 'b'"),
            (lambda: chart(vt.Bars("a", FIRED, color="rde")), "'rde' is not a color; did you mean 'red'"),
            (lambda: chart(vt.Bars("a", FIRED), font="No Such Font"), "no font 'No Such Font' is installed"),
            (lambda: chart(vt.Bars("a", FIRED), gap=9), "gap is a number at least 0 and at most 2"),
            (lambda: chart(vt.Bars("a", FIRED), legend="ends", orientation="horizontal"), "for vertical charts"),
        ):
            self.says(words, call)
        with self.assertRaisesRegex(TypeError, "unexpected keyword argument 'polcy'; did you mean 'policy'"):
            chart(vt.Bars("a", FIRED), polcy="grid")
