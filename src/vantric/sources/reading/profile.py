"""A first look at records: of what kind each column is, what is missing, and which can be counted or added up."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from typing import Any

from vantric.core.numbers.naturalorder import natural_key
from vantric.core.numbers.parsing import parse_number
from vantric.errors import ColumnError
from vantric.sources.reading.labels import label_text
from vantric.sources.reading.records import Records, is_blank

_DATE = re.compile(r"\d{4}-\d{2}-\d{2}([ T]\d{2}:\d{2}(:\d{2}(\.\d+)?)?)?|\d{4}-\d{2}")
_COMMONEST = 3
_FEW = 50  # labels that all differ are names, not numbers of things, up to here


@dataclass(frozen=True)
class ColumnProfile:
    """One column at a glance.

    Attributes
    ----------
    name
    kind
        ``"text"``, ``"number"``, ``"date"``, ``"truth"`` or ``"empty"``.
    valid, missing, distinct
        Records with and without a value, and how many different values.
    commonest
        The commonest values and their records.
    """

    name: str
    kind: str
    valid: int
    missing: int
    distinct: int
    commonest: tuple[tuple[str, int], ...]

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
    return [_column(name, records.groups([name])) for name in records.names()]


def _column(name: str, groups: Iterable[tuple[Any, ...]]) -> ColumnProfile:
    found: Counter[str] = Counter()
    missing, kinds = 0, set()
    for value, number in groups:
        if is_blank(value):
            missing += int(number)
        else:
            found[str(label_text(value))] += int(number)
            kinds.add(_kind(value))
    kind = next(iter(kinds)) if len(kinds) == 1 else "text" if kinds else "empty"
    commonest = sorted(found.items(), key=lambda item: (-item[1], natural_key(item[0])))[:_COMMONEST]
    return ColumnProfile(name, kind, sum(found.values()), missing, len(found), tuple(commonest))


def _kind(value: Any) -> str:
    if isinstance(value, bool) or type(value).__name__ in {"bool", "bool_"}:
        return "truth"
    if isinstance(value, date | datetime) or type(value).__name__ == "Timestamp":
        return "date"
    if isinstance(value, int | float | Decimal):
        return "number"
    text = str(value).strip()
    if _DATE.fullmatch(text):
        return "date"
    try:
        parse_number(text.replace(",", ".") if text.count(",") == 1 and "." not in text else text)
    except ValueError:
        return "text"
    return "text" if re.match(r"0[0-9]", text) else "number"


def only_countable(records: Records) -> str:
    """Return the one column that can be counted, or say which there are."""
    columns = profile(records)
    countable = [column.name for column in columns if column.countable]
    if len(countable) == 1:
        return countable[0]
    which = ", ".join(countable or [column.name for column in columns])
    what = "could be" if countable else "are"
    raise ColumnError(f"say which column of {records.place} is counted (by): its columns {what}: {which}")
