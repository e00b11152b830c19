"""A chart becomes the bytes of a picture, with its text alternative inside."""

from __future__ import annotations

import io
import re
from collections.abc import Callable
from typing import Any

import matplotlib as mpl
import numpy as np
from matplotlib.figure import Figure

from vantric.cleaning import escaped, markup
from vantric.drawing.figure import Drawn, bare_figure
from vantric.drawing.fonts import DRAWING, PER_INCH, Telling, warn
from vantric.errors import TargetError, unknown

_TITLE = re.compile(r"<title>[^<]*</title>")
#: Matplotlib keeps these for the whole process: they are set while saving only, by one thread at a time.
_SETTINGS: Any = {
    "svg.fonttype": "path",
    "svg.hashsalt": "vantric",
    "pdf.fonttype": 42,
    "pdf.use14corefonts": False,
    "path.simplify": False,
    "text.hinting": "none",
}


def picture(chart: Drawn, kind: str, *, tell: Telling = warn) -> bytes:
    """Return a chart as a picture of its size.

    Parameters
    ----------
    chart
        What is wanted.
    kind
        ``"png"``, ``"svg"`` or ``"pdf"``. The same chart gives the same bytes.
    tell
        What hears of signs that no installed font has; they become placeholders.

    Raises
    ------
    TargetError
        If the kind is another one.
    """
    write = _WRITERS.get(kind)
    if write is None:
        raise unknown(TargetError, f"'.{kind}' is not a kind of picture", kind, _WRITERS, every=True)
    with DRAWING:
        figure = bare_figure(chart, tell=tell)
        with mpl.rc_context(_SETTINGS):
            return write(figure, chart)


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


def _svg(figure: Figure, chart: Drawn) -> bytes:
    from matplotlib.backends.backend_svg import FigureCanvasSVG

    out = io.BytesIO()
    FigureCanvasSVG(figure).print_svg(out, metadata={"Title": markup(chart.title), "Date": None, "Creator": "Vantric"})
    return _described(out.getvalue().decode(), chart).encode()


def _described(svg: str, chart: Drawn) -> str:
    """Make the picture one image with a title and a description, as SVG 1.1 and WAI-ARIA have it."""
    start, rest = svg.split("<svg ", 1)
    attributes, rest = rest.split(">", 1)
    rest = _TITLE.sub("", rest, count=1).lstrip()  # Matplotlib's own
    title = f'<title id="chart-title">{escaped(chart.title)}</title>'
    description = f'<desc id="chart-description">{escaped(chart.description)}</desc>'
    spoken = 'role="img" aria-labelledby="chart-title chart-description"'
    return f"{start}<svg {spoken} {attributes}>\n {title}\n {description}\n {rest}"


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


_WRITERS: dict[str, Callable[[Figure, Drawn], bytes]] = {"png": _png, "svg": _svg, "pdf": _pdf}
