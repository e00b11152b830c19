"""A chart, or several in one picture: what is wanted, before any place is computed."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import fields
from typing import TYPE_CHECKING, Any, Unpack, overload

from vantric.base.lazily import dataclass
from vantric.core.axes import Scale, ScalePair
from vantric.core.charts.bar_places import BAR_SHARE, Arrangement, BarPlace, bar_places
from vantric.core.charts.references import DateMark, Reference
from vantric.core.charts.series import Bars, Series
from vantric.core.charts.settings import (
    GridSide,
    LabelPlace,
    LegendPlace,
    LinePlace,
    Orientation,
    SecondaryBars,
    TitlePlace,
    Together,
)
from vantric.core.counts.provenance import Note
from vantric.core.messages.formatter import Formatter
from vantric.core.messages.languages import language
from vantric.core.numbers.number_format import PLAIN_STYLE, NumberStyle, one_line
from vantric.core.results import Drawable
from vantric.errors import ChartError

if TYPE_CHECKING:
    from vantric.core.layout import PanelPlan, Plan
    from vantric.core.layout.text_layout import TextMeasure
    from vantric.typing import ChartOptions


#: Pixels of a side of a picture: below it no text fits, beyond it no renderer follows.
_SMALLEST, _LARGEST = 200.0, 20000.0
_NARROW = 4.0  # pixels of a bar: narrower ones touch
_MOST_PIXELS = 150_000_000  # a large poster; each takes eight bytes while it is drawn


@dataclass(frozen=True)
class CutMark:
    """A cutoff to be drawn.

    Attributes
    ----------
    value
        Its height on the secondary axis.
    count
        How many leading categories it takes in.
    level_text
        What is at the axis: ``"80%"``.
    text
        What it cuts: ``"3 of 9 categories: 83.5%"``.
    """

    value: float
    count: int
    level_text: str
    text: str


@dataclass(frozen=True)
class ClassMark:
    """Categories that a cutoff takes in, or those that none does.

    Attributes
    ----------
    start, end
        The first category, and the one after the last.
    name
        What they are called: ``"Vital few"``, ``"A"``.
    size, share
        How many they are, ``"6 of 19"``, and what part of the whole, ``"82%"``.
    rank
        1 for the first class, 0 for those that no cutoff takes in.
    """

    start: int
    end: int
    name: str
    size: str
    share: str
    rank: int


@dataclass(frozen=True)
class TextColumn:
    """Texts beside the rows of a horizontal chart, to the right of its frame.

    Attributes
    ----------
    title
        What stands above them.
    texts : tuple of str
        One a category.
    role
        What they are in the theme: ``"column"``, or ``"column-quiet"`` for what matters less.
    roles : tuple of str
        What each is, where they are not alike; empty where they are.
    """

    title: str
    texts: tuple[str, ...]
    role: str = "column"
    roles: tuple[str, ...] = ()

    def role_of(self, row: int) -> str:
        """Return what the text of one row is in the theme."""
        return (self.roles[row] if self.roles else "") or self.role


@dataclass(frozen=True)
class ShareTail:
    """The small parts of a bar of shares, which are drawn again, wider.

    Attributes
    ----------
    start
        The first of them.
    text
        What part of the whole they are, and how much wider they are drawn.
    """

    start: int
    text: str


@dataclass(frozen=True, repr=False, init=False)
class Chart(Drawable):
    """Series on one category axis and two value axes.

    Parameters
    ----------
    categories
        Text, numbers, dates, or periods as ISO 8601 writes them (``"2026-01"``). Dates and periods are in order and
        none is left out; numbers ascend.
    series : sequence of Bars, Line, Area, Points, Stems and Steps
        Each with a value a category; None or NaN where one is missing.

    Attributes
    ----------
    categories : tuple of str, length n
    series : tuple of Series, each of n values
    scales
        The two value axes, aligned.
    title, subtitle, note
        The subject, the base, and where it comes from.
    category_title, primary_title, secondary_title
        The titles of the three axes.
    primary_unit, secondary_unit
        Stand behind the tick labels of either axis.
    total, total_text
        A value marked beside the primary axis, and what is there.
    cuts : tuple of CutMark
        The cutoffs, ascending.
    classes : tuple of ClassMark
        What the cutoffs part the categories into, from the first.
    is_cumulative
        Whether its one line is the running sum of its bars.
    references : tuple of Reference
        Lines and bands at values of either axis.
    description
        What the chart shows, in words: the text alternative of every picture.
    secondary_axis
        Whether the secondary axis is drawn.
    together
        How several series of bars share a place: ``"grouped"``, ``"stacked"``, ``"percent"`` (stacked to 100%) or
        ``"overlaid"``.
    secondary_together, secondary_bars
        The same for bars on the secondary axis; and whether they are in ``"front"`` of the others or ``"beside"`` them.
    gap
        Between grouped bars, as a share of a bar's width.
    totals
        What is written over the stacks: a text a category for each stack that has one.
    orientation
        ``"vertical"``, or ``"horizontal"``: categories from the top downward.
    line_at
        Where points are: over the ``"center"`` of the bars, or at their right ``"edge"``, a line from the origin.
    label_place
        Whether the numbers of the bars are ``"above"`` them or ``"inside"``.
    legend
        Where the legend is: ``"above"``, ``"below"``, ``"left"`` or ``"right"`` of the frame, at the line
        ``"ends"``, or ``"none"``.
    grid
        Whose ticks the one grid follows: ``"primary"``, ``"secondary"``, ``"none"``, or ``"auto"``.
    title_place
        ``"left"`` or ``"center"``.
    theme
        The name of the look.
    font
        A font family in place of the theme's.
    style, secondary_style
        How the numbers of either axis are written.
    size
        Width and height of the picture in pixels.
    category_labels
        Whether the categories are named: not where another chart below names them.
    period, months
        The calendar period that the categories are (``"month"``), and what the months are called; empty for others.
    language
        Of its fixed words.
    remarks
        What was decided for the user, in words.
    moments : tuple of Moment
        Lines across the category axis: marked dates.
    ribbon
        The ends of what is shaded at each category, on the primary axis: between control limits; NaN for none.
    guides
        The names of series that only guide the eye: limits, a center line, points that are marked again.

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

    categories: tuple[str, ...]
    series: tuple[Series, ...]
    scales: ScalePair
    title: str = ""
    subtitle: str = ""
    note: str = ""
    category_title: str = ""
    primary_title: str = ""
    secondary_title: str = ""
    primary_unit: str = ""
    secondary_unit: str = ""
    total: float = 0.0
    total_text: str = ""
    cuts: tuple[CutMark, ...] = ()
    classes: tuple[ClassMark, ...] = ()
    is_cumulative: bool = False
    references: tuple[Reference, ...] = ()
    description: str = ""
    secondary_axis: bool = True
    together: Together = "grouped"
    secondary_together: Together | None = None
    secondary_bars: SecondaryBars = "front"
    gap: float = 0.0
    totals: tuple[tuple[str, ...], ...] = ()
    orientation: Orientation = "vertical"
    line_at: LinePlace = "center"
    label_place: LabelPlace = "above"
    legend: LegendPlace = "above"
    grid: GridSide = "auto"
    title_place: TitlePlace = "left"
    theme: str = "light"
    font: str = ""
    style: NumberStyle = PLAIN_STYLE
    secondary_style: NumberStyle = PLAIN_STYLE
    size: tuple[float, float] = (1280.0, 800.0)
    category_labels: bool = True
    period: str = ""
    months: tuple[str, ...] = ()
    language: str = "en"
    remarks: tuple[Note, ...] = ()
    moments: tuple[DateMark, ...] = ()
    guides: tuple[str, ...] = ()
    ribbon: tuple[tuple[float, float], ...] = ()
    columns: tuple[TextColumn, ...] = ()
    strong_rows: tuple[int, ...] = ()
    joined: bool = False
    is_share_bar: bool = False
    tail: ShareTail | None = None

    _inner = frozenset(
        {
            "bar_places",
            "bars",
            "marked",
            "horizontal",
            "grid_side",
            "mode_of",
            "scale_of",
            "total_text",
            "is_cumulative",
            "ribbon",
            "months",
            "category_labels",
            "secondary_style",
            "remarks",
            "columns",
            "strong_rows",
            "joined",
            "is_share_bar",
            "tail",
            "has_neutral",
        }
    )

    if TYPE_CHECKING:

        @overload
        def __init__(
            self, categories: Iterable[Any], series: Iterable[Series], **options: Unpack[ChartOptions]
        ) -> None: ...

        @overload
        def __init__(
            self, categories: Iterable[str], series: Iterable[Series], *, scales: ScalePair, **parts: Any
        ) -> None: ...

    def __init__(  # type: ignore[misc]
        self, categories: Iterable[Any], series: Iterable[Series], **options: Unpack[ChartOptions]
    ) -> None:
        """Compose the chart of series under options; or, where it comes with its scales, hold it as it is composed."""
        parts: Any = options
        if "scales" in parts:
            self._hold({"categories": categories, "series": series, **parts})
            return
        composed_chart, recipe = self._of_kind().verbs["compose"](list(categories), list(series), parts)
        self._hold({field.name: getattr(composed_chart, field.name) for field in fields(self)})
        object.__setattr__(self, "_recipe", recipe)

    def _hold(self, parts: Mapping[str, Any]) -> None:
        """Set the fields; those that are not given are as they are by default."""
        defaults = {field.name: field.default for field in fields(self)}
        strange = next((name for name in parts if name not in defaults), None)
        if strange is not None:
            raise TypeError(f"a chart has no part '{strange}'")
        for name, default in defaults.items():
            object.__setattr__(self, name, parts.get(name, default))
        self._check()

    def _check(self) -> None:
        if not self.categories:
            raise ChartError("a chart needs at least one category; give it some")
        for series in self.series:
            for values, what in ((series.values, "values"), (series.texts or self.categories, "labels")):
                if len(values) != len(self.categories):
                    raise ChartError(
                        f"series '{series.name}' has {len(values)} {what} for {len(self.categories)} categories; "
                        "give one a category"
                    )
        if self.legend == "ends" and self.horizontal:
            raise ChartError("names at the line ends are for vertical charts; put the legend above, below or beside")
        width, height = self.size
        if not all(_SMALLEST <= length <= _LARGEST for length in self.size):
            raise ChartError(f"a picture is from 200 to 20000 pixels wide and high, not {width:g} x {height:g}")
        if width * height > _MOST_PIXELS:
            raise ChartError(f"a picture has at most {_MOST_PIXELS:,} pixels, not {width:g} x {height:g}")

    @property
    def formatter(self) -> Formatter:
        """What writes its texts: its language, and the marks of its numbers."""
        return Formatter(language(self.language), self.style.bare())

    @property
    def bars(self) -> tuple[Bars, ...]:
        """The series of bars."""
        return tuple(series for series in self.series if isinstance(series, Bars))

    @property
    def marked(self) -> tuple[Series, ...]:
        """The series that are not bars."""
        return tuple(series for series in self.series if not isinstance(series, Bars))

    @property
    def horizontal(self) -> bool:
        """Whether categories run from the top downward."""
        return self.orientation == "horizontal"

    @property
    def has_neutral(self) -> bool:
        """Whether its points have intervals: around zero for differences, around one for ratios."""
        return any(series.spreads for series in self.marked)

    @property
    def grid_side(self) -> str:
        """Whose ticks the grid follows, decided: the secondary's where it is drawn."""
        if self.grid != "auto":
            return self.grid
        return "secondary" if self.secondary_axis else "primary"

    def bar_places(self, slot: float = math.inf) -> list[BarPlace]:
        """Return where each series of bars is; bars touch where points are at their edges, or gaps would be no pixel.

        `slot` is the room of a category in pixels.
        """
        narrow = BAR_SHARE * slot / max(1, len(self.bars)) < _NARROW
        share = 1.0 if self.line_at == "edge" or narrow else BAR_SHARE
        how = Arrangement(self.together, self.mode_of("secondary"), self.secondary_bars, self.gap, share)
        return bar_places(self.bars, how)

    def mode_of(self, axis: str) -> Together:
        """Return how the bars of an axis share a place."""
        return self.secondary_together or self.together if axis == "secondary" else self.together

    def scale_of(self, series: Series) -> Scale:
        """Return the value axis of a series."""
        return self.scales.secondary if series.secondary else self.scales.primary

    def plan(self, size: tuple[float, float] | None = None, measure: TextMeasure | None = None) -> Plan:
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
        plan: Plan = self._of_kind().verbs["plan"](self, size, measure)
        return plan

    def to_vega_lite(self) -> dict[str, Any]:
        """Return the chart in the open grammar Vega-Lite (version 6), which saving as ``.vl.json`` writes.

        It holds the values and their intervals, both scales with their limits and ticks, cutoffs, limits, marked dates
        and colors; where labels are is not part of that grammar.

        Raises
        ------
        ChartError
            If it is no Pareto or combination chart: bars of shares, dumbbells, control charts and panels are not.
        """
        specification: dict[str, Any] = self._of_kind().verbs["grammar"](self)
        return specification

    def to_frame(self) -> Any:
        """Return a row a category, a column a series as a frame; what is missing is NaN."""
        return self._of_kind().to_frame(self)

    def __repr__(self) -> str:
        kinds = ", ".join(f"{series.kind} '{one_line(series.name)}'" for series in self.series)
        return f"<Chart '{one_line(self.title)}' of {len(self.categories)} categories: {kinds}>"


#: Panels in one picture.
_MOST = 48


@dataclass(frozen=True, repr=False)
class PanelChart(Drawable):
    """Several charts in one picture; made of a table with strata or of a drill-down.

    Attributes
    ----------
    panels : tuple of Chart
        Their titles name what each is of; they share theme and size of this one.
    title, subtitle, note, description
        As of a chart.
    legend
        Whether one legend stands for all, above them.
    theme, font, language, title_place, size
        As of a chart.
    """

    panels: tuple[Chart, ...]
    title: str = ""
    subtitle: str = ""
    note: str = ""
    description: str = ""
    legend: bool = True
    theme: str = "light"
    font: str = ""
    language: str = "en"
    title_place: TitlePlace = "left"
    size: tuple[float, float] = (1280.0, 800.0)

    def __post_init__(self) -> None:
        if not self.panels:
            raise ChartError("there is nothing to set side by side")
        if len(self.panels) > _MOST:
            raise ChartError(f"{len(self.panels)} panels are too many for one picture; take at most {_MOST}")

    def plan(self, size: tuple[float, float] | None = None, measure: TextMeasure | None = None) -> PanelPlan:
        """Return the panels with every position resolved; see `Chart.plan`."""
        plan: PanelPlan = self._of_kind().verbs["plan"](self, size, measure)
        return plan

    def __repr__(self) -> str:
        return f"<PanelChart '{self.title}' of {len(self.panels)} panels>"
