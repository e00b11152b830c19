"""Which column of numbers of a sheet says how many: the one that adds up the others, never a mean, a rank or an id."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from itertools import accumulate

from vantric.base.lazily import compiled, dataclass
from vantric.core.numbers.label_order import calendar_keys
from vantric.core.totals.derived_columns import derived_columns
from vantric.core.totals.label_kinds import STRONG_KINDS, folded, kind_of
from vantric.core.totals.row_sums import Cell
from vantric.errors import AmountError, SourceError
from vantric.reading.profile import ColumnProfile
from vantric.reading.records import Records

#: Words of headings whose column weighs an occurrence rather than counts it.
WEIGHED = ("cost", "price", "value", "minute", "hour", "kosten", "preis", "coût", "costo", "custo", "koszt", "maliyet")
#: Words of headings whose column counts.
COUNTS = (
    "count",
    "piece",
    "pcs",
    "qty",
    "quantity",
    "number",
    "frequency",
    "anzahl",
    "stück",
    "menge",
    "nombre",
    "quantité",
    "cantidad",
    "quantidade",
    "pezzi",
    "liczba",
    "adet",
    "кол",
    "数",
)
_MOST_ROWS = 2_000  # that are looked at
_FEWEST_RANKED = 4
#: Headings of numbers that name things.
_IDENTIFIERS = frozenset(
    ("id", "no", "nr", "num", "lot", "batch", "code", "row", "year", "jahr", "rank", "rang", "position", "pos", "line")
)
#: Headings of numbers that are parts of a whole, running sums, means or rates of other numbers.
_NO_AMOUNTS = compiled(
    r"percent|pct|%|cumul|kumul|cum\b|running|share|anteil|rate\b|ratio|quote|average|\bavg\b|\bmean\b|mittel|schnitt"
    r"|median|moyenne|promedio|media\b|ppm|\brank|\brang"
)


@dataclass(frozen=True)
class AmountColumns:
    """The columns of numbers of a table.

    Attributes
    ----------
    total
        The one that adds up others; None if there is none.
    plain
        Those that are neither derived from others nor names, in their order; without the parts of the total.
    parts
        The columns that the total adds up.
    """

    total: str | None
    plain: tuple[str, ...]
    parts: tuple[str, ...] = ()

    @property
    def span(self) -> str | None:
        """The range of columns that are added up, such as those of months or of shifts; None if there is none."""
        size = len(self.plain)
        runs = [self.plain[first:last] for first in range(size) for last in range(size, first + 1, -1)]
        calendar = (names for names in runs if calendar_keys(names) is not None)
        parts = (names for names in runs if _are_parts(names))
        names = next(calendar, None) or next(parts, None)
        return f"{names[0]}:{names[-1]}" if names else None


#: Columns of numbers that are parts of one count.
_FEWEST_PARTS = 3


def _are_parts(names: Sequence[str]) -> bool:
    """Whether columns are what a total would add up: none of them is named as an amount of its own."""
    texts = [name.casefold() for name in names]
    return len(texts) >= _FEWEST_PARTS and not any(word in text for text in texts for word in (*COUNTS, *WEIGHED))


def amount_columns(records: Records, columns: Sequence[ColumnProfile]) -> AmountColumns:
    """Return which columns of numbers say how many."""
    names = [column.name for column in columns if column.kind == "number" and column.valid]
    cells = _cells(records, [column.name for column in columns if column.name in names and not column.problem])
    unread = tuple(name for name in names if name not in cells and not _is_no_amount(name))
    plain = [name for name in cells if not _is_no_amount(name) and not _is_rank(cells[name])]
    plain = [name for name in plain if not _is_running(cells, name)]
    try:
        derived = derived_columns(plain, [cells[name] for name in plain]) if plain else {}
    except (AmountError, SourceError):
        derived = {}
    sure = {name: verdict for name, verdict in derived.items() if verdict.outcome != "warn"}
    sums = [name for name in plain if name in sure and "sum of" in sure[name].reason]
    total = next((name for name in sums if kind_of(name) in STRONG_KINDS), sums[-1] if sums else None)
    left = (*(name for name in plain if name not in derived), *unread)
    return AmountColumns(total, () if total else left, left if total else ())


def _cells(records: Records, names: Sequence[str]) -> dict[str, list[Cell]]:
    every, rows = records.names(), records.head(_MOST_ROWS)
    cells: dict[str, list[Cell]] = {}
    for name in names:
        place = every.index(name)
        try:
            cells[name] = records.unnoted().exact_amounts(name, [row[place] for row in rows], counted=False)
        except AmountError:  # a column without a reading says so where it is used
            continue
    return cells


def _is_no_amount(name: str) -> bool:
    text = folded(name)
    return bool(_NO_AMOUNTS.search(text) or _IDENTIFIERS & set(re.split(r"[\W_]+", text)))


def _is_rank(cells: Sequence[Cell]) -> bool:
    """Whether the numbers count the rows: 1, 2, 3 ... in some order."""
    values = [cell for cell in cells if cell is not None]
    return len(values) >= _FEWEST_RANKED and sorted(values) == list(range(1, len(values) + 1))


def _is_running(cells: Mapping[str, Sequence[Cell]], name: str) -> bool:
    """Whether a column is the running sum of another."""
    own = [cell or 0 for cell in cells[name]]
    return len(own) >= _FEWEST_RANKED and any(
        other != name and list(accumulate(cell or 0 for cell in column)) == own and any(column[1:])
        for other, column in cells.items()
    )
