"""The parts of a section in a page: table, findings, notes. No element has a style of its own."""

from __future__ import annotations

from collections.abc import Sequence

from vantric.cleaning import escaped
from vantric.core.numbers.shown import counted
from vantric.core.reviewing import Finding
from vantric.reports.cells import Cells
from vantric.reports.findings import WRONG_HEAD, headline, wrong_cell
from vantric.reports.pages.figures import Ink
from vantric.reports.sections import Column, Grid

_MOST_CELLS = 60  # wrong cells of one finding


def table(grid: Grid, caption: str, ink: Ink, *, cut: bool = False) -> str:
    """Return a table; rows of a category carry its number, `cut` says that the strong rows are the vital few."""
    strong = grid.strong if cut else 0
    head = "".join(f'<th scope="col"{_classes(one)}>{escaped(one.name)}</th>' for one in grid.columns)
    rows = [_row(grid, at, ink, strong=at < strong) for at in range(grid.rows)]
    body, last = (rows[: -grid.last], rows[-grid.last :]) if grid.last else (rows, [])
    parts = [
        f"<caption>{escaped(caption)}</caption>" if caption else "", f"<thead><tr>{head}</tr></thead>",
        f"<tbody>{''.join(body)}</tbody>", f'<tbody class="last">{"".join(last)}</tbody>' if last else "",
    ]  # fmt: skip
    if any(grid.total):
        cells = (f"<td{_classes(one)}>{escaped(text)}</td>" for one, text in zip(grid.columns, grid.total, strict=True))
        parts.append(f"<tfoot><tr>{''.join(cells)}</tr></tfoot>")
    name = escaped(caption) or "Table"
    return f'<div class="scroll" tabindex="0" role="region" aria-label="{name}"><table>{"".join(parts)}</table></div>'


def _row(grid: Grid, at: int, ink: Ink, *, strong: bool) -> str:
    key = f' data-category="{ink.key(grid.labels[at])}"' if grid.keyed >= 0 and grid.labels else ""
    vital = ' class="vital"' if strong else ""
    cells = "".join(_cell(one, at, scope=place == grid.keyed) for place, one in enumerate(grid.columns))
    return f"<tr{key}{vital}>{cells}</tr>"


def _cell(column: Column, at: int, *, scope: bool) -> str:
    text = escaped(column.texts[at])
    if scope:
        return f'<th scope="row">{text}</th>'
    value = column.values[at]
    number = "" if column.kind == "text" or not isinstance(value, (int, float)) else f' data-v="{value!r}"'
    return f"<td{_classes(column)}{number}>{text}</td>"


def _classes(column: Column) -> str:
    names = [] if column.kind == "text" else ["n"]
    names += [f"only-{column.view}"] if column.view else []
    names += ["abc"] if column.name == "Class" else []
    return f' class="{" ".join(names)}"' if names else ""


def findings(found: Sequence[Finding]) -> str:
    """Return what the review says, errors first, each with its reason and its fix, and the cells that are wrong."""
    if not found:
        return ""
    order = ("error", "warning", "note")
    items = "".join(_finding(one) for one in sorted(found, key=lambda one: order.index(one.severity)))
    return f'<details class="findings" open><summary>{escaped(headline(found))}</summary><ul>{items}</ul></details>'


def _finding(one: Finding) -> str:
    where = f' <span class="where">({escaped(one.where)})</span>' if one.where else ""
    fix = f'<br><span class="fix">Fix: {escaped(one.fix)}</span>' if one.fix else ""
    wrong = _wrong_cells(one) if len(one.cells) > 1 else ""
    return f'<li class="{one.severity}"><b>{one.severity}</b> {escaped(one.message)}{where}{fix}{wrong}</li>'


def _wrong_cells(one: Finding) -> str:
    cells = Cells(WRONG_HEAD, tuple(map(wrong_cell, one.cells[:_MOST_CELLS])), (), frozenset({0, 1, 2}))
    head = "".join(f'<th scope="col">{escaped(name)}</th>' for name in cells.head)
    rows = "".join(f"<tr>{''.join(f'<td>{escaped(cell)}</td>' for cell in row)}</tr>" for row in cells.rows)
    more = len(one.cells) - _MOST_CELLS
    rest = f"<p>and {counted(more, 'cell')} more</p>" if more > 0 else ""
    return f"<table><thead><tr>{head}</tr></thead><tbody>{rows}</tbody></table>{rest}"


def notes(said: Sequence[tuple[str, str]]) -> str:
    """Return where the numbers come from, and what was done with them."""
    if not said:
        return ""
    items = "".join(f"<dt>{escaped(name)}</dt><dd>{escaped(text)}</dd>" for name, text in said)
    return f'<dl class="notes">{items}</dl>'
