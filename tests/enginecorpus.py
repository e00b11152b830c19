"""Records that engines count wrong, with what is right worked out in fractions; and what every frame is held to."""

from __future__ import annotations

import datetime as dt
import math
import random
import unittest
from collections.abc import Sequence
from decimal import Decimal
from fractions import Fraction
from typing import Any

import vantric as vt
from vantric.errors import AmountError, ColumnError

Rows = dict[str, list[Any]]

#: Name -> type in Spark's words.
TYPES = {
    "de.fect": "string",
    "pieces": "bigint",
    "small": "int",
    "minutes": "double",
    "wide": "bigint",
    "cost": "decimal(12,2)",
    "fine": "decimal(38,18)",
    "tiny": "double",
    "huge": "double",
    "day": "date",
    "okay": "boolean",
    "serial no": "string",
}
RECORDS: Rows = {
    "de.fect": ["Pinhole", "Warping", "Pinhole", None, "  ", "Warping", "Pinhole", "Übermaß"],
    "pieces": [1, 2, 3, 4, 5, 6, 7, 0],
    "small": [1, 2, 3, 4, 5, 6, 7, 8],
    "minutes": [0.5, 1.25, 0.1, 1.0, 1.0, 0.2, 0.3, 0.7],
    "wide": [2**62, 2**62, 2**62, 0, 1, 3, 2**62, 2**63 - 1],
    "cost": [Decimal(text) for text in ("0.10", "1.25", "99999999.99", "0.01", "0.02", "0.03", "0.04", "0.00")],
    "fine": [Decimal(text) for text in ("0.1", "1.000000000000000001", "99999999.99", "1", "2", "3", "4", "0.5")],
    "tiny": [1e-9, 3e-9, 1e-9, 2e-9, 1e-9, 1e-9, 1e-9, 0.0],
    "huge": [1e280, 1.0, 1e-280, 2.0, 3.0, 1.0, 0.0, 5.0],
    "day": [dt.date(2026, 1, day) for day in (1, 1, 2, 2, 3, 3, 4, 4)],
    "okay": [True, False, True, True, False, False, True, True],
    "serial no": ["a", "a", "b", " ", "b", None, "b", "c"],
}
#: What is added up: a count, a weight.
SUMS = [
    ("pieces", None),
    ("small", None),
    ("wide", None),
    ("minutes", None),
    ("cost", None),
    ("fine", None),
    ("tiny", None),
    ("huge", None),
    ("okay", None),
    (None, "cost"),
    ("pieces", "minutes"),
    ("pieces", "cost"),
    ("pieces", "fine"),
    ("wide", "pieces"),
    ("wide", "wide"),
    ("small", "wide"),
    ("cost", "minutes"),
    ("cost", "cost"),
    ("pieces", "tiny"),
    ("small", "huge"),
    ("wide", "cost"),
]


#: As many as a slow engine is asked for; a cluster of it is asked for all.
FEW = [
    ("wide", None),
    ("cost", None),
    ("pieces", "minutes"),
    ("pieces", "fine"),
    ("wide", "pieces"),
    ("cost", "minutes"),
]


def renamed(rows: Rows, names: dict[str, str]) -> Rows:
    """Return records under other names."""
    return {names.get(name, name): values for name, values in rows.items()}


def exact(rows: Rows, by: str, count: str | None, weight: str | None) -> dict[str, Fraction]:
    """Return the frequencies as fractions."""
    found: dict[str, Fraction] = {}
    for at, label in enumerate(rows[by]):
        if label is not None and label.strip():
            one = Fraction(rows[count][at]) if count else Fraction(1)
            found[label] = found.get(label, Fraction()) + one * (Fraction(rows[weight][at]) if weight else 1)
    return found


def random_rows(seed: int, size: int = 400) -> Rows:
    """Return records whose integers, decimals and floats are of any size."""
    dice = random.Random(seed)
    bits, power = dice.choice((8, 31, 40, 62)), dice.choice((-30, 0, 9))
    return {
        "label": [dice.choice(("a", "b", "c", None)) for _ in range(size)],
        "whole": [dice.randrange(2**bits) for _ in range(size)],
        "other": [dice.randrange(2 ** dice.choice((3, 20, 31))) for _ in range(size)],
        "money": [Decimal(dice.randrange(10**9)).scaleb(-2) for _ in range(size)],
        "real": [round(dice.lognormvariate(0, 3), 3) * 10.0**power for _ in range(size)],
        "signed": [dice.uniform(-1, 1) * 10.0**power for _ in range(size)],
    }


class CountingInEngines:
    """What a frame of any engine is held to; a test of an engine says how its frames are made.

    Attributes
    ----------
    case
        Who asserts.
    by
        The name of the column of labels.
    asked
        What is added up.
    """

    case: unittest.TestCase
    by = "de.fect"
    ordered = False
    rows: Rows = RECORDS
    asked: Sequence[tuple[str | None, str | None]] = SUMS

    def frame(self, rows: Rows) -> Any:
        """Return records as a frame of the engine."""
        raise NotImplementedError

    def hold(self) -> None:
        """Hold the engine to everything."""
        rows = self.rows if self.by == "de.fect" else renamed(self.rows, {"de.fect": self.by})
        frame = self.frame(rows)
        self.sums(frame, rows)
        self.others(frame, rows)
        self.bad_amounts(rows)

    def sums(self, frame: Any, rows: Rows) -> None:
        case = self.case
        for count, weight in self.asked:
            if not {count, weight} - {None} <= rows.keys():
                continue
            with case.subTest(engine=type(self).__name__, count=count, weight=weight):
                tally = vt.tally(frame, self.by, count=count, weight=weight)
                close(case, tally.as_dict(), exact(rows, self.by, count, weight))
                case.assertEqual(tally.origin.input_rows, 8)

    def others(self, frame: Any, rows: Rows) -> None:
        case, by = self.case, self.by
        with case.subTest(engine=type(self).__name__, what="others"):
            case.assertEqual(vt.tally(frame, by).as_dict(), {"Pinhole": 3, "Warping": 2, "Übermaß": 1})
            case.assertEqual(vt.tally(frame, by, na="Warping").as_dict(), {"Pinhole": 3, "Übermaß": 1})
            case.assertEqual(vt.tally(frame, "okay").as_dict(), {"True": 5, "False": 3})
            case.assertEqual(set(vt.tally(frame, "day").as_dict()), {f"2026-01-0{day}" for day in (1, 2, 3, 4)})
            units = vt.tally(frame, by, unique="serial no")
            case.assertEqual(units.as_dict(), {"Pinhole": 2, "Warping": 1, "Übermaß": 1})
            table = vt.crosstab(frame, by, "day").tally()
            case.assertEqual(table.as_dict(), {"Pinhole": 3, "Warping": 2, "Übermaß": 1})
            measures = vt.aggregate(frame, by, {"pieces": "sum", "m": "mean:minutes", "top": "max:cost"})
            values = dict(zip(measures.names, measures.values, strict=True))
            case.assertEqual(values["pieces"], (11, 8, 0))
            case.assertEqual(values["top"], (99999999.99, 1.25, 0))
            case.assertAlmostEqual(values["m"][0], 0.3, places=15)
            with case.assertRaises(ColumnError):
                vt.tally(frame, "no such column")

    def bad_amounts(self, rows: Rows) -> None:
        case = self.case
        for bad, words in (
            (-3, "is negative: -3"),
            (None, "is missing"),
            (math.nan, "is missing"),
            (math.inf, "is (not finite|infinite|too large)"),
        ):
            name = "minutes" if isinstance(bad, float) else "pieces"
            values = [*rows[name][:5], bad, *rows[name][6:]]
            with case.subTest(engine=type(self).__name__, bad=bad):
                place = r"record 6|a record of 'Warping'"
                with case.assertRaisesRegex(AmountError, f"({place}), column '{name}': the (count|value) {words}"):
                    vt.tally(self.frame({**rows, name: values}), self.by, count=name)


def close(case: unittest.TestCase, found: dict[str, Any], expected: dict[str, Fraction]) -> None:
    """Assert that frequencies are exact: integers to the last digit, others within a relative 1e-12."""
    case.assertEqual(found.keys(), expected.keys())
    for label, value in expected.items():
        if value.denominator == 1 and isinstance(found[label], int):
            case.assertEqual(found[label], value, label)
        else:
            case.assertLessEqual(abs(Fraction(found[label]) - value), abs(value) * Fraction(1, 10**12), label)
