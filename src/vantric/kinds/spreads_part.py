"""The intervals of a table's chart: of the table, or of every panel."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from vantric.core.composition import Spreads
from vantric.core.counts import Crosstab, Missing, ParetoTable, Tally
from vantric.core.counts.options_part import Ranking
from vantric.core.counts.tally import Moments, Spread, single
from vantric.core.numbers.amounts import Amounts

if TYPE_CHECKING:
    from vantric.core.charts.settings import ParetoLook
    from vantric.core.statistics import Certainty


@dataclass(frozen=True)
class Known:
    """The intervals of each panel, and what there is to say of them.

    Attributes
    ----------
    panels
        One a panel; one where there are no panels.
    sentence
    note
        For the small line under the picture.
    """

    panels: tuple[Spreads, ...]
    sentence: str
    note: str


def spreads_of(table: ParetoTable, look: ParetoLook) -> Known:
    """Return the intervals of a table, of its strata where these are panels, or of the tables of a drill-down."""
    from vantric.core.statistics import certainty_of  # needed here only

    if look.panels and table.strata is not None:
        from vantric.core.counts.paretomaking_part import pareto

        parts = [part for at in range(len(table.strata.columns)) if (part := _stratum(table, table.strata, at)).total]
        known = {part.origin.within: certainty_of(pareto(part, Ranking(cut=None))) for part in parts}
        shown = [
            Spreads({row.category: (row.low, row.high) for row in known[label].rows} if label in known else {})
            for label in table.strata.columns
        ]
        return Known(tuple(shown), "", f"{_note(next(iter(known.values())))}, within each panel")
    tables = [table, *_inner(table)]
    sure = [certainty_of(one) for one in tables]
    more = ", within each panel" if len(tables) > 1 else ""
    spreads = tuple(spreads_from(one, known) for one, known in zip(tables, sure, strict=True))
    return Known(spreads, sure[0].sentence(), _note(sure[0]) + more)


def _stratum(table: ParetoTable, strata: Crosstab, at: int) -> Tally:
    """Return one stratum as a tally of the table's rows, the folded ones together."""
    label = strata.columns[at]
    frequency = Amounts.of([row[at] for row in table.strata_rows()])
    spread = None
    if strata.spreads:
        own = strata.spreads[at]
        moments = {name: own.of(name) for name in table.categories}
        if table.rest is not None:
            held = single({name: own.of(name) for name in table.rest.categories})
            moments[table.rest_label] = Moments(held.records, held.whole, held.whole)
        spread = Spread(moments, own.records, own.whole)
    origin = replace(table.origin, within=label)
    return Tally(table.categories, frequency, Missing(), origin, spread=spread)


def _inner(table: ParetoTable) -> Iterator[ParetoTable]:
    for _, one in table.within:
        yield one
        yield from _inner(one)


def spreads_from(table: ParetoTable, sure: Certainty) -> Spreads:
    """Return the intervals in what the bars show."""
    unit = 1.0 if sure.measure == "rate" else float(table.total) / 100
    ends = {row.category: (unit * row.low, unit * row.high) for row in sure.rows}
    if sure.rest is not None:
        ends[table.rest_label] = (unit * sure.rest[0], unit * sure.rest[1])
    elif len(table.folded):
        ends[table.rest_label] = (float(table.rows[-1].frequency),) * 2
    band = [
        (unit * row.even_low, unit * row.even_high)
        for row in sure.rows
        if row.even_low is not None and row.even_high is not None
    ]
    return Spreads(ends, tuple(band) if len(band) == len(sure.rows) else ())


def _note(sure: Certainty) -> str:
    if sure.measure == "rate":
        return f"{100 * sure.level:g} % intervals of all rates at once (Garwood 1936)"
    return f"{100 * sure.level:g} % intervals of all shares at once (Clopper and Pearson 1934)"
