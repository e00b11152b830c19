"""Measures of records by category or calendar period: sums, ratios, growth, shares, worked out from groups."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import replace
from decimal import Decimal
from fractions import Fraction
from itertools import accumulate
from typing import Any

from vantric.base.lazily import compiled, dataclass
from vantric.core.counts.measures import Measures
from vantric.core.counts.provenance import Note, Provenance
from vantric.core.counts.relabeling import same_spelling
from vantric.core.messages.message import Remark, Written
from vantric.core.numbers.amounts import Number, Raw
from vantric.core.numbers.label_order import in_label_order
from vantric.core.numbers.number_format import counted, distinct_lines, quoted
from vantric.counting.total_rows import TotalSearch, most_frequent, without_totals
from vantric.errors import ColumnError, SourceError, unknown
from vantric.reading.dates import all_periods, check_period, partial_periods, period_of
from vantric.reading.headings import is_blank, label_text
from vantric.reading.records import Records
from vantric.reading.settings import check_columns

#: Measures of two columns -> the sign between these.
OF_TWO = {"ratio": "/", "percent": "/", "growth": "/", "difference": "-"}
#: Measures of one column that need all categories, in their order.
OF_ALL = ("share", "running", "running-share")
#: Measures in percent.
IN_PERCENT = ("percent", "growth", "share", "running-share")
#: Measures that have a base, without which there is no value.
WITH_BASE = ("ratio", "percent", "growth", "share", "running-share")

#: A sum of each category; None where it has no number.
Sums = Sequence[Fraction | None]


def operands(rest: str, kind: str, names: Sequence[str] = ()) -> tuple[str, str] | None:
    """Return the two columns of a measure, which may hold the sign between them; None if there are not two.

    Parameters
    ----------
    rest
        What is behind the measure's colon: ``"rejected/fired"``.
    kind
        The measure.
    names
        The columns of the source, where they are known: they say which sign parts the two.
    """
    sign = OF_TWO[kind]
    parts = rest.split(sign)
    pairs = [(sign.join(parts[:index]).strip(), sign.join(parts[index:]).strip()) for index in range(1, len(parts))]
    pairs = [pair for pair in pairs if all(pair)]
    fitting = [pair for pair in pairs if pair[0] in names and pair[1] in names]
    return next(iter(fitting or pairs), None)


def derived(kind: str, values: Sums, other: Sums = ()) -> list[Number | None]:
    """Return a measure of each category; None where a number or the base is missing, or the base is zero."""
    if kind in OF_ALL:
        return _whole(kind, values)
    work = _TWO[kind]
    return [
        None
        if left is None or right is None or (kind in WITH_BASE and not right)
        else _derived_number(work(left, right), kind)
        for left, right in zip(values, other, strict=True)
    ]


#: Kind of a measure of two sums -> how it is worked out.
_TWO: Mapping[str, Callable[[Fraction, Fraction], Fraction]] = {
    "ratio": lambda upper, lower: upper / lower,
    "percent": lambda upper, lower: 100 * upper / lower,
    "growth": lambda new, old: 100 * (new - old) / abs(old),
    "difference": lambda value, other: value - other,
}


def _whole(kind: str, sums: Sums) -> list[Number | None]:
    """Return shares of the total, or running sums; a missing value is a gap, and the sum goes on behind it."""
    plain = [value or Fraction() for value in sums]
    total = sum(plain, Fraction())
    if kind != "running" and not total:
        return [None] * len(sums)
    values = plain if kind == "share" else list(accumulate(plain))
    scaled = values if kind == "running" else [100 * value / total for value in values]
    return [
        None if fraction is None else _derived_number(value, kind) for value, fraction in zip(scaled, sums, strict=True)
    ]


def _derived_number(value: Fraction, kind: str) -> Number:
    if kind in ("difference", "running") and value.denominator == 1:
        return int(value)
    return float(value)


#: Measures that cannot be worked out from sums of parts.
_NOT_ADDED = ("min", "max", "median")
KINDS = (
    "sum",
    "mean",
    "median",
    "min",
    "max",
    "count",
    "ratio",
    "percent",
    "growth",
    "difference",
    "share",
    "running",
    "running-share",
)
#: ``KIND:COLUMNS``.
_MEASURE = compiled(r"\s*([\w-]+)\s*(?::(.*))?", re.DOTALL)


@dataclass(frozen=True)
class Measure:
    """What is worked out: its name, its kind, and the columns it needs."""

    name: str
    kind: str
    columns: tuple[str, ...]


def read_measures(measures: Mapping[str, str]) -> list[Measure]:
    """Read ``{"fired": "sum", "reject rate": "ratio:rejected/fired"}``; the name is the column if none is said."""
    if not measures:
        raise ColumnError("give the measures: a mapping of name to measure, such as {'fired': 'sum'}")
    return [read_measure(name, text) for name, text in measures.items()]


def read_measure(name: str, text: str, names: Sequence[str] = ()) -> Measure:
    """Read one measure; its column is its name if none is said. The `names` columns say where two are parted."""
    match = _MEASURE.fullmatch(text)
    kind = match[1].casefold() if match else ""
    if not match or kind not in KINDS:
        raise unknown(ColumnError, f"'{text}' is not a measure", kind, KINDS, every=True)
    rest = match[2].strip() if match[2] else ""
    if kind in OF_TWO:
        columns = operands(rest, kind, names)
        if columns is None:
            raise ColumnError(f"'{text}' names no two columns: write {kind}:rejected{OF_TWO[kind]}fired")
        return Measure(name, kind, columns)
    return Measure(name, kind, (rest,) if rest or kind == "count" else (name,))


def measure_records(records: Records, by: str, measures: Sequence[Measure], period: str | None) -> Measures:
    """Work out measures by category, or by calendar period, without totals."""
    measures = [with_columns(measure, records.names()) for measure in measures]
    check_columns([name for measure in measures for name in measure.columns if name], records.names(), records.place)
    search = TotalSearch(
        by,
        tuple(dict.fromkeys(name for measure in measures for name in measure.columns if name)),
        counted=False,
        together=False,
    )
    return without_totals(records, search, lambda left: _measured(left, by, measures, period), measured_labels)


def measured_labels(measures: Measures) -> list[str | None]:
    """Return the categories of measures, and None if one record has none, or one category equals all others."""
    half = measures.origin.input_rows == len(measures.categories) and any(map(_equals_others, measures.values))
    return most_frequent(dict.fromkeys(measures.categories, 0), missing=measures.missing or half)


def _equals_others(values: Sequence[Number | None]) -> bool:
    amounts = [float(value) for value in values if value is not None]
    return len(amounts) > 2 and math.isclose(2 * max(amounts), math.fsum(amounts), rel_tol=1e-9)


def _measured(records: Records, by: str, measures: Sequence[Measure], period: str | None) -> Measures:
    if period is not None:
        check_period(period)
    prepare(records, by, measures)
    place = placer(records, by, period)
    groups = [(place(value), int(number)) for value, number in records.groups([by])]
    rows: dict[str, int] = {}
    for label, number in groups:
        if label is not None:
            rows[label] = rows.get(label, 0) + number
    if not rows:
        raise SourceError(f"{records.place}: '{by}' is empty in every record: there is nothing to work out")
    categories = all_periods(records, by, period) if period else in_label_order(rows)
    values = [values_of(records, by, place, measure, categories, rows) for measure in measures]
    remarks = (
        *records.remarks,
        *missing_values(records, by, measures, sum(n for _, n in groups)),
        *same_spellings(categories, by),
        *without_base(measures, values, categories),
        *(partial_periods(records, by, period) if period else ()),
    )
    return Measures(
        by=by,
        period=period,
        categories=tuple(categories),
        names=tuple(measure.name for measure in measures),
        values=tuple(map(tuple, values)),
        missing=sum(number for label, number in groups if label is None),
        origin=Provenance(records.shown, by, None, sum(n for _, n in groups), records.where, remarks=remarks),
    )


def prepare(records: Records, by: str, measures: Iterable[Measure]) -> None:
    """Tell a source at once what will be asked of it."""
    several = list(measures)
    added = dict.fromkeys(
        name
        for wanted_measure in several
        if wanted_measure.kind not in _NOT_ADDED
        for name in wanted_measure.columns
        if name
    )
    ends = dict.fromkeys(
        name
        for wanted_measure in several
        if wanted_measure.kind in _NOT_ADDED
        for name in wanted_measure.columns
        if name
    )
    records.prepare([by], list(added), list(ends))


def sure_columns(measure: Measure) -> list[str]:
    """Return the columns that a measure needs whatever the source has: not where several signs could part two."""
    sign = OF_TWO.get(measure.kind)
    several = sign is not None and sum(name.count(sign) for name in measure.columns) > 0
    return [] if several else [name for name in measure.columns if name]


def with_columns(measure: Measure, names: Sequence[str]) -> Measure:
    """Return a measure with its two columns parted where both are columns of the source."""
    if measure.kind not in OF_TWO or all(name in names for name in measure.columns):
        return measure
    whole = OF_TWO[measure.kind].join(measure.columns)
    return replace(measure, columns=operands(whole, measure.kind, names) or measure.columns)


def without_base(
    measures: Iterable[Measure], values: Sequence[Sequence[Number | None]], categories: Sequence[str]
) -> list[Note]:
    """Report measures that have no value somewhere because their base is zero or missing."""
    notes = []
    for measure, own in zip(measures, values, strict=True):
        gaps = [label for label, value in zip(categories, own, strict=True) if value is None]
        if measure.kind in WITH_BASE and gaps:
            base = measure.columns[-1]
            notes.append(
                Note("zero-base", f"'{measure.name}' has no value at {quoted(gaps)}: '{base}' is zero or missing there")
            )
    return notes


def missing_values(records: Records, by: str, measures: Sequence[Measure], every: int) -> list[Note]:
    """Report columns whose values were missing in some of all records: they are left out, and no zeros."""
    notes = []
    for column in dict.fromkeys(name for measure in measures for name in measure.columns if name):
        sums = records.__dict__.get("_summed", {}).get((by, column))
        valid = records.valid([by], column) if sums is None else sum(int(group[-2]) for group in sums)
        if valid < every:
            notes.append(
                Note(
                    "missing-values",
                    Remark(
                        "'{}' is missing in {} of {}; left out, not taken as zero",
                        column,
                        Written(f"{every - valid:,}"),
                        Written(counted(every, "record")),
                    ),
                )
            )
    return notes


def same_spellings(categories: Sequence[str], by: str) -> list[Note]:
    """Report categories that differ only in case, spaces or Unicode form."""
    groups: dict[str, list[str]] = {}
    for label in categories:
        groups.setdefault(same_spelling(label), []).append(label)
    alike = [labels for labels in groups.values() if len(labels) > 1]
    if not alike:
        return []
    text = "; ".join(quoted(distinct_lines(labels)) for labels in alike[:3])
    return [
        Note(
            "similar-labels",
            f"labels of '{by}' that differ only in case or spaces are apart: {text}",
            "warning",
            "give them one spelling in the source, if they mean the same",
        )
    ]


#: Returns the label or period of a cell; None where it is missing.
Placer = Callable[[Any], str | None]


def placer(records: Records, by: str, period: str | None) -> Placer:
    """Return what tells a value's category or period; None for a missing one."""

    def category(value: Any) -> str | None:
        label = label_text(value)
        return label if label is not None and label.strip() else None

    return category if period is None else period_of(records, by, period)


def values_of(
    records: Records, by: str, place: Placer, measure: Measure, categories: Sequence[str], rows: Mapping[str, int]
) -> list[Number | None]:
    """Return a measure of each category; None where there is nothing to measure."""
    kind, column = measure.kind, measure.columns[0]
    if kind == "count" and not column:
        return [rows.get(label, 0) for label in categories]
    if kind in OF_TWO or kind in OF_ALL:
        sides = []
        for name in measure.columns:
            sums, valid = sums_by(records, by, place, name)
            sides.append([sums[label] if valid.get(label) else None for label in categories])
        if kind in ("ratio", "percent"):  # what has no number above the line adds nothing to it
            sides[0] = [value or Fraction() for value in sides[0]]
        return derived(kind, *sides)
    if kind in {"sum", "count", "mean"}:
        sums, valid = sums_by(records, by, place, column)
        if kind == "count":
            return [valid.get(label, 0) for label in categories]
        if kind == "sum":
            return [
                _number(sums.get(label, Fraction())) if valid.get(label) or not rows.get(label) else None
                for label in categories
            ]
        return [_quotient(sums.get(label, Fraction()), Fraction(valid.get(label, 0))) for label in categories]
    if kind == "median":
        return _medians(records, by, place, column, categories)
    return _ends(records, by, place, column, categories, smallest=kind == "min")


def _summed(records: Records, by: str, column: str) -> list[tuple[Any, ...]]:
    """Return the sums of a column by the values of another one; several measures ask for the same ones."""
    sums_of = records.__dict__.setdefault("_summed", {})
    if (by, column) not in sums_of:
        sums_of[by, column] = records.sums([by], column, free=True)
    return list(sums_of[by, column])


def sums_by(records: Records, by: str, place: Placer, column: str) -> tuple[dict[str, Fraction], dict[str, int]]:
    """Return the exact sums of a column by category, and how many records have a number there."""
    sums: dict[str, Fraction] = {}
    valid: dict[str, int] = {}
    for value, number, total in _summed(records, by, column):
        label = place(value)
        if label is not None and number:
            sums[label] = sums.get(label, Fraction()) + Fraction(total)
            valid[label] = valid.get(label, 0) + int(number)
    return sums, valid


def _medians(records: Records, by: str, place: Placer, column: str, categories: Sequence[str]) -> list[Number | None]:
    heaps: dict[str, list[tuple[Fraction, int]]] = {}
    for value, cell, number in records.groups([by, column]):
        label = place(value)
        if label is None or is_blank(cell):
            continue
        try:
            amount = records.number(column, cell)
        except ValueError as reason:
            raise records.wrong_amount(column, str(reason), [value], free=True) from None
        if amount is not None:
            heaps.setdefault(label, []).append((Fraction(amount), int(number)))
    return [_median(heaps[label]) if label in heaps else None for label in categories]


def _median(heap: list[tuple[Fraction, int]]) -> Number:
    """Return the middle of values that occur several times; of two middle ones their mean."""
    count, below, middles = sum(number for _, number in heap), 0, []
    for value, number in sorted(heap):
        for index in {(count - 1) // 2, count // 2}:
            if below <= index < below + number:
                middles.append(value)
        below += number
    return _number(sum(middles, Fraction()) / len(middles))


def _ends(
    records: Records, by: str, place: Placer, column: str, categories: Sequence[str], *, smallest: bool
) -> list[Number | None]:
    values: dict[str, Raw] = {}
    for value, low, high in records.extremes([by], column):
        label, end = place(value), low if smallest else high
        if label is not None and (label not in values or (end < values[label]) == smallest):
            values[label] = end
    return [_number(Fraction(values[label])) if label in values else None for label in categories]


def _quotient(upper: Fraction, lower: Fraction | None) -> Number | None:
    return float(upper / lower) if lower else None


def _number(value: Fraction | Decimal) -> Number:
    exact = Fraction(value)
    return int(exact) if exact.denominator == 1 else float(exact)
