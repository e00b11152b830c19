"""Saving results by the ending of their path."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from vantric.api.handing.files import contents_of, contents_of_section
from vantric.errors import TargetError, nearest
from vantric.sources.naming import check_no_input
from vantric.writing import TABLES, check_target, ending_of, write_whole

if TYPE_CHECKING:
    from vantric.reports.documents import Document
    from vantric.reports.sections import Section


def save_table(path: str | Path, document: Callable[[], Document], sources: Iterable[str]) -> Path:
    """Write a table whole; raise `TargetError` if that cannot be, or would replace a source of it."""
    target = Path(path)
    kind = ending(target, TABLES)
    check_target(target)
    read = list(sources)
    check_no_input(target, read)
    for path, content in contents_of(target, kind, document(), sources=read):
        write_whole(path, content)
    return target


def save_section(
    target: Path, kind: str, section: Section, sources: Iterable[str], *, slide_tables: bool = False
) -> Path:
    """Write what is handed over of a chart; raise `TargetError` as `save_table` does."""
    read = list(sources)
    check_no_input(target, read)
    for path, content in contents_of_section(target, kind, section, read, slide_tables=slide_tables):
        write_whole(path, content)
    return target


def ending(target: Path, known: Sequence[str]) -> str:
    """Return a path's ending, or raise `TargetError` if it is not one of those known."""
    kind = ending_of(target)
    if kind in known:
        return kind
    hint = nearest(kind, known) if kind else ""
    message = f"cannot write '{target}': its ending is not one of .{', .'.join(known)}{hint}"
    raise TargetError(message, value=str(target), known=known, hint=hint.removeprefix("; "))
