"""Every worked example of docs/certainty.md, worked out again."""

from __future__ import annotations

import re
import unittest
from fractions import Fraction
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as st

import vantric as vt
from vantric.core.numbers.number_format import ends_texts
from vantric.core.statistics.strata import strata_of

VALUES = st.floats(1e-9, 1e14) | st.integers(0, 10**15).map(float)
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
        words = "24 pieces in 6 records count as about 4.8 independent records"
        self.assertIn(words, said)
        self.stands(words)

    def test_a_sheet_of_several_columns(self) -> None:
        counts = {"Pinhole": (120, 60, 150), "Crack": (60, 90, 70), "Chip": (30, 31, 22)}
        rows = [(label, month, number) for label, row in counts.items() for month, number in enumerate(row)]
        labels, months, numbers = zip(*rows, strict=True)
        sheet = {"defect": labels, "month": [("Jan", "Feb", "Mar")[month] for month in months], "count": numbers}
        words = "From month to month the mix varies 10 times as much as independent occurrences would"
        self.assertIn(words, vt.pareto(sheet, "defect", count="count").certainty().sentence())
        self.stands(words)

    def test_shares_ranks_and_the_most_frequent(self) -> None:
        sure = vt.pareto(LABELS).certainty()
        self.stands(f"{sure.rows[0].low:.1f}% to {sure.rows[0].high:.1f}%")
        self.stands(f"ranks {sure.rows[1].lowest_rank} to {sure.rows[1].highest_rank}")
        for part in sure.sentence().split(". "):
            if part.startswith(("“Pinhole” is", "With 95%")):
                self.stands(part)
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
        words = "“Kiln 1” has more of “Pinhole” than its share (60.0% there, 50.0% of all)"
        self.assertIn(words, found.sentence())
        self.stands(words)

    def test_changes_over_time(self) -> None:
        days = [
            f"{2023 + month // 12}-{month % 12 + 1:02d}-{1 + at % 28:02d}"
            for month in range(24)
            for at in range(30 if month < 14 else 62)
        ]
        said = vt.trend({"defect": ["Crack"] * len(days), "date": days}, "defect", date="date").sentence()
        self.stands(next(part for part in said.split(". ") if "averaged" in part))

    def test_missing_labels(self) -> None:
        said = vt.pareto(["a"] * 70 + ["b"] * 20 + ["c"] * 10 + [None] * 20).sentence()
        self.stands(said.partition(". They are")[2])

    def test_two_series(self) -> None:
        self.stands(vt.relate([1, 2, 3, 4, 5, 6, 7, 8], [2, 1, 4, 3, 6, 5, 8, 7]).sentence())

    def test_concentration(self) -> None:
        self.stands(vt.pareto(LABELS).concentration().sentence())


def simulated(title: str) -> list[dict[str, str]]:
    """Return the rows of a table of docs/coverage.md."""
    page = (Path(__file__).parents[3] / "docs" / "coverage.md").read_text(encoding="utf-8")
    [section] = [part for part in page.split("\n## ") if part.startswith(title)]
    rows = [[cell.strip() for cell in line.strip("|").split("|")] for line in section.splitlines() if line[:1] == "|"]
    return [dict(zip(rows[0], row, strict=True)) for row in rows[2:]]


def largest(title: str, *columns: str, **where: str) -> float:
    rows = [
        row for row in simulated(title) if all(row[name.replace("_", " ")] == value for name, value in where.items())
    ]
    return max(float(row[column]) for row in rows for column in columns)


class Simulated(unittest.TestCase):
    """What the page says of simulations is what docs/coverage.md has."""

    def stands(self, words: str) -> None:
        self.assertIn(words, PAGE)

    def test_the_vital_few_and_sheets(self) -> None:
        self.stands(f"wrong in {100 * largest('The vital few', 'Reach', 'Within'):.1f}% of tables at most")
        rows = simulated("Sheets of several columns")
        ends = [[float(row[name]) for row in rows] for name in ("Intervals", "Plain")]
        self.stands(f"held in {min(ends[0]):.3f} to {max(ends[0]):.3f} of sheets")
        self.stands(f"without it in {min(ends[1]):.3f} to {max(ends[1]):.3f}")
        self.assertGreaterEqual(min(ends[0]), 0.95 - 3 * (0.95 * 0.05 / 250) ** 0.5)

    def test_changes_over_time(self) -> None:
        self.stands(f"any is named in {100 * largest('Ten categories', 'Named'):.1f}% of logs at most")
        months = "Changes of one category"
        seasons = [largest(months, "Significant", Course="season", Months=number) for number in ("24", "60")]
        self.stands(f"a season of 24 months or more is named in {100 * max(seasons):.1f}%")
        self.stands(
            f"one of 12 reported as a steady trend in {100 * largest(months, 'Steady', Course='season', Months='12'):.1f}%"
        )
        self.stands(
            f"0.9 is reported as a steady trend in {100 * largest(months, 'Steady', Course='neighbors 0.9'):.1f}% at most"
        )
        self.stands(f"a step in {100 * largest(months, 'Steady', Course='one step, 0.7 to 1.3'):.1f}%")
        self.stands(f"changed in up to {100 * largest(months, 'Significant', Course='neighbors 0.9'):.0f}%")
        self.stands(f"one of 0.5 in {100 * largest(months, 'Significant', Course='neighbors 0.5'):.0f}%")

    def test_signals_and_relations(self) -> None:
        [row] = [
            row
            for row in simulated("Control charts")
            if (row["Chart"], row["Mean count"], row["Periods"]) == ("c", "20", "24")
        ]
        self.stands(f"{float(row['Expected']):.3f}, and {float(row['Signals']):.3f} were there in the simulation")
        worst = max(float(row["Related"]) for row in simulated("Two series") if row["Series"] != "related changes")
        self.stands(f"both together {100 * worst:.1f}% of pairs at most")

    def test_what_is_promised_holds(self) -> None:
        for title, columns in (
            ("Single records", ("Intervals", "Ranks")),
            ("Concentration", ("Effective number", "Gini")),
        ):
            for row in simulated(title):
                for column in columns:
                    self.assertGreaterEqual(float(row[column]), 0.95 - 3 * (0.95 * 0.05 / 250) ** 0.5, row)
        self.assertLessEqual(largest("Ten categories", "Interval"), 0.05)
        self.assertLessEqual(largest("Before and after, rates", "Total named", Truth="no change"), 0.05)


class Numbers(unittest.TestCase):
    """What a statement shows, parsed back: never further off than half of its last digit."""

    def near(self, text: str, value: float) -> None:
        digits = len(text.partition(".")[2])
        off = abs(Fraction(text.replace(",", "")) - Fraction(value))
        self.assertLessEqual(off, Fraction(1, 2 * 10**digits) + Fraction(value) / 10**12, (text, value))

    @given(VALUES, VALUES)
    def test_two_ends(self, one: float, other: float) -> None:
        texts = ends_texts(one, other)
        if one != other:
            self.assertNotEqual(*texts)
        for text, value in zip(texts, (one, other), strict=True):
            if "e" not in text:
                self.near(text, value)

    def test_rates_of_every_magnitude(self) -> None:
        for power in range(-3, 9):
            found = vt.compare({"a": 1234, "b": 40}, {"a": 2345, "b": 41}, per=(10.0**-power, 10.0**-power * 1.1))
            said = re.search(r"“a” rose from ([\d.,]+) to ([\d.,]+) per", found.sentence())
            assert said is not None
            for text, value in zip(said.groups(), (found.rows[0].before, found.rows[0].after), strict=True):
                self.near(text, value)
            sure = vt.pareto({"a": 1234, "b": 40}, per=10.0**-power).certainty()
            shown = re.findall(r"<td>([\d.,]+)–([\d.,]+)</td>", sure._repr_html_().replace(' class="number"', ""))
            for (low, high), row in zip(shown, sure.rows, strict=False):
                self.near(low, row.low)
                self.near(high, row.high)

    def test_intervals_of_shares(self) -> None:
        found = vt.compare({"a": 5000, "b": 5000}, {"a": 9000, "b": 1000})
        said = re.search(
            r"\(95% confidence interval of the change ([\d.]+)–([\d.]+) percentage points\)", found.sentence()
        )
        assert said is not None
        row = next(row for row in found.to_dict()["rows"] if row["beyond_chance"])
        for text, value in zip(said.groups(), sorted((abs(row["low"]), abs(row["high"]))), strict=True):
            self.assertAlmostEqual(float(text), value, delta=0.0501)
