"""Whether two series go together: the textbook, permutations, time."""

from __future__ import annotations

import math
import unittest

import numpy as np
from scipy import stats

import vantric as vt
from tests.cli.test_cli import Result
from tests.folder import InFolder
from vantric.core.statistics.relation import together
from vantric.core.statistics.significance_tests import permutation_p
from vantric.core.statistics.time_series import time_of
from vantric.errors import VantricError


class Pairs(unittest.TestCase):
    def test_they_are_those_of_the_textbook(self) -> None:
        rng = np.random.default_rng(8)
        one = rng.normal(size=40)
        other = 0.6 * one + rng.normal(size=40)
        found = vt.relate(one, other, names=("a", "b"))
        reference = stats.pearsonr(one, other)
        self.assertAlmostEqual(found.pearson, reference.statistic)
        interval = reference.confidence_interval(0.95)
        assert found.pearson_interval is not None
        np.testing.assert_allclose(found.pearson_interval, (interval.low, interval.high), rtol=1e-9)
        r = stats.spearmanr(one, other).statistic
        self.assertAlmostEqual(found.spearman, r)
        half = stats.t.ppf(0.975, 38) * math.sqrt((1 + r * r / 2) / 37)
        np.testing.assert_allclose(found.spearman_interval, np.tanh([math.atanh(r) - half, math.atanh(r) + half]))
        self.assertEqual((found.n, found.verdict, found.caution), (40, "related", "a relation does not show a cause"))
        with_gaps = vt.relate([*one, None], [*other, 3.0])
        self.assertEqual((with_gaps.n, with_gaps.pearson), (40, found.pearson))

    def test_few_pairs_are_permuted_in_every_order(self) -> None:
        one, other = np.array([1.0, 2, 3, 4, 5, 6, 7]), np.array([2.0, 1, 4, 3, 7, 5, 6])
        exact = stats.permutation_test(
            (one,), lambda x: stats.pearsonr(x, other).statistic, permutation_type="pairings", n_resamples=np.inf
        )
        self.assertAlmostEqual(permutation_p(one, other), exact.pvalue)

    def test_the_order_of_pairs_changes_nothing(self) -> None:
        rng = np.random.default_rng(3)
        one, other = rng.normal(size=25), rng.normal(size=25)
        turn = rng.permutation(25)
        first, second = vt.relate(one, other), vt.relate(one[turn], other[turn])
        self.assertEqual((first.p, first.sentence()), (second.p, second.sentence()))

    def test_few_exact_and_level_pairs(self) -> None:
        few = vt.relate([1, 2, 3, 4, 5], [2, 1, 4, 3, 5])
        self.assertEqual(few.verdict, "cannot be said")
        self.assertIn("5 pairs are too few", few.sentence())
        level = vt.relate([1, 1, 1], [1, 2, 3])
        self.assertIsNone(level.pearson)
        self.assertIn("does not vary", level.sentence())
        exact = vt.relate(range(10), range(10))
        self.assertIsNone(exact.spearman_interval)
        self.assertIn("every pair is in the same order", exact.sentence())
        near = vt.relate([*range(40)], [*range(38), 39, 38])
        self.assertNotRegex(near.sentence(), r"1\.00–|–1\.00")

    def test_what_hangs_on_one_pair_is_said(self) -> None:
        one = [3, 1, 4, 1.5, 5, 2, 6, 2.5]
        other = [2, 3, 1, 4, 2.5, 3.5, 1.5, 2.2]
        found = vt.relate([*one, 50], [*other, 60])
        clear = vt.relate(range(20), range(20))
        self.assertIsNone(clear.influence)
        self.assertTrue(found.influence is None or found.influence[0] == 9)

    def test_pairs_of_a_chart_are_decided_together(self) -> None:
        rng = np.random.default_rng(5)
        found = [vt.relate(rng.normal(size=20), rng.normal(size=20)) for _ in range(6)]
        adjusted = together(found)
        order = np.argsort([one.p for one in found])
        highest = 0.0
        for place, at in enumerate(order.tolist()):
            highest = max(highest, min(1.0, found[at].p * (6 - place)))
            self.assertAlmostEqual(adjusted[at].p_adjusted, highest)
        self.assertIn("with the other pairs in mind", adjusted[int(order[0])].sentence())

    def test_wrong_input(self) -> None:
        for call, words in (
            (lambda: vt.relate([1, 2], [1, 2]), "2 pairs .* say nothing"),
            (lambda: vt.relate([1, 2, 3], [1, 2]), "as many of each"),
            (lambda: vt.relate([1, 2, 3], [1, 2, 4], level=2), "between 0 and 1"),
        ):
            with self.assertRaisesRegex(VantricError, words):
                call()


class InTime(InFolder):
    def false_relations(self, make, period: str, number: int) -> float:
        rng = np.random.default_rng(11)
        said = 0
        for _ in range(300):
            one, other = make(rng, number)
            said += vt.relate(one, other, period=period).verdict == "related"
        return said / 300

    def test_walks_trends_and_seasons_are_not_related(self) -> None:
        def noise(rng: np.random.Generator, n: int) -> np.ndarray:
            return rng.normal(size=(2, n))

        makers = {
            "noise": noise,
            "walks": lambda rng, n: np.cumsum(noise(rng, n), axis=1),
            "trends": lambda rng, n: noise(rng, n) + 0.3 * np.arange(n),
            "season": lambda rng, n: noise(rng, n) + 3 * np.sin(2 * np.pi * np.arange(n) / 12),
            "curved": lambda rng, n: noise(rng, n) + 0.01 * np.arange(n) ** 2,
        }
        for name, make in makers.items():
            with self.subTest(name):
                self.assertLessEqual(self.false_relations(make, "month", 60), 0.05 + 3 * math.sqrt(0.05 * 0.95 / 300))
        for name in ("noise", "walks", "trends"):
            self.assertLessEqual(
                self.false_relations(makers[name], "year", 20), 0.05 + 3 * math.sqrt(0.05 * 0.95 / 300)
            )

    def test_lines_and_growing_seasons_are_not_related(self) -> None:
        def noise(rng: np.random.Generator, n: int) -> np.ndarray:
            return rng.normal(size=(2, n))

        wave = np.sin(2 * np.pi * np.arange(120) / 12)
        peak = np.where(np.arange(120) % 12 == 11, 2.5, 1.0)
        makers = {
            "straight lines from low": lambda rng, n: 10 + 2 * np.arange(n) + 0.1 * noise(rng, n),
            "a season that grows": lambda rng, n: 500 + (5 + 0.3 * np.arange(n)) * wave[:n] + noise(rng, n),
            "both signs": lambda rng, n: (5 + 0.3 * np.arange(n)) * wave[:n] + noise(rng, n),
            "a season in percent": lambda rng, n: (
                100 * (1 + 0.02 * np.arange(n)) * (1 + 0.3 * wave[:n]) * np.exp(0.04 * noise(rng, n))
            ),
            "a peak in percent": lambda rng, n: 100 * 1.02 ** np.arange(n) * peak[:n] * np.exp(0.04 * noise(rng, n)),
        }
        for name, make in makers.items():
            for months in (48, 60, 120):
                with self.subTest(name, months=months):
                    wrong = self.false_relations(make, "month", months)
                    self.assertLessEqual(wrong, 0.065 + 3 * math.sqrt(0.065 * 0.935 / 300))

    def test_rows_that_follow_each_other_are_asked_about(self) -> None:
        rng = np.random.default_rng(4)
        one, other = np.cumsum(rng.normal(size=(2, 60)), axis=1)
        said = vt.relate(one, other)
        self.assertEqual(said.verdict, "cannot be said")
        self.assertIn(
            "rows next to each other are alike in both; if they follow in time, name the period", said.sentence()
        )
        self.assertNotEqual(vt.relate(one, other, in_time=False).verdict, "cannot be said")
        by_one = np.argsort(one)
        self.assertNotEqual(vt.relate(one[by_one], other[by_one]).verdict, "cannot be said", "sorted by one of them")
        plain = [vt.relate(*rng.normal(size=(2, 40))).verdict == "cannot be said" for _ in range(100)]
        self.assertLess(np.mean(plain), 0.06)

    def test_seasons_that_change_need_five_years(self) -> None:
        rng = np.random.default_rng(4)
        grows = (5 + 0.5 * np.arange(48)) * np.sin(2 * np.pi * np.arange(48) / 12)
        said = vt.relate(grows + rng.normal(size=48), grows + rng.normal(size=48), period="month").sentence()
        self.assertIn("their seasons change, and 5 years are needed to tell that from a relation", said)

    def test_changes_that_go_together_are_found(self) -> None:
        def related(rng: np.random.Generator, n: int) -> tuple[np.ndarray, np.ndarray]:
            one = rng.normal(size=n)
            return np.cumsum(one), np.cumsum(0.8 * one + 0.6 * rng.normal(size=n))

        self.assertGreater(self.false_relations(related, "month", 60), 0.9)

    def test_a_season_needs_three_years(self) -> None:
        rng = np.random.default_rng(2)
        one, other = rng.normal(size=(2, 24))
        found = vt.relate(one, other, period="month")
        self.assertEqual(found.verdict, "cannot be said")
        self.assertIn("3 years are needed", found.sentence())
        self.assertIn("name the period", vt.relate(one, other, in_time=True).sentence())
        self.assertNotEqual(vt.relate(one, other, period="year").verdict, "cannot be said")
        self.assertIn("does not vary", vt.relate(range(40), range(40), period="month").sentence())
        with_gaps = [*one, *one]
        with_gaps[5] = None
        self.assertEqual(vt.relate(with_gaps, [*other, *other], period="month").timed.changes, 45)

    def test_months_and_years_by_name_are_in_time(self) -> None:
        months = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"]
        for labels, period, order in (
            (months, "month", list(range(12))),
            (["Montag", "Dienstag", "Mittwoch"], "day", [0, 1, 2]),
            ([*months[6:], *months[:6]], "month", list(range(12))),
            (["Feb", "Jan", "Mar"], "month", [1, 0, 2]),
            (["2021", "2020", "2022"], "year", [1, 0, 2]),
            (["2026-Q1", "2026-Q2"], "quarter", [0, 1]),
        ):
            self.assertEqual(time_of(labels), (period, order), labels)
        for labels in (["Press", "Glaze"], ["1", "2", "3"], ["4.1", "8.3"]):
            self.assertIsNone(time_of(labels))
        sheet = "month,a,b\n" + "".join(f"{name},{at},{at * at}\n" for at, name in enumerate(months, 1))
        chart = ("combine", self.file(sheet), "--x", "month", "--bars", "a", "--line", "b", "--relate", "a,b")
        self.assertIn("they may share a season", " ".join(Result(*chart).out.split()))
