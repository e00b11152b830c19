"""The charts of a section as figures of a page."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from copy import copy
from dataclasses import dataclass, field

from vantric.core.charting import Chart, PanelChart
from vantric.core.planning import PanelPlan, Plan
from vantric.core.planning.plan import TextMark
from vantric.drawing.save import planned
from vantric.drawing.schemes import Palette, SchemeTheme
from vantric.drawing.svg import Embedded, svg_text
from vantric.reports.pages.fonts import FAMILY
from vantric.reports.sections import View


@dataclass
class Ink:
    """What the sections of a page share: colors, letters, and the numbers of the categories.

    A category has one number wherever it occurs, so that it can be pointed out everywhere at once.
    """

    palette: Palette = field(default_factory=Palette)
    keys: dict[str, int] = field(default_factory=dict)
    letters: list[tuple[str, bool]] = field(default_factory=list)

    def key(self, label: str) -> int:
        """Return the number of a category."""
        return self.keys.setdefault(label, len(self.keys) + 1)


def figure(views: Sequence[View], name: str, ink: Ink) -> str:
    """Return the views of a chart, of which the first is shown; a page's script shows the others."""
    if not views:
        return ""
    shown = []
    for at, view in enumerate(views):
        svg = _svg(view, f"{name}-{view.name}", ink, told=at == 0)
        shown.append(f'<div class="view" data-view="{view.name}"{" hidden" if at else ""}>\n{svg}</div>')
    return f"<figure>{''.join(shown)}</figure>"


def _svg(view: View, name: str, ink: Ink, *, told: bool) -> str:
    """Return a chart without what the page itself says; what is said of its categories is in the first view."""
    chart = copy(view.chart)
    vars(chart).update(title="", subtitle="", note="")
    measure, plan = planned(chart)
    for label in _labels(chart):
        ink.key(label)
    theme = SchemeTheme.named(chart.theme, ink.palette)
    ink.letters += [] if chart.font else [(mark.text, mark.bold) for mark in _texts(plan)]
    tips = view.tips if told else ("",) * len(getattr(chart, "categories", ()))
    part = Embedded(name, ink.keys, tips, title=view.chart.title, letters=not chart.font)
    return svg_text(chart, plan, theme, measure, chart.font or FAMILY, embedded=part)


def _labels(chart: Chart | PanelChart) -> Iterator[str]:
    for one in chart.panels if isinstance(chart, PanelChart) else (chart,):
        yield from one.categories


def _texts(plan: Plan | PanelPlan) -> Iterator[TextMark]:
    if isinstance(plan, PanelPlan):
        yield from plan.texts
        yield from plan.legend.texts
        for _, inner in plan.panels:
            yield from inner.texts
    else:
        yield from plan.texts
