"""Room for names and numbers: nothing is left out while there is another way, and what is left out is named."""

import datetime
import unittest

import numpy as np

import vantric as vt
from tests.cli.test_cli import Result
from tests.folder import InFolder
from vantric.core.layout.text_layout import BODY, SMALLEST_SHARE

LABELS = {f"Defect number {n}": 900 // (n + 1) + 1 for n in range(200)}


def first(count: int) -> dict[str, int]:
    return dict(list(LABELS.items())[:count])


def names(chart: vt.Chart) -> list[str]:
    return [mark.text for mark in chart.plan().texts if mark.role.startswith("category")]


class Names(unittest.TestCase):
    def test_sixty_categories_keep_their_names(self) -> None:
        chart = vt.pareto_chart(first(60))
        self.assertEqual((chart.orientation, names(chart)), ("horizontal", list(first(60))))
        sizes = [mark.size for mark in chart.plan().texts if mark.role.startswith("category")]
        self.assertGreaterEqual(min(sizes), SMALLEST_SHARE * BODY - 1e-9)

    def test_bars_to_the_right_make_the_picture_higher(self) -> None:
        for count in (120, 200):
            chart = vt.pareto_chart(first(count), orientation="horizontal")
            self.assertGreater(chart.size[1], 800)
            self.assertEqual(names(chart), list(first(count)))
        fixed = vt.pareto_chart(first(120), orientation="horizontal", size=(1280, 800))
        self.assertEqual(fixed.size, (1280, 800))
        self.assertRegex(names(fixed)[-1], r"^\d+ more categories$")
        self.assertEqual(int(names(fixed)[-1].split()[0]) + len(names(fixed)) - 1, 120)

    def test_auto_turns_bars_where_names_would_be_left_out(self) -> None:
        self.assertEqual(vt.pareto_chart(first(12), orientation="auto").orientation, "vertical")
        self.assertEqual(vt.pareto_chart(first(140), orientation="auto").orientation, "horizontal")
        self.assertEqual(vt.pareto_chart(first(200), orientation="auto").orientation, "vertical")

    def test_daily_bars_have_no_stripes(self) -> None:
        days = [datetime.date(2026, 1, 1) + datetime.timedelta(n) for n in range(365)]
        plan = vt.Chart(days, [vt.Bars("Fired", [100] * 365)]).plan()
        gaps = plan.bars.edges[1:, 0] - plan.bars.edges[:-1, 2]
        np.testing.assert_allclose(gaps, 0, atol=1e-6)


class Numbers(unittest.TestCase):
    def test_those_of_a_series_share_place_and_direction(self) -> None:
        months = [f"2026-{n:02d}" for n in range(1, 13)]
        chart = vt.Chart(
            months,
            [
                vt.Bars("Fired", [160 + 9 * (n % 4) for n in range(12)], "value"),
                vt.Line("Rate", [2 + n % 5 for n in range(12)], axis="secondary", unit="%"),
            ],
        )
        fired = [m for m in chart.plan().texts if m.text in chart.series[0].texts and m.role != "tick"]
        self.assertEqual(len(fired), 12)
        self.assertEqual(len({(mark.role, mark.rotation) for mark in fired}), 1)

    def test_a_free_end_is_never_on_the_frame(self) -> None:
        for low, high in ((2.4, 5.1), (3.0, 3.3), (1.0, 9.0), (97.5, 99.1), (0.2, 0.21)):
            rate = vt.Line("Rate", [high, low, (low + high) / 2], "value", axis="secondary")
            chart = vt.Chart(["a", "b", "c"], [vt.Bars("n", [650, 500, 400]), rate])
            scale, plan = chart.scales.secondary, chart.plan()
            if scale.lower != 0:
                self.assertGreaterEqual(float(scale.fraction(low)), 0.05 - 1e-9)
            self.assertLessEqual(float(scale.fraction(high)), 0.95 + 1e-9)
            self.assertLessEqual(set(chart.series[1].texts), {mark.text for mark in plan.texts})


class LogAxes(unittest.TestCase):
    def test_each_tick_has_its_own_decimals(self) -> None:
        chart = vt.Chart(["a", "b"], [vt.Line("n", [0.002, 90_000])], primary_log=True)
        ticks = [mark.text for mark in chart.plan().texts if mark.role == "tick"]
        self.assertLessEqual({"0.01", "1", "10,000"}, set(ticks))


class Said(InFolder):
    def test_what_is_left_out_is_said_by_name(self) -> None:
        rows = "".join(f"c{n},{100 + n % 3}\n" for n in range(90))
        sheet = self.file(f"c,n\n{rows}")
        result = Result("combine", sheet, "--x", "c", "--line", "n", "--out", self.folder / "a.png")
        self.assertRegex(result.err, r"labels are left out of the picture .not enough space.: the names of c1, ")
