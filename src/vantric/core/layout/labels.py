"""All labels inside the frame, each in a place of its own: what is cut, references, stacks, bars, points."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace
from itertools import pairwise

from vantric.base.lazily import dataclass
from vantric.core.charts.bar_places import BAR_SHARE
from vantric.core.charts.chart import Chart
from vantric.core.charts.references import DateMark
from vantric.core.charts.series import Bars, Series
from vantric.core.layout.bar_labels import LabeledBars, bar_labels
from vantric.core.layout.frame import FrameLayout, LayoutContext
from vantric.core.layout.label_places import PlacedLabel, TakenPlaces
from vantric.core.layout.legend import legend_width
from vantric.core.layout.mark_labels import (
    LineEnds,
    PointLabels,
    cut_rules,
    point_labels,
    reference_rules,
    reference_text,
)
from vantric.core.layout.marks import Marks, joins
from vantric.core.layout.plan import Box, LeftOut, PathMark, PointMarks, TextMark, point_role
from vantric.core.layout.text_layout import ASCENT, Sizes, TextWriter
from vantric.core.layout.titles import PlotArea, rule
from vantric.core.layout.value_axes import at_axis

#: How many heights are tried for the name of a line.
_HEIGHTS = 12


def moment_rules(chart: Chart, field: PlotArea) -> list[PathMark]:
    """Return the lines."""
    frame, marks = field.frame, []
    for date_mark in chart.moments:
        position = float(field.along(date_mark.place))
        ends = (
            (frame.left, position, frame.right, position)
            if field.horizontal
            else (position, frame.bottom, position, frame.top)
        )
        marks.append(rule(*ends, "moment"))
    return marks


def moment_text(
    date_mark: DateMark, field: PlotArea, places: TakenPlaces, writer: TextWriter, sizes: Sizes
) -> TextMark | None:
    """Write the name of a marked date beside its line in the first free place; None if there is none."""
    candidates = list(_options(date_mark, field, writer, sizes))
    number = places.first_free(((mark.box, None) for mark in candidates), apart=sizes.px(2))
    return None if number is None else candidates[number]


def _options(mark: DateMark, field: PlotArea, writer: TextWriter, sizes: Sizes) -> Iterator[TextMark]:
    size, apart, frame = sizes.label, sizes.px(4), field.frame
    position, length = float(field.along(mark.place)), writer.width(mark.text, size, bold=True)
    for step in range(_HEIGHTS):
        if field.horizontal:
            start = frame.right - apart - length - step * (frame.right - frame.left) / _HEIGHTS
            yield writer.line(mark.text, start, position + apart, size, "moment-text", bold=True)
            continue
        y = frame.top - apart - ASCENT * size - step * (frame.top - frame.bottom) / _HEIGHTS
        # A name may stand on either side of its line, but not beyond the frame.
        if position + apart + length <= frame.right:
            yield writer.line(mark.text, position + apart, y, size, "moment-text", bold=True)
        if position - apart - length >= frame.left:
            yield writer.line(mark.text, position - apart, y, size, "moment-text", ha="right", bold=True)


_MANY = 40  # numbers at the bars of a series that nobody asked for: of more only the telling ones
#: Points of a line that all have labels, and the pixels that each needs: of a cumulative line, and of others.
_FEW_CUMULATIVE, _WIDE_CUMULATIVE = 8, 80.0
_FEW_POINTS, _WIDE_POINTS = 12, 60.0
_ENOUGH = 0.75  # of the labels of a series that are wanted where there is room: with fewer, only the telling ones


@dataclass(frozen=True)
class Labels:
    """The labels that found a place, what leads to them, and which did not."""

    texts: tuple[TextMark, ...]
    leaders: tuple[PathMark, ...]
    left_out: int = 0
    missing: tuple[LeftOut, ...] = ()


@dataclass(frozen=True)
class Guides:
    """The lines of cutoffs, references and dates: drawn, and kept clear by labels.

    Attributes
    ----------
    cuts
        A tuple of lines a cutoff.
    references, moments
    """

    cuts: tuple[tuple[PathMark, ...], ...]
    references: tuple[PathMark, ...]
    moments: tuple[PathMark, ...]


def guides_of(context: LayoutContext, page: FrameLayout, marks: Marks) -> Guides:
    """Return the lines of cutoffs, references and dates."""
    chart, field = context.chart, page.field
    # Cutoffs are in percent, which is the secondary axis of a Pareto chart.
    levels = [float(field.up(context.scales.secondary.fraction(cut.value))) for cut in chart.cuts]
    line = marks.paths[0] if marks.paths else None
    cuts = (
        cut_rules(cut, level, line.xs, line.ys, field) for cut, level in zip(chart.cuts, levels, strict=True) if line
    )
    return Guides(tuple(map(tuple, cuts)), tuple(reference_rules(chart, field)), tuple(moment_rules(chart, field)))


def place_labels(
    context: LayoutContext, page: FrameLayout, marks: Marks, ends: LineEnds, guides: Guides, *, with_names: bool = True
) -> Labels | None:
    """Place every label; None if a reference or a date finds no place for its name."""
    # First what must not be covered, then names, then numbers: what comes first has the better places.
    places = _taken(context, page, marks, ends, guides)
    named = _names(context, page, marks, guides, places)
    if with_names and None in named:
        return None
    placed: list[PlacedLabel] = [PlacedLabel(text) for text in named if text] if with_names else []
    missing: list[LeftOut] = []
    # What was asked for and found no place is counted; what was wanted where there is room is not.
    index = 0
    for request in _wanted(context, page, marks):
        placed_labels, thinned = _place(request, places, context)
        placed += placed_labels
        numbers = {each.number for each in placed_labels}
        lacking = tuple(
            name
            for number, (name, text) in enumerate(zip(context.chart.categories, request.labeled.labels, strict=True))
            if text and number not in numbers
        )
        index += 0 if request.if_room else len(lacking)
        missing += [LeftOut(request.name, () if thinned else lacking, thinned)] if lacking else []
    leaders = tuple(placed_label.leader for placed_label in placed if placed_label.leader is not None)
    return Labels(tuple(placed_label.text for placed_label in placed), leaders, index, tuple(missing))


@dataclass(frozen=True)
class _LabelRequest:
    """The labels of one series: whose they are, and whether they are wanted where there is room only."""

    name: str
    labeled: LabeledBars | PointLabels
    if_room: bool


def _wanted(context: LayoutContext, page: FrameLayout, marks: Marks) -> list[_LabelRequest]:
    """Return all labels at marks: stacks as wholes, bars, points."""
    points = [
        _LabelRequest(series.name, _pointed(context.chart, series, spots, page.field, marks), series.if_room)
        for series, spots in zip(context.chart.marked, marks.points, strict=True)
        if series.texts
    ]
    return [*_stack_labels(context, page, marks), *_bar_labels(context, page, marks), *points]


def _place(request: _LabelRequest, places: TakenPlaces, context: LayoutContext) -> tuple[list[PlacedLabel], bool]:
    """Place the labels of a series; wanted where there is room, only the telling ones if too many find none.

    Parts of stacks have a number each where it fits into the part.
    """
    labeled, combined = request.labeled, not context.chart.is_cumulative
    within = isinstance(labeled, LabeledBars) and labeled.within
    if not request.if_room or within:
        return _labels_placed(labeled, places, context, leaders=combined and not request.if_room), False
    if isinstance(labeled, PointLabels):
        return _labels_placed(labeled, places, context, leaders=False), False
    if sum(map(bool, labeled.labels)) > _MANY:
        return _labels_placed(replace(labeled, alone=True), places, context, leaders=False), True
    # Tried, and taken back if too few find a place.
    moment = places.now()
    placed_labels = _labels_placed(labeled, places, context, leaders=False)
    if len(placed_labels) >= _ENOUGH * sum(map(bool, labeled.labels)):
        return placed_labels, False
    places.back_to(moment)
    return _labels_placed(replace(labeled, alone=True), places, context, leaders=False), True


def _labels_placed(
    labeled: LabeledBars | PointLabels, places: TakenPlaces, context: LayoutContext, *, leaders: bool
) -> list[PlacedLabel]:
    horizontal = context.chart.horizontal
    if isinstance(labeled, LabeledBars):
        return bar_labels(labeled, places, context.pen, context.sizes, horizontal=horizontal, leaders=leaders)
    return point_labels(labeled, places, context.pen, context.sizes, horizontal=horizontal, leaders=leaders)


def _names(
    context: LayoutContext, page: FrameLayout, marks: Marks, guides: Guides, places: TakenPlaces
) -> list[TextMark | None]:
    """Write what each reference and each date is called; None for one that finds no place."""
    chart, field = context.chart, page.field
    for lines in guides.cuts:
        for line in lines:
            places.take_segment(*line.xs[:1], *line.ys[:1], *line.xs[1:], *line.ys[1:])
    text_marks: list[TextMark | None] = []
    bars = [Box(*edge) for edge in marks.bars.edges.tolist()]
    named = {id(item) for axis in ("primary", "secondary") for item in at_axis(chart, axis)}
    for reference in chart.references:
        if reference.text and id(reference) not in named:
            text_marks.append(reference_text(chart, reference, field, places, context.pen, context.sizes, bars))
    text_marks += [
        moment_text(date_mark, field, places, context.pen, context.sizes)
        for date_mark in chart.moments
        if date_mark.text
    ]
    return text_marks


def _stack_labels(context: LayoutContext, page: FrameLayout, marks: Marks) -> list[_LabelRequest]:
    """Return the stacks that are labeled as wholes."""
    field, requests = page.field, []
    count = field.count
    for stack, labels in enumerate(context.chart.totals):
        if stack not in marks.heaps or not labels:
            continue
        # The last series of a stack is its top.
        last = max(number for number, index in enumerate(marks.stacks) if index == stack)
        roles = marks.bars.roles[last * count : (last + 1) * count]
        owners = [f"stack {stack}"] * count
        whole = LabeledBars(labels, marks.heaps[stack], roles, owners, field.slot, (False, False))
        requests.append(_LabelRequest("total", whole, False))
    return requests


def _bar_labels(context: LayoutContext, page: FrameLayout, marks: Marks) -> list[_LabelRequest]:
    """Return the bars that are labeled, a series after another."""
    chart, field = context.chart, page.field
    count, requests = field.count, []
    places = chart.bar_places(field.slot)
    # Bars that share a place have one pitch for their numbers.
    distinct = len({round(place.start + place.width / 2, 6) for place in places}) or 1
    share = 1.0 if distinct == 1 or chart.line_at == "edge" else BAR_SHARE
    pitch = share * field.slot / distinct
    for number, (bars, stack) in enumerate(zip(chart.bars, marks.stacks, strict=True)):
        if not bars.texts:
            continue
        own = slice(number * count, (number + 1) * count)
        within = stack is not None and bars.label_place not in ("above", "beside")
        inside = bars.label_place == "inside" or (bars.label_place == "auto" and chart.label_place == "inside")
        owners: list[object] = list(range(own.start, own.stop))
        behind: list[list[tuple[Box, object, str]]] = []
        under = [
            index
            for index, place in enumerate(places)
            if place.front < places[number].front and place.meets(places[number])
        ]
        if under:  # what is in front may cover what is behind
            owners = [frozenset(each * count + index for each in (number, *under)) for index in range(count)]
            edges, roles = marks.bars.edges.tolist(), marks.bars.roles
            behind = [
                [(Box(*edges[n]), n, roles[n]) for n in (each * count + index for each in under)]
                for index in range(count)
            ]
        labeled = LabeledBars(
            bars.texts,
            marks.bars.edges[own],
            marks.bars.roles[own],
            owners,
            pitch,
            (True, inside),
            tuple(value < 0 for value in bars.values),
            within,
            bars.label_place if bars.label_place in ("above", "below", "beside") else "",
            _telling(bars) if bars.if_room else (),
            behind=behind,
            other_forms=_runs_over_bars(chart),
            ends=_spread_ends(chart, bars, field),
            feet=bool(chart.marked) and not chart.is_cumulative and bars.label_place == "auto",
            first_inside=chart.is_cumulative and chart.line_at == "center",
        )
        requests.append(_LabelRequest(bars.name, labeled, bars.if_room))
    return requests


def _runs_over_bars(chart: Chart) -> bool:
    """Whether a cumulative line begins where the number of the first bar would be."""
    return chart.is_cumulative or any(series.role.partition(":")[0] in ("line", "line-2") for series in chart.marked)


def _spread_ends(chart: Chart, bars: Bars, field: PlotArea) -> tuple[float, ...]:
    """Return where the interval of each bar ends along the value axis; nothing without intervals."""
    if not bars.spreads:
        return ()
    return tuple(field.up(chart.scale_of(bars).fraction([high for _, high in bars.spreads])).tolist())


def _telling(series: Series) -> tuple[int, ...]:
    """Return the numbers of the values that tell most: the highest, the lowest, the last, the first."""
    # NaN is not equal to itself.
    there = [place for place, value in enumerate(series.values) if value == value]
    if not there:
        return ()
    by_value = sorted(there, key=lambda place: series.values[place])
    return tuple(dict.fromkeys((by_value[-1], by_value[0], there[-1], there[0])))


def _pointed(chart: Chart, series: Series, points: PointMarks, field: PlotArea, marks: Marks) -> PointLabels:
    pareto = chart.is_cumulative
    rising = series.kind == "line" and all(after >= value for value, after in pairwise(series.values))
    telling = _told(chart, series, field, rising=rising)
    only = series.label_place if series.label_place in ("above", "below", "beside") else ""
    numbers = frozenset(telling) if series.if_room else frozenset(range(len(series.values)))
    labels = tuple(
        label if number in numbers and there == there else ""
        for number, (label, there) in enumerate(zip(series.texts, points.ys.tolist(), strict=True))
    )
    # Only a line in front of bars may write on them.
    under = () if pareto or chart.horizontal else _bars_behind(marks, field.count)
    role = point_role(series.role, "-value")
    if chart.joined:
        return PointLabels(
            labels, points, field.slot, telling, "value", outward=_outward(chart, series), strong=chart.strong_rows
        )
    return PointLabels(labels, points, field.slot, telling, role, rising and not only and pareto, only, under=under)


def _outward(chart: Chart, series: Series) -> tuple[int, ...]:
    """Return on which side of its point each value of joined series is written: away from the others."""
    others = [list(item.values) for item in chart.marked if item is not series]
    highest = [max([value for value in row if value == value], default=-math.inf) for row in zip(*others, strict=True)]
    return tuple(1 if value >= other else -1 for value, other in zip(series.values, highest, strict=True))


def _told(chart: Chart, series: Series, field: PlotArea, *, rising: bool) -> tuple[int, ...]:
    """Return the numbers of the points whose labels nobody asked for, the most telling first.

    Of a cumulative line the first, and the last inside each cutoff; all of a few but the last, which is 100 percent.
    Of others all of a few; else the highest, the lowest, the last and the first.
    """
    count = len(series.values)
    if chart.joined:
        return tuple(range(count))
    if rising and chart.is_cumulative:
        cuts = [cut.count - 1 for cut in chart.cuts if 0 < cut.count < count]
        few = count <= _FEW_CUMULATIVE and field.slot >= _WIDE_CUMULATIVE
        telling = dict.fromkeys((*range(min(1, count - 1)), *cuts, *(range(count - 1) if few else ())))
        return tuple(place for place in telling if series.values[place] < max(series.values))
    if count <= _FEW_POINTS and field.slot >= _WIDE_POINTS:
        return tuple(dict.fromkeys((*_telling(series), *range(count))))
    return _telling(series)


def _bars_behind(marks: Marks, count: int) -> list[list[tuple[Box, object, str]]]:
    """Return the bars of each category, with their owners and roles."""
    edges, roles = marks.bars.edges.tolist(), marks.bars.roles
    return [
        [(Box(*edges[index]), index, roles[index]) for index in range(place, len(edges), count)]
        for place in range(count)
    ]


def _open_width(context: LayoutContext) -> float:
    """Return how far labels may reach to the right of a horizontal chart."""
    width = context.size[0]
    if context.chart.legend != "right":
        return width
    return width - context.sizes.px(24) - legend_width(context.chart, width, context.sizes, context.pen)


def _taken(context: LayoutContext, page: FrameLayout, marks: Marks, ends: LineEnds, guides: Guides) -> TakenPlaces:
    """Return the frame with everything in it that a label must not cover."""
    frame, over = page.field.frame, context.sizes.px(7)
    horizontal = page.field.horizontal  # no axis is to the right then
    right = _open_width(context) - 4 if horizontal else frame.right
    above = context.sizes.px(6) if context.chart.secondary_axis else 0.0  # the numbers of the axis begin at 7
    top = frame.top + (above if horizontal else over)
    low = frame.bottom - 3 if horizontal else frame.bottom + 1  # a comma in the last row hangs below it
    places = TakenPlaces(Box(frame.left + (1 if horizontal else 0), low, right, top))
    for number, edge in enumerate(marks.bars.edges.tolist()):
        places.take(Box(*edge), owner=number)
    classes = [mark.box for mark in page.texts if horizontal and mark.box.left >= frame.right]  # in their column
    for box in (*(Box(*edge) for edge in marks.rims.edges.tolist()), *classes):
        places.take(box)
    for points in marks.points:
        radius = max(points.radius, 0.5)
        for x, y in zip(points.xs.tolist(), points.ys.tolist(), strict=True):
            if x == x and y == y:
                places.take(Box(x - radius - 1, y - radius - 1, x + radius + 1, y + radius + 1))
    zeros = (mark for mark in page.rules if mark.role == "zero")
    for path in (
        *marks.paths,
        *marks.stems,
        *marks.whiskers,
        *joins(context.chart, page.field),
        *guides.references,
        *guides.moments,
        *zeros,
        *ends.leaders,
    ):
        if len(path.xs) > 1:
            places.take_path(path.xs, path.ys)
    for text in ends.texts:
        places.take_label(text.box)
    return places
