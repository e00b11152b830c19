"""A chart: what is wanted, before any place is computed."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar, Literal, TypeAlias, get_args

from vantric.core.axes import ScalePair, common, proportional
from vantric.core.numbers.shown import one_line
from vantric.core.numbers.style import PLAIN_STYLE, NumberStyle
from vantric.errors import ChartError, nearest

Orientation: TypeAlias = Literal["upright", "lying"]
PointPlace: TypeAlias = Literal["centre", "edge"]
LabelPlace: TypeAlias = Literal["above", "inside"]
LegendPlace: TypeAlias = Literal["above", "below", "right", "none"]
Together: TypeAlias = Literal["grouped", "stacked"]

_SMALLEST, _LARGEST = 200.0, 20000.0


@dataclass(frozen=True)
class Bars:
    """A series of bars on the primary axis.

    Attributes
    ----------
    name
        What the legend calls it.
    values
        One a category, in the unit of the axis.
    labels
        What is written at each bar; empty for none. Of stacked bars those of the last series stand over the stack.
    strong
        How many leading bars stand out; None if none is to.
    strong_name, quiet_name
        What the legend calls the leading bars and the others when some stand out.
    role
        What the theme calls the series when no bar stands out.
    colours
        A colour a category as ``#rrggbb``, in place of the theme's; empty where the theme's stays.
    """

    kind: ClassVar[str] = "bars"
    name: str
    values: tuple[float, ...]
    labels: tuple[str, ...] = ()
    strong: int | None = None
    strong_name: str = "Vital few"
    quiet_name: str = "Useful many"
    role: str = "bar"
    colours: tuple[str, ...] = ()

    def roles(self) -> list[str]:
        """Return what each bar is: its own colour, or its role in the theme."""
        if self.strong is None:
            plain = [self.role] * len(self.values)
        else:
            plain = ["strong" if n < self.strong else "quiet" for n in range(len(self.values))]
        if not self.colours:
            return plain
        return [f"{role}:{colour}" if colour else role for colour, role in zip(self.colours, plain, strict=True)]


@dataclass(frozen=True)
class Line:
    """A series of points joined by a line on the secondary axis; the attributes are those of `Bars`."""

    kind: ClassVar[str] = "line"
    name: str
    values: tuple[float, ...]
    labels: tuple[str, ...] = ()
    role: str = "line"


Series: TypeAlias = Bars | Line


@dataclass(frozen=True)
class CutMark:
    """A cut-off to be drawn.

    Attributes
    ----------
    value
        Its height on the secondary axis.
    count
        How many leading categories it takes in.
    level_text
        What stands at the axis: ``"80 %"``.
    text
        What it cuts: ``"3 of 9 categories: 83.5 %"``.
    """

    value: float
    count: int
    level_text: str
    text: str


@dataclass(frozen=True)
class Chart:
    """Series on one category axis and two value axes.

    Attributes
    ----------
    categories : tuple of str, length n
    series : tuple of Bars and Line, each of n values
    meet : pair of float
        The values of the primary and the secondary axis that are one height.
    title, subtitle, note
        The subject, the base, and where it comes from.
    category_title, primary_title, secondary_title
        The titles of the three axes.
    primary_unit, secondary_unit
        Stand behind the tick labels of either axis.
    total_text
        Marks the meeting value beside the primary axis.
    whole
        Whether the primary axis counts things, so that only whole ticks make sense.
    cuts : tuple of CutMark
        The cut-offs, ascending.
    description
        What the chart shows, in words: the text alternative of every picture.
    policy
        ``"proportional"``, or ``"common"``: one scale for both sides.
    secondary_axis
        Whether the secondary axis is drawn.
    together
        How several series of bars share a place: ``"grouped"`` or ``"stacked"``.
    orientation
        ``"upright"``, or ``"lying"``: categories from the top downward.
    points
        Where the line's points stand: over the ``"centre"`` of the bars, or at their right ``"edge"``, from the origin.
    label_place
        Whether the numbers of the bars stand ``"above"`` them or ``"inside"``.
    legend
        Where the legend stands: ``"above"``, ``"below"``, ``"right"`` of the frame, or ``"none"``.
    theme
        The name of the look.
    style
        How the numbers of the axes are written.
    size
        Width and height of the picture in pixels.
    category_labels
        Whether the categories are named: not where another chart below names them.
    pair
        The two scales, where they are decided already.
    """

    categories: tuple[str, ...]
    series: tuple[Series, ...]
    meet: tuple[float, float]
    title: str = ""
    subtitle: str = ""
    note: str = ""
    category_title: str = ""
    primary_title: str = ""
    secondary_title: str = ""
    primary_unit: str = ""
    secondary_unit: str = ""
    total_text: str = ""
    whole: bool = False
    cuts: tuple[CutMark, ...] = ()
    description: str = ""
    policy: str = "proportional"
    secondary_axis: bool = True
    together: Together = "grouped"
    orientation: Orientation = "upright"
    points: PointPlace = "centre"
    label_place: LabelPlace = "above"
    legend: LegendPlace = "above"
    theme: str = "light"
    style: NumberStyle = PLAIN_STYLE
    size: tuple[float, float] = (1280.0, 800.0)
    category_labels: bool = True
    pair: ScalePair | None = None

    def __post_init__(self) -> None:
        if not self.categories:
            raise ChartError("a chart needs at least one category; give it some")
        for series in self.series:
            if len(series.values) != len(self.categories):
                raise ChartError(
                    f"series '{series.name}' has {len(series.values)} values for {len(self.categories)} categories; "
                    "give one a category"
                )
        for value, known, what in (
            (self.orientation, get_args(Orientation), "orientation"),
            (self.points, get_args(PointPlace), "place for points"),
            (self.label_place, get_args(LabelPlace), "place for labels"),
            (self.legend, get_args(LegendPlace), "place for the legend"),
            (self.together, get_args(Together), "way to set bars together"),
        ):
            if value not in known:
                raise ChartError(f"'{value}' is no {what}{nearest(str(value), known)}; there are: {', '.join(known)}")
        if not all(_SMALLEST <= length <= _LARGEST for length in self.size):
            width, height = self.size
            raise ChartError(f"a picture is from 200 to 20000 pixels wide and high, not {width:g} x {height:g}")

    @property
    def bars(self) -> tuple[Bars, ...]:
        """The series of bars."""
        return tuple(series for series in self.series if isinstance(series, Bars))

    @property
    def lines(self) -> tuple[Line, ...]:
        """The series of lines."""
        return tuple(series for series in self.series if isinstance(series, Line))

    @property
    def lying(self) -> bool:
        """Whether categories run from the top downward."""
        return self.orientation == "lying"

    def scales(self) -> ScalePair:
        """Return the two value axes, aligned."""
        if self.pair is not None:
            return self.pair
        if self.policy == "common":
            return common(self.meet[0], whole=self.whole)
        return proportional(*self.meet, whole=(self.whole, True))

    def __repr__(self) -> str:
        kinds = ", ".join(f"{series.kind} '{series.name}'" for series in self.series)
        return f"<Chart '{one_line(self.title)}' of {len(self.categories)} categories: {kinds}>"
