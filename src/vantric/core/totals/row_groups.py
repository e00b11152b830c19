"""Groups of rows: those that are marked by indent, outline or numbers, and those that nothing marks."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from math import log10
from typing import NamedTuple

from vantric.base.lazily import compiled
from vantric.core.totals.row_sums import CountedRow, RowTable, Verdict, digits_of, is_ascending, is_descending

#: Evidence at which groups are asked about, and at which they are told.
_ASK, _WARN = 2.0, 1.0
_FEWEST_SCATTERED = 6


class _Group(NamedTuple):
    head: int
    parts: list[int]


class _Groups(NamedTuple):
    weight: float
    stands_over: bool
    groups: list[_Group]


def grouped_rows(table: RowTable, places: Sequence[int]) -> dict[int, Verdict]:
    """Return the verdict on the heads of unmarked groups.

    The rows tile into sums over their parts, or under them, with or without a grand total; or two groups or more stand
    among other rows.
    """
    amounts = {place: amount for place in places if (amount := table.amount(place)) is not None}
    total = sum(amounts.values())
    least = table.scale if table.is_percent else min(table.scale, table.units[0])
    if 2 * abs(total - 100 * table.scale) <= len(places) * least:
        return {}  # shares of one whole
    ordered = is_descending(list(amounts.values())) or is_ascending(list(amounts.values()))
    tilings = _tilings(table, places, amounts, ordered=ordered)
    if not tilings and len(places) >= _FEWEST_SCATTERED and not ordered:
        tilings = _scattered(table, places, amounts)
    best = max(tilings, key=lambda groups: groups.weight, default=None)
    if best is None or best.weight < _WARN:
        return {}
    where = "under it" if best.stands_over else "above it"
    return {
        group.head: Verdict("ask" if best.weight >= _ASK else "warn", "group", f"adds up the rows {where}")
        for group in best.groups
    }


def _counts(table: RowTable, group: _Group) -> float:
    """Return the evidence of a group: of two different parts or more, or none."""
    values = [amount for amount in table.amounts(group.parts) if amount]
    if len(values) < 2 or len(set(table.amounts(group.parts))) < 2:
        return 0.0
    weight = table.evidence(group.head, group.parts)
    return weight if weight >= 1 else 0.0


def _distinct_weight(table: RowTable, groups: Sequence[_Group]) -> dict[int, float]:
    """Return the evidence of groups by the amounts of their heads: repeated ones say the same once."""
    weights: dict[int, float] = {}
    for group in groups:
        weight, amount = _counts(table, group), table.amount(group.head)
        if weight and amount is not None:
            weights[amount] = max(weight, weights.get(amount, 0.0))
    return weights


def _tilings(table: RowTable, places: Sequence[int], amounts: dict[int, int], *, ordered: bool) -> list[_Groups]:
    total = sum(amounts.values())
    trials: list[tuple[Sequence[int], int | None]] = [(places, None)]
    if len(places) > 4:
        trials += [(places[:-1], places[-1])] * (3 * amounts[places[-1]] == total != 0)
        trials += [(places[1:], places[0])] * (3 * amounts[places[0]] == total != 0)
    tilings = []
    for stands_over in (True, False):
        for rows, grand in trials:
            groups = _tiling(table, rows if stands_over else rows[::-1], amounts)
            if groups is None or len(groups) < 2:
                continue
            weight = sum(_distinct_weight(table, groups).values()) - ordered
            if grand is not None:
                weight += digits_of(amounts[grand], table.units[0])
                groups = [*groups, _Group(grand, [group.head for group in groups])]
            tilings.append(_Groups(weight, stands_over, groups))
    return tilings


def _tiling(table: RowTable, places: Sequence[int], amounts: dict[int, int]) -> list[_Group] | None:
    """Return the rows as heads, each followed by what it adds up, nothing left over; the tiling that says the most.

    Worked out from the end: ``best[n]`` is the best tiling of the rows from the n-th on.
    """
    best: list[tuple[float, int, list[_Group]] | None] = [None] * len(places) + [(0.0, 0, [])]
    for start in range(len(places) - 1, -1, -1):
        head = places[start]
        if not amounts[head] or table.times(head) > 1:
            continue
        for end in _ends(places, amounts, start):
            after = best[end]
            group = _Group(head, list(places[start + 1 : end]))
            if after is None or not table.equals(head, table.sums_of(group.parts)):
                continue
            several = sum(1 for part in group.parts if amounts[part]) > 1
            tiling = (table.evidence(head, group.parts) + after[0], several + after[1], [group, *after[2]])
            if best[start] is None or tiling[0] > best[start][0]:  # type: ignore[index]
                best[start] = tiling
    whole = best[0]
    return whole[2] if whole is not None and whole[1] else None


def _ends(places: Sequence[int], amounts: dict[int, int], start: int) -> list[int]:
    """Return where rows after a head have just added up to it; several if rows of zero follow."""
    head, total, ends = amounts[places[start]], 0, []
    for end in range(start + 1, len(places)):
        total += amounts[places[end]]
        if total > head:
            break
        if total == head:
            ends.append(end + 1)
    return ends


def _scattered(table: RowTable, places: Sequence[int], amounts: dict[int, int]) -> list[_Groups]:
    """Return two groups or more among rows that are in none; every window that was tried costs evidence."""
    groupings = []
    for stands_over in (True, False):
        rows = places if stands_over else places[::-1]
        groups, tried = _windows(table, rows, amounts)
        weights = _distinct_weight(table, groups)
        if len(weights) < 2:
            continue
        covered = sum(1 + len(group.parts) for group in groups)
        weight = sum(weights.values()) - len(weights) * log10(max(1, tried)) - (2 * covered < len(rows))
        groupings.append(_Groups(weight, stands_over, groups))
    return groupings


def _windows(table: RowTable, rows: Sequence[int], amounts: dict[int, int]) -> tuple[list[_Group], int]:
    groups, tried, start = [], 0, 0
    while start < len(rows) - 2:
        head, total, group = rows[start], 0, None
        for end in range(start + 1, len(rows) if amounts[head] else start):
            total += amounts[rows[end]]
            tried += end > start + 1
            if total > amounts[head]:
                break
            if total == amounts[head]:
                parts = _Group(head, list(rows[start + 1 : end + 1]))
                fits = end > start + 1 and table.times(head) == 1 and table.equals(head, table.sums_of(parts.parts))
                group = parts if fits and _counts(table, parts) else None
                break
        groups += [group] if group else []
        start += 1 + (len(group.parts) if group else 0)
    return groups, tried


#: Blanks, and signs of a list, before a label.
_BEFORE_LABEL = compiled(r"[ \t\u00a0\u3000]*(?:(?:[>–•·*-]|->|=>)+[ \t\u00a0]+)?")
_NUMBER = compiled(r"\s*([A-Za-z]{0,3}\d+(?:[.\-/]\d+)*[.)]?|[A-Z]\d*(?:[.\-]\d+)+)(?=[\s:_]|$)")
_SIGN = compiled(r"[.\-/]")

#: Head -> the rows directly under it.
_MOST_NAMED = 1_000  # labels that are compared by how they begin


def sums_of_named(table: RowTable, places: Sequence[int]) -> dict[int, Verdict]:
    """Judge rows that add up those named after them: "Crack" beside "Crack, drying" and "Crack, cooling"."""
    names = {
        place: label.strip().casefold()
        for place in places
        if (label := table.rows[place].label) and label.strip() and table.times(place) == 1
    }
    order = sorted(names, key=names.__getitem__) if len(names) <= _MOST_NAMED else []
    verdicts: dict[int, Verdict] = {}
    for number, head in enumerate(order):
        name, parts = names[head], []
        for part in order[number + 1 :]:
            if not names[part].startswith(name):
                break
            rest = names[part][len(name) :]
            if rest and not rest[0].isalnum():
                parts.append(part)
        if len(parts) > 1 and table.equals(head, table.sums_of(parts)):
            weight = digits_of(table.amount(head) or 0, table.units[0])
            if weight >= _WARN:
                why = "adds up the rows that are named after it"
                verdicts[head] = Verdict("ask" if weight >= _ASK else "warn", "subtotal", why)
    return verdicts


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
