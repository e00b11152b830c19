"""The placement engine without drawing, and the drawing of what it placed."""

import io
import re
import unittest
import warnings
from itertools import combinations, pairwise

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from matplotlib.collections import LineCollection, PolyCollection
from matplotlib.colors import to_rgb
from matplotlib.figure import Figure
from matplotlib.lines import Line2D
from matplotlib.patches import PathPatch
from matplotlib.text import Text
from PIL import Image

import vantric as vt
from tests.colors import distance
from vantric.core.layout import make_plan
from vantric.core.layout.label_places import TakenPlaces, crosses, place_with_leader, shifted, shows_ends
from vantric.core.layout.plan import Box, TextMark
from vantric.core.layout.text_layout import Sizes, TextWriter, table_measure
from vantric.rendering.fonts import BASE_FAMILY, installed
from vantric.rendering.pictures import picture
from vantric.rendering.themes import DARK, LIGHT, PRINT, THEMES

PAGE = Box(0, 0, 400, 300)
PEN, SIZES = TextWriter(table_measure), Sizes(1.0)
MONTHS = ["2026-01", "2026-02", "2026-03"]
boxes = st.tuples(st.floats(0, 360), st.floats(0, 280), st.floats(2, 90), st.floats(2, 60)).map(
    lambda one: Box(one[0], one[1], one[0] + one[2], one[1] + one[3])
)
segments = st.tuples(st.floats(-50, 450), st.floats(-50, 350), st.floats(-50, 450), st.floats(-50, 350))


class Engine(unittest.TestCase):
    @given(st.lists(boxes, max_size=25), st.lists(segments, max_size=8), boxes)
    def test_it_says_what_a_look_at_everything_says(
        self, taken: list[Box], lines: list[tuple[float, ...]], asked: Box
    ) -> None:
        places = TakenPlaces(PAGE)
        for number, box in enumerate(taken):
            places.take(box, owner=number if number % 2 else None)
        for line in lines:
            places.take_segment(*line)
        wide = Box(asked.left - 1.5, asked.bottom - 1.5, asked.right + 1.5, asked.top + 1.5)
        clear_of_lines = not any(crosses(wide, *line) for line in lines)
        for owner, mine in ((None, ()), (1, (1,)), (frozenset({1, 3, 5}), (1, 3, 5))):
            others = [box for number, box in enumerate(taken) if not (number % 2 and number in mine)]
            free = asked.within(PAGE) and clear_of_lines and not any(asked.overlaps(box) for box in others)
            self.assertEqual(places.free(asked, owner), free)

    @given(st.lists(boxes, min_size=1, max_size=40))
    def test_what_is_placed_never_overlaps(self, wanted: list[Box]) -> None:
        places, placed = TakenPlaces(PAGE), []
        for box in wanted:
            higher = Box(box.left, box.bottom + 40, box.right, box.top + 40)
            chosen = places.first_free([(box, None), (higher, None)])
            if chosen is not None:
                placed.append((box, higher)[chosen])
        for one, other in combinations(placed, 2):
            self.assertFalse(one.overlaps(other))
        self.assertTrue(all(box.within(PAGE) for box in placed))

    @given(st.lists(boxes, min_size=1, max_size=20), boxes)
    def test_going_back_frees_what_was_placed_since(self, wanted: list[Box], asked: Box) -> None:
        places = TakenPlaces(PAGE)
        places.take(Box(100, 100, 140, 140))
        before = places.free(asked), places.open_line(0, 0, 400, 300)
        moment = places.now()
        for box in wanted:
            places.take_label(box, apart=3)
            places.take_segment(box.left, box.bottom, box.right, box.top)
        places.back_to(moment)
        self.assertEqual((places.free(asked), places.open_line(0, 0, 400, 300)), before)

    def test_a_path_is_taken_along_its_whole_length(self) -> None:
        places = TakenPlaces(PAGE)
        xs, ys = np.array([0.0, 200.0, 400.0]), np.array([0.0, 300.0, 0.0])
        places.take_path(xs, ys)
        for x, y in ((100, 150), (200, 290), (300, 150)):
            self.assertFalse(places.free(Box(x - 5, y - 5, x + 5, y + 5)), (x, y))
        self.assertTrue(places.free(Box(190, 10, 210, 30)))

    def test_labels_may_stand_on_bars_whose_ends_they_show(self) -> None:
        bar = Box(10, 0, 50, 100)
        self.assertTrue(shows_ends(Box(20, 40, 80, 60), [bar], horizontal=False))
        self.assertFalse(shows_ends(Box(20, 90, 40, 110), [bar], horizontal=False))
        self.assertFalse(shows_ends(Box(20, 40, 80, 60), [bar], horizontal=True))
        self.assertTrue(shows_ends(Box(60, 90, 80, 110), [bar], horizontal=False))


class Leaders(unittest.TestCase):
    def label(self, x: float, y: float) -> TextMark:
        return PEN.line("123", x, y, 14, "value", ha="center", figures=True)

    def test_a_leader_ends_beside_its_label_and_crosses_no_other(self) -> None:
        places = TakenPlaces(PAGE)
        places.take_label(Box(80, 60, 120, 80))
        behind, beside = self.label(100, 120), self.label(200, 120)
        found = place_with_leader(places, [behind, beside], lambda _: (100.0, 20.0), apart=2)
        assert found is not None
        assert found.leader is not None
        self.assertEqual(found.text, beside)
        end = float(found.leader.xs[1]), float(found.leader.ys[1])
        box = beside.box
        self.assertTrue(box.left - 3 <= end[0] <= box.right + 3 and box.bottom - 3 <= end[1] <= box.top + 3)
        self.assertFalse(box.left < end[0] < box.right and box.bottom < end[1] < box.top)
        self.assertFalse(places.free(beside.box))
        self.assertIsNone(place_with_leader(places, [beside], lambda _: (100.0, 20.0), apart=2))

    def test_what_is_placed_later_keeps_off_the_leader(self) -> None:
        places = TakenPlaces(PAGE)
        place_with_leader(places, [self.label(100, 200)], lambda _: (100.0, 20.0), apart=0)
        self.assertFalse(places.free(Box(95, 100, 105, 110)))

    def test_moving_a_text_moves_all_of_it(self) -> None:
        one, other = shifted(self.label(10, 20), 5, -3), self.label(15, 17)
        self.assertEqual((one.x, one.y, one.text), (other.x, other.y, other.text))
        self.assertTrue(np.allclose(one.box, other.box))


class Drawing(unittest.TestCase):
    def artists(self, chart: vt.Chart) -> Figure:
        return chart.figure()

    def test_every_kind_is_drawn_in_every_theme(self) -> None:
        for theme in THEMES:
            chart = vt.Chart(
                MONTHS,
                [
                    vt.Bars("bars", [3, -1, 2], pattern="hatched"),
                    vt.Area("area", [2, None, 1]),
                    vt.Line("line", [1, 2, 3], pattern="dashed", axis="secondary"),
                    vt.Points("points", [3, 1, 2], marker="cross"),
                    vt.Stems("stems", [1, -1, 2]),
                    vt.Steps("steps", [2, 3, 1], line_width=4),
                ],
                references=[vt.Reference(2.5, text="Limit"), vt.Reference(-1, 0.5, "Band")],
                theme=theme,
            )
            image = Image.open(io.BytesIO(picture(chart, "png"))).convert("RGB")
            colors = {color for _, color in image.getcolors(1 << 24) or []}
            look = THEMES[theme]
            for role in ("mark-1", "mark-2", "mark-3", "mark-4"):
                self.assertIn(tuple(int(look.colors[role][at : at + 2], 16) for at in (1, 3, 5)), colors, (theme, role))
            svg = picture(chart, "svg").decode()
            self.assertIn("<pattern", svg)
            self.assertIn("stroke-dasharray", svg)

    def test_marks_keep_their_order_in_depth(self) -> None:
        chart = vt.Chart(MONTHS, [vt.Bars("a", [3, 1, 2]), vt.Line("b", [1, 2, 3]), vt.Area("c", [2, 2, 2])])
        figure = chart.figure()
        axes = figure.axes[0]
        lines = [one for one in axes.get_children() if isinstance(one, Line2D) and len(one.get_xdata()) == 3]
        polygons = [one for one in axes.get_children() if isinstance(one, PolyCollection)]
        areas = [one for one in polygons if one.get_alpha()]
        bars = [one for one in polygons if len(one.get_paths()) == 3]
        self.assertTrue(max(one.zorder for one in areas[:1]) < bars[0].zorder < max(one.zorder for one in lines))

    def test_limits_that_cutoff_clip_lines_at_the_frame(self) -> None:
        for clip in (True, False):
            limits = {"primary_limits": (0, 2), "clip": True} if clip else {}
            figure = vt.Chart(MONTHS, [vt.Line("b", [1, 5, 1])], primary_zero=True, **limits).figure()
            lines = [one for one in figure.axes[0].get_children() if isinstance(one, Line2D)]
            path = next(one for one in lines if len(one.get_xdata()) == 3 and one.get_linestyle() != "None")
            self.assertEqual(path.get_clip_on() and path.get_clip_box() is not None, clip)

    def test_halos_and_leaders_are_drawn(self) -> None:
        plain = vt.Chart(MONTHS, [vt.Bars("a", [9, 9, 9]), vt.Line("b", [5, 5, 5], "value")])
        halos = [mark.halo for mark in plain.plan().texts if mark.role == "mark-1-value" and mark.halo]
        self.assertEqual(halos, ["pale-2"] * 3)
        hidden = vt.Chart(MONTHS, [vt.Bars("a", [9, 9, 9], color="navy"), vt.Line("b", [5, 5, 5], "value")])
        self.assertEqual([mark.halo for mark in hidden.plan().texts if mark.halo], ["plate"] * 3)
        drawn = [one for one in plain.figure().axes[0].get_children() if isinstance(one, PathPatch)]
        self.assertTrue(any(one.get_edgecolor()[:3] == to_rgb(LIGHT.color("pale-2")) for one in drawn))
        self.assertEqual(picture(plain, "svg").decode().count('class="halo"'), 1)
        crowded = vt.Chart(
            [str(n) for n in range(24)],
            [vt.Line(f"s{n}", np.sin(np.arange(24.0) + n).round(3), "value") for n in range(6)],
        )
        self.assertTrue(any(rule.role == "leader" for rule in crowded.plan().rules))
        drawn = [one for one in crowded.figure().axes[0].get_children() if isinstance(one, LineCollection)]
        self.assertGreater(len(drawn), 2)

    def test_numbers_on_patterned_bars_have_a_plain_ground(self) -> None:
        table = vt.crosstab({"d": list("aabbbb"), "k": list("xyxxyy")}, "d", "k")
        for theme in ("print", "light"):
            plain = table.chart(together="stacked", theme=theme)
            count = sum(isinstance(one, PolyCollection) for one in plain.figure().axes[0].get_children())
            self.assertGreater(count, 1)
        many = vt.crosstab({"d": list("aabbbbaabbb"), "k": list("xyxxyyzzzww")}, "d", "k")
        counts = [
            sum(
                isinstance(one, PolyCollection)
                for one in many.chart(together="stacked", theme=theme).figure().axes[0].get_children()
            )
            for theme in ("print", "light")
        ]
        self.assertGreater(counts[0], counts[1])  # a hatched bar, and the plain ground behind its number

    def test_any_installed_font(self) -> None:
        self.assertEqual(installed("dejavu sans mono"), "DejaVu Sans Mono")
        chart = vt.Chart(MONTHS, [vt.Bars("a", [3, 1, 2])], font="dejavu serif", title="Title")
        texts = [
            one for one in chart.figure().axes[0].get_children() if isinstance(one, Text) and one.get_text() == "Title"
        ]
        self.assertIn("Serif", str(texts[0].get_fontproperties().get_file()))
        plain = vt.Chart(MONTHS, [vt.Bars("a", [3, 1, 2])], title="Title")
        self.assertNotEqual(picture(chart, "png"), picture(plain, "png"))
        pareto = vt.pareto_chart({"a": 2}, font="DejaVu Sans Mono", title_place="center", grid="none")
        self.assertEqual((pareto.font, pareto.title_place, pareto.grid), ("DejaVu Sans Mono", "center", "none"))
        self.assertFalse([rule for rule in pareto.plan().rules if rule.role == "grid"])
        self.assertEqual((BASE_FAMILY, installed("vantric sans")), ("Vantric Sans", "Vantric Sans"))

    def test_a_chart_goes_into_axes_of_the_user(self) -> None:
        figure = Figure(figsize=(10, 5))
        left, right = figure.subplots(1, 2)
        chart = vt.Chart(MONTHS, [vt.Area("a", [3, 1, 2]), vt.Steps("b", [1, 2, 3], axis="secondary")])
        primary, secondary = chart.draw(ax=left)
        self.assertIs(primary, left)
        self.assertEqual(secondary.get_ylim(), (chart.scales.secondary.lower, chart.scales.secondary.upper))
        self.assertEqual(left.get_ylim(), (chart.scales.primary.lower, chart.scales.primary.upper))
        self.assertEqual(right.get_ylim(), (0, 1))


class Colors(unittest.TestCase):
    def test_lines_stand_apart_from_bars_and_from_each_other_for_every_eye(self) -> None:
        # Bars under lines are pale, in colors that the first lines leave free.
        pairs = [
            *((f"mark-{n}", "rim-pale-2") for n in (1, 2)),  # an ochre rim is told from clay by the points
            *((f"mark-{n}", f"pale-{m}") for n in (1, 2, 3) for m in (2, 3, 5)),
            *pairwise(f"mark-{n}" for n in range(1, 6)),
        ]
        for theme in (LIGHT, DARK):
            for one, other in pairs:
                for sight in (None, "protanopia", "deuteranopia", "tritanopia"):
                    apart = distance(theme.colors[one], theme.colors[other], deficiency=sight)
                    self.assertGreater(apart, 13, (theme.name, one, other, sight))

    def test_marks_differ_by_more_than_color(self) -> None:
        for theme in THEMES.values():
            shapes = [theme.markers.get(f"mark-{n}", "round") for n in range(1, 6)]
            self.assertEqual(len(set(shapes)), 5)
        self.assertEqual(len({PRINT.dashes.get(f"mark-{n}") for n in range(1, 6)}), 5)

    def test_every_role_of_any_chart_has_a_color(self) -> None:
        kinds = (vt.Bars, vt.Line, vt.Area, vt.Points, vt.Stems, vt.Steps)
        many = [kind(f"{kind.kind} {n}", [n + 1, 2, 3], "value") for n in range(9) for kind in kinds]
        chart = vt.Chart(
            MONTHS, many, references=[vt.Reference(1, text="x"), vt.Reference(1, 2)], legend="right", size="1600x1200"
        )
        plan = chart.plan()
        roles = {mark.role for mark in (*plan.texts, *plan.rules, *plan.paths, *plan.areas, *plan.point_sets)}
        roles |= {*plan.bars.roles, *plan.swatches.roles, *plan.bands.roles}
        for theme in THEMES.values():
            for role in roles:
                self.assertRegex(theme.color(role), re.compile("#[0-9a-f]{6}"))
                self.assertGreater(theme.width(role), 0)


class Extremes(unittest.TestCase):
    def test_values_of_any_size(self) -> None:
        for values in (
            [1e300, 5e299, 0],
            [1e-300, 3e-301, 2e-300],
            [0, 0, 0],
            [7, 7, 7],
            [-5, -5, -5],
            [1e-9, 1, 1e9],
            [None, 3, None],
            [1e15 + 1, 1e15 + 2, 1e15 + 3],
        ):
            for kind in (vt.Bars, vt.Line, vt.Area, vt.Stems):
                with self.subTest(values=values, kind=kind.kind):
                    chart = vt.Chart(MONTHS, [kind("a", values, "value"), vt.Line("b", [1, 2, 3], axis="secondary")])
                    plan = chart.plan()
                    self.assertTrue(np.all(np.isfinite(plan.bars.edges)))
                    self.assertTrue(all(np.all(np.isfinite(path.ys)) for path in plan.paths))
                    self.assertEqual(len(plan.texts), len(make_plan(chart).texts))

    def test_many_series_and_many_categories(self) -> None:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            wide = vt.Chart([f"c{n}" for n in range(1500)], [vt.Bars("a", range(1500)), vt.Line("b", range(1500))])
            self.assertLess(len(wide.plan().texts), 400)
            tall = vt.Chart(MONTHS, [vt.Line(f"s{n}", [n, n + 1, n]) for n in range(40)], size="1600x1000")
            self.assertEqual(len([mark for mark in tall.plan().texts if mark.role == "legend"]), 40)

    def test_a_line_of_many_points_has_no_markers(self) -> None:
        plan = vt.Chart([f"c{n}" for n in range(1500)], [vt.Line("b", range(1500))]).plan()
        self.assertEqual(plan.points.radius, 0)
        self.assertGreater(
            vt.Chart([f"c{n}" for n in range(1500)], [vt.Points("b", range(1500))]).plan().points.radius, 1
        )

    def test_numbers_are_level_where_the_line_is_in_the_way_of_the_first_alone(self) -> None:
        for large in (400, 9.4e12):
            chart = vt.pareto({"Crack": large, "Chip": large / 4, "Pin": large / 9000}).chart(orientation="vertical")
            plan = chart.plan()
            numbers = [mark for mark in plan.texts if mark.role.startswith(("value", "on-"))]
            self.assertGreaterEqual(len(numbers), 3)
            self.assertEqual({mark.rotation for mark in numbers}, {0.0})

    def test_the_last_100_percent_is_neither_written_nor_told_to_lack(self) -> None:
        for counts in ({"Crack": 40}, {"a": 9, "b": 1}, {f"c{n}": 60 - n for n in range(30)}):
            plan = vt.pareto(counts).chart().plan()
            self.assertFalse([lacks for lacks in plan.missing if "percent" in lacks.name.casefold()])
            self.assertFalse([mark for mark in plan.texts if mark.role == "point-value" and mark.text == "100%"])

    def test_an_axis_that_starts_above_zero_has_a_break_at_its_foot(self) -> None:
        for orientation in ("vertical", "horizontal"):
            for low, is_broken in ((91.0, True), (1.0, False)):
                yields = [low, low + 1.5, low + 3]
                line = vt.Line("Yield", yields, axis="secondary")
                plan = vt.Chart(MONTHS, [vt.Bars("Fired", [9, 8, 7]), line], orientation=orientation).plan()
                bent = [rule for rule in plan.rules if len(rule.xs) > 2]
                self.assertEqual(len(bent), is_broken, (orientation, low))
                for rule in bent:
                    self.assertEqual(rule.role, plan.paths[0].role if plan.paths else rule.role)

    def test_labels_keep_out_of_the_column_of_classes_and_labels_of_no_letters_are_laid_out(self) -> None:
        for last in (0, 1, 3):
            counts = {"Pinhole": 60, "Chip": last, "Speck": last, "Stain": last, "x": last, "A" * 70: last}
            plan = vt.pareto(counts).chart(orientation="horizontal", labels="value").plan()
            for mark, other in combinations(plan.texts, 2):
                self.assertFalse(mark.box.overlaps(other.box), (mark.text, other.text))
        bare = {str(n): 1 for n in range(12)} | {"\x1b": 1}
        self.assertTrue(vt.pareto(bare, cut=20).chart(orientation="vertical").plan().texts)
