"""Documents and sections as the content of files: one writer for every ending and every kind of result."""

from __future__ import annotations

from collections.abc import Callable

from vantric.cleaning import json_text
from vantric.reports.documents import Document
from vantric.reports.grids import document_grid
from vantric.reports.local import PLAIN
from vantric.reports.markdown import markdown_cell, markdown_table, tables_markdown
from vantric.reports.safecells import csv_text
from vantric.reports.sections import Section
from vantric.reports.table import stacked


def written(document: Document, kind: str) -> bytes:
    """Return a document as a ``csv``, ``json``, ``xlsx``, ``md``, ``html`` or ``pptx`` file."""
    if kind in _WRITERS:
        return _WRITERS[kind](document)
    return handed(section_of(document), kind, slide_tables=document.slide_tables)


def _csv(document: Document) -> bytes:
    if document.tables is not None:
        return csv_text(*stacked(document.tables(PLAIN))).encode("utf-8", "backslashreplace")
    assert document.rows is not None
    return csv_text(*document.rows()).encode("utf-8", "backslashreplace")


def _json(document: Document) -> bytes:
    return json_text(document.data()).encode()


def handed(section: Section, kind: str, *, slide_tables: bool = False) -> bytes:
    """Return a section as an ``html``, ``xlsx`` or ``pptx`` file."""
    if kind == "xlsx":
        from vantric.reports.workbooks.book import workbook

        return workbook([section])
    if kind == "pptx":
        from vantric.reports.slides import slides

        return slides(section.title, [section], tables=slide_tables)
    from vantric.reports.pages.page import Page, page_text

    return page_text(Page(section.title, (section,))).encode()


def _markdown(document: Document) -> bytes:
    if document.tables is not None:
        return tables_markdown(document.tables(document.local)).encode("utf-8", "backslashreplace")
    assert document.cells is not None
    cells = document.cells().localized(document.local)
    rows = [*cells.rows, cells.total] if any(cells.total) else cells.rows
    text = markdown_table(cells.head, rows, left=cells.left)
    return (text + "".join(f"\n{markdown_cell(note)}\n" for note in document.notes)).encode("utf-8", "backslashreplace")


def section_of(document: Document) -> Section:
    """Return a document as a section; one that has none of its own is its table."""
    if document.section is not None:
        return document.section()
    notes = tuple(("Note", note) for note in document.notes if note)
    grids = (document_grid(document),)
    return Section(kind="table", title=document.title, sentence=document.caption, grids=lambda: grids, notes=notes)


_WRITERS: dict[str, Callable[[Document], bytes]] = {
    "csv": _csv, "json": _json, "md": _markdown,
}  # fmt: skip
