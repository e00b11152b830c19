"""Cells set in columns, for terminals."""

from __future__ import annotations

from collections.abc import Sequence

_SHORTEST = 8
_GAP = "  "


def fit(text: str, width: int) -> str:
    """Return text cut short or filled up to a number of terminal columns."""
    from rich.cells import cell_len, set_cell_size  # for terminals only

    if cell_len(text) > width:
        return set_cell_size(text, width - 1).rstrip() + "…"
    return set_cell_size(text, width)


def set_right(text: str, width: int) -> str:
    """Return text with blanks before it up to a number of terminal columns."""
    from rich.cells import cell_len

    return " " * (width - cell_len(text)) + text


def grid_lines(
    head: Sequence[str], rows: Sequence[Sequence[str]], *, width: int, left: frozenset[int] = frozenset({0})
) -> list[str]:
    """Return lines of cells in columns: those of `left` to the left, the others to the right.

    Columns of text are cut short where the lines would be wider than `width`, the widest first.
    """
    from rich.cells import cell_len

    widths = [max(cell_len(row[place]) for row in (head, *rows)) for place in range(len(head))]
    over = sum(widths) + len(_GAP) * (len(widths) - 1) - width
    for place in sorted(left, key=lambda place: -widths[place]):
        taken = max(0, min(over, widths[place] - _SHORTEST))
        widths[place] -= taken
        over -= taken
    return [
        _GAP.join(
            fit(cell, widths[place]) if place in left else set_right(cell, widths[place])
            for place, cell in enumerate(row)
        ).rstrip()
        for row in (head, *rows)
    ]
