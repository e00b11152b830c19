"""The charts that users hold: they plan, draw, save and show themselves."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, fields
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING, Any, Self, TypeAlias, Unpack

from vantric.api.frames import frame_of
from vantric.api.kinds.series import chart_of_series, chart_section
from vantric.api.recipe import Recipe
from vantric.api.saving import ending, save_content
from vantric.cleaning import Plain
from vantric.core import charting, planning
from vantric.core.charting.options import AxisPeriod, CombinationLook
from vantric.core.planning.measure import Measure, table_measure
from vantric.core.results import Result
from vantric.core.reviewing import Finding
from vantric.errors import TargetError
from vantric.options import split_options
from vantric.options.showing import shows
from vantric.reports.written import Content
from vantric.writing import CHART_FILES, HANDED, PICTURES, check_target, write_whole

if TYPE_CHECKING:
    from matplotlib.axes import Axes
    from matplotlib.figure import Figure

    from vantric.api.keywords import ChartOptions
    from vantric.reports.sections import Section

#: Returns what is handed over of a chart.
Told: TypeAlias = "Callable[[Any], Section]"


class _Drawable(Result):
    """What every chart that users hold can do."""

    description: str
    #: Returns what is handed over of the chart: with the table it was made of.
    _told: Told | None = None

    def _told_by(self, told: Told | None) -> Self:
        """Return the chart itself, with what hands it over."""
        object.__setattr__(self, "_told", told)
        return self

    def _section(self) -> Section:
        """Return the chart with its table and what the review says of it."""
        if self._told is not None:
            return self._told(self)
        return chart_section(self, self.review())  # type: ignore[arg-type]

    def sentence(self) -> str:
        """Return what the chart shows, in words: the text alternative of every picture."""
        return self.description

    def save(self, path: str | Path, *, slide_tables: bool = False) -> Path:
        """Write the chart by the path's ending: ``.png``, ``.svg`` or ``.pdf`` a picture of its size.

        ``.html`` is a page with its table and what the review says, ``.xlsx`` a workbook with a chart that follows its
        cells, ``.pptx`` a slide (install vantric[slides]), ``.md`` its table with a picture beside it. A file that is
        there is replaced only by the complete new one. Every picture carries what it shows in words.
        ``.toml`` and ``.json`` are chart files, which `read_chart` and ``vantric draw`` draw again: of series given as
        numbers, or of the file or database that the chart was made from.

        Parameters
        ----------
        path
        slide_tables
            Whether a slide is followed by the table.

        Returns
        -------
        pathlib.Path
            The path written.

        Raises
        ------
        TargetError
            If the ending is another one, the place cannot be written, or the data were in memory, so that no chart
            file can name them.
        """
        target = Path(path)
        kind = ending(target, (*PICTURES, *HANDED, *CHART_FILES))
        check_target(target)
        if kind in HANDED:
            content = Content(section=cache(self._section), slide_tables=slide_tables)
            return save_content(target, lambda: content, self._sources(), HANDED)
        if kind in PICTURES:
            from vantric.drawing.save import picture

            write_whole(target, picture(self, kind))  # type: ignore[arg-type]
            return target
        if self._recipe is None:
            raise TargetError(
                f"cannot write the chart file '{target}': the chart was not made by a function of Vantric"
            )
        write_whole(target, self._recipe.file(target))
        return target

    def _sources(self) -> list[str]:
        """Return the files it was made of, which saving must not replace."""
        source = self._recipe.source if self._recipe else None
        return [str(one) for one in (source if isinstance(source, tuple) else (source,)) if isinstance(one, str | Path)]

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
        from vantric.drawing.telling import check_settings

        check_settings()
        from vantric.drawing.figure import draw_figure

        return draw_figure(self, ax=ax)  # type: ignore[arg-type]

    def review(self) -> list[Finding]:
        """Return what is wrong or risky, each with its fix; see `vantric.review`."""
        from vantric.api.reviews import review

        return review(self)

    def _repr_mimebundle_(self, include: Any = None, exclude: Any = None) -> Plain:
        """Show the picture in a notebook, with what it shows in words beside it; pointed at, it shows its values."""
        from vantric.drawing.save import picture
        from vantric.reports.pages.cell import cell_html

        drawn: Any = self
        return {
            "text/html": cell_html(drawn), "image/png": picture(drawn, "png"),
            "text/plain": self.description or repr(self),
        }  # fmt: skip


_INNER = frozenset({"of", "bar_places", "bars", "marked", "horizontal", "grid_side", "scale_of", "total_text", "months",
                    "category_labels", "secondary_style", "remarks"})  # fmt: skip


@shows(CombinationLook, AxisPeriod)
@dataclass(frozen=True, repr=False, init=False)
class Chart(_Drawable, charting.Chart):
    """Series on one category axis and two value axes.

    Parameters
    ----------
    categories
        Text, numbers, dates, or periods as ISO 8601 writes them (``"2026-01"``). Dates and periods are in order and
        none is left out; numbers ascend.
    series : sequence of Bars, Line, Area, Points, Stems and Steps
        Each with a value a category; None or NaN where one is missing.

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

    _inner = _INNER

    def __init__(
        self, categories: Iterable[Any], series: Iterable[charting.Series], **options: Unpack[ChartOptions]
    ) -> None:
        look, axis = split_options(options, CombinationLook, AxisPeriod)
        given, drawn = list(categories), list(series)
        vars(self).update(vars(chart_of_series(given, drawn, look, axis.period)))
        recipe = Recipe("series", parts={"given": _given(given, drawn, axis.period), "chart": look})
        object.__setattr__(self, "_recipe", recipe)

    @classmethod
    def of(cls, chart: charting.Chart, recipe: Recipe | None = None, told: Told | None = None) -> Chart:
        """Return the public form of a composed chart."""
        made = object.__new__(cls)
        vars(made).update(vars(chart))
        return made._made_by(recipe)._told_by(told)

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

    def to_frame(self) -> Any:
        """Return a row a category, a column a series as a frame; what is missing is NaN."""
        rows = list(zip(self.categories, *(one.values for one in self.series), strict=True))
        names = [one.name for one in self.series]
        return frame_of(["category", *names], rows, like=self._recipe and self._recipe.library, floats=names)


@dataclass(frozen=True, repr=False)
class PanelChart(_Drawable, charting.PanelChart):
    """Several charts in one picture; made of a table with strata or of a drill-down."""

    _inner = frozenset({"of"})

    @classmethod
    def of(cls, chart: charting.PanelChart, recipe: Recipe | None = None, told: Told | None = None) -> PanelChart:
        """Return the public form of composed panels."""
        made = cls(**{field.name: getattr(chart, field.name) for field in fields(chart)})
        return made._made_by(recipe)._told_by(told)

    def plan(
        self, size: tuple[float, float] | None = None, measure: Measure = table_measure
    ) -> planning.PanelPlan:  # fmt: skip
        """Return the panels with every position resolved; see `Chart.plan`."""
        return planning.make_panel_plan(self, size, measure)


def public_chart(
    chart: charting.Chart | charting.PanelChart, recipe: Recipe | None = None, told: Told | None = None
) -> Chart | PanelChart:
    """Return the form of a chart that users hold."""
    if isinstance(chart, charting.PanelChart):
        return PanelChart.of(chart, recipe, told)
    return Chart.of(chart, recipe, told)


def _given(categories: list[Any], series: list[charting.Series], period: str | None) -> Plain:
    """Return the categories and series as a chart file holds them."""
    from datetime import date

    from vantric.core.composing.categories import read_categories
    from vantric.options import plain_value

    plain = [plain_value(value) for value in categories]
    if period is None and all(isinstance(one, date) for one in plain):
        period = read_categories(plain).period
    entries = [
        {"kind": one.kind, "name": one.name, "values": ["" if value != value else value for value in one.values],
         **one.changed()}
        for one in series
    ]  # fmt: skip
    return {"categories": plain, **({"period": period} if period else {}), "series": entries}
