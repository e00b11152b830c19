"""What rates are per: the exposure of each category, added up from a column."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from vantric.core.counts.measures import Exposure
from vantric.core.counts.provenance import Note
from vantric.core.counts.relabeling import Relabeling, relabeling
from vantric.core.counts.tally import MISSING_LABEL
from vantric.core.numbers.amounts import Amounts, Number, Raw
from vantric.counting.count_records import count_source
from vantric.counting.repeated_records import ONCE, is_once, repeated, taken_once, values_by
from vantric.counting.tallies import naming
from vantric.engines.opening import with_records
from vantric.errors import ColumnError
from vantric.reading.headings import label_text
from vantric.reading.records import Records
from vantric.reading.settings import CountSettings, ReadSettings, check_columns

Notes = tuple[Note, ...]


def exposure_of(data: Any, counting: CountSettings, opening: ReadSettings, per: object) -> tuple[Exposure, str, Notes]:
    """Return what a tally's frequencies are divided by, what it is called, and what there is to say of it.

    Parameters
    ----------
    data
        The source that was counted.
    counting, opening
        How.
    per
        A number for all, a mapping of category to number, or the column that holds the exposure of each record: it is
        added up by category, with the same names.
    """
    if isinstance(per, Mapping):
        return {str(name): number for name, number in per.items()}, "units", ()
    number = as_number(per)
    if number is not None:
        return number, "units", ()
    if not isinstance(per, str):
        raise ColumnError(f"rates are per a number, a column or a mapping of category to number, not {per!r}")
    if counting.by_columns or counting.unique or counting.separator:
        raise ColumnError("rates per a column are for records with one label each: give the exposure as a number")
    if data == "-":
        raise ColumnError("standard input can be read once only: rates per a column need a file")
    plain = replace(counting, in_order=False, date=None, merge_spellings=False, families=None, missing="exclude")
    counted, rename = _named(count_source(data, plain, opening).as_dict(), counting)
    by, column = str(counting.by), per
    taken, notes = with_records(data, opening, [by, per.removeprefix(ONCE)], lambda records: _once(records, by, column))
    amounts_by_name: dict[str, list[Raw]] = {}
    if taken is not None:
        for label, amount in taken.items():
            name = MISSING_LABEL if label is None or not label.strip() else rename(label)
            amounts_by_name.setdefault(name, []).append(amount)
        exposure = {name: Amounts.of(amounts).total for name, amounts in amounts_by_name.items()}
        return exposure, per.removeprefix(ONCE), notes
    tally = count_source(data, replace(plain, count=per, weight=None), opening)
    for label, amount in tally.as_dict().items():
        amounts_by_name.setdefault(rename(label), []).append(amount)
    exposure = {name: Amounts.of(amounts).total for name, amounts in amounts_by_name.items()}
    if tally.missing.records:
        exposure[MISSING_LABEL] = tally.missing.records
    return exposure, per, (*notes, *_own_rows(counted, exposure, by, per))


#: Categories whose counts are as far apart, and whose rates are as near, have exposures of their own rows alone.
_FEWEST, _APART, _ALIKE = 3, 3.0, 1.25


def _own_rows(counted: Mapping[str, Number], exposure: Mapping[str, Number], by: str, per: str) -> Notes:
    """Warn of rates that come out alike since each exposure is that of the rows with its label alone."""
    pairs = [(float(counted[name]), float(exposure[name])) for name in counted if exposure.get(name) and counted[name]]
    counts, rates = [count for count, _ in pairs], [count / amount for count, amount in pairs]
    if len(pairs) < _FEWEST or max(counts) < _APART * min(counts) or max(rates) > _ALIKE * min(rates):
        return ()
    text = (
        f"the rates of '{by}' per '{per}' come out alike: '{per}' is added up over the rows of each label alone, and "
        "grows with them"
    )
    fix = f"give all of '{per}', those of rows without a '{by}' too: per as a number, or once a lot with per='once:LOT'"
    return (Note("own-exposure", text, "warning", fix),)


def _named(counts: Mapping[str, Number], counting: CountSettings) -> tuple[dict[str, Number], Relabeling]:
    """Return counts under the names that the tally has, and these names."""
    rename = relabeling(counts, **naming(counting))
    named: dict[str, Number] = {}
    for label, number in counts.items():
        named[rename(label)] = named.get(rename(label), 0) + number
    return named, rename


def _once(records: Records, key: str, per: str) -> tuple[dict[str | None, Raw] | None, Notes]:
    """Return label -> exposure where it is taken once a group, else None, and what there is to say of it."""
    if is_once(per, records.names()):
        values, notes = taken_once(records, key, per.removeprefix(ONCE))
        return values, tuple(notes)
    check_columns([per], records.names(), records.place)
    return None, tuple(repeated(records, [key], per))


def total_exposure(data: Any, opening: ReadSettings, per: str) -> Number:
    """Return the sum of a column over all records, those without a label too; or its one value, if it is taken once."""
    if per.startswith(ONCE):
        column = per.removeprefix(ONCE)
        values = with_records(data, opening, [column], lambda records: values_by(records, [], column)).get((), {})
        if len(values) != 1:
            raise ColumnError(f"'{column}' is not one value in each source; give the exposures as two numbers")
        return Amounts.of(list(values)).total
    items = with_records(data, opening, [per], lambda records: records.sums([], per))
    return Amounts.of([items[0][-1]] if items else []).total


def exposures_of(sides: Sequence[Any], opening: ReadSettings, per: object) -> tuple[tuple[Number, Number] | None, str]:
    """Return what two sides were counted in, and what it is called: two numbers, or a column of both sources."""
    if per is None:
        return None, ""
    named = as_number(per)
    if isinstance(per, str) and named is None and "," not in per:
        totals = [total_exposure(side, opening, per) for side in sides]
        return (totals[0], totals[1]), per
    parts = per.split(",") if isinstance(per, str) else per if isinstance(per, (list, tuple)) else [per, per]
    numbers = [as_number(part) for part in parts]
    if len(numbers) != 2 or None in numbers:
        raise ColumnError(f"rates of two sides are per two numbers, or per a column; {per} is neither")
    return (numbers[0], numbers[1]), "units"  # type: ignore[return-value]


def exposures_within(
    data: Any, opening: ReadSettings, per: object, split: str, labels: tuple[str, str]
) -> tuple[tuple[Number, Number] | None, str, Notes]:
    """Return what two parts of one source were counted in; a column is added up over all records of each part."""
    if not isinstance(per, str) or as_number(per) is not None or "," in per:
        return (*exposures_of((data, data), opening, per), ())
    if data == "-":
        raise ColumnError("standard input can be read once only: rates per a column need a file")
    column = per
    taken, notes = with_records(
        data, opening, [split, per.removeprefix(ONCE)], lambda records: _once(records, split, column)
    )
    if taken is not None:
        values = [Amounts.of([taken[label]] if label in taken else []).total for label in labels]
        return (values[0], values[1]), per.removeprefix(ONCE), notes
    sums = with_records(data, opening, [split, per], lambda records: records.sums([split], per))
    amounts_by_label: dict[str | None, list[Raw]] = {}
    for label, _, total in sums:
        amounts_by_label.setdefault(label_text(label), []).append(total)
    totals = [Amounts.of(amounts_by_label.get(label, [])).total for label in labels]
    return (totals[0], totals[1]), per, notes


def as_number(value: object) -> Number | None:
    """Return a number, or the number that a text is; None for any other text, a column's name."""
    if isinstance(value, bool):
        return None
    if isinstance(value, int | float):
        return value
    try:
        number = float(str(value))
    except ValueError:  # it is the name of a column
        return None
    return int(number) if number.is_integer() else number
