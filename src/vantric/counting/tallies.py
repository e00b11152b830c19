"""From groups of records to a tally: cells separated, labels renamed, what is missing set aside."""

from __future__ import annotations

import math
import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace
from fractions import Fraction
from pathlib import Path
from typing import Any

from vantric.base.lazily import compiled
from vantric.core.counts.provenance import Note, Provenance, is_quantity_name, quantity_unit
from vantric.core.counts.relabeling import Relabeling, is_missing_code, relabeling
from vantric.core.counts.tally import Spread, Tally, exact_sum, make_tally, make_weighted_tally, with_missing_category
from vantric.core.messages.message import Joined, Remark, Written
from vantric.core.numbers.amounts import Amounts, Number, Raw
from vantric.core.numbers.number_format import counted, one_line, quoted
from vantric.core.review.finding import is_measured
from vantric.counting.cells import (
    LabelCell,
    paired,
    read_families,
    resolved,
    split_cells,
    spread_over,
)
from vantric.counting.occurrences import agreeing, is_sheet, repeats_of, spread_by_lot
from vantric.counting.repeated_records import doubled
from vantric.counting.total_rows import TotalSearch, most_frequent, without_totals
from vantric.reading.dates import first_and_last_day
from vantric.reading.headings import is_blank, label_text
from vantric.reading.records import Records
from vantric.reading.settings import CountSettings

#: With fewer rows an empty cell under a label is no outer level.
_FEWEST_LABELS = 3
#: Headings of columns that hold units.
_UNIT_COLUMN = compiled(
    r"units?|uom|unit of measure|measure unit|einheit|mengeneinheit|unité|unidad|unità|eenheid|enhet|ед\.?( изм\.?)?",
    re.IGNORECASE,
)
_EVEN = 1.1  # how much more often the most frequent label of a daily count may stand than the rarest
_SHORT_SHEET = 20_000  # records of a sheet, beyond which it is a log


def missing_codes(records: Records, by: str, labels: Iterable[tuple[str | None, int]]) -> list[Note]:
    """Report labels that look like codes for what is missing."""
    pairs = [(label, rows) for label, rows in labels if label is not None and is_missing_code(label)]
    if not pairs:
        return []
    text = Joined(
        [Remark("'{}' ({})", one_line(label), Written(f"{rows:,}")) for label, rows in pairs[:3]],
        ", ",
    )
    return [
        Note(
            "missing-code",
            Remark("{}: '{}' holds {}: a code for what is missing?", records.place, by, text),
            "warning",
            f'if it is, say na="{one_line(pairs[0][0])}"',
        )
    ]


def outer_labels(records: Records, by: str, cells: Iterable[tuple[str | None, int]]) -> list[Note]:
    """Report labels that stand once above blank cells: they may hold for the records below."""
    pairs = list(cells)
    labeled = [rows for label, rows in pairs if label is not None and label.strip()]
    blank = sum(rows for _, rows in pairs) - sum(labeled)
    if len(labeled) < 2 or not blank or blank > _SHORT_SHEET or len(records.names()) < 3 or max(labeled) > 1:
        return []
    return [
        Note(
            "outer-labels",
            Remark(
                "{}: each label of '{}' stands once, and {} {} none",
                records.place,
                by,
                Written(counted(blank, "record")),
                "has" if blank == 1 else "have",
            ),
            "warning",
            f"if a label holds for the records below it, say fill_down='{by}'",
        )
    ]


def counts_beside(records: Records, by: str, cells: Sequence[LabelCell]) -> list[Note]:
    """Report a sheet in which each label stands once, or once a day, beside a column of numbers: the counts."""
    if len(cells) > _SHORT_SHEET:
        return []
    numbers = [cell.rows for cell in cells if not is_blank(cell.label)]
    rows = sum(cell.rows for cell in cells)
    if not _FEWEST_LABELS <= len(numbers) <= rows <= _SHORT_SHEET or max(numbers) > _EVEN * min(numbers):
        return []
    from vantric.reading.profile import profile

    columns = [column for column in profile(records) if column.name != by]
    beside = [column.name for column in columns if column.kind == "number"]
    apart: str | None = ""
    if len(cells) < rows:  # a machine is looked at once a day, too, and its temperature is no count
        apart = _telling_apart(records, by, [column.name for column in columns if column.kind != "number"], rows)
        whole = {column.name for column in columns if all(label.isdecimal() for label, _ in column.commonest)}
        beside = [name for name in beside if name in whole and not (is_measured(name) or is_quantity_name(name))]
    if not beside or apart is None:
        return []
    named = quoted(beside[:3])
    once = f"once for each '{apart}'" if apart else "once"
    return [
        Note(
            "counts-beside",
            f"{records.place}: each label of '{by}' stands {once} and counts as 1, and {named} "
            f"{'holds' if len(beside) == 1 else 'hold'} numbers beside it: are these the counts?",
            "warning",
            f"say count='{beside[0]}' to add them up",
        )
    ]


def _telling_apart(records: Records, by: str, names: Sequence[str], rows: int) -> str | None:
    """Return the column of which no label has two records with the same value: the day of a daily count."""
    return next((name for name in names if len(records.groups([by, name])) == rows), None)


def mixed_units(records: Records, counted: Iterable[str | None]) -> list[Note]:
    """Report a column of units beside the counts that names several: kilograms and pieces do not add up."""
    amounts = [name for name in counted if name]
    beside = next((name for name in records.names() if _UNIT_COLUMN.fullmatch(name.strip().replace("_", " "))), None)
    if not amounts or beside is None or beside in amounts:
        return []
    groups = {
        str(value).strip().casefold(): str(value).strip()
        for value, _ in records.groups([beside])
        if not is_blank(value)
    }
    if len(groups) < 2:
        return []
    return [
        Note(
            "mixed-units",
            f"{records.place}: '{amounts[0]}' is added up, and '{beside}' beside it says "
            f"{quoted(sorted(groups.values()))}: amounts of different units do not add up",
            "warning",
            "count one unit at a time, or bring all amounts to one unit",
        )
    ]


def counted_again(records: Records, cells: Sequence[LabelCell], separator: str | None, count: str | None) -> list[Note]:
    """Report records of several labels whose whole count is counted under each of them."""
    if separator is None or count is None:
        return []
    several = [cell for cell in cells if len([*split_cells([cell], separator)]) > 1]
    if not several:
        return []
    once = sum((Fraction(cell.counted) for cell in cells if cell.label is not None), Fraction())
    again = sum((Fraction(cell.counted) * (len([*split_cells([cell], separator)]) - 1) for cell in several), Fraction())
    rows = sum(cell.rows for cell in several)
    verb = "counts" if rows == 1 else "count"
    return [
        Note(
            "counted-again",
            Remark(
                "{}: {} with several labels {} under each of them with the whole of '{}': {} are counted as {}",
                records.place,
                Written(counted(rows, "record")),
                verb,
                count,
                float(once),
                float(once + again),
            ),
            "warning",
            "count the records (leave count out), or say that percents are of mentions, not of what was counted",
        )
    ]


_SHORT = 20_000  # records of a sheet of counts, whose totals may lack a label
#: Label, records, amount.
Groups = Iterable[tuple[str | None, Raw, Raw]]


def tally_records(records: Records, counting: CountSettings, remarks: Iterable[Note] = ()) -> Tally:
    """Count records as asked, without their totals."""
    records, counting = paired(records, counting)
    settings = resolved(counting, records)
    notes = list(remarks)

    def labels(tally: Tally) -> list[str | None]:
        return seen_labels(tally, settings)

    return without_totals(records, total_search_of(settings), lambda left: _tally(left, settings, notes), labels)


def total_search_of(counting: CountSettings) -> TotalSearch:
    """Return what is looked at for totals."""
    counts = counting.added or ((str(counting.count),) if counting.count else ())
    if counting.by_columns or counts:
        return TotalSearch(counting.by, counting.by_columns or counts, counted=bool(counts) and not counting.added)
    return TotalSearch(counting.by, (counting.weight,) if counting.weight else (), counted=False)


def seen_labels(tally: Tally, counting: CountSettings) -> list[str | None]:
    """Return the labels of a tally, and None if a row may be a total though no label says so.

    Some rows of a short table of counts have no label, or one of ready counts equals all others.
    """
    short = tally.origin.input_rows <= _SHORT
    unlabeled = (counting.count or counting.weight) and (tally.missing.records or tally.origin.missing_as)
    amounts = tally.as_dict()
    half = tally.origin.ready and bool(amounts) and 2 * max(amounts.values()) == tally.total
    return most_frequent(amounts, missing=half or (short and (unlabeled or counting.by_columns)))


def _tally(records: Records, counting: CountSettings, remarks: Sequence[Note]) -> Tally:
    notes = list(remarks)
    rename = Relabeling({})
    cells: list[LabelCell] = []
    if counting.by_columns:
        groups, rows = _column_sums(records, counting.by_columns)
    elif counting.unique:
        groups, rows, rename, more = _unit_counts(records, counting)
        notes += more
    else:
        cells = _cells(records, counting)
        rows = sum(cell.rows for cell in cells)
        if len(cells) <= _SHORT:
            labeled = [(cell.label, cell.rows) for cell in cells]
            notes += [
                *outer_labels(records, str(counting.by), labeled),
                *missing_codes(records, str(counting.by), labeled),
                *counted_again(records, cells, counting.separator, None if not counting.count else str(counting.count)),
                *doubled(records, str(counting.by), [cell.rows for cell in cells]),
            ]
        groups = ((cell.label, cell.counted, cell.amount) for cell in split_cells(cells, counting.separator))
    if not counting.unique:
        rename, groups = renamed(groups, counting)
    notes += mixed_units(records, (*counting.added, None if counting.added else counting.count, counting.weight))  # type: ignore[arg-type]
    if counting.by and not (counting.count or counting.weight or counting.unique):
        notes += counts_beside(records, counting.by, cells)
    origin = origin_of(records, counting, rows, [*records.remarks, *notes, *rename.remarks])
    ready = is_sheet(records, [str(counting.by)], counting, ((cell.label, cell.rows) for cell in cells))
    spread = None
    if counting.lot:
        spread = spread_by_lot(grouped(records, [str(counting.by), counting.lot], counting), counting, rename)
    elif not ready and stand_for_several(counting):
        spread = spread_over(cells, counting, rename)
    order = sequence(records, counting, rename)
    tally = finished_tally(groups, replace(origin, ready=ready), counting, order, spread)
    if ready:
        tally = replace(tally, repeats=agreeing(repeats_of(records, counting, rename, rows), tally.as_dict()))
    return _as_quantity(tally, records, counting)


def stand_for_several(counting: CountSettings) -> bool:
    """Whether a record may stand for several occurrences, or have several labels."""
    return bool(counting.count or counting.weight or counting.separator is not None)


def _as_quantity(tally: Tally, records: Records, counting: CountSettings) -> Tally:
    """Return a tally that says so where what is counted is no count."""
    name = None if counting.added or counting.weight or counting.count is None else str(counting.count)
    if name is None:
        return tally
    values = tally.frequency.values()
    unit = quantity_unit(name, records.unit_of(name), values, ready=tally.origin.ready)
    return tally if unit is None else replace(tally, origin=replace(tally.origin, quantity=unit))


def renamed(groups: Groups, counting: CountSettings) -> tuple[Relabeling, Groups]:
    """Return the new names of labels, and the groups under them."""
    if not counting.merge_spellings and counting.families is None and not counting.rename:
        return Relabeling({}), groups
    groups = list(groups)
    rename = relabeling(frequencies((label, amount) for label, _, amount in groups), **naming(counting))
    return rename, [(None if label is None else rename(label), count, amount) for label, count, amount in groups]


def finished_tally(
    groups: Groups,
    origin: Provenance,
    counting: CountSettings,
    order: tuple[str, ...] | None,
    spread: Spread | None = None,
) -> Tally:
    """Return the tally of renamed groups, what is missing as a category if asked for."""
    if counting.weight:
        tally = make_weighted_tally(groups, origin)
    else:
        tally = make_tally(((label, amount) for label, _, amount in groups), origin)
    if order is not None or spread is not None:
        tally = replace(tally, sequence=order, spread=spread)
    return with_missing_category(tally) if counting.missing == "category" else tally


def sequence(records: Records, counting: CountSettings, rename: Relabeling) -> tuple[str, ...] | None:
    """Return the labels in the order of their first records, if that is wanted and the source has one."""
    if not counting.in_order:
        return None
    if counting.by_columns:
        return tuple(dict.fromkeys(map(rename, counting.by_columns)))
    values = records.first_values(str(counting.by))
    if values is None:
        return None
    if counting.separator is None:
        return first_labels(map(label_text, values), rename)
    cells = [LabelCell(label_text(value), 1, 1, 1, 0.0) for value in values]
    return first_labels((cell.label for cell in split_cells(cells, counting.separator)), rename)


def first_labels(labels: Iterable[str | None], rename: Relabeling) -> tuple[str, ...]:
    """Return labels as renamed, each where it comes first; missing ones left out."""
    there = (label for label in labels if label is not None and label.strip())
    return tuple(dict.fromkeys(map(rename, there) if rename.names else there))


def origin_of(records: Records, counting: CountSettings, rows: int, remarks: Iterable[Note]) -> Provenance:
    """Return where counts come from, and how they were counted."""
    count = None if counting.count is None else str(counting.count)
    return Provenance(
        source=records.shown,
        by=counting.by,
        count=count,
        spans=count is not None and count.casefold() not in map(str.casefold, records.names()),
        input_rows=rows,
        where=records.where,
        counted=what_is_counted(counting),
        grouped=counting.families is not None,
        remarks=tuple(remarks),
        weight=counting.weight,
        unit_name=counting.unit or "",
        lot=counting.lot or "",
        rows=counting.rows,
        days=first_and_last_day(records, counting.date) if counting.date else None,
    )


def naming(counting: CountSettings) -> dict[str, Any]:
    """Return the options of `relabeling`."""
    families = counting.families
    if isinstance(families, str | Path):
        families = read_families(Path(families))
    return {"merge_spellings": counting.merge_spellings, "families": families, "rename": counting.rename}


def what_is_counted(counting: CountSettings) -> str:
    """Return what one unit of frequency is."""
    if counting.unique:
        return f"distinct {counting.unique}"
    if counting.by_columns:
        return "occurrences"
    return "mentions" if counting.separator and not counting.count else "records"


def grouped(records: Records, keys: list[str], counting: CountSettings) -> Iterable[tuple[Any, ...]]:
    """Yield (value of each key, records, counts, counts times weights, squares of these) for every combination.

    Every record has a count and a weight, where they are asked for, or it is an error.
    """
    # From the narrowest case to the widest: each asks the engine for no more than it needs.
    if counting.added:
        yield from _added(records, keys, counting)
    elif counting.count and counting.weight:
        yield from records.products(keys, str(counting.count), counting.weight)
    elif counting.weight:
        for *values, rows, amount, squares in records.sums(keys, counting.weight, counted=False, squares=True):
            # A weight without a count: every record is one occurrence.
            yield (*values, int(rows), int(rows), amount, squares)
    elif counting.count:
        sums = records.sums(keys, str(counting.count), squares=True)
        if len(keys) == 1:  # of millions in half the time
            yield from ((value, int(rows), amount, amount, squares) for value, rows, amount, squares in sums)
        else:
            yield from ((*values, int(rows), amount, amount, squares) for *values, rows, amount, squares in sums)
    elif len(keys) == 1:
        for value, records_of_it in records.groups(keys):
            number = int(records_of_it)
            yield value, number, number, number, float(number)
    else:
        for *values, records_of_it in records.groups(keys):
            number = int(records_of_it)
            yield (*values, number, number, number, float(number))


def _added(records: Records, keys: list[str], counting: CountSettings) -> Iterable[tuple[Any, ...]]:
    """Add up several columns of counts; a blank cell is no occurrence."""
    rows = {tuple(group[:-1]): int(group[-1]) for group in records.groups(keys)}
    heaps: dict[tuple[Any, ...], tuple[list[Raw], list[Raw]]] = {key: ([], []) for key in rows}
    for column in counting.added:
        check_not_negative(records, column)
        for *values, _, amount in records.sums(keys, column, free=True):
            heaps[tuple(values)][0].append(amount)
        if counting.weight:
            for *values, _, _, product, _ in records.products(keys, column, counting.weight):
                heaps[tuple(values)][1].append(product)
    # NaN: how such sums are spread over the records is not known.
    for key, (counts, products) in heaps.items():
        total = exact_sum(counts)
        yield (*key, rows[key], total, exact_sum(products) if counting.weight else total, math.nan)


def check_not_negative(records: Records, column: str) -> None:
    """Raise `AmountError` if a column of counts holds a negative one."""
    below = records.least(column)
    if below is not None and below < 0:
        raise records.wrong_amount(column, "is negative", [], free=False)


def _cells(records: Records, counting: CountSettings) -> list[LabelCell]:
    """Return a cell a label."""
    cells = [
        LabelCell(value if type(value) is str else label_text(value), rows, count, amount, squares)
        for value, rows, count, amount, squares in grouped(records, [str(counting.by)], counting)
    ]
    if len({cell.label for cell in cells}) == len(cells):
        return cells
    # Labels may meet that differ in the source: "Chip" and "Chip ".
    first: dict[str | None, LabelCell] = {}
    again: dict[str | None, list[LabelCell]] = {}  # few: a list a label would take most of the time
    for cell in cells:
        if first.setdefault(cell.label, cell) is not cell:
            again.setdefault(cell.label, [first[cell.label]]).append(cell)
    first.update((label, _together(label, same)) for label, same in again.items())
    return list(first.values())


def _together(label: str | None, cells: list[LabelCell]) -> LabelCell:
    return LabelCell(
        label,
        sum(cell.rows for cell in cells),
        exact_sum([cell.counted for cell in cells]),
        exact_sum([cell.amount for cell in cells]),
        float(sum(cell.squares for cell in cells)),
    )


def frequencies(groups: Iterable[tuple[str | None, Raw]]) -> dict[str, Number]:
    """Return label -> what its groups add up to."""
    heaps: dict[str, list[Raw]] = {}
    for label, amount in groups:
        if label is not None and label.strip():
            heaps.setdefault(label, []).append(amount)
    # Most labels have one group: they need no arrays.
    alone = {label: heap[0] for label, heap in heaps.items() if len(heap) == 1 and isinstance(heap[0], int)}
    return {label: alone[label] if label in alone else Amounts.of(heap).total for label, heap in heaps.items()}


def _column_sums(records: Records, columns: tuple[str, ...]) -> tuple[Groups, int]:
    """Take each column as a category; a blank cell is no occurrence."""
    values: list[tuple[str | None, Raw, Raw]] = []
    for column in columns:
        check_not_negative(records, column)
        values.extend((column, total, total) for *_, total in records.sums([], column, free=True))
    rows = sum(int(group[-1]) for group in records.groups(()))
    return values, rows


def _unit_counts(records: Records, counting: CountSettings) -> tuple[Groups, int, Relabeling, list[Note]]:
    """Count the different units of each label; labels that become one share their units."""
    by, unit = str(counting.by), str(counting.unique)
    plain = records.groups([by])
    rows = sum(int(group[-1]) for group in plain)
    cells = [LabelCell(label_text(value), int(number), int(number), int(number), 0.0) for value, number in plain]
    labeled = ((cell.label, cell.amount) for cell in split_cells(cells, counting.separator))
    rename = relabeling(frequencies(labeled), **naming(counting))
    # The engine can count different units only where no labels become one.
    if not rename.names and counting.separator is None:
        values = records.units([by], unit)
        groups: Groups = [(label_text(value), int(units), int(units)) for value, units, _ in values]
        without = sum(int(blank) for *_, blank in values)
    else:
        groups, without = _shared_units(records, counting, rename.names)
    notes = (
        [
            Note(
                "no-unit",
                Remark("{} with a blank '{}' left out", Written(counted(without, "record")), unit),
            )
        ]
        if without
        else []
    )
    return groups, rows, rename, notes


def _shared_units(records: Records, counting: CountSettings, names: Mapping[str, str]) -> tuple[Groups, int]:
    values: dict[str | None, set[str]] = {}
    without = 0
    for value, unit, number in records.groups([str(counting.by), str(counting.unique)]):
        serial = label_text(unit)
        if serial is None or not serial.strip():
            without += int(number)
            continue
        for cell in split_cells([LabelCell(label_text(value), 1, 1, 1, 0.0)], counting.separator):
            label = cell.label
            name = None if label is None or not label.strip() else names.get(label, label)
            values.setdefault(name, set()).add(serial)
    return [(label, len(serials), len(serials)) for label, serials in values.items()], without
