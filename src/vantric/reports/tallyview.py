"""Tallies and two-way tables in a terminal."""

from __future__ import annotations

import textwrap

from vantric.core.counting import Crosstab, Tally
from vantric.core.counting.crosstab import Base
from vantric.core.numbers.shown import number_text, one_line, readable
from vantric.reports.grid import grid_lines
from vantric.reports.parts import parts_words
from vantric.reports.tallydata import crosstab_cells, tally_cells


def tally_view(tally: Tally, of: str | None, *, width: int) -> list[str]:
    """Return a tally as lines for a terminal."""
    return [*_title("Tally", tally), *grid_lines(*tally_cells(tally, of), width=width)]


def crosstab_view(table: Crosstab, of: Base | None, *, width: int) -> list[str]:
    """Return a two-way table as lines for a terminal; the base of percents is named."""
    title = _title("Two-way table", table.tally(), split=table.split)
    bases = {
        "row": "Percents of each row's total.",
        "column": "Percents of each column's total.",
        "all": f"Percents of {number_text(table.total)} {readable(table.tally().unit)}.",
    }
    lines = grid_lines(*crosstab_cells(table, of), width=width)
    said = textwrap.wrap(parts_words(table), width)
    return [*title, *([bases[of], ""] if of else []), *lines, *(["", *said] if said else [])]


def _title(what: str, tally: Tally, *, split: str = "") -> list[str]:
    subject = f"{what} of {one_line(tally.origin.by)}" if tally.origin.by else what
    subject += f" by {one_line(split)}" if split else ""
    source = f"{one_line(tally.origin.source)}: " if tally.origin.source else ""
    condition = f", where {one_line(tally.origin.where)}" if tally.origin.where else ""
    return [subject, f"{source}{tally.base()}{condition}", ""]
