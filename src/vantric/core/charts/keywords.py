"""The options of series by name and type, for type checkers.

Made by `make generated`; do not edit. To hold options in a variable: ``options: vantric.BarsOptions = {...}``.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal, TypedDict

if TYPE_CHECKING:
    from vantric.core.numbers.number_format import NumberStyle


class _Common1(TypedDict, total=False):
    """What BarsOptions, LineOptions, SeriesOptions have in common."""

    axis: Literal["primary", "secondary"] | None
    unit: str
    style: NumberStyle | None
    label_place: Literal["auto", "above", "inside", "below", "beside"]
    color: str
    marker: Literal["round", "square", "diamond", "triangle", "pointer", "cross", "none"] | None
    marker_size: float | None
    layer: int
    bridge: bool


class BarsOptions(_Common1, total=False):
    """The options of `vantric.Bars`."""

    pattern: Literal["plain", "hatched", "dotted", "crossed"] | None
    bar_width: float | None
    stack: str


class LineOptions(_Common1, total=False):
    """The options of `vantric.Line, Area, Points, Stems and Steps`."""

    pattern: Literal["solid", "dashed", "dotted", "dash-dot"] | None
    line_width: float | None


class SeriesOptions(_Common1, total=False):
    """The options of `vantric.Series`."""

    pattern: str | None
