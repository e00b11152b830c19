"""What small inputs may take: workbooks, conditions, patterns, wide tables and long labels."""

import os
import subprocess
import sys
import threading
import time
import unittest
import zipfile
from collections.abc import Callable
from pathlib import Path

from openpyxl import Workbook

import vantric as vt
from tests.cli.test_cli import Result
from tests.folder import InFolder
from vantric.errors import VantricError

SHEET = (
    '<?xml version="1.0"?><worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main">'
    "<sheetData>{}</sheetData></worksheet>"
)
HEAD = '<row r="1"><c r="A1" t="inlineStr"><is><t>defect</t></is></c></row>'
OPEN_DOCUMENT = (
    '<office:document-content xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" '
    'xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" '
    'xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0"><office:body><office:spreadsheet>'
    '<table:table table:name="A">{}</table:table></office:spreadsheet></office:body></office:document-content>'
)
MANIFEST = '<m:manifest xmlns:m="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0"/>'


class Workbooks(InFolder):
    def sheet(self, body: str, name: str = "b.xlsx", encoding: str = "utf-8") -> Path:
        """Write a workbook whose sheet is made by hand."""
        plain = self.workbook([["defect"], ["a"]], "plain.xlsx")
        path = self.folder / name
        with zipfile.ZipFile(plain) as old, zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as new:
            for part in old.namelist():
                new.writestr(part, SHEET.format(body).encode(encoding) if "worksheets/" in part else old.read(part))
        return path

    def document(self, body: str) -> Path:
        path = self.folder / "b.ods"
        with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as new:
            new.writestr("mimetype", "application/vnd.oasis.opendocument.spreadsheet")
            new.writestr("content.xml", OPEN_DOCUMENT.format(body))
            new.writestr("META-INF/manifest.xml", MANIFEST)
        return path

    def test_small_files_that_are_large(self) -> None:
        cell = '<table:table-cell office:value-type="string"{}><text:p>{}</text:p></table:table-cell>'
        many, down = ' table:number-columns-repeated="16000"', ' table:number-rows-repeated="9000"'
        bodies: dict[str, Callable[[], Path]] = {
            "a far cell": lambda: self.sheet(HEAD + '<row r="1048576"><c r="XFD1048576"><v>1</v></c></row>'),
            "a far cell, oddly written": lambda: self.sheet(
                HEAD + "<row\nr='9'><c s='1'\n r = 'XFD1048576'><v>1</v></c></row>"
            ),
            "a far cell in the first row": lambda: self.sheet(HEAD.replace('r="A1"', 'r="XFD1048576"')),
            "rows without end": lambda: self.sheet("<row/>" * 1_200_000 + "<row><c><v>1</v></c></row>"),
            "UTF-16": lambda: self.sheet(HEAD, encoding="utf-16"),
            "repeated cells": lambda: self.document(
                f"<table:table-row{down}>{cell.format(many, 'a')}</table:table-row>"
            ),
            "a repeated long text": lambda: self.document(
                f"<table:table-row{down}>{cell.format(many.replace('16000', '20'), 'a' * 20_000)}</table:table-row>"
            ),
        }
        for name, make in bodies.items():
            with self.subTest(name), self.assertRaisesRegex(VantricError, "more than a table has|UTF-16") as caught:
                vt.tally(make(), "defect")
            self.assertNotIn("\n", str(caught.exception))

    def test_a_shared_text_a_million_times(self) -> None:
        rows = "".join(f'<row r="{n}"><c r="A{n}" t="s"><v>1</v></c></row>' for n in range(2, 80_000))
        path = self.sheet(HEAD + rows)
        with zipfile.ZipFile(path, "a") as archive:
            archive.writestr("xl/sharedStrings.xml", f"<sst><si><t>a</t></si><si><t>{'b' * 32_000}</t></si></sst>")
        with self.assertRaisesRegex(VantricError, "its cells hold 2,5[0-9,]* characters"):
            vt.tally(path, "defect")

    def test_large_sheets_that_are_read(self) -> None:
        book = Workbook()
        page = book.worksheets[0]
        for row in (["defect"], ["a"], ["a"]):
            page.append(row)
        page.cell(1_048_576, 16_384).number_format = "0.0"  # formatted, and empty
        book.save(self.folder / "formatted.xlsx")
        self.assertEqual(vt.tally(self.folder / "formatted.xlsx", "defect").total, 2)
        bare = "<row><c t='inlineStr'><is><t>defect</t></is></c><c t='inlineStr'><is><t>n</t></is></c></row>"
        bare += "<row><c t='inlineStr'><is><t>a</t></is></c><c><v>3</v></c></row>" * 30_000
        self.assertEqual(vt.tally(self.sheet(bare), "defect", count="n").total, 90_000)
        trailing = '<table:table-row table:number-rows-repeated="1048000"><table:table-cell/></table:table-row>'
        cell = '<table:table-cell office:value-type="string"><text:p>{}</text:p></table:table-cell>'
        rows = [f"<table:table-row>{cell.format(text)}</table:table-row>" for text in ("defect", "a", "b")]
        self.assertEqual(vt.tally(self.document("".join(rows) + trailing), "defect").total, 2)


class Bounds(InFolder):
    def test_time(self) -> None:
        log = self.file("defect\n" + "".join(f"{n}\n" for n in range(2000)))
        cross = "(select count(*) from range(1000000000000)) > 0"
        for options in ({"where": cross, "allow_functions": True, "timeout": 0.5}, {"timeout": 1e-6}):
            start = time.monotonic()
            with self.assertRaisesRegex(VantricError, "time given with timeout is over"):
                vt.tally(log, "defect", **options)  # type: ignore[arg-type]
            self.assertLess(time.monotonic() - start, 10)
        self.assertEqual(vt.tally(log, "defect", timeout=60).total, 2000)

    def test_memory(self) -> None:
        log = self.file("defect\na\nb\n")
        for where in ("list_sum(range(2000000000)) > 0", "length(repeat('x', 4000000000)) > 0"):
            with self.subTest(where=where), self.assertRaisesRegex(VantricError, "memory|[Oo]ut of|large"):
                vt.tally(log, "defect", where=where, allow_functions=True)
        self.assertEqual(vt.tally(log, "defect", where="list_sum(range(3)) = 3", allow_functions=True).total, 2)
        self.assertEqual(Result("tally", log, "--by", "defect", "--memory", 100).status, 0)
        for wrong in ({"timeout": 0}, {"timeout": float("nan")}, {"memory": 1}):
            with self.subTest(**wrong), self.assertRaisesRegex(VantricError, "is a (whole )?number"):
                vt.tally(log, "defect", **wrong)  # type: ignore[arg-type]

    def test_errors_come_back_from_the_other_process(self) -> None:
        log = self.file("defect\na\nb\n")
        for where, said in (
            ("nothing = 1", "no column 'nothing'"),
            ("read_text('x') = ''", "where"),
            ("1 = 1; x", "where"),
        ):
            with self.subTest(where=where), self.assertRaisesRegex(VantricError, said):
                vt.tally(log, "defect", where=where, allow_functions=True)
        with self.assertRaisesRegex(VantricError, "for files"):
            vt.tally("sqlite:///x.db", "defect", table="x", allow_functions=True)

    def test_a_pattern_looks_through_so_much(self) -> None:
        from unittest import mock

        for n in range(30):
            (self.folder / f"f{n}").mkdir()
            (self.folder / f"f{n}" / "a.csv").write_text("defect\nx\n")
        self.assertEqual(vt.tally(f"{self.folder}/**/*.csv", "defect").total, 30)
        self.assertEqual(vt.tally(f"{self.folder}/**/f1/a.csv", "defect").total, 1)
        self.assertEqual(vt.tally(f"{self.folder}/f1?/**", "defect").total, 10)
        (self.folder / "f0" / "loop").symlink_to(self.folder)
        self.assertEqual(vt.tally(f"{self.folder}/**/a.csv", "defect").total, 30)
        with (
            mock.patch("vantric.engines.source_paths._MOST_SEEN", 20),
            self.assertRaisesRegex(VantricError, "looks through"),
        ):
            vt.tally(f"{self.folder}/**/*.csv", "defect")

    @unittest.skipUnless(hasattr(os, "mkfifo"), "SKIPPED: no named pipes here")
    def test_a_pipe_is_not_waited_for(self) -> None:
        for name in ("a.csv", "a.json", "a.toml", "a.xlsx", "a.parquet"):
            os.mkfifo(self.folder / name)
        pipes = {name: self.folder / name for name in ("a.csv", "a.json", "a.toml", "a.xlsx", "a.parquet")}
        log = self.file("defect\nx\n", "log.csv")
        for arguments in (
            *(("tally", path, "--by", "x") for path in pipes.values()),
            ("draw", pipes["a.toml"]),
            ("review", pipes["a.json"]),
            ("review", pipes["a.toml"]),
            ("tally", log, "--by", "defect", "--families", pipes["a.csv"]),
            ("tally", log, "--by", "defect", "--words-file", pipes["a.json"], "--out", "x.png"),
        ):
            with self.subTest(arguments=arguments):
                found = subprocess.run(
                    [sys.executable, "-m", "vantric", *map(str, arguments)], capture_output=True, text=True, timeout=60
                )
                self.assertEqual((found.returncode, found.stderr.count("\n")), (2, 1), found.stderr)


class Attacks(InFolder):
    """What a fresh look found."""

    def test_nested_conditions(self) -> None:
        log = self.file("defect,n\nCrack,2\n")
        for where in (
            "case when n > 1 then " * 300 + "true" + " end" * 300,
            "(" * 9000 + "n > 1" + ")" * 9000,
            "not " * 4000 + "(n > 1)",
            "abs(" * 400 + "n" + ")" * 400 + " > 1",
            "n > 1" + " + n" * 900,
        ):
            with self.subTest(where=where[:30]):
                result = Result("tally", log, "--by", "defect", "--where", where)
                self.assertIn(result.status, (0, 2))
                self.assertNotIn("a fault", result.err)
                self.assertLessEqual(result.err.count("\n"), 1)

    def test_a_line_without_an_end(self) -> None:
        self.says("no header that can be read", self.file("x" * 20_000_000), "a")

    def test_words_with_gaps_of_any_width(self) -> None:
        for word in ("{total:>999999999}", "{total.__class__}", "{total!r:99}", "{0}", "{", "{total[0]}", "{subject}"):
            with self.subTest(word=word), self.assertRaisesRegex(VantricError, "a gap that nothing fills"):
                vt.pareto_chart({"A": 1, "B": 2}, words={"total": word})

    def test_pictures_beyond_all_size(self) -> None:
        with self.assertRaisesRegex(VantricError, "at most 150,000,000 pixels"):
            vt.pareto_chart({"A": 1, "B": 2}, size=(20_000, 20_000))

    def test_a_workbook_that_says_itself_how_large_it_is(self) -> None:
        from unittest import mock

        path = self.workbook([["defect"], ["a" * 30_000]])
        with mock.patch("vantric.engines.workbook_guard._MOST_BYTES", 20_000):
            self.says("when it is unpacked, more than a table has", path, "defect")
        self.assertEqual(vt.tally(path, "defect").total, 1)


class Shapes(InFolder):
    def test_a_hundred_thousand_columns(self) -> None:
        names = [f"column number {n}" for n in range(100_000)]
        log = self.file(",".join(names) + "\n" + ",".join("ab" * 50_000) + "\n")
        self.assertEqual(vt.tally(log, names[99_999]).as_dict(), {"b": 1})

    def test_long_labels(self) -> None:
        text = "so" * 50_000
        labels = [text, text.upper(), text[:999], text[:777] + "x" + text[777:998]] + [text[:950]] * 20
        labels += [f"{text[:400]} finish", f"{text[:400]} finsih"]
        start = time.monotonic()
        found = {one.code for one in vt.review(vt.tally(labels))}
        self.assertLess(time.monotonic() - start, 20)
        self.assertLessEqual({"near-labels", "similar-labels"}, found)


@unittest.skipUnless(os.name == "posix", "SKIPPED: no signals here")
class Signals(InFolder):
    def test_in_the_middle_of_long_work(self) -> None:
        import signal
        import sqlite3

        log = self.file("defect\n" + "".join(f"{n}{'x' * 150}\n" for n in range(300_000)))
        with sqlite3.connect(self.folder / "s.db") as base:
            base.execute("CREATE TABLE t (a)")
            base.executemany("INSERT INTO t VALUES (?)", [(str(n),) for n in range(2000)])
        base.close()
        endless = "(select count(*) from range(1000000000000)) > 0"
        works = (
            (
                "tally",
                str(log),
                "--by",
                "defect",
                "--where",
                "not regexp_matches(defect, '(1|x|2)*y')",
                "--format",
                "csv",
            ),
            ("tally", str(log), "--by", "defect", "--where", endless, "--allow-functions"),
            ("tally", f"sqlite:///{self.folder}/s.db", "--query", "select x.a from t x, t y, t z", "--by", "a"),
        )
        code = (
            "import signal\nfor one in (signal.SIGTERM, signal.SIGHUP): signal.signal(one, signal.SIG_DFL)\n"
            "signal.signal(signal.SIGINT, signal.default_int_handler)\n"
            "import sys\nfrom vantric.cli import main; main(sys.argv[1:])"
        )  # whatever this suite's own caller ignores
        for place, number in enumerate((signal.SIGINT, signal.SIGTERM, signal.SIGHUP) * 3):
            room = self.folder / f"room{place}"
            room.mkdir()
            with (
                subprocess.Popen(
                    [sys.executable, "-c", code, *works[place % 3]],
                    env={**os.environ, "TMPDIR": str(room)},
                    stdout=subprocess.DEVNULL,
                    stderr=subprocess.PIPE,
                    text=True,
                ) as process,
                self.subTest(work=works[place % 3][1:], signal=number),
            ):
                time.sleep(0.6 + 0.17 * place)
                process.send_signal(number)
                start = time.monotonic()
                status = process.wait(30)
                self.assertLess(time.monotonic() - start, 5)  # a second on an idle machine
                assert process.stderr is not None
                self.assertIn(status, (130, -number, 0))
                self.assertNotIn("Traceback", process.stderr.read())
                self.assertEqual(list(room.iterdir()), [])

    def test_a_thread_may_read_too(self) -> None:
        log, found = self.file("defect\na\n"), []
        other = threading.Thread(target=lambda: found.append(vt.tally(log, "defect").total))
        other.start()
        other.join()
        self.assertEqual(found, [1])
