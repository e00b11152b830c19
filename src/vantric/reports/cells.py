"""A Pareto table as people read it: the cells of every row, and the lines that are under it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

from vantric.core.numbers.shown import (
    counted,
    distinct_lines,
    number_text,
    number_texts,
    one_line,
    percent_text,
    quoted,
)
from vantric.reports.local import Fixed, Local

if TYPE_CHECKING:
    from vantric.core.counting import ParetoTable


@dataclass(frozen=True)
class Cells:
    """Head, rows and total of a table.

    Attributes
    ----------
    head, total
        One cell a column.
    rows
        One cell a column each.
    left
        The columns set to the left: those of text.
    """

    head: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    total: tuple[str, ...]
    left: frozenset[int]

    def localized(self, local: Local) -> Cells:
        """Return the cells in a language: fixed words, and the numbers of all columns but those of text."""
        if local.tongue.plain:
            return self

        def row(cells: Sequence[str]) -> tuple[str, ...]:
            return tuple(local.cell(cell, plain=at in self.left) for at, cell in enumerate(cells))

        return Cells(tuple(map(local.word, self.head)), tuple(map(row, self.rows)), row(self.total), self.left)


def pareto_cells(table: ParetoTable, *, strata: bool = True) -> Cells:
    """Return the cells of a Pareto table; counts are beside weighted frequencies and rates, then the strata."""
    marks = [cut.percent for cut in table.cutoffs]
    counted_beside, split = table.tally.counts is not None, strata and table.strata is not None
    rates = table.origin.per is not None
    head: list[str] = [Fixed("Rank"), Fixed("Category"), Fixed("Rate" if rates else "Frequency")]
    *frequencies, whole = number_texts([*table.frequency.values(), table.total], most_decimals=4 if rates else 6)
    columns = [["" if row.rank is None else str(row.rank) for row in table.rows], row_names(table), frequencies]
    total = ["", Fixed("Total"), "" if rates else whole]
    if counted_beside:
        head.append(Fixed("Count"))
        *counts, whole = number_texts([*table.counts.values(), table.tally.records])
        columns.append(counts)
        total.append(whole)
    if split and table.strata is not None:
        parts = table.strata_rows()
        head += [one_line(name) for name in table.strata.columns]
        columns += [[number_text(part[at]) for part in parts] for at in range(len(table.strata.columns))]
        total += [number_text(value) for value in table.strata.column_totals.values()]
    head += map(Fixed, ("Percent", "Cumulative frequency", "Cumulative percent", "Class"))
    columns += [
        [percent_text(row.percent) for row in table.rows],
        number_texts(table.cumulative.values(), most_decimals=4 if rates else 6),
        [percent_text(row.cumulative_percent, marks=marks) for row in table.rows],
        [row.abc or "" for row in table.rows],
    ]
    total += ["100.0 %", "", "", ""]
    return Cells(tuple(head), tuple(zip(*columns, strict=True)), tuple(total), frozenset({1, len(head) - 1}))


def row_names(table: ParetoTable) -> list[str]:
    """Return the labels of the rows in one line each; the rest says how many it holds."""
    names = distinct_lines(table.categories)
    if table.rest:
        names[-1] = Fixed(f"{names[-1]} ({counted(len(table.rest.categories), 'category', 'categories')})")
    return names


def table_notes(table: ParetoTable) -> list[str]:
    """Return source, period, filter, merges and folds, the cutoffs, and what is said of the bases."""
    notes = [table_note(table)]
    for cut in table.cutoffs:
        words = cut_line(cut.rule, cut.count, table.size)
        reached = percent_text(cut.cumulative_percent, marks=(cut.percent,))
        notes.append(f"Cutoff {number_text(cut.percent)} % ({cut.rule}): {words}, {reached}")
    return [note for note in notes if note]


def table_notes_beyond(table: ParetoTable) -> list[str]:
    """Return what the head of a view does not say: the folds, and what rates are."""
    notes = [fold_words(table)]
    if table.origin.per and table.tally.exposure is not None and len(set(table.tally.exposure.values())) > 1:
        notes.append("Rates with different bases do not add up: percents are of the sum of the rates.")
    return [note for note in notes if note]


def cut_line(rule: str, count: int, size: int) -> str:
    """Return ``"reached by 3 of 9 categories"``, ``"2 of 9 categories stay within"``."""
    of_all = f"{number_text(count)} of {counted(size, 'category', 'categories')}"
    if rule == "reach":
        return f"reached by {of_all}"
    return f"{of_all} {'stays' if count == 1 else 'stay'} within"


def table_note(table: ParetoTable) -> str:
    """Return source, period, filter, merges and folds in one line."""
    return "; ".join(filter(None, (table.origin.note(), fold_words(table))))


def fold_words(table: ParetoTable) -> str:
    """Return what the rest holds, in words; nothing if nothing is folded."""
    rest = table.rest
    if rest is None:
        return ""
    number = counted(len(rest.categories), "smallest category", "smallest categories")
    held = f"“{one_line(rest.label)}” holds the {number}"
    return held if len(rest.categories) > 4 else f"{held}: {quoted(rest.categories)}"
