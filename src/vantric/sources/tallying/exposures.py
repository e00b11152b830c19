"""What rates are per: the exposure of each category, added up from a column."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from vantric.core.counting.rates import Exposure
from vantric.core.counting.relabel import relabeling
from vantric.core.counting.tally import MISSING_LABEL
from vantric.core.numbers.amounts import Amounts, Number, Raw
from vantric.errors import ColumnError
from vantric.sources.engines.opening import with_records
from vantric.sources.options import Counting, Opening
from vantric.sources.reading.labels import label_text
from vantric.sources.tallying.gather import gather
from vantric.sources.tallying.tallies import naming


def exposure_of(data: Any, counting: Counting, opening: Opening, per: object) -> tuple[Exposure, str]:
    """Return what a tally's frequencies are divided by, and what it is called.

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
        return {str(name): number for name, number in per.items()}, "units"
    number = as_number(per)
    if number is not None:
        return number, "units"
    if not isinstance(per, str):
        raise ColumnError(f"rates are per a number, a column or a mapping of category to number, not {per!r}")
    if counting.by_columns or counting.unique or counting.separator:
        raise ColumnError("rates per a column are for records with one label each: give the exposure as a number")
    if data == "-":
        raise ColumnError("standard input can be read once only: rates per a column need a file")
    plain = replace(counting, in_order=False, date=None, merge_spellings=False, families=None, missing="exclude")
    rename = relabeling(gather(data, plain, opening).as_dict(), **naming(counting))  # the names that the tally has
    found = gather(data, replace(plain, count=per, weight=None), opening)
    heaps: dict[str, list[Raw]] = {}
    for label, amount in found.as_dict().items():
        heaps.setdefault(rename(label), []).append(amount)
    exposure = {name: Amounts.of(heap).total for name, heap in heaps.items()}
    if found.missing.records:
        exposure[MISSING_LABEL] = found.missing.records
    return exposure, per


def total_exposure(data: Any, opening: Opening, per: str) -> Number:
    """Return the sum of a column over all records, those without a label too."""
    found = with_records(data, opening, [per], lambda records: records.sums([], per))
    return Amounts.of([found[0][-1]] if found else []).total


def exposures_of(
    sides: Sequence[Any], opening: Opening, per: object
) -> tuple[tuple[Number, Number] | None, str]:  # fmt: skip
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
    data: Any, opening: Opening, per: object, split: str, labels: tuple[str, str]
) -> tuple[tuple[Number, Number] | None, str]:
    """Return what two parts of one source were counted in; a column is added up over all records of each part."""
    if not isinstance(per, str) or as_number(per) is not None or "," in per:
        return exposures_of((data, data), opening, per)
    if data == "-":
        raise ColumnError("standard input can be read once only: rates per a column need a file")
    sums = with_records(data, opening, [split, per], lambda records: records.sums([split], per))
    heaps: dict[str | None, list[Raw]] = {}
    for value, _, total in sums:
        heaps.setdefault(label_text(value), []).append(total)
    totals = [Amounts.of(heaps.get(label, [])).total for label in labels]
    return (totals[0], totals[1]), per


def as_number(value: object) -> Number | None:
    """Return a number, or the number that a text is; None for any other text, a column's name."""
    if isinstance(value, bool):
        return None
    if isinstance(value, int | float):
        return value
    try:
        found = float(str(value))
    except ValueError:
        return None
    return int(found) if found.is_integer() else found
