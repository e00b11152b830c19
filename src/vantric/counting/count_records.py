"""Whatever the user hands over becomes a tally, a two-way table, measures or a first look."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from vantric.base.lazily import dataclass
from vantric.core.counts.provenance import Note, Provenance, quantity_unit
from vantric.core.counts.tally import Tally, with_missing_category
from vantric.core.numbers.number_format import quoted
from vantric.core.results import DataResult, Result, Rows
from vantric.counting.cells import LabelCell, split_cells, spread_over
from vantric.counting.tallies import (
    Groups,
    finished_tally,
    first_labels,
    renamed,
    tally_records,
    what_is_counted,
)
from vantric.counting.total_rows import TotalSearch, totals_left_out, without_total_labels
from vantric.engines.materialize import counts_by_levels, given_pairs, is_pandas_series, materialized, ready_counts
from vantric.engines.opening import is_frame, with_records
from vantric.errors import ColumnError, SourceError
from vantric.reading.headings import label_text, unit_in
from vantric.reading.number_columns import checked
from vantric.reading.profile import ColumnProfile, only_countable, profile
from vantric.reading.records import Records
from vantric.reading.settings import ColumnRange, CountSettings, CrosstabSettings, ReadSettings

if TYPE_CHECKING:
    from vantric.core.counts import Crosstab, Measures
    from vantric.counting.amount_columns import AmountColumns

_NOTHING = ReadSettings()
_SHORT = 20_000  # records of a table that is looked through for totals
#: Names of the columns of what is no table: labels, or ready counts.
_LABEL, _COUNT = "label", "count"
#: Names of series that count, and say no more.
_GENERIC = ("count", "counts", "size", "n", "frequency")
#: Options that name columns, which labels or ready counts do not have.
_COLUMNS = ("by", "count", "by_columns", "unique", "weight", "date")
#: Options that ready labels can have.
_OF_LABELS = ("na", "keep_totals", "leave_out")
_EVERY = (*_COLUMNS, "separator", "merge_spellings", "families", "rename")


def count_source(
    data: Any, counting: CountSettings, opening: ReadSettings = _NOTHING, *, columns: bool = False
) -> Tally:
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
    columns
        Whether a mapping is one of name to column for sure, and not of category to count.

    Raises
    ------
    SourceError, ColumnError, AmountError
        If the source cannot be read, lacks a column, or holds a count that does not exist.
    """
    pairs = given_pairs(data) if not (counting.by or counting.by_columns) else None
    if pairs is not None:
        _refuse(counting, opening, (*_COLUMNS, "separator"), "ready counts have no columns or cells", able=_OF_LABELS)
        return _from_counts(pairs, counting, opening)
    original, data = data, materialized(data)
    if isinstance(data, Mapping) and (columns or data is not original):  # records as mappings, or a structured array
        return _from_records(data, counting, opening)
    if isinstance(data, Tally):
        _refuse(counting, opening, _EVERY, "a tally is counted already")
        return with_missing_category(data) if counting.missing == "category" else data
    if isinstance(data, Mapping) and not counting.by and not counting.by_columns:
        _refuse(counting, opening, (*_COLUMNS, "separator"), "ready counts have no columns or cells", able=_OF_LABELS)
        return _from_counts(list(data.items()), counting, opening)
    if isinstance(data, str | Path | Mapping):
        return _from_records(data, counting, opening)
    if is_frame(data):
        return _from_frame(data, counting, opening)
    if isinstance(data, Iterable) and not isinstance(data, bytes | Result):
        _refuse(counting, opening, _COLUMNS, "plain labels have no columns", able=_OF_LABELS)
        return _from_labels(data, counting, opening)
    raise SourceError(f"cannot count {type(data).__name__}: give a path, a frame, a mapping or an iterable of labels")


def cross(
    data: Any, counting: CountSettings, opening: ReadSettings, *, split: str, period: str | None = None
) -> Crosstab:
    """Return the two-way table of any data that have columns."""
    from vantric.counting.crosstabs import cross_records

    names = counting.columns(split)
    return with_records(_table(data), opening, names, lambda records: cross_records(records, counting, split, period))


def crossed(data: Any, counting: CountSettings, opening: ReadSettings, crossing: CrosstabSettings) -> Crosstab:
    """Return the two-way table of a second column, or of columns that are the labels of the second variable."""
    from vantric.counting.crosstabs import cross_columns

    columns = crossing.split_columns
    if (crossing.split is None) == (not columns):
        raise ColumnError("a two-way table has a second column (split), or columns in its place (split_columns)")
    if not columns:
        return cross(data, counting, opening, split=str(crossing.split))
    names = counting.columns(*map(ColumnRange, columns))
    return with_records(_table(data), opening, names, lambda records: cross_columns(records, counting, columns))


def measure(data: Any, by: str, measures: Mapping[str, str], period: str | None, opening: ReadSettings) -> Measures:
    """Return measures of any data that have columns, by category or period."""
    from vantric.counting.aggregation import measure_records, read_measures, sure_columns

    measures_read = read_measures(measures)
    names = list(dict.fromkeys([by, *(column for item in measures_read for column in sure_columns(item))]))
    return with_records(
        _table(data), opening, names, lambda records: measure_records(records, by, measures_read, period)
    )


def first_look(data: Any, opening: ReadSettings, rows: int) -> FirstLook:
    """Return what each column of any data holds, the first records, and what there is to say of how they are read."""
    return with_records(_table(data), opening, [], lambda records: _looked(records, rows))


@dataclass(frozen=True)
class FirstLook(Rows[ColumnProfile], DataResult):
    """What a source holds, column by column; made by `vantric.columns`.

    Attributes
    ----------
    columns : tuple of ColumnProfile
        Each with its name, kind, how many values it holds, and the commonest; found by their names too.
    first
        The first records.
    remarks
        How it was read.
    amounts
        Which columns of numbers say how many.
    source
        Its name.
    """

    columns: tuple[ColumnProfile, ...]
    first: tuple[tuple[Any, ...], ...]
    remarks: tuple[Note, ...]
    amounts: AmountColumns
    source: str = ""

    _kind = "columns"
    _label, _row_is = "name", "column"
    _inner = frozenset({"amounts", "rows"})

    @property
    def rows(self) -> tuple[ColumnProfile, ...]:
        """The columns."""
        return self.columns

    def __str__(self) -> str:
        """Return what the command ``vantric columns`` prints."""
        text: str = self._of_kind().verbs["text"](self)
        return text

    def __repr__(self) -> str:
        return f"<FirstLook at {len(self.columns)} columns: {', '.join(column.name for column in self.columns[:8])}>"


def _looked(records: Records, rows: int) -> FirstLook:
    columns = profile(records)
    notes: list[Note] = []
    by = next((column.name for column in columns if column.kind == "text"), None)
    amounts = tuple(column.name for column in columns if column.kind == "number" and not column.problem)
    if by is not None and amounts and columns[0].valid + columns[0].missing <= _SHORT:
        try:
            left = totals_left_out(records, TotalSearch(by, amounts, counted=False, together=False))
        except SourceError as error:  # a first look shows the column all the same
            notes.append(Note("total-row", str(error), "warning"))
        else:
            if left is not records:
                columns, records = profile(left), left
    notes += [Note("unread-column", column.problem, "warning") for column in columns if column.problem]
    notes += [
        Note(
            "missing-code",
            f"{records.place}: '{column.name}' holds {_codes(column)}: codes for what is missing?",
            "warning",
            f'say na="{column.codes[0][0]}" if they are',
        )
        for column in columns
        if column.codes
    ]
    from vantric.counting.amount_columns import amount_columns

    choice = amount_columns(records, columns)
    return FirstLook(tuple(columns), tuple(records.head(rows)), (*records.remarks, *notes), choice)


def _codes(column: ColumnProfile) -> str:
    return ", ".join(f"'{code}' ({number:,})" for code, number in column.codes)


def _table(data: Any) -> Any:
    data = materialized(data)
    if isinstance(data, str | Path | Mapping) or is_frame(data):
        return data
    raise SourceError(f"{type(data).__name__} has no columns: give a path, a frame or a mapping of name to column")


def _refuse(
    counting: CountSettings, opening: ReadSettings, names: Sequence[str], why: str, *, able: Sequence[str] = ()
) -> None:
    """Raise `ColumnError` for an option that such data cannot follow, so that none is passed over in silence."""
    options = {name: getattr(counting, name) for name in names} | opening.changed()
    for name, value in options.items():
        if value and name not in able:
            raise ColumnError(f"{why}: leave {name}={value!r} out, or give a table")


def _from_records(data: Any, counting: CountSettings, opening: ReadSettings) -> Tally:
    def work(records: Records) -> Tally:
        if counting.by or counting.by_columns:
            return tally_records(records, counting)
        text = only_countable(records)
        note = Note("chosen-column", f"no column was named; '{text}' is the only one that can be counted")
        return tally_records(records, replace(counting, by=text), [note])

    return with_records(data, opening, counting.columns(), work)


def _from_frame(data: Any, counting: CountSettings, opening: ReadSettings) -> Tally:
    from vantric.engines.frame_libraries import framed_series

    if is_pandas_series(data) and data.index.nlevels > 1:
        return _from_records(counts_by_levels(data), counting, opening)
    counts = ready_counts(data)
    if counts is not None:
        name = data.index.name
        settings = replace(counting, by=None) if counting.by == name else counting
        _refuse(settings, opening, (*_COLUMNS, "separator"), "ready counts have no columns or cells", able=_OF_LABELS)
        tally = _from_counts(counts, settings, opening)
        of = data.name if isinstance(data.name, str) and data.name not in (*_GENERIC, name) else None
        unit = quantity_unit(of, unit_in(of)[1] if of else "", tally.frequency.values(), ready=True)
        named = None if of == "proportion" else of  # of value_counts(normalize=True): parts of one whole
        origin = replace(tally.origin, by=name if isinstance(name, str) else None, count=named, quantity=unit)
        return replace(tally, origin=origin)
    framed = framed_series(data, "label")
    if framed is None:
        return _from_records(data, counting, opening)
    _refuse(counting, opening, _COLUMNS, "a series has no columns", able=_OF_LABELS)
    tally = _from_records(framed[0], replace(counting, by="label"), opening)
    return replace(tally, origin=replace(tally.origin, by=framed[1]))


def _from_counts(pairs: Sequence[tuple[Any, Any]], counting: CountSettings, opening: ReadSettings) -> Tally:
    """Take categories with their frequencies as they are, without their totals; a repeated one is added up."""
    labels = [label_text(label) for label, _ in pairs]
    amounts = [
        value if type(value) is int and value >= 0 else checked(value, f"category '{name}'")
        for name, (_, value) in zip(labels, pairs, strict=True)
    ]
    again = [str(label) for label, number in Counter(labels).items() if number > 1]
    notes = [Note("added-up", f"{quoted(again)}: several counts of a label are added up")] if again else []
    from vantric.engines.plain_records import PlainRecords

    records = PlainRecords({_LABEL: labels, _COUNT: amounts}, opening.rules())
    settings = replace(counting, by=_LABEL, count=_COUNT, in_order=True)
    tally = tally_records(records, settings, notes)
    unit = quantity_unit(None, "", tally.frequency.values(), ready=True)
    return replace(tally, origin=replace(tally.origin, by=None, count=None, quantity=unit))


def _from_labels(data: Iterable[Any], counting: CountSettings, opening: ReadSettings) -> Tally:
    codes = {code.strip() for code in opening.na}
    tallied = Counter(label_text(label) for label in data)
    cells = [
        LabelCell(None if label is not None and label.strip() in codes else label, n, n, n, float(n))
        for label, n in tallied.items()
    ]
    cells = without_total_labels(cells, opening.rules())
    groups: Groups = [(cell.label, cell.counted, cell.amount) for cell in split_cells(cells, counting.separator)]
    rows, unit = sum(tallied.values()), counting.unit or ""
    origin = Provenance(input_rows=rows, counted=what_is_counted(counting), unit_name=unit)
    return _from_groups(groups, counting, origin, cells)


def _from_groups(groups: Groups, counting: CountSettings, origin: Provenance, cells: Sequence[LabelCell]) -> Tally:
    """Return the tally of groups in the order they were given."""
    rename, named = renamed(groups, counting)
    stated = replace(origin, grouped=counting.families is not None, remarks=rename.remarks)
    spread = spread_over(cells, counting, rename) if counting.separator is not None else None
    return finished_tally(named, stated, counting, first_labels((label for label, *_ in groups), rename), spread)
