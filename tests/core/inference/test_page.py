"""Every worked example of docs/certainty.md, worked out again."""

from __future__ import annotations

import unittest
from pathlib import Path

import vantric as vt
from vantric.core.inference.strata import strata_of

PAGE = " ".join(
    (Path(__file__).parents[3] / "docs" / "certainty.md").read_text(encoding="utf-8").replace("\n> ", " ").split()
)
COUNTS = {"Pinhole": 42, "Scratch": 22, "Warping": 9, "Stain": 3}
LABELS = [name for name, number in COUNTS.items() for _ in range(number)]


class Examples(unittest.TestCase):
    def stands(self, *texts: str) -> None:
        for text in texts:
            self.assertIn(text, PAGE)

    def test_records_of_several_pieces(self) -> None:
        log = {"defect": ["Pinhole"] * 3 + ["Scratch"] * 2 + ["Warping"], "pieces": [8, 2, 2, 4, 4, 4]}
        said = vt.pareto(log, "defect", count="pieces").certainty().sentence()
        words = "24 pieces in 6 records count as about 4.8."
        self.assertIn(words, said)
        self.stands(words)

    def test_shares_ranks_and_the_most_frequent(self) -> None:
        sure = vt.pareto(LABELS).certainty()
        self.stands(f"{sure.rows[0].low:.1f} % to {sure.rows[0].high:.1f} %")
        self.stands(f"ranks {sure.rows[1].lowest_rank} to {sure.rows[1].highest_rank}")
        for part in sure.sentence().split("; "):
            if part.startswith("“Pinhole” is") or "records like these" in part:
                self.stands(part.partition(". ")[0])
        self.assertIn("about 190 records like these", sure.sentence())
        self.stands(f"chi-square = {sure.evenness.statistic:.2f} with {sure.evenness.degrees} degrees of freedom")

    def test_before_and_after(self) -> None:
        before, after = ["Pinhole"] * 121 + ["Chip"] * 40, ["Pinhole"] * 84 + ["Chip"] * 42
        found = vt.compare(before, after, per=(10000, 10000), per_units=1000, per_name="pieces", names=("May", "June"))
        self.stands(found.sentence())

    def test_rates(self) -> None:
        table = vt.pareto({"Kiln 1": 30, "Kiln 2": 12}, per={"Kiln 1": 1000, "Kiln 2": 800}, per_units=1000)
        first, second = table.certainty().rows
        self.stands(f"{first.low:.2f} to {first.high:.2f} and {second.low:.2f} to {second.high:.2f}")

    def test_strata(self) -> None:
        pairs = {
            ("Pinhole", "Kiln 1"): 60,
            ("Scratch", "Kiln 1"): 40,
            ("Pinhole", "Kiln 2"): 30,
            ("Scratch", "Kiln 2"): 50,
        }
        rows = [pair for pair, number in pairs.items() for _ in range(number)]
        found = strata_of(vt.crosstab({"d": [a for a, _ in rows], "kiln": [b for _, b in rows]}, "d", "kiln"))
        assert found is not None
        self.stands(f"chi-square = {found.statistic:.1f}, residual of the first cell {found.cells[0].residual:.1f}")
        words = "“Kiln 1” has more of “Pinhole” than its share (60.0 % there, 50.0 % of all)"
        self.assertIn(words, found.sentence())
        self.stands(words)

    def test_missing_labels(self) -> None:
        said = vt.pareto(["a"] * 70 + ["b"] * 20 + ["c"] * 10 + [None] * 20).sentence()
        self.stands(said.split("; ")[-1].rstrip("."))

    def test_two_series(self) -> None:
        self.stands(vt.relate([1, 2, 3, 4, 5, 6, 7, 8], [2, 1, 4, 3, 6, 5, 8, 7]).sentence())

    def test_concentration(self) -> None:
        self.stands(vt.pareto(LABELS).concentration().sentence())
