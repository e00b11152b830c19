"""Rows of totals are left out of what is counted, before it is counted."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction
from heapq import nlargest
from typing import Any, Protocol, TypeVar

from vantric.core.counts.provenance import Note
from vantric.core.counts.total_labels import LabeledRow, Verdict, is_mean, is_strong, may_be_total, totals_among
from vantric.core.numbers.number_format import counted, one_line
from vantric.errors import AmountError, SourceError
from vantric.reading.headings import is_blank, label_text
from vantric.reading.records import PlacedRow, Records
from vantric.reading.settings import TOTALS, CellRules

T = TypeVar("T")


class _Labeled(Protocol):
    @property
    def label(self) -> str | None:
        """The label, if it has one."""


C = TypeVar("C", bound=_Labeled)
_MOST_ROWS = 2_000_000  # that are looked at one by one
_MOST_LABELS = 20_000  # that are all looked at; of more the most frequent
#: Rows that a question or a note names.
_MOST_SHOWN = 3
_SHORT = 5_000  # records, whose columns are all looked at
#: What a row without a label is called.
_NO_LABEL = "(a record)"
#: Added where the user said so, not the rule.
_AS_SAID = ", as keep_totals=False says"


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
    """

    by: str | None
    amounts: tuple[str, ...]
    counted: bool = True


def without_totals(
    records: Records, search: TotalSearch, work: Callable[[Records], T], labels: Callable[[T], Iterable[Any]]
) -> T:
    """Return what some work on records returns, done again without totals if their labels show that there are any.

    Parameters
    ----------
    records
    search
    work
    labels
        Returns the labels of a result, the most frequent first, and None among them if some were missing.

    Raises
    ------
    SourceError
        If a row may be a total: the user must say.
    """
    records = records.labeled_by(search.by)
    if records.rules.keep_totals:
        return work(records)
    try:
        result = work(records)
    except (AmountError, SourceError):  # a total often lacks what records have
        left = totals_left_out(records, search)
        if left is records:
            raise
        return work(left)
    hidden = search.amounts and records.is_short(_SHORT)  # beside a label of another kind: in merged cells
    if not hidden and not any(_suspect(label, search) for label in labels(result)):
        return result
    left = totals_left_out(records, search)
    return result if left is records else work(left)


def _suspect(label: Any, search: TotalSearch) -> bool:
    if label is None:  # one record without a label
        return bool(search.amounts)
    return may_be_total(label)


def totals_left_out(records: Records, search: TotalSearch) -> Records:
    """Return the records without their totals; the records themselves if there are none."""
    rows = records.rows_in_order([name for name in (search.by, *search.amounts) if name is not None], _MOST_ROWS)
    if rows is None:
        return _without_order(records, search)
    places: list[list[Any]] = []
    words: dict[str, bool] = {}
    for part in rows:
        if not any(_may_matter(row, search) for row in part):
            places.append([])
            continue
        labeled = [_labeled(records, search, row) for row in part]
        verdicts = totals_among(labeled)
        _ask(records, part, labeled, verdicts)
        places.append([part[index].place for index in verdicts])
        words |= {
            f"{part[index].where} ('{one_line(_shown(labeled[index], part[index]), longest=40)}')": verdicts[index]
            == "total"
            for index in sorted(verdicts)
        }
    if not words:
        return records
    return records.without(places, Note("total-row", f"{records.place}: {_left_out(words)}"))


def _left_out(words: Mapping[str, bool]) -> str:
    """Return which rows are left out, and why: they add up others, or the user said so."""
    texts = []
    for sums, one_is, several_are in (
        (True, "adds up the others and is left out", "add up others and are left out"),
        (False, f"reads as a total and is left out{_AS_SAID}", f"read as totals and are left out{_AS_SAID}"),
    ):
        rows = [row for row, adds in words.items() if adds is sums]
        text = ", ".join(rows[:_MOST_SHOWN])
        text += f" and {len(rows) - _MOST_SHOWN} more" if len(rows) > _MOST_SHOWN else ""
        texts += [f"{text} {one_is}" if len(rows) == 1 else f"{counted(len(rows), 'row')} {several_are}: {text}"] * (
            len(rows) > 0
        )
    return "; ".join(texts)


def _may_matter(row: PlacedRow, search: TotalSearch) -> bool:
    """Whether a record may be a total: by its label, by the lack of one, or by what another column says."""
    if row.total is not None or row.sums or search.by is None:
        return row.total is not None or bool(row.sums)
    label = label_text(row.values[0])
    return label is None or not label.strip() or may_be_total(label)


def _shown(labeled: LabeledRow, row: Any) -> str:
    return labeled.label or "without a label"


def _labeled(records: Records, search: TotalSearch, row: Any) -> LabeledRow:
    label = (row.total or _NO_LABEL) if search.by is None else label_text(row.values[0])
    if label is None or not label.strip():
        label = row.total
    cells = row.values[0 if search.by is None else 1 :]
    amounts, decimals = [], 0
    for name, cell in zip(search.amounts, cells, strict=True):
        try:
            number = None if is_blank(cell) else records.number(name, cell, counted=search.counted)
        except ValueError:  # an amount in words: it adds up to nothing
            number = None
        amounts.append(None if number is None else Fraction(number))
        if isinstance(number, float):
            number = Decimal(repr(number))
        if isinstance(number, Decimal) and isinstance(exponent := number.as_tuple().exponent, int):
            decimals = max(decimals, -exponent)
    rounded = any(records.unit_of(name) in ("%", "‰") for name in search.amounts)
    other = row.total if label != row.total and row.total is not None and is_strong(row.total) else None
    return LabeledRow(label, tuple(amounts), bool(set(row.sums) & set(search.amounts)), decimals, rounded, other)


def _ask(records: Records, part: Sequence[Any], labeled: Sequence[LabeledRow], verdicts: dict[int, Verdict]) -> None:
    """Raise `SourceError` for the first row that may be a total, unless the user said what becomes of such rows."""
    if records.rules.keep_totals is False:
        return
    for index in sorted(verdicts):
        if verdicts[index] == "ask":
            row, label = part[index], labeled[index].label
            named = f"'{one_line(label, longest=40)}'" if label else "a row without a label"
            why = "adds up the others: is it a total?"
            if label is not None and is_mean(label):
                why = "is the mean of the others: is it a record?"
            elif label is not None and is_strong(label):
                why = "reads as a total, and is not the sum of a table that ends there: is it one?"
            place = row.where if row.where.startswith("'") else f"{records.place}, {row.where}"
            raise SourceError(
                f"{place}: {named} {why} say keep_totals=False to leave it out, keep_totals=True to count it",
                hint="keep_totals=False leaves it out, keep_totals=True counts it",
                asks=TOTALS,
            )


def _without_order(records: Records, search: TotalSearch) -> Records:
    """Leave out totals of records that have no order: the amount of one is the sum of all others."""
    if search.by is None:
        return records
    groups = [(label_text(group[0]), *group) for group in records.groups([search.by])]
    strong = [(label, value) for label, value, _ in groups if label is not None and is_strong(label)]
    for label, value in strong:
        adds = bool(search.amounts) and _is_rest(records, search.by, search.amounts[0], value)
        if not adds and records.rules.keep_totals is None:
            raise SourceError(
                f"{records.place}: '{one_line(label)}' in '{search.by}' is the label of a total: is it one? say "
                "keep_totals=False to leave it out, keep_totals=True to count it",
                asks=TOTALS,
            )
        why = "adds up the others and is left out" if adds else f"reads as a total and is left out{_AS_SAID}"
        note = Note("total-row", f"{records.place}: '{one_line(label)}' {why}")
        records = records.without_label(search.by, value, note)
    return records


def _is_rest(records: Records, by: str, amount: str, value: Any) -> bool:
    sums = records.sums([by], amount, free=True)
    stated = next((Fraction(total) for label, _, total in sums if label == value), Fraction())
    rest = [Fraction(total) for label, _, total in sums if label != value and label is not None]
    return len(rest) > 1 and stated != 0 and abs(stated - sum(rest)) <= abs(stated) * Fraction(1, 10**9)


def without_total_labels(cells: list[C], rules: CellRules) -> list[C]:
    """Return cells of plain labels without totals; what is called so cannot add up others, and the user must say."""
    totals = [cell for cell in cells if cell.label is not None and is_strong(cell.label)]
    if not totals or rules.keep_totals:
        return cells
    if rules.keep_totals is None:
        raise SourceError(
            f"the labels: '{one_line(str(totals[0].label))}' is the label of a total: is it one? say keep_totals=False "
            "to leave it out, keep_totals=True to count it",
            asks=TOTALS,
        )
    return [cell for cell in cells if cell not in totals]


def most_frequent(frequencies: Mapping[str, Any], *, missing: Any = 0) -> list[str | None]:
    """Return labels, the most frequent of many; None among them if some of a short table have none."""
    labels = list(frequencies)
    if len(labels) > _MOST_LABELS:
        labels = nlargest(_MOST_LABELS // 20, frequencies, key=lambda label: float(frequencies[label]))
    return [*labels, *([None] if missing else [])]
