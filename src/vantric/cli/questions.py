"""Which questions a first look leads to, who answers them, and the command that the answers make."""

from __future__ import annotations

import re
import sys
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from itertools import combinations
from pathlib import Path
from typing import Any

from vantric.base.safe_text import visible
from vantric.core.numbers.number_format import one_line
from vantric.counting.amount_columns import COUNTS, WEIGHED, AmountColumns
from vantric.counting.count_records import FirstLook
from vantric.errors import ColumnError
from vantric.reading.profile import ColumnProfile

#: Nobody answers more questions than this before a meeting.
MOST = 5


@dataclass(frozen=True)
class Choice:
    """One answer: as it is shown, and what it stands for."""

    text: str
    value: Any


@dataclass(frozen=True)
class Question:
    """What is asked; the first choice is the default."""

    text: str
    choices: tuple[Choice, ...]


Answer = Callable[[Question], Any]


@dataclass
class Asker:
    """Asks at most so many questions; what is beyond them, or has one choice only, gets its default.

    Attributes
    ----------
    answer
        Returns the value of the choice that was made.
    left
        How many questions may still be asked.
    """

    answer: Answer
    left: int = field(default=MOST)

    def ask(self, text: str, choices: Sequence[Choice]) -> Any:
        """Return the value of an answer."""
        if len(choices) < 2 or not self.left:
            return choices[0].value
        self.left -= 1
        return self.answer(Question(text, tuple(choices)))


def default(question: Question) -> Any:
    """Answer as if there was nobody to ask."""
    return question.choices[0].value


def can_ask() -> bool:
    """Whether there is somebody to ask: questions and answers go through a terminal."""
    return all(stream is not None and stream.isatty() for stream in (sys.stdin, sys.stdout))


def ask(question: Question) -> Any:
    """Return the value of the choice that a person makes; raise `KeyboardInterrupt` if they stop."""
    import questionary

    choices = [questionary.Choice(visible(choice.text), value=place) for place, choice in enumerate(question.choices)]
    prompt = questionary.select(visible(question.text), choices=choices, instruction="(arrow keys, then Enter)")
    keys: Any = prompt.application.key_bindings
    for key in ("c-d", "escape"):
        keys.add(key, eager=True)(lambda event: event.app.exit(exception=KeyboardInterrupt))
    return question.choices[prompt.unsafe_ask()].value


#: Words of a heading whose labels are what people count, and of one whose numbers weigh rather than count.
_COUNTED = (
    "defect",
    "cause",
    "reason",
    "category",
    "complaint",
    "fault",
    "failure",
    "issue",
    "problem",
    "type",
    "fehler",
    "grund",
    "ursache",
    "défaut",
    "cause",
    "defecto",
    "causa",
    "motivo",
    "defeito",
    "difetto",
    "wada",
    "hata",
    "дефект",
    "причина",
    "缺陷",
    "原因",
    "不良",
)
_NAMES = 60  # labels that are still categories
_FEW = 6  # parts that are still compared at a glance
#: Pairs of sides that are offered; of more the first ones are no better than others.
_PAIRS = 15
_ROWS = 120  # of a sheet that is drawn as it is
#: Headings of columns that must not be added up.
_SHARE = ("percent", "pct", "cumul", "%")

Labels = Callable[[str], Sequence[str]]


@dataclass(frozen=True)
class SourceProfile:
    """What is known before the first question.

    Attributes
    ----------
    name
        As it is typed.
    looked
    labels
        Returns the labels of a column, in their natural order.
    """

    name: str
    looked: FirstLook
    labels: Labels

    @property
    def rows(self) -> int:
        """How many records it holds."""
        columns = self.looked.columns
        return columns[0].valid + columns[0].missing if columns else 0

    def of_kind(self, *kinds: str) -> list[ColumnProfile]:
        """Return the columns of kinds, those that cannot be read left out."""
        return [column for column in self.looked.columns if column.kind in kinds and column.valid]

    @property
    def countable(self) -> list[ColumnProfile]:
        """The columns whose labels can be counted, the likeliest first."""
        columns = [column for column in self.looked.columns if column.countable and column.distinct > 1]
        return sorted(
            columns, key=lambda column: (not _named(column, _COUNTED), column.distinct > _NAMES, -column.distinct)
        )

    @property
    def numbers(self) -> list[ColumnProfile]:
        """The columns of numbers."""
        return self.of_kind("number")

    @property
    def is_sheet(self) -> bool:
        """Whether it is a table of one row per category, not a log."""
        return bool(self.numbers) and any(column.distinct == column.valid for column in self.countable[:1])

    @property
    def places(self) -> list[ColumnProfile]:
        """The columns that can be a category axis of columns side by side: every row another label or date."""
        return [
            column
            for column in self.of_kind("date", "text")
            if column.distinct == column.valid and column.valid <= _ROWS
        ]


def command_for(source: SourceProfile, asker: Asker) -> list[str]:
    """Return the arguments of the command that makes what is wanted; files to write are not among them.

    Raises
    ------
    ColumnError
        If the source has nothing that can be counted or drawn.
    """
    kinds = _kinds(source)
    if not kinds:
        raise ColumnError(
            f"'{one_line(source.name)}' has no column of labels that can be counted, and none whose every row is "
            "another name or date: there is nothing to count; vantric columns shows what was read"
        )
    return _MAKERS[asker.ask("What do you want to see?", kinds)](source, asker)


def _kinds(source: SourceProfile) -> list[Choice]:
    pareto = Choice("What occurs most: a Pareto chart, with the few that make most of it", "pareto")
    choices = [pareto] if source.countable else []
    if source.numbers and source.places:
        drawn = Choice("Columns of numbers side by side, as bars and a line", "combine")
        choices = [drawn, *choices] if source.of_kind("date") and len(source.numbers) > 1 else [*choices, drawn]
    if source.countable and not source.is_sheet:
        if len(source.countable) > 1:
            choices.append(Choice("What differs between two groups, such as two shifts", "compare"))
        if source.of_kind("date"):
            choices.append(Choice("What rises or falls from month to month", "trend"))
    if source.is_sheet and any(_named(number, _SHARE) for number in source.numbers):
        choices.append(Choice("Whether the percents and sums in this sheet are right", "review"))
    return choices


def _pareto(source: SourceProfile, asker: Asker) -> list[str]:
    by = _by(source, asker)
    texts = ["pareto", source.name, "--by", by.name, *_amount(source, asker, by)]
    parts = [column for column in source.countable if column.name != by.name and column.distinct <= _FEW]
    if source.is_sheet or not parts:
        return texts
    choices = [
        Choice("All records in one ranking", None),
        *(Choice(f"Side by side for each '{part.name}' ({_shown(part)})", part.name) for part in parts),
    ]
    split = asker.ask("Of what?", choices)
    return [*texts, "--split", split, "--panels"] if split else texts


def _by(source: SourceProfile, asker: Asker) -> ColumnProfile:
    choices = [
        Choice(f"{column_profile.name}: {_shown(column_profile)}", column_profile)
        for column_profile in source.countable
    ]
    column: ColumnProfile = asker.ask("Which column holds what you count?", choices)
    return column


def _amount(source: SourceProfile, asker: Asker, by: ColumnProfile) -> list[str]:
    """Return what each row stands for: once, or as much as a number in it."""
    amounts = source.looked.amounts
    chosen = {amounts.total} if amounts.total else set(amounts.plain)
    numbers = [number for number in source.numbers if number.name != by.name and number.name in chosen]
    once = Choice("Each row counts once", ())
    named = [
        _number(number)
        for number in sorted(numbers, key=lambda column: (_named(column, WEIGHED), not _named(column, COUNTS)))
    ]
    named = [*_range(amounts), *named]
    choices = [*named, once] if _is_counts(by, numbers) else [once, *named]
    return list(asker.ask("What does a row stand for?", choices))


def _range(amounts: AmountColumns) -> list[Choice]:
    """Return that columns side by side are added up, if there are such: months, shifts."""
    if amounts.span is None:
        return []
    first, _, last = amounts.span.partition(":")
    return [Choice(f"As many as its numbers from '{first}' to '{last}', added up", ("--count", amounts.span))]


def _is_counts(by: ColumnProfile, numbers: Sequence[ColumnProfile]) -> bool:
    """Whether it is a sheet of counts and no log: each label once, or equally often beside a number called a count."""
    most = by.commonest[0][1] if by.commonest else 0
    even = by.valid == by.distinct * most and all(number == most for _, number in by.commonest)
    return even and (most == 1 or any(_named(number, COUNTS) for number in numbers))


def _number(column: ColumnProfile) -> Choice:
    if _named(column, WEIGHED):
        return Choice(f"Each row weighs its '{column.name}'", ("--weight", column.name))
    return Choice(f"As many as its number in '{column.name}'", ("--count", column.name))


def _compare(source: SourceProfile, asker: Asker) -> list[str]:
    by = _by(source, asker)
    apart = sorted(
        (column for column in source.countable if column.name != by.name), key=lambda column: column.distinct
    )
    choices = [Choice(f"{column.name}: {_shown(column)}", column.name) for column in apart]
    split = asker.ask("Which column tells the two groups apart?", choices)
    pairs = list(combinations(source.labels(split), 2))[:_PAIRS]
    before, after = asker.ask(
        "Which two?", [Choice(f"{text} (before), {other} (after)", (text, other)) for text, other in pairs]
    )
    return ["compare", source.name, "--by", by.name, "--split", split, "--before", before, "--after", after]


def _trend(source: SourceProfile, asker: Asker) -> list[str]:
    by = _by(source, asker)
    dates = [Choice(column.name, column.name) for column in source.of_kind("date")]
    return ["trend", source.name, "--by", by.name, "--date", asker.ask("Which column holds the dates?", dates)]


def _combine(source: SourceProfile, asker: Asker) -> list[str]:
    places = sorted(source.places, key=lambda column: column.kind != "date")
    x = asker.ask(
        "What is on the category axis?", [Choice(f"{place.name}: {_shown(place)}", place.name) for place in places]
    )
    names = [number.name for number in source.numbers if number.name != x]
    bars = asker.ask("Which numbers are bars?", [Choice(name, name) for name in names])
    others = [name for name in names if name != bars]
    line = asker.ask(
        "Which numbers are a line over them?",
        [
            *(Choice(other, other) for other in others),
            Choice("None, bars alone", None),
        ],
    )
    values = ["combine", source.name, "--x", x, "--bars", bars]
    return [*values, "--line", line] if line else values


def _review(source: SourceProfile, asker: Asker) -> list[str]:
    return ["review", source.name]


_MAKERS: dict[str, Callable[[SourceProfile, Asker], list[str]]] = {
    "pareto": _pareto,
    "compare": _compare,
    "trend": _trend,
    "combine": _combine,
    "review": _review,
}


def outputs_for(command: Sequence[str], asker: Asker, *, slides: bool) -> list[str]:
    """Return the files that are wanted, as options; names that are free in the folder."""
    if command[0] == "review":
        return []
    kinds = [
        Choice("A picture (.png)", "png"),
        Choice("A page in one file, to send (.html)", "html"),
        Choice("A workbook with the chart (.xlsx)", "xlsx"),
        *([Choice("A slide (.pptx)", "pptx")] if slides else []),
        Choice("Only the table, here in the terminal", ""),
    ]
    kind = asker.ask("What do you want to have?", kinds)
    return ["--out", str(free_name(command[1], command[0], kind))] if kind else []


def free_name(source: str, command: str, kind: str) -> Path:
    """Return the name of a file that does not exist yet: after the source and the command."""
    stem = "".join(sign if sign.isalnum() or sign in "-_" else "-" for sign in Path(source).name.partition(".")[0])
    stem = re.sub("-{2,}", "-", stem).strip("-")[:60] or "source"
    names = (Path(f"{stem}-{command}{f'-{index}' if index else ''}.{kind}") for index in range(10_000))
    return next(name for name in names if not name.exists())


def _named(column: ColumnProfile, words: Sequence[str]) -> bool:
    return any(word in column.name.casefold() for word in words)


def _shown(column: ColumnProfile) -> str:
    text = ", ".join(one_line(label, longest=24) for label, _ in column.commonest)
    return f"{text} ..." if column.distinct > len(column.commonest) else text
