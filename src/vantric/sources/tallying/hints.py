"""What a sheet looks like that is counted in another way than it was meant."""

from __future__ import annotations

from collections.abc import Iterable

from vantric.core.counting.remark import Remark
from vantric.core.numbers.shown import counted, one_line, quoted
from vantric.sources.reading.missingcodes import is_missing_code
from vantric.sources.reading.records import Records

_FEWEST_LABELS = 3
_SHORT = 20_000  # records of a sheet, beyond which it is a log


def missing_codes(records: Records, by: str, labels: Iterable[tuple[str | None, int]]) -> list[Remark]:
    """Report labels that look like codes for what is missing."""
    found = [(label, rows) for label, rows in labels if label is not None and is_missing_code(label)]
    if not found:
        return []
    shown = ", ".join(f"'{one_line(label)}' ({rows:,})" for label, rows in found[:3])
    return [
        Remark("missing-code", f"{records.place}: '{by}' holds {shown}: a code for what is missing?", "warning",
               f'if it is, say na="{one_line(found[0][0])}"')
    ]  # fmt: skip


def outer_labels(records: Records, by: str, cells: Iterable[tuple[str | None, int]]) -> list[Remark]:
    """Report labels that stand once above blank cells: they may hold for the records below."""
    found = list(cells)
    labeled = [rows for label, rows in found if label is not None and label.strip()]
    blank = sum(rows for _, rows in found) - sum(labeled)
    if len(labeled) < 2 or not blank or blank > _SHORT or len(records.names()) < 3 or max(labeled) > 1:
        return []
    return [
        Remark("outer-labels", f"{records.place}: each label of '{by}' stands once, and {counted(blank, 'record')} "
               f"{'has' if blank == 1 else 'have'} none", "warning",
               f"if a label holds for the records below it, say fill_down='{by}' (--fill-down)")
    ]  # fmt: skip


def counts_beside(records: Records, by: str, rows: int) -> list[Remark]:
    """Report a sheet in which each label stands once, beside a column of numbers: the numbers are the counts."""
    if not _FEWEST_LABELS <= rows <= _SHORT:
        return []
    from vantric.sources.reading.profile import profile

    beside = [column.name for column in profile(records) if column.kind == "number" and column.name != by]
    if not beside:
        return []
    named = quoted(beside[:3])
    return [
        Remark("counts-beside", f"{records.place}: each label of '{by}' stands once and counts as 1, and {named} "
               f"{'holds' if len(beside) == 1 else 'hold'} numbers beside it: are these the counts?", "warning",
               f"say count='{beside[0]}' (--count) to add them up")
    ]  # fmt: skip
