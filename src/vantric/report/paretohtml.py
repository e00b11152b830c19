"""A Pareto table as HTML, for notebooks and pages."""

from __future__ import annotations

from collections.abc import Sequence
from html import escape

from vantric.core.counting import ParetoTable
from vantric.core.numbers.shown import number_text
from vantric.report.paretodata import shown_rows
from vantric.report.sentence import pareto_sentence

_HEAD = ("Rank", "Category", "Frequency", "Percent", "Cumulative frequency", "Cumulative percent", "Class")
_TEXT_COLUMNS = {1, 6}


def pareto_html(table: ParetoTable, *, most: int = 60) -> str:
    """Return the table as one HTML element, its sentence as the caption; at most `most` rows, the others counted."""
    rows = shown_rows(table)
    inside = table.cutoff.count if table.cutoff else 0
    body = [_row(cells, strong=place < inside) for place, cells in enumerate(rows[:most])]
    if len(rows) > most:
        body.append(f'<tr><td></td><td colspan="6">... and {len(rows) - most} more categories</td></tr>')
    total = f'<tr><td></td><td style="text-align:left">Total</td><td>{number_text(table.total)}</td><td>100.0 %</td>'
    head = "".join(f'<th scope="col" style="text-align:{_side(n)}">{name}</th>' for n, name in enumerate(_HEAD))
    return (
        f'<table><caption style="text-align:left">{escape(pareto_sentence(table))}</caption>'
        f"<thead><tr>{head}</tr></thead><tbody>{''.join(body)}</tbody>"
        f'<tfoot>{total}<td colspan="3"></td></tr></tfoot></table>'
    )


def plain_html(head: Sequence[str], rows: Sequence[Sequence[str]], *, caption: str) -> str:
    """Return cells as an HTML table, the first column to the left, the last row as the foot."""
    titles = "".join(
        f'<th scope="col" style="text-align:{"right" if n else "left"}">{escape(t)}</th>' for n, t in enumerate(head)
    )
    lines = [
        "".join(f'<td style="text-align:{"right" if n else "left"}">{escape(cell)}</td>' for n, cell in enumerate(row))
        for row in rows
    ]
    body = "".join(f"<tr>{line}</tr>" for line in lines[:-1])
    return (
        f'<table><caption style="text-align:left">{escape(caption)}</caption><thead><tr>{titles}</tr></thead>'
        f"<tbody>{body}</tbody><tfoot><tr>{lines[-1]}</tr></tfoot></table>"
    )


def _row(cells: tuple[str, ...], *, strong: bool) -> str:
    weight = ";font-weight:bold" if strong else ""
    inner = (f'<td style="text-align:{_side(n)}{weight}">{escape(cell)}</td>' for n, cell in enumerate(cells))
    return f"<tr>{''.join(inner)}</tr>"


def _side(column: int) -> str:
    return "left" if column in _TEXT_COLUMNS else "right"
