"""What a user may wish of the chart of a table."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal, TypeAlias, get_args

from vantric.core.charting.chart import LabelPlace, PointPlace
from vantric.core.charting.look import Look
from vantric.core.charting.series import chosen

LabelKind: TypeAlias = Literal["frequency", "percent", "none"]
Cumulative: TypeAlias = Literal["percent", "frequency", "none"]


@dataclass(frozen=True, kw_only=True)
class Wish(Look):
    """The options of the chart of a Pareto table or a comparison.

    Attributes
    ----------
    points, label_place
        See `Chart`.
    labels
        What is written at the bars: their ``"frequency"``, their ``"percent"``, or ``"none"``.
    cumulative
        What the line shows: the cumulative ``"percent"`` or ``"frequency"``; ``"none"`` for no line.
    unit
        What the frequencies are in, in place of the column's name.
    intervals
        Whether each bar has the interval of its share, and the band in which it would lie by chance is drawn.
    """

    points: PointPlace = "center"
    labels: LabelKind = "frequency"
    label_place: LabelPlace = "above"
    cumulative: Cumulative = "percent"
    unit: str | None = None
    intervals: bool = False

    def __post_init__(self) -> None:
        """Refuse what is none; the chart itself checks its places."""
        chosen(self.labels, get_args(LabelKind), "kind of label")
        chosen(self.cumulative, get_args(Cumulative), "kind of cumulative line")

    def looks(self) -> dict[str, Any]:
        """Return the options of the chart as the core's chart has them."""
        return {**self.furniture(), "points": self.points, "label_place": self.label_place}
