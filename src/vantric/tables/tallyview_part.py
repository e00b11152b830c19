"""Tallies and two-way tables in a terminal."""

from __future__ import annotations

import textwrap

from vantric.core.charts.wording import WORDS
from vantric.core.counts import Crosstab, Tally
from vantric.core.counts.crosstab import Base
from vantric.core.numbers.number_format import number_text, one_line, readable
from vantric.tables.grid_part import grid_lines
from vantric.tables.localize import PLAIN, Local
from vantric.tables.parts_part import parts_words
from vantric.tables.table import Table
from vantric.tables.tally import crosstab_table, tally_table


def tally_view(tally: Tally, of: str | None, *, width: int, local: Local = PLAIN) -> list[str]:
    """Return a tally as lines for a terminal."""
    return [*_title("Tally", tally, local), *_lines(tally_table(tally, of), width, local)]


def crosstab_view(table: Crosstab, of: Base | None, *, width: int, local: Local = PLAIN) -> list[str]:
    """Return a two-way table as lines for a terminal; the base of percents is named."""
    title = _title("Two-way table", table.tally(), local, split=table.split)
    bases = {
        "row": "Percents of each row's total.",
        "column": "Percents of each column's total.",
        "all": f"Percents of {number_text(table.total)} {readable(table.tally().unit)}.",
    }
    lines = _lines(crosstab_table(table, of), width, local)
    said = textwrap.wrap(parts_words(table), width)
    return [*title, *([bases[of], ""] if of else []), *lines, *(["", *said] if said else [])]


def _lines(table: Table, width: int, local: Local) -> list[str]:
    shown = table.in_language(local)
    return grid_lines(shown.heads(), shown.shown_rows(), width=width)


def _title(what: str, tally: Tally, local: Local, *, split: str = "") -> list[str]:
    subject = local.titled(what, one_line(tally.origin.by) if tally.origin.by else "")
    if split:
        subject = local.tongue.chart.get("by", WORDS["by"]).format_map({"subject": subject, "split": one_line(split)})
    source = f"{one_line(tally.origin.source)}: " if tally.origin.source else ""
    condition = f", where {one_line(tally.origin.where)}" if tally.origin.where else ""
    return [subject, f"{source}{tally.base()}{condition}", ""]
