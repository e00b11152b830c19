"""Charts and plans: every position, without drawing."""

import unittest
from itertools import combinations, pairwise

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.counts.test_pareto import SMALL, tally_of
from tests.effort import examples
from tests.ranked import pareto
from vantric.core.axes import proportional
from vantric.core.charts import Chart
from vantric.core.charts.series import Bars, Line
from vantric.core.composition import pareto_chart
from vantric.core.layout import Box, Plan, TextMark, make_plan
from vantric.core.layout.label_places import TakenPlaces, crosses
from vantric.core.layout.mark_labels import crossing
from vantric.core.layout.text_layout import broken, fitted, table_measure, wrapped
from vantric.errors import ChartError

MANY = {f"Cause {n}": 1 + 2000 // n for n in range(1, 61)}
CASES: dict[str, dict[str, object]] = {
    "some": dict(SMALL),
    "one": {"Only": 3},
    "two equal": {"A": 1, "B": 1},
    "one rules": {"Press": 95, "Dry": 3, "Fire": 2},
    "flat": {f"Cell {n}": 10 for n in range(24)},
    "many": dict(MANY),
    "very many": {f"Cause {n}": 1 + 9000 // n for n in range(1, 401)},
    "long": {f"Glaze runs over the edge of row {n} and sticks": 50 - n for n in range(12)},
    "one long word": {"Unspecified" * 9: 5, "b": 3, "": 0} | {"x" * 80: 2},
    "huge": {"A": 10**30, "B": 10**29},
    "tiny": {"A": 1e-300, "B": 3e-301},
    "zeros": {"A": 5, "B": 0, "C": 0},
}
SIZES = [(1280, 800), (640, 400), (2560, 1600), (500, 900)]


def plan_of(counts: dict[str, object], size: tuple[int, int] = (1280, 800), cut: float | None = 80) -> Plan:
    return make_plan(pareto_chart(pareto(tally_of(counts), cut=cut)), size)


def level_texts(plan: Plan) -> list[TextMark]:
    """Return the texts whose box is what they cover: those that are not slanted."""
    return [mark for mark in plan.texts if mark.rotation in (0, 90, 270)]


class Geometry(unittest.TestCase):
    def test_points_stand_as_high_as_their_cumulative_frequency(self) -> None:
        table = pareto(tally_of(SMALL))
        plan = make_plan(pareto_chart(table))
        heights = plan.primary_y(table.cumulative.floats())
        np.testing.assert_allclose(plan.points.ys, heights, rtol=1e-9)
        self.assertAlmostEqual(plan.points.ys[0], plan.bars.edges[0, 3], places=9)
        self.assertAlmostEqual(float(plan.primary_y(231)), float(plan.secondary_y(100)), places=9)

    def test_bars_stand_on_the_axis_and_are_as_high_as_their_frequency(self) -> None:
        plan = plan_of(dict(SMALL))
        left, bottom, right, top = plan.bars.edges.T
        self.assertTrue(np.all(bottom == plan.frame.bottom))
        np.testing.assert_allclose(top, plan.primary_y(np.array(sorted(SMALL.values(), reverse=True), dtype=float)))
        np.testing.assert_allclose((left + right) / 2, plan.centers)
        self.assertEqual(plan.bars.roles.count("strong"), 3)

    def test_the_cutoff_cuts_where_it_says(self) -> None:
        plan = plan_of(dict(SMALL))
        (across,) = (rule for rule in plan.rules if rule.role == "cut")
        level = float(plan.secondary_y(80))
        self.assertEqual(set(across.ys.tolist()), {level})
        self.assertAlmostEqual(float(np.interp(across.xs[0], plan.path.xs, plan.path.ys)), level)
        self.assertEqual(across.xs[1], plan.frame.right)
        border = (plan.bars.edges[2, 2] + plan.bars.edges[3, 0]) / 2
        wash = next(edge for edge, role in zip(plan.bands.edges, plan.bands.roles, strict=True) if role == "wash")
        np.testing.assert_allclose(wash, [plan.frame.left, plan.frame.bottom, border, plan.frame.top])
        bracket = next(rule for rule in plan.rules if rule.role == "bracket")
        self.assertTrue(plan.frame.left < bracket.xs.min() < bracket.xs.max() < border)
        self.assertIn("Vital few · 3 of 9 · 84%", [mark.text for mark in plan.texts])

    def test_a_line_that_begins_above_a_level_does_not_cross_it(self) -> None:
        xs = np.array([0.0, 1.0, 2.0])
        self.assertEqual(crossing(5, xs, np.array([1.0, 9.0, 10.0])), 0.5)
        self.assertEqual(crossing(5, xs, np.array([6.0, 9.0, 10.0])), float("inf"))

    def test_the_grid_follows_the_percent_axis_and_there_is_one(self) -> None:
        plan = plan_of(dict(SMALL))
        grid = sorted(float(rule.ys[0]) for rule in plan.rules if rule.role == "grid")
        np.testing.assert_allclose(grid, plan.secondary_y(np.array([20.0, 40, 60, 80, 100])))

    def test_all_three_axes_are_titled_and_the_base_is_said(self) -> None:
        texts = [mark.text for mark in plan_of(dict(SMALL)).texts]
        for wanted in (
            "3 of 9 categories account for 84% of 231 records",
            "Defect: 231 records",
            "Records",
            "Cumulative percent",
            "231",
            "80%",
            "Vital few · 3 of 9 · 84%",
            "Useful many · 6 of 9 · 16%",
        ):
            self.assertIn(wanted, texts)


class Labels(unittest.TestCase):
    def test_no_label_covers_another_a_mark_or_the_edge(self) -> None:
        for name, counts in CASES.items():
            for size in SIZES:
                with self.subTest(case=name, size=size):
                    self.check(plan_of(counts, size))

    @settings(max_examples=examples(60))
    @given(
        st.dictionaries(
            st.text(min_size=1, max_size=30).filter(str.strip), st.integers(1, 500), min_size=1, max_size=70
        ),
        st.sampled_from([20, 50, 80, 99]),
    )
    def test_whatever_the_labels(self, counts: dict[str, object], cut: int) -> None:
        self.check(plan_of(counts, cut=cut))

    def check(self, plan: Plan) -> None:
        texts = level_texts(plan)
        page = Box(0, 0, *plan.size)
        for mark in plan.texts:
            self.assertTrue(mark.box.within(page), f"{mark.text!r} leaves the picture: {mark.box}")
        for one, other in combinations(texts, 2):
            self.assertFalse(one.box.overlaps(other.box), f"{one.text!r} covers {other.text!r}")
        radius = plan.points.radius
        marks = [
            Box(x - radius, y - radius, x + radius, y + radius)
            for x, y in zip(plan.points.xs, plan.points.ys, strict=True)
        ]
        bars = [Box(*edge) for edge in plan.bars.edges.tolist()]
        ends = list(zip(plan.path.xs, plan.path.ys, strict=True))
        for mark in (mark for mark in texts if "value" in mark.role or mark.role in {"on-strong", "on-quiet"}):
            self.assertFalse(any(mark.box.overlaps(point) for point in marks), mark.text)
            self.assertFalse(any(crosses(mark.box, *a, *b) for a, b in pairwise(ends)), mark.text)
            covered = [bar for bar in bars if mark.box.overlaps(bar)]
            self.assertEqual(len(covered), 1 if mark.role.startswith("on-") else 0, mark.text)

    def test_first_bar_first_point_and_cut_are_labeled_never_the_last_point(self) -> None:
        for name in ("some", "flat", "many", "one rules"):
            labels = [mark.text for mark in plan_of(CASES[name]).texts if mark.role == "point-value"]
            self.assertNotIn("100%", labels, name)
            self.assertTrue(labels, name)
        plan = plan_of(dict(SMALL))
        self.assertIn(("88", "on-strong"), [(mark.text, mark.role) for mark in plan.texts])
        labels = [mark.text for mark in plan.texts if mark.role == "point-value"]
        self.assertEqual(labels, ["38%", "84%"])
        self.assertEqual(plan.left_out, 0)

    def test_what_finds_no_place_is_counted(self) -> None:
        plan = plan_of(dict(MANY))
        shown = sum(mark.role in {"value", "value-quiet", "on-strong", "on-quiet"} for mark in plan.texts)
        self.assertEqual(plan.left_out, len(MANY) - shown)
        self.assertTrue(plan.left_out or shown == len(MANY))

    def test_labels_wrap_then_slant_then_stand_then_thin(self) -> None:
        def rotations(counts: dict[str, object]) -> tuple[set[float], int]:
            marks = [mark for mark in plan_of(counts).texts if mark.role.startswith("category")]
            return {mark.rotation for mark in marks}, len(marks)

        self.assertEqual(rotations(CASES["some"])[0], {0.0})
        self.assertEqual(rotations({f"Defect-number-{n}": 1 for n in range(25)}), ({40.0}, 25))
        self.assertEqual(rotations({f"Defect-number-{n}": 1 for n in range(50)}), ({90.0}, 50))
        turned, shown = rotations(CASES["very many"])
        self.assertEqual(turned, {90.0})
        self.assertLessEqual(shown, 80)

    def test_what_is_cut_is_said_in_few_words_where_space_is_short(self) -> None:
        plan = plan_of({f"Cell {n}": 10 for n in range(3)}, (380, 300), cut=5)
        self.assertIn("1 of 3 · 33%", [mark.text for mark in plan.texts])

    def test_labels_are_text_never_formulas(self) -> None:
        texts = [mark.text for mark in plan_of({"$a_b^2$ <i>&amp;": 3, "b\nc": 1}).texts]
        self.assertIn("$a_b^2$ <i>&amp;", texts)
        self.assertIn("b c", texts)


class Places_(unittest.TestCase):  # noqa: N801
    def test_lines_through_boxes(self) -> None:
        box = Box(0, 0, 10, 10)
        self.assertTrue(crosses(box, -5, 5, 15, 5))
        self.assertTrue(crosses(box, 5, 5, 6, 6))
        self.assertTrue(crosses(box, -1, 9, 2, 12))
        self.assertFalse(crosses(box, -5, 11, 15, 11))
        self.assertFalse(crosses(box, -5, 8, 2, 16))
        self.assertFalse(crosses(box, 11, 0, 11, 10))

    def test_owners_may_stand_on_their_own(self) -> None:
        places = TakenPlaces(Box(0, 0, 100, 100))
        places.take(Box(10, 10, 50, 50), owner=1)
        self.assertTrue(places.free(Box(20, 20, 30, 30), owner=1))
        self.assertFalse(places.free(Box(20, 20, 30, 30), owner=2))
        self.assertFalse(places.free(Box(95, 0, 105, 5)))
        self.assertEqual(places.first_free([(Box(20, 20, 30, 30), None), (Box(60, 60, 70, 70), None)]), 1)
        self.assertIsNone(places.first_free([(Box(65, 65, 70, 70), None)]))


class Lettering(unittest.TestCase):
    def test_breaking_lines(self) -> None:
        self.assertEqual(wrapped("Glaze crawl on edge", 10, False, 55, table_measure), ("Glaze crawl", "on edge"))
        self.assertIsNone(wrapped("Unbreakable", 10, False, 20, table_measure))
        lines = broken("Unbreakable superlative words and more", 10, False, 45, 3, table_measure)
        self.assertEqual(len(lines), 3)
        self.assertTrue(lines[-1].endswith("…"))
        for line in lines:
            self.assertLessEqual(table_measure(line, 10, False), 45)

    @given(st.text(min_size=1), st.floats(0, 300))
    def test_cut_text_fits(self, text: str, room: float) -> None:
        shown = fitted(text, 10, True, room, table_measure)
        self.assertTrue(shown == "" or table_measure(shown, 10, True) <= room)

    def test_widths_tell_signs_apart(self) -> None:
        widths = [table_measure(sign, 10, False) for sign in ("i", "W", "日", "é", "e\u0301")]
        self.assertLess(widths[0], widths[1])
        self.assertEqual(widths[2], 10)
        self.assertAlmostEqual(widths[4], table_measure("e", 10, False))


class Wishes(unittest.TestCase):
    def test_parts_that_do_not_fit(self) -> None:
        with self.assertRaisesRegex(ChartError, "'Fired' has 1 values for 2 categories"):
            Chart(("a", "b"), (Bars("Fired", (1.0,)),), scales=proportional(1, 100))
        with self.assertRaisesRegex(ChartError, "at least one category"):
            Chart((), (), scales=proportional(1, 100))
        with self.assertRaisesRegex(ChartError, "too small"):
            plan_of(dict(SMALL), (120, 90))
        with self.assertRaisesRegex(ChartError, "too small"):
            plan_of(dict(SMALL), (800, 100))

    def test_a_chart_without_labels_and_line(self) -> None:
        plan = make_plan(Chart(("a", "b"), (Bars("Fired", (1.0, 2.0)),), scales=proportional(3, 100)))
        self.assertEqual((len(plan.bars.edges), len(plan.points.xs), plan.left_out), (2, 0, 0))
        plan = make_plan(Chart(("a", "b"), (Line("Rate", (1.0, 2.0)),), scales=proportional(3, 100)))
        self.assertEqual((len(plan.bars.edges), len(plan.points.xs)), (0, 2))
