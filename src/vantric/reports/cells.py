"""Cells as people read them, of results that have no table of their own yet."""

from __future__ import annotations

from dataclasses import dataclass

from vantric.reports.local import Local
from vantric.reports.table import Column, Table


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

    def table(self) -> Table:
        """Return the cells as a table."""
        total = self.total or ("",) * len(self.head)
        columns = []
        for at, name in enumerate(self.head):
            texts = [row[at] for row in self.rows]
            columns.append(Column(name, texts, texts, "text" if at in self.left else "number", total=total[at]))
        return Table(tuple(columns))

    def localized(self, local: Local) -> Cells:
        """Return the cells in a language: fixed words, and the numbers of all columns but those of text."""
        if local.tongue.plain:
            return self
        shown = self.table().in_language(local)
        rows = tuple(map(tuple, shown.shown_rows(total=False)))
        return Cells(tuple(shown.heads()), rows, tuple(shown.shown_total() or self.total), self.left)
