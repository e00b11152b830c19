"""Where a result comes from, and what its percents are of, in words."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

from vantric.core.charts.settings import Look
from vantric.core.counts.tally import Tally
from vantric.core.numbers.number_format import one_line
from vantric.tables.localize import Fixed


def base_of(tally: Tally, look: Look) -> str:
    """Return what percents are of, in the language of a look."""
    return tally.base() if look.language == "en" else look.wording.base(tally)


def upper_first(text: str) -> str:
    """Return a sentence with a capital."""
    return f"{text[:1].upper()}{text[1:]}"


def notes_of(found: Any, more: Iterable[str] = ()) -> tuple[tuple[str, str], ...]:
    """Return (what, text) of where a tally or a table comes from."""
    origin = found.origin
    said = [
        (Fixed("Source"), one_line(origin.source)) if origin.source else None,
        (Fixed("Dates"), _days(origin.days)) if origin.days else _changed_on(origin.source),
        (Fixed("Filter"), one_line(origin.where)) if origin.where else None,
        (Fixed("Part"), one_line(origin.within)) if origin.within else None,
    ]
    kept = [pair for pair in said if pair is not None]
    left = [
        part
        for line in more
        for part in line.split("; ")
        if part
        and part not in (f"Source: {origin.source}", f"where {origin.where}", origin.within)
        and not (origin.days and part == " to ".join(dict.fromkeys(origin.days)))
    ]
    return (*kept, *((Fixed("Note"), f"{part[:1].upper()}{part[1:]}") for part in left))


def _days(days: Sequence[str]) -> Fixed:
    """Return the first and the last day."""
    first, last = days[0], days[-1]
    if first == last:
        return Fixed(first)
    return Fixed.of(
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
    except (OSError, ValueError):
        when = None
    return (
        None
        if when is None
        else (Fixed("Data"), f"file last changed on {datetime.fromtimestamp(when).date().isoformat()}")
    )
