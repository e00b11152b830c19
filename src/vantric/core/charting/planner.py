"""From a chart to its plan."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from vantric.core.charting.chart import Chart
from vantric.core.charting.cutmark import cut_rules, cut_text
from vantric.core.charting.layout import Desk, Page, lay_out
from vantric.core.charting.legend import legend_width
from vantric.core.charting.lettering import Pen, Sizes
from vantric.core.charting.marks import BAR_SHARE, Marks, set_marks
from vantric.core.charting.measure import Measure, table_measure
from vantric.core.charting.places import Places
from vantric.core.charting.plan import Box, Floats, Plan, TextMark, point_role
from vantric.core.charting.valuelabels import Labelled, Pointed, bar_labels, point_labels


def make_plan(
    chart: Chart,
    size: tuple[float, float] | None = None,
    measure: Measure = table_measure,
    *,
    unit: float | None = None,
) -> Plan:
    """Resolve every position of a chart.

    Parameters
    ----------
    chart
        What is wanted: bars on the primary axis, lines on the secondary.
    size
        Width and height of the picture in pixels; the chart's own if not given.
    measure
        Tells how wide text is; a fixed table by default, the renderer's own when drawing.
    unit
        How large letters are beside those of a picture of 1280 x 800; by the size if not given.

    Returns
    -------
    Plan

    Raises
    ------
    ChartError
        If the picture is too small for the chart.
    """
    size = chart.size if size is None else size
    desk = Desk(chart, size, Sizes.of(*size) if unit is None else Sizes(unit), Pen(measure), chart.scales())
    page = lay_out(desk)
    marks = set_marks(chart, desk.scales, page.field, desk.sizes)
    placed = _place_labels(desk, page, marks)
    if placed is None:  # no room beside the marks: what is cut stands in the legend's row
        page = lay_out(desk, remark="; ".join(cut.text for cut in chart.cuts))
        marks = set_marks(chart, desk.scales, page.field, desk.sizes)
        placed = _place_labels(desk, page, marks, with_cut_text=False)
    return _assemble(desk, page, marks, placed or _Placed((), 0))


@dataclass(frozen=True)
class _Placed:
    """The labels that found a place, and how many did not."""

    texts: tuple[TextMark, ...]
    left_out: int


def _place_labels(desk: Desk, page: Page, marks: Marks, *, with_cut_text: bool = True) -> _Placed | None:
    """Place what the cut-offs cut, then the labels of bars and points; None if a cut-off's text finds no place."""
    chart, field = desk.chart, page.field
    places = _taken(page, marks, _open_width(desk), desk.sizes.px(7))
    texts: list[TextMark] = []
    levels = [float(field.up(desk.scales.secondary.fraction(cut.value))) for cut in chart.cuts]
    cuts = list(zip(chart.cuts, levels, strict=True)) if marks.paths else []
    for cut, level in cuts:
        for line in cut_rules(cut, level, marks.paths[0].xs, marks.paths[0].ys, field):
            places.take_segment(*line.xs[:1], *line.ys[:1], *line.xs[1:], *line.ys[1:])
    for cut, level in cuts if with_cut_text else ():
        text = cut_text(cut, level, marks.paths[0].xs, marks.paths[0].ys, field, places, desk.pen, desk.sizes)
        if text is None:
            return None
        texts.append(text)
    said = len(texts)
    wanted = 0
    for labelled in _labelled_bars(desk, page, marks):
        texts += bar_labels(labelled, places, desk.pen, desk.sizes, lying=field.lying)
        wanted += sum(map(bool, labelled.labels))
    for one, points in zip(chart.lines, marks.points, strict=True):
        if one.labels:
            telling = (0, *(max(cut.count - 1, 0) for cut in chart.cuts if cut.count <= field.count), field.count - 1)
            pointed = Pointed(one.labels, points, field.slot, telling, point_role(one.role, "-value"))
            texts += point_labels(pointed, places, desk.pen, desk.sizes, lying=field.lying)
            wanted += sum(map(bool, one.labels))
    return _Placed(tuple(texts), wanted - len(texts) + said)


def _labelled_bars(desk: Desk, page: Page, marks: Marks) -> list[Labelled]:
    """Return the bars that are labelled: each series, or the stacks as wholes."""
    chart, field = desk.chart, page.field
    inside = chart.label_place == "inside"
    if not chart.bars:
        return []
    count, owners = field.count, list(range(len(marks.bars.edges)))
    if chart.together == "stacked" and len(chart.bars) > 1:
        labels, roles = chart.bars[-1].labels, marks.bars.roles[-count:]
        whole = Labelled(labels, marks.heaps, roles, owners[-count:], field.slot, (False, False))
        return [whole] if labels else []
    share = 1.0 if len(chart.bars) == 1 or chart.points == "edge" else BAR_SHARE
    pitch = share * field.slot / len(chart.bars)
    return [
        Labelled(
            one.labels, marks.bars.edges[start : start + count], marks.bars.roles[start : start + count],
            owners[start : start + count], pitch, (True, inside),
        )
        for one, start in zip(chart.bars, range(0, count * len(chart.bars), count), strict=True)
        if one.labels
    ]  # fmt: skip


def _open_width(desk: Desk) -> float:
    """Return how far labels may reach to the right of a lying chart."""
    width = desk.size[0]
    if desk.chart.legend != "right":
        return width
    return width - desk.sizes.px(24) - legend_width(desk.chart, width, desk.sizes, desk.pen)


def _taken(page: Page, marks: Marks, width: float, over: float) -> Places:
    """Return the frame with everything in it that a label must not cover."""
    frame = page.field.frame
    lying = page.field.lying  # no axis stands to the right then
    right = width - 4 if lying else frame.right
    top = frame.top if lying else frame.top + over
    places = Places(Box(frame.left + (1 if lying else 2), frame.bottom + 1, right, top))
    for number, edge in enumerate(marks.bars.edges.tolist()):
        places.take(Box(*edge), owner=number)
    for path, points in zip(marks.paths, marks.points, strict=True):
        radius = points.radius
        for x, y in zip(points.xs.tolist(), points.ys.tolist(), strict=True):
            places.take(Box(x - radius - 1, y - radius - 1, x + radius + 1, y + radius + 1))
        for start, end in pairwise(zip(path.xs.tolist(), path.ys.tolist(), strict=True)):
            places.take_segment(*start, *end)
    return places


def _assemble(desk: Desk, page: Page, marks: Marks, placed: _Placed) -> Plan:
    chart, field, rules = desk.chart, page.field, [*page.rules, *marks.partings]
    for cut in chart.cuts if marks.paths else ():
        level = float(field.up(desk.scales.secondary.fraction(cut.value)))
        rules += cut_rules(cut, level, marks.paths[0].xs, marks.paths[0].ys, field)
    return Plan(
        size=desk.size,
        frame=field.frame,
        scales=desk.scales,
        centres=field.centres(),
        bars=marks.bars,
        paths=marks.paths,
        point_sets=marks.points,
        rules=tuple(rules),
        swatches=page.legend.rects,
        swatch_paths=page.legend.paths,
        swatch_points=page.legend.points,
        texts=(*page.texts, *placed.texts),
        left_out=placed.left_out,
        clear=_clear(placed.texts),
        title=chart.title,
        description=chart.description,
        lying=chart.lying,
    )


def _clear(texts: tuple[TextMark, ...]) -> Floats:
    """Return where the grid is wiped out behind labels, so that no line runs through a number."""
    boxes = [mark.box for mark in texts if not mark.role.startswith("on-")]
    return np.array(boxes, dtype=np.float64).reshape(-1, 4)
