"""Rows and sheets that are derived from others are left out, or asked about, before anything is counted."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import replace
from typing import Any, Protocol, TypeVar

from vantric.base.lazily import cached_property, dataclass
from vantric.core.counts.provenance import Note
from vantric.core.numbers.number_format import counted, one_line, quoted
from vantric.core.totals.derived_rows import Verdicts, derived_groups, derived_rows
from vantric.core.totals.label_kinds import kind_of, may_be_total
from vantric.core.totals.row_sums import Amount, Cell, CountedRow, exact_cell, has_single_labels
from vantric.counting.total_questions import (
    Derived,
    amount_text,
    left_out_note,
    question,
    warnings_on,
    with_outcome,
)
from vantric.errors import AmountError, SourceError, unknown
from vantric.reading.headings import is_ditto, label_text, same_name
from vantric.reading.records import PlacedRow, Records
from vantric.reading.settings import CellRules

T = TypeVar("T")


class _Labeled(Protocol):
    @property
    def label(self) -> str | None:
        """The label, if it has one."""


C = TypeVar("C", bound=_Labeled)
_MOST_ROWS = 2_000_000  # that are looked at one by one
_MOST_LABELS = 20_000  # that are all looked at; of more the most frequent
_SHORT = 5_000  # records, of which each is looked at
#: Further columns of numbers that may confirm a total.
_MOST_FURTHER = 12


@dataclass(frozen=True)
class TotalSearch:
    """What is looked at for totals.

    Attributes
    ----------
    by
        The column of labels; None where columns are the categories.
    amounts
        The columns that are added up.
    counted
        Whether they are counts.
    together
        Whether a total adds up in all of them; else one of them is enough: means beside counts.
    """

    by: str | None
    amounts: tuple[str, ...]
    counted: bool = True
    together: bool = True


def without_totals(
    records: Records, search: TotalSearch, work: Callable[[Records], T], labels: Callable[[T], Iterable[Any]]
) -> T:
    """Return what some work on records returns, without the rows that are derived from others.

    Parameters
    ----------
    records
    search
    work
    labels
        Returns the labels of a result, the most frequent first, and None among them if some were missing or one equals
        all others: then the records are looked at one by one, as those of a short table of amounts always are.

    Raises
    ------
    SourceError
        If a row may be a total: the user must say.
    """
    records = records.labeled_by(search.by)
    if search.by is None:
        return _without_totals(records, search, work, labels)
    records.check_labels(search.by)
    result = _without_totals(records, search, work, labels)
    marks = [label for label in labels(result) if is_ditto(label)]
    if not marks:
        return result
    return _without_totals(_repeated(records, search.by, marks), search, work, labels)


def _repeated(records: Records, by: str, marks: Sequence[Any]) -> Records:
    """Return the records with marks such as ditto as the label above them; a warning where there is no order."""
    text = f"{records.place}: {quoted(marks)} in '{by}'"
    repeated = records.with_dittos(
        by, Note("ditto", f"{text} {'repeats' if len(marks) == 1 else 'repeat'} the label above")
    )
    if repeated is not None:
        return repeated
    return records.with_notes(
        [Note("ditto", f"{text}: marks of repetition, and no label is above another here", "warning")]
    )


def _without_totals(
    records: Records, search: TotalSearch, work: Callable[[Records], T], labels: Callable[[T], Iterable[Any]]
) -> T:
    try:
        # A table that is short, or of which some rows are named, is looked through in any case.
        result = None if records.rules.leave_out else work(records)
    except (AmountError, SourceError):  # a total often lacks what records have
        _ = work(totals_left_out(records, search, answer=False))
        result = None
    is_looked_through = search.amounts and records.is_short(_SHORT)
    if result is not None and (
        records.rules.keep_totals or not (is_looked_through or any(_suspect(label, search) for label in labels(result)))
    ):
        return result
    left = totals_left_out(records, search)
    return result if result is not None and left is records else work(left)


def _suspect(label: Any, search: TotalSearch) -> bool:
    if label is None:  # one record without a label
        return bool(search.amounts)
    return may_be_total(label)


def totals_left_out(records: Records, search: TotalSearch, *, answer: bool | None = None) -> Records:
    """Return the records without what is derived from others, and without what the user names.

    Parameters
    ----------
    records
    search
    answer
        In place of what the user says of rows that may be totals: whether they are counted.

    Raises
    ------
    SourceError
        If a row may be a total, or there is none of a name.
    """
    if answer is not None:
        records = records.with_rules(replace(records.rules, keep_totals=answer))
    values = _named_values(records, search)
    return _without_named(_without_derived(records, search), search, values)


def _without_derived(records: Records, search: TotalSearch) -> Records:
    if records.rules.keep_totals:
        return records
    named = _label_column(records, search)
    rows = records.rows_in_order([name for name in (named, *search.amounts) if name is not None], _MOST_ROWS)
    if rows is None:
        return _without_order(records, search)
    tables = [_Table(records, replace(search, by=named), part) for part in rows]
    judged: list[Mapping[Any, Derived]] = [table.derived() for table in tables]
    sheets = _derived_sheets(records, tables, judged)
    for number, sheet in sheets.items():
        if sheet.verdict.outcome != "warn":  # a sheet that is counted may have totals of its own
            judged[number] = {}
    every = [*sheets.values(), *(entry for derived in judged for entry in derived.values())]
    every = [entry for entry in every if not records.rules.leaves_out(entry.label)]
    questions = with_outcome(every, "ask")
    if questions and records.rules.keep_totals is None:
        raise question(records.place, questions, _results(records, tables, judged, sheets))
    warned = with_outcome(every, "warn")
    records = records.with_notes(warnings_on(records.place, warned)) if warned else records
    places = [
        [row.place for row in table.rows]
        if number in sheets and sheets[number].verdict.outcome != "warn"
        else [
            table.rows[row_place].place
            for row_place, entry in derived.items()
            if entry in every and entry not in warned
        ]
        for number, (table, derived) in enumerate(zip(tables, judged, strict=True))
    ]
    left = [entry for entry in every if entry not in warned]
    if not left:
        return records
    of_sheets = [entry for entry in left if entry.verdict.kind == "sheet"]
    notes = left_out_note(records.place, of_sheets, "sheet")
    notes += left_out_note(records.place, [entry for entry in left if entry not in of_sheets])
    return records.with_notes(notes[1:]).without(places, notes[0])


def _label_column(records: Records, search: TotalSearch) -> str | None:
    """Return the column of labels; where columns are the categories, the first that is none of them."""
    if search.by is not None:
        return search.by
    return next((name for name in records.names() if name not in search.amounts), None)


class _Table:
    """The records of a file or a sheet as rows of a table."""

    def __init__(self, records: Records, search: TotalSearch, rows: Sequence[PlacedRow]) -> None:
        self._records, self._search, self.rows = records, search, rows
        self._further: list[list[Cell]] | None = None
        self.labels = [_label(row, search) for row in rows]

    @cached_property
    def columns(self) -> list[list[Cell]]:
        """The counted columns, a cell a row."""
        first = 0 if self._search.by is None else 1
        return [
            self._records.exact_amounts(
                name, [row.values[first + place] for row in self.rows], counted=self._search.counted
            )
            for place, name in enumerate(self._search.amounts)
        ]

    def derived(self) -> dict[int, Derived]:
        """Return the rows that are derived from others, or may be, by their places."""
        marked = any(self._says(row, label) for row, label in zip(self.rows, self.labels, strict=True))
        if not marked and not (self._search.amounts and has_single_labels(self.labels)):
            return {}
        return {place: self._named(place, verdict) for place, verdict in sorted(self._verdicts().items())}

    @staticmethod
    def _says(row: PlacedRow, label: str | None) -> bool:
        """Whether a label, a formula or another column says anything of its row."""
        return row.total is not None or bool(row.functions) or kind_of(label) != ""

    def _verdicts(self) -> Verdicts:
        width = len(self.columns)
        if self._search.together or width < 2:
            return self._judged(range(width))
        best: Verdicts = {}
        for column in range(width):
            verdicts = self._judged([column])
            outcomes = {verdict.outcome for verdict in verdicts.values()}
            if any(verdict.kind == "total" and verdict.outcome == "out" for verdict in verdicts.values()):
                return verdicts
            if not best or ("ask" in outcomes and all(verdict.outcome == "warn" for verdict in best.values())):
                best = verdicts
        return best

    def _judged(self, places: Sequence[int]) -> Verdicts:
        columns = [self.columns[place] for place in places]
        cells = list(zip(*columns, strict=True)) if columns else [()] * len(self.rows)
        rows = [
            self._counted(row, label, amounts)
            for row, label, amounts in zip(self.rows, self.labels, cells, strict=True)
        ]
        in_percent = any(self._records.unit_of(self._search.amounts[place]) in ("%", "‰") for place in places)
        beside = [self.columns[place] for place in range(len(self.columns)) if place not in places]
        return derived_rows(rows, is_percent=in_percent, further=lambda: [*beside, *self._other_columns()])

    def _counted(self, row: PlacedRow, label: str | None, amounts: tuple[Cell, ...]) -> CountedRow:
        functions = [row.functions[name] for name in self._search.amounts if name in row.functions]
        beside = row.total if row.total is not None and row.total != label else None
        return CountedRow(
            label,
            amounts,
            formula=functions[0] if functions else "",
            is_bold=row.is_bold,
            follows_blank=row.follows_blank,
            indent=row.indent,
            outline=row.outline,
            beside=beside,
        )

    def _other_columns(self) -> Sequence[Sequence[Cell]]:
        """Return further columns of the records that hold numbers."""
        if self._further is None:
            self._further = self._read_others()
        return self._further

    def _read_others(self) -> list[list[Cell]]:
        used = (self._search.by, *self._search.amounts)
        names = [name for name in self._records.names() if name not in used][:_MOST_FURTHER]
        records = self._records.unnoted()
        parts = records.rows_in_order(names, _MOST_ROWS) if names else None
        row_place = {row.place: index for index, row in enumerate(self.rows)}
        where = {row.where for row in self.rows[:1]}
        part = next((part for part in parts or () if {row.where for row in part[:1]} == where), [])
        columns: list[list[Cell]] = []
        for place, name in enumerate(names):
            column: list[Cell] = [None] * len(self.rows)
            placed = [row for row in part if row.place in row_place]
            try:
                cells = records.exact_amounts(name, [row.values[place] for row in placed], counted=False)
            except AmountError:  # no evidence either way
                continue
            for row, cell in zip(placed, cells, strict=True):
                column[row_place[row.place]] = cell
            if 2 * sum(cell is not None for cell in column) > len(column):
                columns.append(column)
        return columns

    def _named(self, place: int, verdict: Any) -> Derived:
        amount = next((column[place] for column in self.columns if column[place] is not None), None)
        return Derived(self.rows[place].where, self.labels[place] or "", amount, verdict)

    def by_label(self, without: Iterable[int]) -> dict[str | None, Amount]:
        """Return what is counted under each label, without some rows."""
        sums: dict[str | None, Amount] = {}
        left = set(without)
        for place, label in enumerate(self.labels):
            if place not in left:
                sums[label] = sums.get(label, 0) + self.total([place])
        return sums

    def total(self, places: Iterable[int]) -> Amount:
        """Return what is counted in some rows."""
        if not self.columns:
            return len(list(places))
        return sum(cell for place in places for column in self.columns if (cell := column[place]) is not None)


def _label(row: PlacedRow, search: TotalSearch) -> str | None:
    label = None if search.by is None else label_text(row.values[0])
    return row.total if label is None or not label.strip() else label


def _derived_sheets(
    records: Records, tables: Sequence[_Table], judged: Sequence[Mapping[int, Derived]]
) -> dict[int, Derived]:
    """Return the sheets, of several that are read together, that hold what others hold."""
    from vantric.core.totals.derived_columns import derived_sheets  # for several sheets alone

    names = records.part_names()
    if len(names) != len(tables) or not all(table.labels for table in tables):
        return {}
    sums = {
        name: table.by_label(place for place, entry in derived.items() if entry.verdict.outcome != "warn")
        for name, table, derived in zip(names, tables, judged, strict=True)
    }
    return {
        names.index(name): Derived("sheet", name, sum(sums[name].values()), verdict)
        for name, verdict in derived_sheets(sums).items()
    }


def _results(
    records: Records,
    tables: Sequence[_Table],
    judged: Sequence[Mapping[int, Derived]],
    sheets: Mapping[int, Derived],
) -> tuple[str, str] | None:
    """Return what is counted without the rows that are asked about, and with everything."""
    if records.where is not None:
        return None  # the rows are those of the whole source
    without: Amount = 0
    for number, (table, derived) in enumerate(zip(tables, judged, strict=True)):
        if number in sheets and sheets[number].verdict.outcome != "warn":
            continue
        out = {place for place, entry in derived.items() if entry.verdict.outcome != "warn"}
        without += table.total(place for place in range(len(table.rows)) if place not in out)
    whole: Amount = sum(table.total(range(len(table.rows))) for table in tables)
    if not any(table.columns for table in tables):
        return counted(int(without), "record"), counted(int(whole), "record")
    return amount_text(without), amount_text(whole)


def _named_values(records: Records, search: TotalSearch) -> list[tuple[Any, str]]:
    """Return the values that the user leaves out, each with its label.

    Raises
    ------
    SourceError
        If there is no label, column or sheet of a name.
    """
    names = records.rules.leave_out
    groups = records.groups([search.by]) if names and search.by is not None else []
    labels = [(value, label) for value, _ in groups if (label := label_text(value)) is not None]
    for name in names:
        is_gone = any(note.code == "left-out" and f"sheet '{name}'" in note.message for note in records.remarks)
        others = (*(label for _, label in labels), *records.names(), *records.part_names())
        if not is_gone and not any(same_name(other, name) for other in others):
            message = f"{records.place}: there is no '{one_line(name)}' to leave out"
            raise unknown(SourceError, message, name, [label for _, label in labels if label])
    return [(value, label) for value, label in labels if records.rules.leaves_out(label)]


def _without_named(records: Records, search: TotalSearch, values: Sequence[tuple[Any, str]]) -> Records:
    """Return the records without the labels and the sheets that the user names."""
    for value, label in values:
        note = Note("left-out", f"{records.place}: '{one_line(label)}' is left out, as leave_out says")
        records = records.without_label(str(search.by), value, note)
    for name in records.rules.leave_out:
        if name in records.part_names():
            records = records.without_part(name, Note("left-out", f"{records.place}: sheet '{name}' is left out"))
    return records


def _without_order(records: Records, search: TotalSearch) -> Records:
    """Leave out totals of records that have no order: what a label has is the sum of all others."""
    if search.by is None:
        return records
    groups = [(value, label_text(value), int(rows)) for value, rows in records.groups([search.by])]
    is_ready = len(groups) == sum(rows for *_, rows in groups)  # counts by label
    if len(groups) > _SHORT or not (is_ready or any(may_be_total(label or "") for _, label, _ in groups)):
        return records
    columns = [_summed(records, search.by, name) for name in search.amounts]
    values = [value for value, _, _ in groups]
    rows = [CountedRow(label, tuple(column.get(value) for column in columns)) for value, label, _ in groups]
    verdicts = {
        place: verdict
        for place, verdict in derived_groups(rows).items()
        if groups[place][2] == 1 or may_be_total(groups[place][1] or "")
    }
    entries = {
        place: Derived("", label or "", next(iter(rows[place].amounts), None), verdicts[place])
        for place, (_, label, _) in enumerate(groups)
        if place in verdicts and not records.rules.leaves_out(label or "")
    }
    questions = with_outcome(entries.values(), "ask")
    if questions and records.rules.keep_totals is None:
        raise question(records.place, questions, None)
    warned = with_outcome(entries.values(), "warn")
    records = records.with_notes(warnings_on(records.place, warned)) if warned else records
    for place, entry in entries.items():
        if entry.verdict.outcome != "warn":
            records = records.without_label(search.by, values[place], left_out_note(records.place, [entry])[0])
    return records


def _summed(records: Records, by: str, name: str) -> dict[Any, Cell]:
    try:
        return {group[0]: exact_cell(group[-1]) for group in records.sums([by], name, free=True)}
    except (AmountError, SourceError):  # what it lacks is said where it is counted
        return {}


def without_total_labels(cells: list[C], rules: CellRules) -> list[C]:
    """Return cells of plain labels without totals and without what the user names."""
    rows = [CountedRow(cell.label, ()) for cell in cells]
    verdicts = {} if rules.keep_totals else derived_groups(rows)
    questions = [
        Derived("", str(row.label), None, verdicts[place])
        for place, row in enumerate(rows)
        if place in verdicts and not rules.leaves_out(str(row.label))
    ]
    if questions and rules.keep_totals is None:
        raise question("the labels", questions, None)
    for name in rules.leave_out:
        if not any(cell.label is not None and same_name(cell.label, name) for cell in cells):
            labels_there = [cell.label for cell in cells if cell.label]
            raise unknown(SourceError, f"there is no '{one_line(name)}' to leave out", name, labels_there)
    return [
        cell for place, cell in enumerate(cells) if place not in verdicts and not rules.leaves_out(cell.label or "")
    ]


def _largest(labels: list[str], frequencies: Mapping[str, Any], most: int) -> list[str]:
    """Return the labels of the largest frequencies, of millions too."""
    import numpy as np

    amounts = np.fromiter(map(float, frequencies.values()), np.float64, len(labels))
    places = np.argpartition(-amounts, most)[:most]
    return [labels[place] for place in places[np.argsort(-amounts[places], kind="stable")].tolist()]


def most_frequent(frequencies: Mapping[str, Any], *, missing: Any = 0) -> list[str | None]:
    """Return labels, the most frequent of many; None among them if some of a short table have none."""
    labels = list(frequencies)
    if len(labels) > _MOST_LABELS:
        labels = _largest(labels, frequencies, _MOST_LABELS // 20)
    return [*labels, *([None] if missing else [])]
