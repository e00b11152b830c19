"""How many independent records tell as much: of every engine, in every order, by hand."""

from __future__ import annotations

import json
import random
import sqlite3
from itertools import product

import numpy as np
import polars as pl

import vantric as vt
from tests.folder import InFolder
from vantric.core.counts.provenance import Provenance
from vantric.core.counts.tally import Moments, RecordGroup, joined, single, spread_of
from vantric.core.statistics.sample import Sample, rounded, sample_of
from vantric.errors import RankError


class Spreads(InFolder):
    rows = (
        ("Pinhole", 3, 2.5),
        ("Scratch", 1, 0.5),
        ("Pinhole", 4, 1.0),
        (None, 7, 1.0),
        ("Warping", 2, 10.25),
        ("Scratch", 1, 4.0),
    )

    def sources(self) -> dict[str, object]:
        """Return the same records in every kind of source."""
        frame = pl.DataFrame(self.rows, schema=["defect", "pieces", "cost"], orient="row")
        text = self.folder / "log.csv"
        frame.write_csv(text)
        parquet = self.folder / "log.parquet"
        frame.write_parquet(parquet)
        base = self.folder / "log.sqlite"
        base.unlink(missing_ok=True)
        with sqlite3.connect(base) as connection:
            connection.execute("CREATE TABLE log (defect TEXT, pieces INTEGER, cost REAL)")
            connection.executemany("INSERT INTO log VALUES (?, ?, ?)", self.rows)
        lines = self.folder / "log.ndjson"
        lines.write_text("\n".join(json.dumps(dict(zip(frame.columns, row, strict=True))) for row in self.rows))
        plain = {name: [row[at] for row in self.rows] for at, name in enumerate(frame.columns)}
        return {
            "csv": text,
            "parquet": parquet,
            "polars": frame,
            "lazy": frame.lazy(),
            "arrow": frame.to_arrow(),
            "pandas": frame.to_pandas(),
            "mapping": plain,
            "ndjson": lines,
            "sqlite": (f"sqlite:///{base}", "log"),
        }

    def test_every_engine_collects_the_same_squares(self) -> None:
        for count, weight in (("pieces", None), (None, "cost"), ("pieces", "cost")):
            amounts = [(1 if count is None else row[1]) * (1 if weight is None else row[2]) for row in self.rows]
            wanted = {
                name: sum(a * a for a, row in zip(amounts, self.rows, strict=True) if row[0] == name)
                for name in ("Pinhole", "Scratch", "Warping")
            }
            for kind, source in self.sources().items():
                with self.subTest(kind, count=count, weight=weight):
                    data, table = source if isinstance(source, tuple) else (source, None)
                    tally = vt.tally(data, "defect", count=count, weight=weight, table=table)
                    assert tally.spread is not None
                    for name, squares in wanted.items():
                        self.assertAlmostEqual(tally.spread.of(name).squares, squares)
                        self.assertEqual(tally.spread.of(name).records, sum(row[0] == name for row in self.rows))
                    self.assertEqual((tally.spread.records, tally.spread.missing.records), (5, 1))
                    self.assertAlmostEqual(tally.spread.whole, sum(wanted.values()))

    def test_counts_beyond_what_a_float_holds(self) -> None:
        frame = pl.DataFrame({"d": ["a", "a", "b"], "n": [2**53 + 1, 3, 5]})
        for source in (frame, frame.to_arrow(), frame.to_pandas()):
            tally = vt.tally(source, "d", count="n")
            self.assertEqual(tally.as_dict()["a"], 2**53 + 4)
            self.assertAlmostEqual(tally.spread.of("a").squares / 2**106, 1.0)

    def test_two_way_tables_families_and_missing_labels_keep_them(self) -> None:
        log = {
            "d": ["a", "b", "A ", None, "b", "a", "b"],
            "s": ["x", "y", "x", "y", "x", "y", "y"],
            "n": [2, 3, 4, 5, 6, 7, 1],
        }
        table = vt.crosstab(log, "d", "s", count="n", merge_spellings=True)
        self.assertEqual(table.tally().spread.of("a"), Moments(3, 4.0 + 16 + 49, 4.0 + 16 + 49))
        self.assertEqual(table.column("x").spread.of("a").squares, 20.0)
        self.assertEqual(table.transposed().tally().spread.of("x").squares, 4.0 + 16 + 36)
        named = vt.tally(log, "d", count="n", missing="category", merge_spellings=True)
        self.assertEqual((named.spread.of("(missing)").squares, named.spread.records), (25.0, 7))
        family = vt.tally(log, "d", count="n", families={"a": "F", "b": "F", "A ": "F"})
        self.assertEqual(family.spread.of("F").squares, 4.0 + 9 + 16 + 36 + 49 + 1)
        drilled = vt.pareto(log, drill=["s", "d"], count="n")
        self.assertEqual(
            drilled.within[0][1].tally.spread.of("b").squares, 36.0 if drilled.within[0][0] == "x" else 10.0
        )

    def test_several_labels_a_record_are_one_record(self) -> None:
        spread = vt.tally(["a;b", "a", "b;c", "a;b", None], separator=";").spread
        self.assertEqual(spread.of("b"), Moments(3, 3.0, 6.0))
        self.assertEqual((spread.records, spread.whole, spread.missing.records), (4, 1.0 + 3 * 4, 1))
        twice = spread_of([RecordGroup(("F", "F"), 1, 1.0), RecordGroup(("G",), 1, 1.0)])
        self.assertEqual(twice.of("F"), Moments(1, 4.0, 4.0))

    def test_parts_join_to_the_whole(self) -> None:
        parts = [single({"a": Moments(1, 4.0)}), single({"a": Moments(2, 5.0), "b": Moments(1, 9.0)})]
        whole = joined(parts)
        self.assertEqual((whole.of("a"), whole.records, whole.whole), (Moments(3, 9.0, 9.0), 4, 18.0))
        self.assertEqual(whole.of("never"), Moments())

    def test_counts_that_came_added_up_say_so(self) -> None:
        sheet = {"defect": ["Pinhole", "Scratch"], "n": [30, 12]}
        for ready in (
            vt.tally(sheet, "defect", count="n"),
            vt.tally({"Pinhole": 30, "Scratch": 12}),
            vt.tally({"Pinhole": [3, 4], "Scratch": [1, 2]}, by_columns=["Pinhole", "Scratch"]),
        ):
            self.assertTrue(ready.origin.ready)
            self.assertIsNone(ready.spread)
        self.assertFalse(vt.tally(["a", "b"]).origin.ready)
        self.assertFalse(vt.tally({"defect": ["a", "a", "b"], "n": [1, 2, 3]}, "defect", count="n").origin.ready)


class Samples(InFolder):
    def test_records_of_one_size_are_as_many_as_they_are(self) -> None:
        log = {"d": ["a", "a", "b", "c", "c", "c"], "n": [5] * 6}
        sample, plain = sample_of(vt.tally(log, "d", count="n"), 0.95), sample_of(vt.tally(log["d"]), 0.95)
        self.assertEqual((sample.effective, sample.records), (6, 6))
        np.testing.assert_allclose(sample.sizes, plain.sizes)
        np.testing.assert_allclose(sample.independent(), plain.values)

    def test_unequal_records_tell_less_and_never_more_than_there_are(self) -> None:
        draw = random.Random(1)
        for _ in range(50):
            number = draw.randint(2, 60)
            log = {"d": [draw.choice("abcd") for _ in range(number)], "n": [draw.randint(1, 30) for _ in range(number)]}
            if len(set(log["d"])) < 2 or all(log["d"].count(one) == 1 for one in set(log["d"])):
                continue
            sample = sample_of(vt.tally(log, "d", count="n"), 0.95)
            kish = sum(log["n"]) ** 2 / sum(n * n for n in log["n"])
            self.assertLessEqual(sample.effective, kish + 1e-9)
            self.assertTrue(np.all(sample.sizes <= kish + 1e-9))
            self.assertLessEqual(sample.effective, number)

    def test_the_order_of_records_changes_nothing(self) -> None:
        draw = random.Random(2)
        rows = [
            (draw.choice(["Pinhole", "Scratch", "Warping", "Stain"]), draw.randint(1, 9), draw.random())
            for _ in range(80)
        ]
        found = []
        for turn in range(4):
            draw.shuffle(rows)
            log = {"d": [row[0] for row in rows], "n": [row[1] for row in rows], "w": [row[2] for row in rows]}
            sources = [log] if turn else [log, pl.DataFrame(log)]
            for source, weight in product(sources, (None, "w")):
                found.append((weight, vt.pareto(source, "d", count="n", weight=weight).certainty()))
        for weight, sure in found:
            first = next(one for kind, one in found if kind == weight)
            for one, other in zip(first.rows, sure.rows, strict=True):
                self.assertEqual(
                    (one.category, one.lowest_rank, one.highest_rank),
                    (other.category, other.lowest_rank, other.highest_rank),
                )
                self.assertEqual(one.vital, other.vital)
                self.assertAlmostEqual(one.low, other.low, places=9)
            self.assertEqual(first.sentence(), sure.sentence())

    def test_what_cannot_be_said_is_one_line(self) -> None:
        for data, options, words in (
            ({"a": 1.5, "b": 1}, {}, "came added up"),
            ({"d": ["a", "b"], "w": [1, 2]}, {"by": "d", "weight": "w"}, "came added up"),
            ({"d": ["a", "b", "a"], "w": [1e200, 2, 3]}, {"by": "d", "weight": "w"}, "out of range"),
        ):
            with self.assertRaisesRegex(RankError, words):
                sample_of(vt.tally(data, **options))
        nothing = vt.tally({"d": ["a", "b", "a"], "n": [0, 0, 0]}, "d", count="n")
        with self.assertRaisesRegex(RankError, "all frequencies are zero"):
            sample_of(nothing)

    def test_words(self) -> None:
        ready = Sample(np.array([3.0, 1.0]), np.full(2, 4.0), np.ones(2), 4.0, 4.0, "ready")
        self.assertEqual(ready.words(Provenance()), "4 occurrences, taken as independent of each other.")
        log = {"d": ["a", "a", "b", "b"], "tile_count": [1, 9, 2, 8]}
        sample = sample_of(vt.tally(log, "d", count="tile_count"))
        words = sample.words(Provenance(count="tile_count"))
        self.assertTrue(words.startswith("20 occurrences in 4 records count as about 2.7 independent records"), words)
        self.assertEqual(
            [rounded(n) for n in (0.01, 2.345, 12.4, 1994.6, 123456)], ["0.1", "2.3", "12", "1,990", "123,000"]
        )
