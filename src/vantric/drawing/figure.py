"""A plan becomes a Matplotlib figure."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable
from functools import lru_cache, partial
from typing import Any, TypeAlias

import numpy as np
from matplotlib.axes import Axes
from matplotlib.collections import LineCollection, PolyCollection
from matplotlib.figure import Figure
from matplotlib.lines import Line2D
from matplotlib.patches import Rectangle
from matplotlib.patheffects import Normal, Stroke
from matplotlib.text import Text
from matplotlib.transforms import Affine2D, Bbox, ScaledTranslation, Transform

from vantric.core.charting import Chart, PanelChart
from vantric.core.planning import PanelPlan, Plan, make_panel_plan, make_plan
from vantric.core.planning.measure import Measure
from vantric.core.planning.plan import AreaMark, Box, PathMark, PointMarks, RectMarks, TextMark
from vantric.drawing.fonts import (
    DRAWING,
    PER_INCH,
    Telling,
    drawable,
    families_for,
    font_properties,
    linear_measure,
    renderer_measure,
    warn,
)
from vantric.drawing.theme import Theme, theme_named

Drawn: TypeAlias = Chart | PanelChart
DEFAULT_SIZE = (1280.0, 800.0)
_POINTS = 72 / PER_INCH  # points of a plan pixel
_OUTLINE, _HALO = 1.0, 1.2  # pixels
# What is over what: marks by their own level, which is zero for bars.
_GROUND, _BAND, _GRID, _BARS, _RULES, _LINE, _POINT, _LEADER, _TEXT = (
    -10**9, -10**8 - 2, -10**8 - 1, 0.0, 25.0, 30.0, 35.0, 10**8, 10**9,
)  # fmt: skip
_DASHES: dict[str, tuple[float, ...]] = {
    "dashed": (4.0, 2.0), "dotted": (1.2, 1.6), "dash-dot": (6.0, 2.0, 1.2, 2.0)
}  # fmt: skip
_HATCHES = {"hatched": "///", "dotted": "...", "crossed": "xxx"}
_MARKERS = {
    "round": "o", "square": "s", "diamond": "D", "triangle": "^", "pointer": "v", "cross": "X",
}  # fmt: skip
_SHARE = {"diamond": 0.86, "triangle": 1.12, "pointer": 1.12, "cross": 1.1}  # so that all shapes look equally large
_SHADE, _BAND_SHADE = 0.35, 0.13


def planned(
    chart: Drawn, size: tuple[float, float], measure: Callable[[tuple[str, ...]], Measure], *, tell: Telling = warn
) -> tuple[Plan | PanelPlan, tuple[str, ...]]:
    """Return a chart's plan, measured with the fonts that draw it, and their families; `tell` hears what these lack."""
    with DRAWING:
        families = families_for(_texts(chart), chart.font, tell=tell)
        if isinstance(chart, PanelChart):
            return make_panel_plan(chart, size, measure(families)), families
        return make_plan(chart, size, measure(families)), families


def _texts(chart: Drawn) -> list[str]:
    if isinstance(chart, PanelChart):
        return [chart.title, chart.subtitle, chart.note, *(text for panel in chart.panels for text in _texts(panel))]
    titles = [chart.title, chart.subtitle, chart.note, chart.category_title, chart.primary_title, chart.secondary_title]
    titles += [*(one.text for one in chart.references), *chart.months]
    units = [chart.primary_unit, chart.secondary_unit, chart.total_text, *(cut.text for cut in chart.cuts)]
    labels = [text for series in chart.series for text in (series.name, *series.texts[:1])]
    return [*titles, *units, *labels, *chart.categories]


def bare_figure(chart: Drawn, *, tell: Telling = warn) -> Figure:
    """Return a figure to be saved at once, without hinting: marks and text, no axes."""
    theme = theme_named(chart.theme)
    plan, families = planned(chart, chart.size, linear_measure, tell=tell)
    figure = _new_figure(theme, chart.size)
    _Pen(figure, figure.dpi_scale_trans, (0.0, 0.0), theme, families).draw(plan)
    return figure


def draw_figure(chart: Drawn, *, ax: Axes | None = None) -> Figure:
    """Draw a chart into a figure that the caller goes on with.

    Parameters
    ----------
    chart
        What is wanted.
    ax
        Axes whose place the whole chart takes, titles and labels included; a new figure of its size if not given.

    Returns
    -------
    matplotlib.figure.Figure
        The axes span the frame, in category numbers from 0 and in primary units; their twin has the secondary units. So
        more can be drawn over the chart.
    """
    theme = theme_named(chart.theme)
    if ax is None:
        figure, origin, size = _new_figure(theme, chart.size), (0.0, 0.0), chart.size
        plan, families = planned(chart, size, renderer_measure)
        ax = figure.add_axes(_share(plan, figure, origin) if isinstance(plan, Plan) else (0, 0, 1, 1))
    else:
        figure, origin, size = _room_of(ax)
        plan, families = planned(chart, size, renderer_measure)
    # Inches, and with them every mark, go where the figure goes when it is saved cut to what it shows.
    inches = figure.dpi_scale_trans + ScaledTranslation(0, 0, figure.transFigure)  # type: ignore[arg-type]
    _Pen(ax, inches, origin, theme, families).draw(plan)
    _hold_room(figure, inches, origin, size)
    if isinstance(plan, Plan):
        _set_limits(ax, plan, _share(plan, figure, origin))
    else:
        ax.set_axis_off()
    return figure


def _hold_room(figure: Figure, inches: Transform, origin: tuple[float, float], size: tuple[float, float]) -> None:
    """Have a figure count the whole chart as shown: notebooks save it with ``bbox_inches="tight"``.

    The marks themselves stand outside the layout, for a layout engine would move the caller's other axes for them; what
    belongs to the figure, and to no axes, moves nothing.
    """
    left, bottom = (length / PER_INCH for length in origin)
    width, height = (length / PER_INCH for length in size)
    figure.add_artist(Rectangle((left, bottom), width, height, transform=inches, fill=False, linewidth=0))


def _new_figure(theme: Theme, size: tuple[float, float]) -> Figure:
    width, height = size
    layout: Any = "none"  # whatever the caller's settings are; the stubs lack it
    return Figure((width / PER_INCH, height / PER_INCH), PER_INCH, facecolor=theme.ground, layout=layout)


def _room_of(ax: Axes) -> tuple[Figure, tuple[float, float], tuple[float, float]]:
    """Return the figure of the caller's axes and the place they take in it, in plan pixels."""
    figure = ax.get_figure()
    while not isinstance(figure, Figure):
        figure = figure.figure  # type: ignore[union-attr]
    engine = figure.get_layout_engine()
    if engine is not None:
        engine.execute(figure)
    box, scale = ax.get_window_extent(), PER_INCH / figure.dpi
    return figure, (box.x0 * scale, box.y0 * scale), (box.width * scale, box.height * scale)


def _share(plan: Plan, figure: Figure, origin: tuple[float, float]) -> tuple[float, float, float, float]:
    """Return the frame as shares of the figure."""
    width, height = (length * PER_INCH for length in figure.get_size_inches())
    frame = plan.frame
    left, bottom = frame.left + origin[0], frame.bottom + origin[1]
    return left / width, bottom / height, frame.width / width, frame.height / height


def _set_limits(ax: Axes, plan: Plan, share: tuple[float, float, float, float]) -> None:
    """Give the axes and a twin the frame's place and limits, and take away what the plan draws itself."""
    twin = ax.twiny() if plan.horizontal else ax.twinx()
    place = Bbox.from_bounds(*share)
    for axes, scale in ((ax, plan.scales.primary), (twin, plan.scales.secondary)):
        axes.set_position(place)
        axes.set_axes_locator(lambda axes, renderer: place)  # a layout engine would move them from their marks
        axes.set_axis_off()
        categories, values = (-0.5, len(plan.centers) - 0.5), (scale.lower, scale.upper)
        axes.set_xlim(values if plan.horizontal else categories)
        axes.set_ylim(categories[::-1] if plan.horizontal else values)


_LEVELS = {
    "grid": _GRID,
    "leader": _LEADER,
    "reference": _LEADER - 1,
    "interval": _LINE - 2,
    "band-edge": _GRID,
    "parting": _RULES - 5,
}


class _Pen:
    """Draws marks given in plan pixels."""

    def __init__(
        self,
        home: Axes | Figure,
        inches: Transform,
        origin: tuple[float, float],
        theme: Theme,
        families: tuple[str, ...],
    ) -> None:
        self._home, self._theme = home, theme
        self._to_figure = Affine2D().translate(*origin).scale(1 / PER_INCH) + inches
        self._font = lru_cache(maxsize=None)(partial(font_properties, families))
        self._shown = drawable(families)
        self._unit = 1.0
        self._clip: Box | None = None

    def draw(self, plan: Plan | PanelPlan) -> None:
        """Draw everything, from the ground up."""
        self._unit = min(plan.size[0] / DEFAULT_SIZE[0], plan.size[1] / DEFAULT_SIZE[1])
        ground = Rectangle((0, 0), *plan.size, facecolor=self._theme.ground, edgecolor="none")
        self._add(ground, _GROUND)
        if isinstance(plan, Plan):
            self._draw_one(plan)
            return
        self._rects(plan.legend.rects)
        for area in plan.legend.areas:
            self._area(area)
        for path in plan.legend.paths:
            self._path(path)
        for points in plan.legend.points:
            self._points(points)
        for text in plan.texts:
            self._text(text)
        whole, self._unit = self._to_figure, self._unit * 0.8
        for box, one in plan.panels:
            self._to_figure = Affine2D().translate(box.left, box.bottom) + whole
            self._draw_one(one)
        self._to_figure = whole

    def _draw_one(self, plan: Plan) -> None:
        self._rects(plan.bands, level=_BAND, shade=_BAND_SHADE)
        self._rules(plan.rules)
        self._rects(RectMarks(plan.clear, ("ground",) * len(plan.clear)), level=_GRID)
        for rects in (plan.bars, plan.swatches):
            self._rects(rects)
        self._rects(RectMarks(plan.plates, ("ground",) * len(plan.plates)), level=_LEADER)
        self._clip = plan.frame if plan.clipped else None
        for area in plan.areas:
            self._area(area)
        for path in plan.paths:
            self._path(path)
        self._clip = None
        for area in plan.swatch_areas:
            self._area(area)
        for path in plan.swatch_paths:
            self._path(path)
        for points in (*plan.point_sets, *plan.swatch_points):
            self._points(points)
        patterned = {role for role, own in zip(plan.bars.roles, plan.bars.patterns, strict=False) if own in _HATCHES}
        for text in plan.texts:
            self._plate(text, patterned)
            self._text(text)

    def _plate(self, mark: TextMark, patterned: set[str]) -> None:
        """Wipe the pattern of a bar behind what is written on it."""
        role = mark.role.removeprefix("on-")
        if role != mark.role and (role in patterned or self._theme.hatches.get(role.partition(":")[0])):
            box = np.array([[mark.box.left - 2, mark.box.bottom - 1, mark.box.right + 2, mark.box.top + 1]])
            corners = [[(left, low), (right, low), (right, high), (left, high)] for left, low, right, high in box]
            self._add(PolyCollection(corners, facecolors=self._theme.color(role), linewidths=0), _LEADER)

    def _add(self, artist: Any, level: float) -> None:
        artist.set_transform(self._to_figure)
        artist.set_zorder(level)
        artist.set_in_layout(False)
        self._home.add_artist(artist)
        artist.set_clip_on(self._clip is not None)
        if self._clip is not None:
            frame = self._clip
            place = (frame.left, frame.bottom)
            artist.set_clip_path(Rectangle(place, frame.width, frame.height, transform=self._to_figure))

    def _width(self, role: str, own: float | None = None) -> float:
        return (self._theme.width(role) if own is None else own) * max(self._unit, 0.6) * _POINTS

    def _rules(self, rules: tuple[PathMark, ...]) -> None:
        by_role: dict[str, list[Any]] = defaultdict(list)
        for mark in rules:
            by_role[mark.role].append(np.column_stack((mark.xs, mark.ys)))
        for role, segments in by_role.items():
            dash = self._theme.dashes.get(role)
            lines = LineCollection(
                segments,
                colors=self._theme.color(role),
                linewidths=self._width(role),
                linestyles=(0, dash) if dash else "solid",
                capstyle="butt",
            )
            if role in ("reference", "interval"):
                halo = Stroke(linewidth=self._width(role) + 2 * _HALO * _POINTS, foreground=self._theme.ground)
                solid = LineCollection(segments, colors=self._theme.ground, linewidths=0)
                solid.set_path_effects([halo])
                self._add(solid, _LEVELS[role] - 1)
            self._add(lines, _LEVELS.get(role, _RULES))

    def _rects(self, rects: RectMarks, *, level: float = _BARS, shade: float | None = None) -> None:
        """Draw rectangles, those with a pattern, an outline or a level of their own apart from the plain ones."""
        by_kind: dict[tuple[str, str, float], list[int]] = defaultdict(list)
        for number, role in enumerate(rects.roles):
            name = role.partition(":")[0]
            own = rects.patterns[number] if rects.patterns else ""
            hatch = _HATCHES.get(own, "") if own else self._theme.hatches.get(name, "")
            edge = self._theme.edges.get(name, self._theme.ground if hatch else "")
            by_kind[hatch, edge, level + (rects.levels[number] if rects.levels else 0)].append(number)
        for (hatch, edge, front), numbers in by_kind.items():
            left, bottom, right, top = rects.edges[numbers].T
            corners = np.stack([left, bottom, right, bottom, right, top, left, top], axis=1).reshape(-1, 4, 2)
            marks = PolyCollection(
                list(corners),
                facecolors=[self._theme.color(rects.roles[number]) for number in numbers],
                edgecolors=edge or "none",
                linewidths=_OUTLINE * _POINTS if edge else 0,
                hatch=hatch or None,
                alpha=shade,
            )
            self._add(marks, front)

    def _area(self, area: AreaMark) -> None:
        """Fill an area lightly, so that the grid and what is behind stay visible."""
        corners = [np.column_stack((area.xs, area.ys))]
        marks = PolyCollection(
            corners,
            facecolors=self._theme.color(area.role),
            edgecolors=self._theme.outline(area.role),
            linewidths=0,
            hatch=self._theme.hatches.get(area.role),
            alpha=_SHADE,
        )
        self._add(marks, area.level)

    def _path(self, path: PathMark) -> None:
        if len(path.xs):
            width = self._width(path.role, path.width)
            line = Line2D(path.xs, path.ys, color=self._theme.outline(path.role), linewidth=width)
            line.set_marker("")
            halo = Stroke(linewidth=width + 2 * _HALO * _POINTS, foreground=self._theme.ground)
            line.set_path_effects([halo, Normal()])  # it stays visible over bars of any color
            theme_dash = self._theme.dashes.get(path.role.partition(":")[0])
            dash = _DASHES.get(path.pattern) if path.pattern else theme_dash
            if dash:
                line.set_linestyle((0, dash))
            self._add(line, path.level or _LINE)

    def _points(self, points: PointMarks) -> None:
        if not len(points.xs) or not points.radius:
            return
        edge = 1.4 if points.radius >= 3 else 0.0
        shape = points.shape or self._theme.markers.get(points.role.partition(":")[0], "round")
        marks = Line2D(
            points.xs,
            points.ys,
            linestyle="none",
            marker=_MARKERS.get(shape, "o"),
            markersize=2 * points.radius * _SHARE.get(shape, 1.0) * _POINTS,
            markerfacecolor=self._theme.color(points.role),
            markeredgecolor=self._theme.ground,
            markeredgewidth=edge * _POINTS,
        )
        self._add(marks, points.level or _POINT)

    def _text(self, mark: TextMark) -> None:
        text = Text(
            mark.x,
            mark.y,
            self._shown(mark.text, mark.bold),
            color=self._theme.color(mark.role),
            fontproperties=self._font(mark.size, bold=mark.bold),
            horizontalalignment=mark.ha,
            verticalalignment="baseline",
            rotation=mark.rotation,
            rotation_mode="anchor",
            usetex=False,
            parse_math=False,
        )
        self._add(text, _TEXT)
