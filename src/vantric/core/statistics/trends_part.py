"""Whether frequencies or rates change over the periods, category by category, with the chart of each."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from vantric.core.counts.options_part import Measured
from vantric.core.numbers.number_format import counted, number_text
from vantric.core.statistics.controlchart_part import control_chart
from vantric.core.statistics.sample import sample_of
from vantric.core.statistics.trend_tests import slope_of
from vantric.core.statistics.trends import CategoryTrend, Trend
from vantric.errors import RankError

if TYPE_CHECKING:
    from vantric.core.counts.crosstab import Crosstab

Floats = NDArray[np.float64]
_FEWEST = 4


def trends_of(
    table: Crosstab,
    categories: Sequence[str],
    *,
    measure: Measured = "frequency",
    exposures: Sequence[float] | None = None,
    units: float = 1.0,
    of: str = "",
    start: int = 1,
) -> Trend:
    """Work out the trend of categories over the periods of a two-way table.

    Parameters
    ----------
    table
        Its columns are calendar periods, in order.
    categories
        Which ones.
    measure
        What is charted: the frequency, the rate per exposure, or the percent of the records of each period.
    exposures
        What each period was counted in; for rates.
    units, of
        Rates are per so many, of what.
    start
        What the random tables begin with.

    Raises
    ------
    RankError
        If nothing can be said: amounts that came added up, an exposure that is not above zero where something was
        counted.

    Notes
    -----
    The trend: the score test of a log-linear Poisson trend given the total, with the exposures (`slope_of`), for all
    categories by Y. Benjamini and Y. Hochberg (JRSS B 57, 1995). The chart: `control_chart`. Records that stand for
    several occurrences: counts divided by the sum of squares over the sum.
    """
    tally = table.tally()
    sample = sample_of(tally)
    design = dict(zip(tally.categories, sample.design.tolist(), strict=True))
    places = {name: place for place, name in enumerate(table.categories)}
    basis = _divisors(table, measure, exposures)
    whole = np.array([label not in table.partial or measure != "frequency" for label in table.columns])
    whole &= basis > 0
    rows = []
    for name in categories:
        counts = np.array([float(value) for value in table.sum_of([places[name]])])
        chart = control_chart(
            counts, basis, whole, scale=_scale(measure, units), percent=measure == "percent", design=design[name]
        )
        slope = slope_of(
            counts / design[name],
            basis / (design[name] if measure == "percent" else 1.0),
            whole,
            percent=measure == "percent",
            start=start,
        )
        rows.append(CategoryTrend(name, tuple(counts.tolist()), chart, slope))
    unit = _unit(tally.origin.amount_unit, measure, units, of)
    number = int(whole.sum())
    few = f"{counted(number, f'whole {table.period}')} {'is' if number == 1 else 'are'} too few: four are needed"
    return Trend(
        table.origin.by or "",
        table.split,
        table.period,
        table.columns,
        table.partial,
        measure,
        unit,
        tuple(basis.tolist()) if measure == "rate" else None,
        tuple(adjusted(rows)),
        sample.words(tally.origin.amount_unit),
        tally,
        "" if number >= _FEWEST else few,
    )


def _divisors(table: Crosstab, measure: Measured, exposures: Sequence[float] | None) -> Floats:
    """Return what each period's count is divided by."""
    if measure == "percent":
        return table.column_totals.floats()
    if measure == "frequency":
        return np.ones(len(table.columns))
    if exposures is None:
        raise RankError("rates need what each period was counted in: give per")
    found = np.array(exposures, dtype=np.float64)
    some = table.column_totals.floats() > 0
    wrong = [label for label, bad in zip(table.columns, some & ~(found > 0), strict=True) if bad]
    if wrong or not np.isfinite(found).all():
        where = f" in {wrong[0]}" if wrong else ""
        raise RankError(f"the exposure{where} is not a number above zero, though something was counted")
    return found


def _scale(measure: Measured, units: float) -> float:
    return 100.0 if measure == "percent" else units if measure == "rate" else 1.0


def _unit(unit: str, measure: Measured, units: float, of: str) -> str:
    if measure == "percent":
        return "%"
    return f"{unit} per {number_text(units)} {of}".replace("per 1 ", "per ") if measure == "rate" else unit


def adjusted(rows: Sequence[CategoryTrend]) -> list[CategoryTrend]:
    """Return rows with their p-values adjusted for having been looked at together (Benjamini and Hochberg 1995)."""
    tested = sorted(((row.slope.p, at) for at, row in enumerate(rows) if row.slope is not None), reverse=True)
    found, least = list(rows), 1.0
    for place, (p, at) in enumerate(tested):
        least = min(least, p * len(tested) / (len(tested) - place))
        found[at] = replace(rows[at], p_adjusted=least)
    return found
