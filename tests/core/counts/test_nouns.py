"""What is counted, in words: the noun of a heading, the user's own, or occurrences; a cost is not a frequency."""

from __future__ import annotations

import json
import unittest

import vantric as vt
from tests.cli.test_cli import Result
from tests.folder import InFolder


def table_of(heading: str, values: tuple[float, ...] = (60, 40, 19), **options: object) -> vt.ParetoTable:
    rows = [{"Cause": cause, heading: value} for cause, value in zip("ABC", values, strict=True)]
    return vt.pareto({name: [row[name] for row in rows] for name in rows[0]}, "Cause", count=heading, **options)  # type: ignore[arg-type]


class Nouns(InFolder):
    def test_a_heading_that_says_how_many_names_its_noun_or_none(self) -> None:
        for heading, noun in (
            ("Number of defects", "defects"),
            ("No. of complaints", "complaints"),
            ("total_defects", "defects"),
            ("# Rejects", "Rejects"),
            ("Anzahl Fehler", "Fehler"),
            ("Nombre de défauts", "défauts"),
            ("Pieces", "Pieces"),
            ("Notes", "Notes"),
            ("Frequency", "occurrences"),
            ("n", "occurrences"),
            ("Defect count", "occurrences"),
            ("Sum of Qty", "occurrences"),
            ("件数", "occurrences"),
            ("Pieces: made", "Pieces: made"),
        ):
            with self.subTest(heading=heading):
                table = table_of(heading)
                self.assertEqual(str(table.tally.base()), f"119 {noun}")
                self.assertEqual(table.chart().subtitle, f"Cause: 119 {noun}")
                self.assertIn(f"of 119 {noun}:", table.sentence())

    def test_columns_that_are_added_up_count_occurrences(self) -> None:
        sheet = self.file("Defect,2022,2023\nPinhole,60,70\nWarp,19,20\n", "years.csv")
        for count in ("2022:2023", ["2022", "2023"]):
            self.assertEqual(str(vt.pareto(sheet, "Defect", count=count).tally.base()), "169 occurrences")

    def test_the_users_noun_is_used_where_no_column_names_one(self) -> None:
        table = table_of("Frequency")
        chart = table.chart(noun="defects", orientation="vertical")
        self.assertEqual(
            (chart.subtitle, chart.title), ("Cause: 119 defects", "A and B account for 84% of 119 defects")
        )
        self.assertEqual(chart.primary_title, "Defects")
        self.assertEqual(table.chart(orientation="vertical").primary_title, "Frequency")
        self.assertEqual(str(table_of("Frequency", unit="rejects").tally.base()), "119 rejects")

    def test_a_cost_is_not_a_frequency(self) -> None:
        for heading in ("Cost (EUR)", "Downtime (min)", "Minutes", "Rework cost"):
            table = table_of(heading, (60.5, 40.25, 19))
            self.assertNotIn("Frequency", str(table), heading)
            self.assertIn(heading.split(" (")[0], str(table).splitlines()[0])
            self.assertNotIn("Frequency", [series.name for series in table.chart().series])
        weighed = vt.tally({"c": list("aab"), "Cost": [1, 2, 3]}, "c", weight="Cost")
        self.assertNotIn("Frequency", str(weighed))
        self.assertIn("Cost", str(weighed).splitlines()[0])

    def test_json_keeps_its_keys(self) -> None:
        sheet = self.file("Cause,Cost\nA,60.5\nB,40\n", "cost.csv")
        rows = json.loads(Result("pareto", sheet, "--by", "Cause", "--weight", "Cost", "--format", "json").out)["rows"]
        self.assertIn("frequency", rows[0])
        lines = Result("pareto", sheet, "--by", "Cause", "--weight", "Cost", "--format", "csv").out.splitlines()
        self.assertIn("frequency", lines[0].split(","))

    def test_occurrences_have_a_word_in_every_language(self) -> None:
        words = {
            table_of("Frequency").chart(language=language).subtitle
            for language in ("de", "fr", "es", "it", "pl", "ru", "ja")
        }
        self.assertEqual(len(words), 7)


if __name__ == "__main__":
    unittest.main()
