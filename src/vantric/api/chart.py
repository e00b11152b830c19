"""The chart that users hold: it plans, draws, saves and shows itself."""

from __future__ import annotations

from dataclasses import dataclass, fields
from pathlib import Path
from typing import TYPE_CHECKING, Any

from vantric.api.saving import ending
from vantric.core import charting
from vantric.core.charting.measure import Measure, table_measure
from vantric.writing import check_target, write_whole

if TYPE_CHECKING:
    from matplotlib.axes import Axes
    from matplotlib.figure import Figure


class _Drawable:
    """What every chart that users hold can do."""

    description: str

    def save(self, path: str | Path) -> Path:
        """Write the chart as a picture of its size by the path's ending: ``.png``, ``.svg`` or ``.pdf``.

        A file that is there is replaced only by the complete new one. Every picture carries what it shows in words.

        Returns
        -------
        pathlib.Path
            The path written.

        Raises
        ------
        TargetError
            If the ending is another one or the place cannot be written.
        """
        from vantric.drawing.save import PICTURES, picture

        target = Path(path)
        kind = ending(target, PICTURES)
        check_target(target)
        write_whole(target, picture(self, kind))  # type: ignore[arg-type]
        return target

    def draw(self, ax: Axes | None = None) -> Figure:
        """Draw the chart with Matplotlib.

        Parameters
        ----------
        ax
            Axes whose place the whole chart takes, titles and labels included; a new figure if not given.

        Returns
        -------
        matplotlib.figure.Figure
        """
        from vantric.drawing.figure import draw_figure

        return draw_figure(self, ax=ax)  # type: ignore[arg-type]

    def _repr_mimebundle_(self, include: Any = None, exclude: Any = None) -> dict[str, Any]:
        """Show the picture in a notebook, with what it shows in words beside it."""
        from vantric.drawing.save import picture

        return {"image/png": picture(self, "png"), "text/plain": self.description or repr(self)}  # type: ignore[arg-type]


@dataclass(frozen=True, repr=False)
class Chart(_Drawable, charting.Chart):
    """A chart; made by `vantric.pareto_chart`."""

    @classmethod
    def of(cls, chart: charting.Chart) -> Chart:
        """Return the public form of a composed chart."""
        return cls(**{field.name: getattr(chart, field.name) for field in fields(chart)})

    def plan(
        self, size: tuple[float, float] | None = None, measure: Measure = table_measure
    ) -> charting.Plan:  # fmt: skip
        """Return the chart with every position resolved, in pixels from the lower left corner.

        Parameters
        ----------
        size
            Width and height of the picture in pixels; the chart's own if not given.
        measure
            ``measure(text, size, bold)`` gives the width of a line of text in pixels. The default is a fixed table,
            the same on every machine; drawing uses the renderer's own.

        Raises
        ------
        ChartError
            If the picture is too small for the chart.
        """
        return charting.make_plan(self, size, measure)


@dataclass(frozen=True, repr=False)
class PanelChart(_Drawable, charting.PanelChart):
    """Several charts in one picture; made by `vantric.pareto_chart` of a table with strata or of a drill-down."""

    @classmethod
    def of(cls, chart: charting.PanelChart) -> PanelChart:
        """Return the public form of composed panels."""
        return cls(**{field.name: getattr(chart, field.name) for field in fields(chart)})

    def plan(
        self, size: tuple[float, float] | None = None, measure: Measure = table_measure
    ) -> charting.PanelPlan:  # fmt: skip
        """Return the panels with every position resolved; see `Chart.plan`."""
        return charting.make_panel_plan(self, size, measure)
