"""The help: options in sections, each explained, none twice."""

import re
import unittest

from tests.test_cli import Result


class Help(unittest.TestCase):
    def sections(self, command: str) -> dict[str, list[str]]:
        result = Result(command, "--help")
        self.assertEqual((result.status, result.err), (0, ""))
        self.assertTrue(all(len(line) <= 100 for line in result.out.splitlines()))
        found: dict[str, list[str]] = {}
        title = ""
        for line in result.out.splitlines():
            if re.fullmatch(r"[A-Z][^.]*:", line):
                title = line[:-1]
            elif option := re.match(r"  (?:-\w, )?(--[\w-]+)", line):
                found.setdefault(title, []).append(option[1])
        return found

    def test_options_stand_in_sections(self) -> None:
        found = self.sections("pareto")
        self.assertEqual(list(found), [
            "What is counted", "The source", "How it is ranked, cut off and folded", "Rates", "Parts", "How sure the ranking is",
            "What the chart of the table shows",
            "How the chart looks",
            "What the chart says", "How the chart writes numbers", "What is written", "What is said", "Others",
        ])  # fmt: skip
        self.assertIn("--weight", found["What is counted"])
        self.assertEqual(found["What is written"], ["--out", "--format", "--save-chart"])
        every = [option for options in found.values() for option in options]
        self.assertEqual(len(every), len(set(every)))

    def test_every_option_is_explained(self) -> None:
        for command in ("pareto", "compare", "tally", "columns", "demo", "scales", "combine", "draw"):
            out = Result(command, "--help").out
            for entry in re.findall(r"\n  (?:-\w, )?--[^\n]*(?:\n {10,}[^\n]*)*", out):
                words = re.sub(r"--[\w-]+|[A-Z|,]{2,}|\[[^\]]*\]", "", entry)
                self.assertRegex(words, r"[a-z]{2,}", entry)

    def test_the_commands_are_listed(self) -> None:
        out = Result("--help").out
        for command in ("demo", "columns", "tally", "pareto", "compare", "combine", "draw", "scales"):
            self.assertRegex(out, rf"\n  {command} +[A-Z]")
