"""Standard streams, folders and names that take nothing: really so."""

import os
import shutil
import subprocess
import sys
import unittest
from pathlib import Path

from tests.cli.test_cli import Result
from tests.folder import InFolder


@unittest.skipUnless(shutil.which("bash"), "SKIPPED: no bash here")
class Streams(InFolder):
    """Standard streams that are closed or full, and folders that take nothing: really so."""

    def ends(self, shell: str, **environment: str) -> tuple[int, str]:
        """Return the status of a command, written for a shell, and what it said on standard error."""
        command = shell.replace("vantric", f"'{sys.executable}' -m vantric", 1)
        plain = {**os.environ, "PYTHONDONTWRITEBYTECODE": "1"}  # under a limit of size Python writes broken bytecode
        done = subprocess.run(
            ["bash", "-c", command],
            cwd=self.folder,
            capture_output=True,
            text=True,
            timeout=60,
            env={**plain, **environment},
        )
        return done.returncode, done.stderr

    def test_what_is_piped_in_is_the_source(self) -> None:
        self.file("d\na\na\nb\n", "log.csv")
        for shell in (
            "cat log.csv | vantric pareto --by d --out piped.svg",
            "vantric tally --by d --out read.svg < log.csv",
            "echo nothing | vantric tally log.csv --by d --out named.svg",
        ):
            status, said = self.ends(shell)
            self.assertEqual(status, 0, said)
        self.assertIn("of 3 records", (self.folder / "piped.svg").read_text(encoding="utf-8"))
        self.assertIn("3 records", (self.folder / "named.svg").read_text(encoding="utf-8"))
        for shell, words in (
            ("vantric pareto --by d < /dev/null", "Missing argument 'SOURCE'"),
            ("vantric pareto --by d <&-", "Missing argument 'SOURCE'"),
            ("printf '' | vantric pareto --by d", "'standard input' is empty"),
        ):
            self.assertEqual(self.ends(shell)[0], 2, shell)
            self.assertIn(words, self.ends(shell)[1])

    def refused(self, shell: str, words: str, **environment: str) -> None:
        with self.subTest(shell=shell, **environment):
            status, said = self.ends(shell, **environment)
            self.assertEqual((status, said.count("\n")), (2, 1), said[-800:])
            self.assertRegex(said, f"^vantric: error: .*{words}")

    @unittest.skipUnless(Path("/dev/full").exists(), "SKIPPED: no full device here")
    def test_closed_and_full_streams(self) -> None:
        self.file("defect\nCrack\n")
        for form in ("text", "json", "csv", "markdown"):
            self.refused(f"vantric tally log.csv --by defect --format {form} > /dev/full", "No space left")
        self.refused("vantric --help > /dev/full", "No space left")
        self.refused("vantric columns log.csv >&-", "standard output is closed")
        self.refused("vantric tally - --by defect <&-", "standard input is closed")
        self.assertEqual(self.ends("vantric tally log.csv --by nothing 2>&-"), (2, ""))
        self.assertEqual(self.ends("vantric tally log.csv --by defect --out a.csv 2>/dev/full")[0], 0)
        self.assertEqual(self.ends("vantric tally log.csv --by defect 2>&- <&- >/dev/null"), (0, ""))

    def test_no_room(self) -> None:
        self.workbook([["defect"], *[[f"Crack {n}"] for n in range(5000)]])
        self.file("defect\nCrack\n")
        self.file(b"old", "old.json")
        self.refused("ulimit -f 8; vantric tally a.xlsx --by defect", "too large")
        self.refused("ulimit -f 8; vantric tally - --by defect < a.xlsx", "too large")
        self.refused("ulimit -f 8; vantric tally log.csv --by defect --out old.png", "too large")
        self.refused("ulimit -f 0; vantric tally log.csv --by defect --out old.json", "too large|temporary")
        self.assertEqual(Path(self.folder / "old.json").read_bytes(), b"old")
        self.assertEqual({path.name for path in self.folder.iterdir()}, {"a.xlsx", "log.csv", "old.json"})

    def test_names_that_are_none(self) -> None:
        log, long = self.file("defect\nCrack\n"), "n" * 300
        (self.folder / "loop").symlink_to("loop")
        for name in (long, "loop"):
            for ending in ("csv", "json", "toml", "png"):
                (self.folder / f"loop.{ending}").unlink(missing_ok=True)
                (self.folder / f"loop.{ending}").symlink_to(f"loop.{ending}")
            at = f"{self.folder}/{name}"
            for arguments in (
                ("tally", f"{at}.csv", "--by", "defect"),
                ("review", f"{at}.json"),
                ("draw", f"{at}.toml"),
                ("tally", log, "--by", "defect", "--out", f"{at}.png"),
                ("tally", log, "--by", "defect", "--out", f"{at}/a.png"),
                ("tally", log, "--by", "defect", "--families", f"{at}.csv"),
                ("tally", log, "--by", "defect", "--out", f"{self.folder}/a.png", "--words-file", f"{at}.toml"),
                ("demo", "--to", at),
                ("pareto", log, "--by", "defect", "--save-chart", f"{at}.toml"),
            ):
                with self.subTest(arguments=arguments):
                    result = Result(*arguments)
                    self.assertEqual((result.status, result.err.count("\n")), (2, 1), result.err[-800:])

    def test_a_name_that_is_no_text(self) -> None:
        log = os.fsencode(self.folder) + b"/l\xff*.csv"
        try:
            Path(os.fsdecode(log)).write_text("defect\nCrack\n")
        except OSError:
            self.skipTest("SKIPPED: this file system has text names only")
        kinds = ("csv", "json", "xlsx", "md", "html", "svg", "png", "pdf")
        outs = " ".join(f"--out $'o\\xff.{kind}'" for kind in kinds)
        status, said = self.ends(f"vantric tally $'l\\xff*.csv' --by defect {outs} --save-chart c.json")
        self.assertEqual(status, 0, said)
        self.assertEqual(self.ends("vantric draw c.json --out again.svg")[0], 0)

    def test_settings_of_the_machine(self) -> None:
        self.file("defect\nCrack\n")
        self.refused("vantric tally log.csv --by defect --out a.png", "MPLBACKEND", MPLBACKEND="nonsense")
        self.assertEqual(self.ends("vantric tally log.csv --by defect", MPLBACKEND="nonsense")[0], 0)
