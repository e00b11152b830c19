"""What a label says of its row: a total, a subtotal, a statistic, a remark, a part of another, or nothing."""

from __future__ import annotations

import unicodedata
from collections.abc import Iterable
from functools import cache, lru_cache
from typing import Literal, TypeAlias

from vantric.base.lazily import compiled
from vantric.core.totals import vocabulary as words

#: ``"named total"``: a total of something that is named; ``"weak"``: a total, or the name of a category.
LabelKind: TypeAlias = Literal[
    "total",
    "subtotal",
    "named total",
    "weak",
    "statistic",
    "memo",
    "of which",
    "including",
    "forward",
    "forward?",
    "rest",
    "blank",
    "",
]
#: Kinds of labels that name a total for sure.
STRONG_KINDS: frozenset[LabelKind] = frozenset({"total", "subtotal", "named total"})
#: A longer label is a sentence, not a total.
_LONGEST = 80
_ENDS = " \t\u00a0:.=*-–—_|#<>~"
#: How many there are, a unit or another remark in brackets behind a label: "Total (n = 650)".
_SIZE = compiled(r"[\s,:;–-]*[(\[]?\s*n\s*[=:]\s*[\d.,'  ]*\s*[)\]]?$|\s*[(\[][^()\[\]]*[)\]]$")
#: A year, week, line or unit beside a label: "Total 2026", "Total, KW 12", "Total pcs".
_PERIOD = compiled(
    r"[\s,:;–-]*[(\[]?(?:19|20)\d\d(?:\s*[/–-]\s*(?:\d{4}|\d{2}))?[)\]]?$|^(?:19|20)\d\d[\s,:;–-]+"
    r"|[\s,:;–-]+(?:week|kw|wk|cw|month|q|quarter|line|shift)\s*\d{1,2}$"
    r"|[\s,:;–-]+(?:jan|feb|mar|apr|may|jun|jul|aug|sep|oct|nov|dec)[a-z]*$|[\s,]+(?:pcs|stk|nos|units|pieces)\.?$"
)
_SPACED = compiled(r"(?:\w ){3,}\w")
_BULLET = compiled(r"^(?:[-–—•*·>]\s*)?")
_SIDES = compiled(r"\s[/|–-]\s|\s?/\s?")
_WORD = compiled(r"\w+")
_AFTER_WORDS = compiled(r"$|[\s:,.\-–(]")
_UNSPACED = compiled(r"[\u3040-\u30ff\u4e00-\u9fff\uac00-\ud7af]")


#: Latin letters whose strokes and missing dots are no marks of their own in Unicode.
_STROKES = str.maketrans("łđı", "ldi")


def folded(text: str) -> str:
    """Return text in one form whatever its case, width and Latin accents."""
    text = unicodedata.normalize("NFKC", text).casefold().translate(_STROKES)
    if text.isascii():
        return text
    return "".join(sign for sign in unicodedata.normalize("NFD", text) if not "\u0300" <= sign <= "\u036f")


@lru_cache(maxsize=65536)
def plain_label(label: str) -> str:
    """Return a label without case, accents, what stands around it, a year, a unit and a size such as ``(n = 116)``."""
    text = " ".join(folded(label).split()).strip(_ENDS)
    if _SPACED.fullmatch(text):  # T O T A L
        text = text.replace(" ", "")
    for form in (_SIZE, _PERIOD, _SIZE, _PERIOD):
        text = form.sub("", text).strip(_ENDS)
    return text


@cache
def _plain(phrases: tuple[str, ...]) -> frozenset[str]:
    return frozenset(plain_label(phrase) or phrase for phrase in phrases)


@cache
def _folded(phrases: tuple[str, ...]) -> tuple[str, ...]:
    return tuple(map(folded, phrases))


@cache
def _statistics() -> dict[str, str]:
    return {name: kind for kind, phrases in words.STATISTICS.items() for name in _plain(phrases)}


@cache
def _trigger_words() -> frozenset[str]:
    """Return the words without which a label of ASCII signs is of no kind at all."""
    lists = [value for name, value in vars(words).items() if name.isupper() and isinstance(value, tuple)]
    phrases = [phrase for phrases in (*lists, *words.STATISTICS.values()) for phrase in phrases]
    return frozenset(word for phrase in phrases for word in _WORD.findall(folded(phrase)))


def _says_nothing(label: str) -> bool:
    """Whether a label is of no kind for sure; decides most of many labels at once."""
    if len(label) > _LONGEST:
        return True
    if not label.isascii():
        return False
    parts = _WORD.findall(label.casefold())
    spaced = len(parts) > 3 and all(len(part) == 1 for part in parts)
    return bool(parts) and not spaced and _trigger_words().isdisjoint(parts)


@lru_cache(maxsize=65536)
def kind_of(label: str | None) -> LabelKind:
    """Return what a label says of its row."""
    if label is None or not label.strip():
        return "blank"
    return "" if _says_nothing(label) else _kind(label)


def _kind(label: str) -> LabelKind:
    text, sign = plain_label(label), label.strip()
    unbulleted = _BULLET.sub("", " ".join(folded(label).split()))
    if _begins(unbulleted, words.OF_WHICH):
        return "of which"
    if _begins(unbulleted, words.INCLUDING) and " " in unbulleted:
        return "including"
    if sign in ("Σ", "∑", "*"):
        return "weak" if sign == "*" else "total"
    return _whole_label(text) or _named_total(text) or _beginning(label, text)


def _whole_label(text: str) -> LabelKind:
    """Return what a label says that consists of one of the words alone."""
    kinds: tuple[tuple[tuple[str, ...], LabelKind], ...] = (
        (words.FORWARD, "forward"),
        (words.FORWARD_SHORT, "forward?"),
        (words.SUBTOTALS, "subtotal"),
        (words.TOTALS, "total"),
    )
    return next((kind for phrases, kind in kinds if text in _plain(phrases)), "")


def _beginning(label: str, text: str) -> LabelKind:
    """Return what a label says that begins with one of the words, or is the name of a statistic or of a rest."""
    if statistic_of(label):
        return "statistic"
    if text in _plain(words.WEAK) or _begins(text, words.BEFORE) or text.startswith(("σ ", "∑ ")):
        return "weak"
    if _is_memo(text):
        return "memo"
    return "rest" if text in _plain(words.REST) or text.startswith("other ") else ""


def _named_total(text: str) -> LabelKind:
    """Return what a label with a word for totals beside something else says: "Total / Gesamt", "Kiln 3 total"."""
    sides = [side for side in _SIDES.split(text) if side.strip()]
    totals = _plain(words.TOTALS) | _plain(words.SUBTOTALS)
    if len(sides) > 1 and not totals.isdisjoint(sides):
        return "total"
    last = text.replace("-", " ").rpartition(" ")
    if last[0] and (last[2] in _folded(words.BEHIND) or text.endswith((" sub-total", " zwischensumme"))):
        return "subtotal" if "sub" in text or "zwischen" in text else "named total"
    return ""


def _begins(text: str, phrases: tuple[str, ...]) -> bool:
    """Whether a text begins with a phrase, and a word ends there; signs that stand for words end anywhere."""
    return any(
        text.startswith(phrase)
        and (_AFTER_WORDS.match(text, len(phrase)) is not None or _UNSPACED.match(phrase) is not None)
        and (phrases is not words.BEFORE or len(text) > len(phrase))
        for phrase in _folded(phrases)
    )


def _is_memo(text: str) -> bool:
    if text in _plain(words.MEMO) or _begins(text, words.MEMO_BEFORE):
        return True
    padded = f" {' '.join(_WORD.findall(text))} "
    return any(f" {phrase} " in padded for phrase in _folded(words.MEMO_WITHIN)) or any(
        padded.endswith(f" {phrase} ") for phrase in words.MEMO_BEHIND
    )


#: A statistic of something that is named: "average per week".
_STATISTIC_OF = compiled(
    r"(average|avg|mean|max|min|median|mittelwert|durchschnitt)[\s:./(-]+(?:per|of|pro|value|wert|all|je)\b"
)


def statistic_of(label: str | None) -> str:
    """Return which statistic of the other rows a label names: ``"mean"``, ``"maximum"``; empty for none."""
    text = plain_label(label or "")
    kind_by_name = _statistics()
    if text in kind_by_name:
        return kind_by_name[text]
    match = _STATISTIC_OF.match(text)
    return kind_by_name[match[1]] if match and len(text.split()) <= 4 else ""


def is_strong(label: str) -> bool:
    """Whether a label names a total, with or without a year, a size or the name of a group."""
    return kind_of(label) in STRONG_KINDS


def is_loose(label: str) -> bool:
    """Whether a label may name a total: ``All``, ``Total defects``."""
    return kind_of(label) == "weak"


def is_mean(label: str) -> bool:
    """Whether a label names the mean of the other rows."""
    return kind_of(label) == "statistic" and statistic_of(label) == "mean"


def may_be_total(label: str) -> bool:
    """Whether a label names a total or a statistic, or may."""
    kind = kind_of(label)
    return kind in STRONG_KINDS or kind in ("weak", "statistic", "forward", "of which")


def total_in(values: Iterable[object]) -> str | None:
    """Return the first text that names a total, or may."""
    return next((value for value in values if isinstance(value, str) and value.strip() and may_be_total(value)), None)


#: Names of columns of months, quarters and longer periods.
_MONTH = compiled(
    r"(?:jan|feb|mar|apr|may|mai|jun|jul|aug|sep|oct|okt|nov|dec|dez)[a-z]*\.?|(?:19|20)\d\d[-/.]\d\d|\d{1,2}/(?:19|20)\d\d"
)
_LONG_PERIOD = compiled(
    r"(?:q[1-4]|[1-4]q|h[12]|[12]h|[1-4]\. ?quartal|quarter [1-4]|half[- ]?year ?[12]?|ytd|year|year to date|full year"
    r"|fy|jahr|cum|cum\.|kum\.?)(?:[ /'-]*(?:20)?\d\d)?"
)


def is_month(heading: str) -> bool:
    """Whether the heading of a column is a month."""
    return _MONTH.fullmatch(" ".join(folded(heading).split())) is not None


def is_long_period(heading: str) -> bool:
    """Whether the heading of a column is a quarter, a half, a year or what came until then."""
    return _LONG_PERIOD.fullmatch(" ".join(folded(heading).split()).strip(_ENDS)) is not None


def is_summary_sheet(name: str) -> bool:
    """Whether a sheet is named as one that holds what others hold together."""
    parts = set(_WORD.findall(folded(name)))
    return any(
        phrase in parts or (_UNSPACED.match(phrase) is not None and phrase in folded(name))
        for phrase in _folded(words.SUMMARY_SHEETS)
    )
