"""Starting without knowing the options: questions in a real terminal, and the command without one."""

import contextlib
import shlex
import sqlite3
import sys
import unittest
from collections.abc import Callable
from pathlib import Path

from PIL import Image

from tests.cli.test_cli import Result
from tests.effort import some
from tests.folder import InFolder
from tests.pseudoterminal import plain, typed
from vantric.cli.questions import Asker, Choice, Question, SourceProfile, command_for, default, free_name
from vantric.counting import ReadSettings, first_look
from vantric.demo import DATA, data_file
from vantric.errors import VantricError

DOWN, ENTER, STOP = "\x1b[B", "\r", "\x03"


class Start(InFolder):
    def typed(self, *arguments: str, keys: str) -> tuple[int, str]:
        """Type keys: v for down, E for Enter, C to stop, x for one of no meaning, after which the question is there."""
        pressed = [{"v": DOWN, "E": ENTER, "C": STOP, "x": "x"}[key] for key in keys]
        return typed([sys.executable, "-m", "vantric", "start", *arguments], pressed, self.folder)

    def command(self, source: Path | str, pick: Callable[[Question], int]) -> tuple[str, int]:
        """Return the command that answers make, and how many questions were asked."""
        asked: list[Question] = []

        def answer(question: Question) -> object:
            asked.append(question)
            return question.choices[pick(question)].value

        looked = first_look(source, ReadSettings(), 3)
        found = command_for(SourceProfile(str(source), looked, lambda column: ["a", "b", "c"]), Asker(answer))
        return shlex.join(found), len(asked)


class InATerminal(Start):
    def test_defaults_make_a_picture_and_say_the_command(self) -> None:
        self.file(data_file("inspections.csv"), "inspections.csv")
        status, shown = self.typed("inspections.csv", keys="EEEEEE")
        self.assertEqual(status, 0, shown)
        self.assertIn("4,000 records, 7 columns", shown)
        self.assertIn("What do you want to see?", shown)
        last = shown.rstrip().splitlines()[-1].strip()
        self.assertEqual(
            last, "vantric pareto inspections.csv --by defect --merge-spellings --out inspections-pareto.png"
        )
        with Image.open(self.folder / "inspections-pareto.png") as image:
            self.assertEqual(image.size, (1280, 800))

    def test_an_ambiguous_total_is_asked_about_and_the_answer_is_in_the_command(self) -> None:
        self.file("defect;pieces\nPinhole;40\nWarp;30\nChip;20\nTotal;95\n", "tot.csv")
        status, shown = self.typed("tot.csv", keys="EEEEEE")
        self.assertEqual(status, 0, shown)
        self.assertIn("90 without it, 185 with it", plain(shown))
        self.assertIn("It is a total: leave it out", plain(shown))
        self.assertIn("--no-keep-totals", shown.rstrip().splitlines()[-1])
        for question in ("What do you want to see?", "What does a row stand for?"):
            self.assertEqual(plain(shown).count(f"{question} (arrow keys"), 1, "no question comes twice")
        self.assertIn("reads as a total, and is not the sum of the rows above it; it is left out", plain(shown))

    def test_numbers_of_two_styles_are_asked_about(self) -> None:
        self.file("defect;cost\nPinhole;1.234\nWarp;2.500\nChip;3.100\n", "cost.csv")
        status, shown = self.typed("cost.csv", keys="EEEEvEE")
        self.assertEqual(status, 0, shown)
        self.assertIn("Numbers are written as in", shown)
        self.assertRegex(shown.rstrip().splitlines()[-1], "--read-numbers 1")

    def test_a_first_row_that_may_be_a_record_is_asked_about(self) -> None:
        self.file("2026-01-03,Pinhole,4\n2026-01-04,Warp,2\n2026-01-05,Pinhole,9\n2026-01-06,Chip,1\n", "rows.csv")
        status, shown = self.typed("rows.csv", keys="vEEEEEEE")
        self.assertEqual(status, 0, shown)
        self.assertIn("It is a record", shown)
        self.assertIn("--no-header", shown.rstrip().splitlines()[-1])

    def test_stopping_ends_with_130_and_writes_nothing(self) -> None:
        self.file("defect\nPinhole\nWarp\nPinhole\n", "log.csv")
        status, shown = self.typed("log.csv", keys="xC")
        self.assertIn(status, (130, -2), shown)
        self.assertNotIn("Traceback", shown)
        self.assertEqual([path.name for path in self.folder.iterdir()], ["log.csv"])

    def test_each_way_of_stopping_at_each_question(self) -> None:
        self.file(data_file("inspections.csv"), "log.csv")
        for ways in some(
            [("\x04",), ("\x1b",), ("\x03",), (ENTER, "\x04"), (ENTER, "\x1b"), (ENTER, ENTER, "\x04")], 3
        ):
            with self.subTest(keys=ways):  # a key of no meaning first: then the question is there
                command = [sys.executable, "-m", "vantric", "start", "log.csv"]
                status, shown = typed(command, ["x", *ways], self.folder)
                self.assertEqual(status, 130, shown)
                self.assertNotIn("fault", shown)
                self.assertTrue(shown.rstrip().endswith("vantric: stopped"), shown)
                self.assertEqual([path.name for path in self.folder.iterdir()], ["log.csv"])

    def test_odd_answers_change_nothing(self) -> None:
        self.file(data_file("inspections.csv"), "log.csv")
        command = [sys.executable, "-m", "vantric", "start", "log.csv"]
        odd = ["hello", "\x7f\x7f", "\x1b[200~a\r\nb\x1b[201~", "\x1a", "\x1b[A\x1b[B", "日本\t"]
        for environment in some(
            ({"TERM": "xterm"}, {"TERM": "dumb"}, {"TERM": "nonsense"}, {"LC_ALL": "C", "COLUMNS": "9"}), 2
        ):
            with self.subTest(**environment):
                status, shown = typed(command, [*odd, *[ENTER] * 6], self.folder, environment)
                self.assertEqual(status, 0, shown)
                self.assertNotIn("fault", shown)
                self.assertTrue((self.folder / "log-pareto.png").exists())
                (self.folder / "log-pareto.png").unlink()

    def test_another_picture_does_not_replace_the_first(self) -> None:
        self.file("defect\nPinhole\nWarp\nPinhole\n", "log.csv")
        first = self.file("mine", "log-pareto.png")
        status, shown = self.typed("log.csv", keys="EEEE")
        self.assertEqual(status, 0, shown)
        self.assertEqual(first.read_text(), "mine")
        self.assertTrue((self.folder / "log-pareto-1.png").exists())


class WithoutATerminal(Start):
    def test_the_command_of_the_defaults_is_said_and_runs(self) -> None:
        for name in (
            "inspections.csv",
            "firings.csv",
            "crews.csv",
            "survey.csv",
            "scrap_years.xlsx",
            "kiln_sheets.xlsx",
        ):
            with self.subTest(name=name):
                path = self.file(data_file(name), name)
                result = Result("start", path)
                self.assertEqual(result.status, 0, result.err)
                self.assertIn("no terminal", result.err)
                words = shlex.split(result.out)
                self.assertEqual(words[0], "vantric")
                target = self.folder / "made.png"
                words[words.index("--out") + 1] = str(target)
                self.assertEqual(Result(*words[1:]).status, 0)
                self.assertTrue(target.exists())

    def test_options_of_reading_are_passed_on(self) -> None:
        path = self.file(data_file("kiln_sheets.xlsx"), "k.xlsx")
        words = shlex.split(Result("start", path, "--sheet", "March", "--where", "Kiln = 'Kiln 1'").out)
        self.assertEqual(words[words.index("--sheet") + 1], "March")
        self.assertEqual(words[words.index("--where") + 1], "Kiln = 'Kiln 1'")

    def test_labels_that_would_be_warned_of_are_settled(self) -> None:
        several = self.file(
            "lot,faults\n" + "".join(f"{at},{'Pin; Warp' if at % 2 else 'Pin'}\n" for at in range(12)), "several.csv"
        )
        self.assertIn("--by faults --separator ';'", Result("start", several).out)
        spelled = self.file("defect\n" + "Pinhole\npinhole\nWarp\n" * 5, "spelled.csv")
        self.assertIn("--merge-spellings", Result("start", spelled).out)
        plain = self.file("defect\n" + "Pinhole\nWarp\n" * 5, "plain.csv")
        self.assertNotIn("--merge", Result("start", plain).out)

    def test_a_database_is_asked_for_its_tables(self) -> None:
        with contextlib.closing(sqlite3.connect(self.folder / "plant.db")) as plant:
            plant.execute("CREATE TABLE faults (fault TEXT)")
            plant.executemany("INSERT INTO faults VALUES (?)", [("a",), ("b",), ("a",)])
            plant.commit()
        url = f"sqlite:///{self.folder / 'plant.db'}"
        self.assertIn("--by fault", Result("start", url).out)
        self.assertIn("--table faults", Result("start", url).out)
        missing = Result("start", f"sqlite:///{self.folder / 'none.db'}")
        self.assertEqual((missing.status, missing.err.count("\n")), (2, 1))
        self.assertFalse((self.folder / "none.db").exists())

    def test_a_first_row_that_comes_again_is_asked_about(self) -> None:
        path = self.file("Pin\nWarp\nPin\nChip\nPin\n", "nohead.csv")
        for result in (Result("start", path), Result("tally", path, "--by", "Pin")):
            self.assertEqual((result.status, result.err.count("\n")), (2, 1))
            self.assertIn("--header if it is a name, --no-header if it is a record", result.err)
        self.assertIn("5 records", Result("tally", path, "--by", "A", "--no-header").out)

    def test_bad_sources_are_one_line(self) -> None:
        nothing = self.file("a\n1\n2\n3\n", "numbers.csv")
        for source, words in (
            (self.folder / "none.csv", "none.csv"),
            (nothing, "nothing to count"),
            ("x.toml", "vantric draw"),
        ):
            result = Result("start", source)
            self.assertEqual((result.status, result.out, result.err.count("\n")), (2, "", 1), result.err)
            self.assertIn(words, result.err)


class Questions(Start):
    def test_never_more_than_five(self) -> None:
        for name in DATA:
            if (
                name.endswith((".csv", ".xlsx")) and name != "flawed_rates.csv"
            ):  # its months come again, and it has no labels
                path = self.file(data_file(name), name)
                for at in range(4):
                    with self.subTest(name=name, at=at):
                        _, number = self.command(path, lambda question, at=at: min(at, len(question.choices) - 1))
                        self.assertLessEqual(number, 5)

    def test_what_is_asked_fits_the_source(self) -> None:
        def last(question: Question) -> int:
            return len(question.choices) - 1

        sheet = self.file("defect,pieces,percent\nPinhole,3,50\nWarp,2,33\nChip,1,17\n", "sheet.csv")
        self.assertEqual(self.command(sheet, last)[0], f"review {sheet}")
        log = self.file(
            "day,shift,defect\n" + "".join(f"2026-01-0{at},{'EL'[at % 2]},{'PW'[at % 2]}\n" for at in range(1, 9))
        )
        self.assertIn("trend", self.command(log, last)[0])
        self.assertIn("--by defect", self.command(log, lambda question: 0)[0])

        def compared(question: Question) -> int:
            return next((at for at, one in enumerate(question.choices) if one.value == "compare"), 0)

        self.assertIn("--before a --after b", self.command(log, compared)[0])

    def test_a_heading_that_says_so_is_counted_first(self) -> None:
        cells = "".join(f"m{at % 9},{'PW'[at % 2]}\n" for at in range(40))
        for name in ("Defect type", "Fehlerart", "причина", "原因"):
            path = self.file(f"machine,{name}\n{cells}", "log.csv")
            self.assertIn(f"--by {shlex.quote(name)}", self.command(path, lambda question: 0)[0])

    def test_a_table_of_counts_is_not_counted_by_its_rows(self) -> None:
        even = self.file(
            "kiln,defect,pieces\n" + "".join(f"K{k},{d},{k + 3}\n" for k in range(3) for d in "ABC"), "even.csv"
        )
        self.assertIn("--count pieces", self.command(even, lambda question: 0)[0])
        cost = self.file("defect,Kosten\nA,3\nB,4\nC,9\n", "cost.csv")
        self.assertIn("--weight Kosten", self.command(cost, lambda question: 0)[0])

    def test_months_side_by_side_are_added_up(self) -> None:
        for names, wanted in (
            ("Jan,Feb,Mar,Total", "Jan:Mar"),
            ("Montag,Dienstag,Mittwoch", "Montag:Mittwoch"),
            ("Area,Jan 2026,Feb 2026", "Jan 2026:Feb 2026"),
        ):
            rows = "".join(
                f"{label},{','.join(str(at + n) for n in range(names.count(',') + 1))}\n"
                for at, label in enumerate("ABC")
            )
            path = self.file(f"Defect,{names}\n{rows}", "wide.csv")
            self.assertIn(f"--count {shlex.quote(wanted)}", self.command(path, lambda question: 0)[0])

    def test_one_choice_is_no_question(self) -> None:
        asker = Asker(default)
        self.assertEqual(asker.ask("?", [Choice("only", 1)]), 1)
        self.assertEqual(asker.left, 5)

    def test_a_free_name_is_one_that_any_system_takes(self) -> None:
        for source in ("logs/*.csv", "sqlite:///plant.db", 'a:b?"c.csv', "-", "x" * 300 + ".csv", "ünï.csv"):
            name = free_name(source, "pareto", "png").name
            self.assertNotRegex(name, r'[<>:"/\\|?*\s]')
            self.assertLess(len(name.encode()), 255)

    def test_errors_that_ask_say_between_what(self) -> None:
        for cells, pairs in (
            ("d;n\nA;1.234\nB;2.345\n", {"read_numbers"}),
            ("d;n\nA;1\nB;2\nC;3\nTotal;9\n", {"keep_totals"}),
            ("d;n\nA;1\nB;n/a\n", {"na"}),
            ("d;n\nA;1\nB;\n", {"where"}),
        ):
            path = self.file(cells, "asks.csv")
            import vantric as vt

            with self.assertRaises(VantricError) as caught:
                vt.tally(path, "d", weight="n")
            self.assertEqual({name for name, _ in caught.exception.asks}, pairs, cells)
            for name, value in caught.exception.asks:
                options = {name: (value,) if name == "na" else value}
                if name != "na":  # says that it is missing, and that is asked about in turn
                    self.assertGreater(vt.tally(path, "d", weight="n", **options).total, 0)


if __name__ == "__main__":
    unittest.main()
