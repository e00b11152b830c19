"""Fixed words and numbers of tables, pages and workbooks in the language of a chart."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TypeAlias

from vantric.core.charts.languages import Language, language
from vantric.core.charts.wording import Wording
from vantric.core.numbers.number_format import PLAIN_STYLE, NumberStyle, with_unit

_PERCENT = " %"
#: Returns a text in a language.
Form: TypeAlias = "Callable[[Localizer], str]"


class FixedText(str):
    """A word of ours, not of the data: another language has another for it.

    A text that has a number, a date or a label in it says with `form` how another language writes it.
    """

    form: Form | None = None

    @classmethod
    def of(cls, english: str, form: Form) -> FixedText:
        """Return a text that is made of values: `form` writes them in a language."""
        text = cls(english)
        text.form = form
        return text


@dataclass(frozen=True)
class Localizer:
    """A language, and how numbers are written in it.

    Attributes
    ----------
    tongue
    style
        The marks of numbers and the sign of percents.
    """

    tongue: Language = Language()  # noqa: RUF009  (frozen)
    style: NumberStyle = PLAIN_STYLE

    @classmethod
    def of(cls, wording: Wording) -> Localizer:
        """Return the language of the words of a chart."""
        return PLAIN if wording.tongue.plain else cls(wording.tongue, wording.style.bare())

    @classmethod
    def named(cls, code: str, style: NumberStyle) -> Localizer:
        """Return a language by its code; numbers as a style writes them."""
        return PLAIN if code == "en" else cls(language(code), style.bare())

    def word(self, text: str, /) -> str:
        """Return a fixed word in the language; names from the data stay as they are."""
        if not isinstance(text, FixedText):
            return text
        if self.tongue.plain:
            return str(text)
        return text.form(self) if text.form else self.tongue.tables.get(str(text), str(text))

    def number(self, text: str) -> str:
        """Return one number or percent, written as ``"1,234.5"`` or ``"12.5 %"``, as the language writes it."""
        if self.tongue.plain:
            return text
        number = self.style.signed(text.removesuffix(_PERCENT))
        return with_unit(number, self.style.percent_unit) if text.endswith(_PERCENT) else number

    def joined(self, text: str, word: str, other: str) -> str:
        """Return two numbers with ``"to"`` or ``"of"`` between them."""
        return f"{self.number(text)} {self.word(FixedText(word))} {self.number(other)}"

    def titled(self, kind: str, subject: str) -> str:
        """Return what kind of table it is, and of what: ``"Pareto table of defect"``."""
        form = self.tongue.tables.get("{kind} of {subject}", "{kind} of {subject}")
        named = self.word(FixedText(kind))
        return form.format_map({"kind": named, "subject": subject}) if subject else named


PLAIN = Localizer()


def joined(text: str, word: str, other: str) -> FixedText:
    """Return two numbers with ``"to"`` or ``"of"`` between them, in any language."""
    return FixedText.of(PLAIN.joined(text, word, other), lambda local: local.joined(text, word, other))


def with_level(word: str, level: float) -> FixedText:
    """Return a word with the level of an interval: ``"Low, 95 %"``."""
    share = f"{100 * level:g} %"
    return FixedText.of(f"{word}, {share}", lambda local: f"{local.word(FixedText(word))}, {local.number(share)}")


def with_unit_of(word: str, unit: str) -> FixedText:
    """Return a word and what it is counted in: ``"Frequency (records)"``."""

    def form(local: Localizer) -> str:
        text = local.tongue.chart["records"] if unit == "records" else unit
        return local.tongue.chart["with unit"].format_map({"name": local.word(FixedText(word)), "unit": text})

    return FixedText.of(f"{word} ({unit})", form)
