"""Slides, read back: title, picture with its text alternative, sentence, notes, tables as tables."""

from __future__ import annotations

import io
import sys
import tempfile
import unittest
from pathlib import Path
from typing import Any
from unittest import mock

from PIL import Image
from pptx import Presentation

import vantric as vt


def slides_of(result: Any, **how: Any) -> Any:
    with tempfile.TemporaryDirectory() as folder:
        return Presentation(str(result.save(Path(folder, "s.pptx"), **how)))


class Slides(unittest.TestCase):
    def test_one_slide_a_chart(self) -> None:
        table = vt.pareto({"Pinhole": 88, "Warping": 61, "Edge chip": 44, "=1+1 <b>": 38})
        [slide] = slides_of(table).slides
        self.assertEqual(slide.shapes.title.text, "Pinhole, Warping and Edge chip account for 84% of 231 records")
        [picture] = [shape for shape in slide.shapes if shape.shape_type == 13]
        self.assertEqual(picture._element.nvPicPr.cNvPr.get("descr"), table.chart().sentence())
        with Image.open(io.BytesIO(picture.image.blob)) as image:
            self.assertEqual(image.size, (1280, 800))
        texts = [shape.text_frame.text for shape in slide.shapes if shape.has_text_frame]
        self.assertIn(table.sentence(), texts)
        self.assertIn("Base: 231 records", slide.notes_slide.notes_text_frame.text)
        for shape in slide.shapes:
            self.assertGreaterEqual(shape.left, 0)
            self.assertLessEqual(shape.left + shape.width, 12192000 + 2000)
            self.assertLessEqual(shape.top + shape.height, 6858000 + 2000)

    def test_the_table_on_request_is_a_table(self) -> None:
        table = vt.pareto({f"c{n}": 40 - n for n in range(20)})
        found = slides_of(table, slide_tables=True).slides
        self.assertEqual(len(found), 3)
        tables = [shape.table for slide in found for shape in slide.shapes if shape.has_table]
        cells = [[cell.text for cell in row.cells] for one in tables for row in list(one.rows)[1:]]
        self.assertEqual([row[1] for row in cells], [*(f"c{n}" for n in range(20)), "Total"])
        self.assertEqual(cells[-1][2], "610")

    def test_the_same_result_gives_the_same_bytes(self) -> None:
        table = vt.pareto({"a": 2, "b": 1})
        with tempfile.TemporaryDirectory() as folder:
            one, two = (Path(table.save(Path(folder, f"{n}.pptx"))).read_bytes() for n in range(2))
        self.assertEqual(one, two)

    def test_the_extra_that_is_missing_is_named(self) -> None:
        with mock.patch.dict(sys.modules, {"pptx": None}), tempfile.TemporaryDirectory() as folder:
            with self.assertRaisesRegex(vt.VantricError, r"install vantric\[slides\]"):
                vt.pareto({"a": 2}).save(Path(folder, "s.pptx"))
            self.assertEqual(list(Path(folder).iterdir()), [])


if __name__ == "__main__":
    unittest.main()
