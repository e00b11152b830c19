"""Tables and sections in Markdown."""

from __future__ import annotations

import os
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING
from urllib.parse import quote

from vantric.base.safe_text import visible
from vantric.core.numbers.number_format import one_line
from vantric.tables.localize import Fixed, Local

if TYPE_CHECKING:
    from vantric.core.charts import Chart, PanelChart
    from vantric.core.review import Finding
    from vantric.output.sections import Section
    from vantric.tables.table import Table


def markdown_table(head: Sequence[str], rows: Sequence[Sequence[str]], *, left: frozenset[int]) -> str:
    """Return a Markdown table in which no cell is markup."""
    rule = " | ".join(":---" if place in left else "---:" for place in range(len(head)))
    lines = [f"| {' | '.join(map(markdown_cell, row))} |" for row in (head, *rows)]
    return "\n".join([lines[0], f"| {rule} |", *lines[1:]]) + "\n"


def markdown_cell(text: str) -> str:
    """Return a cell in which nothing is markup."""
    text = visible(text).replace("\n", " ")
    for sign in "\\`*_{}[]<>|#~$":
        text = text.replace(sign, f"\\{sign}")
    return text


def picture_line(section: Section, chart: Chart | PanelChart, picture: Path, target: Path) -> str:
    """Return what shows a picture in a text that is written at `target`, and the sentence of its section."""
    place = Path(os.path.relpath(picture, target.parent)).as_posix()
    said = f"{markdown_cell(section.sentence)}\n\n" if section.sentence else ""
    name = markdown_cell(one_line(chart.title) or section.title)
    return f"![{name}]({quote(place, errors='surrogateescape')})\n\n{said}"


def section_markdown(section: Section, picture: str = "", *, level: int = 1) -> str:
    """Return a section as Markdown: heading, picture and sentence, tables, findings, notes."""
    parts = [f"{'#' * level} {markdown_cell(section.title)}\n\n" if section.title else ""]
    parts.append(picture or (f"{markdown_cell(section.sentence)}\n\n" if section.sentence else ""))
    if section.text:
        parts.append(f"{section.text.strip()}\n\n")
    for grid in section.grids():
        parts.append(f"**{markdown_cell(grid.title)}**\n\n" if grid.title else "")
        parts.append(f"{table_markdown(grid)}\n")
    if section.findings:
        lines = (f"- {_finding(one, section.local)}" for one in section.findings)
        parts.append("\n".join(lines) + "\n\n")
    base = [(Fixed("Base"), section.base)] if section.base else []
    parts += [f"{section.local.word(name)}: {markdown_cell(text)}  \n" for name, text in (*base, *section.notes)]
    return "".join(parts)


def _finding(one: Finding, local: Local) -> str:
    fix = f" ({markdown_cell(one.fix)})" if one.fix else ""
    return f"{local.word(Fixed(one.severity))}: {markdown_cell(one.message)}{fix}"


def table_markdown(table: Table) -> str:
    """Return a table as Markdown."""
    return markdown_table(table.heads(), table.shown_rows(), left=table.left)


def tables_markdown(tables: Sequence[Table]) -> str:
    """Return tables as Markdown, each with its notes under it; those of a drill-down behind their category."""
    parts = []
    for one in tables:
        parts.append(f"\n**{markdown_cell(one.path[-1])}**\n\n" if one.path else "")
        parts += [table_markdown(one), *(f"\n{markdown_cell(note)}\n" for note in one.notes)]
    return "".join(parts)
