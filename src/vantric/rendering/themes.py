"""The look: colors and strokes of both renderers, light, dark, for print, and following the reader's scheme."""

from __future__ import annotations

import colorsys
from collections.abc import Mapping
from dataclasses import dataclass, field, fields
from types import MappingProxyType

from vantric.core.layout import Plan
from vantric.core.layout.plan import PathMark, PointMarks
from vantric.errors import ChartError, unknown

_READABLE = 4.5  # WCAG 2.2, success criterion 1.4.3


def as_color(text: str) -> str:
    """Return ``#rrggbb`` for that, for ``#rgb``, or for a name of CSS Color Module Level 4.

    Raises
    ------
    ChartError
        If it is none of these.
    """
    plain = text.strip().casefold()
    digits = plain.removeprefix("#")
    if plain.startswith("#") and len(digits) in (3, 6) and all(sign in "0123456789abcdef" for sign in digits):
        return f"#{''.join(sign * 2 for sign in digits) if len(digits) == 3 else digits}"
    from matplotlib.colors import CSS4_COLORS, to_hex

    if plain in CSS4_COLORS:
        return str(to_hex(CSS4_COLORS[plain]))
    from vantric.errors import nearest

    hint = f"{nearest(plain, CSS4_COLORS).removeprefix('; ')} write #rrggbb or a CSS name".strip()
    raise ChartError(f"'{text}' is not a color; {hint}", value=text, known=CSS4_COLORS, hint=hint)


def luminance(color: str) -> float:
    """Return the relative luminance of ``#rrggbb`` (WCAG 2.2), from 0 to 1."""
    channels = (int(color[place : place + 2], 16) / 255 for place in (1, 3, 5))
    linear = [value / 12.92 if value <= 0.04045 else ((value + 0.055) / 1.055) ** 2.4 for value in channels]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(text: str, other: str) -> float:
    """Return the contrast ratio of two colors, from 1 to 21 (WCAG 2.2)."""
    low, high = sorted((luminance(text), luminance(other)))
    return (high + 0.05) / (low + 0.05)


def readable(color: str, ground: str) -> str:
    """Return a color made darker or lighter until text in it can be read on its ground."""
    hue, light, saturation = colorsys.rgb_to_hls(*(int(color[place : place + 2], 16) / 255 for place in (1, 3, 5)))
    step = -0.02 if luminance(ground) > 0.2 else 0.02
    text = color
    while contrast(text, ground) < _READABLE and 0 < light < 1:
        light = min(1.0, max(0.0, light + step))
        text = "#" + "".join(f"{round(255 * part):02x}" for part in colorsys.hls_to_rgb(hue, light, saturation))
    return text


DEFAULT_SIZE = (1280.0, 800.0)
OUTLINE, HALO = 1.0, 1.2  # pixels
#: What is over what: marks by their own level, which is zero for bars.
GROUND, BAND, GRID, BARS, OVER_BARS, RULES, LINE, POINT, LEADER, TEXT = (
    -(10.0**9),
    -(10.0**8) - 2,
    -(10.0**8) - 1,
    0.0,
    0.5,
    25.0,
    30.0,
    35.0,
    10.0**8,
    10.0**9,
)
#: Lengths of strokes and gaps, in widths of the line.
DASHES: dict[str, tuple[float, ...]] = {"dashed": (4.0, 2.0), "dotted": (1.2, 1.6), "dash-dot": (6.0, 2.0, 1.2, 2.0)}
SHARES = {"diamond": 0.86, "triangle": 1.12, "pointer": 1.12, "cross": 1.1}  # so that all shapes look equally large
#: How much a color is mixed into the ground for areas and for bands.
SHADE, BAND_SHADE = 0.35, 0.13
#: Rules that have a halo of the ground.
HALOED = ("reference", "interval")
_LEVELS = {
    "grid": GRID,
    "leader": LEADER,
    "reference": LEADER - 1,
    "interval": LINE - 2,
    "band-edge": GRID,
}
_SMALL_POINT, _EDGE = 3.0, 1.4  # pixels: smaller points have no edge


def rule_level(mark: PathMark) -> float:
    """Return how far in front a rule is: what parts bars is over them, and under bars in front of them."""
    if mark.role == "parting":
        return mark.level or OVER_BARS
    return _LEVELS.get(mark.role, RULES)


def point_edge(points: PointMarks) -> float:
    """Return the width of the rim of a set of points, in pixels."""
    return _EDGE if points.radius >= _SMALL_POINT else 0.0


def unit_of(plan: Plan) -> float:
    """Return how large a picture is beside one of 1280 x 800, for the widths of its lines."""
    return min(plan.size[0] / DEFAULT_SIZE[0], plan.size[1] / DEFAULT_SIZE[1])


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


#: Pixels of each line.
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


#: Theme of a chart -> what it looks like in a light and in a dark page.
PAIRS = MappingProxyType({"light": (LIGHT, DARK), "dark": (DARK, DARK), "print": (PRINT, PRINT)})


@dataclass
class Palette:
    """The variables of a page, in the order in which they were first used."""

    names: dict[tuple[str, str], str] = field(default_factory=dict)

    def variable(self, light: str, dark: str) -> str:
        """Return what stands for a pair of colors."""
        return f"var({self.names.setdefault((light, dark), f'--c{len(self.names) + 1}')})"

    def of(self, role: str, theme: str = "light") -> str:
        """Return what stands for a role of a theme."""
        light, dark = PAIRS[theme]
        return self.variable(light.color(role), dark.color(role))

    def declared(self, *, dark: bool) -> str:
        """Return the declarations of the variables for one scheme."""
        return "".join(f"{name}:{pair[dark]};" for pair, name in self.names.items())


@dataclass(frozen=True)
class SchemeTheme(Theme):
    """A theme whose colors are variables of a page."""

    palette: Palette = field(default_factory=Palette)

    @classmethod
    def named(cls, name: str, palette: Palette) -> SchemeTheme:
        """Return a theme for a page."""
        light, dark = PAIRS[name]
        plain = {field.name: getattr(light, field.name) for field in fields(Theme)}
        edges = {role: palette.variable(edge, dark.edges.get(role, edge)) for role, edge in light.edges.items()}
        plain |= {"ground": palette.variable(light.ground, dark.ground), "edges": MappingProxyType(edges)}
        return cls(**plain, palette=palette)

    def color(self, role: str) -> str:
        """Return the variable of a role's colors."""
        light, dark = PAIRS[self.name]
        return self.palette.variable(light.color(role), dark.color(role))
