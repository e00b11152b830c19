"""Strata, partial periods and missing labels."""

from __future__ import annotations

import json
import random
import unittest
from collections.abc import Iterator
from datetime import date
from typing import Any

import numpy as np
from scipy import stats

import vantric as vt
from tests.cli.test_cli import Result
from tests.core.statistics.test_certainty import DATA
from vantric.core.counts.cutoff import fewest_to_change
from vantric.core.statistics.significance_tests import chi_square
from vantric.core.statistics.strata import strata_of
from vantric.reading.dates import partial_ends


def log(counts: dict[tuple[str, str], int]) -> dict[str, list[str]]:
    pairs = [pair for pair, number in counts.items() for _ in range(number)]
    return {"d": [one for one, _ in pairs], "s": [other for _, other in pairs]}


class Strata(unittest.TestCase):
    def test_the_test_is_the_textbooks(self) -> None:
        counts = np.array([[40.0, 22, 31], [18, 30, 25], [12, 9, 14]])
        statistic, p, simulated = chi_square(counts, np.random.default_rng(1))
        wanted = stats.chi2_contingency(counts, correction=False)
        self.assertAlmostEqual(statistic, wanted.statistic)
        self.assertAlmostEqual(p, wanted.pvalue)
        self.assertFalse(simulated)

    def test_small_tables_are_drawn_with_their_margins(self) -> None:
        for table in ([[3, 1], [1, 3]], [[5, 0, 1], [0, 2, 4]], [[2, 0], [1, 4], [0, 2]]):
            counts = np.array(table, dtype=float)
            statistic, p, simulated = chi_square(counts, np.random.default_rng(1))
            self.assertTrue(simulated)
            self.assertAlmostEqual(p, self.exact(counts, statistic), delta=0.02)

    @staticmethod
    def exact(counts: np.ndarray, statistic: float) -> float:
        """Return the p-value over all orders of the labels, drawn by SciPy."""
        rows, columns = counts.sum(axis=1).astype(int), counts.sum(axis=0).astype(int)
        tables = stats.random_table(rows, columns).rvs(size=20_000, random_state=np.random.default_rng(2))
        expected = np.outer(rows, columns) / rows.sum()
        return float((((tables - expected) ** 2 / expected).sum(axis=(1, 2)) >= statistic - 1e-9).mean())

    def test_a_lead_turns_round_only_where_there_is_a_sure_leader(self) -> None:
        sure = {("a", "x"): 120, ("b", "x"): 30, ("c", "x"): 50, ("a", "y"): 20, ("b", "y"): 50, ("c", "y"): 30}
        found = strata_of(vt.crosstab(log(sure), "d", "s"))
        assert found is not None
        self.assertEqual([(one.first, one.stratum, one.first_there) for one in found.reversals], [("a", "y", "b")])
        draw, turned = np.random.default_rng(3), 0
        for _ in range(150):  # two that are tied over all, and turned round in one of two strata
            cells = [draw.multinomial(100, shares) for shares in ((0.6, 0.2, 0.2), (0.2, 0.6, 0.2))]
            pairs = {(name, f"s{n}"): int(cell[at]) for n, cell in enumerate(cells) for at, name in enumerate("abc")}
            found = strata_of(vt.crosstab(log(pairs), "d", "s"))
            turned += found is not None and bool(found.reversals)
        self.assertLessEqual(turned / 150, 0.05)

    def test_cells_that_stand_out(self) -> None:
        table = vt.crosstab(log({("a", "x"): 70, ("b", "x"): 30, ("a", "y"): 20, ("b", "y"): 80}), "d", "s")
        found = strata_of(table)
        assert found is not None
        expected = 45.0
        residual = (70 - expected) / np.sqrt(expected * (1 - 90 / 200) * (1 - 100 / 200))
        self.assertAlmostEqual(
            next(one for one in found.cells if (one.category, one.stratum) == ("a", "x")).residual, residual
        )
        self.assertIn("“x” has more of “a” than its share (70.0% there, 45.0% of all)", found.sentence())
        self.assertEqual(found.reversals, (), "90 and 110 of all: neither is surely the first")
        even = strata_of(vt.crosstab(log({("a", "x"): 50, ("b", "x"): 50, ("a", "y"): 49, ("b", "y"): 51}), "d", "s"))
        assert even is not None
        self.assertTrue(even.sentence().startswith("The labels of “s” show no evidence of a difference"))
        self.assertIsNone(strata_of(vt.crosstab(log({("a", "x"): 5, ("a", "y"): 6}), "d", "s")))

    def test_said_with_the_table(self) -> None:
        found = json.loads(
            Result("pareto", DATA / "inspections.csv", "--by", "defect", "--split", "kiln", "--format", "json").out
        )
        self.assertIn("sentence", found["strata_test"])
        self.assertFalse(found["strata_test"]["differ"])
        out = Result("tally", DATA / "inspections.csv", "--by", "product", "--split", "kiln").out
        self.assertIn("“kiln”", out)

    def test_strata_of_one_mix_name_no_cell(self) -> None:
        rng = np.random.default_rng(5)
        named = 0
        for _ in range(150):
            rows = [(f"c{at}", f"s{rng.integers(4)}") for at in rng.integers(8, size=300)]
            found = strata_of(vt.crosstab({"d": [a for a, _ in rows], "s": [b for _, b in rows]}, "d", "s"))
            named += found is not None and bool(found.cells or found.reversals)
        self.assertLessEqual(named / 150, 0.05 + 3 * np.sqrt(0.05 * 0.95 / 150))

    def test_very_many_cells_are_not_tested(self) -> None:
        names = [f"c{at % 150}" for at in range(30_000)]
        table = vt.pareto({"d": names, "s": [f"s{at // 150}" for at in range(30_000)]}, "d", split="s")
        self.assertIn("too many cells to test", table.to_dict()["strata_test"]["reason"])

    def test_clustered_strata_say_less(self) -> None:
        rows = [("a", "x")] * 12 + [("b", "x")] * 6 + [("a", "y")] * 6 + [("b", "y")] * 12
        data = {"d": [one for one, _ in rows], "s": [other for _, other in rows], "n": [10] * len(rows)}
        plain, heavy = strata_of(vt.crosstab(data, "d", "s")), strata_of(vt.crosstab(data, "d", "s", count="n"))
        assert plain is not None
        assert heavy is not None
        self.assertAlmostEqual(plain.statistic, heavy.statistic)


class PartialPeriods(unittest.TestCase):
    def told(self, days: np.ndarray[Any, Any]) -> tuple[bool, bool]:
        ends = partial_ends([date.fromordinal(int(day)) for day in np.unique(days)], "month")
        return any("before" in words for _, words in ends), any("after" in words for _, words in ends)

    def test_a_gap_is_told_where_the_logs_own_rate_makes_it_unlikely(self) -> None:
        draw, first = np.random.default_rng(5), date(2023, 1, 1).toordinal()
        year = np.arange(first, first + 365)
        weekdays = np.array([day for day in year if date.fromordinal(int(day)).weekday() < 5])
        self.assertEqual(self.told(weekdays[1:]), (False, False))
        self.assertEqual(self.told(weekdays[::5]), (False, False))
        false, found = np.zeros(2), np.zeros(2)
        for _ in range(150):
            false += self.told(draw.choice(year, 120))
            cut = weekdays[(draw.random(len(weekdays)) < 0.7) & (weekdays >= first + 14) & (weekdays < first + 344)]
            found += self.told(cut)
        self.assertLessEqual(max(false) / 150, 0.01 + 3 * (0.01 * 0.99 / 150) ** 0.5)
        self.assertGreaterEqual(min(found) / 150, 0.97)

    def test_dates_that_name_a_period_are_no_gap(self) -> None:
        months = [date(2023 + n // 12, n % 12 + 1, 1) for n in range(72)]
        self.assertEqual(partial_ends(months, "month"), [])
        self.assertEqual(partial_ends([], "month"), [])
        self.assertEqual(partial_ends([date(2026, 3, 15)], "month"), [])


class Missing(unittest.TestCase):
    def test_the_bound_is_the_least_of_all_ways(self) -> None:
        draw = random.Random(4)
        for _ in range(40):
            counts = {f"c{at}": draw.randint(1, draw.choice([3, 8])) for at in range(draw.choice([1, 2, 3]))}
            options = {
                "rule": draw.choice(["reach", "within"]),
                "ties": draw.choice(["exclude", "include"]),
                "cut": draw.choice([50, 60, 80]),
            }
            found = fewest_to_change(vt.pareto(counts, **options))
            assert found is not None
            least = next((t for t in range(1, min(int(found), 3) + 1) if self.changes(counts, t, options)), None)
            self.assertEqual(least, found if found <= 3 else None, (counts, options))

    def test_ties_stand_in_the_order_in_which_they_are_ranked(self) -> None:
        # "r" and "p" are initials of days in some language; as labels they stand in natural order.
        for counts, least in (({"r": 17, "p": 9}, 8), ({"p": 5, "k": 7, "r": 7}, 2)):
            self.assertEqual(fewest_to_change(vt.pareto(counts, cut=50)), least, counts)

    def test_decimal_amounts_are_exact_and_long_tables_quick_enough_to_ask(self) -> None:
        table = vt.pareto({"a": 7.25, "b": 2.5, "c": 0.25})
        self.assertAlmostEqual(fewest_to_change(table) or 0, 2.1875, places=6)
        many = vt.pareto({f"c{n}": 10_000_000 // (n + 1) for n in range(5000)})
        self.assertEqual(fewest_to_change(many), self.by_definition(many))

    @staticmethod
    def by_definition(table: vt.ParetoTable) -> int:
        """Return the least by which the first outside overtakes the last inside, or the line moves past one."""
        counts, few, total = [int(value) for value in table.frequency.values()], table.cutoff.count, int(table.total)
        ways = [counts[few - 1] - counts[few] + 1, 5 * sum(counts[: few - 1]), 0]
        ways[1] = -((5 * sum(counts[: few - 1]) - 4 * total) // 1)
        ways[2] = (5 * sum(counts[:few]) - 4 * total) // 4 + 1
        return min(way for way in ways if way > 0)

    @classmethod
    def changes(cls, counts: dict[str, int], more: int, options: dict[str, object]) -> bool:
        """Whether so many more, of whatever labels, change the vital few."""
        before = set(vt.pareto(counts, **options).cutoff.categories)
        names = [*counts, "!a", "~b"]
        return any(
            set(vt.pareto({name: value for name, value in one.items() if value}, **options).cutoff.categories) != before
            for one in cls.dealt(counts, names, more)
        )

    @classmethod
    def dealt(cls, counts: dict[str, int], names: list[str], more: int) -> Iterator[dict[str, int]]:
        if not names:
            if not more:
                yield dict(counts)
            return
        for number in range(more + 1):
            yield from cls.dealt({**counts, names[0]: counts.get(names[0], 0) + number}, names[1:], more - number)

    def test_it_is_said_with_what_is_left_out(self) -> None:
        for labels, words in (
            (["a"] * 8 + ["b"] * 2 + [None], "Its label could change the vital few"),
            (["a"] * 70 + ["b"] * 20 + ["c"] * 10 + [None], "Its label could not change the vital few"),
            (
                ["a"] * 70 + ["b"] * 20 + ["c"] * 10 + [None] * 20,
                "are left out. As few as 11 of the 20 could change the vital few.",
            ),
        ):
            self.assertIn(words, vt.pareto(labels).sentence())
        self.assertEqual(vt.pareto(["a"] * 8 + ["b"] * 2 + [None]).to_dict()["missing"]["could_change"], 1)
        self.assertIsNone(vt.pareto(["a"] * 70 + ["b"] * 20 + ["c"] * 10 + [None]).to_dict()["missing"]["could_change"])
        self.assertIsNone(fewest_to_change(vt.pareto({"a": 3, "b": 1}, per=2)))
        self.assertIsNone(fewest_to_change(vt.pareto({"a": 3, "b": 1}, cut=None)))
