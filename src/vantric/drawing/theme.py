"""The look: glazes on unfired clay."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType


@dataclass(frozen=True)
class Theme:
    """Colours and line widths by role.

    Attributes
    ----------
    ground
        Behind everything.
    colours
        Role -> ``"#rrggbb"``.
    widths
        Role of a line -> its width in pixels of a 1280 x 800 picture.
    dashes
        Role of a line -> its pattern in line widths; solid if absent.
    """

    name: str
    ground: str
    colours: Mapping[str, str]
    widths: Mapping[str, float]
    dashes: Mapping[str, tuple[float, ...]]


_CLAY, _INK, _SMOKE = "#f7f2ea", "#211a16", "#5f5349"

LIGHT = Theme(
    name="light",
    ground=_CLAY,
    colours=MappingProxyType(
        {
            "ground": _CLAY,
            "title": _INK,
            "subtitle": _SMOKE,
            "axis-title": _INK,
            "tick": _SMOKE,
            "total": _INK,
            "category": _INK,
            "value": _INK,
            "point-value": "#8c2f14",
            "legend": _INK,
            "note": _SMOKE,
            "cut-text": "#25523a",
            "on-strong": "#ffffff",
            "on-quiet": _INK,
            "on-bar": "#ffffff",
            "strong": "#164a6e",
            "quiet": "#9d876b",
            "bar": "#164a6e",
            "line": "#b5431f",
            "point": "#b5431f",
            "cut": "#25523a",
            "axis": "#857667",
            "total-tick": _INK,
            "grid": "#e3d9cb",
        }
    ),
    widths=MappingProxyType({"line": 2.4, "cut": 1.8, "axis": 1.1, "total-tick": 2.0, "grid": 1.0}),
    dashes=MappingProxyType({"cut": (5.0, 3.0)}),
)
