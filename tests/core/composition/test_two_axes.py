"""Two axes that agree in every chart: random charts, and every pair of the options of axes."""

import json
import unittest
from itertools import combinations
from typing import Any

import vantric as vt
from tests.cli.test_cli import Result
from tests.effort import examples
from tests.folder import InFolder
from tests.geometry import unaligned
from tests.randomcharts import random_chart
from vantric.errors import VantricError

MONTHS = [f"2026-{month:02d}" for month in range(1, 6)]
FIRED, RATE, GROWTH = [640, 590, 710, 655, 690], [4.2, 3.9, 4.8, 4.1, 4.4], [-5.8, 3.1, 8.0, 2.2, -1.4]
EXPENSES, SAVINGS = [800_000, 850_000, 900_000, 880_000, 820_000], [40_000, 120_000, 80_000, 64_000, 95_000]
#: What each option of the axes may be; the first value is what a plain chart has not.
WISHES: dict[str, tuple[Any, ...]] = {
    "policy": ("separate", "proportional", "common", "grid"),
    "primary_limits": ((0, 1000), (None, 1e6), (500, None), (-100, 800)),
    "secondary_limits": ((0, 10), (None, 1e6), (3, None), (-10, 20)),
    "primary_log": (True,),
    "secondary_log": (True,),
    "primary_zero": (True, False),
    "secondary_zero": (True, False),
    "meet": ((650, 5), (100, 10)),
    "headroom": (0.0, 0.2),
    "clip": (True,),
    "grid": ("secondary", "primary", "none"),
    "secondary_title": ("Another",),
    "secondary_bars": ("beside",),
    "secondary_together": ("overlaid",),
}


def bases() -> dict[str, list[Any]]:
    """Return series of every kind of pair: one axis and two, lines and bars, positive and not."""
    right: dict[str, Any] = {"axis": "secondary"}
    return {
        "one axis": [vt.Bars("a", FIRED)],
        "one line": [vt.Line("a", FIRED)],
        "bars, line": [vt.Bars("a", FIRED), vt.Line("b", RATE, **right)],
        "bars, growth": [vt.Bars("a", FIRED), vt.Line("b", GROWTH, **right)],
        "lines": [vt.Line("a", FIRED), vt.Line("b", RATE, **right)],
        "bars on both": [vt.Bars("a", FIRED), vt.Bars("b", RATE, **right), vt.Bars("c", RATE, **right)],
        "loss, line": [vt.Bars("a", GROWTH), vt.Line("b", RATE, **right)],
    }


class Random(unittest.TestCase):
    def test_two_thousand_charts(self) -> None:
        drawn, seed, wanted = 0, 70_000, examples(2000)
        while drawn < wanted:
            seed += 1
            try:
                chart, wishes = random_chart(seed)
            except VantricError as error:
                self.assertNotIn("\n", str(error))
                continue
            self.assertEqual(list(unaligned(chart, wishes)), [], seed)
            drawn += 1
            if drawn % 40 == 0:
                self.assertEqual(chart.plan().scales, chart.scales)
        self.assertLess(seed, 70_000 + 2 * wanted)  # most of them are drawn, not refused


class Wishes(unittest.TestCase):
    def test_every_pair_is_obeyed_or_refused(self) -> None:
        obeyed = dict.fromkeys(WISHES, 0)
        for name, series in bases().items():
            for one, other in combinations([(name, value) for name, values in WISHES.items() for value in values], 2):
                if one[0] == other[0]:
                    continue
                wishes = dict((one, other))
                with self.subTest(base=name, **{key: repr(value) for key, value in wishes.items()}):
                    try:
                        chart = vt.Chart(MONTHS, series, **wishes)
                    except VantricError as error:
                        self.assertRegex(str(error), r"^[^\n]{20,}$")
                        continue
                    self.assertEqual([*unaligned(chart, wishes), *self.ignored(chart, wishes)], [])
                    for wish in wishes:
                        obeyed[wish] += 1
        self.assertGreater(min(obeyed.values()), 10, obeyed)  # none is always refused

    def ignored(self, chart: vt.Chart, wishes: dict[str, Any]) -> list[str]:
        """Return the options that left no trace in the chart."""
        traces = {
            "grid": lambda wish: chart.grid_side == wish,
            "secondary_title": lambda wish: chart.secondary_title.startswith(wish) and chart.secondary_axis,
            "secondary_bars": lambda wish: chart.secondary_bars == wish,
            "secondary_together": lambda wish: chart.secondary_together == wish,
            "clip": lambda wish: "primary_limits" in wishes or "secondary_limits" in wishes,
        }
        return [name for name, wish in wishes.items() if name in traces and not traces[name](wish)]

    def test_other_kinds_have_no_secondary_axis(self) -> None:
        tally = vt.tally({"Pinhole": 3, "Chip": 1})
        for make in (
            lambda **wish: tally.chart(**wish),
            lambda **wish: vt.pareto(tally).chart(cumulative="none", **wish),
        ):
            for wish in ({"secondary_title": "Percent"}, {"grid": "secondary"}):
                with self.assertRaisesRegex(VantricError, "no secondary axis"):
                    make(**wish)


class Noise(unittest.TestCase):
    def test_ends_that_differ_by_float_noise_are_one(self) -> None:
        pair = vt.align((99.99999999999999, 100.0), (0, 9), primary_zero=False)
        self.assertLess(pair.primary.lower, 99)
        self.assertEqual(len(set(pair.primary.ticks)), len(pair.primary.ticks))
        parts = [vt.Bars("a", [1 / 3, 0.2, 0.7]), vt.Bars("b", [0.1, 0.3, 0.5])]
        chart = vt.Chart(["x", "y", "z"], parts, together="percent", primary_zero=False)
        self.assertGreaterEqual(chart.scales.primary.upper, 100)


class Zero(unittest.TestCase):
    def heights(self, chart: vt.Chart) -> list[float]:
        return [float(scale.fraction(0)) for scale in (chart.scales.primary, chart.scales.secondary)]

    def test_a_growth_below_zero_is_below_the_zero_of_the_bars(self) -> None:
        for options in ({}, {"orientation": "horizontal"}, {"policy": "proportional"}, {"secondary_limits": (-10, 10)}):
            chart = vt.Chart(MONTHS, [vt.Bars("a", FIRED), vt.Line("b", GROWTH, axis="secondary")], **options)  # type: ignore[arg-type]
            zeros = self.heights(chart)
            self.assertAlmostEqual(zeros[0], zeros[1], delta=1e-9)
            self.assertGreater(zeros[0], 0.1)
        with self.assertRaisesRegex(
            VantricError, "limits of the primary side conflict with the range of the secondary"
        ):
            vt.Chart(MONTHS, [vt.Bars("a", FIRED), vt.Line("b", GROWTH, axis="secondary")], primary_limits=(0, 800))

    def test_a_series_named_for_the_secondary_axis_has_its_own_scale(self) -> None:
        series = [vt.Bars("Expenses", EXPENSES), vt.Line("Savings", SAVINGS, axis="secondary")]
        for options in ({}, {"primary_zero": False, "secondary_zero": False}):
            chart = vt.Chart(MONTHS, series, **options)  # type: ignore[arg-type]
            self.assertEqual(chart.scales.policy, "grid")
            self.assertLess(chart.scales.secondary.upper, 200_000)
        alike = vt.Chart(MONTHS, [vt.Bars("a", FIRED, unit="t"), vt.Line("b", FIRED, unit="t", axis="secondary")])
        self.assertEqual(alike.scales.policy, "grid")

    def test_bars_are_never_small_on_the_right(self) -> None:
        swapped = vt.Chart(MONTHS, [vt.Line("Energy", EXPENSES), vt.Bars("Rejects", RATE)])
        self.assertEqual([one.axis for one in swapped.series], ["secondary", "primary"])
        [chosen] = [finding for finding in vt.review(swapped) if finding.code == "axis-chosen"]
        self.assertIn("chosen for “Energy”: “Rejects” would use", chosen.message)
        mixed = vt.Chart(
            MONTHS, [vt.Bars("a", RATE), vt.Bars("b", EXPENSES), vt.Line("c", RATE), vt.Line("d", SAVINGS)]
        )
        self.assertEqual([one.axis for one in mixed.series], ["primary", "primary", "secondary", "primary"])

    def test_the_secondary_axis_starts_at_zero_where_that_is_cheap(self) -> None:
        def chart(low: float, **options: Any) -> vt.Chart:
            right = vt.Line("Energy", [low, 95, 99, 96, 100], axis="secondary", unit="kWh")
            return vt.Chart(MONTHS, [vt.Bars("a", FIRED), right], **options)

        self.assertEqual((chart(33).scales.secondary.lower, chart(33).secondary_title), (0, "Energy (kWh)"))
        above = chart(40)
        self.assertGreater(above.scales.secondary.lower, 20)
        self.assertRegex(above.secondary_title, r"^Energy \(kWh\), axis starts at \d+(\.\d+)?$")
        self.assertIn("secondary-without-zero", [finding.code for finding in vt.review(above)])
        self.assertEqual(chart(40, secondary_zero=True).scales.secondary.lower, 0)
        self.assertRegex(chart(40, secondary_title="kWh", language="de").secondary_title, "^kWh, Achse beginnt bei")
        self.assertEqual(chart(40, secondary_title="").secondary_title, "")
        below = vt.Chart(MONTHS, [vt.Bars("a", FIRED), vt.Line("b", [-90, -80, -99, -95, -91], axis="secondary")])
        self.assertRegex(below.secondary_title, r"^b, axis ends at -\d")

    def test_the_review_looks_at_the_scales_that_are_drawn(self) -> None:
        apart = vt.Chart(MONTHS, [vt.Bars("a", FIRED), vt.Line("b", GROWTH, axis="secondary")], policy="separate")
        [finding] = [finding for finding in vt.review(apart) if finding.code == "zeros-apart"]
        self.assertEqual(finding.severity, "warning")
        self.assertIn("what is above one zero may be below the other", finding.message)


class Dates(unittest.TestCase):
    def test_one_day_a_period_is_that_period(self) -> None:
        for days, labels in (
            (["2026-01-01", "2026-02-01", "2026-04-01"], ["2026-01", "2026-02", "2026-03", "2026-04"]),
            (["2026-01-31", "2026-02-28", "2026-04-30"], ["2026-01", "2026-02", "2026-03", "2026-04"]),
            (["2026-01-01", "2026-04-01"], ["2026-Q1", "2026-Q2"]),
            (["2025-12-31", "2024-12-31"], ["2024", "2025"]),
            (["2026-01-05", "2026-01-12", "2026-01-26"], ["2026-W02", "2026-W03", "2026-W04", "2026-W05"]),
            (["2026-01-01", "2026-01-03"], ["2026-01-01", "2026-01-02", "2026-01-03"]),
            (["2026-01-01"], ["2026-01-01"]),
        ):
            self.assertEqual(list(vt.Chart(days, [vt.Bars("a", [1.0] * len(days))]).categories), labels)


class Command(InFolder):
    def test_json_states_both_scales(self) -> None:
        log = self.file("m,fired,growth\n2026-01-01,640,-5.8\n2026-02-01,590,3\n2026-03-01,710,8\n")
        command = ("combine", log, "--x", "m", "--bars", "fired", "--line", "growth")
        stated = json.loads(Result(*command, "--secondary", "growth", "--format", "json").out)
        self.assertEqual((stated["policy"], stated["primary"]["kind"]), ("grid", "linear"))
        self.assertEqual(list(stated["secondary"]), ["lower", "upper", "step", "kind", "ticks"])
        self.assertLess(stated["primary"]["lower"], 0)
        one = json.loads(Result("combine", log, "--x", "m", "--bars", "fired", "--format", "json").out)
        self.assertEqual((one["policy"], one["secondary"]), ("common", None))
        refused = Result(*command, "--secondary", "growth", "--no-secondary-zero")
        self.assertEqual((refused.status, refused.out, refused.err.count("\n")), (2, "", 1))
        self.assertIn("--no-secondary-zero and the data of the secondary side conflict", refused.err)
