"""The pen: each mark of a plan drawn with Matplotlib."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterable, Iterator
from functools import lru_cache, partial
from typing import Any, TypeAlias

import numpy as np
from matplotlib.axes import Axes
from matplotlib.collections import LineCollection, PolyCollection
from matplotlib.colors import to_rgba
from matplotlib.figure import Figure
from matplotlib.lines import Line2D
from matplotlib.patches import PathPatch, Rectangle
from matplotlib.path import Path
from matplotlib.patheffects import Normal, Stroke
from matplotlib.text import Text
from matplotlib.transforms import Affine2D, Transform
from numpy.typing import NDArray

from vantric.core.layout import PanelPlan, Plan
from vantric.core.layout.plan import AreaMark, Box, PathMark, PointMarks, RectMarks, TextMark
from vantric.core.layout.text_layout import is_measured
from vantric.rendering.fonts import BASE_FAMILY, PER_INCH, drawable, font_properties, outline, stride
from vantric.rendering.themes import (
    BAND,
    BARS,
    DASHES,
    DEFAULT_SIZE,
    GROUND,
    HALO,
    HALOED,
    HOLLOW,
    LEADER,
    LINE,
    OUTLINE,
    OVER_BARS,
    POINT,
    SHADE,
    SHARES,
    STROKE,
    TEXT,
    TEXT_HALO,
    UNSHADED,
    Theme,
    point_edge,
    rule_level,
)

#: How much of a text's width is left of its place.
_SHARES = {"left": 0.0, "center": 0.5, "right": 1.0}


#: Corners and codes of a shape.
_Outline: TypeAlias = tuple[NDArray[Any], NDArray[Any]]


class TextOutlines:
    """Lines of text that are drawn together, color by color.

    Parameters
    ----------
    families
        The families that draw the picture.
    """

    def __init__(self, families: tuple[str, ...]) -> None:
        self._plain = families == (BASE_FAMILY,)
        self._lines: dict[str, list[_Outline]] = defaultdict(list)
        self._halos: dict[tuple[str, float], list[_Outline]] = defaultdict(list)

    def takes(self, mark: TextMark, color: str, left: float = 0.0, bottom: float = 0.0) -> bool:
        """Take a line of text if its signs are all the base family's own, each beside the one before."""
        if not self._plain or not is_measured(mark.text):
            return False
        shape = _placed(mark, left, bottom)
        if len(shape[1]):
            self._lines[color].append(shape)
        return True

    def halo(self, mark: TextMark, color: str, left: float = 0.0, bottom: float = 0.0) -> None:
        """Take the halo of a line of text; of one in other fonts there is none."""
        if self._plain and is_measured(mark.text):
            shape = _placed(mark, left, bottom)
            if len(shape[1]):
                self._halos[color, mark.size].append(shape)

    def halos(self) -> Iterator[tuple[str, float, Path]]:
        """Yield each color and size of text, and the shape of all its halos."""
        for (color, size), lines in self._halos.items():
            yield color, size, _path(lines)

    def shapes(self) -> Iterator[tuple[str, Path]]:
        """Yield each color and the shape of all its lines."""
        for color, lines in self._lines.items():
            yield color, _path(lines)


def _path(lines: list[_Outline]) -> Path:
    return Path(np.concatenate([corners for corners, _ in lines]), np.concatenate([codes for _, codes in lines]))


def _placed(mark: TextMark, left: float, bottom: float) -> _Outline:
    """Return the outlines of a line of text where it is."""
    corners, codes, width = _line(mark.text, mark.bold)
    turn = math.radians(mark.rotation)
    across, up = math.cos(turn), math.sin(turn)
    placed = (corners - np.array([_SHARES[mark.ha] * width, 0.0])) * mark.size
    turned = placed @ np.array([[across, up], [-up, across]])
    return turned + np.array([mark.x + left, mark.y + bottom]), codes


@lru_cache(maxsize=2048)
def _line(text: str, bold: bool) -> tuple[NDArray[Any], NDArray[Any], float]:
    """Return the corners of a line of text in ems from its left end, their codes, and its width."""
    corners, codes, position = [np.empty((0, 2))], [np.empty(0, dtype=np.uint8)], 0.0
    before = ""
    for sign in text:
        shape, own, _ = outline(sign, bold)
        position += stride(before, sign, bold)
        corners.append(shape + np.array([position, 0.0]))
        codes.append(own)
        before = sign
    return np.concatenate(corners), np.concatenate(codes), position + (outline(before, bold)[2] if before else 0.0)


_POINTS = 72 / PER_INCH  # points of a plan pixel
#: Our patterns in Matplotlib's letters.
_HATCHES = {"hatched": "///", "dotted": "...", "crossed": "xxx"}
_MARKERS: dict[str, Any] = {
    "stroke": [(-STROKE, -1), (STROKE, -1), (STROKE, 1), (-STROKE, 1)],
    "round": "o",
    "square": "s",
    "diamond": "D",
    "triangle": "^",
    "pointer": "v",
    "cross": "X",
}


class MarkPainter:
    """Draws marks given in plan pixels.

    Parameters
    ----------
    home
        What the artists belong to.
    to_picture
        Leads from plan pixels to where they are shown.
    theme, families
        The look, and the font families that draw the texts.
    unit
        How large the picture is beside one of 1280 x 800, for the widths of its lines.
    outlined
        Whether text becomes shapes where it can.
    in_layout
        Whether a layout engine makes room for what is drawn.
    """

    def __init__(
        self,
        home: Axes | Figure,
        to_picture: Transform,
        theme: Theme,
        families: tuple[str, ...],
        *,
        unit: float = 1.0,
        outlined: bool = False,
        in_layout: bool = False,
    ) -> None:
        self._outlines, self._is_outlined, self._in_layout = TextOutlines(families), outlined, in_layout
        self._home, self._theme = home, theme
        self._to_figure = to_picture
        self._font = lru_cache(maxsize=None)(partial(font_properties, families))
        self._shown = drawable(families)
        self._unit, self._corner = unit, (0.0, 0.0)
        self._clip: Box | None = None

    def draw(self, plan: Plan | PanelPlan) -> None:
        """Draw everything, from the ground up."""
        self._draw(plan)
        for color, size, shape in self._outlines.halos():
            halo = PathPatch(shape, facecolor="none", edgecolor=color, linewidth=TEXT_HALO * size * _POINTS, snap=False)
            halo.set_joinstyle("round")
            self._add(halo, TEXT - 1)
        for color, shape in self._outlines.shapes():
            self._add(PathPatch(shape, facecolor=color, linewidth=0, snap=False), TEXT)

    def _draw(self, plan: Plan | PanelPlan) -> None:
        self._unit = min(plan.size[0] / DEFAULT_SIZE[0], plan.size[1] / DEFAULT_SIZE[1])
        ground = Rectangle((0, 0), *plan.size, facecolor=self._theme.ground, edgecolor="none")
        self._add(ground, GROUND)
        if isinstance(plan, Plan):
            self._draw_one(plan)
            return
        self.above_panels(plan)
        whole, self._unit = self._to_figure, self._unit * 0.8
        for box, item in plan.panels:
            self._to_figure = Affine2D().translate(box.left, box.bottom) + whole
            self._corner = (box.left, box.bottom)
            self._draw_one(item)
        self._to_figure, self._corner = whole, (0.0, 0.0)

    def above_panels(self, plan: PanelPlan) -> None:
        """Draw what stands above and below all panels."""
        self.rects(plan.legend.rects)
        for area in plan.legend.areas:
            self.area(area)
        for path in plan.legend.paths:
            self.path(path)
        for points in plan.legend.points:
            self.points(points)
        for text in plan.texts:
            self.text(text)

    def _draw_one(self, plan: Plan) -> None:
        self.rects(plan.bands, level=BAND)
        self.rules(plan.rules)
        for rects in (plan.bars, plan.swatches):
            self.rects(rects)
        self.rects(plan.rims, level=OVER_BARS / 2)
        self._clip = plan.frame if plan.clipped else None
        for area in plan.areas:
            self.area(area)
        for path in plan.paths:
            self.path(path)
        self._clip = None
        for area in plan.swatch_areas:
            self.area(area)
        for path in plan.swatch_paths:
            self.path(path)
        for points in (*plan.drawn_points, *plan.swatch_points):
            self.points(points)
        patterned = {role for role, own in zip(plan.bars.roles, plan.bars.patterns, strict=False) if own in _HATCHES}
        for text in plan.texts:
            self._plate(text, patterned)
            self.text(text)

    def _plate(self, mark: TextMark, patterned: set[str]) -> None:
        """Wipe the pattern of a bar behind what is written on it."""
        role = mark.role.removeprefix("on-")
        if role != mark.role and (role in patterned or self._theme.hatches.get(role.partition(":")[0])):
            box = np.array([[mark.box.left - 2, mark.box.bottom - 1, mark.box.right + 2, mark.box.top + 1]])
            corners = [[(left, low), (right, low), (right, high), (left, high)] for left, low, right, high in box]
            self._add(PolyCollection(corners, facecolors=self._theme.color(role), linewidths=0), LEADER)

    def _add(self, artist: Any, level: float) -> None:
        artist.set_transform(self._to_figure)
        artist.set_zorder(level)
        artist.set_label("_mark")  # no legend names it
        artist.set_in_layout(self._in_layout)
        self._home.add_artist(artist)
        artist.set_clip_on(self._clip is not None)
        if self._clip is not None:
            frame = self._clip
            place = (frame.left, frame.bottom)
            artist.set_clip_path(Rectangle(place, frame.width, frame.height, transform=self._to_figure))

    def line_width(self, role: str, own: float | None = None) -> float:
        """Return the width of a line in points; `own` is in pixels, in place of the theme's."""
        return (self._theme.width(role) if own is None else own) * max(self._unit, 0.6) * _POINTS

    def rules(self, rules: Iterable[PathMark]) -> None:
        """Draw straight lines, those of a role together."""
        by_role: dict[tuple[str, float], list[Any]] = defaultdict(list)
        for mark in rules:
            level = rule_level(mark)
            by_role[mark.role, level].append(np.column_stack((mark.xs, mark.ys)))
        for (role, level), segments in by_role.items():
            dash = self._theme.dashes.get(role)
            lines = LineCollection(
                segments,
                colors=self._theme.color(role),
                linewidths=self.line_width(role),
                linestyles=(0, dash) if dash else "solid",
                capstyle="butt",
            )
            if role in HALOED:
                halo = Stroke(linewidth=self.line_width(role) + 2 * HALO * _POINTS, foreground=self._theme.ground)
                solid = LineCollection(segments, colors=self._theme.ground, linewidths=0)
                solid.set_path_effects([halo])
                self._add(solid, level - 1)
            self._add(lines, level)

    def rects(self, rects: RectMarks, *, level: float = BARS, shade: float | None = None) -> None:
        """Draw rectangles, those with a pattern, an outline or a level of their own apart from the plain ones."""
        by_kind: dict[tuple[str, str, float], list[int]] = defaultdict(list)
        colors = {role: to_rgba(self._theme.color(role)) for role in set(rects.roles)}
        for number, role in enumerate(rects.roles):
            name = role.partition(":")[0]
            own = rects.patterns[number] if rects.patterns else ""
            hatch, edge = self.bar_style(name, own)
            by_kind[hatch, edge, level + (rects.levels[number] if rects.levels else 0)].append(number)
        for (hatch, edge, front), numbers in by_kind.items():
            left, bottom, right, top = rects.edges[numbers].T
            # One array: the paths of rectangles of a list would be checked one by one.
            corners: Any = np.stack([left, bottom, right, bottom, right, top, left, top], axis=1).reshape(-1, 4, 2)
            marks = PolyCollection(
                corners,
                facecolors=np.array([colors[rects.roles[number]] for number in numbers]),
                edgecolors=edge or "none",
                linewidths=OUTLINE * _POINTS if edge else 0,
                hatch=hatch or None,
                alpha=shade,
            )
            self._add(marks, front)

    def bar_style(self, role: str, pattern: str = "") -> tuple[str, str]:
        """Return the hatch of a bar and the color of its outline, each empty for none."""
        hatch = _HATCHES.get(pattern, "") if pattern else self._theme.hatches.get(role, "")
        return hatch, self._theme.edges.get(role, self._theme.ground if hatch else "")

    def area(self, area: AreaMark) -> None:
        """Fill an area lightly, so that the grid and what is behind stay visible."""
        corners = [np.column_stack((area.xs, area.ys))]
        marks = PolyCollection(
            corners,
            facecolors=self._theme.color(area.role),
            edgecolors=self._theme.outline(area.role),
            linewidths=0,
            hatch=self._theme.hatches.get(area.role),
            alpha=None if area.role in UNSHADED else SHADE,
        )
        self._add(marks, area.level)

    def path(self, path: PathMark) -> None:
        """Draw a line, which has a halo."""
        if len(path.xs):
            self._add(Line2D(path.xs, path.ys, **self.line_style(path)), path.level or LINE)

    def line_style(self, path: PathMark) -> dict[str, Any]:
        """Return how a line looks, as Matplotlib calls it; its halo keeps it visible over bars of any color."""
        width = self.line_width(path.role, path.width)
        halo = Stroke(linewidth=width + 2 * HALO * _POINTS, foreground=self._theme.ground)
        theme_dash = self._theme.dashes.get(path.role.partition(":")[0])
        dash = DASHES.get(path.pattern) if path.pattern else theme_dash
        return {
            "color": self._theme.outline(path.role),
            "linewidth": width,
            "linestyle": (0, dash) if dash else "solid",
            "marker": "",
            "path_effects": [halo, Normal()],
        }

    def points(self, points: PointMarks) -> None:
        """Draw markers."""
        if not len(points.xs) or not points.radius:
            return
        marks = Line2D(points.xs, points.ys, linestyle="none", **self.marker_style(points))
        self._add(marks, points.level or POINT)

    def marker_style(self, points: PointMarks) -> dict[str, Any]:
        """Return how markers look, as Matplotlib calls it."""
        shape = points.shape or self._theme.markers.get(points.role.partition(":")[0], "round")
        color, ground = self._theme.color(points.role), self._theme.ground
        return {
            "marker": _MARKERS.get(shape, "o"),
            "markersize": 2 * points.radius * SHARES.get(shape, 1.0) * _POINTS,
            "markerfacecolor": ground if points.hollow else color,
            "markeredgecolor": color if points.hollow else ground,
            "markeredgewidth": (HOLLOW if points.hollow else point_edge(points)) * _POINTS,
        }

    def text(self, mark: TextMark) -> None:
        """Draw a line of text."""
        if mark.halo:
            self._outlines.halo(mark, self._theme.color(mark.halo), *self._corner)
        if self._is_outlined and self._outlines.takes(mark, self._theme.color(mark.role), *self._corner):
            return
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
        self._add(text, TEXT)
