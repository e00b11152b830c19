"""The series of a chart: what is drawn of one sequence of values."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import KW_ONLY, dataclass, fields
from typing import Any, ClassVar, Literal, TypeAlias, get_args

from vantric.core.numbers.amounts import LARGEST
from vantric.core.numbers.shown import one_line
from vantric.core.numbers.style import NumberStyle
from vantric.errors import ChartError, nearest

Axis: TypeAlias = Literal["primary", "secondary"]
LabelWish: TypeAlias = Literal[
    "none", "auto", "value", "percent of series", "percent of category", "percent of total"
]  # fmt: skip
SeriesLabelPlace: TypeAlias = Literal["auto", "above", "inside", "below", "beside"]
Marker: TypeAlias = Literal["round", "square", "diamond", "triangle", "pointer", "cross", "none"]
Pattern: TypeAlias = Literal["solid", "dashed", "dotted", "dash-dot"]
Hatch: TypeAlias = Literal["plain", "hatched", "dotted", "crossed"]

_CHECKED = {"axis": Axis, "label_place": SeriesLabelPlace, "marker": Marker}
_WIDEST, _LARGEST_MARKER = 20.0, 40.0


@dataclass(frozen=True)
class Series:
    """One sequence of values, one a category; the kinds of series differ in what is drawn.

    Attributes
    ----------
    name
        What the legend calls it.
    values : tuple of float
        One a category, in the unit of its axis; given as any numbers, None or NaN where one is missing.
    labels
        What is written at each mark: ``"none"``; ``"auto"``, the values where there is room; ``"value"``; ``"percent of
        series"``, ``"percent of category"`` or ``"percent of total"``; or a text a category.
    axis
        ``"primary"`` or ``"secondary"``; None leaves it to `suggest_axes`, or means primary where another is said to be
        on the secondary axis.
    unit
        What the values are in: ``"kWh"``, ``"%"``. A percent axis always says so.
    style
        How its numbers are written; as on its axis if None.
    label_place
        ``"above"``, ``"inside"``, ``"below"``, ``"beside"`` its mark, or ``"auto"``.
    color
        ``#rrggbb``, in place of the theme's.
    width
        Of a line in pixels of a 1280 x 800 picture; of bars the share of their place, from above 0 to 1.
    marker, marker_size
        The shape of the points and their size in pixels: ``"round"``, ``"square"``, ``"diamond"``, ``"triangle"``,
        ``"pointer"``, ``"cross"`` or ``"none"``.
    pattern
        Of a line: ``"solid"``, ``"dashed"``, ``"dotted"`` or ``"dash-dot"``; of bars ``"plain"``, ``"hatched"``,
        ``"dotted"`` or ``"crossed"``.
    order
        What is higher stands in front; what is the same stands as its kind does: areas behind bars, bars behind lines.
    bridge
        Whether a line runs on over missing values; else they leave a gap.
    role
        What the theme calls it; chosen with the chart.
    if_room
        Whether labels are worked out for where there is room only: what finds no place is then not missed.
    """

    kind: ClassVar[str] = ""
    name: str
    values: tuple[float, ...]
    labels: LabelWish | tuple[str, ...] = "auto"
    _: KW_ONLY
    axis: Axis | None = None
    unit: str = ""
    style: NumberStyle | None = None
    label_place: SeriesLabelPlace = "auto"
    color: str = ""
    width: float | None = None
    marker: Marker | None = None
    marker_size: float | None = None
    pattern: str | None = None
    order: int = 0
    bridge: bool = False
    role: str = ""
    if_room: bool = False

    def __post_init__(self) -> None:
        """Take any numbers, and refuse what cannot be drawn."""
        put = object.__setattr__
        put(self, "name", str(self.name))
        put(self, "values", _numbers(self.values, self.name))
        labels: Any = self.labels
        if isinstance(labels, str):
            put(self, "labels", chosen(labels.replace("-", " "), get_args(LabelWish), "kind of label"))
        elif not isinstance(labels, tuple):
            put(self, "labels", tuple(map(str, labels)))
        for option, known in _CHECKED.items():
            value = getattr(self, option)
            if value is not None:
                chosen(value, get_args(known), f"{option.replace('_', ' ')} of series '{self.name}'")
        if self.pattern is not None:
            chosen(self.pattern, self.patterns(), f"pattern of {self.kind}")
        most = self.widest()
        if self.width is not None and not 0 < self.width <= most:
            raise ChartError(f"the width of {self.kind} is above 0 and at most {most:g}, not {self.width}")
        if self.marker_size is not None and not 0 < self.marker_size <= _LARGEST_MARKER:
            raise ChartError(f"a marker is above 0 and at most {_LARGEST_MARKER:g} pixels wide, not {self.marker_size}")

    @classmethod
    def patterns(cls) -> tuple[str, ...]:
        """Return the patterns that this kind knows."""
        return get_args(Pattern)

    @classmethod
    def widest(cls) -> float:
        """Return the largest width that this kind knows."""
        return _WIDEST

    @property
    def texts(self) -> tuple[str, ...]:
        """What is written at the marks; empty before it is worked out, and where nothing is."""
        return () if isinstance(self.labels, str) else self.labels

    @property
    def secondary(self) -> bool:
        """Whether it is on the secondary axis."""
        return self.axis == "secondary"

    def options(self) -> dict[str, Any]:
        """Return name -> value of the options that were said."""
        return {
            field.name: getattr(self, field.name)
            for field in fields(self)
            if field.name not in ("name", "values", "role", "if_room") and getattr(self, field.name) != field.default
        }

    def __repr__(self) -> str:
        side = f" on the {self.axis} axis" if self.axis else ""
        return f"<{type(self).__name__} '{one_line(self.name)}' of {len(self.values)} values{side}>"


def _numbers(values: Iterable[Any], name: str) -> tuple[float, ...]:
    if isinstance(values, str):
        raise ChartError(f"the values of series '{name}' are text; give a number a category")
    if type(values) is tuple and all(type(value) is float and value - value == 0 for value in values):
        return values
    found = []
    try:
        for place, value in enumerate(values, start=1):
            found.append(_number(value, name, place))
    except TypeError:
        raise ChartError(f"the values of series '{name}' are no list; give a number a category") from None
    return tuple(found)


def _number(value: Any, name: str, place: int) -> float:
    if value is None or type(value).__name__ in {"NAType", "NaTType"}:
        return math.nan
    try:
        if isinstance(value, (str, bytes)):
            raise ValueError
        number = float(value)
    except (TypeError, ValueError, OverflowError):
        raise ChartError(f"value {place} of series '{name}' is no number: {str(value)[:40]!r}") from None
    if math.isinf(number):
        raise ChartError(f"value {place} of series '{name}' is not finite; leave it empty or give a number")
    if abs(number) > LARGEST:
        raise ChartError(f"value {place} of series '{name}' is too large: more than 1e300; give it in larger units")
    return math.nan if number != number else number


def chosen(value: str, known: Sequence[str], what: str) -> str:
    """Return a value that is one of those known, or raise `ChartError` with the nearest."""
    if value not in known:
        raise ChartError(f"'{value}' is no {what}{nearest(str(value), known)}; there are: {', '.join(known)}")
    return value


@dataclass(frozen=True, repr=False, kw_only=True)
class Bars(Series):
    """A series of bars; see `Series`.

    Attributes
    ----------
    stack
        Bars of one stack stand on each other, several stacks side by side.
    strong
        How many leading bars stand out; None if none is to.
    strong_name, quiet_name
        What the legend calls the leading bars and the others when some stand out.
    colors
        A color a category as ``#rrggbb``, in place of the theme's; empty where the theme's stays.
    spreads, spread_name
        The ends of a thin interval a bar, in the unit of the values (empty for none), and what the legend calls them.
    band, band_name
        The ends of the band in which each bar would lie by chance alone (empty for none), and what it is called.
    """

    kind: ClassVar[str] = "bars"
    stack: str = ""
    strong: int | None = None
    strong_name: str = "Vital few"
    quiet_name: str = "Useful many"
    colors: tuple[str, ...] = ()
    spreads: tuple[tuple[float, float], ...] = ()
    spread_name: str = ""
    band: tuple[tuple[float, float], ...] = ()
    band_name: str = ""
    role: str = "bar"

    @classmethod
    def patterns(cls) -> tuple[str, ...]:
        """Return the patterns that bars know."""
        return get_args(Hatch)

    @classmethod
    def widest(cls) -> float:
        """Return the largest share of its place that a bar can take."""
        return 1.0

    def roles(self) -> list[str]:
        """Return what each bar is: its own color, or its role in the theme."""
        if self.strong is None:
            plain = [self.role] * len(self.values)
        else:
            plain = ["strong" if n < self.strong else "quiet" for n in range(len(self.values))]
        if not self.colors:
            return plain
        return [f"{role}:{color}" if color else role for color, role in zip(self.colors, plain, strict=True)]


@dataclass(frozen=True, repr=False, kw_only=True)
class Line(Series):
    """Points joined by a line; see `Series`."""

    kind: ClassVar[str] = "line"
    role: str = "line"


@dataclass(frozen=True, repr=False, kw_only=True)
class Area(Series):
    """The area between zero and a line; see `Series`."""

    kind: ClassVar[str] = "area"
    role: str = "line"


@dataclass(frozen=True, repr=False, kw_only=True)
class Points(Series):
    """Points that no line joins; see `Series`."""

    kind: ClassVar[str] = "points"
    role: str = "line"


@dataclass(frozen=True, repr=False, kw_only=True)
class Stems(Series):
    """Points that each stand on a thin stem; see `Series`."""

    kind: ClassVar[str] = "stems"
    role: str = "line"


@dataclass(frozen=True, repr=False, kw_only=True)
class Steps(Series):
    """A line that is level over each category and steps between them; see `Series`."""

    kind: ClassVar[str] = "steps"
    role: str = "line"


KINDS: dict[str, type[Series]] = {kind.kind: kind for kind in (Bars, Line, Area, Points, Stems, Steps)}
#: The kinds that stand on zero: their axis shows it.
FROM_ZERO = ("bars", "area", "stems")
