"""An exposure that stands in every row of a group, where it belongs to the group once."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from fractions import Fraction
from typing import Any

from vantric.core.counts.provenance import Remark
from vantric.core.numbers.amounts import Raw
from vantric.core.numbers.number_format import one_line
from vantric.errors import AmountError, ColumnError
from vantric.reading.blanks_part import is_blank
from vantric.reading.headings import label_text
from vantric.reading.records import Records

ONCE = "once:"
_MOST_COLUMNS = 12  # in which a group is looked for
_MOST_GROUPS = 200_000

#: Group -> different values -> the records that have them.
Values = Mapping[tuple[Any, ...], Mapping[Raw, int]]


def is_once(per: str, names: Sequence[str]) -> bool:
    """Whether ``once:COL`` means to take a column once a group; a column of that very name wins."""
    return per.startswith(ONCE) and per not in names


def values_by(records: Records, keys: Sequence[str], column: str) -> Values:
    """Return the different numbers of a column in each group."""
    found: dict[tuple[Any, ...], dict[Raw, int]] = {}
    for *labels, cell, rows in records.groups([*keys, column]):
        if is_blank(cell):
            continue
        try:
            number = records.number(column, cell, counted=True)
        except ValueError as reason:
            raise records.wrong_amount(column, str(reason), labels, free=False, counted=True) from None
        if number is None:
            continue
        group = found.setdefault(tuple(map(label_text, labels)), {})
        group[number] = group.get(number, 0) + int(rows)
    return found


def taken_once(records: Records, key: str, column: str) -> tuple[dict[str | None, Raw], list[Remark]]:
    """Return label -> what a column holds, once a group: the whole label, or the parts that another column makes of it.

    Raises
    ------
    AmountError
        If the value differs within a label, and no other column or several divide it so that it does not.
    """
    whole = values_by(records, [key], column)
    if all(len(values) == 1 for values in whole.values()):
        return {label: next(iter(values)) for (label,), values in whole.items()}, []
    found: dict[str, dict[str | None, Raw]] = {}
    for name in _others(records, (key, column)):
        parts = values_by(records, [key, name], column)
        if all(len(values) == 1 for values in parts.values()) and _repeats(parts):
            heaps: dict[str | None, Raw] = {}
            for (label, _), values in parts.items():
                heaps[label] = heaps.get(label, 0) + next(iter(values))  # type: ignore[operator]
            found[name] = heaps
    totals = {tuple(sorted((str(label), Fraction(value)) for label, value in one.items())) for one in found.values()}
    if len(totals) == 1:
        name = next(iter(found))
        said = f"{records.place}: '{column}' is the same in all records of one {name}: it was taken once for each"
        return found[name], [Remark("once-a-group", said)]
    label, shown = next((label, values) for (label,), values in whole.items() if len(values) > 1)
    two = " and ".join(str(value) for value in list(shown)[:2])
    which = f": {', '.join(found)} divide it differently" if found else ""
    raise AmountError(
        f"{records.place}: '{column}' is not one value for '{one_line(str(label))}' ({two}){which}; give the exposure "
        "as numbers"
    )


def _others(records: Records, taken: Sequence[str]) -> list[str]:
    return [name for name in records.names() if name not in taken][:_MOST_COLUMNS]


def _repeats(parts: Values) -> bool:
    """Whether groups have several records each: what has one record cannot be repeated."""
    return sum(sum(values.values()) for values in parts.values()) >= 1.5 * len(parts)


def repeated(records: Records, keys: Sequence[str], column: str) -> list[Remark]:
    """Report a column that is added up and holds one value in all records of each group."""
    for more in ([], *([name] for name in _others(records, (*keys, column)))):
        try:
            parts = values_by(records, [*keys, *more], column)
        except (AmountError, ColumnError):
            return []
        several = {group: values for group, values in parts.items() if sum(values.values()) > 1}
        if len(parts) > _MOST_GROUPS or len(several) < 2 or not _repeats(parts):
            continue
        told = {next(iter(values)) for values in several.values()}
        if len(told) > 1 and all(len(values) == 1 for values in several.values()):
            value = str(next(iter(told)))
            what = " and ".join([*keys, *more])
            return [
                Remark(
                    "repeated-exposure",
                    f"{records.place}: '{column}' is the same in all records of one {what} "
                    f"(such as {value}), and is added up record by record",
                    "warning",
                    f'if it belongs to the {what} once, say per="{ONCE}{column}"',
                )
            ]
    return []
