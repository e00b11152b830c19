"""How a plan becomes axes of Matplotlib: ticks and texts, limits that move together, one grid, places of marks."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from typing import Any

import numpy as np
from matplotlib.artist import Artist
from matplotlib.axes import Axes
from matplotlib.axis import Axis
from matplotlib.collections import LineCollection
from matplotlib.ticker import Formatter, Locator
from matplotlib.transforms import Affine2D, Transform, blended_transform_factory

from vantric.base.lazily import dataclass
from vantric.core.axes import Scale, ScalePair
from vantric.core.charts.chart import Chart
from vantric.core.layout.plan import Box, PathMark, Plan, TextMark
from vantric.rendering.themes import GRID, TEXT

#: Ticks in view: where limits move so far that there are more or fewer, the step is made larger or smaller.
_FEWEST, _MOST = 3, 11
_DECADES = 300.0  # of a log axis
_COARSER, _FINER = (2, 5, 10, 20, 50, 100, 1000), (2, 5, 10, 20, 50, 100, 1000)


@dataclass(frozen=True)
class TickPlan:
    """What is written at a value axis: its scale, a text at each tick and marked value, and what writes others."""

    scale: Scale
    texts: Mapping[float, str]
    write: Callable[[Sequence[float]], Sequence[str]]


class PlannedTicks(Locator):
    """The ticks of a plan while its limits hold; under others multiples of its step, so that the grids still meet."""

    def __init__(self, plan: TickPlan) -> None:
        self._plan = plan

    def __call__(self) -> Any:
        """Return the ticks in view."""
        return self.tick_values(*self.axis.get_view_interval())  # type: ignore[union-attr]

    def tick_values(self, vmin: float, vmax: float) -> Any:
        """Return the ticks between two limits."""
        scale, (low, high) = self._plan.scale, sorted((vmin, vmax))
        if math.isclose(low, scale.lower, abs_tol=1e-12) and math.isclose(high, scale.upper):
            return list(self._plan.texts)
        if scale.kind == "log":
            powers = range(math.ceil(math.log10(low)), math.floor(math.log10(high)) + 1)
            return [10.0**power for power in powers[:: max(1, -(-len(powers) // _MOST))]] or [low, high]
        step, start = self._step(high - low), scale.ticks[0] if scale.ticks else scale.lower
        first, last = math.ceil((low - start) / step - 1e-6), math.floor((high - start) / step + 1e-6)
        return [start + step * place for place in range(first, last + 1)]

    def _step(self, span: float) -> float:
        """Return the step of the plan, or a multiple or a part of it."""
        step = self._plan.scale.step or span / _FEWEST
        if span / step > _MOST:
            return next((step * more for more in _COARSER if span / (step * more) <= _MOST), span / _FEWEST)
        if span / step < _FEWEST:
            return next((step / part for part in _FINER if span * part / step >= _FEWEST), span / _FEWEST)
        return step


class PlannedTexts(Formatter):
    """The texts of a plan at its ticks; at others the numbers as its axis writes them."""

    def __init__(self, plan: TickPlan) -> None:
        self._plan = plan

    def __call__(self, x: float, pos: int | None = None) -> str:
        """Return what is written at a value."""
        return self.format_ticks([x])[0]

    def format_ticks(self, values: Any) -> list[str]:
        """Return what is written at values that are shown together."""
        texts = self._plan.texts
        if all(value in texts for value in values):
            return [texts[value] for value in values]
        return list(self._plan.write([float(f"{value:.12g}") for value in values]))


class GridAt(LineCollection):
    """The grid at the ticks of one value axis, in axes of the same place that are behind: under their bars."""

    def __init__(self, leading: Axis, *, is_horizontal: bool) -> None:
        super().__init__([])
        self._leading, self._is_horizontal = leading, is_horizontal

    def draw(self, renderer: Any) -> None:
        """Draw the grid where the ticks are now."""
        transform, limits = self._leading.get_transform(), np.array(self._leading.get_view_interval())
        start, end = transform.transform(limits)
        shares = (transform.transform(np.asarray(self._leading.get_majorticklocs())) - start) / (end - start)
        inside = shares[(shares > 1e-9) & (shares <= 1 + 1e-9)]
        ends = [((share, 0.0), (share, 1.0)) for share in inside.tolist()]
        self.set_segments(ends if self._is_horizontal else [(start[::-1], end[::-1]) for start, end in ends])
        super().draw(renderer)


class LinkedLimits:
    """Moves one value axis with the other: both show the same part of their planned scales."""

    def __init__(self, axes: tuple[Axes, Axes], scales: ScalePair, *, is_horizontal: bool) -> None:
        self._name, self._is_moving = "x" if is_horizontal else "y", False
        (primary, secondary), (own, other) = axes, (scales.primary, scales.secondary)
        for source, target, pair in ((primary, secondary, (own, other)), (secondary, primary, (other, own))):
            source.callbacks.connect(f"{self._name}lim_changed", self._mover(target, *pair))

    def _mover(self, target: Axes, own: Scale, other: Scale) -> Callable[[Axes], None]:
        def move(source: Axes) -> None:
            # The other one tells of its own move at once, which would come back here.
            if self._is_moving:
                return
            self._is_moving = True
            try:
                ends = own.fraction(getattr(source, f"get_{self._name}lim")())
                getattr(target, f"set_{self._name}lim")(*(value_at(other, share) for share in ends.tolist()))
            finally:
                self._is_moving = False

        return move


def clip_when_moved(homes: Sequence[Axes], artists: Sequence[Artist]) -> None:
    """Cut artists at the frame from when limits are moved: under those of the plan a point on the frame is whole."""

    def clip(_: Axes) -> None:
        for artist in artists:
            artist.set_clip_on(True)

    for home in homes:
        for name in ("xlim_changed", "ylim_changed"):
            home.callbacks.connect(name, clip)


def usual_level(level: float) -> float:
    """Return how far in front a mark is in the steps of Matplotlib: its legends are in front of all."""
    if level < -1e6:  # bands, the grid, cutoffs
        return 0.4 + 0.1 * (level - GRID)
    return 1.5 + 1.2 * level / (abs(level) + 60.0) if level < 1e6 else 3.0 if level < TEXT - 1e6 else 4.0


def value_at(scale: Scale, share: float) -> float:
    """Return the value at a share of an axis: the inverse of `Scale.fraction`."""
    if scale.kind == "log":
        low, high = math.log10(scale.lower), math.log10(scale.upper)
        # Limits far beyond the plan's would pass the largest float.
        return float(10.0 ** min(max(low + share * (high - low), -_DECADES), _DECADES))
    return scale.lower + share * (scale.upper - scale.lower)


@dataclass(frozen=True)
class Coordinates:
    """Where the pixels of a plan are in axes of a scale: by their limits, or by their edges."""

    plan: Plan
    axes: Axes
    scale: Scale

    @property
    def slot(self) -> float:
        """The room of a category along its axis, in pixels; downward it is negative."""
        centers, frame = self.plan.centers, self.plan.frame
        if len(centers) > 1:
            return float(centers[1] - centers[0])
        return -frame.height if self.plan.horizontal else 2 * (float(centers[0]) - frame.left)

    def category(self, pixel: float) -> float:
        """Return the category at a pixel along the category axis, counted from 0 at its middle."""
        return (pixel - float(self.plan.centers[0])) / self.slot

    def by_limits(self) -> Transform:
        """Return the transform of marks that move with the limits."""
        frame, horizontal = self.plan.frame, self.plan.horizontal
        low, high = self.scale.lower, self.scale.upper
        if self.scale.kind == "log":
            low, high = np.log10(low), np.log10(high)
        first, length = (frame.left, frame.width) if horizontal else (frame.bottom, frame.height)
        up = ((high - low) / length, low - first * (high - low) / length)
        across = (1 / self.slot, -float(self.plan.centers[0]) / self.slot)
        (x, left), (y, bottom) = (up, across) if horizontal else (across, up)
        own = Affine2D(np.array([[x, 0, left], [0, y, bottom], [0, 0, 1.0]]))
        return own + self.axes.transLimits + self.axes.transAxes

    def by_edges(self) -> Transform:
        """Return the transform of what keeps its place at the edges of the axes."""
        frame = self.plan.frame
        own = Affine2D().translate(-frame.left, -frame.bottom).scale(1 / frame.width, 1 / frame.height)
        return own + self.axes.transAxes

    def of(self, box: Box) -> Transform:
        """Return the transform of a mark: one beyond the frame keeps to the edge that it is at."""
        frame, limits, edges = self.plan.frame, self.by_limits(), self.by_edges()
        beside = box.right < frame.left + 1 or box.left > frame.right - 1
        beyond = box.top < frame.bottom + 1 or box.bottom > frame.top - 1
        if beside == beyond:
            return edges if beside else limits
        return blended_transform_factory(*((edges, limits) if beside else (limits, edges)))


def box_of(rule: PathMark) -> Box:
    """Return what a straight line covers, a pixel less at its ends: along the frame it is inside."""
    return Box(*map(float, (rule.xs.min() + 1, rule.ys.min() + 1, rule.xs.max() - 1, rule.ys.max() - 1)))


def nearest_edge(mark: TextMark, frame: Box) -> tuple[float, float]:
    """Return the place of a frame that is nearest to a text."""
    return min(max(mark.x, frame.left), frame.right), min(max(mark.y, frame.bottom), frame.top)


class Anchors:
    """The ends of bars and the points of lines: a label stays as far from its own as the plan has it."""

    def __init__(self, chart: Chart, plan: Plan) -> None:
        left, bottom, right, top = plan.bars.edges.T if len(plan.bars.edges) else np.empty((4, 0))
        x, y = (left + right) / 2, (bottom + top) / 2
        ends = [(x, y), *(((left, y), (right, y)) if plan.horizontal else ((x, bottom), (x, top)))]
        count = len(chart.categories)
        on_secondary = np.repeat([bars.secondary for bars in chart.bars], count).astype(bool)
        others = [(marks.xs, marks.ys, chart.series[marks.series].secondary) for marks in plan.point_sets]
        parts = [(xs, ys, on_secondary) for xs, ys in ends]
        parts += [(xs, ys, np.full(len(xs), side)) for xs, ys, side in others]
        self._xs, self._ys, self._sides = (np.concatenate(part) for part in zip(*parts, strict=True))

    def nearest(self, mark: TextMark) -> tuple[float, float, bool]:
        """Return where the mark nearest to a text is, and whether it is on the secondary axis."""
        middle = ((mark.box.left + mark.box.right) / 2, (mark.box.bottom + mark.box.top) / 2)
        far = np.hypot(self._xs - middle[0], self._ys - middle[1])
        if not np.isfinite(far).any():
            return mark.x, mark.y, False
        place = int(np.nanargmin(far))
        return float(self._xs[place]), float(self._ys[place]), bool(self._sides[place])
