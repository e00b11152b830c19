"""The colors of every theme, by what they are for; measured for contrast, and for eyes that tell fewer colors apart."""

from __future__ import annotations

from vantric.base.lazily import dataclass


@dataclass(frozen=True)
class Palette:
    """The colors of a theme as ``#rrggbb``.

    Attributes
    ----------
    ground, ink, muted
        Behind everything, text, and text that is less.
    rule, grid, axis
        Lines that part, the one grid, ticks and the lines of cutoffs.
    vital, vital_b, body, rim
        An emphasized bar, that of a second class, the pale body of any other and its rim.
    line, limit, wash, band
        The cumulative line, limits, what is behind the vital few, and what is between limits.
    series, tints, texts
        Seven series: solid, pale, and in words.
    outlined
        Whether pale bars have an outline.
    """

    ground: str
    ink: str
    muted: str
    rule: str
    grid: str
    axis: str
    vital: str
    vital_b: str
    body: str
    rim: str
    line: str
    limit: str
    wash: str
    band: str
    series: tuple[str, ...]
    tints: tuple[str, ...]
    texts: tuple[str, ...]
    outlined: bool = False


LIGHT_COLORS = Palette(
    ground="#ffffff",
    ink="#211c18",
    muted="#665e57",
    rule="#cfc7be",
    grid="#eae5df",
    axis="#8b8178",
    vital="#a6452d",
    vital_b="#c77b5a",
    body="#efe8e1",
    rim="#908375",
    line="#17475a",
    limit="#8a1f3d",
    wash="#fbf5f0",
    band="#eef3f4",
    series=("#a6452d", "#05679a", "#b48218", "#419a82", "#682550", "#7e89b6", "#2f271c"),
    tints=("#f3d9ce", "#d3e3ea", "#f3e4c3", "#d5e8e1", "#e6d6e2", "#dde5f2", "#dad5d1"),
    texts=("#a6452d", "#05679a", "#8a6410", "#2b7763", "#682550", "#5763a0", "#2f271c"),
)

DARK_COLORS = Palette(
    ground="#181513",
    ink="#f4eee8",
    muted="#bdb2a7",
    rule="#4f4741",
    grid="#332d29",
    axis="#8c8177",
    vital="#e77d48",
    vital_b="#a95a33",
    body="#39322d",
    rim="#968a7e",
    line="#8fd3e0",
    limit="#f5a3b5",
    wash="#211b18",
    band="#1e2526",
    series=("#e77d48", "#86c7dc", "#f5d360", "#4e836a", "#bb869e", "#7d93e2", "#d5d1ca"),
    tints=("#4a2c21", "#1f3c48", "#46391c", "#213d34", "#40293a", "#29314a", "#3a3531"),
    texts=("#e77d48", "#86c7dc", "#f5d360", "#6fa88c", "#bb869e", "#7d93e2", "#d5d1ca"),
)

PRINT_COLORS = Palette(
    ground="#ffffff",
    ink="#000000",
    muted="#3d3d3d",
    rule="#aaaaaa",
    grid="#dddddd",
    axis="#555555",
    vital="#333333",
    vital_b="#808080",
    body="#f1f1f1",
    rim="#6e6e6e",
    line="#000000",
    limit="#000000",
    wash="#f6f6f6",
    band="#f1f1f1",
    series=("#262626", "#6e6e6e", "#8a8a8a", "#555555", "#808080", "#111111", "#5f5f5f"),
    tints=("#e6e6e6", "#efefef", "#f4f4f4", "#e9e9e9", "#f1f1f1", "#dddddd", "#eeeeee"),
    texts=("#000000", "#000000", "#000000", "#000000", "#000000", "#000000", "#000000"),
)

CONTRAST_COLORS = Palette(
    ground="#ffffff",
    ink="#000000",
    muted="#333333",
    rule="#777777",
    grid="#d0d0d0",
    axis="#000000",
    vital="#7a1e08",
    vital_b="#a6452d",
    body="#ffffff",
    rim="#000000",
    line="#002f45",
    limit="#5e0029",
    wash="#f5f5f5",
    band="#eef3f4",
    series=("#7a1e08", "#00507a", "#7d5a0c", "#1e6350", "#682550", "#4a568f", "#000000"),
    tints=("#f3d9ce", "#d3e3ea", "#f3e4c3", "#d5e8e1", "#e6d6e2", "#dde5f2", "#dad5d1"),
    texts=("#7a1e08", "#00507a", "#7d5a0c", "#1e6350", "#682550", "#4a568f", "#000000"),
    outlined=True,
)

CLAY_COLORS = Palette(
    ground="#f6f0e7",
    ink="#211c18",
    muted="#5c534b",
    rule="#c3b6a5",
    grid="#e3d9cb",
    axis="#8b8178",
    vital="#a6452d",
    vital_b="#bd6d4c",
    body="#e5dacb",
    rim="#857769",
    line="#17475a",
    limit="#8a1f3d",
    wash="#ede3d5",
    band="#e6eae6",
    series=("#a6452d", "#05679a", "#aa7912", "#38907a", "#682550", "#7580ac", "#2f271c"),
    tints=("#f3d9ce", "#d3e3ea", "#f3e4c3", "#d5e8e1", "#e6d6e2", "#dde5f2", "#dad5d1"),
    texts=("#a6452d", "#05679a", "#7d5a0c", "#2b7763", "#682550", "#5763a0", "#2f271c"),
)
