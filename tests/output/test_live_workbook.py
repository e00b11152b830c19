"""Live workbooks: recalculated by a library of formulas, before and after edits, they equal our exact table."""

from __future__ import annotations

import io
import random
import re
import tempfile
import unittest
import warnings
from decimal import Decimal
from pathlib import Path
from typing import Any
from xml.etree import ElementTree
from zipfile import ZipFile

import openpyxl

import vantric as vt
from vantric.output.workbook_live import FIRST, TYPED_FIRST

HOSTILE = ("=1+1", "+A1", "-2", "@SUM(A1)", "_x0041_", "a\tb", "<b>&amp;", "\x01ctrl", "x" * 300)


def book_of(result: Any, name: str = "book.xlsx") -> bytes:
    with tempfile.TemporaryDirectory() as folder:
        return Path(result.save(Path(folder, name))).read_bytes()


def counts_in(content: bytes) -> dict[str, int]:
    """Return label -> row of the sheet of counts."""
    sheet = openpyxl.load_workbook(io.BytesIO(content))["Counts"]
    rows = range(TYPED_FIRST + 1, sheet.max_row + 1)
    return {str(sheet.cell(row, 1).value): row for row in rows if sheet.cell(row, 1).value is not None}


class Recalculated:
    """A workbook under a library that works formulas out, with inputs in place of the typed counts."""

    def __init__(
        self, content: bytes, edits: dict[str, Any] | None = None, cells: dict[str, Any] | None = None
    ) -> None:
        import formulas

        book = openpyxl.load_workbook(io.BytesIO(content))
        self.rows = counts_in(content)
        for label, value in (edits or {}).items():
            book["Counts"].cell(self.rows[label], 2).value = value
        for place, value in (cells or {}).items():
            book["Pareto"][place] = value
        with tempfile.TemporaryDirectory() as folder, warnings.catch_warnings():
            warnings.simplefilter("ignore")
            path = Path(folder, "book.xlsx")
            book.save(path)
            self._found = formulas.ExcelModel().loads(str(path)).finish(circular=False).calculate()

    def value(self, sheet: str, cell: str) -> Any:
        found = self._found[f"'[book.xlsx]{sheet.upper()}'!{cell}"].value[0, 0]
        return found.item() if hasattr(found, "item") else found

    def table(self, rows: int, columns: str = "BCDEFG") -> list[list[Any]]:
        return [[self.value("Pareto", f"{column}{FIRST + 1 + at}") for column in columns] for at in range(rows)]


class Live(unittest.TestCase):
    def compared(self, again: Recalculated, wanted: vt.ParetoTable) -> None:
        rows = again.table(len(wanted))
        self.assertEqual([row[0] for row in rows], list(wanted.categories))
        for found, row in zip(rows, wanted.rows, strict=True):
            for one, other in zip(
                found[1:5],
                (row.frequency, row.percent / 100, row.cumulative_frequency, row.cumulative_percent / 100),
                strict=True,
            ):
                self.assertAlmostEqual(one, float(other), delta=1e-12 * max(1.0, abs(float(other))), msg=row.category)
            self.assertEqual(found[5], row.abc or "", row.category)

    def test_a_hundred_edits_over_ten_workbooks_equal_the_exact_table(self) -> None:
        chance, edits = random.Random(18), 0
        for number in range(10):
            kinds = [
                lambda: chance.randint(1, 9),
                lambda: chance.randint(1, 10**6),
                lambda: Decimal(chance.randint(1, 999)) / 10,
            ]
            draw = kinds[number % 3]
            counts: dict[str, Any] = {f"Cause {n}": draw() for n in range(chance.randint(2, 20))}
            how: dict[str, Any] = [{}, {"rule": "within"}, {"ties": "include"}, {"cut": (60, 80, 95)}][number % 4]
            content = book_of(vt.pareto(counts, **how))
            self.compared(Recalculated(content), vt.pareto(counts, **how))
            for _ in range(2):
                changed = {label: draw() for label in chance.sample(list(counts), min(5, len(counts)))}
                if chance.random() < 0.4:
                    changed[chance.choice(list(counts))] = 0
                edits += len(changed)
                after = {**counts, **changed}
                given = {
                    label: float(value) if isinstance(value, Decimal) else value for label, value in changed.items()
                }
                self.compared(Recalculated(content, given), vt.pareto(after, **how))
        self.assertGreaterEqual(edits, 90)

    def test_ties_stand_as_ours_do_and_the_cutoff_can_be_edited(self) -> None:
        counts = {"Cause 10": 10, "Cause 9": 10, "b": 10, "A": 10, "c": 60}
        content = book_of(vt.pareto(counts))
        again = Recalculated(content, cells={"B3": 0.9})
        self.compared(again, vt.pareto(counts, cut=90))
        self.assertEqual(again.value("Pareto", "A2"), "4 of 5 categories: 90% of 100 records")
        self.assertEqual(again.value("Chart data", "E1"), "Cutoff 90%")
        even = {f"c{n}": 10 for n in range(10)}
        self.assertEqual(Recalculated(book_of(vt.pareto(even))).value("Pareto", "A2").split()[0], "8")

    def test_a_total_of_zero_and_a_blank_cell_are_no_errors(self) -> None:
        content = book_of(vt.pareto({"a": 3, "b": 2, "c": 1}))
        again = Recalculated(content, {"a": 0, "b": 0, "c": 0})
        self.assertEqual([row[2] for row in again.table(3)], ["", "", ""])
        self.assertEqual(again.value("Pareto", "A2"), "Nothing is counted")
        blank = Recalculated(content, {"a": None})
        self.assertEqual([row[0] for row in blank.table(2)], ["b", "c"])

    def test_rest_pinned_strata_rates_and_weights_follow_too(self) -> None:
        log = {
            "defect": ["a"] * 8 + ["b"] * 5 + ["c"] * 3 + ["d", "e", "f"],
            "kiln": (["K1", "K2"] * 10)[:19],
            "pieces": [2] * 19,
            "cost": [1.5] * 19,
        }
        table = vt.pareto(log, "defect", keep=4)
        content = book_of(table)
        again = Recalculated(content, {"b": 20})
        rows = again.table(5)
        self.assertEqual([row[0] for row in rows], ["b", "a", "c", "d", "Other"])
        self.assertAlmostEqual(rows[-1][4], 1.0, delta=1e-12)
        self.assertEqual(rows[-1][5], "")
        pinned = Recalculated(book_of(vt.pareto(log, "defect", last="a")), {"b": 1})
        self.assertEqual([row[0] for row in pinned.table(6)], ["c", "b", "d", "e", "f", "a"])
        split = book_of(vt.pareto(log, "defect", split="kiln"))
        book = openpyxl.load_workbook(io.BytesIO(split))
        self.assertEqual([cell.value for cell in book["Counts"][TYPED_FIRST]][3:], ["K1", "K2"])
        found = Recalculated(split)
        self.compared(found, vt.pareto(log, "defect", split="kiln"))
        self.assertEqual(sum(found.value("Chart data", f"{column}2") for column in "BC"), 8)
        weighted = vt.pareto(log, "defect", count="pieces", weight="cost")
        self.compared(Recalculated(book_of(weighted)), weighted)
        rates = vt.pareto(
            {"defect": ["a", "a", "b", "b"], "made": [100, 50, 30, 20]}, "defect", per="made", per_units=100
        )
        self.compared(Recalculated(book_of(rates)), rates)
        survey = vt.pareto({"low": 3, "mid": 9, "high": 9}, order=["low", "mid", "high"])
        again = Recalculated(book_of(survey))
        self.assertEqual([row[0] for row in again.table(3, "BC")], ["low", "mid", "high"])
        self.assertEqual([again.value("Pareto", f"A{FIRST + 1 + at}") for at in range(3)], [3, 1, 1])

    def test_floats_that_tie_stand_as_ours_do(self) -> None:
        counts = {"b": 0.1 + 0.2, "a": 0.3, "c": 0.1}
        wanted = vt.pareto(counts)
        again = Recalculated(book_of(wanted)).table(3)
        self.assertEqual([row[0] for row in again], list(wanted.categories))

    def test_values_are_cached_and_the_bytes_are_the_same(self) -> None:
        table = vt.pareto({"a": 5, "b": 3, "c": 2})
        content = book_of(table)
        self.assertEqual(content, book_of(table, "other.xlsx"))
        sheet = openpyxl.load_workbook(io.BytesIO(content), data_only=True)["Pareto"]
        self.assertEqual([sheet.cell(row, 2).value for row in range(6, 9)], ["a", "b", "c"])
        self.assertEqual([sheet.cell(row, 6).value for row in range(6, 9)], [0.5, 0.8, 1])
        self.assertEqual(sheet["A2"].value, "2 of 3 categories: 80% of 10 records")

    def test_what_is_saved_beside_a_formula_is_what_it_gives(self) -> None:
        log = {
            "defect": ["a"] * 8 + ["b"] * 5 + ["c", "d"],
            "kiln": (["K1", "K2"] * 8)[:15],
            "made": list(range(1, 16)),
        }
        tables = [
            vt.pareto({"Other": 9, "x": 5, "y": 1, "z": 1}, keep=2, rest_label="The rest"),  # 56.25%
            vt.pareto({"a": Decimal("0.0001"), "b": Decimal("0.00003"), "c": Decimal("0.00003")}),
            vt.pareto(log, "defect", per="made", per_units=1000),
            vt.pareto(log, "defect", split="kiln", count="made"),
            vt.pareto({"a": 999999, "b": 1, "c": 10**9}),
            vt.pareto({f"c{n}": 0.1 * n for n in range(1, 9)}),
            vt.pareto({"x": 1, "y": 2}, cut=tuple(range(4, 96, 8))),
            vt.pareto({"defect": ["a", "b"], 'odd "unit" & {x}' * 20: [3, 4]}, "defect", count='odd "unit" & {x}' * 20),
        ]
        for number, table in enumerate(tables):
            content = book_of(table)
            again, saved = Recalculated(content), openpyxl.load_workbook(io.BytesIO(content), data_only=True)
            checked = 0
            for sheet in openpyxl.load_workbook(io.BytesIO(content)):
                for cell in (one for row in sheet.iter_rows() for one in row if one.data_type == "f"):
                    wanted, found = saved[sheet.title][cell.coordinate].value, again.value(sheet.title, cell.coordinate)
                    where = (number, sheet.title, cell.coordinate, found, wanted)
                    if isinstance(wanted, (int, float)):
                        self.assertAlmostEqual(float(found), wanted, delta=1e-12 * max(1.0, abs(wanted)), msg=where)
                    else:
                        self.assertEqual(found, wanted or "", where)
                    checked += 1
            self.assertGreater(checked, 20)

    def test_only_counts_and_cutoffs_are_typed_and_a_row_has_few_formulas(self) -> None:
        book = openpyxl.load_workbook(io.BytesIO(book_of(vt.pareto({f"c{n}": n + 1 for n in range(40)}))))
        for name in ("Pareto", "Chart data", "Counts"):
            for row in book[name].iter_rows(min_row=FIRST + 1, max_row=40):
                numbers = [cell.coordinate for cell in row if isinstance(cell.value, (int, float))]
                typed = [one for one in numbers if not (name == "Pareto" and one.startswith("A"))]
                self.assertEqual(typed, [f"B{row[0].row}"] if name == "Counts" and numbers else [], name)
                self.assertLessEqual(sum(str(cell.value).startswith("=") for cell in row), 6)

    def test_formulas_grow_linearly(self) -> None:
        sizes = []
        for number in (100, 1000):
            book = openpyxl.load_workbook(io.BytesIO(book_of(vt.pareto({f"c{n}": n + 1 for n in range(number)}))))
            cells = [
                cell.value for row in book["Pareto"].iter_rows() for cell in row if str(cell.value).startswith("=")
            ]
            sizes.append(sum(map(len, cells)) / number)
            running = [cell for cell in cells if re.fullmatch(r"=E\d+\+C\d+", cell)]
            self.assertEqual(len(running), number - 1)
        self.assertLess(sizes[1], 1.2 * sizes[0])

    def test_hostile_labels_are_text(self) -> None:
        content = book_of(vt.pareto({label: 20 - at for at, label in enumerate(HOSTILE)}))
        book = openpyxl.load_workbook(io.BytesIO(content))
        for row in book["Counts"].iter_rows(min_row=TYPED_FIRST + 1, max_col=1):
            self.assertEqual(row[0].data_type, "s")
        shown = [row[0].value for row in book["Counts"].iter_rows(min_row=TYPED_FIRST + 1, max_col=1)]
        self.assertLessEqual({"=1+1", "+A1", "-2", "@SUM(A1)", "<b>&amp;"}, set(shown))
        with ZipFile(io.BytesIO(content)) as parts:
            self.assertIsNone(parts.testzip())
            for name in parts.namelist():
                if name.endswith((".xml", ".rels")):
                    ElementTree.fromstring(parts.read(name))

    def test_our_own_review_finds_nothing_in_them(self) -> None:
        log = {"defect": ["a"] * 8 + ["b"] * 5 + ["c"] * 3 + ["d"], "kiln": (["K1", "K2"] * 9)[:17], "made": [10] * 17}
        results = [
            vt.pareto({"a": 5, "b": 3, "c": 2}),
            vt.pareto(log, "defect", split="kiln"),
            vt.pareto(log, "kiln", per="made"),
            vt.pareto({"a": 0.1, "b": 0.7, "c": 1.25}),
            vt.tally(log, "defect"),
            vt.crosstab(log, "defect", "kiln"),
            vt.compare({"a": 5, "b": 3}, {"a": 2, "b": 9}),
        ]
        with tempfile.TemporaryDirectory() as folder:
            for number, result in enumerate(results):
                path = Path(result.save(Path(folder, f"{number}.xlsx")))
                self.assertEqual([one for one in vt.review(path) if one.severity != "note"], [], number)
                self.assertTrue(vt.pareto(path, "Category", sheet="Counts" if number < 4 else (), count=_count(path)))


def _count(path: Path) -> str:
    book = openpyxl.load_workbook(path, data_only=True)
    sheet = book["Counts"] if "Counts" in book.sheetnames else book.worksheets[0]
    for row in sheet.iter_rows(values_only=True):
        if row[0] == "Category":
            return str(row[1])
    raise AssertionError(path)


if __name__ == "__main__":
    unittest.main()
