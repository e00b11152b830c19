"""The rest of a table in the words of a chart."""

from __future__ import annotations

from dataclasses import replace

from vantric.core.counting.paretotable import ParetoTable
from vantric.core.counting.folding import REST_LABEL


def worded(table: ParetoTable, name: str) -> ParetoTable:
    """Return a table whose rest is called as a language says, where the user gave it no name of its own."""
    if name == REST_LABEL or table.rest_label != REST_LABEL or name in table.tally.categories:
        return table
    within = tuple((label, worded(inner, name)) for label, inner in table.within)
    return replace(table, rest_label=name, within=within)
