"""Tallies and two-way tables: their tables, their JSON objects, their sentence."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from typing import TYPE_CHECKING, Any

from vantric.core.counts.tally import Tally
from vantric.core.numbers.amounts import Number
from vantric.core.numbers.number_format import counted, distinct_lines, listed, number_text, one_line, percent_text
from vantric.core.review import Finding
from vantric.errors import CountError
from vantric.tables.localize import Fixed
from vantric.tables.table import NOTHING, Column, Kind, Table, kind_of, single_numbers, whole

if TYPE_CHECKING:
    from vantric.core.counts.crosstab import Base, Crosstab

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


def tally_tables(found: Tally | Crosstab, of: Any = None) -> tuple[Table, ...]:
    """Return the table of a tally or of a two-way table; `of` is what its percents are of."""
    return (tally_table(found, of) if isinstance(found, Tally) else crosstab_table(found, of),)


def tally_table(tally: Tally, of: str | None = None) -> Table:
    """Return a tally, the most frequent first, ties in natural label order; percents are None where all is zero."""
    base, places, total = base_of(tally, of), tally.places(), tally.frequency.total_units
    total = tally.labeled_rows if base == RECORDS else total
    names = [tally.categories[at] for at in places]
    shares: Sequence[float | None] = tally.frequency.plain_percents(total) if total else [None] * len(names)

    def ordered(values: Sequence[Any]) -> list[Any]:
        return [whole(values[at]) for at in places]

    below = "" if base == RECORDS else "100.0 %" if tally.total else NOTHING
    columns = [
        Column(Fixed("Category"), names, kind="text", key="category", total=Fixed("Total")),
        _numbers("Frequency", "frequency", ordered(tally.frequency.values()), tally.total),
        Column(
            Fixed(f"Percent of {base}" if base else "Percent"),
            ordered(shares),
            kind="percent",
            key="percent",
            total=below,
        ),
    ]
    if tally.counts is not None:
        columns.insert(2, _numbers("Count", "count", ordered(tally.counts.values()), tally.records))
    return Table(tuple(columns), keyed=0, labels=tuple(distinct_lines(names)), caption=tally.base())


def _numbers(label: str, key: str, values: Sequence[Any], total: Any) -> Column:
    return Column(Fixed(label), values, kind=kind_of(values), key=key, total=total)


def crosstab_table(table: Crosstab, of: Base | None = None) -> Table:
    """Return a two-way table, as frequencies or as percents of a base, with its margins; data are frequencies."""
    counts = table.frequencies()
    shares = counts if of is None else table.percents(of).tolist()
    below = table.column_totals.values()
    names, totals = distinct_lines(table.categories), table.row_totals.values()
    label = Column(Fixed("Category"), names, kind="text", total=Fixed("Total"))
    last = Column(Fixed("Total"), totals, single_numbers, kind_of(totals), key="total", total=table.total)
    inner = []
    for at, name in enumerate(table.columns):
        values = [None if math.isnan(row[at]) else row[at] for row in shares]
        kind: Kind = kind_of(values) if of is None else "percent"
        total = number_text(below[at])
        inner.append(Column(one_line(name), values, single_numbers if of is None else None, kind, total=total))
    data = [Column("", table.categories, key=table.origin.by or "category")]
    data += [Column("", [row[at] for row in counts], key=name) for at, name in enumerate(table.columns)]
    return Table((label, *inner, last), (*data, last), keyed=0, labels=tuple(names), caption=table.tally().base())


def tally_object(found: Tally | Crosstab, findings: Iterable[Finding] = (), of: Any = None) -> dict[str, Any]:
    """Return the JSON object of a tally or of a two-way table."""
    if not isinstance(found, Tally):
        from vantric.tables.parts_part import parts_object

        return _crosstab_object(found, of or "all", findings) | parts_object(found)
    base = base_of(found, of)
    return {
        **_facts(found),
        **({"percent_of": base} if base else {}),
        "rows": tally_table(found, of).records(),
        "findings": [finding.to_dict() for finding in findings],
    }


def _crosstab_object(table: Crosstab, of: Base, findings: Iterable[Finding]) -> dict[str, Any]:
    rows = zip(
        table.categories, table.frequencies(), table.percents(of).tolist(), table.row_totals.values(), strict=True
    )
    return {
        **_facts(table.tally()),
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


def _facts(tally: Tally) -> dict[str, Any]:
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
        "missing": {"records": whole(tally.missing.records), "frequency": whole(tally.missing.frequency)},
    }


def tally_sentence(tally: Tally) -> str:
    """Return the base, and the largest categories with their percent, in one sentence."""
    base = tally.base()
    if not tally.categories or not tally.total:
        return f"{base}."
    names, frequencies, shares = (tally_table(tally).columns[at].values for at in (0, 1, -1))
    top: Sequence[Number] = [one for one in frequencies if one == frequencies[0]]
    each = " each" if len(top) > 1 else ""
    share = "" if shares[0] is None else f" ({percent_text(shares[0])}{each})"
    said = listed([f"“{one_line(name, longest=40)}”" for name in names[: len(top)]], most=4)
    number, verb = counted(len(names), "category", "categories"), "is" if len(top) == 1 else "are"
    return f"{base} in {number}; {said} {verb} the largest with {number_text(frequencies[0])}{share}."
