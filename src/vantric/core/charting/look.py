"""What a user may wish of any chart: its texts, its furniture, its colors."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from vantric.core.charting.chart import GridSide, LegendPlace, Orientation, TitlePlace
from vantric.core.charting.wording import PLAIN_WORDING, Wording
from vantric.errors import ChartError, nearest


@dataclass(frozen=True, kw_only=True)
class Look:
    """The options that every kind of chart has.

    Attributes
    ----------
    orientation, legend, grid, title_place, theme, font, size
        See `Chart`.
    title, subtitle, category_title, primary_title, secondary_title
        In place of what the data say; empty for none.
    note
        The small line at the foot: True for source, period, filter, merges and folds; False for none; or a text.
    wording
        The fixed words and number signs.
    colors
        Category or series -> its color as ``#rrggbb``.
    """

    orientation: Orientation = "vertical"
    legend: LegendPlace = "above"
    grid: GridSide = "auto"
    title_place: TitlePlace = "left"
    theme: str = "light"
    font: str = ""
    size: tuple[float, float] = (1280.0, 800.0)
    title: str | None = None
    subtitle: str | None = None
    category_title: str | None = None
    primary_title: str | None = None
    secondary_title: str | None = None
    note: bool | str = True
    wording: Wording = PLAIN_WORDING
    colors: Mapping[str, str] = field(default_factory=dict)

    def furniture(self) -> dict[str, Any]:
        """Return the options of a chart that are the same for every kind."""
        return {
            "orientation": self.orientation,
            "legend": self.legend,
            "grid": self.grid,
            "title_place": self.title_place,
            "theme": self.theme,
            "font": self.font,
            "style": self.wording.style,
            "size": self.size,
        }

    def check_colors(self, names: list[str]) -> None:
        """Raise `ChartError` for a color of something that is not in the chart."""
        for name in self.colors:
            if name not in names:
                hint = nearest(name, names) or f"; there are: {', '.join(names[:30])}"
                raise ChartError(f"nothing in the chart is called '{name}', which has a color{hint}")
