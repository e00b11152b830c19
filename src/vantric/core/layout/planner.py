"""From a chart, or from several in one picture, to its plan."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from vantric.base.lazily import dataclass
from vantric.core.charts.chart import Chart, PanelChart
from vantric.core.layout.frame import FrameLayout, LayoutContext, SizeLack, lay_out
from vantric.core.layout.labels import Guides, Labels, guides_of, place_labels
from vantric.core.layout.legend import Legend, legend
from vantric.core.layout.mark_labels import LineEnds, line_ends, reference_bands
from vantric.core.layout.marks import Marks, joins, row_washes, set_marks
from vantric.core.layout.plan import Box, LeftOut, Plan, RectMarks, TextMark
from vantric.core.layout.text_layout import PANEL_TITLE, SMALLEST_SHARE, Sizes, TextMeasure, TextWriter, table_measure
from vantric.core.layout.titles import PlotArea, head, note_line
from vantric.errors import ChartError


def make_plan(
    chart: Chart,
    size: tuple[float, float] | None = None,
    measure: TextMeasure = table_measure,
    *,
    unit: float | None = None,
    margins: tuple[float, float] = (0.0, 0.0),
) -> Plan:
    """Resolve every position of a chart.

    Parameters
    ----------
    chart
        What is wanted: series on the primary and the secondary axis.
    size
        Width and height of the picture in pixels; the chart's own if not given.
    measure
        Tells how wide text is; a fixed table by default, the renderer's own when drawing.
    unit
        How large letters are beside those of a picture of 1280 x 800; by the size if not given.
    margins
        What is left free above and below the frame at least, in pixels.

    Returns
    -------
    Plan

    Raises
    ------
    ChartError
        If the picture is too small for the chart.
    """
    size = chart.size if size is None else size
    sizes = Sizes.of(*size) if unit is None else Sizes(unit, PANEL_TITLE, True)
    context = LayoutContext(chart, size, sizes, TextWriter(measure), chart.scales, margins)
    if chart.is_share_bar:
        from vantric.core.layout.share_bar import share_plan

        return share_plan(context)
    page, marks, ends, guides = set_page(context)
    labels = place_labels(context, page, marks, ends, guides)
    if labels is None:  # no room beside the marks: names are in the legend's row
        names = [reference.text for reference in chart.references]
        names += [date_mark.text for date_mark in chart.moments]
        page, marks, ends, guides = set_page(context, remark="; ".join(filter(None, names)))
        labels = place_labels(context, page, marks, ends, guides, with_names=False)
    return _assemble(context, page, marks, ends, guides, labels or Labels((), ()))


def set_page(context: LayoutContext, remark: str = "") -> tuple[FrameLayout, Marks, LineEnds, Guides]:
    """Return the page, the marks, the names at line ends and the guides: all but the labels."""
    page = lay_out(context, remark=remark)
    ends = line_ends(context.chart, page.field, context.sizes, context.pen)
    marks = set_marks(context.chart, page.field, context.sizes)
    return page, marks, ends, guides_of(context, page, marks)


def _assemble(
    context: LayoutContext, page: FrameLayout, marks: Marks, ends: LineEnds, guides: Guides, labels: Labels
) -> Plan:
    chart, field = context.chart, page.field
    rules = [*page.rules, *marks.partings, *joins(chart, field), *(line for lines in guides.cuts for line in lines)]
    return Plan(
        size=context.size,
        frame=field.frame,
        scales=context.scales,
        centers=field.centers(),
        bars=marks.bars,
        areas=marks.areas,
        rims=marks.rims,
        bands=_bands(chart, field, context.size[0]),
        paths=(*marks.paths, *marks.stems),
        point_sets=marks.points,
        drawn_points=marks.drawn,
        rules=(
            *rules,
            *guides.references,
            *guides.moments,
            *marks.whiskers,
            *labels.leaders,
            *ends.leaders,
        ),
        swatches=page.legend.rects,
        swatch_areas=page.legend.areas,
        swatch_paths=page.legend.paths,
        swatch_points=page.legend.points,
        texts=(*page.texts, *(_with_halo(mark, chart, field) for mark in (*ends.texts, *labels.texts))),
        left_out=labels.left_out,
        missing=(*page.missing, *_unnamed(ends), *labels.missing),
        title=chart.title,
        description=chart.formatter.text(chart.description),
        horizontal=chart.horizontal,
        clipped=any(chart.scales.clipped),
    )


def _unnamed(ends: LineEnds) -> tuple[LeftOut, ...]:
    return (LeftOut("legend", ends.left_out),) if ends.left_out else ()


def _wash(chart: Chart, field: PlotArea) -> Box | None:
    """Return what is behind the vital few; None without classes."""
    first = next((mark for mark in chart.classes if mark.rank == 1 and mark.end > mark.start), None)
    if first is None:
        return None
    start, end = sorted(map(float, field.along(np.array([first.start, first.end], dtype=np.float64))))
    left, bottom, right, top = field.frame
    return Box(left, start, right, end) if field.horizontal else Box(start, bottom, end, top)


def _bands(chart: Chart, field: PlotArea, width: float) -> RectMarks:
    """Return what is behind everything: the wash of the vital few or of rows, and bands between two values."""
    bands, wash = reference_bands(chart, field), _wash(chart, field)
    washes = [*([wash] if wash else []), *row_washes(chart, width, field)]
    if not washes:
        return bands
    return RectMarks(np.concatenate((np.array(washes), bands.edges)), (*["wash"] * len(washes), *bands.roles))


def _with_halo(mark: TextMark, chart: Chart, field: PlotArea) -> TextMark:
    """Give a label a halo in the color of what is beneath it: no line then runs through its letters."""
    if mark.halo or mark.role.startswith("on-"):
        return mark
    wash, box = _wash(chart, field), mark.box
    x, y = (box.left + box.right) / 2, (box.bottom + box.top) / 2
    washes = [*([wash] if wash else []), *row_washes(chart, x, field)]
    inside = any(each.left <= x <= each.right and each.bottom <= y <= each.top for each in washes)
    return mark._replace(halo="wash" if inside else "ground")


#: The width of a panel over its height that reads best.
_ASPECT = 1.7
#: How high the lowest of several rows may be, whose names stand beneath what all have, in rows.
_LOWEST = 1.4
_LETTERS, _SMALL_LETTERS = 0.95, 0.86  # of the picture's own
#: Horizontal panels beside each other, and the pixels that each needs.
_MOST_COLUMNS, _LEAST_COLUMN = 5, 180.0


@dataclass(frozen=True, eq=False)
class PanelPlan:
    """Several plans in one picture.

    Attributes
    ----------
    size
        Width and height of the picture.
    panels : tuple of (Box, Plan)
        Where each plan is.
    texts, legend
        What is above and below them all.
    title, description
        The text alternative.
    """

    size: tuple[float, float]
    panels: tuple[tuple[Box, Plan], ...]
    texts: tuple[TextMark, ...]
    legend: Legend
    title: str
    description: str


def make_panel_plan(
    chart: PanelChart, size: tuple[float, float] | None = None, measure: TextMeasure = table_measure
) -> PanelPlan:
    """Resolve every position of small multiples; see `make_plan`."""
    size = chart.size if size is None else size
    width, height = size
    sizes, writer = Sizes.of(*size), TextWriter(measure)
    margin = sizes.margin
    above = replace(
        chart.panels[0],
        title=chart.title,
        subtitle=chart.subtitle,
        note=chart.note,
        legend="above",
        orientation="vertical",
        title_place=chart.title_place,
    )
    heads, top = head(above, width - 2 * margin, height - margin + sizes.px(4), margin, sizes, writer)
    notes, bottom = note_line(above, width, sizes, writer)
    shown_chart = above if chart.legend else replace(above, legend="none")
    key = legend(shown_chart, margin, width - margin, top - sizes.px(8), sizes, writer)
    top -= key.height + sizes.px(10)
    room = Box(margin - 16.0, bottom, width - margin + 16.0, top)
    try:
        panels = _set_panels(chart, room, sizes, measure)
    except ChartError as error:
        if isinstance(error.value, SizeLack):
            raise error.value.of_whole(size, (room.width, room.height)).error() from None
        raise
    return PanelPlan(
        size,
        tuple(panels),
        (*heads, *notes, *key.texts),
        key,
        chart.title,
        chart.panels[0].formatter.text(chart.description),
    )


def _set_panels(chart: PanelChart, room: Box, sizes: Sizes, measure: TextMeasure) -> list[tuple[Box, Plan]]:
    """Set the panels in rows; where all have the same categories, only the lowest of each column name them."""
    count = len(chart.panels)
    if count > 1 and all(item.horizontal for item in chart.panels):
        return _set_columns(chart, room, sizes, measure)
    rows, columns = _grid(count, room.width, room.height)
    share = 1.0 if count == 1 else _LETTERS if count <= 6 else _SMALL_LETTERS
    unit = max(sizes.unit * share, SMALLEST_SHARE)
    across = room.width / columns
    named = 0.0  # the height of the labels under the lowest panels
    shared = rows > 1 and len({entry.categories for entry in chart.panels}) == 1
    if shared:
        cell = (across, _LOWEST * room.height / rows)
        trial, bare = (
            make_plan(replace(chart.panels[0], category_labels=is_named), cell, measure, unit=unit)
            for is_named in (True, False)
        )
        named = trial.frame.bottom - bare.frame.bottom
    down = (room.height - named) / rows
    placed = []
    for number, item in enumerate(chart.panels):
        row, column = divmod(number, columns)
        lowest = number + columns >= count
        left, upper, height = room.left + column * across, room.top - row * down, down + (named if lowest else 0.0)
        panel = replace(item, category_labels=lowest or not shared)
        plan = make_plan(panel, (across, height), measure, unit=unit)
        placed.append((Box(left, upper - height, left + across, upper), plan))
    return placed


def _set_columns(chart: PanelChart, room: Box, sizes: Sizes, measure: TextMeasure) -> list[tuple[Box, Plan]]:
    """Set horizontal panels in columns that share their names, which stand at the first of each row."""
    count = len(chart.panels)
    columns = min(count, _MOST_COLUMNS, max(1, int(room.width // _LEAST_COLUMN)))
    rows = math.ceil(count / columns)
    unit = max(sizes.unit * (_LETTERS if rows == 1 else _SMALL_LETTERS), SMALLEST_SHARE)
    down = room.height / rows
    first, bare = (
        make_plan(replace(chart.panels[0], category_labels=is_named), (room.width / columns, down), measure, unit=unit)
        for is_named in (True, False)
    )
    named = first.frame.left - bare.frame.left
    across, placed = (room.width - named) / columns, []
    for number, item in enumerate(chart.panels):
        row, column = divmod(number, columns)
        left = room.left + column * across + (named if column else 0.0)
        size = (across + (0.0 if column else named), down)
        upper = room.top - row * down
        plan = make_plan(replace(item, category_labels=not column), size, measure, unit=unit)
        placed.append((Box(left, upper - down, left + size[0], upper), plan))
    # Rows are read across, so all frames have the height of the lowest one.
    margins = max(box.height - plan.frame.top for box, plan in placed), max(plan.frame.bottom for _, plan in placed)
    for number, (box, plan) in enumerate(placed):
        if (box.height - plan.frame.top, plan.frame.bottom) != margins:
            item = replace(chart.panels[number], category_labels=not number % columns)
            size = (box.width, box.height)
            placed[number] = box, make_plan(item, size, measure, unit=unit, margins=margins)
    return placed


def _grid(count: int, width: float, height: float) -> tuple[int, int]:
    """Return rows and columns whose cells come nearest to the shape of a chart."""
    best = min(
        range(1, count + 1),
        key=lambda columns: (
            abs(math.log((width / columns) / (height / math.ceil(count / columns)) / _ASPECT))
            + 0.3 * (math.ceil(count / columns) * columns - count) / count
        ),
    )
    return math.ceil(count / best), best
