"""Small multiples as they are wanted: several charts in one picture."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from vantric.core.charting.chart import Chart
from vantric.core.charting.options import TitlePlace
from vantric.core.results import Drawable
from vantric.errors import ChartError

if TYPE_CHECKING:
    from vantric.core.planning import PanelPlan
    from vantric.core.planning.measure import Measure

_MOST = 48


@dataclass(frozen=True, repr=False)
class PanelChart(Drawable):
    """Several charts in one picture; made of a table with strata or of a drill-down.

    Attributes
    ----------
    panels : tuple of Chart
        Their titles name what each is of; they share theme and size of this one.
    title, subtitle, note, description
        As of a chart.
    legend
        Whether one legend stands for all, above them.
    theme, font, language, title_place, size
        As of a chart.
    """

    panels: tuple[Chart, ...]
    title: str = ""
    subtitle: str = ""
    note: str = ""
    description: str = ""
    legend: bool = True
    theme: str = "light"
    font: str = ""
    language: str = "en"
    title_place: TitlePlace = "left"
    size: tuple[float, float] = (1280.0, 800.0)

    def __post_init__(self) -> None:
        if not self.panels:
            raise ChartError("there is nothing to set side by side")
        if len(self.panels) > _MOST:
            raise ChartError(f"{len(self.panels)} panels are too many for one picture; take at most {_MOST}")

    def plan(self, size: tuple[float, float] | None = None, measure: Measure | None = None) -> PanelPlan:
        """Return the panels with every position resolved; see `Chart.plan`."""
        plan: PanelPlan = self._of_kind().verbs["plan"](self, size, measure)
        return plan

    def __repr__(self) -> str:
        return f"<PanelChart '{self.title}' of {len(self.panels)} panels>"
