"""The chart that users hold: it plans, draws, saves and shows itself."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, fields, replace
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any, Self, Unpack

from vantric.api.combinationoptions import CombinationOptions, colored, read_combination
from vantric.api.saving import ending
from vantric.core import charting, composing, planning
from vantric.core.planning.measure import Measure, table_measure
from vantric.errors import TargetError
from vantric.options import read_options
from vantric.report.chartsentence import chart_sentence
from vantric.writing import check_target, write_whole

#: The endings of chart files.
KEPT = ("toml", "json")

if TYPE_CHECKING:
    from matplotlib.axes import Axes
    from matplotlib.figure import Figure


#: What makes the content of a chart file for a path.
Keeper = Callable[[Path], bytes]


class _Drawable:
    """What every chart that users hold can do."""

    description: str
    _keeper: Keeper | None = None

    def kept_by(self, keeper: Keeper) -> Self:
        """Return the chart itself, told how it can be kept as a file."""
        vars(self)["_keeper"] = keeper
        return self

    def save(self, path: str | Path) -> Path:
        """Write the chart by the path's ending: ``.png``, ``.svg`` or ``.pdf`` a picture of its size.

        A file that is there is replaced only by the complete new one. Every picture carries what it shows in words.
        ``.toml`` and ``.json`` keep the chart as a file that `read_chart` and ``vantric draw`` draw again: of series
        given as numbers, or of a file or database that it was made from.

        Returns
        -------
        pathlib.Path
            The path written.

        Raises
        ------
        TargetError
            If the ending is another one, the place cannot be written, or the chart was made of what no file can name.
        """
        from vantric.drawing.save import PICTURES, picture

        target = Path(path)
        kind = ending(target, (*PICTURES, *KEPT))
        check_target(target)
        if kind in PICTURES:
            write_whole(target, picture(self, kind))  # type: ignore[arg-type]
            return target
        if self._keeper is None:
            raise TargetError(f"cannot keep the chart as '{target}': it was made of data in memory, not of a file")
        write_whole(target, self._keeper(target))
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


def _keep(categories: list[Any], series: list[charting.Series], options: dict[str, Any], target: Path) -> bytes:
    from vantric.api.keeping import kept_series_chart

    return kept_series_chart(categories, series, options, target)


@dataclass(frozen=True, repr=False, init=False)
class Chart(_Drawable, charting.Chart):
    """Series on one category axis and two value axes.

    Parameters
    ----------
    categories
        Text, numbers, dates, or periods as ISO 8601 writes them (``"2026-01"``). Dates and periods stand in order and
        none is left out; numbers ascend.
    series : sequence of Bars, Line, Area, Points, Stems and Steps
        Each with a value a category; None or NaN where one is missing.
    policy : str
        How the two value axes are aligned: ``"grid"``, ``"proportional"``, ``"common"`` or ``"separate"``. If not
        given, ``"grid"`` for unlike units or reach, ``"common"`` for like ones.
    log : str or sequence of str
        The sides that are logarithmic: ``"primary"``, ``"secondary"``.
    primary_limits, secondary_limits : pair of float or None
        Fixed limits, either None where it is free; `clip` allows them to cut data off.
    include_zero : pair of bool or None
        Whether each side shows zero; None: where bars, areas or stems stand on it.
    meet, headroom
        As for `vantric.align`.
    together : str
        How bars share a place: ``"grouped"``, ``"stacked"``, ``"percent"`` (to 100 %) or ``"overlaid"``; `gap` parts
        grouped bars, and bars with the same `stack` are stacked whatever it is.
    totals : bool
        Whether the totals of stacks are written over them.
    references : sequence of Reference
        Lines and bands at values of either axis.
    period : str
        The calendar period of dates: ``"day"``, ``"week"``, ``"month"``, ``"quarter"`` or ``"year"``.
    transpose : bool
        Whether categories and series are exchanged.
    subject : str
        What the categories are, for title and axis.
    **options
        How it looks, as for `vantric.pareto_chart`: `orientation`, `legend` (``"ends"`` too: names at the line ends),
        `grid`, `title_place`, `theme`, `font`, `size`, titles, `note`, `colors`, number signs and `words`.

    Raises
    ------
    VantricError
        If the parts do not fit together: the message says which.

    Examples
    --------
    >>> import vantric as vt
    >>> fired, rejects = vt.Bars("Fired", [640, 590]), vt.Line("Rejects", [4.2, 3.9], axis="secondary", unit="%")
    >>> vt.Chart(["May", "June"], [fired, rejects])
    <Chart 'Fired and Rejects' of 2 categories: bars 'Fired', line 'Rejects'>
    """

    def __init__(
        self, categories: Iterable[Any], series: Iterable[charting.Series], **options: Unpack[CombinationOptions]
    ) -> None:
        plain = read_options(options, CombinationOptions)
        wish = read_combination(plain)
        given, drawn = list(categories), list(series)
        made = composing.combination_chart(given, [colored(one) for one in drawn], wish)
        vars(self).update(vars(replace(made, description=chart_sentence(made))))
        self.kept_by(partial(_keep, given, drawn, plain))

    @classmethod
    def of(cls, chart: charting.Chart) -> Chart:
        """Return the public form of a composed chart."""
        made = object.__new__(cls)
        vars(made).update(vars(chart))
        return made

    def plan(
        self, size: tuple[float, float] | None = None, measure: Measure = table_measure
    ) -> planning.Plan:  # fmt: skip
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
        return planning.make_plan(self, size, measure)


@dataclass(frozen=True, repr=False)
class PanelChart(_Drawable, charting.PanelChart):
    """Several charts in one picture; made by `vantric.pareto_chart` of a table with strata or of a drill-down."""

    @classmethod
    def of(cls, chart: charting.PanelChart) -> PanelChart:
        """Return the public form of composed panels."""
        return cls(**{field.name: getattr(chart, field.name) for field in fields(chart)})

    def plan(
        self, size: tuple[float, float] | None = None, measure: Measure = table_measure
    ) -> planning.PanelPlan:  # fmt: skip
        """Return the panels with every position resolved; see `Chart.plan`."""
        return planning.make_panel_plan(self, size, measure)
