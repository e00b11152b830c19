"""A plan: a chart with every position resolved.

All positions are in pixels of a picture of the plan's size, from its lower left corner, y upward. Renderers draw a plan
and compute nothing.
"""

from __future__ import annotations

from dataclasses import field
from typing import TYPE_CHECKING, Literal, NamedTuple, TypeAlias

import numpy as np

from vantric.base.lazily import dataclass
from vantric.core.axes import ScalePair
from vantric.core.numbers.number_format import listed, one_line

if TYPE_CHECKING:
    from vantric.core.numbers.amounts import Floats

Side: TypeAlias = Literal["left", "center", "right"]


def point_role(role: str, suffix: str = "") -> str:
    """Return what the points of a line are, and their labels: a color of its own stays behind the colon."""
    name, colon, color = role.partition(":")
    return name.replace("line", "point") + suffix + colon + color


#: The rim of a pale bar, in pixels of a 1280 x 800 picture.
RIM = 2.8


def is_pale(role: str) -> bool:
    """Whether a bar has a pale body with a rim at its value end; one in a color of its own has none."""
    return role == "quiet" or role == "strong-c" or (role.startswith("pale-") and ":" not in role)


class Box(NamedTuple):
    """A rectangle."""

    left: float
    bottom: float
    right: float
    top: float

    @property
    def width(self) -> float:
        """Its extent along x."""
        return self.right - self.left

    @property
    def height(self) -> float:
        """Its extent along y."""
        return self.top - self.bottom

    def overlaps(self, other: Box) -> bool:
        """Whether the two share more than an edge."""
        return (
            self.left < other.right and other.left < self.right and self.bottom < other.top and other.bottom < self.top
        )

    def within(self, other: Box) -> bool:
        """Whether this one is inside `other`, edges included."""
        return (
            self.left >= other.left
            and self.right <= other.right
            and self.bottom >= other.bottom
            and self.top <= other.top
        )


class TextMark(NamedTuple):
    """A line of text; many are tried before one has its place.

    Attributes
    ----------
    x, y
        Its anchor: the left end, center or right end (`ha`) of the baseline; rotation turns about it.
    size
        Font size in pixels.
    role
        What it is, for the theme: ``"title"``, ``"tick"``, ...
    rotation
        In degrees, counter-clockwise.
    box
        What it covers, vertical.
    halo
        The role of what is beneath it, whose color is around its letters; empty for none.
    """

    text: str
    x: float
    y: float
    size: float
    role: str
    ha: Side
    bold: bool
    rotation: float
    box: Box
    halo: str = ""


@dataclass(frozen=True, eq=False)
class RectMarks:
    """Rectangles.

    Attributes
    ----------
    edges : ndarray of shape (n, 4)
        Left, bottom, right, top.
    roles
        What each is, for the theme.
    levels
        How far in front each is; all alike if empty.
    patterns
        The pattern of each in place of the theme's; empty for the theme's.
    """

    edges: Floats
    roles: tuple[str, ...]
    levels: tuple[int, ...] = ()
    patterns: tuple[str, ...] = ()


@dataclass(frozen=True, eq=False)
class PathMark:
    """A polyline through `xs` and `ys`, of shape (n,).

    `width` in pixels of a 1280 x 800 picture and `pattern` are in place of the theme's; `level` is how far in front it
    is; `series` is the number of its series in the chart, -1 for none, and `category` that of its category.
    """

    xs: Floats
    ys: Floats
    role: str
    width: float | None = None
    pattern: str = ""
    level: float = 0
    series: int = -1
    category: int = -1


@dataclass(frozen=True, eq=False)
class AreaMark:
    """A filled shape with corners at `xs` and `ys`, of shape (n,); `series` as of a path."""

    xs: Floats
    ys: Floats
    role: str
    level: int = 0
    series: int = -1


@dataclass(frozen=True, eq=False)
class PointMarks:
    """Markers of one radius and shape at `xs` and `ys`, of shape (n,); NaN where there is none.

    `shape` is in place of the theme's; a radius of zero draws nothing; `series` as of a path; `hollow` points have
    the color of the ground inside.
    """

    xs: Floats
    ys: Floats
    radius: float
    role: str
    shape: str = ""
    level: int = 0
    series: int = -1
    hollow: bool = False


@dataclass(frozen=True)
class LeftOut:
    """What found no place: the labels of a series at some categories, or all but the telling ones.

    Attributes
    ----------
    name
        The series; empty for the names of categories.
    categories
        At which categories.
    thinned
        Whether only the highest, the lowest, the first and the last value have labels, as many would not be read.
    """

    name: str
    categories: tuple[str, ...]
    thinned: bool = False

    def __str__(self) -> str:
        place = listed([one_line(name, longest=40) for name in self.categories], most=6)
        if not self.name:
            return f"the names of {place}"
        if self.thinned:
            return f"'{one_line(self.name, longest=40)}' but for its highest, lowest, first and last value"
        return f"'{one_line(self.name, longest=40)}' at {place}"


@dataclass(frozen=True, eq=False)
class Plan:
    """Everything a renderer needs.

    Attributes
    ----------
    size
        Width and height of the picture.
    frame
        The rectangle between the axes.
    scales
        The two value axes.
    centers : ndarray of shape (n,)
        Where each category is along the category axis: x, or y of a horizontal chart.
    bars, areas, paths, point_sets
        The marks of the series: a path a line, one a part where values are missing, and a set of points.
    drawn_points
        The points as they are drawn: hollow within a limit, larger at a cutoff.
    bands
        Between two values of an axis, behind everything.
    rules
        Grid, axis lines, ticks, the cutoff and leaders, as straight lines with a role each.
    swatches, swatch_areas, swatch_paths, swatch_points
        The legend's samples.
    texts
        Every line of text.
    left_out
        How many labels that were asked for found no place.
    missing
        Which labels and names of categories are not there because space is lacking.
    rims
        The value ends of pale bars.
    title, description
        The text alternative.
    clipped
        Whether limits cut values off: nothing of the series is then drawn beyond the frame.
    """

    size: tuple[float, float]
    frame: Box
    scales: ScalePair
    centers: Floats
    bars: RectMarks
    paths: tuple[PathMark, ...]
    point_sets: tuple[PointMarks, ...]
    rules: tuple[PathMark, ...]
    swatches: RectMarks
    swatch_paths: tuple[PathMark, ...]
    swatch_points: tuple[PointMarks, ...]
    texts: tuple[TextMark, ...]
    left_out: int
    title: str
    description: str
    horizontal: bool = False
    areas: tuple[AreaMark, ...] = ()
    bands: RectMarks = field(default_factory=lambda: RectMarks(np.empty((0, 4)), ()))
    swatch_areas: tuple[AreaMark, ...] = ()
    missing: tuple[LeftOut, ...] = ()
    drawn_points: tuple[PointMarks, ...] = ()
    rims: RectMarks = field(default_factory=lambda: RectMarks(np.empty((0, 4)), ()))
    clipped: bool = False

    @property
    def path(self) -> PathMark:
        """The path of the first line; empty if there is none."""
        return self.paths[0] if self.paths else PathMark(np.empty(0), np.empty(0), "line")

    @property
    def points(self) -> PointMarks:
        """The points of the first line; empty if there is none."""
        return self.point_sets[0] if self.point_sets else PointMarks(np.empty(0), np.empty(0), 0.0, "point")

    def primary_y(self, values: Floats | float) -> Floats:
        """Return the height of values on the primary axis."""
        return self.frame.bottom + self.scales.primary.fraction(values) * self.frame.height

    def secondary_y(self, values: Floats | float) -> Floats:
        """Return the height of values on the secondary axis."""
        return self.frame.bottom + self.scales.secondary.fraction(values) * self.frame.height
