"""``vantric tally`` and ``vantric columns``, and the options of reading and counting."""

import csv
import io
import json
import os
import pty
import signal
import subprocess
import sys
import time
from unittest import mock

import pandas as pd
import polars as pl

import vantric
from tests.cli.test_cli import LOG, Result
from tests.folder import InFolder
from vantric.cli import results as output
from vantric.errors import ColumnError


class Tally(InFolder):
    def test_text(self) -> None:
        lines = Result("tally", LOG, "--by", "kiln").out.splitlines()
        self.assertEqual(lines[0], "Tally of kiln")
        self.assertTrue(lines[1].endswith("inspections.csv: 4,000 records"))
        self.assertEqual(
            [line.split() for line in lines[3:5]],
            [["Category", "Frequency", "Percent"], ["Kiln", "2", "1,389", "34.7%"]],
        )
        self.assertEqual(lines[-1].split(), ["Total", "4,000", "100.0%"])

    def test_json_is_the_contract(self) -> None:
        log = self.file("defect,n\nPinhole,3\nWarping,1\n,2\n")
        found = json.loads(
            Result("tally", log, "--by", "defect", "--count", "n", "--where", "n < 9", "--format", "json").out
        )
        self.assertEqual(
            found,
            {
                "format": "vantric/tally",
                "version": 1,
                "source": str(log),
                "where": "n < 9",
                "by": "defect",
                "input_rows": 3,
                "records": 4,
                "total": 4,
                "missing": {"records": 2, "frequency": 2},
                "rows": [
                    {"category": "Pinhole", "frequency": 3, "percent": 75},
                    {"category": "Warping", "frequency": 1, "percent": 25},
                ],
                "findings": [],
            },
        )

    def test_csv_and_markdown_and_files(self) -> None:
        out = self.folder / "t.csv"
        result = Result(
            "tally", LOG, "--by", "shift", "--format", "markdown", "--out", out, "--out", self.folder / "t.json"
        )
        self.assertIn("| Early | 1,569 | 39.2% |", result.out)
        rows = list(csv.DictReader(io.StringIO(out.read_text())))
        self.assertEqual(
            (rows[0]["category"], rows[0]["frequency"], float(rows[0]["percent"])), ("Early", "1569", 39.225)
        )
        self.assertEqual(json.loads((self.folder / "t.json").read_text())["total"], 4000)
        self.assertEqual(Result("tally", LOG, "--by", "shift", "--out", self.folder / "t.pgn").status, 2)

    def test_two_way_tables(self) -> None:
        out = Result("tally", LOG, "--by", "shift", "--split", "kiln", "--percent-of", "column").out
        self.assertIn("Percents of each column's total.", out)
        self.assertRegex(out, r"Category +Kiln 1 +Kiln 2 +Kiln 3 +Kiln 4 +Total")
        found = json.loads(
            Result("tally", LOG, "--by", "shift", "--split", "kiln", "--format", "json", "--transpose").out
        )
        self.assertEqual((found["by"], found["split"], found["columns"]), ("kiln", "shift", ["Early", "Late", "Night"]))
        self.assertEqual(sum(found["column_totals"]), found["total"])
        self.assertIn(
            "shift,Kiln 1,Kiln 2", Result("tally", LOG, "--by", "shift", "--split", "kiln", "--format", "csv").out
        )
        self.assertIn("name a second column", Result("tally", LOG, "--by", "shift", "--percent-of", "row").err)
        markdown = Result("tally", LOG, "--by", "shift", "--split", "kiln", "--format", "markdown").out
        self.assertTrue(markdown.splitlines()[-1].startswith("| Total |"))

    def test_merges_and_families_are_told(self) -> None:
        result = Result("pareto", LOG, "--by", "defect", "--merge-spellings")
        self.assertIn("note: 'Edge chip' (664) includes 'edge chip' (89)", result.out)
        self.assertNotIn("counted apart", result.out)
        families = LOG.with_name("defect_families.csv")
        found = json.loads(Result("pareto", LOG, "--by", "defect", "--families", families, "--format", "json").out)
        self.assertEqual([row["category"] for row in found["rows"]][:2], ["Glazing", "Handling"])

    def test_other_shapes(self) -> None:
        sheet = self.file("day,Pinhole,Warp\n1,3,1\n2,,2\n", "check.csv")
        self.assertRegex(Result("tally", sheet, "--by-columns", "Pinhole, Warp").out, r"Pinhole +3 +50.0%")
        cells = self.file("d,u\na/b,1\na,1\n", "cells.csv")
        self.assertIn("3 mentions in 2 records", Result("tally", cells, "--by", "d", "--separator", "/").out)
        of_mentions = Result("tally", cells, "--by", "d", "--separator", "/").out
        self.assertRegex(of_mentions, r"Percent of mentions\na +2 +66.7%\nb +1 +33.3%\nTotal +3 +100.0%")
        of_records = Result("tally", cells, "--by", "d", "--separator", "/", "--percent-of", "records").out
        self.assertRegex(of_records, r"Percent of records\na +2 +100.0%\nb +1 +50.0%\nTotal +3\n")
        found = json.loads(
            Result("tally", cells, "--by", "d", "--separator", "/", "--percent-of", "records", "--format", "json").out
        )
        self.assertEqual((found["percent_of"], found["rows"][1]["percent"]), ("records", 50))
        self.assertIn("give a separator", Result("tally", cells, "--by", "d", "--percent-of", "records").err)
        self.assertIn(
            "not of records", Result("tally", cells, "--by", "d", "--split", "u", "--percent-of", "records").err
        )
        self.assertIn("2 distinct u", Result("tally", cells, "--by", "d", "--unique", "u").out)

    def test_a_column_that_was_not_named(self) -> None:
        self.assertIn("note: no column was named; 'crew' is", Result("tally", LOG.with_name("crews.csv")).out)
        self.assertIn("its columns could be: kiln, shift, product, defect", Result("tally", LOG).err)

    def test_nothing_to_count(self) -> None:
        for name, content, words in [
            ("h.csv", "d\n", "holds no records"),
            ("m.csv", "d,n\n,1\n", "is empty in every record"),
        ]:
            self.assertIn(words, Result("tally", self.file(content, name), "--by", "d").err)
        self.assertIn(
            "no record meets the condition", Result("tally", LOG, "--by", "kiln", "--where", "pieces < 0").err
        )
        self.assertIn("–", Result("tally", self.file("d,n\na,0\n", "z.csv"), "--by", "d", "--count", "n").out)

    def test_databases_and_standard_input(self) -> None:
        import sqlite3

        path = self.folder / "log.db"
        with sqlite3.connect(path) as base:
            base.execute("CREATE TABLE log AS SELECT 'Pinhole' AS defect")
        base.close()
        self.assertIn("Pinhole", Result("tally", f"sqlite:///{path}", "--table", "log", "--by", "defect").out)
        self.assertIn(
            "must only read", Result("tally", f"sqlite:///{path}", "--query", "DROP TABLE log", "--by", "defect").err
        )
        done = subprocess.run(
            [sys.executable, "-m", "vantric", "tally", "-", "--by", "kiln"],
            input=LOG.read_text(),
            capture_output=True,
            text=True,
            check=True,
        )
        self.assertIn("Kiln 2        1,389", done.stdout)


class Columns(InFolder):
    def test_a_first_look(self) -> None:
        lines = Result("columns", LOG).out.splitlines()
        self.assertRegex(lines[0], r"inspections\.csv: 4,000 records, 7 columns$")
        self.assertRegex(lines[7], r"^defect +text +3,834 +166 +24  Pinhole \(902\), Edge chip \(664\)")
        self.assertTrue(all(len(line) <= 80 for line in lines), lines)
        self.assertIn("Can be counted (--by): kiln, shift, product, defect", lines)
        self.assertIn("Can be added up (--count): pieces, rework_cost", lines)

    def test_kinds(self) -> None:
        log = self.file("a,b,c,d,e,f\n1,2026-01-01,x,,007,1.5\n2,2026-01,x,,008,\n")
        found = json.loads(Result("columns", log, "--format", "json").out)
        self.assertEqual([c["kind"] for c in found["columns"]], ["number", "date", "text", "empty", "text", "number"])
        self.assertEqual(found["columns"][5]["missing"], 1)
        self.assertEqual(found["first"][0], ["1", "2026-01-01", "x", None, "007", "1.5"])

    def test_part_of_a_source(self) -> None:
        self.assertIn("1,389 records, 7 columns", Result("columns", LOG, "--where", "kiln = 'Kiln 2'").out)
        self.assertIn("did you mean 'kiln'", Result("columns", LOG, "--where", "kilm = 'x'").err)


class SeveralWhereOneIsWanted(InFolder):
    """A list or a range of columns, for each option that names one column."""

    def test_each_option_says_so(self) -> None:
        split = ("--before", "Early", "--after", "Night")
        for several in ("kiln,shift", "kiln:shift", "kiln, shift"):
            for command in (
                ("tally", LOG, "--by", "defect", "--weight", several),
                ("tally", LOG, "--by", "defect", "--unique", several),
                ("tally", LOG, "--by", "defect", "--split", several),
                ("pareto", LOG, "--by", "defect", "--per", several),
                ("pareto", LOG, "--by", "defect", "--per", f"once:{several}"),
                ("trend", LOG, "--by", "defect", "--date", several),
                ("trend", LOG, "--by", "defect", "--date", "date", "--per", several),
                ("compare", LOG, "--by", "defect", "--split", several, *split),
                ("combine", LOG, "--x", several, "--bars", "pieces"),
                ("combine", LOG, "--x", "kiln", "--line", f"mean:{several}"),
            ):
                with self.subTest(command=command):
                    result = Result(*command)
                    self.assertEqual(result.status, 2)
                    self.assertIn(f"'{several}' is several columns of", result.err)

    def test_a_sign_with_nothing_behind_it_is_no_column_without_a_name(self) -> None:
        for typed in ("defect:", ":defect", "defect,", ",defect", ":", ","):
            with self.subTest(typed=typed):
                err = Result("tally", LOG, "--by", typed).err
                self.assertIn(f"has no column '{typed}'", err)
                self.assertIn("has no column", Result("tally", LOG, "--by", "defect", "--count", typed).err)

    def test_counts_are_added_up_from_several(self) -> None:
        self.assertEqual(Result("tally", LOG, "--by", "defect", "--count", "pieces,rework_cost").status, 0)

    def test_a_column_of_that_very_name_wins(self) -> None:
        book = self.folder / "signs.csv"
        book.write_text('"kiln,shift",kiln,shift\nA,1,2\nB,1,2\nA,3,4\n')
        self.assertIn("A", Result("tally", book, "--by", "kiln,shift").out)

    def test_several_columns_of_labels_make_pairs(self) -> None:
        data = {"kiln": ["A", "B", "A", ""], "shift": ["x", "y", "x", "y"]}
        for source in (data, pd.DataFrame(data), pl.DataFrame(data), pl.DataFrame(data).lazy()):
            for by in ("kiln,shift", ["kiln", "shift"]):
                tally = vantric.tally(source, by)
                self.assertEqual(tally.as_dict(), {"A / x": 2, "B / y": 1})
                self.assertEqual(tally.missing.records, 1)
        with self.assertRaisesRegex(ColumnError, "no column 'nothing'"):
            vantric.tally(data, "kiln,nothing")


class Patience(InFolder):
    def test_a_long_reading_shows_itself_on_a_terminal_only(self) -> None:
        leader, follower = pty.openpty()
        self.addCleanup(os.close, leader)
        with (
            os.fdopen(follower, "w") as terminal,
            mock.patch.object(output, "_PATIENCE", 0.01),
            mock.patch.object(sys, "stderr", terminal),
            output.reading("big.csv"),
        ):
            time.sleep(0.4)
        self.assertIn(b"reading big.csv", os.read(leader, 65536))
        with mock.patch.object(output, "_PATIENCE", 0.0), mock.patch.object(sys, "stderr", io.StringIO()) as err:
            with output.reading("big.csv"):
                time.sleep(0.05)
            self.assertEqual(err.getvalue(), "")

    def test_stopping_a_long_reading_ends_cleanly(self) -> None:
        log = self.folder / "big.csv"
        log.write_text("defect,n\n" + "".join(f"defect {n},{n}\n" for n in range(2000)) * 1500)
        process = subprocess.Popen(
            [sys.executable, "-m", "vantric", "tally", str(log), "--by", "defect", "--count", "n"],
            stdout=subprocess.PIPE,
            stderr=subprocess.PIPE,
            text=True,
        )
        time.sleep(1.0)
        process.send_signal(2)
        err = process.communicate(timeout=60)[1]
        if process.returncode != 0:  # a very fast machine may have been done already, or be printing
            self.assertTrue(err.strip().endswith("vantric: stopped"), err)
            self.assertNotIn("Traceback", err)
            self.assertIn(process.returncode, {130, -2})  # -2 is a death by the signal; a shell says 130 of both

    def test_stopping_while_a_compiled_module_is_loaded(self) -> None:
        """Some report every exception that passes through them themselves, over thirty lines."""
        code = (
            "import os, signal, sys\n"
            "from importlib.machinery import ExtensionFileLoader\n"
            "from vantric.cli.main import main\n"
            "signal.signal(signal.SIGINT, signal.default_int_handler)\n"
            "load = ExtensionFileLoader.exec_module\n"
            "def interrupted(self, module):\n"
            "    try: os.kill(os.getpid(), signal.SIGINT)\n"
            "    except BaseException: print('the module complains at length', file=sys.stderr)\n"
            "    return load(self, module)\n"
            "ExtensionFileLoader.exec_module = interrupted\n"
            f"main(['tally', {str(LOG)!r}, '--by', 'defect', '--where', 'pieces > 0'])\n"  # needs the engine
        )
        done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=False)
        self.assertEqual((done.stdout, done.stderr.strip(), done.returncode), ("", "vantric: stopped", 130))

    def test_stopping_while_waiting_for_standard_input(self) -> None:
        command = [sys.executable, "-m", "vantric", "tally", "-", "--by", "defect"]
        process = subprocess.Popen(
            command,
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.PIPE,
            text=True,
            preexec_fn=lambda: signal.signal(signal.SIGINT, signal.SIG_DFL),  # a suite in the background ignores it
        )
        time.sleep(1.0)
        process.send_signal(2)
        out, err = process.communicate(timeout=60)
        self.assertEqual((out, err.strip()), ("", "vantric: stopped"))
        self.assertIn(process.returncode, {130, -2})
