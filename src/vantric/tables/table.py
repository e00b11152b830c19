"""A table: its columns, their values as they are and as people read them. Every format is written from it."""

from __future__ import annotations

import textwrap
from collections.abc import Callable, Container, Iterable, Sequence
from dataclasses import replace
from typing import Any, Literal, TypeAlias

from vantric.base.lazily import cached_property, compiled, dataclass
from vantric.core.messages.formatter import PLAIN, Composed, Formatter
from vantric.core.messages.message import Message
from vantric.core.numbers.number_format import (
    CLOCK_UNITS,
    clock_text,
    distinct_lines,
    number_text,
    number_texts,
    one_line,
    percent_text,
)

#: Signs of a column that are left in a narrow terminal.
_SHORTEST = 8
_GAP = "  "


def fit(text: str, width: int) -> str:
    """Return text cut short or filled up to a number of terminal columns."""
    from rich.cells import cell_len, set_cell_size  # for terminals only

    if cell_len(text) > width:
        return set_cell_size(text, width - 1).rstrip() + "…"
    return set_cell_size(text, width)


def set_right(text: str, width: int) -> str:
    """Return text with spaces before it up to a number of terminal columns."""
    from rich.cells import cell_len

    return " " * (width - cell_len(text)) + text


def grid_lines(
    head: Sequence[str], rows: Sequence[Sequence[str]], *, width: int, left: frozenset[int] = frozenset({0})
) -> list[str]:
    """Return lines of cells in columns: those of `left` to the left, the others to the right.

    Columns of text are cut short where the lines would be wider than `width`, the widest first.
    """
    from rich.cells import cell_len

    widths = [max(cell_len(row[place]) for row in (head, *rows)) for place in range(len(head))]
    over = sum(widths) + len(_GAP) * (len(widths) - 1) - width
    for place in sorted(left, key=lambda place: -widths[place]):
        number = max(0, min(over, widths[place] - _SHORTEST))
        widths[place] -= number
        over -= number
    return [
        _GAP.join(
            fit(cell, widths[place]) if place in left else set_right(cell, widths[place])
            for place, cell in enumerate(row)
        ).rstrip()
        for row in (head, *rows)
    ]


#: An option as it is typed, with its value; and a space at which no line breaks, which no text holds.
_OPTION = compiled(
    r"--[a-z][a-z-]* (?:'[^'\n]{1,40}'|\"[^\"\n]{1,40}\"|[A-Z][A-Z|]+\b|[a-z0-9:,.-]{1,20}(?=[;,.)\s]|$))"
)
_HARD = "\ue000"


def wrapped(texts: Iterable[str], width: int, local: Formatter = PLAIN) -> list[str]:
    """Return texts in a language, in lines of a width, the later lines of each set in.

    An option stays on one line with its value.
    """
    whole = (_OPTION.sub(lambda option: option[0].replace(" ", _HARD), local.text(text)) for text in texts)
    return [
        line.replace(_HARD, " ")
        for text in whole
        for line in textwrap.wrap(text, width, subsequent_indent="  ", break_on_hyphens=False)
    ]


Kind: TypeAlias = Literal["text", "whole", "number", "percent"]
#: Returns values as people read them.
Format: TypeAlias = Callable[[Sequence[Any]], Sequence[str]]
#: What stands for a missing value in a table for people.
NOTHING = "–"


def numbers(values: Sequence[Any], *, most_decimals: int = 6) -> list[str]:
    """Return numbers with the same decimals throughout."""
    texts = iter(number_texts([value for value in values if value is not None], most_decimals=most_decimals))
    return [NOTHING if value is None else next(texts) for value in values]


def amounts_in(clock: str | None) -> Format | None:
    """Return how amounts are written that are times; None, as other numbers are, if they are none."""
    if clock is None or clock not in CLOCK_UNITS:
        return None
    return lambda values: [NOTHING if value is None else clock_text(value, clock) for value in values]


def single_numbers(values: Sequence[Any]) -> list[str]:
    """Return numbers, each with its own decimals."""
    return [NOTHING if value is None else number_text(value) for value in values]


def percents(values: Sequence[Any], marks: Iterable[Any] = ()) -> list[str]:
    """Return percents; one that is next to a mark has the decimals that tell them apart."""
    return [NOTHING if value is None else percent_text(value, marks=marks) for value in values]


def words(values: Sequence[Any]) -> list[str]:
    """Return short texts; empty for None."""
    return ["" if value is None else str(value) for value in values]


_FORMATS: dict[str, Format] = {"text": distinct_lines, "percent": percents, "whole": numbers, "number": numbers}


@dataclass(frozen=True)
class Column:
    """A column of a table.

    Attributes
    ----------
    label
        What heads it where people read it.
    values
        As they are: text, numbers, percents between 0 and 100; None where there is nothing.
    format
        How they are written for people, or the texts themselves; by `kind` if not given.
    kind
        What they are.
    view
        In which view of a page it is shown; in all if empty.
    prefix, suffix
        What is before and after its numbers.
    key
        Its name in data: in JSON, CSV and frames.
    total
        What is below it: a text as it is, a value as the others are written; None for nothing.
    as_is
        Whether whole floats stay floats in data.
    right
        Whether it is set to the right though it is text: of numbers in words, such as ``"3 to 5"``.
    """

    label: str
    values: Sequence[Any]
    format: Format | Sequence[str] | None = None
    kind: Kind = "number"
    view: str = ""
    prefix: str = ""
    suffix: str = ""
    key: str = ""
    total: Any = None
    as_is: bool = False
    right: bool = False

    @property
    def plain(self) -> bool:
        """Whether its texts are labels, which are set to the left."""
        return self.kind == "text" and not self.right

    @cached_property
    def _written(self) -> tuple[Sequence[str], str]:
        below = "" if self.total is None else self.total if isinstance(self.total, str) else None
        form: Any = _FORMATS[self.kind] if self.format is None else self.format
        if not callable(form):
            return form, below or ""
        if below is not None:
            return form(self.values), below
        *texts, below = form([*self.values, self.total])
        return texts, below

    @property
    def texts(self) -> Sequence[str]:
        """The values as people read them."""
        return self._written[0]

    @property
    def total_text(self) -> str:
        """What is below it as people read it."""
        return self._written[1]


@dataclass(frozen=True)
class Table:
    """A table.

    Attributes
    ----------
    columns
        What people read, all of one length.
    data
        What programs read; the same columns if not given.
    keyed
        Which column holds the labels of the chart's categories, as these are written; -1 for none.
    labels
        The labels themselves.
    strong
        How many leading rows are the vital few.
    last
        How many rows stay at the end however the table is sorted.
    title
        Above it, where there are several.
    path
        Within which categories it is, in a drill-down.
    caption, notes
        What is said of it: in one sentence, and in lines below it.
    local
        The language of its fixed words and numbers; its values and texts themselves are in none.
    """

    columns: tuple[Column, ...]
    data: tuple[Column, ...] = ()
    keyed: int = -1
    labels: tuple[str, ...] = ()
    strong: int = 0
    last: int = 0
    title: str = ""
    path: tuple[str, ...] = ()
    caption: str = ""
    notes: tuple[str, ...] = ()
    local: Formatter = PLAIN

    @property
    def rows(self) -> int:
        """How many rows it has, without the total."""
        return len(self.columns[0].values) if self.columns else 0

    @property
    def left(self) -> frozenset[int]:
        """The columns that are set to the left: those of text."""
        return frozenset(index for index, column in enumerate(self.columns) if column.plain)

    @property
    def total(self) -> tuple[str, ...]:
        """What is below each column, as people read it; empty if nothing is."""
        texts = tuple(column.total_text for column in self.columns)
        return texts if any(texts) else ()

    def heads(self) -> list[str]:
        """Return what heads each column, in the language of the table."""
        return [self.local.text(column.label) for column in self.columns]

    def shown(self, index: int) -> list[str]:
        """Return the cells of a row as they are shown."""
        return [self._cell(column, column.texts[index]) for column in self.columns]

    def _cell(self, column: Column, text: str) -> str:
        """Return a cell in the language of the table: a fixed word, a number, or a text as it is."""
        if isinstance(text, Composed):
            return self.local.text(text)
        return text if column.kind == "text" else self.local.number(text)

    def shown_total(self) -> list[str]:
        """Return what is below each column as it is shown."""
        pairs = zip(self.total, self.columns, strict=True)
        return [self._cell(column, text) for text, column in pairs] if self.total else []

    def shown_rows(self, *, total: bool = True) -> list[list[str]]:
        """Return all rows as they are shown, the total last."""
        body = [self.shown(index) for index in range(self.rows)]
        return [*body, self.shown_total()] if total and self.total else body

    def keys(self) -> list[str]:
        """Return the names of its columns in data."""
        return [column.key for column in self.data or self.columns]

    def plain_rows(self) -> list[tuple[Any, ...]]:
        """Return the rows as plain values, nothing rounded."""
        columns = (
            column.values if column.as_is else as_integers(column.values) for column in self.data or self.columns
        )
        return list(zip(*columns, strict=True))

    def records(self) -> list[dict[str, Any]]:
        """Return the rows as JSON objects."""
        keys = self.keys()
        return [dict(zip(keys, row, strict=True)) for row in self.plain_rows()]

    def in_language(self, local: Formatter) -> Table:
        """Return the table in a language."""
        return replace(self, local=local)


def text_table(
    head: Sequence[str], rows: Sequence[Sequence[str]], *, left: Container[int] = (0,), caption: str = ""
) -> Table:
    """Return texts as a table; the columns of `left` are labels, the others numbers in words."""
    columns = (
        Column(name, texts := [row[index] for row in rows], texts, "text", right=index not in left)
        for index, name in enumerate(head)
    )
    return Table(tuple(columns), keyed=0, labels=tuple(row[0] for row in rows), caption=caption)


def stacked(tables: Sequence[Table]) -> tuple[list[str], list[tuple[Any, ...]]]:
    """Return head and rows of all tables one below the other, each row behind the category that it is part of."""
    first = tables[0]
    if len(tables) == 1:
        return first.keys(), first.plain_rows()
    wide = len(first.keys())
    rows = [
        (" / ".join(table.path), *row, *[None] * (wide - len(row))) for table in tables for row in table.plain_rows()
    ]
    return ["within", *first.keys()], rows


def table_title(kind: str, subject: str, split: str = "") -> Message:
    """Return what kind of table it is, and of what: ``"Pareto table of defect by kiln"``."""
    if not subject:
        return Message(kind)
    of: Any = one_line(subject)
    return Message(
        "kind of", kind=Message(kind), subject=Message("by", subject=of, split=one_line(split)) if split else of
    )


def as_integer(value: Any) -> Any:
    """Return whole floats as integers, and anything else as it is."""
    return int(value) if isinstance(value, float) and value.is_integer() else value


def as_integers(values: Sequence[Any]) -> Sequence[Any]:
    """Return values with whole floats as integers; texts and integers, of which there may be millions, as they are."""
    if set(map(type, values)) <= {int, str}:
        return values
    return [int(value) if isinstance(value, float) and value.is_integer() else value for value in values]


def six_digits(value: Any) -> Any:
    """Return a float of a statement in six digits, more than it bears; whole ones as integers, others as they are."""
    return as_integer(float(f"{value:.6g}")) if isinstance(value, float) else value


def kind_of(values: Sequence[Any]) -> Kind:
    """Return what plain values are: text, whole numbers, or numbers."""
    there = [value for value in values if value is not None]
    if any(isinstance(item, (str, bool)) for item in there):
        return "text"
    return "whole" if all(isinstance(item, int) for item in there) else "number"


def shown_number(text: str) -> Any:
    """Return the number that a shown text is; None if it is none."""
    plain = text.removesuffix("%").replace(",", "").replace("−", "-")
    try:
        value = float(plain)
    except ValueError:  # a text, not a number
        return None
    return int(value) if plain.lstrip("+-").isdigit() else value
