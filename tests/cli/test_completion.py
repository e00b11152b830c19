"""Completion: what is offered, what an installation changes, and real shells."""

import os
import shutil
import subprocess
import sys
import unittest
from pathlib import Path
from unittest import mock

from tests.cli.test_cli import Result
from tests.folder import InFolder
from tests.pseudoterminal import typed
from vantric.cli.completers import SHELLS, script
from vantric.demo import data_file

PROGRAM = Path(sys.executable).parent
PATH = f"{PROGRAM}{os.pathsep}{os.environ['PATH']}"


class Completion(InFolder):
    def setUp(self) -> None:
        super().setUp()
        for name in ("inspections.csv", "firings.csv", "scrap_years.xlsx", "kiln_sheets.xlsx"):
            self.file(data_file(name), name)
        self.home = self.folder / "home"
        self.home.mkdir()
        self.environment = {
            "HOME": str(self.home),
            "PATH": PATH,
            "XDG_CONFIG_HOME": "",
            "XDG_DATA_HOME": "",
            "PS1": "$ ",
            "PROMPT": "$ ",
        }

    def run_in(self, *command: str, **more: str) -> subprocess.CompletedProcess[str]:
        return subprocess.run(
            command, cwd=self.folder, capture_output=True, text=True, env={**os.environ, **self.environment, **more}
        )

    def offered(self, line: str, shell: str = "bash") -> list[list[str]]:
        """Return kind, value and help of each completion."""
        found = self.run_in(
            sys.executable,
            "-m",
            "vantric",
            VANTRIC_LINE=line,
            VANTRIC_BREAKS=":= ",
            _VANTRIC_COMPLETE=f"{shell}_complete",
        )
        self.assertEqual(found.stderr, "")
        return [one.split("\t") for one in found.stdout.splitlines() if one]


class Offered(Completion):
    def test_commands_options_values_columns_sheets_and_files(self) -> None:
        for line, values in (
            ("vantric par", ["pareto"]),
            ("vantric pareto inspections.csv --merge", ["--merge-spellings"]),
            ("vantric pareto inspections.csv --theme ", ["light", "dark", "print", "contrast", "clay"]),
            ("vantric pareto a.csv --rule=w", ["within"]),
            ("vantric pareto inspections.csv --by d", ["date", "defect"]),
            ("vantric pareto inspections.csv --by D", ["date", "defect"]),
            ("vantric pareto inspections.csv --drill kiln,d", ["kiln,date", "kiln,defect"]),
            ("vantric combine firings.csv --line ratio:rejected/first", ["rejected/first_firing"]),
            ("vantric pareto scrap_years.xlsx --count '2026 P", ["2026 Pieces (pcs)"]),
            ("vantric pareto kiln_sheets.xlsx --sheet M", ["March"]),
            ("vantric help cut", ["cutoff"]),
            ("vantric help total-r", ["total-row"]),
            ("vantric review a.csv --ignore tie-at", ["tie-at-cutoff"]),
            ("vantric completion z", ["zsh"]),
            ("vantric pareto none.csv --by d", []),
            ("vantric pareto sqlite:///nothing.db --by d", []),
            ("vantric pareto - --by d", []),
        ):
            with self.subTest(line=line):
                self.assertEqual([value for kind, value, _ in self.offered(line)], values)
        for line in (
            "vantric pareto insp",
            "vantric pareto a.csv --out p",
            "vantric compare a.csv b",
            "vantric draw ",
            "vantric pareto a.csv --families f",
            "vantric start i",
        ):
            self.assertEqual([kind for kind, *_ in self.offered(line)], ["file"], line)
        self.assertFalse((self.folder / "nothing.db").exists(), "a database is not touched")

    def test_zsh_and_fish_get_whole_values(self) -> None:
        for shell in ("zsh", "fish"):
            [one] = self.offered("vantric combine firings.csv --line percent:reje", shell)
            self.assertEqual(one[1], "percent:rejected")

    def test_names_that_steer_a_terminal_are_harmless(self) -> None:
        self.file(b"de\x1b[31mfect,d2\na,b\n", "evil.csv")
        for _, value, _ in self.offered("vantric pareto evil.csv --by d"):
            self.assertNotIn("\x1b", value)


class Installed(Completion):
    def install(self, *arguments: str, **more: str) -> subprocess.CompletedProcess[str]:
        return self.run_in(sys.executable, "-m", "vantric", "completion", *arguments, "--install", **more)

    def test_a_second_time_changes_nothing_and_lines_of_the_user_stay(self) -> None:
        start = self.home / ".bashrc"
        start.write_bytes(b"alias ll='ls -l'\n# \xff\n")
        self.assertEqual(self.install("bash").returncode, 0)
        first = start.read_bytes()
        self.assertTrue(first.startswith(b"alias ll='ls -l'\n# \xff\n"))
        self.assertEqual(self.install("bash").stdout.count("wrote"), 1)
        self.assertEqual(start.read_bytes(), first)

    def test_bytes_are_only_appended(self) -> None:
        start = self.home / ".bashrc"
        for content in (
            b"a\r\nb\x0cc\xe2\x80\xa8d\r\n",
            b"no line end",
            b"\xff\x00\n",
            b"",
            b"# completion of vantric\n",
        ):
            with self.subTest(content=content):
                start.write_bytes(content)
                self.assertEqual(self.install("bash").returncode, 0)
                self.assertTrue(start.read_bytes().startswith(content))
                added = start.read_bytes()[len(content) :]
                self.assertEqual(added.strip(b"\n").count(b"\n"), 0)
                self.assertTrue(added.endswith(b"  # completion of vantric\n"))
                self.assertEqual(added[:1] == b"\n", content == b"no line end")

    def test_a_link_stays_one(self) -> None:
        kept = self.file(b"x=1\n", "kept")
        (self.home / ".bashrc").symlink_to(kept)
        self.assertEqual(self.install("bash").returncode, 0)
        self.assertTrue((self.home / ".bashrc").is_symlink())
        self.assertTrue(kept.read_bytes().startswith(b"x=1\n[ -r "))

    def test_what_is_no_regular_file_is_refused_at_once_and_nothing_is_written(self) -> None:
        for make in (
            os.mkfifo,
            lambda path: path.symlink_to("/dev/zero"),
            lambda path: path.mkdir(),
            lambda path: path.symlink_to(path),
        ):
            for shell, name in (("bash", ".bashrc"), ("zsh", ".zshrc")):
                self.enterContext(mock.patch.dict(self.environment, {"HOME": str(self.folder / f"{name}{make}")}))
                home = Path(self.environment["HOME"])
                home.mkdir()
                make(home / name)
                found = self.install(shell)
                self.assertEqual((found.returncode, found.stderr.count("\n")), (2, 1), found.stderr)
                self.assertEqual([path.name for path in home.iterdir()], [name])

    def test_a_folder_whose_name_a_shell_would_run(self) -> None:
        for shell, starts in (("bash", (".bashrc",)), ("zsh", (".zshrc",))):
            if not shutil.which(shell):
                continue
            for number, variable in enumerate(("HOME", "XDG_DATA_HOME")):
                folder = self.folder / f"{shell}{number} $(touch PWN)`touch PWN`\"'; touch PWN; '\n#"
                folder.mkdir()
                self.assertEqual(self.install(shell, **{variable: str(folder)}).returncode, 0)
                environment = {**self.environment, variable: str(folder)}
                home = Path(environment["HOME"])
                self.assertTrue((home / starts[0]).exists())
                found = self.run_in(shell, "-i", "-c", "complete -p vantric; echo ${_comps[vantric]}", **environment)
                self.assertIn("_vantric_completion", found.stdout, found.stderr)
                self.assertEqual(list(self.folder.rglob("PWN")), [])

    def test_the_own_shell_is_known(self) -> None:
        found = self.install(SHELL="/usr/bin/fish")
        self.assertEqual(found.returncode, 0, found.stderr)
        self.assertEqual((self.home / ".config/fish/completions/vantric.fish").read_text(), script("fish"))

    def test_a_shell_that_there_is_not_is_one_line(self) -> None:
        for arguments, shell in ((("tcsh",), "/bin/bash"), ((), "/bin/tcsh"), ((), "")):
            found = self.run_in(sys.executable, "-m", "vantric", "completion", *arguments, SHELL=shell)
            self.assertEqual((found.returncode, found.stdout, found.stderr.count("\n")), (2, "", 1))
            self.assertIn("bash", found.stderr)
        with mock.patch.dict(os.environ, {"SHELL": "/bin/zsh"}):
            self.assertIn("#compdef vantric", Result("completion").out)

    def test_scripts_are_of_the_shells(self) -> None:
        for shell in SHELLS:
            if shutil.which(shell):
                self.file(script(shell), f"s.{shell}")
                found = self.run_in(shell, "-n", f"s.{shell}")
                self.assertEqual((found.returncode, found.stderr), (0, ""))
            else:
                print(f"SKIPPED: {shell} is not installed", file=sys.stderr)


class InBash(Completion):
    def test_tab_completes_a_file_a_column_with_blanks_and_what_follows_a_colon(self) -> None:
        self.run_in(sys.executable, "-m", "vantric", "completion", "bash", "--install")
        for keys, wanted in (
            (["vantric pareto insp", "\t"], "vantric pareto inspections.csv "),
            (["vantric pareto scrap_years.xlsx --count 2026\\ P", "\t"], "--count 2026\\ Pieces\\ \\(pcs\\) "),
            (["vantric pareto scrap_years.xlsx --count '2026 P", "\t"], "--count '2026 Pieces (pcs)' "),
            (["vantric combine firings.csv --x month --line percent:reje", "\t"], "--line percent:rejected "),
            (["vantric pareto inspections.csv --theme=d", "\t"], "--theme=dark "),
        ):
            with self.subTest(keys=keys):
                _, shown = typed(
                    ["bash", "-i"],
                    [*keys, "\x15exit\r"],
                    self.folder,
                    {**self.environment, "TERM": "dumb", "COLUMNS": "200"},
                    patience=1.2,
                )
                self.assertIn(wanted, shown)


@unittest.skipUnless(shutil.which("zsh"), "SKIPPED: zsh is not installed")
class InZsh(Completion):
    def test_tab_completes_a_file_and_a_column_with_blanks(self) -> None:
        self.run_in(sys.executable, "-m", "vantric", "completion", "zsh", "--install")
        for keys, wanted in (
            (["vantric pareto insp", "\t"], "ections.csv"),
            (["vantric pareto scrap_years.xlsx --count '2026 P", "\t"], "2026 Pieces (pcs)'"),
            (["vantric combine firings.csv --x month --line percent:reje", "\t"], "percent:rejected"),
        ):
            with self.subTest(keys=keys):
                _, shown = typed(
                    ["zsh", "-i"],
                    [*keys, "\x15exit\r"],
                    self.folder,
                    {**self.environment, "TERM": "dumb", "COLUMNS": "200"},
                    patience=1.2,
                )
                self.assertIn(wanted, shown)


@unittest.skipUnless(shutil.which("fish"), "SKIPPED: fish is not installed")
class InFish(Completion):
    def test_fish_offers_files_and_columns(self) -> None:
        self.run_in(sys.executable, "-m", "vantric", "completion", "fish", "--install")
        for line, wanted in (
            ("vantric pareto insp", "inspections.csv"),
            ("vantric pareto scrap_years.xlsx --count 2026", "2026 Pieces (pcs)"),
            ("vantric pareto inspections.csv --theme=d", "--theme=dark"),
        ):
            found = self.run_in("fish", "-c", f"complete -C '{line}'")
            self.assertIn(wanted, [one.partition("\t")[0] for one in found.stdout.splitlines()])


if __name__ == "__main__":
    unittest.main()
