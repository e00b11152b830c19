"""Findings over the labels of a tally: totals among them, numbers, near misses."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence

from vantric.core.counting.relabel import same_spelling
from vantric.core.counting.tally import Tally
from vantric.core.numbers.shown import one_line, quoted
from vantric.core.reviewing.finding import Finding, error, warning

_TOTALS = frozenset({
    "total", "totals", "grand total", "subtotal", "sum", "sums", "overall", "all", "gesamt", "summe", "somme", "totale",
})  # fmt: skip
_NUMBER = re.compile(r"[+-]?\d+(?:[.,]\d+)?")
#: Signs between several labels in a cell; the first ones hardly stand in a label.
_BETWEEN = (";", "|", "\n", ",", " / ", "/", " + ", "+", " & ", " and ")
_ONLY_BETWEEN = (";", "|", "\n")
_FEWEST_NUMBERS, _MOST_LABELS, _SHORTEST = 10, 3000, 6
_LONG = 64  # signs, from where on the shapes of a label are hashed
_MOST_SIGNS = 20_000_000
_BASE = 6364136223846793005


def is_total(label: str) -> bool:
    """Whether a label says that its row is a total."""
    return label.strip(" :.").casefold() in _TOTALS


def total_row(tally: Tally) -> list[Finding]:
    """Find a category that is the total of all others: it would take half of everything."""
    whole = float(tally.total)
    for label, value in tally.as_dict().items():
        if is_total(label) and len(tally.categories) > 2 and abs(2 * float(value) - whole) <= 1e-9 * whole:
            return [
                error(
                    "total-as-category",
                    message=f"'{one_line(label)}' is counted as a category, and it is the total of all others",
                    fix="leave that row out of the source: every percent is half of what it should be",
                    where=tally.origin.by or "labels",
                )
            ]
    return []


def numbers_as_labels(tally: Tally) -> list[Finding]:
    """Find a column of measurements that is counted as if its values were categories."""
    labels = tally.categories
    numbers = [label for label in labels if _NUMBER.fullmatch(label.strip())]
    broken = any("." in label or "," in label for label in numbers)
    if len(numbers) < max(_FEWEST_NUMBERS, len(labels)) or not (broken or 2 * len(labels) > float(tally.records)):
        return []
    return [
        warning(
            "numbers-as-labels",
            message=f"all {len(labels)} categories are numbers, such as {quoted(labels[:3])}: measurements?",
            fix="count a column of labels, or put the numbers into classes first",
            where=tally.origin.by or "labels",
        )
    ]


def several_labels(tally: Tally) -> list[Finding]:
    """Find cells that seem to hold several labels, where no sign between them was named: "Leak; Jam"."""
    if tally.origin.counted == "mentions" or len(tally.categories) > _MOST_LABELS:
        return []
    known = {label.strip().casefold() for label in tally.categories}
    for sign in _BETWEEN:
        pieces = {label: [piece.strip() for piece in label.split(sign)] for label in tally.categories if sign in label}
        several = {label: parts for label, parts in pieces.items() if len(parts) > 1 and all(parts)}
        if not several:
            continue
        parts = [part.casefold() for one in several.values() for part in one]
        again = sum(part in known or parts.count(part) > 1 for part in parts)
        if again * 2 >= len(parts) or (sign in _ONLY_BETWEEN and again):
            return [
                warning(
                    "several-labels",
                    message=f"cells seem to hold several labels, such as {quoted(list(several)[:2])}, and each is "
                    "counted as one",
                    fix=f"name the sign between them: separator='{sign}' (--separator '{sign}')",
                    where=tally.origin.by or "labels",
                )
            ]
    return []


def near_labels(tally: Tally) -> list[Finding]:
    """Find labels that differ by one letter: a slip of the keyboard makes one category two."""
    if len(tally.categories) > _MOST_LABELS:
        return []
    pairs = list(_near_pairs([label for label in tally.categories if len(label) >= _SHORTEST]))
    if not pairs:
        return []
    shown = "; ".join(quoted(pair) for pair in pairs[:3])
    more = f"; and {len(pairs) - 3} more pairs" if len(pairs) > 3 else ""
    return [
        warning(
            "near-labels",
            message=f"labels that differ by one letter are counted separately: {shown}{more}",
            fix="give them one spelling in the source, if they mean the same",
            where=tally.origin.by or "labels",
        )
    ]


def _near_pairs(labels: Sequence[str]) -> Iterator[tuple[str, str]]:
    """Yield pairs that differ by one letter more, less or other: they share what is left when one letter is taken."""
    plains = [same_spelling(label) for label in labels]
    if sum(map(len, plains)) > _MOST_SIGNS:
        return
    shapes_of = _shapes if max(map(len, plains), default=0) <= _LONG else _hashed_shapes
    known: dict[str | int, list[int]] = {}
    seen: set[tuple[int, int]] = set()
    for place, plain in enumerate(plains):
        for shape in shapes_of(plain):
            others = known.setdefault(shape, [])
            for other in others:
                if (other, place) not in seen:
                    seen.add((other, place))
                    if _one_letter_apart(plains[other], plain):
                        yield labels[other], labels[place]
            others.append(place)


def _shapes(text: str) -> set[str]:
    """Return a text and what is left of it when one letter is taken, each letter in turn."""
    return {text, *(text[:at] + text[at + 1 :] for at in range(len(text)))}


def _hashed_shapes(text: str) -> set[int]:
    """Return a hash of each of `_shapes`, in a time that grows with the text, not with its square.

    The hash is the polynomial sum of sign times base to the power of its place, modulo 2^64 (Karp and Rabin 1987): a
    sign is taken out by dividing what is behind it by the base, which is odd and so has an inverse.
    """
    import numpy as np

    signs = np.frombuffer(text.encode("utf-32-le", "surrogatepass"), dtype="<u4").astype(np.uint64)
    powers = np.cumprod(np.full(len(signs), _BASE, dtype=np.uint64))
    sums = np.concatenate((np.zeros(1, dtype=np.uint64), np.cumsum(signs * powers)))
    without = sums[:-1] + (sums[-1] - sums[1:]) * np.uint64(pow(_BASE, -1, 1 << 64))
    return {int(sums[-1]), *np.unique(without).tolist()}


def _one_letter_apart(one: str, other: str) -> bool:
    """Whether two texts differ by one letter; a digit tells things apart on purpose."""
    short, long = sorted((one, other), key=len)
    if len(long) - len(short) > 1 or short == long:
        return False
    at = next((place for place, (a, b) in enumerate(zip(short, long, strict=False)) if a != b), len(short))
    same = short[at + 1 :] == long[at + 1 :] if len(short) == len(long) else short[at:] == long[at + 1 :]
    if len(short) == len(long) and at == 0:
        return False  # cracks and tracks: slips seldom begin a word
    signs = long[at : at + 1] + (short[at : at + 1] if len(short) == len(long) else "")
    lone = {long[at - 1 : at], long[at + 1 : at + 2]} <= {"", " "}  # a word of one letter: Line A, Line B
    return same and signs.isalpha() and not lone
