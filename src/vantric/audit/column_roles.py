"""Which columns of a sheet hold labels, frequencies, percents and running sums: by their headings and their cells."""

from __future__ import annotations

import re
from collections.abc import Sequence
from fractions import Fraction
from itertools import accumulate, groupby, pairwise
from typing import Any, NamedTuple

from vantric.audit.sheets import quick
from vantric.base.lazily import compiled, dataclass
from vantric.core.counts.provenance import Note
from vantric.core.review.finding import is_measured, says_percent, says_running
from vantric.core.totals.label_kinds import is_strong
from vantric.reading.headings import is_blank, label_text

#: Headings of columns of counts in the languages that sheets were seen in.
_COUNTS = compiled(
    r"count|freq|qty|quantit|number|\bno\b\.?|\bnr\b|\bn\b|#|anzahl|häufigkeit|menge|stück|nombre|effectif|fréquence"
    r"|cantidad|frecuencia|número|numero|quantità|frequenza|aantal|antal|liczba|кол|число|частот|defects|rejects|records"
    r"|pieces|cases|complaints|errors|failures|incidents|events|occurr|total|observed|scrap|hits|tally",
    re.IGNORECASE,
)
_RANK = compiled(r"\b(?:rank|rang|pos|position|no|nr|id|#|index|item no|class|abc)\b\.?", re.IGNORECASE)
#: Percents that are of something else than the sum of the frequencies.
_OF_OTHERS = compiled(
    r"\b(?:of|per|je|von|par|sur) (?!(?:the )?(?:total|all|sum|whole|gesamt|defects|records|count)\b)\w+|rate\b|yield"
    r"|target|goal|limit|change|growth|reject|defective|completion|utili[sz]ation|achiev|tax|\bvat\b|discount|margin"
    r"|80\s*%|cut.?off|threshold",
    re.IGNORECASE,
)
#: A base that a heading states: "% of 650", "n = 650".
_STATED = compiled(r"(?:\bof|\bn\s*=|\bvon|\bde|/)\s*(\d[\d, ]*)(?:\s*\w+)?", re.IGNORECASE)
#: Fewer rows tell nothing of a column; a percent above 130 is none.
_FEWEST, _MOST_PERCENT = 3, 130
_MOST_GROUPS = 3  # columns of text in which the one of the labels is looked for
_NOISE = Fraction(1, 10**9)  # of sums that a spreadsheet works out


def counts_things(heading: str) -> bool:
    """Whether the heading of a column says that it holds counts."""
    return _COUNTS.search(heading) is not None


@dataclass(frozen=True)
class SheetColumn:
    """A column of a table.

    Attributes
    ----------
    name
        Its heading.
    values
        A number a row; None where there is none.
    texts
        The cells as they are written.
    percents
        Whether its cells are shown as percents.
    """

    name: str
    values: tuple[Fraction | None, ...]
    texts: tuple[str, ...]
    percents: bool = False

    @property
    def filled(self) -> int:
        """How many cells hold a number, or a formula that failed."""
        return sum(
            value is not None or text.startswith("#") for value, text in zip(self.values, self.texts, strict=True)
        )

    @property
    def is_text(self) -> bool:
        """Whether most cells hold text that is no number."""
        words = [text for value, text in zip(self.values, self.texts, strict=True) if value is None and text.strip()]
        return sum(not text.startswith("#") for text in words) > len(self.values) / 2


@dataclass(frozen=True)
class FoundColumns:
    """The places of the columns of a Pareto sheet, None where there is no such column; `texts` are other labels."""

    by: int
    count: int
    percent: int | None = None
    cumulative: int | None = None
    running: int | None = None
    texts: tuple[int, ...] = ()


def find_columns(columns: Sequence[SheetColumn]) -> FoundColumns | None:
    """Return which columns are which; None where nothing is there to be checked: no percents and no running sums."""
    rows = max((len(column.values) for column in columns), default=0)
    numbers = [
        index
        for index, column in enumerate(columns)
        if column.filled >= max(_FEWEST - 1, rows / 2) and not column.is_text
    ]
    texts = [index for index, column in enumerate(columns) if column.is_text and index not in numbers]
    different = {
        index: len({text for text in columns[index].texts if text.strip() and not is_strong(text)}) for index in texts
    }
    telling = (index for index in texts if 2 * different[index] > rows)
    by = next(telling, max(texts, key=lambda index: (different[index], -index), default=None))
    if by is None and len(numbers) > _FEWEST - 1 and numbers[0] == 0:  # classes such as 1, 2, 3
        by, numbers = 0, numbers[1:]
    if by is None or rows < _FEWEST - 1:
        return None
    sums = [number for number in numbers if says_running(columns[number].name)]
    percents = [number for number in numbers if number not in sums and _is_percent(columns[number])]
    left = [number for number in numbers if number not in (*sums, *percents)]
    count = _fitting(columns, left, percents, sums)
    count = _count_column(columns, left) if count is None else count
    if count is None or not (sums or percents):
        return None
    values = quick([value or Fraction() for value in columns[count].values])
    totals = (Fraction(sum(values)), Fraction(sum(values[:-1])))  # the last row may be their total
    added = list(accumulate(values))
    in_percent = [index for index in sums if all(_in_percent(columns[index], total, added) for total in totals)]
    running = [index for index in sums if index not in in_percent]
    first = [next(iter(places), None) for places in (percents, in_percent, running)]
    # A group is written once above its rows: a column of few words and no number.
    sparse = [index for index in range(by) if columns[index].filled == 0 and any(columns[index].texts)]
    crossed = [index for index in texts if index > by and different[by] < rows / 2 and different[index] < rows / 2]
    groups = sorted({*sparse, *crossed, *(index for index in texts if index < by)})
    return FoundColumns(by, count, first[0], first[1], first[2], tuple(groups))


def _fitting(
    columns: Sequence[SheetColumn], places: Sequence[int], percents: Sequence[int], sums: Sequence[int]
) -> int | None:
    """Return the column whose shares the percents are, or whose running sums: several may stand beside them."""
    of_all = next(iter(percents), None)
    fits: dict[int, float] = {}
    for place in places:
        values = [float(value or 0) for value in columns[place].values]
        for body in (values, values[:-1]):  # the last row may be their total
            whole = sum(body)
            if whole <= 0 or len(body) < _FEWEST - 1:
                continue
            fractions = [value / whole for value in body]
            stated_values = columns[of_all].values if of_all is not None else columns[sums[0]].values if sums else ()
            if of_all is None:
                fractions = list(accumulate(fractions))
            away = _away(stated_values, fractions)
            if away is not None:
                fits[place] = min(away, fits.get(place, away))
    return min(fits, key=lambda index: fits[index], default=None)


def _away(values: Sequence[Fraction | None], rights: Sequence[float]) -> float | None:
    """Return how far cells are from the shares that they may be, at most; None if that is more than a percent point."""
    pairs = [(float(value), share) for value, share in zip(values, rights, strict=False) if value is not None]
    if len(pairs) < _FEWEST - 1:
        return None
    away = min(max(abs(value / scale - share) for value, share in pairs) for scale in (1, 100))
    return away if away <= 0.01 else None


def _is_percent(column: SheetColumn) -> bool:
    return (says_percent(column.name) or column.percents) and not _OF_OTHERS.search(_STATED.sub("", column.name))


def _in_percent(column: SheetColumn, total: Fraction, added: Sequence[Fraction]) -> bool:
    """Whether running sums are in percent, or in shares of 1, and no frequencies, which are those in most rows."""
    if column.percents or says_percent(column.name):
        return True
    if 2 * sum(value == right for value, right in zip(column.values, added, strict=True)) > len(added):
        return False
    values = [value for value in column.values if value is not None]
    if not values or (abs(values[-1] - total) <= _NOISE * abs(total) and total != 100):
        return False
    fractions = any(value.denominator > 1 for value in values)
    return fractions or max(values) <= Fraction(3, 2) or max(values) <= _MOST_PERCENT


def stated_numbers(columns: Sequence[SheetColumn], found_columns: FoundColumns) -> tuple[Fraction, ...]:
    """Return what percents may be of: numbers that their headings state, or that a column repeats in every row."""
    texts = [
        columns[position].name for position in (found_columns.percent, found_columns.cumulative) if position is not None
    ]
    numbers = [Fraction(text.replace(",", "").replace(" ", "")) for name in texts for text in _STATED.findall(name)]
    for index, column in enumerate(columns):
        values = {value for value in column.values if value is not None}
        if (
            index != found_columns.count
            and len(values) == 1
            and column.filled >= _FEWEST - 1
            and column.filled >= len(column.values) - 2
        ):
            numbers += values
    return tuple(dict.fromkeys(number for number in numbers if number > 1 and number != 100))


def _count_column(columns: Sequence[SheetColumn], places: Sequence[int]) -> int | None:
    """Return the column of frequencies: the one that is called so, or the only one left that is no rank."""
    left = [place for place in places if not says_percent(columns[place].name) and not columns[place].percents]
    left = [index for index in left if not _is_rank(columns[index])]
    named = [index for index in left if counts_things(columns[index].name)]
    measured = [index for index in left if is_measured(columns[index].name)]
    for group in (named, left, measured):
        if len(group) == 1:
            return group[0]
    return named[0] if named else None


def _is_rank(column: SheetColumn) -> bool:
    """Whether numbers only count the rows: 1, 2, 3."""
    values = [value for value in column.values if value is not None]
    counting = values == [Fraction(number) for number in range(1, len(values) + 1)]
    return counting and (bool(_RANK.search(column.name)) or not counts_things(column.name) or len(values) > _FEWEST)


class RowLabel(NamedTuple):
    """The label of a row, the groups that it stands in, and whether it has no label of its own but that of a group."""

    text: str
    group: tuple[str, ...]
    borrowed: bool = False


def section_starts(rows: Sequence[str], remarks: Sequence[Note]) -> frozenset[int]:
    """Return the places of rows above which a heading of a section was left out.

    Parameters
    ----------
    rows
        What each row is called, with its number: rows that were left out are missing.
    remarks
        What the reader said of the rows that it left out: a repeated header or the foot of a page begins no section.
    """
    if not any(remark.code == "section-lines" for remark in remarks):
        return frozenset()
    numbers = [int(number) if (number := name.rpartition(" ")[2]).isdigit() else 0 for name in rows]
    return frozenset(place + 1 for place, (last, number) in enumerate(pairwise(numbers)) if number > last + 1)


def row_labels(
    columns: Sequence[Sequence[Any]], starts: frozenset[int], by: int, groups: Sequence[int]
) -> list[RowLabel]:
    """Return the label of each row, and the groups that it stands in: those that are written once are filled down.

    Parameters
    ----------
    columns
        The cells of every column.
    starts
        The places of rows at which a section begins.
    by, groups
        Which hold the labels, and the groups, the outermost first.

    Returns
    -------
    list of RowLabel
        A row that holds a label and nothing else is the heading of the rows below it, and the first of their groups. A
        row of totals is in no group but what it says; beside a blank label the innermost group is the label.
    """
    labels = []
    section, above = "", ("",) * len(groups)
    others = [column for place, column in enumerate(columns) if place != by]
    written = [[label_text(cell) or "" for cell in columns[place]] for place in (*groups, by)]
    for row, texts in enumerate(zip(*written, strict=True)):
        if row in starts:
            section = str(row)
        own = texts[:-1]
        label = texts[-1] if texts[-1].strip() else next((text for text in own[::-1] if text.strip()), "")
        borrowed = bool(label) and not texts[-1].strip()
        total = next((place for place, text in enumerate(texts) if is_strong(text)), None)
        if total is not None:
            section, above = "", (*above[:total], *("",) * (len(own) - total))
            labels.append(RowLabel(label if is_strong(label) else own[total], ("", *own)))
            continue
        if label and all(is_blank(column[row]) for column in others):
            section, above = label, ("",) * len(groups)
        first = next((place for place, text in enumerate(own) if text.strip()), len(own))
        above = (*above[:first], *own[first:])
        labels.append(RowLabel(label, (section, *above), borrowed))
    return labels


def label_column(
    columns: Sequence[SheetColumn], raw: Sequence[Sequence[Any]], starts: frozenset[int], texts: Sequence[int]
) -> tuple[int, tuple[int, ...]]:
    """Return the column of the labels, and those of the groups before it.

    The first column of text holds the labels. Where it repeats them, it may hold groups of a sheet: it does if a label
    beside it stands once in each, if the rows of a group are together, and if totals are among them; a log has none.
    """
    by = texts[0] if texts else 0
    sparse = tuple(place for place in range(by) if columns[place].filled == 0 and any(columns[place].texts))
    fitting: list[tuple[int, int, tuple[int, ...]]] = []  # the one with the fewest blanks is taken
    for number, place in enumerate(texts[:_MOST_GROUPS]):
        groups = (*sparse, *texts[:number])
        labels = [label for label in row_labels(raw, starts, place, groups) if label.text.strip()]
        totals = sum(is_strong(label.text) or label.borrowed for label in labels)
        plain = [label for label in labels if not is_strong(label.text) and not label.borrowed]
        runs = [group for group, _ in groupby(label.group for label in plain)]
        several = 2 * len(plain) > len(raw[0]) - totals
        once = len(set(plain)) == len(plain) and len(set(runs)) == len(runs)
        if several and once and (not number or (totals and 2 * len(runs) <= len(plain))):
            fitting.append((sum(not text.strip() for text in columns[place].texts), place, groups))
    return min(fitting, default=(0, by, sparse))[1:]
