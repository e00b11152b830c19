"""Pareto tables: their rows for every format, intervals, panels, and what their page cuts anew."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import replace
from fractions import Fraction
from functools import cache
from math import lcm
from textwrap import wrap
from typing import TYPE_CHECKING, Any, TypeAlias

from vantric.base.lazily import dataclass, remembered
from vantric.core import composition, counts
from vantric.core.charts.settings import LabelKind, ParetoChartSettings
from vantric.core.counts import Missing, ParetoTable, Tally
from vantric.core.counts.ordering import RankSettings
from vantric.core.counts.pareto_table import localize
from vantric.core.counts.tally import Moments, Spread, single
from vantric.core.messages.formatter import Formatter
from vantric.core.messages.message import Joined, Message, Percent, Shown, Written, interval, level_text
from vantric.core.numbers.amounts import Amounts
from vantric.core.numbers.number_format import distinct_lines, number_text, percent_text
from vantric.core.review import Finding, review_pareto
from vantric.counting.ranking import rank
from vantric.errors import RankError
from vantric.kinds.kind import Kind, Parts
from vantric.kinds.recipe import notes_of
from vantric.options.signatures import shows
from vantric.reading.settings import CountSettings, ParetoSettings, ReadSettings
from vantric.tables.pareto import pareto_object, pareto_sentence, pareto_tables, table_notes
from vantric.tables.statements import parts_differ, parts_words, vital_of
from vantric.tables.table import Table

if TYPE_CHECKING:
    from vantric.core.charts import Chart, PanelChart
    from vantric.core.composition import BarIntervals
    from vantric.core.counts import Crosstab
    from vantric.core.review import Finding
    from vantric.core.statistics import Certainty, Concentration
    from vantric.output.sections import ChartView, CutoffRecalculation, Section


def make(data: Any, opening: ReadSettings, parts: Parts) -> ParetoTable:
    """Return the Pareto table of a source."""
    return rank(data, parts["analysis"], parts["counting"], opening)


def _sure(table: ParetoTable, look: ParetoChartSettings) -> Certainty | None:
    if not look.intervals:
        return None
    from vantric.core.statistics import certainty_of

    return remembered(table, "_sure", lambda: certainty_of(table))


def _dense(table: ParetoTable, look: ParetoChartSettings) -> Concentration | None:
    if not look.concentration:
        return None
    from vantric.core.statistics import concentration_of

    return remembered(table, "_dense", lambda: concentration_of(table))


def tables(table: ParetoTable, look: ParetoChartSettings, local: Formatter) -> Sequence[Table]:
    """Return it, and the tables of a drill-down."""
    rest = local.say("rest label")
    return pareto_tables(localize(table, rest), _sure(table, look), limits=False)


def data(table: ParetoTable, look: ParetoChartSettings, findings: Any) -> dict[str, Any]:
    """Return its JSON object."""
    return pareto_object(table, findings, _sure(table, look), _dense(table, look))


def view(table: ParetoTable, look: ParetoChartSettings, *, findings: Sequence[Finding], **terminal: Any) -> str:
    """Return it for a terminal, with how sure and how concentrated it is."""
    from vantric.tables.pareto_terminal import pareto_view
    from vantric.tables.statements import certainty_lines

    sure, dense, width = _sure(table, look), _dense(table, look), terminal["width"]
    local = look.formatter.bare()
    more = [] if sure is None else ["", *certainty_lines(sure, width=width, local=local)]
    more += [] if dense is None else ["", *wrap(local.text(dense.sentence()), width)]
    lines = pareto_view(
        table, findings, **terminal, formatter=look.formatter, headline=composition.table_headline(table, look)
    )
    return lines + "".join(f"{line}\n" for line in more)


def chart(table: ParetoTable, look: ParetoChartSettings) -> Any:
    """Return its chart, or its panels."""
    from vantric.kinds.appearance import rows_that_fit, with_drawable_look, with_orientation

    table = localize(table, look.formatter.say("rest label"))
    look, sentences = with_drawable_look(look), [pareto_sentence(table), parts_words(table.strata, vital_of(table))]
    dense = _dense(table, look)
    if dense is not None:
        sentences.append(dense.sentence())
    intervals = spreads_of(table, look) if look.intervals else None
    if intervals is not None:
        sentences.append(intervals.sentence)
        if look.note is True:
            notes = (composition.chart_note(table, look), look.formatter.text(intervals.note))
            look = replace(look, note="; ".join(filter(None, notes)))
    description = Joined(sentences)
    panels = None if intervals is None else intervals.panels
    if look.panels:
        differ = parts_differ(table.strata)
        return composition.strata_panels(table, look, description=description, spreads=panels, differ=differ)
    if table.within:
        return composition.drill_panels(table, look, description=description, spreads=panels)
    spreads = panels[0] if panels else None
    drawn = composition.pareto_chart(table, look, description=description, spreads=spreads)
    foldable = table.ordering == "frequency" and spreads is None and not look.references
    drawn = with_orientation(drawn, look, foldable=foldable)
    few = max((cut.count for cut in table.cutoffs), default=0)
    rows = rows_that_fit(drawn, look, few) if foldable else None
    return drawn if rows is None else composition.with_sum_row(drawn, table, look, rows - 1)


def section(table: ParetoTable, look: ParetoChartSettings, findings: Any, *, chart: Any = None) -> Any:
    """Return what is handed over of it."""
    return pareto_section(table, look, findings, draw=KIND.chart, chart=chart)


def _html(table: ParetoTable) -> str:
    from vantric.output.markup import pareto_html

    return pareto_html(table)


def certainty(table: ParetoTable, **how: Any) -> Certainty:
    """Return how sure the ranking is."""
    from vantric.core.statistics import certainty_of

    return certainty_of(table, **how)


def concentration(table: ParetoTable, **how: Any) -> Concentration:
    """Return how concentrated the frequencies are."""
    from vantric.core.statistics import concentration_of

    return concentration_of(table, **how)


shows(ParetoChartSettings)(counts.ParetoTable.chart)

KIND = Kind(
    name="pareto",
    options={"counting": CountSettings, "analysis": ParetoSettings, "chart": ParetoChartSettings},
    make=make,
    origin=lambda table: table.origin,
    review=review_pareto,
    sentence=pareto_sentence,
    tables=tables,
    data=data,
    view=view,
    chart=chart,
    section=section,
    notebook=_html,
    floats=("percent", "cumulative_percent"),
    styled=True,
    compared=lambda table: table.tally,
    verbs={"certainty": certainty, "concentration": concentration},
)


@dataclass(frozen=True)
class PanelIntervals:
    """The intervals of each panel, and what there is to say of them.

    Attributes
    ----------
    panels
        One a panel; one where there are no panels.
    sentence
    note
        For the small line under the picture.
    """

    panels: tuple[BarIntervals, ...]
    sentence: str
    note: str


def spreads_of(table: ParetoTable, look: ParetoChartSettings) -> PanelIntervals:
    """Return the intervals of a table, of its strata where these are panels, or of the tables of a drill-down."""
    from vantric.core.statistics import certainty_of  # needed here only

    if look.panels and table.strata is not None:
        from vantric.core.counts.pareto import pareto

        parts = [
            part for index in range(len(table.strata.columns)) if (part := _stratum(table, table.strata, index)).total
        ]
        certainties = {part.origin.within: certainty_of(pareto(part, RankSettings(cut=None))) for part in parts}
        intervals = [
            composition.BarIntervals(
                {row.category: (row.low, row.high) for row in certainties[label].rows} if label in certainties else {}
            )
            for label in table.strata.columns
        ]
        return PanelIntervals(tuple(intervals), "", _note(next(iter(certainties.values())), inside=True))
    tables = [table, *_inner(table)]
    sure = [certainty_of(pareto_table) for pareto_table in tables]
    spreads = tuple(spreads_from(pareto_table, certainty) for pareto_table, certainty in zip(tables, sure, strict=True))
    return PanelIntervals(spreads, sure[0].sentence(), _note(sure[0], inside=len(tables) > 1))


def _stratum(table: ParetoTable, strata: Crosstab, index: int) -> Tally:
    """Return one stratum as a tally of the table's rows, the folded ones together."""
    label = strata.columns[index]
    frequency = Amounts.of([row[index] for row in table.strata_rows()])
    spread = None
    if strata.spreads:
        own = strata.spreads[index]
        moments = {name: own.of(name) for name in table.categories}
        if table.rest is not None:
            held_spread = single({name: own.of(name) for name in table.rest.categories})
            moments[table.rest_label] = Moments(held_spread.records, held_spread.whole, held_spread.whole)
        spread = Spread(moments, own.records, own.whole)
    origin = replace(table.origin, within=label)
    return Tally(table.categories, frequency, Missing(), origin, spread=spread)


def _inner(table: ParetoTable) -> Iterator[ParetoTable]:
    for _, pareto_table in table.within:
        yield pareto_table
        yield from _inner(pareto_table)


def spreads_from(table: ParetoTable, sure: Certainty) -> BarIntervals:
    """Return the intervals in what the bars show."""
    unit = 1.0 if sure.measure == "rate" else float(table.total) / 100
    ends = {row.category: (unit * row.low, unit * row.high) for row in sure.rows}
    if sure.rest is not None:
        ends[table.rest_label] = (unit * sure.rest[0], unit * sure.rest[1])
    elif len(table.folded):
        ends[table.rest_label] = (float(table.rows[-1].frequency),) * 2
    band = [
        (unit * row.even_low, unit * row.even_high)
        for row in sure.rows
        if row.even_low is not None and row.even_high is not None
    ]
    return composition.BarIntervals(ends, tuple(band) if len(band) == len(sure.rows) else ())


def _note(sure: Certainty, *, inside: bool) -> Message:
    where = ", each panel" if inside else ""
    return Message(f"intervals of {sure.measure}s{where}", level=level_text(sure.level))


#: Returns the chart of a table under a look.
Draw: TypeAlias = Callable[[Any, Any], Any]
_MOST_SURE = 400  # categories whose intervals a page shows
#: Rows of a table that a page can cut anew: its numbers are in the page.
_MOST_RECUT = 5000


def pareto_section(
    table: ParetoTable,
    look: ParetoChartSettings,
    findings: Iterable[Finding] = (),
    *,
    draw: Draw,
    chart: Chart | PanelChart | None = None,
) -> Section:
    """Return a Pareto table as a section.

    Parameters
    ----------
    table
    look
        Of its chart.
    findings
        What the review says.
    draw
        Returns its chart under a look.
    chart
        The chart, if it is drawn already.
    """
    from vantric.output.sections import Section

    table = localize(table, look.formatter.say("rest label"))

    @cache
    def sure() -> Certainty | None:
        return None if len(table) > _MOST_SURE else _certainty(table)

    @cache
    def first() -> Chart | PanelChart:
        return draw(table, look) if chart is None else chart

    return Section(
        kind="pareto",
        title=composition.chart_title(table, look),
        sentence=Joined((pareto_sentence(table), parts_words(table.strata, vital_of(table)))),
        base=table.tally.base(),
        views=cache(lambda: _views(table, look, first(), sure(), draw)),
        grids=cache(lambda: pareto_tables(table, sure())),
        findings=tuple(findings),
        notes=notes_of(table, table_notes(table)),
        recut=cache(lambda: recut_of(table)),
        live=table,
    ).in_language(look.formatter.bare())


def _certainty(table: ParetoTable) -> Certainty | None:
    """Return how sure the ranking is; None where that is not known."""
    from vantric.core.statistics import certainty_of

    try:
        return certainty_of(table)
    except RankError:  # the table is shown without it, and says why
        return None


def _views(
    table: ParetoTable, look: ParetoChartSettings, first: Chart | PanelChart, sure: Certainty | None, draw: Draw
) -> tuple[ChartView, ...]:
    from vantric.kinds.appearance import with_drawable_look, with_orientation
    from vantric.output.sections import ChartView

    tips = _tips(table, look, sure)
    if look.panels or table.within:
        return (ChartView("values", first),)
    if table.strata is not None:
        return (ChartView("values", first, tips),)
    if not isinstance(look.labels, str) or look.intervals:
        return (ChartView("intervals" if look.intervals else "values", first, tips),)
    name = "percents" if look.labels == "percent" else "values"
    views = [ChartView(name, first, tips)]
    other = "percents" if name == "values" else "values"
    kind: LabelKind = "percent" if other == "percents" else "value"
    views.append(ChartView(other, draw(table, replace(look, labels=kind)), tips))
    if sure is not None:
        look = with_drawable_look(look)
        description = Joined((pareto_sentence(table), sure.sentence()))
        chart = composition.pareto_chart(table, look, description=description, spreads=spreads_from(table, sure))
        views.append(ChartView("intervals", with_orientation(chart, look), tips))
    return tuple(views)


def _tips(table: ParetoTable, look: ParetoChartSettings, sure: Certainty | None) -> tuple[str, ...]:
    """Return what a page says of each row: exact values, more digits than the table has."""
    limits = {} if sure is None else {row.category: (row.low, row.high) for row in sure.rows}
    names, local, tips = distinct_lines(table.categories), look.formatter.bare(), []
    unit = table.origin.unit_text()
    measure, marks = "rate" if table.origin.per else "frequency", tuple(float(cut.percent) for cut in table.cutoffs)
    for name, label, row in zip(names, table.categories, table.rows, strict=True):
        pairs: list[tuple[str, str]] = [(measure, Message("counted", number=row.frequency, unit=unit))]
        if table.tally.counts is not None:
            pairs.append(("count", Shown(Written(number_text(row.count)))))
        share = Message("percent with base", percent=Percent(row.percent, decimals=3), base=table.total)
        pairs.append(("percent", share))
        if label in limits and sure is not None:
            ends = [
                number_text(end, most_decimals=4) if sure.measure == "rate" else percent_text(end)
                for end in limits[label]
            ]
            pairs.append(("interval", interval(*ends)))
        running = Percent(row.cumulative_percent, marks, 3)
        sums = Message("both", one=row.cumulative_frequency, other=running)
        pairs.append(("cumulative", sums))
        if row.rank is None and table.rest is not None:
            pairs.append(("holds", Message("categories", count=len(table.rest.categories))))
        else:
            pairs.append(("rank", Message("rank of", rank=row.rank, count=table.size)))
        tips.append("\n".join([name, *(f"{local.say(head)}: {local.text(text)}" for head, text in pairs)]))
    return tuple(tips)


def recut_of(table: ParetoTable) -> CutoffRecalculation | None:
    """Return what a page cuts the table anew from; None where there is no cutoff, or there are several."""
    from vantric.output.sections import CutoffRecalculation

    cut = table.cutoff
    if cut is None or len(table.cuts) > 1 or table.size > _MOST_RECUT or table.within:
        return None
    amounts = table.tally.frequency.take(table.order)
    if amounts.exact:
        units = [int(item) for item in amounts.plain()]
        total = int(table.tally.frequency.total_units)
    else:
        parts = [Fraction(item) for item in [*amounts.plain(), float(table.tally.frequency.total_units)]]
        scale = lcm(*(part.denominator for part in parts))
        *units, total = (int(part * scale) for part in parts)
    named = {int(place): index for index, place in enumerate(table.order)}
    places = [named[int(place)] for place in table.named]
    return CutoffRecalculation(
        percent=str(cut.percent),
        units=tuple(units),
        total=total,
        labels=tuple(distinct_lines([table.tally.categories[place] for place in table.order.tolist()])),
        places=tuple(places),
        tied=tuple(table.tied_after(count) for count in range(table.size + 1)),
        rule=table.rule,
        include=table.ties_rule == "include",
        slack=not amounts.exact,
    )
