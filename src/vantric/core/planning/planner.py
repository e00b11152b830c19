"""From a chart to its plan."""

from __future__ import annotations

import numpy as np

from vantric.core.charting.chart import Chart
from vantric.core.numbers.arrays import Floats
from vantric.core.planning.frame.layout import Desk, Page, lay_out
from vantric.core.planning.labels.labeling import Guides, Labels, guides_of, place_labels
from vantric.core.planning.labels.lineends import LineEnds, line_ends
from vantric.core.planning.labels.references import reference_bands
from vantric.core.planning.lettering import Pen, Sizes
from vantric.core.planning.marks import Marks, set_marks
from vantric.core.planning.measure import Measure, table_measure
from vantric.core.planning.plan import LeftOut, Plan, TextMark


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
        What is wanted: series on the primary and the secondary axis.
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
    desk = Desk(chart, size, Sizes.of(*size) if unit is None else Sizes(unit), Pen(measure), chart.scales)
    page, marks, ends, guides = set_page(desk)
    labels = place_labels(desk, page, marks, ends, guides)
    if labels is None:  # no room beside the marks: names are in the legend's row
        names = [*(cut.text for cut in chart.cuts), *(one.text for one in chart.references)]
        names += [one.text for one in chart.moments]
        page, marks, ends, guides = set_page(desk, remark="; ".join(filter(None, names)))
        labels = place_labels(desk, page, marks, ends, guides, with_names=False)
    return _assemble(desk, page, marks, ends, guides, labels or Labels((), ()))


def set_page(desk: Desk, remark: str = "") -> tuple[Page, Marks, LineEnds, Guides]:
    """Return the page, the marks, the names at line ends and the guides: all but the labels."""
    page = lay_out(desk, remark=remark)
    ends = line_ends(desk.chart, page.field, desk.sizes, desk.pen)
    marks = set_marks(desk.chart, page.field, desk.sizes)
    return page, marks, ends, guides_of(desk, page, marks)


def _assemble(desk: Desk, page: Page, marks: Marks, ends: LineEnds, guides: Guides, labels: Labels) -> Plan:
    chart, field = desk.chart, page.field
    rules = [*page.rules, *marks.partings, *(line for lines in guides.cuts for line in lines)]
    return Plan(
        size=desk.size,
        frame=field.frame,
        scales=desk.scales,
        centers=field.centers(),
        bars=marks.bars,
        areas=marks.areas,
        bands=reference_bands(chart, field),
        paths=(*marks.paths, *marks.stems),
        point_sets=marks.points,
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
        texts=(*page.texts, *ends.texts, *labels.texts),
        left_out=labels.left_out,
        missing=(*page.missing, *_unnamed(ends), *labels.missing),
        clear=_clear((*ends.texts, *labels.texts)),
        plates=np.array(labels.plates, dtype=np.float64).reshape(-1, 4),
        title=chart.title,
        description=chart.description,
        horizontal=chart.horizontal,
        clipped=any(chart.scales.clipped),
    )


def _unnamed(ends: LineEnds) -> tuple[LeftOut, ...]:
    return (LeftOut("legend", ends.left_out),) if ends.left_out else ()


def _clear(texts: tuple[TextMark, ...]) -> Floats:
    """Return where the grid is wiped out behind labels, so that no line runs through a number."""
    boxes = [mark.box for mark in texts if not mark.role.startswith("on-")]
    return np.array(boxes, dtype=np.float64).reshape(-1, 4)
