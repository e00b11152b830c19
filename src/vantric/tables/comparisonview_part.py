"""A comparison in a terminal."""

from __future__ import annotations

import textwrap
from dataclasses import replace

from vantric.core.counts import Comparison
from vantric.core.numbers.number_format import one_line
from vantric.tables.comparison import comparison_notes, comparison_table
from vantric.tables.comparisonsentence_part import comparison_sentence
from vantric.tables.grid_part import grid_lines
from vantric.tables.localize import PLAIN, Local
from vantric.tables.table import Table

_SHORTEST_NAME = 12
_LEAVES_FIRST = ("Share of change", "Rank", "Points", "Change")


def comparison_view(found: Comparison, *, width: int, local: Local = PLAIN) -> list[str]:
    """Return a comparison as lines for a terminal; columns it has no room for are named under it."""
    by = found.before.origin.by
    title = local.titled("Comparison", one_line(by) if by else "")
    table, gone = _narrowed(comparison_table(found), width)
    shown = table.in_language(local)
    lines = grid_lines(shown.heads(), shown.shown_rows(), width=width, left=shown.left)
    notes = [*comparison_notes(found), *([f"Not shown for want of room: {', '.join(gone)}"] if gone else [])]
    stated = [line for note in notes for line in textwrap.wrap(note, width, subsequent_indent="  ")]
    said = textwrap.wrap(comparison_sentence(found), width)
    return [title, *stated[:2], "", *lines, *stated[2:], "", *said]


def _narrowed(table: Table, width: int) -> tuple[Table, list[str]]:
    """Leave out columns until the others fit beside a short name."""
    from rich.cells import cell_len  # for terminals only

    gone: list[str] = []
    kept = table.columns
    for name in ("", *_LEAVES_FIRST):
        if name:
            gone.append(name)
        kept = tuple(one for one in table.columns if one.label not in gone)
        fixed = sum(max(map(cell_len, (one.label, one.total_text, *one.texts))) + 2 for one in kept[1:])
        if fixed + _SHORTEST_NAME <= width:
            break
    return replace(table, columns=kept), gone
