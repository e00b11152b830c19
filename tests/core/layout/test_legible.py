"""Every text stands out from what is really beneath it: five themes, five sizes, both directions, and random charts."""

import unittest
import warnings
from importlib.resources import files
from itertools import product

import vantric as vt
from tests.effort import examples
from tests.randomcharts import random_chart
from tests.rendered import faults, hard_to_read
from vantric.errors import VantricError

DATA = files("vantric.demo") / "data"
THEMES = ("light", "dark", "print", "contrast", "clay")
SIZES = ((1280, 800), (520, 320), (390, 600), (1920, 1080), (800, 500))


class Legible(unittest.TestCase):
    def test_pareto_charts_in_every_theme_and_size(self) -> None:
        log = str(DATA.joinpath("inspections.csv"))
        plain = vt.pareto(log, by="defect", merge_spellings=True)
        classes = vt.pareto(log, by="defect", weight="rework_cost", cut=(60, 80, 95), merge_spellings=True)
        every = list(product((plain, classes), THEMES, SIZES, ("vertical", "horizontal")))
        for table, theme, size, orientation in every[:: max(1, len(every) // examples(len(every)))]:
            with self.subTest(theme=theme, size=size, orientation=orientation):
                chart = table.chart(noun="defects", theme=theme, size=size, orientation=orientation)
                self.assertEqual([*faults(chart), *hard_to_read(chart)], [])

    def test_limits_marks_and_averages(self) -> None:
        for theme in THEMES:
            chart = vt.combine(
                str(DATA.joinpath("firings.csv")),
                x="month",
                bars=["first_firing=Tiles fired", "second_firing=Second firing"],
                line="percent:rejected/first_firing=Rejected",
                together="stacked",
                references=[vt.Reference(4, text="4% limit", axis="secondary")],
                marks=[vt.Mark("2026-05-12", "New glaze")],
                theme=theme,
            )
            self.assertEqual(chart.title, "Rejected above the 4% limit in 7 of 12 months")
            hollow = [points for points in chart.plan().drawn_points if points.hollow]
            self.assertEqual(sum(value == value for points in hollow for value in points.ys.tolist()), 5)
            self.assertEqual([*faults(chart), *hard_to_read(chart)], [])

    def test_random_charts(self) -> None:
        drawn, seed = 0, 70_000
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            while drawn < examples(60):
                seed += 1
                try:
                    chart, _ = random_chart(seed)
                    found = list(hard_to_read(chart))
                except VantricError:
                    continue
                self.assertEqual(found, [], seed)
                drawn += 1
