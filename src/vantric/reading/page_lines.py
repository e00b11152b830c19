"""Lines of a table that are no records: headings repeated, page feet, rules, headings of sections."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from typing import Any, Literal, TypeAlias

from vantric.base.lazily import compiled
from vantric.core.counts.provenance import Note
from vantric.core.numbers.number_format import counted
from vantric.reading.headers import filled
from vantric.reading.headings import one_line_name

LineKind: TypeAlias = Literal["header", "page", "section"]
_PAGE = compiled(
    r"[\s\-–—]*(?:(?:page|seite|blatt|p[áa]gina|pagina|strana|strona|sida|side|sivu|oldal|sayfa|стр(?:аница|\.)?|σελίδα)"
    r"\s*(?:no\.?|nr\.?)?\s*\d+(?:\s*(?:/|of|von|de|di|sur|van|z|ze|av|af|из|от)\s*\d+)?|第\s*\d+\s*[页頁ページ]+|\d+\s*/\s*\d+"
    r"|(?:printed|gedruckt|imprimé|impreso|stampato|generated|exported|report date|run date|druckdatum)\b.*\d{2,4}.*"
    r"|continued(?: on next page)?|fortsetzung.*|suite.*page)[\s\-–—.]*",
    re.IGNORECASE,
)
#: A rule of signs, with or without a word in it: "=====", "--- Press ---".
_RULE = compiled(r"\s*[=\-–—_*#~.]{3,}(?:.*[=\-–—_*#~.]{3,})?\s*")
#: Columns of a table in which a row of one cell is the heading of a section, and how full its other rows are.
_FEWEST_COLUMNS, _FULL = 3, 2 / 3
#: Headings that divide a table of two columns, and rows that follow each of them, at least.
_FEWEST_SECTIONS, _FEWEST_ROWS = 2, 2
#: Lines that a note names.
_MOST_NAMED = 3


def page_lines(rows: Mapping[int, Sequence[Any]], header: Sequence[Any]) -> dict[int, LineKind]:
    """Return the rows that are no records.

    Parameters
    ----------
    rows
        Row -> its cells.
    header
        The cells of the heading.
    """
    names = [one_line_name(cell).casefold() for cell in header]
    width = len([name for name in names if name])
    lines: dict[int, LineKind] = {}
    alone: list[int] = []
    for row, cells in rows.items():
        values = filled(cells)
        if len(values) > 1 and _is_heading(cells, names):
            lines[row] = "header"
        elif len(values) == 1 and width > 1 and isinstance(values[0], str):
            if is_page_line(values[0]):
                lines[row] = "page"
            else:
                alone.append(row)
    others = {row: len(filled(cells)) for row, cells in rows.items() if row not in lines and row not in alone}
    is_full = bool(others) and min(others.values()) >= _FULL * width
    if is_full and (width >= _FEWEST_COLUMNS or _divides(alone, list(others))):
        lines |= dict.fromkeys(alone, "section")
    return lines


def _divides(alone: Sequence[int], others: Sequence[int]) -> bool:
    """Whether labels alone divide a table of two columns: the first row is one, and rows follow each of several.

    A single one could be a count that is missing.
    """
    if len(alone) < _FEWEST_SECTIONS or alone[0] > others[0]:
        return False
    ends = [*alone[1:], others[-1] + 1]
    return all(sum(start < row < end for row in others) >= _FEWEST_ROWS for start, end in zip(alone, ends, strict=True))


def is_page_line(text: str) -> bool:
    """Whether a cell that stands alone is the foot of a page, or a rule."""
    return bool(_PAGE.fullmatch(text) or _RULE.fullmatch(text))


def _is_heading(cells: Sequence[Any], names: Sequence[str]) -> bool:
    """Whether a row repeats the heading, whatever its case and blanks."""
    return len(cells) == len(names) and all(
        one_line_name(cell).strip().casefold() == name for cell, name in zip(cells, names, strict=True)
    )


def notes_on(place: str, unit: str, lines: Mapping[int, LineKind], numbers: Mapping[int, int]) -> list[Note]:
    """Return the notes on rows that are left out since they are no records.

    Parameters
    ----------
    place, unit
        What messages call the source and a row of it.
    lines
    numbers
        Row -> the number that people know it by.
    """
    notes = []
    for kind, text in (
        ("header", "the header is repeated in {}; left out there"),
        ("page", "{} of page feet and rules, left out: {}"),
        ("section", "{} that hold a label and nothing else, taken for headings of sections: {}"),
    ):
        code = "header-again"
        if kind == "page":
            code = "page-lines"
        elif kind == "section":
            code = "section-lines"
        rows = [row for row, value in lines.items() if value == kind]
        if rows:
            named = ", ".join(str(numbers[row]) for row in rows[:_MOST_NAMED])
            named += f" and {len(rows) - _MOST_NAMED} more" if len(rows) > _MOST_NAMED else ""
            amount = counted(len(rows), unit)
            clause = text.format(f"{unit} {named}") if kind == "header" else text.format(amount, f"{unit} {named}")
            notes.append(Note(code, f"{place}: {clause}"))
    return notes
