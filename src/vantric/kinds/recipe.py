"""Recipes, the source and options from which a result can be made again, and notes on where it comes from."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Any

from vantric.core.charts.settings import ChartSettings
from vantric.core.counts.tally import Tally
from vantric.core.numbers.number_format import one_line
from vantric.core.review import Finding
from vantric.errors import TargetError
from vantric.reading.settings import ReadSettings
from vantric.tables.localize import FixedText


def base_of(tally: Tally, look: ChartSettings) -> str:
    """Return what percents are of, in the language of a look."""
    return tally.base() if look.language == "en" else look.wording.base(tally)


def upper_first(text: str) -> str:
    """Return a sentence with a capital."""
    return f"{text[:1].upper()}{text[1:]}"


def notes_of(result: Any, more: Iterable[str] = ()) -> tuple[tuple[str, str], ...]:
    """Return (what, text) of where a tally or a table comes from."""
    origin = result.origin
    pairs = [
        (FixedText("Source"), one_line(origin.source)) if origin.source else None,
        (FixedText("Dates"), _days(origin.days)) if origin.days else _changed_on(origin.source),
        (FixedText("Filter"), one_line(origin.where)) if origin.where else None,
        (FixedText("Part"), one_line(origin.within)) if origin.within else None,
    ]
    shown = [pair for pair in pairs if pair is not None]
    left = [
        part
        for line in more
        for part in line.split("; ")
        if part
        and part not in (f"Source: {origin.source}", f"where {origin.where}", origin.within)
        and not (origin.days and part == " to ".join(dict.fromkeys(origin.days)))
    ]
    return (*shown, *((FixedText("Note"), f"{part[:1].upper()}{part[1:]}") for part in left))


def _days(days: Sequence[str]) -> FixedText:
    """Return the first and the last day."""
    first, last = days[0], days[-1]
    if first == last:
        return FixedText(first)
    return FixedText.of(
        f"{first} to {last}",
        lambda local: local.tongue.chart["days"].format_map(
            {"first": local.tongue.day(first), "last": local.tongue.day(last)}
        ),
    )


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
        else (FixedText("Data"), f"file last changed on {datetime.fromtimestamp(when).date().isoformat()}")
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

    def file(self, target: Path) -> bytes:
        """Return the chart file.

        Raises
        ------
        TargetError
            If the data were in memory, so that no file can name them.
        """
        from vantric.files.models import section
        from vantric.files.writing import chart_file_bytes

        parts = dict(self.parts)
        if self.kind not in ("series", "scales"):
            sources = self.source if isinstance(self.source, tuple) else (self.source,)
            if None in sources:
                raise TargetError(
                    f"cannot write the chart file '{target}': the data were in memory; make the chart from a file or "
                    "a database"
                )
            names = [str(source) for source in sources]
            parts = {"data": {"source": names if len(names) > 1 else names[0], **section(self.opening)}, **parts}
        return chart_file_bytes(self.kind, parts, target)


def _named(data: Any) -> Any:
    """Return the names of data: None for those in memory, so that no result holds its caller's frame."""
    if isinstance(data, tuple):
        return tuple(_named(item) for item in data)
    return data if isinstance(data, (str, Path)) else None
