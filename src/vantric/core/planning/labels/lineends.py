"""Names at the ends of lines, in place of a legend."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from vantric.core.charting.chart import Chart
from vantric.core.charting.series import Series
from vantric.core.numbers.shown import readable
from vantric.core.planning.frame.field import Field, rule
from vantric.core.planning.frame.legend import END_LEAD, at_end
from vantric.core.planning.lettering import Pen, Sizes, line_height, middle_drop
from vantric.core.planning.measure import fitted
from vantric.core.planning.plan import PathMark, TextMark, point_role


@dataclass(frozen=True)
class LineEnds:
    """Placed names, the lines that lead to those that had to move, and the names for which there is no room."""

    texts: tuple[TextMark, ...]
    leaders: tuple[PathMark, ...]
    left_out: tuple[str, ...] = ()


def line_ends(chart: Chart, field: Field, sizes: Sizes, pen: Pen) -> LineEnds:
    """Set the name of each line behind its last point; names that would touch are moved apart."""
    named = [one for one in chart.marked if at_end(one)] if chart.legend == "ends" else []
    if not named:
        return LineEnds((), ())
    size, frame = sizes.label, field.frame
    most = max(1, int(frame.height / line_height(size)))
    named, left_out = named[:most], tuple(one.name for one in named[most:])
    last = [float(field.up(chart.scale_of(one).fraction(_last(one)))) for one in named]
    order = sorted(range(len(named)), key=lambda at: last[at])
    half = line_height(size) / 2
    heights = spread([last[at] for at in order], 2 * half, frame.bottom + half, frame.top - half)
    texts, leaders = [], []
    x = frame.right - field.after + sizes.px(END_LEAD)
    for at, y in zip(order, heights, strict=True):
        one = named[at]
        name = fitted(readable(one.name), size, True, frame.right - x - sizes.px(4), pen.measure)
        role = point_role(one.role, "-value")
        texts.append(pen.line(name, x, y - middle_drop(size), size, role, bold=True))
        if abs(y - last[at]) > half / 2:
            start = float(field.along(_last_place(one) + (1.0 if one.kind == "steps" else 0.5)))
            leaders.append(rule(start + sizes.px(6), last[at], x - sizes.px(3), y, "leader"))
    return LineEnds(tuple(texts), tuple(leaders), left_out)


def _last_place(series: Series) -> int:
    return max(place for place, value in enumerate(series.values) if value == value)


def _last(series: Series) -> float:
    return series.values[_last_place(series)]


def spread(wished: Sequence[float], apart: float, low: float, high: float) -> list[float]:
    """Move ascending places as little as can be until they are `apart`, within `low` and `high` where they fit.

    The sum of the squared moves is least: pools of adjacent violators, R. E. Barlow et al., "Statistical Inference
    under Order Restrictions", 1972.
    """
    pools: list[tuple[float, int]] = []  # mean of the shifted options, and how many
    for number, place in enumerate(wished):
        mean, count = place - number * apart, 1
        while pools and pools[-1][0] > mean:
            before, held = pools.pop()
            mean, count = (before * held + mean * count) / (held + count), held + count
        pools.append((mean, count))
    found = np.repeat([mean for mean, _ in pools], [count for _, count in pools])
    room = max(high - (len(wished) - 1) * apart, low)
    return list((np.clip(found, low, room) + apart * np.arange(len(wished))).tolist())
