"""Fixed words and numbers of tables, pages and workbooks in the language of a chart."""

from __future__ import annotations

import re
from dataclasses import dataclass

from vantric.core.charting.languages import Language, language
from vantric.core.charting.wording import Wording
from vantric.core.numbers.style import PLAIN_STYLE, NumberStyle, with_unit

_NUMBER = re.compile(r"(?<![\w.,-])([-−+]?)(\d[\d,]*(?:\.\d+)?)( %)?(?![\w-]|[.,]\d)")

_DAYS = re.compile(r"(\d{4}-\d\d-\d\d) to (\d{4}-\d\d-\d\d)")
_UNITED = re.compile(r"([^()]+) \((.*)\)", re.DOTALL)
_HELD = re.compile(r" \((\d[\d,]*) categor(?:y|ies)\)$")


class Fixed(str):
    """A word of ours, not of the data: another language has another for it."""

    __slots__ = ()


@dataclass(frozen=True)
class Local:
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
    def of(cls, wording: Wording) -> Local:
        """Return the language of the words of a chart."""
        return PLAIN if wording.tongue.plain else cls(wording.tongue, wording.style.bare())

    @classmethod
    def named(cls, code: str, style: NumberStyle) -> Local:
        """Return a language by its code; numbers as a style writes them."""
        return PLAIN if code == "en" else cls(language(code), style.bare())

    def word(self, text: str, /) -> str:
        """Return a fixed word in the language; names from the data stay as they are."""
        if not isinstance(text, Fixed):
            return text
        if self.tongue.plain:
            return str(text)
        known = self.tongue.tables.get(str(text))
        return self._made(str(text)) if known is None else known

    def _made(self, text: str) -> str:
        """Return a fixed text that has something of the data in it: a number, two days, the name of the rest."""
        days = _DAYS.fullmatch(text)
        if days:
            first, last = map(self.tongue.day, days.groups())
            return self.tongue.chart["days"].format_map({"first": first, "last": last})
        if _HELD.search(text):
            return _HELD.sub(lambda held: f" ({self.numbers(held[1])})", text)
        united = _UNITED.fullmatch(text)
        if united and united[1] in self.tongue.tables:
            unit = self.tongue.chart["records"] if united[2] == "records" else united[2]
            return self.tongue.chart["with unit"].format_map({"name": self.tongue.tables[united[1]], "unit": unit})
        first, sign, rest = text.partition(", ")  # "Low, 95 %"
        return self.tongue.tables.get(first, first) + sign + self.numbers(rest)

    def cell(self, text: str, *, plain: bool) -> str:
        """Return a cell: a fixed word in the language, numbers as it writes them; `plain` text as it is."""
        return self.word(text) if plain or isinstance(text, Fixed) else self.numbers(text)

    def titled(self, kind: str, subject: str) -> str:
        """Return what kind of table it is, and of what: ``"Pareto table of defect"``."""
        form = self.tongue.tables.get("{kind} of {subject}", "{kind} of {subject}")
        named = self.word(Fixed(kind))
        return form.format_map({"kind": named, "subject": subject}) if subject else named

    def numbers(self, text: str) -> str:
        """Return a text of numbers, such as ``"1,234.5"`` or ``"12.5 % to 14.0 %"``, as the language writes them."""
        if self.tongue.plain:
            return text
        said = _NUMBER.sub(self._number, text)
        for word in ("to", "of"):
            said = said.replace(f" {word} ", f" {self.tongue.tables[word]} ")
        return said

    def _number(self, found: re.Match[str]) -> str:
        minus, digits, percent = found.groups()
        number = minus + self.style.signed(digits)
        return with_unit(number, self.style.percent_unit) if percent else number


PLAIN = Local()
