"""A Pareto table in a terminal: ranked rows with small bars, and the line where the cutoff falls."""

from __future__ import annotations

import io
import textwrap
from collections.abc import Iterable
from dataclasses import replace
from typing import TypeAlias

from rich.cells import cell_len

from vantric.base.safe_text import visible
from vantric.core.counts import Cutoff, ParetoTable
from vantric.core.counts.pareto_table import localize
from vantric.core.messages.formatter import PLAIN, Composed, Formatter
from vantric.core.messages.message import List, Message
from vantric.core.numbers.number_format import one_line
from vantric.core.review import Finding
from vantric.tables.pareto import cut_line, pareto_table, table_notes_beyond
from vantric.tables.statements import parts_words, vital_of
from vantric.tables.table import Table, fit, set_right, table_title, wrapped

#: Bars of eighths of a sign.
_EIGHTHS = " ▏▎▍▌▋▊▉█"
#: Signs of bars and names, as wide as the terminal allows.
_LONGEST_BAR, _SHORTEST_BAR, _SHORTEST_NAME = 40, 4, 8
#: Styles that can be told apart on dark and light terminals.
_STRONG, _QUIET, _CUT = "bold blue", "dim", "green"
#: A line of the terminal: texts and their styles.
Line: TypeAlias = tuple[tuple[str, str], ...]
#: Signs that move the cursor are dropped: a bell, a step back, feeds.
_CONTROLS = dict.fromkeys((7, 8, 11, 12, 13))


def _line(text: str, style: str = "") -> Line:
    return ((text, style),)


def pareto_view(
    table: ParetoTable,
    findings: Iterable[Finding],
    *,
    width: int,
    plain: bool,
    color: bool,
    formatter: Formatter = PLAIN,
    headline: str = "",
) -> str:
    """Return the table as lines for a terminal.

    Parameters
    ----------
    table
        What to show.
    findings
        Warnings and notes are under the table.
    width
        Columns of the terminal; at least 40 are used.
    plain
        Whether only ASCII signs may be used for bars and rules.
    color
        Whether to color the vital few.
    formatter
        The language of fixed words and numbers.
    headline
        What the table shows, in few words; empty for nothing.
    """
    width = max(width, 40)
    table = localize(table, formatter.say("rest label"))
    lines = [
        *_head(table, width, formatter, headline),
        _line(""),
        *_body(table, width, plain, formatter),
        *_within(table, width, plain, formatter),
    ]
    text = formatter.text(parts_words(table.strata, vital_of(table)))
    lines += [_line(""), *map(_line, textwrap.wrap(text, width))] if text else []
    lines += _foot(findings, width, formatter)
    return _colored(lines) if color else "".join(f"{_shown(line)}\n" for line in lines)


def _shown(line: Line) -> str:
    return visible("".join(text for text, _ in line).rstrip().translate(_CONTROLS))


def _colored(lines: Iterable[Line]) -> str:
    from rich.console import Console  # for terminals with colors only
    from rich.text import Text

    out = io.StringIO()
    console = Console(file=out, width=10_000, color_system="standard", force_terminal=True, legacy_windows=False)
    for spans in lines:
        line = Text("").join(Text(text, style=style) for text, style in spans)
        line.rstrip()
        line.plain = visible(line.plain)
        console.print(line, soft_wrap=True, highlight=False)
    return out.getvalue()


def _head(table: ParetoTable, width: int, formatter: Formatter, headline: str) -> list[Line]:
    origin = table.origin
    kind = "pareto table" if table.cuts or table.ordering == "frequency" else "frequency table"
    split = "" if table.strata is None else table.strata.split
    title = formatter.text(table_title(kind, origin.by or "", split))
    lines = wrapped([table.tally.base(), origin.note()], width, formatter)
    if not headline:
        return [_line(title, "bold"), *map(_line, lines)]
    message = (_line(line, "bold") for line in textwrap.wrap(headline, width))
    return [*message, _line(title), *map(_line, lines)]


def _within(table: ParetoTable, width: int, plain: bool, formatter: Formatter) -> list[Line]:
    """Return the tables of a drill-down, one under the other."""
    lines = []
    for name, inner in table.within:
        head = Message("within", label=one_line(name), column=one_line(inner.origin.by or ""), base=inner.tally.base())
        lines += [_line(""), _line(formatter.text(head), "bold")]
        lines += [*_body(inner, width, plain, formatter), *_within(inner, width, plain, formatter)]
    return lines


def _foot(findings: Iterable[Finding], width: int, formatter: Formatter) -> list[Line]:
    lines = finding_lines(findings, width, formatter)
    return [_line(""), *(_line(line, color) for line, color in lines)] if lines else []


#: Severity -> the color of what is said in a terminal.
COLORS = {"error": "red", "warning": "yellow", "note": ""}


def finding_lines(findings: Iterable[Finding], width: int, formatter: Formatter = PLAIN) -> list[tuple[str, str]]:
    """Return findings as lines of a width, with hanging indents, each with its color; empty for none."""
    return [
        (line, COLORS[finding.severity])
        for finding in findings
        for line in wrapped([_stated(finding, formatter)], width)
    ]


def _stated(finding: Finding, formatter: Formatter) -> str:
    """Return a finding in one line; of what is wrong or risky with the way on."""
    fix = f"; {formatter.text(finding.fix)}" if finding.fix and finding.severity != "note" else ""
    return f"{formatter.say(finding.severity)}: {formatter.text(finding.message)}{fix}"


def _body(table: ParetoTable, width: int, plain: bool, formatter: Formatter) -> list[Line]:
    narrow, left_out = _narrowed(pareto_table(table), width)
    short = {"Rank": "#", "Cumulative percent": Message("cumulative")}
    columns = [
        replace(column, label=short.get(column.label, column.label)) if isinstance(column.label, Composed) else column
        for column in narrow.columns
    ]
    narrow = replace(narrow, columns=tuple(columns), local=formatter.bare())
    head, rows, total = narrow.heads(), narrow.shown_rows(total=False), narrow.shown_total()
    widths = [max(cell_len(row[n]) for row in (head, total, *rows)) for n in range(len(head))]
    fixed = sum(widths) - widths[1] + 2 * len(widths)
    widths[1] = max(_SHORTEST_NAME, min(widths[1], width - fixed - _SHORTEST_BAR))
    room = min(_LONGEST_BAR, width - fixed - widths[1])
    percents = table.shares
    peak = max(percents)
    inside = table.cutoff.count if table.cutoff else len(table)
    lines = [_line(_joined(head, widths), "bold")]
    across = fixed + widths[1] + (room if room >= _SHORTEST_BAR else -2)
    cuts = {cut.count: cut for cut in reversed(table.cutoffs)}
    lines += [_cut_line(table, cuts[0], across, plain, formatter)] if 0 in cuts else []
    for place, (row, percent) in enumerate(zip(rows, percents, strict=True), 1):
        bar = "  " + _bar(percent / peak, room, plain) if room >= _SHORTEST_BAR else ""
        lines.append(((_joined(row, widths), ""), (bar, _STRONG if place <= inside else _QUIET)))
        lines += [_cut_line(table, cut, across, plain, formatter) for cut in table.cutoffs if cut.count == place]
    lines.append(_line(_joined(total, widths), "bold"))
    notes = table_notes_beyond(table)
    notes += [Message("not shown", names=List(tuple(left_out)))] if left_out else []
    lines += [_line(line) for note in notes for line in textwrap.wrap(formatter.text(note), width)]
    return lines


def _narrowed(table: Table, width: int) -> tuple[Table, list[str]]:
    """Leave out what a terminal has no room for, and name it; the cumulative frequency and the class always."""
    names = [column.label for column in table.columns]
    first = {name: place for place, name in reversed(list(enumerate(names)))}  # a stratum may have the same name
    always = {"Rank", "Category", "Frequency", "Rate", "Count", "Percent", "Cumulative percent"}
    hidden = {first[name] for name in ("Cumulative frequency", "Class") if name in first}
    fixed = {first[name] for name in always if name in first}
    fixed |= {place for place, column in enumerate(table.columns) if column.key == "frequency"}
    places = [place for place in range(len(names)) if place not in hidden]
    width_of = {
        n: 2 + max(map(cell_len, (column.label, column.total_text, *column.texts)))
        for n, column in enumerate(table.columns)
    }
    width_of[first["Category"]] = _SHORTEST_NAME + 2
    extra = [place for place in places if place not in fixed]
    needed = sum(width_of[place] for place in places) - 2
    left_out: list[int] = []
    while extra and needed > width:
        left_out.append(extra.pop())
        needed -= width_of[left_out[-1]]
    numbers = sorted(set(places) - set(left_out))
    narrow = replace(table, columns=tuple(table.columns[n] for n in numbers))
    return narrow, [names[place] for place in reversed(left_out)]


def _joined(cells: list[str], widths: list[int]) -> str:
    """Set cells into columns: the category to the left and cut short, numbers to the right."""
    numbers = (set_right(cell, width) for cell, width in zip(cells[2:], widths[2:], strict=True))
    return "  ".join([set_right(cells[0], widths[0]), fit(cells[1], widths[1]), *numbers])


def _bar(share: float, room: int, plain: bool) -> str:
    if plain:
        return "#" * max(1 if share else 0, round(share * room))
    eighths = max(1 if share else 0, round(share * room * 8))
    return "█" * (eighths // 8) + _EIGHTHS[eighths % 8].strip()


def _cut_line(table: ParetoTable, cut: Cutoff, width: int, plain: bool, formatter: Formatter) -> Line:
    words = f" {formatter.text(cut_line(cut, table.size))} "
    sign = "-" if plain else "─"
    return _line(sign * 3 + words + sign * max(3, width - len(words) - 3), _CUT)
