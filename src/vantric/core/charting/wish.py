"""What a user may wish of the chart of a table."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal, TypeAlias, get_args

from vantric.core.charting.chart import LabelPlace, LegendPlace, Orientation, PointPlace
from vantric.core.charting.wording import PLAIN_WORDING, Wording
from vantric.errors import ChartError, nearest

LabelKind: TypeAlias = Literal["frequency", "percent", "none"]
Cumulative: TypeAlias = Literal["percent", "frequency", "none"]


@dataclass(frozen=True)
class Wish:
    """The options of a chart.

    Attributes
    ----------
    orientation, points, label_place, legend, theme, size
        See `Chart`.
    labels
        What is written at the bars: their ``"frequency"``, their ``"percent"``, or ``"none"``.
    cumulative
        What the line shows: the cumulative ``"percent"`` or ``"frequency"``; ``"none"`` for no line.
    title, subtitle, category_title, primary_title, secondary_title
        In place of what the table says; empty for none.
    note
        The small line at the foot: True for source, period, filter, merges and folds; False for none; or a text.
    unit
        What the frequencies are in, in place of the column's name.
    wording
        The fixed words and number signs.
    colours
        Category or series -> its colour as ``#rrggbb``.
    """

    orientation: Orientation = "upright"
    points: PointPlace = "centre"
    labels: LabelKind = "frequency"
    label_place: LabelPlace = "above"
    cumulative: Cumulative = "percent"
    legend: LegendPlace = "above"
    theme: str = "light"
    size: tuple[float, float] = (1280.0, 800.0)
    title: str | None = None
    subtitle: str | None = None
    category_title: str | None = None
    primary_title: str | None = None
    secondary_title: str | None = None
    note: bool | str = True
    unit: str | None = None
    wording: Wording = PLAIN_WORDING
    colours: Mapping[str, str] = field(default_factory=dict)

    def __post_init__(self) -> None:
        """Refuse what is none; the chart itself checks its places."""
        for value, known, what in (
            (self.labels, get_args(LabelKind), "kind of label"),
            (self.cumulative, get_args(Cumulative), "kind of cumulative line"),
        ):
            if value not in known:
                raise ChartError(f"'{value}' is no {what}{nearest(str(value), known)}; there are: {', '.join(known)}")

    def check_colours(self, names: list[str]) -> None:
        """Raise `ChartError` for a colour of something that is not in the chart."""
        for name in self.colours:
            if name not in names:
                hint = nearest(name, names) or f"; there are: {', '.join(names[:30])}"
                raise ChartError(f"nothing in the chart is called '{name}', which has a colour{hint}")
