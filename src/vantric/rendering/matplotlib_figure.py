"""A plan becomes a Matplotlib figure, and the bytes of a PNG or PDF with its text alternative inside."""

from __future__ import annotations

import io
from collections.abc import Callable
from typing import TYPE_CHECKING, Any, TypeAlias

import matplotlib as mpl
import numpy as np
from matplotlib.axes import Axes
from matplotlib.figure import Figure
from matplotlib.patches import Rectangle
from matplotlib.transforms import Bbox, ScaledTranslation, Transform

from vantric.base.safe_text import markup
from vantric.core import layout
from vantric.core.charts import Chart, PanelChart
from vantric.core.layout.text_layout import TextMeasure
from vantric.errors import ChartError
from vantric.rendering.fonts import (
    DRAWING,
    PER_INCH,
    families_for,
    linear_measure,
    renderer_measure,
)
from vantric.rendering.mark_painter import MarkPainter
from vantric.rendering.render_warnings import Telling, warn
from vantric.rendering.themes import Theme, theme_named

if TYPE_CHECKING:
    from vantric.core.layout import PanelPlan, Plan

Drawn: TypeAlias = Chart | PanelChart


def planned_figure(
    chart: Drawn, size: tuple[float, float], measure: Callable[[tuple[str, ...]], TextMeasure], *, tell: Telling = warn
) -> tuple[Plan | PanelPlan, tuple[str, ...]]:
    """Return a chart's plan, measured with the fonts that draw it, and their families; `tell` hears what these lack."""
    with DRAWING:
        families = families_for(_texts(chart), chart.font, tell=tell)
        if isinstance(chart, PanelChart):
            return layout.make_panel_plan(chart, size, measure(families)), families
        return layout.make_plan(chart, size, measure(families)), families


def _texts(chart: Drawn) -> list[str]:
    if isinstance(chart, PanelChart):
        return [chart.title, chart.subtitle, chart.note, *(text for panel in chart.panels for text in _texts(panel))]
    titles = [chart.title, chart.subtitle, chart.note, chart.category_title, chart.primary_title, chart.secondary_title]
    titles += [
        *(reference.text for reference in chart.references),
        *(date_mark.text for date_mark in chart.moments),
        *chart.months,
    ]
    units = [chart.primary_unit, chart.secondary_unit, chart.total_text, *(cut.text for cut in chart.cuts)]
    labels = [text for series in chart.series for text in (series.name, *series.texts[:1])]
    return [*titles, *units, *labels, *chart.categories]


def bare_figure(chart: Drawn, *, tell: Telling = warn, outlined: bool = False) -> tuple[Figure, Plan | PanelPlan]:
    """Return a figure to be saved at once, and its plan: marks and text, no axes; text as outlines if it can be."""
    theme = theme_named(chart.theme)
    plan, families = planned_figure(chart, chart.size, linear_measure, tell=tell)
    figure = _new_figure(theme, chart.size)
    MarkPainter(figure, figure.dpi_scale_trans, (0.0, 0.0), theme, families, outlined=outlined).draw(plan)
    return figure, plan


def draw_figure(chart: Drawn, *, ax: Axes | None = None) -> Figure:
    """Draw a chart into a figure that the caller goes on with.

    Parameters
    ----------
    chart
        What is wanted.
    ax
        Axes whose place the whole chart takes, titles and labels included; a new figure of its size if not given.

    Returns
    -------
    matplotlib.figure.Figure
        The axes span the frame, in category numbers from 0 and in primary units; their twin has the secondary units. So
        more can be drawn over the chart.
    """
    theme = theme_named(chart.theme)
    if ax is None:
        figure, origin, size = _new_figure(theme, chart.size), (0.0, 0.0), chart.size
        plan, families = planned_figure(chart, size, renderer_measure)
        ax = figure.add_axes(_share(plan, figure, origin) if isinstance(plan, layout.Plan) else (0, 0, 1, 1))
    else:
        figure, origin, size = _room_of(ax)
        plan, families = planned_figure(chart, size, renderer_measure)
    # Inches, and with them every mark, go where the figure goes when it is saved cut to what it shows.
    inches = figure.dpi_scale_trans + ScaledTranslation(0, 0, figure.transFigure)  # type: ignore[arg-type]
    MarkPainter(ax, inches, origin, theme, families).draw(plan)
    _hold_room(figure, inches, origin, size)
    if isinstance(plan, layout.Plan):
        _set_limits(ax, plan, _share(plan, figure, origin))
    else:
        ax.set_axis_off()
    return figure


def _hold_room(figure: Figure, inches: Transform, origin: tuple[float, float], size: tuple[float, float]) -> None:
    """Have a figure count the whole chart as shown: notebooks save it with ``bbox_inches="tight"``.

    The marks themselves stand outside the layout, for a layout engine would move the caller's other axes for them; what
    belongs to the figure, and to no axes, moves nothing.
    """
    left, bottom = (length / PER_INCH for length in origin)
    width, height = (length / PER_INCH for length in size)
    figure.add_artist(Rectangle((left, bottom), width, height, transform=inches, fill=False, linewidth=0))


def _new_figure(theme: Theme, size: tuple[float, float]) -> Figure:
    width, height = size
    layout: Any = "none"  # whatever the caller's settings are; the stubs lack it
    return Figure((width / PER_INCH, height / PER_INCH), PER_INCH, facecolor=theme.ground, layout=layout)


def _room_of(ax: Axes) -> tuple[Figure, tuple[float, float], tuple[float, float]]:
    """Return the figure of the caller's axes and the place they take in it, in plan pixels."""
    figure = ax.get_figure()
    while not isinstance(figure, Figure):
        figure = figure.figure  # type: ignore[union-attr]
    engine = figure.get_layout_engine()
    if engine is not None:
        engine.execute(figure)
    box, scale = ax.get_window_extent(), PER_INCH / figure.dpi
    return figure, (box.x0 * scale, box.y0 * scale), (box.width * scale, box.height * scale)


def _share(plan: Plan, figure: Figure, origin: tuple[float, float]) -> tuple[float, float, float, float]:
    """Return the frame as shares of the figure."""
    width, height = (length * PER_INCH for length in figure.get_size_inches())
    frame = plan.frame
    left, bottom = frame.left + origin[0], frame.bottom + origin[1]
    return left / width, bottom / height, frame.width / width, frame.height / height


def _set_limits(ax: Axes, plan: Plan, share: tuple[float, float, float, float]) -> None:
    """Give the axes and a twin the frame's place and limits, and take away what the plan draws itself."""
    twin = ax.twiny() if plan.horizontal else ax.twinx()
    place = Bbox.from_bounds(*share)
    for axes, scale in ((ax, plan.scales.primary), (twin, plan.scales.secondary)):
        axes.set_position(place)
        axes.set_axes_locator(lambda axes, renderer: place)  # a layout engine would move them from their marks
        axes.set_axis_off()
        categories, values = (-0.5, len(plan.centers) - 0.5), (scale.lower, scale.upper)
        axes.set_xlim(values if plan.horizontal else categories)
        axes.set_ylim(categories[::-1] if plan.horizontal else values)


_MOST_PIXELS = 150_000_000  # of a PNG: each takes eight bytes while it is drawn
#: Matplotlib keeps these for the whole process: they are set while saving only, by one thread at a time.
_SETTINGS: Any = {
    "pdf.fonttype": 42,
    "pdf.use14corefonts": False,
    "path.simplify": False,
    "text.hinting": "none",
}


def draw_bytes(chart: Drawn, kind: str, tell: Telling, scale: float = 1.0) -> tuple[bytes, Plan | PanelPlan]:
    """Return a chart as a picture that Matplotlib draws, ``"png"`` or ``"pdf"``, and its plan.

    Raises
    ------
    ChartError
        If a PNG of that scale has no pixels, or more than can be drawn.
    """
    if not scale * min(chart.size) > 0 or scale * scale * chart.size[0] * chart.size[1] > _MOST_PIXELS:
        raise ChartError(f"a scale of {scale:g} makes no picture of {chart.size[0]:g} x {chart.size[1]:g}; take 1 to 4")
    with DRAWING:
        figure, plan = bare_figure(chart, tell=tell, outlined=kind == "png")
        figure.set_dpi(PER_INCH * scale)
        with mpl.rc_context(_SETTINGS):
            return _WRITERS[kind](figure, chart), plan


def _png(figure: Figure, chart: Drawn) -> bytes:
    from matplotlib.backends.backend_agg import FigureCanvasAgg
    from PIL import Image
    from PIL.PngImagePlugin import PngInfo

    canvas = FigureCanvasAgg(figure)
    canvas.draw()
    about = PngInfo()
    for name, text in (("Title", chart.title), ("Description", chart.description), ("Software", "Vantric")):
        about.add_itxt(name, markup(text), lang="en")
    out = io.BytesIO()
    opaque = Image.fromarray(np.asarray(canvas.buffer_rgba())).convert("RGB")
    opaque.save(out, "PNG", pnginfo=about, dpi=(figure.dpi, figure.dpi), compress_level=4)
    return out.getvalue()


def _pdf(figure: Figure, chart: Drawn) -> bytes:
    from matplotlib.backends.backend_pdf import FigureCanvasPdf

    out = io.BytesIO()
    metadata = {
        "Title": markup(chart.title),
        "Subject": markup(chart.description),
        "Creator": "Vantric",
        "Producer": None,
        "CreationDate": None,
    }
    FigureCanvasPdf(figure).print_pdf(out, metadata=metadata)
    return out.getvalue()


_WRITERS: dict[str, Callable[[Figure, Drawn], bytes]] = {"png": _png, "pdf": _pdf}
