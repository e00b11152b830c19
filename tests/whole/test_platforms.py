"""What other systems have: code pages, drive letters, no links, no fork; with their stand-ins on this one."""

import contextlib
import json
import os
import re
import subprocess
import sys
import unittest
from pathlib import Path
from unittest import mock

import vantric as vt
from tests.cli.test_cli import Result
from tests.folder import InFolder
from vantric.base.safe_text import is_url, masked, without_secrets
from vantric.errors import VantricError

ROOT = Path(__file__).parent.parent.parent


class CodePages(InFolder):
    def run_in(self, encoding: str, *arguments: object) -> subprocess.CompletedProcess[bytes]:
        command = [sys.executable, "-m", "vantric", *map(str, arguments)]
        return subprocess.run(
            command, cwd=self.folder, capture_output=True, env={**os.environ, "PYTHONIOENCODING": encoding}
        )

    def test_data_are_utf_8_in_a_pipe_of_any_code_page(self) -> None:
        log = self.file("Wada\nŁódź\n不良\nŁódź\n", "log.csv")
        for encoding in ("cp1252", "ascii"):
            found = self.run_in(encoding, "pareto", log, "--by", "Wada", "--format", "json")
            self.assertEqual(found.returncode, 0, found.stderr)
            self.assertEqual(
                [row["category"] for row in json.loads(found.stdout.decode("utf-8"))["rows"]], ["Łódź", "不良"]
            )
            for form in ("csv", "markdown"):
                self.assertIn(
                    "Łódź",
                    self.run_in(encoding, "pareto", log, "--by", "Wada", "--format", form).stdout.decode("utf-8"),
                )

    def test_words_never_fail_on_a_console_of_any_code_page(self) -> None:
        log = self.file("Wada\nŁódź\n不良\nŁódź\n", "log.csv")
        for encoding in ("cp1252", "cp932", "utf-16"):
            for command in (
                ("pareto", log, "--by", "Wada"),
                ("columns", log),
                ("help", "cutoff"),
                ("pareto", log, "--by", "Wada", "--language", "ru"),
                ("pareto", log, "--by", "Łodź"),
                ("--help",),
            ):
                found = self.run_in(encoding, *command)
                self.assertIn(found.returncode, (0, 2), found.stderr)
                self.assertNotIn(b"Traceback", found.stderr)
                self.assertNotIn("fault", found.stderr.decode(encoding, "replace"))
        self.assertIn("####", self.run_in("cp1252", "pareto", log, "--by", "Wada").stdout.decode("cp1252"))

    def test_no_file_is_opened_in_the_code_page_of_the_system(self) -> None:
        for path in (ROOT / "src").rglob("*.py"):
            text = path.read_text(encoding="utf-8")
            for call in re.findall(r"\.(?:read_text|write_text)\(([^)]*)\)", text):
                self.assertIn("encoding", call, path)
            self.assertNotRegex(text, r"(?<![\w.])open\((?![^)]*(?:encoding|\"[rwa]b\"))", str(path))


class Paths(InFolder):
    def test_a_drive_is_no_url_and_holds_no_password(self) -> None:
        for path in (r"C:\plant\log@home.csv", "C:/plant/log.csv", "c://plant/log.csv"):
            self.assertFalse(is_url(path))
            with mock.patch("vantric.base.safe_text.os.name", "nt"):
                self.assertEqual((masked(path), without_secrets(path)), (path, path))
        self.assertEqual(masked("postgresql://u:secret@h/db"), "postgresql://u:***@h/db")
        with mock.patch("vantric.base.safe_text.os.name", "nt"):
            self.assertNotIn("secret", masked("postgresql://u:secret@h/db"))
            self.assertNotIn("secret", masked("u:secret@h/db"))

    def test_where_no_links_can_be_made_files_are_copied(self) -> None:
        odd = self.file("d\na\nb\na\n", "log[1].csv")
        with mock.patch("pathlib.Path.symlink_to", side_effect=OSError("a required privilege is not held")):
            self.assertEqual(vt.tally(odd, "d").total, 3)

    def test_names_that_we_make_up_are_taken_by_every_system(self) -> None:
        forbidden = re.compile(r'[<>:"|?*\\]|[. ]$|^(con|prn|aux|nul|com\d|lpt\d)(\.|$)', re.IGNORECASE)
        listed = subprocess.run(["git", "ls-files"], cwd=ROOT, capture_output=True, text=True)
        if listed.returncode:
            self.skipTest("SKIPPED: this is no checkout")
        for name in listed.stdout.splitlines():
            for part in name.split("/"):
                self.assertNotRegex(part, forbidden)

    def test_sources_in_chart_files_have_slashes(self) -> None:
        (self.folder / "data").mkdir()
        self.file("d\na\nb\na\n", "data/log.csv")
        with contextlib.chdir(self.folder):
            vt.pareto(Path("data") / "log.csv", "d").chart().save("chart.toml")
        self.assertIn('"data/log.csv"', (self.folder / "chart.toml").read_text(encoding="utf-8"))


class Systems(InFolder):
    def test_where_memory_cannot_be_bounded_what_needs_it_is_refused_in_one_line(self) -> None:
        log = self.file("d\na\nb\na\n")
        with mock.patch("vantric.engines.engine_process.find_spec", return_value=None):
            with self.assertRaisesRegex(VantricError, "needs a system that bounds memory"):
                vt.tally(log, "d", where="d = 'a'", allow_functions=True)
            self.assertEqual(Result("tally", log, "--by", "d").status, 0)

    def test_an_older_console_is_asked_to_understand_colors(self) -> None:
        from vantric.cli import terminal

        asked = mock.Mock()
        with (
            mock.patch.object(terminal.os, "name", "nt"),
            mock.patch.object(terminal.importlib, "import_module", return_value=asked),
        ):
            terminal.prepare_console()
        asked.just_fix_windows_console.assert_called_once()

    def test_a_file_that_cannot_be_replaced_stays(self) -> None:
        target = self.file("mine", "out.csv")
        log = self.file("d\na\nb\na\n")
        with mock.patch("pathlib.Path.replace", side_effect=PermissionError(13, "Permission denied")):
            result = Result("tally", log, "--by", "d", "--out", target)
        self.assertEqual((result.status, result.err.count("\n")), (2, 1), result.err)
        self.assertEqual(target.read_text(), "mine")
        self.assertEqual(sorted(path.name for path in self.folder.iterdir()), ["log.csv", "out.csv"])


if __name__ == "__main__":
    unittest.main()
