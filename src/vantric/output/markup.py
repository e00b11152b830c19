"""Tables and sections as Markdown and as HTML for notebooks; cells of CSV that no spreadsheet runs as a formula."""

from __future__ import annotations

import os
import unicodedata
from collections.abc import Iterable, Sequence
from itertools import chain
from pathlib import Path
from typing import TYPE_CHECKING, Any
from urllib.parse import quote

from vantric.base.lazily import compiled
from vantric.base.safe_text import escaped
from vantric.core.counts import ParetoTable
from vantric.core.messages.formatter import Formatter
from vantric.core.messages.message import Message
from vantric.core.numbers.number_format import text_line
from vantric.output.prose import plain_markdown, plain_paragraph, prose_markdown
from vantric.tables.pareto import pareto_sentence, pareto_table, table_note
from vantric.tables.table import Table

if TYPE_CHECKING:
    from vantric.core.charts import Chart, PanelChart
    from vantric.core.review import Finding
    from vantric.output.sections import Section
    from vantric.tables.table import Table


def pareto_html(table: ParetoTable, *, most: int = 60) -> str:
    """Return the table as HTML, its sentence as the caption; at most `most` rows, the others counted."""
    more = Message("more categories", count=len(table) - most) if len(table) > most else ""
    text = table_html(pareto_table(table), caption=pareto_sentence(table), most=most, more=more)
    note = table_note(table)
    return text + (f'<p class="note">{escaped(note)}</p>' if note else "")


def table_html(table: Table, *, caption: str = "", most: int | None = None, more: str = "") -> str:
    """Return a table as HTML; its strong rows stand out, the total is the foot."""
    sides = [f"text-align:{'left' if column.plain else 'right'}" for column in table.columns]
    head = "".join(
        f'<th scope="col" style="{side}">{escaped(name)}</th>' for name, side in zip(table.heads(), sides, strict=True)
    )
    rows = range(table.rows)[:most]
    body = [_row(table.shown(row), sides, strong=row < table.strong) for row in rows]
    if more:
        body.append(f'<tr><td></td><td colspan="{len(sides) - 1}">{escaped(more)}</td></tr>')
    foot = _row(table.shown_total(), sides, strong=False) if table.total else ""
    return (
        f'<table><caption style="text-align:left">{escaped(caption or table.caption)}</caption>'
        f"<thead><tr>{head}</tr></thead><tbody>{''.join(body)}</tbody><tfoot>{foot}</tfoot></table>"
    )


def _row(row: Sequence[str], sides: Sequence[str], *, strong: bool) -> str:
    weight = ";font-weight:bold" if strong else ""
    inner = (f'<td style="{side}{weight}">{escaped(cell)}</td>' for cell, side in zip(row, sides, strict=True))
    return f"<tr>{''.join(inner)}</tr>"


#: What spreadsheets take for the start of a formula, in their full-width forms too.
_STARTS = ("=", "+", "-", "@", "\t", "\r", "\n", "＝", "＋", "－", "＠")

#: Signs for which a cell of CSV is quoted: some programs divide a line at semicolons, bars and tabs as well.
_SIGNS = compiled(r"[\",\r\n\0;|\t]")

#: How many rows of CSV are written together.
_BLOCK = 10_000

#: Kinds of leading signs that a spreadsheet may pass over, beside blanks: controls and formats.
_UNSEEN = ("Cc", "Cf")


def safe_text(value: Any) -> Any:
    """Return a text cell behind an apostrophe if a spreadsheet would run it; anything else as it is.

    The apostrophe is what spreadsheets themselves put before such a text, as OWASP advises against CSV injection.
    """
    if not isinstance(value, str) or value[:1].isalnum():
        return value
    value = value.replace("\0", "\ufffd")
    strange = next((sign for sign in value if not (sign.isspace() or unicodedata.category(sign) in _UNSEEN)), "")
    return f"'{value}" if value.startswith(_STARTS) or strange in _STARTS else value


def csv_text(head: Sequence[str], rows: Sequence[Sequence[Any]]) -> str:
    """Return rows as CSV (RFC 4180, with plain line ends), made safe."""
    blocks = (rows[start : start + _BLOCK] for start in range(0, len(rows), _BLOCK))
    return "".join(chain.from_iterable(map(_lines, chain(([head],), blocks))))


def _lines(rows: Sequence[Sequence[Any]]) -> Iterable[str]:
    """Return lines of CSV; the cells of a column are looked at one by one only where one of them has a sign."""
    if len(set(map(len, rows))) > 1:
        return chain.from_iterable(_lines([row]) for row in rows)
    lines = map(",".join, zip(*map(_csv_cells, zip(*rows, strict=True)), strict=True))
    return (f"{line or _quoted('')}\n" for line in lines)


def _csv_cells(column: Sequence[Any]) -> list[str]:
    texts = [
        "" if cell is None else str(safe_text(cell) if isinstance(cell, str) and not cell[:1].isalnum() else cell)
        for cell in column
    ]
    if _SIGNS.search("".join(texts)):
        return [_quoted(text) if _SIGNS.search(text) else text for text in texts]
    return texts


def _quoted(text: str) -> str:
    doubled = text.replace('"', '""')
    return f'"{doubled}"'


def markdown_table(head: Sequence[str], rows: Sequence[Sequence[str]], *, left: frozenset[int]) -> str:
    """Return a Markdown table in which no cell is markup."""
    rule = " | ".join(":---" if place in left else "---:" for place in range(len(head)))
    lines = [f"| {' | '.join(map(plain_markdown, row))} |" for row in (head, *rows)]
    return "\n".join([lines[0], f"| {rule} |", *lines[1:]]) + "\n"


def picture_line(section: Section, chart: Chart | PanelChart, picture: Path, target: Path) -> str:
    """Return what shows a picture in a text that is written at `target`, and the sentence of its section."""
    place = Path(os.path.relpath(picture, target.parent)).as_posix()
    text = f"{plain_paragraph(section.sentence)}\n\n" if section.sentence else ""
    name = plain_markdown(text_line(chart.title) or section.title)
    return f"![{name}]({quote(place, errors='surrogateescape')})\n\n{text}"


def section_markdown(section: Section, picture: str = "", *, level: int = 1) -> str:
    """Return a section as Markdown: heading, picture and sentence, tables, findings, notes."""
    parts = [f"{'#' * level} {plain_markdown(section.title)}\n\n" if section.title else ""]
    parts.append(picture or (f"{plain_paragraph(section.sentence)}\n\n" if section.sentence else ""))
    if section.text:
        parts.append(f"{prose_markdown(section.text)}\n")
    for grid in section.grids():
        parts.append(f"**{plain_markdown(grid.title)}**\n\n" if grid.title else "")
        parts.append(f"{table_markdown(grid)}\n")
    if section.findings:
        lines = (f"- {_finding(finding, section.local)}" for finding in section.findings)
        parts.append("\n".join(lines) + "\n\n")
    base = [(Message("base"), section.base)] if section.base else []
    parts += [f"{section.local.text(name)}: {plain_markdown(text)}  \n" for name, text in (*base, *section.notes)]
    return "".join(parts)


def _finding(finding: Finding, local: Formatter) -> str:
    fix = f" ({plain_markdown(finding.fix)})" if finding.fix else ""
    return f"{local.say(finding.severity)}: {plain_markdown(finding.message)}{fix}"


def table_markdown(table: Table) -> str:
    """Return a table as Markdown."""
    return markdown_table(table.heads(), table.shown_rows(), left=table.left)


def tables_markdown(tables: Sequence[Table]) -> str:
    """Return tables as Markdown, each with its notes under it; those of a drill-down behind their category."""
    parts = []
    for table in tables:
        parts.append(f"\n**{plain_markdown(table.path[-1])}**\n\n" if table.path else "")
        parts += [table_markdown(table), *(f"\n{plain_paragraph(table.local.text(note))}\n" for note in table.notes)]
    return "".join(parts)
