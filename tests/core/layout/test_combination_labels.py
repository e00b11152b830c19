"""What stands around and inside a combination chart: titles, legends, references, labels, words."""

import math
import unittest
from itertools import combinations, pairwise

import numpy as np

import vantric as vt
from tests.core.composition.test_combination import FIRED, MONTHS, RATE, SECOND, chart, texts
from vantric.core.axes import proportional
from vantric.core.composition.series_labels import value_texts
from vantric.core.layout import Plan
from vantric.core.layout.mark_labels import spread
from vantric.core.numbers.number_format import NumberStyle


class Furniture(unittest.TestCase):
    def test_titles_say_series_and_units(self) -> None:
        found = chart(vt.Bars("Fired", FIRED), vt.Line("Rejected", RATE, unit="%"), subject="month")
        self.assertEqual(found.title, "Fired and Rejected by month")
        self.assertEqual((found.category_title, found.primary_title), ("", "Fired"))
        self.assertEqual((found.secondary_title, found.secondary_unit), ("Rejected (%), axis starts at 3.8%", "%"))
        self.assertTrue(all(text.endswith("%") for text in texts(found.plan(), "tick") if "." in text))
        own = chart(vt.Bars("a", FIRED), title="T", primary_title="P", category_title="", subtitle="S", note="N")
        self.assertEqual(
            (own.title, own.primary_title, own.category_title, own.subtitle, own.note), ("T", "P", "", "S", "N")
        )
        many = chart(*(vt.Line(f"Series number {n}", FIRED) for n in range(6)), subject="month")
        self.assertEqual(many.title, "Series number 0, Series number 1, Series number 2 … by month")
        self.assertTrue(many.primary_title, "no axis of many series is left without a title")
        shared = chart(vt.Bars("a", FIRED, unit="kWh"), vt.Bars("b", FIRED, unit="kWh"))
        self.assertEqual(shared.primary_title, "a and b (kWh)")

    def test_the_title_is_left_or_centerd(self) -> None:
        for place, ha in (("left", "left"), ("center", "center")):
            plan = chart(vt.Bars("a", FIRED), title="T", title_place=place).plan()
            [title] = [mark for mark in plan.texts if mark.role == "title"]
            self.assertEqual(title.ha, ha)

    def test_the_legend_stands_where_it_is_wished(self) -> None:
        series = (vt.Bars("Bars", FIRED), vt.Line("Line", SECOND), vt.Steps("Steps", FIRED))
        for place in ("above", "below", "left", "right"):
            plan = chart(*series, legend=place).plan()
            boxes = [mark.box for mark in plan.texts if mark.text in ("Bars", "Line", "Steps")]
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
        self.assertEqual(plan.swatches.roles, ())
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
        for orientation in ("vertical", "horizontal"):
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
            vt.Bars("a", tall, bar_width=1.0),
            vt.Bars("b", tall),
            categories=["x", "y", "z"],
            references=[vt.Reference(500, text="A very long name of a target " * 6)],
            size=(420, 300),
        )
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
            ("percent of series", ("25.0%", "75.0%")),
            ("percent of category", ("25.0%", "50.0%")),
            ("percent of total", ("10.0%", "30.0%")),
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
            ([148.7, 149.9], ["148.7", "149.9"]),
            ([148.72341, 148.91234, 7.0], ["148.7", "148.9", "7.0"]),
        ):
            self.assertEqual(value_texts(values, NumberStyle()), wanted)
        self.assertEqual(value_texts([4.73], NumberStyle(show_numbers="1.234,56"), percent=True), ["4,7%"])
        own = chart(vt.Line("a", RATE, "value", style=NumberStyle(decimals=2, suffix=" t"))).series[0]
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
        horizontal = chart(vt.Bars("a", [5, -3], "value"), categories=["x", "y"], orientation="horizontal").plan()
        [mark] = [mark for mark in horizontal.texts if mark.text == "-3"]
        self.assertLessEqual(mark.box.right, horizontal.bars.edges[1, 0])

    def test_wanted_labels_are_led_to_their_marks_and_what_finds_no_place_is_counted(self) -> None:
        rng = np.random.default_rng(4)
        lines = [vt.Line(f"s{n}", rng.uniform(0, 9, 24).round(2), "value") for n in range(6)]
        found = chart(*lines, categories=[f"c{n}" for n in range(24)])
        plan = found.plan()
        shown = [mark for mark in plan.texts if mark.role.endswith("-value") and mark.text[0] != "s"]
        leaders = [rule for rule in plan.rules if rule.role == "leader"]
        self.assertTrue(leaders)
        self.assertEqual(len(shown) + plan.left_out, 144)
        for rule in leaders:
            ends = list(zip(rule.xs.tolist(), rule.ys.tolist(), strict=True))
            near = min(math.dist(ends[0], (x, y)) for p in plan.point_sets for x, y in zip(p.xs, p.ys, strict=True))
            self.assertLess(near, 1e-6, "a leader begins at its point")
        free = chart(*(vt.Line(f"s{n}", one.values) for n, one in enumerate(lines)), categories=found.categories).plan()
        self.assertEqual((free.left_out, [rule for rule in free.rules if rule.role == "leader"]), (0, []))

    def test_every_part_of_a_stack_that_has_room_has_its_number(self) -> None:
        plan = chart(
            vt.Bars("a", [100, 100]), vt.Bars("b", [100, 0.1]), categories=["x", "y"], together="stacked"
        ).plan()
        self.assertEqual(texts(plan, "on-series-2"), ["100.0"])
        self.assertEqual(texts(plan, "on-series-1"), ["100", "100"])
        self.assertEqual([str(one) for one in plan.missing], ["'b' at y"])
        months = [f"2026-{n:02d}" for n in range(1, 13)]
        parts = [vt.Bars(f"s{n}", [50 + n + at for at in range(12)]) for n in range(4)]
        every = chart(*parts, categories=months, together="stacked").plan()
        numbers = [mark for mark in every.texts if mark.role.startswith("on-series")]
        self.assertEqual((len(numbers), len({mark.rotation for mark in numbers}), every.missing), (48, 1, ()))
        forced = chart(
            vt.Bars("a", [100, 100], "value"),
            vt.Bars("b", [100, 0.1], "value"),
            categories=["x", "y"],
            together="stacked",
        ).plan()
        self.assertIn("0.1", texts(forced))
        self.assertTrue(any(rule.role == "leader" for rule in forced.rules))

    def test_numbers_of_a_line_stand_on_bars_in_their_color(self) -> None:
        plan = chart(vt.Bars("a", [900] * 4), vt.Line("b", [500] * 4, "value")).plan()
        self.assertEqual(texts(plan, "mark-1-value").count("500"), 4)
        halos = [mark.halo for mark in plan.texts if mark.text == "500" and mark.role == "mark-1-value"]
        self.assertEqual(halos, ["pale-2"] * 4)

    def test_a_bar_in_front_has_its_number_on_the_one_behind(self) -> None:
        plan = chart(vt.Bars("a", [900] * 4), vt.Bars("b", [20] * 4, "value"), together="overlaid").plan()
        self.assertEqual(texts(plan, "on-series-1"), ["20"] * 4)


class Words(unittest.TestCase):
    def test_a_chart_says_what_it_shows(self) -> None:
        found = chart(
            vt.Bars("Fired", [640, None, 610, 655], unit="tiles"),
            vt.Line("Rejected", RATE, unit="%"),
            references=[vt.Reference(5, text="Limit", axis="secondary"), vt.Reference(100, 200)],
        )
        self.assertEqual(
            found.description,
            "Bars Fired on the primary axis: 610 tiles (2026-03) to 655 tiles (2026-04). 1 value is missing. Line Rejected "
            "on the secondary axis: 3.9% (2026-02) to 5.1% (2026-03). Limit at 5. Band at 100–200. From 2026-01 to 2026-04.",
        )
        many = chart(*(vt.Line(f"s{n}", RATE) for n in range(14)))
        self.assertIn("2 more series.", many.description)

    def test_charts_are_frozen_and_compare_by_value(self) -> None:
        one, other = (chart(vt.Bars("a", [1, None, 3, 4]), vt.Line("b", RATE, axis="secondary")) for _ in range(2))
        self.assertEqual(one, other)
        self.assertNotEqual(one, chart(vt.Bars("a", [1, 2, 3, 4])))
        with self.assertRaises(AttributeError):
            one.title = "x"
        self.assertIn("line 'b'", repr(one))

    def test_a_core_chart_is_drawn_as_it_stands(self) -> None:
        from vantric.core.charts import Chart
        from vantric.core.charts.series import Bars
        from vantric.core.layout import make_plan

        plan = make_plan(Chart(("x",), (Bars("a", (2.0,)),), scales=proportional(2, 100)))
        self.assertEqual(len(plan.bars.edges), 1)
