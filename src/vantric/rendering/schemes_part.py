"""Colors that follow the reader's scheme: each is a variable of the page, one value for light and one for dark."""

from __future__ import annotations

from dataclasses import dataclass, field, fields
from types import MappingProxyType

from vantric.rendering.themes import DARK, LIGHT, PRINT, Theme

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
        plain = {one.name: getattr(light, one.name) for one in fields(Theme)}
        edges = {role: palette.variable(edge, dark.edges.get(role, edge)) for role, edge in light.edges.items()}
        plain |= {"ground": palette.variable(light.ground, dark.ground), "edges": MappingProxyType(edges)}
        return cls(**plain, palette=palette)

    def color(self, role: str) -> str:
        """Return the variable of a role's colors."""
        light, dark = PAIRS[self.name]
        return self.palette.variable(light.color(role), dark.color(role))
