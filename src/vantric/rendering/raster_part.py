"""Pictures that Matplotlib draws, with their text alternative inside."""

from __future__ import annotations

import io
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

import matplotlib as mpl
import numpy as np
from matplotlib.figure import Figure

from vantric.base.safe_text import markup
from vantric.rendering.fonts import DRAWING, PER_INCH
from vantric.rendering.matplotlib_figure import Drawn, bare_figure
from vantric.rendering.render_warnings import Telling

if TYPE_CHECKING:
    from vantric.core.layout import PanelPlan, Plan

#: Matplotlib keeps these for the whole process: they are set while saving only, by one thread at a time.
_SETTINGS: Any = {
    "pdf.fonttype": 42,
    "pdf.use14corefonts": False,
    "path.simplify": False,
    "text.hinting": "none",
}


def drawn(chart: Drawn, kind: str, tell: Telling) -> tuple[bytes, Plan | PanelPlan]:
    """Return a chart as a picture that Matplotlib draws, ``"png"`` or ``"pdf"``, and its plan."""
    with DRAWING:
        figure, plan = bare_figure(chart, tell=tell, outlined=kind == "png")
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
    opaque.save(out, "PNG", pnginfo=about, dpi=(PER_INCH, PER_INCH), compress_level=4)
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
