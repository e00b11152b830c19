"""What one record is: the same for every command, told by the structure of the data."""

from __future__ import annotations

import json
import random
import unittest
from typing import Any

import numpy as np
import pandas as pd
import polars as pl

import vantric as vt
from tests.cli.test_cli import Result
from tests.folder import InFolder
from vantric.core.counts.tally import Repeats
from vantric.core.statistics.changes import changes_of
from vantric.core.statistics.sample import occurrences, sample_of, share_intervals
from vantric.errors import VantricError

COUNTS = {"Pinhole": (120, 60, 150), "Crack": (60, 90, 70), "Chip": (30, 31, 22)}
MONTHS = ("Jan", "Feb", "Mar")


def long_sheet(counts: dict[str, tuple[int, ...]] = COUNTS, *, zeros: bool = True) -> dict[str, list[Any]]:
    """Return a sheet of a row a label and month."""
    cells = [
        (month, label, row[place])
        for place, month in enumerate(MONTHS)
        for label, row in counts.items()
        if zeros or row[place]
    ]
    return {
        "month": [one for one, *_ in cells],
        "defect": [one for _, one, _ in cells],
        "count": [one for *_, one in cells],
    }


class Sheets(InFolder):
    def test_one_sheet_in_every_form_says_the_same(self) -> None:
        wide = {
            "defect": list(COUNTS),
            **{month: [row[at] for row in COUNTS.values()] for at, month in enumerate(MONTHS)},
        }
        turned = {"month": list(MONTHS), **{label: list(row) for label, row in COUNTS.items()}}
        tables = [
            vt.pareto(long_sheet(), "defect", count="count"),
            vt.pareto(pd.DataFrame(long_sheet()), "defect", count="count"),
            vt.pareto(pl.DataFrame(long_sheet()), "defect", count="count"),
            vt.pareto(wide, "defect", count="Jan:Mar"),
            vt.pareto(turned, by_columns=list(COUNTS)),
            vt.pareto(wide, "defect", split_columns=list(MONTHS)),
            vt.pareto(long_sheet(), "defect", count="count", split="month"),
        ]
        first = tables[0].certainty()
        self.assertEqual((first.basis, first.declared), ("ready", True))
        self.assertIn("From month to month the mix varies 10 times as much", first.sentence())
        for number, table in enumerate(tables):
            self.assertEqual(table.certainty().rows, first.rows, number)
        crosstab = vt.crosstab(long_sheet(), "defect", "month", count="count")
        self.assertEqual(sample_of(crosstab.tally(), 0.95).effective, sample_of(tables[0].tally, 0.95).effective)

    def test_a_sheet_without_its_zeros_is_one(self) -> None:
        counts = {**COUNTS, "Stain": (0, 3, 0), "Speck": (2, 0, 1)}
        found = vt.pareto(long_sheet(counts, zeros=False), "defect", count="count").certainty()
        self.assertEqual(found.basis, "ready")

    def test_rows_says_what_they_are(self) -> None:
        sheet = self.file(
            "month,defect,count\n"
            + "".join(f"{month},{label},{count}\n" for month, label, count in zip(*long_sheet().values(), strict=True))
        )
        source = ("pareto", sheet, "--by", "defect", "--count", "count", "--intervals", "--format", "json")
        for options, basis in (
            ((), "ready"),
            (("--rows-are", "totals"), "ready"),
            (("--rows-are", "records"), "clustered"),
        ):
            self.assertEqual(json.loads(Result(*source, *options).out)["certainty"]["basis"], basis)
        log = {"d": ["a", "b", "a", "b"], "n": [3, 4, 5, 1], "x": [1, 2, 3, 4]}
        self.assertEqual(vt.pareto(log, "d", count="n").certainty().basis, "clustered")
        self.assertEqual(vt.pareto(log, "d", count="n", rows="totals").certainty().basis, "ready")

    def test_logs_are_hardly_taken_for_sheets(self) -> None:
        draw = random.Random(5)
        taken = 0
        for _ in range(200):
            rows, labels, days = draw.choice(((30, 3, 30), (60, 5, 12), (100, 5, 250), (30, 2, 60)))
            log = {
                "d": [draw.choice("abcdefgh"[:labels]) for _ in range(rows)],
                "day": [draw.randrange(days) for _ in range(rows)],
                "n": [draw.randint(1, 9) for _ in range(rows)],
            }
            taken += vt.tally(log, "d", count="n").origin.ready
        self.assertLessEqual(taken, 5)

    def test_a_log_of_two_amounts_is_a_log(self) -> None:
        rng = random.Random(3)
        log = {**long_sheet(), "minutes": [rng.randint(1, 500) for _ in range(9)]}
        self.assertEqual(vt.pareto(log, "defect", count="count").certainty().basis, "clustered")

    def test_intervals_hold_though_the_mix_varies_from_column_to_column(self) -> None:
        rng = np.random.default_rng(2)
        share = np.array([0.4, 0.3, 0.2, 0.1])
        names = tuple("abcd")
        for columns in (3, 12):
            held = 0
            for _ in range(300):
                table = np.array([rng.multinomial(200, rng.dirichlet(30 * share)) for _ in range(columns)]).T
                repeats = Repeats("", {name: tuple(map(float, row)) for name, row in zip(names, table, strict=True)})
                low, high = share_intervals(occurrences(table.sum(axis=1).astype(float), names, [repeats], 0.95))
                held += bool(np.all((low <= share) & (share <= high)))
            self.assertGreaterEqual(held / 300, 0.95 - 3 * np.sqrt(0.05 * 0.95 / 300), columns)


class Lots(InFolder):
    LOG = {
        "defect": ["a", "a", "a", "b", "a", "b", "c", "b", "a", "c"],
        "load": [1, 1, 1, 1, 2, 3, 3, 4, None, None],
    }

    def test_the_rows_of_a_lot_are_one_record(self) -> None:
        spread = vt.tally(self.LOG, "defect", lot="load").spread
        assert spread is not None
        self.assertEqual(spread.records, 6, "four loads, and two records without one")
        self.assertEqual(spread.of("a")[:2], (3, 3**2 + 1 + 1))
        self.assertEqual(spread.of("a").crossed, 3 * 4 + 1 * 1 + 1 * 1)
        self.assertEqual(spread.whole, 4**2 + 1 + 2**2 + 1 + 1 + 1)

    def test_lots_of_one_row_are_plain_records_and_lots_of_one_label_count_as_one(self) -> None:
        labels = ["a"] * 60 + ["b"] * 30 + ["c"] * 10
        plain = vt.pareto(labels).certainty()
        alone = vt.pareto({"d": labels, "lot": list(range(100))}, "d", lot="lot").certainty()
        self.assertEqual([row.low for row in alone.rows], [row.low for row in plain.rows])
        five = {"d": [label for label in labels for _ in range(5)], "lot": [at for at in range(100) for _ in range(5)]}
        in_lots = vt.pareto(five, "d", lot="lot").certainty()
        self.assertEqual([row.low for row in in_lots.rows], [row.low for row in plain.rows])
        without = vt.pareto(five, "d").certainty()
        self.assertGreater(without.rows[0].low, plain.rows[0].low, "500 records that are 100 loads")
        self.assertIn("lot names what belongs together", without.sentence())
        self.assertNotIn("lot names", in_lots.sentence())

    def test_everywhere_the_same(self) -> None:
        source = self.file(
            "defect,load,kiln\n"
            + "".join(
                f"{label},{'' if load is None else load},{'E' if at % 2 else 'W'}\n"
                for at, (label, load) in enumerate(zip(*self.LOG.values(), strict=True))
            )
        )
        want = vt.tally(self.LOG, "defect", lot="load").spread
        for data in (source, pd.DataFrame(self.LOG), pl.DataFrame(self.LOG)):
            self.assertEqual(vt.tally(data, "defect", lot="load").spread, want)
        crossed = vt.crosstab(source, "defect", "kiln", lot="load")
        self.assertEqual(sum(spread.records for spread in crossed.spreads), 8, "a load in both kilns counts in both")
        compared = vt.compare(source, by="defect", split="kiln", groups=("E", "W"), lot="load")
        self.assertIn("E", compared.sentence())
        drilled = Result("pareto", source, "--drill", "kiln,defect", "--lot", "load", "--intervals", "--format", "json")
        self.assertEqual(drilled.status, 0, drilled.err)

    def test_what_does_not_go_together(self) -> None:
        for options in ({"by_columns": ["x", "y"]}, {"by": "d", "unique": "x"}, {"by": "d", "rows": "records"}):
            with self.assertRaisesRegex(VantricError, "the rows of a lot are one record"):
                vt.tally({"d": ["a"], "x": [1], "y": [2]}, lot="x", **options)
        result = Result("tally", self.file("d\na\n"), "--by", "d", "--lot", "loda")
        self.assertEqual((result.status, result.out), (2, ""))
        self.assertIn("no column 'loda'", result.err)
        result = Result("tally", self.file("d\na\n"), "--by", "d", "--rows-are", "sums")
        self.assertEqual((result.status, result.out), (2, ""))
        self.assertIn("--rows-are is one of 'records', 'totals', not 'sums'", result.err)


class Sides(unittest.TestCase):
    def test_a_side_of_one_category_counts_its_occurrences(self) -> None:
        before = {"d": ["a", "b"], "n": [60, 40]}
        after = {"d": ["a"], "n": [80]}
        found = changes_of(vt.compare(before, after, by="d", count="n"))
        self.assertEqual([row.category for row in found.beyond], ["a", "b"])
        self.assertIn("180 occurrences, taken as independent of each other.", found.counted)
        one = changes_of(vt.compare({"d": ["a"], "n": [60]}, {"d": ["b"], "n": [80]}, by="d", count="n"))
        self.assertEqual(len(one.beyond), 2)

    def test_the_unit_of_a_weight_changes_nothing(self) -> None:
        rng = np.random.default_rng(8)
        labels = rng.choice(list("abcd"), 30, p=[0.5, 0.25, 0.15, 0.1]).tolist()
        weights = np.round(rng.lognormal(1, 1, 30), 3)
        limits = [
            [
                (row.low, row.high)
                for row in vt.pareto({"d": labels, "w": weights * unit}, "d", weight="w").certainty().rows
            ]
            for unit in (1.0, 0.001, 1000.0)
        ]
        for other in limits[1:]:
            np.testing.assert_allclose(other, limits[0], rtol=1e-6)
