"""A table as the content of a file: one writer for every ending and every kind of result."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any, TypeAlias

from vantric.cleaning import escaped, json_text
from vantric.report.cells import Cells
from vantric.report.markdown import markdown_cell, markdown_table
from vantric.report.safecells import csv_text

#: A JSON object.
Plain: TypeAlias = dict[str, Any]


@dataclass(frozen=True, kw_only=True)
class Document:
    """A result that can be written.

    Attributes
    ----------
    title
        Of the page.
    sheet
        The name of the sheet in a workbook.
    rows
        Returns head and rows as plain values.
    percents
        The columns that hold percents.
    data
        Returns the JSON object.
    cells
        Returns what people read; not asked for where `markdown` and `page` are given.
    caption
        Is above the table of a page.
    notes
        Stand below it.
    sheet_notes
        On a sheet of their own; caption and notes if not given.
    markdown, page
        Return the whole text, where a kind of result writes it itself.
    """

    title: str
    sheet: str
    rows: Callable[[], tuple[Sequence[str], Sequence[Sequence[Any]]]]
    data: Callable[[], dict[str, Any]]
    cells: Callable[[], Cells] | None = None
    percents: frozenset[str] = frozenset()
    caption: str = ""
    notes: tuple[str, ...] = ()
    sheet_notes: tuple[str, ...] | None = None
    markdown: Callable[[], str] | None = None
    page: Callable[[], str] | None = None


def written(document: Document, kind: str) -> bytes:
    """Return a document as a ``csv``, ``json``, ``xlsx``, ``md`` or ``html`` file."""
    return _WRITERS[kind](document)


def _csv(document: Document) -> bytes:
    return csv_text(*document.rows()).encode("utf-8", "backslashreplace")


def _json(document: Document) -> bytes:
    return json_text(document.data()).encode()


def _workbook(document: Document) -> bytes:
    from vantric.report.workbook import Sheet, workbook

    notes = (document.caption, *document.notes) if document.sheet_notes is None else document.sheet_notes
    sheet = Sheet(document.sheet, *document.rows(), document.percents)
    return workbook([sheet], [note for note in notes if note])


def _markdown(document: Document) -> bytes:
    if document.markdown is not None:
        return document.markdown().encode("utf-8", "backslashreplace")
    cells = _cells(document)
    rows = [*cells.rows, cells.total] if any(cells.total) else cells.rows
    text = markdown_table(cells.head, rows, left=cells.left)
    return (text + "".join(f"\n{markdown_cell(note)}\n" for note in document.notes)).encode("utf-8", "backslashreplace")


def _html(document: Document) -> bytes:
    from vantric.report.paretohtml import page, table_html

    if document.page is not None:
        return document.page().encode()
    notes = "".join(f'<p class="note">{escaped(note)}</p>' for note in document.notes)
    table = table_html(_cells(document), caption=document.caption)
    return page(document.title, [f"<h1>{escaped(document.title)}</h1>", table, notes]).encode()


def _cells(document: Document) -> Cells:
    assert document.cells is not None
    return document.cells()


_WRITERS: dict[str, Callable[[Document], bytes]] = {
    "csv": _csv, "json": _json, "xlsx": _workbook, "md": _markdown, "html": _html,
}  # fmt: skip
