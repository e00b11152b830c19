"""A chart: what is wanted, before any place is computed."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar, TypeAlias

from vantric.core.axes import ScalePair, proportional
from vantric.core.numbers.shown import one_line
from vantric.errors import ChartError


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
        What is written at each bar; empty for none.
    strong
        How many leading bars stand out; None if none is to.
    strong_name, quiet_name
        What the legend calls the leading bars and the others when some stand out.
    """

    kind: ClassVar[str] = "bars"
    name: str
    values: tuple[float, ...]
    labels: tuple[str, ...] = ()
    strong: int | None = None
    strong_name: str = "Vital few"
    quiet_name: str = "Useful many"


@dataclass(frozen=True)
class Line:
    """A series of points joined by a line on the secondary axis; the attributes are those of `Bars`."""

    kind: ClassVar[str] = "line"
    name: str
    values: tuple[float, ...]
    labels: tuple[str, ...] = ()


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
        The values of the primary and the secondary axis that are one height (policy `proportional`).
    title, subtitle, note
        The subject, the base, and where it comes from.
    category_title, primary_title, secondary_title
        The titles of the three axes.
    secondary_unit
        Stands behind the tick labels of the secondary axis.
    total_text
        Marks the meeting value beside the primary axis.
    whole
        Whether the primary axis counts things, so that only whole ticks make sense.
    cut : CutMark or None
    description
        What the chart shows, in words: the text alternative of every picture.
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
    secondary_unit: str = ""
    total_text: str = ""
    whole: bool = False
    cut: CutMark | None = None
    description: str = ""

    def __post_init__(self) -> None:
        if not self.categories:
            raise ChartError("a chart needs at least one category; give it some")
        for series in self.series:
            if len(series.values) != len(self.categories):
                raise ChartError(
                    f"series '{series.name}' has {len(series.values)} values for {len(self.categories)} categories; "
                    "give one a category"
                )

    def scales(self) -> ScalePair:
        """Return the two value axes, aligned."""
        return proportional(*self.meet, whole=(self.whole, True))

    def __repr__(self) -> str:
        kinds = ", ".join(f"{series.kind} '{series.name}'" for series in self.series)
        return f"<Chart '{one_line(self.title)}' of {len(self.categories)} categories: {kinds}>"
