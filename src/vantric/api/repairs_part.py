"""A sheet or workbook made elsewhere with the right numbers in place of the wrong ones."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from vantric.api.reviews import based
from vantric.audit.arithmetic import Correction, checked
from vantric.audit.books import audited
from vantric.audit.drawn_charts import chart_parts, with_alternatives
from vantric.audit.repairs import repaired_book, repaired_csv, repaired_sheet
from vantric.audit.sheet_rows import RawSheet
from vantric.errors import ColumnError, TargetError
from vantric.output.reproducible_zip import alike
from vantric.reading.settings import Opening

ENDINGS = ("xlsx", "csv")


@dataclass(frozen=True)
class Repaired:
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


def repaired(raw: RawSheet, target: Path, *, base: float | None = None) -> Repaired | None:
    """Return a sheet with the right numbers, as the ending of the target says; None if nothing is to be changed.

    Parameters
    ----------
    raw
    target
    base
        What percents are of, where that is not the sum of the counts.
    """
    found = checked(based(raw.table, base)).corrections
    if not found:
        return None
    make = repaired_csv if target.suffix.casefold() == ".csv" else repaired_sheet
    return Repaired(make(raw, found), found)


def repaired_workbook(path: Path, opening: Opening, target: Path, *, base: float | None = None) -> Repaired | None:
    """Return a workbook with the right numbers in every table; None if nothing is to be changed.

    Raises
    ------
    ColumnError, TargetError
        If there is no table to repair, or the target is to be CSV.
    """
    book = audited(path, opening)
    if not book.found:
        raise ColumnError(f"'{path}' has no table of frequencies with percents beside them; there is nothing to repair")
    if target.suffix.casefold() == ".csv":
        raise TargetError(
            f"a workbook is repaired as a workbook: end '{target}' in .xlsx, or save its sheet as .csv first"
        )
    found = {at: checked(based(table.table, base)).corrections for at, table in enumerate(book.found)}
    every = tuple(one for corrections in found.values() for one in corrections)
    if not every:
        return None
    texts = chart_parts(path).alternatives
    content = alike(with_alternatives(repaired_book(book.book, found, book.found), texts))
    return Repaired(content, every, _lost(path, content))


def _lost(path: Path, content: bytes) -> tuple[str, ...]:
    """Return what the reader of workbooks does not keep: kinds of parts that the new file lacks."""
    with zipfile.ZipFile(path) as before, zipfile.ZipFile(io.BytesIO(content)) as after:
        return tuple(sorted(_kinds(before.namelist()) - _kinds(after.namelist()) - {"xl/calcChain"}))


def _kinds(names: Sequence[str]) -> set[str]:
    """Return the kinds of parts: their folders and names without numbers."""
    kept = [name for name in names if name.startswith("xl/") and not name.endswith(".rels")]
    return {name.rpartition(".")[0].rstrip("0123456789") for name in kept} - {"xl/sharedStrings"}


def target_ending(target: Any) -> None:
    """Raise `TargetError` for a target that is neither a workbook nor CSV."""
    if Path(target).suffix.casefold().lstrip(".") not in ENDINGS:
        raise TargetError(f"cannot repair to '{target}': its name ends in .xlsx or .csv")
