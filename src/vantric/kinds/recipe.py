"""Recipes: the source and the options from which a result can be made again."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Any

from vantric.core.review import Finding
from vantric.errors import TargetError
from vantric.reading.settings import Opening

_NOTHING = Opening()


@dataclass(frozen=True)
class Recipe:
    """How a result was made.

    Attributes
    ----------
    kind
        The kind of chart file that it can become.
    source
        The name of the data: a file or a URL, or two of them for a comparison; None where they were in memory, or
        where the chart file holds the numbers.
    library
        The library of frames that the data came in; empty for other data.
    opening
        How the source was opened.
    parts
        Section of a chart file -> its options.
    notes
        What the review has to say of how it was read.
    """

    kind: str
    source: Any = None
    opening: Opening = _NOTHING
    parts: Mapping[str, Any] = field(default_factory=dict)
    notes: tuple[Finding, ...] = ()
    library: str = ""

    @classmethod
    def of(cls, kind: str, data: Any, opening: Opening, parts: Mapping[str, Any]) -> Recipe:
        """Return how a result was made of data, without the data."""
        first = data[0] if isinstance(data, tuple) and data else data
        return cls(kind, _named(data), opening, parts, library=type(first).__module__.partition(".")[0])

    def with_parts(self, **parts: Any) -> Recipe:
        """Return the recipe with more options: those of the chart."""
        return replace(self, parts={**self.parts, **parts})

    def file(self, target: Path) -> bytes:
        """Return the chart file.

        Raises
        ------
        TargetError
            If the data were in memory, so that no file can name them.
        """
        from vantric.files.spelling_part import section
        from vantric.files.writing import chart_file_bytes

        parts = dict(self.parts)
        if self.kind not in ("series", "scales"):
            sources = self.source if isinstance(self.source, tuple) else (self.source,)
            if None in sources:
                raise TargetError(
                    f"cannot write the chart file '{target}': the data were in memory; make the chart from a file or "
                    "a database"
                )
            names = [str(one) for one in sources]
            parts = {"data": {"source": names if len(names) > 1 else names[0], **section(self.opening)}, **parts}
        return chart_file_bytes(self.kind, parts, target)


def _named(data: Any) -> Any:
    """Return the names of data: None for those in memory, so that no result holds its caller's frame."""
    if isinstance(data, tuple):
        return tuple(_named(one) for one in data)
    return data if isinstance(data, (str, Path)) else None
