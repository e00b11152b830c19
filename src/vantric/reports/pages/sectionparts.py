"""The parts of a section in a page: table, findings, notes. No element has a style of its own."""

from __future__ import annotations

from collections.abc import Sequence

from vantric.cleaning import escaped
from vantric.core.numbers.shown import counted
from vantric.core.reviewing import Finding
from vantric.reports.findings import WRONG_HEAD, headline, wrong_cell
from vantric.reports.local import PLAIN, Fixed, Local
from vantric.reports.pages.figures import Ink
from vantric.reports.table import Column, Table

_MOST_CELLS = 60  # wrong cells of one finding


def table(grid: Table, caption: str, ink: Ink, *, cut: bool = False) -> str:
    """Return a table; rows of a category carry its number, `cut` says that the strong rows are the vital few."""
    strong = grid.strong if cut else 0
    heads = zip(grid.heads(), grid.columns, strict=True)
    head = "".join(f'<th scope="col"{_classes(one)}>{escaped(name)}</th>' for name, one in heads)
    rows = [_row(grid, at, ink, strong=at < strong) for at in range(grid.rows)]
    body, last = (rows[: -grid.last], rows[-grid.last :]) if grid.last else (rows, [])
    parts = [
        f"<caption>{escaped(caption)}</caption>" if caption else "", f"<thead><tr>{head}</tr></thead>",
        f"<tbody>{''.join(body)}</tbody>", f'<tbody class="last">{"".join(last)}</tbody>' if last else "",
    ]  # fmt: skip
    if any(grid.total):
        pairs = zip(grid.columns, grid.shown_total(), strict=True)
        cells = (f"<td{_classes(one)}>{escaped(text)}</td>" for one, text in pairs)
        parts.append(f"<tfoot><tr>{''.join(cells)}</tr></tfoot>")
    name = escaped(caption or grid.local.word(Fixed("Table")))
    return f'<div class="scroll" tabindex="0" role="region" aria-label="{name}"><table>{"".join(parts)}</table></div>'


def _row(grid: Table, at: int, ink: Ink, *, strong: bool) -> str:
    key = f' data-category="{ink.key(grid.labels[at])}"' if grid.keyed >= 0 and grid.labels else ""
    vital = ' class="vital"' if strong else ""
    texts = grid.shown(at)
    cells = "".join(_cell(one, at, texts[place], scope=place == grid.keyed) for place, one in enumerate(grid.columns))
    return f"<tr{key}{vital}>{cells}</tr>"


def _cell(column: Column, at: int, shown: str, *, scope: bool) -> str:
    text = escaped(shown)
    if scope:
        return f'<th scope="row">{text}</th>'
    value = column.values[at]
    number = "" if column.kind == "text" or not isinstance(value, (int, float)) else f' data-v="{value!r}"'
    return f"<td{_classes(column)}{number}>{text}</td>"


def _classes(column: Column) -> str:
    names = [] if column.kind == "text" else ["n"]
    names += [f"only-{column.view}"] if column.view else []
    names += ["abc"] if column.label == "Class" else []
    return f' class="{" ".join(names)}"' if names else ""


def findings(found: Sequence[Finding], local: Local = PLAIN) -> str:
    """Return what the review says, errors first, each with its reason and its fix, and the cells that are wrong."""
    if not found:
        return ""
    order = ("error", "warning", "note")
    items = "".join(_finding(one, local) for one in sorted(found, key=lambda one: order.index(one.severity)))
    said = f"<summary{english(local)}>{escaped(headline(found))}</summary>"
    return f'<details class="findings" open>{said}<ul>{items}</ul></details>'


def english(local: Local) -> str:
    """Return the attribute that marks a sentence as English in a page of another language."""
    return "" if local.tongue.plain else ' lang="en"'


def _finding(one: Finding, local: Local) -> str:
    where = f' <span class="where">({escaped(one.where)})</span>' if one.where else ""
    kind, mark = local.word(Fixed(one.severity)), english(local)
    way = f"{escaped(local.word(Fixed('Fix')))}: {_marked(one.fix, mark)}"
    fix = f'<br><span class="fix">{way}</span>' if one.fix else ""
    wrong = _wrong_cells(one) if len(one.cells) > 1 else ""
    said = _marked(one.message, mark)
    return f'<li class="{one.severity}"><b>{escaped(kind)}</b> {said}{where}{fix}{wrong}</li>'


def _tongue_of(text: str, name: str, local: Local) -> str:
    """Return the mark of what is a sentence and no name of the data."""
    return english(local) if name in ("Note", "Data") and not isinstance(text, Fixed) else ""


def _marked(text: str, mark: str) -> str:
    return f"<span{mark}>{escaped(text)}</span>" if mark else escaped(text)


def _wrong_cells(one: Finding) -> str:
    head = "".join(f'<th scope="col">{escaped(name)}</th>' for name in WRONG_HEAD)
    cells = map(wrong_cell, one.cells[:_MOST_CELLS])
    rows = "".join(f"<tr>{''.join(f'<td>{escaped(cell)}</td>' for cell in row)}</tr>" for row in cells)
    more = len(one.cells) - _MOST_CELLS
    rest = f"<p>and {counted(more, 'cell')} more</p>" if more > 0 else ""
    return f"<table><thead><tr>{head}</tr></thead><tbody>{rows}</tbody></table>{rest}"


def notes(said: Sequence[tuple[str, str]], local: Local = PLAIN) -> str:
    """Return where the numbers come from, and what was done with them."""
    if not said:
        return ""
    items = "".join(
        f"<dt>{escaped(local.word(name))}</dt><dd{_tongue_of(text, name, local)}>{escaped(local.word(text))}</dd>"
        for name, text in said
    )
    return f'<dl class="notes">{items}</dl>'
