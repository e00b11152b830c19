"""A first look at a source, for a terminal and as data."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict
from textwrap import wrap
from typing import Any

from vantric.core.counts.provenance import Remark
from vantric.core.numbers.number_format import number_text, one_line
from vantric.counting.count_records import FirstLook
from vantric.reading.headings import label_text
from vantric.reading.profile import ColumnProfile
from vantric.tables.grid_part import fit, grid_lines

_LONGEST_CELL = 24


def profile_view(shown: str, looked: FirstLook, *, width: int) -> list[str]:
    """Return a line a column, the first records, and what can be done with the columns."""
    columns, head = looked.columns, looked.first
    records = columns[0].valid + columns[0].missing if columns else 0
    rows = [
        (
            one_line(column.name),
            _kind(column),
            number_text(column.valid),
            number_text(column.missing),
            number_text(column.distinct),
            _read(column)
            or ", ".join(
                f"{one_line(label, longest=_LONGEST_CELL)} ({number_text(n)})" for label, n in column.commonest
            ),
        )
        for column in columns
    ]
    titles = ("Column", "Kind", "Valid", "Missing", "Distinct", "Most common, or as read")
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
        *(["", "How it was read:"] if looked.remarks else []),
        *(line for remark in looked.remarks for line in _remark(remark, width)),
    ]


def _kind(column: ColumnProfile) -> str:
    return f"{column.kind}, {one_line(column.unit)}" if column.unit else column.kind


def _read(column: ColumnProfile) -> str:
    before = one_line(column.before, longest=_LONGEST_CELL)
    return f"{before} is read as {one_line(column.after, longest=_LONGEST_CELL)}" if column.before else ""


def _remark(remark: Remark, width: int) -> list[str]:
    fix = f"; {remark.fix}" if remark.fix else ""
    said = f"{remark.severity}: {one_line(remark.message + fix, longest=1000)}"
    return wrap(said, max(width, 40), initial_indent="  ", subsequent_indent="    ")


def _sentence(what: str, names: Sequence[str]) -> str:
    return f"{what}: {', '.join(map(one_line, names)) if names else 'none'}"


def profile_object(shown: str, looked: FirstLook) -> dict[str, Any]:
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
                "unit": column.unit or None,
                "example": {"cell": column.before, "read_as": column.after} if column.before else None,
                "codes": [{"label": label, "records": number} for label, number in column.codes],
                "problem": column.problem or None,
            }
            for column in looked.columns
        ],
        "first": [[label_text(cell) for cell in row] for row in looked.first],
        "remarks": [asdict(remark) for remark in looked.remarks],
    }
