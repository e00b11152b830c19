"""Messages, which are their own text in English, and the values that are their arguments."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any, Self

from vantric.base.lazily import dataclass
from vantric.core.messages.formatter import Argument, Composed, Formatter
from vantric.core.messages.languages import Language
from vantric.core.numbers.number_format import one_line, percent_text

#: A label in a sentence is cut beyond this.
_LONGEST = 40


class Message(Composed):
    """A text that a reader sees, with an id of the catalog and typed arguments.

    Examples
    --------
    >>> Message("categories", count=24)
    '24 categories'
    """

    @staticmethod
    def written(formatter: Formatter, *args: Any, **values: Any) -> str:
        """Return the message in the language of the formatter."""
        return formatter.say(*args, **values)

    def lacking(self, tongue: Language) -> bool:
        """Return whether the language has not this message, or none that is an argument of it."""
        return not tongue.has(self.args[0]) or super().lacking(tongue)


class Remark(Composed):
    """A text for the analyst: English in the code, with numbers that another language writes in its own way.

    Examples
    --------
    >>> Remark("{} records have no label", 3834)
    '3,834 records have no label'
    """

    @staticmethod
    def written(formatter: Formatter, *args: Any, **values: Any) -> str:
        """Return the text with its numbers as the formatter writes them."""
        return str(args[0]).format(*map(formatter.in_english.shown, args[1:]))

    @classmethod
    def of(cls, text: str) -> Composed:
        """Return a text for the analyst; one that is plain has no number that is written otherwise."""
        return text if isinstance(text, Composed) else cls("{}", text)

    def lacking(self, tongue: Language) -> bool:
        """Return True: it is in no catalog."""
        return True


class Joined(Composed):
    """Texts one behind the other: the sentences of a paragraph, the parts of a note, with a separator between them."""

    def __new__(cls, parts: Sequence[str], separator: str = " ") -> Self:
        """Return the texts that are not empty."""
        return super().__new__(cls, *filter(None, parts), separator=separator)

    def __reduce__(self) -> tuple[Any, ...]:
        return type(self), (self.args, self.values["separator"])

    @property
    def parts(self) -> tuple[str, ...]:
        """The texts."""
        return self.args

    @staticmethod
    def written(formatter: Formatter, *args: Any, **values: Any) -> str:
        """Return the texts as the formatter writes them."""
        return str(values["separator"]).join(map(formatter.shown, args))


class Capital(Composed):
    """A text that stands alone where it could also stand in a sentence: it starts with a capital."""

    @staticmethod
    def written(formatter: Formatter, *args: Any, **values: Any) -> str:
        """Return the text with a capital."""
        return formatter.capital(formatter.shown(args[0]))


class Shown(Composed):
    """An argument that stands alone, such as the interval in a cell of a table."""

    @staticmethod
    def written(formatter: Formatter, *args: Any, **values: Any) -> str:
        """Return the argument as the formatter writes it."""
        return formatter.shown(args[0])


@dataclass(frozen=True)
class Percent(Argument):
    """A percent; it is not mistaken for one of the marks, nor for 0 or 100 (`percent_text`)."""

    value: float
    marks: tuple[float, ...] = ()
    decimals: int = 1

    def text_in(self, formatter: Formatter) -> str:
        """Return the percent as the formatter writes it."""
        return formatter.number(percent_text(self.value, decimals=self.decimals, marks=self.marks))


@dataclass(frozen=True)
class Written(Argument):
    """A number that is written already, as English does: its digits are those it bears."""

    text: str

    def text_in(self, formatter: Formatter) -> str:
        """Return the number with the marks of the formatter."""
        return formatter.number(self.text)


@dataclass(frozen=True)
class Day(Argument):
    """A date, ISO 8601; a text that is none, such as the label of a week, stays."""

    text: str

    def text_in(self, formatter: Formatter) -> str:
        """Return the date as the formatter writes it."""
        return formatter.tongue.day(self.text)


@dataclass(frozen=True)
class Label(Argument):
    """A label or the name of a column, as it is cited: in one line, cut short, in quotation marks."""

    text: str
    longest: int = _LONGEST

    def text_in(self, formatter: Formatter) -> str:
        """Return the label in the quotation marks of the formatter."""
        return formatter.say("quoted", label=one_line(self.text, longest=self.longest))


@dataclass(frozen=True)
class Range(Argument):
    """Two numbers with what is between them, such as the ends of an interval."""

    low: Any
    high: Any

    def text_in(self, formatter: Formatter) -> str:
        """Return the range as the formatter writes it."""
        low, high = formatter.shown(self.low), formatter.shown(self.high)
        # A dash beside a minus would be read as another minus.
        signed = any(sign in text for text in (low, high) for sign in "-−+")
        return formatter.say("signed range" if signed else "range", low=low, high=high)


@dataclass(frozen=True)
class List(Argument):
    """Values one after the other; beyond `most` the others are counted."""

    items: tuple[Any, ...]
    most: int = 8

    def text_in(self, formatter: Formatter) -> str:
        """Return ``"a, b and c"``, ``"a, b and 7 more"``."""
        texts = [formatter.shown(item) for item in self.items[: self.most]]
        more = len(self.items) - len(texts)
        if more:
            return formatter.say("and more", names=", ".join(texts), count=more)
        return formatter.listed(texts)


def labels(names: Sequence[str], *, most: int = 8, longest: int = _LONGEST) -> List:
    """Return labels as a list of a message."""
    return List(tuple(Label(name, longest) for name in names), most)


def interval(low: str, high: str) -> Shown:
    """Return an interval of two numbers that are written already: ``"12.1–18.4"``."""
    return Shown(Range(Written(low), Written(high)))


def level_text(level: float) -> Written:
    """Return the level of an interval: ``"95%"``."""
    return Written(f"{100 * level:g}%")


#: Smaller p-values are said to be smaller.
_TINY = 0.001


def p_words(p: float) -> str:
    """Return a p-value with no more digits than it bears: ``"p = 0.03"``, ``"p < 0.001"``."""
    if p < _TINY:
        return f"p < {_TINY}"
    if p >= 0.995:
        return "p = 1"
    return f"p = {p:.3f}" if p < 0.0995 else f"p = {p:.2f}"


@dataclass(frozen=True)
class PValue(Argument):
    """A p-value, as `p_words` writes it."""

    p: float

    def text_in(self, formatter: Formatter) -> str:
        """Return the p-value with the marks of the formatter."""
        sign, _, number = p_words(self.p).rpartition(" ")
        return f"{sign} {formatter.number(number)}"


def coefficient(value: float) -> str:
    """Return a number from -1 to 1 with two decimals; one that is not exact is never shown as 1."""
    if math.isnan(value):
        return "none"
    text = f"{value:.2f}"
    for more in (3, 4, 5):
        if abs(float(text)) < 1 or abs(value) == 1:
            break
        text = f"{value:.{more}f}"
    return text.replace("-0.00", "0.00") if float(text) == 0 else text
