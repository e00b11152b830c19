"""Results as the content of files: one writer for every ending, and a picture beside it where a format holds none."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

from vantric.base.lazily import dataclass
from vantric.base.safe_files import PICTURES, check_target, ending_of
from vantric.base.safe_text import json_text
from vantric.core.messages.formatter import PLAIN, Formatter
from vantric.engines.source_paths import check_no_input
from vantric.errors import TargetError
from vantric.output.sections import Section
from vantric.tables.table import Table, stacked

if TYPE_CHECKING:
    from vantric.output.sections import ChartView


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
    tables: Callable[[Formatter], Sequence[Table]] | None = None
    data: Callable[[], dict[str, Any]] = dict
    local: Formatter = PLAIN
    slide_tables: bool = False
    title: str = ""
    lead: str = ""
    changed: tuple[str, ...] = ()


def write_content(content: Content, ending: str) -> bytes:
    """Return a result as a file of an ending."""
    return WRITERS[ending](content)


def _csv(content: Content) -> bytes:
    from vantric.output.markup import csv_text

    return csv_text(*stacked(_tables(content, PLAIN))).encode("utf-8", "backslashreplace")


def _tables(content: Content, local: Formatter) -> Sequence[Table]:
    if content.tables is not None:
        return content.tables(local)
    return [table for section in content.sections() for table in section.grids()]


def _json(content: Content) -> bytes:
    return json_text(content.data()).encode()


def _markdown(content: Content) -> bytes:
    from vantric.output.markup import tables_markdown

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


Contents = list[tuple[Path, bytes]]
#: By this a file beside is known as a picture of ours, which may be replaced.
_OURS = b'aria-labelledby="chart-title chart-description"'


def contents_of(
    target: Path, kind: str, content: Content, *, pictures: Sequence[Path] = (), sources: Sequence[str] = ()
) -> Contents:
    """Return the files of a result.

    Parameters
    ----------
    target, kind
        The file that was asked for, and its ending.
    content
        What it is written from.
    pictures
        Pictures of the same chart that are written too: a ``.md`` shows one of them.
    sources
        Files that nothing may replace.

    Raises
    ------
    TargetError
        If a picture would have to replace a file that is not one.
    """
    if kind != "md":
        return [(target, write_content(content, kind))]
    from vantric.output.markup import picture_line, section_markdown

    section = content.sections()[0]
    views, beside = section.views(), beside_of(target, pictures)
    picture = picture_line(section, views[0].chart, beside, target) if views else ""
    text = (
        section_markdown(section, picture)
        if content.tables is None
        else picture + write_content(content, kind).decode()
    )
    pairs = [(target, text.encode("utf-8", "backslashreplace"))]
    if not views or beside in pictures:
        return pairs
    return [*pairs, (beside, picture_of(views[0], beside, sources))]


def beside_of(target: Path, pictures: Sequence[Path], number: int = 0) -> Path:
    """Return the picture that a text shows: one that is written anyway, or one beside it of the same name."""
    showable = [picture for picture in pictures if ending_of(picture) in PICTURES[:2]]
    if showable:
        return showable[0]
    return target.with_name(f"{target.stem}{f'-{number}' if number else ''}.svg")


def picture_of(view: ChartView, path: Path, sources: Sequence[str] = ()) -> bytes:
    """Return the picture of a view, to be written at a path that nobody named: a file of another kind stays."""
    from vantric.rendering.pictures import picture

    check_target(path)
    check_no_input(path, list(sources))
    if path.exists() and (not path.is_file() or _OURS not in path.read_bytes()[:4096]):
        raise TargetError(
            f"'{path}' is there and is no picture of a chart: the picture of the text would replace it; move it, or "
            "name a picture of its own"
        )
    return picture(view.chart, "svg")
