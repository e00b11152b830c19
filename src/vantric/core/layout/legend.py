"""The legend: a sample and a name for each thing drawn, in rows above or below the frame, or in a column beside it."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

import numpy as np

from vantric.core.charts.chart import Chart
from vantric.core.charts.series import Bars, Points, Series
from vantric.core.layout.plan import RIM, AreaMark, PathMark, PointMarks, RectMarks, TextMark, is_pale, point_role
from vantric.core.layout.text_layout import Sizes, TextWriter, fitted, line_height
from vantric.core.numbers.number_format import readable

_MOST_WIDTH = 0.24  # of the picture, for a column beside the frame
_WIDE, _SMALL = 20.0, 11.0  # samples of lines and of all else

_ENDS_WIDTH = 0.2  # of the picture, for names at the ends of lines
#: Pixels between the end of a line and its name.
_ENDS_GAP = 14.0
#: Between the end of a line and its name, in pixels of a 1280 x 800 picture.
END_LEAD = 10.0


@dataclass(frozen=True)
class Entry:
    """One thing that the legend explains: its kind, role and name, and the series it is of."""

    kind: str
    role: str
    name: str
    series: Series | None = None

    @property
    def width(self) -> float:
        """The width of its sample in pixels of a 1280 x 800 picture."""
        if self.kind == "points" and self.series and self.series.spreads:
            return _WIDE
        return {"line": _WIDE, "steps": _WIDE, "remark": 0.0}.get(self.kind, _SMALL)


@dataclass
class Samples:
    """The samples and names of a legend that is being set."""

    texts: list[TextMark] = field(default_factory=list)
    rects: list[tuple[float, float, float, float]] = field(default_factory=list)
    roles: list[str] = field(default_factory=list)
    patterns: list[str] = field(default_factory=list)
    areas: list[AreaMark] = field(default_factory=list)
    paths: list[PathMark] = field(default_factory=list)
    points: list[PointMarks] = field(default_factory=list)

    def bar(self, edges: tuple[float, float, float, float], role: str, pattern: str, rim: float) -> None:
        """Add the sample of bars; that of pale ones has a rim."""
        left, _, right, top = edges
        self.rects += [edges, *([(left, top - rim, right, top)] if is_pale(role) else [])]
        self.roles += [role, *([f"rim-{role}"] if is_pale(role) else [])]
        self.patterns += [pattern, *([""] if is_pale(role) else [])]

    def legend(self, height: float, left_out: tuple[str, ...] = ()) -> Legend:
        """Return what was set as a legend of a height."""
        edges = np.array(self.rects, dtype=np.float64).reshape(-1, 4)
        rects = RectMarks(edges, tuple(self.roles), (), tuple(self.patterns))
        return Legend(
            tuple(self.texts), rects, tuple(self.areas), tuple(self.paths), tuple(self.points), height, left_out
        )


@dataclass(frozen=True)
class Legend:
    """A placed legend, the height it takes, and the names for which a column has no room."""

    texts: tuple[TextMark, ...]
    rects: RectMarks
    areas: tuple[AreaMark, ...]
    paths: tuple[PathMark, ...]
    points: tuple[PointMarks, ...]
    height: float
    left_out: tuple[str, ...] = ()

    @classmethod
    def nothing(cls) -> Legend:
        """Return a legend of nothing."""
        return Samples().legend(0.0)

    @classmethod
    def of_texts(cls, texts: tuple[TextMark, ...]) -> Legend:
        """Return texts as a legend without samples."""
        return replace(cls.nothing(), texts=texts)

    def joined(self, other: Legend) -> Legend:
        """Return this legend and the marks of another one."""
        rects = RectMarks(
            np.concatenate((self.rects.edges, other.rects.edges)),
            (*self.rects.roles, *other.rects.roles),
            (),
            (*self.rects.patterns, *other.rects.patterns),
        )
        return replace(
            self,
            texts=(*self.texts, *other.texts),
            rects=rects,
            areas=(*self.areas, *other.areas),
            paths=(*self.paths, *other.paths),
            points=(*self.points, *other.points),
        )


def entries(chart: Chart) -> list[Entry]:
    """Return everything that the legend explains: bars first; at the line ends lines are named there."""
    named: list[Entry] = []
    for series in chart.bars:
        roles = series.roles()
        if series.strong is None:
            named.append(Entry("bars", _common(roles, series.role), series.name, series))
        else:
            places = series.strong_places
            strong = [role for index, role in enumerate(roles) if index in places]
            quiet = [role for index, role in enumerate(roles) if index not in places]
            named += [Entry("bars", _common(strong, "strong"), series.strong_name, series)] if strong else []
            named += [Entry("bars", _common(quiet, series.quiet_role), series.quiet_name, series)] if quiet else []
    for series in chart.bars:
        named += [Entry("interval", "interval", series.spread_name, series)] if series.spread_name else []
        named += [Entry("band", "band", series.band_name, series)] if series.band_name else []
    others = [item for item in chart.marked if chart.legend != "ends" or not at_end(item)]
    bands = [item for item in others if item.role.partition(":")[0] == "band-edge"]
    named += [Entry("band", "band", item.spread_name, item) for item in bands if item.spread_name]
    others = [item for item in others if item not in bands]
    return [*named, *(Entry(other.kind, other.role, other.spread_name or other.name, other) for other in others)]


def at_end(series: Series) -> bool:
    """Whether a series has an end at which it can be named."""
    return series.kind in ("line", "steps", "area") and any(value == value for value in series.values)


def ends_width(chart: Chart, width: float, sizes: Sizes, writer: TextWriter) -> float:
    """Return the room that names at the line ends take behind the last category."""
    names = [readable(series.name) for series in chart.marked if at_end(series)] if chart.legend == "ends" else []
    if not names:
        return 0.0
    longest = max(writer.width(name, sizes.label, bold=True) for name in names)
    return min(longest, _ENDS_WIDTH * width) + sizes.px(_ENDS_GAP + END_LEAD)


def _common(roles: list[str], else_role: str) -> str:
    """Return the one role that all bars share; the theme's if they differ."""
    return roles[0] if len(set(roles)) == 1 else else_role


def legend_width(chart: Chart, width: float, sizes: Sizes, writer: TextWriter) -> float:
    """Return the width of a column beside the frame."""
    longest = max((writer.width(readable(entry.name), sizes.label) for entry in entries(chart)), default=0.0)
    return min(_MOST_WIDTH * width, longest + sizes.px(_WIDE + 8))


def legend(
    chart: Chart,
    left: float,
    right: float,
    top: float,
    sizes: Sizes,
    writer: TextWriter,
    *,
    extra: str = "",
    column: bool = False,
    bottom: float = 0.0,
) -> Legend:
    """Set the legend in as many rows as it takes between `left` and `right`, from `top` downward.

    Parameters
    ----------
    extra
        A remark that found no place beside the marks; it is behind the last name.
    column
        Whether each name has a row of its own.
    bottom
        Where a column ends: names for which there is no room are left out.
    """
    out = Samples()
    size, row = sizes.label, line_height(sizes.label) + sizes.px(4)
    x, y = left, top - row / 2
    named = [] if chart.legend == "none" else entries(chart)
    left_out: tuple[str, ...] = ()
    most = max(1, int((top - bottom) / row) - (1 if extra else 0))
    if column and len(named) > most:
        left_out = tuple(entry.name for entry in named[most - 1 :])
        named = [*named[: most - 1], Entry("remark", "legend", f"+ {len(left_out)} …")]
    for entry in [*named, *([Entry("remark", "cut-text", extra)] if extra else [])]:
        remark = entry.role == "cut-text"
        sample = sizes.px(entry.width)
        gap = sizes.px(8) if sample else 0.0
        text = fitted(readable(entry.name), size, remark, right - left - sample - gap, writer.measure)
        needed = sample + gap + writer.width(text, size, bold=remark)
        if x > left and (column or x + needed > right):
            x, y = left, y - row
        draw_sample(out, entry, x, y, sample, sizes)
        out.texts.append(
            writer.middle(text, x + sample + gap, y, size, entry.role if remark else "legend", bold=remark)
        )
        x += needed + sizes.px(20)
    return out.legend(top - y + row / 2 if out.texts else 0.0, left_out)


def _draw_band(out: Samples, series: Series, x: float, width: float, ends: tuple[float, float]) -> None:
    """Draw a small piece of a band; that of control limits has edges."""
    low, high = ends
    out.areas.append(AreaMark(np.array([x, x, x + width, x + width]), np.array([low, high, high, low]), "band"))
    if not isinstance(series, Bars):
        across = np.array([x, x + width])
        out.paths += [PathMark(across, np.full(2, edge), series.role, 1.0) for edge in ends]


def draw_sample(out: Samples, entry: Entry, x: float, y: float, width: float, sizes: Sizes) -> None:
    """Draw a small piece of what is named, its left end at `x`, its middle at `y`."""
    series = entry.series
    if series is None:
        return
    low, high = y - sizes.px(_SMALL) / 2, y + sizes.px(_SMALL) / 2
    if entry.kind == "interval":
        out.paths.append(PathMark(np.full(2, x + width / 2), np.array([low, high]), entry.role, 1.3))
    elif entry.kind == "band":
        _draw_band(out, series, x, width, (y - (high - low) / 4, y + (high - low) / 4))
    if entry.kind in ("interval", "band"):
        return
    if isinstance(series, Bars):
        out.bar((x, low, x + width, high), entry.role, series.pattern or "", sizes.px(RIM))
        return
    middle, pattern = x + width / 2, series.pattern or ""
    if entry.kind == "area":
        xs, ys = np.array([x, x, x + width, x + width]), np.array([low, high, high, low])
        out.areas.append(AreaMark(xs, ys, entry.role))
        out.paths.append(PathMark(xs[1:3], ys[1:3], entry.role, series.width, pattern))
    elif entry.kind == "stems":
        out.paths.append(PathMark(np.full(2, middle), np.array([low, high]), entry.role, series.width or 2.0, pattern))
    elif entry.kind != "points" or series.spreads:
        out.paths.append(PathMark(np.array([x, x + width]), np.full(2, y), entry.role, series.width, pattern))
    bare = entry.kind in ("area", "steps") and series.marker is None
    if not bare and series.marker != "none":
        radius = sizes.px(3 if series.marker_size is None else min(series.marker_size, _SMALL) / 2)
        position = high - radius if entry.kind == "stems" else y
        place = np.array([middle]), np.array([position])
        is_hollow = isinstance(series, Points) and series.hollow
        role, shape = point_role(entry.role), series.marker or ""
        out.points.append(PointMarks(*place, radius, role, shape, hollow=is_hollow))
