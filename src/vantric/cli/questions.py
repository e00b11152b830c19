"""Which questions a first look leads to, and the command that the answers make."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from itertools import combinations
from pathlib import Path

from vantric.base.lazily import dataclass
from vantric.cli.terminal import Asker, Choice
from vantric.core.numbers.number_format import one_line
from vantric.counting.amount_columns import COUNTS, WEIGHED, AmountColumns
from vantric.counting.count_records import FirstLook
from vantric.errors import ColumnError
from vantric.reading.profile import ColumnProfile

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
_MOST_ORDERED = 31  # labels that have an order of their own: the days of a month
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
    def plain_numbers(self) -> list[ColumnProfile]:
        """The columns of numbers that are no shares or running sums of others."""
        return [number for number in self.numbers if not _named(number, _SHARE)]

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
        drawn = Choice(
            "Columns of numbers side by side, as bars and a line; a rate, such as rejects per output", "combine"
        )
        choices = [drawn, *choices] if source.of_kind("date") and len(source.numbers) > 1 else [*choices, drawn]
    elif source.of_kind("date"):
        choices.append(Choice("Sums by month, as bars and a line", "monthly"))
    if source.is_sheet and len(source.plain_numbers) > 1:
        choices.append(Choice("What changed from one column to another, such as before and after", "columns"))
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
    texts += _order(source, asker, by)
    if source.is_sheet:
        return [*texts, *_rate(source, asker, texts)]
    parts = [column for column in source.countable if column.name != by.name and column.distinct <= _FEW]
    if "--order" in texts or not parts:
        return texts
    choices = [
        Choice("All records in one ranking", None),
        *(Choice(f"Side by side for each '{part.name}' ({_shown(part)})", part.name) for part in parts),
    ]
    split = asker.ask("Of what?", choices)
    return [*texts, "--split", split, "--panels"] if split else texts


def _order(source: SourceProfile, asker: Asker, by: ColumnProfile) -> list[str]:
    """Return in which order labels stand that have one of their own: months, answers on a scale."""
    from vantric.core.numbers.label_order import in_label_order, own_order, scale_order

    if by.distinct > _MOST_ORDERED:
        return []
    own = source.labels(by.name)
    labels = scale_order(own) or in_label_order(own)
    if own_order(labels) != "yes":
        return []
    usual = "label" if labels == in_label_order(own) else ",".join(labels)
    examples = ", ".join(one_line(label, longest=24) for label in labels[:4])
    choices = [
        Choice("The most frequent first, with the 80% cutoff", ""),
        Choice(f"In their own order: {examples}{' ...' if len(labels) > 4 else ''}", usual),
        Choice("In an order that you type", "typed"),
    ]
    order = asker.ask("In which order?", choices)
    if order == "typed":
        order = asker.typed("In which order, with commas between them?", ",".join(labels))
    return ["--order", order] if order else []


def _rate(source: SourceProfile, asker: Asker, texts: Sequence[str]) -> list[str]:
    """Return what each number of a sheet is divided by, if it is: the pieces that were made, the hours."""
    others = [number for number in source.plain_numbers if number.name not in texts]
    if not others or "--order" in texts or "--weight" in texts or any(":" in text for text in texts[4:]):
        return []
    choices = [
        Choice("By nothing: the numbers as they are", []),
        *(
            Choice(f"By '{number.name}': a rate per 100", ["--per", number.name, "--per-units", "100"])
            for number in others
        ),
    ]
    return list(asker.ask("Are the numbers divided by another column?", choices))


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
    bars = asker.several("Which numbers are bars?", [Choice(name, name) for name in names])
    lines = [Choice(other, other) for other in names if other not in bars]
    lines += [
        Choice(f"{other} in percent of {bars[0]}", f"percent:{other}/{bars[0]}") for other in names if other not in bars
    ]
    return ["combine", source.name, "--x", x, *_drawn(bars, lines, asker)]


def _monthly(source: SourceProfile, asker: Asker) -> list[str]:
    """Return sums by month of a log: of records, of numbers, and rates of two sums."""
    dates = [Choice(column.name, column.name) for column in source.of_kind("date")]
    x = asker.ask("Which column holds the dates?", dates)
    numbers = [number.name for number in source.plain_numbers]
    choices = [Choice("How many records", "count"), *(Choice(f"The sum of {name}", f"sum:{name}") for name in numbers)]
    bars = asker.several("What do the bars show, by month?", choices)
    lines = [choice for choice in choices if choice.value not in bars]
    lines += [
        Choice(f"{first} per {other}", f"ratio:{first}/{other}")
        for first in numbers
        for other in numbers
        if first != other
    ]
    return ["combine", source.name, "--x", x, "--period", "month", *_drawn(bars, lines, asker)]


def _drawn(bars: Sequence[str], lines: Sequence[Choice], asker: Asker) -> list[str]:
    """Return series as options: bars, and the line over them that is chosen."""
    line = asker.ask("Which numbers are a line over them?", [*lines, Choice("None, bars alone", None)])
    return [*(text for name in bars for text in ("--bars", name)), *(["--line", line] if line else [])]


def _columns(source: SourceProfile, asker: Asker) -> list[str]:
    by = _by(source, asker)
    names = [number.name for number in source.plain_numbers if number.name != by.name]
    pairs = list(combinations(names, 2))[:_PAIRS]
    before, after = asker.ask(
        "Which two columns?", [Choice(f"{first} (before), {last} (after)", (first, last)) for first, last in pairs]
    )
    return ["compare", source.name, "--by", by.name, "--before-column", before, "--after-column", after]


def _review(source: SourceProfile, asker: Asker) -> list[str]:
    return ["review", source.name]


_MAKERS: dict[str, Callable[[SourceProfile, Asker], list[str]]] = {
    "pareto": _pareto,
    "compare": _compare,
    "trend": _trend,
    "combine": _combine,
    "monthly": _monthly,
    "columns": _columns,
    "review": _review,
}


def outputs_for(command: Sequence[str], asker: Asker, *, slides: bool) -> list[str]:
    """Return the files that are wanted, as options; names that are free in the folder."""
    if command[0] == "review":
        return []
    kinds = {"png": "A picture", "html": "A page in one file, to send", "xlsx": "A workbook with the chart"}
    kinds |= {"pptx": "A slide"} if slides else {}
    names = {kind: str(free_name(command[1], command[0], kind)) for kind in kinds}
    choices = [Choice(f"{text}: {names[kind]}", kind) for kind, text in kinds.items()]
    kind = asker.ask("What is to be written?", [*choices, Choice("Nothing: the table, here in the terminal", "")])
    return [*_axis_title(command, asker), "--out", names[kind]] if kind else []


def _axis_title(command: Sequence[str], asker: Asker) -> list[str]:
    """Return the title of the axis that the user types, if a question is left."""
    if command[0] not in ("pareto", "combine") or "--panels" in command:
        return []
    title = asker.typed("What do the bars count, as the title of their axis? Leave it empty for the usual one.", "")
    return ["--primary-title", title] if title else []


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
