"""Before and after: of two parts of one source, or of two sources."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from vantric.core.counting import Comparison, compare
from vantric.errors import CountError
from vantric.sources import Counting, Opening, cross, gather
from vantric.sources.tallying.exposures import as_number, exposures_of, exposures_within


@dataclass(frozen=True)
class Sides:
    """What is before and what after.

    Attributes
    ----------
    split
        Of one source: the column that tells before from after.
    before, after
        What it holds then; or what two sources are called.
    per, per_units, per_name
        What each side was counted in: rates are compared then.
    """

    split: str | None = None
    before: str | None = None
    after: str | None = None
    per: Any = None
    per_units: float = 1
    per_name: str | None = None

    def compare(self, data: str | Sequence[str], counting: Counting, opening: Opening) -> Comparison:
        """Return the comparison of one source's parts, or of two sources.

        Raises
        ------
        VantricError
            If the sources cannot be read, or what is said of them does not fit their number.
        """
        sources = [data] if isinstance(data, str) else list(data)
        return (
            self._parts(sources[0], counting, opening) if len(sources) == 1 else self._two(sources, counting, opening)
        )

    @property
    def _units(self) -> Any:
        return as_number(self.per_units) or self.per_units

    def _parts(self, source: str, counting: Counting, opening: Opening) -> Comparison:
        split, before, after = self.split, self.before, self.after
        if split is None or before is None or after is None:
            raise CountError("one source is parted by a column: give --split, --before and --after, or two sources")
        table = cross(source, counting, opening, split=split)
        tallies = table.column(before), table.column(after)
        exposures, of = exposures_within(source, opening, self._per(), split, (before, after))
        name = self.per_name or of
        return compare(*tallies, names=(before, after), exposures=exposures, units=self._units, of=name)

    def _two(self, sources: Sequence[str], counting: Counting, opening: Opening) -> Comparison:
        if len(sources) > 2:
            raise CountError(f"before and after are two sources at most; {len(sources)} are given")
        if self.split is not None:
            raise CountError("two sources are before and after already: leave --split out")
        before, after = (gather(source, counting, opening) for source in sources)
        exposures, of = exposures_of(tuple(sources), opening, self._per())
        names, name = (self.before or "Before", self.after or "After"), self.per_name or of
        return compare(before, after, names=names, exposures=exposures, units=self._units, of=name)

    def _per(self) -> Any:
        """Return the exposures as they are read: two numbers of a list as text has them."""
        return ",".join(map(str, self.per)) if isinstance(self.per, list) else self.per
