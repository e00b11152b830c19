"""Each kind of result as a section of what is handed over."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from functools import cache
from typing import TYPE_CHECKING, Any

from vantric.api.chartsof import chart_of_comparison, chart_of_scales, chart_of_tally, chart_of_trends
from vantric.api.handing.local import base_of, local_named, local_of, localized
from vantric.api.handing.paretosections import notes_of, pareto_section
from vantric.core.charting import PanelChart
from vantric.core.charting.options import TableLook, TallyLook, TrendLook
from vantric.core.counting import Crosstab, Tally
from vantric.core.numbers.shown import one_line
from vantric.reports.grids import comparison_grid, document_grid, series_grid
from vantric.reports.local import Fixed, Local
from vantric.reports.sections import Section, View
from vantric.reports.tallytable import tally_sentence, tally_tables

if TYPE_CHECKING:
    from vantric.core.axes import ScalePair
    from vantric.core.charting import Chart
    from vantric.core.counting import Comparison, Measures
    from vantric.core.inference import Trends
    from vantric.core.reviewing import Finding

__all__ = [
    "chart_section", "comparison_section", "measures_section", "pareto_section", "scales_section",
    "tally_section", "trend_section",
]  # fmt: skip


def tally_section(
    found: Tally | Crosstab, look: TallyLook, findings: Iterable[Finding] = (), of: Any = None, *,
    chart: Chart | None = None,
) -> Section:  # fmt: skip
    """Return a tally or a two-way table as a section; `of` is what its percents are of."""
    tally = found if isinstance(found, Tally) else found.tally()

    @cache
    def views() -> tuple[View, ...]:
        if not tally.total and chart is None:
            return ()  # there is nothing to draw
        first = chart_of_tally(found, look) if chart is None else chart
        name, other = ("percents", "frequency") if look.values == "percent" else ("values", "percent")
        if not tally.total or look.strip:
            return (View(name, first),)
        second = chart_of_tally(found, replace(look, values=other))  # type: ignore[arg-type]
        return View(name, first), View("percents" if name == "values" else "values", second)

    sentence = tally_sentence(found) if isinstance(found, Tally) else _parts_words(found)
    base = base_of(tally, look)
    subject = f"Tally of {tally.origin.by}" if tally.origin.by else "Tally"
    title = views()[0].chart.title if views() else subject
    return localized(Section(
        kind="tally", title=title, sentence=sentence[:1].upper() + sentence[1:], base=base[:1].upper() + base[1:],
        views=views, grids=cache(lambda: tally_tables(found, of)), findings=tuple(findings),
        notes=notes_of(tally, [tally.origin.note()]),
    ), local_of(look))  # fmt: skip


def _parts_words(found: Crosstab) -> str:
    from vantric.reports.parts import parts_words

    return parts_words(found)


def comparison_section(
    found: Comparison, look: TableLook, findings: Iterable[Finding] = (), *, chart: Chart | None = None
) -> Section:
    """Return a comparison as a section."""
    from vantric.reports.comparisonsentence import comparison_sentence

    made = cache(lambda: chart_of_comparison(found, look) if chart is None else chart)
    sides = list(dict.fromkeys([*notes_of(found.before), *notes_of(found.after)]))
    return localized(Section(
        kind="compare", title=made().title, sentence=comparison_sentence(found), base=one_line(found.base()),
        views=lambda: (View("values", made()),), grids=cache(lambda: (comparison_grid(found),)),
        findings=tuple(findings), notes=tuple(sides),
    ), local_of(look))  # fmt: skip


def measures_section(
    found: Measures, chart: Chart, findings: Iterable[Finding] = (), relations: Iterable[str] = ()
) -> Section:
    """Return measures, as they are drawn, as a section."""
    from vantric.reports.combineddata import combined_notes

    base = combined_notes(found)[0]
    said = " ".join([*filter(None, (_upper(chart.description),)), *relations])
    return localized(Section(
        kind="combine", title=chart.title, sentence=said, base=_upper(base), views=lambda: (View("values", chart),),
        grids=cache(lambda: (series_grid(chart, one_line(found.by)),)), findings=tuple(findings),
        notes=notes_of(found, [found.origin.note()]),
    ), _local(chart))  # fmt: skip


def trend_section(
    found: Trends, look: TrendLook, findings: Iterable[Finding] = (), *, chart: PanelChart | None = None
) -> Section:
    """Return trends as a section."""
    from vantric.reports.trenddata import trend_document

    made = cache(lambda: chart_of_trends(found, look) if chart is None else chart)
    return localized(Section(
        kind="trend", title=made().title, sentence=found.sentence(), base=_upper(base_of(found.tally, look)),
        views=lambda: (View("values", made()),), grids=cache(lambda: (document_grid(trend_document(found, ())),)),
        findings=tuple(findings), notes=notes_of(found.tally, [found.tally.origin.note()]),
    ), local_of(look))  # fmt: skip


def scales_section(pair: ScalePair, findings: Iterable[Finding] = (), *, chart: Chart | None = None) -> Section:
    """Return a pair of scales as a section."""
    from vantric.reports.tablefile import scales_document

    made = chart_of_scales(pair) if chart is None else chart
    document = scales_document(pair)
    return Section(
        kind="scales", title=document.title, sentence=" ".join(document.notes), base=document.caption,
        views=lambda: (View("values", made),), grids=lambda: (document_grid(document),), findings=tuple(findings),
    )  # fmt: skip


def chart_section(chart: Chart | PanelChart, findings: Iterable[Finding] = ()) -> Section:
    """Return a chart of series that were given as numbers as a section."""
    panels = chart.panels if isinstance(chart, PanelChart) else (chart,)
    titled = [replace(series_grid(one), title=one.title if len(panels) > 1 else "") for one in panels]
    return localized(Section(
        kind="series", title=chart.title, sentence=_upper(chart.description), base=chart.subtitle,
        views=lambda: (View("values", chart),), grids=lambda: tuple(titled), findings=tuple(findings),
        notes=((Fixed("Note"), chart.note),) if chart.note else (),
    ), _local(chart))  # fmt: skip


def _local(chart: Chart | PanelChart) -> Local:
    style = chart.panels[0].style if isinstance(chart, PanelChart) else chart.style
    return local_named(chart.language, style)


def _upper(text: str) -> str:
    return f"{text[:1].upper()}{text[1:]}"
