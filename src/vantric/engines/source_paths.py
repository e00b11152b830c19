"""The files that a source names: one, or those of a pattern."""

from __future__ import annotations

import glob
import os
from collections.abc import Iterable, Iterator
from fnmatch import fnmatchcase
from pathlib import Path

from vantric.base.safe_files import reason_of
from vantric.base.safe_text import masked
from vantric.errors import SourceError, TargetError

_MOST_SEEN = 200_000  # names that a pattern looks through


def named_paths(source: str) -> list[Path]:
    """Return the files that a source names, in order.

    Parameters
    ----------
    source
        A path, or a pattern of paths: ``*``, ``?`` and ``[...]`` within a name, ``**`` for folders in folders. Hidden
        files and links to folders are not looked into.

    Raises
    ------
    SourceError
        If a pattern matches nothing, or must look through too much.
    """
    path = Path(source)
    try:
        if not glob.has_magic(source) or path.exists():
            return [path]
        paths = _matching(source)
    except (OSError, ValueError, RuntimeError) as error:
        raise SourceError(f"cannot read '{masked(source)}': {reason_of(error)}") from None
    if not paths:
        raise SourceError(f"no file matches '{masked(source)}'")
    return paths


def check_no_input(target: Path, sources: Iterable[str]) -> None:
    """Raise `TargetError` if a target is one of the files that sources name; a URL or standard input names none."""
    for source in sources:
        if "://" in source or source == "-":
            continue
        try:
            if target.exists() and any(path.is_file() and target.samefile(path) for path in named_paths(source)):
                raise TargetError(f"'{target}' is the source itself; write to another file")
        except (SourceError, OSError, ValueError, RuntimeError):  # a name that does not exist: reading says so
            continue


def _matching(pattern: str) -> list[Path]:
    if "**" not in Path(pattern).parts:
        names = glob.glob(pattern)  # noqa: PTH207 (a pattern may be absolute)
        return [Path(name) for name in sorted(names) if Path(name).is_file()]
    anchor = Path(pattern).anchor
    matches = set(_below(anchor, list(Path(pattern).relative_to(anchor).parts), _Budget(pattern)))
    return [Path(name) for name in sorted(matches) if Path(name).is_file()]


class _Budget:
    """How many names are still looked through."""

    def __init__(self, pattern: str) -> None:
        self._left, self._pattern = _MOST_SEEN, pattern

    def entries(self, folder: str) -> list[os.DirEntry[str]]:
        """Return what a folder holds; nothing where it cannot be read."""
        try:
            with os.scandir(folder or ".") as listing:
                entries = [entry for entry in listing if not entry.name.startswith(".")]
        except OSError:  # a folder that may not be read holds nothing for us
            return []
        self._left -= len(entries)
        if self._left < 0:
            raise SourceError(
                f"'{masked(self._pattern)}' looks through more than {_MOST_SEEN:,} files; begin it with a folder"
            )
        return entries


def _below(folder: str, parts: list[str], budget: _Budget) -> Iterator[str]:
    """Yield the paths below a folder that match what is left of a pattern."""
    head, rest = parts[0], parts[1:]
    if head == "**":
        yield from _at_any_depth(folder, parts, budget)
        return
    if not glob.has_magic(head):
        path = os.path.join(folder, head)  # noqa: PTH118
        if rest:
            yield from _below(path, rest, budget)
        elif Path(path).exists():
            yield path
        return
    for entry in budget.entries(folder):
        if fnmatchcase(entry.name, head):
            path = os.path.join(folder, entry.name)  # noqa: PTH118
            if not rest:
                yield path
            elif entry.is_dir(follow_symlinks=False):
                yield from _below(path, rest, budget)


def _at_any_depth(folder: str, parts: list[str], budget: _Budget) -> Iterator[str]:
    """Yield the paths that match what follows ``**``, in this folder and in all below it."""
    rest = parts[1:]
    if rest:
        yield from _below(folder, rest, budget)
    for entry in budget.entries(folder):
        if entry.is_dir(follow_symlinks=False):
            yield from _below(os.path.join(folder, entry.name), parts, budget)  # noqa: PTH118
        elif not rest:
            yield os.path.join(folder, entry.name)  # noqa: PTH118
