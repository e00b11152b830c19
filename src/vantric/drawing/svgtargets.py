"""The targets of an image in a page: over each category one that can be pointed at, tabbed to and touched."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from vantric.core.charting import Chart
from vantric.core.planning import Plan
from vantric.drawing.svgshapes import element, number, rectangle, titled


def targets(chart: Chart, plan: Plan, keys: Sequence[str], tips: Sequence[str]) -> str:
    """Return a group of targets, as high as the frame and as wide as each category.

    The group says where zero and 100 percent of the line are, so that a page can draw a cutoff elsewhere.

    Parameters
    ----------
    chart, plan
        What is drawn, and where.
    keys
        The number of each category in the page.
    tips
        What is said of each, in lines; empty where another view of the page says it.
    """
    if not chart.series:
        return ""
    low, high = (plan.frame.bottom, plan.frame.top) if plan.horizontal else (plan.frame.left, plan.frame.right)
    centers = np.asarray(plan.centers, dtype=float)
    middles = (centers[1:] + centers[:-1]) / 2
    ends = [high, *middles, low] if plan.horizontal else [low, *middles, high]
    shapes = []
    for at, (key, tip) in enumerate(zip(keys, tips, strict=True)):
        one, other = sorted((float(ends[at]), float(ends[at + 1])))
        box = _box(plan, one, other)
        shapes.append(rectangle(*box, titled(tip), data_category=key, class_="target", role="graphics-symbol"))
    return element("g", "".join(shapes), class_="targets", fill="none", pointer_events="all", **_cutoff(chart, plan))


def _box(plan: Plan, low: float, high: float) -> tuple[float, float, float, float]:
    """Return left, top, width and height of a category's place."""
    frame, height = plan.frame, plan.size[1]
    if plan.horizontal:
        return frame.left, height - high, frame.width, high - low
    return low, height - frame.top, high - low, frame.height


def _cutoff(chart: Chart, plan: Plan) -> dict[str, str]:
    """Return where a cutoff may be drawn: the heights of 0 and 100, and the ends of its line."""
    if not chart.cuts:
        return {}
    whole = 100.0 if chart.secondary_unit else chart.total  # the line may show frequencies
    across = (plan.frame.left, plan.frame.right)
    if plan.horizontal:
        ends = [
            plan.frame.left + float(plan.scales.secondary.fraction(value)) * plan.frame.width for value in (0, whole)
        ]
        across = (plan.size[1] - plan.frame.top, plan.size[1] - plan.frame.bottom)
    else:
        ends = [plan.size[1] - float(plan.secondary_y(value)) for value in (0.0, whole)]
    return {"data_ends": " ".join(map(number, ends)), "data_across": " ".join(map(number, across)),
            "data_way": "horizontal" if plan.horizontal else "vertical"}  # fmt: skip
