"""What is derived from other rows, columns and sheets: by arithmetic on any numbers, and by words of many languages."""

import unittest
from decimal import Decimal
from fractions import Fraction
from math import gcd
from random import Random

from hypothesis import given, settings
from hypothesis import strategies as st

from vantric.core.totals.derived_columns import derived_columns, derived_sheets
from vantric.core.totals.derived_rows import derived_groups, derived_rows
from vantric.core.totals.label_kinds import is_strong, kind_of, plain_label
from vantric.core.totals.row_sums import CountedRow, exact_cell
from vantric.engines.workbook_cells import moved, record_function

AMOUNTS = st.lists(st.integers(1, 5000), min_size=3, max_size=12)


def rows(amounts: list[int], **last: object) -> list[CountedRow]:
    listed = [CountedRow(f"cause {place}", (amount,)) for place, amount in enumerate(amounts)]
    return [*listed, CountedRow(label="whatever", amounts=(sum(amounts),), **last)]  # type: ignore[arg-type]


class Rows(unittest.TestCase):
    @settings(max_examples=150)
    @given(AMOUNTS.filter(lambda amounts: sum(amounts) >= 10))
    def test_a_sum_under_any_label_is_never_silent(self, amounts: list[int]) -> None:
        found = derived_rows(rows(amounts))
        self.assertIn(len(amounts), found)
        moved_rows = rows(amounts)
        moved_rows.insert(0, moved_rows.pop())
        self.assertTrue(derived_rows(moved_rows))

    @settings(max_examples=150)
    @given(st.lists(st.integers(1, 400), min_size=2, max_size=6), AMOUNTS)
    def test_a_sum_of_rows_that_are_named_after_it_is_never_silent(self, parts: list[int], others: list[int]) -> None:
        named = [
            CountedRow(f"Crack{sign}{place}", (part,))
            for place, (part, sign) in enumerate(zip(parts, " ,-/(:", strict=False))
        ]
        table = [CountedRow("crack", (sum(parts),)), *named, *rows(others)[:-1]]
        table.sort(key=lambda row: -(row.amounts[0] or 0))
        place = next(place for place, row in enumerate(table) if row.label == "crack")
        if sum(parts) >= 10 * gcd(*(int(row.amounts[0] or 0) for row in table)):
            self.assertIn(place, derived_rows(table))

    def test_a_first_name_alone_is_seldom_asked_about(self) -> None:
        chance, asked = Random(20261201), 0
        for _ in range(4000):
            amounts = [int(chance.lognormvariate(3.6, 0.9)) + 1 for _ in range(6)]
            labels = ("Crack", "Crack drying", "Crack cooling", "Chip", "Stain", "Dent")
            table = [CountedRow(label, (amount,)) for label, amount in zip(labels, amounts, strict=True)]
            table.sort(key=lambda row: -(row.amounts[0] or 0))
            verdicts = derived_rows(table)
            asked += any(verdict.outcome == "ask" and "named" in verdict.reason for verdict in verdicts.values())
        self.assertLessEqual(asked, 20)

    @settings(max_examples=150)
    @given(AMOUNTS, st.integers(2, 1000))
    def test_a_scale_changes_no_verdict(self, amounts: list[int], scale: int) -> None:
        def scaled(by: Fraction | int) -> list[CountedRow]:
            return [CountedRow(row.label, tuple(cell * by for cell in row.amounts)) for row in rows(amounts)]  # type: ignore[operator]

        for by in (scale, Fraction(1, 10)):
            before = {place: verdict.kind for place, verdict in derived_rows(scaled(1)).items()}
            after = {place: verdict.kind for place, verdict in derived_rows(scaled(by)).items()}
            self.assertLessEqual(set(before), set(after) | {len(amounts)})

    def test_honest_tables_are_left_alone(self) -> None:
        chance, asked = Random(37), 0
        for _ in range(3000):
            amounts = [chance.randint(1, 10 ** chance.randint(1, 4)) for _ in range(chance.randint(3, 30))]
            amounts.sort(reverse=chance.random() < 0.7)
            table = [CountedRow(f"cause {place}", (amount,)) for place, amount in enumerate(amounts)]
            outcomes = {verdict.outcome for verdict in derived_rows(table).values()}
            self.assertNotIn("out", outcomes)
            asked += "ask" in outcomes
        self.assertLessEqual(asked, 6)

    def test_totals_of_kilns_and_of_plants_are_left_out(self) -> None:
        """A total of every level adds up its own rows, whatever its words, once the grand total is right only so."""
        chance = Random(11)
        for form in ("{} total", "Total {}", "Subtotal {}"):
            table, wanted, whole = [], [], 0
            for plant in ("north", "south"):
                of_plant = 0
                for kiln in range(chance.randint(2, 3)):
                    amounts = [chance.randint(5, 300) for _ in range(chance.randint(2, 5))]
                    table += [CountedRow(f"cause {place}", (amount,)) for place, amount in enumerate(amounts)]
                    of_plant += sum(amounts)
                    wanted.append(len(table))
                    table.append(CountedRow(form.format(f"kiln {kiln + 1}"), (sum(amounts),)))
                wanted.append(len(table))
                table.append(CountedRow(f"{plant} plant total", (of_plant,)))
                whole += of_plant
            wanted.append(len(table))
            table.append(CountedRow("Grand total", (whole,)))
            verdicts = derived_rows(table)
            with self.subTest(form):
                self.assertEqual(sorted(verdicts), wanted)
                self.assertEqual({verdict.outcome for verdict in verdicts.values()}, {"out"})
            table[-1] = CountedRow("Grand total", (whole + 7,))
            self.assertIn("ask", {verdict.outcome for verdict in derived_rows(table).values()})

    def test_marks_of_the_sheet_count(self) -> None:
        small = [1, 2, 4]
        self.assertEqual({v.outcome for v in derived_rows(rows(small)).values()}, set())
        for mark in ({"is_bold": True}, {"follows_blank": True}):
            both = derived_rows(rows(small, **mark))
            self.assertEqual({v.outcome for v in both.values()}, {"warn"}, mark)
        self.assertEqual(derived_rows(rows(small, formula="SUM"))[3].outcome, "out")

    def test_rows_without_order(self) -> None:
        table = [CountedRow(label, (amount,)) for label, amount in (("b", 33), ("Ergebnis", 100), ("a", 10), ("c", 57))]
        self.assertEqual({place: v.outcome for place, v in derived_groups(table).items()}, {1: "ask"})
        self.assertEqual(derived_groups([CountedRow(x, ()) for x in ("a", "Total")])[1].outcome, "ask")

    def test_floats_are_as_they_are_written(self) -> None:
        shares = [0.1, 0.2, 0.3, 12.7]
        table = [CountedRow(f"c{n}", (exact_cell(x),)) for n, x in enumerate([*shares, sum(shares)])]
        self.assertIn(4, derived_rows(table))
        self.assertIsNone(exact_cell(float("nan")))
        self.assertEqual(exact_cell(Decimal("1.50")), Fraction(3, 2))


class Words(unittest.TestCase):
    def test_kinds(self) -> None:
        for label, kind in (
            ("T O T A L", "total"),
            ("Łącznie", "total"),
            ("Total 2026 (n = 12)", "total"),
            ("Kiln 3 total", "named total"),
            ("Zwischensumme", "subtotal"),
            ("Ergebnis", "weak"),
            ("All", "weak"),
            ("Total defects", "weak"),
            ("Mittelwert", "statistic"),
            ("avg. per week", "statistic"),
            ("pieces inspected", "memo"),
            ("Vorjahr", "memo"),
            ("davon innen", "of which"),
            ("incl. glaze", "including"),
            ("Übertrag", "forward"),
            ("c/f", "forward?"),
            ("Other defects", "rest"),
            ("", "blank"),
            ("Crack", ""),
            ("Allergy", ""),
            ("Totally chipped", ""),
            ("Summer glaze", ""),
        ):
            with self.subTest(label):
                self.assertEqual(kind_of(label), kind)
        self.assertTrue(is_strong("合計"))
        self.assertEqual(plain_label("  TOTAL: "), "total")


class Others(unittest.TestCase):
    def test_columns(self) -> None:
        columns = [[3, 40, 7], [25, 1, 9], [8, 12, 61], [36, 53, 77]]
        self.assertEqual({n: v.outcome for n, v in derived_columns(list("abcd"), columns).items()}, {"d": "ask"})
        named = derived_columns(["a", "b", "c", "Total"], columns)
        self.assertEqual(named["Total"].outcome, "out")
        stale = derived_columns(["a", "b", "c", "Total"], [*columns[:3], [36, 53, 78]])
        self.assertEqual(stale["Total"].outcome, "ask")
        self.assertEqual(derived_columns(list("abcd"), [*columns[:3], [36, 53, 78]]), {})

    def test_sheets(self) -> None:
        one, other = {"a": 41, "b": 12}, {"a": 30, "b": 7}
        both = {"a": 71, "b": 19}
        self.assertEqual(derived_sheets({"Jan": one, "Feb": other, "Total": both})["Total"].outcome, "out")
        self.assertEqual(derived_sheets({"Jan": one, "Feb": other, "Mar": both})["Mar"].outcome, "ask")
        self.assertEqual(derived_sheets({"Jan": one, "Feb": other, "Mar": {"a": 70, "b": 19}}), {})

    def test_formulas(self) -> None:
        for formula, function in (
            ("=SUM(B2:B9)", "SUM"),
            ("of:=SUM([.B2:.B9])", "SUM"),
            ("=B2+B3+$B$4", "SUM"),
            ("=SUBTOTAL(109,Table1[Count])", "SUM"),
            ("=SUBTOTAL(1,B2:B9)", "AVERAGE"),
            ("=AVERAGE(B$2:B$9)", "AVERAGE"),
            ("=SUM(A10:D10)", ""),
            ("=SUM(Other!B2:B9)", ""),
            ("=B9*2", ""),
            ('="B2:B9"', ""),
        ):
            with self.subTest(formula):
                self.assertEqual(record_function(formula, 9, 1), function)
        self.assertEqual(moved("SUM(B2:B$9)+$C3", 1, 2), "SUM(D3:D$9)+$C4")


if __name__ == "__main__":
    unittest.main()
