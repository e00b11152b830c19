"""Whether two labels differ by a slip of the keyboard, by a plural, or on purpose."""

from __future__ import annotations

import unicodedata
from typing import Literal

from vantric.base.lazily import compiled

_WORDS = compiled(r"[^\W_]+")
#: Numbers in letters: "Type II" is no slip of "Type I".
_ROMAN = compiled(r"[ivxlcdm]+")
_SHORTEST, _SHORT = 4, 6  # letters of a word: XL and XS differ on purpose
_PHRASE = 3  # words, of which all but one are alike
#: Endings of one word that make it another on purpose.
_ENDINGS = ("ing", "ings", "ed", "er", "ers", "ion", "ions", "ung", "ungen")
#: How rare a spelling must be beside another, as a share, for each kind of slip.
_RARE, _RARE_OTHER, _RARER, _RAREST = 0.7, 0.25, 0.2, 0.1
#: Letters that lie beside each other on common keyboards, or sound alike.
_CONFUSED = frozenset(
    map(
        frozenset,
        [
            "qw",
            "we",
            "er",
            "rt",
            "ty",
            "yu",
            "ui",
            "io",
            "op",
            "as",
            "sd",
            "df",
            "fg",
            "gh",
            "hj",
            "jk",
            "kl",
            "zx",
            "xc",
            "cv",
            "vb",
            "bn",
            "nm",
            "qa",
            "az",
            "ws",
            "sx",
            "ed",
            "dc",
            "rf",
            "fv",
            "tg",
            "gb",
            "yh",
            "hn",
            "uj",
            "jm",
            "ik",
            "ol",
            "tz",
            "zu",
            "ae",
            "ei",
            "ai",
            "oe",
            "ou",
            "iy",
            "ck",
            "cs",
            "sz",
            "bp",
            "dt",
            "gk",
            "vw",
            "mn",
            "gj",
            "ie",
            "au",
        ],
    )
)


def slip_between(text: str, other: str, share: float) -> Literal["sure", "unsure"] | None:
    """Return whether two labels seem to be one.

    Parameters
    ----------
    text, other
        Labels that are not alike.
    share
        How frequent the rarer one is beside the other.

    Returns
    -------
    "sure", "unsure" or None
        None where what differs tells them apart on purpose: digits, single letters, sizes, Roman numbers, codes.
    """
    differing = _differing_words(text, other)
    if differing is None:
        return None
    a, b = sorted(differing, key=len)
    if len(a) < _SHORTEST - (len(b) - len(a)) or len(b) < _SHORTEST or _is_code(a, b):
        return None
    a, b = a.casefold(), b.casefold()
    if without_plurals(a) == without_plurals(b) or _swapped(a, b):
        return "sure"
    if _without_accents(a) == _without_accents(b):
        return "sure" if share <= _RARE else "unsure"
    if len(a) < len(b):
        return _one_more(a, b, share, in_phrase=len(_WORDS.findall(text)) >= _PHRASE)
    return _one_other(a, b, share)


def _one_more(a: str, b: str, share: float, *, in_phrase: bool) -> Literal["sure", "unsure"] | None:
    index = _first_difference(a, b)
    if a[index:] != b[index + 1 :]:
        return None
    limit = _RARER if index == 0 or _of_one_ending(a, b) or len(b) <= _SHORT else _RARE
    if len(b) < _SHORT:
        return "sure" if share <= (_RARER if in_phrase else _RAREST) else None
    return "sure" if share <= limit else "unsure"


def _one_other(a: str, b: str, share: float) -> Literal["sure", "unsure"] | None:
    index = _first_difference(a, b)
    if index == 0 or a[index + 1 :] != b[index + 1 :]:
        return None  # cracks and tracks: slips seldom begin a word
    confused = frozenset((a[index], b[index])) in _CONFUSED
    if len(b) < _SHORT - 1:
        return "sure" if confused and share <= _RAREST else None
    limit = _RAREST / 2 if not confused else _RAREST if _of_one_ending(a, b) else _RARE_OTHER
    return "sure" if share <= limit else "unsure"


def _first_difference(a: str, b: str) -> int:
    return next((place for place, (x, y) in enumerate(zip(a, b, strict=False)) if x != y), len(a))


def _differing_words(text: str, other: str) -> tuple[str, str] | None:
    """Return the one word in which two labels differ; None if they differ in more, or in signs only."""
    words, others = _WORDS.findall(text), _WORDS.findall(other)
    if len(words) != len(others):
        return None
    differ = [(a, b) for a, b in zip(words, others, strict=True) if a.casefold() != b.casefold()]
    return differ[0] if len(differ) == 1 else None


def _is_code(a: str, b: str) -> bool:
    """Whether words are numbers, Roman numbers or short codes in capitals."""
    if not (a.isalpha() and b.isalpha()) or (_ROMAN.fullmatch(a.casefold()) and _ROMAN.fullmatch(b.casefold())):
        return True
    return a.isupper() and b.isupper() and len(b) < _SHORT


def _swapped(a: str, b: str) -> bool:
    """Whether two neighboring letters changed places."""
    if len(a) != len(b):
        return False
    numbers = [place for place, (x, y) in enumerate(zip(a, b, strict=True)) if x != y]
    return (
        len(numbers) == 2
        and numbers[1] == numbers[0] + 1
        and a[numbers[0]] == b[numbers[1]]
        and a[numbers[1]] == b[numbers[0]]
    )


def _without_accents(word: str) -> str:
    return "".join(sign for sign in unicodedata.normalize("NFD", word) if not unicodedata.combining(sign))


def without_plurals(text: str) -> str:
    """Return a text with every word in the singular, as far as endings tell."""
    return " ".join(map(_singular, text.split(" "))) if "s" in text else text


def _singular(word: str) -> str:
    if len(word) < _SHORTEST or word.endswith(("ss", "us", "is")):
        return word
    if word.endswith("ies") and len(word) >= _SHORT:
        return word[:-3] + "y"
    if word.endswith(("ches", "shes", "sses", "xes", "zzes")):
        return word[:-2]
    return word.removesuffix("s")


def _of_one_ending(a: str, b: str) -> bool:
    """Whether two words differ in their stems only, before a common ending: two ways of working may well be meant."""
    return any(a.endswith(ending) and b.endswith(ending) and len(a) > len(ending) + 2 for ending in _ENDINGS)
