"""A test with a folder of its own."""

import tempfile
import unittest
from pathlib import Path
from typing import Any

from openpyxl import Workbook

import vantric as vt
from vantric.errors import VantricError


class InFolder(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def file(self, content: str | bytes, name: str = "log.csv") -> Path:
        path = self.folder / name
        path.write_bytes(content if isinstance(content, bytes) else content.encode())
        return path

    def workbook(self, rows: list[list[Any]], name: str = "a.xlsx") -> Path:
        book = Workbook()
        for row in rows:
            book.worksheets[0].append(row)
        book.save(self.folder / name)
        return self.folder / name

    def says(self, words: str, *arguments: Any, **options: Any) -> None:
        with self.assertRaisesRegex(VantricError, words) as caught:
            vt.pareto(*arguments, **options)
        self.assertNotIn("\n", str(caught.exception))
