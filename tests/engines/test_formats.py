"""Files of every format give the same tally, and a condition filters them alike."""

import gzip
import io
import json
import sys
from pathlib import Path
from typing import Any
from unittest import mock

import openpyxl
import pandas as pd
import polars as pl
from odf.opendocument import OpenDocumentSpreadsheet
from odf.table import Table, TableCell, TableRow
from odf.text import P as Paragraph

import vantric as vt
from tests.folder import InFolder
from vantric.demo import data_file
from vantric.errors import ColumnError, SourceError

COLUMN = {
    "inspections.csv": "defect",
    "defect_families.csv": "family",
    "firings.csv": "month",
    "crews.csv": "crew",
    "survey.csv": "answer",
}


def written(folder: Path, name: str) -> dict[str, Path]:
    """Write a demo file in every format with other libraries."""
    content = data_file(name)
    frame = pd.read_csv(io.BytesIO(content), dtype=str, keep_default_na=False, na_values=[""])
    numbers = pd.read_csv(io.BytesIO(content), keep_default_na=False, na_values=[""])
    paths = {
        kind: folder / f"{Path(name).stem}.{kind}"
        for kind in (
            "csv",
            "tsv",
            "json",
            "ndjson",
            "parquet",
            "xlsx",
            "ods",
            "csv.gz",
            "ndjson.gz",
            "utf16.csv",
            "latin1.csv",
        )
    }
    paths["csv"].write_bytes(content)
    frame.to_csv(paths["tsv"], sep="\t", index=False, lineterminator="\r\n")
    numbers.to_json(paths["json"], orient="records")
    pl.from_pandas(numbers).write_ndjson(paths["ndjson"])
    pl.from_pandas(numbers).write_parquet(paths["parquet"])
    write_workbook(paths["xlsx"], [list(numbers.columns), *numbers.head(500).values.tolist()])
    write_open_document(paths["ods"], [list(numbers.columns), *numbers.head(60).values.tolist()])
    paths["csv.gz"].write_bytes(gzip.compress(content))
    paths["ndjson.gz"].write_bytes(gzip.compress(paths["ndjson"].read_bytes()))
    frame.to_csv(paths["utf16.csv"], sep=";", index=False, encoding="utf-16")
    paths["latin1.csv"].write_bytes(content)
    return paths


def write_workbook(path: Path, rows: list[list[Any]]) -> None:
    book = openpyxl.Workbook()
    for row in rows:
        book.active.append([None if pd.isna(cell) else cell for cell in row])
    book.save(path)


def write_open_document(path: Path, rows: list[list[Any]]) -> None:
    document, table = OpenDocumentSpreadsheet(), Table(name="Log")
    for row in rows:
        line = TableRow()
        for cell in row:
            number = isinstance(cell, int | float) and not pd.isna(cell)
            box = TableCell(valuetype="float", value=cell) if number else TableCell()
            if not number and not pd.isna(cell):
                box = TableCell(valuetype="string")
                box.addElement(Paragraph(text=str(cell)))
            line.addElement(box)
        table.addElement(line)
    document.spreadsheet.addElement(table)
    document.save(str(path))


class Formats(InFolder):
    def test_the_demo_files_give_the_same_tally_in_every_format(self) -> None:
        for name in COLUMN:
            whole = vt.tally({"l": self.labels(name)}, "l")
            for kind, path in written(self.folder, name).items():
                rows = {"xlsx": 500, "ods": 60}.get(kind)
                expected = vt.tally({"l": self.labels(name)[:rows]}, "l") if rows else whole
                with self.subTest(name=name, kind=kind):
                    self.assertEqual(vt.tally(path, COLUMN[name]), expected)

    def labels(self, name: str) -> list[Any]:
        return pd.read_csv(io.BytesIO(data_file(name)), dtype=str, keep_default_na=False)[COLUMN[name]].tolist()

    def test_sums_and_conditions_agree_too(self) -> None:
        condition = "pieces > 3 and date >= '2025-11-15' and kiln <> 'Kiln 1'"
        paths = written(self.folder, "inspections.csv")
        expected = vt.tally(paths["csv"], "kiln", count="pieces", where=condition)
        self.assertLess(expected.origin.input_rows, 4000)
        for kind in ("tsv", "json", "ndjson", "parquet", "csv.gz", "utf16.csv"):
            with self.subTest(kind=kind):
                self.assertEqual(vt.tally(paths[kind], "kiln", count="pieces", where=condition), expected)

    def test_labels_in_latin_1_and_with_decimal_commas(self) -> None:
        content = "Fehler;Kosten\nGlasurriß;1,5\n„Kante“;2\nGlasurriß;0,25\n".replace("ß", "\xdf")
        tally = vt.tally(self.file(content.encode("cp1252")), "Fehler", count="Kosten")
        self.assertEqual(tally.as_dict(), {"Glasurriß": 1.75, "„Kante“": 2})
        self.assertIn("was read as Latin-1", tally.origin.remarks[0].message)
        late = "Fehler\n" + "x\n" * 300000 + "Glasurri\xdf\n"
        self.assertEqual(vt.tally(self.file(late.encode("latin-1")), "Fehler").as_dict(), {"x": 300000, "Glasurriß": 1})

    def test_labels_may_hold_anything(self) -> None:
        labels = ['"', "NULL", "=1+1", "a\nb", "<b>", "x" * 10000, "007", "'; drop", "日本", "\u202e"]
        frame = pd.DataFrame({"l": labels})
        frame.to_csv(self.folder / "a.csv", index=False)
        frame.to_parquet(self.folder / "a.parquet")
        frame.to_json(self.folder / "a.json", orient="records")
        for path in self.folder.iterdir():
            with self.subTest(path=path.name):
                self.assertEqual(vt.tally(path, "l").as_dict(), dict.fromkeys(labels, 1))
                self.assertEqual(len(vt.pareto(path, "l")._repr_html_().split("<tr>")), 13)

    def test_json_values_are_counted_as_themselves(self) -> None:
        path = self.file(
            json.dumps([{"l": 7, "n": 1}, {"l": True}, {"l": "007", "n": 2.5}, {"l": None, "n": 1}, {"m": 1}]), "a.json"
        )
        self.assertEqual(vt.tally(path, "l").as_dict(), {"7": 1, "true": 1, "007": 1})
        self.assertEqual(vt.tally(path, "l").missing.records, 2)

    def test_several_files_are_one(self) -> None:
        self.file("defect,n\na,1\nb,2\n", "one.csv")
        self.file("n;defect\n10;a\n20;c\n", "two.csv")
        tally = vt.tally(str(self.folder / "*.csv"), "defect", count="n")
        self.assertEqual((tally.as_dict(), tally.origin.input_rows), ({"a": 11, "b": 2, "c": 20}, 4))
        self.file("defect\na\n", "three.csv")
        self.says("three.csv' has no column 'n'", str(self.folder / "*.csv"), "defect", count="n")
        self.says("no file matches", str(self.folder / "*.tsv"), "defect")
        self.file("defect,n\na,1\nb,-2\n", "one.csv")
        (self.folder / "three.csv").unlink()
        self.says(
            "one.csv', record 2, column 'n': the count is negative", str(self.folder / "*.csv"), "defect", count="n"
        )

    def test_standard_input(self) -> None:
        with mock.patch.object(sys, "stdin", mock.Mock(buffer=io.BytesIO(b"defect;n\na;1\na;2\n"))):
            tally = vt.tally("-", "defect", count="n")
        self.assertEqual((tally.as_dict(), tally.origin.source), ({"a": 3}, "-"))

    def test_broken_files(self) -> None:
        for name, content, words in [
            ("a.json", b"{", "Malformed JSON"),
            ("b.json", b"[1, 2]", "holds no records"),
            ("a.parquet", b"PAR1", "too small to be a Parquet file"),
            ("a.csv.gz", b"no gzip", "its compression is broken"),
            ("a.xlsx", b"no zip", "is a text file under another name"),
            ("c.xlsx", b"PK\x03\x04no zip", "is not a workbook that can be read"),
            ("b.xlsx", b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1" + bytes(600), "is protected with a password"),
        ]:
            with self.subTest(name=name):
                self.says(words, self.file(content, name), "d")
        self.says("has no sheets", self.file("d\nx\n"), "d", sheet="Log")


class Conditions(InFolder):
    def setUp(self) -> None:
        super().setUp()
        self.log = self.file('code,n,d,"odd ""name"\n007,1,2026-01-01,x\n7,2,2026-02-01,y\n7,30,2026-03-01,\n')

    def test_what_conditions_compare(self) -> None:
        for condition, records in [
            ("n > 1", 2),
            ("code = '007'", 1),
            ("code = '7'", 2),
            ("d >= '2026-02-01'", 2),
            ("extract(month FROM d) = 3", 1),
            ('"odd ""name" IS NULL', 1),
            ("n BETWEEN 1 AND 2 OR code LIKE '%00%'", 2),
            ("n < 2 -- a remark", 1),
            ("N = 30", 1),
        ]:
            with self.subTest(condition=condition):
                tally = vt.tally(self.log, "code", where=condition)
                self.assertEqual((tally.total, tally.origin.where), (records, condition))
                self.assertEqual(vt.pareto(tally).to_dict()["where"], condition)

    def test_mistakes_in_conditions(self) -> None:
        self.file("secret\nx\n", "secret.csv")
        for condition, words in [
            ("m > 1", "there is no column 'm'"),
            ("codee = 1", "did you mean 'code'"),
            ("n >", "syntax error"),
            ("n > 1; DROP TABLE x", "syntax error|several statements"),
            ("  ", "where is empty"),
            ("n > 100", "no record meets the condition: n > 100"),
            ("n = 'x'", "Could not convert"),
            (
                f"(SELECT count(*) FROM read_csv('{self.folder}/secret.csv')) > 0",
                "is not for a condition|files other than the source cannot be read",
            ),
            (f"(SELECT count(*) FROM '{self.folder}/secret.csv') > 0", "where: "),
            (
                f"(SELECT count(*) FROM glob('{self.folder}/*')) > 0",
                "is not for a condition|files other than the source cannot be read",
            ),
        ]:
            with self.subTest(condition=condition):
                self.says(words, self.log, "code", where=condition)

    def test_frames_filter_themselves(self) -> None:
        self.says("where= is for files and databases", pd.DataFrame({"a": ["x"]}), "a", where="a = 'x'")


class Sheets(InFolder):
    def book(self, *rows: list[Any], name: str = "Log", **more: list[list[Any]]) -> Path:
        book = openpyxl.Workbook()
        book.active.title = name
        for row in rows:
            book.active.append(row)
        for title, others in more.items():
            sheet = book.create_sheet(title)
            for row in others:
                sheet.append(row)
        book.save(self.folder / "book.xlsx")
        return self.folder / "book.xlsx"

    def test_a_table_between_titles_and_total(self) -> None:
        path = self.book(
            ["Orrinvale Tileworks"],
            ["Week 12", "by defect"],
            [],
            ["Defect", "Pieces", "Share"],
            ["Pinhole", 88, 0.4],
            ["Warping", 61, 0.3],
            ["Total defects of print", 51, 0.3],
            ["TOTAL", 200, 1.0],
            [],
            ["Source: the log"],
        )
        tally = vt.tally(path, "Defect", count="Pieces")
        self.assertEqual(tally.as_dict(), {"Pinhole": 88, "Warping": 61, "Total defects of print": 51})
        self.assertIn("row 8 ('TOTAL') adds up the others and is left out", tally.origin.remarks[1].message)
        self.assertEqual([f.code for f in vt.review(tally)], ["notes-below", "total-row"])

    def test_a_total_that_adds_up_nothing_is_asked_about(self) -> None:
        path = self.book(["Defect", "n"], ["a", 1], ["b", 2], ["Total", 5])
        self.says("row 4: 'Total' reads as a total.*keep_totals=False", path, "Defect", count="n")
        self.assertEqual(vt.tally(path, "Defect", count="n", keep_totals=True).as_dict(), {"a": 1, "b": 2, "Total": 5})
        self.assertEqual(vt.tally(path, "Defect", count="n", keep_totals=False).as_dict(), {"a": 1, "b": 2})

    def test_notes_below_are_left_out_and_told(self) -> None:
        tally = vt.tally(
            self.book(["Defect", "n"], ["a", 1], ["b", 2], [], ["checked by night shift"]), "Defect", count="n"
        )
        self.assertEqual((tally.total, tally.origin.remarks[0].code), (3, "notes-below"))

    def test_rows_are_named_as_the_sheet_numbers_them(self) -> None:
        path = self.book(["Log"], [], ["Defect", "n"], ["a", 1], [], ["b", "two"])
        self.says("row 6, column 'n': the count is not a number: 'two'", path, "Defect", count="n")

    def test_values_of_every_kind(self) -> None:
        path = self.book(["when", "code"], [pd.Timestamp("2026-01-02").to_pydatetime(), 7], [None, 7.5], ["x", True])
        self.assertEqual(vt.tally(path, "when").as_dict(), {"2026-01-02": 1, "x": 1})
        self.assertEqual(vt.tally(path, "code").as_dict(), {"7": 1, "7.5": 1, "True": 1})

    def test_sheets_by_name(self) -> None:
        path = self.book(Checks=[["defect"], ["a"], ["a"]], Empty=[])
        self.assertEqual(vt.tally(path, "defect").as_dict(), {"a": 2})
        self.assertEqual(vt.tally(path, "defect", sheet="Checks").origin.input_rows, 2)
        self.says("no sheet 'Check'; did you mean 'Checks'", path, "defect", sheet="Check")
        self.says("holds no table", path, "defect", sheet="Empty")
        with self.assertRaisesRegex(SourceError, "two columns named 'a'"):
            vt.tally(self.book(["a", "a"], [1, 2]), "a")
        with self.assertRaisesRegex(ColumnError, "sheet Log' has no column 'b'; its columns are: a"):
            vt.tally(self.book(["a"], ["x"]), "b")
