"""The catalogs: every message in a language, its plural rules, and how it writes numbers and dates.

In comes the code of a language; out goes what it has. A catalog is one file, ``de.json``; what it lacks is said in
English. Numbers, percents, dates, months and plural rules are in ``cldr.json``, which is made from the Unicode locale
data. Start with `language`.
"""

from __future__ import annotations

import json
import re
from collections.abc import Mapping
from dataclasses import field
from functools import cache
from importlib.resources import files
from types import MappingProxyType
from typing import Any, Literal, TypeAlias, get_args

from vantric.base.lazily import compiled, dataclass

LanguageCode: TypeAlias = Literal["en", "de", "es", "fr", "it", "ja", "pl", "pt", "ru", "tr", "zh"]
LANGUAGES: tuple[str, ...] = get_args(LanguageCode)
#: A text, or its plural forms: the argument that chooses (``by``), and a text a category of CLDR.
Pattern: TypeAlias = "str | Mapping[str, str]"
#: A date as the code writes it, ISO 8601.
_DAY = compiled(r"(\d{4})-(\d{2})-(\d{2})")
#: The fields of a pattern of dates (Unicode Technical Standard 35), texts between quotes, and any other character.
_FIELD = compiled(r"'([^']*)'|(y+|M+|d+)|([^'yMd]+)")
#: An argument in a text, and a letter of a word.
_GAP, _WORD = re.compile(r"\{\w+\}"), re.compile(r"[^\W\d_]")
#: One comparison of a plural rule (UTS 35, "Language Plural Rules"), as its data are normalized.
_COMPARISON = compiled(r"([nivfte])(?: mod (\d+))? (not in|in) ([\d.,]+)")


@dataclass(frozen=True)
class Language:
    """What a language has.

    Attributes
    ----------
    code, name
        Of the language; its name in itself.
    messages
        Id -> text, or its plural forms.
    show_numbers
        The marks of numbers, by example; None as in English.
    percent_sign
        What is written at percents; None as in English.
    date
        The pattern of dates (UTS 35); empty for ISO 8601.
    months
        The short names of January to December.
    plurals
        Category -> rule (UTS 35); any other number is ``"other"``.
    """

    code: str = "en"
    name: str = "English"
    messages: Mapping[str, Pattern] = field(default_factory=dict)
    show_numbers: str | None = None
    percent_sign: str | None = None
    date: str = ""
    months: tuple[str, ...] = ()
    plurals: Mapping[str, str] = field(default_factory=lambda: {"one": "i in 1 and v in 0"})

    def has(self, message: str) -> bool:
        """Whether it can say a message: one of its own, or one without words, which is the same in any language."""
        return message in self.messages or _wordless(message)

    @property
    def plain(self) -> bool:
        """Whether it is English."""
        return self.code == "en"

    def day(self, text: str) -> str:
        """Return a date written as ``2026-01-05`` as the language writes it; another text as it is."""
        match = _DAY.fullmatch(text)
        if not self.date or match is None:
            return text
        year, month, day = map(int, match.groups())
        return "".join(self._field(item, year, month, day) for item in _FIELD.finditer(self.date))

    def _field(self, match: re.Match[str], year: int, month: int, day: int) -> str:
        quoted, letters, plain = match.groups()
        if letters is None:
            return plain if quoted is None else quoted
        if letters.startswith("MMM"):
            return self.months[month - 1]
        number = {"y": year, "M": month, "d": day}[letters[0]]
        return f"{number:0{len(letters)}d}"

    def plural(self, number: str) -> str:
        """Return the plural category of a number, as it is shown in English: ``"one"`` of ``"1"``."""
        whole, _, decimals = number.replace(",", "").lstrip("-−").partition(".")
        if not whole.isdigit() or not f"{decimals}0".isdigit():  # a power of ten
            return "other"
        significant = decimals.rstrip("0")
        operands = {
            "n": float(f"{whole}.{decimals}"),
            "i": int(whole),
            "v": len(decimals),
            "f": int(decimals or 0),
            "t": int(significant or 0),
            "e": 0,
        }
        chosen = (name for name, rule in self.plurals.items() if _holds(rule, operands))
        return next(chosen, "other")


def _holds(rule: str, operands: Mapping[str, float]) -> bool:
    return any(all(_compares(part, operands) for part in way.split(" and ")) for way in rule.split(" or "))


def _compares(text: str, operands: Mapping[str, float]) -> bool:
    match = _COMPARISON.fullmatch(text)
    assert match is not None, text
    name, modulo, verb, values = match.groups()
    value = operands[name] % int(modulo) if modulo else operands[name]
    ranges = [item.partition("..") for item in values.split(",")]
    within = any(int(low) <= value <= int(high or low) and value == int(value) for low, _, high in ranges)
    return within == (verb == "in")


@cache
def language(code: str) -> Language:
    """Return a language by its code, such as ``"de"``."""
    messages = {name: text for part in _sections(code) for name, text in part.items()}
    if code == "en":
        return Language(messages=messages)
    forms = _read("cldr")[code]
    months = tuple(forms.pop("months"))
    return Language(code, messages={**messages, "months": " ".join(months)}, months=months, **forms)


@cache
def _wordless(message: str) -> bool:
    pattern = language("en").messages[message]
    return isinstance(pattern, str) and not _WORD.search(_GAP.sub("", pattern))


@cache
def chart_words() -> Mapping[str, str]:
    """Return name -> text in English of the messages of charts, which users may put in other words: `vantric.WORDS`."""
    words: dict[str, str] = {}
    for name, text in _read("en")["chart"].items():
        words[name] = text if isinstance(text, str) else text["other"]
        if not isinstance(text, str):
            words[singular_name(name)] = text["one"]
    return MappingProxyType(words)


def singular_name(name: str) -> str:
    """Return what the word is called that stands in place of a message of one."""
    return "record" if name == "records" else f"{name} of one"


def __getattr__(name: str) -> Any:
    if name == "WORDS":  # read when first looked at
        return chart_words()
    raise AttributeError(f"module {__name__!r} has no attribute {name!r}")


def _sections(code: str) -> list[dict[str, Pattern]]:
    return [part for part in _read(code).values() if isinstance(part, dict)]


def _read(name: str) -> dict[str, Any]:
    path = files("vantric.core.messages").joinpath("catalogs", f"{name}.json")
    content: dict[str, Any] = json.loads(path.read_text(encoding="utf-8"))
    return content
