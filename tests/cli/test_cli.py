"""The command line, as a user meets it."""

import contextlib
import csv
import io
import json
import os
import re
import subprocess
import sys
from importlib.resources import files
from pathlib import Path
from unittest import mock

import vantric as vt
from tests.folder import InFolder
from vantric.cli.main import run

SMALL = "defect,n\nPinhole,3\nWarping,1\n,2\n"
LOG = Path(str(files("vantric.demo") / "data" / "inspections.csv"))


class Result:
    def __init__(self, *arguments: object) -> None:
        out, err = io.StringIO(), io.StringIO()
        plain = {name: value for name, value in os.environ.items() if name not in {"FORCE_COLOR", "COLUMNS"}}
        changed = mock.patch.dict(os.environ, plain, clear=True)
        # What the tests themselves are given as input is nothing that a command reads.
        given = mock.patch("sys.stdin", io.StringIO() if sys.stdin is sys.__stdin__ else sys.stdin)
        with changed, given, contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            self.status = run([str(argument) for argument in arguments])
        self.out, self.err = out.getvalue(), err.getvalue()


class Pareto(InFolder):
    def test_json_is_the_contract_to_the_letter(self) -> None:
        log = self.file("defect,n\nPinhole,3\nWarping,1\nCrack,1\n,2\n")
        result = Result("pareto", log, "--by", "defect", "--count", "n", "--format", "json")
        self.assertEqual(result.status, 0)
        self.assertRegex(result.err, "^vantric: warning: the cutoff at 80% divides a tie: [^\n]+\n$")
        ties = {
            "code": "ties",
            "severity": "note",
            "message": "equally frequent: 'Crack' and 'Warping'",
            "fix": "their ranks have no meaning: they are in the natural order of their labels",
            "where": "defect",
        }
        cut = {
            "percent": 80,
            "rule": "reach",
            "count": 2,
            "categories": ["Pinhole", "Crack"],
            "cumulative_percent": 80,
            "tied": ["Warping"],
        }
        divided = {
            "code": "tie-at-cutoff",
            "severity": "warning",
            "message": "the cutoff at 80% divides a tie: 'Crack' is inside, 'Warping' is just as frequent and outside",
            "fix": "name the tied categories when you present the vital few",
            "where": "cutoff 80%",
        }
        rows = [
            (1, "Pinhole", 3, 3, 60, 3, 60, "A"),
            (2, "Crack", 1, 1, 20, 4, 80, "A"),
            (3, "Warping", 1, 1, 20, 5, 100, "B"),
        ]
        names = (
            "rank",
            "category",
            "frequency",
            "count",
            "percent",
            "cumulative_frequency",
            "cumulative_percent",
            "abc",
        )
        expected = {
            "format": "vantric/pareto",
            "version": 1,
            "source": str(log),
            "where": None,
            "by": "defect",
            "count": "n",
            "weight": None,
            "order": "frequency",
            "input_rows": 4,
            "records": 5,
            "total": 5,
            "missing": {"records": 2, "frequency": 2, "could_change": 1},
            "rows": [dict(zip(names, row, strict=True)) for row in rows],
            "rest": None,
            "cutoffs": [cut],
            "cutoff": cut,
            "findings": [divided, ties],
        }
        self.assertEqual(json.loads(result.out), expected)
        self.assertEqual(list(json.loads(result.out)), list(expected))
        self.assertNotRegex(result.out, r"\d\.0\b")
        self.assertEqual(vt.pareto(str(log), by="defect", count="n").to_dict(), expected)

    def test_the_demo_log_agrees_with_plain_counting(self) -> None:
        with LOG.open(newline="") as file:
            typed = [row["defect"] for row in csv.DictReader(file)]
        found = json.loads(Result("pareto", LOG, "--by", "defect", "--format", "json").out)
        for row in found["rows"]:
            self.assertEqual(row["frequency"], typed.count(row["category"]))
        valid = sum(bool(label.strip()) for label in typed)
        self.assertEqual((found["total"], found["missing"]["records"]), (valid, len(typed) - valid))
        self.assertEqual(found["input_rows"], 4000)
        self.assertGreaterEqual(found["cutoff"]["cumulative_percent"], 80)
        self.assertLess(found["rows"][found["cutoff"]["count"] - 2]["cumulative_percent"], 80)

    def test_the_terminal_view(self) -> None:
        result = Result("pareto", LOG, "--by", "defect")
        lines = result.out.splitlines()
        self.assertEqual((result.status, result.err), (0, ""))
        self.assertEqual(lines[:2], ["7 of 24 categories account for 81% of 3,834 records", "Pareto table of defect"])
        self.assertIn("3,834 records, 166 with a blank “defect”", lines[2])
        plain = Result("pareto", LOG, "--by", "defect", "--neutral-title").out.splitlines()
        self.assertEqual(plain[0], "Pareto table of defect")
        named = Result("pareto", LOG, "--by", "defect", "--noun", "defects").out.splitlines()
        self.assertEqual(named[0], "7 of 24 defects account for 81% of 3,834 records")
        self.assertTrue(all(len(line) <= 80 for line in lines), lines)
        body = lines[lines.index("") + 1 :]
        self.assertRegex(body[1], r"^ 1  Pinhole +902 +23\.5% +23\.5%  █+")
        self.assertRegex(body[8], "^─── 80% reached by 7 of 24 categories: 81.3% ─+$")
        self.assertIn("Total                      3,834   100.0%", result.out)
        self.assertIn("warning: labels that differ only in case or spaces", result.out)
        self.assertNotIn("\x1b", result.out)

    def test_the_terminal_view_in_color_in_ascii_and_wide(self) -> None:
        environment = {**os.environ, "FORCE_COLOR": "1", "COLUMNS": "120", "PYTHONIOENCODING": "utf-8"}
        command = [sys.executable, "-m", "vantric", "pareto", str(LOG), "--by", "kiln"]
        environment.pop("NO_COLOR", None)
        environment["TERM"] = "xterm"
        wide = subprocess.run(command, env=environment, capture_output=True, check=True).stdout.decode()
        self.assertIn("\x1b[", wide)
        plain = re.sub(r"\x1b\[[0-9;]*m", "", wide)
        self.assertGreater(max(map(len, plain.splitlines())), 60)
        environment.update(PYTHONIOENCODING="ascii", NO_COLOR="1")
        ascii_only = subprocess.run(command, env=environment, capture_output=True, check=True).stdout
        self.assertTrue(ascii_only.isascii())
        self.assertIn(b"#####", ascii_only)
        self.assertNotIn(b"\x1b", ascii_only)

    def test_long_labels_are_cut_short_and_stay_in_line(self) -> None:
        log = self.file(
            'defect\n"日本語のとても長いラベルです日本語のとても長いラベルです日本語のとても長い"\n"two\nlines"\n'
            + "x" * 10000
            + "\n"
        )
        lines = Result("pareto", log, "--by", "defect").out.splitlines()
        self.assertEqual(len([line for line in lines if re.match(" *[123]  ", line)]), 3)
        self.assertTrue(all(len(line) <= 80 for line in lines), lines)
        self.assertIn("two lines", " ".join(lines))

    def test_csv_and_markdown_can_be_read_again(self) -> None:
        log = self.file('defect\n"a|b, ""c"""\n"a|b, ""c"""\n"*x*"\n')
        rows = list(csv.DictReader(io.StringIO(Result("pareto", log, "--by", "defect", "--format", "csv").out)))
        self.assertEqual([row["category"] for row in rows], ['a|b, "c"', "*x*"])
        self.assertEqual(rows[0]["cumulative_percent"], str(200 / 3))
        self.assertEqual(rows[1]["cumulative_percent"], "100")
        text = Result("pareto", log, "--by", "defect", "--format", "markdown").out
        self.assertIn('| 1 | a\\|b, "c" | 2 | 66.7% | 2 | 66.7% | A |', text)
        self.assertIn("\\*x\\*", text)

    def test_files_by_their_ending(self) -> None:
        starts = {
            "a.png": b"\x89PNG",
            "a.SVG": b"<?xml",
            "a.pdf": b"%PDF",
            "a.csv": b"rank,",
            "a.json": b"{",
            "a.md": b"![Defect](a.png)",
        }
        targets = [self.folder / name for name in starts]
        outs = [argument for target in targets for argument in ("--out", target)]
        result = Result("pareto", self.file(SMALL), "--by", "defect", *outs, "--format", "csv")
        self.assertEqual(result.status, 0)
        self.assertEqual(
            [line for line in result.err.splitlines() if line.startswith("wrote")], [f"wrote {t}" for t in targets]
        )
        for target, start in zip(targets, starts.values(), strict=True):
            self.assertTrue(target.read_bytes().startswith(start), target)
        self.assertEqual(set(self.folder.iterdir()), {*targets, self.folder / "log.csv"})

    def test_another_cutoff(self) -> None:
        found = json.loads(Result("pareto", LOG, "--by", "kiln", "--cut", "99.5", "--format", "json").out)
        self.assertEqual((found["cutoff"]["percent"], found["cutoff"]["count"]), (99.5, 4))


class Errors(InFolder):
    def failed(self, *arguments: object) -> str:
        before = {path: path.read_bytes() for path in self.folder.iterdir() if path.is_file()}
        result = Result(*arguments)
        self.assertEqual((result.status, result.out), (2, ""), arguments)
        self.assertRegex(result.err, r"^vantric: error: [^\n]+\n$")
        self.assertEqual({path: path.read_bytes() for path in self.folder.iterdir() if path.is_file()}, before)
        return result.err.removeprefix("vantric: error: ").strip()

    def test_bad_input_is_one_line_and_nothing_is_written(self) -> None:
        log, out = self.file(SMALL), self.folder / "out.png"
        for arguments, words in [
            ((self.folder / "no.csv", "--by", "defect"), "there is no file"),
            ((self.file("", "e.csv"), "--by", "defect"), "is empty: it needs a header line"),
            ((self.file("defect\n", "h.csv"), "--by", "defect"), "holds no records"),
            ((self.file("defect,n\n,1\n  ,1\n", "m.csv"), "--by", "defect"), "'defect' is empty in every record"),
            ((log, "--by", "defekt"), "has no column 'defekt'; did you mean 'defect'?"),
            ((log, "--by", "DEFECT"), "did you mean 'defect'?"),
            ((log, "--by", "defect", "--count", "m"), "its columns are: defect, n"),
            (
                (self.file("defect,n\na,-1\n", "n.csv"), "--by", "defect", "--count", "n"),
                "record 1, column 'n': the count is negative: -1",
            ),
            (
                (self.file("defect,n\na,1\nb,x\n", "x.csv"), "--by", "defect", "--count", "n"),
                "record 2, column 'n': the count is not a number",
            ),
            ((self.file("defect,n\na,0\n", "z.csv"), "--by", "defect", "--count", "n"), "all frequencies are zero"),
            ((log, "--by", "defect", "--cut", "0"), "between 0 and 100"),
            ((log, "--by", "defect", "--cut", "lots"), "'lots' is not"),
            ((log, "--by", "defect", "--format", "jsn"), "json"),
            ((log, "--bye", "defect"), "there is no option"),
            ((self.file("a,b\nx,y\nx,y\n", "two.csv"),), "say which column of '"),
            ((log, "--by", "defect", "--out", self.folder / "nowhere" / "a.png"), "there is no folder"),
            ((log, "--by", "defect", "--out", self.folder), "its ending is not one of"),
            ((log, "--by", "defect", "--out", self.folder / "a.pgn"), "did you mean 'png'"),
            ((log, "--by", "defect", "--out", out, "--out", out), "is named twice"),
            ((log, "--by", "defect", "--out", log), "is the source itself"),
        ]:
            with self.subTest(words=words):
                self.assertIn(
                    words, self.failed("pareto", *arguments, *(() if "--out" in arguments else ("--out", out)))
                )

    def test_commands_that_are_none(self) -> None:
        self.assertIn("no command 'paretto'; did you mean 'pareto'?", self.failed("paretto"))
        self.assertIn("the commands are: start, demo, columns, tally, pareto", self.failed("zzz"))

    def test_a_picture_that_fails_leaves_the_old_one(self) -> None:
        out = self.folder / "old.png"
        out.write_bytes(b"the old one")
        with mock.patch("pathlib.Path.replace", side_effect=OSError(28, "No space left on device")):
            message = self.failed("pareto", self.file(SMALL), "--by", "defect", "--out", out)
        self.assertIn("No space left on device", message)
        self.assertEqual(out.read_bytes(), b"the old one")

    def test_folders_that_cannot_be_written(self) -> None:
        with mock.patch("os.access", return_value=False):
            self.assertIn(
                "no permission",
                self.failed("pareto", self.file(SMALL), "--by", "defect", "--out", self.folder / "a.png"),
            )
        self.assertIn("cannot make the folder", self.failed("demo", "--to", self.file(SMALL) / "below"))

    def test_stopping(self) -> None:
        with mock.patch("vantric.counting.ranking.count_source", side_effect=KeyboardInterrupt):
            result = Result("pareto", self.file(SMALL), "--by", "defect")
        self.assertEqual((result.status, result.err), (130, "\nvantric: stopped\n"))

    def test_a_reader_that_leaves_early(self) -> None:
        log = self.file("defect\n" + "".join(f"defect {n}\n" for n in range(20000)))
        command = f"'{sys.executable}' -m vantric pareto '{log}' --by defect --format csv 2>&1 | head -n 1"
        done = subprocess.run(["bash", "-c", command], capture_output=True, text=True, check=True)
        self.assertEqual(
            done.stdout, "rank,category,frequency,count,percent,cumulative_frequency,cumulative_percent,abc\n"
        )

    def test_help_and_version(self) -> None:
        self.assertIn("vantric " + vt.__version__, Result("--version").out)
        self.assertRegex(Result("--help").out, "pareto +Rank and accumulate")
        self.assertIn("--count COL", Result("pareto", "--help").out)
        self.assertIn("Commands:", Result().out)
