"""The order of labels: natural, with numbers in them, and of months and weekdays by the calendar."""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterable, Sequence
from functools import cache

from vantric.core.numbers.calendar_words import WORDS

_DIGITS = re.compile(r"[0-9]+")
_LARGEST = 0x10FFFF


def natural_key(label: str) -> tuple[str, str]:
    """Return a sort key under which runs of digits compare as numbers and letters without case.

    The label itself is last in the key, so that the order is total: labels that differ never tie.
    """
    return _folded(label), label


def natural_places(labels: Sequence[str], places: Sequence[int]) -> list[int]:
    """Return places of labels in the order of `natural_key`; of millions, in a third less time."""
    keys = {place: _folded(labels[place]) for place in places}
    if len(set(keys.values())) < len(keys):
        return sorted(places, key=lambda place: (keys[place], labels[place]))
    return sorted(places, key=keys.__getitem__)


def _folded(label: str) -> str:
    return _DIGITS.sub(_magnitude, label.casefold())


def _magnitude(digits: re.Match[str]) -> str:
    """Return what orders a run of digits by value: before any letter, the longer number later."""
    plain = digits[0].lstrip("0")
    return f"\0{chr(min(len(plain), _LARGEST))}{plain}"


#: Language -> the spellings of January ... December, and of Monday ... Sunday.


_MOST = 1000  # labels; more are no months
_YEAR = re.compile(
    r"(?P<name>.*?\D)[\s./'’-]*(?P<year>(?:19|20)\d\d|\d\d)|(?P<first>(?:19|20)\d\d)[\s./-]*(?P<later>\D.*)"
)


def plain_word(text: str) -> str:
    """Return a text as the names of months and weekdays are looked up."""
    return " ".join(text.casefold().replace(".", "").split())


@cache
def _names(language: str, *, days: bool) -> dict[str, int]:
    parts = WORDS[language][int(days)].split(";")
    return {word: place for place, words in enumerate(parts, 1) for word in words.split("|")}


@cache
def month_words() -> dict[str, int]:
    """Return the spelling of a month -> its number, 1 to 12; one that two languages use for two months is left out."""
    counts: dict[str, int] = {}
    twice: set[str] = set()
    for language in WORDS:
        for word, place in _names(language, days=False).items():
            if counts.setdefault(word, place) != place and language != "en":
                twice.add(word)
    english = _names("en", days=False)
    return {word: english.get(word, place) for word, place in counts.items() if word not in twice or word in english}


def calendar_keys(labels: Sequence[str]) -> list[tuple[int, int]] | None:
    """Return what orders labels by the calendar; None unless all are months, with or without a year, or weekdays.

    All labels are of one language; January and Monday come first.
    """
    if not 2 <= len(labels) <= _MOST:
        return None
    plain = [plain_word(label) for label in labels]
    numbers = _places(plain)
    if numbers is not None:
        return [(0, place) for place in numbers]
    parts = [_YEAR.fullmatch(text) for text in plain]
    if not all(parts):
        return None
    pairs = [(part["name"] or part["later"], int(part["year"] or part["first"])) for part in parts if part]
    months = _places([name.strip(" -/'’") for name, _ in pairs], days=False)
    if months is None:
        return None
    years = [year if year > 99 else year + (2000 if year < 69 else 1900) for _, year in pairs]
    return list(zip(years, months, strict=True))


def _places(words: Sequence[str], *, days: bool = True) -> list[int] | None:
    for kind in (False, True) if days else (False,):
        for language in WORDS:
            names = _names(language, days=kind)
            if words[0] in names and all(word in names for word in words):
                return [names[word] for word in words]
    return None


def is_turned(places: Iterable[tuple[int, int]]) -> bool:
    """Whether places follow the calendar from some month or day on: a business year, a week from Sunday."""
    order = list(places)
    falls = [(before, after) for before, after in itertools.pairwise(order) if after < before]
    last = max((place for _, place in order), default=0)
    turns = [((0, last), (0, 1))] if last in (7, 12) else []  # from Sunday to Monday, from December to January
    return not falls or (falls == turns and order[-1] < order[0])


def in_label_order(labels: Iterable[str]) -> list[str]:
    """Return labels in natural order; months and weekdays by the calendar."""
    listed = list(labels)
    keys = calendar_keys(listed)
    if keys is None:
        return sorted(listed, key=natural_key)
    return [label for _, label in sorted(zip(keys, listed, strict=True))]
