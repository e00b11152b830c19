"""The forms of the look: dumbbells with changes, points on a log axis, a share bar with its tail, folded rows."""

from __future__ import annotations

import json
import random
import re
import unittest
import warnings
from collections import Counter
from importlib.resources import files
from itertools import pairwise, product
from pathlib import Path
from typing import Any

import numpy as np

import vantric as vt
from tests.cli.test_cli import Result
from tests.effort import examples, some
from tests.folder import InFolder
from tests.rendered import faults, hard_to_read, plans
from vantric.core.charts.series import Points
from vantric.errors import VantricError

DATA = Path(str(files("vantric.demo"))) / "data"
LOG = DATA / "inspections.csv"
SIZES = ((1280, 800), (1920, 1080), (520, 320), (390, 700), (900, 600))
THEMES = ("light", "dark", "print", "contrast", "clay")


def log_of(seed: int, count: int, rows: int = 900) -> dict[str, list[str]]:
    """Return a made-up log: a category and a side a record, some categories more frequent on one side."""
    chance = random.Random(seed)
    names = [f"{'Rim of the plate ' * chance.choice((0, 0, 1))}Cause {n}" for n in range(count)]
    weights = {side: [chance.lognormvariate(0, 1.4) for _ in names] for side in ("Before", "After")}
    sides = [chance.choice(("Before", "Before", "After")) for _ in range(rows)]
    return {"cause": [chance.choices(names, weights[side])[0] for side in sides], "side": sides}


class Sound(unittest.TestCase):
    def setUp(self) -> None:
        warnings.simplefilter("ignore")
        self.addCleanup(warnings.resetwarnings)

    def sound(self, chart: Any, name: object) -> None:
        with self.subTest(chart=name):
            self.assertEqual(list(faults(chart)), [])


class Dumbbells(Sound):
    def pair(self, seed: int, count: int, **look: Any) -> tuple[vt.Comparison, Any]:
        comparison = vt.crosstab(log_of(seed, count), "cause", "side").compare("Before", "After")
        return comparison, comparison.chart(**look)

    def test_what_is_drawn_is_what_was_tested(self) -> None:
        for seed, count in enumerate((2, 5, 9, 19, 40)):
            comparison, chart = self.pair(seed, count)
            rows = comparison.to_dict()["rows"]
            (_, values), (_, changes) = plans(chart)[0]
            left, right = chart.panels
            self.assertEqual(left.categories, tuple(row["category"] for row in rows))
            strong = tuple(place for place, row in enumerate(rows) if row["beyond_chance"])
            self.assertEqual((left.strong_rows, right.strong_rows), (strong, strong))
            for series, plan in ((left.series[0], values), (left.series[1], values), (right.series[0], changes)):
                points = plan.point_sets[left.series.index(series) if plan is values else 0]
                scale = plan.scales.primary
                read = scale.lower + (points.xs - plan.frame.left) / plan.frame.width * (scale.upper - scale.lower)
                np.testing.assert_allclose(read, series.values, atol=1e-9)
            spreads = [[row["low"], row["high"]] for row in rows]
            np.testing.assert_allclose(right.series[0].spreads, spreads, rtol=1e-5)
            # Zero is a line, and a row that stands out has an interval on one side of it.
            zero = float(changes.scales.primary.fraction(0.0)) * changes.frame.width + changes.frame.left
            self.assertTrue(any(mark.role == "zero" and abs(mark.xs[0] - zero) < 1e-6 for mark in changes.rules))
            for low, high in (right.series[0].spreads[place] for place in strong):
                self.assertGreater(low * high, 0)

    def test_rows_are_level_across_both_panels_at_every_size(self) -> None:
        for size, theme in some(list(product(SIZES, THEMES))):
            _, chart = self.pair(3, 19, size=size, theme=theme)
            (first, values), (other, changes) = plans(chart)[0]
            self.assertAlmostEqual(first.bottom + values.frame.bottom, other.bottom + changes.frame.bottom)
            self.assertAlmostEqual(first.bottom + values.frame.top, other.bottom + changes.frame.top)
            np.testing.assert_allclose(values.centers, changes.centers)
            self.sound(chart, (size, theme))

    def test_many_shapes(self) -> None:
        for seed in range(100, 100 + examples(24)):
            count = (1, 2, 3, 7, 12, 30, 60)[seed % 7]
            _, chart = self.pair(seed, count, theme=THEMES[seed % 5], size=SIZES[seed % 5] if seed % 2 else None)
            self.sound(chart, seed)

    def test_contrast(self) -> None:
        for theme in THEMES:
            _, chart = self.pair(3, 12, theme=theme)
            for panel in chart.panels:
                self.assertEqual(list(hard_to_read(panel)), [], theme)

    def test_rates_are_a_ratio_about_one(self) -> None:
        table = vt.crosstab(log_of(1, 8), "cause", "side")
        chart = table.compare("Before", "After", per=(600, 300)).chart()
        right = chart.panels[1]
        self.assertEqual((right.scales.primary.kind, right.title), ("log", "Ratio of the two rates"))
        plan = plans(chart)[0][1][1]
        at_one = float(plan.scales.primary.fraction(1.0)) * plan.frame.width + plan.frame.left
        self.assertTrue(any(mark.role == "zero" and abs(mark.xs[0] - at_one) < 1e-6 for mark in plan.rules))
        new = vt.compare({"a": 30, "b": 4}, {"a": 20, "c": 9}, per=(10, 10)).chart()
        texts = dict(zip(new.panels[1].categories, new.panels[1].columns[0].texts, strict=True))
        self.assertEqual(texts["c"], "", "what was zero before has no ratio")
        self.sound(new, "new")

    def test_the_other_forms(self) -> None:
        log = log_of(2, 6)
        comparison = vt.crosstab(log, "cause", "side").compare("Before", "After")
        for look in ({"form": "bars"}, {"orientation": "vertical"}, {"legend": "ends", "orientation": "vertical"}):
            self.assertEqual([one.kind for one in comparison.chart(**look).series], ["bars"] * 2 + ["line"] * 2, look)
        plain = comparison.chart(legend="none", labels="none", neutral_title=True, references=[vt.Reference(20)])
        self.assertEqual([len(one.texts) for one in plain.panels[0].series], [0, 0])
        self.assertEqual(plain.title, "Cause: Before and After")
        amounts = vt.compare({"a": 1.5, "b": 2.25}, {"a": 3.5, "b": 0.75})  # nothing can be tested
        chart = amounts.chart()
        self.assertIsInstance(chart, vt.Chart)
        self.assertEqual([type(one) for one in chart.series], [Points, Points])
        alone = vt.compare({"a": 5}, {"a": 9}).chart()
        self.assertEqual((type(alone), alone.title), (vt.Chart, "Frequency: Before and After"))
        with self.assertRaisesRegex(VantricError, "form is 'dumbbells', 'bars'|dumbbells"):
            comparison.chart(form="dots")

    def test_a_picture_that_is_too_small_says_which_size_would_do(self) -> None:
        comparison = self.pair(3, 19)[0]
        for chart in (
            lambda size: comparison.chart(size=size, title="A title"),
            lambda size: vt.pareto(log_of(3, 12), "cause", split="side").chart(panels=True, size=size),
        ):
            size, tries = (300.0, 200.0), 0
            while tries < 5:
                try:
                    chart(size).plan()
                    break
                except VantricError as error:
                    self.assertTrue(str(error).startswith(f"a picture of {size[0]:.0f} x {size[1]:.0f} is too small"))
                    width, height = re.findall(r"; (\d+) x (\d+) would do", str(error))[0]
                    size, tries = (float(width), float(height)), tries + 1
            self.assertIn(tries, (1, 2, 3))  # letters grow with the picture

    def test_a_low_picture_keeps_the_rows_that_matter(self) -> None:
        comparison = vt.crosstab(LOG, "defect", "shift", merge_spellings=True).compare("Early", "Night")
        chart = comparison.chart(size=(520, 320))
        left = chart.panels[0]
        self.assertIn("Shade variation", left.categories)
        self.assertEqual([left.categories[row] for row in left.strong_rows], ["Shade variation"])
        self.assertLess(len(left.categories), 10)
        self.assertIn(f"{19 - len(left.categories)} of 19 rows are not in this picture", chart.note)
        self.assertEqual(len(comparison.to_dict()["rows"]), 19)
        self.sound(chart, "low")


class Gaps(Sound):
    def test_points_on_a_log_axis_with_their_numbers_beside_them(self) -> None:
        chart = vt.combine(
            DATA / "crews.csv", "crew", planned="planned_hours", actual="achieved_hours", primary_log=True
        )
        self.assertEqual({one.kind for one in chart.series}, {"points"})
        self.assertEqual((chart.joined, chart.orientation, chart.scales.primary.kind), (True, "horizontal", "log"))
        beside = {column.title: column for column in chart.columns}
        rows = dict(zip(chart.categories, zip(*(column.texts for column in chart.columns), strict=True), strict=True))
        self.assertEqual(rows["Glazing line"], ("1,850", "1,498.6", "81%"))
        self.assertEqual(rows["Kiln loading"][2], "100.1%", "100 percent is exact only")
        below = [row for row, role in zip(chart.categories, beside["Reached"].roles, strict=True) if "strong" in role]
        self.assertEqual(len(below), 6)
        self.assertIn("log axis: equal steps are equal ratios", chart.note)
        for size, theme in some(list(product(SIZES, THEMES))):
            self.sound(
                vt.combine(
                    DATA / "crews.csv",
                    "crew",
                    planned="planned_hours",
                    actual="achieved_hours",
                    primary_log=True,
                    size=size,
                    theme=theme,
                ),
                (size, theme),
            )

    def test_bars_that_are_asked_for_stay_bars(self) -> None:
        chart = vt.combine(DATA / "crews.csv", "crew", bars=["planned_hours", "achieved_hours"], primary_log=True)
        self.assertEqual([one.kind for one in chart.series], ["bars", "bars"])

    def test_a_broken_right_axis_is_said_in_the_footer(self) -> None:
        def energy(**look: Any) -> Any:
            return vt.combine(
                DATA / "firings.csv",
                "month",
                bars="first_firing",
                line="energy_kwh",
                secondary="energy_kwh",
                **look,
            )

        above_zero = {"secondary_limits": (200_000, None)}
        self.assertIn("the right axis does not start at zero", energy(**above_zero).note)
        self.assertNotIn("does not start at zero", energy(secondary_zero=True).note)
        self.assertEqual(energy(**above_zero, note="Ours").note, "Ours")


class ShareBars(Sound):
    def test_the_tail_is_as_much_wider_as_it_says(self) -> None:
        for seed in range(examples(30)):
            chance = random.Random(seed)
            count = chance.choice((1, 2, 7, 8, 12, 19, 40, 90))
            counts = {f"Cause {n}": int(1 + 900 * chance.lognormvariate(0, 1.5)) for n in range(count)}
            look = {"size": SIZES[seed % 5], "theme": THEMES[seed % 5]}
            chart = vt.tally(counts).chart(share_bar=True, **look)
            plan = chart.plan()
            self.sound(chart, (seed, look))
            edges = plan.bars.edges
            self.assertAlmostEqual(edges[0, 0], plan.frame.left)
            self.assertAlmostEqual(edges[-1, 2], plan.frame.right)
            widths = (edges[:, 2] - edges[:, 0]) / plan.frame.width
            np.testing.assert_allclose(100 * widths, [one.values[0] for one in chart.series])
            if chart.tail is None:
                self.assertEqual(len(plan.swatches.edges), 0)
                continue
            again = plan.swatches.edges
            factor = (again[:, 2] - again[:, 0]) / (edges[chart.tail.start :, 2] - edges[chart.tail.start :, 0])
            np.testing.assert_allclose(factor, factor[0])
            self.assertIn(f"drawn {factor[0]:.1f}".removesuffix(".0"), chart.tail.text)
            self.assertAlmostEqual(sum(again[:, 2] - again[:, 0]), plan.frame.width)

    def test_every_part_is_named_once_or_reported(self) -> None:
        for count, size in some(list(product((3, 8, 19, 60), SIZES)), 3):
            counts = {f"Cause-{n:02}": 4000 // (n + 1) + n for n in range(count)}
            plan = vt.tally(counts).chart(share_bar=True, size=size).plan()
            named = Counter(mark.text.split()[0] for mark in plan.texts if mark.text.startswith("Cause-"))
            lacking = [name for out in plan.missing for name in out.categories]
            self.assertEqual(sorted([*named, *lacking]), sorted(counts), (count, size))
            self.assertEqual((set(named.values()), plan.left_out), ({1}, len(lacking)))

    def test_leaders_do_not_cross(self) -> None:
        counts = {f"Cause {n}": 4000 // (n + 1) ** 2 for n in range(14)}
        plan = vt.tally(counts).chart(share_bar=True).plan()
        leaders = sorted(
            (mark for mark in plan.rules if mark.role == "leader" and len(mark.xs) == 3), key=lambda m: m.xs[0]
        )
        self.assertGreater(len(leaders), 2)
        for first, other in pairwise(leaders):
            self.assertGreater(first.ys[1], other.ys[1], "each is a row lower than the one to its left")

    def test_orders_without_a_few_and_without_percents(self) -> None:
        counts = {f"Cause {n}": n + 1 for n in range(12)}
        given = vt.tally(counts).chart(share_bar=True, order="given")
        self.assertEqual((given.tail, given.classes), (None, ()))
        bare = vt.tally(counts).chart(share_bar=True, labels="none").plan()
        self.assertFalse([mark for mark in bare.texts if mark.text.startswith("Cause")])
        alike = vt.tally(dict.fromkeys("abcdefghij", 5)).chart(share_bar=True)
        self.assertEqual(alike.title, "Shares of categories" if not alike.title else alike.title)
        with self.assertRaisesRegex(VantricError, "too small for this chart; .* would do"):
            vt.tally(counts).chart(share_bar=True, size=(200, 200)).plan()


class Folded(InFolder, Sound):
    def test_the_few_stay_and_the_sum_is_right(self) -> None:
        for seed in range(examples(40)):
            chance = random.Random(seed)
            count = chance.choice((5, 12, 19, 30, 80))
            counts = {f"Cause {n}": int(1 + 300 * chance.lognormvariate(0, 1.2)) for n in range(count)}
            table = vt.pareto(counts)
            chart = table.chart(size=SIZES[seed % 5], orientation="horizontal", theme=THEMES[seed % 5])
            self.sound(chart, seed)
            bars, line = chart.series
            few = table.cutoff.count if table.cutoff else 0
            self.assertEqual(chart.categories[:few], table.categories[:few])
            self.assertAlmostEqual(sum(bars.values), float(table.total))
            self.assertAlmostEqual(line.values[-1], 100.0)
            self.assertEqual(len(table.categories), count, "the table never folds by itself")
            if len(chart.categories) < count:
                shown = len(chart.categories) - 1
                self.assertEqual(bars.roles()[-1], "sum")
                self.assertEqual(chart.categories[-1], f"{count - shown} more categories")
                self.assertIn(f"the {count - shown} smallest are one row in this picture", chart.note)
                said = chart.formatter.text(chart.description)
                for name in table.categories[shown:]:
                    self.assertIn(f"{name} {table.frequency.values()[table.categories.index(name)]:,}", said)
                rows = chart.plan().frame.height / len(chart.categories)
                self.assertTrue(rows >= 1.2 * 12 or (shown == few and rows >= 0.8 * 12), rows)

    def test_what_is_not_folded(self) -> None:
        counts = {f"Cause {n}": 900 // (n + 1) for n in range(30)}
        low = {"size": (520, 320), "orientation": "horizontal"}
        names = [f"Cause {n}" for n in range(30)]
        for table in (vt.pareto(counts, order="label"), vt.pareto(counts, order=names)):
            self.assertEqual(len(table.chart(**low).categories), 30, "their tail is not the smallest")
        self.assertEqual(len(vt.pareto(counts).chart(intervals=True, **low).categories), 30)
        self.assertEqual(len(vt.pareto(counts).chart().categories), 30, "without a size the picture grows")

    def test_strata_percents_and_several_cutoffs(self) -> None:
        log = log_of(5, 40, rows=2000)
        split = vt.pareto(log, "cause", split="side").chart(size=(520, 320), orientation="horizontal")
        self.assertAlmostEqual(sum(sum(one.values) for one in split.bars), 2000)
        self.sound(split, "strata")
        percent = vt.pareto(log, "cause", cut=(50, 70)).chart(
            size=(900, 500), orientation="horizontal", labels="percent"
        )
        self.assertTrue(percent.series[0].texts[-1].endswith("%"))
        self.assertEqual(len(percent.cuts), 2)
        self.sound(percent, "percent")

    def test_on_the_command_line(self) -> None:
        target = self.folder / "mail.svg"
        options = ("--by", "defect", "--merge-spellings", "--noun", "defects", "--size", "520x320")
        result = Result("pareto", LOG, *options, "--out", target, "--format", "json")
        self.assertEqual(len(json.loads(result.out)["rows"]), 19)
        picture = target.read_text(encoding="utf-8")
        self.assertIn("11 more defects", picture)
        self.assertIn("Stain 10", picture.partition("</desc>")[0], "the text alternative lists all")


class Panels(Sound):
    def test_strata_say_the_verdict_of_their_test(self) -> None:
        same = vt.pareto(LOG, "defect", split="kiln", merge_spellings=True)
        self.assertEqual(
            same.chart(panels=True, noun="defects").title, "No evidence that the mix of defects differs by kiln"
        )
        log = {"cause": ["a"] * 60 + ["b"] * 20 + ["a"] * 20 + ["b"] * 70, "side": ["x"] * 80 + ["y"] * 90}
        other = vt.pareto(log, "cause", split="side")
        self.assertEqual(other.chart(panels=True).title, "The mix of categories differs significantly by side")
        self.assertEqual(other.chart(panels=True, neutral_title=True).title, "Cause by side")
        self.assertEqual(other.chart(panels=True, title="Ours").title, "Ours")

    def test_trends_write_their_mean_and_their_last_value(self) -> None:
        chart = vt.trend(LOG, "defect", date="date", merge_spellings=True, per="pieces", per_units=100).chart()
        (_, plan), *_ = plans(chart)[0]
        texts = {mark.text for mark in plan.texts}
        self.assertIn("mean 4.59", texts)
        line = next(one for one in chart.panels[0].series if one.kind == "line")
        self.assertEqual([text for text in line.texts if text], ["4.3"])
        legend = [mark.text for mark in plans(chart)[1]]
        self.assertIn("Control limits", legend)
        self.assertNotIn("Upper control limit", legend)
        self.sound(chart, "trend")
