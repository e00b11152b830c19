"""Strata, trends and missing labels."""

from __future__ import annotations

import json
import random
import unittest
from collections.abc import Iterator
from datetime import date, timedelta
from typing import Any

import numpy as np
from scipy import stats

import vantric as vt
from tests.cli.test_cli import Result
from tests.core.statistics.test_certainty import DATA
from tests.folder import InFolder
from vantric.core.counts.cutoff import fewest_to_change
from vantric.core.statistics.significance_tests import chi_square
from vantric.core.statistics.strata import strata_of
from vantric.core.statistics.trend_tests import BEYOND, RUN, control_chart, slope_of
from vantric.errors import VantricError
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


class Slopes(unittest.TestCase):
    def test_the_slope_is_that_of_a_poisson_model(self) -> None:
        time = np.arange(12.0)
        counts = np.round(20 * np.exp(0.1 * time))
        found = slope_of(counts, np.ones(12), np.ones(12, dtype=bool), percent=False)
        assert found is not None
        self.assertAlmostEqual(found.change, np.exp(0.1), delta=0.01)
        self.assertLess(found.p, 1e-6)
        centered = time - 5.5
        total = counts.sum()
        z = (centered @ counts) / np.sqrt(total / 12 * (centered**2).sum())
        self.assertAlmostEqual(found.p, 2 * stats.norm.sf(abs(z)), places=12)

    def test_no_trend_is_said_of_none(self) -> None:
        rng = np.random.default_rng(6)
        for lift in (1.0, 0.0):
            said = 0
            for _ in range(300):
                exposure = rng.uniform(0.5, 1.5, 12)
                mean = 10 * exposure * (rng.gamma(4, 1 / 4, 12) if lift else 1.0)
                found = slope_of(rng.poisson(mean).astype(float), exposure, np.ones(12, dtype=bool), percent=False)
                said += found is not None and found.p <= 0.05
            self.assertLessEqual(said / 300, 0.05 + 3 * np.sqrt(0.05 * 0.95 / 300))

    def test_what_has_no_slope(self) -> None:
        whole = np.ones(3, dtype=bool)
        self.assertIsNone(slope_of(np.ones(3), np.ones(3), whole, percent=False))
        self.assertIsNone(slope_of(np.zeros(9), np.ones(9), np.ones(9, dtype=bool), percent=False))
        steep = slope_of(np.array([0.0, 0, 0, 0, 60]), np.ones(5), np.ones(5, dtype=bool), percent=False)
        assert steep is not None
        self.assertGreater(steep.p, 0.05, "one month of five, however high, is no trend")


class Charts(unittest.TestCase):
    def test_limits_are_the_published_ones(self) -> None:
        counts, basis = np.array([12.0, 9, 15, 11]), np.array([100.0, 90, 110, 100])
        found = control_chart(counts, basis, np.ones(4, dtype=bool), scale=100)
        center = counts.sum() / basis.sum()
        self.assertAlmostEqual(found.center, 100 * center)
        for point, e in zip(found.points, basis, strict=True):
            self.assertAlmostEqual(point.upper, 100 * (center + 3 * np.sqrt(center / e)))
            self.assertAlmostEqual(point.lower, 100 * max(0, center - 3 * np.sqrt(center / e)))
        shares = control_chart(counts, basis, np.ones(4, dtype=bool), scale=100, percent=True)
        self.assertAlmostEqual(shares.points[0].upper, 100 * (center + 3 * np.sqrt(center * (1 - center) / 100)))
        self.assertEqual((found.kind, shares.kind), ("u", "p"))

    def test_counts_that_vary_more_have_wider_limits(self) -> None:
        counts = np.array([100.0, 180, 90, 190, 110, 170, 95, 185, 105, 175])
        found = control_chart(counts, np.ones(10), np.ones(10, dtype=bool))
        center = counts.mean()
        z = (counts - center) / np.sqrt(center)
        self.assertLess(found.dispersion_p, 0.05)
        self.assertAlmostEqual(found.widening, np.abs(np.diff(z)).mean() / 1.128)
        self.assertEqual(found.signals, ())
        self.assertEqual(control_chart(np.full(8, 100.0), np.ones(8), np.ones(8, dtype=bool)).widening, 1.0)

    def test_signals_are_named_by_rule(self) -> None:
        counts = np.array([50.0] * 9 + [95] + [50] * 5)
        self.assertIn((9, BEYOND), control_chart(counts, np.ones(15), np.ones(15, dtype=bool)).signals)
        steps = np.array([100.0] * 10 + [116] * 10)
        self.assertTrue(
            any(rule == RUN for _, rule in control_chart(steps, np.ones(20), np.ones(20, dtype=bool)).signals)
        )

    def test_chance_alone_gives_few_signals(self) -> None:
        rng = np.random.default_rng(1)
        for mean in (0.5, 3, 30):
            signals = sum(
                len(
                    [
                        1
                        for _, rule in control_chart(one, np.ones(24), np.ones(24, dtype=bool)).signals
                        if rule == BEYOND
                    ]
                )
                for one in rng.poisson(mean, size=(300, 24)).astype(float)
            )
            self.assertLess(signals / 300 / 24, 0.006, mean)


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
            r"^Over 12 months, 1 of 2 tested has a statistically significant trend\. “Rising” rises by \d",
        )
        self.assertEqual(found.chart().panels[0].period, "month")
        rates = vt.trend(self.log(), "defect", date="date", per="pieces", per_units=100)
        self.assertEqual((rates.measure, rates.unit), ("rate", "records per 100 pieces"))
        point = rates.rows[0].chart.points[0]
        assert rates.exposures is not None
        self.assertAlmostEqual(point.value, 100 * rates.rows[0].counts[0] / rates.exposures[0])
        only = vt.trend(self.log(), "defect", date="date", categories=["Steady"])
        self.assertIn("there is no evidence of a trend of “Steady”", only.sentence())
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
        dates = [f"2026-0{month}-{day:02d}" for month in (1, 2, 3, 5, 6) for day in range(1, 29)]
        pieces = {"2026-01": 50, "2026-02": 50, "2026-03": 50, "2026-04": 0, "2026-05": 50, "2026-06": 50}
        found = vt.trend({"d": ["a"] * len(dates), "t": dates}, "d", date="t", per=pieces)
        self.assertTrue(
            found.sentence().startswith("Over 5 whole months there is no evidence of a trend of “a”."), found.sentence()
        )

    def test_few_periods_say_so(self) -> None:
        start = date(2026, 1, 1)
        days = [(start + timedelta(days=at)).isoformat() for at in range(59)]
        found = vt.trend({"d": ["a"] * 59, "t": days}, "d", date="t")
        self.assertIn("2 whole months are too few: four are needed", found.sentence())
        self.assertEqual(found.beyond, ())
