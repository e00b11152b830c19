"""What a picture really covers: every text measured by the renderer that draws it."""

from __future__ import annotations

import io
import math
from collections.abc import Iterator
from functools import lru_cache
from itertools import combinations, pairwise
from unittest import mock

import matplotlib as mpl
import numpy as np
from matplotlib.backends.backend_agg import RendererAgg
from numpy.typing import NDArray
from PIL import Image

import vantric as vt
from vantric.core.layout import Box, PanelPlan, Plan, TextMark
from vantric.rendering.fonts import PER_INCH, font_properties, linear_measure
from vantric.rendering.mark_painter import TextOutlines
from vantric.rendering.matplotlib_figure import planned_figure
from vantric.rendering.pictures import picture
from vantric.rendering.themes import theme_named

Corners = list[tuple[float, float]]


def plans(chart: vt.Chart | vt.PanelChart) -> tuple[list[tuple[Box, Plan]], list[TextMark], tuple[str, ...]]:
    """Return the plans of a chart with their places, the texts around them, and the fonts that draw them."""
    plan, families = planned_figure(chart, chart.size, linear_measure)
    if isinstance(plan, PanelPlan):
        return list(plan.panels), list(plan.texts), families
    return [(Box(0, 0, *plan.size), plan)], [], families


@lru_cache(maxsize=20_000)
def _drawn_size(text: str, size: float, bold: bool, families: tuple[str, ...]) -> tuple[float, float, float]:
    """Return width, height and descent of a text as the renderer that draws it measures them."""
    renderer = RendererAgg(1, 1, PER_INCH)
    with mpl.rc_context({"text.hinting": "none"}):
        width, height, descent = renderer.get_text_width_height_descent(
            text, font_properties(families, size, bold=bold), False
        )
    return float(width), float(height), float(descent)


def drawn_box(mark: TextMark, families: tuple[str, ...]) -> Corners:
    """Return the four corners of a drawn text, its letters measured by the renderer."""
    width, height, descent = _drawn_size(mark.text, mark.size, mark.bold, families)
    start = {"left": 0.0, "center": -width / 2, "right": -width}[mark.ha]
    turn = math.radians(mark.rotation)
    corners = [
        (start, -descent),
        (start + width, -descent),
        (start + width, height - descent),
        (start, height - descent),
    ]
    return [
        (mark.x + u * math.cos(turn) - v * math.sin(turn), mark.y + u * math.sin(turn) + v * math.cos(turn))
        for u, v in corners
    ]


def cover(one: Corners, other: Corners, slack: float = 1.5) -> bool:
    """Whether two rectangles, turned or not, share more than a rim of `slack` pixels (separating axis theorem)."""
    for corners in (one, other):
        for (x0, y0), (x1, y1) in zip(corners, corners[1:] + corners[:1], strict=True):
            length = math.hypot(x1 - x0, y1 - y0) or 1.0
            nx, ny = (y0 - y1) / length, (x1 - x0) / length
            a, b = ([x * nx + y * ny for x, y in points] for points in (one, other))
            if max(a) <= min(b) + slack or max(b) <= min(a) + slack:
                return False
    return True


def faults(chart: vt.Chart | vt.PanelChart) -> Iterator[str]:
    """Yield every text that covers another, runs over the edge, or lies on a point, a line or another's bar."""
    found, around, families = plans(chart)
    for box, plan in [*found, (Box(0, 0, *chart.size), None)]:
        marks = list(plan.texts) if plan else around
        boxes = [drawn_box(mark, families) for mark in marks]
        for (one, first), (other, second) in combinations(zip(marks, boxes, strict=True), 2):
            if cover(first, second):
                yield f"{one.role} '{one.text}' covers {other.role} '{other.text}'"
        for mark, corners in zip(marks, boxes, strict=True):
            if any(not (-0.5 <= x <= box.width + 0.5 and -0.5 <= y <= box.height + 0.5) for x, y in corners):
                yield f"{mark.role} '{mark.text}' leaves the picture"
            for points in plan.point_sets if plan else ():
                for x, y in zip(points.xs.tolist(), points.ys.tolist(), strict=True):
                    r = points.radius - 1.5
                    if (
                        r > 0
                        and x == x
                        and cover(corners, [(x - r, y - r), (x + r, y - r), (x + r, y + r), (x - r, y + r)], 0.5)
                    ):
                        yield f"{mark.role} '{mark.text}' lies on a point"
            if plan:
                yield from _on_marks(mark, corners, plan)
                yield from _on_frame(mark, corners, plan)


def _on_marks(mark: TextMark, corners: Corners, plan: Plan) -> Iterator[str]:
    """Yield a number that a line runs through, or that lies on a bar which is not its own."""
    within = mark.role.startswith("on-")
    if not within and not mark.role.endswith("value"):
        return
    for path in plan.paths:
        for (x0, x1), (y0, y1) in zip(pairwise(path.xs.tolist()), pairwise(path.ys.tolist()), strict=True):
            if cover(corners, _thin(x0, y0, x1, y1), 1.0):
                yield f"{mark.role} '{mark.text}' lies on a line"
                return
    if within or mark.halo not in ("", "ground", "wash"):  # over a bar in its own color, or hidden behind a plate
        return
    if any(cover(corners, _rect(edge)) for edge in plan.bars.edges.tolist() if edge[2] > edge[0] and edge[3] > edge[1]):
        yield f"{mark.role} '{mark.text}' lies on a bar"


def _on_frame(mark: TextMark, corners: Corners, plan: Plan) -> Iterator[str]:
    """Yield a text that the baseline runs through."""
    left, bottom, right, top = plan.frame
    ends = (left, bottom, left, top) if plan.horizontal else (left, bottom, right, bottom)
    if cover(corners, _thin(*ends), 1.5):
        yield f"{mark.role} '{mark.text}' lies on the baseline"


def _rect(edge: list[float]) -> Corners:
    left, bottom, right, top = edge
    return [(left, bottom), (right, bottom), (right, top), (left, top)]


def _thin(x0: float, y0: float, x1: float, y1: float) -> Corners:
    """Return a line as a rectangle a pixel wide."""
    length = math.hypot(x1 - x0, y1 - y0) or 1.0
    dx, dy = 1.5 * (y0 - y1) / length, 1.5 * (x1 - x0) / length
    return [(x0 - dx, y0 - dy), (x1 - dx, y1 - dy), (x1 + dx, y1 + dy), (x0 + dx, y0 + dy)]


#: WCAG 2.2, success criterion 1.4.3; antialiasing and one pixel of a neighbor are allowed for.
_READABLE, _SHARE = 4.5, 0.9


def hard_to_read(chart: vt.Chart) -> Iterator[str]:
    """Yield every text of a picture that does not stand out from what is really beneath its letters, pixel by pixel."""
    plan, _ = planned_figure(chart, chart.size, linear_measure)
    assert isinstance(plan, Plan)
    theme = theme_named(chart.theme)
    with mock.patch.object(TextOutlines, "takes", return_value=True):  # halos are drawn, letters are not
        beneath = _pixels(chart)
    drawn = _pixels(chart)
    inked = np.abs(drawn.astype(int) - beneath.astype(int)).max(axis=2) > 40
    for mark in plan.texts:
        left, bottom, right, top = (round(value) for value in mark.box)
        rows = slice(max(int(plan.size[1]) - top, 0), int(plan.size[1]) - bottom)
        part, ink = beneath[rows, max(left, 0) : right], inked[rows, max(left, 0) : right]
        around = _grown(ink)
        if not around.any():
            continue
        ratios = _contrasts(theme.color(mark.role), part[around])
        if float(np.quantile(ratios, 1 - _SHARE)) < _READABLE * 0.98:
            yield f"{mark.role} '{mark.text}' has {np.quantile(ratios, 1 - _SHARE):.2f} : 1"


def _pixels(chart: vt.Chart) -> NDArray[np.uint8]:
    with Image.open(io.BytesIO(picture(chart, "png"))) as image:
        return np.asarray(image.convert("RGB"))


def _grown(mask: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Return a mask with the pixels beside it."""
    padded = np.pad(mask, 1)
    return padded[:-2, 1:-1] | padded[2:, 1:-1] | padded[1:-1, :-2] | padded[1:-1, 2:] | mask


def _contrasts(color: str, pixels: NDArray[np.uint8]) -> NDArray[np.float64]:
    """Return the contrast ratio of a color with each pixel."""
    own = _luminance(np.array([[int(color[place : place + 2], 16) for place in (1, 3, 5)]]))
    other = _luminance(pixels)
    return (np.maximum(own, other) + 0.05) / (np.minimum(own, other) + 0.05)


def _luminance(pixels: NDArray[np.integer]) -> NDArray[np.float64]:
    channels = pixels / 255
    linear = np.where(channels <= 0.04045, channels / 12.92, ((channels + 0.055) / 1.055) ** 2.4)
    return linear @ np.array([0.2126, 0.7152, 0.0722])
