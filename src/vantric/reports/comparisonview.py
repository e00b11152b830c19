"""A comparison in a terminal."""

from __future__ import annotations

import textwrap

from rich.cells import cell_len

from vantric.core.counting import Comparison
from vantric.core.numbers.shown import one_line
from vantric.reports.cells import Cells
from vantric.reports.comparisondata import comparison_cells, comparison_notes
from vantric.reports.comparisonsentence import comparison_sentence
from vantric.reports.grid import grid_lines
from vantric.reports.local import PLAIN, Local

_SHORTEST_NAME = 12
_LEAVES_FIRST = ("Share of change", "Rank", "Points", "Change")


def comparison_view(found: Comparison, *, width: int, local: Local = PLAIN) -> list[str]:
    """Return a comparison as lines for a terminal; columns it has no room for are named under it."""
    by = found.before.origin.by
    title = local.titled("Comparison", one_line(by) if by else "")
    cells, gone = _narrowed(comparison_cells(found), width)
    cells = cells.localized(local)
    lines = grid_lines(cells.head, [*cells.rows, cells.total], width=width, left=cells.left)
    notes = [*comparison_notes(found), *([f"Not shown for want of room: {', '.join(gone)}"] if gone else [])]
    stated = [line for note in notes for line in textwrap.wrap(note, width, subsequent_indent="  ")]
    said = textwrap.wrap(comparison_sentence(found), width)
    return [title, *stated[:2], "", *lines, *stated[2:], "", *said]


def _narrowed(cells: Cells, width: int) -> tuple[Cells, list[str]]:
    """Leave out columns until the others fit beside a short name."""
    gone: list[str] = []
    for name in ("", *_LEAVES_FIRST):
        if name:
            gone.append(name)
        kept = [at for at, head in enumerate(cells.head) if head not in gone]
        rows = (cells.head, cells.total, *cells.rows)
        fixed = sum(max(cell_len(row[at]) for row in rows) + 2 for at in kept[1:])
        if fixed + _SHORTEST_NAME <= width:
            break
    picked = [tuple(row[at] for at in kept) for row in (cells.head, cells.total, *cells.rows)]
    return Cells(picked[0], tuple(picked[2:]), picked[1], cells.left), gone
