"""The shape of a picture where the user leaves it open: which way bars run, and how high it is."""

from __future__ import annotations

from dataclasses import replace
from typing import TypeVar

from vantric.core.charting import Chart
from vantric.core.charting.options import DEFAULT_SIZE, Look

C = TypeVar("C", bound=Chart)

_AROUND = 230.0  # pixels of height around the frame of a horizontal chart
_LEAST, _ROOMY = 14.0, 16.0  # pixels of a category: with less its name would be left out; with so many it is well read
_TALLEST = 20000.0


def shaped(chart: C, look: Look) -> C:
    """Return a chart with its orientation decided, and higher where the names of horizontal bars need it."""
    if look.orientation == "auto":
        chart = replace(chart, orientation="horizontal" if _lacks_names(chart) else "vertical")
    if look.size is None and chart.horizontal and chart.category_labels:
        chart = replace(chart, size=(DEFAULT_SIZE[0], _height(len(chart.categories))))
    return chart


def _height(categories: int) -> float:
    """Return the height that horizontal bars need so that each is named."""
    if categories * _LEAST + _AROUND <= DEFAULT_SIZE[1]:
        return DEFAULT_SIZE[1]
    return min(categories * _ROOMY + _AROUND, _TALLEST)


def _lacks_names(chart: Chart) -> bool:
    """Whether names of categories are left out or cut short under vertical bars."""
    if chart.period or chart.legend == "ends" or not chart.category_labels:
        return False
    from vantric.core.planning import make_plan
    from vantric.errors import ChartError

    try:
        plan = make_plan(replace(chart, orientation="vertical"))
    except ChartError:
        return True
    names = [mark.text for mark in plan.texts if mark.role == "category"]
    cut = any(name.endswith("…") for name in names) and not any(name.endswith("…") for name in chart.categories)
    return cut or any(not one.name for one in plan.missing)
