"""Recipes: the source and the options from which a result can be made again."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Any

from vantric.core.reviewing import Finding
from vantric.errors import TargetError
from vantric.sources.options import Opening

_NOTHING = Opening()


@dataclass(frozen=True)
class Recipe:
    """How a result was made.

    Attributes
    ----------
    kind
        The kind of chart file that it can become.
    source
        The data: what was handed over; a tuple of two for a comparison; None where the chart file holds the numbers.
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
        from vantric.chartfile.spelling import section
        from vantric.chartfile.writing import chart_file_bytes

        parts = dict(self.parts)
        if self.kind not in ("series", "scales"):
            sources = self.source if isinstance(self.source, tuple) else (self.source,)
            if not all(isinstance(one, (str, Path)) for one in sources):
                raise TargetError(
                    f"cannot write the chart file '{target}': the data were in memory; make the chart from a file or "
                    "a database"
                )
            names = [str(one) for one in sources]
            parts = {"data": {"source": names if len(names) > 1 else names[0], **section(self.opening)}, **parts}
        return chart_file_bytes(self.kind, parts, target)
