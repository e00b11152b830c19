"""Before and after: of two parts of one source, or of two sources."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from vantric.core.counts import Comparison, compare
from vantric.counting.count_records import cross, gather
from vantric.counting.exposures import exposures_of, exposures_within
from vantric.engines.materialize import adopted
from vantric.errors import CountError
from vantric.reading.settings import Counting, Opening, Sides


def set_beside(sources: Sequence[Any], sides: Sides, counting: Counting, opening: Opening) -> Comparison:
    """Return the comparison of one source's parts, or of two sources.

    Raises
    ------
    VantricError
        If the sources cannot be read, or the options do not fit their number.
    """
    if len(sources) > 2:
        raise CountError(f"before and after are two sources at most; {len(sources)} are given")
    found = _parts if len(sources) == 1 else _two
    return found([adopted(one) for one in sources], sides, counting, opening)


def _parts(sources: Sequence[Any], sides: Sides, counting: Counting, opening: Opening) -> Comparison:
    split, before, after = sides.split, sides.before, sides.after
    if split is None or before is None or after is None:
        raise CountError("one source is divided by a column: give --split, --before and --after, or two sources")
    if sides.period and sides.per is not None:
        raise CountError("rates of two periods need their exposures as numbers of two sources: leave period or per out")
    table = cross(sources[0], counting, opening, split=split, period=sides.period)
    first, second = table.column(before), table.column(after)
    exposures, of, said = exposures_within(sources[0], opening, sides.per, split, (before, after))
    tallies = replace(first, origin=replace(first.origin, remarks=(*first.origin.remarks, *said))), second
    name = sides.per_name or of
    return compare(*tallies, names=(before, after), exposures=exposures, units=sides.per_units, of=name)


def _two(sources: Sequence[Any], sides: Sides, counting: Counting, opening: Opening) -> Comparison:
    if sides.period is not None:
        raise CountError("a period divides a column of one source: leave it out, or give one source and split")
    if sides.split is not None:
        raise CountError("two sources are before and after already: leave --split out")
    before, after = (gather(source, counting, opening) for source in sources)
    exposures, of = exposures_of(tuple(sources), opening, sides.per)
    names, name = (sides.before or "Before", sides.after or "After"), sides.per_name or of
    return compare(before, after, names=names, exposures=exposures, units=sides.per_units, of=name)
