"""The Pareto table: ranking, cumulation, cutoff, ties."""

import unittest
from decimal import Decimal
from fractions import Fraction
from itertools import pairwise

from hypothesis import given
from hypothesis import strategies as st

from tests.ranked import pareto
from vantric.core.counts import Missing, ParetoTable, Provenance, Tally
from vantric.core.counts.tally import make_tally
from vantric.core.numbers.label_order import natural_key
from vantric.core.review import review_pareto, review_tally
from vantric.errors import RankError
from vantric.tables.pareto import pareto_sentence


def tally_of(counts: dict[str, object], missing: int = 0, by: str | None = "defect") -> Tally:
    groups = [*counts.items(), *([(None, missing)] if missing else [])]
    return make_tally(groups, Provenance(by=by, input_rows=len(groups)))  # type: ignore[arg-type]


SMALL = {
    "Warping": 61,
    "Pinhole": 88,
    "Edge chip": 44,
    "Scratch": 13,
    "Crawl": 9,
    "Shade": 7,
    "Crack": 5,
    "Bloat": 3,
    "Size": 1,
}
labels = st.text("abc019 ", min_size=1, max_size=4).filter(str.strip)
counts = st.dictionaries(labels, st.one_of(st.integers(0, 12), st.integers(0, 2**70)), min_size=1, max_size=25).filter(
    lambda found: sum(found.values()) > 0
)


class Table(unittest.TestCase):
    def test_the_worked_example(self) -> None:
        table = pareto(tally_of(SMALL, missing=9))
        self.assertEqual(table.categories[:3], ("Pinhole", "Warping", "Edge chip"))
        self.assertEqual((table.total, table.missing), (231, Missing(9, 9)))
        row = table.rows[2]
        self.assertEqual((row.rank, row.frequency, row.cumulative_frequency, row.abc), (3, 44, 193, "A"))
        self.assertAlmostEqual(row.cumulative_percent, 100 * 193 / 231, places=12)
        cut = table.cutoff
        assert cut is not None
        self.assertEqual((cut.count, cut.rule, cut.tied), (3, "reach", ()))
        self.assertEqual(table.rows[3].abc, "B")
        self.assertEqual(table.rows[-1].cumulative_percent, 100)

    @given(counts)
    def test_the_rules_of_number_hold(self, found: dict[str, int]) -> None:
        table = pareto(tally_of(found))
        self.assertEqual(sorted(table.categories), sorted(found))
        ranked = [(-row.frequency, natural_key(row.category)) for row in table.rows]
        self.assertEqual(ranked, sorted(ranked))
        last = table.rows[-1]
        self.assertEqual((last.cumulative_percent, last.cumulative_frequency), (100.0, sum(found.values())))
        for before, after in pairwise(table.rows):
            self.assertEqual(after.cumulative_frequency, before.cumulative_frequency + after.frequency)
            self.assertLessEqual(before.cumulative_percent, after.cumulative_percent)

    @given(counts, st.one_of(st.integers(1, 99), st.decimals(1, 99, places=2)))
    def test_reach_takes_the_fewest_leading_categories(self, found: dict[str, int], percent: int | Decimal) -> None:
        table = pareto(tally_of(found), cut=float(percent))
        needed, total, running = Fraction(str(float(percent))), sum(found.values()), 0
        fewest = 0
        while Fraction(100 * running, total) < needed:
            running += table.rows[fewest].frequency
            fewest += 1
        cut = table.cutoff
        assert cut is not None
        self.assertEqual((cut.count, cut.categories), (fewest, table.categories[:fewest]))
        tied = [row.category for row in table.rows[fewest:] if row.frequency == table.rows[fewest - 1].frequency]
        self.assertEqual(list(cut.tied), tied)

    @given(counts, st.randoms())
    def test_the_order_of_the_input_changes_nothing(self, found: dict[str, int], chance: object) -> None:
        items = list(found.items())
        chance.shuffle(items)  # type: ignore[attr-defined]
        self.assertEqual(pareto(tally_of(dict(items))), pareto(tally_of(found)))

    def test_eight_of_ten_equal_categories_reach_80_percent_always(self) -> None:
        for each in (1, 0.1, Decimal("0.1"), 1e-300, 1 / 3, 2**70):
            table = pareto(tally_of({f"Cell {n}": each for n in range(10)}))
            assert table.cutoff is not None
            self.assertEqual(table.cutoff.count, 8, each)
            self.assertEqual(table.cutoff.tied, ("Cell 8", "Cell 9"))
            self.assertEqual(table.rows[-1].cumulative_percent, 100.0)

    def test_ties_stand_in_natural_label_order_and_are_told(self) -> None:
        table = pareto(tally_of({"Kiln 10": 4, "Kiln 2": 4, "kiln 1": 4, "Kiln 3": 1}))
        self.assertEqual(table.categories, ("kiln 1", "Kiln 2", "Kiln 10", "Kiln 3"))
        self.assertEqual(table.ties, (("kiln 1", "Kiln 2", "Kiln 10"),))
        self.assertEqual([finding.code for finding in review_pareto(table)], ["ties"])

    def test_floats_tie_within_a_billionth_chained(self) -> None:
        table = pareto(tally_of({"b": 1.0, "a": 1.0 - 8e-10, "c": 1.0 - 16e-10, "d": 0.9}))
        self.assertEqual(table.ties, (("a", "b", "c"),))
        self.assertEqual(pareto(tally_of({"b": 1.0, "a": 1.0 - 2e-9})).ties, ())
        self.assertEqual(pareto(tally_of({"b": 10**18, "a": 10**18 - 1})).ties, ())

    def test_zero_frequencies_stay(self) -> None:
        table = pareto(tally_of({"a": 3, "b": 0}))
        self.assertEqual([row.frequency for row in table.rows], [3, 0])
        self.assertEqual(table.rows[1].percent, 0)

    def test_without_a_cutoff(self) -> None:
        table = pareto(tally_of(SMALL), cut=None)
        self.assertEqual((table.cutoff, table.cutoffs, table.rows[0].abc), (None, (), None))

    def test_nothing_to_rank(self) -> None:
        for tally, words in [
            (tally_of({}), "holds no records|nothing to rank"),
            (tally_of({}, missing=3), "'defect' is empty in every record"),
            (tally_of({"a": 0, "b": 0}), "all frequencies are zero"),
        ]:
            with self.assertRaisesRegex(RankError, words):
                pareto(tally)

    def test_cutoffs_that_are_none(self) -> None:
        for cut in (0, 100, -1, 101, "eighty"):
            with self.subTest(cut=cut), self.assertRaisesRegex(RankError, "between 0 and 100"):
                pareto(tally_of(SMALL), cut=cut)  # type: ignore[arg-type]

    def test_results_compare_by_value_and_show_themselves(self) -> None:
        one, other = pareto(tally_of(SMALL)), pareto(tally_of(dict(reversed(SMALL.items()))))
        self.assertEqual((one, hash(one)), (other, hash(other)))
        self.assertNotEqual(one, pareto(tally_of(SMALL), cut=50))
        self.assertNotEqual(one.tally, tally_of({"a": 1}))
        self.assertNotEqual(one, "a table")
        self.assertIn("9 categories, 231 records", repr(one))
        self.assertIn("'Pinhole': 88", repr(one.tally))

    def test_a_million_categories_make_no_rows_until_asked(self) -> None:
        table = pareto(tally_of({str(n): n for n in range(20000)}))
        self.assertNotIn("rows", vars(table))
        self.assertEqual(len(table), 20000)


class Findings(unittest.TestCase):
    def test_labels_that_differ_only_in_case_or_blanks(self) -> None:
        found = review_tally(tally_of({"Scratch": 3, " scratch ": 1, "Pin  hole": 1, "Pin hole": 2, "x": 1}))
        self.assertEqual([(f.code, f.severity) for f in found], [("similar-labels", "warning")])
        self.assertIn("'scratch' and 'Scratch'; 'Pin␣␣hole' and 'Pin hole'", found[0].message)

    def test_a_cutoff_that_divides_a_tie(self) -> None:
        found = review_pareto(pareto(tally_of({f"Cell {n}": 5 for n in range(10)})))
        self.assertEqual([f.code for f in found], ["flat-profile", "tie-at-cutoff", "ties"])
        self.assertIn("'Cell 7' is inside, 'Cell 8' and 'Cell 9' are just as frequent", found[1].message)
        self.assertEqual(set(found[0].to_dict()), {"code", "severity", "message", "fix", "where"})

    def test_good_tables_give_none(self) -> None:
        self.assertEqual(review_pareto(pareto(tally_of(SMALL))), [])


class Sentences(unittest.TestCase):
    def said(self, found: dict[str, object], *, cut: float | None = 80, missing: int = 0, **more: str | None) -> str:
        return pareto_sentence(pareto(tally_of(found, missing, **more), cut=cut))

    def test_some(self) -> None:
        self.assertEqual(
            self.said(SMALL, missing=9),
            "3 of 9 categories account for 83.5% of 231 records: “Pinhole”, “Warping” and “Edge chip”. They are the "
            "fewest that reach the 80% cutoff. 9 records with a blank “defect” are left out. Their labels could not "
            "change the vital few.",
        )

    def test_one_and_all(self) -> None:
        self.assertEqual(self.said({"a": 1}), "There is one category, “a”, with 1 record.")
        self.assertEqual(self.said({"a": 2}, cut=None), "There is one category, “a”, with 2 records.")
        self.assertEqual(
            self.said({"a": 9, "b": 1}, missing=1, by=None),
            "One of 2 categories, “a”, accounts for 90.0% of 10 records and alone reaches the 80% cutoff. "
            "1 record with a blank label is left out. Its label could not change the vital few.",
        )
        self.assertIn("Both categories are needed to reach", self.said({"a": 1, "b": 1}))
        self.assertIn("All 3 categories are needed to reach", self.said({"a": 3, "b": 3, "c": 3}))

    def test_ties_and_many(self) -> None:
        self.assertIn(
            " “Cell 8” and “Cell 9” are as frequent as the last of them.",
            self.said({f"Cell {n}": 5 for n in range(10)}),
        )
        self.assertIn("“8” and 32 more.", self.said({str(n): 1 for n in range(1, 51)}))
        self.assertIn(" “b” is as frequent", self.said({"a": 1, "b": 1}, cut=50))

    def test_without_a_cutoff(self) -> None:
        self.assertIn(
            "“Pinhole” has the largest share, 38.1%, of 231 records in 9 categories.", self.said(SMALL, cut=None)
        )
        self.assertIn("“a” and “b” have the largest shares, 50.0% each,", self.said({"a": 1, "b": 1}, cut=None))
        self.assertIn("of a total of 0.75 in 2 categories.", self.said({"a": 0.5, "b": 0.25}, cut=None))


class Tallies(unittest.TestCase):
    def test_equal_labels_are_added_up_and_blank_ones_are_missing(self) -> None:
        tally = make_tally([("a", 1), ("b", 2), ("a", Decimal("0.5")), (" ", 3), (None, 4)], Provenance(by="error"))
        self.assertEqual((tally.as_dict(), tally.missing), ({"a": 1.5, "b": 2}, Missing(7, 7)))
        self.assertEqual(tally.base(), "a total of 3.5, 7 with a blank “error”")

    def test_the_base_names_the_unit(self) -> None:
        tally = make_tally([("a", 5), (None, 2)], Provenance(by="defect", count="pieces"))
        self.assertEqual((tally.base(), tally.unit), ("5 pieces, 2 with a blank “defect”", "pieces"))
        self.assertIsInstance(pareto(tally), ParetoTable)
