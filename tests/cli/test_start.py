"""Starting without knowing the options: questions in a real terminal, and the command without one."""

import contextlib
import os
import shlex
import sqlite3
import sys
import time
import unittest
from collections.abc import Callable
from pathlib import Path

from PIL import Image

import vantric as vt
from tests.cli.test_cli import Result
from tests.effort import some
from tests.folder import InFolder
from tests.pseudoterminal import plain, typed
from vantric.cli.questions import SourceProfile, command_for, free_name, outputs_for
from vantric.cli.terminal import Asker, Choice, Question, default
from vantric.counting import ReadSettings, first_look
from vantric.demo import DATA, data_file
from vantric.errors import VantricError

DOWN, ENTER, STOP = "\x1b[B", "\r", "\x03"


class Start(InFolder):
    def typed(
        self, *arguments: str, keys: str, width: int = 0, environment: dict[str, str] | None = None
    ) -> tuple[int, str]:
        """Type keys: v for down, E for Enter, C to stop, x for one of no meaning, after which the question is there."""
        pressed = [{"v": DOWN, "E": ENTER, "C": STOP, "x": "x"}[key] for key in keys]
        command = [sys.executable, "-m", "vantric", "start", *arguments]
        return typed(command, pressed, self.folder, environment, width=width)

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

    def test_questions_are_whole_words_on_whole_lines(self) -> None:
        self.file("defect,pieces made,hours of the whole line\nPinhole,3,5\nWarp,2,8\nChip,1,2\n", "log.csv")
        for width in ("40", "64"):
            status, shown = self.typed("log.csv", keys="EEEEEE", width=int(width))
            self.assertEqual(status, 0, shown)
            for question in ("What do you want to see?", "What is to be written?", "Are the numbers divided by"):
                self.assertIn(question, shown)
            words = set(plain(shown).split())
            self.assertLessEqual(
                {"categories", "Pareto", "written?", "column?", "before", "chart,"} - words, {"categories"}
            )

    def test_what_was_written_is_opened_if_that_is_wanted(self) -> None:
        self.file("defect\nPinhole\nWarp\nPinhole\n", "log.csv")
        opener = self.file('#!/bin/sh\necho "$1" >> opened.txt\n', "xdg-open")
        opener.chmod(0o755)
        status, shown = self.typed("log.csv", keys="EEvE", environment={"PATH": f"{self.folder}:{os.environ['PATH']}"})
        self.assertEqual(status, 0, shown)
        for _ in range(50):
            if (self.folder / "opened.txt").exists():
                break
            time.sleep(0.1)
        self.assertIn("log-pareto.png", (self.folder / "opened.txt").read_text())

    def test_open_shows_what_a_command_wrote_and_a_pager_comes_only_when_asked(self) -> None:
        self.file("defect\nPinhole\nWarp\nPinhole\n", "log.csv")
        for name, record in (("xdg-open", 'echo "$1" >> opened.txt'), ("less", "cat >> paged.txt")):
            self.file(f"#!/bin/sh\n{record}\n", name).chmod(0o755)
        environment = {"PATH": f"{self.folder}:{os.environ['PATH']}", "PAGER": str(self.folder / "less")}
        command = [sys.executable, "-m", "vantric", "pareto", "log.csv", "--by", "defect"]
        for more in (["--out", "a.png", "--open"], ["--pager"], []):
            status, _ = typed([*command, *more], [], self.folder, environment)
            self.assertEqual(status, 0)
        for _ in range(50):
            if (self.folder / "opened.txt").exists():
                break
            time.sleep(0.1)
        self.assertEqual((self.folder / "opened.txt").read_text(), "a.png\n")
        self.assertEqual((self.folder / "paged.txt").read_text().count("Pareto table of defect"), 1)
        self.assertEqual(Result("pareto", self.folder / "log.csv", "--by", "defect", "--open").status, 2)

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

    def answered(self, source: Path, *words: str, typed: str = "") -> tuple[str, list[Question]]:
        """Return the command of answers that hold these words, the first that fits each question; and the questions."""
        asked: list[Question] = []

        def answer(question: Question) -> object:
            asked.append(question)
            if question.form == "text":
                return typed or question.choices[0].value
            values = [choice.value for choice in question.choices if any(word in choice.text for word in words)]
            return (
                values or question.choices[0].value
                if question.form == "several"
                else [*values, question.choices[0].value][0]
            )

        look = first_look(source, ReadSettings(), 3)
        profile = SourceProfile(str(source), look, lambda column: list(vt.tally(source, column).categories))
        asker = Asker(answer)
        command = command_for(profile, asker)
        return shlex.join([*command, *outputs_for(command, asker, slides=False)]), asked

    def test_rates_sums_by_month_and_columns_before_and_after(self) -> None:
        sheet = self.file("line,output,rejects\nA,900,30\nB,400,40\nC,100,3\n", "lines.csv")
        self.assertIn(
            "--count rejects --per output --per-units 100", self.answered(sheet, "'rejects'", "By 'output'")[0]
        )
        self.assertIn(
            "combine",
            self.answered(sheet, "side by side", "rejects in percent of output")[0],
        )
        command, _ = self.answered(sheet, "side by side", "output", "rejects in percent of output")
        self.assertIn("--bars output --line percent:rejects/output", command)
        command, _ = self.answered(sheet, "before and after")
        self.assertIn("compare", command)
        self.assertIn("--before-column output --after-column rejects", command)
        log = self.file(data_file("inspections.csv"), "log.csv")
        command, _ = self.answered(log, "Sums by month", "The sum of pieces", "rework_cost per pieces")
        self.assertIn("--x date --period month --bars sum:pieces --line ratio:rework_cost/pieces", command)

    def test_several_bars_are_chosen_at_once(self) -> None:
        sheet = self.file(data_file("firings.csv"), "firings.csv")
        command, asked = self.answered(sheet, "first_firing", "second_firing", "None, bars")
        self.assertIn("--bars first_firing --bars second_firing", command)
        self.assertTrue(any(question.form == "several" for question in asked))

    def test_labels_with_an_order_of_their_own_may_stand_in_it(self) -> None:
        for labels, wanted in (
            (("Mar", "Jan", "Feb"), "Jan,Feb,Mar"),
            (("good", "very poor", "fair", "poor"), "very poor,poor,fair,good"),
            (("Wednesday", "Monday"), "Monday,Wednesday"),
        ):
            log = self.file("answer\n" + "".join(f"{label}\n" * (3 + n) for n, label in enumerate(labels)), "log.csv")
            command, asked = self.answered(log, "In their own order")
            order = "label" if labels != ("good", "very poor", "fair", "poor") else wanted
            self.assertIn(f"--order {shlex.quote(order)}", command)
            command, asked = self.answered(log, "order that you type")
            self.assertIn(wanted, [question.choices[0].value for question in asked])
            self.assertIn(f"--order {shlex.quote(wanted)}", command)
        plain = self.file("defect\nPinhole\nPinhole\nWarp\n", "plain.csv")
        self.assertNotIn("In which order?", [question.text for question in self.answered(plain)[1]])

    def test_the_title_of_the_axis_is_typed_and_what_is_written_is_said(self) -> None:
        sheet = self.file("defect,pieces\nPinhole,3\nWarp,2\n", "sheet.csv")
        command, asked = self.answered(sheet, typed="Tiles rejected")
        self.assertIn("--primary-title 'Tiles rejected'", command)
        written = next(question for question in asked if question.text == "What is to be written?")
        self.assertEqual(written.choices[0].text, f"A picture: {free_name(str(sheet), 'pareto', 'png')}")
        self.assertEqual(Result(*shlex.split(command)).status, 0)

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
            with self.assertRaises(VantricError) as caught:
                vt.tally(path, "d", weight="n")
            self.assertEqual({name for name, _ in caught.exception.asks}, pairs, cells)
            for name, value in caught.exception.asks:
                options = {name: (value,) if name == "na" else value}
                if name != "na":  # says that it is missing, and that is asked about in turn
                    self.assertGreater(vt.tally(path, "d", weight="n", **options).total, 0)


if __name__ == "__main__":
    unittest.main()
