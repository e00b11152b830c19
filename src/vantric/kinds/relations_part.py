"""How the series of a chart go together, in words: where it is asked for."""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress
from typing import Any

from vantric.core.charts import Chart, Series
from vantric.core.statistics import Relation, relation_of, together
from vantric.core.statistics.time_series import time_of
from vantric.errors import ChartError, VantricError, unknown


def relations_in(chart: Chart, names: Sequence[str]) -> list[str]:
    """Return how the named series go together, two by two, with what must be said with it.

    Raises
    ------
    VantricError
        If the names are not pairs, or one is not in the chart; if there are too few pairs of values.
    """
    if len(names) % 2:
        raise ChartError(f"relate takes two series, as in relate NAME,NAME; '{names[-1]}' stands alone")
    series = {one.name: one for one in chart.series}
    for name in names:
        if name not in series:
            raise unknown(ChartError, f"the chart has no series '{name}' to relate", name, series)
    pairs = [(series[one], series[other]) for one, other in zip(names[::2], names[1::2], strict=True)]
    itself = next((one.name for one, other in pairs if one is other), None)
    if itself is not None:
        raise ChartError(f"'{itself}' is related to itself; name two series")
    return [one.sentence() for one in together([_relation(chart, *pair) for pair in pairs])]


def _relation(chart: Chart, one: Series, other: Series) -> Relation:
    """Relate two series of a chart: in time where its categories are periods or dates."""
    names = (one.name, other.name)
    found = time_of(chart.categories)
    if chart.period or found is None:
        period: Any = chart.period or None
        return relation_of(one.values, other.values, names=names, in_time=bool(period), period=period)
    period, order = found
    x, y = ([series.values[at] for at in order] for series in (one, other))
    return relation_of(x, y, names=names, period=period)


def relations_of_all(chart: Chart, pairs: Sequence[tuple[Series, Series]]) -> list[str]:
    """Return how pairs of series go together, decided together; what cannot be related is passed over."""
    found = []
    for pair in pairs:
        with suppress(VantricError):
            found.append(_relation(chart, *pair))
    return [one.sentence() for one in together(found)]
