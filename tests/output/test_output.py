"""What is written: every ending, read again; formulas made safe; HTML escaped; notes and terminal views."""

import csv
import io
import json
from html.parser import HTMLParser
from unittest.mock import patch

import openpyxl
from hypothesis import example, given
from hypothesis import strategies as st

import vantric as vt
from tests.core.counts.test_strata import LOG
from tests.folder import InFolder
from vantric.errors import TargetError
from vantric.output.markup import csv_text, safe_text
from vantric.reading.headings import is_ditto
from vantric.tables.pareto_terminal import pareto_view

NASTY = {"=1+1": 5, "+cmd|' /C calc'!A0": 4, "@x": 3, "<b>&\"'": 2, "-2": 1, "plain": 9, "\ttab": 1}


class Cells(HTMLParser):
    """Collects the cells of a page, and every element it has."""

    def __init__(self, page: str) -> None:
        super().__init__()
        self.rows: list[list[str]] = []
        self.tags: set[str] = set()
        self.inside = False
        self.feed(page)

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.tags.add(tag)
        if tag == "tr":
            self.rows.append([])
        elif tag in {"td", "th"}:
            self.inside = True
            self.rows[-1].append("")

    def handle_endtag(self, tag: str) -> None:
        self.inside = self.inside and tag not in {"td", "th"}

    def handle_data(self, data: str) -> None:
        if self.inside:
            self.rows[-1][-1] += data


class Files(InFolder):
    def written(self, table: vt.ParetoTable, ending: str) -> bytes:
        return table.save(self.folder / f"t.{ending}").read_bytes()

    def test_csv_is_safe_and_is_read_again(self) -> None:
        table = vt.pareto(NASTY)
        rows = list(csv.DictReader(io.StringIO(self.written(table, "csv").decode())))
        self.assertEqual(rows[1]["category"], "'=1+1")
        self.assertFalse([row for row in rows if row["category"].startswith(("=", "+", "-", "@", "\t"))])
        again = vt.pareto(self.folder / "t.csv", "category", count="frequency")
        self.assertEqual([row.frequency for row in again.rows], [row.frequency for row in table.rows])
        self.assertAlmostEqual(float(rows[0]["percent"]), table.rows[0].percent, places=12)

    @given(
        st.dictionaries(
            st.text("ab c,;\"'|\n\té<", min_size=1, max_size=6).filter(lambda s: s.strip() == s and not is_ditto(s)),
            st.integers(1, 99),
            min_size=1,
        )
    )
    @example({";\n\t\n;": 1})
    def test_plain_labels_come_back_as_they_were(self, found: dict[str, int]) -> None:
        # A mark of ditto is no label: it repeats the one above, with a note.
        table = vt.pareto(found)
        self.written(table, "csv")
        self.assertEqual(vt.pareto(self.folder / "t.csv", "category", count="frequency").categories, table.categories)

    def test_formulas_in_every_guise(self) -> None:
        for text in ("=a", "+a", "-a", "@a", "\ta", "\ra", "\na", "＝a", "＠a"):
            self.assertEqual(safe_text(text), f"'{text}")
        for value in ("a=b", "", 5, -5, None, -1.5):
            self.assertEqual(safe_text(value), value)
        self.assertEqual(csv_text(["=h"], [[-1, "=x"]]), "'=h\n-1,'=x\n")
        tally = vt.tally({"=1": 2})
        self.assertIn("'=1,2", tally.save(self.folder / "a.csv").read_text())
        crossed = vt.crosstab({"d": ["=1"], "k": ["+2"]}, "d", "k").save(self.folder / "b.csv").read_text()
        self.assertEqual(crossed.splitlines(), ["d,'+2,total", "'=1,1,1"])

    @given(
        st.lists(
            st.tuples(st.text("a,;\"'|\n\r\t =+é", max_size=5), st.none() | st.integers() | st.just("=1")), max_size=9
        )
    )
    def test_each_row_is_read_back_whatever_stands_in_the_others(
        self, rows: list[tuple[str, int | str | None]]
    ) -> None:
        with patch("vantric.output.markup._BLOCK", 2):
            text = csv_text(["a", "b"], rows)
        cells = [["" if cell is None else str(safe_text(cell)) for cell in row] for row in rows]
        self.assertEqual(list(csv.reader(io.StringIO(text, newline=""))), [["a", "b"], *cells])
        self.assertEqual(csv_text(["a"], [("",)]), 'a\n""\n')

    def test_workbooks_hold_numbers_as_numbers_and_text_as_text(self) -> None:
        table = vt.pareto(NASTY)
        self.written(table, "xlsx")
        book = openpyxl.load_workbook(self.folder / "t.xlsx")
        page = book["Counts"]
        self.assertEqual([cell.value for cell in page[3]][:3], ["Category", "Frequency (records)", "Rank"])
        self.assertEqual({page.cell(n, 1).data_type for n in range(4, 11)}, {"s"})
        typed = {page.cell(n, 1).value: page.cell(n, 2).value for n in range(4, 11)}
        self.assertEqual(typed["=1+1"], 5)
        self.assertEqual(page.cell(4, 2).data_type, "n")
        self.assertIn(table.sentence(), [row[1].value for row in book["Notes"]])
        again = vt.pareto(self.folder / "t.xlsx", "Category", count="Frequency (records)", keep_totals=False)
        shown = {" ".join(label.split()): value for label, value in table.tally.as_dict().items()}
        self.assertEqual(again.tally.as_dict(), shown)

    def test_workbooks_take_any_label_and_any_name(self) -> None:
        table = vt.pareto(
            {"d[]:*?/" * 9: ["bell\x07", "x" * 50, "", None], "n": [10**30, 2, 3, 4]}, "d[]:*?/" * 9, count="n"
        )
        self.written(table, "xlsx")
        sheet = openpyxl.load_workbook(self.folder / "t.xlsx").worksheets[0]
        self.assertEqual(len(sheet.title), 31)
        rows = [row[1:3] for row in sheet.iter_rows(values_only=True)]
        self.assertIn(("bell", str(10**30)), rows)

    def test_pages_are_escaped_and_complete(self) -> None:
        table = vt.pareto(NASTY | {"<script>alert(1)</script>": 8}, last=["plain"])
        page = self.written(table, "html").decode()
        self.assertTrue(page.startswith("<!DOCTYPE html>"))
        self.assertIn('<meta charset="utf-8">', page)
        found = Cells(page)
        self.assertEqual(page.count("<script"), 3)  # its data, its words, and its own
        self.assertNotIn("<b>&", page)
        found.rows = found.rows[: len(table) + 2]
        self.assertEqual([row[1] for row in found.rows[1:-1]], [" ".join(label.split()) for label in table.categories])
        self.assertEqual([row[2] for row in found.rows[1:-1]], [str(row.frequency) for row in table.rows])
        self.assertEqual(found.rows[-1][1:4], ["Total", "33", "100.0%"])

    def test_json_and_markdown(self) -> None:
        table = vt.pareto({"a|b": 3, "*c*": 1, "d": 1}, keep=1, cut=50)
        self.assertEqual(json.loads(self.written(table, "json")), table.to_dict())
        text = self.written(table, "md").decode()
        self.assertIn("| 1 | a\\|b | 3 | 60.0% | 3 | 60.0% | A |", text)
        self.assertIn("|  | Other (2 categories) | 2 | 40.0% | 5 | 100.0% |  |", text)
        self.assertIn("“Other” holds the 2 smallest categories: “\\*c\\*” and “d”", text)
        self.assertIn("Cutoff 50% (reach): 1 of 3 categories, 60.0%", text)
        rest = table.to_dict()["rest"]
        self.assertEqual(
            (rest["label"], rest["holds"], rest["categories"], rest["frequency"]), ("Other", 2, ["*c*", "d"], 2)
        )

    def test_every_kind_of_table_is_written(self) -> None:
        tables = {
            "split": vt.pareto(LOG, "d", split="k"),
            "drill": vt.pareto(LOG, drill=["k", "d"]),
            "rates": vt.pareto(LOG, "d", per=50, per_name="pieces"),
            "order": vt.pareto(LOG, "d", order=["c", "b", "a", "z"]),
        }
        for name, table in tables.items():
            for ending in ("csv", "json", "xlsx", "md", "html"):
                with self.subTest(table=name, ending=ending):
                    self.assertGreater(len(self.written(table, ending)), 80)
        self.assertEqual(self.written(tables["split"], "csv").decode().splitlines()[0][-8:], ",abc,x,y")
        self.assertIn("**x**", self.written(tables["drill"], "md").decode())
        self.assertEqual(tables["order"].to_dict()["order"], ["c", "b", "a", "z"])
        for name in ("a", "a.doc", "a.htm"):
            with self.assertRaisesRegex(TargetError, "its ending is not one of .csv, .json, .html, .xlsx, .pptx, .md"):
                tables["split"].save(self.folder / name)


class Terminal(InFolder):
    def view(self, table: vt.ParetoTable, width: int) -> list[str]:
        shown = pareto_view(table, vt.review(table), width=width, plain=False, color=False)
        return shown.splitlines()

    def test_it_fits_and_says_what_it_leaves_out(self) -> None:
        strata = {f"Oven number {n}": n for n in range(1, 9)}
        data = {"d": [d for d in "abc" for _ in range(8)], "k": list(strata) * 3}
        table = vt.pareto(data, "d", split="k")
        for width in (60, 80, 120, 200):
            lines = self.view(table, width)
            self.assertTrue(all(len(line) <= width for line in lines), width)
            told, head = " ".join(lines), next(line for line in lines if "Category" in line)
            shown = sum(f"Oven number {n}" in head for n in range(1, 9))
            self.assertEqual("Not shown, not enough space" in told, shown < 8)
        self.assertEqual(sum(f"Oven number {n}" in self.view(table, 200)[3] for n in range(1, 9)), 8)

    def test_cutoffs_stand_where_they_cut(self) -> None:
        lines = self.view(vt.pareto({"a": 6, "b": 3, "c": 1}, cut=(60, 90)), 80)
        self.assertEqual([line[:14] for line in lines if line.startswith("───")], ["─── 60% reache", "─── 90% reache"])
        within = self.view(vt.pareto({"a": 6, "b": 3, "c": 1}, cut=50, rule="within"), 80)
        cut = next(at for at, line in enumerate(within) if line.startswith("───"))
        self.assertIn("50%: 0 of 3 categories within: 0.0%", within[cut])
        self.assertTrue(within[cut + 1].startswith("1  a"))

    def test_frequency_tables_are_called_so(self) -> None:
        self.assertEqual(self.view(vt.pareto(LOG, "d", order="label"), 80)[0], "Frequency table of d")
        self.assertEqual(self.view(vt.pareto(LOG, "d", split="k"), 80)[0], "Pareto table of d by k")
        self.assertIn("Within x: d, 3 records, 1 with a blank “d”", self.view(vt.pareto(LOG, drill=["k", "d"]), 80))
