"""From groups of records to a two-way table."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import replace
from typing import Any

from vantric.core.counts.crosstab import Crosstab, Pair, make_crosstab
from vantric.core.counts.relabeling import Relabeling, relabeling
from vantric.core.counts.tally import MISSING_LABEL, Spread
from vantric.counting.cells import (
    LabelCell,
    columns_of,
    paired,
    resolved,
    split_cells,
    spread_over,
)
from vantric.counting.occurrences import is_sheet, spread_by_lot
from vantric.counting.tallies import (
    check_not_negative,
    frequencies,
    grouped,
    naming,
    origin_of,
    seen_labels,
    sequence,
    stand_for_several,
    total_search_of,
)
from vantric.counting.total_rows import TotalSearch, most_frequent, without_totals
from vantric.errors import ColumnError
from vantric.reading.dates import check_period, days_of, partial_ends, partial_remark, period_of, periods_between
from vantric.reading.headings import label_text
from vantric.reading.records import Records
from vantric.reading.settings import CountSettings


def cross_records(records: Records, counting: CountSettings, split: str, period: str | None = None) -> Crosstab:
    """Count records by two columns, without their totals; by the calendar periods of the second if one is named."""
    records, counting = paired(records, counting)
    settings = resolved(counting, records)

    def labels(table: Crosstab) -> list[str | None]:
        return seen_labels(table.tally(), settings)

    return without_totals(
        records, total_search_of(settings), lambda left: _crossed(left, settings, split, period), labels
    )


def cross_columns(records: Records, counting: CountSettings, columns: Sequence[str]) -> Crosstab:
    """Return the two-way table of a column of labels and of columns that are labels themselves, without totals."""
    if counting.by is None or counting.by_columns or counting.unique or counting.count or counting.weight:
        raise ColumnError("columns as the second variable hold the counts: give by, and leave count and weight out")
    records, counting = paired(records, counting)
    # Several columns by name or as a range: ``Jan:Mar``.
    names = columns_of(columns, records)

    def crossed(left: Records) -> Crosstab:
        pairs: list[Pair] = []
        for name in names:
            # A negative count would take from another column in the row's total.
            check_not_negative(left, name)
            pairs += [
                Pair(label_text(value), name, total, total)
                for value, _, total in left.sums([str(counting.by)], name, free=True)
            ]
        rows = sum(int(group[-1]) for group in left.groups(()))
        rename = relabeling(frequencies((pair.category, pair.amount) for pair in pairs), **naming(counting))
        pairs = [pair._replace(category=None if pair.category is None else rename(pair.category)) for pair in pairs]
        origin = origin_of(left, counting, rows, [*left.remarks, *rename.remarks])
        # Ready counts: how many records they were made of is not known.
        stated = replace(origin, split="column", counted="occurrences", ready=True)
        return make_crosstab(
            pairs, None, "column", stated, columns=list(names), sequence=sequence(left, counting, rename)
        )

    search = TotalSearch(counting.by, names, counted=False)
    return without_totals(records, search, crossed, lambda table: most_frequent(table.tally().as_dict()))


def _crossed(records: Records, counting: CountSettings, split: str, period: str | None) -> Crosstab:
    if counting.by_columns or counting.unique or counting.by is None:
        raise ColumnError("a two-way table counts records by two columns: leave by_columns and unique out")
    if period is not None:
        check_period(period)
    named = label_text if period is None else period_of(records, split, period)
    pairs: list[Pair] = []
    cells: list[tuple[LabelCell, str | None]] = []
    rows = 0
    for value, other, number, count, amount, squares in grouped(records, [counting.by, split], counting):
        rows += number
        cell, label = LabelCell(label_text(value), number, count, amount, squares), named(other)
        cells.append((cell, label))
        pairs += [
            Pair(split_cell.label, label, count, amount) for split_cell in split_cells([cell], counting.separator)
        ]
    # Spellings are merged by what all columns have together.
    rename = relabeling(frequencies((pair.category, pair.amount) for pair in pairs), **naming(counting))
    renamed = [pair._replace(category=None if pair.category is None else rename(pair.category)) for pair in pairs]
    days = days_of(records, split) if period and any(pair.label for pair in pairs) else []
    # Every period between the first and the last, also those without a record.
    columns = periods_between(records, split, (days[0], days[-1]), period) if days and period else None
    partial = partial_ends(days, period) if period else []
    order = sequence(records, counting, rename)
    if counting.missing == "category":
        renamed, columns, order = _missing_named(renamed, columns, order)
    if order is not None:  # what never has the second label is not a category here; a level without a record is
        lacking = {pair.category for pair in renamed} - {pair.category for pair in renamed if _has(pair.label)}
        order = tuple(name for name in order if name not in lacking)
    notes = [*records.remarks, *rename.remarks, *partial_remark(records, partial)]
    origin = origin_of(records, counting, rows, notes)
    ready = is_sheet(records, [counting.by], counting, _rows_of(cell for cell, _ in cells))
    stated = replace(origin, split=split, ready=ready)
    crosstab = make_crosstab(
        renamed, None, split, stated, columns=columns, weighted=counting.weight is not None, sequence=order
    )
    if period:
        crosstab = replace(crosstab, period=period, partial=tuple(dict.fromkeys(label for label, _ in partial)))
    # Records that count as one each are spread as their number says.
    if counting.lot:
        groups = grouped(records, [split, counting.by, counting.lot], counting)
        return replace(crosstab, spreads=_spreads_by_lot(crosstab, groups, named, counting, rename))
    if not ready and stand_for_several(counting):
        return replace(crosstab, spreads=_spreads(crosstab, cells, counting, rename))
    return crosstab


def _rows_of(cells: Iterable[LabelCell]) -> list[tuple[str | None, int]]:
    """Return each label with its records, over all columns."""
    rows: dict[str | None, int] = {}
    for cell in cells:
        rows[cell.label] = rows.get(cell.label, 0) + cell.rows
    return list(rows.items())


def _spreads_by_lot(
    crosstab: Crosstab,
    groups: Iterable[tuple[Any, ...]],
    named: Callable[[Any], str | None],
    counting: CountSettings,
    rename: Relabeling,
) -> tuple[Spread, ...]:
    """Return how the amounts of each column are spread over its lots."""
    here: dict[str, list[tuple[Any, ...]]] = {label: [] for label in crosstab.columns}
    for value, *group in groups:
        label = named(value)
        name = str(label) if _has(label) else MISSING_LABEL
        if name in here:
            here[name].append(tuple(group))
    return tuple(spread_by_lot(here[label], counting, rename) for label in crosstab.columns)


def _spreads(
    crosstab: Crosstab, cells: Sequence[tuple[LabelCell, str | None]], counting: CountSettings, rename: Relabeling
) -> tuple[Spread, ...]:
    """Return how the amounts of each column are spread over its records."""
    here: dict[str, list[LabelCell]] = {label: [] for label in crosstab.columns}
    for cell, label in cells:
        name = str(label) if _has(label) else MISSING_LABEL
        if name in here:
            here[name].append(cell)
    spreads = [spread_over(here[label], counting, rename) for label in crosstab.columns]
    if counting.missing == "category":
        spreads = [spread.with_missing(MISSING_LABEL) if spread.missing.records else spread for spread in spreads]
    return tuple(spreads)


def _has(label: str | None) -> bool:
    return label is not None and bool(label.strip())


def _missing_named(
    pairs: list[Pair], columns: list[str] | None, order: tuple[str, ...] | None
) -> tuple[list[Pair], list[str] | None, tuple[str, ...] | None]:
    """Count what lacks a label as the category, or in the column, "(missing)"."""

    def name(label: str | None) -> str:
        return str(label) if _has(label) else MISSING_LABEL

    named = [pair._replace(category=name(pair.category), label=name(pair.label)) for pair in pairs]
    if columns is not None and any(pair.label == MISSING_LABEL for pair in named):
        columns = [*columns, MISSING_LABEL]
    if order is not None and any(pair.category == MISSING_LABEL for pair in named):
        order = (*order, MISSING_LABEL)
    return named, columns, order
