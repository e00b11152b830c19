"""A Pareto table in a terminal: ranked rows with small bars, and the line where the cut-off falls."""

from __future__ import annotations

import io
import textwrap
from collections.abc import Iterable

from rich.cells import cell_len
from rich.console import Console
from rich.text import Text

from vantric.core.charting.paretochart import cut_words
from vantric.core.counting import ParetoTable
from vantric.core.numbers.shown import number_text, one_line
from vantric.core.reviewing import Finding
from vantric.report.grid import fit, set_right
from vantric.report.paretodata import shown_rows

_EIGHTHS = " ▏▎▍▌▋▊▉█"
_LONGEST_BAR, _SHORTEST_BAR, _SHORTEST_NAME = 40, 4, 8
_STRONG, _QUIET, _CUT = "bold blue", "dim", "green"


def pareto_view(table: ParetoTable, findings: Iterable[Finding], *, width: int, plain: bool, colour: bool) -> str:
    """Return the table as lines for a terminal.

    Parameters
    ----------
    table
        What to show.
    findings
        Warnings and notes stand under the table.
    width
        Columns of the terminal; at least 40 are used.
    plain
        Whether only ASCII signs may be used for bars and rules.
    colour
        Whether to colour the vital few.
    """
    lines = [*_head(table), Text(""), *_body(table, max(width, 40), plain), *_foot(findings, max(width, 40))]
    out = io.StringIO()
    console = Console(
        file=out, width=10_000, color_system="standard" if colour else None, force_terminal=colour, legacy_windows=False
    )
    for line in lines:
        line.rstrip()
        console.print(line, soft_wrap=True, highlight=False)
    return out.getvalue()


def _head(table: ParetoTable) -> list[Text]:
    subject = f"Pareto table of {one_line(table.origin.by)}" if table.origin.by else "Pareto table"
    source = f"{one_line(table.origin.source)}: " if table.origin.source else ""
    condition = f", where {one_line(table.origin.where)}" if table.origin.where else ""
    return [Text(subject, style="bold"), Text(f"{source}{table.tally.base()}{condition}")]


def _foot(findings: Iterable[Finding], width: int) -> list[Text]:
    lines = finding_lines(findings, width)
    return [Text(""), *(Text(line, style="yellow") for line in lines)] if lines else []


def finding_lines(findings: Iterable[Finding], width: int) -> list[str]:
    """Return findings as lines of a width, with hanging indents."""
    told = [f"{finding.severity}: {finding.message}" for finding in findings]
    return [line for text in told for line in textwrap.wrap(text, width, subsequent_indent="  ")]


def _body(table: ParetoTable, width: int, plain: bool) -> list[Text]:
    head = ("#", "Category", "Frequency", "Percent", "Cumulative", "")
    cells = [(rank, name, count, share, running) for rank, name, count, share, _, running, _ in shown_rows(table)]
    total = ("", "Total", number_text(table.total), "100.0 %", "")
    widths = [max(cell_len(row[n]) for row in (head, total, *cells)) for n in range(5)]
    fixed = widths[0] + sum(widths[2:]) + 2 * 5
    widths[1] = max(_SHORTEST_NAME, min(widths[1], width - fixed - _SHORTEST_BAR))
    room = min(_LONGEST_BAR, width - fixed - widths[1])
    peak = float(table.percents[0])
    inside = table.cutoff.count if table.cutoff else 0
    lines = [Text(_joined(head, widths), style="bold")]
    for place, (row, percent) in enumerate(zip(cells, table.percents.tolist(), strict=True)):
        line = Text(_joined(row, widths))
        if room >= _SHORTEST_BAR:
            line.append("  " + _bar(percent / peak, room, plain), style=_STRONG if place < inside else _QUIET)
        lines.append(line)
        if table.cutoff and place + 1 == inside:
            lines.append(_cut_line(table, sum(widths) + 8 + 2 + max(0, room), plain))
    lines.append(Text(_joined(total, widths), style="bold"))
    return lines


def _joined(cells: tuple[str, ...], widths: list[int]) -> str:
    """Set cells into columns: the category to the left and cut short, numbers to the right."""
    numbers = (set_right(cell, width) for cell, width in zip(cells[2:5], widths[2:], strict=True))
    return "  ".join([set_right(cells[0], widths[0]), fit(cells[1], widths[1]), *numbers])


def _bar(share: float, room: int, plain: bool) -> str:
    if plain:
        return "#" * max(1 if share else 0, round(share * room))
    eighths = max(1 if share else 0, round(share * room * 8))
    return "█" * (eighths // 8) + _EIGHTHS[eighths % 8].strip()


def _cut_line(table: ParetoTable, width: int, plain: bool) -> Text:
    cut = table.cutoff
    assert cut is not None
    words = f" {number_text(cut.percent)} % reached by {cut_words(cut, len(table))} "
    sign = "-" if plain else "─"
    return Text(sign * 3 + words + sign * max(3, width - len(words) - 3), style=_CUT)
