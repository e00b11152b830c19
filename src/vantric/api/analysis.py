"""One analysis from the source to the Pareto table: what the function and the command share."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any

from vantric.core.counting.cutoff import DEFAULT_CUT, check_rule, cuts_in
from vantric.core.counting.folding import REST_LABEL, check_folding
from vantric.core.counting.ordering import Order, order_name
from vantric.core.counting.tally import Tally
from vantric.errors import ColumnError
from vantric.sources import Counting, Opening, cross, gather

if TYPE_CHECKING:  # with NumPy, after the reading
    from vantric.core.counting import ParetoTable


@dataclass(frozen=True)
class Analysis:
    """How a Pareto table is made of what was counted; see `vantric.pareto`."""

    cut: object = DEFAULT_CUT
    rule: str = "reach"
    ties: str = "exclude"
    order: Order = "frequency"
    keep: int | None = None
    fold_below: float | None = None
    rest_label: str = REST_LABEL
    last: Sequence[str] = ()
    drop_zero: bool = False
    per: object = None
    per_units: float = 1
    per_name: str | None = None
    split: str | None = None
    period: str | None = None
    drill: Sequence[str] = ()

    def __post_init__(self) -> None:
        """Refuse what cannot be before anything is read."""
        cuts_in(self.cut, order_name(self.order))
        check_rule(self.rule, self.ties)
        check_folding(self.keep, self.fold_below, self.rest_label)
        if self.period and not self.split:
            raise ColumnError("a period parts a column of dates: name the column with split")
        if self.drill and (self.split or self.per is not None):
            raise ColumnError("a drill-down has no split and no rates: leave them out")
        if self.split and self.per is not None:
            raise ColumnError("rates cannot be split: leave split or per out")

    def table(self, data: Any, counting: Counting, opening: Opening) -> ParetoTable:
        """Read, count, rank, cumulate and cut off."""
        counting = replace(counting, in_order=counting.in_order or self.order == "given")
        if self.drill:
            return self._drilled(data, counting, opening)
        if self.split:
            strata = cross(data, counting, opening, split=self.split, period=self.period)
            return self.of(strata.tally(), strata=strata)
        tally = gather(data, counting, opening)
        return self.of(tally if self.per is None else self._rated(tally, data, counting, opening))

    def of(self, tally: Tally, **more: Any) -> ParetoTable:
        """Return the table of a tally."""
        from vantric.core.counting.paretomaking import pareto

        return pareto(
            tally, cut=self.cut, rule=self.rule, ties=self.ties, order=self.order, keep=self.keep,
            fold_below=self.fold_below, rest_label=self.rest_label, last=self.last, drop_zero=self.drop_zero, **more,
        )  # fmt: skip

    def _rated(self, tally: Tally, data: Any, counting: Counting, opening: Opening) -> Tally:
        from vantric.core.counting.rates import rated
        from vantric.sources.tallying.exposures import exposure_of

        exposure, name = exposure_of(data, replace(counting, by=counting.by or tally.origin.by), opening, self.per)
        return rated(tally, exposure, units=self.per_units, of=self.per_name or name)

    def _drilled(self, data: Any, counting: Counting, opening: Opening) -> ParetoTable:
        from vantric.sources.tallying.drilling import drill_levels

        levels = drill_levels(data, (self.drill,) if isinstance(self.drill, str) else self.drill, counting, opening)
        below = replace(self, order="frequency" if not isinstance(self.order, str) else self.order, last=())

        def at(path: tuple[str, ...]) -> ParetoTable:
            wish = self if not path else replace(below, keep=None, fold_below=None)
            table = wish.of(levels.tally_at(path))
            if len(path) + 1 == len(levels.columns):
                return table
            vital = table.cutoff.categories if table.cutoff else table.categories
            inner = [(name, (*path, name)) for name in vital]
            return replace(
                table, within=tuple((name, at(deeper)) for name, deeper in inner if levels.tally_at(deeper).categories)
            )

        return at(())
