"""Before and after: two tallies of the same categories side by side."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import chain
from typing import TYPE_CHECKING, Any, Unpack

from vantric.base.lazily import cached_property
from vantric.core.counts.measures import rated
from vantric.core.counts.ordering import RankSettings
from vantric.core.counts.pareto import pareto
from vantric.core.counts.pareto_table import ParetoTable
from vantric.core.counts.tally import Tally, base_words
from vantric.core.messages.message import Joined, Message
from vantric.core.numbers.amounts import Number
from vantric.core.numbers.number_format import counted, one_line
from vantric.core.results import Rows, TableResult
from vantric.errors import CountError

if TYPE_CHECKING:
    from vantric.core.charts import Chart
    from vantric.typing import ComparisonChartOptions

#: A comparison ranks without a cutoff.
_UNCUT = RankSettings(cut=None)


@dataclass(frozen=True, slots=True)
class Change:
    """One category before and after.

    Attributes
    ----------
    category
    before, after
        Its frequencies; rates, if exposures were given.
    before_percent, after_percent
        Each in percent of its own total.
    before_rank, after_rank
        By frequency, from 1; None where it did not occur.
    change
        In frequency, after less before.
    percent_points
        Change of its percent.
    rank_change
        Ranks that it rose (positive) or fell; None where it did not occur on one side.
    share
        Its change in percent of the change of the total; None if the total did not change.
    before_count, after_count
        The plain counts.
    """

    category: str
    before: Number
    after: Number
    before_percent: float
    after_percent: float
    before_rank: int | None
    after_rank: int | None
    change: Number
    percent_points: float
    rank_change: int | None
    share: float | None
    before_count: Number
    after_count: Number


@dataclass(frozen=True, eq=False, repr=False)
class Comparison(Rows[Change], TableResult):
    """Two tallies side by side; made by `vantric.compare` and `Crosstab.compare`.

    Attributes
    ----------
    before, after : ParetoTable
    before_name, after_name
        What the two sides are called.
    exposures : pair of numbers or None
        What the rates are per.
    """

    before: ParetoTable
    after: ParetoTable
    before_name: str = "Before"
    after_name: str = "After"
    exposures: tuple[Number, Number] | None = None

    _kind = "compare"

    def chart(self, **options: Unpack[ComparisonChartOptions]) -> Chart:
        """Return the chart: paired bars, each side in percent of its own total, with both cumulative lines."""
        chart: Chart = self._of_kind().public_chart(self, **options)
        return chart

    @cached_property
    def categories(self) -> tuple[str, ...]:
        """The categories of either side: in the order of before, then those that are new, in the order of after."""
        return tuple(dict.fromkeys(chain(self.before.categories, self.after.categories)))

    @cached_property
    def rows(self) -> tuple[Change, ...]:
        """The comparison row by row."""
        sides = [{row.category: row for row in table.rows} for table in (self.before, self.after)]
        total = _difference(self.after.total, self.before.total)
        changes = []
        for name in self.categories:
            pareto_row, other = (rows.get(name) for rows in sides)
            before, after = (row.frequency if row else 0 for row in (pareto_row, other))
            percents = [row.percent if row else 0.0 for row in (pareto_row, other)]
            ranks = [row.rank if row and row.frequency else None for row in (pareto_row, other)]
            change = _difference(after, before)
            changes.append(
                Change(
                    name,
                    before,
                    after,
                    percents[0],
                    percents[1],
                    ranks[0],
                    ranks[1],
                    change,
                    percents[1] - percents[0],
                    None if None in ranks else ranks[0] - ranks[1],  # type: ignore[operator]
                    100 * change / total if total else None,
                    pareto_row.count if pareto_row else 0,
                    other.count if other else 0,
                )
            )
        return tuple(changes)

    @property
    def unit(self) -> str:
        """What the frequencies are in."""
        return self.before.tally.unit

    @property
    def change(self) -> Number:
        """Change of the total."""
        return _difference(self.after.total, self.before.total)

    def base(self) -> Joined:
        """Return the bases of both sides in words."""
        sides = ((self.before_name, self.before.tally), (self.after_name, self.after.tally))
        return Joined([Message("side base", side=one_line(name), base=tally.base()) for name, tally in sides], "; ")

    def _key(self) -> tuple[Any, ...]:
        return self.before, self.after, self.before_name, self.after_name, self.exposures

    def __eq__(self, other: object) -> bool:
        return self._key() == other._key() if isinstance(other, Comparison) else NotImplemented

    def __hash__(self) -> int:
        return hash(self._key())

    def __len__(self) -> int:
        return len(self.categories)

    def __repr__(self) -> str:
        sides = (base_words(table.tally.records, table.origin) for table in (self.before, self.after))
        named = counted(len(self), "category", "categories")
        return f"<Comparison of {named}: {' and '.join(sides)}>"


def _difference(after: Number, before: Number) -> Number:
    """Return after less before: of decimals without the noise of binary floats."""
    if isinstance(after, int) and isinstance(before, int):
        return after - before
    difference = after - before
    return round(difference, 12) if abs(difference) < 1e3 else difference


def compare(
    before: Tally,
    after: Tally,
    *,
    names: tuple[str, str] = ("Before", "After"),
    exposures: tuple[Number, Number] | None = None,
    units: Number = 1,
    of: str = "unit",
) -> Comparison:
    """Set two tallies side by side.

    Parameters
    ----------
    before, after
        What was counted.
    names
        What the two sides are called.
    exposures
        What each was counted in, such as the pieces inspected: rates are compared then.
    units, of
        Rates are per so many of these; see `vantric.core.counts.measures.rated`.

    Raises
    ------
    CountError
        If the two are in different units.
    RankError
        If one of them has nothing to rank.
    """
    if before.unit != after.unit:
        raise CountError(f"the two sides are in different units, {before.unit} and {after.unit}: they do not compare")
    if exposures is not None:
        before = rated(before, exposures[0], units=units, of=of)
        after = rated(after, exposures[1], units=units, of=of)
    return Comparison(pareto(before, _UNCUT), pareto(after, _UNCUT), *names, exposures)
