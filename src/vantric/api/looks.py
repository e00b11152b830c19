"""The look of a chart as it is drawn: colors as ``#rrggbb``, a font that is installed."""

from __future__ import annotations

from dataclasses import replace
from typing import TypeVar

from vantric.core.charting.options import Look
from vantric.core.charting.series import Series

L = TypeVar("L", bound=Look)
S = TypeVar("S", bound=Series)


def ready(look: L) -> L:
    """Return a look with its colors as ``#rrggbb`` and the name of an installed font.

    Raises
    ------
    ChartError
        For a color or a font that there is not.
    """
    if not look.colors and not look.font:
        return look
    from vantric.drawing.colors import as_color

    colors = {name: as_color(color) for name, color in look.colors.items()}
    return replace(look, colors=colors, font=_installed(look.font) if look.font else "")


def _installed(font: str) -> str:
    from vantric.drawing.telling import check_settings

    check_settings()
    from vantric.drawing.fonts import installed

    return installed(font)


def colored(series: S) -> S:
    """Return a series with its color as ``#rrggbb``."""
    if not series.color:
        return series
    from vantric.drawing.colors import as_color

    return replace(series, color=as_color(series.color))
