"""A result as it can be written: `written` makes files of it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any, TypeAlias

from vantric.reports.cells import Cells
from vantric.reports.local import PLAIN, Local
from vantric.reports.sections import Section
from vantric.reports.table import Table

#: A JSON object.
Plain: TypeAlias = dict[str, Any]


@dataclass(frozen=True, kw_only=True)
class Document:
    """A result that can be written.

    Attributes
    ----------
    title
        Of the page.
    tables
        Return its tables in a language; where a kind has none yet, `rows` and `cells` stand for them.
    rows
        Returns head and rows as plain values.
    percents
        The columns that hold percents.
    data
        Returns the JSON object.
    cells
        Returns what people read.
    caption
        Is above the table of a page.
    notes
        Stand below it.
    slide_tables
        Whether slides hold the table too.
    section
        Returns what pages, workbooks and slides hold; without it they have the table alone.
    local
        The language of what people read.
    """

    title: str
    data: Callable[[], dict[str, Any]]
    tables: Callable[[Local], Sequence[Table]] | None = None
    rows: Callable[[], tuple[Sequence[str], Sequence[Sequence[Any]]]] | None = None
    cells: Callable[[], Cells] | None = None
    percents: frozenset[str] = frozenset()
    caption: str = ""
    notes: tuple[str, ...] = ()
    slide_tables: bool = False
    section: Callable[[], Section] | None = None
    local: Local = PLAIN
