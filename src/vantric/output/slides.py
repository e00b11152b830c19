"""Slides (Office Open XML, ISO/IEC 29500) through python-pptx: a slide a chart, with its picture and its sentence."""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import Any

from vantric.base.safe_files import without_times
from vantric.base.safe_text import markup
from vantric.core.messages.message import Message, Range
from vantric.core.numbers.number_format import text_line
from vantric.errors import MissingExtraError
from vantric.output.sections import Section
from vantric.tables.table import Table

_WIDE, _HIGH, _MARGIN = 13.333, 7.5, 0.5  # inches
#: Inches of a slide that a picture may take.
_PICTURE_HIGH = 5.1
_MOST_ROWS = 14  # of a table on a slide
_INK = "211A16"


def slides(title: str, sections: Sequence[Section], *, tables: bool = False, lead: str = "") -> bytes:
    """Return sections as slides.

    Parameters
    ----------
    title, lead
        Of the first slide, where there are several sections.
    sections
        One slide each, and its findings and sources in the notes.
    tables
        Whether each is followed by its table.

    Raises
    ------
    MissingExtraError
        If python-pptx is not installed.
    """
    try:
        from pptx import Presentation
        from pptx.util import Inches
    except ImportError:
        raise MissingExtraError("slides need python-pptx: install vantric[slides]") from None
    show: Any = Presentation()
    show.slide_width, show.slide_height = Inches(_WIDE), Inches(_HIGH)
    show.core_properties.title, show.core_properties.author = markup(title), "Vantric"
    show.core_properties.last_modified_by = "Vantric"
    if len(sections) > 1:
        _opening(show, title, lead, sections)
    for section in sections:
        _slide(show, section)
        for grid in section.grids() if tables else ():
            _table(show, section, grid)
    out = io.BytesIO()
    show.save(out)
    return without_times(out.getvalue())


def _opening(show: Any, title: str, lead: str, sections: Sequence[Section]) -> None:
    """Write the first slide: what it is about, and what changed since last time."""
    slide = _blank(show, title)
    texts = [lead] if lead else []
    texts += [f"{part.title}: {part.local.text(text)}" for part in sections for text in part.changed]
    _text(slide, "\n".join(texts or [section.title for section in sections]), 1.5, _HIGH - 2.2, size=16)


def _slide(show: Any, section: Section) -> None:
    from pptx.util import Inches

    slide = _blank(show, section.title)
    views = section.views()
    if not views:
        _text(slide, section.text or section.sentence, 1.3, _HIGH - 2, size=16)
    else:
        from vantric.rendering.pictures import picture

        chart = views[0].chart
        width, height = chart.size
        scale = min((_WIDE - 2 * _MARGIN) / width, _PICTURE_HIGH / height)
        left = (_WIDE - width * scale) / 2
        drawn = slide.shapes.add_picture(
            io.BytesIO(picture(chart, "png", tell=lambda _: None)), Inches(left), Inches(1.05), Inches(width * scale)
        )
        drawn.element.nvPicPr.cNvPr.set("descr", markup(section.local.text(chart.description) or section.sentence))
        drawn.name = "Chart"
        _text(slide, section.sentence, 1.15 + _PICTURE_HIGH, _HIGH - 1.3 - _PICTURE_HIGH, size=14)
    slide.notes_slide.notes_text_frame.text = _notes(section)


def _blank(show: Any, title: str) -> Any:
    """Return a new slide with its title."""
    from pptx.dml.color import RGBColor
    from pptx.util import Inches, Pt

    slide = show.slides.add_slide(show.slide_layouts[5])
    box = slide.shapes.title
    box.left, box.top, box.width, box.height = (
        Inches(_MARGIN),
        Inches(0.25),
        Inches(_WIDE - 2 * _MARGIN),
        Inches(0.75),
    )
    box.text_frame.text = markup(text_line(title, longest=120))
    run = box.text_frame.paragraphs[0]
    run.font.size, run.font.bold, run.font.color.rgb = Pt(26), True, _color(RGBColor)
    from pptx.enum.text import PP_ALIGN

    run.alignment = PP_ALIGN.LEFT
    return slide


def _color(kind: Any) -> Any:
    return kind.from_string(_INK)


def _text(slide: Any, text: str, top: float, high: float, *, size: int) -> None:
    """Write lines that are made smaller until they fit."""
    from pptx.dml.color import RGBColor
    from pptx.enum.text import MSO_ANCHOR
    from pptx.util import Inches, Pt

    wide = _WIDE - 2 * _MARGIN
    box = slide.shapes.add_textbox(Inches(_MARGIN), Inches(top), Inches(wide), Inches(high))
    frame = box.text_frame
    frame.word_wrap, frame.vertical_anchor = True, MSO_ANCHOR.TOP
    while size > 9 and _lines(text, wide, size) * size * 1.25 / 72 > high:
        size -= 1
    for index, line in enumerate(markup(text).split("\n")):
        paragraph = frame.paragraphs[0] if not index else frame.add_paragraph()
        paragraph.text = line
        paragraph.font.size, paragraph.font.color.rgb = Pt(size), _color(RGBColor)


def _lines(text: str, wide: float, size: int) -> int:
    """Return about how many lines a text takes."""
    signs = max(1, int(wide * 72 / (size * 0.52)))
    return sum(1 + len(line) // signs for line in text.split("\n"))


def _notes(section: Section) -> str:
    texts = [
        section.sentence,
        *(
            f"{section.local.text(name)}: {text}"
            for name, text in [(Message("base"), section.base), *section.notes]
            if text
        ),
    ]
    texts += [f"{section.local.say(item.severity)}: {item.message}; {item.fix}" for item in section.findings]
    return markup("\n".join(filter(None, texts)))


def _table(show: Any, section: Section, grid: Table) -> None:
    """Write a table as real tables, so many rows a slide."""
    for first in range(0, max(1, grid.rows), _MOST_ROWS):
        rows = range(first, min(grid.rows, first + _MOST_ROWS))
        title: str = grid.title or section.title
        if grid.rows > _MOST_ROWS:
            title = Message("rows of", title=title, range=Range(first + 1, rows[-1] + 1))
        slide = _blank(show, section.local.text(title))
        last = rows[-1] == grid.rows - 1 and any(grid.total)
        _cells(slide, grid, [*rows], last=last)


def _cells(slide: Any, grid: Table, rows: Sequence[int], *, last: bool) -> None:
    from pptx.util import Inches

    columns = [item for item in grid.columns if not item.view]
    high = 0.36 * (len(rows) + 1 + last)
    frame = slide.shapes.add_table(
        len(rows) + 1 + last, len(columns), Inches(_MARGIN), Inches(1.2), Inches(_WIDE - 2 * _MARGIN), Inches(high)
    )
    table = frame.table
    for index, column in enumerate(columns):
        right = column.kind != "text"
        own = grid.columns.index(column)
        _cell(table.cell(0, index), grid.heads()[own], right=right, bold=True)
        for line, row in enumerate(rows, 1):
            _cell(table.cell(line, index), grid.shown(row)[own], right=right, bold=row < grid.strong)
        if last:
            _cell(table.cell(len(rows) + 1, index), grid.shown_total()[own], right=right, bold=True)


def _cell(cell: Any, text: str, *, right: bool, bold: bool) -> None:
    from pptx.enum.text import PP_ALIGN
    from pptx.util import Pt

    cell.text = markup(text)
    paragraph = cell.text_frame.paragraphs[0]
    paragraph.font.size, paragraph.font.bold = Pt(12), bold
    paragraph.alignment = PP_ALIGN.RIGHT if right else PP_ALIGN.LEFT
    cell.margin_top = cell.margin_bottom = 20000
