"""Saving results by the ending of their path."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from vantric.base.safe_files import check_target, ending_of, write_whole
from vantric.engines.source_paths import check_no_input
from vantric.errors import TargetError, nearest

if TYPE_CHECKING:
    from vantric.output.writers import Content


def save_content(
    path: str | Path, content: Callable[[], Content], sources: Iterable[str], endings: Sequence[str] = ()
) -> Path:
    """Write a result whole; raise `TargetError` if that cannot be, or would replace a source of it."""
    from vantric.output.beside_part import contents_of
    from vantric.output.writers import WRITERS

    target, read = Path(path), list(sources)
    kind = ending(target, endings or tuple(WRITERS))
    check_target(target)
    check_no_input(target, read)
    for place, written in contents_of(target, kind, content(), sources=read):
        write_whole(place, written)
    return target


def ending(target: Path, known: Sequence[str]) -> str:
    """Return a path's ending, or raise `TargetError` if it is not one of those known."""
    kind = ending_of(target)
    if kind in known:
        return kind
    hint = nearest(kind, known) if kind else ""
    message = f"cannot write '{target}': its ending is not one of .{', .'.join(known)}{hint}"
    raise TargetError(message, value=str(target), known=known, hint=hint.removeprefix("; "))
