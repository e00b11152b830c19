"""The fixed words of charts, tables and pages in other languages, and how these write numbers and dates.

In comes the code of a language; out goes what it says in place of English. A language is one file, ``de.toml``: the
words of charts by their names (see `vantric.WORDS`), those of tables and pages by what they are in English. Numbers,
percents, dates and months are in ``cldr.toml``, which is made from the Unicode locale data. Sentences stay English.
Start with `language`.
"""

from __future__ import annotations

import re
import tomllib
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cache
from importlib.resources import files
from typing import Any, Literal, TypeAlias, get_args

LanguageCode: TypeAlias = Literal["en", "de", "es", "fr", "it", "ja", "pl", "pt", "ru", "tr", "zh"]
LANGUAGES: tuple[str, ...] = get_args(LanguageCode)
#: A date as the code writes it, ISO 8601.
_DAY = re.compile(r"(\d{4})-(\d{2})-(\d{2})")
#: The fields of a pattern of dates (Unicode Technical Standard 35), texts between quotes, and any other sign.
_FIELD = re.compile(r"'([^']*)'|(y+|M+|d+)|([^'yMd]+)")


@dataclass(frozen=True)
class Language:
    """What a language has in place of English.

    Attributes
    ----------
    code, name
        Of the language; its name in itself.
    chart
        Words of charts, by their names.
    tables
        Words of tables and pages, by what they are in English.
    show_numbers
        The marks of numbers, by example; None as in English.
    percent_sign
        What is written at percents; None as in English.
    date
        The pattern of dates (UTS 35); empty for ISO 8601.
    months
        The short names of January to December.
    """

    code: str = "en"
    name: str = "English"
    chart: Mapping[str, str] = field(default_factory=dict)
    tables: Mapping[str, str] = field(default_factory=dict)
    show_numbers: str | None = None
    percent_sign: str | None = None
    date: str = ""
    months: tuple[str, ...] = ()

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
        quoted, signs, plain = match.groups()
        if signs is None:
            return plain if quoted is None else quoted
        if signs.startswith("MMM"):
            return self.months[month - 1]
        number = {"y": year, "M": month, "d": day}[signs[0]]
        return f"{number:0{len(signs)}d}"


@cache
def language(code: str) -> Language:
    """Return a language by its code, such as ``"de"``."""
    if code == "en":
        return Language()
    forms = _read("cldr")[code]
    words = _read(code)
    months = tuple(forms.pop("months"))
    chart = {**words["chart"], "months": " ".join(months)}
    return Language(code, chart=chart, tables=words["tables"], months=months, **forms)


def _read(name: str) -> dict[str, Any]:
    return tomllib.loads(files("vantric.core.charts").joinpath("words", f"{name}.toml").read_text(encoding="utf-8"))
