"""A first look at records: of what kind each column is, what is missing, and which can be counted or added up."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable
from dataclasses import replace
from datetime import date, datetime
from decimal import Decimal
from typing import Any

from vantric.base.lazily import dataclass
from vantric.core.counts.provenance import is_quantity_name
from vantric.core.counts.relabeling import is_missing_code
from vantric.core.numbers.label_order import natural_key
from vantric.errors import ColumnError, VantricError
from vantric.reading.dates import date_order
from vantric.reading.durations import is_duration
from vantric.reading.headings import is_blank, is_unit, label_text, unit_in
from vantric.reading.number_style import cell_of, is_number
from vantric.reading.records import Records
from vantric.reading.written_dates import read_date

#: Labels that a first look shows of a column.
_COMMONEST = 3
_CODE = 3  # letters of the name of a currency
_FEW = 50  # labels that all differ are names, not numbers of things, up to here


@dataclass(frozen=True)
class ColumnProfile:
    """One column at a glance.

    Attributes
    ----------
    name
    kind
        ``"text"``, ``"number"``, ``"date"``, ``"time"``, ``"truth"`` or ``"empty"``. A column of times is a
        number where its heading says that these are durations, and else neither counted nor added up unless named.
    valid, missing, distinct
        Records with and without a value, and how many different values.
    commonest
        The commonest values and their records.
    unit
        What its numbers are in, where cells or heading say so.
    before, after
        A cell that is read as something else than it is, and what it is read as; empty if there is none.
    codes
        Cells that look like codes for what is missing, and their records.
    problem
        Why it cannot be read as the numbers or dates that it seems to hold; empty if it can.
    """

    name: str
    kind: str
    valid: int
    missing: int
    distinct: int
    commonest: tuple[tuple[str, int], ...]
    unit: str = ""
    before: str = ""
    after: str = ""
    codes: tuple[tuple[str, int], ...] = ()
    problem: str = ""

    @property
    def countable(self) -> bool:
        """Whether its labels can be counted with sense: text that recurs, or few enough to be names of categories."""
        recurs = self.distinct < self.valid or self.valid <= _FEW
        return self.kind in {"text", "truth"} and recurs

    @property
    def summable(self) -> bool:
        """Whether its values can be added up."""
        return self.kind == "number"


def profile(records: Records) -> list[ColumnProfile]:
    """Look at every column."""
    return [_column(records, name, records.groups([name])) for name in records.names()]


def _column(records: Records, name: str, groups: Iterable[tuple[Any, ...]]) -> ColumnProfile:
    labels: Counter[str] = Counter()
    codes: Counter[str] = Counter()
    missing, kinds, texts = 0, set(), []
    for value, number in groups:
        if is_blank(value):
            missing += int(number)
            continue
        label = str(label_text(value))
        labels[label] += int(number)
        if isinstance(value, str) and is_missing_code(value):
            codes[label] += int(number)
            continue
        kinds.add(_kind(value))
        if isinstance(value, str):
            texts.append(value)
    kind = next(iter(kinds)) if len(kinds) == 1 else "text" if labels else "empty"
    if not kinds and codes:
        kind = "text"
    if kind == "text" and texts and len(texts) == len(labels) and not codes and all(map(is_duration, texts)):
        kind = "number" if is_quantity_name(name) else "time"
    commonest = sorted(labels.items(), key=lambda item: (-item[1], natural_key(item[0])))[:_COMMONEST]
    plain = ColumnProfile(
        name,
        kind,
        sum(labels.values()),
        missing,
        len(labels),
        tuple(commonest),
        unit_in(name)[1],
        codes=tuple(codes.most_common(_COMMONEST)),
    )
    return _as_read(records, plain) if texts or kind in ("number", "date") else plain


def _as_read(records: Records, column: ColumnProfile) -> ColumnProfile:
    """Return a profile with how the commands will read the column, or why they will not."""
    try:
        if column.kind == "date":
            date_order(records, column.name)
        if column.kind != "number":
            return column
        reading = records.number_reading(column.name)
    except VantricError as error:  # a first look says what is wrong instead of stopping
        return replace(column, problem=str(error))
    value = reading.value(reading.before) if reading.before and not reading.is_plain else None
    unit = records.unit_of(column.name)
    if value is None:
        return replace(column, unit=unit)
    return replace(column, unit=unit, before=reading.before, after=f"{value} {unit}".strip())


def _kind(value: Any) -> str:
    if isinstance(value, bool) or type(value).__name__ in {"bool", "bool_"}:
        return "truth"
    if isinstance(value, date | datetime) or type(value).__name__ == "Timestamp":
        return "date"
    if isinstance(value, int | float | Decimal):
        return "number"
    text = str(value).strip()
    cell = cell_of(text)
    if cell is not None and is_number(text) and not re.match(r"0[0-9]", text):
        has_unit = not cell.unit or is_unit(cell.unit) or not cell.unit.isalpha() or len(cell.unit) == _CODE
        if has_unit:
            return "number"
    return "date" if not text.isdigit() and read_date(text) else "text"


def only_countable(records: Records) -> str:
    """Return the one column that can be counted, or say which there are."""
    columns = profile(records)
    countable = [column.name for column in columns if column.countable]
    if len(countable) == 1:
        return countable[0]
    which = ", ".join(countable or [column.name for column in columns])
    what = "could be" if countable else "are"
    raise ColumnError(f"say which column of {records.place} is counted (by): its columns {what}: {which}")
