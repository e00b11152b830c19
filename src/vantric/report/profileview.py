"""A first look at a source, for a terminal and as data."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from vantric.core.numbers.shown import number_text, one_line
from vantric.report.grid import fit, grid_lines
from vantric.sources.reading.labels import label_text
from vantric.sources.reading.profile import ColumnProfile

_LONGEST_CELL = 24


def profile_view(
    shown: str, columns: Sequence[ColumnProfile], head: Sequence[tuple[Any, ...]], *, width: int
) -> list[str]:
    """Return a line a column, the first records, and what can be done with the columns."""
    records = columns[0].valid + columns[0].missing if columns else 0
    rows = [
        (
            one_line(column.name),
            column.kind,
            number_text(column.valid),
            number_text(column.missing),
            number_text(column.distinct),
            ", ".join(f"{one_line(label, longest=_LONGEST_CELL)} ({number_text(n)})" for label, n in column.commonest),
        )
        for column in columns
    ]
    titles = ("Column", "Kind", "Valid", "Missing", "Distinct", "Most common")
    names = [one_line(column.name) for column in columns]
    cells = [[one_line(label_text(cell) or "", longest=_LONGEST_CELL) for cell in row] for row in head]
    first = grid_lines(names, cells, width=10_000, left=frozenset(range(len(names))))
    return [
        f"{one_line(shown)}: {number_text(records)} records, {len(columns)} columns",
        "",
        *grid_lines(titles, rows, width=width, left=frozenset({0, 1, 5})),
        "",
        "The first records:",
        *(fit(line, width).rstrip() for line in first),
        "",
        _sentence("Can be counted (--by)", [column.name for column in columns if column.countable]),
        _sentence("Can be added up (--count)", [column.name for column in columns if column.summable]),
    ]


def _sentence(what: str, names: Sequence[str]) -> str:
    return f"{what}: {', '.join(map(one_line, names)) if names else 'none'}"


def profile_object(shown: str, columns: Sequence[ColumnProfile], head: Sequence[tuple[Any, ...]]) -> dict[str, Any]:
    """Return a first look as data."""
    return {
        "format": "vantric/columns",
        "version": 1,
        "source": shown,
        "columns": [
            {
                "name": column.name,
                "kind": column.kind,
                "valid": column.valid,
                "missing": column.missing,
                "distinct": column.distinct,
                "commonest": [{"label": label, "records": number} for label, number in column.commonest],
                "countable": column.countable,
                "summable": column.summable,
            }
            for column in columns
        ],
        "first": [[label_text(cell) for cell in row] for row in head],
    }
