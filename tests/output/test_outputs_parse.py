"""Every output is read back, whatever text stands in it."""

import csv
import io
import json
import tempfile
import tomllib
import unittest
import xml.etree.ElementTree as ET
import zipfile
from html.parser import HTMLParser
from pathlib import Path

from hypothesis import given, settings
from hypothesis import strategies as st
from openpyxl import load_workbook
from PIL import Image

import vantric as vt
from tests.effort import examples
from vantric.base.safe_text import markup, visible
from vantric.errors import TargetError

#: Signs that break formats, among others; a lone surrogate too.
ODD = "\x00\x01\x08\t\n\x0b\r\x1b\x7f\x85\x9b\u2028\u202e\u2066\ud800\udfff\ufdd0\ufffe\uffff&<>\"'|`_x0041_]]>--=+@"
TEXT = st.text(st.one_of(st.sampled_from(ODD), st.characters(exclude_categories=())), max_size=12)
LABELS = st.lists(TEXT.filter(str.strip), min_size=1, max_size=4, unique=True)


class Cells(HTMLParser):
    """The first cells of the rows of a page."""

    def __init__(self) -> None:
        super().__init__()
        self.rows: list[list[str]] = []
        self._in = False

    def handle_starttag(self, tag: str, attrs: object) -> None:
        if tag == "tr":
            self.rows.append([])
        self._in = tag in ("td", "th")
        if self._in:
            self.rows[-1].append("")

    def handle_endtag(self, tag: str) -> None:
        self._in = False

    def handle_data(self, data: str) -> None:
        if self._in:
            self.rows[-1][-1] += data


class Outputs(unittest.TestCase):
    @settings(max_examples=examples(12), deadline=None)
    @given(LABELS, TEXT)
    def test_tables(self, labels: list[str], column: str) -> None:
        counted = {label: 3 + place for place, label in enumerate(labels)}
        data = {column: labels, "n": list(counted.values())}
        named = {"by": column, "count": "n"} if column.strip() and column != "n" else {}
        table = vt.pareto(data if named else counted, **named, keep_totals=True)  # a label may read as a total
        with tempfile.TemporaryDirectory() as name:
            files = {kind: table.save(Path(name) / f"t.{kind}") for kind in ("csv", "json", "xlsx", "md", "html")}
            again = table.save(Path(name) / "again.xlsx")
            self.assertEqual(files["xlsx"].read_bytes(), again.read_bytes())
            self._check(table, files)

    def _check(self, table: vt.ParetoTable, files: dict[str, Path]) -> None:
        names = list(table.categories)
        read = json.loads(files["json"].read_text("utf-8"))
        self.assertEqual([row["category"] for row in read["rows"]], names)
        self.assertTrue(visible(files["json"].read_text("utf-8")) == files["json"].read_text("utf-8"))
        rows = list(csv.reader(io.StringIO(files["csv"].read_text("utf-8"), newline="")))
        self.assertEqual({len(row) for row in rows}, {len(rows[0])})
        self.assertEqual(len(rows), len(names) + 1)
        with zipfile.ZipFile(files["xlsx"]) as archive:
            for part in archive.namelist():
                ET.fromstring(archive.read(part))
        sheet = load_workbook(files["xlsx"]).worksheets[0]
        self.assertEqual(len(list(sheet.rows)), 5 + len(names) + 1)  # title, cutoff and headings, and the total below
        page = files["html"].read_text("utf-8")
        self.assertEqual(page, markup(page))
        cells = Cells()
        cells.feed(page)
        self.assertEqual(len([row for row in cells.rows if row and row[0].isdecimal()]), len(names))
        text = files["md"].read_text("utf-8")
        self.assertEqual(text, visible(text))

    @settings(max_examples=examples(8), deadline=None)
    @given(LABELS, TEXT)
    def test_pictures(self, labels: list[str], title: str) -> None:
        counted = {label: 3 + place for place, label in enumerate(labels)}
        said: list[str] = []
        chart = vt.pareto_chart(vt.pareto(counted, keep_totals=True), title=title)  # a label may read as a total
        from vantric.rendering.pictures import picture

        root = ET.fromstring(picture(chart, "svg", tell=said.append))
        found = root.find("{http://www.w3.org/2000/svg}title")
        assert found is not None
        self.assertEqual((found.text or "").split(), markup(chart.title).split())
        with Image.open(io.BytesIO(picture(chart, "png", tell=said.append))) as image:
            image.load()
            self.assertEqual(image.info["Description"], markup(chart.description))
        self.assertTrue(picture(chart, "pdf", tell=said.append).startswith(b"%PDF"))

    @settings(max_examples=examples(25), deadline=None)
    @given(LABELS, TEXT)
    def test_chart_files(self, labels: list[str], title: str) -> None:
        with tempfile.TemporaryDirectory() as name:
            log = Path(name) / "log.json"
            log.write_text(json.dumps([{"a": "x"}, {"a": "y"}]))
            chart = vt.pareto_chart(
                str(log), "a", title=title, words={"total": labels[0].replace("{", "(").replace("}", ")")}
            )
            kept = chart.save(Path(name) / "c.json")
            self.assertEqual(json.loads(kept.read_text("utf-8"))["kind"], "pareto")
            self.assertEqual(vt.read_chart(kept), chart)
            try:
                chart.save(Path(name) / "c.toml")
            except TargetError as error:
                self.assertIn("lone surrogates", str(error))
            else:
                tomllib.loads((Path(name) / "c.toml").read_text("utf-8"))
                self.assertEqual(vt.read_chart(Path(name) / "c.toml"), chart)
