"""Times that are added up: they are shown as people write them, in tables, sentences and on axes."""

import json
from datetime import time, timedelta

import openpyxl
from hypothesis import given
from hypothesis import strategies as st

import vantric as vt
from tests.cli.test_cli import Result
from tests.folder import InFolder
from vantric.core.numbers.number_format import clock_text
from vantric.errors import VantricError

STOPS = "Cause,Downtime (h:mm)\nJam,6:35\nSetup,3:20\nNo material,2:05\nTool change,1:10\nCleaning,0:40\n"
AMOUNTS = {"by": "Cause", "count": "Downtime (h:mm)"}


def written_on(chart: vt.Chart) -> set[str]:
    return {mark.text for mark in chart.plan().texts}


class Shown(InFolder):
    def markdown(self, table: vt.ParetoTable) -> str:
        return table.save(self.folder / "table.md").read_text()

    def written(self, name: str, text: str) -> str:
        (self.folder / name).write_text(text, encoding="utf-8")
        return str(self.folder / name)

    def test_tables_sentences_and_axes_show_hours_and_minutes(self) -> None:
        table = vt.pareto(self.written("a.csv", STOPS), **AMOUNTS)
        self.assertEqual(table.total, 830)
        text = self.markdown(table)
        self.assertIn("13:50 h (Downtime)", text)
        self.assertRegex(text, r"Jam *\| *6:35 *\| *47\.6%")
        self.assertIn("13:50 h", table.chart().description)
        chart = table.chart()
        self.assertLessEqual({"0:00", "2:00", "4:00"}, written_on(chart))
        self.assertEqual(chart.series[0].labels[0], "6:35")
        data = json.loads(table.save(self.folder / "a.json").read_text())
        self.assertEqual([row["frequency"] for row in data["rows"]][:2], [395, 200])

    def test_minutes_and_seconds(self) -> None:
        path = self.written("b.csv", "Cause,Stop (mm:ss)\nJam,3:20\nSetup,0:50\nDust,1:05\n")
        table = vt.pareto(path, by="Cause", count="Stop (mm:ss)")
        self.assertRegex(self.markdown(table), r"Jam *\| *3:20")
        self.assertIn("5:15 min", self.markdown(table))
        self.assertLessEqual({"0:00", "1:00", "2:00"}, written_on(table.chart()))

    def test_two_axes(self) -> None:
        path = self.written("c.csv", "Line,Downtime (h:mm),Stops\nA,6:35,12\nB,3:20,30\nC,12:00,4\n")
        chart = vt.combine(path, x="Line", bars=["Downtime (h:mm)"], line=["Stops"])
        self.assertLessEqual({"0:00", "2:00", "4:00", "0", "10"}, written_on(chart))
        self.assertIn("3:20 h (B) to 12:00 h (C)", chart.description)

    def test_cells_of_a_workbook(self) -> None:
        book = openpyxl.Workbook()
        for row in (("Cause", "Stopped"), ("Jam", timedelta(hours=26, minutes=5)), ("Setup", time(3, 20))):
            book.active.append(row)
        book.save(self.folder / "d.xlsx")
        table = vt.pareto(self.folder / "d.xlsx", by="Cause", count="Stopped")
        self.assertRegex(self.markdown(table), r"Jam *\| *26:05")

    def test_rates_are_plain_numbers(self) -> None:
        table = vt.pareto(
            self.written("a.csv", STOPS),
            **AMOUNTS,
            per={"Jam": 10, "Setup": 10, "No material": 10, "Tool change": 10, "Cleaning": 10},
        )
        self.assertNotIn("6:35", self.markdown(table))

    def test_a_wish_writes_minutes_as_times(self) -> None:
        path = self.written("e.csv", "Cause,minutes\nJam,395\nSetup,200\n")
        chart = vt.pareto(path, by="Cause", count="minutes").chart(clock="h:mm")
        self.assertEqual(chart.series[0].labels, ("6:35", "3:20"))

    @given(st.integers(0, 10**7))
    def test_every_minute_comes_back(self, minutes: int) -> None:
        hours, rest = clock_text(minutes, "h:mm").replace(",", "").split(":")
        self.assertEqual(int(hours) * 60 + int(rest), minutes)


class FirstLook(InFolder):
    def test_times_are_no_labels(self) -> None:
        path = self.folder / "a.csv"
        path.write_text("defect,start\nCrack,3:20\nChip,2:10\nCrack,1:10\n", encoding="utf-8")
        self.assertEqual(vt.pareto(path).origin.by, "defect")

    def test_sections_of_two_columns(self) -> None:
        for rows, counted in (
            ("Press,\nCrack,10\nChip,5\nKiln,\nPinhole,7\nWarp,3\n", True),
            ("Crack,10\nChip,\nPinhole,7\nWarp,3\n", False),  # a count that is missing
            ("Press,\nCrack,10\nChip,5\nPinhole,7\n", False),  # one alone could be one too
            ("Press,\nCrack,10\nKiln,\nPinhole,7\nWarp,3\n", False),
        ):
            path = self.folder / "b.csv"
            path.write_text(f"defect,count\n{rows}", encoding="utf-8")
            with self.subTest(rows):
                if counted:
                    self.assertEqual(
                        set(vt.pareto(path, by="defect", count="count").categories),
                        {"Crack", "Chip", "Pinhole", "Warp"},
                    )
                else:
                    self.assertRaises(VantricError, vt.pareto, path, by="defect", count="count")

    def test_a_period_without_its_year(self) -> None:
        for text in ("KW 9", "CW09", "Q3", "March"):
            path = self.folder / "c.csv"
            path.write_text(f"defect,when\nCrack,{text}\nChip,{text}\n", encoding="utf-8")
            with self.subTest(text), self.assertRaisesRegex(VantricError, "has no year"):
                vt.trend(path, by="defect", date="when")

    def test_a_first_report_answers_the_question_of_its_source(self) -> None:
        path, report = self.folder / "d.csv", self.folder / "d.toml"
        path.write_text("defect,frequency\nCrack,100\nPinhole,60\nChip,30\nErgebnis,190\n", encoding="utf-8")
        first = Result("report", "--new", report, "--from", path)
        self.assertEqual(first.status, 0, first.err)
        made = Result("report", report, "--out", self.folder / "d.html")
        self.assertEqual(made.status, 0, made.err)
        self.assertIn("of 190", made.out)
