"""``vantric start``."""

from __future__ import annotations

import contextlib
import importlib.util
import os
import re
import shlex
import subprocess
from collections.abc import Callable, Sequence
from functools import partial
from typing import Any, TypeVar

from vantric.base.lazily import compiled
from vantric.base.safe_files import CHART_FILES
from vantric.base.safe_text import is_cluster, masked
from vantric.cli.command import SOURCE, make_command
from vantric.cli.completers import sheet_names
from vantric.cli.flags import OptionValues, look_in_flags
from vantric.cli.questions import SourceProfile, command_for, outputs_for
from vantric.cli.results import lines, reading
from vantric.cli.terminal import Asker, Choice, ask, can_ask, default, opened, say, terminal, warn
from vantric.core.numbers.number_format import one_line
from vantric.core.review import review_tally
from vantric.counting import CountSettings, count_source, first_look
from vantric.counting.count_records import FirstLook
from vantric.engines.opening import is_database
from vantric.errors import VantricError
from vantric.options import known_options
from vantric.reading.settings import ReadSettings

T = TypeVar("T")
#: Rows that are shown of what was read.
_ROWS = 3
#: The sign that the note on several labels in a cell proposes.
_SIGN = compiled(r"separator='(.)'")
#: How a message goes on that says what can be done.
_WAY_ON = compiled(r"[;:]?\s+(?:say (?:it|how|keep_totals|na|header)\b.*)?$", re.DOTALL)
#: Answers in words, for options that answer with a truth.
_SAID = {
    ("keep_totals", False): "It is a total: leave it out",
    ("keep_totals", True): "It is a category: count it",
    ("header", False): "It is a record: the columns have no names",
    ("header", True): "It names the columns",
    ("read_dates", "31/12/2026"): "The day stands first, as in 31/12/2026",
    ("read_dates", "12/31/2026"): "The month stands first, as in 12/31/2026",
}


def run(source: str, options: OptionValues) -> int:
    """Look at a source, ask at most five questions, make the result, and show the command that makes it again.

    SOURCE is a file, a pattern of files, or the URL of a database. Without a terminal nothing is asked: the command
    that follows from the defaults is printed, and nothing is made.
    """
    if source.casefold().endswith(f".{CHART_FILES[0]}"):
        raise VantricError(f"'{source}' is a chart file or a report file: use vantric draw or vantric report")
    asker = Asker(ask if can_ask() else default)
    start = _Start(source, dict(options), asker)
    command = start.asked()
    if not can_ask():
        say(typed([*command, *start.options()]))
        warn("vantric: note: there is no terminal to ask questions in; this command follows from the defaults")
        return 0
    status = start.settled(lambda: _made([*command, *start.options()]))
    if "--out" in command and not status:
        _offer(command[command.index("--out") + 1], asker)
    say(f"\nThe same again, with one command:\n  {typed([*command, *start.options()])}")
    return int(status or 0)


def _offer(written: str, asker: Asker) -> None:
    """Offer to open what was written; whoever stops here has what they asked for."""
    asker.left = 1
    with contextlib.suppress(KeyboardInterrupt):
        if asker.ask(f"Open {written} now?", [Choice("No, that is all", False), Choice("Yes", True)]):
            opened(written)


class _Start:
    """A source with the options that say how it is read; an answer to an ambiguous reading adds one."""

    def __init__(self, source: str, content: dict[str, Any], asker: Asker) -> None:
        self.source, self.given, self.asker = source, content, asker

    def settled(self, work: Callable[[], T]) -> T:
        """Return what some work returns; where a reading is ambiguous, the user chooses, and it is done again."""
        while True:
            try:
                return work()
            except VantricError as error:  # a question that the user can answer
                if not error.asks or not can_ask():
                    raise
                self._choose(error)

    def _choose(self, error: VantricError) -> None:
        text = _WAY_ON.sub("", str(error).partition(error.hint)[0] if error.hint else str(error))
        choices = [Choice(_answer(name, value), (name, value)) for name, value in error.asks]
        self.asker.left = max(self.asker.left, 1)  # a reading is never left to a default
        answer = self.asker.ask(text, [*choices, Choice("Stop here, to look at the file first", None)])
        if answer is None:
            raise error
        name, value = answer
        if name == "na":
            value = (*self.given.get(name, ()), value)
        elif name == "where" and self.given.get(name):
            value = f"({self.given[name]}) AND {value}"
        self.given[name] = value

    def opening(self) -> ReadSettings:
        """Return how the source is opened."""
        return ReadSettings.from_keywords(self.given)

    def asked(self) -> list[str]:
        """Show what was read, ask, and return the command."""
        from vantric.tables.tally import profile_view

        if not self.given.get("sheet"):
            self._ask_sheet()
        if is_database(self.source) and not is_cluster(self.source) and not (self.given.keys() & {"table", "query"}):
            self._ask_table()
        look = self._looked()
        if can_ask():
            say(
                lines(profile_view(masked(self.source), look_in_flags(look), width=terminal()["width"]), []),
                styled=True,
            )
        command = command_for(SourceProfile(self.source, look, self.labels), self.asker)
        command += self._settled_labels(command)
        slides = importlib.util.find_spec("pptx") is not None
        return [*command, *outputs_for(command, self.asker, slides=slides)]

    def _looked(self) -> FirstLook:
        """Return a first look; where the first row may be a record, it is asked what it is, and looked again."""
        look = self.settled(self._look)
        if self.given.get("header") is None and any(remark.code == "header-like-data" for remark in look.remarks):
            names = ", ".join(one_line(column.name, longest=24) for column in look.columns[:4])
            kinds = [Choice(_SAID["header", named], named) for named in (True, False)]
            if not self.asker.ask(f"What is the first row ({names})?", kinds):
                self.given["header"] = False
                look = self.settled(self._look)
        return look

    def _look(self) -> FirstLook:
        with reading(self.source):
            return first_look(self.source, self.opening(), _ROWS)

    def _ask_table(self) -> None:
        """Ask which table of a database is meant."""
        from vantric.engines.databases import table_names

        names = table_names(self.source)
        if not names:
            raise VantricError(f"'{masked(self.source)}' has no tables")
        self.given["table"] = self.asker.ask("Which table?", [Choice(name, name) for name in names])

    def _ask_sheet(self) -> None:
        """Ask which sheet of a workbook is meant, if it has several."""
        names = sheet_names(self.source)
        if len(names) > 1:
            sheet = self.asker.ask(
                "Which sheet?",
                [
                    Choice("The first with a table", None),
                    *(Choice(name, name) for name in names),
                    Choice("All of them, one under the other", "*"),
                ],
            )
            self.given |= {"sheet": (sheet,)} if sheet else {}

    def _settled_labels(self, command: Sequence[str]) -> list[str]:
        """Ask what the review of the labels would warn of: several in one cell, and several spellings of one."""
        if "--by" not in command:
            return []
        words = {flag: command[command.index(flag) + 1] for flag in ("--by", "--count", "--weight") if flag in command}
        counting = CountSettings.from_keywords({flag.removeprefix("--"): name for flag, name in words.items()})
        tally = self.settled(lambda: count_source(self.source, counting, self.opening()))
        findings = {finding.code: finding for finding in review_tally(tally)}
        several = _SIGN.search(findings["several-labels"].fix) if "several-labels" in findings else None
        if several is not None:
            kinds = [Choice("Yes: count each of them", several[1]), Choice("No: each cell is one label", "")]
            sign = self.asker.ask(f"Do cells hold several labels, with '{several[1]}' between them?", kinds)
            return ["--separator", sign] if sign else []
        if "merge_spellings" in (findings["similar-labels"].fix if "similar-labels" in findings else ""):
            text = findings["similar-labels"].message.partition(": ")[2]
            kinds = [Choice("Yes: merge them", "--merge-spellings"), Choice("No: they are different", "")]
            merged = self.asker.ask(f"Do labels that differ only in case or spaces mean the same ({text})?", kinds)
            return [merged] if merged else []
        return []

    def labels(self, column: str) -> list[str]:
        """Return the labels of a column in natural order."""
        from vantric.core.numbers.label_order import natural_key

        tally = self.settled(lambda: count_source(self.source, CountSettings(by=column), self.opening()))
        return sorted(tally.categories, key=natural_key)

    def options(self) -> list[str]:
        """Return the options of reading as they are typed."""
        options = known_options(ReadSettings)
        texts: list[str] = []
        for name, value in self.given.items():
            option = options[name]
            if isinstance(value, bool):
                texts.append(option.flag if value else f"--no-{name.replace('_', '-')}")
            else:
                for text in value if isinstance(value, tuple) else (value,):
                    texts += [option.flag, str(text)]
        return texts


def _answer(name: str, value: object) -> str:
    if (name, value) in _SAID:
        return _SAID[name, value]
    if name == "na":
        return f"'{value}' means that the number is missing"
    if name == "where":
        return "Leave out the records without a number there"
    return f"Numbers are written as in {value}"


def _made(arguments: Sequence[str]) -> Any:
    """Run a command as if it had been typed."""
    from vantric.cli.main import vantric

    say(f"\n$ {typed(arguments)}\n")
    context = vantric.make_context("vantric", list(arguments))
    with context:
        return vantric.invoke(context)


def typed(arguments: Sequence[str]) -> str:
    """Return a command as it is typed in the shell of this system."""
    words = ["vantric", *arguments]
    return subprocess.list2cmdline(words) if os.name == "nt" else shlex.join(words)


start_command = partial(
    make_command, "start", run, [SOURCE], (ReadSettings,), examples=("start inspections.csv", "start firings.csv")
)
