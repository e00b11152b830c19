"""Small multiples: charts of one kind side by side, under one head."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from vantric.core.charting.panels import PanelChart
from vantric.core.planning.frame.furniture import head, note_line
from vantric.core.planning.frame.legend import Legend, legend
from vantric.core.planning.lettering import Pen, Sizes
from vantric.core.planning.measure import Measure, table_measure
from vantric.core.planning.plan import Box, Plan, TextMark
from vantric.core.planning.planner import make_plan

_ASPECT = 1.7
_LETTERS, _SMALL_LETTERS = 0.74, 0.66  # of the picture's own


@dataclass(frozen=True, eq=False)
class PanelPlan:
    """Several plans in one picture.

    Attributes
    ----------
    size
        Width and height of the picture.
    panels : tuple of (Box, Plan)
        Where each plan is.
    texts, legend
        What is above and below them all.
    title, description
        The text alternative.
    """

    size: tuple[float, float]
    panels: tuple[tuple[Box, Plan], ...]
    texts: tuple[TextMark, ...]
    legend: Legend
    title: str
    description: str


def make_panel_plan(
    chart: PanelChart, size: tuple[float, float] | None = None, measure: Measure = table_measure
) -> PanelPlan:
    """Resolve every position of small multiples; see `make_plan`."""
    size = chart.size if size is None else size
    width, height = size
    sizes, pen = Sizes.of(*size), Pen(measure)
    margin = sizes.px(24)
    above = replace(
        chart.panels[0],
        title=chart.title,
        subtitle=chart.subtitle,
        note=chart.note,
        legend="above",
        orientation="vertical",
        title_place=chart.title_place,
    )
    heads, top = head(above, width - 2 * margin, height - sizes.px(18), margin, sizes, pen)
    notes, bottom = note_line(above, width, sizes, pen)
    shown = above if chart.legend else replace(above, legend="none")
    key = legend(shown, margin, width - margin, top - sizes.px(8), sizes, pen)
    top -= key.height + sizes.px(10)
    panels = _set_panels(chart, Box(margin - sizes.px(8), bottom, width - margin + sizes.px(8), top), sizes, measure)
    return PanelPlan(size, tuple(panels), (*heads, *notes, *key.texts), key, chart.title, chart.description)


def _set_panels(chart: PanelChart, room: Box, sizes: Sizes, measure: Measure) -> list[tuple[Box, Plan]]:
    """Set the panels in rows; where all have the same categories, only the lowest of each column name them."""
    count = len(chart.panels)
    rows, columns = _grid(count, room.width, room.height)
    unit = sizes.unit * (1.0 if count == 1 else _LETTERS if count <= 6 else _SMALL_LETTERS)
    across = room.width / columns
    named = 0.0  # the height of the labels under the lowest panels
    shared = rows > 1 and not chart.panels[0].horizontal and len({one.categories for one in chart.panels}) == 1
    if shared:
        trial = make_plan(chart.panels[0], (across, room.height / rows), measure, unit=unit)
        bare = make_plan(
            replace(chart.panels[0], category_labels=False), (across, room.height / rows), measure, unit=unit
        )
        named = trial.frame.bottom - bare.frame.bottom
    down = (room.height - named) / rows
    placed = []
    for number, one in enumerate(chart.panels):
        row, column = divmod(number, columns)
        lowest = number + columns >= count
        left, upper, height = room.left + column * across, room.top - row * down, down + (named if lowest else 0.0)
        panel = replace(one, category_labels=lowest or not shared)
        plan = make_plan(panel, (across, height), measure, unit=unit)
        placed.append((Box(left, upper - height, left + across, upper), plan))
    return placed


def _grid(count: int, width: float, height: float) -> tuple[int, int]:
    """Return rows and columns whose cells come nearest to the shape of a chart."""
    best = min(
        range(1, count + 1),
        key=lambda columns: (
            abs(math.log((width / columns) / (height / math.ceil(count / columns)) / _ASPECT))
            + 0.3 * (math.ceil(count / columns) * columns - count) / count
        ),
    )
    return math.ceil(count / best), best
