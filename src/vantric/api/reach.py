"""What a chart file may read: what lies beside it, and no more unless its reader says so."""

from __future__ import annotations

import os
from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from vantric.chartfile import sections
from vantric.errors import ChartFileError, SourceError
from vantric.masking import masked
from vantric.sources import Counting, Opening
from vantric.sources.engines.opening import is_database
from vantric.sources.naming import named_paths


@dataclass(frozen=True)
class Reach:
    """Where a chart file lies, and what its reader allows.

    Attributes
    ----------
    folder
        Sources are seen from there.
    source
        What is read in place of the file's own source; whoever names it has allowed it.
    allow_source
        Whether URLs and files outside the folder may be read.
    limits
        What reading may take: see `Opening`.
    """

    folder: Path
    source: str | None = None
    allow_source: bool = False
    limits: Mapping[str, Any] = field(default_factory=dict)

    def data(self, data: sections.Data) -> tuple[Any, Opening]:
        """Return what is read, and how it is opened."""
        said = data.said()
        named = said.pop("source")
        opening = Opening(**said, **self.limits)
        if self.source is not None:
            return self.source, opening
        if isinstance(named, list):
            return [self.seen(one) for one in named], opening
        return self.seen(named), opening

    def counting(self, said: sections.Counting) -> Counting:
        """Return what is counted, a file of families as seen from the folder."""
        options = said.said()
        if "by_columns" in options:
            options["by_columns"] = tuple(options["by_columns"])
        if isinstance(options.get("families"), str):
            options["families"] = Path(self.seen(options["families"]))
        return Counting(**options)

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
        if not self.allow_source:
            self._check(source, "a file elsewhere", beside=self._is_beside(source, path))
        return path

    def _is_beside(self, source: str, path: str) -> bool:
        if "://" in source or "\0" in source:
            return False
        home = self.folder.resolve()
        try:
            found = named_paths(path)
            return all(one.resolve().is_relative_to(home) for one in found)
        except (OSError, RuntimeError, UnicodeError):
            return False
        except SourceError:  # nothing is there; reading says so, unless it looks elsewhere
            return Path(os.path.abspath(path)).is_relative_to(os.path.abspath(self.folder))  # noqa: PTH100

    def _check(self, source: str, what: str, *, beside: bool) -> None:
        if not beside and not self.allow_source:
            raise ChartFileError(
                f"this file reads {what}, '{masked(source)}'; if you trust it, say --allow-source (in Python "
                "allow_source=True)"
            )
