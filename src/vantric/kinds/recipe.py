"""Recipes, the source and options from which a result can be made again, and notes on where it comes from."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import field, replace
from pathlib import Path
from typing import Any

from vantric.base.lazily import dataclass
from vantric.core.counts.provenance import Provenance
from vantric.core.messages.message import Capital, Day, Joined, Message
from vantric.core.numbers.number_format import one_line
from vantric.core.review import Finding
from vantric.errors import TargetError
from vantric.reading.settings import ReadSettings


def notes_of(result: Any, more: Iterable[str] = ()) -> tuple[tuple[str, str], ...]:
    """Return (what, text) of where a tally or a table comes from."""
    origin = result.origin
    pairs = [
        (Message("source label"), one_line(origin.source)) if origin.source else None,
        (Message("dates"), origin.days_text()) if origin.days else _changed_on(origin.source),
        (Message("filter"), one_line(origin.where)) if origin.where else None,
        (Message("part"), one_line(origin.within)) if origin.within else None,
    ]
    shown = [pair for pair in pairs if pair is not None]
    stated = {*Provenance(origin.source, where=origin.where, within=origin.within, days=origin.days).note().parts}
    left = [part for line in more for part in _parts(line) if part not in stated]
    return (*shown, *((Message("note label"), Capital(part)) for part in left))


def _parts(text: str) -> list[str]:
    return [inner for part in text.parts for inner in _parts(part)] if isinstance(text, Joined) else [text]


def _changed_on(source: str | None) -> tuple[str, str] | None:
    """Return when a file was last changed, which is the date of its data where nothing else says it."""
    from datetime import datetime
    from pathlib import Path

    try:
        when = Path(source).stat().st_mtime if source and Path(source).is_file() else None
    except (OSError, ValueError):  # the file is gone since
        when = None
    return (
        None
        if when is None
        else (Message("data"), Message("file changed", day=Day(datetime.fromtimestamp(when).date().isoformat())))
    )


_NOTHING = ReadSettings()


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
    opening: ReadSettings = _NOTHING
    parts: Mapping[str, Any] = field(default_factory=dict)
    notes: tuple[Finding, ...] = ()
    library: str = ""

    @classmethod
    def of(cls, kind: str, data: Any, opening: ReadSettings, parts: Mapping[str, Any]) -> Recipe:
        """Return how a result was made of data, without the data."""
        first = data[0] if isinstance(data, tuple) and data else data
        return cls(kind, _named(data), opening, parts, library=type(first).__module__.partition(".")[0])

    def with_parts(self, **parts: Any) -> Recipe:
        """Return the recipe with more options: those of the chart."""
        return replace(self, parts={**self.parts, **parts})

    @property
    def is_in_memory(self) -> bool:
        """Whether the data were in memory, so that no file can name them."""
        sources = self.source if isinstance(self.source, tuple) else (self.source,)
        return self.kind not in ("series", "scales") and None in sources

    def file(self, target: Path) -> bytes:
        """Return the chart file.

        Raises
        ------
        TargetError
            If the data were in memory, so that no file can name them.
        """
        from vantric.files.chart_files import chart_file_bytes
        from vantric.files.models import section

        parts = dict(self.parts)
        if self.is_in_memory:
            raise TargetError(
                f"cannot write the chart file '{target}': the data were in memory; make the chart from a file or a "
                "database"
            )
        if self.kind not in ("series", "scales"):
            names = [str(name) for name in (self.source if isinstance(self.source, tuple) else (self.source,))]
            parts = {"data": {"source": names if len(names) > 1 else names[0], **section(self.opening)}, **parts}
        return chart_file_bytes(self.kind, parts, target)


def _named(data: Any) -> Any:
    """Return the names of data: None for those in memory, so that no result holds its caller's frame."""
    if isinstance(data, tuple):
        return tuple(_named(item) for item in data)
    return data if isinstance(data, (str, Path)) else None
