"""Rows that stand over others: by indent, by the outline of a sheet, or by numbers such as 1 and 1.1."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence

from vantric.core.totals.row_sums import CountedRow

#: Blanks, and signs of a list, before a label.
_BEFORE_LABEL = re.compile(r"[ \t\u00a0\u3000]*(?:(?:[>–•·*-]|->|=>)+[ \t\u00a0]+)?")
_NUMBER = re.compile(r"\s*([A-Za-z]{0,3}\d+(?:[.\-/]\d+)*[.)]?|[A-Z]\d*(?:[.\-]\d+)+)(?=[\s:_]|$)")
_SIGN = re.compile(r"[.\-/]")

#: Head -> the rows directly under it.
Heads = dict[int, list[int]]


def level_heads(rows: Sequence[CountedRow], places: Sequence[int]) -> tuple[str, Heads] | None:
    """Return how levels are marked and which rows stand over which; None if all are of one level."""
    if len(places) < 3:
        return None
    if not _NUMBER.match(rows[places[0]].label or "") and not any(map(_is_set_off, rows)):
        return None
    indents = {place: rows[place].indent or _leading(rows[place].label or "") for place in places}
    outlines = {place: rows[place].outline for place in places}
    for how, levels in (("indent", indents), ("outline", outlines)):
        if len(set(levels.values())) > 1 and levels[places[0]] == min(levels.values()):
            heads = _heads(levels, places)
            if heads:
                return how, heads
    numbers = _numbers(rows, places)
    heads = _numbered_heads(numbers, places) if numbers else {}
    return ("numbering", heads) if heads else None


def _is_set_off(row: CountedRow) -> bool:
    return bool(row.indent or row.outline or (row.label and not row.label[0].isalnum()))


def _leading(label: str) -> int:
    match = _BEFORE_LABEL.match(label)
    width = match.end() if match else 0
    return width if width < len(label) else 0


def _heads(levels: Mapping[int, int], places: Sequence[int]) -> Heads:
    heads: Heads = {}
    open_heads: list[tuple[int, int | None]] = []  # a head, and the level of its first row
    for place in places:
        while open_heads and levels[open_heads[-1][0]] >= levels[place]:
            open_heads.pop()
        for index, (head, level) in enumerate(open_heads):
            if level is None:
                open_heads[index] = (head, levels[place])
            if level in (None, levels[place]):
                heads.setdefault(head, []).append(place)
        open_heads.append((place, None))
    return heads


def _numbers(rows: Sequence[CountedRow], places: Sequence[int]) -> dict[int, str]:
    """Return the number of every label; nothing if one has none."""
    matches = {place: _NUMBER.match(rows[place].label or "") for place in places}
    numbers = {place: match[1].rstrip(".)") for place, match in matches.items() if match}
    return numbers if len(numbers) == len(places) else {}


def _numbered_heads(numbers: Mapping[int, str], places: Sequence[int]) -> Heads:
    heads: Heads = {}
    for index, head in enumerate(places):
        depth = len(_SIGN.split(numbers[head]))
        for place in places[index + 1 :]:
            number = numbers[place]
            if not (number.startswith(numbers[head]) and _SIGN.match(number, len(numbers[head]))):
                break
            if len(_SIGN.split(number)) == depth + 1:
                heads.setdefault(head, []).append(place)
    return heads
