"""Records that stand twice, and exposures that stand in every row of a group but belong to it once."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from fractions import Fraction
from typing import Any

from vantric.core.counts.provenance import Note
from vantric.core.messages.message import Remark, Written
from vantric.core.numbers.amounts import Raw
from vantric.core.numbers.number_format import counted, one_line, quoted
from vantric.engines.opening import with_records
from vantric.errors import AmountError, ColumnError, VantricError
from vantric.reading.headings import is_blank, label_text
from vantric.reading.records import Group, Records
from vantric.reading.settings import ReadSettings

_FEWEST = 8  # different records: as many even numbers hardly happen by chance
#: Records beyond which a log is not searched for copies: it would be read twice.
_MOST_RECORDS = 2_000_000
#: Columns that are compared; a wider record is unique anyway.
_MOST_COMPARED = 60
_LEAST_ALONE = 0.98  # of the different records, beside which one that stands twice was copied
#: Records of a log whose keys are looked through, and how rare it is that keys repeat with one label by chance.
_MOST_JOINED, _CHANCE = 200_000, 0.01
#: A log pasted again repeats many records; fewer are chance.
_LEAST_AGAIN = 3


def doubled(records: Records, by: str, rows: Iterable[int]) -> list[Note]:
    """Report records that all stand twice, or as often as each other, cell by cell alike.

    Parameters
    ----------
    records
    by
        The column of labels.
    rows
        How many records each label has, and how many have none: only where all have a common divisor are the records
        compared.
    """
    numbers = [number for number in rows if number]
    times = math.gcd(*numbers) if numbers else 1
    records_in_all = sum(numbers)
    names = records.names()
    if times < 2 or not 2 <= len(names) <= _MOST_COMPARED or not _FEWEST * times <= records_in_all <= _MOST_RECORDS:
        return []
    for compared in _without_numbering(records, names, records_in_all):
        groups = [int(group[-1]) for group in _groups(records, compared)]
        copies = math.gcd(*groups) if groups else 1
        if copies > 1 and len(groups) >= _FEWEST and len(compared) > 1:
            other = "" if len(compared) == len(names) else f" but for {', '.join(sorted(set(names) - set(compared)))}"
            what = f"every record stands {_times(copies)}, cell by cell alike{other}"
            means = Remark("{} records are {} different ones", records_in_all, records_in_all // copies)
            return [_repeated_note(records, what, means)]
    return []


def copied_records(data: Any, opening: ReadSettings, by: str | None) -> list[Note]:
    """Report some records of a source that stand twice; nothing where it is not known."""

    def copies(records: Records) -> list[Note]:
        return partly_doubled(records) or joined(records, by)

    try:
        return with_records(data, opening, [], copies)
    except VantricError:  # a note must not stop what it is about
        return []


def partly_doubled(records: Records) -> list[Note]:
    """Report some records that stand twice where hardly any two others are alike: copied, or joined again."""
    names = records.names()
    if not 2 <= len(names) <= _MOST_COMPARED:
        return []
    different = _groups(records, names)
    groups = [int(group[-1]) for group in different]
    records_in_all, repeats = sum(groups), sum(number - 1 for number in groups)
    if records_in_all > _MOST_RECORDS or repeats < _LEAST_AGAIN or repeats == len(groups) or len(groups) < _FEWEST:
        return []
    if max(groups) > 3 or not _identified(records, names, len(groups)):
        return _doubled_part(records, names, different)
    return [
        _repeated_note(
            records,
            Remark(
                "{} {} another cell by cell",
                Written(counted(repeats, "record")),
                "repeats" if repeats == 1 else "repeat",
            ),
            Remark("{} records are {} different ones", records_in_all, len(groups)),
        )
    ]


def joined(records: Records, by: str | None) -> list[Note]:
    """Report records that stand several times beside other cells: another table was joined that has several rows a key.

    A column that tells most records apart repeats some of its values, always with the same label, though labels differ:
    by chance that is rarer than one in a hundred. Most of the other columns repeat, too; the rest came with the join.
    """
    names = records.names()
    if by not in names or not 3 <= len(names) <= _MOST_COMPARED:
        return []
    labels = [int(group[-1]) for group in _groups(records, [by]) if not is_blank(group[0])]
    records_in_all = sum(labels)
    if not 2 * _FEWEST <= records_in_all <= _MOST_JOINED:
        return []
    alike = sum(number * number for number in labels) / records_in_all**2
    for name in names:
        keys = [group for group in _groups(records, [name]) if not is_blank(group[0])]
        repeats = records_in_all - len(keys)
        if name == by or repeats < _LEAST_AGAIN or len(keys) < max(_FEWEST, records_in_all / 2):
            continue
        if alike**repeats > _CHANCE or len(_groups(records, [name, by])) > len(keys):
            continue
        others = [other for other in names if other not in (name, by)]
        differing = [other for other in others if len(_groups(records, [name, other])) > len(keys)]
        if differing and 2 * len(differing) <= len(others) + 1:
            what = Remark(
                "{} repeat the '{}' of another, with the same '{}' and another {}",
                Written(counted(repeats, "record")),
                name,
                by,
                Written(quoted(differing)),
            )
            return [_repeated_note(records, what, Remark("{} records are {} of '{}'", records_in_all, len(keys), name))]
    return []


def _doubled_part(records: Records, names: Sequence[str], different: Sequence[Group]) -> list[Note]:
    """Report that all records with one value in a column stand twice and no others do: a table was joined to them."""
    for place, name in enumerate(names):
        times: dict[Any, list[int]] = {}
        for group in different:
            times.setdefault(group[place], []).append(int(group[-1]))
        copied = {
            value: factor
            for value, numbers in times.items()
            if len(numbers) >= _FEWEST and (factor := math.gcd(*numbers)) > 1
        }
        others = [number for value, numbers in times.items() if value not in copied for number in numbers]
        if copied and len(others) >= _FEWEST and others.count(1) >= _LEAST_ALONE * len(others):
            value, factor = next(iter(copied.items()))
            what = Remark(
                "all {} records with '{}' in '{}' stand {}, cell by cell alike",
                sum(times[value]),
                one_line(str(value), longest=40),
                name,
                _times(factor),
            )
            means = Remark("{} records are {} different ones", sum(times[value]), sum(times[value]) // factor)
            return [_repeated_note(records, what, means)]
    return []


def _repeated_note(records: Records, what: str, means: str) -> Note:
    return Note(
        "repeated-records",
        f"{records.place}: {what}: {means}",
        "warning",
        "take the repeated records out of the source, if they were pasted or joined twice",
    )


def _identified(records: Records, names: Sequence[str], different: int) -> bool:
    """Whether one column alone tells nearly all different records apart, such as a serial number or a time."""
    return any(len(_groups(records, [name])) >= _LEAST_ALONE * different for name in names)


def _groups(records: Records, names: Sequence[str]) -> list[Group]:
    try:
        return records.groups(names)
    except VantricError:  # a note must not stop what it is about
        return []


def _without_numbering(records: Records, names: Sequence[str], records_in_all: int) -> Iterable[list[str]]:
    """Yield the columns to compare: all, and all but those that number the records."""
    yield list(names)
    numbering = [name for name in names if len(_groups(records, [name])) == records_in_all]
    if numbering and len(numbering) < len(names) - 1:
        yield [name for name in names if name not in numbering]


def _times(number: int) -> str:
    return {2: "twice", 3: "three times"}.get(number, f"{number} times")


#: Before the name of an exposure that belongs to its group once.
ONCE = "once:"
_MOST_COLUMNS = 12  # in which a group is looked for
#: Groups beyond which it is not worked out whether an exposure is repeated.
_MOST_GROUPS = 200_000

#: Group -> different values -> the records that have them.
Values = Mapping[tuple[Any, ...], Mapping[Raw, int]]


def is_once(per: str, names: Sequence[str]) -> bool:
    """Whether ``once:COL`` means to take a column once a group; a column of that very name wins."""
    return per.startswith(ONCE) and per not in names


def values_by(records: Records, keys: Sequence[str], column: str) -> Values:
    """Return the different numbers of a column in each group."""
    values: dict[tuple[Any, ...], dict[Raw, int]] = {}
    for *labels, cell, rows in records.groups([*keys, column]):
        if is_blank(cell):
            continue
        try:
            number = records.number(column, cell, counted=True)
        except ValueError as reason:
            raise records.wrong_amount(column, str(reason), labels, free=False, counted=True) from None
        if number is None:
            continue
        group = values.setdefault(tuple(map(label_text, labels)), {})
        group[number] = group.get(number, 0) + int(rows)
    return values


def taken_once(records: Records, key: str, column: str) -> tuple[dict[str | None, Raw], list[Note]]:
    """Return label -> what a column holds, once a group: the whole label, or the parts that another column makes of it.

    Raises
    ------
    AmountError
        If the value differs within a label, and no other column or several divide it so that it does not.
    """
    by_label = values_by(records, [key], column)
    if all(len(values) == 1 for values in by_label.values()):
        return {label: next(iter(values)) for (label,), values in by_label.items()}, []
    amounts_of: dict[str, dict[str | None, Raw]] = {}
    for name in _others(records, (key, column)):
        parts = values_by(records, [key, name], column)
        if all(len(values) == 1 for values in parts.values()) and _repeats(parts):
            sums: dict[str | None, Raw] = {}
            for (label, _), values in parts.items():
                sums[label] = sums.get(label, 0) + next(iter(values))  # type: ignore[operator]
            amounts_of[name] = sums
    totals = {
        tuple(sorted((str(label), Fraction(value)) for label, value in entry.items())) for entry in amounts_of.values()
    }
    if len(totals) == 1:
        name = next(iter(amounts_of))
        text = f"{records.place}: '{column}' is the same in all records of one {name}: it was taken once for each"
        return amounts_of[name], [Note("once-a-group", text)]
    label, counts = next((label, values) for (label,), values in by_label.items() if len(values) > 1)
    two = " and ".join(str(value) for value in list(counts)[:2])
    which = f": {', '.join(amounts_of)} divide it differently" if amounts_of else ""
    raise AmountError(
        f"{records.place}: '{column}' is not one value for '{one_line(str(label))}' ({two}){which}; give the exposure "
        "as numbers"
    )


def _others(records: Records, texts: Sequence[str]) -> list[str]:
    return [name for name in records.names() if name not in texts][:_MOST_COLUMNS]


def _repeats(parts: Values) -> bool:
    """Whether groups have several records each: what has one record cannot be repeated."""
    return sum(sum(values.values()) for values in parts.values()) >= 1.5 * len(parts)


def repeated(records: Records, keys: Sequence[str], column: str) -> list[Note]:
    """Report a column that is added up and holds one value in all records of each group."""
    for more in ([], *([name] for name in _others(records, (*keys, column)))):
        try:
            parts = values_by(records, [*keys, *more], column)
        except (AmountError, ColumnError):  # what is wrong with the column is said where it is added up
            return []
        several = {group: values for group, values in parts.items() if sum(values.values()) > 1}
        if len(parts) > _MOST_GROUPS or len(several) < 2 or not _repeats(parts):
            continue
        items = {next(iter(values)) for values in several.values()}
        if len(items) > 1 and all(len(values) == 1 for values in several.values()):
            value = str(next(iter(items)))
            what = " and ".join([*keys, *more])
            return [
                Note(
                    "repeated-exposure",
                    f"{records.place}: '{column}' is the same in all records of one {what} "
                    f"(such as {value}), and is added up record by record",
                    "warning",
                    f'if it belongs to the {what} once, say per="{ONCE}{column}"',
                )
            ]
    return []
