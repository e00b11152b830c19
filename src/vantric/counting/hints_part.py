"""What a sheet looks like that is counted in another way than it was meant."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from fractions import Fraction

from vantric.core.counts.provenance import Remark
from vantric.core.counts.restwords_part import is_missing_code
from vantric.core.numbers.number_format import counted, number_text, one_line, quoted
from vantric.counting.cells import Cell, split_cells
from vantric.reading.blanks_part import is_blank
from vantric.reading.records import Records

_FEWEST_LABELS = 3
_UNIT_COLUMN = re.compile(
    r"units?|uom|unit of measure|measure unit|einheit|mengeneinheit|unité|unidad|unità|eenheid|enhet|ед\.?( изм\.?)?",
    re.IGNORECASE,
)
_SHORT_SHEET = 20_000  # records of a sheet, beyond which it is a log


def missing_codes(records: Records, by: str, labels: Iterable[tuple[str | None, int]]) -> list[Remark]:
    """Report labels that look like codes for what is missing."""
    found = [(label, rows) for label, rows in labels if label is not None and is_missing_code(label)]
    if not found:
        return []
    shown = ", ".join(f"'{one_line(label)}' ({rows:,})" for label, rows in found[:3])
    return [
        Remark(
            "missing-code",
            f"{records.place}: '{by}' holds {shown}: a code for what is missing?",
            "warning",
            f'if it is, say na="{one_line(found[0][0])}"',
        )
    ]


def outer_labels(records: Records, by: str, cells: Iterable[tuple[str | None, int]]) -> list[Remark]:
    """Report labels that stand once above blank cells: they may hold for the records below."""
    found = list(cells)
    labeled = [rows for label, rows in found if label is not None and label.strip()]
    blank = sum(rows for _, rows in found) - sum(labeled)
    if len(labeled) < 2 or not blank or blank > _SHORT_SHEET or len(records.names()) < 3 or max(labeled) > 1:
        return []
    return [
        Remark(
            "outer-labels",
            f"{records.place}: each label of '{by}' stands once, and {counted(blank, 'record')} "
            f"{'has' if blank == 1 else 'have'} none",
            "warning",
            f"if a label holds for the records below it, say fill_down='{by}' (--fill-down)",
        )
    ]


def counts_beside(records: Records, by: str, rows: int) -> list[Remark]:
    """Report a sheet in which each label stands once, beside a column of numbers: the numbers are the counts."""
    if not _FEWEST_LABELS <= rows <= _SHORT_SHEET:
        return []
    from vantric.reading.profile import profile

    beside = [column.name for column in profile(records) if column.kind == "number" and column.name != by]
    if not beside:
        return []
    named = quoted(beside[:3])
    return [
        Remark(
            "counts-beside",
            f"{records.place}: each label of '{by}' stands once and counts as 1, and {named} "
            f"{'holds' if len(beside) == 1 else 'hold'} numbers beside it: are these the counts?",
            "warning",
            f"say count='{beside[0]}' (--count) to add them up",
        )
    ]


def mixed_units(records: Records, counted: Iterable[str | None]) -> list[Remark]:
    """Report a column of units beside the counts that names several: kilograms and pieces do not add up."""
    amounts = [name for name in counted if name]
    beside = next((name for name in records.names() if _UNIT_COLUMN.fullmatch(name.strip().replace("_", " "))), None)
    if not amounts or beside is None or beside in amounts:
        return []
    groups = {
        str(value).strip().casefold(): str(value).strip()
        for value, _ in records.groups([beside])
        if not is_blank(value)
    }
    if len(groups) < 2:
        return []
    return [
        Remark(
            "mixed-units",
            f"{records.place}: '{amounts[0]}' is added up, and '{beside}' beside it says "
            f"{quoted(sorted(groups.values()))}: amounts of different units do not add up",
            "warning",
            "count one unit at a time (--where), or bring all amounts to one unit",
        )
    ]


def counted_again(records: Records, cells: Sequence[Cell], separator: str | None, count: str | None) -> list[Remark]:
    """Report records of several labels whose whole count is counted under each of them."""
    if separator is None or count is None:
        return []
    several = [cell for cell in cells if len([*split_cells([cell], separator)]) > 1]
    if not several:
        return []
    once = sum((Fraction(cell.counted) for cell in cells if cell.label is not None), Fraction())
    again = sum((Fraction(cell.counted) * (len([*split_cells([cell], separator)]) - 1) for cell in several), Fraction())
    rows = sum(cell.rows for cell in several)
    verb = "counts" if rows == 1 else "count"
    return [
        Remark(
            "counted-again",
            f"{records.place}: {counted(rows, 'record')} with several labels {verb} "
            f"under each of them with the whole of '{count}': {number_text(float(once))} are counted as "
            f"{number_text(float(once + again))}",
            "warning",
            "count the records (leave count out), or say that percents are of mentions, not of what was counted",
        )
    ]
