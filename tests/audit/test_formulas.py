"""Formulas worked out as far as tables of counts need."""

import unittest
from contextlib import suppress
from random import Random
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from tests.effort import examples
from vantric.audit.formulas import CellRange, FormulaError, FormulaResults, parse_range, parse_reference

CELLS: dict[Any, Any] = {("S", row, 2): value for row, value in enumerate([88, 61, 44, 38], 2)}
CELLS[("My Data's", 1, 1)] = 7
CELLS |= {("S", 6, 2): "=SUM(B2:B5)", ("S", 2, 3): "=B2/B$6", ("S", 7, 1): "=A7", ("S", 8, 1): "text"}


def result(formula: str, saved: Any = None) -> Any:
    cells = {**CELLS, ("S", 9, 9): formula}
    return FormulaResults(cells.get, lambda place: saved, lambda sheet: 9).value(("S", 9, 9))


class Formulas(unittest.TestCase):
    def test_what_tables_of_counts_use(self) -> None:
        for formula, wanted in (
            ("=B6", 231),
            ("=C2", 88 / 231),
            ("=SUM(B2:B5)/SUM(B$2:B$5)", 1),
            ("=SUM(B2,B3,5)", 154),
            ("=ROUND(B2/B6,3)", 0.381),
            ("=ROUND(-2.5,0)", -3),
            ("=(B2+B3)*100/B6", 100 * 149 / 231),
            ("=-B2+2^3", -80),
            ("=50%", 0.5),
            ("=SUBTOTAL(9,B2:B5)", 231),
            ("=IFERROR(B2/B99,0)", 0),
            ("=IFERROR(B2/B6,0)", 88 / 231),
            ("='My Data''s'!A1+1", 8),
            ("=MAX(B2:B5)", 88),
            ("=COUNT(B2:B8)", 5),
            ("=AVERAGE(B2:B5)", 57.75),
            ("=SUM(B:B)", 462),
            ("=SUM(S!$B$2:$B$3)", 149),
            ("=ROUNDUP(1.21,1)", 1.3),
            ("=ABS(-3)", 3),
            ("=SUM(A8,B2)", 88),
        ):
            self.assertAlmostEqual(result(formula), wanted, msg=formula)

    def test_long_chains_in_both_directions_and_circles(self) -> None:
        size = 600
        cells: dict[Any, Any] = {("S", row, 1): row for row in range(1, size + 1)}
        cells |= {("S", row, 2): f"=A{row}+B{row - 1}" for row in range(2, size + 1)} | {("S", 1, 2): 1}
        cells |= {("S", row, 3): f"=A{row}+C{row + 1}" for row in range(1, size)} | {("S", size, 3): size}
        cells |= {("S", row, 4): f"=SUM(A$1:A{row})" for row in range(1, size + 1)}
        cells |= {("S", row, 5): f"=E{row % size + 1}" for row in range(1, size + 1)}
        cells |= {("S", row, 6): f"=SUM(F$1:F{row - 1})" for row in range(2, 50)} | {("S", 1, 6): 1}
        for order in (1, -1):
            results = FormulaResults(cells.get, lambda place: None, lambda sheet: size)
            for row in list(range(1, size + 1))[::order]:
                total = row * (row + 1) / 2
                self.assertEqual(results.value(("S", row, 2)), total)
                self.assertEqual(results.value(("S", row, 3)), size * (size + 1) / 2 - total + row)
                self.assertEqual(results.value(("S", row, 4)), total)
                with self.assertRaisesRegex(FormulaError, "itself"):
                    results.value(("S", row, 5))
            self.assertEqual([results.value(("S", row, 6)) for row in (2, 3, 49)], [1, 2, 2.0**47])

    def test_any_formula_is_worked_out_or_refused(self) -> None:
        parts = (
            "SUM(",
            "AVERAGE(",
            "ROUND(",
            "SUBTOTAL(",
            "IFERROR(",
            "IF(",
            ")",
            "(",
            ",",
            "+",
            "-",
            "*",
            "/",
            "^",
            "%",
        )
        operands = ("1", "0", "1E300", "-8", "A1", "A1:B3", "A:A", "S!B2", "Q9", '"x"', "TRUE", "#REF!", "{1,2}", "1/3")
        rng = Random(3)
        for _ in range(examples(4000)):
            cells: dict[Any, Any] = {
                ("S", row, column): "="
                + "".join(rng.choice(rng.choice((parts, operands))) for _ in range(rng.randrange(9)))
                for row in range(1, 4)
                for column in (1, 2)
            }
            results = FormulaResults(cells.get, lambda place: None, lambda sheet: 3)
            for place in cells:
                with suppress(FormulaError):
                    results.value(place)

    def test_failures_are_what_a_sheet_shows(self) -> None:
        for formula, words in (
            ("=B2/B99", "#DIV/0!"),
            ("=A8*2", "#VALUE!"),
            ("=A7", "refers to itself"),
            ("=VLOOKUP(1,B2:B5,1)", "VLOOKUP"),
            ("=B2:B5", "several cells"),
            ("=SUM(", "closed"),
            ("=1+", "ends early"),
            ("=10^999", "#NUM!"),
        ):
            with self.assertRaisesRegex(FormulaError, words):
                result(formula)

    def test_a_saved_result_is_taken_where_there_is_no_other(self) -> None:
        self.assertEqual(result("=VLOOKUP(1,B2:B5,1)", saved=12), 12)
        self.assertEqual(result("=B2+1", saved=0), 89, "libraries save zeros")
        for formula in ('=IFERROR(INDEX(A2:A5,1),"")', "=IFERROR(VLOOKUP(1,B2:B5,1),0)", "=IFERROR(RANK(B2,B2:B5),0)"):
            self.assertEqual(result(formula, saved=12), 12, "what is not worked out here is no error of the sheet")
            with self.assertRaises(FormulaError):
                result(formula)
        with self.assertRaisesRegex(FormulaError, "DIV"):
            result("=B2/B99", saved=0)

    @given(st.text("=+-*/^()%,:!$'ABSUMR0123456789. ", max_size=30))
    def test_whatever_is_written_ends_in_a_number_or_a_reason(self, text: str) -> None:
        try:
            result(f"={text}")
        except (FormulaError, RecursionError) as error:
            self.assertIsInstance(error, FormulaError)

    def test_references(self) -> None:
        self.assertEqual(parse_range("Pareto!$B$2:$B$9"), CellRange("Pareto", 2, 2, 9, 2))
        self.assertEqual(parse_range("'It''s'!AA10"), CellRange("It's", 10, 27, 10, 27))
        self.assertEqual(
            parse_reference("(S!$B$2:$B$3,S!$B$5)", {}), [CellRange("S", 2, 2, 3, 2), CellRange("S", 5, 2, 5, 2)]
        )
        self.assertEqual(parse_reference("Book!counts", {"counts": "S!$B$2:$B$3"}), [CellRange("S", 2, 2, 3, 2)])
        for text in ("", "nothing", "S!", "B2:", "XFE1", "#REF!"):
            self.assertIsNone(parse_range(text), text)


if __name__ == "__main__":
    unittest.main()
