"""From groups of records to a tally: cells parted, labels renamed, what is missing set aside."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from pathlib import Path
from typing import Any

from vantric.core.counting.relabel import relabelling
from vantric.core.counting.remark import Remark
from vantric.core.counting.tally import Origin, Tally, exact_sum, make_tally
from vantric.core.numbers.amounts import Amounts, Number, Raw
from vantric.core.numbers.shown import counted
from vantric.sources.families import read_families
from vantric.sources.labels import label_text
from vantric.sources.options import Counting
from vantric.sources.records import Records

#: A label or None, records, and what they add up to.
Cell = tuple[str | None, int, Raw]


def tally_records(records: Records, counting: Counting, remarks: Iterable[Remark] = ()) -> Tally:
    """Count records as asked."""
    said = [*records.remarks, *remarks]
    if counting.by_columns:
        groups, rows = _column_sums(records, counting.by_columns)
    elif counting.unique:
        groups, rows, more = _unit_counts(records, counting)
        said += more
    else:
        cells = _cells(records, counting)
        rows = sum(cell[1] for cell in cells)
        groups = [(label, amount) for label, _, amount in parted(cells, counting.separator)]
    if not counting.unique:
        rename = relabelling(frequencies(groups), **naming(counting))
        groups = [(None if label is None else rename(label), amount) for label, amount in groups]
        said += rename.remarks
    return make_tally(groups, origin_of(records, counting, rows, said))


def origin_of(records: Records, counting: Counting, rows: int, remarks: Iterable[Remark]) -> Origin:
    """Return where counts come from, and how they were counted."""
    return Origin(
        source=records.shown,
        by=counting.by,
        count=counting.count,
        input_rows=rows,
        where=records.where,
        counted=what_is_counted(counting),
        grouped=counting.families is not None,
        remarks=tuple(remarks),
    )


def naming(counting: Counting) -> dict[str, Any]:
    """Return the options of `relabelling`."""
    families = counting.families
    if isinstance(families, str | Path):
        families = read_families(Path(families))
    return {"merge_spellings": counting.merge_spellings, "families": families}


def what_is_counted(counting: Counting) -> str:
    """Return what one unit of frequency is."""
    if counting.unique:
        return f"distinct {counting.unique}"
    if counting.by_columns:
        return "occurrences"
    return "mentions" if counting.separator and not counting.count else "records"


def _cells(records: Records, counting: Counting) -> list[Cell]:
    """Return a cell a label: how often it occurs, and what its counts add up to."""
    by = str(counting.by)
    if counting.count is None:
        found = [(label_text(value), int(number), int(number)) for value, number in records.groups([by])]
    else:
        sums = records.sums([by], counting.count)  # every record has a count, or it is an error
        found = [(label_text(value), int(number), amount) for value, number, amount in sums]
    cells: dict[str | None, list[Cell]] = {}
    for cell in found:
        cells.setdefault(cell[0], []).append(cell)
    return [
        same[0] if len(same) == 1 else (label, sum(cell[1] for cell in same), exact_sum([cell[2] for cell in same]))
        for label, same in cells.items()
    ]


def parted(cells: Iterable[Cell], separator: str | None) -> Iterable[Cell]:
    """Yield a cell for each label in it; a label that a cell names twice counts once."""
    for label, rows, amount in cells:
        if label is None or separator is None:
            yield label, rows, amount
            continue
        labels = list(dict.fromkeys(filter(None, (piece.strip() for piece in label.split(separator)))))
        if not labels:
            yield None, rows, amount
        for piece in labels:
            yield piece, rows, amount


def frequencies(groups: Iterable[tuple[str | None, Raw]]) -> dict[str, Number]:
    """Return label -> what its groups add up to."""
    heaps: dict[str, list[Raw]] = {}
    for label, amount in groups:
        if label is not None and label.strip():
            heaps.setdefault(label, []).append(amount)
    return {label: Amounts.of(heap).total for label, heap in heaps.items()}


def _column_sums(records: Records, columns: tuple[str, ...]) -> tuple[list[tuple[str | None, Raw]], int]:
    """Take each column as a category; a blank cell is no occurrence."""
    found: list[tuple[str | None, Raw]] = []
    for column in columns:
        below = records.least(column)
        if below is not None and below < 0:
            raise records.wrong_amount(column, "is negative", [], free=False)
        found.extend((column, total) for *_, total in records.sums([], column, free=True))
    rows = sum(int(group[-1]) for group in records.groups(()))
    return found, rows


def _unit_counts(records: Records, counting: Counting) -> tuple[list[tuple[str | None, Raw]], int, list[Remark]]:
    """Count the different units of each label; labels that become one share their units."""
    by, unit = str(counting.by), str(counting.unique)
    plain = records.groups([by])
    rows = sum(int(group[-1]) for group in plain)
    cells = [(label_text(value), int(number), int(number)) for value, number in plain]
    rename = relabelling(frequencies((c[0], c[2]) for c in parted(cells, counting.separator)), **naming(counting))
    said = list(rename.remarks)
    if not rename.names and counting.separator is None:
        found = records.units([by], unit)
        groups: list[tuple[str | None, Raw]] = [(label_text(value), int(units)) for value, units, _ in found]
        without = sum(int(blank) for *_, blank in found)
    else:
        groups, without = _shared_units(records, counting, rename.names)
    if without:
        said.append(Remark("no-unit", f"{counted(without, 'record')} without a {unit} left out"))
    return groups, rows, said


def _shared_units(
    records: Records, counting: Counting, names: Mapping[str, str]
) -> tuple[list[tuple[str | None, Raw]], int]:
    found: dict[str | None, set[str]] = {}
    without = 0
    for value, unit, number in records.groups([str(counting.by), str(counting.unique)]):
        serial = label_text(unit)
        if serial is None or not serial.strip():
            without += int(number)
            continue
        for label, *_ in parted([(label_text(value), 1, 1)], counting.separator):
            name = None if label is None or not label.strip() else names.get(label, label)
            found.setdefault(name, set()).add(serial)
    return [(label, len(serials)) for label, serials in found.items()], without
