"""Small multiples: charts of one kind side by side, under one head."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from vantric.core.charting.chart import Chart
from vantric.core.charting.furniture import head, note_line
from vantric.core.charting.legend import Legend, legend
from vantric.core.charting.lettering import Pen, Sizes
from vantric.core.charting.measure import Measure, table_measure
from vantric.core.charting.plan import Box, Plan, TextMark
from vantric.core.charting.planner import make_plan
from vantric.errors import ChartError

_ASPECT = 1.7
_MOST = 48
_LETTERS = 0.74  # of the picture's own


@dataclass(frozen=True)
class PanelChart:
    """Several charts in one picture.

    Attributes
    ----------
    panels : tuple of Chart
        Their titles name what each is of; they share theme and size of this one.
    title, subtitle, note, description
        As of a chart.
    legend
        Whether one legend stands for all, above them.
    theme, size
        As of a chart.
    """

    panels: tuple[Chart, ...]
    title: str = ""
    subtitle: str = ""
    note: str = ""
    description: str = ""
    legend: bool = True
    theme: str = "light"
    size: tuple[float, float] = (1280.0, 800.0)

    def __post_init__(self) -> None:
        if not self.panels:
            raise ChartError("there is nothing to set side by side")
        if len(self.panels) > _MOST:
            raise ChartError(f"{len(self.panels)} panels are too many for one picture; take at most {_MOST}")

    def __repr__(self) -> str:
        return f"<PanelChart '{self.title}' of {len(self.panels)} panels>"


@dataclass(frozen=True, eq=False)
class PanelPlan:
    """Several plans in one picture.

    Attributes
    ----------
    size
        Width and height of the picture.
    panels : tuple of (Box, Plan)
        Where each plan lies.
    texts, legend
        What stands above and below them all.
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
        orientation="upright",
    )
    heads, top = head(above, width - 2 * margin, height - sizes.px(18), margin, sizes, pen)
    notes, bottom = note_line(above, width, sizes, pen)
    shown = above if chart.legend else replace(above, legend="none")
    key = legend(shown, margin, width - margin, top - sizes.px(8), sizes, pen)
    top -= key.height + sizes.px(10)
    rows, columns = _grid(len(chart.panels), width, top - bottom)
    across, down = (width - 2 * margin + sizes.px(16)) / columns, (top - bottom) / rows
    unit = sizes.unit * (_LETTERS if rows * columns > 1 else 1.0)
    panels = []
    for number, one in enumerate(chart.panels):
        row, column = divmod(number, columns)
        left, upper = margin - sizes.px(8) + column * across, top - row * down
        plan = make_plan(one, (across, down), measure, unit=unit)
        panels.append((Box(left, upper - down, left + across, upper), plan))
    return PanelPlan(size, tuple(panels), (*heads, *notes, *key.texts), key, chart.title, chart.description)


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
