"""A sheet or a workbook written again with the right numbers in it."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from vantric.api.reviews import is_explained, stated_of, with_base
from vantric.audit.arithmetic import Correction, check_and_correct
from vantric.audit.book_tables import BookTable
from vantric.audit.books import audit_book
from vantric.audit.drawn_charts import chart_parts, with_alternatives
from vantric.audit.relations import StatedSheet
from vantric.audit.repairs import corrected, repaired_book, repaired_csv, repaired_sheet
from vantric.audit.sheet_rows import RawSheet, found_sheet
from vantric.audit.stated_checks import check_relations
from vantric.base.lazily import dataclass
from vantric.base.safe_files import without_times
from vantric.errors import ColumnError, TargetError
from vantric.reading.settings import CountSettings, ReadSettings

#: The formats that a repaired sheet can be written in.
ENDINGS = ("xlsx", "csv")


@dataclass(frozen=True)
class RepairResult:
    """What a repair made.

    Attributes
    ----------
    content
        The file.
    corrections
        What was changed.
    lost
        Parts of the workbook that the new file does not hold.
    """

    content: bytes
    corrections: tuple[Correction, ...]
    lost: tuple[str, ...] = ()


def repairable(data: Any, counted: CountSettings, opening: ReadSettings) -> tuple[RawSheet | None, StatedSheet | None]:
    """Return a sheet whose percents can be worked out again, and all of its columns; no sheet if they are of others."""
    count = None if counted.count is None else str(counted.count)
    raw, stated = found_sheet(data, opening, counted.by, count), stated_of(data, counted, opening)
    if raw is not None and stated is not None and is_explained(raw, check_relations(stated)):
        return None, stated
    return raw, stated


def _check_repair(stated: StatedSheet | None, corrections: Sequence[Correction]) -> None:
    """Raise an error if a repair would make a relation fail that holds: it is worked out again before it is written.

    Raises
    ------
    ColumnError
        Naming the cell.
    """
    if stated is None:
        return
    before = {(finding.code, finding.where) for finding in check_relations(stated).findings}
    for finding in check_relations(corrected(stated, corrections)).findings:
        if (finding.code, finding.where) not in before:
            raise ColumnError(
                f"the repair would make right cells wrong: {finding.message}; name the columns that are to be repaired "
                "(--by, --count, --percent-column, --cumulative-column)"
            )


def repaired(
    raw: RawSheet, target: Path, *, base: float | None = None, stated: StatedSheet | None = None
) -> RepairResult | None:
    """Return a sheet with the right numbers, as the ending of the target says; None if nothing is to be changed.

    Parameters
    ----------
    raw
    target
    base
        What percents are of, where that is not the sum of the counts.
    stated
        All of its columns, whose relations are to hold afterwards as before.
    """
    corrections = check_and_correct(with_base(raw.table, base)).corrections
    if not corrections:
        return None
    _check_repair(stated, corrections)
    make = repaired_csv if target.suffix.casefold() == ".csv" else repaired_sheet
    return RepairResult(make(raw, corrections), corrections)


def repaired_workbook(
    path: Path, opening: ReadSettings, target: Path, *, base: float | None = None
) -> RepairResult | None:
    """Return a workbook with the right numbers in every table; None if nothing is to be changed.

    Raises
    ------
    ColumnError, TargetError
        If there is no table to repair, or the target is to be CSV.
    """
    book = audit_book(path, opening)
    if not any(table.table.rows for table in book.found):
        raise ColumnError(f"'{path}' has no table of frequencies with percents beside them; there is nothing to repair")
    if target.suffix.casefold() == ".csv":
        raise TargetError(
            f"a workbook is repaired as a workbook: end '{target}' in .xlsx, or save its sheet as .csv first"
        )
    values = {index: _corrections(table, base) for index, table in enumerate(book.found)}
    every = tuple(correction for corrections in values.values() for correction in corrections)
    if not every:
        return None
    texts = chart_parts(path).alternatives
    content = without_times(with_alternatives(repaired_book(book.book, values, book.found), texts))
    return RepairResult(content, every, _lost(path, content))


def _corrections(table: BookTable, base: float | None) -> tuple[Correction, ...]:
    """Return what is to be changed in a table of a workbook: nothing where its percents are of other columns."""
    if table.stated is not None:
        explained = check_relations(table.stated).explained
        if any(heading in explained for _, heading in table.table.headings):
            return ()
    corrections = check_and_correct(with_base(table.table, base)).corrections
    _check_repair(table.stated, corrections)
    return corrections


def _lost(path: Path, content: bytes) -> tuple[str, ...]:
    """Return what the reader of workbooks does not keep: kinds of parts that the new file lacks."""
    with zipfile.ZipFile(path) as before, zipfile.ZipFile(io.BytesIO(content)) as after:
        return tuple(sorted(_kinds(before.namelist()) - _kinds(after.namelist()) - {"xl/calcChain"}))


def _kinds(names: Sequence[str]) -> set[str]:
    """Return the kinds of parts: their folders and names without numbers."""
    labels = [name for name in names if name.startswith("xl/") and not name.endswith(".rels")]
    return {name.rpartition(".")[0].rstrip("0123456789") for name in labels} - {"xl/sharedStrings"}


def target_ending(target: Any) -> None:
    """Raise `TargetError` for a target that is neither a workbook nor CSV."""
    if Path(target).suffix.casefold().lstrip(".") not in ENDINGS:
        raise TargetError(f"cannot repair to '{target}': its name ends in .xlsx or .csv")
