"""Findings over labels that seem to be one: spellings, slips of the keyboard, plurals."""

from __future__ import annotations

import unicodedata
from collections.abc import Iterator, Sequence
from contextlib import suppress
from itertools import chain

from vantric.base.lazily import compiled
from vantric.core.counts.relabeling import UNSEEN, same_spelling
from vantric.core.counts.tally import Tally
from vantric.core.numbers.number_format import distinct_lines, quoted
from vantric.core.review.error_patterns import slip_between, without_plurals
from vantric.core.review.finding import Finding, note, warning

#: Signs that tell nothing apart between letters; between digits they do (4.1 and 41), and so do + # % < > everywhere.
_SIGNS = compiled(r"(?<![0-9])[\s.,;:!?'’\"“”_-]+|[\s.,;:!?'’\"“”_-]+(?![0-9])")
#: What a first look leaves out; what is then alike is looked at precisely.
_ROUGHLY = UNSEEN | dict.fromkeys(map(ord, " \t\n\r\x0b\x0c\u00a0\u2009\u202f.,;:!?'\"’“”_-"))
#: What is left of signs that a program saved as another reads them.
_MISREAD = compiled(r"[ÃÂÄÅâ]|&#?\w+;")
_WORDS = compiled(r"[^\W_]+")
#: A sign that no label holds.
_BETWEEN = "\0"
_FEW = 3  # letters: a plural of a word in -y
_MOST = 10_000  # labels compared at all
_SHORTEST, _SHAPED, _LONGEST = (
    4,
    64,
    1000,
)  # signs of a label: the longest of which all shapes are looked up, and at all


def similar_labels(tally: Tally) -> list[Finding]:
    """Find labels that differ only in case, spaces, punctuation or Unicode form: one category counted as several."""
    again = _roughly_alike(tally.categories)
    groups = []
    for labels in again.values():
        precisely: dict[str, list[str]] = {}
        for label in dict.fromkeys(labels):
            precisely.setdefault(plain_spelling(_as_meant(label)), []).append(label)
        groups += [sorted(same) for same in precisely.values() if len(same) > 1]
    groups.sort()
    if not groups:
        return []
    text = "; ".join(quoted(distinct_lines(group)) for group in groups[:3])
    more = f"; and {len(groups) - 3} more such groups" if len(groups) > 3 else ""
    plain = all(len({same_spelling(label) for label in group}) == 1 for group in groups)
    what, merged = "case or spaces", "give them one spelling in the source, if they mean the same"
    if any(label.translate(UNSEEN) != label for group in groups for label in group):
        what = "case, spaces or signs that nobody sees"
    if plain:
        merged = f"{merged}; or merge them (merge_spellings=)"
    else:
        what, merged = "case, spaces or punctuation", f"{merged}; merge_spellings does not merge punctuation"
    if any(_as_meant(label) != label for group in groups for label in group):
        what = "how their signs were saved"
    return [
        warning(
            "similar-labels",
            message=f"labels that differ only in {what} are counted separately: {text}{more}",
            fix=merged,
            where=tally.origin.by or "labels",
        )
    ]


def _as_meant(label: str) -> str:
    """Return a label without what a program made of its signs: ``&amp;``, or UTF-8 that was read as Windows-1252."""
    if not _MISREAD.search(label):
        return label
    import html

    with suppress(UnicodeError):  # its accents are its own
        label = label.encode("cp1252").decode("utf-8")
    return html.unescape(label)


def _roughly_alike(labels: Sequence[str]) -> dict[str, list[str]]:
    """Return groups of labels that are alike without spaces, punctuation and case; of a million in half a second."""
    joined = _BETWEEN.join(labels)
    if (not joined.isascii() or "&" in joined) and _MISREAD.search(joined):
        joined = _BETWEEN.join(map(_as_meant, labels))
    text = joined.lower() if joined.isascii() else unicodedata.normalize("NFKC", joined).casefold()
    roughs = text.translate(_ROUGHLY).split(_BETWEEN)
    if len(roughs) != len(labels):  # the sign between them is in one of them
        roughs = [plain_spelling(label) for label in labels]
    if len(set(roughs)) == len(roughs):
        return {}
    first: dict[str, str] = {}
    again: dict[str, list[str]] = {}
    for rough, label in zip(roughs, labels, strict=True):
        before = first.setdefault(rough, label)
        if before is not label:
            again.setdefault(rough, [before]).append(label)
    return again


def plain_spelling(label: str) -> str:
    """Return what labels that differ only in case, spaces, punctuation or Unicode form have in common."""
    text = label if label.isascii() else unicodedata.normalize("NFKC", label.translate(UNSEEN))
    low = text.casefold()
    if low.isalnum():
        return low
    return _SIGNS.sub("", low) or low


def near_labels(tally: Tally) -> list[Finding]:
    """Find labels that a slip of the keyboard or a plural tells apart.

    A swapped letter or a plural always counts, a letter more, less or other where one label is rare beside the other:
    two frequent words such as Chipping and Clipping are words. What is short of evidence is a note.
    """
    counts = _most_frequent(tally)
    labels = [label for label in counts if _SHORTEST <= len(label) <= _LONGEST]
    sure: list[list[str]] = []
    unsure: list[list[str]] = []
    for text, other in _near_pairs(labels):
        rare, common = sorted((counts[text], counts[other]))
        slip = slip_between(text, other, rare / common if common else 1.0)
        if slip is not None:
            (sure if slip == "sure" else unsure).append(sorted((text, other)))
    return [
        *_told(sure, tally, "labels that seem to be one are counted separately"),
        *([] if sure else _told(unsure, tally, "labels that differ by one letter are counted separately")),
    ]


def _most_frequent(tally: Tally) -> dict[str, float]:
    """Return label -> how often it was counted; of very many the most frequent."""
    if len(tally.categories) <= _MOST:
        return dict(zip(tally.categories, map(float, tally.plain_counts.values()), strict=True))
    import numpy as np

    amounts = tally.plain_counts.floats()
    places = np.sort(np.argpartition(-amounts, _MOST)[:_MOST])
    return {tally.categories[place]: float(amounts[place]) for place in places.tolist()}


def _told(pairs: list[list[str]], tally: Tally, words: str) -> list[Finding]:
    if not pairs:
        return []
    pairs.sort()
    text = "; ".join(quoted(pair) for pair in pairs[:3])
    more = f"; and {len(pairs) - 3} more pairs" if len(pairs) > 3 else ""
    make = warning if "seem" in words else note
    return [
        make(
            "near-labels",
            message=f"{words}: {text}{more}",
            fix="give them one spelling in the source, if they mean the same",
            where=tally.origin.by or "labels",
        )
    ]


def _near_pairs(labels: Sequence[str]) -> Iterator[tuple[str, str]]:
    """Yield pairs that may differ by a slip.

    Two texts that differ by one slip share what is left of them when one letter is taken out. Long ones have a first or
    a last half in common: sorted forward or backward they stand beside each other, in a time of n log n.
    """
    plains = [" ".join(_SIGNS.sub(" ", label.casefold()).split()) for label in labels]
    pairs: set[tuple[int, int]] = set()
    for pair in chain(_sharing_a_shape(plains), _neighbors(plains)):
        if pair not in pairs and _nearly(plains[pair[0]], plains[pair[1]]):
            pairs.add(pair)
            yield labels[pair[0]], labels[pair[1]]


def _nearly(text: str, other: str) -> bool:
    """Whether two texts differ in a few letters at one place only."""
    if text == other or abs(len(text) - len(other)) > _FEW:
        return False
    short, long = sorted((text, other), key=len)
    start = _alike(short, long)
    return len(long) - start - _alike(short[start:][::-1], long[start:][::-1]) <= _FEW


def _alike(text: str, other: str) -> int:
    """Return how many signs two texts begin with in common."""
    return next(
        (index for index, (a, b) in enumerate(zip(text, other, strict=False)) if a != b), min(len(text), len(other))
    )


def _sharing_a_shape(plains: Sequence[str]) -> Iterator[tuple[int, int]]:
    places_by_shape: dict[str, list[int]] = {}
    for place, plain in enumerate(plains):
        for shape in _shapes(plain) if len(plain) <= _SHAPED else ():
            others = places_by_shape.setdefault(shape, [])
            for other in others:
                yield other, place
            others.append(place)


def _shapes(plain: str) -> set[str]:
    """Return a text, its singular, and what is left of it without one letter of a word.

    Words with digits differ on purpose, and so do short ones: nothing is taken out of them. So "Line 1" to "Line 999"
    have no shape in common.
    """
    shapes = {plain, without_plurals(plain)}
    for word in _WORDS.finditer(plain):
        if word.end() - word.start() >= _SHORTEST and word[0].isalpha():
            shapes.update([plain[:index] + plain[index + 1 :] for index in range(word.start(), word.end())])
    return shapes


def _neighbors(plains: Sequence[str]) -> Iterator[tuple[int, int]]:
    """Yield the places of long texts that stand beside each other when sorted."""
    places = [place for place, plain in enumerate(plains) if len(plain) > _SHAPED]
    texts = [plains[place] for place in places]
    for sorted_texts in (texts, [text[::-1] for text in texts], [without_plurals(text) for text in texts]):
        order = sorted(range(len(places)), key=sorted_texts.__getitem__)
        for step in (1, 2):
            for number, other in zip(order, order[step:], strict=False):
                yield places[min(number, other)], places[max(number, other)]
