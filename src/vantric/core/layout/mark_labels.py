"""The numbers at points, the names at the ends of lines, and the lines of cutoffs and references with their names."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np

from vantric.base.lazily import dataclass
from vantric.core.charts.chart import Chart, CutMark
from vantric.core.charts.references import Reference
from vantric.core.charts.series import Series
from vantric.core.layout.label_places import PlacedLabel, TakenPlaces, place_with_leader, shifted, shows_ends
from vantric.core.layout.legend import END_LEAD, at_end
from vantric.core.layout.plan import Box, PathMark, PointMarks, RectMarks, Side, TextMark, is_pale, point_role
from vantric.core.layout.text_layout import (
    ASCENT,
    DESCENT,
    FIGURE_ASCENT,
    FIGURE_DESCENT,
    Sizes,
    TextWriter,
    figure_height,
    fitted,
    line_height,
    middle_drop,
)
from vantric.core.layout.titles import PlotArea, rule
from vantric.core.numbers.number_format import readable

if TYPE_CHECKING:
    from vantric.core.numbers.amounts import Floats


def cut_rules(cut: CutMark, level: float, xs: Floats, ys: Floats, field: PlotArea) -> list[PathMark]:
    """Return the line of a cutoff: from where the cumulative line crosses it to its own axis.

    Parameters
    ----------
    level
        Where the cutoff is along the value axes.
    xs, ys : ndarray of shape (n,)
        The points of the cumulative line.
    """
    frame, border = field.frame, boundary(cut, field)
    if field.horizontal:
        down = -crossing(level, -ys, xs)
        return [rule(level, down if np.isfinite(down) else border, level, frame.top, "cut")]
    return [rule(min(crossing(level, xs, ys), border), level, frame.right, level, "cut")]


def boundary(cut: CutMark, field: PlotArea) -> float:
    """Return where the vital few end along the category axis, halfway between two bars."""
    return float(field.along(min(cut.count, field.count)))


def crossing(level: float, xs: Floats, ys: Floats) -> float:
    """Return where a rising line first reaches a level; infinity if it begins above it."""
    if ys[0] >= level:
        return float("inf")
    after = int(np.argmax(ys >= level))
    share = (level - ys[after - 1]) / (ys[after] - ys[after - 1])
    return float(xs[after - 1] + share * (xs[after] - xs[after - 1]))


def _levels(chart: Chart, reference: Reference, field: PlotArea) -> tuple[float, float]:
    """Return where its lower and upper end are along the value axes."""
    scale = chart.scales.secondary if reference.axis == "secondary" else chart.scales.primary
    low, high = field.up(np.clip(scale.fraction(np.array(reference.ends)), 0.0, 1.0)).tolist()
    return low, high


def reference_rules(chart: Chart, field: PlotArea) -> list[PathMark]:
    """Return the lines; a band has one at either end."""
    frame, marks = field.frame, []
    for reference in chart.references:
        for height in dict.fromkeys(_levels(chart, reference, field)):
            ends = (
                (height, frame.bottom, height, frame.top)
                if field.horizontal
                else (frame.left, height, frame.right, height)
            )
            marks.append(rule(*ends, "reference" if reference.upto is None else "band-edge"))
    return marks


def reference_bands(chart: Chart, field: PlotArea) -> RectMarks:
    """Return what is between the two ends of each band."""
    frame, edges = field.frame, []
    for reference in chart.references:
        if reference.upto is not None:
            low, high = _levels(chart, reference, field)
            horizontal = (low, frame.bottom, high, frame.top)
            edges.append(horizontal if field.horizontal else (frame.left, low, frame.right, high))
    return RectMarks(np.array(edges, dtype=np.float64).reshape(-1, 4), ("band",) * len(edges))


def reference_text(
    chart: Chart,
    reference: Reference,
    field: PlotArea,
    places: TakenPlaces,
    writer: TextWriter,
    sizes: Sizes,
    bars: Sequence[Box],
) -> TextMark | None:
    """Write the name of a reference beside its line in the first free place, on bars if need be; None if none is."""
    candidates = list(_options(chart, reference, field, writer, sizes))
    number = places.first_free(((mark.box, None) for mark in candidates), apart=sizes.px(4))
    if number is None and bars:
        every: object = frozenset(range(len(bars)))
        candidates = [mark for mark in candidates if shows_ends(mark.box, bars, horizontal=field.horizontal)]
        number = places.first_free(((mark.box, every) for mark in candidates), apart=sizes.px(4))
    return None if number is None else candidates[number]


def _options(
    chart: Chart, reference: Reference, field: PlotArea, writer: TextWriter, sizes: Sizes
) -> Iterator[TextMark]:
    size, gap, frame = sizes.label, sizes.px(5), field.frame
    low, high = _levels(chart, reference, field)
    if field.horizontal:
        for step in range(12):
            y = frame.top - gap - ASCENT * size - step * field.slot / 2
            yield writer.line(reference.text, high + gap, y, size, "reference-text", bold=True)
            yield writer.line(reference.text, low - gap, y, size, "reference-text", ha="right", bold=True)
        return
    heights = [high + gap + DESCENT * size, low - gap - ASCENT * size]
    if reference.upto is not None:
        heights = [high - gap - ASCENT * size, *heights]
    for start in _starts(
        frame.left + gap, frame.right - gap, field.slot, writer.width(reference.text, size, bold=True)
    ):
        for y in heights:
            yield writer.line(reference.text, start, y, size, "reference-text", bold=True)


def _starts(left: float, right: float, slot: float, width: float) -> Floats:
    """Return where a text may begin, from the right end of the line to the left."""
    last = right - width
    steps = np.arange(0.0, max(last - left, 0.0) + 1e-9, max(slot / 2, 24.0))
    return np.maximum(last - steps, left)


@dataclass(frozen=True)
class LineEnds:
    """Placed names, the lines that lead to those that had to move, and the names for which there is no room."""

    texts: tuple[TextMark, ...]
    leaders: tuple[PathMark, ...]
    left_out: tuple[str, ...] = ()


def line_ends(chart: Chart, field: PlotArea, sizes: Sizes, writer: TextWriter) -> LineEnds:
    """Set the name of each line behind its last point; names that would touch are moved apart."""
    named = [item for item in chart.marked if at_end(item)] if chart.legend == "ends" else []
    if not named:
        return LineEnds((), ())
    size, frame = sizes.label, field.frame
    most = max(1, int(frame.height / line_height(size)))
    named, left_out = named[:most], tuple(item.name for item in named[most:])
    last = [float(field.up(chart.scale_of(item).fraction(_last(item)))) for item in named]
    order = sorted(range(len(named)), key=lambda position: last[position])
    half = line_height(size) / 2
    heights = spread([last[position] for position in order], 2 * half, frame.bottom + half, frame.top - half)
    texts, leaders = [], []
    x = frame.right - field.after + sizes.px(END_LEAD)
    for index, y in zip(order, heights, strict=True):
        series = named[index]
        name = fitted(readable(series.name), size, True, frame.right - x - sizes.px(4), writer.measure)
        role = point_role(series.role, "-value")
        texts.append(writer.line(name, x, y - middle_drop(size), size, role, bold=True))
        if abs(y - last[index]) > half / 2:
            start = float(field.along(_last_place(series) + (1.0 if series.kind == "steps" else 0.5)))
            leaders.append(rule(start + sizes.px(6), last[index], x - sizes.px(3), y, "leader"))
    return LineEnds(tuple(texts), tuple(leaders), left_out)


def _last_place(series: Series) -> int:
    return max(place for place, value in enumerate(series.values) if value == value)


def _last(series: Series) -> float:
    return series.values[_last_place(series)]


def spread(wished: Sequence[float], apart: float, low: float, high: float) -> list[float]:
    """Move ascending places as little as can be until they are `apart`, within `low` and `high` where they fit.

    The sum of the squared moves is least: pools of adjacent violators, R. E. Barlow et al., "Statistical Inference
    under Order Restrictions", 1972.
    """
    pools: list[tuple[float, int]] = []  # mean of the shifted options, and how many
    for number, place in enumerate(wished):
        mean, count = place - number * apart, 1
        while pools and pools[-1][0] > mean:
            before, index = pools.pop()
            mean, count = (before * index + mean * count) / (index + count), index + count
        pools.append((mean, count))
    centers = np.repeat([mean for mean, _ in pools], [count for _, count in pools])
    room = max(high - (len(wished) - 1) * apart, low)
    return list((np.clip(centers, low, room) + apart * np.arange(len(wished))).tolist())


_REACHES = (1.2, 2.1, 3.2, 4.6)  # of a leader, in letters


@dataclass(frozen=True)
class PointLabels:
    """Points with a number each.

    Attributes
    ----------
    labels
        One a point; an empty one is left out.
    points
        Each is taken in the places already.
    pitch
        Distance of two points along the category axis.
    first
        Numbers of the points that matter most: they choose first.
    role
        What the labels are.
    rising
        Whether the line never falls: then one side of it is always free.
    only
        The one place that is wanted: ``"above"``, ``"below"``, ``"beside"``; empty for the best.
    alone
        Whether only the first points get a label.
    under
        (bar, its owner, what it is) of each bar behind a point: a label may be on it, with a halo of its color.
    outward : tuple of int
        On which side of each point its one place is, 1 for the right and -1 for the left; empty for any.
    strong
        Numbers of the points that stand out.
    """

    labels: Sequence[str]
    points: PointMarks
    pitch: float
    first: tuple[int, ...] = ()
    role: str = "point-value"
    rising: bool = True
    only: str = ""
    alone: bool = False
    under: Sequence[Sequence[tuple[Box, object, str]]] = ()
    outward: tuple[int, ...] = ()
    strong: tuple[int, ...] = ()


def point_labels(
    labels: PointLabels,
    places: TakenPlaces,
    writer: TextWriter,
    sizes: Sizes,
    *,
    horizontal: bool,
    leaders: bool = False,
) -> list[PlacedLabel]:
    """Place a label at each point beside it; where points are closer than figures are high, at the first ones only.

    With `leaders`, labels that find no place beside their points are led to them by a thin line.
    """
    size = sizes.value
    telling = list(dict.fromkeys(labels.first))
    crowded = labels.pitch < figure_height(size)
    others = [] if crowded or labels.alone else [n for n in range(len(labels.labels)) if n not in set(telling)]
    options: Callable[..., Iterator[TextMark]] = _around
    if labels.rising:
        options = _beside_horizontal if horizontal else _above
    if labels.outward:
        options = _outward
    placed = []
    for number in (*telling, *others):
        if not labels.labels[number]:
            continue
        marks: list[TextMark] = []
        owner: object = None
        text_mark = _first(options(labels, number, writer, sizes, telling=number in telling), places, marks)
        if text_mark is None and labels.under:
            bars = [bar for bar, _, _ in labels.under[number]]
            owner = frozenset(item for _, item, _ in labels.under[number])
            text_mark = _first(
                (mark for mark in marks if shows_ends(mark.box, bars, horizontal=horizontal)), places, [], owner
            )
        if text_mark is not None:
            places.take_label(text_mark.box, apart=sizes.px(5))
            halo = "" if owner is None else _beneath(text_mark.box, labels.under[number])
            placed.append(PlacedLabel(text_mark._replace(halo=halo), number=number))
        elif leaders:
            anchor = _anchor(labels, number)
            candidates = _far(labels, number, writer, sizes)
            placed_label = place_with_leader(places, candidates, lambda _: anchor, apart=sizes.px(3))  # noqa: B023 - called at once
            placed += [replace(placed_label, number=number)] if placed_label else []
    return placed


def _beneath(box: Box, bars: Sequence[tuple[Box, object, str]]) -> str:
    """Return the role of the pale bar that a label is on; what hides a solid one is the ground."""
    x, y = (box.left + box.right) / 2, (box.bottom + box.top) / 2
    roles = [role for bar, _, role in bars if bar.left <= x <= bar.right and bar.bottom <= y <= bar.top]
    return roles[-1] if roles and is_pale(roles[-1]) else "plate"


def _first(
    marks: Iterable[TextMark], places: TakenPlaces, text_marks: list[TextMark], owner: object = None
) -> TextMark | None:
    """Return the first label in a free place; those before it are added to `text_marks`."""
    for mark in marks:
        if places.free(mark.box, owner):
            return mark
        text_marks.append(mark)
    return None


def _anchor(labels: PointLabels, number: int) -> tuple[float, float]:
    return float(labels.points.xs[number]), float(labels.points.ys[number])


def _around(labels: PointLabels, number: int, writer: TextWriter, sizes: Sizes, *, telling: bool) -> Iterator[TextMark]:
    """Yield the places around a point: over a peak, under a valley, then beside it."""
    size, gap = sizes.value, sizes.px(3)
    radius = max(labels.points.radius, sizes.px(1.5))
    x, y = _anchor(labels, number)
    label = writer.line(labels.labels[number], x, y, size, labels.role, ha="center", bold=True, figures=True)
    over, under = radius + gap + FIGURE_DESCENT * size, -radius - gap - FIGURE_ASCENT * size
    # A label over a peak or under a valley is not cut by the line that joins the points.
    levels = [over, under] if _is_peak(labels, number) else [under, over]
    if labels.only in ("above", "below"):
        levels = [over if labels.only == "above" else under]
    half = label.box.width / 2
    if labels.only != "beside":
        for level in levels:
            # A little aside, where a neighbor is as high.
            for aside in (0.0, 0.5, -0.5, 0.9, -0.9):
                yield shifted(label, aside * half, level)
    if labels.only in ("", "beside"):
        out = half + radius + 1.5 * gap
        for rise in (0.0, 0.45, -0.45):
            level = rise * size - middle_drop(size)
            yield shifted(label, out, level)
            yield shifted(label, -out, level)


def _outward(
    labels: PointLabels, number: int, writer: TextWriter, sizes: Sizes, *, telling: bool
) -> Iterator[TextMark]:
    """Yield the one place beside a point that is away from the points that it is joined to."""
    size, side, (x, y) = sizes.value, labels.outward[number], _anchor(labels, number)
    out, is_strong = side * (labels.points.radius + sizes.px(5)), number in labels.strong
    role = "strong-value" if is_strong else labels.role
    ha: Side = "left" if side > 0 else "right"
    yield writer.middle(labels.labels[number], x + out, y, size, role, ha=ha, bold=is_strong)


def _is_peak(labels: PointLabels, number: int) -> bool:
    """Whether a point is above the middle of its neighbors: its label then is over it."""
    ys = labels.points.ys
    near = [float(ys[index]) for index in (number - 1, number + 1) if 0 <= index < len(ys)]
    near = [y for y in near if not math.isnan(y)]
    return not near or float(ys[number]) >= sum(near) / len(near)


def _far(labels: PointLabels, number: int, writer: TextWriter, sizes: Sizes) -> Iterator[TextMark]:
    """Yield places farther from a point, near ones first."""
    size, (x, y) = sizes.value, _anchor(labels, number)
    label = writer.line(labels.labels[number], x, y, size, labels.role, ha="center", bold=True, figures=True)
    up = _is_peak(labels, number)
    for reach in _REACHES:
        # On the side where the line is not.
        for side in (1, -1) if up else (-1, 1):
            level = side * (reach + 0.5) * size - middle_drop(size)
            for aside in (0.0, 1.4, -1.4, 2.8, -2.8):
                yield shifted(label, aside * size, level)


def _above(labels: PointLabels, number: int, writer: TextWriter, sizes: Sizes, *, telling: bool) -> Iterator[TextMark]:
    size, gap, radius, label, role = (
        sizes.value,
        sizes.px(3),
        labels.points.radius,
        labels.labels[number],
        labels.role,
    )
    x, y = float(labels.points.xs[number]), float(labels.points.ys[number])
    baseline = y + radius + gap + FIGURE_DESCENT * size
    # To the left first: the cumulative line comes from below left and goes on to the right.
    yield writer.line(label, x - 0.6 * radius, baseline, size, role, ha="right", bold=True, figures=True)
    yield writer.line(label, x, baseline, size, role, ha="center", bold=True, figures=True)
    yield writer.line(label, x - radius - gap, y + 0.2 * size, size, role, ha="right", bold=True, figures=True)
    if telling:
        yield writer.line(
            label, x + radius + gap, y - middle_drop(size) - 0.3 * size, size, role, bold=True, figures=True
        )
        for rise in (1.1, 2.0):
            yield writer.line(label, x, baseline + rise * size, size, role, ha="center", bold=True, figures=True)
        # Between two bars nothing but the grid is in the way.
        beside = x + labels.pitch / 2 + gap
        yield writer.line(label, beside, y - middle_drop(size), size, role, bold=True, figures=True)
        yield writer.line(label, beside, y + 2 * gap, size, role, bold=True, figures=True)


def _beside_horizontal(
    labels: PointLabels, number: int, writer: TextWriter, sizes: Sizes, *, telling: bool
) -> Iterator[TextMark]:
    size, gap, radius, label, role = (
        sizes.value,
        sizes.px(3),
        labels.points.radius,
        labels.labels[number],
        labels.role,
    )
    x, y = float(labels.points.xs[number]), float(labels.points.ys[number])
    right = x + radius + 1.5 * gap
    yield writer.line(label, right, y - middle_drop(size) + 0.25 * size, size, role, bold=True, figures=True)
    yield writer.line(label, right, y + 1.5 * gap, size, role, bold=True, figures=True)
    left = x - radius - 1.5 * gap
    yield writer.line(label, left, y - middle_drop(size) - 0.25 * size, size, role, ha="right", bold=True, figures=True)
    if telling:
        yield writer.line(label, x, y + radius + 2 * gap, size, role, ha="right", bold=True, figures=True)
        yield writer.line(
            label, x, y - radius - 2 * gap - FIGURE_ASCENT * size, size, role, ha="right", bold=True, figures=True
        )
