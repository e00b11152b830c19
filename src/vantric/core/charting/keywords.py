"""The options of series by name and type, for type checkers.

Made by `make generated`; do not edit. To hold options in a variable: ``options: vantric.BarsOptions = {...}``.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal, TypedDict

if TYPE_CHECKING:
    from vantric.core.numbers.style import NumberStyle


class BarsOptions(TypedDict, total=False):
    """The options of `vantric.Bars`."""

    axis: Literal["primary", "secondary"] | None
    unit: str
    style: NumberStyle | None
    label_place: Literal["auto", "above", "inside", "below", "beside"]
    color: str
    marker: Literal["round", "square", "diamond", "triangle", "pointer", "cross", "none"] | None
    marker_size: float | None
    pattern: Literal["plain", "hatched", "dotted", "crossed"] | None
    layer: int
    bridge: bool
    bar_width: float | None
    stack: str


class LineOptions(TypedDict, total=False):
    """The options of `vantric.Line, Area, Points, Stems and Steps`."""

    axis: Literal["primary", "secondary"] | None
    unit: str
    style: NumberStyle | None
    label_place: Literal["auto", "above", "inside", "below", "beside"]
    color: str
    marker: Literal["round", "square", "diamond", "triangle", "pointer", "cross", "none"] | None
    marker_size: float | None
    pattern: Literal["solid", "dashed", "dotted", "dash-dot"] | None
    layer: int
    bridge: bool
    line_width: float | None


class SeriesOptions(TypedDict, total=False):
    """The options of `vantric.Series`."""

    axis: Literal["primary", "secondary"] | None
    unit: str
    style: NumberStyle | None
    label_place: Literal["auto", "above", "inside", "below", "beside"]
    color: str
    marker: Literal["round", "square", "diamond", "triangle", "pointer", "cross", "none"] | None
    marker_size: float | None
    pattern: str | None
    layer: int
    bridge: bool
