"""Whatever the user hands over becomes a tally, a two-way table, measures or a first look."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from vantric.core.counting.origin import Origin
from vantric.core.counting.remark import Remark
from vantric.core.counting.tally import Tally, with_missing_category
from vantric.errors import ColumnError, SourceError
from vantric.sources.engines.opening import is_frame, with_records
from vantric.sources.options import Counting, Opening
from vantric.sources.engines.plain import PlainRecords
from vantric.sources.reading.exact import checked
from vantric.sources.reading.labels import label_text
from vantric.sources.reading.profile import ColumnProfile, only_countable, profile
from vantric.sources.reading.records import Records
from vantric.sources.tallying.tallies import (
    Cell,
    Groups,
    finished_tally,
    first_labels,
    renamed,
    split_cells,
    tally_records,
    what_is_counted,
)
from vantric.sources.tallying.withouttotals import without_total_labels

if TYPE_CHECKING:
    from vantric.core.counting import Crosstab, Measures

_NOTHING = Opening()
_LABEL, _COUNT = "label", "count"
_COLUMNS = ("by", "count", "by_columns", "unique", "weight", "date")
_OF_LABELS = ("na", "keep_totals")
_EVERY = (*_COLUMNS, "separator", "merge_spellings", "families")


def gather(data: Any, counting: Counting, opening: Opening = _NOTHING) -> Tally:
    """Return the tally of any data.

    Parameters
    ----------
    data
        A path, a pattern of paths, ``"-"`` or the URL of a database; a frame or series that narwhals understands; a
        mapping of category to frequency or, with `by`, of name to column; an iterable of labels; or a Tally, which is
        returned as it is.
    counting
        What is counted.
    opening
        How a file or database is opened.

    Raises
    ------
    SourceError, ColumnError, AmountError
        If the source cannot be read, lacks a column, or holds a count that does not exist.
    """
    if isinstance(data, Tally):
        _refuse(counting, opening, _EVERY, "a tally is counted already")
        return with_missing_category(data) if counting.missing == "category" else data
    if isinstance(data, Mapping) and not counting.by and not counting.by_columns:
        _refuse(counting, opening, (*_COLUMNS, "separator"), "ready counts have no columns or cells", able=_OF_LABELS)
        return _from_counts(data, counting, opening)
    if isinstance(data, str | Path | Mapping):
        return _from_records(data, counting, opening)
    if is_frame(data):
        return _from_frame(data, counting, opening)
    if isinstance(data, Iterable) and not isinstance(data, bytes):
        _refuse(counting, opening, _COLUMNS, "plain labels have no columns", able=_OF_LABELS)
        return _from_labels(data, counting, opening)
    raise SourceError(f"cannot count {type(data).__name__}: give a path, a frame, a mapping or an iterable of labels")


def cross(data: Any, counting: Counting, opening: Opening, *, split: str, period: str | None = None) -> Crosstab:
    """Return the two-way table of any data that have columns."""
    from vantric.sources.tallying.crossing import cross_records

    wanted = counting.columns(split)
    return with_records(_table(data), opening, wanted, lambda records: cross_records(records, counting, split, period))


def measure(data: Any, by: str, measures: Mapping[str, str], period: str | None, opening: Opening) -> Measures:
    """Return measures of any data that have columns, by category or period."""
    from vantric.sources.tallying.aggregating import measure_records, read_measures

    asked = read_measures(measures)
    wanted = list(dict.fromkeys([by, *(column for one in asked for column in one.columns if column)]))
    return with_records(_table(data), opening, wanted, lambda records: measure_records(records, by, asked, period))


def look(data: Any, opening: Opening, rows: int) -> tuple[list[ColumnProfile], list[tuple[Any, ...]]]:
    """Return what each column of any data holds, and the first records."""
    return with_records(_table(data), opening, [], lambda records: (profile(records), records.head(rows)))


def _table(data: Any) -> Any:
    if isinstance(data, str | Path | Mapping) or is_frame(data):
        return data
    raise SourceError(f"{type(data).__name__} has no columns: give a path, a frame or a mapping of name to column")


def _refuse(counting: Counting, opening: Opening, names: Sequence[str], why: str, *, able: Sequence[str] = ()) -> None:
    """Raise `ColumnError` for an option that such data cannot follow, so that none is passed over in silence."""
    given = {name: getattr(counting, name) for name in names} | opening.changed()
    for name, value in given.items():
        if value and name not in able:
            raise ColumnError(f"{why}: leave {name}={value!r} out, or give a table")


def _from_records(data: Any, counting: Counting, opening: Opening) -> Tally:
    def work(records: Records) -> Tally:
        if counting.by or counting.by_columns:
            return tally_records(records, counting)
        chosen = only_countable(records)
        said = Remark("chosen-column", f"no column was named; '{chosen}' is the only one that can be counted")
        return tally_records(records, replace(counting, by=chosen), [said])

    return with_records(data, opening, counting.columns(), work)


def _from_frame(data: Any, counting: Counting, opening: Opening) -> Tally:
    from vantric.sources.engines.frames import from_native, holds_ready_counts, is_series

    view = from_native(data)
    if not is_series(view):
        return _from_records(data, counting, opening)
    _refuse(counting, opening, _COLUMNS, "a series has no columns")
    if holds_ready_counts(view):
        raise SourceError(
            "this series holds numbers beside text, as ready counts do; give them as a mapping: series.to_dict()"
        )
    name = view.name if view.name and isinstance(view.name, str) else None
    frame = view.alias("label").to_frame().to_native()
    tally = _from_records(frame, replace(counting, by="label"), opening)
    return replace(tally, origin=replace(tally.origin, by=name))


def _from_counts(data: Mapping[Any, Any], counting: Counting, opening: Opening) -> Tally:
    """Take a mapping of category to frequency as it is, without its totals."""
    labels = list(map(label_text, data))
    amounts = [checked(value, f"category '{name}'") for name, value in zip(labels, data.values(), strict=True)]
    records = PlainRecords({_LABEL: labels, _COUNT: amounts}, opening.rules())
    asked = replace(counting, by=_LABEL, count=_COUNT, in_order=True)
    tally = tally_records(records, asked)
    return replace(tally, origin=replace(tally.origin, by=None, count=None))


def _from_labels(data: Iterable[Any], counting: Counting, opening: Opening) -> Tally:
    codes = {code.strip() for code in opening.na}
    tallied = Counter(label_text(label) for label in data)
    cells = [Cell(None if label is not None and label.strip() in codes else label, n, n, n) for label, n in tallied.items()]
    cells = without_total_labels(cells, opening.rules())
    groups: Groups = [(cell.label, cell.counted, cell.amount) for cell in split_cells(cells, counting.separator)]
    return _from_groups(groups, counting, Origin(input_rows=sum(tallied.values()), counted=what_is_counted(counting)))


def _from_groups(groups: Groups, counting: Counting, origin: Origin) -> Tally:
    """Return the tally of groups in the order they were given."""
    rename, named = renamed(groups, counting)
    stated = replace(origin, grouped=counting.families is not None, remarks=rename.remarks)
    return finished_tally(named, stated, counting, first_labels((label for label, *_ in groups), rename))
