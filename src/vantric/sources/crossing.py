"""From groups of records to a two-way table."""

from __future__ import annotations

from collections.abc import Iterable

from vantric.core.counting.crosstab import Crosstab, make_crosstab
from vantric.core.counting.relabel import relabelling
from vantric.core.numbers.amounts import Raw
from vantric.errors import ColumnError
from vantric.sources.labels import label_text
from vantric.sources.options import Counting
from vantric.sources.records import Records
from vantric.sources.tallying import frequencies, naming, origin_of, parted

Pair = tuple[str | None, str | None, Raw]


def cross_records(records: Records, counting: Counting, split: str) -> Crosstab:
    """Count records by two columns."""
    if counting.by_columns or counting.unique or counting.by is None:
        raise ColumnError("a two-way table counts records by two columns: leave by_columns and unique out")
    keys = [counting.by, split]
    groups = (
        [(a, b, n, n) for a, b, n in records.groups(keys)]
        if counting.count is None
        else records.sums(keys, counting.count)
    )
    rows = sum(int(group[2]) for group in groups)
    pairs: list[Pair] = [(label_text(a), label_text(b), amount) for a, b, _, amount in groups]
    pairs = list(_parted(pairs, counting.separator))
    rename = relabelling(frequencies((a, amount) for a, _, amount in pairs), **naming(counting))
    renamed = [(None if a is None else rename(a), b, amount) for a, b, amount in pairs]
    origin = origin_of(records, counting, rows, [*records.remarks, *rename.remarks])
    return make_crosstab(renamed, None, split, origin)


def _parted(pairs: Iterable[Pair], separator: str | None) -> Iterable[Pair]:
    for category, label, amount in pairs:
        for piece, *_ in parted([(category, 0, amount)], separator):
            yield piece, label, amount
