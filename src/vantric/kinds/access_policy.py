"""What a chart file may read: what is beside it, and no more unless its reader says so."""

from __future__ import annotations

import os
from dataclasses import replace
from pathlib import Path
from typing import Any

from vantric.base.lazily import dataclass
from vantric.base.safe_text import masked
from vantric.engines.opening import is_database
from vantric.engines.source_paths import named_paths
from vantric.errors import ChartFileError, SourceError
from vantric.files.models import DataSection
from vantric.options import known_options
from vantric.reading.settings import CountSettings, FileReading, ReadingLimits, ReadSettings

_PLAIN = FileReading()


@dataclass(frozen=True)
class AccessPolicy:
    """Where a chart file is, and what its reader allows.

    Attributes
    ----------
    folder
        Sources are seen from there.
    reading
        Whether URLs and files outside the folder may be read, and what reading may take.
    source
        What is read in place of the file's own source; whoever names it has allowed it.
    resolved
        Whether sources are named as they are read already.
    """

    folder: Path
    reading: FileReading = _PLAIN
    source: str | None = None
    resolved: bool = False

    def data(self, data: DataSection) -> tuple[Any, ReadSettings]:
        """Return what is read, and how it is opened."""
        settings = {name: getattr(data, name) for name in known_options(ReadSettings)}
        limits = {name: getattr(self.reading, name) for name in known_options(ReadingLimits)}
        opening = ReadSettings(**{**settings, **limits})
        if self.source is not None:
            return self.source, opening
        if self.resolved:
            return data.source, opening
        if isinstance(data.source, tuple):
            return tuple(self.seen(text) for text in data.source), opening
        return self.seen(data.source), opening

    def counting(self, counting: CountSettings) -> CountSettings:
        """Return what is counted, a file of families as seen from the folder."""
        if isinstance(counting.families, Path):
            return replace(counting, families=Path(self.seen(str(counting.families))))
        return counting

    def seen(self, source: str) -> str:
        """Return a source as seen from the folder.

        Raises
        ------
        ChartFileError
            If it is elsewhere, and that is not allowed.
        """
        if source == "-":
            return source
        if is_database(source):
            self._check(source, "a URL", beside=False)
            return source
        path = os.path.normpath(self.folder / source)
        if not self.reading.allow_source:
            self._check(source, "a file elsewhere", beside=self._is_beside(source, path))
        return path

    def _is_beside(self, source: str, path: str) -> bool:
        if "://" in source or "\0" in source:
            return False
        home = self.folder.resolve()
        try:
            paths = named_paths(path)
            return all(item.resolve().is_relative_to(home) for item in paths)
        except (OSError, RuntimeError, UnicodeError):  # a path that cannot be followed is not beside the file
            return False
        except SourceError:  # nothing is there; reading says so, unless it looks elsewhere
            return Path(os.path.abspath(path)).is_relative_to(os.path.abspath(self.folder))  # noqa: PTH100

    def _check(self, source: str, what: str, *, beside: bool) -> None:
        if not beside and not self.reading.allow_source:
            raise ChartFileError(
                f"this file reads {what}, '{masked(source)}'; if you trust it, say --allow-source (in Python "
                "allow_source=True)"
            )
