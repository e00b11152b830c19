"""Combination charts: where everything stands, which axis is whose, and what is written."""

import math
import unittest
from itertools import combinations, pairwise

import numpy as np

import vantric as vt
from tests.test_series import Refusing
from vantric.core.axes import proportional
from vantric.core.charting import Plan
from vantric.core.charting.barplaces import bar_places
from vantric.core.charting.lineends import spread
from vantric.core.charting.serieslabels import value_texts
from vantric.core.numbers.style import NumberStyle

MONTHS = ["2026-01", "2026-02", "2026-03", "2026-04"]
FIRED, SECOND, RATE = [640.0, 590.0, 610.0, 655.0], [210.0, 190.0, 205.0, 220.0], [4.2, 3.9, 5.1, 4.4]


def chart(*series: object, categories: object = MONTHS, **options: object) -> vt.Chart:
    return vt.Chart(categories, series, **options)


def texts(plan: Plan, *roles: str) -> list[str]:
    return [mark.text for mark in plan.texts if not roles or mark.role in roles]


def bars_of(plan: Plan, number: int) -> np.ndarray:
    count = len(plan.centres)
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
                np.testing.assert_allclose(plan.points.xs, plan.centres)

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
        self.assertEqual(chart(vt.Line("Fired", FIRED), include_zero=(True, None)).scales.primary.lower, 0)
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
        behind = chart(vt.Bars("a", FIRED), vt.Line("b", FIRED, order=-1)).plan()
        self.assertLess(behind.paths[0].level, behind.bars.levels[0])

    def test_looks_of_a_series_reach_the_plan(self) -> None:
        plan = chart(
            vt.Line("a", FIRED, colour="teal", width=5, marker="diamond", marker_size=14, pattern="dotted"),
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
            np.testing.assert_allclose(other[:, 0] - one[:, 2], gap * width, atol=1e-9)
            np.testing.assert_allclose((one[:, 0] + other[:, 2]) / 2, plan.centres)

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
        self.assertEqual((found.primary_unit, found.primary_title), (" %", "Percent of each category"))
        self.assertEqual(found.scales.primary.ticks[-1], 100)
        with self.assertRaisesRegex(vt.VantricError, "'b' holds values below zero, which are no parts of 100 %"):
            chart(vt.Bars("a", FIRED), vt.Bars("b", [1, 1, -1, 1]), together="percent")

    def test_overlaid_bars_are_narrower_in_front_of_wider_ones(self) -> None:
        plan = self.pair(together="overlaid")
        wide, narrow = bars_of(plan, 0), bars_of(plan, 1)
        self.assertTrue(np.all(narrow[:, 0] > wide[:, 0]) and np.all(narrow[:, 2] < wide[:, 2]))
        self.assertGreater(plan.bars.levels[-1], plan.bars.levels[0])
        own = chart(vt.Bars("a", FIRED, width=0.9), vt.Bars("b", SECOND, width=0.2), together="overlaid").plan()
        np.testing.assert_allclose(np.ptp(bars_of(own, 1)[0, ::2]) / np.ptp(bars_of(own, 0)[0, ::2]), 2 / 9)

    def test_several_stacks_stand_side_by_side(self) -> None:
        series = [
            vt.Bars("a", FIRED, stack="one"), vt.Bars("b", SECOND, stack="one"), vt.Bars("c", FIRED, stack="two"),
            vt.Bars("d", SECOND, stack="two"), vt.Bars("e", SECOND),
        ]  # fmt: skip
        places = bar_places(series)
        self.assertEqual([place.stack for place in places], [0, 0, 1, 1, None])
        starts = [round(place.start, 6) for place in places]
        self.assertEqual((starts[0], starts[2]), (starts[1], starts[3]))
        self.assertEqual(len(set(starts)), 3)

    def test_bars_on_both_axes_never_hide_each_other(self) -> None:
        for together in ("grouped", "stacked"):
            found = chart(
                vt.Bars("a", FIRED, axis="primary"), vt.Bars("b", SECOND, axis="primary"),
                vt.Bars("c", RATE, axis="secondary"), vt.Bars("d", RATE, axis="secondary"), together=together,
            )  # fmt: skip
            plan = found.plan()
            sides = [[bars_of(plan, number) for number in numbers] for numbers in ((0, 1), (2, 3))]
            for one in sides[0]:
                for other in sides[1]:
                    self.assertTrue(np.all((one[:, 2] <= other[:, 0] + 1e-9) | (other[:, 2] <= one[:, 0] + 1e-9)))

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
        [finding] = vt.review(found)
        self.assertEqual((finding.code, finding.severity), ("axis-chosen", "note"))
        self.assertIn("the secondary axis was chosen for “Rejected”", finding.message)

    def test_like_units_and_reach_share_one_axis_and_small_ones_leave_it(self) -> None:
        found = chart(vt.Bars("Fired", FIRED), vt.Bars("Second", SECOND))
        self.assertFalse(found.secondary_axis)
        self.assertEqual((found.remarks, found.scales.primary), ((), found.scales.secondary))
        small = chart(vt.Bars("Fired", FIRED), vt.Line("Broken", [3, 4, 2, 5]))
        self.assertEqual(small.series[1].axis, "secondary")
        self.assertIn("less than a tenth", small.remarks[0].message)

    def test_said_axes_are_common_for_like_and_grid_for_unlike(self) -> None:
        like = chart(vt.Bars("a", FIRED, unit="t"), vt.Line("b", SECOND, unit="t", axis="secondary"))
        self.assertEqual((like.scales.policy, like.remarks), ("common", ()))
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
        found = chart(vt.Area("Planned", [2400, 62, 18, 2]), vt.Bars("Done", [2401, 66, 14, 1.6]), log="primary")
        self.assertEqual(found.scales.primary.kind, "log")
        plan = found.plan()
        self.assertTrue(np.all(plan.bars.edges[:, 1] == plan.frame.bottom))
        self.assertGreater(plan.bars.edges[3, 3], plan.frame.bottom)
        both = chart(vt.Bars("a", FIRED), vt.Line("b", [1, 10, 100, 1000], axis="secondary"), log=["secondary"])
        self.assertEqual((both.scales.primary.kind, both.scales.secondary.kind), ("linear", "log"))
        self.assertTrue(both.scales.shared_ticks)
        crews = ["Press", "Glaze", "Kiln", "Sort"]
        for call, words in (
            (
                lambda: chart(vt.Bars("Done", [5, 0, 1, 2]), categories=crews, log="primary"),
                "series 'Done' holds 0 at 'Glaze'",
            ),
            (lambda: chart(vt.Line("Done", [5, 1, -3, 2]), categories=crews, log="primary"), "holds -3 at 'Kiln'"),
            (
                lambda: chart(vt.Bars("a", FIRED), vt.Bars("b", FIRED), together="stacked", log="primary"),
                "do not add up on a log",
            ),
            (lambda: chart(vt.Bars("a", FIRED), log="left"), "a log side is primary or secondary, not 'left'"),
            (lambda: chart(vt.Bars("a", FIRED), log="secondary"), "the secondary axis has no series"),
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
        floating = chart(vt.Bars("a", FIRED), include_zero=(False, None))
        self.assertEqual([finding.code for finding in vt.review(floating)], ["bars-without-zero"])

    def test_whole_numbers_have_whole_ticks(self) -> None:
        found = chart(vt.Line("n", [10, 11, 11, 10]))
        self.assertTrue(all(tick == int(tick) for tick in found.scales.primary.ticks), found.scales.primary)

    def test_what_conflicts_is_said(self) -> None:
        second = {"axis": "secondary"}
        for call, words in (
            (lambda: chart(), "at least one series"),
            (lambda: chart("bars"), "'bars' is no series"),
            (lambda: chart(vt.Bars("a", [1, 2])), "'a' has 2 values for 4 categories; give one a category"),
            (lambda: chart(vt.Bars("a", FIRED), vt.Line("a", RATE)), "two series are called 'a'"),
            (lambda: chart(vt.Bars(" ", FIRED)), "a series has no name"),
            (lambda: chart(vt.Bars("a", [None] * 4)), "'a' holds no number"),
            (lambda: chart(vt.Bars("a", FIRED, ["x"])), "'a' has 1 labels for 4 categories"),
            (lambda: chart(vt.Bars("a", FIRED, **second)), "every series is on the secondary axis"),
            (lambda: chart(vt.Bars("a", FIRED), policy="grid"), "the secondary axis has no series"),
            (lambda: chart(vt.Bars("a", FIRED), policy="gird"), "'gird' is no policy; did you mean 'grid'"),
            (
                lambda: chart(vt.Bars("a", FIRED), references=[vt.Reference(1, axis="secondary")]),
                "a reference lies on it",
            ),
            (lambda: chart(vt.Bars("a", FIRED), references=[5]), "a reference is a vantric.Reference"),
            (
                lambda: chart(vt.Bars("a", FIRED, unit="t"), vt.Line("b", RATE, unit="%", **second), policy="common"),
                "two units",
            ),
            (lambda: chart(*(vt.Line(unit, RATE, unit=unit) for unit in ("t", "%", "h"))), "more than two axes"),
            (lambda: chart(vt.Bars("a", FIRED), theme="drak"), "did you mean 'dark'"),
            (lambda: chart(vt.Bars("a", FIRED), colours={"b": "red"}), "nothing in the chart is called 'b'"),
            (lambda: chart(vt.Bars("a", FIRED, colour="rde")), "'rde' is no colour; did you mean 'red'"),
            (lambda: chart(vt.Bars("a", FIRED), font="No Such Font"), "no font 'No Such Font' is installed"),
            (lambda: chart(vt.Bars("a", FIRED), gap=9), "a gap is from 0 to 2"),
            (lambda: chart(vt.Bars("a", FIRED), legend="ends", orientation="lying"), "for upright charts"),
        ):
            self.says(words, call)
        with self.assertRaisesRegex(TypeError, "unexpected keyword argument 'polcy'; did you mean 'policy'"):
            chart(vt.Bars("a", FIRED), polcy="grid")


class Furniture(unittest.TestCase):
    def test_titles_say_series_and_units(self) -> None:
        found = chart(vt.Bars("Fired", FIRED), vt.Line("Rejected", RATE, unit="%"), subject="month")
        self.assertEqual(found.title, "Fired and Rejected by month")
        self.assertEqual((found.category_title, found.primary_title), ("Month", "Fired"))
        self.assertEqual((found.secondary_title, found.secondary_unit), ("Rejected (%)", " %"))
        self.assertTrue(all(text.endswith("%") for text in texts(found.plan(), "tick") if "." in text))
        own = chart(vt.Bars("a", FIRED), title="T", primary_title="P", category_title="", subtitle="S", note="N")
        self.assertEqual(
            (own.title, own.primary_title, own.category_title, own.subtitle, own.note), ("T", "P", "", "S", "N")
        )
        shared = chart(vt.Bars("a", FIRED, unit="kWh"), vt.Bars("b", FIRED, unit="kWh"))
        self.assertEqual(shared.primary_title, "a and b (kWh)")

    def test_the_title_is_left_or_centred(self) -> None:
        for place, ha in (("left", "left"), ("centre", "center")):
            plan = chart(vt.Bars("a", FIRED), title="T", title_place=place).plan()
            [title] = [mark for mark in plan.texts if mark.role == "title"]
            self.assertEqual(title.ha, ha)

    def test_the_legend_stands_where_it_is_wished(self) -> None:
        series = (vt.Bars("Bars", FIRED), vt.Line("Line", SECOND), vt.Steps("Steps", FIRED))
        for place in ("above", "below", "left", "right"):
            plan = chart(*series, legend=place).plan()
            boxes = [mark.box for mark in plan.texts if mark.role == "legend"]
            self.assertEqual(len(boxes), 3)
            inside = {
                "above": min(box.bottom for box in boxes) >= plan.frame.top,
                "below": max(box.top for box in boxes) <= plan.frame.bottom,
                "left": max(box.right for box in boxes) <= plan.frame.left,
                "right": min(box.left for box in boxes) >= plan.frame.right,
            }
            self.assertTrue(inside[place], place)
        self.assertEqual(texts(chart(*series, legend="none").plan(), "legend"), [])

    def test_names_stand_at_the_line_ends(self) -> None:
        lines = [vt.Line(f"Line {n}", [100 + n, 100, 101, 100 + 0.2 * n]) for n in range(5)]
        plan = chart(vt.Bars("Bars", FIRED), *lines, legend="ends").plan()
        names = [mark for mark in plan.texts if mark.text.startswith("Line ")]
        self.assertEqual(len(names), 5)
        last = max(float(points.xs[-1]) for points in plan.point_sets)
        self.assertTrue(all(mark.box.left > last and mark.box.right <= plan.frame.right for mark in names))
        for one, other in combinations(names, 2):
            self.assertFalse(one.box.overlaps(other.box))
        self.assertEqual(texts(plan, "legend"), ["Bars"])
        self.assertTrue(any(rule.role == "leader" for rule in plan.rules))

    def test_there_is_one_grid_or_none(self) -> None:
        series = (vt.Bars("a", FIRED), vt.Line("b", RATE, axis="secondary"))
        for side in ("primary", "secondary"):
            found = chart(*series, grid=side, policy="separate")
            plan = found.plan()
            scale = found.scales.primary if side == "primary" else found.scales.secondary
            heights = sorted({float(rule.ys[0]) for rule in plan.rules if rule.role == "grid"})
            wanted = plan.frame.bottom + plan.frame.height * scale.fraction([t for t in scale.ticks if t > scale.lower])
            np.testing.assert_allclose(heights, wanted)
        self.assertFalse([rule for rule in chart(*series, grid="none").plan().rules if rule.role == "grid"])

    def test_references_and_bands_have_names(self) -> None:
        lines = [vt.Reference(700, text="Target"), vt.Reference(3, 5, text="Band", axis="secondary"), vt.Reference(100)]
        for orientation in ("upright", "lying"):
            found = chart(
                vt.Bars("a", FIRED), vt.Line("b", RATE, axis="secondary"), references=lines, orientation=orientation
            )
            plan = found.plan()
            self.assertGreaterEqual(found.scales.primary.upper, 700)
            self.assertLessEqual({"Target", "Band"}, set(texts(plan)))
            self.assertEqual(len([rule for rule in plan.rules if rule.role == "reference"]), 2)
            self.assertEqual(len(plan.bands.edges), 1)
        plan = chart(vt.Bars("a", FIRED), references=[vt.Reference(700, text="Target")]).plan()
        [line] = [rule for rule in plan.rules if rule.role == "reference"]
        np.testing.assert_allclose(line.ys, plan.primary_y(700))
        self.assertEqual((line.xs[0], line.xs[1]), (plan.frame.left, plan.frame.right))

    def test_a_name_without_a_place_stands_in_the_legend(self) -> None:
        tall = [1000, 1000, 1000]
        found = chart(
            vt.Bars("a", tall, width=1.0), vt.Bars("b", tall), categories=["x", "y", "z"],
            references=[vt.Reference(500, text="A very long name of a target " * 6)], size=(420, 300),
        )  # fmt: skip
        roles = [mark.role for mark in found.plan().texts if mark.text.startswith("A very long")]
        self.assertEqual(roles, ["cut-text"])

    def test_categories_and_series_exchange_places(self) -> None:
        found = chart(vt.Bars("Fired", FIRED, unit="t"), vt.Bars("Second", SECOND, unit="t"), transpose=True)
        self.assertEqual(found.categories, ("Fired", "Second"))
        self.assertEqual([one.name for one in found.series], MONTHS)
        self.assertEqual(found.series[0].values, (640, 210))
        with self.assertRaisesRegex(vt.VantricError, "more than one kind cannot be exchanged"):
            chart(vt.Bars("a", FIRED), vt.Line("b", RATE), transpose=True)

    def test_spreading_keeps_order_distance_and_bounds(self) -> None:
        rng = np.random.default_rng(2)
        for count in (1, 2, 5, 12):
            for _ in range(30):
                wished = sorted(rng.uniform(0, 100, count).tolist())
                found = spread(wished, 6, 0, 100)
                self.assertTrue(all(b - a >= 6 - 1e-9 for a, b in pairwise(found)))
                self.assertTrue(found[0] >= -1e-9 and found[-1] <= 100 + 1e-9)
        self.assertEqual(spread([10, 50], 6, 0, 100), [10, 50])
        np.testing.assert_allclose(spread([50, 50, 50], 6, 0, 100), [44, 50, 56])


class Labels(unittest.TestCase):
    def test_percents_of_series_category_and_total(self) -> None:
        one, other = [1.0, 3.0], [3.0, 3.0]
        for kind, wanted in (
            ("percent of series", ("25.0 %", "75.0 %")),
            ("percent of category", ("25.0 %", "50.0 %")),
            ("percent of total", ("10.0 %", "30.0 %")),
            ("value", ("1", "3")),
            ("none", ()),
        ):
            found = chart(vt.Bars("a", one, kind), vt.Bars("b", other), categories=["x", "y"])
            self.assertEqual(found.series[0].texts, wanted, kind)
        auto = chart(vt.Bars("a", one), categories=["x", "y"]).series[0]
        self.assertEqual((auto.texts, auto.if_room), (("1", "3"), True))
        zero = chart(vt.Bars("a", [0, 0], "percent of series"), vt.Bars("b", other), categories=["x", "y"])
        self.assertEqual(zero.series[0].texts, ("", ""))

    def test_numbers_have_the_decimals_that_tell_something(self) -> None:
        for values, wanted in (
            ([4.7321, 12.0], ["4.7", "12.0"]),
            ([198202.0, 63700.0], ["198,202", "63,700"]),
            ([2401.3, 1.6], ["2,401.3", "1.6"]),
            ([0.01234, math.nan], ["0.0123", ""]),
            ([0.0, 0.0], ["0", "0"]),
            ([1e22, 1.0], ["1e+22", "1"]),
        ):
            self.assertEqual(value_texts(values, NumberStyle()), wanted)
        self.assertEqual(value_texts([4.73], NumberStyle(decimal=",", thousands="."), percent=True), ["4,7 %"])
        own = chart(vt.Line("a", RATE, "value", style=NumberStyle(decimals=2, after=" t"))).series[0]
        self.assertEqual(own.texts[0], "4.20 t")

    def test_places_by_wish(self) -> None:
        wide = ["Press", "Glaze"]
        tall = [100.0, 80.0]

        def box(place: str, kind: type = vt.Bars) -> tuple[Plan, object]:
            plan = chart(kind("a", tall, "value", label_place=place), categories=wide).plan()
            [mark] = [mark for mark in plan.texts if mark.text == "80" and mark.role != "tick"]
            return plan, mark.box

        for place in ("above", "inside", "below", "beside"):
            plan, found = box(place)
            left, _, right, top = plan.bars.edges[1]
            with self.subTest(place=place):
                if place == "above":
                    self.assertGreaterEqual(found.bottom, top)
                elif place == "beside":
                    self.assertTrue(found.right <= left + 1 or found.left >= right - 1)
                else:
                    self.assertTrue(found.top <= top and left <= found.left and found.right <= right)
        for place, above in (("above", True), ("below", False)):
            plan, found = box(place, vt.Line)
            self.assertEqual(found.bottom > plan.points.ys[1], above)
        plan, found = box("beside", vt.Line)
        self.assertTrue(found.right < plan.points.xs[1] or found.left > plan.points.xs[1])

    def test_negative_bars_have_their_numbers_below(self) -> None:
        plan = chart(vt.Bars("a", [5, -3], "value", label_place="above"), categories=["x", "y"]).plan()
        [mark] = [mark for mark in plan.texts if mark.text == "-3"]
        self.assertLessEqual(mark.box.top, plan.bars.edges[1, 1])
        lying = chart(vt.Bars("a", [5, -3], "value"), categories=["x", "y"], orientation="lying").plan()
        [mark] = [mark for mark in lying.texts if mark.text == "-3"]
        self.assertLessEqual(mark.box.right, lying.bars.edges[1, 0])

    def test_wanted_labels_are_led_to_their_marks_and_what_finds_no_place_is_counted(self) -> None:
        rng = np.random.default_rng(4)
        lines = [vt.Line(f"s{n}", rng.uniform(0, 9, 12).round(2), "value") for n in range(4)]
        found = chart(*lines, categories=[f"c{n}" for n in range(12)])
        plan = found.plan()
        shown = [mark for mark in plan.texts if mark.role.endswith("-value")]
        leaders = [rule for rule in plan.rules if rule.role == "leader"]
        self.assertTrue(leaders)
        self.assertEqual(len(shown) + plan.left_out, 48)
        for rule in leaders:
            ends = list(zip(rule.xs.tolist(), rule.ys.tolist(), strict=True))
            near = min(math.dist(ends[0], (x, y)) for p in plan.point_sets for x, y in zip(p.xs, p.ys, strict=True))
            self.assertLess(near, 1e-6, "a leader begins at its point")
        free = chart(*(vt.Line(f"s{n}", one.values) for n, one in enumerate(lines)), categories=found.categories).plan()
        self.assertEqual((free.left_out, [rule for rule in free.rules if rule.role == "leader"]), (0, []))

    def test_a_stack_has_all_its_numbers_or_none_where_there_is_room_only(self) -> None:
        plan = chart(
            vt.Bars("a", [100, 100]), vt.Bars("b", [100, 0.1]), categories=["x", "y"], together="stacked"
        ).plan()
        self.assertEqual(texts(plan, "on-series-2"), [])
        self.assertEqual(texts(plan, "on-series-1"), ["100", "100"])
        forced = chart(
            vt.Bars("a", [100, 100], "value"),
            vt.Bars("b", [100, 0.1], "value"),
            categories=["x", "y"],
            together="stacked",
        ).plan()
        self.assertIn("0.1", texts(forced))
        self.assertTrue(any(rule.role == "leader" for rule in forced.rules))

    def test_numbers_of_a_line_stand_on_bars_on_plates(self) -> None:
        plan = chart(vt.Bars("a", [900] * 4), vt.Line("b", [500] * 4, "value")).plan()
        self.assertEqual(texts(plan, "mark-1-value").count("500"), 4)
        self.assertEqual(len(plan.plates), 4)

    def test_a_bar_in_front_has_its_number_on_the_one_behind(self) -> None:
        plan = chart(
            vt.Bars("a", [900] * 4), vt.Bars("b", [20] * 4, "value"), together="overlaid"
        ).plan()  # fmt: skip
        self.assertEqual(texts(plan, "on-series-1"), ["20"] * 4)


class Words(unittest.TestCase):
    def test_a_chart_says_what_it_shows(self) -> None:
        found = chart(
            vt.Bars("Fired", [640, None, 610, 655], unit="tiles"), vt.Line("Rejected", RATE, unit="%"),
            references=[vt.Reference(5, text="Limit", axis="secondary"), vt.Reference(100, 200)],
        )  # fmt: skip
        self.assertEqual(
            found.description,
            "bars Fired on the primary axis: 610 tiles (2026-03) to 655 tiles (2026-04), 1 value missing; line Rejected on "
            "the secondary axis: 3.9 % (2026-02) to 5.1 % (2026-03); Limit at 5; band at 100 to 200; from 2026-01 to 2026-04.",
        )
        many = chart(*(vt.Line(f"s{n}", RATE) for n in range(14)))
        self.assertIn("2 series more", many.description)

    def test_charts_are_frozen_and_compare_by_value(self) -> None:
        one, other = (chart(vt.Bars("a", [1, None, 3, 4]), vt.Line("b", RATE, axis="secondary")) for _ in range(2))
        self.assertEqual(one, other)
        self.assertNotEqual(one, chart(vt.Bars("a", [1, 2, 3, 4])))
        with self.assertRaises(AttributeError):
            one.title = "x"
        self.assertIn("line 'b'", repr(one))

    def test_a_core_chart_is_drawn_as_it_stands(self) -> None:
        from vantric.core.charting import Bars, Chart, make_plan

        plan = make_plan(Chart(("x",), (Bars("a", (2.0,)),), scales=proportional(2, 100)))
        self.assertEqual(len(plan.bars.edges), 1)
