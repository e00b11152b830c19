"""A real notebook: every result shows itself, and no chart is cropped."""

import base64
import io
import os
import re
import tempfile
import unittest
from pathlib import Path
from typing import Any, ClassVar

import nbformat
from nbclient import NotebookClient
from PIL import Image

import vantric as vt
from vantric.demo import data_file

START = """
%matplotlib inline
import vantric as vt
log, firings = "inspections.csv", "firings.csv"
table = vt.pareto(log, "defect", merge_spellings=True, keep=9)
chart = table.chart()
"""
CELLS = {
    "tally": "vt.tally(log, 'defect')",
    "crosstab": "vt.crosstab(log, 'product', 'kiln')",
    "pareto": "table",
    "certainty": "vt.pareto(log, 'defect').certainty(start=2)",
    "comparison": "vt.crosstab(log, 'product', 'kiln').compare('Kiln 1', 'Kiln 2')",
    "measures": "vt.aggregate(firings, 'month', {'first_firing': 'sum'}, period='quarter')",
    "scales": "vt.align((0, 650), (0, 100))",
    "findings": "vt.tally(log, 'defect').review()",
    "gap": "vt.gap([640, 590], [612, 601])",
    "trend": "vt.trend(log, 'defect', date='date')",
    "concentration": "vt.pareto(log, 'defect').concentration()",
    "relation": "vt.relate([1, 2, 3, 5], [2, 3, 5, 4])",
}
PICTURES = {
    "chart": "chart",
    "panels": "vt.pareto(log, 'defect', split='kiln', keep=8).chart(panels=True)",
    "figure": "chart.figure()",
    "subplots": """
import matplotlib.pyplot as plt
fig, (one, other) = plt.subplots(1, 2, figsize=(14, 6))
chart.draw(ax=one); table.chart(orientation="horizontal").draw(ax=other)
fig""",
}


class Notebook(unittest.TestCase):
    outputs: ClassVar[dict[str, list[Any]]] = {}

    @classmethod
    def setUpClass(cls) -> None:
        book = nbformat.v4.new_notebook()
        sources = [START, *CELLS.values(), *PICTURES.values()]
        book.cells = [nbformat.v4.new_code_cell(source) for source in sources]
        folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(folder.cleanup)
        for name in ("inspections.csv", "firings.csv"):
            (Path(folder.name) / name).write_bytes(data_file(name))
        os.environ.setdefault("PYDEVD_DISABLE_FILE_VALIDATION", "1")
        NotebookClient(
            book, timeout=120, kernel_name="python3", resources={"metadata": {"path": folder.name}}
        ).execute()
        cls.outputs = {name: cell.outputs for name, cell in zip(["start", *CELLS, *PICTURES], book.cells, strict=True)}

    def test_every_result_shows_itself_in_html(self) -> None:
        for name in CELLS:
            with self.subTest(result=name):
                [output] = self.outputs[name]
                html = output.data["text/html"]
                self.assertRegex(html, "^<(table|p)")
                self.assertNotIn("NaN", html)
                self.assertNotRegex(re.sub("<[^>]*>", " ", html), r"<\w+ object at")

    def test_no_picture_is_cropped(self) -> None:
        for name in PICTURES:
            with self.subTest(picture=name):
                pictures = [one.data["image/png"] for one in self.outputs[name] if "image/png" in one.get("data", {})]
                self.assertTrue(pictures)
                image = Image.open(io.BytesIO(base64.b64decode(pictures[0]))).convert("L")
                ground = image.getpixel((2, 2))
                width, height = image.size
                edges = [
                    image.crop(box)
                    for box in (
                        (0, 0, width, 2),
                        (0, height - 2, width, height),
                        (0, 0, 2, height),
                        (width - 2, 0, width, height),
                    )
                ]
                self.assertEqual({one.getextrema() for one in edges}, {(ground, ground)}, "ink at the edge")
                if name in ("chart", "panels"):
                    self.assertEqual(image.size, (2560, 1600))
                else:
                    self.assertGreater(width * height, 500_000)


class Verbs(unittest.TestCase):
    """The table of verbs in the guide, held to what results can do."""

    def test_the_table_of_the_guide(self) -> None:
        page = (Path(__file__).parents[2] / "docs/results.md").read_text(encoding="utf-8")
        head, *rows = re.findall(r"^\| (.+) \|$", page, re.MULTILINE)
        verbs = [cell.strip(" `") for cell in head.split(" | ")[1:]]
        self.assertEqual(
            verbs, ["sentence()", "to_dict()", "to_frame()", "save(path)", "chart()", "review()", "shows itself"]
        )
        for row in rows[1:] if set(rows[0]) <= set("-| ") else rows:
            name, *cells = (cell.strip(" `") for cell in row.split(" | "))
            kind = getattr(vt, name)
            can = [hasattr(kind, verb.partition("(")[0]) for verb in verbs[:-1]]
            can.append(hasattr(kind, "_repr_html_") or hasattr(kind, "_repr_mimebundle_"))
            self.assertEqual([cell == "yes" for cell in cells], can, name)

    def test_dir_lists_public_names_only(self) -> None:
        labels = ["a", "b", "a"]
        table = vt.pareto(labels)
        for result in (vt.tally(labels), table, table.chart(), vt.compare(labels, labels), vt.align((0, 1), (0, 2))):
            names = dir(result)
            self.assertFalse([name for name in names if name.startswith("_") or name == "of"])
            self.assertLessEqual({"sentence", "save", "review"}, set(names))
            self.assertFalse({"bar_places", "kept_by", "arranged", "in_rows", "marked"} & set(names))
