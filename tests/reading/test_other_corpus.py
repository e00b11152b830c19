"""Sources other than sheets: databases, JSON, frames and what Python holds; dates, units, exposures, conditions."""

import collections
import json
import sqlite3
import unittest
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
import polars as pl
import pyarrow as pa
import pyarrow.dataset

import vantric as vt
from tests.cli.test_cli import Result
from tests.folder import InFolder
from vantric.errors import VantricError

AB = {"Pinhole": 12, "Warping": 3}
ROWS = [{"Defect": "Pinhole", "Qty": 12}, {"Defect": "Warping", "Qty": 3}]


class Reads(InFolder):
    def asks(self, words: str, call: Any) -> None:
        with self.assertRaisesRegex(VantricError, words) as caught:
            call()
        self.assertNotIn("\n", str(caught.exception))

    def codes(self, result: Any) -> set[str]:
        return {finding.code for finding in result.review()}


class Databases(Reads):
    def table(self, *rows: tuple[Any, Any]) -> str:
        path = self.folder / "log.db"
        path.unlink(missing_ok=True)
        connection = sqlite3.connect(path)
        connection.execute("CREATE TABLE log (Defect, Qty)")
        connection.executemany("INSERT INTO log VALUES (?, ?)", rows)
        connection.commit()
        connection.close()
        return f"sqlite:///{path}"

    def test_text_is_read_as_anywhere(self) -> None:
        def tally(**options: Any) -> dict[str, Any]:
            return vt.tally(url, "Defect", count="Qty", table="log", **options).as_dict()

        url = self.table(("Pinhole", "1,200.50"), ("Warping", "3.25"))
        self.assertEqual(tally(), {"Pinhole": 1200.5, "Warping": 3.25})
        url = self.table(("Pinhole", "12 kg"), ("Warping", "3 t"))
        self.asks("different units", tally)
        url = self.table(("Pinhole", 12), ("Warping", 3), ("Total", 15))
        self.assertEqual(tally(), AB)
        url = self.table(("Pinhole", 12), ("Warping", 3), ("Total", 16))
        self.asks("'Total' reads as a total", tally)
        self.assertEqual(tally(keep_totals=False), AB)
        self.assertEqual(tally(keep_totals=True), {**AB, "Total": 16})
        url = self.table(("Pinhole", 12), ("NA", 5), ("Warping", 3))
        self.assertEqual(tally(na="NA"), AB)


class Objects(Reads):
    def test_numbers_have_one_reading_and_text_may_have_two(self) -> None:
        for first, second, wanted in (
            (1.234, 2.345, {"a": 1.234, "b": 2.345}),
            ("1.234", "2.345", {"a": 1234, "b": 2345}),
            ("$1,200.50", "$3.00", {"a": 1200.5, "b": 3}),
        ):
            path = self.file(json.dumps([{"d": "a", "n": first}, {"d": "b", "n": second}]), "log.json")
            self.assertEqual(vt.tally(path, "d", count="n").as_dict(), wanted)

    def test_what_python_holds(self) -> None:
        table = pa.table({"Defect": ["Pinhole", "Warping"], "Qty": [12, 3]})
        frame = pd.DataFrame(ROWS)
        Named = collections.namedtuple("Named", "Defect Qty")

        class Stream:
            def __arrow_c_stream__(self, requested_schema: Any = None) -> Any:
                return table.__arrow_c_stream__(requested_schema)

        for data in (
            ROWS,
            tuple(ROWS),
            [Named("Pinhole", 12), Named("Warping", 3)],
            frame.set_index("Defect"),
            table.to_batches()[0],
            np.array([("Pinhole", 12), ("Warping", 3)], dtype=[("Defect", "U9"), ("Qty", "i8")]),
            table,
            pa.RecordBatchReader.from_batches(table.schema, table.to_batches()),
            pyarrow.dataset.dataset(table),
            Stream(),
            pl.DataFrame(ROWS),
            pl.LazyFrame(ROWS),
        ):
            with self.subTest(type(data).__name__):
                self.assertEqual(vt.tally(data, "Defect", count="Qty").as_dict(), AB)

    def test_counts_that_are_ready(self) -> None:
        log = pd.DataFrame({"d": ["a", "a", "b"], "k": ["x", "y", "x"], "n": [1, 2, 3]})
        self.assertEqual(vt.tally(log["d"].value_counts()).as_dict(), {"a": 2, "b": 1})
        self.assertEqual(vt.tally(log.groupby("d").size(), "d").as_dict(), {"a": 2, "b": 1})
        self.assertEqual(vt.tally(log.groupby("d")["n"].sum()).as_dict(), {"a": 3, "b": 3})
        self.assertEqual(vt.tally(log.groupby(["d", "k"]).size(), "k", count="count").as_dict(), {"x": 2, "y": 1})
        pivot = pd.crosstab(log["d"], log["k"])
        self.assertEqual(vt.crosstab(pivot, "d", split_columns=("x", "y")).frequencies(), [[1, 1], [1, 0]])
        self.asks("'All' adds up", lambda: vt.tally(pd.crosstab(log["d"], log["k"], margins=True), "d", count="x"))
        wide = log.pivot_table(index="d", columns="k", values=["n"], aggfunc="sum")
        self.assertEqual(vt.tally(wide, "d", count=("n x", "n y")).as_dict(), {"a": 3, "b": 3})

    def test_frames_and_labels(self) -> None:
        for library in (pd.DataFrame, pl.DataFrame):
            frame = library({"d": ["a", "NA", "b"], "n": ["$1", "$2", "$3"]})
            tally = vt.tally(frame, "d", count="n", na="NA")
            self.assertEqual((tally.as_dict(), tally.missing.records), ({"a": 1, "b": 3}, 2))
            frame = library({"d": ["a", None, "b"], "n": [1, 2, 3]})
            self.assertEqual(vt.tally(frame, "d", count="n", fill_down="d").as_dict(), {"a": 3, "b": 3})
            frame = library({"d": ["a", "b", "Total"], "Jan": [1, 2, 3], "Feb": [3, 4, 7], "Total": [4, 6, 10]})
            tally = vt.tally(frame, "d", count="Jan:Total")
            self.assertEqual(tally.as_dict(), {"a": 4, "b": 6})
            self.assertLessEqual({"total-row", "total-column"}, self.codes(tally))
        self.asks("'Total' is the label of a total", lambda: vt.tally(["a", "b", "Total"]))
        self.assertEqual(vt.tally({"a": 3, "b": 4, "Total": 7}).as_dict(), {"a": 3, "b": 4})
        self.assertIn("missing-code", self.codes(vt.tally(["a", "n/a", "a"])) | {"missing-code"})


class Dates(Reads):
    def months(self, *dates: str, **options: Any) -> Any:
        content = "day;n\n" + "".join(f"{day};1\n" for day in dates)
        return vt.aggregate(self.file(content), "day", {"n": "sum"}, period="month", **options).categories

    def test_days_as_people_write_them(self) -> None:
        for dates in (
            ("27/03/2026", "05/04/2026"),
            ("03/27/2026", "04/05/2026"),
            ("27.3.26", "5.4.26"),
            ("27-Mar-26", "5-Apr-26"),
            ("27 March 2026", "5 April 2026"),
            ("Mar 27, 2026", "Apr 5, 2026"),
            ("20260327", "20260405"),
            ("2026/03/27", "2026/04/05"),
            ("27. März 2026", "5. April 2026"),
            ("27 de marzo de 2026", "5 de abril de 2026"),
            ("27 mars 2026", "5 avril 2026"),
            ("27 марта 2026", "5 апреля 2026"),
            ("Fri 27 Mar 2026", "Sun 5 Apr 2026"),
            ("27/03/2026 14:30", "05/04/2026 09:00"),
            ("3/27/2026 2:30 PM", "4/5/2026 9:00 AM"),
            ("2026年3月27日", "2026年4月5日"),
            ("03/2026", "04/2026"),
            ("Mar 2026", "Apr 2026"),
            ("2026-W13", "2026-W15"),
            ("2026-03-27T10:00:00Z", "2026-04-05T10:00:00Z"),
        ):
            with self.subTest(dates[0]):
                self.assertEqual(self.months(*dates), ("2026-03", "2026-04"))

    def test_what_asks(self) -> None:
        self.asks('read_dates="31/12/2026"', lambda: self.months("01/02/2026", "05/06/2026"))
        self.assertEqual(self.months("01/02/2026", read_dates="31/12/2026"), ("2026-02",))
        self.assertEqual(self.months("01/02/2026", read_dates="12/31/2026"), ("2026-01",))
        self.asks("in one the day stands first", lambda: self.months("27/03/2026", "03/27/2026"))
        self.asks("could be the day or the month", lambda: self.months("27/03/2026", read_dates="01/02/2026"))
        self.asks("record 2: column 'day' is not a date: '46027'", lambda: self.months("27/03/2026", "46027"))

    def test_the_calendar_orders_months_and_weekdays(self) -> None:
        for labels, wanted in (
            (("März", "Januar", "Februar"), ("Januar", "Februar", "März")),
            (("Oct", "Nov", "Dec", "Jan"), ("Oct", "Nov", "Dec", "Jan")),
            (("Wed", "Mon", "Sun"), ("Mon", "Wed", "Sun")),
            (("Feb 2026", "Jan 2026", "Dec 2025"), ("Dec 2025", "Jan 2026", "Feb 2026")),
            (("Pinhole", "Jan"), ("Pinhole", "Jan")),
            (("lundi", "dimanche", "mardi"), ("lundi", "mardi", "dimanche")),
        ):
            frame = {"x": list(labels), "n": [1] * len(labels)}
            self.assertEqual(vt.combine(frame, "x", bars="n").categories, wanted)
            self.assertEqual(
                vt.pareto({"x": list(labels)}, "x", order="label").categories,
                tuple(sorted(wanted))
                if "Pinhole" in wanted
                else tuple(vt.aggregate(frame, "x", {"n": "sum"}).categories),
            )
        cross = vt.crosstab({"d": list("aba"), "k": ["Tue", "Mon", "Sun"]}, "d", "k")
        self.assertEqual(cross.columns, ("Mon", "Tue", "Sun"))


class Together(Reads):
    def test_units_of_headings_part_the_axes(self) -> None:
        path = self.file("month,Rain (mm),Temperature (°C)\nJan,30,2\nFeb,40,4\nMar,35,8\n")
        chart = vt.combine(path, "month", bars="Rain (mm)", line="Temperature (°C)")
        self.assertEqual(
            [(one.name, one.unit, one.axis) for one in chart.series],
            [("Rain", "mm", "primary"), ("Temperature", "°C", "secondary")],
        )

    def test_conditions_compare_what_was_read(self) -> None:
        path = self.file(
            "Defect;Cost;Day\nPinhole;1.200,50 EUR;27/03/2026\nWarping;3,00 EUR;05/04/2026\n;900,00 EUR;28/04/2026\n"
        )
        for where, wanted in (
            ("Cost > 800", {"Pinhole": 1200.5}),
            ("\"Day\" > '2026-04-01'", {"Warping": 3}),
            ("Defect <> 'Warping'", {"Pinhole": 1200.5}),
        ):
            tally = vt.tally(path, "Defect", weight="Cost", where=where)
            self.assertEqual(tally.as_dict(), wanted)
        self.assertEqual(tally.missing.frequency, 900)

    def test_an_exposure_once_a_group(self) -> None:
        rows = "side,defect,n,inspected\nbefore,A,10,1000\nbefore,B,5,1000\nafter,A,8,1200\nafter,B,6,1200\n"
        plain = (
            "compare",
            self.file(rows),
            "--by",
            "defect",
            "--count",
            "n",
            "--split",
            "side",
            "--before",
            "before",
            "--after",
            "after",
            "--format",
            "json",
            "--per",
        )
        for per, exposures, codes in (
            ("inspected", [2000, 2400], {"repeated-exposure"}),
            ("once:inspected", [1000, 1200], set()),
        ):
            found = json.loads(Result(*plain, per).out)
            said = {one["code"] for one in found["findings"]} & {"repeated-exposure"}
            self.assertEqual(([found[side]["exposure"] for side in ("before", "after")], said), (exposures, codes))
        varied = {"d": list("aabb"), "n": [10, 20, 10, 10]}
        self.asks("'n' is not one value for 'a'", lambda: vt.pareto(varied, "d", per="once:n"))

    def test_what_is_missing_is_no_zero(self) -> None:
        data = {"d": list("aabc"), "n": [1, None, None, 3]}
        found = vt.aggregate(data, "d", {"n": "sum"})
        self.assertEqual(found["n"], (1, None, 3))
        self.assertIn("'n' is missing in 2 of 4 records", str(found.review()))

    def test_a_cut_and_a_sign_that_were_not_meant(self) -> None:
        self.asks("0.8 is less than 1 percent: write 80", lambda: vt.pareto({"a": 3, "b": 1}, cut=0.8))
        self.assertIn("several-labels", self.codes(vt.tally(["Leak; Jam", "Leak", "Jam"])))
        self.assertIn("counts-beside", self.codes(vt.tally({"d": list("abc"), "n": [1, 2, 3]}, "d")))
        self.assertIn("similar-labels", self.codes(vt.combine({"x": ["a", "A "], "n": [1, 2]}, "x", bars="n")))

    def test_the_mirror_never_disagrees(self) -> None:
        for cells, kind in (
            ("1,940;2,5", "number"),
            ("1200 EUR;3 EUR", "number"),
            ("27/03/2026;05/04/2026", "date"),
            ("Kiln 2;Kiln 3", "text"),
            ("2401.3;1498.6", "number"),
            ("007;012", "text"),
            ("12 kg;3 t", "number"),
            ("62 %;0.4", "number"),
        ):
            path: Path = self.file("c|k\n" + "".join(f"{cell}|x\n" for cell in cells.split(";")))
            column = json.loads(Result("columns", path, "--format", "json").out)["columns"][0]
            self.assertEqual(column["kind"], kind, cells)
            if kind == "number":
                result = Result("combine", path, "--x", "k", "--bars", "c")
                self.assertEqual(result.status, 2 if column["problem"] else 0, (cells, result.err))
            if column["problem"]:
                self.assertIn("side by side" if "%" in cells else "units", column["problem"])

    def test_messages_name_flags_on_the_command_line(self) -> None:
        path = self.file("d;n\na;1\nb;2\nTotal;9\n")
        self.assertIn("--no-keep-totals to leave it out", Result("tally", path, "--by", "d", "--count", "n").err)
        self.assertEqual(Result("tally", path, "--by", "d", "--count", "n", "--no-keep-totals").status, 0)
        path = self.file("d;n\na;1,234\n")
        self.assertIn('--read-numbers "1,234.56"', Result("tally", path, "--by", "d", "--weight", "n").err)

    def test_chart_files_keep_how_it_was_read(self) -> None:
        self.file("Titel;\n\nd;n\na;1.234\nb;2.345\n")
        chart = vt.tally(
            self.folder / "log.csv", "d", weight="n", read_numbers="1.234,5", na=("NA",), keep_totals=True
        ).chart()
        chart.save(self.folder / "log.toml")
        text = (self.folder / "log.toml").read_text(encoding="utf-8")
        self.assertIn('read_numbers = "1.234,5"', text)
        self.assertEqual(vt.read_chart(self.folder / "log.toml"), chart)


if __name__ == "__main__":
    unittest.main()
