"""Saving results by the ending of their path."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from vantric.errors import TargetError, nearest
from vantric.report.tablefile import TABLES
from vantric.writing import check_target, write_whole


def save_table(path: str | Path, content: Callable[[str], bytes]) -> Path:
    """Write a table whole, or raise `TargetError`."""
    target = Path(path)
    kind = ending(target, TABLES)
    check_target(target)
    write_whole(target, content(kind))
    return target


def ending(target: Path, known: Sequence[str]) -> str:
    """Return a path's ending, if it is one of those known."""
    kind = target.suffix[1:].casefold()
    if kind in known:
        return kind
    hint = nearest(kind, known) if kind else ""
    raise TargetError(f"cannot write '{target}': its ending is none of .{', .'.join(known)}{hint}")
