"""Write the names of months and weekdays, from the data of the Unicode locale project that Babel ships."""

from __future__ import annotations

import unicodedata
from pathlib import Path

PATH = Path(__file__).parent.parent / "src/vantric/core/numbers/calendar_words.py"
LANGUAGES = (
    "en",
    "de",
    "fr",
    "es",
    "it",
    "pt",
    "nl",
    "sv",
    "da",
    "nb",
    "fi",
    "pl",
    "cs",
    "sk",
    "sl",
    "hr",
    "hu",
    "ro",
    "tr",
    "el",
    "ru",
    "uk",
    "bg",
    "et",
    "lv",
    "lt",
    "id",
    "vi",
    "ja",
    "zh",
    "ko",
)
_HEAD = '''"""Names of months and weekdays in many languages; made from CLDR by tools/calendarwords.py, not edited."""

# ruff: noqa: E501

#: Language -> the spellings of January ... December, and of Monday ... Sunday.
WORDS: dict[str, tuple[str, str]] = {
'''


def plain(word: str) -> str:
    """Return a spelling as it is looked up."""
    return " ".join(word.casefold().replace(".", "").split())


def spellings(words: list[str]) -> str:
    """Return the different spellings of a word, with a bar between them; without accents too."""
    found: dict[str, None] = {}
    for word in words:
        one = plain(word)
        bare = "".join(sign for sign in unicodedata.normalize("NFKD", one) if not unicodedata.combining(sign))
        found |= {one: None, **({bare: None} if one.isascii() or bare.isascii() else {})}
    return "|".join(word for word in found if word)


def text() -> str:
    """Return the module."""
    from babel import Locale

    lines = [_HEAD]
    extra = {
        ("en", 9): ["sept"],
        ("de", 3): ["maerz", "mrz", "mär"],
        ("es", 9): ["set", "setiembre"],
        ("ru", 2): ["фев"],
        ("ru", 9): ["сен"],
        ("ru", 11): ["ноя"],
    }
    days = {("en", 1): ["tues"], ("en", 2): ["weds"], ("en", 3): ["thur", "thurs"]}
    for language in LANGUAGES:
        locale = Locale.parse(language)
        parts = []
        for names, places in ((locale.months, range(1, 13)), (locale.days, range(7))):
            items = []
            for place in places:
                words = [
                    names[how][width][place] for how in ("format", "stand-alone") for width in ("wide", "abbreviated")
                ]
                more = extra if names is locale.months else days
                items.append(spellings([*words, *more.get((language, place), [])]))
            parts.append(";".join(items))
        lines.append(f'    "{language}": (\n        "{parts[0]}",\n        "{parts[1]}",\n    ),\n')
    return "".join([*lines, "}\n"])
