"""A Pareto table in a terminal: ranked rows with small bars, and the line where the cutoff falls."""

from __future__ import annotations

import io
import textwrap
from collections.abc import Iterable
from dataclasses import replace

from rich.cells import cell_len
from rich.console import Console
from rich.text import Text

from vantric.base.safe_text import visible
from vantric.core.charts.wording import PLAIN_WORDING, Wording
from vantric.core.composition.pareto import localize
from vantric.core.counts import Cutoff, ParetoTable
from vantric.core.numbers.number_format import number_text, one_line, percent_text, with_unit
from vantric.core.review import Finding
from vantric.tables.localize import FixedText, Localizer
from vantric.tables.pareto import cut_line, pareto_table, table_notes_beyond
from vantric.tables.statements import parts_words, vital_of
from vantric.tables.table import Table, fit, set_right

#: Bars of eighths of a sign.
_EIGHTHS = " ▏▎▍▌▋▊▉█"
#: Signs of bars and names, as wide as the terminal allows.
_LONGEST_BAR, _SHORTEST_BAR, _SHORTEST_NAME = 40, 4, 8
#: Styles that can be told apart on dark and light terminals.
_STRONG, _QUIET, _CUT = "bold blue", "dim", "green"


def pareto_view(
    table: ParetoTable,
    findings: Iterable[Finding],
    *,
    width: int,
    plain: bool,
    color: bool,
    wording: Wording = PLAIN_WORDING,
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
    wording
        The language of fixed words and numbers.
    """
    width = max(width, 40)
    table = localize(table, wording.say("rest label"))
    lines = [
        *_head(table, width, wording),
        Text(""),
        *_body(table, width, plain, wording),
        *_within(table, width, plain, wording),
    ]
    text = parts_words(table.strata, vital_of(table)) if table.strata is not None else ""
    lines += [Text(""), *map(Text, textwrap.wrap(text, width))] if text else []
    lines += _foot(findings, width)
    out = io.StringIO()
    console = Console(
        file=out, width=10_000, color_system="standard" if color else None, force_terminal=color, legacy_windows=False
    )
    for line in lines:
        line.rstrip()
        line.plain = visible(line.plain)
        console.print(line, soft_wrap=True, highlight=False)
    return out.getvalue()


def _head(table: ParetoTable, width: int, wording: Wording) -> list[Text]:
    origin = table.origin
    kind = "Pareto table" if table.cuts or table.ordering == "frequency" else "Frequency table"
    named = one_line(origin.by) if origin.by else ""
    if table.strata is not None and named and not wording.tongue.plain:
        named = wording.say("by", subject=named, split=one_line(table.strata.split))
    subject = Localizer.of(wording).titled(kind, named)
    if table.strata is not None and wording.tongue.plain:
        subject += f" by {one_line(table.strata.split)}"
    stated = (wording.base(table.tally), one_line(wording.note(origin)))
    lines = [part for text in stated for part in _wrapped(text, width)]
    return [Text(subject, style="bold"), *map(Text, lines)]


def _wrapped(text: str, width: int) -> list[str]:
    return textwrap.wrap(text, width, subsequent_indent="  ", break_on_hyphens=False)


def _within(table: ParetoTable, width: int, plain: bool, wording: Wording) -> list[Text]:
    """Return the tables of a drill-down, one under the other."""
    lines = []
    for name, inner in table.within:
        column = one_line(inner.origin.by or "")
        lines += [Text(""), Text(f"Within {one_line(name)}: {column}, {inner.tally.base()}", style="bold")]
        lines += [*_body(inner, width, plain, wording), *_within(inner, width, plain, wording)]
    return lines


def _foot(findings: Iterable[Finding], width: int) -> list[Text]:
    lines = finding_lines(findings, width)
    return [Text(""), *(Text(line, style="yellow") for line in lines)] if lines else []


def finding_lines(findings: Iterable[Finding], width: int) -> list[str]:
    """Return findings as lines of a width, with hanging indents."""
    stated = [_stated(finding) for finding in findings]
    return [line for text in stated for line in textwrap.wrap(text, width, subsequent_indent="  ")]


def _stated(finding: Finding) -> str:
    """Return a finding in one line; of what is wrong or risky with the way on."""
    fix = f"; {finding.fix}" if finding.fix and finding.severity != "note" else ""
    return f"{finding.severity}: {finding.message}{fix}"


def _body(table: ParetoTable, width: int, plain: bool, wording: Wording) -> list[Text]:
    narrow, left_out = _narrowed(pareto_table(table), width)
    short = {"Rank": "#", "Cumulative percent": FixedText("Cumulative")}
    columns = [
        replace(column, label=short.get(column.label, column.label)) if isinstance(column.label, FixedText) else column
        for column in narrow.columns
    ]
    narrow = replace(narrow, columns=tuple(columns), local=Localizer.of(wording))
    head, rows, total = narrow.heads(), narrow.shown_rows(total=False), narrow.shown_total()
    widths = [max(cell_len(row[n]) for row in (head, total, *rows)) for n in range(len(head))]
    fixed = sum(widths) - widths[1] + 2 * len(widths)
    widths[1] = max(_SHORTEST_NAME, min(widths[1], width - fixed - _SHORTEST_BAR))
    room = min(_LONGEST_BAR, width - fixed - widths[1])
    percents = table.percents.tolist()
    peak = max(percents)
    inside = table.cutoff.count if table.cutoff else len(table)
    lines = [Text(_joined(head, widths), style="bold")]
    across = fixed + widths[1] + (room if room >= _SHORTEST_BAR else -2)
    cuts = {cut.count: cut for cut in reversed(table.cutoffs)}
    lines += [_cut_line(table, cuts[0], across, plain, wording)] if 0 in cuts else []
    for place, (row, percent) in enumerate(zip(rows, percents, strict=True), 1):
        line = Text(_joined(row, widths))
        if room >= _SHORTEST_BAR:
            line.append("  " + _bar(percent / peak, room, plain), style=_STRONG if place <= inside else _QUIET)
        lines.append(line)
        lines += [_cut_line(table, cut, across, plain, wording) for cut in table.cutoffs if cut.count == place]
    lines.append(Text(_joined(total, widths), style="bold"))
    notes = table_notes_beyond(table)
    notes += [f"Not shown for want of room: {', '.join(left_out)}"] if left_out else []
    lines += [Text(line) for note in notes for line in textwrap.wrap(note, width)]
    return lines


def _narrowed(table: Table, width: int) -> tuple[Table, list[str]]:
    """Leave out what a terminal has no room for, and name it; the cumulative frequency and the class always."""
    names = [column.label for column in table.columns]
    first = {name: place for place, name in reversed(list(enumerate(names)))}  # a stratum may have the same name
    always = {"Rank", "Category", "Frequency", "Rate", "Count", "Percent", "Cumulative percent"}
    hidden = {first[name] for name in ("Cumulative frequency", "Class") if name in first}
    fixed = {first[name] for name in always if name in first}
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


def _cut_line(table: ParetoTable, cut: Cutoff, width: int, plain: bool, wording: Wording) -> Text:
    reached = percent_text(cut.cumulative_percent, marks=(cut.percent,))
    words = f" {number_text(cut.percent)} % {cut_line(cut.rule, cut.count, table.size)}: {reached} "
    if cut.rule != "reach":
        words = f" {number_text(cut.percent)} %: {cut_line(cut.rule, cut.count, table.size)}: {reached} "
    if not wording.tongue.plain:
        style, form = wording.style, "cut of one" if table.size == 1 else "cut"
        place = with_unit(style.plain(cut.percent), style.percent_unit)
        share = style.percents(cut.cumulative_percent, (cut.percent,))
        words = (
            f" {place}: {wording.say(form, count=style.plain(cut.count), all=style.plain(table.size), percent=share)} "
        )
    sign = "-" if plain else "─"
    return Text(sign * 3 + words + sign * max(3, width - len(words) - 3), style=_CUT)
