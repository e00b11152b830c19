"""Changes over the periods, control charts, and the trends that users see."""

from __future__ import annotations

import json
import random
import unittest
from datetime import date, timedelta

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

import vantric as vt
from tests.cli.test_cli import Result
from tests.effort import examples
from tests.folder import InFolder
from vantric.core.statistics.control_charts import BEYOND, control_chart, exact_limits
from vantric.core.statistics.trend_tests import PeriodChange, changes_over
from vantric.errors import VantricError

ALPHA = 0.05


def change_of(counts: object, *, season: int = 1, percent_of: object = None) -> PeriodChange:
    """Return the change of one category, counted in ones or among a basis."""
    y = np.array(counts, dtype=np.float64)
    basis = np.ones(len(y)) if percent_of is None else np.broadcast_to(np.float64(percent_of), len(y))
    (found,) = changes_over(
        [y], [np.array(basis)], np.ones(len(y), bool), season=season, percent=percent_of is not None
    )
    assert found is not None
    return found


def most(share: float, repetitions: int) -> float:
    """Return a share with three standard errors."""
    return share + 3 * float(np.sqrt(share * (1 - share) / repetitions))


class Changes(unittest.TestCase):
    def test_a_steady_change_has_the_slope_of_a_poisson_model(self) -> None:
        time = np.arange(48.0)
        found = change_of(np.round(20 * np.exp(0.05 * time)))
        self.assertEqual((found.shape, found.significant), ("steady", True))
        assert found.slope is not None
        self.assertAlmostEqual(found.slope[0], np.exp(0.05), delta=0.003)
        self.assertLess(1.0, found.slope[1])
        self.assertLess(found.slope[1], found.slope[0])
        self.assertIsNone(found.step)

    def test_a_step_is_a_step_with_its_place_and_its_ratio(self) -> None:
        counts = [
            30,
            28,
            33,
            31,
            29,
            30,
            27,
            32,
            31,
            30,
            29,
            30,
            33,
            28,
            60,
            62,
            58,
            61,
            59,
            63,
            60,
            57,
            61,
            60,
            62,
            59,
        ]
        found = change_of(counts)
        self.assertEqual((found.shape, found.since), ("step", 14))
        assert found.step is not None
        self.assertAlmostEqual(found.step[0], np.mean(counts[14:]) / np.mean(counts[:14]), places=6)
        self.assertTrue(1.6 < found.step[1] < found.step[0] < found.step[2] < 2.5)
        self.assertIsNone(found.slope, "percent per period only of a steady change")

    def test_a_fault_that_ended_is_found_though_its_ratio_is_zero(self) -> None:
        found = change_of([12, 9, 11, 10, 13, 8, 12, 10, 11, 9] + [0] * 10)
        self.assertTrue(found.significant)
        if found.step is not None:
            self.assertLess(found.step[2], 0.5)

    def test_a_season_is_no_change_once_two_are_there(self) -> None:
        rng = np.random.default_rng(3)
        wave = 1 + 0.6 * np.sin(2 * np.pi * np.arange(36) / 12)
        steady = [change_of(rng.poisson(30 * wave), season=12) for _ in range(60)]
        self.assertTrue(all(one.seasonal for one in steady))
        self.assertLessEqual(np.mean([one.significant for one in steady]), most(ALPHA, 60))
        short = [change_of(rng.poisson(30 * wave[:12]), season=12) for _ in range(60)]
        self.assertFalse(any(one.seasonal for one in short))
        self.assertFalse(any(one.shape == "steady" and one.significant for one in short), "never percent a month")
        rising = change_of(np.round(30 * wave * 1.04 ** np.arange(36)), season=12)
        self.assertTrue(rising.significant and rising.slope is not None)
        assert rising.slope is not None
        self.assertAlmostEqual(rising.slope[0], 1.04, delta=0.01)

    def test_nothing_is_said_of_nothing_family_wise(self) -> None:
        rng = np.random.default_rng(6)
        draws = {
            "counts": lambda: rng.poisson(8, (5, 12)),
            "few": lambda: rng.poisson(0.8, (5, 14)),
            "that vary more": lambda: rng.poisson(20 * rng.gamma(3, 1 / 3, (5, 24))),
        }
        for name, draw in draws.items():
            wrong = 0
            for _ in range(120):
                table = draw().astype(np.float64)
                size = table.shape[1]
                found = changes_over(list(table), [np.ones(size)] * 5, np.ones(size, bool), season=12)
                wrong += any(one is not None and one.significant for one in found)
            self.assertLessEqual(wrong / 120, most(ALPHA, 120), name)

    def test_shares_vary_less_than_counts(self) -> None:
        rng = np.random.default_rng(9)
        wrong = sum(change_of(rng.binomial(40, 0.7, 16), percent_of=40).significant for _ in range(120))
        self.assertLessEqual(wrong / 120, most(ALPHA, 120))
        found = sum(
            change_of(rng.binomial(40, np.where(np.arange(16) < 8, 0.6, 0.85)), percent_of=40).significant
            for _ in range(40)
        )
        self.assertGreater(found / 40, 0.9, "binomial variance: as counts they would not be told apart")
        (every,) = changes_over([np.full(12, 40.0)], [np.full(12, 40.0)], np.ones(12, bool), percent=True)
        self.assertIsNone(every, "what has all records in every period does not vary")

    def test_neighbors_that_are_alike_are_told_as_drift_not_as_a_trend(self) -> None:
        rng = np.random.default_rng(5)
        steady = 0
        for _ in range(40):
            walk = np.zeros(152)
            for at in range(1, 152):
                walk[at] = 0.9 * walk[at - 1] + rng.normal()
            found = change_of(rng.poisson(50 * np.exp(0.3 * np.sqrt(1 - 0.81) * walk[100:])))
            steady += found.significant and found.shape == "steady"
        self.assertLessEqual(steady / 40, most(0.04, 40))

    @given(st.lists(st.integers(0, 80), min_size=8, max_size=40), st.sampled_from([1, 4, 7, 12]))
    @settings(max_examples=examples(40), deadline=None)
    def test_an_interval_excludes_no_change_exactly_where_it_is_significant(
        self, counts: list[int], season: int
    ) -> None:
        if not any(counts):
            return
        found = change_of(counts, season=season)
        self.assertEqual(found.p_adjusted <= ALPHA, found.shape != "none")
        for estimate in (found.slope, found.step):
            if estimate is not None:
                self.assertTrue(estimate[1] <= estimate[0] <= estimate[2], estimate)
                self.assertEqual(estimate[1] <= 1 <= estimate[2], not found.significant)
        self.assertEqual(found, change_of(counts, season=season), "the same start gives the same")

    def test_what_nothing_is_said_of(self) -> None:
        whole = np.ones(7, bool)
        self.assertEqual(changes_over([np.ones(7)], [np.ones(7)], whole), [None])
        self.assertEqual(changes_over([np.zeros(9)], [np.ones(9)], np.ones(9, bool)), [None])
        spike = change_of([0.0] * 9 + [60])
        self.assertFalse(spike.significant, "one month of ten, however high, is no trend")


class Charts(unittest.TestCase):
    def test_limits_are_the_exact_quantiles(self) -> None:
        means = np.array([0.01, 0.3, 1, 3, 10, 50, 300, 1e5])
        low, high = exact_limits(means)
        self.assertEqual(high.tolist(), stats.poisson.isf(0.00135, means).tolist())
        self.assertEqual(low.tolist(), stats.poisson.ppf(0.00135, means).tolist())
        trials = np.array([5.0, 20, 100, 1000, 50_000])
        for share in (0.001, 0.1, 0.5, 0.95):
            low, high = exact_limits(trials * share, trials)
            self.assertEqual(high.tolist(), stats.binom.isf(0.00135, trials, share).tolist(), share)
            self.assertEqual(low.tolist(), stats.binom.ppf(0.00135, trials, share).tolist(), share)

    def test_rates_and_shares_have_limits_in_their_unit(self) -> None:
        counts, basis = np.array([12.0, 9, 15, 11]), np.array([100.0, 90, 110, 100])
        found = control_chart(counts, basis, np.ones(4, bool), scale=100)
        center = counts.sum() / basis.sum()
        self.assertAlmostEqual(found.center, 100 * center)
        for point, e in zip(found.points, basis, strict=True):
            self.assertAlmostEqual(point.upper, 100 * stats.poisson.isf(0.00135, center * e) / e)
        shares = control_chart(counts, basis, np.ones(4, bool), scale=100, percent=True)
        self.assertAlmostEqual(shares.points[0].upper, 100 * stats.binom.isf(0.00135, 100, center) / 100)
        self.assertEqual((found.kind, shares.kind), ("u", "p"))

    @given(st.lists(st.integers(0, 60), min_size=3, max_size=30), st.booleans(), st.sampled_from([1.0, 2.5]))
    @settings(max_examples=examples(60), deadline=None)
    def test_what_is_drawn_decides(self, counts: list[int], percent: bool, design: float) -> None:
        y = np.array(counts, dtype=np.float64)
        found = control_chart(y, np.full(len(y), 60.0), np.ones(len(y), bool), scale=10, percent=percent, design=design)
        for point in found.points:
            if point.upper is None or point.lower is None or point.value is None:
                self.assertEqual(point.signals, ())
                continue
            outside = point.value > point.upper * (1 + 1e-9) or point.value < point.lower * (1 - 1e-9)
            self.assertEqual(bool(point.signals), outside, point)

    def test_counts_that_vary_more_have_wider_limits(self) -> None:
        counts = np.array([100.0, 180, 90, 190, 110, 170, 95, 185, 105, 175])
        found = control_chart(counts, np.ones(10), np.ones(10, bool))
        center = counts.mean()
        z = (counts - center) / np.sqrt(center)
        self.assertLess(found.dispersion_p, 0.05)
        self.assertAlmostEqual(found.widening, np.abs(np.diff(z)).mean() / 1.128)
        self.assertEqual(found.signals, ())
        self.assertEqual(control_chart(np.full(8, 100.0), np.ones(8), np.ones(8, bool)).widening, 1.0)

    def test_an_outlier_does_not_move_the_center(self) -> None:
        counts = np.array([10.0] * 10 + [60, 45])
        found = control_chart(counts, np.ones(12), np.ones(12, bool))
        self.assertEqual((found.center, found.left_out), (10.0, (10, 11)))
        self.assertEqual(found.signals, ((10, BEYOND), (11, BEYOND)))
        first = np.arange(12) < 6
        step = control_chart(np.array([30.0] * 6 + [60] * 6), np.ones(12), np.ones(12, bool), baseline=first)
        self.assertEqual((step.center, step.left_out, len(step.signals)), (30.0, (), 6))

    def test_as_many_signals_by_chance_as_are_expected_at_most(self) -> None:
        rng = np.random.default_rng(1)
        draws = {
            "few": lambda: (rng.poisson(0.7, 24), None),
            "counts": lambda: (rng.poisson(20, 24), None),
            "shares": lambda: (rng.binomial(50, 0.3, 24), 50.0),
        }
        for name, draw in draws.items():
            seen = expected = 0.0
            for _ in range(500):
                counts, trials = draw()
                found = control_chart(
                    counts.astype(float), np.full(24, trials or 1.0), np.ones(24, bool), percent=trials is not None
                )
                seen, expected = seen + len(found.signals), expected + found.expected
            self.assertLessEqual(seen, expected + 3 * np.sqrt(expected + 1), name)


class Trend(InFolder):
    def log(self, *, months: int = 12, last: int = 28) -> str:
        rows = ["date,defect,pieces"]
        draw = random.Random(3)
        for month in range(months):
            year, at = divmod(month, 12)
            days = last if month == months - 1 else 28
            for day in range(1, days + 1):
                rows += [f"2026-{at + 1:02d}-{day:02d},Steady,10"] * draw.choice([1, 2])
                rows += [f"{2026 + year}-{at + 1:02d}-{day:02d},Rising,10"] * (
                    1 if draw.random() < 0.1 + 0.07 * month else 0
                )
        return str(self.file("\n".join(rows) + "\n"))

    def test_what_rises_is_named(self) -> None:
        found = vt.trend(self.log(), "defect", date="date")
        self.assertEqual([row.category for row in found.beyond], ["Rising"])
        self.assertRegex(
            found.sentence(),
            r"^Over 12 months, 1 of 2 categories tested has a statistically significant change\. “Rising” (rose|changed)",
        )
        self.assertEqual(found.chart().panels[0].period, "month")
        rates = vt.trend(self.log(), "defect", date="date", per="pieces", per_units=100)
        self.assertEqual((rates.measure, rates.unit), ("rate", "records per 100 pieces"))
        point = rates.rows[0].chart.points[0]
        assert rates.exposures is not None
        self.assertAlmostEqual(point.value, 100 * rates.rows[0].counts[0] / rates.exposures[0])
        only = vt.trend(self.log(), "defect", date="date", categories=["Steady"])
        self.assertIn("there is no evidence of a change in “Steady”", only.sentence())
        self.assertIn("No exposure column", only.sentence())

    def test_a_partial_period_is_left_out_and_named(self) -> None:
        found = vt.trend(self.log(last=9), "defect", date="date")
        self.assertEqual(found.partial, ("2026-12",))
        self.assertFalse(found.rows[0].chart.points[-1].whole)
        self.assertIn("2026-12 is a partial period, left out of", found.sentence())
        self.assertIn("partial-period", {finding.code for finding in found.review()})
        table = Result("pareto", self.log(last=9), "--by", "defect", "--split", "date", "--period", "month")
        self.assertIn("partial period", " ".join(table.out.split()))

    def test_marks_are_lines_with_their_names(self) -> None:
        made = vt.trend(self.log(), "defect", date="date")
        one = made.chart(marks=[vt.Mark("2026-05-12", "New glaze"), vt.Mark("2026-03-01")])
        self.assertEqual([moment.text for moment in one.panels[0].moments], ["a", "b"])
        self.assertIn("b: 2026-05-12 New glaze", one.note)
        self.assertAlmostEqual(one.panels[0].moments[1].place, 4 + 11 / 31)
        alone = vt.trend(self.log(), "defect", date="date", categories=["Steady"]).chart(
            marks=[vt.Mark("2026-05-12", "New glaze")]
        )
        plan = alone.panels[0].plan() if hasattr(alone.panels[0], "plan") else None
        self.assertEqual(alone.panels[0].moments[0].text, "New glaze")
        self.assertTrue(plan is None or any(mark.text == "New glaze" for mark in plan.texts))
        self.assertEqual(vt.review(one), [], "limits are no series that are too flat")
        with self.assertRaisesRegex(VantricError, "not within the periods"):
            made.chart(marks=[vt.Mark("2031-01-01", "x")])
        with self.assertRaisesRegex(VantricError, "a mark is not a date"):
            vt.Mark("soon", "x")

    def test_the_command_writes_and_draws_again(self) -> None:
        source = self.log()
        files = [self.folder / f"t.{ending}" for ending in ("png", "svg", "csv", "json", "xlsx", "md", "html")]
        saved = self.folder / "t.toml"
        outs = [part for one in files for part in ("--out", one)]
        result = Result(
            "trend",
            source,
            "--by",
            "defect",
            "--date",
            "date",
            "--per",
            "pieces",
            "--mark",
            "2026-05-12=New glaze",
            *outs,
            "--save-chart",
            saved,
        )
        self.assertEqual(result.status, 0, result.err)
        self.assertIn("Rising", result.out)
        self.assertEqual(Result("draw", saved, "--out", self.folder / "again.png").status, 0)
        self.assertEqual((self.folder / "again.png").read_bytes(), files[0].read_bytes())
        told = json.loads(files[3].read_text())
        self.assertEqual(told["format"], "vantric/trend")
        self.assertEqual(told["measure"], "rate")
        self.assertEqual([len(one["points"]) for one in told["categories"]], [12] * len(told["categories"]))
        found = vt.trend(source, "defect", date="date", per="pieces")
        self.assertEqual(len(found.to_frame()), 12 * len(found.rows))
        self.assertEqual(found, vt.trend(source, "defect", date="date", per="pieces"))

    def test_wrong_input_is_one_line(self) -> None:
        source = self.log()
        for options, words in (
            ((), "name it with --date"),
            (("--date", "never"), "no column 'never'"),
            (("--date", "date", "--category", "Rizing"), "did you mean 'Rising'|Rising"),
            (("--date", "date", "--measure", "rate"), "give per"),
            (("--date", "date", "--per", "pieces", "--measure", "percent"), "leave one of them out"),
            (("--date", "date", "--per", "0"), "not a number above zero"),
            (("--date", "date", "--mark", "2026-13-01=x", "--out", self.folder / "x.png"), "is not a date"),
        ):
            result = Result("trend", source, "--by", "defect", *options)
            self.assertEqual((result.status, result.out), (2, ""), options)
            self.assertRegex(result.err, words)
            self.assertEqual(len(result.err.strip().splitlines()), 1)

    def test_a_period_that_was_closed_does_not_count(self) -> None:
        months = (1, 2, 3, 5, 6, 7, 8, 9, 10)
        dates = [f"2026-{month:02d}-{day:02d}" for month in months for day in range(1, 29)]
        pieces = {f"2026-{month:02d}": 50 * (month != 4) for month in range(1, 11)}
        found = vt.trend({"d": ["a"] * len(dates), "t": dates}, "d", date="t", per=pieces)
        self.assertTrue(
            found.sentence().startswith("Over 9 whole months there is no evidence of a change in “a”."),
            found.sentence(),
        )

    def test_few_periods_say_so(self) -> None:
        start = date(2026, 1, 1)
        days = [(start + timedelta(days=at)).isoformat() for at in range(59)]
        found = vt.trend({"d": ["a"] * 59, "t": days}, "d", date="t")
        self.assertIn("2 whole months are too few: eight are needed", found.sentence())
        self.assertEqual(found.beyond, ())

    def stepped(self) -> str:
        """Return a log of two years in which Crack doubles in 2024-03, Chip stays, and Stain has one bad month."""
        rows = ["date,defect"]
        for month in range(24):
            counts = {"Crack": 30 if month < 14 else 62, "Chip": 20 + month % 3, "Stain": 40 if month == 5 else 9}
            rows += [
                f"{2023 + month // 12}-{month % 12 + 1:02d}-{1 + at % 28:02d},{label}"
                for label, number in counts.items()
                for at in range(number)
            ]
        return str(self.file("\n".join(rows) + "\n"))

    def test_a_step_is_told_with_what_was_before_and_since(self) -> None:
        names = ["Crack", "Chip", "Stain"]
        found = vt.trend(self.stepped(), "defect", date="date", period="quarter", categories=names)
        self.assertIn("8 quarters", found.sentence())
        found = vt.trend(self.stepped(), "defect", date="date", categories=names)
        said = found.sentence()
        self.assertIn("Over 24 months, 1 of 3 categories tested has a statistically significant change.", said)
        self.assertRegex(said, "“Crack” (averaged 30 a month up to 2024-02 and 62 a month since|changed)")
        self.assertIn("There is no evidence of a change in “Chip” and “Stain”.", said)
        self.assertIn("The mean of each calendar month was taken away first.", said)
        self.assertRegex(said, r"points? (is|are) outside the control limits \(.*“Stain”: 2023-06\); chance alone")
        self.assertEqual(found.beyond[0].means(14), (30.0, 62.0))

    def test_a_baseline_holds_center_and_limits(self) -> None:
        source = self.stepped()
        options = {"date": "date", "categories": ["Crack"]}
        found = vt.trend(source, "defect", **options, baseline=("2023-01", "2023-12"))
        self.assertEqual((found.rows[0].chart.center, found.baseline), (30.0, ("2023-01", "2023-12")))
        self.assertIn("Center lines and limits are those of 2023-01 to 2023-12.", found.sentence())
        self.assertIn("Center line: 30", [panel.subtitle for panel in found.chart().panels])
        told = Result("trend", source, "--by", "defect", "--date", "date", "--baseline", ":2023-12", "--format", "json")
        self.assertEqual(json.loads(told.out)["baseline"], ["2023-01", "2023-12"])
        for baseline, words in (
            ("2023-13:2023-14", "there is no period '2023-13'"),
            ("2023-01:2023-02", "too few whole periods for a baseline: 3 are needed"),
            ("2023-01", "a baseline is two periods"),
            (":", "a baseline is two periods"),
        ):
            result = Result("trend", source, "--by", "defect", "--date", "date", "--baseline", baseline)
            self.assertEqual((result.status, result.out), (2, ""), baseline)
            self.assertIn(words, result.err)

    def test_words_table_and_json_say_the_same(self) -> None:
        found = vt.trend(self.stepped(), "defect", date="date", categories=["Crack", "Chip"])
        told = found.to_dict()
        by_name = {one["category"]: one["trend"] for one in told["categories"]}
        for row in found.rows:
            self.assertEqual(by_name[row.category]["beyond_chance"], row in found.beyond)
            self.assertEqual(row.category in found.sentence().partition("There is no evidence")[0], row in found.beyond)
        shown = Result("trend", self.stepped(), "--by", "defect", "--date", "date", "--category", "Crack").out
        self.assertRegex(shown, r"Crack .* (step since 2024-03|steady or a step), p [<=] 0\.\d+")
