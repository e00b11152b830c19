"""Columns of a source set side by side: one value a category or period, in order, none where nothing is known."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import replace
from itertools import permutations
from typing import TYPE_CHECKING, Any

from vantric.base.lazily import compiled, dataclass
from vantric.core.counts.measures import Measures
from vantric.core.counts.ordering import check_listed
from vantric.core.counts.provenance import Note, Provenance
from vantric.core.numbers.amounts import Number
from vantric.core.numbers.label_order import calendar_keys, in_label_order, is_turned
from vantric.core.numbers.number_format import decimals_of, quoted
from vantric.counting.aggregation import (
    IN_PERCENT,
    KINDS,
    Measure,
    measured_labels,
    missing_values,
    placer,
    prepare,
    read_measure,
    same_spellings,
    sums_by,
    values_of,
    without_base,
)
from vantric.counting.total_rows import TotalSearch, without_totals
from vantric.engines.opening import with_records
from vantric.errors import AmountError, ColumnError, RankError, SourceError, nearest, unknown_column
from vantric.reading.dates import all_periods, check_period, partial_periods
from vantric.reading.headings import is_blank, label_text, unit_in
from vantric.reading.records import Records
from vantric.reading.settings import CategorySettings, ReadSettings, check_columns

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    Floats = NDArray[np.float64]


#: Headings of rates, whose mean is not the rate of the whole.
_RATE = compiled(r"rate|ratio|percent|share|quota|%|pct|yield", re.IGNORECASE)
_RATIOS = ("ratio", "percent")
#: Rows that are read to find the parts of a rate, columns that are tried, and rows that it takes.
_MOST_ROWS, _MOST_COLUMNS, _FEWEST = 2000, 12, 4
#: How many times a rate is written: as a share, in percent, per thousand, per million.
_TIMES = {1: "ratio", 100: "percent", 1000: "ratio", 1_000_000: "ratio"}


def means_of_rates(records: Records, measures: Iterable[Measure], rows: Mapping[str, int]) -> list[Note]:
    """Report a mean of rates of unlike bases, which weighs small bases like large ones.

    A column is one of rates if it is one column over another in every record, if it makes whole numbers of a column of
    counts, or if it is called so or has the unit percent.
    """
    means = [measure for measure in measures if measure.kind == "mean"]
    if not means or max(rows.values()) == 1:
        return []
    notes = []
    for mean in means:
        fix = _fix(records, mean.columns[0])
        if fix is not None:
            stated = f"{quoted([mean.name])} is a mean of rates, which weighs small bases like large ones"
            notes.append(Note("mean-of-rates", stated, "warning", fix))
    return notes


def _fix(records: Records, column: str) -> str | None:
    """Return what to write instead of the mean of a column of rates; None if it seems to hold none."""
    columns = _numbers(records, column)
    rate = columns.pop(column, None)
    if rate is not None and any(value != int(value) for value in rate.tolist()):
        slack = 0.5 * 10.0 ** -max(decimals_of(float(value)) for value in rate[:_MOST_ROWS].tolist())
        for above, below in permutations(columns, 2):
            for times, kind in _TIMES.items():
                if _is_ratio(rate, times * columns[above], columns[below], slack):
                    return f"write {kind}:{above}/{below}, the sum of one over the sum of the other"
        for name, base in columns.items():
            if any(_makes_whole(rate / times, base, slack / times) for times in (1, 100, 1000)):
                return f"weigh it by '{name}': add a column of counts, and write ratio:COUNTS/{name}"
    if _RATE.search(column) or records.unit_of(column) == "%":
        return "write ratio:a/b, the sum of one over the sum of the other"
    return None


def _numbers(records: Records, column: str) -> dict[str, Floats]:
    """Return the columns that hold a number in every one of the first records that has the wanted one."""
    import numpy as np

    names = [column, *(name for name in records.names() if name != column)][: _MOST_COLUMNS + 1]
    places = {name: records.names().index(name) for name in names}
    head = [row for row in records.head(_MOST_ROWS) if not is_blank(row[places[column]])]
    values_by_column: dict[str, Floats] = {}
    for name, place in places.items():
        try:
            values_by_column[name] = np.array(
                [float(records.number(name, row[place]) or 0) for row in head], dtype=np.float64
            )
        except (ValueError, TypeError, AmountError, OverflowError):  # a column of text cannot be a part of a rate
            continue
    return values_by_column if len(head) >= _FEWEST else {}


def _is_ratio(rate: Floats, above: Floats, below: Floats, slack: float) -> bool:
    import numpy as np

    has_base = below != 0
    if has_base.sum() < _FEWEST or np.ptp(below[has_base]) == 0 or np.ptp(rate[has_base]) == 0:
        return False
    quotients = above[has_base] / below[has_base]
    return bool(np.all(np.abs(rate[has_base] - quotients) <= slack + 1e-9 * np.abs(quotients)))


def _makes_whole(share: Floats, base: Floats, slack: float) -> bool:
    """Whether shares of a base are whole numbers as far as they are rounded, which chance hardly makes of many."""
    import numpy as np

    whole = np.all(base == np.round(base)) and np.all(base >= 0)
    if not whole or np.any((share < 0) | (share > 1)) or np.ptp(base) == 0:
        return False
    counts, room = share * base, slack * base + 1e-9
    telling = room < 0.15
    off = np.abs(counts - np.round(counts))
    return bool(telling.sum() >= 2 * _FEWEST and np.all(off[telling] <= room[telling]) and np.ptp(share) > 0)


def unlike_bases(stacked: Sequence[Measure]) -> list[Note]:
    """Report ratios of different bases that are stacked: their sum is of nothing."""
    rates = [measure for measure in stacked if measure.kind in _RATIOS]
    if len(rates) < 2 or len({rate.columns[1] for rate in rates}) == 1:
        return []
    names = quoted([rate.name for rate in rates])
    return [
        Note(
            "stacked-rates",
            f"rates of different bases are stacked ({names}): their sum is a rate of nothing",
            "warning",
            "group them, or stack the counts",
        )
    ]


#: ``KIND:...``, by which a text is distinguished from a column.
_MEASURE = compiled(r"\s*([\w-]+)\s*:", re.ASCII)
#: Measures that are in the unit of their column.
_OF_UNIT = ("value", "sum", "mean", "median", "min", "max", "difference", "running")
#: How measures are called that the user does not name.
_NAMES = {
    "sum": "{}",
    "value": "{}",
    "count": "number of {}",
    "growth": "growth from {1} to {0}",
    "difference": "{} - {}",
    "share": "share of {}",
    "running": "running sum of {}",
    "running-share": "running share of {}",
}


@dataclass(frozen=True)
class CombineRequest:
    """What is set side by side.

    Attributes
    ----------
    axis
        The category axis.
    wanted
        For each series what it is, as the user writes it: a column, or ``"sum:col"``, ``"mean:col"``, ``"ratio:a/b"``
        ..., with ``"=NAME"`` behind it to rename it.
    stacked
        Which of them stand on each other.
    """

    axis: CategorySettings
    wanted: tuple[str, ...]
    stacked: tuple[str, ...] = ()

    def __post_init__(self) -> None:
        if not self.wanted:
            raise ColumnError("say what to draw: a column as bars, line, area, points, stems or steps")


def combine(data: Any, combining: CombineRequest, opening: ReadSettings) -> tuple[Measures, dict[str, str]]:
    """Return the measures of any data that have columns, and what each one is called that the user wrote.

    Raises
    ------
    SourceError, ColumnError, AmountError
        If the source cannot be read, lacks a column, or holds a date or number that does not exist: with its record.
    """
    return with_records(data, opening, [combining.axis.x], lambda records: combine_records(records, combining))


def combine_records(records: Records, combining: CombineRequest) -> tuple[Measures, dict[str, str]]:
    """Work out each series by category or period, without totals; where nothing is known there is no value, no zero."""
    measures = [read_wanted(text, records.names(), records.place) for text in combining.wanted]
    search = TotalSearch(
        combining.axis.x,
        tuple(dict.fromkeys(name for measure in measures for name in measure.columns if name)),
        counted=False,
        together=False,
    )
    return without_totals(
        records, search, lambda left: _combined(left, combining), lambda pair: measured_labels(pair[0])
    )


def _combined(records: Records, combining: CombineRequest) -> tuple[Measures, dict[str, str]]:
    x, period = combining.axis.x, combining.axis.period
    measures_by_name = _checked_measures(records, combining)
    if period is not None:
        check_period(period)
    prepare(records, x, measures_by_name.values())
    place = placer(records, x, period)
    groups = [(place(value), int(number)) for value, number in records.groups([x])]
    rows = _records_by_label(groups)
    if not rows:
        raise SourceError(f"{records.place}: '{x}' is empty in every record: there is nothing to draw")

    def values(measure: Measure, labels: Sequence[str]) -> list[Number | None]:
        return _values(records, x, place, measure, labels, rows)

    first = next(iter(measures_by_name.values()))
    categories = (
        all_periods(records, x, period)
        if period
        else _in_order(records, x, rows, combining.axis.order, lambda labels: values(first, labels))
    )
    series_values = {measure.name: values(measure, categories) for measure in measures_by_name.values()}
    remarks = (
        *records.remarks,
        *_added_up(measures_by_name.values(), rows, period),
        *_means_of_one(measures_by_name.values(), rows),
        *means_of_rates(records, measures_by_name.values(), rows),
        *unlike_bases([measure for text, measure in measures_by_name.items() if text in combining.stacked]),
        *missing_values(records, x, list(measures_by_name.values()), sum(n for _, n in groups)),
        *same_spellings(categories, x),
        *without_base(measures_by_name.values(), list(series_values.values()), categories),
        *(partial_periods(records, x, period) if period else ()),
    )
    origin = Provenance(records.shown, x, None, sum(n for _, n in groups), records.where, remarks=remarks)
    measures = Measures(
        by=x,
        period=period,
        categories=tuple(categories),
        names=tuple(series_values),
        values=tuple(map(tuple, series_values.values())),
        missing=sum(number for label, number in groups if label is None),
        origin=origin,
        units=tuple(_unit(records, measure) for measure in measures_by_name.values()),
    )
    return measures, {text: measure.name for text, measure in measures_by_name.items()}


def _checked_measures(records: Records, combining: CombineRequest) -> dict[str, Measure]:
    names = records.names()
    measures_by_name = _without_units({text: read_wanted(text, names, records.place) for text in combining.wanted})
    _check_names(measures_by_name)
    columns = [name for measure in measures_by_name.values() for name in measure.columns if name]
    check_columns([combining.axis.x, *columns], names, records.place)
    return measures_by_name


def _records_by_label(groups: Sequence[tuple[str | None, int]]) -> dict[str, int]:
    rows: dict[str, int] = {}
    for label, number in groups:
        if label is not None:
            rows[label] = rows.get(label, 0) + number
    return rows


def is_column_range(text: str) -> bool:
    """Whether a series may be a range of columns: two names with a colon, of which the first is no measure."""
    first, sign, last = text.partition(":")
    return bool(sign and last.strip()) and "=" not in text and first.strip() not in KINDS


def columns_in_range(text: str, names: Sequence[str]) -> tuple[str, ...]:
    """Return the columns from one to another, as they stand; the text alone where it is no range of known columns."""
    first, _, last = (part.strip() for part in text.partition(":"))
    if text in names or not is_column_range(text) or first not in names or last not in names:
        return (text,)
    start, stop = names.index(first), names.index(last)
    return tuple(names[start : stop + 1]) or (text,)


def read_wanted(text: str, names: Sequence[str], where: str) -> Measure:
    """Read ``"fired"``, ``"sum:fired"``, ``"ratio:rejected/fired=Reject rate"``."""
    if text in names:
        return Measure(text, "value", (text,))
    head, sign, name = text.rpartition("=")
    if not sign or not name.strip():
        head, name = text, ""
    head = head.strip()
    kind = _MEASURE.match(head)
    if head in names:
        measure = Measure(head, "value", (head,))
    elif head == "count":
        measure = Measure("records", "count", ("",))
    elif kind:
        measure = read_measure(head, head, names)
        plain = _NAMES.get(measure.kind, measure.kind + " of {}" if len(measure.columns) == 1 else "{} / {}")
        measure = replace(measure, name=plain.format(*measure.columns))
    else:
        hint = nearest(head, KINDS) if ":" in head else ""
        raise ColumnError(f"'{head}' is not a measure{hint}") if hint else unknown_column(head, names, where)
    return replace(measure, name=name.strip()) if name.strip() else measure


def _without_units(measures: Mapping[str, Measure]) -> dict[str, Measure]:
    """Return measures under their headings without the units in them, where these stay apart."""
    short = {
        text: unit_in(measure.name)[0]
        if measure.kind in _OF_UNIT and measure.name == measure.columns[0]
        else measure.name
        for text, measure in measures.items()
    }
    apart = len(set(short.values())) == len(short)
    return {text: replace(measure, name=short[text]) if apart else measure for text, measure in measures.items()}


def _check_names(measures: Mapping[str, Measure]) -> None:
    texts: dict[str, str] = {}
    for text, measure in measures.items():
        if measure.name in texts:
            raise ColumnError(
                f"two series are called '{measure.name}' ('{texts[measure.name]}' and '{text}'); "
                f"rename one: '{text}=NAME'"
            )
        texts[measure.name] = text


def _in_order(
    records: Records,
    x: str,
    rows: Mapping[str, int],
    order: str | tuple[str, ...] | None,
    first: Callable[[Sequence[str]], Sequence[Number | None]],
) -> list[str]:
    """Return the categories in the order that is asked for; if none is, numbers ascending and text as given.

    Raises
    ------
    RankError
        If a listed order misses a category or names one twice, or categories are no months or weekdays.
    """
    if isinstance(order, tuple):
        return list(check_listed(order, rows))
    if order == "frequency":
        labels = in_label_order(rows)
        by_value = dict(zip(labels, first(labels), strict=True))
        return sorted(labels, key=lambda label: -math.inf if (value := by_value[label]) is None else -value)
    if order == "calendar":
        keys = calendar_keys(list(rows))
        if keys is None:
            raise RankError(
                f"order calendar is for months and weekdays, and '{x}' holds others; take label, or a period"
            )
        return in_label_order(rows)
    texts = _given(records, x, rows) if order in ("given", None) else None
    if order is None and _all_numbers(rows):
        return sorted(rows, key=float)
    if texts is None:
        return sorted(rows, key=float) if _all_numbers(rows) else in_label_order(rows)
    keys = calendar_keys(texts) if order is None else None
    return texts if keys is None or is_turned(keys) else in_label_order(texts)


def _unit(records: Records, measure: Measure) -> str:
    """Return what a measure is in: percent, or the unit of its column; empty if nothing says it."""
    if measure.kind in IN_PERCENT:
        return "%"
    return records.unit_of(measure.columns[0]) if measure.kind in _OF_UNIT else ""


def _given(records: Records, x: str, rows: Mapping[str, int]) -> list[str] | None:
    """Return the categories in the order of their first records; None if the source has none."""
    values = records.first_values(x)
    if values is None:
        return None
    named = (label_text(value) for value in values if not is_blank(value))
    return [label for label in dict.fromkeys(named) if label is not None and label in rows]


def _all_numbers(labels: Iterable[str]) -> bool:
    try:
        return all(math.isfinite(float(label)) for label in labels)
    except ValueError:  # one text among them: they are labels
        return False


def _values(
    records: Records,
    x: str,
    place: Callable[[Any], str | None],
    measure: Measure,
    categories: Sequence[str],
    rows: Mapping[str, int],
) -> list[Number | None]:
    if measure.kind not in ("value", "sum"):
        return values_of(records, x, place, measure, categories, rows)
    plain = replace(measure, kind="sum")
    valid = sums_by(records, x, place, measure.columns[0])[1]
    sums = values_of(records, x, place, plain, categories, rows)
    return [value if valid.get(label) else None for label, value in zip(categories, sums, strict=True)]


def _means_of_one(measures: Iterable[Measure], rows: Mapping[str, int]) -> list[Note]:
    """Report means of one record each: they are the values again, and who writes that may want the mean of all."""
    means = [item for item in measures if item.kind in ("mean", "median")]
    if not means or max(rows.values()) > 1 or len(rows) < 2:
        return []
    kind, column = means[0].kind, means[0].columns[0]
    text = f"each category has one record: the {kind} of '{column}' is '{column}' again"
    return [Note("mean-of-one", f"{text}; for a line at the {kind} of all draw a reference at {kind}")]


def _added_up(measures: Any, rows: Mapping[str, int], period: str | None) -> list[Note]:
    """Report where several records share a category and a bare column was added up."""
    bare = [item.name for item in measures if item.kind == "value"]
    if not bare or max(rows.values()) == 1:
        return []
    what = period or "category"
    stated = f"several records share a {what}: {quoted(bare)} {'is' if len(bare) == 1 else 'are'} added up"
    return [Note("added-up", f"{stated}; write mean:, ratio: or another measure where a sum makes no sense")]
