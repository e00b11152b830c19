"""The legend: a sample and a name for each thing drawn, in rows above or below the frame, or in a column beside it."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from vantric.core.charting.chart import Chart
from vantric.core.charting.furniture import rule
from vantric.core.charting.lettering import Pen, Sizes, line_height
from vantric.core.charting.measure import fitted
from vantric.core.charting.plan import PathMark, PointMarks, RectMarks, TextMark, point_role
from vantric.core.numbers.shown import one_line

_MOST_WIDTH = 0.24  # of the picture, for a column beside the frame


@dataclass
class _Samples:
    texts: list[TextMark] = field(default_factory=list)
    rects: list[tuple[float, float, float, float]] = field(default_factory=list)
    roles: list[str] = field(default_factory=list)
    paths: list[PathMark] = field(default_factory=list)
    points: list[tuple[float, float, str]] = field(default_factory=list)


@dataclass(frozen=True)
class Legend:
    """A placed legend and the height it takes."""

    texts: tuple[TextMark, ...]
    rects: RectMarks
    paths: tuple[PathMark, ...]
    points: tuple[PointMarks, ...]
    height: float


def entries(chart: Chart) -> list[tuple[str, str]]:
    """Return (role, name) of everything that the legend explains."""
    named: list[tuple[str, str]] = []
    for series in chart.bars:
        if series.strong is None:
            named.append((_common(series.roles(), series.role), series.name))
        else:
            roles = series.roles()
            named += [(_common(roles[: series.strong], "strong"), series.strong_name)] if series.strong else []
            if series.strong < len(series.values):
                named.append((_common(roles[series.strong :], "quiet"), series.quiet_name))
    return [*named, *((line.role, line.name) for line in chart.lines)]


def _common(roles: list[str], else_role: str) -> str:
    """Return the one role that all bars share; the theme's if they differ."""
    return roles[0] if len(set(roles)) == 1 else else_role


def legend_width(chart: Chart, width: float, sizes: Sizes, pen: Pen) -> float:
    """Return the width of a column beside the frame."""
    longest = max((pen.width(one_line(name), sizes.label) for _, name in entries(chart)), default=0.0)
    return min(_MOST_WIDTH * width, longest + sizes.px(34 + 8))


def legend(
    chart: Chart,
    left: float,
    right: float,
    top: float,
    sizes: Sizes,
    pen: Pen,
    *,
    extra: str = "",
    column: bool = False,
) -> Legend:
    """Set the legend in as many rows as it takes between `left` and `right`, from `top` downward.

    Parameters
    ----------
    extra
        A remark that found no place beside the marks; it stands behind the last name.
    column
        Whether each name has a row of its own.
    """
    out = _Samples()
    size, row = sizes.label, line_height(sizes.label) + sizes.px(4)
    x, y = left, top - row / 2
    named = [] if chart.legend == "none" else entries(chart)
    for role, name in [*named, *([("remark", extra)] if extra else [])]:
        sample = sizes.px(34) if role.startswith("line") else 0.0 if role == "remark" else sizes.px(16)
        gap = sizes.px(8) if sample else 0.0
        shown = fitted(one_line(name), size, role == "remark", right - left - sample - gap, pen.measure)
        needed = sample + gap + pen.width(shown, size, bold=role == "remark")
        if x > left and (column or x + needed > right):
            x, y = left, y - row
        _sample(out, role, x, y, sample)
        text_role = "cut-text" if role == "remark" else "legend"
        out.texts.append(pen.middle(shown, x + sample + gap, y, size, text_role, bold=role == "remark"))
        x += needed + sizes.px(28)
    rects = RectMarks(np.array(out.rects, dtype=np.float64).reshape(-1, 4), tuple(out.roles))
    points = tuple(PointMarks(np.array([x]), np.array([y]), sizes.px(5), role) for x, y, role in out.points)
    height = top - y + row / 2 if out.texts else 0.0
    return Legend(tuple(out.texts), rects, tuple(out.paths), points, height)


def _sample(out: _Samples, role: str, x: float, y: float, width: float) -> None:
    if role.startswith("line"):
        out.paths.append(rule(x, y, x + width, y, role))
        out.points.append((x + width / 2, y, point_role(role)))
    elif width:
        out.rects.append((x, y - width / 2, x + width, y + width / 2))
        out.roles.append(role)
