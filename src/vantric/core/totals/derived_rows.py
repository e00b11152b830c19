"""Which rows of a table are derived from its others: by arithmetic, place, formulas and levels; words are evidence.

The steps go from what says the most to what says the least, and each sees what those before it left. What a step needs
to ask was set by simulation: of 500,000 honest tables none is changed, and fewer than one in 2,000 are asked about.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from fractions import Fraction
from typing import NamedTuple

from vantric.core.totals.label_kinds import STRONG_KINDS, statistic_of
from vantric.core.totals.row_groups import grouped_rows, level_heads, sums_of_named
from vantric.core.totals.row_sums import (
    Cell,
    CountedRow,
    RowTable,
    RunningSums,
    Verdict,
    digits_of,
    is_ascending,
    is_descending,
)

Verdicts = dict[int, Verdict]
#: Longer tables are not looked through for groups: they are logs.
_MOST_GROUPED = 5_000
#: A total of at least this many parts, and at least as large, is told even where chance may explain it.
_BIG_PARTS, _BIG_AMOUNT = 3, 10
#: Digits of a sum that is no chance, under a label that may be anything, and over rows that are marked as its parts.
_SURE_DIGITS, _LEAST_DIGITS = 2.0, 0.5
_MOST_LEVELS = 100  # subtotals that one row may add up
#: The least range of the rows at which a statistic is no chance.
_LEAST_RANGE = 10


def derived_rows(
    rows: Sequence[CountedRow],
    *,
    is_percent: bool = False,
    further: Callable[[], Sequence[Sequence[Cell]]] = lambda: (),
) -> Verdicts:
    """Return the verdict on every row that is derived from others, or may be, by its place.

    Parameters
    ----------
    rows
        In their order; without amounts, records are counted.
    is_percent
        Whether the counted column holds percents.
    further
        Returns further columns of numbers, a cell a row.
    """
    table = RowTable(rows, is_percent=is_percent, further=further)
    if len(rows) < 2 or not (table.is_marked or table.has_single_labels):
        return {}
    if not table.width:
        return _by_words(table)
    verdicts: Verdicts = {}
    for step in _STEPS if table.is_marked else (_levels,):
        verdicts |= step(table, verdicts)
    return verdicts | _by_arithmetic(table, verdicts)


def derived_groups(rows: Sequence[CountedRow]) -> Verdicts:
    """Return the verdicts on rows that have no order, as those of a database, looked at in one that hides none.

    Parents and forwarded sums are known by their place alone, so neither is found.
    """
    table = RowTable(rows)
    last = {"memo": 2, "statistic": 2, **dict.fromkeys(STRONG_KINDS, 1)}
    order = sorted(range(len(rows)), key=lambda place: (last.get(table.kinds[place], 0), -(table.amount(place) or 0)))
    verdicts = derived_rows([replace(rows[place], indent=0, outline=0) for place in order])
    return {
        order[place]: verdict for place, verdict in verdicts.items() if verdict.kind not in ("group", "forward", "part")
    }


def _open(table: RowTable, verdicts: Verdicts) -> list[int]:
    """Return the rows with an amount on which nothing is said yet."""
    return [place for place in range(len(table.rows)) if place not in verdicts and table.amount(place) is not None]


def _by_words(table: RowTable) -> Verdicts:
    """Judge records that are counted one by one: a total is named so, and a column of numbers confirms it."""
    verdicts: Verdicts = {}
    for place, row in enumerate(table.rows):
        kind = table.kinds[place]
        if row.formula:
            verdicts[place] = _formula(row)
        elif (kind in STRONG_KINDS or kind == "forward") and table.times(place) <= 2:
            parts = [part for part in range(place) if part not in verdicts]
            adds = any(_adds_in(column, place, parts) for column in table.further_columns)
            verdicts[place] = Verdict("out", "total", _ADDS) if adds else _CALLED
    return verdicts


_ADDS, _READS = "adds up the others", "reads as a total"
_SUBTOTALS, _BELOW, _ABOVE = "adds up the subtotals", "adds up the rows below it", "adds up all rows above it"
_CALLED = Verdict("ask", "total", "is the label of a total")
#: Reasons of a row that adds up everything above it.
OF_ALL = (_ADDS, _SUBTOTALS)


def _adds_in(column: Sequence[Cell], place: int, parts: Sequence[int]) -> bool:
    values = [cell for part in parts if (cell := column[part])]
    probe = RowTable([CountedRow(None, (cell,)) for cell in (*values, column[place])])
    return len(values) > 1 and probe.equals(len(values), probe.sums_of(range(len(values))))


def _formula(row: CountedRow) -> Verdict:
    return Verdict("out", "formula", f"is a formula over the records ({row.formula})")


def _formulas(table: RowTable, _: Verdicts) -> Verdicts:
    return {place: _formula(row) for place, row in enumerate(table.rows) if row.formula}


def _parts_of_others(table: RowTable, before: Verdicts) -> Verdicts:
    """Judge rows that say "of which": they are in the row above already."""
    verdicts: Verdicts = {}
    whole: str | None = None
    left: int | None = None
    for place, row in enumerate(table.rows):
        amount, kind = table.amount(place), table.kinds[place]
        if place in before:
            continue
        if kind not in ("of which", "including"):
            whole, left = row.label, amount
        elif amount is not None and left is not None and amount <= left:
            verdicts[place] = Verdict(
                "out" if kind == "of which" else "ask", "part", f"is a part of '{whole}' above it"
            )
            left -= amount
        elif amount is not None:
            verdicts[place] = Verdict("ask", "part", "reads as a part of another row, and is larger than what is left")
    return verdicts


def _forwarded(table: RowTable, before: Verdicts) -> Verdicts:
    """Judge sums that are carried to the next page, or brought from the page before."""
    verdicts: Verdicts = {}
    above = RunningSums(table.width)
    carried: set[int] = set()
    for place, kind in enumerate(table.kinds):
        amount = table.amount(place)
        if place in before:
            continue
        if kind in ("forward", "forward?") and amount is not None and place:
            fewest = 1 if kind == "forward" else 2
            equal = (above.rows >= fewest and table.equals(place, above)) or amount in carried
            if kind == "forward?" and digits_of(amount, table.units[0]) < _SURE_DIGITS:
                equal = False  # CF is a country, too
            if equal or kind == "forward":
                why = "is the sum above it, carried to another page" if equal else "reads as a sum of another page"
                verdicts[place] = Verdict("out" if equal else "ask", "forward", why)
                carried |= {amount} if equal else set()
                continue
        above.add(table.cells[place])
    return verdicts


def _is_worded(table: RowTable, place: int) -> bool:
    return table.kinds[place] in STRONG_KINDS or table.kinds[place] == "statistic"


class _Sums(NamedTuple):
    """What rows beside a named total add up to: all above, the labeled ones, since the last, subtotals, all below."""

    above: RunningSums
    labeled: RunningSums
    since: RunningSums
    subtotals: RunningSums
    below: RunningSums


def _named_totals(table: RowTable, before: Verdicts) -> Verdicts:
    """Judge rows that are named as totals: left out where they add up others, else asked about.

    A row that may be named so is a subtotal if it adds up the rows above it, and if a named total is right only then:
    "Total kiln 1" above "Grand total".
    """
    verdicts = _judged_totals(table, before, frozenset())
    subtotals = _weak_subtotals(table, before)
    if not verdicts or not subtotals or all(verdict.outcome == "out" for verdict in verdicts.values()):
        return verdicts
    again = _judged_totals(table, before, subtotals)
    return again if all(verdict.outcome == "out" for verdict in again.values()) else verdicts


def _weak_subtotals(table: RowTable, before: Verdicts) -> frozenset[int]:
    """Return rows whose label may name a total and that add up the rows since the total above them."""
    places, since = set(), RunningSums(table.width)
    for place in range(len(table.rows)):
        is_sum = table.kinds[place] == "weak" and since.rows > 1 and table.equals(place, since)
        if is_sum or place in before or _is_worded(table, place):
            places |= {place} if is_sum else set()
            since = RunningSums(table.width)
        else:
            since.add(table.cells[place])
    return frozenset(places)


def _judged_totals(table: RowTable, before: Verdicts, subtotals: frozenset[int]) -> Verdicts:
    verdicts: Verdicts = {}
    above, labeled, since, inner = (RunningSums(table.width) for _ in range(4))
    apart = {place for place in range(len(table.rows)) if place in before or _is_worded(table, place)} | subtotals
    below = table.sums_of([place for place in range(len(table.rows)) if place not in apart])
    closed: list[int] = []  # subtotals that no row has added up yet
    for place in range(len(table.rows)):
        if place in apart:
            named = place not in before and (table.kinds[place] in STRONG_KINDS or place in subtotals)
            if named and table.amount(place) is not None:
                verdicts[place] = _named_total(table, place, _Sums(above, labeled, since, inner, below))
                first = _first_added(table, place, since, closed) if verdicts[place] is _NO_SUM else None
                if first is not None:
                    verdicts[place] = Verdict("out", "subtotal", f"{_SUBTOTALS} above it")
                    del closed[first:]
            if verdicts.get(place, _NO_SUM).kind == "subtotal" or place in subtotals:
                inner.add(table.cells[place])
            closed.append(place)
            since = RunningSums(table.width)
        else:
            above.add(table.cells[place])
            since.add(table.cells[place])
            if table.kinds[place] != "blank":
                labeled.add(table.cells[place])
    return _without_scopes(table, _first_of_several(table, verdicts, before))


def _first_added(table: RowTable, place: int, since: RunningSums, closed: Sequence[int]) -> int | None:
    """Return the first of the subtotals above that a row adds up: those of the kilns of one plant, not of the other."""
    sums = RunningSums(table.width)
    sums.totals, sums.parts = list(since.totals), list(since.parts)
    for number, first in reversed(list(enumerate(closed[-_MOST_LEVELS:], start=max(0, len(closed) - _MOST_LEVELS)))):
        sums.add(table.cells[first])
        if sums.rows > 1 and table.equals(place, sums):
            return number
    return None


def _first_of_several(table: RowTable, verdicts: Verdicts, before: Verdicts) -> Verdicts:
    """Take a total of everything above for a subtotal where all rows below it have a subtotal of their own."""
    sums = [place for place, verdict in verdicts.items() if verdict.outcome == "out"]
    rows = _open(table, before | verdicts)
    if not sums or (rows and rows[-1] > max(sums)):
        return verdicts
    last = max((place for place in sums if verdicts[place].kind == "subtotal"), default=-1)
    return {
        place: replace(verdict, kind="subtotal", reason="adds up the rows above it")
        if verdict.reason == _ADDS and rows and place < min(last, rows[-1])
        else verdict
        for place, verdict in verdicts.items()
    }


_NO_SUM = Verdict("ask", "total", f"{_READS}, and is not the sum of the rows above it")


def _named_total(table: RowTable, place: int, sums: _Sums) -> Verdict:
    alone = sums.subtotals.rows and sums.since.rows == 1  # a group of one row
    for rows, kind, why, fewest in (
        (sums.above, "total", _ADDS, 2),
        (sums.labeled, "total", _ADDS, 2),
        (sums.since, "subtotal", "adds up the rows above it", 1 if alone else 2),
        (sums.subtotals, "total", _SUBTOTALS, 2),
        (sums.below, "total", _BELOW, 2),
    ):
        if rows.rows >= fewest and table.equals(place, rows) and not (rows is sums.below and sums.above.rows):
            return Verdict("out", "subtotal" if table.kinds[place] == "subtotal" else kind, why)
    if table.kinds[place] != "named total" or table.named_totals > 1:
        return _NO_SUM
    others = table.amounts(other for other in range(len(table.rows)) if not _is_worded(table, other))
    is_small = (table.amount(place) or 0) < max(others, default=0)
    return replace(_NO_SUM, outcome="warn") if is_small else _NO_SUM


def _without_scopes(table: RowTable, verdicts: Verdicts) -> Verdicts:
    """Drop the verdicts by words of another column where not every one adds up: it is a column of its own."""
    beside = [place for place in verdicts if table.rows[place].beside is not None]
    if all(verdicts[place].outcome == "out" for place in beside):
        return verdicts
    return {place: verdict for place, verdict in verdicts.items() if place not in beside}


def _total_place(table: RowTable, verdicts: Verdicts) -> int | None:
    """Return the last row that adds up everything above it, if there is one."""
    totals = [place for place, verdict in verdicts.items() if verdict.kind == "total" and verdict.reason in OF_ALL]
    above = RunningSums(table.width)
    for place, row in enumerate(table.rows):
        if row.formula == "SUM" and above.rows > 1 and table.equals(place, above):
            totals.append(place)
        if place not in verdicts:
            above.add(table.cells[place])
    return max(totals, default=None)


def _below_the_total(table: RowTable, before: Verdicts) -> Verdicts:
    """Judge the rows below a total that adds up everything above: remarks are left out, others are asked about."""
    total = _total_place(table, before)
    if total is None:
        return {}
    below = [place for place in _open(table, before) if place > total]
    verdicts = {
        place: Verdict("out", "memo", "is a remark below the total")
        if table.kinds[place] in ("memo", "statistic")
        else Verdict("ask", "memo", "stands below the total")
        for place in below
    }
    if any(verdict.outcome == "ask" for verdict in verdicts.values()) and before[total].kind != "formula":
        verdicts[total] = replace(before[total], outcome="ask")
    return verdicts


def _closing(table: RowTable, before: Verdicts) -> Verdicts:
    """Judge statistics and remarks at the end of the table."""
    places = _open(table, before)
    tail: list[int] = []
    while places and table.kinds[places[-1]] in ("statistic", "memo"):
        tail.append(places.pop())
    values = table.amounts(places)
    true = [place for place in tail if len(values) > 1 and _is_true(table, place, values)]
    wide = bool(true) and max(values) - min(values) >= _LEAST_RANGE * table.scale
    verdicts: Verdicts = {}
    for place in tail:
        if place in true:
            outcome = "out" if len(true) > 1 and wide else "ask" if wide else "warn"
            verdicts[place] = Verdict(
                outcome,  # type: ignore[arg-type]
                "statistic",
                f"is the {statistic_of(table.rows[place].label)} of the others",
            )
        elif true or len(tail) > 1 or (table.kinds[place] == "memo" and _is_set_apart(table, place, values)):
            verdicts[place] = Verdict("ask", "memo", "reads as a remark below the table")
        elif table.kinds[place] == "memo":
            verdicts[place] = Verdict("warn", "memo", "reads as a remark below the table")
    return verdicts


def _is_set_apart(table: RowTable, place: int, values: Sequence[int]) -> bool:
    """Whether a remark stands below a blank row, or is larger than all rows together."""
    return table.rows[place].follows_blank or (bool(values) and (table.amount(place) or 0) > sum(values))


def _is_true(table: RowTable, place: int, values: Sequence[int]) -> bool:
    """Whether a row is the statistic of the others that it names, as a whole number at least."""
    ordered = sorted(values)
    half = len(values) // 2
    statistics: dict[str, Fraction | int] = {
        "mean": Fraction(sum(values), len(values)),
        "median": Fraction(ordered[half] + ordered[(len(values) - 1) // 2], 2),
        "maximum": ordered[-1],
        "minimum": ordered[0],
        "number of rows": len(values) * table.scale,
    }
    amount = table.amount(place)
    true: Fraction | int | None = statistics.get(statistic_of(table.rows[place].label))
    return true is not None and amount is not None and abs(Fraction(amount) - true) * 2 <= table.scale


def _levels(table: RowTable, before: Verdicts) -> Verdicts:
    """Judge heads over indented, outlined or numbered rows."""
    places = _open(table, before)
    level_pair = level_heads(table.rows, places) if len(places) <= _MOST_GROUPED else None
    if level_pair is None:
        return {}
    how, heads = level_pair
    adding = {head for head, children in heads.items() if table.equals(head, table.sums_of(children))}
    several = any(sum(1 for part in heads[head] if table.amount(part)) > 1 for head in adding)
    if several and digits_of(max(table.amounts(adding)), table.units[0]) >= _LEAST_DIGITS:
        return {head: Verdict("ask", "group", f"adds up the rows under it ({how})") for head in sorted(adding)}
    covers = all((table.amount(head) or 0) >= sum(table.amounts(children)) for head, children in heads.items())
    if how == "indent" and len(heads) > 1 and covers and any(len(children) > 1 for children in heads.values()):
        return {head: Verdict("warn", "group", "stands over indented rows") for head in heads}
    return {}


def _weak(table: RowTable, before: Verdicts) -> Verdicts:
    """Judge rows that add up others and whose label may name a total, or that have none."""
    places = _open(table, before)
    verdicts: Verdicts = {}
    others, above = table.sums_of(places), RunningSums(table.width)
    for place in places:
        others.add(table.cells[place], -1)
        kind, is_last = table.kinds[place], place == places[-1]
        if kind == "weak" and any(sums.rows > 1 and table.equals(place, sums) for sums in (others, above)):
            verdicts[place] = Verdict("ask", "total", _ADDS)
        elif kind == "blank" and is_last and table.equals(place, above) and _each_named_once(table, places[:-1]):
            verdicts[place] = Verdict("out" if above.rows >= _BIG_PARTS else "ask", "total", _ADDS)
        for sums in (others, above):
            sums.add(table.cells[place])
    return verdicts


def _each_named_once(table: RowTable, places: Sequence[int]) -> bool:
    return len(places) > 1 and all(table.kinds[place] != "blank" and table.times(place) == 1 for place in places)


def _by_arithmetic(table: RowTable, before: Verdicts) -> Verdicts:
    """Judge what no word says: one row that is the sum of all others, or groups without marks."""
    places = _open(table, before)
    if len(places) < 3 or any((table.amount(place) or 0) < 0 for place in places):
        return {}
    verdicts = _sum_of_others(table, places)
    if not any(verdict.kind == "group" for verdict in before.values()):
        verdicts = verdicts or _sum_of_all_above(table, places)
    if len(places) <= _MOST_GROUPED and all(verdict.outcome == "warn" for verdict in verdicts.values()):
        groups = {} if any(v.reason == _ADDS for v in verdicts.values()) else grouped_rows(table, places)
        return (groups or sums_of_named(table, places)) | verdicts
    return verdicts


def _sum_of_others(table: RowTable, places: Sequence[int]) -> Verdicts:
    """Judge the row that is half of all: the sum of the others."""
    sums = table.sums_of(places)
    for place in (places[-1], places[0], *places[1:-1]):
        sums.add(table.cells[place], -1)
        if table.equals(place, sums) and max(sums.parts) > 1:
            verdict = _whole(table, place, [part for part in places if part != place], places)
            return {} if verdict is None else {place: verdict}
        sums.add(table.cells[place])
    return {}


def _whole(table: RowTable, place: int, parts: Sequence[int], places: Sequence[int]) -> Verdict | None:
    """Weigh the evidence that a row which equals the sum of all others is their total."""
    values = table.amounts(parts)
    amount, total = table.amount(place) or 0, sum(table.amounts(places))
    if table.times(place) > 1 and table.kinds[place] not in ("weak", "blank"):
        return None
    if (
        table.is_percent and abs(total - 100 * table.scale) <= len(parts) * table.scale
    ):  # one whole, half of which is one row
        return None
    weight = table.evidence(place, parts) + _marks(table, place, parts)
    # A part of a millionth is none: it says nothing of what the row adds up.
    nonzero = max(sum(abs(column[part] or 0) * 10**6 > amount for part in parts) for column in table.columns)
    if nonzero < 2:
        return None
    weight -= nonzero == 2
    if place == places[-1]:
        weight += (len(values) > 3 and is_descending(values)) - is_ascending(values)
    else:
        weight -= 1 if place == places[0] else 1.5
    weight += table.is_percent and abs(total - 200 * table.scale) <= (len(parts) + 1) * table.scale
    least = min(table.scale, table.units[0])
    shares = not table.is_percent and 2 * abs(total - 100 * table.scale) <= (len(parts) + 1) * least
    weight -= shares  # percents without their sign
    if weight >= 1:
        return Verdict("ask", "total", _ADDS)
    if weight >= 0 or (nonzero >= _BIG_PARTS and amount >= _BIG_AMOUNT * table.scale):
        return Verdict("warn", "total", _ADDS)
    return None


def _marks(table: RowTable, place: int, parts: Sequence[int]) -> float:
    """Weigh how a row is marked: the only bold one, the only one after a blank row, a label that says rest."""
    row, others = table.rows[place], [table.rows[part] for part in parts]
    return (
        (row.is_bold and not any(other.is_bold for other in others))
        + (row.follows_blank and not any(other.follows_blank for other in others))
        + (table.kinds[place] == "weak" or (table.kinds[place] == "blank" and _labeled(table, parts)))
        - (table.kinds[place] == "rest")
    )


def _labeled(table: RowTable, parts: Sequence[int]) -> bool:
    return all(table.kinds[part] != "blank" for part in parts)


def _sum_of_all_above(table: RowTable, places: Sequence[int]) -> Verdicts:
    """Judge the second or third row from the end if it is the sum of everything above it."""
    for back in (2, 3) if len(places) >= 5 else ():
        place, parts = places[-back], places[:-back]
        sums = table.sums_of(parts)
        if len(parts) < 3 or max(sums.parts) < 3 or not table.equals(place, sums) or table.times(place) > 1:
            continue
        weight = table.evidence(place, parts) - 1 + _marks(table, place, parts) - is_ascending(table.amounts(parts))
        if weight < 0:
            return {}
        if weight < 2:
            return {place: Verdict("warn", "total", _ABOVE)}
        below = {row: Verdict("ask", "memo", "stands below what adds up the others") for row in places[-back + 1 :]}
        return {place: Verdict("ask", "total", _ABOVE), **below}
    return {}


#: What is looked at where a label or a mark of the sheet says anything, in this order.
_STEPS = (_formulas, _parts_of_others, _forwarded, _named_totals, _below_the_total, _closing, _levels, _weak)
