"""Tallies, two-way tables and first looks: as tables, JSON objects, sentences and lines for a terminal."""

from __future__ import annotations

import math
import textwrap
from collections.abc import Iterable, Sequence
from dataclasses import asdict, replace
from textwrap import wrap
from typing import TYPE_CHECKING, Any

from vantric.core.counts.provenance import Note
from vantric.core.counts.tally import Tally
from vantric.core.messages.formatter import PLAIN, Formatter
from vantric.core.messages.message import Joined, Message, Percent, labels
from vantric.core.numbers.amounts import Number
from vantric.core.numbers.number_format import distinct_lines, number_text, one_line
from vantric.core.review import Finding
from vantric.counting.count_records import FirstLook
from vantric.errors import CountError
from vantric.reading.headings import label_text
from vantric.reading.profile import ColumnProfile
from vantric.tables.statements import parts_words
from vantric.tables.table import (
    NOTHING,
    Column,
    Format,
    Kind,
    Table,
    amounts_in,
    as_integer,
    as_integers,
    fit,
    grid_lines,
    kind_of,
    single_numbers,
    table_title,
)

if TYPE_CHECKING:
    from vantric.core.counts.crosstab import Base, Crosstab

#: Signs of a cell that a first look shows.
_LONGEST_CELL = 24


def profile_view(text: str, look: FirstLook, *, width: int) -> list[str]:
    """Return a line a column, the first records, and what can be done with the columns."""
    columns, head = look.columns, look.first
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
        f"{one_line(text)}: {number_text(records)} records, {len(columns)} columns",
        "",
        *grid_lines(titles, rows, width=width, left=frozenset({0, 1, 5})),
        "",
        "The first records:",
        *(fit(line, width).rstrip() for line in first),
        "",
        _sentence("Can be counted (--by)", [column.name for column in columns if column.countable]),
        _sentence("Can be added up (--count)", [column.name for column in columns if column.summable]),
        *(["", "How it was read:"] if look.remarks else []),
        *(line for remark in look.remarks for line in _remark(remark, width)),
    ]


def _kind(column: ColumnProfile) -> str:
    return f"{column.kind}, {one_line(column.unit)}" if column.unit else column.kind


def _read(column: ColumnProfile) -> str:
    before = one_line(column.before, longest=_LONGEST_CELL)
    return f"{before} is read as {one_line(column.after, longest=_LONGEST_CELL)}" if column.before else ""


def _remark(remark: Note, width: int) -> list[str]:
    fix = f"; {remark.fix}" if remark.fix else ""
    text = f"{remark.severity}: {one_line(remark.message + fix, longest=1000)}"
    return wrap(text, max(width, 40), initial_indent="  ", subsequent_indent="    ")


def _sentence(what: str, names: Sequence[str]) -> str:
    return f"{what}: {', '.join(map(one_line, names)) if names else 'none'}"


def profile_object(text: str, look: FirstLook) -> dict[str, Any]:
    """Return a first look as data."""
    return {
        "format": "vantric/columns",
        "version": 1,
        "source": text,
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
            for column in look.columns
        ],
        "first": [[label_text(cell) for cell in row] for row in look.first],
        "remarks": [asdict(remark) for remark in look.remarks],
    }


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


def tally_tables(result: Tally | Crosstab, of: Any = None) -> tuple[Table, ...]:
    """Return the table of a tally or of a two-way table; `of` is what its percents are of."""
    return (tally_table(result, of) if isinstance(result, Tally) else crosstab_table(result, of),)


def tally_table(tally: Tally, of: str | None = None) -> Table:
    """Return a tally, the most frequent first, ties in natural label order; percents are None where all is zero."""
    base, places, total = base_of(tally, of), tally.places(), tally.frequency.total_units
    total = tally.labeled_rows if base == RECORDS else total
    names = [tally.categories[place] for place in places]
    shares: Sequence[float | None] = tally.frequency.plain_percents(total) if total else [None] * len(names)

    def ordered(values: Sequence[Any]) -> list[Any]:
        return list(as_integers([values[place] for place in places]))

    below = "" if base == RECORDS else "100.0%" if tally.total else NOTHING
    columns = [
        Column(Message("category"), names, kind="text", key="category", total=Message("total label")),
        replace(
            _numbers("frequency", ordered(tally.frequency.values()), tally.total, amounts_in(tally.origin.clock)),
            label=tally.origin.measure,
        ),
        Column(
            Message(f"percent of {base}" if base else "percent"),
            ordered(shares),
            kind="percent",
            key="percent",
            total=below,
        ),
    ]
    if tally.counts is not None:
        columns.insert(2, _numbers("count", ordered(tally.counts.values()), tally.records))
    return Table(tuple(columns), keyed=0, labels=tuple(distinct_lines(names)), caption=tally.base())


def _numbers(key: str, values: Sequence[Any], total: Any, form: Format | None = None) -> Column:
    return Column(Message(key), values, form, kind=kind_of(values), key=key, total=total)


def crosstab_table(table: Crosstab, of: Base | None = None) -> Table:
    """Return a two-way table, as frequencies or as percents of a base, with its margins; data are frequencies."""
    counts = table.frequencies()
    shares = counts if of is None else table.percents(of).tolist()
    below = table.column_totals.values()
    names, totals = distinct_lines(table.categories), table.row_totals.values()
    label = Column(Message("category"), names, kind="text", total=Message("total label"))
    last = Column(Message("total label"), totals, single_numbers, kind_of(totals), key="total", total=table.total)
    inner = []
    for index, name in enumerate(table.columns):
        values = [None if math.isnan(row[index]) else row[index] for row in shares]
        kind: Kind = kind_of(values) if of is None else "percent"
        total = number_text(below[index])
        inner.append(Column(one_line(name), values, single_numbers if of is None else None, kind, total=total))
    data = [Column("", table.categories, key=table.origin.by or "category")]
    data += [Column("", [row[number] for row in counts], key=name) for number, name in enumerate(table.columns)]
    return Table((label, *inner, last), (*data, last), keyed=0, labels=tuple(names), caption=table.tally().base())


def tally_object(result: Tally | Crosstab, findings: Iterable[Finding] = (), of: Any = None) -> dict[str, Any]:
    """Return the JSON object of a tally or of a two-way table."""
    if not isinstance(result, Tally):
        from vantric.tables.statements import parts_object

        return _crosstab_object(result, of or "all", findings) | parts_object(result)
    base = base_of(result, of)
    return {
        **_facts(result),
        **({"percent_of": base} if base else {}),
        "rows": tally_table(result, of).records(),
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
        "column_totals": [as_integer(total) for total in table.column_totals.values()],
        "rows": [
            {
                "category": name,
                "frequencies": [as_integer(count) for count in counts],
                "percents": [None if math.isnan(share) else as_integer(share) for share in shares],
                "total": as_integer(total),
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
        "records": as_integer(tally.records),
        "total": as_integer(tally.total),
        "missing": {"records": as_integer(tally.missing.records), "frequency": as_integer(tally.missing.frequency)},
    }


def tally_sentence(tally: Tally) -> str:
    """Return the largest categories with their percent, and the base, in one sentence."""
    base = tally.base()
    if not tally.categories or not tally.total:
        return Message("sentence", text=base)
    names, frequencies, shares = (tally_table(tally).columns[place].values for place in (0, 1, -1))
    top: Sequence[Number] = [frequency for frequency in frequencies if frequency == frequencies[0]]
    kind = "largest" if shares[0] is None else "largest of"
    share = {} if shares[0] is None else {"share": Percent(shares[0])}
    return Message(
        kind,
        count=len(top),
        labels=labels(names[: len(top)], most=4),
        number=frequencies[0],
        **share,
        base=base,
        categories=Message("categories", count=len(names)),
    )


def tally_view(tally: Tally, of: str | None, *, width: int, local: Formatter = PLAIN) -> list[str]:
    """Return a tally as lines for a terminal."""
    return [*_title("tally", tally, local), *_lines(tally_table(tally, of), width, local)]


def crosstab_view(table: Crosstab, of: Base | None, *, width: int, local: Formatter = PLAIN) -> list[str]:
    """Return a two-way table as lines for a terminal; the base of percents is named."""
    title = _title("two-way table", table.tally(), local, split=table.split)
    amount = {"number": table.total, "unit": table.tally().origin.unit_text()} if of == "all" else {}
    base = [local.say(f"percents of {of}", **amount), ""] if of else []
    lines = _lines(crosstab_table(table, of), width, local)
    texts = textwrap.wrap(local.text(parts_words(table)), width)
    return [*title, *base, *lines, *(["", *texts] if texts else [])]


def _lines(table: Table, width: int, local: Formatter) -> list[str]:
    shown_table = table.in_language(local)
    return grid_lines(shown_table.heads(), shown_table.shown_rows(), width=width)


def _title(what: str, tally: Tally, local: Formatter, *, split: str = "") -> list[str]:
    origin = tally.origin
    source = Message("origin", source=one_line(origin.source), base=tally.base()) if origin.source else tally.base()
    condition = Message("where", where=one_line(origin.where)) if origin.where else ""
    return [local.text(table_title(what, origin.by or "", split)), local.text(Joined((source, condition), ", ")), ""]
