"""All labels inside the frame, each in a place of its own: what is cut, references, stacks, bars, points."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from itertools import pairwise

from vantric.core.charting.barplaces import BAR_SHARE
from vantric.core.charting.chart import Chart
from vantric.core.charting.series import Series
from vantric.core.planning.frame.field import Field
from vantric.core.planning.frame.layout import Desk, Page
from vantric.core.planning.frame.legend import legend_width
from vantric.core.planning.labels.cutmark import cut_rules, cut_text
from vantric.core.planning.labels.leaders import Placed
from vantric.core.planning.labels.lineends import LineEnds
from vantric.core.planning.labels.places import Places
from vantric.core.planning.labels.pointlabels import Pointed, point_labels
from vantric.core.planning.labels.references import reference_rules, reference_text
from vantric.core.planning.labels.valuelabels import Labeled, bar_labels
from vantric.core.planning.marks import Marks
from vantric.core.planning.plan import Box, PathMark, PointMarks, TextMark, point_role

_MANY = 40  # labels of all series that are wanted where there is room: of more, only the telling ones
_ENOUGH = 0.9  # of the labels of a series that are wanted where there is room: with fewer, only the telling ones


@dataclass(frozen=True)
class Labels:
    """The labels that found a place, what leads to them, and how many did not."""

    texts: tuple[TextMark, ...]
    leaders: tuple[PathMark, ...]
    left_out: int
    plates: tuple[Box, ...] = ()


def place_labels(
    desk: Desk, page: Page, marks: Marks, ends: LineEnds, *, with_names: bool = True
) -> Labels | None:  # fmt: skip
    """Place every label; None if what a cutoff cuts, or a reference, finds no place for its name."""
    places = _taken(desk, page, marks, ends)
    named = _names(desk, page, marks, places)
    if with_names and None in named:
        return None
    placed: list[Placed] = [Placed(text) for text in named if text] if with_names else []
    wanted = 0 if not with_names else len(placed)
    many = sum(map(bool, (text for one in desk.chart.series if one.if_room for text in one.texts))) > _MANY
    for labels in (_stack_labels(desk, page, marks), *_bar_labels(desk, page, marks)):
        for one in labels:
            found = _place(one.labeled, places, desk, (one.if_room, many), _bars_placed)
            placed += found
            wanted += len(found) if one.if_room else sum(map(bool, one.labeled.labels))
    for series, points in zip(desk.chart.marked, marks.points, strict=True):
        if series.texts:
            pointed = _pointed(desk.chart, series, points, page.field, marks)
            found = _place(pointed, places, desk, (series.if_room, many), _points_placed)
            placed += found
            wanted += len(found) if series.if_room else sum(map(bool, pointed.labels))
    leaders = tuple(one.leader for one in placed if one.leader is not None)
    plates = tuple(one.text.box for one in placed if one.plate or one.text.role == "reference-text")
    return Labels(tuple(one.text for one in placed), leaders, wanted - len(placed), plates)


@dataclass(frozen=True)
class _Wanted:
    labeled: Labeled
    if_room: bool


_Placer = Callable[[Labeled | Pointed, Places, Desk, bool], list[Placed]]


def _bars_placed(wanted: Labeled | Pointed, places: Places, desk: Desk, leaders: bool) -> list[Placed]:
    assert isinstance(wanted, Labeled)
    return bar_labels(wanted, places, desk.pen, desk.sizes, horizontal=desk.chart.horizontal, leaders=leaders)


def _points_placed(wanted: Labeled | Pointed, places: Places, desk: Desk, leaders: bool) -> list[Placed]:
    assert isinstance(wanted, Pointed)
    return point_labels(wanted, places, desk.pen, desk.sizes, horizontal=desk.chart.horizontal, leaders=leaders)


def _place(
    wanted: Labeled | Pointed, places: Places, desk: Desk, if_room_of_many: tuple[bool, bool], placer: _Placer
) -> list[Placed]:
    """Place the labels of a series; wanted where there is room, only the telling ones if too many find none."""
    moment = places.now()
    if_room, many = if_room_of_many
    if if_room and many:
        return placer(replace(wanted, alone=True), places, desk, False)
    combined = not desk.chart.cuts and not desk.chart.total_text
    found = placer(wanted, places, desk, combined and not if_room)
    if not if_room or len(found) >= _ENOUGH * sum(map(bool, wanted.labels)):
        return found
    places.back_to(moment)
    if isinstance(wanted, Labeled) and wanted.within:
        return []  # some parts of a stack with numbers and some without would puzzle
    return placer(replace(wanted, alone=True), places, desk, False)


def _names(desk: Desk, page: Page, marks: Marks, places: Places) -> list[TextMark | None]:
    """Write what each cutoff cuts and what each reference is called; None for one that finds no place."""
    chart, field = desk.chart, page.field
    levels = [float(field.up(desk.chart.scales.secondary.fraction(cut.value))) for cut in chart.cuts]
    cuts = list(zip(chart.cuts, levels, strict=True)) if marks.paths else []
    for cut, level in cuts:
        for line in cut_rules(cut, level, marks.paths[0].xs, marks.paths[0].ys, field):
            places.take_segment(*line.xs[:1], *line.ys[:1], *line.xs[1:], *line.ys[1:])
    found: list[TextMark | None] = []
    for cut, level in cuts:
        path = marks.paths[0]
        found.append(cut_text(cut, level, path.xs, path.ys, field, places, desk.pen, desk.sizes))
    bars = [Box(*edge) for edge in marks.bars.edges.tolist()]
    for one in chart.references:
        if one.text:
            found.append(reference_text(chart, one, field, places, desk.pen, desk.sizes, bars))
    return found


def _stack_labels(desk: Desk, page: Page, marks: Marks) -> list[_Wanted]:
    """Return the stacks that are labeled as wholes."""
    field, found = page.field, []
    count = field.count
    for stack, labels in enumerate(desk.chart.totals):
        if stack not in marks.heaps or not labels:
            continue
        last = max(number for number, one in enumerate(marks.stacks) if one == stack)
        roles = marks.bars.roles[last * count : (last + 1) * count]
        owners = [f"stack {stack}"] * count
        whole = Labeled(labels, marks.heaps[stack], roles, owners, field.slot, (False, False))
        found.append(_Wanted(whole, False))
    return found


def _bar_labels(desk: Desk, page: Page, marks: Marks) -> list[list[_Wanted]]:
    """Return the bars that are labeled, a series after another."""
    chart, field = desk.chart, page.field
    count, found = field.count, []
    places = chart.bar_places()
    distinct = len({round(place.start + place.width / 2, 6) for place in places}) or 1
    share = 1.0 if distinct == 1 or chart.line_at == "edge" else BAR_SHARE
    pitch = share * field.slot / distinct
    for number, (one, stack) in enumerate(zip(chart.bars, marks.stacks, strict=True)):
        if not one.texts:
            continue
        own = slice(number * count, (number + 1) * count)
        within = stack is not None and one.label_place not in ("above", "beside")
        inside = one.label_place == "inside" or (one.label_place == "auto" and chart.label_place == "inside")
        owners: list[object] = list(range(own.start, own.stop))
        behind: list[list[tuple[Box, object, str]]] = []
        under = [
            at for at, place in enumerate(places) if place.front < places[number].front and place.meets(places[number])
        ]
        if under:  # what is in front may cover what is behind
            owners = [frozenset(each * count + at for each in (number, *under)) for at in range(count)]
            edges, roles = marks.bars.edges.tolist(), marks.bars.roles
            behind = [
                [(Box(*edges[n]), n, roles[n]) for n in (each * count + at for each in under)] for at in range(count)
            ]
        labeled = Labeled(
            one.texts, marks.bars.edges[own], marks.bars.roles[own], owners, pitch,
            (True, inside), tuple(value < 0 for value in one.values), within,
            one.label_place if one.label_place in ("above", "below", "beside") else "",
            _telling(one) if one.if_room else (), behind=behind,
        )  # fmt: skip
        found.append([_Wanted(labeled, one.if_room)])
    return found


def _telling(series: Series) -> tuple[int, ...]:
    """Return the numbers of the values that tell most: the highest, the lowest, the last, the first."""
    there = [place for place, value in enumerate(series.values) if value == value]
    if not there:
        return ()
    by_value = sorted(there, key=lambda place: series.values[place])
    return tuple(dict.fromkeys((by_value[-1], by_value[0], there[-1], there[0])))


def _pointed(chart: Chart, series: Series, points: PointMarks, field: Field, marks: Marks) -> Pointed:
    count = len(chart.categories)
    telling = (0, *(max(cut.count - 1, 0) for cut in chart.cuts if cut.count <= count), count - 1)
    rising = series.kind == "line" and all(after >= one for one, after in pairwise(series.values))
    if series.if_room or not rising:
        telling = _telling(series)
    only = series.label_place if series.label_place in ("above", "below", "beside") else ""
    labels = tuple(
        label if there == there else "" for label, there in zip(series.texts, points.ys.tolist(), strict=True)
    )
    one_sided = rising and not only and bool(chart.total_text)
    under = () if chart.total_text or chart.horizontal else _bars_behind(marks, field.count)
    role = point_role(series.role, "-value")
    return Pointed(labels, points, field.slot, telling, role, one_sided, only, under=under)


def _bars_behind(marks: Marks, count: int) -> list[list[tuple[Box, object]]]:
    """Return the bars of each category, with their owners."""
    edges = marks.bars.edges.tolist()
    return [[(Box(*edges[at]), at) for at in range(place, len(edges), count)] for place in range(count)]


def _open_width(desk: Desk) -> float:
    """Return how far labels may reach to the right of a horizontal chart."""
    width = desk.size[0]
    if desk.chart.legend != "right":
        return width
    return width - desk.sizes.px(24) - legend_width(desk.chart, width, desk.sizes, desk.pen)


def _taken(desk: Desk, page: Page, marks: Marks, ends: LineEnds) -> Places:
    """Return the frame with everything in it that a label must not cover."""
    frame, over = page.field.frame, desk.sizes.px(7)
    horizontal = page.field.horizontal  # no axis is to the right then
    right = _open_width(desk) - 4 if horizontal else frame.right
    top = frame.top - (2 if desk.chart.secondary_axis else 0) if horizontal else frame.top + over
    places = Places(Box(frame.left + (1 if horizontal else 2), frame.bottom + 1, right, top))
    for number, edge in enumerate(marks.bars.edges.tolist()):
        places.take(Box(*edge), owner=number)
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
        *reference_rules(desk.chart, page.field),
        *zeros,
        *ends.leaders,
    ):
        if len(path.xs) > 1:
            places.take_path(path.xs, path.ys)
    for text in ends.texts:
        places.take_label(text.box)
    return places
