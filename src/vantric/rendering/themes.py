"""The look: colors and strokes of both renderers by role, in five themes, and following the reader's scheme."""

from __future__ import annotations

import colorsys
from collections.abc import Mapping
from dataclasses import dataclass, field, fields
from types import MappingProxyType

from vantric.core.layout import Plan
from vantric.core.layout.plan import PathMark, PointMarks
from vantric.errors import ChartError, unknown
from vantric.rendering.palettes import (
    CLAY_COLORS,
    CONTRAST_COLORS,
    DARK_COLORS,
    LIGHT_COLORS,
    PRINT_COLORS,
)
from vantric.rendering.palettes import (
    Palette as Colors,
)

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


def mixed(color: str, ground: str) -> str:
    """Return the color of an area on its ground."""
    pairs = ((int(part[place : place + 2], 16) for part in (color, ground)) for place in (1, 3, 5))
    return "#" + "".join(f"{round(SHADE * own + (1 - SHADE) * other):02x}" for own, other in pairs)


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
SHARES = {
    "diamond": 0.86,
    "triangle": 1.12,
    "pointer": 1.12,
    "cross": 1.1,
    "stroke": 2.2,
}  # so that all shapes look equally large
#: Half the width of a stroke across the row, as a share of its half length.
STROKE = 0.12
#: How much a color is mixed into the ground for areas.
SHADE = 0.35
#: Areas that have their own pale color.
UNSHADED = ("band", "wash")
#: Rules that have a halo of the ground.
HALOED = ("reference", "interval")
#: A halo around text, as a share of its size.
TEXT_HALO = 0.28
#: The line of a hollow point, in pixels.
HOLLOW = 1.6
_LEVELS = {
    "grid": GRID,
    "row": GRID,
    "cut": GRID + 0.5,
    "leader": LEADER,
    "reference": LEADER - 1,
    "moment": LINE - 3,
    "interval": LINE - 2,
    "interval-quiet": LINE - 2,
    "interval-strong": LINE - 2,
    "join": LINE - 2,
    "join-strong": LINE - 2,
    "band-edge": GRID,
}
_SMALL_POINT, _EDGE = 2.5, 1.4  # pixels: smaller points have no edge


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
            best = max((self.colors["value"], self.ground), key=lambda ink: contrast(ink, under))
            if contrast(best, under) >= _READABLE:
                return best
            return max(("#000000", "#ffffff"), key=lambda ink: contrast(ink, under))
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
        "line": 2.2,
        "line-2": 2.0,
        "cut": 1.0,
        "bracket": 1.5,
        "bracket-rest": 1.5,
        "axis": 1.0,
        "baseline": 1.2,
        "zero": 1.2,
        "total-tick": 1.0,
        "grid": 1.0,
        "row": 1.0,
        "parting": 1.0,
        "leader": 0.9,
        "interval": 1.3,
        "interval-quiet": 1.8,
        "interval-strong": 3.4,
        "join": 2.6,
        "join-strong": 3.8,
        "reference": 1.6,
        "moment": 1.5,
        "band-edge": 1.0,
        "center": 1.0,
    }
)
_DASHES = MappingProxyType({"reference": (5.0, 3.0), "line-2": (4.0, 2.0)})
_MARKERS = MappingProxyType(
    {
        "plan": "stroke",
        "point-2": "square",
        "mark-2": "square",
        "mark-3": "diamond",
        "mark-4": "triangle",
        "mark-5": "pointer",
    }
)
#: Which colors lines have that are no cumulative ones: not those of the tints that are under them.
_MARKS = (0, 6, 3, 5, 2)
_PRINTED = MappingProxyType(
    {"mark-2": (4.0, 2.0), "mark-3": (1.2, 1.6), "mark-4": (6.0, 2.0, 1.2, 2.0), "mark-5": (7.0, 3.0)}
)
_HATCHED = ("///", "...", "\\\\\\", "xxx", "///")


_IN_INK = (
    *("title", "axis-title", "total", "category", "value", "legend", "moment", "moment-text", "column"),
    *("difference", "plan", "baseline", "zero", "interval"),
)
_MUTED = (
    *("subtitle", "tick", "note", "category-quiet", "value-quiet", "legend-quiet", "class-text"),
    *("before", "column-quiet"),
)


def _roles(colors: Colors) -> dict[str, str]:
    """Return the color of each role."""
    ink, muted, line, vital = colors.ink, colors.muted, colors.line, colors.vital
    roles = {
        **dict.fromkeys(_IN_INK, ink),
        **dict.fromkeys(_MUTED, muted),
        **dict.fromkeys(("line", "point", "point-value", "line-title", "cut-text", "axis-line"), line),
        "after": line,
        **dict.fromkeys(("axis", "total-tick", "cut", "bracket-rest", "center"), colors.axis),
        **dict.fromkeys(("join", "interval-quiet"), colors.axis),
        **dict.fromkeys(("strong", "bracket", "class-name", "under"), vital),
        **dict.fromkeys(("point-strong", "join-strong", "interval-strong"), vital),
        **dict.fromkeys(("reference", "reference-text"), colors.limit),
        **dict.fromkeys(("leader", "row"), colors.rule),
        **dict.fromkeys(("line-2", "point-2", "band-edge"), colors.axis),
        "point-2-value": muted,
        **dict.fromkeys(("ground", "parting", "plate", "sum"), colors.ground),
        "grid": colors.grid,
        "wash": colors.wash,
        "band": colors.band,
        "strong-b": colors.vital_b,
        "strong-c": colors.tints[0],
        "rim-strong-c": vital,
        "strong-value": vital,
        "quiet": colors.body,
        "rim-quiet": colors.rim,
        "bar": colors.series[1],
        "bar-value": colors.texts[1],
    }
    for number in range(7):
        name = f"-{number + 1}"
        own = colors.series[number]
        # The number of an area is on it.
        roles |= {
            f"series{name}": own,
            f"series{name}-value": readable(colors.texts[number], mixed(own, colors.ground)),
        }
        roles |= {f"pale{name}": colors.tints[number], f"pale{name}-value": colors.texts[number]}
        roles[f"rim-pale{name}"] = colors.texts[number]
    for number, place in enumerate(_MARKS, start=1):
        text = colors.texts[place]
        for tint in colors.tints:  # numbers of lines may be on pale bars
            text = readable(text, tint)
        roles |= {f"mark-{number}": colors.series[place], f"mark-{number}-value": text}
    return roles


def _theme(name: str, colors: Colors) -> Theme:
    """Return a theme of some colors."""
    printed = name == "print"
    pale = ("quiet", "strong-c", *(f"pale-{number}" for number in range(1, 8)))
    hatches = {
        f"{kind}-{number}": hatch for number, hatch in enumerate(_HATCHED, start=3) for kind in ("series", "pale")
    }
    return Theme(
        name,
        colors.ground,
        MappingProxyType(_roles(colors)),
        _WIDTHS,
        MappingProxyType({**_DASHES, **(_PRINTED if printed else {})}),
        MappingProxyType(hatches if printed else {}),
        MappingProxyType({"sum": colors.rim, **(dict.fromkeys(pale, colors.ink) if colors.outlined else {})}),
        _MARKERS,
    )


LIGHT, DARK = _theme("light", LIGHT_COLORS), _theme("dark", DARK_COLORS)
PRINT, CONTRAST, CLAY = _theme("print", PRINT_COLORS), _theme("contrast", CONTRAST_COLORS), _theme("clay", CLAY_COLORS)
THEMES: Mapping[str, Theme] = MappingProxyType({theme.name: theme for theme in (LIGHT, DARK, PRINT, CONTRAST, CLAY)})


def theme_named(name: str) -> Theme:
    """Return a theme, or raise `ChartError` with the nearest name."""
    if name not in THEMES:
        raise unknown(ChartError, f"there is no theme '{name}'", name, THEMES, every=True)
    return THEMES[name]


#: Theme of a chart -> what it looks like in a light and in a dark page.
PAIRS = MappingProxyType(
    {"light": (LIGHT, DARK), **{theme.name: (theme, theme) for theme in (DARK, PRINT, CONTRAST, CLAY)}}
)


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
