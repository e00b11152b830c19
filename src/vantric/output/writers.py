"""Results as the content of files: one writer for every ending."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from vantric.base.safe_text import json_text
from vantric.output.markup import tables_markdown
from vantric.output.safecells_part import csv_text
from vantric.output.sections import Section
from vantric.tables.localize import PLAIN, Local
from vantric.tables.table import Table, stacked


@dataclass(frozen=True, kw_only=True)
class Content:
    """Results as they can be written; a part is worked out when a format asks for it.

    Attributes
    ----------
    sections
        Returns what pages, workbooks and slides hold: one section of a result, several of a report.
    tables
        Returns its tables in a language; None of a chart or a report, whose text are its sections.
    data
        Returns its JSON object.
    local
        The language of what people read.
    slide_tables
        Whether slides hold the tables too.
    title, lead, changed
        Of a report: its title, its first words, and what changed since last time.
    """

    sections: Callable[[], tuple[Section, ...]]
    tables: Callable[[Local], Sequence[Table]] | None = None
    data: Callable[[], dict[str, Any]] = dict
    local: Local = PLAIN
    slide_tables: bool = False
    title: str = ""
    lead: str = ""
    changed: tuple[str, ...] = ()


def written(content: Content, ending: str) -> bytes:
    """Return a result as a file of an ending."""
    return WRITERS[ending](content)


def _csv(content: Content) -> bytes:
    return csv_text(*stacked(_tables(content, PLAIN))).encode("utf-8", "backslashreplace")


def _tables(content: Content, local: Local) -> Sequence[Table]:
    if content.tables is not None:
        return content.tables(local)
    return [table for section in content.sections() for table in section.grids()]


def _json(content: Content) -> bytes:
    return json_text(content.data()).encode()


def _markdown(content: Content) -> bytes:
    return tables_markdown(_tables(content, content.local)).encode("utf-8", "backslashreplace")


def _page(content: Content) -> bytes:
    from vantric.output.pages import Page, page_text

    sections = content.sections()
    return page_text(Page(content.title or sections[0].title, sections, content.lead, content.changed)).encode()


def _workbook(content: Content) -> bytes:
    from vantric.output.workbook import workbook

    return workbook(content.sections(), content.title)


def _slides(content: Content) -> bytes:
    from vantric.output.slides import slides

    sections = content.sections()
    return slides(content.title or sections[0].title, sections, tables=content.slide_tables, lead=content.lead)


#: Ending -> what writes it.
WRITERS: dict[str, Callable[[Content], bytes]] = {
    "csv": _csv,
    "json": _json,
    "html": _page,
    "xlsx": _workbook,
    "pptx": _slides,
    "md": _markdown,
}
