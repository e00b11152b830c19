"""Tables as HTML, for notebooks: their style is in them."""

from __future__ import annotations

from collections.abc import Sequence

from vantric.cleaning import escaped
from vantric.core.counting import ParetoTable
from vantric.reports.cells import Cells, pareto_cells, table_note
from vantric.reports.sentence import pareto_sentence


def pareto_html(table: ParetoTable, *, most: int = 60) -> str:
    """Return the table as HTML, its sentence as the caption; at most `most` rows, the others counted."""
    cells = pareto_cells(table)
    inside = table.cutoff.count if table.cutoff else 0
    strong = range(inside)
    more = f"... and {len(cells.rows) - most} more categories" if len(cells.rows) > most else ""
    found = table_html(cells, caption=pareto_sentence(table), strong=strong, most=most, more=more)
    note = table_note(table)
    return found + (f'<p class="note">{escaped(note)}</p>' if note else "")


def table_html(
    cells: Cells, *, caption: str, strong: Sequence[int] = (), most: int | None = None, more: str = ""
) -> str:  # fmt: skip
    """Return cells as an HTML table; rows that are `strong` stand out, the total is the foot."""
    head = "".join(
        f'<th scope="col" style="{_side(n, cells)}">{escaped(name)}</th>' for n, name in enumerate(cells.head)
    )
    body = [_row(row, cells, strong=place in strong) for place, row in enumerate(cells.rows[:most])]
    if more:
        body.append(f'<tr><td></td><td colspan="{len(cells.head) - 1}">{escaped(more)}</td></tr>')
    foot = _row(cells.total, cells, strong=False) if any(cells.total) else ""
    return (
        f'<table><caption style="text-align:left">{escaped(caption)}</caption>'
        f"<thead><tr>{head}</tr></thead><tbody>{''.join(body)}</tbody><tfoot>{foot}</tfoot></table>"
    )


def plain_html(head: Sequence[str], rows: Sequence[Sequence[str]], *, caption: str) -> str:
    """Return cells as an HTML table, the first column to the left, the last row as the foot."""
    plain = [tuple(row) for row in rows]
    return table_html(Cells(tuple(head), tuple(plain[:-1]), plain[-1], frozenset({0})), caption=caption)


def _row(row: Sequence[str], cells: Cells, *, strong: bool) -> str:
    weight = ";font-weight:bold" if strong else ""
    inner = (f'<td style="{_side(n, cells)}{weight}">{escaped(cell)}</td>' for n, cell in enumerate(row))
    return f"<tr>{''.join(inner)}</tr>"


def _side(column: int, cells: Cells) -> str:
    return f"text-align:{'left' if column in cells.left else 'right'}"
