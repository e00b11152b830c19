"""Short plain text files are read without the engine, and are as it has them."""

from __future__ import annotations

import csv
import io
import math
import unittest
from collections import Counter
from itertools import product
from random import Random
from typing import Any

import vantric as vt
from tests.effort import examples, some
from tests.folder import InFolder
from vantric.core.counts.provenance import Note
from vantric.engines.files import open_file
from vantric.engines.plain_records import TextRecords
from vantric.errors import VantricError
from vantric.reading.headers import is_well_quoted
from vantric.reading.settings import ReadSettings

LABELS = (
    "Pinhole",
    " Pinhole",
    "pinhole",
    "Edge chip",
    "",
    "  ",
    "Total",
    '"',
    "do",
    "Größe, fein",
    'a "b" c',
    "7",
    "NA",
)
AMOUNTS = (
    "1",
    "12",
    "+7",
    "007",
    "2",
    " 3",
    "4.5",
    "1,234",
    "",
    "0",
    "-2",
    "1.234,5",
    "12 pcs",
    "7%",
    "x",
    "1e3",
    "1234567.125",
)


def written(draw: Random) -> str:
    """Return a table as text, mostly of plain cells."""
    amounts = draw.choice((AMOUNTS[:2], AMOUNTS[:4], AMOUNTS[:6], AMOUNTS[:8], AMOUNTS))
    names = draw.choice((LABELS[:5], LABELS[:7], LABELS))
    rows = [
        [draw.choice(names), draw.choice(("A", "B", "b", " ")), draw.choice(amounts), draw.choice(amounts)]
        for _ in range(draw.randint(1, 40))
    ]
    text = io.StringIO()
    delimiter = draw.choice(",;\t")
    csv.writer(text, delimiter=delimiter, lineterminator=draw.choice(("\n", "\r\n"))).writerows(
        [["defect", "line", "pieces", "cost"], *rows]
    )
    return text.getvalue()


def asked(records: Any, name: str, *arguments: Any, **named: Any) -> Any:
    """Return what records answer in one form, or what they complain of."""
    try:
        values = getattr(records, name)(*arguments, **named)
    except VantricError as error:
        return str(error)
    if isinstance(values, list) and values and isinstance(values[0], tuple) and name != "rows_in_order":
        return Counter(tuple(map(plain, group)) for group in values)
    return list(values) if name == "values_in_order" else values


def plain(value: Any) -> Any:
    if isinstance(value, str) or value is None:
        return value or None
    return float(f"{float(value):.12g}") if math.isfinite(value) else value


class Plain(InFolder):
    def test_what_it_says_is_what_the_engine_says(self) -> None:
        quick = 0
        for seed in range(examples(240)):
            path = self.file(written(Random(seed)), "t.csv")
            try:
                records, engine = (open_file(path, ReadSettings(), [], in_engine=there) for there in (False, True))
            except VantricError:  # it is no table in either
                continue
            quick += isinstance(records, TextRecords)
            with self.subTest(seed=seed):
                self.agree(records, engine)
            engine.close()
            records.close()
        self.assertGreater(quick, examples(240) // 4)

    def agree(self, records: Any, engine: Any) -> None:
        self.assertEqual(records.names(), engine.names())
        self.assertEqual(records.head(5), engine.head(5))
        for keys in ([], ["defect"], ["defect", "line"], ["line", "line"]):
            self.assertEqual(asked(records, "groups", keys), asked(engine, "groups", keys))
        for column in ("pieces", "defect"):
            for free in (False, True):
                named = {"free": free, "squares": True}
                self.assertEqual(
                    asked(records, "sums", ["defect"], column, **named),
                    asked(engine, "sums", ["defect"], column, **named),
                )
        self.assertEqual(
            asked(records, "products", ["line"], "pieces", "cost"),
            asked(engine, "products", ["line"], "pieces", "cost"),
        )
        for name in ("units", "extremes"):
            self.assertEqual(asked(records, name, ["line"], "cost"), asked(engine, name, ["line"], "cost"))
        self.assertEqual(
            asked(records, "rows_in_order", ["defect", "pieces"], 100),
            asked(engine, "rows_in_order", ["defect", "pieces"], 100),
        )
        for numbers in (False, True):
            self.assertEqual(
                asked(records, "values_in_order", "cost", numbers=numbers),
                asked(engine, "values_in_order", "cost", numbers=numbers),
            )
        left = [[2, 3]]
        without = [source.without(left, Note("total-row", "two are left out")) for source in (records, engine)]
        self.assertEqual(*(asked(source, "groups", ["defect"]) for source in without))
        self.assertEqual(*(asked(source, "values_in_order", "cost", numbers=True) for source in without))
        ditto = [source.with_dittos("defect", Note("ditto", "as above")) for source in (records, engine)]
        self.assertEqual(*(asked(source, "groups", ["defect"]) for source in ditto))
        pairs = [source.with_pairs(["defect", "line"]) for source in (records, engine)]
        self.assertEqual(*(asked(source, "groups", [name]) for source, name in pairs))
        self.assertEqual(records.first_values("defect"), engine.first_values("defect"))
        self.assertEqual(records.remarks, engine.remarks)

    def test_one_odd_cell_after_many_plain_ones(self) -> None:
        plain = "defect,pieces,cost\n" + "Chip,12,0.25\nCrack,7,1200.5\n" * 1500
        whole = ("007", "+5", " 6", "8 ", "1e3", "1_000", "0x1F", "true", "９", "1,5", "-3", "-0", "", "9" * 19)
        parted = ("1.5", "12.50", "5.", ".5", "00.5", "1.5e0", "1.234567", "-0.00", "1.5 ", "99999999999999.5", "nan")
        asks = [("sums", column, {"squares": True}) for column in ("pieces", "cost")]
        asks += [("products", "pieces", {"weight": "cost"}), ("products", "cost", {"weight": "pieces"})]
        for at, cell in some(product((1, 2), (*whole, *parted)), every=3):
            cells = ["Crack", "7", "0.5"]
            cells[at] = f'"{cell}"'
            path = self.file(f"{plain}{','.join(cells)}\n")
            both = [open_file(path, ReadSettings(), [], in_engine=there) for there in (False, True)]
            with self.subTest(cell, at=at):
                for what, column, named in asks:
                    self.assertEqual(*(asked(records, what, ["defect"], column, **named) for records in both))
            for records in both:
                records.close()

    def test_the_time_it_is_given(self) -> None:
        path = self.file("defect\n" + "a\n" * 50, "t.csv")
        with self.assertRaisesRegex(VantricError, "time given with timeout is over"):
            vt.tally(path, by="defect", timeout=1e-9)

    def test_columns_that_are_not_there(self) -> None:
        path = self.file("defect,line\na,A\nb,B\n", "t.csv")
        with self.assertRaisesRegex(vt.ColumnError, "'defekt'.*did you mean 'defect'"):
            vt.tally(path, by="defekt")


class Quotes(unittest.TestCase):
    def test_marks_around_whole_cells(self) -> None:
        for text, well in (
            ("a,b\n1,2\n", True),
            ('a,b\n"1",2\n', True),
            ('a,b\n"1 ""x""",2', True),
            ('"a",b\r\n1,"2"\r\n', True),
            ('a,b\n"1" ,2\n', False),
            ('a,b\n5" pipe,2\n', False),
            ('a,b\n"1,2\n', False),
            ('a,b\n"1"x,2\n', False),
        ):
            with self.subTest(text):
                self.assertEqual(is_well_quoted(text, ","), well)
