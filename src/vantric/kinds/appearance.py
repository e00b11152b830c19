"""The look of a chart as it is drawn: colors as ``#rrggbb``, an installed font, its orientation and its height."""

from __future__ import annotations

from dataclasses import replace
from typing import TypeVar

from vantric.core.charts.chart import Chart, PanelChart
from vantric.core.charts.series import Series
from vantric.core.charts.settings import DEFAULT_SIZE, ChartSettings
from vantric.core.layout.text_layout import NARROW, SMALLEST_SHARE

C = TypeVar("C", Chart, PanelChart)

_AROUND = 230.0  # pixels of height around the frame of a horizontal chart
_ROW, _LEAST = 22.0, 12.0  # pixels of a category that is well read, and of one that can be
#: Pixels that a horizontal chart grows to with its categories: where nobody asked for it, and where it was asked for.
_TALL, _TALLEST = 2000.0, 20000.0


def with_orientation(chart: C, look: ChartSettings, *, foldable: bool = False) -> C:
    """Return a chart with its orientation decided, and higher where the names of horizontal rows need it.

    Where it is `foldable`, rows that do not fit are no reason against horizontal bars.
    """
    if isinstance(chart, PanelChart):
        return replace(chart, size=with_orientation(chart.panels[0], look).size)
    if chart.orientation == "auto":
        chart = replace(chart, orientation="horizontal" if _is_better_horizontal(chart, look, foldable) else "vertical")
    if look.size is None and chart.horizontal and chart.category_labels:
        tallest = _TALL if look.orientation == "auto" else _TALLEST
        height = min(max(len(chart.categories) * _ROW + _AROUND, DEFAULT_SIZE[1]), tallest)
        chart = replace(chart, size=(DEFAULT_SIZE[0], height))
    return chart


#: Heights of a row in bodies: one that is well read, and one that can be read.
_WELL, _JUST = 1.5, 1.2


def rows_that_fit(chart: Chart | PanelChart, look: ChartSettings, few: int) -> int | None:
    """Return how many rows of a horizontal chart of a fixed size can be read; None where all can.

    `few` rows stay and one more; None too where these alone are more than can be named.
    """
    from vantric.core.layout import make_panel_plan, make_plan
    from vantric.core.layout.text_layout import Sizes

    first = chart.panels[0] if isinstance(chart, PanelChart) else chart
    if look.size is None or not first.horizontal or not first.category_labels:
        return None
    plan = make_panel_plan(chart).panels[0][1] if isinstance(chart, PanelChart) else make_plan(chart)
    body, high = Sizes.of(*chart.size).body, plan.frame.height
    if high >= len(first.categories) * _WELL * body:
        return None
    rows = next((rows for share in (_WELL, _JUST) if (rows := int(high // (share * body))) > few), few + 1)
    legible = high >= rows * SMALLEST_SHARE * body  # else the row of the others would have no name either
    return rows if legible and rows < len(first.categories) else None


def _is_better_horizontal(chart: Chart, look: ChartSettings, foldable: bool) -> bool:
    """Whether named bars are drawn to the right: in a narrow picture, or where their names are not level below.

    Time stays upright, and so do lines without bars, and what has more categories than rows can be named.
    """
    if chart.period or chart.legend == "ends" or not chart.category_labels or not chart.bars:
        return False
    height = _TALL if look.size is None else look.size[1]
    folds = foldable and look.size is not None
    if not folds and len(chart.categories) * _LEAST + _AROUND > height:
        return False
    return chart.size[0] < NARROW or _lacks_names(chart)


def _lacks_names(chart: Chart) -> bool:
    """Whether names of categories are turned, left out or cut short under vertical bars."""
    from vantric.core.layout import make_plan
    from vantric.errors import ChartError

    try:
        plan = make_plan(replace(chart, orientation="vertical"))
    except ChartError:  # the plan has no room for names: it grows
        return True
    marks = [mark for mark in plan.texts if mark.role.startswith("category")]
    if any(mark.rotation for mark in marks):
        return True
    cut = any(mark.text.endswith("…") for mark in marks) and not any(name.endswith("…") for name in chart.categories)
    return cut or any(not out.name for out in plan.missing)


L = TypeVar("L", bound=ChartSettings)
S = TypeVar("S", bound=Series)


def with_drawable_look(look: L) -> L:
    """Return a look with its colors as ``#rrggbb`` and the name of an installed font.

    Raises
    ------
    ChartError
        For a color or a font that there is not.
    """
    if not look.colors and not look.font:
        return look
    from vantric.rendering.themes import as_color

    colors = {name: as_color(color) for name, color in look.colors.items()}
    return replace(look, colors=colors, font=_installed(look.font) if look.font else "")


def _installed(font: str) -> str:
    from vantric.rendering.drawing_guards import check_settings

    check_settings()
    from vantric.rendering.fonts import installed

    return installed(font)


def with_hex_color(series: S) -> S:
    """Return a series with its color as ``#rrggbb``."""
    if not series.color:
        return series
    from vantric.rendering.themes import as_color

    return replace(series, color=as_color(series.color))
