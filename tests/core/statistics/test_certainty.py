"""How sure a ranking is: every method beside an independent calculation of it."""

from __future__ import annotations

import json
import unittest
from importlib.resources import files
from pathlib import Path

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

import vantric as vt
from tests.cli.test_cli import Result
from tests.effort import examples
from tests.folder import InFolder
from vantric.core.messages.message import p_words
from vantric.core.statistics.ranks import (
    TablePairs,
    even_band,
    evenness_of,
    first_against_second,
    rank_ranges,
    surely_uneven,
    vital_few,
)
from vantric.core.statistics.sample import Sample, rate_intervals, share_intervals
from vantric.errors import VantricError

DATA = Path(str(files("vantric.demo") / "data"))
COUNTS = st.lists(st.integers(0, 60), min_size=2, max_size=9).filter(lambda counts: sum(counts) > 0)


def plain(counts: list[int], exposure: list[float] | None = None) -> Sample:
    """Return counts of single records as a sample, the largest first where there is no exposure."""
    values = np.array(sorted(counts, reverse=True) if exposure is None else counts, dtype=np.float64)
    every, total = np.ones(len(values)), float(values.sum())
    return Sample(
        values, total * every, every, total, total, "records", None if exposure is None else np.array(exposure)
    )


class Apart(unittest.TestCase):
    def test_a_rest_at_the_end_is_never_the_most_frequent(self) -> None:
        counts = {"a": 30, "b": 20, "c": 4, "Other": 60}
        said = vt.pareto(counts, last=["Other"]).certainty()
        self.assertTrue(said.sentence().startswith("Which is the most frequent is open: the lead of “a” over “b”"))
        self.assertEqual(said.apart, ("Other",))
        sure = vt.pareto({**counts, "a": 90}, last=["Other"]).certainty()
        self.assertTrue(sure.sentence().startswith("“a” is the most frequent: its lead over “b”"))
        self.assertTrue(vt.pareto(counts).certainty().sentence().startswith("“Other” is the most frequent"))
        alone = vt.pareto({"a": 3, "Other": 60}, last=["Other"]).certainty()
        self.assertNotIn("most frequent", alone.sentence())


class Intervals(unittest.TestCase):
    @given(COUNTS, st.sampled_from([0.9, 0.95, 0.99]))
    @settings(max_examples=examples(60), deadline=None)
    def test_of_shares_are_exact_ones_at_the_level_of_all(self, counts: list[int], level: float) -> None:
        sample = plain(counts)
        low, high = share_intervals(sample, level)
        for at, value in enumerate(sample.values.astype(int).tolist()):
            each = stats.binomtest(value, sum(counts)).proportion_ci(1 - (1 - level) / len(counts), method="exact")
            self.assertAlmostEqual(low[at], each.low, places=9)
            self.assertAlmostEqual(high[at], each.high, places=9)

    @given(COUNTS)
    @settings(max_examples=examples(40), deadline=None)
    def test_of_rates_are_those_of_garwood(self, counts: list[int]) -> None:
        exposure = [float(at + 1) for at in range(len(counts))]
        low, high = rate_intervals(plain(counts, exposure), 0.95)
        tail = 0.025 / len(counts)
        for at, value in enumerate(counts):
            self.assertAlmostEqual(low[at], stats.chi2.ppf(tail, 2 * value) / 2 / exposure[at] if value else 0.0)
            self.assertAlmostEqual(high[at], stats.chi2.ppf(1 - tail, 2 * value + 2) / 2 / exposure[at])

    def test_of_more_records_than_a_quantile_has_digits_they_are_near_and_hold_the_share(self) -> None:
        for size in (10**12, 10**16, 10**20, 10**30):
            sample = plain([size, 2 * size, 5 * size])
            low, high = share_intervals(sample, 0.95)
            for at, share in enumerate(sample.values / sample.values.sum()):
                self.assertLessEqual(low[at], share)
                self.assertGreaterEqual(high[at], share)
                self.assertLess(high[at] - low[at], 1e-4)

    def test_they_cover_as_they_say(self) -> None:
        rng = np.random.default_rng(5)
        for size, total in ((2, 1), (5, 20), (24, 20), (24, 400)):
            shares = (1 / np.arange(1, size + 1)) / (1 / np.arange(1, size + 1)).sum()
            held = 0
            for counts in rng.multinomial(total, shares, size=600):
                sample = Sample(
                    counts.astype(float), np.full(size, float(total)), np.ones(size), total, total, "records"
                )
                low, high = share_intervals(sample)
                held += bool(np.all((low <= shares) & (shares <= high)))
            self.assertGreaterEqual(held / 600, 0.95 - 3 * np.sqrt(0.95 * 0.05 / 600), (size, total))


class Ranks(unittest.TestCase):
    @staticmethod
    def by_hand(counts: list[float], level: float, exposure: list[float] | None = None) -> tuple[list[int], list[int]]:
        """Return the ranges by Holm's steps over all pairs, one at a time."""
        size = len(counts)
        share = exposure or [1.0] * size
        pairs = []
        for i in range(size):
            for j in range(size):
                if i != j and counts[i] / share[i] > counts[j] / share[j]:
                    half = share[i] / (share[i] + share[j])
                    pairs.append((stats.binom.sf(counts[i] - 1, counts[i] + counts[j], half), i, j))
        above = set()
        for step, (p, i, j) in enumerate(sorted(pairs)):
            if p > (1 - level) / (size * (size - 1) - step):
                break
            above.add((i, j))
        first = [1 + sum((j, i) in above for j in range(size)) for i in range(size)]
        return first, [size - sum((i, j) in above for j in range(size)) for i in range(size)]

    @given(COUNTS)
    @settings(max_examples=examples(80), deadline=None)
    def test_ranges_are_those_of_holm_over_all_pairs(self, counts: list[int]) -> None:
        sample = plain(counts)
        first, last = rank_ranges(sample)
        wanted = self.by_hand(sample.values.tolist(), 0.95)
        self.assertEqual((first.tolist(), last.tolist()), wanted)

    @given(COUNTS)
    @settings(max_examples=examples(40), deadline=None)
    def test_of_rates_too(self, counts: list[int]) -> None:
        exposure = [1.0 + (at * 7) % 5 for at in range(len(counts))]
        rates = [count / share for count, share in zip(counts, exposure, strict=True)]
        order = sorted(range(len(counts)), key=lambda at: -rates[at])
        counts, exposure = [counts[at] for at in order], [exposure[at] for at in order]
        first, last = rank_ranges(plain(counts, exposure))
        self.assertEqual((first.tolist(), last.tolist()), self.by_hand(list(map(float, counts)), 0.95, exposure))

    def test_many_categories_take_no_loop_over_pairs(self) -> None:
        counts = np.random.default_rng(1).poisson(np.linspace(400, 1, 10_000)).tolist()
        first, last = rank_ranges(plain(counts))
        self.assertEqual((first[0], last[-1]), (1, 10_000))
        self.assertTrue(np.all(np.diff(first) >= 0) and np.all(np.diff(last) >= 0))

    def test_the_first_against_the_second(self) -> None:
        for counts in ([10, 3, 1], [5, 5], [1, 0], [40, 22, 9]):
            wanted = min(1.0, 2 * stats.binom.sf(counts[0] - 1, counts[0] + counts[1], 0.5))
            self.assertAlmostEqual(first_against_second(plain(counts)), wanted)
        self.assertEqual(first_against_second(plain([7])), 1.0)
        self.assertGreater(first_against_second(plain([1, 0])), 0.05, "one record proves nothing")


class VitalFew(unittest.TestCase):
    """Which categories are surely vital, surely not, or open."""

    @staticmethod
    def by_hand(counts: list[float], cut: float, rule: str) -> list[int]:
        """Return the states by the two sums of each category, pair by pair."""
        size, total, states = len(counts), sum(counts), []
        sure = [[a > b and stats.binom.sf(a - 1, a + b, 0.5) <= 0.02 / (size - 1) for b in counts] for a in counts]
        for i, own in enumerate(counts):
            others = [j for j in range(size) if j != i]
            most = sum(counts[j] for j in others if not sure[i][j]) + own * (rule == "within")
            least = sum(counts[j] for j in others if sure[j][i]) + own * (rule == "within")
            high = stats.binomtest(int(most), int(total)).proportion_ci(0.95, "exact").high
            low = stats.binomtest(int(least), int(total)).proportion_ci(0.95, "exact").low
            if rule == "reach" and all(sure[i][j] for j in others):
                states.append(1)
            elif low > cut if rule == "within" else low >= cut:
                states.append(-1)
            else:
                states.append(int(high < cut))
        first_open = next((place for place, state in enumerate(states) if state < 1), size)
        last_open = next((place for place in range(size - 1, -1, -1) if states[place] > -1), -1)
        return [1 if i < first_open else -1 if i > last_open else 0 for i in range(size)]

    @given(COUNTS, st.sampled_from(["reach", "within"]), st.sampled_from([50.0, 80.0]))
    @settings(max_examples=examples(60), deadline=None)
    def test_states_are_those_of_the_sums_of_every_pair(self, counts: list[int], rule: str, cut: float) -> None:
        sample = plain(counts)
        self.assertEqual(vital_few(sample, cut, rule).tolist(), self.by_hand(sample.values.tolist(), cut / 100, rule))

    @given(COUNTS, st.sampled_from(["reach", "within"]))
    @settings(max_examples=examples(40), deadline=None)
    def test_every_pair_worked_out_gives_the_same_as_bisected_counts(self, counts: list[int], rule: str) -> None:
        sample = plain(counts)
        found = vital_few(sample, 80.0, rule, pairs=TablePairs(sample))
        self.assertEqual(found.tolist(), vital_few(sample, 80.0, rule).tolist())

    def test_a_more_frequent_category_is_never_less_sure(self) -> None:
        rng = np.random.default_rng(8)
        for _ in range(200):
            counts = rng.multinomial(int(rng.integers(1, 2000)), rng.dirichlet(np.ones(9))).tolist()
            for rule in ("reach", "within"):
                self.assertTrue(np.all(np.diff(vital_few(plain(counts), 80.0, rule)) <= 0), counts)

    def test_nothing_that_is_sure_is_wrong_more_often_than_said(self) -> None:
        rng = np.random.default_rng(61)
        truths = ([0.4, 0.4, 0.2], [0.5, 0.299, 0.101, 0.06, 0.04], [0.5, 0.301, 0.1, 0.06, 0.039], [1 / 12] * 12)
        for truth in map(np.array, truths):
            before = np.array([truth[truth > own + 1e-12].sum() for own in truth])
            for records in (20, 400):
                wrong = 0
                for counts in rng.multinomial(records, truth, size=400):
                    order = np.argsort(-counts, kind="stable")
                    state = vital_few(plain(counts.tolist()), 80.0, "reach")
                    is_vital = (before < 0.8 - 1e-12)[order]
                    wrong += bool(np.any((state > 0) & ~is_vital | (state < 0) & is_vital))
                self.assertLessEqual(wrong / 400, 0.05 + 3 * np.sqrt(0.05 * 0.95 / 400), (truth, records))

    def test_few_records_leave_all_open_and_many_none(self) -> None:
        self.assertEqual(set(vital_few(plain([2, 1, 1]), 80.0, "reach").tolist()), {0})
        self.assertEqual(vital_few(plain([60_000, 25_000, 15_000]), 80.0, "reach").tolist(), [1, 1, -1])
        self.assertEqual(vital_few(plain([60_000, 25_000, 15_000]), 80.0, "within").tolist(), [1, -1, -1])

    def test_records_of_several_pieces_are_as_sure_as_their_number(self) -> None:
        log = {"d": ["a"] * 60 + ["b"] * 25 + ["c"] * 15, "n": [40] * 100}
        pieces, records = vt.pareto(log, "d", count="n").certainty(), vt.pareto(log, "d").certainty()
        self.assertEqual([row.vital for row in pieces.rows], [row.vital for row in records.rows])
        self.assertTrue(vt.pareto({"a": 6000, "b": 2500, "c": 1500}).certainty().settled)
        self.assertFalse(vt.pareto({"a": 6, "b": 3, "c": 1}).certainty().settled)

    def test_sentences_of_every_combination(self) -> None:
        for counts, cut, words in (
            (
                {"A": 600, "B": 250, "C": 150},
                80,
                "With 95% confidence, “A” and “B” are among the vital few and “C” is not.",
            ),
            (
                {"A": 500, "B": 300, "C": 200},
                80,
                "With 95% confidence, “A” and “B” are among the vital few; “C” is open.",
            ),
            ({"A": 2, "B": 1, "C": 1}, 80, "Which categories are among the vital few is open (at 95% confidence)."),
            ({"A": 500, "B": 480}, 80, "With 95% confidence, “A” and “B” are among the vital few."),
            (
                {"A": 800, "B": 500, "C": 2},
                50,
                "With 95% confidence, “A” is among the vital few and “B” and “C” are not.",
            ),
        ):
            self.assertIn(words, vt.pareto(counts, cut=cut).certainty().sentence())
        within = vt.pareto({"A": 900, "B": 70, "C": 30}, rule="within").certainty().sentence()
        self.assertIn("With 95% confidence, “A”, “B” and “C” are not among the vital few.", within)


class Evenness(unittest.TestCase):
    def test_it_is_the_textbooks_test(self) -> None:
        found = evenness_of(plain([30, 22, 18, 10]), np.random.default_rng(1))
        wanted = stats.chisquare([30, 22, 18, 10])
        self.assertAlmostEqual(found.statistic, wanted.statistic)
        self.assertAlmostEqual(found.p, wanted.pvalue)
        self.assertFalse(found.simulated)

    def test_few_records_are_drawn_at_random(self) -> None:
        found = evenness_of(plain([4, 1, 0]), np.random.default_rng(1))
        every = [(a, b, 5 - a - b) for a in range(6) for b in range(6 - a)]
        law = stats.multinomial(5, [1 / 3] * 3)
        exact = sum(
            law.pmf(one)
            for one in every
            if sum((x - 5 / 3) ** 2 for x in one) >= sum((x - 5 / 3) ** 2 for x in (4, 1, 0)) - 1e-9
        )
        self.assertTrue(found.simulated)
        self.assertAlmostEqual(found.p, exact, delta=0.02)

    def test_what_is_surely_uneven_is_never_even(self) -> None:
        rng = np.random.default_rng(3)
        for _ in range(300):
            size = int(rng.integers(2, 30))
            counts = rng.multinomial(int(rng.integers(1, 3000)), rng.dirichlet(np.full(size, 20.0))).tolist()
            sample = plain(counts)
            if surely_uneven(sample):
                self.assertLess(evenness_of(sample, rng).p, 1e-6)

    def test_the_band_holds_all_bars_at_once(self) -> None:
        rng = np.random.default_rng(4)
        low, high = even_band(plain([25] * 8), 0.95, rng)
        outside = 0
        for table in rng.multinomial(200, np.full(8, 1 / 8), size=2000):
            ranked = np.sort(table)[::-1] / 200
            outside += bool(np.any((ranked < low - 1e-12) | (ranked > high + 1e-12)))
        self.assertLess(outside / 2000, 0.07)
        self.assertGreater(outside / 2000, 0.01)
        self.assertIsNone(even_band(plain([1] * 1001), 0.95, rng))


class Sentences(InFolder):
    counts = {"Pinhole": 88, "Warping": 61, "Edge chip": 44, "Scratch": 38, "Stain": 3}

    def test_it_says_what_is_sure_and_what_is_not(self) -> None:
        sure = vt.pareto(self.counts).certainty()
        self.assertEqual([row.category for row in sure.rows], list(self.counts))
        for row in sure.rows:
            self.assertTrue(row.low < row.percent < row.high)
            self.assertTrue(row.lowest_rank <= row.rank <= row.highest_rank)
            self.assertLess(row.even_low, row.even_high)
        self.assertTrue(sure.rows[-1].even_low < 20 < sure.rows[0].even_high)
        self.assertEqual(sure, vt.pareto(self.counts).certainty(), "the same start gives the same")
        self.assertNotEqual(sure, vt.pareto(self.counts).certainty(start=2))
        said = sure.sentence()
        self.assertTrue(
            said.startswith(
                "“Pinhole” is the most frequent: its lead over “Warping” is statistically significant (p = 0.033)."
            ),
            said,
        )
        self.assertIn(
            "With 95% confidence, “Pinhole” and “Warping” are among the vital few and “Stain” is not; “Edge chip” and "
            "“Scratch” are open.",
            said,
        )
        self.assertIn("234 occurrences, taken as independent of each other.", said)
        none = vt.pareto(self.counts, cut=None).certainty()
        self.assertIsNone(none.rows[0].vital)
        self.assertNotIn("vital few", none.sentence())
        other = vt.pareto(self.counts, order="label", cut=None).certainty()
        self.assertEqual([row.category for row in other.rows], list(self.counts))

    def test_a_claim_needs_evidence(self) -> None:
        for data, words in (
            (["A"], "There is one category, “A”: nothing is ranked"),
            (["A", "B"], "Which is the most frequent is open: “A” and “B” are equally frequent"),
            (["A", "A", "B"], "the lead of “A” over “B” is not statistically significant"),
            ({"A": 5, "B": 5, "C": 5, "D": 5}, "All categories may be equally likely"),
        ):
            said = vt.pareto(data).certainty().sentence()
            self.assertIn(words, said)
            self.assertNotRegex(said, "is the most frequent: its lead")
            self.assertNotIn("100%", said)
        one = vt.pareto({"d": ["A"], "n": [40]}, "d", count="n").certainty()
        self.assertLess(one.rows[0].low, 5, "one record of forty pieces")

    def test_clustered_records_are_named(self) -> None:
        sure = vt.pareto(DATA / "inspections.csv", "defect", count="pieces").certainty()
        self.assertIn("19,700 pieces in 3,834 records count as about 1,990 independent records", sure.sentence())
        self.assertEqual(sure.basis, "clustered")
        plain_ = vt.pareto(DATA / "inspections.csv", "defect").certainty()
        wide = sure.rows[0].high - sure.rows[0].low
        self.assertGreater(wide, plain_.rows[0].high - plain_.rows[0].low)

    def test_rates_have_intervals_in_their_own_unit(self) -> None:
        table = vt.pareto({"a": 30, "b": 12, "c": 3}, per={"a": 100, "b": 30, "c": 20}, per_units=100)
        sure = table.certainty()
        self.assertEqual(sure.measure, "rate")
        for row, rate in zip(sure.rows, table.frequency.values(), strict=True):
            self.assertTrue(row.low < rate < row.high)
            self.assertIsNone(row.even_low)
        self.assertIn("which has the highest rate is open", sure.sentence().lower())
        self.assertIn("unsure-rates", {finding.code for finding in table.review()})

    def test_folded_tables_have_an_interval_of_the_rest(self) -> None:
        table = vt.pareto(self.counts | {"x": 2, "y": 1}, keep=5)
        sure = table.certainty()
        assert sure.rest is not None
        self.assertTrue(sure.rest[0] < 100 * 3 / 237 < sure.rest[1])
        chart = table.chart(intervals=True)
        self.assertEqual(len(chart.bars[0].spreads), 6)
        self.assertEqual(chart.bars[0].band, ())
        self.assertIsNone(vt.pareto(self.counts).certainty().rest)

    def test_words_have_no_more_digits_than_they_bear(self) -> None:
        self.assertEqual(
            [p_words(p) for p in (0.0001, 0.0333, 0.34, 1.0)], ["p < 0.001", "p = 0.033", "p = 0.34", "p = 1"]
        )

    def test_unseen_labels_are_not_promised(self) -> None:
        note = "do not cover labels first found"
        self.assertIn(note, vt.pareto(["a", "b", "a"]).certainty().sentence())
        self.assertNotIn(note, vt.pareto({"a": 3, "b": 2}).certainty().sentence())
        listed = vt.pareto(["a", "b", "a"], order=["a", "b"], cut=None).certainty()
        self.assertNotIn(note, listed.sentence())

    def test_wrong_options(self) -> None:
        with self.assertRaisesRegex(VantricError, "between 0 and 1"):
            vt.pareto(self.counts).certainty(level=1.5)
        self.assertEqual(vt.pareto({"a": 10**20, "b": 1}).certainty().rows[0].lowest_rank, 1)

    def test_in_pictures_and_tables(self) -> None:
        chart = vt.pareto_chart(self.counts, intervals=True)
        plan = chart.plan()
        self.assertEqual(len([rule for rule in plan.rules if rule.role == "interval"]), 15)
        self.assertEqual([area.role for area in plan.areas], ["band"])
        self.assertIn("intervals, all shares at once", chart.note)
        legend = [mark.text for mark in plan.texts if mark.role == "legend"]
        self.assertLessEqual({"95% confidence interval", "If all were equally likely"}, set(legend))
        log = DATA / "inspections.csv"
        with self.assertRaisesRegex(VantricError, "take the panels"):
            vt.pareto_chart(log, "defect", split="shift", intervals=True)
        panels = vt.pareto_chart(log, "defect", split="shift", panels=True, intervals=True)
        self.assertTrue(all(panel.bars[0].spreads for panel in panels.panels))
        self.assertIn("within each panel", panels.note)
        folded = vt.pareto_chart(log, "defect", split="shift", panels=True, intervals=True, keep=8, count="pieces")
        for panel in folded.panels:
            for value, (low, high) in zip(panel.bars[0].values, panel.bars[0].spreads, strict=True):
                self.assertTrue(low < value < high, panel.title)
        drilled = vt.pareto_chart(log, drill=["kiln", "defect"], intervals=True)
        self.assertTrue(all(panel.bars[0].spreads for panel in drilled.panels))
        options = ("--by", "product", "--intervals")
        out = Result("pareto", log, *options).out
        self.assertRegex(out, r"Terra 30x30 +\d+\.\d–\d+\.\d +1 +sure")
        found = json.loads(Result("pareto", log, *options, "--format", "json").out)
        self.assertEqual(len(found["certainty"]["rows"]), 4)
        self.assertEqual({row["chance"] for row in found["certainty"]["rows"]}, {None}, "kept for one edition")
        self.assertEqual(
            found["rows"], json.loads(Result("pareto", log, "--by", "product", "--format", "json").out)["rows"]
        )
        head = Result("pareto", log, *options, "--format", "csv").out.splitlines()[0]
        self.assertTrue(head.endswith("abc,low,high,lowest_rank,highest_rank,vital,even_low,even_high"))
        for ending in ("xlsx", "png", "md", "html"):
            self.assertEqual(Result("pareto", log, *options, "--out", self.folder / f"c.{ending}").status, 0)
        weighed = Result("pareto", log, *options, "--weight", "rework_cost")
        self.assertEqual(weighed.status, 0)
        self.assertIn("rework cost in 4,000 records count as about", " ".join(weighed.out.split()))

    def test_concentration(self) -> None:
        even = vt.pareto({name: 25 for name in "abcd"}).concentration()
        self.assertEqual((even.effective, even.gini), (4.0, 0.0))
        self.assertTrue(even.effective_interval[0] < 4.0 <= even.effective_interval[1] + 1e-9)
        uneven = vt.pareto({"a": 97, "b": 1, "c": 1, "d": 1}).concentration()
        self.assertAlmostEqual(uneven.effective, 1 / (0.97**2 + 3 * 0.01**2))
        self.assertTrue(uneven.gini_interval[0] <= uneven.gini <= uneven.gini_interval[1] < 1)
        self.assertIn("one category", vt.pareto(["a"]).concentration().sentence())
        out = Result("pareto", DATA / "inspections.csv", "--by", "defect", "--concentration")
        self.assertIn("equally frequent ones would be", " ".join(out.out.split()))
        with self.assertRaisesRegex(VantricError, "not of rates|rates have no total"):
            vt.pareto({"a": 1, "b": 2}, per=3).concentration()
