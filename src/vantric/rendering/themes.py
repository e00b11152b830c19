"""The look: glazes on unfired clay, on a dark slip, and for print without color."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from types import MappingProxyType

from vantric.errors import ChartError, unknown
from vantric.rendering.colors_part import contrast, readable

_NOTHING: Mapping[str, str] = MappingProxyType({})


@dataclass(frozen=True)
class Theme:
    """Colors and line widths by role.

    Attributes
    ----------
    ground
        Behind everything.
    colors
        Role -> ``"#rrggbb"``.
    widths
        Role of a line -> its width in pixels of a 1280 x 800 picture.
    dashes
        Role of a line -> its pattern in line widths; solid if absent.
    hatches
        Role of a bar -> its pattern, for print; plain if absent.
    edges
        Role of a bar -> the color of its outline; none if absent.
    markers
        Role of points -> their shape, as `Series` has it; round if absent.
    """

    name: str
    ground: str
    colors: Mapping[str, str]
    widths: Mapping[str, float]
    dashes: Mapping[str, tuple[float, ...]]
    hatches: Mapping[str, str] = field(default_factory=lambda: _NOTHING)
    edges: Mapping[str, str] = field(default_factory=lambda: _NOTHING)
    markers: Mapping[str, str] = field(default_factory=lambda: _NOTHING)

    def color(self, role: str) -> str:
        """Return the color of a role; one with a color of its own has it behind a colon.

        What is written on a mark, or in its color beside it, follows from the mark's color where no other is said.
        """
        name, _, own = role.partition(":")
        if not own and name in self.colors:
            return self.colors[name]
        if name.startswith("on-"):
            under = own or self.colors[name.removeprefix("on-")]
            return max((self.colors["value"], "#ffffff", "#000000"), key=lambda ink: contrast(ink, under))
        if name.endswith("-value"):
            return readable(own or self.colors[name.removesuffix("-value")], self.ground)
        return own

    def outline(self, role: str) -> str:
        """Return the color of the line that bounds an area: that of its outline, where bars have one."""
        return self.edges.get(role, "") or self.color(role)

    def width(self, role: str) -> float:
        """Return the width of a line."""
        name = role.partition(":")[0]
        return self.widths[name] if name in self.widths else self.widths["line"]


_WIDTHS = MappingProxyType(
    {
        "line": 2.4,
        "line-2": 2.4,
        "cut": 1.8,
        "axis": 1.1,
        "zero": 1.4,
        "total-tick": 2.0,
        "grid": 1.0,
        "parting": 1.2,
        "leader": 0.9,
        "interval": 1.3,
        "reference": 1.8,
        "band-edge": 1.0,
    }
)
_DASHES = {"cut": (5.0, 3.0), "line-2": (4.0, 2.0), "reference": (7.0, 3.0)}
_CLAY, _INK, _SMOKE = "#f7f2ea", "#211a16", "#5f5349"

LIGHT = Theme(
    name="light",
    ground=_CLAY,
    colors=MappingProxyType(
        {
            "ground": _CLAY,
            "title": _INK,
            "subtitle": _SMOKE,
            "axis-title": _INK,
            "tick": _SMOKE,
            "total": _INK,
            "category": _INK,
            "value": _INK,
            "legend": _INK,
            "note": _SMOKE,
            "cut-text": "#25523a",
            "axis": "#857667",
            "total-tick": _INK,
            "grid": "#e3d9cb",
            "cut": "#25523a",
            "parting": _CLAY,
            "strong": "#164a6e",
            "quiet": "#9d876b",
            "bar": "#164a6e",
            "under": "#b5431f",
            "on-strong": "#ffffff",
            "on-quiet": _INK,
            "on-bar": "#ffffff",
            "line": "#b5431f",
            "point": "#b5431f",
            "point-value": "#8c2f14",
            "line-2": "#8a7458",
            "point-2": "#8a7458",
            "point-2-value": "#6a573f",
            "series-1": "#164a6e",
            "series-2": "#a97a1c",
            "series-3": "#2f7a5c",
            "series-4": "#7d3a6e",
            "series-5": "#4b8ab8",
            "series-6": "#5e4d3a",
            "series-7": "#241c3a",
            "mark-1": "#9a1f1a",
            "mark-2": "#7a2bd0",
            "mark-3": "#1f8a88",
            "mark-4": "#3a0a22",
            "mark-5": "#c445c4",
            "zero": "#5f5349",
            "leader": "#857667",
            "reference": "#25523a",
            "reference-text": "#25523a",
            "band": "#25523a",
            "band-edge": "#25523a",
            "interval": "#211a16",
        }
    ),
    widths=_WIDTHS,
    dashes=MappingProxyType(_DASHES),
    markers=MappingProxyType(
        {"point-2": "square", "mark-2": "square", "mark-3": "diamond", "mark-4": "triangle", "mark-5": "pointer"}
    ),
)

_SLIP, _CHALK, _ASH = "#211c19", "#f3ebe0", "#bcae9d"

DARK = Theme(
    name="dark",
    ground=_SLIP,
    colors=MappingProxyType(
        {
            "ground": _SLIP,
            "title": _CHALK,
            "subtitle": _ASH,
            "axis-title": _CHALK,
            "tick": _ASH,
            "total": _CHALK,
            "category": _CHALK,
            "value": _CHALK,
            "legend": _CHALK,
            "note": _ASH,
            "cut-text": "#8fd0a6",
            "axis": "#84776a",
            "total-tick": _CHALK,
            "grid": "#3a322c",
            "cut": "#8fd0a6",
            "parting": _SLIP,
            "strong": "#6fb4e0",
            "quiet": "#85705a",
            "bar": "#6fb4e0",
            "under": "#f08a5d",
            "on-strong": _SLIP,
            "on-quiet": "#ffffff",
            "on-bar": _SLIP,
            "line": "#f08a5d",
            "point": "#f08a5d",
            "point-value": "#f7ab88",
            "line-2": "#a8b0b5",
            "point-2": "#a8b0b5",
            "point-2-value": "#c2c8cb",
            "series-1": "#6fb4e0",
            "series-2": "#b98a2e",
            "series-3": "#7fd0a8",
            "series-4": "#cc8ab4",
            "series-5": "#3870a8",
            "series-6": "#d8c8ae",
            "series-7": "#8b7bc0",
            "mark-1": "#e0457b",
            "mark-2": "#f7f3b8",
            "mark-3": "#8a5cf5",
            "mark-4": "#9bd84a",
            "mark-5": "#e8a0d8",
            "zero": "#bcae9d",
            "leader": "#84776a",
            "reference": "#8fd0a6",
            "reference-text": "#8fd0a6",
            "band": "#8fd0a6",
            "band-edge": "#8fd0a6",
            "interval": "#f3ebe0",
        }
    ),
    widths=_WIDTHS,
    dashes=LIGHT.dashes,
    markers=LIGHT.markers,
)

_PAPER, _BLACK, _GRAY = "#ffffff", "#000000", "#4a4a4a"
_SERIES = tuple(f"series-{number}" for number in range(1, 8))

PRINT = Theme(
    name="print",
    ground=_PAPER,
    colors=MappingProxyType(
        {
            "ground": _PAPER,
            "title": _BLACK,
            "subtitle": _GRAY,
            "axis-title": _BLACK,
            "tick": _GRAY,
            "total": _BLACK,
            "category": _BLACK,
            "value": _BLACK,
            "legend": _BLACK,
            "note": _GRAY,
            "cut-text": _BLACK,
            "axis": "#6a6a6a",
            "total-tick": _BLACK,
            "grid": "#dedede",
            "cut": _BLACK,
            "parting": _BLACK,
            "strong": "#3c3c3c",
            "quiet": "#e2e2e2",
            "bar": "#5a5a5a",
            "under": "#ffffff",
            "on-strong": "#ffffff",
            "on-quiet": _BLACK,
            "on-bar": "#ffffff",
            "line": _BLACK,
            "point": _BLACK,
            "point-value": _BLACK,
            "line-2": "#5a5a5a",
            "point-2": "#5a5a5a",
            "point-2-value": "#3a3a3a",
            "series-1": "#2e2e2e",
            "series-2": "#f4f4f4",
            "series-3": "#8c8c8c",
            "series-4": "#ffffff",
            "series-5": "#c4c4c4",
            "series-6": "#5e5e5e",
            "series-7": "#e0e0e0",
            "mark-1": _BLACK,
            "mark-2": "#4a4a4a",
            "mark-3": _BLACK,
            "mark-4": "#4a4a4a",
            "mark-5": _BLACK,
            "zero": "#3a3a3a",
            "leader": "#6a6a6a",
            "reference": _BLACK,
            "reference-text": _BLACK,
            "band": "#6a6a6a",
            "band-edge": "#6a6a6a",
            "interval": _BLACK,
        }
    ),
    widths=_WIDTHS,
    dashes=MappingProxyType(
        {**_DASHES, "mark-2": (4.0, 2.0), "mark-3": (1.2, 1.6), "mark-4": (6.0, 2.0, 1.2, 2.0), "mark-5": (7.0, 3.0)}
    ),
    hatches=MappingProxyType({"series-2": "///", "series-4": "...", "series-5": "\\\\\\", "series-7": "xxx"}),
    edges=MappingProxyType(dict.fromkeys(("strong", "quiet", "bar", "under", *_SERIES), _BLACK)),
    markers=LIGHT.markers,
)

THEMES: Mapping[str, Theme] = MappingProxyType({theme.name: theme for theme in (LIGHT, DARK, PRINT)})


def theme_named(name: str) -> Theme:
    """Return a theme, or raise `ChartError` with the nearest name."""
    if name not in THEMES:
        raise unknown(ChartError, f"there is no theme '{name}'", name, THEMES, every=True)
    return THEMES[name]
