"""Whatever a workbook or a sheet holds, the review ends in findings or in one line."""

import csv
import io
import random
import unittest
import zipfile

from openpyxl import Workbook

import vantric as vt
from tests.effort import examples
from tests.folder import InFolder
from tests.whole.test_demo import data_file
from vantric.errors import VantricError

HEADS = ["Defect", "Count", "Percent", "Cumulative %", "Total", "%", "n", "Share", "Note", None, "2026", "Cum count"]
CELLS = [
    None,
    "",
    "Total",
    "a",
    "b",
    5,
    0,
    -3,
    1e300,
    7.5,
    "12 %",
    "=B2/B9",
    "=SUM(B2:B4)",
    "=A1",
    "#DIV/0!",
    True,
    "1,234",
    "x" * 50,
    "Other",
    50,
    100,
]


class AnyBook(InFolder):
    def reviewed(self, path: object, name: str) -> None:
        with self.subTest(name):
            try:
                for one in vt.review(path):
                    self.assertNotIn("\n", one.message + one.fix)
                    one.to_dict()
            except VantricError as error:
                self.assertNotIn("\n", str(error))

    def test_rows_of_anything(self) -> None:
        for seed in range(examples(150)):
            dice = random.Random(seed)
            rows = [[dice.choice(HEADS) for _ in range(dice.randrange(2, 6))]]
            rows += [[dice.choice(CELLS) for _ in range(dice.randrange(6))] for _ in range(dice.randrange(9))]
            book, text = Workbook(), io.StringIO()
            for row in rows:
                book.worksheets[0].append(row)
            csv.writer(text).writerows(rows)
            book.save(self.folder / "any.xlsx")
            self.reviewed(self.folder / "any.xlsx", f"workbook {seed}")
            self.reviewed(self.file(text.getvalue(), "any.csv"), f"sheet {seed}")

    def test_broken_parts(self) -> None:
        whole = zipfile.ZipFile(io.BytesIO(data_file("flawed_book.xlsx")))
        names = [
            name for name in whole.namelist() if any(word in name for word in ("chart", "sheet", "drawing", "workbook"))
        ]
        for seed in range(examples(150)):
            dice = random.Random(seed)
            hit = dice.choice(names)
            with zipfile.ZipFile(self.folder / "broken.xlsx", "w") as broken:
                for name in whole.namelist():
                    content = bytearray(whole.read(name))
                    for _ in range(dice.randrange(1, 6) if name == hit else 0):
                        at = dice.randrange(len(content) or 1)
                        content[at : at + dice.randrange(20)] = bytes([dice.randrange(32, 127)]) * dice.randrange(3)
                    broken.writestr(name, bytes(content))
            self.reviewed(self.folder / "broken.xlsx", f"{hit} {seed}")


if __name__ == "__main__":
    unittest.main()
