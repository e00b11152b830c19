"""The series of a chart: what is drawn of one sequence of values."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import KW_ONLY
from typing import TYPE_CHECKING, Any, ClassVar, Literal, TypeAlias, TypeVar, Unpack

from vantric.core.numbers.amounts import LARGEST
from vantric.core.numbers.number_format import NumberStyle, one_line
from vantric.errors import ChartError
from vantric.options import Options, option
from vantric.options.option_types import is_list

if TYPE_CHECKING:
    from vantric.typing import BarsOptions, LineOptions, SeriesOptions

Axis: TypeAlias = Literal["primary", "secondary"]
SeriesLabels: TypeAlias = Literal[
    "none", "auto", "value", "percent of series", "percent of category", "percent of total"
]
SeriesLabelPlace: TypeAlias = Literal["auto", "above", "inside", "below", "beside"]
Marker: TypeAlias = Literal["round", "square", "diamond", "triangle", "pointer", "cross", "none"]
Pattern: TypeAlias = Literal["solid", "dashed", "dotted", "dash-dot"]
Hatch: TypeAlias = Literal["plain", "hatched", "dotted", "crossed"]
Labels: TypeAlias = SeriesLabels | tuple[str, ...]
S = TypeVar("S", bound="Series")


def read_labels(text: str) -> str:
    """Return a kind of label that was written with hyphens, as on the command line."""
    return text.replace("-", " ")


class Series(Options, section="How series look", kw_only=False):
    """One sequence of values, one a category; the kinds of series differ in what is drawn.

    Attributes
    ----------
    name
        What the legend calls it.
    values : tuple of float
        One a category, in the unit of its axis; given as any numbers, None or NaN where one is missing.
    role
        What the theme calls it; chosen with the chart.
    if_room
        Whether labels are worked out for where there is room only: what finds no place is then not missed.
    spreads, spread_name
        The ends of a thin interval at each bar or point, in the unit of the values (empty for none), and what the
        legend calls them.
    """

    kind: ClassVar[str] = ""
    name: str
    values: tuple[float, ...]
    labels: Labels = option(
        "auto",
        "What is written at each mark: auto, the values where there is room; none, value, percent-of-series, "
        "percent-of-category or percent-of-total; or a text a category.",
        metavar="KIND",
        read=read_labels,
    )
    _: KW_ONLY
    axis: Axis | None = option(None, "Its value axis; by units and reach if not given.", places="python file")
    unit: str = option("", "What its values are in: kWh, %.", metavar="TEXT")
    style: NumberStyle | None = option(
        None, "How its numbers are written; as on its axis if not given.", places="python file"
    )
    label_place: SeriesLabelPlace = option("auto", "Where its labels are.", metavar="PLACE")
    color: str = option("", "Its color, #rrggbb or a CSS name, in place of the theme's.", places="python file")
    marker: Marker | None = option(None, "The shape of its points.", metavar="SHAPE")
    marker_size: float | None = option(
        None, "How large its points are, in pixels of a 1280 x 800 picture.", metavar="PIXELS", above=0, most=40
    )
    pattern: str | None = option(
        None,
        "Of a line solid, dashed, dotted or dash-dot; of bars plain, hatched, dotted or crossed.",
        metavar="PATTERN",
    )
    layer: int = option(
        0, "The higher is drawn in front; of equal ones, lines in front of bars and bars of areas.", metavar="N"
    )
    bridge: bool = option(False, "A line that continues over missing values; else it has a gap there.")
    role: str = ""
    if_room: bool = False
    spreads: tuple[tuple[float, float], ...] = ()
    spread_name: str = ""

    if TYPE_CHECKING:

        def __init__(
            self,
            name: str,
            values: Iterable[float | None],
            labels: SeriesLabels | Iterable[str] = "auto",
            **options: Unpack[SeriesOptions],
        ) -> None: ...

    def __post_init__(self) -> None:
        """Take any numbers, and check the options."""
        put = object.__setattr__
        put(self, "name", str(self.name))
        put(self, "values", _numbers(self.values, self.name))
        if is_list(self.labels) and not isinstance(self.labels, tuple):
            put(self, "labels", tuple(map(str, self.labels)))
        super().__post_init__()

    def __setstate__(self, state: dict[str, Any]) -> None:
        """Take what was pickled: what is missing is the one NaN again, so that series compare by their values."""
        values = tuple(math.nan if value != value else value for value in state["values"])
        self.__dict__.update(state, values=values)

    @property
    def width(self) -> float | None:
        """Its width: of a line in pixels, of bars the share of their place."""
        return None

    @property
    def texts(self) -> tuple[str, ...]:
        """What is written at the marks; empty before it is worked out, and where nothing is."""
        return () if isinstance(self.labels, str) else self.labels

    @property
    def secondary(self) -> bool:
        """Whether it is on the secondary axis."""
        return self.axis == "secondary"

    def __repr__(self) -> str:
        side = f" on the {self.axis} axis" if self.axis else ""
        return f"<{type(self).__name__} '{one_line(self.name)}' of {len(self.values)} values{side}>"


def composed(kind: type[S], name: str, values: Iterable[float], labels: Labels = "auto", **fields: Any) -> S:
    """Return a series with what only the composing of a chart sets: its role, strong bars, intervals."""
    return kind(name, values, labels, **fields)


def _numbers(values: Iterable[Any], name: str) -> tuple[float, ...]:
    if isinstance(values, str):
        raise ChartError(f"the values of series '{name}' are text; give a number a category")
    if type(values) is tuple and all(type(value) is float and value - value == 0 for value in values):
        return values
    numbers = []
    try:
        for place, value in enumerate(values, start=1):
            numbers.append(_number(value, name, place))
    except TypeError:
        raise ChartError(f"the values of series '{name}' are not a list; give a number a category") from None
    return tuple(numbers)


def _number(value: Any, name: str, place: int) -> float:
    if value is None or type(value).__name__ in {"NAType", "NaTType"}:
        return math.nan
    try:
        if isinstance(value, (str, bytes)):
            raise ValueError
        number = float(value)
    except (TypeError, ValueError, OverflowError):
        raise ChartError(f"value {place} of series '{name}' is not a number: {str(value)[:40]!r}") from None
    if math.isinf(number):
        raise ChartError(f"value {place} of series '{name}' is not finite; leave it empty or give a number")
    if abs(number) > LARGEST:
        raise ChartError(f"value {place} of series '{name}' is too large: more than 1e300; give it in larger units")
    return math.nan if number != number else number


#: What the bars of the first two classes are; those of further ones are as the third.
_RANKED = {1: "strong", 2: "strong-b"}


class Bars(Series):
    """A series of bars.

    Attributes
    ----------
    strong
        How many leading bars stand out, or which ones; None if none is to.
    ranks
        The class of each bar where there are several: 1 for the first, 0 for those of none; empty for two kinds.
    quiet_role
        What the others are in the theme.
    strong_name, quiet_name
        What the legend calls the leading bars and the others when some stand out.
    colors
        A color a category as ``#rrggbb``, in place of the theme's; empty where the theme's stays.
    band, band_name
        The ends of the band in which each bar would be by chance alone (empty for none), and what it is called.
    has_sum
        Whether the last bar is the sum of categories that have no row of their own.
    """

    kind: ClassVar[str] = "bars"
    pattern: Hatch | None = option(None, "How bars are filled.", metavar="PATTERN")
    bar_width: float | None = option(None, "The share of their place that bars take.", metavar="SHARE", above=0, most=1)
    stack: str = option(
        "", "The name of the stack that the bars belong to; several stacks are side by side.", metavar="STACK"
    )
    strong: int | tuple[int, ...] | None = None
    ranks: tuple[int, ...] = ()
    quiet_role: str = "quiet"
    strong_name: str = "Vital few"
    quiet_name: str = "Useful many"
    colors: tuple[str, ...] = ()
    band: tuple[tuple[float, float], ...] = ()
    band_name: str = ""
    has_sum: bool = False
    role: str = "bar"

    if TYPE_CHECKING:

        def __init__(
            self,
            name: str,
            values: Iterable[float | None],
            labels: SeriesLabels | Iterable[str] = "auto",
            **options: Unpack[BarsOptions],
        ) -> None: ...

    @property
    def width(self) -> float | None:
        """The share of their place that the bars take."""
        return self.bar_width

    @property
    def strong_places(self) -> frozenset[int]:
        """The places of the bars that stand out."""
        return frozenset(range(self.strong) if isinstance(self.strong, int) else self.strong or ())

    def roles(self) -> list[str]:
        """Return what each bar is: its own color, or its role in the theme."""
        if self.ranks:
            plain = [_RANKED.get(rank, self.quiet_role if not rank else "strong-c") for rank in self.ranks]
        elif self.strong is None:
            plain = [self.role] * len(self.values)
        else:
            strong = self.strong_places
            plain = ["strong" if n in strong else self.quiet_role for n in range(len(self.values))]
        plain[-1:] = ["sum"] if self.has_sum else plain[-1:]
        if not self.colors:
            return plain
        return [f"{role}:{color}" if color else role for color, role in zip(self.colors, plain, strict=True)]


class _Stroked(Series):
    """What has a line; `hollow` points have the color of the ground inside."""

    pattern: Pattern | None = option(None, "How a line is drawn.", metavar="PATTERN")
    line_width: float | None = option(
        None, "The width of a line in pixels of a 1280 x 800 picture.", metavar="PIXELS", above=0, most=20
    )
    role: str = "line"
    hollow: bool = False

    if TYPE_CHECKING:

        def __init__(
            self,
            name: str,
            values: Iterable[float | None],
            labels: SeriesLabels | Iterable[str] = "auto",
            **options: Unpack[LineOptions],
        ) -> None: ...

    @property
    def width(self) -> float | None:
        """The width of the line in pixels."""
        return self.line_width


class Line(_Stroked, init=False):
    """Points joined by a line."""

    kind: ClassVar[str] = "line"


class Area(_Stroked, init=False):
    """The area between zero and a line."""

    kind: ClassVar[str] = "area"


class Points(_Stroked, init=False):
    """Points that no line joins."""

    kind: ClassVar[str] = "points"


class Stems(_Stroked, init=False):
    """Points that each are on a thin stem."""

    kind: ClassVar[str] = "stems"


class Steps(_Stroked, init=False):
    """A line that is level over each category and steps between them."""

    kind: ClassVar[str] = "steps"


KINDS: dict[str, type[Series]] = {kind.kind: kind for kind in (Bars, Line, Area, Points, Stems, Steps)}
#: The kinds that are on zero: their axis shows it.
FROM_ZERO = ("bars", "area", "stems")
