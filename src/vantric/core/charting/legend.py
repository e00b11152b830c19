"""The legend: a sample and a name for each thing drawn, in rows above the frame."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from vantric.core.charting.chart import Bars, Chart
from vantric.core.charting.furniture import rule
from vantric.core.charting.lettering import Pen, Sizes, line_height
from vantric.core.charting.measure import fitted
from vantric.core.charting.plan import PathMark, PointMarks, RectMarks, TextMark
from vantric.core.numbers.shown import one_line


@dataclass
class _Samples:
    texts: list[TextMark] = field(default_factory=list)
    rects: list[tuple[float, float, float, float]] = field(default_factory=list)
    roles: list[str] = field(default_factory=list)
    paths: list[PathMark] = field(default_factory=list)
    points: list[tuple[float, float]] = field(default_factory=list)


@dataclass(frozen=True)
class Legend:
    """A placed legend and the height at which it ends."""

    texts: tuple[TextMark, ...]
    rects: RectMarks
    paths: tuple[PathMark, ...]
    points: PointMarks
    bottom: float


def entries(chart: Chart) -> list[tuple[str, str]]:
    """Return (role, name) of everything that the legend explains."""
    named: list[tuple[str, str]] = []
    for series in chart.series:
        if not isinstance(series, Bars):
            named.append(("line", series.name))
        elif series.strong is None:
            named.append(("bar", series.name))
        else:
            named.append(("strong", series.strong_name))
            if series.strong < len(series.values):
                named.append(("quiet", series.quiet_name))
    return named


def legend(chart: Chart, left: float, right: float, top: float, sizes: Sizes, pen: Pen, *, extra: str = "") -> Legend:
    """Set the legend in as many rows as it takes between `left` and `right`, from `top` downward.

    `extra` is a remark that found no place beside the marks; it stands behind the last name.
    """
    out = _Samples()
    size, row = sizes.label, line_height(sizes.label) + sizes.px(4)
    x, y = left, top - row / 2
    for role, name in [*entries(chart), *([("remark", extra)] if extra else [])]:
        sample = {"line": sizes.px(34), "remark": 0.0}.get(role, sizes.px(16))
        gap = sizes.px(8) if sample else 0.0
        shown = fitted(one_line(name), size, role == "remark", right - left - sample - gap, pen.measure)
        needed = sample + gap + pen.width(shown, size, bold=role == "remark")
        if x > left and x + needed > right:
            x, y = left, y - row
        _sample(out, role, x, y, sample)
        text_role = "cut-text" if role == "remark" else "legend"
        out.texts.append(pen.middle(shown, x + sample + gap, y, size, text_role, bold=role == "remark"))
        x += needed + sizes.px(28)
    xs, ys = np.array(out.points, dtype=np.float64).reshape(-1, 2).T
    rects = RectMarks(np.array(out.rects, dtype=np.float64).reshape(-1, 4), tuple(out.roles))
    points = PointMarks(xs, ys, sizes.px(5), "point")
    return Legend(tuple(out.texts), rects, tuple(out.paths), points, y - row / 2)


def _sample(out: _Samples, role: str, x: float, y: float, width: float) -> None:
    if role == "line":
        out.paths.append(rule(x, y, x + width, y, "line"))
        out.points.append((x + width / 2, y))
    elif width:
        out.rects.append((x, y - width / 2, x + width, y + width / 2))
        out.roles.append(role)
