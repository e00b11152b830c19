"""A plan becomes a Matplotlib figure, and the bytes of a PNG or PDF with its text alternative inside."""

from __future__ import annotations

import contextlib
import io
from collections.abc import Callable, Mapping
from typing import TYPE_CHECKING, Any, TypeAlias, cast

import matplotlib as mpl
import numpy as np
from matplotlib.axes import Axes
from matplotlib.figure import Figure
from matplotlib.patches import Rectangle
from matplotlib.transforms import Affine2D, ScaledTranslation
from numpy.typing import NDArray

from vantric.base.safe_text import markup
from vantric.core import layout
from vantric.core.charts import Chart, PanelChart
from vantric.core.layout.plan import Box
from vantric.core.layout.text_layout import TextMeasure
from vantric.errors import ChartError
from vantric.rendering.drawing_guards import DRAWING, Telling, warn
from vantric.rendering.fonts import (
    PER_INCH,
    families_for,
    linear_measure,
    renderer_measure,
)
from vantric.rendering.mark_painter import MarkPainter
from vantric.rendering.themes import DEFAULT_SIZE, Theme, theme_named

if TYPE_CHECKING:
    from vantric.core.layout import PanelPlan, Plan
    from vantric.rendering.native_axes import DrawnAxes

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
    inches = Affine2D().scale(1 / PER_INCH) + figure.dpi_scale_trans
    MarkPainter(figure, inches, theme, families, outlined=outlined).draw(plan)
    return figure, plan


def whole_figure(chart: Drawn) -> Figure:
    """Return a figure of the whole picture, as it is saved.

    A figure that is saved cut to what it shows (``bbox_inches="tight"``, as notebooks do) keeps the whole chart: its
    marks go where the figure goes, and a rectangle of its size counts as shown.
    """
    theme = theme_named(chart.theme)
    plan, families = planned_figure(chart, chart.size, renderer_measure)
    figure = _new_figure(theme, chart.size)
    inches = figure.dpi_scale_trans + ScaledTranslation(0, 0, figure.transFigure)  # type: ignore[arg-type]
    ax = figure.add_axes((0.0, 0.0, 1.0, 1.0))  # notebooks show no figure without axes
    ax.set_axis_off()
    MarkPainter(ax, Affine2D().scale(1 / PER_INCH) + inches, theme, families).draw(plan)
    width, height = (length / PER_INCH for length in chart.size)
    figure.add_artist(Rectangle((0, 0), width, height, transform=inches, fill=False, linewidth=0))
    return figure


def draw_axes(chart: Drawn, ax: Axes | None, *, link: bool) -> DrawnAxes | tuple[DrawnAxes, ...]:
    """Draw a chart into axes, and return these and their twin; of panels a pair each, in order.

    Parameters
    ----------
    chart
        What is wanted.
    ax
        The primary axes; those of a new figure of the chart's size if not given.
    link
        Whether limits that the caller changes on one value axis move the other.
    """
    from vantric.rendering.native_axes import NativeChart

    _check_axes(ax)
    if isinstance(chart, PanelChart) or chart.is_share_bar:
        return _draw_whole(chart, ax, link=link)
    if ax is None:
        plan, families = planned_figure(chart, chart.size, renderer_measure)
        ax = _new_figure(theme_named(chart.theme), chart.size).add_axes(_share(plan.frame, chart.size))  # type: ignore[union-attr]
    else:
        plan, families = _fitted(chart, ax)
    return NativeChart(ax, chart, cast("Plan", plan), families, renderer_measure(families)).draw(link=link)


def _check_axes(ax: Any) -> None:
    """Raise `ChartError` for what are no axes with an x and a y."""
    if ax is None:
        return
    if not isinstance(ax, Axes):
        what = f"is {type(ax).__name__}, not axes"
        raise ChartError(f"ax {what}: give one of figure.subplots(), such as draw(figure.subplots())", value=ax)
    if ax.name != "rectilinear":
        raise ChartError(f"a chart has an x and a y: axes of the projection '{ax.name}' cannot hold it", value=ax.name)


def _draw_whole(chart: Drawn, ax: Axes | None, *, link: bool) -> DrawnAxes | tuple[DrawnAxes, ...]:
    """Draw a picture of several frames where the axes are: each panel in axes of its own within them."""
    from vantric.rendering.native_axes import DrawnAxes, NativeChart

    theme = theme_named(chart.theme)
    if ax is None:
        ax = _new_figure(theme, chart.size).add_axes((0.0, 0.0, 1.0, 1.0))
    size = _size_of(ax)
    plan, families = planned_figure(chart, size, renderer_measure)
    ax.set_axis_off()
    place = Affine2D().scale(1 / size[0], 1 / size[1]) + ax.transAxes
    painter = MarkPainter(ax, place, theme, families, unit=min(size[0] / DEFAULT_SIZE[0], size[1] / DEFAULT_SIZE[1]))
    if not isinstance(plan, layout.PanelPlan) or not isinstance(chart, PanelChart):
        painter.draw(plan)
        return DrawnAxes(ax, None)
    painter.above_panels(plan)
    measure, drawn = renderer_measure(families), []
    for panel, (box, own) in zip(chart.panels, plan.panels, strict=True):
        frame = own.frame
        left, bottom = box.left + frame.left, box.bottom + frame.bottom
        inner = ax.inset_axes(_share(Box(left, bottom, left + frame.width, bottom + frame.height), size))
        drawn.append(NativeChart(inner, panel, own, families, measure).draw(link=link))
    return tuple(drawn)


def _fitted(chart: Chart, ax: Axes) -> tuple[Plan, tuple[str, ...]]:
    """Return the plan whose frame is the axes; where a layout engine makes room for titles, the picture is."""
    size = _size_of(ax)
    figure: Any = ax.get_figure(root=True)
    if figure.get_layout_engine() is not None:
        with contextlib.suppress(ChartError):  # too small for all that is around the frame
            plan, families = planned_figure(chart, size, renderer_measure)
            return cast("Plan", plan), families
        size = (_FRAME * size[0], _FRAME * size[1])
    whole = (size[0] + _AROUND[0], size[1] + _AROUND[1])
    for _ in range(4):
        plan, families = planned_figure(chart, whole, renderer_measure)
        frame, (width, height) = plan.frame, plan.size  # type: ignore[union-attr]
        whole = (width + size[0] - frame.width, height + size[1] - frame.height)
    return cast("Plan", plan), families


#: How much of small axes their frame is, once titles have their room; and pixels around it, to begin with.
_FRAME, _AROUND = 0.65, (200.0, 200.0)


def _size_of(ax: Axes) -> tuple[float, float]:
    """Return the width and height of axes in plan pixels, after a layout engine has set them."""
    figure: Any = ax.get_figure(root=True)
    engine = figure.get_layout_engine()
    if engine is not None:
        engine.execute(figure)
    box, scale = ax.get_window_extent(), PER_INCH / figure.dpi
    return box.width * scale, box.height * scale


def _share(box: Box, size: tuple[float, float]) -> tuple[float, float, float, float]:
    """Return a box as shares of a size: left, bottom, width, height."""
    return box.left / size[0], box.bottom / size[1], box.width / size[0], box.height / size[1]


def _new_figure(theme: Theme, size: tuple[float, float]) -> Figure:
    width, height = size
    layout: Any = "none"  # whatever the caller's settings are; the stubs lack it
    return Figure((width / PER_INCH, height / PER_INCH), PER_INCH, facecolor=theme.ground, layout=layout)


_PACKED = 6  # how hard a PNG is packed: harder takes longer, and makes it little smaller
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

    canvas = FigureCanvasAgg(figure)
    canvas.draw()
    about = {"Title": markup(chart.title), "Description": markup(chart.description), "Software": "Vantric"}
    return _png_of(np.asarray(canvas.buffer_rgba())[:, :, :3], figure.dpi, about)


def _png_of(pixels: NDArray[np.uint8], dpi: float, about: Mapping[str, str]) -> bytes:
    """Return pixels, of shape (height, width, 3), as PNG (W3C Recommendation, 2003), their rows without a filter.

    Charts are areas of one color: filters, which libraries cannot do without, make them slower to pack, and larger.
    """
    import struct
    import zlib

    from PIL.PngImagePlugin import putchunk

    height, width = pixels.shape[:2]
    rows = np.zeros((height, 1 + 3 * width), dtype=np.uint8)  # before each row the number of its filter: none
    rows[:, 1:] = pixels.reshape(height, -1)
    per_meter = round(dpi / 0.0254)
    out = io.BytesIO()
    out.write(b"\x89PNG\r\n\x1a\n")
    putchunk(out, b"IHDR", struct.pack(">2I5B", width, height, 8, 2, 0, 0, 0))
    putchunk(out, b"pHYs", struct.pack(">2IB", per_meter, per_meter, 1))
    for name, text in about.items():
        putchunk(out, b"iTXt", name.encode("latin-1"), b"\0\0\0en\0\0", text.encode())
    putchunk(out, b"IDAT", zlib.compress(rows.tobytes(), _PACKED))
    putchunk(out, b"IEND")
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
