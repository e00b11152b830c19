"""A plan: a chart with every position resolved.

All positions are in pixels of a picture of the plan's size, from its lower left corner, y upward. Renderers draw a plan
and compute nothing.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, NamedTuple, TypeAlias

import numpy as np
from numpy.typing import NDArray

from vantric.core.axes import ScalePair

Side: TypeAlias = Literal["left", "center", "right"]


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
        """Whether this one lies inside `other`, edges included."""
        return (
            self.left >= other.left
            and self.right <= other.right
            and self.bottom >= other.bottom
            and self.top <= other.top
        )


@dataclass(frozen=True)
class TextMark:
    """A line of text.

    Attributes
    ----------
    x, y
        Its anchor: the left end, centre or right end (`ha`) of the baseline; rotation turns about it.
    size
        Font size in pixels.
    role
        What it is, for the theme: ``"title"``, ``"tick"``, ...
    rotation
        In degrees, counter-clockwise.
    box
        What it covers, upright.
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


@dataclass(frozen=True, eq=False)
class RectMarks:
    """Rectangles: `edges` is of shape (n, 4): left, bottom, right, top; `roles` has n names."""

    edges: NDArray[np.float64]
    roles: tuple[str, ...]


@dataclass(frozen=True, eq=False)
class PathMark:
    """A polyline through `xs` and `ys`, of shape (n,)."""

    xs: NDArray[np.float64]
    ys: NDArray[np.float64]
    role: str


@dataclass(frozen=True, eq=False)
class PointMarks:
    """Round markers of one radius at `xs` and `ys`, of shape (n,)."""

    xs: NDArray[np.float64]
    ys: NDArray[np.float64]
    radius: float
    role: str


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
    centres : ndarray of shape (n,)
        Where each category stands along x.
    bars, path, points
        The marks of the series.
    rules
        Grid, axis lines, ticks and the cut-off, as straight lines with a role each.
    swatches, swatch_paths, swatch_points
        The legend's samples.
    texts
        Every line of text.
    left_out
        How many value labels found no place.
    clear : ndarray of shape (k, 4)
        Rectangles behind labels in which the grid is not drawn.
    title, description
        The text alternative.
    """

    size: tuple[float, float]
    frame: Box
    scales: ScalePair
    centres: NDArray[np.float64]
    bars: RectMarks
    path: PathMark
    points: PointMarks
    rules: tuple[PathMark, ...]
    swatches: RectMarks
    swatch_paths: tuple[PathMark, ...]
    swatch_points: PointMarks
    texts: tuple[TextMark, ...]
    left_out: int
    clear: NDArray[np.float64]
    title: str
    description: str

    def primary_y(self, values: NDArray[np.float64] | float) -> NDArray[np.float64]:
        """Return the height of values on the primary axis."""
        return self.frame.bottom + self.scales.primary.fraction(values) * self.frame.height

    def secondary_y(self, values: NDArray[np.float64] | float) -> NDArray[np.float64]:
        """Return the height of values on the secondary axis."""
        return self.frame.bottom + self.scales.secondary.fraction(values) * self.frame.height
