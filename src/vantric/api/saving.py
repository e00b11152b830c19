"""Saving results by the ending of their path."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from vantric.core.counting.tally import Origin
from vantric.errors import TargetError, nearest
from vantric.report.tablefile import TABLES
from vantric.sources.naming import check_no_input
from vantric.writing import check_target, write_whole


def save_table(path: str | Path, content: Callable[[str], bytes], *origins: Origin) -> Path:
    """Write a table whole; raise `TargetError` if that cannot be, or would replace a source of it."""
    target = Path(path)
    kind = ending(target, TABLES)
    check_target(target)
    check_no_input(target, [one.source for one in origins if one.source])
    write_whole(target, content(kind))
    return target


def ending(target: Path, known: Sequence[str]) -> str:
    """Return a path's ending, if it is one of those known."""
    kind = target.suffix[1:].casefold()
    if kind in known:
        return kind
    hint = nearest(kind, known) if kind else ""
    raise TargetError(f"cannot write '{target}': its ending is none of .{', .'.join(known)}{hint}")
