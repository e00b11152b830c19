"""From a message and its arguments to text, in a language, a style of numbers and the user's own words."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import field, replace
from numbers import Real
from string import Formatter as Gaps
from typing import Any, Self, TypeGuard

from vantric.base.lazily import cached_property, compiled, dataclass
from vantric.core.messages.languages import Language, Pattern, chart_words, language, singular_name
from vantric.core.numbers.amounts import Number
from vantric.core.numbers.number_format import PLAIN_STYLE, NumberStyle, number_text, with_unit
from vantric.errors import ChartError, unknown

_MONTHS = 12
#: A word, in any script.
_WORDS = compiled(r"[^\W_]+")
#: Words of a name that say percent already.
_PERCENTS = frozenset({"percent", "pct", "percentage", "prozent", "pourcentage", "porcentaje"})


def gaps_of(text: str) -> set[str] | None:
    """Return the gaps of a text; None if one is not a plain name: a width in it, or a part of a value, is no word."""
    try:
        values = [item for item in Gaps().parse(text) if item[1] is not None]
    except ValueError:  # a brace of the user's own is no gap
        return None
    plain = all(name and name.isidentifier() and not form and kind is None for _, name, form, kind in values)
    return {str(name) for _, name, _, _ in values} if plain else None


class Composed(str):
    """A text in English that remembers what it is made of, so that a formatter can write it in another language."""

    args: tuple[Any, ...]
    values: dict[str, Any]

    def __new__(cls, *args: Any, **values: Any) -> Self:
        """Return the text in English."""
        text = super().__new__(cls, cls.written(PLAIN, *args, **values))
        text.args, text.values = args, values
        return text

    def __reduce__(self) -> tuple[Any, ...]:
        return _again, (type(self), self.args, self.values)

    def __deepcopy__(self, memo: Any) -> Self:
        return self

    @staticmethod
    def written(formatter: Formatter, *args: Any, **values: Any) -> str:
        """Return what the arguments make, as a formatter writes it."""
        raise NotImplementedError

    def lacking(self, tongue: Language) -> bool:
        """Return whether a language lacks a part of the text."""
        parts = (*self.args, *self.values.values())
        return any(part.lacking(tongue) for part in parts if isinstance(part, Composed))


def _again(kind: type[Composed], args: tuple[Any, ...], values: dict[str, Any]) -> Composed:
    return kind(*args, **values)


class English(str):
    """A text in English among texts of another language, which lacks it."""


class Argument:
    """A value that a formatter writes: a percent, a date, a label, a list."""

    def text_in(self, formatter: Formatter) -> str:
        """Return the value as the formatter writes it."""
        raise NotImplementedError


@dataclass(frozen=True)
class Formatter:
    """What turns messages and their arguments into text.

    Attributes
    ----------
    tongue
        The language.
    style
        How numbers are written.
    own
        The user's words, in place of those of `vantric.WORDS`.
    fallen_back
        Whether texts are in English because the language lacks them; numbers and dates are still its own.
    """

    tongue: Language = Language()
    style: NumberStyle = PLAIN_STYLE
    own: Mapping[str, str] = field(default_factory=dict)
    fallen_back: bool = False

    def __post_init__(self) -> None:
        """Refuse words that are nowhere, and gaps that nothing fills."""
        words = chart_words() if self.own else {}
        for name, text in self.own.items():
            if name not in words:
                raise unknown(ChartError, f"no chart has the word '{name}'", name, words, label="the words are")
            if name == "months" and len(text.split()) != _MONTHS:
                raise ChartError(f"the word for 'months' needs twelve names with spaces between them, not: {text}")
            gaps = gaps_of(words[name]) or set()
            named = gaps_of(text)
            if named is None or not named <= gaps:
                gaps_there = f"; its gaps are: {', '.join(f'{{{gap}}}' for gap in sorted(gaps))}" if gaps else ""
                raise ChartError(f"the word for '{name}' has a gap that nothing fills: {text[:200]}{gaps_there}")

    @property
    def plain(self) -> bool:
        """Whether every word and mark is that of English."""
        return self.tongue.plain and not self.own and self.style == PLAIN_STYLE

    def bare(self) -> Formatter:
        """Return what writes tables and sentences: the same language and marks, none of the signs around amounts."""
        return Formatter(self.tongue, self.style.bare())

    @cached_property
    def in_english(self) -> Formatter:
        """What writes texts in English, with the numbers and dates of this one."""
        return replace(self, fallen_back=True)

    def say(self, message: str, /, **values: object) -> str:
        """Return a message with its arguments.

        Parameters
        ----------
        message
            Its id in the catalog.
        **values
            Numbers, `Argument` and `Composed` values, which are written in the language; texts, which stay.
        """
        pattern, tongue = self.pattern(message)
        formatter = self if self.fallen_back or tongue.code == self.tongue.code else self.in_english
        category = "other"
        if not isinstance(pattern, str):
            category = formatter._category(values.get(pattern["by"]))
            pattern = pattern.get(category, pattern["other"])
        own = self.own.get(singular_name(message) if category == "one" else message) if self.own else None
        return (pattern if own is None else own).format_map({name: formatter.shown(values[name]) for name in values})

    def pattern(self, message: str) -> tuple[Pattern, Language]:
        """Return a message with its gaps, and the language that it is in: English where the own one lacks it."""
        english = language("en")
        if self.fallen_back or not self.tongue.has(message):
            return english.messages[message], english
        return self.tongue.messages.get(message, english.messages[message]), self.tongue

    def _category(self, number: object) -> str:
        """Return the plural category of a number; what is none stands for several."""
        tongue = language("en") if self.fallen_back else self.tongue
        return tongue.plural(number_text(number)) if _is_number(number) else "other"

    def shown(self, value: object) -> str:
        """Return an argument as text."""
        if isinstance(value, Composed):
            return self.text(value)
        if isinstance(value, Argument):
            return value.text_in(self)
        return self.style.plain(value) if _is_number(value) else str(value)

    def text(self, text: str) -> str:
        """Return a text: one that is a message in the language, another, such as a name from the data, as it is."""
        if self.plain or not isinstance(text, Composed):
            return text
        written = text.written(self, *text.args, **text.values)
        return English(written) if not self.tongue.plain and text.lacking(self.tongue) else written

    def number(self, text: str) -> str:
        """Return one number or percent, written as ``"1,234.5"`` or ``"12.5%"``, with the marks of the style."""
        number = self.style.signed(text.removesuffix("%"))
        return with_unit(number, self.style.percent_unit) if text.endswith("%") else number

    def capital(self, text: str) -> str:
        """Return a text with a capital as its first letter."""
        first = "İ" if text[:1] == "i" and self.tongue.code == "tr" and not self.fallen_back else text[:1].upper()
        return f"{first}{text[1:]}"

    def listed(self, names: Sequence[str]) -> str:
        """Return ``"a, b and c"``."""
        if len(names) < 2:
            return "".join(names)
        return self.say("and", one=", ".join(names[:-1]), other=names[-1])

    def titled(self, name: str, unit: str) -> str:
        """Return ``"Energy (kWh)"``; the unit is left out where the name says it already."""
        values = set(_WORDS.findall(name.casefold()))
        words = _WORDS.findall(unit.casefold())
        percent = unit.strip() == "%" and values & _PERCENTS
        if not unit or percent or unit.casefold() in name.casefold().split() or (words and values.issuperset(words)):
            return name
        return self.say("with unit", name=name, unit=unit)


def _is_number(value: object) -> TypeGuard[Number]:
    return not isinstance(value, bool) and isinstance(value, Real)


PLAIN = Formatter()
