"""Stacks, percents, transposed tables, units and titles: right in every combination."""

import json
import unittest

import numpy as np

import vantric as vt
from tests.cli.test_cli import Result
from tests.folder import InFolder

SHEET = {"defect": ["Pinhole", "Crack", "Chip"], "K1": [40, 10, 5], "K2": [20, 30, 5], "K3": [10, 15, 25]}
KILNS = ["K1", "K2", "K3"]
MONTHS = ["Jan", "Feb", "Mar"]


class Percents(unittest.TestCase):
    def test_of_each_category_of_each_series_and_of_all(self) -> None:
        cells = np.array([SHEET[name] for name in KILNS], dtype=float)
        for base, wanted in (
            ("row", 100 * cells / cells.sum(axis=0)),
            ("column", 100 * cells / cells.sum(axis=1, keepdims=True)),
            ("all", 100 * cells / cells.sum()),
        ):
            chart = vt.combine(SHEET, "defect", bars=KILNS, percent_of=base)  # type: ignore[arg-type]
            np.testing.assert_allclose([one.values for one in chart.series], wanted)
            self.assertEqual((chart.together, chart.primary_unit), ("grouped", "%"))
        titles = {
            base: vt.combine(SHEET, "defect", bars=KILNS, percent_of=base).primary_title  # type: ignore[arg-type]
            for base in ("row", "column", "all")
        }
        self.assertEqual(
            titles, {"row": "Percent of each defect", "column": "Percent of each series", "all": "Percent of all"}
        )

    def test_stacks_in_percent_beside_a_bar_in_its_own_unit(self) -> None:
        bars = [vt.Bars("a", [30, 10], unit="t"), vt.Bars("b", [10, 30], unit="t")]
        energy = vt.Bars("energy", [5, 7], unit="MWh", axis="secondary")
        chart = vt.Chart(["x", "y"], [*bars, energy], together="percent")
        self.assertEqual([one.values for one in chart.series], [(75, 25), (25, 75), (5, 7)])
        self.assertEqual([one.unit for one in chart.series], ["%", "%", "MWh"])
        self.assertEqual(chart.secondary_title, "Energy (MWh)")
        grouped = vt.Chart(["x", "y"], [*bars, energy], together="stacked", secondary_together="grouped")
        self.assertEqual([place.stack for place in grouped.bar_places()], [0, 0, None])
        with self.assertRaisesRegex(vt.VantricError, "secondary_together is for bars on the secondary axis"):
            vt.Chart(["x", "y"], bars, secondary_together="stacked")

    def test_totals_over_percents_are_the_base(self) -> None:
        chart = vt.combine(SHEET, "defect", bars=KILNS, together="percent", totals=True)
        self.assertEqual(chart.totals, (("70", "55", "35"),))


class Transposed(InFolder):
    def test_titles_table_and_data_follow(self) -> None:
        sheet = self.file("defect,K1,K2\nPinhole,40,20\nCrack,10,30\n")
        result = Result("combine", sheet, "--x", "defect", "--bars", "K1", "--bars", "K2", "--transpose")
        self.assertRegex(result.out, r"series +Pinhole +Crack\nK1 +40 +10\nK2 +20 +30\n")
        chart = vt.combine(sheet, "defect", bars=["K1", "K2"], transpose=True)
        self.assertEqual((chart.category_title, chart.categories), ("", ("K1", "K2")))
        self.assertEqual(chart.primary_title, "K1 and K2")
        mixed = ("--bars", "K1", "--bars", "K2", "--unit", "K1=t", "--transpose")
        self.assertIn("differ", Result("combine", sheet, "--x", "defect", *mixed).err)

    def test_the_table_of_percents_has_the_counts_too(self) -> None:
        sheet = self.file("defect,K1,K2\nPinhole,40,20\nCrack,10,30\n")
        given = ("combine", sheet, "--x", "defect", "--bars", "K1", "--bars", "K2", "--together", "percent")
        out = Result(*given, "--unit", "pieces").out
        self.assertRegex(out, r"defect +K1 \(pieces\) +K2 \(pieces\) +K1 \(%\) +K2 \(%\)\n")
        self.assertRegex(out, r"Pinhole +40 +20 +66.7 +33.3\n")
        series = json.loads(Result(*given, "--format", "json").out)["series"]
        self.assertEqual((series[0]["values"], series[0]["unit"]), ([40, 10], None))
        self.assertAlmostEqual(series[0]["percents"][1], 25)


class Units(unittest.TestCase):
    def test_one_unit_is_one_scale(self) -> None:
        good, scrap = vt.Bars("Good", [600, 580, 610], unit="tiles"), vt.Bars("Scrap", [12, 20, 15], unit="tiles")
        chart = vt.Chart(MONTHS, [good, scrap])
        self.assertFalse(chart.secondary_axis)
        line = vt.Chart(MONTHS, [good, vt.Line("Scrap", [12, 20, 15], unit="tiles")])
        self.assertEqual([one.axis for one in line.series], ["primary", "primary"])
        counts = vt.Chart(MONTHS, [vt.Bars("Good", [600, 580, 610]), vt.Bars("Scrap", [12, 20, 15])])
        self.assertFalse(counts.secondary_axis)

    def test_what_is_asked_for_is_done_with_a_warning(self) -> None:
        good = vt.Bars("Good", [600, 580, 610], unit="tiles")
        asked = vt.Chart(MONTHS, [good, vt.Bars("Scrap", [12, 20, 15], unit="tiles", axis="secondary")])
        self.assertIn("one-unit-two-scales", [one.code for one in asked.review()])
        common = vt.Chart(
            MONTHS, [good, vt.Bars("Scrap", [12, 20, 15], unit="tiles", axis="secondary")], policy="common"
        )
        self.assertNotIn("one-unit-two-scales", [one.code for one in common.review()])

    def test_no_axis_runs_below_zero_for_values_that_do_not(self) -> None:
        chart = vt.Chart(MONTHS, [vt.Bars("n", [650, 500, 400]), vt.Line("r", [0.3, 9, 4], unit="%", axis="secondary")])
        self.assertGreaterEqual(chart.scales.secondary.lower, 0)


class Titles(unittest.TestCase):
    def test_no_word_twice(self) -> None:
        chart = vt.pareto_chart({"Fault": ["a", "b"], "Frequency": [70, 46]}, "Fault", count="Frequency")
        self.assertEqual(chart.primary_title, "Frequency")
        self.assertEqual(chart.secondary_title, "Cumulative percent")
        for name, unit, wanted in (
            ("energy_kwh", "kWh", "Energy kwh"),
            ("Reject percent", "%", "Reject percent"),
            ("energy", "kWh", "Energy (kWh)"),
            ("pH", "", "pH"),
        ):
            found = vt.Chart(["x", "y"], [vt.Line(name, [1, 2], unit=unit)]).primary_title
            self.assertEqual(found, wanted)

    def test_a_weight_reads_as_a_person_writes_it(self) -> None:
        data = {"d": ["a", "b"], "pieces": [3, 5], "rework_cost": [20.5, 4.25]}
        chart = vt.pareto_chart(data, "d", count="pieces", weight="rework_cost")
        self.assertEqual(chart.primary_title, "Rework cost")
        self.assertEqual(chart.secondary_title, "Cumulative percent")
        self.assertTrue("82.75 rework cost of 8 pieces" in chart.subtitle)

    def test_a_heading_with_a_unit_titles_the_axis_as_it_is(self) -> None:
        chart = vt.pareto_chart({"d": ["a", "b"], "2026 Pieces (pcs)": [7, 3]}, "d", count="2026 Pieces (pcs)")
        self.assertEqual(chart.primary_title, "2026 Pieces (pcs)")
        self.assertEqual(chart.secondary_title, "Cumulative percent")
        self.assertEqual(chart.subtitle, "d: 10 pcs (2026 Pieces)")

    def test_a_currency_is_behind_the_minus_and_on_both_axes(self) -> None:
        chart = vt.Chart(
            MONTHS,
            [vt.Bars("Margin", [-3838, 200, 900]), vt.Line("Debt", [-40, 10, 30], "value", axis="secondary")],
            prefix="$",
        )
        self.assertEqual(chart.series[0].texts[0], "-$3,838")
        self.assertEqual(chart.series[1].texts, ("-$40", "$10", "$30"))
