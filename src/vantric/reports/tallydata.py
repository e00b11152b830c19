"""Tallies and two-way tables as data and as text."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from typing import TYPE_CHECKING, Any

from vantric.core.counting.origin import Missing
from vantric.core.counting.tally import Tally
from vantric.core.numbers.amounts import Number
from vantric.core.numbers.shown import (
    counted,
    distinct_lines,
    listed,
    number_text,
    number_texts,
    one_line,
    percent_text,
)
from vantric.core.reviewing import Finding
from vantric.errors import CountError
from vantric.reports.local import Fixed
from vantric.reports.paretodata import whole

if TYPE_CHECKING:
    from vantric.core.counting.crosstab import Base, Crosstab


MENTIONS, RECORDS = "mentions", "records"


def base_of(tally: Tally, of: str | None) -> str | None:
    """Return what the percents of a tally of mentions are of; None for other tallies, whose base is their total.

    Raises
    ------
    CountError
        If records are asked for where each has one label, or its counts are added up.
    """
    if tally.origin.counted == MENTIONS:
        return of or MENTIONS
    if of is not None:
        raise CountError("percents of records or of mentions are for cells with several labels: give a separator")
    return None


def ranked(tally: Tally, of: str | None = None) -> list[tuple[str, Number, float | None]]:
    """Return (category, frequency, percent) of a tally, the most frequent first, ties in natural label order.

    Percents are of the total, or, for `of` records, of the records that have a label; None where that is zero.
    """
    by_record = base_of(tally, of) == RECORDS
    frequency, total = tally.frequency, tally.labeled_rows if by_record else tally.frequency.total_units
    values = frequency.values()
    shares = frequency.plain_percents(total) if total else [None] * len(values)
    return [(tally.categories[at], values[at], shares[at]) for at in tally.places()]


def tally_object(tally: Tally, findings: Iterable[Finding] = (), of: str | None = None) -> dict[str, Any]:
    """Return the JSON object of a tally; percents are null where everything is zero."""
    base = base_of(tally, of)
    return {
        **_head(tally),
        **({"percent_of": base} if base else {}),
        "rows": _rows(tally, of),
        "findings": [finding.to_dict() for finding in findings],
    }


def _rows(tally: Tally, of: str | None) -> list[dict[str, Any]]:
    """Return the rows of a tally; of a weighted one with the plain counts beside the frequencies."""
    plain = None if tally.counts is None else dict(zip(tally.categories, tally.counts.values(), strict=True))
    return [
        {
            "category": name,
            "frequency": whole(frequency),
            **({} if plain is None else {"count": whole(plain[name])}),
            "percent": whole(share),
        }
        for name, frequency, share in ranked(tally, of)
    ]


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
        **({"weight": origin.weight} if origin.weight else {}),
        "input_rows": origin.input_rows,
        "records": whole(tally.records),
        "total": whole(tally.total),
        "missing": _missing(tally.missing),
    }


def _missing(missing: Missing) -> dict[str, Any]:
    return {"records": whole(missing.records), "frequency": whole(missing.frequency)}


def tally_rows(tally: Tally, of: str | None = None) -> tuple[Sequence[str], list[Sequence[Any]]]:
    """Return head and rows of a tally as plain values, percents unrounded."""
    if tally.counts is None:  # millions of rows are not made mappings first
        return ("category", "frequency", "percent"), [
            (name, whole(frequency), whole(share)) for name, frequency, share in ranked(tally, of)
        ]
    return ("category", "frequency", "count", "percent"), [tuple(row.values()) for row in _rows(tally, of)]


def crosstab_rows(table: Crosstab) -> tuple[Sequence[str], list[Sequence[Any]]]:
    """Return head and rows of a two-way table as plain values, with a total a row."""
    rows = zip(table.categories, table.frequencies(), table.row_totals.values(), strict=True)
    head = (table.origin.by or "category", *table.columns, "total")
    return head, [(name, *map(whole, counts), whole(total)) for name, counts, total in rows]


def tally_cells(tally: Tally, of: str | None = None) -> tuple[tuple[str, ...], list[tuple[str, ...]]]:
    """Return head and rows of a tally as people read them, the total last."""
    found, base = _rows(tally, of), base_of(tally, of)
    frequencies = number_texts([*(row["frequency"] for row in found), tally.total])
    columns = [
        [*distinct_lines([row["category"] for row in found]), Fixed("Total")],
        frequencies,
        ["–" if row["percent"] is None else percent_text(row["percent"]) for row in found],
    ]
    columns[2].append("" if base == RECORDS else "100.0 %" if tally.total else "–")
    head: list[str] = [Fixed("Category"), Fixed("Frequency"), Fixed(f"Percent of {base}" if base else "Percent")]
    if tally.counts is not None:
        head.insert(2, Fixed("Count"))
        columns.insert(2, number_texts([*(row["count"] for row in found), tally.records]))
    return tuple(head), list(zip(*columns, strict=True))


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
    margin = (Fixed("Total"), *map(number_text, table.column_totals.values()), number_text(table.total))
    return (Fixed("Category"), *map(one_line, table.columns), Fixed("Total")), [*rows, margin]


def tally_sentence(tally: Tally) -> str:
    """Return the base, and the largest categories with their percent, in one sentence."""
    base = tally.base()
    if not tally.categories or not tally.total:
        return f"{base}."
    rows = ranked(tally)
    top = [row for row in rows if row[1] == rows[0][1]]
    shares = "" if rows[0][2] is None else f" ({percent_text(rows[0][2])}{' each' if len(top) > 1 else ''})"
    names = listed([f"“{one_line(name, longest=40)}”" for name, _, _ in top], most=4)
    verb = "is" if len(top) == 1 else "are"
    number = counted(len(tally.categories), "category", "categories")
    return f"{base} in {number}; {names} {verb} the largest with {number_text(rows[0][1])}{shares}."
