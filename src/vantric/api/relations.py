"""How the series of a chart go together, in words: where it is asked for."""

from __future__ import annotations

from collections.abc import Sequence

from vantric.core.charting import Chart
from vantric.core.inference import relation_of
from vantric.errors import ChartError, unknown


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
    return [
        relation_of(one.values, other.values, names=(one.name, other.name), in_time=bool(chart.period)).sentence()
        for one, other in pairs
    ]
