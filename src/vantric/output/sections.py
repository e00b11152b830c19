"""What is handed over of one result: its sentence, its charts, its table, its findings, where it comes from.

Pages, workbooks and slides are written from sections; what they hold is decided here, once for all of them.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import replace
from functools import cache
from typing import TYPE_CHECKING, Any

from vantric.base.lazily import dataclass
from vantric.core.messages.formatter import PLAIN, Formatter
from vantric.core.review import Finding
from vantric.tables.table import Table

if TYPE_CHECKING:  # a table that is written as text has no use for charts, which load NumPy
    from vantric.core.charts import Chart, PanelChart


@dataclass(frozen=True)
class ChartView:
    """One view of the chart.

    Attributes
    ----------
    name
        ``"values"``, ``"percents"`` or ``"intervals"``.
    chart
        How it is drawn.
    tips
        What is said of each category, in lines; the values of its series if not given.
    native
        Makes the chart for programs that draw it themselves, where they cannot draw this one.
    """

    name: str
    chart: Chart | PanelChart
    tips: tuple[str, ...] = ()
    native: Callable[[], Chart | PanelChart] | None = None


@dataclass(frozen=True)
class CutoffRecalculation:
    """What a page needs to cut a Pareto table elsewhere, by the same rule as `core.counting.cutoff`.

    Attributes
    ----------
    percent
        The cutoff of the table, as it was typed.
    units, total
        The frequencies of all categories in their order, as integers of one unit, and their sum.
    labels
        Of these categories.
    places
        Where among them each row of the table is.
    tied
        How many tie with the last of the first n, for each n from 0.
    rule, include
        ``"reach"`` or ``"within"``, and whether ties are taken in.
    slack
        Whether the frequencies are binary floats, which are compared within 1e-9 of the total.
    """

    percent: str
    units: tuple[int, ...]
    total: int
    labels: tuple[str, ...]
    places: tuple[int, ...]
    tied: tuple[int, ...]
    rule: str
    include: bool
    slack: bool


def _no_views() -> tuple[ChartView, ...]:
    return ()


@dataclass(frozen=True, kw_only=True)
class Section:
    """One part of what is handed over.

    Attributes
    ----------
    kind
        The kind of chart file that makes it, or ``"text"``.
    title, sentence, base
        Its subject, what it shows, and what its percents are of.
    views
        Returns its charts, the first as it was asked for.
    grids
        Return its tables, the first that of the chart.
    findings
        What the review says.
    notes
        (what, text): source, period, filter, and what was done on the way.
    recut
        Returns what the vital few can be cut anew from; None where they cannot.
    live
        The Pareto table, whose workbook works itself out again.
    text
        Markdown, of a section of text.
    changed
        What changed since last time, in words.
    local
        The language of its fixed words and numbers; sentences are English.
    """

    kind: str
    title: str
    sentence: str = ""
    base: str = ""
    views: Callable[[], tuple[ChartView, ...]] = _no_views
    grids: Callable[[], tuple[Table, ...]] = tuple
    findings: tuple[Finding, ...] = ()
    notes: tuple[tuple[str, str], ...] = ()
    recut: Callable[[], CutoffRecalculation | None] = lambda: None
    live: Any = None
    text: str = ""
    changed: tuple[str, ...] = ()
    local: Formatter = PLAIN

    def in_language(self, local: Formatter) -> Section:
        """Return the section in a language; what the language lacks is `English`."""
        if local.plain:
            return self
        grids = self.grids
        return replace(
            self,
            local=local,
            title=local.text(self.title),
            sentence=local.text(self.sentence),
            base=local.text(self.base),
            grids=cache(lambda: tuple(grid.in_language(local) for grid in grids())),
            findings=tuple(finding.in_language(local) for finding in self.findings),
            notes=tuple((local.text(name), local.text(text)) for name, text in self.notes),
            changed=tuple(map(local.text, self.changed)),
        )


def local_of(sections: Iterable[Section]) -> Formatter:
    """Return the language of sections, if it is one; English if they have several."""
    formatters = {section.local.tongue.code: section.local for section in sections if section.kind != "text"}
    return next(iter(formatters.values())) if len(formatters) == 1 else PLAIN
