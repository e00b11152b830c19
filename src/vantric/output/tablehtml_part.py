"""Tables as HTML, for notebooks: their style is in them."""

from __future__ import annotations

from collections.abc import Sequence

from vantric.base.safe_text import escaped
from vantric.core.counts import ParetoTable
from vantric.tables.pareto import pareto_table, table_note
from vantric.tables.sentence_part import pareto_sentence
from vantric.tables.table import Column, Table


def pareto_html(table: ParetoTable, *, most: int = 60) -> str:
    """Return the table as HTML, its sentence as the caption; at most `most` rows, the others counted."""
    more = f"... and {len(table) - most} more categories" if len(table) > most else ""
    found = table_html(pareto_table(table), caption=pareto_sentence(table), most=most, more=more)
    note = table_note(table)
    return found + (f'<p class="note">{escaped(note)}</p>' if note else "")


def table_html(table: Table, *, caption: str = "", most: int | None = None, more: str = "") -> str:
    """Return a table as HTML; its strong rows stand out, the total is the foot."""
    sides = [f"text-align:{'left' if one.plain else 'right'}" for one in table.columns]
    head = "".join(
        f'<th scope="col" style="{side}">{escaped(name)}</th>' for name, side in zip(table.heads(), sides, strict=True)
    )
    rows = range(table.rows)[:most]
    body = [_row(table.shown(at), sides, strong=at < table.strong) for at in rows]
    if more:
        body.append(f'<tr><td></td><td colspan="{len(sides) - 1}">{escaped(more)}</td></tr>')
    foot = _row(table.shown_total(), sides, strong=False) if table.total else ""
    return (
        f'<table><caption style="text-align:left">{escaped(caption or table.caption)}</caption>'
        f"<thead><tr>{head}</tr></thead><tbody>{''.join(body)}</tbody><tfoot>{foot}</tfoot></table>"
    )


def plain_html(head: Sequence[str], rows: Sequence[Sequence[str]], *, caption: str) -> str:
    """Return cells as an HTML table, the first column to the left, the last row as the foot."""
    columns = [
        Column(name, texts := [row[at] for row in rows[:-1]], texts, "number" if at else "text", total=rows[-1][at])
        for at, name in enumerate(head)
    ]
    return table_html(Table(tuple(columns)), caption=caption)


def _row(row: Sequence[str], sides: Sequence[str], *, strong: bool) -> str:
    weight = ";font-weight:bold" if strong else ""
    inner = (f'<td style="{side}{weight}">{escaped(cell)}</td>' for cell, side in zip(row, sides, strict=True))
    return f"<tr>{''.join(inner)}</tr>"
