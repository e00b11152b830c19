"""The chart of a result, with what it shows in words: what the functions, the commands and chart files share."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from vantric.api.looks import colored, ready
from vantric.api.shaping import shaped
from vantric.api.spreads import spreads_of
from vantric.core import composing
from vantric.core.axes import ScalePair
from vantric.core.charting import Chart, PanelChart, Series
from vantric.core.charting.options import CombinationLook, Look, ParetoLook, TableLook, TallyLook, TrendLook
from vantric.core.composing.worded import worded
from vantric.core.counting import Comparison, Crosstab, Measures, ParetoTable, Tally
from vantric.core.numbers.shown import headed, readable
from vantric.reports.chartsentence import chart_sentence
from vantric.reports.parts import parts_words, vital_of
from vantric.reports.sentence import pareto_sentence

if TYPE_CHECKING:
    from vantric.core.inference import Trends


def chart_of_table(table: ParetoTable, look: ParetoLook) -> Chart | PanelChart:
    """Return the chart of a Pareto table, or its panels."""
    table = worded(table, look.wording.say("rest label"))
    look, description = ready(look), pareto_sentence(table)
    if table.strata is not None:
        description = " ".join(filter(None, (description, parts_words(table.strata, vital_of(table)))))
    if look.concentration:
        from vantric.core.inference import concentration_of  # needed here only

        description = f"{description} {concentration_of(table).sentence()}"
    known = spreads_of(table, look) if look.intervals else None
    if known is not None:
        description = f"{description} {known.sentence}"
        if look.note is True:
            look = replace(look, note="; ".join(filter(None, (composing.chart_note(table, look), known.note))))
    panels = None if known is None else known.panels
    if look.panels:
        return composing.strata_panels(table, look, description=description, spreads=panels)
    if table.within:
        return composing.drill_panels(table, look, description=description, spreads=panels)
    spreads = panels[0] if panels else None
    return shaped(composing.pareto_chart(table, look, description=description, spreads=spreads), look)


def chart_of_comparison(found: Comparison, look: TableLook) -> Chart:
    """Return the chart of a comparison."""
    from vantric.reports.comparisondata import changes_known
    from vantric.reports.comparisonsentence import comparison_sentence

    changes = changes_known(found)
    beyond = None if changes is None else {row.category for row in changes.beyond}
    said = comparison_sentence(found)
    return shaped(composing.comparison_chart(found, ready(look), description=said, beyond=beyond), look)


def chart_of_trends(found: Trends, look: TrendLook) -> PanelChart:
    """Return the small lines of trends."""
    return composing.trend_panels(found, ready(look), description=found.sentence())


def chart_of_tally(found: Tally | Crosstab, look: TallyLook) -> Chart:
    """Return the chart of a tally or a two-way table."""
    look = ready(look)
    made = composing.tally_chart(found, look) if isinstance(found, Tally) else composing.crosstab_chart(found, look)
    title = made.primary_title
    shown = f", {title[:1].lower()}{title[1:]}" if "(" in title else f" ({title})" if title else ""
    return shaped(replace(made, description=f"{made.title}{shown}: {chart_sentence(made)}"), look)


def chart_of_measures(measures: Measures, series: Sequence[Series], look: CombinationLook) -> Chart:
    """Return the chart of series made of measures, with where they come from."""
    look = ready(look)
    wording, origin = look.wording, measures.origin
    base = wording.counted(origin.input_rows - measures.missing, origin)
    if measures.missing:
        lacking = wording.say("without", number=look.style.plain(measures.missing), label=wording.lacking(origin))
        base = f"{base}, {lacking}"
    said = replace(look, subject=look.subject or measures.by)
    if measures.about:
        said = _titled(said, measures)
    chart = composing.combination_chart(
        measures.categories, [colored(one) for one in series], said, period=measures.period, base=base,
        source=wording.note(origin),
    )  # fmt: skip
    sentence = chart_sentence(chart)
    if measures.about:
        sentence = f"{measures.about} {sentence[:1].upper()}{sentence[1:]}"
    described = replace(chart, description=sentence, remarks=(*origin.remarks, *chart.remarks))
    return shaped(described, look)


def _titled(look: CombinationLook, measures: Measures) -> CombinationLook:
    """Return a look with the titles of planned and achieved, where the user gives none."""
    say, names = look.wording.say, look.wording.listed([readable(name) for name in measures.names[:2]])
    title = headed(say("series by", names=names, subject=readable(look.subject)))
    axis = headed(look.wording.titled(names, measures.units[0]))
    return replace(
        look, title=title if look.title is None else look.title,
        primary_title=axis if look.primary_title is None else look.primary_title,
    )  # fmt: skip


def chart_of_series(
    categories: Iterable[Any], series: Iterable[Series], look: CombinationLook, period: str | None = None
) -> Chart:
    """Return the chart of series that are given as numbers."""
    made = composing.combination_chart(categories, [_colored(one) for one in series], ready(look), period=period)
    return shaped(replace(made, description=chart_sentence(made)), look)


def _colored(one: Any) -> Any:
    return colored(one) if isinstance(one, Series) else one


def chart_of_scales(pair: ScalePair, look: Look | None = None) -> Chart:
    """Return the chart of two empty axes."""
    from vantric.reports.scalesdata import scales_words

    made = composing.scales_chart(pair, description=" ".join(scales_words(pair)))
    if look is None:
        return made
    named = ("title", "subtitle", "category_title", "primary_title", "secondary_title")
    said = {name: text for name in named if (text := getattr(look, name)) is not None}
    return replace(made, **{**look.furniture(two=True), "legend": "none", **said})
