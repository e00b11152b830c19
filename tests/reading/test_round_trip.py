"""Any table of numbers, in any style, with a title above and a total below, reads back as it was, or asks."""

import csv
import io
import tempfile
import unittest
from decimal import Decimal
from pathlib import Path

import duckdb
from hypothesis import given, settings
from hypothesis import strategies as st
from openpyxl import Workbook

import vantric as vt
from tests.effort import examples
from vantric.engines.text_numbers import number_sql
from vantric.errors import VantricError
from vantric.reading.headers import csv_shape
from vantric.reading.number_column import DoubtError, decide
from vantric.reading.number_style import STYLES, DigitStyle, cell_of

LABELS = ["Pinhole", "Warping", "Edge chip", "Scratch", "Stain", "Speck", "Drip", "Crack", "Bloating", "Dent"]
GROUPS = [("", "."), ("", ","), (",", "."), (".", ","), (" ", ","), ("'", "."), ("\u202f", ",")]
UNITS = ["{}", "{} EUR", "${}", "{} %", "{}%", "{} kg"]


def written(value: Decimal, group: str, decimal: str, unit: str) -> str:
    return unit.format(f"{value:,f}".replace(",", "\0").replace(".", decimal).replace("\0", group))


@st.composite
def tables(draw: st.DrawFn) -> tuple[dict[str, Decimal], list[str], str, str]:
    """Return label -> value, the lines of a text file, its delimiter, and the word for its total."""
    places = draw(st.integers(0, 3))
    most = draw(st.sampled_from([9, 999, 10**4, 10**7]))
    values = draw(st.lists(st.decimals(1, most, places=places), min_size=2, max_size=8))
    table = dict(zip(draw(st.permutations(LABELS)), values, strict=False))
    (group, decimal), unit = draw(st.sampled_from(GROUPS)), draw(st.sampled_from(UNITS))
    delimiter = draw(st.sampled_from([",", ";", "\t"]))
    word = draw(st.sampled_from(["", "Total", "Gesamt", "Grand total", "Итого"]))
    rows = [["Defect", "Cost"], *([name, written(value, group, decimal, unit)] for name, value in table.items())]
    if word:
        rows.append([word, written(sum(table.values(), Decimal()), group, decimal, unit)])
    out = io.StringIO()
    csv.writer(out, delimiter=delimiter).writerows(rows)
    lines = out.getvalue().splitlines()
    above = draw(
        st.sampled_from([[], ["Defects in March"], ["Defects in March", ""], ["Orrinvale Tileworks", "Kiln 1", ""]])
    )
    below = draw(st.sampled_from([[], ["", "Source: inspection"]]))
    return table, [*above, *lines, *below], delimiter, word


class RoundTrip(unittest.TestCase):
    def same(self, found: vt.Tally, table: dict[str, Decimal]) -> None:
        self.assertEqual(set(found.as_dict()), set(table))
        for name, value in found.as_dict().items():
            self.assertAlmostEqual(float(value), float(table[name]), delta=1e-9 * float(table[name]))

    @settings(max_examples=examples(60), deadline=None)
    @given(tables())
    def test_text(self, drawn: tuple[dict[str, Decimal], list[str], str, str]) -> None:
        table, lines, _, _ = drawn
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "log.csv"
            path.write_text("\n".join(lines) + "\n", encoding="utf-8")
            try:
                found = vt.tally(path, "Defect", weight="Cost")
            except VantricError as asked:
                self.assertRegex(str(asked), "read_numbers|keep_totals")
                return
            if "number-style" not in {finding.code for finding in found.review()}:
                self.same(found, table)

    @settings(max_examples=examples(15), deadline=None)
    @given(tables(), st.sampled_from(["General", "0.0%", '0.00" kg"', '"$"#,##0.00']))
    def test_workbooks(self, drawn: tuple[dict[str, Decimal], list[str], str, str], code: str) -> None:
        table, _, _, word = drawn
        share = Decimal(100) if "%" in code else Decimal(1)
        book = Workbook()
        page = book.worksheets[0]
        page.append(["Defects in March"])
        page.append([])
        page.append(["Defect", "Cost"])
        rows = [*table.items(), *([(word, sum(table.values(), Decimal()))] if word else [])]
        for name, value in rows:
            page.append([name, float(value / share)])
            page.cell(page.max_row, 2).number_format = code
        with tempfile.TemporaryDirectory() as folder:
            book.save(Path(folder) / "log.xlsx")
            self.same(vt.tally(Path(folder) / "log.xlsx", "Defect", weight="Cost"), table)


NUMBERS = st.decimals(-(10**9), 10**9, places=2)


class Engine(unittest.TestCase):
    """What the engine makes of a cell is what Python makes of it."""

    @settings(max_examples=examples(25), deadline=None)
    @given(
        st.lists(NUMBERS, min_size=1, max_size=20), st.sampled_from(GROUPS), st.sampled_from([*UNITS, "({})", "{}-"])
    )
    def test_sql_and_python_agree(self, values: list[Decimal], style: tuple[str, str], unit: str) -> None:
        cells = [written(abs(v) if "{}" not in (unit, "") else v, *style, unit) for v in values]
        try:
            reading = decide(cells)
        except DoubtError:
            return
        with duckdb.connect() as engine:
            for cell in cells:
                sql = f"SELECT regexp_full_match(?, ?), TRY_CAST({number_sql(reading, 'v')} AS DECIMAL(38, 9)) FROM (SELECT ? AS v)"
                fits, found = engine.execute(sql, [cell, reading.pattern(free=True), cell]).fetchall()[0]
                self.assertTrue(fits, (cell, reading))
                self.assertEqual(found, reading.value(cell))

    def test_every_style_reads_its_own_example(self) -> None:
        for style in STYLES:
            plain = DigitStyle(style.group, style.decimal or ("," if style.group == "." else "."), style.indian)
            cell = cell_of(plain.example)
            assert cell is not None
            self.assertTrue(plain.fits(cell.number), plain.example)


class Shapes(unittest.TestCase):
    @settings(max_examples=examples(400), deadline=None)
    @given(st.text(";,\t| \n\"'ab1<", min_size=1, max_size=40))
    def test_any_beginning_has_a_shape_or_one_clear_line(self, head: str) -> None:
        try:
            shape = csv_shape(head, "log.csv")
        except VantricError:
            return
        self.assertTrue(shape.columns)

    def test_rows_of_nothing_but_delimiters_say_no_width(self) -> None:
        for head in ('category,frequency\n"\n;\n;\n",1\n', "Defect\n;;\n;;\nPinhole\n;;\nCrack\n"):
            self.assertNotEqual(csv_shape(head, "log.csv").delimiter, ";", head)


if __name__ == "__main__":
    unittest.main()
