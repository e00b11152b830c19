"""Tallies and two-way tables as data and as text."""

from __future__ import annotations

import csv
import io
import json
import math
from collections.abc import Iterable, Sequence
from typing import TYPE_CHECKING, Any

from vantric.core.counting.ranking import ranked_places
from vantric.core.counting.tally import Missing, Tally
from vantric.core.numbers.amounts import Number
from vantric.core.numbers.shown import distinct_lines, number_text, one_line, percent_text
from vantric.core.reviewing import Finding
from vantric.report.markdown import markdown_table
from vantric.report.paretodata import whole

if TYPE_CHECKING:
    from vantric.core.counting.crosstab import Base, Crosstab


def ranked(tally: Tally) -> list[tuple[str, Number, float | None]]:
    """Return (category, frequency, percent) of a tally, the most frequent first, ties in natural label order.

    Percents are None where everything is zero.
    """
    frequency, total = tally.frequency, tally.frequency.total_units
    values = frequency.values()
    shares = frequency.plain_percents(total) if total else [None] * len(values)
    return [(tally.categories[at], values[at], shares[at]) for at in ranked_places(frequency, tally.categories)]


def tally_object(tally: Tally, findings: Iterable[Finding] = ()) -> dict[str, Any]:
    """Return the JSON object of a tally; percents are null where everything is zero."""
    return {
        **_head(tally),
        "rows": [
            {"category": name, "frequency": whole(count), "percent": whole(share)}
            for name, count, share in ranked(tally)
        ],
        "findings": [finding.to_dict() for finding in findings],
    }


def crosstab_object(table: Crosstab, of: Base, findings: Iterable[Finding] = ()) -> dict[str, Any]:
    """Return the JSON object of a two-way table."""
    percents = table.percents(of).tolist()
    rows = zip(table.categories, table.frequencies(), percents, table.row_totals.values(), strict=True)
    return {
        **_head(table.tally()),
        "split": table.split,
        "columns": list(table.columns),
        "percent_of": of,
        "column_totals": [whole(total) for total in table.column_totals.values()],
        "rows": [
            {
                "category": name,
                "frequencies": [whole(count) for count in counts],
                "percents": [None if math.isnan(share) else whole(share) for share in shares],
                "total": whole(total),
            }
            for name, counts, shares, total in rows
        ],
        "findings": [finding.to_dict() for finding in findings],
    }


def _head(tally: Tally) -> dict[str, Any]:
    origin = tally.origin
    return {
        "format": "vantric/tally",
        "version": 1,
        "source": origin.source,
        "where": origin.where,
        "by": origin.by,
        "input_rows": origin.input_rows,
        "records": whole(tally.records),
        "total": whole(tally.total),
        "missing": _missing(tally.missing),
    }


def _missing(missing: Missing) -> dict[str, Any]:
    return {"records": whole(missing.records), "frequency": whole(missing.frequency)}


def as_json(found: dict[str, Any]) -> str:
    """Return data as JSON text."""
    return json.dumps(found, ensure_ascii=False, indent=2, allow_nan=False) + "\n"


def as_csv(head: Sequence[str], rows: Iterable[Sequence[Any]]) -> str:
    """Return rows as CSV (RFC 4180, with plain line ends)."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(head)
    writer.writerows(rows)
    return out.getvalue()


def tally_csv(tally: Tally) -> str:
    """Return a tally as CSV, percents unrounded."""
    rows = tally_object(tally)["rows"]
    return as_csv(("category", "frequency", "percent"), [tuple(row.values()) for row in rows])


def crosstab_csv(table: Crosstab) -> str:
    """Return the frequencies of a two-way table as CSV, with a total a row."""
    rows = zip(table.categories, table.frequencies(), table.row_totals.values(), strict=True)
    return as_csv(
        (table.origin.by or "category", *table.columns, "total"),
        [(name, *map(whole, counts), whole(total)) for name, counts, total in rows],
    )


def tally_cells(tally: Tally) -> tuple[tuple[str, ...], list[tuple[str, ...]]]:
    """Return head and rows of a tally as people read them, the total last."""
    found = ranked(tally)
    names = distinct_lines([name for name, _, _ in found])
    rows = [
        (name, number_text(count), "–" if share is None else percent_text(share))
        for name, (_, count, share) in zip(names, found, strict=True)
    ]
    total = ("Total", number_text(tally.total), "100.0 %" if tally.total else "–")
    return ("Category", "Frequency", "Percent"), [*rows, total]


def crosstab_cells(table: Crosstab, of: Base | None) -> tuple[tuple[str, ...], list[tuple[str, ...]]]:
    """Return head and rows of a two-way table, as frequencies or as percents of a base, with margins."""
    if of is None:
        cells = [[number_text(count) for count in counts] for counts in table.frequencies()]
    else:
        cells = [
            ["–" if math.isnan(share) else percent_text(share) for share in row] for row in table.percents(of).tolist()
        ]
    totals = [number_text(total) for total in table.row_totals.values()]
    names = distinct_lines(table.categories)
    rows = [(name, *row, total) for name, row, total in zip(names, cells, totals, strict=True)]
    margin = ("Total", *map(number_text, table.column_totals.values()), number_text(table.total))
    return ("Category", *map(one_line, table.columns), "Total"), [*rows, margin]


def tally_markdown(tally: Tally) -> str:
    """Return a tally in Markdown."""
    return markdown_table(*tally_cells(tally), left=frozenset({0}))


def crosstab_markdown(table: Crosstab, of: Base | None) -> str:
    """Return a two-way table in Markdown."""
    return markdown_table(*crosstab_cells(table, of), left=frozenset({0}))
