"""A plan as real Matplotlib axes: ticks, titles, bars and lines that the caller changes as in any other figure.

Limits, ticks, widths and label places are the plan's; what Matplotlib has an artist of its own for is that artist. All
else (cutoffs, limits, brackets, bands) is drawn by the pen, at places that follow the axes.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import partial
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np
from matplotlib.artist import Artist
from matplotlib.axes import Axes
from matplotlib.axis import Axis, XAxis
from matplotlib.container import Container
from matplotlib.lines import Line2D
from matplotlib.patheffects import Normal, Stroke
from matplotlib.text import Text
from matplotlib.transforms import ScaledTranslation, Transform
from numpy.typing import NDArray

from vantric.core.charts.chart import Chart
from vantric.core.charts.series import Bars
from vantric.core.layout.axis_heads import head_parts, text_role
from vantric.core.layout.legend import entries
from vantric.core.layout.plan import PathMark, Plan, RectMarks, TextMark
from vantric.core.layout.text_layout import Sizes, TextMeasure, TextWriter
from vantric.core.layout.titles import balanced, head_lines
from vantric.core.layout.value_axes import ValueAxis, shown_ticks, tick_texts, value_axes
from vantric.core.numbers.number_format import readable as readable_name
from vantric.rendering.fonts import PER_INCH, drawable, font_properties
from vantric.rendering.mark_painter import MarkPainter
from vantric.rendering.native_places import (
    Anchors,
    Coordinates,
    GridAt,
    LinkedLimits,
    PlannedTexts,
    PlannedTicks,
    TickPlan,
    box_of,
    clip_when_moved,
    nearest_edge,
    usual_level,
)
from vantric.rendering.themes import GRID, LINE, OVER_BARS, TEXT, TEXT_HALO, readable, rule_level, theme_named
from vantric.rendering.themes import unit_of as picture_unit

if TYPE_CHECKING:
    from vantric.core.charts.bar_places import BarPlace
    from vantric.core.charts.series import Series

_POINTS = 72 / PER_INCH  # points of a plan pixel
_CATEGORIES = ("category", "category-quiet", "class-name")
#: Texts and rules that Matplotlib has artists of its own for.
_TITLES = ("title", "subtitle", "axis-title", "line-title")
_AXIS_RULES = ("grid", "axis", "baseline", "total-tick", "row")
_ROW = 1.7  # of a legend, as a share of its letters
_SAMPLE = 50.0  # pixels of a 1280 x 800 picture: a sample of a legend, with its spaces


class DrawnAxes(NamedTuple):
    """The axes of a drawn chart.

    Attributes
    ----------
    primary
        Categories from 0 and the primary values. Each series of bars is a container, each other one a line, by name.
    secondary
        The same categories and the secondary values; None where the chart has one value axis.
    """

    primary: Axes
    secondary: Axes | None


class NativeChart:
    """Draws one chart into axes.

    Parameters
    ----------
    axes
        The primary axes.
    chart, plan
        What is drawn, and where it is.
    families, measure
        The fonts of its texts, and how wide these are.
    """

    def __init__(self, axes: Axes, chart: Chart, plan: Plan, families: tuple[str, ...], measure: TextMeasure) -> None:
        self._axes, self._chart, self._plan = axes, chart, plan
        self._families, self._writer, self._theme = families, TextWriter(measure), theme_named(chart.theme)
        self._unit = max(picture_unit(plan), 0.6)
        self._twin: Axes | None = None
        if chart.secondary_axis:
            self._twin = axes.twiny() if plan.horizontal else axes.twinx()
        self._figure: Any = axes.get_figure(root=True)
        self._written = value_axes(chart, plan.scales)
        self._at_ticks = _tick_texts([axis for axis in self._written if axis])
        self._names = _series_names(chart)
        self._inside: list[Artist] = []  # what ends at the frame once the caller has moved the limits

    def draw(self, *, link: bool) -> DrawnAxes:
        """Draw everything."""
        before = set(self._axes.get_children())
        self._set_value_axes()
        self._set_category_axis()
        self._set_grid()
        self._draw_marks()
        self._write_texts()
        self._write_titles(self._set_legend())
        homes = self._homes()
        axes = [axis for home in homes for axis in (home.xaxis, home.yaxis)]
        if link and len(homes) == 2:
            LinkedLimits((homes[0], homes[1]), self._plan.scales, is_horizontal=self._plan.horizontal)
        clip_when_moved(homes, self._inside)
        for artist in (*(artist for home in homes for artist in home.get_children() if artist not in before), *axes):
            artist.set_zorder(usual_level(artist.get_zorder()))
        return DrawnAxes(self._axes, self._twin)

    def _home(self, *, is_secondary: bool) -> Axes:
        return self._twin if is_secondary and self._twin is not None else self._axes

    def _place(self, home: Axes) -> Coordinates:
        scales = self._plan.scales
        return Coordinates(self._plan, home, scales.primary if home is self._axes else scales.secondary)

    def _painter(self, home: Axes, to_picture: Transform | None = None) -> MarkPainter:
        place = self._place(home).by_limits() if to_picture is None else to_picture
        return MarkPainter(home, place, self._theme, self._families, unit=picture_unit(self._plan))

    def _value_axis(self, axes: Axes) -> Axis:
        return axes.xaxis if self._plan.horizontal else axes.yaxis

    def _font(self, size: float, *, bold: bool = False) -> Any:
        return font_properties(self._families, size, bold=bold)

    def _size(self, *roles: str) -> float:
        """Return the size of texts of some roles, in pixels."""
        sizes = Sizes.of(*self._plan.size)
        usual = {"title": sizes.title, "subtitle": sizes.subtitle, "tick": sizes.tick}
        there = (mark.size for mark in self._plan.texts if mark.role in roles)
        return next(there, usual.get(roles[0], sizes.axis_title))

    def _outside(self, role: str) -> str:
        """Return the color of a text outside the axes: it can be read on the figure's ground."""
        from matplotlib.colors import to_hex

        return readable(self._theme.color(role), to_hex(self._figure.get_facecolor()))

    def _set_value_axes(self) -> None:
        plan = self._plan
        self._axes.set_facecolor(self._theme.ground)
        for home, written in zip((self._axes, self._twin), self._written, strict=True):
            if home is None:
                continue
            scale, along = self._place(home).scale, "x" if plan.horizontal else "y"
            # The kind before the limits: Matplotlib sets limits anew where it changes.
            if scale.kind == "log":
                getattr(home, f"set_{along}scale")("log")
            getattr(home, f"set_{along}lim")(scale.lower, scale.upper)
            home.set_autoscale_on(False)
            home.spines[:].set_visible(False)
            if written is not None:
                self._set_ticks(self._value_axis(home), written)

    def _set_ticks(self, axis: Axis, written: ValueAxis) -> None:
        """Give a value axis the ticks of the plan: one that gave way to a marked value is not there."""
        chart = self._chart
        style, unit = (
            (chart.style, chart.primary_unit) if written.primary else (chart.secondary_style, chart.secondary_unit)
        )
        is_log = written.scale.kind == "log"
        texts = shown_ticks(written, self._plan.texts)
        planned = TickPlan(written.scale, texts, partial(tick_texts, style=style, unit=unit, is_log=is_log))
        axis.set_major_locator(PlannedTicks(planned))
        axis.set_major_formatter(PlannedTexts(planned))
        axis.minorticks_off()
        leads = chart.scales.shared_ticks or chart.grid_side == ("primary" if written.primary else "secondary")
        axis.set_tick_params(
            length=0.0 if leads else 4 * self._unit * _POINTS,
            color=self._theme.color("axis"),
            pad=7 * self._unit * _POINTS,
            labelcolor=self._outside(written.role),
        )
        self._set_tick_font(axis, self._size("tick"))

    def _set_tick_font(self, axis: Axis, size: float) -> None:
        """Give the ticks a font: those that there are, and by its family those that come."""
        font = self._font(size)
        axis.set_tick_params(labelsize=size * _POINTS)
        for tick in axis.get_major_ticks():
            for label in (tick.label1, tick.label2):
                label.set_fontproperties(font)

    def _set_category_axis(self) -> None:
        """Write the categories as the plan does: their lines, their slant, and without those that are left out."""
        plan, axes = self._plan, self._axes
        frame, place = plan.frame, self._place(axes)
        ends = (frame.bottom, frame.top) if plan.horizontal else (frame.left, frame.right)
        getattr(axes, "set_ylim" if plan.horizontal else "set_xlim")(*(round(place.category(end), 9) for end in ends))
        axis = axes.yaxis if plan.horizontal else axes.xaxis
        lines: dict[int, list[TextMark]] = {}
        for mark in filter(self._is_category, plan.texts):
            middle = (mark.box.bottom + mark.box.top) / 2 if plan.horizontal else (mark.box.left + mark.box.right) / 2
            nearest = np.abs(plan.centers - (mark.x if mark.rotation else middle)).argmin()
            lines.setdefault(int(nearest), []).append(mark)
        axis.set_ticks(list(lines), labels=["\n".join(mark.text for mark in own) for own in lines.values()])
        axis.set_tick_params(length=0, pad=(8 if plan.horizontal else 5) * self._unit * _POINTS)
        for tick, (first, *_) in zip(axis.get_major_ticks(), lines.values(), strict=False):
            tick.label1.set_fontproperties(self._font(first.size, bold=first.bold))
            tick.label1.set(color=self._outside(first.role), rotation=first.rotation)
            _as_text(tick.label1)
            if first.rotation:
                upright = first.rotation == 90
                tick.label1.set(ha="right", va="center" if upright else "top", rotation_mode="anchor")
        # A twin shares the categories: written twice they would lie on each other.
        if self._twin is not None:
            (self._twin.yaxis if plan.horizontal else self._twin.xaxis).set_visible(False)
        if not self._chart.has_neutral:
            foot = axes.spines["left" if plan.horizontal else "bottom"]
            foot.set(visible=True, color=self._theme.color("baseline"), zorder=LINE - 5)
            foot.set_linewidth(self._theme.width("baseline") * _POINTS)

    def _is_category(self, mark: TextMark) -> bool:
        frame = self._plan.frame
        end = mark.box.right - frame.left if self._plan.horizontal else mark.box.top - frame.bottom
        return mark.role in _CATEGORIES and end < 1

    def _set_grid(self) -> None:
        """Draw the one grid, under the bars, at the ticks of the axis that leads."""
        chart, along = self._chart, "x" if self._plan.horizontal else "y"
        look = {"color": self._theme.color("grid"), "linewidth": self._theme.width("grid") * _POINTS}
        # The caller's style may have grids of its own.
        for home in self._homes():
            home.grid(visible=False)
            self._value_axis(home).set_zorder(GRID)
        if chart.grid_side == "none":
            return
        if chart.grid_side == "primary" or self._twin is None or chart.scales.shared_ticks:
            self._axes.grid(visible=True, axis=along, **look)  # type: ignore[arg-type]
            return
        grid = GridAt(self._value_axis(self._twin), is_horizontal=self._plan.horizontal)
        grid.set(**look)
        grid.set(zorder=GRID, transform=self._axes.transAxes, in_layout=False)
        self._axes.add_artist(grid)

    def _draw_marks(self) -> None:
        chart, plan = self._chart, self._plan
        before = {artist for home in self._homes() for artist in home.get_children()}
        inside = self._painter(self._axes)
        inside.rects(self._cut(plan.bands), level=GRID - 1)
        places = chart.bar_places(abs(self._place(self._axes).slot))
        for number, (bars, place) in enumerate(zip(chart.bars, places, strict=True)):
            self._draw_bars(bars, place, plan.bars.levels[number * len(bars.values)])
        inside.rects(plan.rims, level=OVER_BARS / 2)
        for area in plan.areas:
            own = area.series >= 0 and chart.series[area.series].secondary
            self._painter(self._home(is_secondary=own)).area(area)
        for number, series in enumerate(chart.series):
            if not isinstance(series, Bars):
                self._draw_line(number, series)
        rules = [rule for rule in plan.rules if rule.role not in _AXIS_RULES or len(rule.xs) > 2]
        outside = [rule for rule in rules if not box_of(rule).within(plan.frame)]
        for rule in rules:
            if rule not in outside:
                self._draw_rule(rule)
        self._inside += [artist for home in self._homes() for artist in home.get_children() if artist not in before]
        for rule in outside:
            self._draw_rule(rule)

    def _homes(self) -> list[Axes]:
        return [home for home in (self._axes, self._twin) if home is not None]

    def _draw_rule(self, rule: PathMark) -> None:
        home = self._home(is_secondary=rule_level(rule) > 0)  # what is in front is over the lines of both
        box = box_of(rule)
        painter = self._painter(home, self._place(home).of(box))
        if len(rule.xs) > 2:
            painter.path(rule)
        else:
            painter.rules([rule])

    def _cut(self, rects: RectMarks) -> RectMarks:
        """Return rectangles cut at the frame: what is behind rows ends there."""
        frame = self._plan.frame
        low, high = np.array([frame.left, frame.bottom]), np.array([frame.right, frame.top])
        edges = np.column_stack((np.clip(rects.edges[:, :2], low, high), np.clip(rects.edges[:, 2:], low, high)))
        return replace(rects, edges=edges)

    def _draw_bars(self, bars: Bars, place: BarPlace, level: float) -> None:
        """Draw a series of bars as one container with its name."""
        home = self._home(is_secondary=bars.secondary)
        scale = self._place(home).scale
        low, high = place.low, place.high
        if scale.kind == "log":  # from the floor of the axis
            low = np.where(low > scale.lower, low, scale.lower)
        painter, roles = self._painter(home), bars.roles()
        hatches, edges = zip(
            *(painter.bar_style(role.partition(":")[0], bars.pattern or "") for role in roles), strict=True
        )
        look: dict[str, Any] = {
            "color": [self._theme.color(role) for role in roles],
            "edgecolor": [edge or "none" for edge in edges],
            "linewidth": [_POINTS if edge else 0.0 for edge in edges],
            "label": bars.name,
            "zorder": level,
            "clip_on": self._plan.clipped,
            **({"hatch": list(hatches)} if any(hatches) else {}),
        }
        middles = np.arange(len(bars.values)) - 0.5 + place.start + place.width / 2
        if self._plan.horizontal:
            self._name(home.barh(middles, high - low, place.width, left=low, **look), home)
        else:
            self._name(home.bar(middles, high - low, place.width, bottom=low, **look), home)

    def _draw_line(self, number: int, series: Series) -> None:
        """Draw a series as one line whose data are its values; its stems and larger points are beside it."""
        home, plan = self._home(is_secondary=series.secondary), self._plan
        painter = self._painter(home)
        paths = [path for path in plan.paths if path.series == number]
        points = [marks for marks in plan.drawn_points if marks.series == number]
        look: dict[str, Any] = {"linestyle": "none", "marker": ""}
        if series.kind == "stems":
            for path in paths:
                painter.path(path)
        elif paths:
            look = painter.line_style(paths[0])
        places, values = self._values(series)
        if points and points[0].radius:
            look |= painter.marker_style(points[0])
            own = np.flatnonzero(np.isfinite(points[0].xs)) + self._shift
            look["markevery"] = np.flatnonzero(np.isin(places, own)).tolist()
        if series.kind == "steps":
            look["drawstyle"] = "steps-mid"
        level = next((level for level in (*(path.level for path in paths), *(marks.level for marks in points))), LINE)
        xs, ys = (values, places) if plan.horizontal else (places, values)
        line = Line2D(xs, ys, label=series.name, zorder=level, **look)
        home.add_line(line)
        # Whole points on the frame: a line is cut there only where the plan or the caller cuts it.
        line.set_clip_on(plan.clipped)
        for marks in points[1:]:
            painter.points(marks)
        self._name(Container((line,), label=series.name), home)

    @property
    def _shift(self) -> float:
        """How far points are from the middles of their categories."""
        return 0.5 if self._chart.line_at == "edge" else 0.0

    def _values(self, series: Series) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        """Return the places and values of a line: bridged without gaps, from the origin where points are at edges."""
        values = np.array(series.values, dtype=np.float64)
        places = np.arange(len(values), dtype=np.float64) + self._shift
        if series.bridge:
            places, values = places[np.isfinite(values)], values[np.isfinite(values)]
        if self._chart.line_at == "edge" and series.kind == "line":
            return np.concatenate(([-0.5], places)), np.concatenate(([0.0], values))
        if series.kind == "steps" and len(values):  # as far as its categories are wide
            places = np.concatenate((places[:1] - 0.5, places, places[-1:] + 0.5))
            values = np.concatenate((values[:1], values, values[-1:]))
        return places, values

    def _name(self, container: Container, home: Axes) -> None:
        """Have the legend of the primary axes name what the secondary ones hold."""
        if home is not self._axes:
            self._axes.containers.append(container)

    def _write_texts(self) -> None:
        """Write every label so many points from the mark it is of, and what is around the frame at its edge."""
        anchors, printable = Anchors(self._chart, self._plan), drawable(self._families)
        for mark in self._plan.texts:
            if self._is_category(mark) or mark.role in _TITLES or self._is_at_axis(mark):
                continue
            outside = not mark.box.overlaps(self._plan.frame)
            x, y, is_secondary = (*nearest_edge(mark, self._plan.frame), False) if outside else anchors.nearest(mark)
            home = self._home(is_secondary=is_secondary)
            inch = self._figure.dpi_scale_trans
            down = self._under_ticks() if mark.role == "note" and self._plan.horizontal else 0.0
            shift = ScaledTranslation((mark.x - x) / PER_INCH, (mark.y - y - down) / PER_INCH, inch)
            text = home.text(
                x,
                y,
                printable(mark.text, mark.bold),
                color=self._outside(mark.role) if outside else self._theme.color(mark.role),
                fontproperties=self._font(mark.size, bold=mark.bold),
                horizontalalignment=mark.ha,
                rotation=mark.rotation,
                rotation_mode="anchor",
                parse_math=False,
                transform=self._place(home).of(mark.box if outside else self._plan.frame) + shift,
                zorder=TEXT,
            )
            if not outside:
                self._inside.append(text)
            if mark.halo:
                halo = Stroke(linewidth=TEXT_HALO * mark.size * _POINTS, foreground=self._theme.color(mark.halo))
                text.set_path_effects([halo, Normal()])

    def _is_at_axis(self, mark: TextMark) -> bool:
        """Whether Matplotlib writes a text: at a tick, or as the name of a series."""
        return not mark.box.overlaps(self._plan.frame) and (mark.text, mark.role) in self._at_ticks | self._names

    def _set_legend(self) -> float:
        """Name the series above the axes where the titles of these do not, and return the height that takes."""
        chart, names = self._chart, self._axes.get_legend_handles_labels()[1]
        sides = [[series for series in chart.series if series.secondary is side] for side in (False, True)]
        if chart.legend in ("none", "ends") or max(map(len, sides)) < 2 or chart.is_cumulative:
            return 0.0
        size, frame = self._size("legend", "axis-title"), self._plan.frame
        widest = max(self._writer.width(name, size) for name in names) + _SAMPLE * self._unit
        columns = max(1, min(len(names), int(frame.width // widest)))
        key = self._axes.legend(
            loc="lower left", bbox_to_anchor=(0.0, 1.0), ncols=columns, prop=self._font(size), frameon=False
        )
        for text in key.get_texts():
            text.set_color(self._outside("legend"))
            _as_text(text)
        return -(-len(names) // columns) * _ROW * size + 8 * self._unit

    def _write_titles(self, above: float) -> None:
        """Write the titles of the axes, and the head above what is over the frame; `above` is a legend's height."""
        chart, plan = self._chart, self._plan
        for home, text, side in ((self._axes, chart.primary_title, False), (self._twin, chart.secondary_title, True)):
            named = [series.name for series in chart.series if series.secondary is side]
            role = "line-title" if side and chart.is_cumulative else "axis-title"
            if home is not None:
                self._title(self._value_axis(home), text or (named[0] if len(named) == 1 else ""), role)
        self._title(self._axes.yaxis if plan.horizontal else self._axes.xaxis, chart.category_title, "axis-title")
        frame, over = plan.frame, 0.0
        for mark in plan.texts:
            if (
                mark.role not in _TITLES
                and mark.box.bottom > frame.top - 1
                and (mark.text, mark.role) not in self._names
            ):
                over = max(over, mark.box.top - frame.top)
        if plan.horizontal and self._twin is not None:
            over += self._under_ticks()
        title, subtitle = self._size("title"), self._size("subtitle")
        lines = head_lines(chart.subtitle, subtitle, False, frame.width, 2, self._writer) if chart.subtitle else []
        # A child of the axes: Matplotlib keeps the title above it, whatever the title becomes.
        head = self._axes.inset_axes((0.0, 1.0, 1.0, 1e-6), zorder=GRID)
        head.set(xticks=[], yticks=[])
        head.xaxis.set_label_position("top")
        head.spines[:].set_visible(False)
        head.patch.set_visible(False)
        pad = max(over, above) + 9 * self._unit + 0.3 * subtitle
        head.set_xlabel("\n".join(lines) or " ", labelpad=pad * _POINTS, color=self._outside("subtitle"))
        head.xaxis.label.set_fontproperties(self._font(subtitle if lines else 1.0))
        _as_text(head.xaxis.label)
        heads = balanced(head_lines(chart.title, title, True, frame.width, 3, self._writer), title, True, self._writer)
        if chart.title:
            written = self._axes.set_title("\n".join(heads), color=self._outside("title"))
            written.set_fontproperties(self._font(title, bold=True))
            _as_text(written)

    def _under_ticks(self) -> float:
        """Return the height of the title of a value axis above or below its ticks: the plan has it beside them."""
        return 1.8 * self._size("axis-title", "line-title")

    def _title(self, axis: Axis, text: str, role: str) -> None:
        size, frame = self._size("axis-title", "line-title"), self._plan.frame
        length = frame.width if isinstance(axis, XAxis) else frame.height
        lines = head_lines(text, size, True, length, 2, self._writer) if text else []
        axis.set_label_text("\n".join(lines), fontproperties=self._font(size, bold=True), color=self._outside(role))
        _as_text(axis.label)


def _tick_texts(axes: Sequence[ValueAxis]) -> set[tuple[str, str]]:
    """Return the text and role of what stands at ticks and marked values."""
    plain = {(text, axis.role) for axis in axes for text in axis.texts}
    return plain | {(text, role) for axis in axes for _, text, role in axis.special}


def _series_names(chart: Chart) -> set[tuple[str, str]]:
    """Return the text and role of what names series: above the axes, or in the legend's row."""
    named = {(part.text, part.role) for side in head_parts(chart) for part in side}
    if chart.legend == "ends":
        return named
    return named | {
        (readable_name(entry.name), role) for entry in entries(chart) for role in ("legend", text_role(entry))
    }


def _as_text(label: Text) -> None:
    """Have signs that would stand for a formula be signs; where there are none, the caller's own may be one."""
    if label.get_text().count("$") > 1:
        label.set_parse_math(False)
