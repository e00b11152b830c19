"""Cutoffs: both rules, ties, several at once, and where the line crosses them; held against plain search."""

import copy
import pickle
import unittest
from decimal import Decimal
from fractions import Fraction

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

import vantric as vt
from tests.core.counts.test_pareto import SMALL, counts, tally_of
from tests.ranked import pareto
from vantric.core.counts import ParetoTable
from vantric.errors import OptionError, RankError, VantricError
from vantric.tables.pareto import pareto_sentence

percents = st.one_of(st.integers(1, 99), st.decimals(1, 99, places=2).map(float))


def leading(table: ParetoTable, percent: float, rule: str) -> int:
    """Return by plain search how many leading categories a rule takes in."""
    needed, total, running, count = Fraction(str(percent)), Fraction(table.total), Fraction(0), 0
    for row in table.rows:
        if rule == "reach" and 100 * running / total >= needed:
            break
        running += Fraction(row.frequency)
        if rule == "within" and 100 * running / total > needed:
            break
        count += 1
    return count


class Rules(unittest.TestCase):
    @given(counts, percents, st.sampled_from(["reach", "within"]), st.sampled_from(["exclude", "include"]))
    def test_the_rules_hold_by_plain_search(self, found: dict[str, int], percent: float, rule: str, ties: str) -> None:
        table = pareto(tally_of(found), cut=percent, rule=rule, ties=ties)
        cut = table.cutoff
        assert cut is not None
        first = leading(table, percent, rule)
        last = table.rows[first - 1].frequency if first else None
        tied = [row.category for row in table.rows[first:] if row.frequency == last]
        inside = first + (len(tied) if ties == "include" else 0)
        self.assertEqual((cut.count, list(cut.tied)), (inside, tied))
        self.assertEqual(cut.categories, table.categories[:inside])
        reached = table.rows[inside - 1].cumulative_percent if inside else 0.0
        self.assertEqual(cut.cumulative_percent, reached)
        self.assertEqual([row.abc for row in table.rows], ["A"] * inside + ["B"] * (len(table) - inside))

    @given(counts, percents)
    def test_the_crossing_lies_on_the_line(self, found: dict[str, int], percent: float) -> None:
        table = pareto(tally_of(found), cut=percent)
        cut = table.cutoff
        assert cut is not None
        line = np.concatenate(([0.0], table.cumulative_percents))
        self.assertAlmostEqual(float(np.interp(cut.crossing, np.arange(len(line)), line)), percent, places=6)
        self.assertLessEqual(cut.count - 1, cut.crossing)
        self.assertLessEqual(cut.crossing, cut.count)

    def test_decimals_and_floats_at_the_very_cutoff(self) -> None:
        for each in (1, 0.1, Decimal("0.1"), 1 / 3, 2**70):
            table = pareto(tally_of({f"Cell {n}": each for n in range(10)}), rule="within")
            assert table.cutoff is not None
            self.assertEqual(table.cutoff.count, 8, each)

    def test_within_may_take_in_none(self) -> None:
        table = pareto(tally_of(SMALL), cut=30, rule="within")
        assert table.cutoff is not None
        self.assertEqual((table.cutoff.count, table.cutoff.categories, table.cutoff.cumulative_percent), (0, (), 0.0))
        self.assertEqual({row.abc for row in table.rows}, {"B"})
        self.assertIn(
            "No category stays within the 30% cutoff of 231 records: “Pinhole” alone has 38.1%.", pareto_sentence(table)
        )

    def test_several_give_classes(self) -> None:
        table = pareto(tally_of(SMALL), cut=(64, 83, "95"))  # type: ignore[arg-type]
        self.assertEqual([cut.count for cut in table.cutoffs], [2, 3, 6])
        self.assertEqual("".join(str(row.abc) for row in table.rows), "AABCCCDDD")
        self.assertIn(" 3 categories reach 83% (83.5%). 6 categories reach 95% (96.1%).", pareto_sentence(table))
        self.assertEqual(pareto(tally_of(SMALL), cut="64,83,95"), table)

    def test_tables_can_be_kept_and_copied(self) -> None:
        table = vt.pareto({"a": 3, "b": 2, "c": 2}, cut=(50, 80))
        self.assertEqual(table.cutoffs[0].tied, ("c",))
        for other in (pickle.loads(pickle.dumps(table)), copy.deepcopy(table)):
            self.assertEqual((other, hash(other), other.cutoffs[0].tied), (table, hash(table), ("c",)))
        self.assertEqual(str(table.to_frame()["cumulative_percent"].dtype), "float64")
        self.assertEqual(repr(table), "<ParetoTable of 3 categories, 7 records; 50% reached by 2: a, b, c>")

    def test_cutoffs_that_cannot_be(self) -> None:
        for cut, words in [
            ((95, 80), "cutoffs ascend, such as 80,95; 80 is not above 95"),
            ((80, 80), "ascend"),
            ("80,x", "'x' is not"),
            ((80, 100), "not 100"),
            (tuple(range(1, 40)), "too many"),
        ]:
            with self.subTest(cut=cut), self.assertRaisesRegex(RankError, words):
                pareto(tally_of(SMALL), cut=cut)
        with self.assertRaisesRegex(OptionError, "not 'raech'; did you mean 'reach'"):
            pareto(tally_of(SMALL), rule="raech")
        with self.assertRaisesRegex(OptionError, "ties is one of 'exclude', 'include', not 'in'"):
            pareto(tally_of(SMALL), ties="in")

    def test_sentences(self) -> None:
        even = {f"Cell {n}": 5 for n in range(5)}
        said = pareto_sentence(pareto(tally_of(even), cut=50, ties="include"))
        self.assertIn("5 of 5 categories account for 100.0% of 25 records", said)
        self.assertIn(
            "The 50% cutoff is reached by the first 3; “Cell 3” and “Cell 4” are included because they tie", said
        )
        within = pareto_sentence(pareto(tally_of(SMALL), rule="within"))
        self.assertIn(
            "2 of 9 categories account for 64.5% of 231 records: “Pinhole” and “Warping”. They are the most that stay",
            within,
        )
        one = pareto_sentence(pareto(tally_of({"a": 70, "b": 30}), rule="within"))
        self.assertIn("“a”, accounts for 70.0% of 100 records and alone stays within the 80% cutoff.", one)
        tied = pareto_sentence(pareto(tally_of({"a": 1, "b": 1}), cut=50, ties="include"))
        self.assertIn("reached by the first 1; “b” are included" if False else "“b” is included because it ties", tied)


class Folding(unittest.TestCase):
    @given(counts, st.integers(1, 25), st.sampled_from([None, 80]))
    def test_folding_never_changes_the_totals(self, found: dict[str, int], keep: int, cut: int | None) -> None:
        plain = pareto(tally_of(found), cut=cut)
        vital = plain.cutoff.count if plain.cutoff else 0
        if keep < vital:
            with self.assertRaisesRegex(RankError, f"use keep={vital} or more"):
                pareto(tally_of(found), cut=cut, keep=keep)
            keep = vital
        table = pareto(tally_of(found), cut=cut, keep=keep)
        self.assertEqual((table.total, table.size), (plain.total, plain.size))
        self.assertEqual(sum(row.frequency for row in table.rows), plain.total)
        self.assertEqual(table.rows[-1].cumulative_percent, 100.0)
        self.assertEqual(table.rows[-1].cumulative_frequency, plain.total)
        self.assertEqual(table.cutoffs, plain.cutoffs)
        self.assertEqual(table.rows[:keep], plain.rows[:keep])
        if keep < plain.size:
            assert table.rest is not None
            self.assertEqual((len(table), table.categories[-1]), (keep + 1, "Other"))
            self.assertEqual((table.rows[-1].rank, table.rows[-1].abc), (None, None))
            self.assertEqual(table.rest.categories, plain.categories[keep:])
        else:
            self.assertIsNone(table.rest)

    def test_floats_fold_to_the_same_total(self) -> None:
        found = {f"c{n}": 0.1 * (n + 1) for n in range(30)}
        table = pareto(tally_of(found), cut=None, keep=3)
        self.assertEqual(table.rows[-1].cumulative_frequency, table.total)
        self.assertEqual(table.rows[-1].cumulative_percent, 100.0)

    def test_below_a_percent_means_strictly_below(self) -> None:
        found = {"a": 90, "b": 5, "c": 3, "d": 2}
        self.assertEqual(pareto(tally_of(found), fold_below=3).categories, ("a", "b", "c", "Other"))
        self.assertEqual(pareto(tally_of(found), fold_below=3.01).categories, ("a", "b", "Other"))
        tenths = {f"c{n}": 0.1 for n in range(10)}
        self.assertIsNone(pareto(tally_of(tenths), cut=None, fold_below=10).rest)
        self.assertEqual(pareto(tally_of({"a": Decimal("0.97"), "b": Decimal("0.03")}), fold_below=3).rest, None)

    def test_the_rest_stands_last_whatever_its_size(self) -> None:
        table = pareto(tally_of({f"c{n}": 10 for n in range(20)} | {"big": 11}), cut=None, keep=1)
        self.assertEqual(table.categories, ("big", "Other"))
        self.assertGreater(table.rows[1].frequency, table.rows[0].frequency)
        said = pareto_sentence(table)
        self.assertIn("20 small categories with 94.8% are folded into “Other”", said)

    def test_wishes_that_cannot_be_met(self) -> None:
        for wish, words in [
            ({"keep": 0}, "keep is a whole number at least 1, not 0"),
            ({"keep": True}, "keep is a whole number"),
            ({"keep": 3, "fold_below": 2}, "give one of them"),
            ({"fold_below": 0}, "a number above 0 and at most 100"),
            ({"fold_below": float("nan")}, "a number above 0 and at most 100"),
            ({"keep": 3, "rest_label": "Scratch"}, "'Scratch' is a category already"),
            ({"keep": 3, "rest_label": " "}, "needs a label"),
            ({"keep": 1}, "would hide 'Edge chip' and 'Warping' of the vital few; use keep=3 or more"),
            ({"fold_below": 30}, "use keep=3 or more"),
            ({"keep": 1, "last": ["Size", "Bloat"], "cut": None}, "fewer than the 2 categories pinned"),
        ]:
            with self.subTest(wish=wish), self.assertRaisesRegex(VantricError, words):
                pareto(tally_of(SMALL), **wish)  # type: ignore[arg-type]

    def test_all_may_be_the_rest(self) -> None:
        table = pareto(tally_of({"a": 1, "b": 1, "c": 1}), cut=None, fold_below=50)
        self.assertEqual((table.categories, table.rows[0].cumulative_percent), (("Other",), 100.0))
        self.assertIn(
            "“a”, “b” and “c” have the largest shares, 33.3% each, of 3 records in 3 categories. 3 small categories",
            pareto_sentence(table),
        )

    def test_one_category_may_be_the_rest(self) -> None:
        table = pareto(tally_of(SMALL), keep=8, rest_label="Übrige")
        assert table.rest is not None
        self.assertEqual((table.rest.label, table.rest.categories), ("Übrige", ("Size",)))
        self.assertIn("1 small category with 0.4% is folded into “Übrige”", pareto_sentence(table))
