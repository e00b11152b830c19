"""The help: options in sections, each explained, none twice."""

import contextlib
import json
import os
import re
import shlex
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

import click

from tests.cli.test_cli import LOG, Result
from tests.effort import some
from vantric.cli.command import SECTIONS, topic_names, topic_text
from vantric.cli.main import COMMANDS, command_named, every_command
from vantric.core.review.finding import known_codes
from vantric.demo import DATA, data_file


class Words(unittest.TestCase):
    def test_words_that_people_use_find_the_option(self) -> None:
        for words, option in (
            ("80/20", "--cut"),
            ("target", "--reference"),
            ("top", "--keep"),
            ("export svg", "--out"),
            ("second axis", "--secondary"),
            ("footer", "--note"),
            ("currency", "--prefix"),
            ("delimiter", "--separator"),
        ):
            result = Result("help", *words.split())
            self.assertEqual(result.status, 0, words)
            first = next(line for line in result.out.splitlines() if "vantric help" in line)
            self.assertIn(option, first.split(), words)
            places = [line.split()[2] for line in result.out.splitlines() if line.startswith("  vantric help")]
            self.assertEqual(len(places), len(set(places)), "each place once")

    def test_an_option_that_is_a_format_is_answered_with_it(self) -> None:
        log = LOG
        for command in (
            ("pareto", log, "--by", "defect"),
            ("tally", log, "--by", "defect"),
            ("columns", log),
            ("compare", log, "--by", "defect"),
            ("trend", log, "--by", "defect"),
            ("report", log),
            ("review", log),
            ("combine", log, "--x", "date"),
        ):
            result = Result(*command, "--json")
            self.assertEqual(result.status, 2)
            self.assertIn("there is no option --json; use --format json", result.err)

    def test_an_option_stays_on_one_line_with_its_value(self) -> None:
        from vantric.tables.table import wrapped

        text = (
            "each label stands once, and 'Pieces made' holds numbers: say --count 'Pieces made' to add them up, "
            '--read-dates 31/12/2026 or --no-keep-totals; --read-numbers "1.234,56" too'
        )
        for width in range(30, 120):
            lines = wrapped([text], width)
            for option in ("--count 'Pieces made'", '--read-numbers "1.234,56"', "--no-keep-totals"):
                self.assertTrue(any(option in line for line in lines), (width, option, lines))
            self.assertEqual(" ".join(" ".join(lines).split()), text)
            self.assertLessEqual(max(map(len, lines)), width)

    def test_errors_are_red_and_warnings_yellow_where_colors_are_shown(self) -> None:
        log = LOG
        for environment, colored in (
            ({"FORCE_COLOR": "1"}, True),
            ({"FORCE_COLOR": "1", "NO_COLOR": "1"}, False),
            ({}, False),
        ):
            shown = subprocess.run(
                [sys.executable, "-m", "vantric", "pareto", str(log), "--by", "nothing"],
                capture_output=True,
                text=True,
                check=False,
                env={**os.environ, **environment},
            )
            self.assertEqual(shown.stderr.startswith("\x1b[31mvantric: error:\x1b[0m"), colored, environment)
            shown = subprocess.run(
                [sys.executable, "-m", "vantric", "tally", str(log), "--by", "defect"],
                capture_output=True,
                text=True,
                check=False,
                env={**os.environ, **environment},
            )
            self.assertEqual("\x1b[33mwarning:" in shown.stdout, colored, environment)


class Help(unittest.TestCase):
    def sections(self, command: str, flag: str = "--help-all") -> dict[str, list[str]]:
        result = Result(command, flag)
        self.assertEqual((result.status, result.err), (0, ""))
        self.assertTrue(all(len(line) <= 100 for line in result.out.partition("\nExamples:")[0].splitlines()))
        found: dict[str, list[str]] = {}
        title = ""
        for line in result.out.splitlines():
            if re.fullmatch(r"[A-Z][^.]*:", line):
                title = line[:-1]
            elif title and (option := re.match(r"  (?:-\w, )?(--[\w-]+)", line)):
                found.setdefault(title, []).append(option[1])
        return found

    def test_options_stand_in_sections(self) -> None:
        found = self.sections("pareto")
        self.assertEqual(
            list(found),
            [
                "What is counted",
                "The source",
                "How cells are read",
                "How it is ranked, cut off and folded",
                "Rates",
                "Parts",
                "How sure the ranking is",
                "What the chart shows",
                "How the chart looks",
                "What the chart says",
                "How the chart writes numbers",
                "What is written",
                "What is said",
                "Others",
            ],
        )
        self.assertIn("--weight", found["What is counted"])
        self.assertEqual(
            found["What is written"], ["--out", "--format", "--save-chart", "--slide-tables", "--open", "--pager"]
        )
        every = [option for options in found.values() for option in options]
        self.assertEqual(len(every), len(set(every)))

    def test_the_short_help_shows_ten_options_and_where_the_others_are(self) -> None:
        for name, command in every_command():
            if not command.first:
                self.assertLessEqual(len(command.params), 21, name)
                continue
            found = self.sections(name, "--help")
            self.assertEqual(list(found), ["Most used", "Others"])
            self.assertLessEqual(len(found["Most used"]), 10)
            self.assertEqual(sorted(found["Most used"]), sorted(command.first))
            out = Result(name, "--help").out
            every = self.sections(name)
            for title in list(every)[:-1]:
                [word] = [word for word, heading in SECTIONS.items() if heading == title]
                self.assertIn(f"vantric help {word} ", out)
            self.assertLess(out.count("\n"), 75, name)

    def test_every_topic_command_option_and_code_has_help(self) -> None:
        words = [*topic_names(), *SECTIONS, *COMMANDS, *known_codes()]
        flags = {
            flag
            for _, command in every_command()
            for one in command.params
            for flag in one.opts
            if flag.startswith("--")
        }
        for word in some([*words, *sorted(flags)]):
            result = Result("help", word)
            self.assertEqual((result.status, result.err), (0, ""), word)
            self.assertGreater(len(result.out.split()), 4, word)
        listed = Result("help").out
        for word in (*topic_names(), *SECTIONS, *COMMANDS):
            self.assertRegex(listed, rf"\n  {word} ")

    def test_a_topic_by_another_spelling_and_one_that_there_is_not(self) -> None:
        self.assertEqual(Result("help", "Read Numbers").out, Result("help", "read-numbers").out)
        for word, near in (
            ("cutof", "'cutoff'"),
            ("paretto", "'pareto'"),
            ("total-raw", "'total-row'"),
            ("--kep", "'keep'"),
        ):
            result = Result("help", word)
            self.assertEqual((result.status, result.out, result.err.count("\n")), (2, "", 1))
            self.assertIn(f"did you mean {near}", result.err)

    def test_a_word_that_names_nothing_is_looked_for(self) -> None:
        for word, place in (("zero", "--drop-zero"), ("log axis", "axes"), ("currency", "--prefix"), ("clipboard", "")):
            result = Result("help", word)
            self.assertEqual(result.status, 0 if place else 2, word)
            self.assertIn(place, result.out)
        self.assertEqual(Result("help", "-o").out, Result("help", "--out").out)

    def test_options_that_topics_name_are_options(self) -> None:
        known = {flag for _, command in every_command() for one in command.params for flag in getattr(one, "opts", ())}
        for topic in topic_names():
            for flag in re.findall(r"(?<![\w-])--[a-z][\w-]*", topic_text(topic)):
                self.assertIn(flag.replace("--no-", "--") if flag not in known else flag, known, topic)

    def test_commands_in_topics_run(self) -> None:
        with tempfile.TemporaryDirectory() as folder, contextlib.chdir(folder):
            for name in DATA:
                Path(name).write_bytes(data_file(name))
            for topic in topic_names():
                for command in re.findall(r"^    vantric (.*)$", topic_text(topic), re.MULTILINE):
                    if command != "completion --install":
                        with self.subTest(command=command):
                            result = Result(*shlex.split(command))
                            self.assertEqual(result.status, 0, result.err)

    def test_every_option_is_explained(self) -> None:
        for command in ("pareto", "compare", "tally", "columns", "demo", "scales", "combine", "draw"):
            out = Result(command, "--help" if command in ("columns", "demo") else "--help-all").out
            for entry in re.findall(r"\n  (?:-\w, )?--[^\n]*(?:\n {10,}[^\n]*)*", out):
                words = re.sub(r"--[\w-]+|[A-Z|,]{2,}|\[[^\]]*\]", "", entry)
                self.assertRegex(words, r"[a-z]{2,}", entry)

    def test_every_help_ends_with_two_examples_that_run(self) -> None:
        with tempfile.TemporaryDirectory() as folder, contextlib.chdir(folder):
            for name in DATA:
                Path(name).write_bytes(data_file(name))
            Result("combine", "firings.csv", "--x", "month", "--bars", "first_firing", "--save-chart", "firings.toml")
            for command in ("columns", "tally", "pareto", "compare", "combine", "scales", "review", "draw", "demo"):
                examples = re.findall(
                    r"^  vantric (.+)$", Result(command, "--help").out.partition("Examples:")[2], re.MULTILINE
                )
                self.assertEqual(len(examples), 2, command)
                for example in examples if command != "demo" else ():
                    with self.subTest(example=example):
                        result = Result(*shlex.split(example))
                        self.assertEqual(result.status, 1 if "--strict" in example else 0, result.err)

    def test_one_name_is_one_thing_on_every_command(self) -> None:
        found: dict[str, set[str]] = {}
        for command in ("columns", "tally", "pareto", "compare", "combine", "scales", "review", "draw"):
            for one in command_named(command).params:
                for flag in getattr(one, "opts", ()) if isinstance(one, click.Option) else ():
                    found.setdefault(flag, set()).add(str(one.type) + str(one.multiple) + str(one.is_flag))
        for flag, kinds in found.items():
            self.assertEqual(len(kinds), 1, flag)
        self.assertNotIn("--colour", found)

    def test_wrong_options_are_answered_with_the_right_ones(self) -> None:
        log = ("pareto", "inspections.csv", "--by", "defect")
        for arguments, words in (
            ((*log, "--top", "3"), "use --keep"),
            ((*log, "--output", "a.png"), "use --out"),
            ((*log, "--kep", "3"), "'--keep'"),
            ((*log, "--horizontal"), "use --orientation horizontal"),
            ((*log, "--thousands", "."), "--show-numbers 1.234,56"),
            ((*log, "--keep", "3", "--keep", "4"), "--keep is given twice, as 3 and as 4"),
            ((*log, "--keep", "x"), "--keep is a whole number, not 'x'"),
            ((*log, "--rule", "reech"), "did you mean 'reach'?"),
            (("combine", "firings.csv", "--bars", "margin"), "--x is missing"),
            (("combine", "firings.csv", "--x", "month", "--bars", "margin", "--target", "3"), "use --reference"),
            (
                ("combine", "firings.csv", "--x", "month", "--bars", "margin", "--prefix", "mragin=$"),
                "did you mean 'margin'?",
            ),
            (("scales", "0:1", "-5:9", "--poilcy", "grid"), "'--policy'"),
            (("review", "a.csv", "--percent", "p"), "--percent-column"),
        ):
            with self.subTest(arguments=arguments):
                result = Result(*arguments)
                self.assertEqual((result.status, result.out, result.err.count("\n")), (2, "", 1), result.err)
                self.assertIn(words, result.err)
        self.assertEqual(Result("scales", "-40:120", "0:9", "--primary-limits", "-50:130").status, 0)

    def test_an_option_of_one_series(self) -> None:
        with tempfile.TemporaryDirectory() as folder, contextlib.chdir(folder):
            Path("firings.csv").write_bytes(data_file("firings.csv"))
            drawn = ("combine", "firings.csv", "--x", "month", "--bars", "margin=Profit", "--line", "energy_kwh=Energy")
            for typed, prefixes in (
                (("--prefix", "Profit=$"), ["$", None]),
                (("--prefix", "€ "), [None, None]),
                (("--prefix", "=a=b"), [None, None]),
                (("--prefix", "margin=Profit=~", "--suffix", "Energy= kWh"), ["~", ""]),
            ):
                self.assertEqual(Result(*drawn, *typed, "--save-chart", "c.json").status, 0)
                said = json.loads(Path("c.json").read_text())
                styles = [one.get("style") for one in said["combine"]["series"]]
                self.assertEqual([style and style.get("prefix", "") for style in styles], prefixes)
                if prefixes == [None, None]:
                    self.assertEqual(said["chart"]["prefix"], typed[1].removeprefix("="))

    def test_the_commands_are_listed(self) -> None:
        out = Result("--help").out
        for command in ("demo", "columns", "tally", "pareto", "compare", "combine", "draw", "scales"):
            self.assertRegex(out, rf"\n  {command} +[A-Z]")
