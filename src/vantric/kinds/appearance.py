"""The look of a chart as it is drawn: colors as ``#rrggbb``, an installed font, its orientation and its height."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, TypeVar

from vantric.core.charts.series import Series
from vantric.core.charts.settings import DEFAULT_SIZE, ChartSettings
from vantric.core.layout.text_layout import NARROW

if TYPE_CHECKING:
    from vantric.core.charts import Chart

C = TypeVar("C", bound="Chart")

_AROUND = 230.0  # pixels of height around the frame of a horizontal chart
_ROW = 22.0  # pixels of a category that is well read
#: Pixels that a horizontal chart grows to with its categories.
_TALLEST = 20000.0


def with_orientation(chart: C, look: ChartSettings) -> C:
    """Return a chart with its orientation decided, and higher where the names of horizontal bars need it."""
    if chart.orientation == "auto":
        chart = replace(chart, orientation="horizontal" if _lacks_names(chart) else "vertical")
    if look.size is None and chart.horizontal and chart.category_labels:
        chart = replace(chart, size=(DEFAULT_SIZE[0], _height(len(chart.categories))))
    return chart


def _height(categories: int) -> float:
    """Return the height that horizontal bars need so that each is named."""
    return min(max(categories * _ROW + _AROUND, DEFAULT_SIZE[1]), _TALLEST)


def _lacks_names(chart: Chart) -> bool:
    """Whether names of categories are turned, left out or cut short under vertical bars, or the picture is narrow."""
    if chart.period or chart.legend == "ends" or not chart.category_labels:
        return False
    if chart.size[0] < NARROW:
        return True
    from vantric.core.layout import make_plan
    from vantric.errors import ChartError

    try:
        plan = make_plan(replace(chart, orientation="vertical"))
    except ChartError:  # the plan has no room for names: it grows
        return True
    marks = [mark for mark in plan.texts if mark.role.startswith("category")]
    if any(mark.rotation for mark in marks):
        return True
    names = [mark.text for mark in marks]
    cut = any(name.endswith("…") for name in names) and not any(name.endswith("…") for name in chart.categories)
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
    from vantric.rendering.render_warnings import check_settings

    check_settings()
    from vantric.rendering.fonts import installed

    return installed(font)


def with_hex_color(series: S) -> S:
    """Return a series with its color as ``#rrggbb``."""
    if not series.color:
        return series
    from vantric.rendering.themes import as_color

    return replace(series, color=as_color(series.color))
