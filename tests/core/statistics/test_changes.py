"""Before and after: what changed significantly, beside an independent calculation."""

from __future__ import annotations

import json
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

import vantric as vt
from tests.cli.test_cli import Result
from tests.core.statistics.test_certainty import DATA
from tests.effort import examples
from tests.folder import InFolder
from vantric.core.statistics.changes import changes_of, findable_points, findable_ratio
from vantric.errors import RankError

SIDE = st.lists(st.integers(0, 40), min_size=2, max_size=6).filter(lambda counts: sum(counts) > 0)


def named(counts: list[int]) -> dict[str, int]:
    return {f"c{at}": count for at, count in enumerate(counts)}


def logged(counts: list[int]) -> list[str]:
    return [f"c{at}" for at, count in enumerate(counts) for _ in range(count)]


class Shares(unittest.TestCase):
    @given(SIDE, SIDE)
    @settings(max_examples=examples(60), deadline=None)
    def test_every_share_is_fishers_test_with_newcombes_interval(self, one: list[int], other: list[int]) -> None:
        found = vt.compare(logged(one), logged(other))
        changes = changes_of(found)
        size = len(found.categories) + (len(found.categories) > 1)  # and the mix
        sums = sum(one), sum(other)
        for row in changes.rows:
            at = int(row.category[1:])
            hits = [side[at] if at < len(side) else 0 for side in (one, other)]
            table = [[hits[0], sums[0] - hits[0]], [hits[1], sums[1] - hits[1]]]
            less, more = (stats.fisher_exact(table, alternative=way).pvalue for way in ("less", "greater"))
            self.assertAlmostEqual(row.p, min(1.0, 2 * min(less, more)), places=9)
            self.assertAlmostEqual(row.p_adjusted, min(1.0, row.p * size))
            ends = [
                stats.binomtest(hit, total).proportion_ci(1 - 0.05 / size, method="wilson")
                for hit, total in zip(hits, sums, strict=True)
            ]
            shares = [hit / total for hit, total in zip(hits, sums, strict=True)]
            change = shares[1] - shares[0]
            low = change - np.hypot(shares[1] - ends[1].low, ends[0].high - shares[0])
            high = change + np.hypot(ends[1].high - shares[1], shares[0] - ends[0].low)
            sure = row.p <= 0.05 / size and (low > 0 or high < 0)
            self.assertEqual(row.beyond_chance, sure)
            self.assertAlmostEqual(row.low, 100 * (low if sure else min(low, 0)), places=6)
            self.assertAlmostEqual(row.high, 100 * (high if sure else max(high, 0)), places=6)

    def test_one_and_the_same_distribution_names_nothing(self) -> None:
        rng = np.random.default_rng(7)
        shares = (1 / np.arange(1, 9)) / (1 / np.arange(1, 9)).sum()
        said = 0
        for _ in range(200):
            sides = [named(rng.multinomial(120, shares).tolist()) for _ in range(2)]
            found = vt.compare(*sides)
            said += bool(changes_of(found).beyond)
            if not changes_of(found).beyond:
                self.assertRegex(found.sentence(), "^(No evidence of a change|The mix differs)")
                self.assertNotIn("largest", found.sentence())
        self.assertLessEqual(said, 16)

    def test_what_could_have_been_found_is_found_four_times_in_five(self) -> None:
        draw = np.random.default_rng(4)
        for share, first, second, tests in ((0.3, 200, 200, 5), (0.1, 400, 400, 8), (0.3, 100, 1000, 5)):
            points = findable_points(share, first, second, 1 - 0.05 / tests) or 0.0
            before, after = draw.binomial(first, share, 1500), draw.binomial(second, share + points / 100, 1500)
            tails = stats.hypergeom.sf(after - 1, first + second, before + after, second)
            self.assertAlmostEqual((2 * tails <= 0.05 / tests).mean(), 0.8, delta=0.05)
        for count, exposures, tests in ((30, (1.0, 1.0), 5), (100, (1.0, 1.0), 8), (20, (1.0, 5.0), 8)):
            ratio = findable_ratio(count, exposures, 1 - 0.05 / tests) or 0.0
            before, after = draw.poisson(count, 1500), draw.poisson(count * ratio * exposures[1] / exposures[0], 1500)
            even = exposures[1] / sum(exposures)
            tails = stats.binom.sf(after - 1, before + after, even)
            self.assertAlmostEqual((2 * tails <= 0.05 / tests).mean(), 0.8, delta=0.07)

    def test_sides_too_small_for_any_finding_say_so(self) -> None:
        small = vt.compare({"x": 2, "y": 1}, {"x": 1, "y": 2})
        self.assertIn("With 3 and 3 records no outcome could have been statistically significant.", small.sentence())
        self.assertEqual(small.to_dict()["changes"]["could_be_found"]["possible"], False)
        large = vt.compare({"x": 40, "y": 30, "z": 30}, {"x": 38, "y": 33, "z": 29})
        self.assertIn(
            "A change of about 24 percentage points in “x” would have been found 4 times in 5.", large.sentence()
        )
        self.assertEqual(large.to_dict()["changes"]["family"], 4)
        rates = vt.compare({"x": 40, "y": 30}, {"x": 41, "y": 33}, per=(100, 100))
        self.assertRegex(
            rates.sentence(), "A rate of “x” of about 1\\.[89]\\d? times what it was would have been found"
        )

    def test_any_false_finding_is_rare_with_the_total_among_the_tests(self) -> None:
        draw, told = np.random.default_rng(9), 0
        for _ in range(300):
            sides = [named(draw.poisson([30, 15, 10, 8]).tolist()) for _ in range(2)]
            changes = changes_of(vt.compare(*sides, per=(1.0, 1.0)))
            told += bool(changes.beyond) or bool(changes.total and changes.total.beyond_chance)
        self.assertLessEqual(told / 300, 0.05 + 3 * (0.05 * 0.95 / 300) ** 0.5)

    def test_the_mix_names_no_category(self) -> None:
        one = {f"c{at:02d}": 40 for at in range(30)}
        other = {f"c{at:02d}": 40 + (14 if at % 2 else -14) for at in range(30)}
        found = vt.compare(one, other)
        self.assertTrue(
            found.sentence().startswith("The mix differs; the difference is statistically significant (p < 0.001), but")
        )
        self.assertTrue(changes_of(found).mix_differs)

    def test_sentences_lead_with_the_verdict(self) -> None:
        for one, other, words in (
            ({"a": 50, "b": 50}, {"a": 90, "b": 10}, "“b” fell from 50.0% to 10.0%"),
            ({"a": 50, "b": 50}, {"a": 51, "b": 49}, "No evidence of a change in any category."),
            ({"a": 5}, {"a": 50}, "There is one category: its share cannot change"),
        ):
            self.assertTrue(
                vt.compare(one, other).sentence().startswith(words) or words in vt.compare(one, other).sentence()
            )

    def test_numbers_that_differ_are_never_written_alike(self) -> None:
        for one, other in ((1_000_001.31, 1_000_001.34), (0.1 + 0.2, 0.3), (10**15 + 0.5, 10**15 + 1.0), (1e-9, 2e-9)):
            said = vt.compare(
                {"d": ["a", "a", "b"], "w": [one, 1, 1]}, {"d": ["a", "a", "b"], "w": [other, 1, 1]}, "d", weight="w"
            ).sentence()
            pairs = [
                part.split(" from ")[1].split(" (")[0].split(" to ") for part in said.split(". ") if " from " in part
            ]
            for _ in pairs:
                before, after = said.split(" from ")[-1].split(" (Before) to ")
                self.assertNotEqual(before, after.split(" (")[0])

    def test_what_cannot_be_said(self) -> None:
        ready = vt.compare({"a": 1.5, "b": 2}, {"a": 3, "b": 2.5})
        self.assertTrue(ready.sentence().startswith("Whether a change is statistically significant is not known: "))
        self.assertIsNone(ready.to_dict()["changes"])
        self.assertEqual(ready.to_dict()["rows"][0]["p"], None)
        with self.assertRaises(RankError):
            changes_of(ready)


class Rates(unittest.TestCase):
    @given(SIDE, SIDE, st.floats(0.2, 5))
    @settings(max_examples=examples(60), deadline=None)
    def test_every_rate_is_the_split_of_its_count(self, one: list[int], other: list[int], exposure: float) -> None:
        changes = changes_of(vt.compare(logged(one), logged(other), per=(1.0, exposure)))
        size = len(changes.rows) + (len(changes.rows) > 1)  # and the total
        even = exposure / (1 + exposure)
        for row in changes.rows:
            at = int(row.category[1:])
            before, after = (side[at] if at < len(side) else 0 for side in (one, other))
            if not before + after:
                continue
            tails = [
                stats.binomtest(after, before + after, even, alternative=way).pvalue for way in ("less", "greater")
            ]
            self.assertAlmostEqual(row.p, min(1.0, 2 * min(tails)), places=9)
            split = stats.binomtest(after, before + after).proportion_ci(1 - 0.05 / size, method="exact")
            if row.beyond_chance and split.high < 1:
                self.assertAlmostEqual(row.low, split.low / (1 - split.low) / exposure, places=6)
                self.assertAlmostEqual(row.high / (split.high / (1 - split.high) / exposure), 1, places=6)
            if not row.beyond_chance:
                self.assertTrue(row.low <= 1 and (row.high is None or row.high >= 1))

    def test_sentence(self) -> None:
        found = vt.compare(
            logged([300, 40, 20]), logged([170, 42, 19]), per=(2000, 2000), per_units=1000, per_name="pieces"
        )
        said = found.sentence()
        self.assertRegex(
            said,
            r"^“c0” fell from 150 to 85 per 1,000 pieces, to 0\.57 times what it was \(95% confidence interval "
            r"0\.\d\d–0\.\d\d\)\. This change is statistically significant; no other change was significant\.",
        )
        self.assertRegex(
            said,
            r"The rate of all categories .* fell from 180 \(Before\) to 115\.5 \(After\)\. That is .*; the change is",
        )
        gone = vt.compare(logged([60, 5]), logged([0, 5]), per=(1, 1)).sentence()
        self.assertIn("to 0.00 times what it was", gone)
        fresh = vt.compare(logged([0, 5]), logged([60, 5]), per=(1, 1)).sentence()
        self.assertIn("“c0” rose from 0 to 60", fresh)


class Clustered(InFolder):
    def test_sides_are_divided_by_what_a_record_weighs(self) -> None:
        one = {"d": ["a"] * 30 + ["b"] * 30, "n": [5] * 60}
        other = {"d": ["a"] * 45 + ["b"] * 15, "n": [5] * 60}
        clustered = changes_of(vt.compare(one, other, "d", count="n"))
        plain = changes_of(vt.compare(one["d"], other["d"]))
        self.assertEqual([row.p for row in clustered.rows], [row.p for row in plain.rows])
        self.assertIn("The records are taken as independent of each other", clustered.counted)

    def test_in_tables_json_and_pictures(self) -> None:
        log = DATA / "inspections.csv"
        options = ("--by", "defect", "--split", "shift", "--before", "Early", "--after", "Night", "--merge-spellings")
        out = Result("compare", log, *options).out
        self.assertRegex(out, r"Shade variation .* significant\n")
        self.assertIn("no other change was significant", " ".join(out.split()))
        found = json.loads(Result("compare", log, *options, "--format", "json").out)
        self.assertEqual(found["changes"]["beyond_chance"], ["Shade variation"])
        row = next(row for row in found["rows"] if row["category"] == "Shade variation")
        self.assertTrue(row["beyond_chance"] and row["high"] < 0 and row["p_adjusted"] <= 0.05)
        self.assertEqual(found["changes"]["measure"], "percent_points")
        head = Result("compare", log, *options, "--format", "csv").out.splitlines()[0]
        self.assertTrue(head.endswith("after_count,low,high,p,p_adjusted,beyond_chance"))
        shifts = vt.crosstab(log, "defect", "shift", merge_spellings=True).compare("Early", "Night")
        chart = shifts.chart(form="bars")
        after = chart.bars[1]
        self.assertEqual([chart.categories[at] for at in sorted(after.strong_places)], ["Shade variation"])
        self.assertEqual(after.roles().count("pale-2"), len(chart.categories) - 1)
        legend = [mark.text for mark in chart.plan().texts]
        self.assertLessEqual({"Night, significant change", "Night, no evidence of a change"}, set(legend))
